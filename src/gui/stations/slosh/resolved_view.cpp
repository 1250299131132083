#include "gui/stations/slosh/resolved_view.h"

#include <QComboBox>
#include <QDate>
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
#include "core/project/keys.h"
#include "gui/widgets/quantity_plot.h"

namespace uadze::gui {
namespace {

/// s before a corner's trouble from which it is resolved, and after its end.
constexpr double lead = 3.0, tail = 1.5;
/// Pictures a second that are kept, and how many corners are offered.
constexpr double pictures = 25.0;
constexpr size_t corners = 6;

double clock_now() {
  return std::chrono::duration<double>(std::chrono::steady_clock::now().time_since_epoch()).count();
}

}  // namespace

ResolvedView::ResolvedView(Workspace& workspace, QWidget* parent)
    : QWidget(parent),
      w_(workspace),
      what_(new QComboBox),
      cells_(new QComboBox),
      run_(new QPushButton("Resolve")),
      calibrate_(new QPushButton("Calibrate from these")),
      play_(new QPushButton("▶ Play")),
      bar_(new QProgressBar),
      says_(new QLabel),
      estimate_(new QLabel),
      picture_(new SplashPicture(workspace)),
      plot_(make_plot("resolved and fast")),
      slider_(new QSlider(Qt::Horizontal)),
      poll_(new QTimer(this)),
      ticks_(new QTimer(this)) {
  what_->setObjectName("resolve what");
  what_->setAccessibleName("Corner or manoeuvre to resolve");
  what_->setMinimumContentsLength(24);
  cells_->setObjectName("resolve cells");
  cells_->setAccessibleName("Size of a cell");
  for (const double mm : {40.0, 30.0, 20.0, 15.0, 10.0})
    cells_->addItem(w_.show(mm * 1e-3, Quantity::length) + " cells", mm * 1e-3);
  cells_->setCurrentIndex(2);
  run_->setObjectName("resolve");
  calibrate_->setObjectName("calibrate resolved");
  calibrate_->setToolTip("Sets the fast model's damping and discharge by what was resolved; can be undone");
  play_->setObjectName("play splash");
  play_->setCheckable(true);
  slider_->setObjectName("splash time");
  slider_->setAccessibleName("Instant of the run");
  bar_->setObjectName("resolve progress");
  bar_->setAccessibleName("Progress of the resolved run");
  bar_->setMaximumWidth(140);
  bar_->hide();
  says_->setObjectName("resolved verdict");
  says_->setWordWrap(true);
  estimate_->setObjectName("resolve estimate");

  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(8, 4, 8, 0);
  column->setSpacing(4);
  auto* row = new QHBoxLayout;
  row->addWidget(what_, 1);
  row->addWidget(cells_);
  row->addWidget(estimate_);
  row->addWidget(bar_);
  row->addWidget(run_);
  row->addWidget(calibrate_);
  column->addLayout(row);
  column->addWidget(says_);
  auto* split = new QSplitter(Qt::Horizontal);
  split->addWidget(picture_);
  split->addWidget(plot_);
  split->setSizes({420, 420});
  column->addWidget(split, 1);
  auto* below = new QHBoxLayout;
  below->addWidget(play_);
  below->addWidget(slider_, 1);
  column->addLayout(below);

  connect(run_, &QPushButton::clicked, this, [this] { run_or_stop(); });
  connect(calibrate_, &QPushButton::clicked, this, [this] { calibrate(); });
  connect(what_, &QComboBox::currentIndexChanged, this, [this] { say_estimate(); });
  connect(cells_, &QComboBox::currentIndexChanged, this, [this] { say_estimate(); });
  connect(slider_, &QSlider::valueChanged, this, [this](int frame) { show_instant(frame); });
  connect(play_, &QPushButton::toggled, this, [this](bool on) {
    play_->setText(on ? "■ Stop" : "▶ Play");
    on ? ticks_->start(static_cast<int>(1000 / pictures)) : ticks_->stop();
  });
  connect(ticks_, &QTimer::timeout, this,
          [this] { slider_->setValue(slider_->value() >= slider_->maximum() ? 0 : slider_->value() + 1); });
  poll_->setInterval(200);
  connect(poll_, &QTimer::timeout, this, [this] {
    const double done = work_.running() ? work_.fraction() : learning_.fraction();
    bar_->setValue(static_cast<int>(100 * done));
  });
  for (auto signal : {&Workspace::changed, &Workspace::level_changed, &Workspace::appearance_changed})
    connect(&w_, signal, this, [this] {
      if (isVisible()) refresh();
    });
}

void ResolvedView::refresh() {
  fill_choices();
  const bool can = w_.setup() && w_.runs.car();
  run_->setEnabled(can);
  if (!can) {
    says_->setText("A setup with a tank is resolved here.");
    picture_->show_tank(nullptr, {});
    return;
  }
  // What was run is of this setup as it is, at this level: anything else is of another question.
  KeyMaker key;
  project::Setup bare = *w_.setup();
  bare.calibration.reset();
  key.add(project::key_of(bare)).add(w_.runs.level());
  if (!(key.key() == of_)) {
    of_ = key.key();
    work_.cancel();
    ran_.clear();
    picture_->show_tank(w_.runs.car()->tank, w_.runs.car()->pickups);
  }
  say_estimate();
  show_ran();
}

void ResolvedView::fill_choices() {
  std::vector<What> choices;
  QStringList titles;
  const auto& result = w_.runs.evaluator.result().lap;
  if (result && w_.runs.lap()) {
    const lap::Lap& lap = w_.runs.lap()->value;
    for (const auto& corner : starvation::corner_levels(result->map)) {
      if (choices.size() == corners) break;
      choices.push_back({{},
                         std::max(lap.time.front(), corner.event.start - lead),
                         std::min(lap.time.back(), corner.event.end + tail)});
      titles << QString::fromStdString(corner.place) + ", hurts under " +
                    w_.show(corner.level, Quantity::volume);
    }
  }
  for (const auto& name : names_of<lap::Manoeuvre>()) {
    choices.push_back({value_named<lap::Manoeuvre>(name), 0, 0});
    titles << QString::fromStdString(std::string(name)) + ", " +
                  w_.show(1.2 * standard_gravity, Quantity::acceleration);
  }
  if (const QString all = titles.join("\n"); all != choices_of_) {
    const int chosen = std::max(what_->currentIndex(), 0);
    choices_of_ = all;
    choices_ = std::move(choices);
    const QSignalBlocker quiet(what_);
    what_->clear();
    what_->addItems(titles);
    what_->setCurrentIndex(std::min(chosen, what_->count() - 1));
  }
}

std::optional<solve::ResolvedAsk> ResolvedView::asked() const {
  const int k = what_->currentIndex();
  if (k < 0 || k >= static_cast<int>(choices_.size())) return std::nullopt;
  const What& what = choices_[static_cast<size_t>(k)];
  solve::ResolvedAsk ask{.level = w_.runs.level(),
                         .manoeuvre = what.manoeuvre,
                         .size = cells_->currentData().toDouble(),
                         .draw = true};
  if (!what.manoeuvre) ask.from = what.from, ask.to = what.to;
  return ask;
}

void ResolvedView::say_estimate() {
  const auto ask = asked();
  const auto car = w_.runs.car();
  if (!ask || !car) {
    estimate_->clear();
    return;
  }
  // As the run itself would say, but for the drive's length, which is known here.
  const double driven = ask->manoeuvre ? 6.0 : *ask->to - *ask->from;
  resolved::RunInput input{.tank = *car->tank, .parts = w_.setup()->tank, .volume = ask->level};
  input.drive.trace.time = {0, driven};
  const double seconds = resolved::estimated_seconds(input, {.size = ask->size}) / 1.8;
  estimate_->setText(seconds < 90 ? QString("about %1 s").arg(std::max(1, static_cast<int>(seconds + 0.5)))
                                  : QString("about %1 min").arg(seconds / 60, 0, 'f', 0));
}

void ResolvedView::run_or_stop() {
  if (work_.running()) {
    work_.cancel();
    poll_->stop(), bar_->hide();
    run_->setText("Resolve");
    return;
  }
  const auto ask = asked();
  if (!ask) return;
  run_->setText("Stop");
  bar_->setValue(0), bar_->show();
  poll_->start();
  work_.start(
      this,
      [ask = *ask, project = w_.project(), setup = w_.setup()->name,
       lap = w_.selection.lap_reference() ? w_.selection.lap_reference()->name : std::string(),
       sources = w_.document.sources()](Progress& progress) {
        auto out = std::make_shared<Ran>();
        auto job = std::make_shared<solve::ResolvedJob>(solve::resolved_job(
            project, {.setup = setup, .lap = lap, .session = {}, .grip = {}, .alone = true}, ask, *sources));
        const resolved::RunInput input = job->input();
        const auto every =
            static_cast<size_t>(std::max(1.0, std::round(1 / (pictures * job->options.sample))));
        job->options.seen = [&](const resolved::Fuel& fuel, size_t sample) {
          if (sample % every != 0) return;
          const double t = job->drive.trace.begin() + static_cast<double>(sample) * job->options.sample;
          SplashFrame frame{
              .time = t, .pull = job->drive.trace.at(t), .surface = resolved::surface_of(fuel), .wet = {}};
          for (const tank::Pickup& p : job->car.pickups)
            frame.wet.push_back(fuel.wet(p.position, p.sock_radius));
          out->frames.push_back(std::move(frame));
        };
        const double begin = clock_now();
        out->run = resolved::run(input, job->options, &progress);
        out->seconds = clock_now() - begin;
        job->options.seen = nullptr;
        out->fast = solve::fast_beside(*job, out->run);
        out->agreement = solve::agreement(out->run, out->fast);
        out->job = job;
        return std::shared_ptr<const Ran>(out);
      },
      [this](std::shared_ptr<const Ran> ran) {
        poll_->stop(), bar_->hide();
        run_->setText("Resolve");
        ran_.push_back(std::move(ran));
        show_ran();
      },
      [this](const QString& why) {
        poll_->stop(), bar_->hide();
        run_->setText("Resolve");
        says_->setText("▲ " + why);
      });
}

void ResolvedView::show_ran() {
  calibrate_->setEnabled(!ran_.empty() && !learning_.running());
  slider_->setEnabled(!ran_.empty()), play_->setEnabled(!ran_.empty());
  if (ran_.empty()) {
    if (!work_.running())
      says_->setText(
          "Choose a corner or a manoeuvre: its fuel is run in three dimensions at the level below, breaking "
          "waves and all, and the fast model is held against it.");
    picture_->show_frame(nullptr);
    show_curves(plot_, w_, "time", Quantity::duration, "share of the sock that is wet", Quantity::fraction,
                {});
    return;
  }
  const Ran& ran = *ran_.back();
  const double begin = ran.job->drive.trace.begin();
  QString text =
      "<b>" + QString::fromStdString(ran.job->driven).toHtmlEscaped() + ", " +
      w_.show(ran.job->ask.level, Quantity::volume) + "</b>: " +
      QString::fromStdString(verdict(ran.agreement, ran.job->car.pickups).in(w_.units())).toHtmlEscaped();
  text += QString(" <span style='color:%1'>%2 cells, %3 steps, %4 s; volume held within %5 %.</span>")
              .arg(w_.theme().faint.name())
              .arg(ran.run.cells)
              .arg(ran.run.steps.steps)
              .arg(ran.seconds, 0, 'f', 1)
              .arg(100 * ran.run.worst_filled, 0, 'f', 2);
  for (const std::string& said : ran.run.said)
    text += "<br>▲ " + QString::fromStdString(said).toHtmlEscaped();
  says_->setText(text);
  std::vector<Curve> curves;
  for (size_t p = 0; p < ran.job->car.pickups.size(); ++p) {
    Curve resolved{QString::fromStdString(ran.job->car.pickups[p].name) + ", resolved",
                   {},
                   {},
                   Qt::SolidLine,
                   p % 2 == 1};
    Curve fast{
        QString::fromStdString(ran.job->car.pickups[p].name) + ", fast", {}, {}, Qt::DashLine, p % 2 == 1};
    // Ten points a second: enough to compare, and each curve can be followed.
    for (size_t k = 0; k < ran.run.samples.size(); k += 5) {
      resolved.x.push_back(begin + ran.run.samples[k].time), resolved.y.push_back(ran.run.samples[k].wet[p]);
      fast.x.push_back(begin + ran.run.samples[k].time), fast.y.push_back(ran.fast[k].wet[p]);
    }
    curves.push_back(std::move(resolved));
    curves.push_back(std::move(fast));
  }
  show_curves(plot_, w_, "time", Quantity::duration, "share of the sock that is wet", Quantity::fraction,
              curves);
  const QSignalBlocker quiet(slider_);
  slider_->setRange(0, std::max(static_cast<int>(ran.frames.size()) - 1, 0));
  show_instant(slider_->value());
}

void ResolvedView::show_instant(int frame) {
  if (ran_.empty() || frame < 0 || frame >= static_cast<int>(ran_.back()->frames.size())) return;
  picture_->show_frame(&ran_.back()->frames[static_cast<size_t>(frame)]);
}

void ResolvedView::calibrate() {
  if (ran_.empty() || !w_.setup()) return;
  bar_->setValue(0), bar_->show();
  poll_->start();
  calibrate_->setEnabled(false);
  learning_.start(
      this,
      [ran = ran_, had = w_.setup()->calibration,
       date = QDate::currentDate().toString(Qt::ISODate).toStdString()](Progress& progress) {
        std::vector<solve::ResolvedPair> pairs;
        for (const auto& r : ran) pairs.push_back({r->job.get(), &r->run});
        return solve::calibrate_resolved(pairs, had, date, &progress);
      },
      [this](const solve::ResolvedLearnt& learnt) {
        poll_->stop(), bar_->hide();
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
        poll_->stop(), bar_->hide();
        calibrate_->setEnabled(true);
        says_->setText("▲ " + why);
      });
}

}  // namespace uadze::gui
