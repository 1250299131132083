#include "gui/stations/logs/held_page.h"

#include <QHBoxLayout>
#include <QHeaderView>
#include <QLabel>
#include <QProgressBar>
#include <QPushButton>
#include <QScrollArea>
#include <QTableWidget>
#include <QTimer>
#include <QVBoxLayout>
#include <algorithm>
#include <cmath>
#include <limits>

#include "core/base/counted.h"
#include "core/base/when.h"
#include "core/project/keys.h"
#include "gui/stations/logs/held_grid.h"

namespace uadze::gui {
namespace {

/// The lap that the log is thought to be of: the chosen one, as it was logged, without a session's changes.
std::optional<solve::Resolved> resolved(const project::Project& project, const std::string& setup,
                                        const std::string& lap) {
  return solve::resolve(project, {.setup = setup, .lap = lap, .alone = true});
}

QString score_text(const solve::Scores& s) {
  return QString("hits %1, misses %2, false alarms %3").arg(s.hits).arg(s.misses).arg(s.false_alarms);
}

}  // namespace

HeldPage::HeldPage(Workspace& workspace, QWidget* parent)
    : QWidget(parent),
      w_(workspace),
      how_(solve::LoggedOptions{}.how),
      grid_(new HeldGrid(workspace)),
      says_(new QLabel),
      learnt_says_(new QLabel),
      calibrate_(new QPushButton("Calibrate")),
      stop_(new QPushButton("Stop")),
      take_(new QPushButton("Take into the setup")),
      drop_(new QPushButton("Drop the calibration")),
      bar_(new QProgressBar),
      figures_(new QTableWidget(0, 4)),
      poll_(new QTimer(this)) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(10, 8, 10, 8);
  says_->setObjectName("held says");
  says_->setWordWrap(true);
  column->addWidget(says_);
  auto* scroll = new QScrollArea;
  scroll->setWidgetResizable(true);
  scroll->setFrameShape(QFrame::NoFrame);
  scroll->setWidget(grid_);
  column->addWidget(scroll, 3);

  auto* bar = new QHBoxLayout;
  calibrate_->setObjectName("calibrate");
  calibrate_->setToolTip("Fits the model's figures to what starved where on these laps");
  stop_->setObjectName("stop calibrating");
  take_->setObjectName("take calibration");
  drop_->setObjectName("drop calibration");
  bar_->setTextVisible(false);
  bar_->setMaximumHeight(10);
  bar_->setAccessibleName("Progress of the calibration");
  bar->addWidget(calibrate_);
  bar->addWidget(take_);
  bar->addWidget(drop_);
  bar->addWidget(bar_, 1);
  bar->addWidget(stop_);
  bar->addStretch();
  column->addLayout(bar);
  learnt_says_->setObjectName("learnt says");
  learnt_says_->setWordWrap(true);
  learnt_says_->setTextInteractionFlags(Qt::TextSelectableByMouse | Qt::TextSelectableByKeyboard);
  column->addWidget(learnt_says_);
  figures_->setObjectName("learnt figures");
  figures_->setAccessibleName("What the laps teach of the model's figures");
  figures_->setHorizontalHeaderLabels({"Figure", "Known before, 90 %", "Learnt", "With 90 % between"});
  figures_->verticalHeader()->hide();
  figures_->setEditTriggers(QAbstractItemView::NoEditTriggers);
  figures_->setSelectionMode(QAbstractItemView::NoSelection);
  figures_->horizontalHeader()->setSectionResizeMode(QHeaderView::Stretch);
  column->addWidget(figures_, 2);

  poll_->setInterval(100);
  connect(poll_, &QTimer::timeout, this,
          [this] { bar_->setValue(static_cast<int>(100 * learning_.fraction())); });
  connect(calibrate_, &QPushButton::clicked, this, &HeldPage::calibrate);
  connect(stop_, &QPushButton::clicked, this, &HeldPage::stop);
  connect(take_, &QPushButton::clicked, this, &HeldPage::take);
  connect(drop_, &QPushButton::clicked, this, &HeldPage::drop);
  connect(&w_, &Workspace::changed, this, &HeldPage::refresh);
  connect(&w_, &Workspace::appearance_changed, this, [this] { show_summary(); });
  connect(grid_, &HeldGrid::cell_chosen, this, [this](int lap, int place) {
    const auto& one = held_.made->laps[static_cast<size_t>(lap)];
    const lap::Lap& driven = one.ready->lap->value;
    double from = -1, to = 0;
    for (size_t i = 0; i < one.place.size(); ++i)
      if (static_cast<int>(one.place[i]) == place) {
        if (from < 0) from = driven.time[i];
        to = driven.time[i];
      }
    if (from >= 0) emit looked_at(one.begin + from - 2, one.begin + to + 2);
  });
  show_calibration();
  refresh();
}

