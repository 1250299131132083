#include "gui/stations/slosh/resolved_view.h"

#include <QComboBox>
#include <QDir>
#include <QFileDialog>
#include <QHBoxLayout>
#include <QLabel>
#include <QProgressBar>
#include <QPushButton>
#include <QSlider>
#include <QSplitter>
#include <QTimer>
#include <QVBoxLayout>
#include <chrono>
#include <cmath>

#include "core/base/names.h"
#include "core/base/when.h"
#include "core/report/resolved_report.h"
#include "gui/stations/slosh/kept_runs_dialog.h"
#include "gui/widgets/quantity_plot.h"
#include "gui/widgets/table_page.h"
#include "gui/widgets/working_view.h"

namespace uadze::gui {
namespace {

/// Corners that are offered one by one, and how many of them "the worst" are.
constexpr size_t offered_corners = 6, worst = 3;

double clock_now() {
  return std::chrono::duration<double>(std::chrono::steady_clock::now().time_since_epoch()).count();
}

}  // namespace

ResolvedView::ResolvedView(Workspace& workspace, QWidget* parent)
    : QWidget(parent),
      w_(workspace),
      what_(new QComboBox),
      levels_(new QComboBox),
      cells_(new QComboBox),
      run_(new QPushButton("Resolve")),
      calibrate_(new QPushButton("Calibrate from these")),
      play_(new QPushButton("▶ Play")),
      tank_(new QPushButton("See in the Tank")),
      film_(new QPushButton("Film…")),
      kept_(new QPushButton("Kept runs…")),
      bar_(new QProgressBar),
      says_(new QLabel),
      estimate_(new QLabel),
      picture_(new SplashPicture(workspace)),
      table_(new TablePage("resolved rows")),
      plot_(make_plot("resolved and fast")),
      slider_(new QSlider(Qt::Horizontal)),
      poll_(new QTimer(this)),
      ticks_(new QTimer(this)) {
  says_->setObjectName("resolved verdict");
  says_->setWordWrap(true);
  table_->setAccessibleName("What was resolved, corner by corner");
  table_->setSelectionBehavior(QAbstractItemView::SelectRows);
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(8, 4, 8, 0);
  column->setSpacing(4);
  column->addLayout(make_bar());
  column->addWidget(says_);
  auto* right = new QSplitter(Qt::Vertical);
  right->addWidget(table_);
  right->addWidget(plot_);
  right->setSizes({120, 260});
  auto* split = new QSplitter(Qt::Horizontal);
  split->addWidget(picture_);
  split->addWidget(right);
  split->setSizes({380, 460});
  column->addWidget(split, 1);
  column->addLayout(make_player());

  poll_->setInterval(200);
  connect(poll_, &QTimer::timeout, this, [this] {
    const double done = work_.running() ? work_.fraction() : learning_.fraction();
    bar_->setValue(static_cast<int>(100 * done));
    const double took = clock_now() - began_;
    bar_->setFormat(done > 0.02 && took > 1
                        ? QString("%p %, %1 s left").arg(std::ceil(took * (1 - done) / done))
                        : "%p %");
  });
  connect(table_, &QTableWidget::itemSelectionChanged, this, [this] { show_row(); });
  for (auto signal : {&Workspace::changed, &Workspace::level_changed, &Workspace::appearance_changed})
    connect(&w_, signal, this, [this] {
      if (isVisible()) refresh();
    });
}

QLayout* ResolvedView::make_bar() {
  what_->setObjectName("resolve what");
  what_->setAccessibleName("Corners or manoeuvre to resolve");
  what_->setMinimumContentsLength(22);
  levels_->setObjectName("resolve levels");
  levels_->setAccessibleName("Levels to resolve at");
  levels_->addItems({"at the level", "round where it hurts"});
  levels_->setToolTip(
      "The level that is looked at, below; or nine, ten and eleven tenths of the level under which it hurts");
  cells_->setObjectName("resolve cells");
  cells_->setAccessibleName("Size of a cell");
  for (const double mm : {40.0, 30.0, 20.0, 15.0, 10.0})
    cells_->addItem(w_.show(mm * 1e-3, Quantity::length) + " cells", mm * 1e-3);
  cells_->setCurrentIndex(2);
  run_->setObjectName("resolve");
  estimate_->setObjectName("resolve estimate");
  bar_->setObjectName("resolve progress");
  bar_->setAccessibleName("Progress of the resolved run");
  bar_->setFixedWidth(150);
  bar_->hide();
  for (QComboBox* box : {what_, levels_, cells_})
    connect(box, &QComboBox::currentIndexChanged, this, [this] { say_estimate(); });
  connect(run_, &QPushButton::clicked, this, [this] { run_or_stop(); });
  auto* row = new QHBoxLayout;
  row->addWidget(what_, 1);
  for (QWidget* w : std::initializer_list<QWidget*>{levels_, cells_, estimate_, bar_, run_})
    row->addWidget(w);
  return row;
}

QLayout* ResolvedView::make_player() {
  play_->setObjectName("play splash");
  play_->setCheckable(true);
  slider_->setObjectName("splash time");
  slider_->setAccessibleName("Instant of the run");
  tank_->setObjectName("splash in tank");
  tank_->setToolTip("The lap's cursor is set to its begin: the Tank plays it");
  film_->setObjectName("splash film");
  film_->setToolTip("Saves the run as a picture each instant, numbered PNG files");
  kept_->setObjectName("kept runs");
  kept_->setToolTip("Lists the runs beside the project with their sizes, and throws them away");
  calibrate_->setObjectName("calibrate resolved");
  calibrate_->setToolTip(
      "Sets the fast model's damping and discharge by all runs in the table; can be undone");
  connect(slider_, &QSlider::valueChanged, this, [this](int frame) { show_instant(frame); });
  connect(play_, &QPushButton::toggled, this, [this](bool on) {
    play_->setText(on ? "■ Stop" : "▶ Play");
    on ? ticks_->start(static_cast<int>(1000 / solve::kept_pictures)) : ticks_->stop();
  });
  connect(ticks_, &QTimer::timeout, this,
          [this] { slider_->setValue(slider_->value() >= slider_->maximum() ? 0 : slider_->value() + 1); });
  connect(tank_, &QPushButton::clicked, this, [this] { see_in_tank(); });
  connect(film_, &QPushButton::clicked, this, [this] {
    const QString into = QFileDialog::getExistingDirectory(this, "A folder for the film's pictures");
    if (into.isEmpty()) return;
    QString why;
    const int saved = save_film(into, &why);
    says_->setText(why.isEmpty() ? QString("%1 pictures saved in %2.").arg(saved).arg(into) : "▲ " + why);
  });
  connect(kept_, &QPushButton::clicked, this, [this] { KeptRunsDialog(w_, folder(), this).exec(); });
  connect(calibrate_, &QPushButton::clicked, this, [this] { calibrate(); });
  auto* row = new QHBoxLayout;
  row->addWidget(play_);
  row->addWidget(slider_, 1);
  for (QWidget* w : {tank_, film_, kept_, calibrate_}) row->addWidget(w);
  return row;
}

std::filesystem::path ResolvedView::folder() const {
  const QString path = w_.document.path();
  return path.isEmpty() ? std::filesystem::path() : solve::runs_folder(path.toStdString());
}

void ResolvedView::refresh() {
  fill_choices();
  for (int k = 0; k < cells_->count(); ++k)
    cells_->setItemText(k, w_.show(cells_->itemData(k).toDouble(), Quantity::length) + " cells");
  const bool can = w_.setup() && w_.runs.car();
  run_->setEnabled(can);
  kept_->setEnabled(!folder().empty());
  if (!can) {
    says_->setText("A setup with a tank is resolved here.");
    picture_->show_tank(nullptr, {});
    return;
  }
  // What was run is of this setup as it is: anything else is of another question.
  if (const ContentKey key = w_.uncalibrated_key(); !(key == of_)) {
    of_ = key;
    if (work_.running()) work_.cancel(), ended();
    rows_.clear();
    picture_->show_tank(w_.runs.car()->tank, w_.runs.car()->pickups);
  }
  say_estimate();
  show_rows();
}

void ResolvedView::fill_choices() {
  std::vector<std::vector<solve::WorstCorner>> choices;
  std::vector<std::optional<lap::Manoeuvre>> manoeuvres;
  QStringList titles;
  const auto& result = w_.runs.evaluator.result().mapped;
  if (const auto* map = w_.runs.map(); map && w_.runs.lap()) {
    const auto all =
        solve::worst_corners(*map, w_.runs.lap()->value, result->course.corners, offered_corners);
    if (all.size() > 1) {
      choices.emplace_back(all.begin(),
                           all.begin() + static_cast<std::ptrdiff_t>(std::min(worst, all.size())));
      titles << QString("The worst %1 corners").arg(choices.back().size());
    }
    for (const solve::WorstCorner& corner : all) {
      choices.push_back({corner});
      titles << QString::fromStdString(corner.place) + (corner.starves ? ", hurts under " : ", bare under ") +
                    w_.show(corner.hurts_under, Quantity::volume);
    }
  }
  manoeuvres.resize(choices.size());
  for (const auto& name : names_of<lap::Manoeuvre>()) {
    choices.push_back({{.place = std::string(name), .hurts_under = w_.runs.level()}});
    manoeuvres.push_back(value_named<lap::Manoeuvre>(name));
    titles << QString::fromStdString(std::string(name)) + ", " +
                  w_.show(1.2 * standard_gravity, Quantity::acceleration);
  }
  choices_ = std::move(choices), manoeuvres_ = std::move(manoeuvres);
  if (const QString all = titles.join("\n"); all != choices_of_) {
    const int chosen = std::max(what_->currentIndex(), 0);
    choices_of_ = all;
    const QSignalBlocker quiet(what_);
    what_->clear();
    what_->addItems(titles);
    what_->setCurrentIndex(std::min(chosen, what_->count() - 1));
  }
}

std::vector<solve::PlannedCheck> ResolvedView::planned() const {
  const int k = what_->currentIndex();
  const auto car = w_.runs.car();
  if (k < 0 || k >= static_cast<int>(choices_.size()) || !car) return {};
  solve::CornersAsk ask{.size = cells_->currentData().toDouble()};
  if (levels_->currentIndex() == 0) ask.levels = {w_.runs.level()};
  auto out = solve::planned_checks(choices_[static_cast<size_t>(k)], ask, car->tank->volume());
  if (const auto manoeuvre = manoeuvres_[static_cast<size_t>(k)])
    for (auto& check : out) check.ask.manoeuvre = manoeuvre, check.ask.from.reset(), check.ask.to.reset();
  return out;
}

void ResolvedView::say_estimate() {
  const auto all = planned();
  const auto car = w_.runs.car();
  double seconds = 0;
  for (const auto& check : all) {
    // As the run itself would say, but for the drive's length, which is known here.
    const double driven = check.ask.manoeuvre ? 6.0 : *check.ask.to - *check.ask.from;
    resolved::RunInput input{.tank = *car->tank, .parts = w_.setup()->tank, .volume = check.ask.level};
    input.drive.time = {0, driven};
    seconds += resolved::estimated_seconds(input, {.size = check.ask.size}) / 1.8;
  }
  if (all.empty())
    estimate_->clear();
  else
    estimate_->setText(seconds < 90 ? QString("about %1 s").arg(std::max(1, static_cast<int>(seconds + 0.5)))
                                    : QString("about %1 min").arg(seconds / 60, 0, 'f', 0));
}

void ResolvedView::ended() {
  poll_->stop(), bar_->hide();
  run_->setText("Resolve");
}

void ResolvedView::run_or_stop() {
  if (work_.running()) {
    work_.cancel();
    ended();
    return;
  }
  auto checks = planned();
  if (checks.empty()) return;
  run_->setText("Stop");
  bar_->setValue(0), bar_->show();
  began_ = clock_now();
  poll_->start();
  work_.start(
      this,
      [checks = std::move(checks), project = w_.project(), setup = w_.setup()->name,
       lap = w_.selection.lap_reference() ? w_.selection.lap_reference()->name : std::string(),
       sources = w_.document.sources(), into = folder()](Progress& progress) {
        std::vector<Row> out;
        for (auto& row :
             solve::check_all(project, {.setup = setup, .lap = lap, .session = {}, .grip = {}, .alone = true},
                              checks, *sources, {.folder = into}, &progress))
          out.push_back(std::make_shared<const solve::CornerRow>(std::move(row)));
        return out;
      },
      [this](std::vector<Row> rows) {
        ended();
        // The same question again takes the place of its former answer.
        for (Row& row : rows) {
          std::erase_if(rows_, [&](const Row& r) {
            return r->kept.key == row->kept.key && r->corner.place == row->corner.place;
          });
          rows_.push_back(std::move(row));
        }
        show_rows();
        table_->selectRow(table_->rowCount() - static_cast<int>(rows.size()));
      },
      [this](const QString& why) {
        ended();
        says_->setText("▲ " + why);
      });
}

ResolvedView::Row ResolvedView::shown() const {
  if (rows_.empty()) return nullptr;
  const int k = table_->currentRow();
  return k >= 0 && k < static_cast<int>(rows_.size()) ? rows_[static_cast<size_t>(k)] : rows_.back();
}

void ResolvedView::show_rows() {
  const bool any = !rows_.empty();
  calibrate_->setEnabled(any && !learning_.running());
  for (QWidget* w : std::initializer_list<QWidget*>{slider_, play_, film_}) w->setEnabled(any);
  {
    const QSignalBlocker quiet(table_);
    table_->show_table(report::corners_table(rows_, w_.units()));
    // The chosen row's verdict stands above, in full.
    table_->setColumnHidden(table_->columnCount() - 1, true);
  }
  show_row();
}

void ResolvedView::show_row() {
  const Row row = shown();
  tank_->setEnabled(row && !row->job->ask.manoeuvre);
  if (!row) {
    if (!work_.running())
      says_->setText(
          "Choose the worst corners, one of them or a manoeuvre: the fuel is run in three dimensions, "
          "breaking "
          "waves and all, and the fast model is held against it.");
    picture_->show_frame(nullptr);
    show_curves(plot_, w_, "time", Quantity::duration, "share of the sock that is wet", Quantity::fraction,
                {});
    return;
  }
  const auto& run = row->kept.run;
  const auto& pickups = row->job->car.pickups;
  const double begin = row->job->drive.begin();
  QString text;
  if (rows_.size() > 1)
    text = QString::fromStdString(solve::verdict(rows_).in(w_.units())).toHtmlEscaped() + "<br>";
  text += "<b>" + QString::fromStdString(row->corner.place).toHtmlEscaped() + ", " +
          w_.show(row->job->ask.level, Quantity::volume) +
          "</b>: " + QString::fromStdString(verdict(row->agreement, pickups).in(w_.units())).toHtmlEscaped();
  text += QString(" <span style='color:%1'>%2 cells, %3 steps, %4; volume held within %5 %.</span>")
              .arg(w_.theme().faint.name())
              .arg(run.cells)
              .arg(run.steps.steps)
              .arg(row->kept.was_there ? QString("kept from before")
                                       : QString("%1 s").arg(row->kept.seconds, 0, 'f', 1))
              .arg(100 * run.worst_filled, 0, 'f', 2);
  for (const Phrase& said : run.said)
    text += "<br>▲ " + QString::fromStdString(said.in(w_.units())).toHtmlEscaped();
  if (!row->kept.not_kept.empty())
    text += "<br>▲ Not kept: " + QString::fromStdString(row->kept.not_kept).toHtmlEscaped();
  says_->setText(unbroken(text));
  std::vector<Curve> curves;
  for (size_t p = 0; p < pickups.size(); ++p) {
    const QString name = QString::fromStdString(pickups[p].name);
    Curve resolved{name + ", resolved", {}, {}, Qt::SolidLine, p % 2 == 1};
    Curve fast{name + ", fast", {}, {}, Qt::DashLine, p % 2 == 1};
    // Ten points a second: enough to compare, and each curve can be followed.
    for (size_t k = 0; k < run.samples.size() && k < row->fast.size(); k += 5) {
      resolved.x.push_back(begin + run.samples[k].time), resolved.y.push_back(run.samples[k].wet[p]);
      fast.x.push_back(begin + run.samples[k].time), fast.y.push_back(row->fast[k].wet[p]);
    }
    curves.push_back(std::move(resolved));
    curves.push_back(std::move(fast));
  }
  show_curves(plot_, w_, "time", Quantity::duration, "share of the sock that is wet", Quantity::fraction,
              curves);
  const QSignalBlocker quiet(slider_);
  slider_->setRange(0, std::max(static_cast<int>(row->kept.frames.size()) - 1, 0));
  show_instant(slider_->value());
  if (!row->job->ask.manoeuvre && w_.splash() != row.get()) w_.show_splash(row);
}

void ResolvedView::show_instant(int frame) {
  const Row row = shown();
  if (!row || frame < 0 || frame >= static_cast<int>(row->kept.frames.size())) return;
  picture_->show_frame({row, &row->kept.frames[static_cast<size_t>(frame)]});
}

int ResolvedView::save_film(const QString& folder, QString* why) {
  const Row row = shown();
  if (!row) return 0;
  const int at = slider_->value();
  int saved = 0;
  for (int frame = 0; frame < static_cast<int>(row->kept.frames.size()); ++frame) {
    show_instant(frame);
    const QString file = QDir(folder).filePath(QString("film-%1.png").arg(frame + 1, 4, 10, QChar('0')));
    if (!picture_->grab().save(file)) {
      if (why) *why = QString("%1: it can not be written").arg(file);
      break;
    }
    ++saved;
  }
  show_instant(at);
  return saved;
}

void ResolvedView::see_in_tank() {
  const Row row = shown();
  if (!row) return;
  w_.show_splash(row);
  w_.set_cursor_time(row->job->drive.begin() + 0.1);
  emit w_.station_wanted(Station::tank);
}

void ResolvedView::calibrate() {
  if (rows_.empty() || !w_.setup()) return;
  bar_->setValue(0), bar_->show();
  poll_->start();
  calibrate_->setEnabled(false);
  learning_.start(
      this,
      [rows = rows_, had = w_.setup()->calibration, date = day_of(now())](Progress& progress) {
        std::vector<solve::ResolvedPair> pairs;
        for (const Row& r : rows) pairs.push_back({r->job.get(), &r->kept.run});
        return solve::calibrate_resolved(pairs, had, date, &progress);
      },
      [this](const solve::ResolvedLearnt& learnt) {
        ended();
        const int setup = w_.selection.setup_index();
        w_.document.edit("Calibration from resolved runs", [&](project::Project& p) {
          p.setups.at(static_cast<size_t>(setup)).calibration = learnt.value;
        });
        QString figures;
        for (const auto& f : learnt.value.figures)
          figures += QString("%1%2 ×%3")
                         .arg(figures.isEmpty() ? "" : ", ")
                         .arg(name_of(f.figure))
                         .arg(f.factor, 0, 'f', 2);
        says_->setText(QString("Taken into the setup: %1. The fuel's middle: %2 apart before, %3 now.")
                           .arg(figures, w_.show(learnt.before, Quantity::length),
                                w_.show(learnt.after, Quantity::length)));
        calibrate_->setEnabled(true);
      },
      [this](const QString& why) {
        ended();
        calibrate_->setEnabled(true);
        says_->setText("▲ " + why);
      });
}

}  // namespace uadze::gui
