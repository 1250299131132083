#include "gui/stations/logs/fuel_page.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <QScrollArea>
#include <QVBoxLayout>

#include "core/project/keys.h"
#include "gui/widgets/edit_form.h"

namespace uadze::gui {

ContentKey held_key(const Workspace& workspace, const SharedLog& log) {
  KeyMaker key;
  key.add("held").add(log.file.toStdString());
  key.add(static_cast<std::int64_t>(reinterpret_cast<std::intptr_t>(log.log.get())));
  if (const auto* setup = workspace.setup()) key.add(project::key_of(*setup));
  if (const auto* lap = workspace.selection.lap_reference()) key.add(project::key_of(*lap));
  if (const auto* note = workspace.project().find_log(log.file.toStdString()))
    key.add(note->put_in.value_or(-1)).add(note->drained.value_or(-1)).add(note->flow_scale);
  return key.key();
}

FuelPage::FuelPage(Workspace& workspace, QWidget* parent)
    : QWidget(parent),
      w_(workspace),
      form_(new EditForm(workspace)),
      note_(new QPushButton("Note what was put in")),
      scale_(new QPushButton("Take the scale")),
      record_(new QPushButton("Add to the session's records")),
      says_(new QLabel) {
  auto* column = new QVBoxLayout(this);
  note_->setObjectName("note log fuel");
  note_->setToolTip("The project then holds what was put in before this log and drained after it");
  column->addWidget(note_);
  const auto at = [this](project::Project& p) -> project::LogNote* {
    for (project::LogNote& n : p.logs)
      if (n.file == log_.file.toStdString()) return &n;
    return nullptr;
  };
  for (const char* key : {"put_in_l", "drained_l", "flow_scale"}) form_->add<project::LogNote>(key, at);
  column->addWidget(form_);
  says_->setObjectName("fuel of the log");
  says_->setWordWrap(true);
  says_->setAlignment(Qt::AlignTop | Qt::AlignLeft);
  says_->setTextInteractionFlags(Qt::TextSelectableByMouse | Qt::TextSelectableByKeyboard);
  auto* scroll = new QScrollArea;
  scroll->setWidgetResizable(true);
  scroll->setFrameShape(QFrame::NoFrame);
  scroll->viewport()->setAutoFillBackground(false);
  scroll->setWidget(says_);
  column->addWidget(scroll, 1);
  scale_->setObjectName("take flow scale");
  scale_->setToolTip("The flow is scaled so that it sums up to what was put in less what was drained");
  record_->setObjectName("record log");
  record_->setToolTip("The sessions' plans learn consumption and scatter from it");
  column->addWidget(scale_);
  column->addWidget(record_);
  connect(note_, &QPushButton::clicked, this, &FuelPage::note);
  connect(scale_, &QPushButton::clicked, this, &FuelPage::take_scale);
  connect(record_, &QPushButton::clicked, this, &FuelPage::record);
  connect(&w_, &Workspace::changed, this, &FuelPage::refresh);
  connect(&w_, &Workspace::appearance_changed, this, [this] {
    if (shown_) show(*shown_);
  });
  refresh();
}

void FuelPage::show_log(const SharedLog& log) {
  log_ = log;
  key_.reset(), shown_.reset();
  work_.cancel();
  says_->clear();
  refresh();
}

void FuelPage::refresh() {
  const bool open = log_.log && w_.setup();
  const auto* noted = w_.project().find_log(log_.file.toStdString());
  note_->setVisible(open && !noted);
  form_->setVisible(open && noted);
  form_->refresh();
  if (!open) {
    scale_->hide(), record_->hide();
    says_->setText(w_.setup() ? "No log is open." : "The project has no setup.");
    return;
  }
  const ContentKey key = held_key(w_, log_);
  if (!isVisible() || (key_ && *key_ == key)) return;
  key_ = key;
  work_.start(
      this,
      [log = log_, project = w_.project(), setup = *w_.setup(), sources = w_.document.sources()](Progress&) {
        Shown out;
        out.fuel = solve::logged_fuel(project, setup, log.file.toStdString(), *log.log, *log.found, *sources);
        out.burnt = log::laps_burnt(*log.log, *log.laps, out.fuel.flow, out.fuel.level.scale);
        out.counted = log::flowed(*log.log, out.fuel.flow, 0, log.log->duration());
        out.gauge = log::gauge_check(*log.log, out.fuel.level);
        return out;
      },
      [this](Shown shown) {
        shown_ = std::move(shown);
        show(*shown_);
      },
      [this](const QString& why) { says_->setText("▲ " + why); });
}

void FuelPage::show(Shown shown) {
  const auto litres = [&](double v, int decimals = -1) { return w_.show(v, Quantity::volume, decimals); };
  QStringList lines{QString("Flow: %1.").arg(name_of(shown.fuel.flow.from)),
                    QString("Level: %1.").arg(QString::fromStdString(shown.fuel.level.from))};
  if (!shown.fuel.flow.absolute) lines << "▲ It has no scale: what was burnt is not known.";
  if (shown.fuel.flow.absolute && shown.burnt.flying > 0)
    lines << QString("A flying lap burns %1, scatter %2 % (%3 of them).")
                 .arg(litres(shown.burnt.mean, 3))
                 .arg(100 * shown.burnt.deviation / shown.burnt.mean, 0, 'f', 1)
                 .arg(shown.burnt.flying);
  if (shown.fuel.level.known()) {
    lines << ""
          << "At the begin of lap";
    for (size_t k = 0; k < log_.laps->all.size(); ++k) {
      const auto& lap = log_.laps->all[k];
      const size_t i = log_.log->index_at(lap.begin);
      lines << QString("   %1  %2   %3 ± %4")
                   .arg(lap.number)
                   .arg(name_of(lap.kind))
                   .arg(litres(shown.fuel.level.values[i]), litres(shown.fuel.level.deviation[i], 2));
    }
  }
  if (const auto& check = shown.fuel.level.check)
    lines << ""
          << QString("Put in less drained %1, counted %2: %3 %4, scale %5.")
                 .arg(litres(check->burnt), litres(check->counted), litres(std::abs(check->residual())),
                      check->residual() < 0 ? "too little" : "too much")
                 .arg(check->scale(), 0, 'f', 3);
  if (shown.gauge)
    lines << QString("The gauge reads %1 %2 than that, scatter %3.")
                 .arg(litres(std::abs(shown.gauge->mean)), shown.gauge->mean < 0 ? "less" : "more",
                      litres(shown.gauge->deviation));
  says_->setText(lines.join("\n"));
  const auto* noted = w_.project().find_log(log_.file.toStdString());
  scale_->setVisible(shown.fuel.level.check && noted &&
                     std::abs(noted->flow_scale - shown.fuel.level.check->scale()) > 1e-4);
  record_->setVisible(shown.fuel.level.check && w_.selection.session() && shown.burnt.flying > 0);
}

void FuelPage::note() {
  w_.document.edit("Note the log's fuel", [file = log_.file.toStdString()](project::Project& p) {
    p.logs.push_back({.file = file});
  });
}

void FuelPage::take_scale() {
  if (!shown_ || !shown_->fuel.level.check) return;
  w_.document.edit("Take the flow's scale", [&](project::Project& p) {
    for (project::LogNote& n : p.logs)
      if (n.file == log_.file.toStdString()) n.flow_scale = shown_->fuel.level.check->scale();
  });
}

void FuelPage::record() {
  const auto* session = w_.selection.session();
  const auto* noted = w_.project().find_log(log_.file.toStdString());
  if (!shown_ || !session || !noted || !noted->put_in || !noted->drained) return;
  session::Record record{.session = session->name,
                         .laps = static_cast<int>(shown_->burnt.flying),
                         .put_in = *noted->put_in,
                         .drained = *noted->drained,
                         .counted = shown_->counted};
  // The edit replaces the project that `session` points into.
  if (w_.document.edit("Record the log's session", [&](project::Project& p) { p.records.push_back(record); }))
    says_->setText(
        says_->text() +
        QString("\n\nAdded to the records of \"%1\".").arg(QString::fromStdString(record.session)));
}

}  // namespace uadze::gui