void HeldPage::show_log(const SharedLog& log) {
  // What was held before teaches beside it, as long as the setup is the same.
  if (held_.made && log_.log) {
    std::erase_if(before_, [&](const auto& b) { return b.file == log_.file.toStdString(); });
    before_.push_back({log_.file.toStdString(), *held_.made});
  }
  std::erase_if(before_, [&](const auto& b) { return b.file == log.file.toStdString(); });
  work_.cancel();
  stop();
  log_ = log;
  key_.reset();
  held_ = {};
  learnt_.reset();
  grid_->show_held(nullptr, {});
  show_calibration();
  emit computed({});
  w_.show_logged({});
  refresh();
}

void HeldPage::set_how(const log::ToLapOptions& how) {
  how_ = how;
  how_.rate = solve::LoggedOptions{}.how.rate;
  key_.reset();
  refresh();
}

void HeldPage::refresh() {
  drop_->setVisible(w_.setup() && w_.setup()->calibration);
  calibrate_->setEnabled(held_.made != nullptr && !learning_.running());
  if (!log_.log || !w_.setup() || !w_.selection.lap_reference()) {
    says_->setText(log_.log ? "The project needs a setup and a lap to hold the log against."
                            : "No log is open.");
    return;
  }
  const ContentKey key = held_key(w_, log_);
  if (!isVisible() || (key_ && *key_ == key)) return;
  key_ = key;
  project::Setup bare = *w_.setup();
  bare.calibration.reset();
  const ContentKey setup_key = project::key_of(bare);
  if (!(setup_key == before_key_)) before_.clear();
  before_key_ = setup_key;
  says_->setText("Holding the log against " + QString::fromStdString(w_.setup()->name) + " …");
  work_.start(
      this,
      [log = log_, how = how_, project = w_.project(), setup = w_.setup()->name,
       lap = w_.selection.lap_reference()->name, sources = w_.document.sources()](Progress& progress) {
        const auto r = resolved(project, setup, lap);
        const auto fuel =
            solve::logged_fuel(project, *r->setup, log.file.toStdString(), *log.log, *log.found, *sources);
        Held out;
        // Without the calibration, which comes on top: so that a new one may be made of it.
        out.made = std::make_shared<solve::LoggedCase>(
            solve::logged_case(project, *r, *log.log, *log.laps, *log.found, fuel, *sources,
                               {.how = how, .calibrated = false}, &progress));
        out.run = solve::computed(*out.made, {.factors = r->setup->calibration}, &progress);
        out.scores = solve::scored(*out.made, out.run);
        return out;
      },
      [this](Held held) { show_held(std::move(held)); },
      [this](const QString& why) {
        held_ = {};
        grid_->show_held(nullptr, {});
        says_->setText("▲ " + why);
        emit computed({});
        w_.show_logged({});
      });
}

void HeldPage::show_held(Held held) {
  held_ = std::move(held);
  grid_->show_held(held_.made, held_.run);
  show_summary();
  calibrate_->setEnabled(!learning_.running());

  std::vector<float> difference(log_.log->size(), std::numeric_limits<float>::quiet_NaN());
  LoggedMarks marks{.setup = held_.made->setup, .lap = held_.made->lap_name, .marks = {}};
  for (size_t k = 0; k < held_.made->laps.size(); ++k) {
    const auto& one = held_.made->laps[k];
    const lap::Lap& driven = one.ready->lap->value;
    for (size_t i = log_.log->index_at(one.begin); i < log_.log->size() && log_.log->time[i] < one.end; ++i) {
      const double t = log_.log->time[i] - one.begin;
      if (t < 0) continue;
      const size_t at = std::min(driven.index_at(t), driven.size() - 2);
      const double share =
          std::clamp((t - driven.time[at]) / (driven.time[at + 1] - driven.time[at]), 0.0, 1.0);
      const auto& rail = held_.run[k].rail;
      difference[i] = static_cast<float>((rail[at] + (rail[at + 1] - rail[at]) * share) * log_.found->usual);
    }
    for (const diagnosis::LoggedEvent& e : log_.found->events)
      if (e.sign == diagnosis::Sign::pressure && e.begin >= one.begin && e.begin < one.end) {
        const size_t at = driven.index_at(e.begin - one.begin);
        marks.marks.push_back({e.distance, held_.run[k].level[std::min(at, held_.run[k].level.size() - 1)],
                               held_.run[k].shows[one.place[at]] != 0});
      }
  }
  emit computed(difference);
  w_.show_logged(std::move(marks));
}

