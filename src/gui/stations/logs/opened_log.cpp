#include "gui/stations/logs/opened_log.h"

#include <QHeaderView>
#include <QSettings>
#include <QStandardPaths>
#include <QTableWidget>

#include "core/log/can_text.h"
#include "core/log/doubts.h"
#include "core/log/formula.h"
#include "core/log/store.h"
#include "core/project/log_files.h"

namespace uadze::gui {
namespace {

QString settings_key(const log::Layout& layout) {
  const ContentKey key = log::header_key(layout);
  return QString("mappings/%1%2").arg(key.high, 16, 16, QChar('0')).arg(key.low, 16, 16, QChar('0'));
}

/// What a person chose for logs with this header.
std::optional<log::Mapping> kept(const log::Layout& layout) {
  const QString text = QSettings().value(settings_key(layout)).toString();
  if (text.isEmpty()) return std::nullopt;
  try {
    return project::parse_mapping(text.toStdString(), "kept mapping").value;
  } catch (const InputError&) {
    return std::nullopt;  // of a version that is gone
  }
}

/// One formula that the log can not be asked for (its channel is gone) does not keep the log shut.
void add_formulas(log::LogFile& file, const log::Mapping& mapping, Messages& notes) {
  file.mapping.formulas.clear();
  for (const log::Formula& formula : mapping.formulas) {
    try {
      log::add_formula(file.log, formula);
      file.mapping.formulas.push_back(formula);
    } catch (const InputError& error) {
      notes.insert(notes.end(), error.messages().begin(), error.messages().end());
    }
  }
}

}  // namespace

LogRequest log_request(const Workspace& w, const QString& path, const QString& table_path) {
  LogRequest out{.path = path.toStdString(), .table_path = table_path.toStdString()};
  if (const auto* setup = w.setup()) {
    out.find.limit = setup->limits.mixture;
    if (setup->circuit) out.find.set = setup->circuit->regulator.base;
  }
  out.find.corners = w.runs.corners();
  out.cache = (QStandardPaths::writableLocation(QStandardPaths::CacheLocation) + "/logs").toStdString();
  return out;
}

OpenedLog open_log(const LogRequest& request, Progress& progress) {
  OpenedLog out;
  std::vector<log::Signal> frames;
  if (!request.table_path.empty()) frames = project::read_signals(request.table_path).value;
  const std::string name = std::filesystem::path(request.path).filename().string();
  std::optional<log::Mapping> use = request.mapping;
  if (!use) {
    // Only the header decides whether something is kept for it.
    const log::TextFile text(request.path, &progress);
    if (log::looks_like_can(text.text()) && frames.empty()) {
      out.needs_table = true;
      return out;
    }
    try {
      use = kept(log::find_layout(text.text()));
    } catch (const InputError&) {
      // Told by the reading itself.
    }
  }
  auto read =
      log::read_log(request.path, log::Store{request.cache}, use ? &*use : nullptr, frames, &progress);
  out.notes = std::move(read.notes);
  if (use) add_formulas(read.value, *use, out.notes);
  auto file = std::make_shared<log::LogFile>(std::move(read.value));
  out.log = std::shared_ptr<const log::Log>(file, &file->log);
  out.laps = std::make_shared<log::Laps>(log::split_laps(file->log));
  out.found =
      std::make_shared<diagnosis::Found>(diagnosis::find_events(file->log, *out.laps, request.find, name));
  out.said = std::make_shared<diagnosis::Diagnosis>(diagnosis::diagnose(file->log, *out.laps, *out.found));
  out.wear = diagnosis::wear_of(name, file->log, *out.laps, *out.found);
  out.doubts = log::doubts(file->log, name);
  out.mounting = log::find_mounting(file->log);
  out.file = std::move(file);
  return out;
}

void keep_mapping(const log::Layout& layout, const log::Mapping& mapping) {
  QSettings().setValue(settings_key(layout), QString::fromStdString(project::mapping_text(mapping)));
}

void forget_mapping(const log::Layout& layout) { QSettings().remove(settings_key(layout)); }

QString said(const Message& m) {
  QString out = m.severity == Severity::note ? "" : "▲ ";
  if (!m.place.empty()) out += QString::fromStdString(m.place) + ": ";
  if (!m.expected.empty()) out += "expected " + QString::fromStdString(m.expected) + ", found ";
  return out + QString::fromStdString(m.found);
}

QTableWidget* row_list(const QString& name, const QStringList& titles) {
  auto* out = new QTableWidget;
  out->setObjectName(name);
  out->setAccessibleName(name);
  out->setColumnCount(static_cast<int>(titles.size()));
  out->setHorizontalHeaderLabels(titles);
  out->verticalHeader()->hide();
  out->setEditTriggers(QAbstractItemView::NoEditTriggers);
  out->setSelectionBehavior(QAbstractItemView::SelectRows);
  out->setSelectionMode(QAbstractItemView::SingleSelection);
  out->horizontalHeader()->setStretchLastSection(true);
  return out;
}

}  // namespace uadze::gui
