#include <QCheckBox>
#include <QDoubleSpinBox>
#include <QFileDialog>
#include <QFileInfo>
#include <QFormLayout>
#include <QHeaderView>
#include <QLabel>
#include <QLineEdit>
#include <QProgressBar>
#include <QPushButton>
#include <QSettings>
#include <QStandardPaths>
#include <QTabWidget>
#include <QTableWidget>
#include <QTimer>
#include <QVBoxLayout>
#include <algorithm>
#include <numbers>

#include "core/base/files.h"
#include "core/diagnosis/cause.h"
#include "core/diagnosis/trend.h"
#include "core/log/can_text.h"
#include "core/log/doubts.h"
#include "core/log/formula.h"
#include "core/log/store.h"
#include "core/log/text.h"
#include "core/log/to_lap.h"
#include "core/project/log_files.h"
#include "core/report/diagnosis_report.h"
#include "core/report/log_report.h"
#include "core/solve/add_lap.h"
#include "gui/stations/logs/channel_table.h"
#include "gui/stations/logs/held_page.h"
#include "gui/stations/logs/log_view.h"
#include "gui/stations/station.h"
#include "gui/widgets/edit_table.h"

namespace uadze::gui {
namespace {

/// All that is shown of a log, made in the background.
struct OpenedLog {
  std::shared_ptr<const log::LogFile> file;
  std::shared_ptr<const log::Log> log;  ///< that of the file
  std::shared_ptr<const log::Laps> laps;
  std::shared_ptr<const diagnosis::Found> found;
  std::shared_ptr<const diagnosis::Diagnosis> said;
  log::Mounting mounting;
  diagnosis::Wear wear;
  Messages notes, doubts;
  bool needs_table = false;  ///< frames of a bus, and no table of signals yet
};

QString settings_key(const log::Layout& layout) {
  const ContentKey key = log::header_key(layout);
  return QString("mappings/%1%2").arg(key.high, 16, 16, QChar('0')).arg(key.low, 16, 16, QChar('0'));
}

QString said(const Message& m) {
  QString out = m.severity == Severity::note ? "" : "▲ ";
  if (!m.place.empty()) out += QString::fromStdString(m.place) + ": ";
  if (!m.expected.empty()) out += "expected " + QString::fromStdString(m.expected) + ", found ";
  return out + QString::fromStdString(m.found);
}

QTableWidget* list(const QString& name, const QStringList& titles) {
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

class LogsStation : public StationView {
 public:
  explicit LogsStation(Workspace& w) : w_(w), pages_(new QTabWidget), view_(new LogView(w)) {
    pages_->addTab(view_, "Traces");
    pages_->addTab(channels_page(), "Channels");
    held_ = new HeldPage(w);
    pages_->addTab(held_, "Logged and computed");
    auto* whole = new QWidget;
    auto* column = new QVBoxLayout(whole);
    column->setContentsMargins(10, 8, 10, 8);
    auto* bar = new QHBoxLayout;
    open_ = new QPushButton("Open a log…");
    open_->setObjectName("open log");
    bar->addWidget(open_);
    progress_ = new QProgressBar;
    progress_->setTextVisible(false);
    progress_->setMaximumHeight(10);
    progress_->setAccessibleName("Progress of reading the log");
    progress_->hide();
    bar->addWidget(progress_, 1);
    stop_ = new QPushButton("Stop");
    stop_->setObjectName("stop reading log");
    stop_->hide();
    bar->addWidget(stop_);
    table_ = new QPushButton("Its table of signals…");
    table_->setObjectName("open signals");
    table_->setToolTip("The log holds frames of a CAN bus: a JSON file says which bits are what");
    table_->hide();
    bar->addWidget(table_);
    bar->addStretch();
    column->addLayout(bar);
    about_ = new QLabel("No log is open.");
    about_->setObjectName("about the log");
    about_->setWordWrap(true);
    column->addWidget(about_);

    tabs_ = new QTabWidget;
    tabs_->addTab(laps_page(), "Laps");
    tabs_->addTab(findings_page(), "Findings");
    fuel_ = new FuelPage(w);
    tabs_->addTab(fuel_, "Fuel");
    column->addWidget(tabs_, 1);
    side_ = whole;

    QObject::connect(open_, &QPushButton::clicked, view_, [this] { choose_file(); });
    QObject::connect(table_, &QPushButton::clicked, view_, [this] {
      const QString file =
          QFileDialog::getOpenFileName(side_, "Open a table of signals", QFileInfo(path_).path(),
                                       "Tables of signals (*.json);;All files (*)");
      if (file.isEmpty()) return;
      table_path_ = file;
      read(path_);
    });
    QObject::connect(stop_, &QPushButton::clicked, view_, [this] {
      reading_.cancel();
      done_reading();
    });
    QObject::connect(held_, &HeldPage::computed, view_,
                     [this](const std::vector<float>& difference) { view_->show_computed(difference); });
    QObject::connect(held_, &HeldPage::looked_at, view_,
                     [this](double begin, double end) { view_->look_at(begin, end); });
    QObject::connect(turn_, &QCheckBox::toggled, view_, [this] { held_->set_how(how()); });
    for (QDoubleSpinBox* box : from_sensor_)
      QObject::connect(box, &QDoubleSpinBox::valueChanged, view_, [this] { held_->set_how(how()); });
    QObject::connect(view_, &LogView::lap_chosen, view_, [this](int number) { choose_lap(number, false); });
    poll_.setInterval(100);
    QObject::connect(&poll_, &QTimer::timeout, view_,
                     [this] { progress_->setValue(static_cast<int>(100 * reading_.fraction())); });
    QObject::connect(&w, &Workspace::changed, view_, [this] { refresh_add(); });
    QObject::connect(&w, &Workspace::appearance_changed, view_, [this] { show_lists(); });
    show(OpenedLog{});
  }
  QWidget* picture() override { return pages_; }
  QWidget* side() override { return side_; }
  void shown() override { refresh_add(); }
  void open_file(const QString& path) override {
    table_path_.clear();
    read(path);
  }

 private:
  QWidget* laps_page() {
    auto* page = new QWidget;
    auto* column = new QVBoxLayout(page);
    by_ = new QLabel;
    by_->setWordWrap(true);
    column->addWidget(by_);
    lap_list_ = list("laps of the log", {"Lap", "Kind", "Time", "Length"});
    column->addWidget(lap_list_, 1);
    auto* form = new QFormLayout;
    cut_off_ = new QDoubleSpinBox;
    cut_off_->setObjectName("cut-off");
    cut_off_->setRange(0, 50);
    cut_off_->setDecimals(1);
    cut_off_->setValue(5);
    cut_off_->setSuffix(" Hz");
    cut_off_->setSpecialValueText("no filter");
    cut_off_->setToolTip(
        "Accelerations above it are left out, without delay: over the fuel's own swing (1 to 3 Hz), under "
        "the engine's shaking (10 Hz and more)");
    form->addRow("Cut off at", cut_off_);
    turn_ = new QCheckBox("turn the sensor's axes by the log");
    turn_->setObjectName("turn axes");
    form->addRow("Sensor", turn_);
    auto* place = new QHBoxLayout;
    static constexpr const char* axis_names[] = {"forward", "left", "up"};
    for (int k = 0; k < 3; ++k) {
      from_sensor_[k] = new QDoubleSpinBox;
      from_sensor_[k]->setObjectName(QString("from sensor %1").arg(axis_names[k]));
      from_sensor_[k]->setAccessibleName(QString("From the sensor to the tank, %1").arg(axis_names[k]));
      from_sensor_[k]->setRange(-10, 10);
      from_sensor_[k]->setDecimals(2);
      from_sensor_[k]->setSingleStep(0.1);
      from_sensor_[k]->setToolTip(QString("m, %1").arg(axis_names[k]));
      place->addWidget(from_sensor_[k]);
    }
    form->addRow("To the tank, m", place);
    column->addLayout(form);
    add_ = new QPushButton("Add as a lap of the project");
    add_->setObjectName("add logged lap");
    column->addWidget(add_);
    add_says_ = new QLabel;
    add_says_->setObjectName("add lap says");
    add_says_->setWordWrap(true);
    column->addWidget(add_says_);
    QObject::connect(lap_list_, &QTableWidget::currentCellChanged, view_, [this](int row, int, int, int) {
      if (!filling_ && opened_.laps && row >= 0 && row < static_cast<int>(opened_.laps->all.size()))
        choose_lap(opened_.laps->all[static_cast<size_t>(row)].number, true);
    });
    QObject::connect(add_, &QPushButton::clicked, view_, [this] { add_lap(); });
    return page;
  }

  QWidget* channels_page() {
    auto* page = new QWidget;
    auto* column = new QVBoxLayout(page);
    channels_ = new ChannelTable;
    column->addWidget(channels_, 1);
    auto* bar = new QHBoxLayout;
    auto* forget = new QPushButton("As proposed");
    forget->setObjectName("forget mapping");
    forget->setToolTip("Forget what was changed for logs with this header");
    bar->addWidget(forget);
    bar->addStretch();
    column->addLayout(bar);
    auto* line = new QHBoxLayout;
    const auto field = [&](QLineEdit*& edit, const char* named, const QString& hint, int share) {
      edit = new QLineEdit;
      edit->setObjectName(named);
      edit->setAccessibleName(named);
      edit->setPlaceholderText(hint);
      line->addWidget(edit, share);
      QObject::connect(edit, &QLineEdit::returnPressed, view_, [this] { add_formula(); });
    };
    field(formula_name_, "formula name", "new channel", 2);
    line->addWidget(new QLabel("="));
    field(formula_text_, "formula", "(rail_pressure - manifold_pressure) / bar", 5);
    field(formula_unit_, "formula unit", "unit", 1);
    auto* add = new QPushButton("Add formula");
    add->setObjectName("add formula");
    auto* remove = new QPushButton("Remove");
    remove->setObjectName("remove formula");
    remove->setToolTip("The formula of the chosen row, or the last");
    line->addWidget(add);
    line->addWidget(remove);
    column->addLayout(line);
    formula_says_ = new QLabel;
    formula_says_->setObjectName("formula says");
    formula_says_->setWordWrap(true);
    formula_says_->hide();
    column->addWidget(formula_says_);
    QObject::connect(add, &QPushButton::clicked, view_, [this] { add_formula(); });
    QObject::connect(remove, &QPushButton::clicked, view_, [this] { remove_formula(); });
    auto* hint = new QLabel("What is changed here is kept for logs with the same header.");
    hint->setWordWrap(true);
    column->addWidget(hint);
    QObject::connect(channels_, &ChannelTable::mapped, view_,
                     [this](const log::ColumnUse& use) { map(use); });
    QObject::connect(channels_, &ChannelTable::ticks_changed, view_,
                     [this] { view_->show_channels(channels_->ticked()); });
    QObject::connect(forget, &QPushButton::clicked, view_, [this] {
      if (!opened_.file) return;
      QSettings().remove(settings_key(opened_.file->layout));
      read(path_);
    });
    return page;
  }

  QWidget* findings_page() {
    auto* page = new QWidget;
    auto* column = new QVBoxLayout(page);
    findings_ = new QLabel;
    findings_->setObjectName("findings of the log");
    findings_->setWordWrap(true);
    findings_->setTextInteractionFlags(Qt::TextSelectableByMouse | Qt::TextSelectableByKeyboard);
    column->addWidget(findings_);
    event_list_ = list("events of the log", {"Lap", "What", "Where"});
    column->addWidget(event_list_, 2);
    QObject::connect(event_list_, &QTableWidget::currentCellChanged, view_, [this](int row, int, int, int) {
      if (filling_ || !opened_.found || row < 0 || row >= static_cast<int>(opened_.found->events.size()))
        return;
      const auto& e = opened_.found->events[static_cast<size_t>(row)];
      view_->look_at(e.begin - 4, e.end + 4);
    });
    doubts_ = new QLabel;
    doubts_->setObjectName("doubts of the log");
    doubts_->setWordWrap(true);
    doubts_->setAlignment(Qt::AlignTop | Qt::AlignLeft);
    doubts_->setTextInteractionFlags(Qt::TextSelectableByMouse | Qt::TextSelectableByKeyboard);
    auto* scroll = new QScrollArea;
    scroll->setWidgetResizable(true);
    scroll->setFrameShape(QFrame::NoFrame);
    scroll->viewport()->setAutoFillBackground(false);
    scroll->setWidget(doubts_);
    column->addWidget(scroll, 1);
    return page;
  }

  void choose_file() {
    const QString start =
        path_.isEmpty() ? QString::fromStdString(w_.document.folder().string()) : QFileInfo(path_).path();
    const QString file = QFileDialog::getOpenFileName(
        side_, "Open a log", start, "Logs (*.csv *.txt *.log *.tsv *.gz *.asc *.dat);;All files (*)");
    if (!file.isEmpty()) open_file(file);
  }

  /// What a person chose for logs with this header.
  static std::optional<log::Mapping> kept(const log::Layout& layout) {
    const QString text = QSettings().value(settings_key(layout)).toString();
    if (text.isEmpty()) return std::nullopt;
    try {
      return project::parse_mapping(text.toStdString(), "kept mapping").value;
    } catch (const InputError&) {
      return std::nullopt;  // of a version that is gone
    }
  }

  void read(const QString& path, std::optional<log::Mapping> mapping = {}) {
    path_ = path;
    about_->setText("Reading " + QFileInfo(path).fileName() + " …");
    progress_->setValue(0);
    progress_->show(), stop_->show();
    poll_.start();
    diagnosis::FindOptions find;
    if (const auto* setup = w_.setup()) {
      find.limit = setup->limits.mixture;
      if (setup->circuit) find.set = setup->circuit->regulator.base;
    }
    if (const auto* lap = w_.selection.lap_reference()) find.corners = lap->corners;
    const log::Store store{
        (QStandardPaths::writableLocation(QStandardPaths::CacheLocation) + "/logs").toStdString()};
    reading_.start(
        view_,
        [store, path = path.toStdString(), table_path = table_path_.toStdString(), mapping,
         find](Progress& progress) {
          OpenedLog out;
          std::vector<log::Signal> frames;
          if (!table_path.empty()) frames = project::read_signals(table_path).value;
          const std::string name = std::filesystem::path(path).filename().string();
          std::optional<log::Mapping> use = mapping;
          if (!use) {
            // Only the header decides whether something is kept for it.
            const log::TextFile text(path, &progress);
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
          auto read = log::read_log(path, store, use ? &*use : nullptr, frames, &progress);
          out.notes = std::move(read.notes);
          if (use) {
            // One that the log can not be asked for (its channel is gone) does not keep the log shut.
            std::vector<log::Formula> good;
            for (const log::Formula& formula : use->formulas) {
              try {
                log::add_formula(read.value.log, formula);
                good.push_back(formula);
              } catch (const InputError& error) {
                out.notes.insert(out.notes.end(), error.messages().begin(), error.messages().end());
              }
            }
            read.value.mapping.formulas = std::move(good);
          }
          auto file = std::make_shared<log::LogFile>(std::move(read.value));
          out.log = std::shared_ptr<const log::Log>(file, &file->log);
          out.laps = std::make_shared<log::Laps>(log::split_laps(file->log));
          out.found =
              std::make_shared<diagnosis::Found>(diagnosis::find_events(file->log, *out.laps, find, name));
          out.said =
              std::make_shared<diagnosis::Diagnosis>(diagnosis::diagnose(file->log, *out.laps, *out.found));
          out.wear = diagnosis::wear_of(name, file->log, *out.laps, *out.found);
          out.doubts = log::doubts(file->log, name);
          out.mounting = log::find_mounting(file->log);
          out.file = std::move(file);
          return out;
        },
        [this](OpenedLog opened) {
          done_reading();
          const bool needs_table = opened.needs_table;
          show(std::move(opened));
          table_->setVisible(needs_table);
          if (needs_table)
            about_->setText("▲ " + QFileInfo(path_).fileName() +
                            " holds frames of a CAN bus: open its table of signals.");
        },
        [this](const QString& why) {
          done_reading();
          about_->setText("▲ " + why);
        });
  }

  void done_reading() {
    poll_.stop();
    progress_->hide(), stop_->hide();
    if (about_->text().startsWith("Reading")) show_about();
  }

  void show_about() {
    if (!opened_.file) {
      about_->setText("No log is open.");
      return;
    }
    const log::Log& log = *opened_.log;
    about_->setText(QString("<b>%1</b>  %2, %3 a second, %4 channels<br>%5")
                        .arg(QFileInfo(path_).fileName().toHtmlEscaped())
                        .arg(QString::fromStdString(report::lap_time(log.duration())))
                        .arg(1 / std::max(log.step(), 1e-9), 0, 'g', 3)
                        .arg(log.channels.size())
                        .arg(QString::fromStdString(report::layout_words(*opened_.file)).toHtmlEscaped()));
  }

  void show(OpenedLog opened) {
    view_->show_log(nullptr, nullptr);
    opened_ = std::move(opened);
    if (opened_.file) {
      // Each log once; in the order of their clocks, of their opening where those say no date.
      std::erase_if(wear_, [&](const diagnosis::Wear& w) { return w.log == opened_.wear.log; });
      wear_.push_back(opened_.wear);
      if (std::all_of(wear_.begin(), wear_.end(), [](const diagnosis::Wear& w) { return w.begin > 1e8; }))
        std::stable_sort(wear_.begin(), wear_.end(), [](const diagnosis::Wear& a, const diagnosis::Wear& b) {
          return a.begin < b.begin;
        });
    }
    chosen_ = 0;
    show_about();
    channels_->show_file(opened_.file.get());
    view_->show_log(opened_.log, opened_.laps);
    view_->show_channels(channels_->ticked());
    if (opened_.found) view_->show_difference(opened_.found->difference);
    std::vector<LogMark> marks;
    if (opened_.found)
      for (const auto& e : opened_.found->events) marks.push_back({e.begin, e.end, name_of(e.sign)});
    view_->mark(std::move(marks));
    const bool turned = opened_.mounting.standing > 0 || opened_.mounting.straight > 0;
    turn_->setEnabled(turned);
    turn_->setChecked(false);
    const auto degrees = [](double radians) {
      const QString text = QString::number(radians * 180 / std::numbers::pi, 'f', 1);
      return text == "-0.0" ? QString("0.0") : text;
    };
    turn_->setText(turned ? QString("turn by %1°, %2°, %3°")
                                .arg(degrees(opened_.mounting.pitch))
                                .arg(degrees(opened_.mounting.roll))
                                .arg(degrees(opened_.mounting.yaw))
                          : QString("its axes are taken as the car's"));
    turn_->setToolTip(
        QString("From %1 s of standing and %2 s of straight braking and speeding up: pitch, roll, yaw")
            .arg(opened_.mounting.standing, 0, 'f', 0)
            .arg(opened_.mounting.straight, 0, 'f', 0));
    show_lists();
    if (opened_.laps) {
      if (const auto best = opened_.laps->best())
        choose_lap(opened_.laps->all[*best].number, false);
      else if (!opened_.laps->all.empty())
        choose_lap(opened_.laps->all.front().number, false);
    }
    const SharedLog shared{QFileInfo(path_).fileName(), opened_.log, opened_.laps, opened_.found};
    fuel_->show_log(shared);
    held_->show_log(shared);
    refresh_add();
  }

  void show_lists() {
    filling_ = true;
    lap_list_->setRowCount(0);
    by_->setText(opened_.laps ? QString("Parted by: %1.").arg(name_of(opened_.laps->by)) : QString());
    if (opened_.laps)
      for (const log::LoggedLap& lap : opened_.laps->all) {
        const int row = lap_list_->rowCount();
        lap_list_->insertRow(row);
        lap_list_->setItem(row, 0, new QTableWidgetItem(QString::number(lap.number)));
        const auto best = opened_.laps->best();
        lap_list_->setItem(row, 1,
                           new QTableWidgetItem(
                               QString(name_of(lap.kind)) +
                               (best && opened_.laps->all[*best].number == lap.number ? ", quickest" : "")));
        lap_list_->setItem(row, 2,
                           new QTableWidgetItem(QString::fromStdString(report::lap_time(lap.duration()))));
        lap_list_->setItem(row, 3, new QTableWidgetItem(w_.show(lap.length, Quantity::distance)));
        if (lap.number == chosen_) lap_list_->setCurrentCell(row, 0);
      }
    lap_list_->resizeColumnsToContents();
    event_list_->setRowCount(0);
    QString text;
    if (opened_.found) {
      for (const auto& e : opened_.found->events) {
        const int row = event_list_->rowCount();
        event_list_->insertRow(row);
        const QString lost = QString::fromStdString(report::lost_words(e, w_.units()));
        const QString what = e.sign == diagnosis::Sign::pressure ? "−" + lost
                             : e.sign == diagnosis::Sign::pump   ? "pump −" + lost
                             : e.sign == diagnosis::Sign::level  ? QString("level switch")
                                                                 : lost;
        const QString cells[] = {e.lap ? QString::number(e.lap) : "",
                                 what + " for " + w_.show(e.duration(), Quantity::duration),
                                 QString::fromStdString(report::where_words(e))};
        for (int k = 0; k < 3; ++k) {
          event_list_->setItem(row, k, new QTableWidgetItem(cells[k]));
          event_list_->item(row, k)->setToolTip(cells[k]);
        }
      }
      const size_t n = opened_.found->events.size();
      text = n == 0 ? QString("Nothing was lean and no pressure was lost, as far as the channels show.")
                    : QString("%1 %2.").arg(n).arg(n == 1 ? "event" : "events");
      if (opened_.found->usual > 0)
        text +=
            " Over the injectors " + w_.show(opened_.found->usual, Quantity::pressure) + " is the measure.";
      if (opened_.said && opened_.said->enough)
        text = "<b>" + QString::fromStdString(opened_.said->answer).toHtmlEscaped() + "</b><br>" + text;
    }
    event_list_->resizeColumnsToContents();
    findings_->setText(text);
    QStringList lines;
    for (const Message& m : opened_.doubts) lines << said(m);
    for (const Message& m : opened_.notes) lines << said(m);
    if (opened_.found)
      for (const Message& m : opened_.found->notes) lines << said(m);
    if (opened_.said) {
      QStringList why;
      for (const auto& suspect : opened_.said->causes) {
        if (suspect.probability < 0.02) continue;
        why << QString("%1 %  %2").arg(qRound(100 * suspect.probability)).arg(name_of(suspect.cause));
        for (const std::string& e : suspect.evidence) why << "   + " + QString::fromStdString(e);
        for (const std::string& e : suspect.against) why << "   − " + QString::fromStdString(e);
      }
      for (const diagnosis::Trend& t : diagnosis::trends(wear_))
        if (t.clear) why << "Over the logs opened: " + QString::fromStdString(t.sentence) + ".";
      if (!opened_.said->next_test.empty()) why << "Next: " + QString::fromStdString(opened_.said->next_test);
      if (!why.isEmpty() && !lines.isEmpty()) why << "";
      lines = why + lines;
    }
    doubts_->setText(lines.join("\n"));
    doubts_->parentWidget()->parentWidget()->setVisible(!lines.isEmpty());
    tabs_->setTabText(1, opened_.doubts.empty() ? "Findings" : "Findings ▲");
    filling_ = false;
  }

  void choose_lap(int number, bool look) {
    chosen_ = number;
    view_->choose_lap(number);
    filling_ = true;
    for (size_t k = 0; opened_.laps && k < opened_.laps->all.size(); ++k) {
      const log::LoggedLap& lap = opened_.laps->all[k];
      if (lap.number != number) continue;
      if (lap_list_->currentRow() != static_cast<int>(k)) lap_list_->setCurrentCell(static_cast<int>(k), 0);
      if (look) view_->look_at(lap.begin - 0.03 * lap.duration(), lap.end + 0.03 * lap.duration());
    }
    filling_ = false;
    refresh_add();
  }

  /// Kept for logs with this header, and read anew by it.
  void keep(const log::Mapping& mapping) {
    QSettings().setValue(settings_key(opened_.file->layout),
                         QString::fromStdString(project::mapping_text(mapping)));
    read(path_, mapping);
  }

  void add_formula() {
    if (!opened_.file) return;
    const log::Formula formula{.name = formula_name_->text().trimmed().toStdString(),
                               .text = formula_text_->text().trimmed().toStdString(),
                               .unit = formula_unit_->text().trimmed().toStdString()};
    try {
      // On one row: whether it can be read at all.
      log::Log row;
      row.time = {0.0}, row.parts = {0};
      for (const log::Channel& c : opened_.log->channels) {
        row.channels.push_back({.name = c.name, .unit = c.unit, .role = c.role});
        row.channels.back().values = {c.values.front()};
      }
      log::add_formula(row, formula);
    } catch (const InputError& error) {
      formula_says_->setText("▲ " + said(error.messages().front()));
      formula_says_->show();
      return;
    }
    formula_says_->hide();
    for (QLineEdit* edit : {formula_name_, formula_text_, formula_unit_}) edit->clear();
    log::Mapping mapping = opened_.file->mapping;
    mapping.formulas.push_back(formula);
    keep(mapping);
  }

  void remove_formula() {
    if (!opened_.file || opened_.file->mapping.formulas.empty()) return;
    log::Mapping mapping = opened_.file->mapping;
    const int at = channels_->currentRow() - static_cast<int>(mapping.columns.size());
    const auto formula = at >= 0 && at < static_cast<int>(mapping.formulas.size())
                             ? mapping.formulas.begin() + at
                             : mapping.formulas.end() - 1;
    mapping.formulas.erase(formula);
    keep(mapping);
  }

  void map(const log::ColumnUse& use) {
    if (!opened_.file) return;
    log::Mapping mapping = opened_.file->mapping;
    for (log::ColumnUse& c : mapping.columns) {
      if (c.column == use.column)
        c = use;
      else if (c.role == use.role && use.role != log::Role::none)
        c.role = log::Role::none;
    }
    keep(mapping);
  }

  void refresh_add() {
    const bool log = opened_.laps && !opened_.laps->all.empty() && chosen_ > 0;
    const bool saved = !w_.document.folder().empty();
    add_->setEnabled(log && saved);
    if (log && !saved)
      add_says_->setText("Save the project first: the lap's file stands beside it.");
    else if (add_says_->text().startsWith("Save the project"))
      add_says_->clear();
  }

  /// The log's name without what it is packed in.
  std::string bare_name() const {
    QString name = QFileInfo(path_).fileName();
    if (name.endsWith(".gz", Qt::CaseInsensitive)) name.chop(3);
    return QFileInfo(name).completeBaseName().toStdString();
  }

  /// Sensor's axes and place, and the cut-off, as they are chosen.
  log::ToLapOptions how() const {
    log::ToLapOptions out;
    out.cut_off = cut_off_->value();
    if (turn_->isChecked()) out.mounting = opened_.mounting;
    out.from_sensor = Vec3(from_sensor_[0]->value(), from_sensor_[1]->value(), from_sensor_[2]->value());
    return out;
  }

  void add_lap() {
    const auto lap = std::find_if(opened_.laps->all.begin(), opened_.laps->all.end(),
                                  [&](const log::LoggedLap& l) { return l.number == chosen_; });
    if (lap == opened_.laps->all.end()) return;
    try {
      const auto made = log::to_lap(*opened_.log, *lap, how());
      const std::string stem = bare_name() + "-lap-" + std::to_string(lap->number);
      // Beside the other laps, under a name that no file has.
      const auto folder = w_.document.folder();
      std::filesystem::create_directories(folder / "laps");
      std::string name = stem;
      for (int k = 2; std::filesystem::exists(folder / "laps" / (name + ".csv")); ++k)
        name = stem + "-" + std::to_string(k);
      const std::string relative = "laps/" + name + ".csv";
      write_file_atomically(folder / relative, lap::write_lap(made.value));
      const std::string title = bare_name() + ", lap " + std::to_string(lap->number);
      const bool done = w_.document.edit("Add lap from the log", [&](project::Project& p) {
        p.laps.push_back(solve::lap_reference(p, made.value, title, relative));
      });
      QStringList lines{done ? QString("Added as \"%1\", %2.")
                                   .arg(QString::fromStdString(w_.project().laps.back().name),
                                        QString::fromStdString(relative))
                             : QString("It was not added.")};
      for (const Message& m : made.notes) lines << said(m);
      add_says_->setText(lines.join("\n"));
    } catch (const std::exception& error) {
      add_says_->setText(QString("▲ Not added. ") + error.what());
    }
  }

  Workspace& w_;
  QTabWidget* pages_;
  LogView* view_;
  QWidget* side_;
  QPushButton *open_, *table_, *stop_, *add_;
  QProgressBar* progress_;
  QLabel *about_, *by_, *add_says_, *findings_, *doubts_;
  QTabWidget* tabs_;
  QTableWidget *lap_list_, *event_list_;
  QDoubleSpinBox* cut_off_;
  QDoubleSpinBox* from_sensor_[3];
  QCheckBox* turn_;
  ChannelTable* channels_;
  QLineEdit *formula_name_, *formula_text_, *formula_unit_;
  QLabel* formula_says_;
  HeldPage* held_;
  FuelPage* fuel_;
  QTimer poll_;
  QString path_, table_path_;
  OpenedLog opened_;
  int chosen_ = 0;
  bool filling_ = false;
  std::vector<diagnosis::Wear> wear_;  ///< of the logs opened in this sitting
  Background<OpenedLog> reading_;
};

}  // namespace

std::unique_ptr<StationView> make_logs_station(Workspace& workspace) {
  return std::make_unique<LogsStation>(workspace);
}

}  // namespace uadze::gui