void HeldPage::show_summary() {
  if (!held_.made) return;
  QString text = QString("<b>%1</b> on %2, %3: %4, rightly quiet %5.")
                     .arg(QString::fromStdString(held_.made->setup).toHtmlEscaped(),
                          QString::fromStdString(held_.made->lap_name).toHtmlEscaped())
                     .arg(QString::fromStdString(uadze::counted(held_.made->laps.size(), "lap")))
                     .arg(score_text(held_.scores))
                     .arg(held_.scores.quiet);
  if (w_.setup() && w_.setup()->calibration)
    text += " The setup is " + QString::fromStdString(starvation::calibrated_words(w_.setup()->calibration)) +
            ".";
  text +=
      "<br>Filled triangle: the pressure falls in log and model. Open triangle: only in the log. Ring: only "
      "in the "
      "model.";
  says_->setText(text);
  grid_->update();
}

void HeldPage::calibrate() {
  if (!held_.made) return;
  std::vector<solve::CalibrationLog> logs = before_;
  logs.push_back({log_.file.toStdString(), *held_.made});
  learnt_.reset();
  bar_->setValue(0);
  poll_->start();
  learning_.start(
      this,
      [logs, sources = w_.document.sources(), project = w_.project(), setup = held_.made->setup,
       lap = held_.made->lap_name, date = day_of(now())](Progress& progress) {
        const auto r = resolved(project, setup, lap);
        return solve::calibrate(logs, sources->laps.get(*r->lap), date, &progress);
      },
      [this](solve::CalibrationResult result) {
        poll_->stop();
        learnt_ = std::move(result);
        show_calibration();
      },
      [this](const QString& why) {
        poll_->stop();
        show_calibration();
        learnt_says_->setText("▲ " + why);
      });
  show_calibration();
}

void HeldPage::stop() {
  learning_.cancel();
  poll_->stop();
  show_calibration();
}

void HeldPage::show_calibration() {
  const bool busy = learning_.running();
  bar_->setVisible(busy), stop_->setVisible(busy);
  calibrate_->setEnabled(held_.made != nullptr && !busy);
  take_->setVisible(learnt_ && !learnt_->value.figures.empty());
  drop_->setVisible(w_.setup() && w_.setup()->calibration);
  figures_->setVisible(learnt_.has_value());
  figures_->setRowCount(0);
  if (!learnt_) {
    learnt_says_->setText(
        busy ? "Marching the laps with other figures …"
             : "Calibrate fits damping, discharge, submergence, lift pumps and delay to these laps; "
               "what they can not tell stays as it was.");
    return;
  }
  QStringList logs;
  for (const std::string& file : learnt_->value.logs) logs << QString::fromStdString(file);
  learnt_says_->setText(
      QString("From %1 of %2. Fitted laps: %3, now %4. The %5 laps held out: %6, now %7.")
          .arg(QString::fromStdString(uadze::counted(learnt_->laps, "lap")))
          .arg(logs.join(", "), score_text(learnt_->fitted_before), score_text(learnt_->fitted_after))
          .arg(learnt_->held_out)
          .arg(score_text(learnt_->held_before), score_text(learnt_->held_after)));
  for (const auto& f : learnt_->figures) {
    const int row = figures_->rowCount();
    figures_->insertRow(row);
    const QString cells[] = {
        name_of(f.figure),
        QString("%1 to %2").arg(1 - 1.6449 * f.before, 0, 'f', 2).arg(1 + 1.6449 * f.before, 0, 'f', 2),
        f.told ? QString("× %1").arg(f.factor, 0, 'f', 3) : QString("not told: stays as it was"),
        f.told ? QString("%1 to %2").arg(f.low(), 0, 'f', 3).arg(f.high(), 0, 'f', 3) : QString()};
    for (int k = 0; k < 4; ++k) figures_->setItem(row, k, new QTableWidgetItem(cells[k]));
  }
}

void HeldPage::take() {
  if (!learnt_ || !w_.setup()) return;
  const std::string name = held_.made ? held_.made->setup : w_.setup()->name;
  w_.document.edit("Calibrate the setup", [&](project::Project& p) {
    for (project::Setup& s : p.setups)
      if (s.name == name)
        s.calibration = starvation::with_what_logs_do_not_tell(learnt_->value, s.calibration);
  });
}

void HeldPage::drop() {
  const int index = w_.selection.setup_index();
  if (index < 0) return;
  w_.document.edit("Drop the calibration",
                   [&](project::Project& p) { p.setups[static_cast<size_t>(index)].calibration.reset(); });
}

}  // namespace uadze::gui
