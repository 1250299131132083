#include <QComboBox>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QLabel>
#include <QPushButton>
#include <QSplitter>
#include <QTabWidget>
#include <QTableWidget>
#include <QVBoxLayout>
#include <cmath>
#include <optional>

#include "core/base/counted.h"
#include "core/starvation/never_drawn.h"
#include "gui/stations/slosh/compare_view.h"
#include "gui/stations/slosh/map_view.h"
#include "gui/stations/slosh/modes_view.h"
#include "gui/stations/slosh/reach_view.h"
#include "gui/stations/slosh/resolved_view.h"
#include "gui/stations/slosh/study_view.h"
#include "gui/stations/station.h"
#include "gui/widgets/filling.h"
#include "gui/widgets/level_bar.h"
#include "gui/widgets/plot.h"
#include "gui/widgets/whole_words.h"
#include "gui/widgets/working_view.h"

namespace uadze::gui {
namespace {

class SloshStation : public StationView {
 public:
  explicit SloshStation(Workspace& w)
      : w_(w), picture_(new QWidget), plot_(new LapPlot(w)), events_(new QTableWidget) {
    auto* tabs = new QTabWidget;
    tabs->setDocumentMode(true);
    tabs->setObjectName("slosh tabs");
    auto* split = new QSplitter(Qt::Vertical);
    map_ = new MapView(w);
    split->addWidget(map_);
    split->addWidget(plot_);
    split->setStretchFactor(0, 1);
    split->setStretchFactor(1, 1);
    split->setSizes({280, 290});
    tabs->addTab(split, "Starvation map");
    tabs->addTab(make_inertia_page(), "Settled and moving");
    tabs->addTab(make_reach_page(), "Reach");
    tabs->addTab(new ModesView(w), "Resonance");
    tabs->addTab(new CompareView(w), "Compare setups");
    tabs->addTab(new ResolvedView(w), "Resolved");
    tabs->addTab(new StudyView(w), "Study");
    auto* bar = new QHBoxLayout;
    bar->setContentsMargins(8, 2, 8, 2);
    layer_ = new QComboBox;
    layer_->setObjectName("map layer");
    layer_->setAccessibleName("What the map shows");
    QObject::connect(layer_, &QComboBox::activated, layer_, [this](int i) { map_->set_layer(i); });
    bar->addWidget(new QLabel("Map of"));
    bar->addWidget(layer_);
    bar->addStretch();
    bar->addWidget(new LevelBar(w));
    auto* layout = new QVBoxLayout(picture_);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(0);
    layout->addWidget(tabs, 1);
    layout->addLayout(bar);

    auto* upper = new QWidget;
    auto* column = new QVBoxLayout(upper);
    column->setContentsMargins(0, 0, 0, 0);
    title_ = new QLabel;
    title_->setWordWrap(true);
    column->addWidget(title_);
    events_->setColumnCount(3);
    events_->setHorizontalHeaderLabels({"Where", "For", "Cause"});
    corners_ = new QTableWidget;
    corners_->setColumnCount(2);
    corners_->setHorizontalHeaderLabels({"It begins to hurt", "under"});
    corners_->verticalHeader()->hide();
    corners_->setEditTriggers(QAbstractItemView::NoEditTriggers);
    corners_->setSelectionBehavior(QAbstractItemView::SelectRows);
    corners_->horizontalHeader()->setSectionResizeMode(0, QHeaderView::Stretch);
    corners_->horizontalHeader()->setSectionResizeMode(1, QHeaderView::ResizeToContents);
    corners_->setAccessibleName("Level at which each place begins to hurt");
    corners_->setObjectName("corner levels");
    QObject::connect(corners_, &QTableWidget::cellClicked, corners_, [this](int row, int) {
      const auto* map = w_.runs.map();
      if (!map) return;
      const auto levels = starvation::corner_levels(*map);
      if (row >= static_cast<int>(levels.size())) return;
      const auto& at = levels[static_cast<size_t>(row)];
      w_.selection.pick_level(at.level);
      w_.set_cursor_time(at.event.start);
    });
    events_->verticalHeader()->hide();
    events_->setEditTriggers(QAbstractItemView::NoEditTriggers);
    events_->setSelectionBehavior(QAbstractItemView::SelectRows);
    events_->horizontalHeader()->setSectionResizeMode(0, QHeaderView::ResizeToContents);
    events_->horizontalHeader()->setSectionResizeMode(1, QHeaderView::ResizeToContents);
    events_->horizontalHeader()->setStretchLastSection(true);
    show_whole(events_, 2);
    events_->setAccessibleName("Starvation events");
    column->addWidget(events_, 2);
    column->addWidget(corners_, 1);
    column->addStretch();
    working_ = new WorkingView(w);
    side_ = new SidePanel(upper, working_, 36);
    QObject::connect(events_, &QTableWidget::currentCellChanged, events_, [this](int row, int, int, int) {
      if (!filling_ && run_ && row >= 0 && row < static_cast<int>(run_->events.size()))
        w_.set_cursor_time(run_->events[static_cast<size_t>(row)].start);
    });
    for (auto signal : {&Workspace::changed, &Workspace::level_changed})
      QObject::connect(&w, signal, plot_, [this] {
        if (picture_->isVisible()) refresh();
      });
    QObject::connect(&w, &Workspace::appearance_changed, plot_, [this] { run_ = compared_ = nullptr; });
    QObject::connect(tabs, &QTabWidget::currentChanged, plot_, [this] { refresh_inertia(); });
    refresh();
  }
  QWidget* picture() override { return picture_; }
  QWidget* side() override { return side_; }
  void shown() override { refresh(); }

 private:
  QWidget* make_inertia_page() {
    auto* page = new QWidget;
    auto* column = new QVBoxLayout(page);
    column->setContentsMargins(0, 0, 0, 0);
    differ_ = new QLabel;
    differ_->setWordWrap(true);
    differ_->setContentsMargins(12, 6, 12, 2);
    differ_->setObjectName("where they differ");
    auto* there = new QPushButton("Go there");
    there->setObjectName("go there");
    there->setToolTip("Puts the lap cursor where the two models differ most");
    QObject::connect(there, &QPushButton::clicked, there, [this] { w_.set_cursor(differs_at_); });
    auto* row = new QHBoxLayout;
    row->addWidget(differ_, 1);
    row->addWidget(there);
    row->addSpacing(8);
    column->addLayout(row);
    models_ = new LapPlot(w_);
    column->addWidget(models_, 1);
    return page;
  }

  QWidget* make_reach_page() {
    auto* page = new QWidget;
    auto* column = new QVBoxLayout(page);
    column->setContentsMargins(0, 0, 0, 0);
    auto* row = new QHBoxLayout;
    row->setContentsMargins(12, 4, 8, 0);
    auto* reach = new ReachView(w_);
    auto* strength = new QComboBox;
    strength->setAccessibleName("Strength of the push");
    for (double g : {0.5, 0.8, 1.0, 1.2, 1.5, 2.0, 2.5, 3.0})
      strength->addItem(QString("%1 g").arg(g, 0, 'f', 1), g);
    strength->setCurrentIndex(3);
    QObject::connect(strength, &QComboBox::currentIndexChanged, reach,
                     [reach, strength] { reach->set_strength(strength->currentData().toDouble()); });
    row->addWidget(new QLabel("A steady push of"));
    row->addWidget(strength);
    row->addStretch();
    column->addLayout(row);
    column->addWidget(reach, 1);
    return page;
  }

  /// Both models' wet fraction of each pickup at the level shown, side by side, and where they differ most.
  void refresh_inertia() {
    if (!models_->isVisible()) return;
    const auto run = w_.runs.level_run();
    const auto ready = w_.runs.lap_case();
    if (!run || !ready || ready->car->pickups.empty()) {
      models_->show_panes({}, {});
      differ_->setText(w_.runs.lap() && !ready ? "computing" : "This needs a lap and a pickup.");
      return;
    }
    if (run == compared_) return;
    compared_ = run;
    differ_->setText("computing");
    settled_job_.start(
        picture_,
        [ready, run](Progress&) {
          starvation::FuelSystem still = *ready->car;
          still.model = slosh::Model::settled;
          std::vector<slosh::Instant> settled;
          coverage(still, ready->lap->value, run->level, ready->course.repeated, &settled);
          return settled;
        },
        [this, ready, run](const std::vector<slosh::Instant>& settled) {
          show_inertia(*ready, *run, settled);
        },
        [this](const QString& why) { differ_->setText("▲ " + why); });
  }

  void show_inertia(const solve::LapCase& ready, const starvation::LevelRun& run,
                    const std::vector<slosh::Instant>& settled) {
    const lap::Lap& lap = ready.lap->value;
    std::vector<Pane> panes;
    double most = -1;
    size_t pickup = 0;
    std::vector<double> gap(lap.size());
    for (size_t p = 0; p < ready.car->pickups.size(); ++p) {
      Trace moving{QString::fromStdString(ready.car->pickups[p].name) + ", moving",
                   Quantity::fraction,
                   {},
                   Qt::SolidLine},
          lying{"settled", Quantity::fraction, {}, Qt::DashLine};
      for (size_t i = 0; i < lap.size(); ++i) {
        moving.values.push_back(run.motion[i].wet[p]);
        lying.values.push_back(settled[i].wet[p]);
        const double apart = std::abs(moving.values[i] - lying.values[i]);
        gap[i] = std::max(gap[i], apart);
        if (apart > most) most = apart, differs_at_ = i, pickup = p;
      }
      panes.push_back({{std::move(moving), std::move(lying)}, true});
    }
    panes.push_back({{{"difference", Quantity::fraction, gap, Qt::SolidLine}}, true});
    models_->show_panes(lap.distance, std::move(panes));
    const auto percent = [this](double share) { return w_.show(share, Quantity::fraction, 0); };
    differ_->setText(
        most < 0.01
            ? QString("With %1 both models agree all along the lap.")
                  .arg(w_.show(run.level, Quantity::volume, 2))
            : QString("With %1 they differ most <b>%2</b>, at %3: %4 is %5 wet as the fuel moves, %6 if "
                      "it settled at once.")
                  .arg(
                      w_.show(run.level, Quantity::volume, 2),
                      QString::fromStdString(lap::at_place(ready.course.corners, lap, lap.time[differs_at_])),
                      w_.show(lap.distance[differs_at_], Quantity::distance),
                      QString::fromStdString(ready.car->pickups[pickup].name),
                      percent(run.motion[differs_at_].wet[pickup]),
                      percent(settled[differs_at_].wet[pickup])));
  }

  void refresh_corners() {
    const auto* map = w_.runs.map();
    const auto levels = map ? starvation::corner_levels(*map) : std::vector<starvation::CornerLevel>{};
    corners_->setVisible(!levels.empty());
    corners_->setRowCount(static_cast<int>(levels.size()));
    const Filling quiet(corners_);
    for (int r = 0; r < corners_->rowCount(); ++r) {
      const auto& c = levels[static_cast<size_t>(r)];
      const QString cells[] = {QString::fromStdString(c.place), w_.show(c.level, Quantity::volume)};
      for (int k = 0; k < 2; ++k) {
        auto* item = new QTableWidgetItem(cells[k]);
        item->setToolTip(QString::fromStdString(c.event.cause.in(w_.units())));
        corners_->setItem(r, k, item);
      }
    }
    const QStringList names = map_->layers();
    QStringList present;
    for (int i = 0; i < layer_->count(); ++i) present << layer_->itemText(i);
    if (present != names) {
      const int chosen = std::min(std::max(layer_->currentIndex(), 0), static_cast<int>(names.size()) - 1);
      layer_->clear();
      layer_->addItems(names);
      layer_->setCurrentIndex(chosen);
      map_->set_layer(chosen);
    }
  }

  void refresh() {
    refresh_inertia();
    refresh_corners();
    const auto run = w_.runs.level_run();
    const auto now = w_.runs.lap_case();
    if (!run || !now) {
      plot_->show_panes({}, {});
      run_ = nullptr;
      const QString fault = w_.runs.fault();
      title_->setText(fault.isEmpty() ? QString("Computing the lap at this level.") : fault);
      events_->hide();
      working_->show_all({}, {});
      return;
    }
    if (run == run_) return;
    run_ = run;
    const auto& car = now->car;
    const lap::Lap& lap = now->lap->value;
    std::vector<Trace> wet;
    constexpr Qt::PenStyle styles[] = {Qt::SolidLine, Qt::DashLine, Qt::DotLine, Qt::DashDotLine};
    for (size_t k = 0; k < car->pickups.size(); ++k)
      wet.push_back({QString::fromStdString(car->pickups[k].name), Quantity::fraction, run->coverage.wet[k],
                     styles[k % 4]});
    plot_->show_panes(
        lap.distance,
        {{{{car->surge ? "surge tank" : "line, filter", Quantity::volume, run->reserve, Qt::SolidLine}},
          true},
         {{{"rail", Quantity::pressure, run->rail, Qt::SolidLine},
           {"set", Quantity::pressure, now->course.delivery->set, Qt::DashLine}},
          true},
         {{{"supply", Quantity::flow, run->supply, Qt::SolidLine},
           {"draw", Quantity::flow, run->draw, Qt::DashLine}},
          true},
         {std::move(wet), true}});
    const bool clean = run->clean(), under = is_under(run->level, car->never_drawn);
    QString text =
        QString("<b>%1</b> %2 in the tank")
            .arg(clean && under ? "No level to drive at:"
                 : clean
                     ? "Clean with"
                     : "▲ Starves: " + QString::fromStdString(counted(run->events.size(), "event")) + " with",
                 w_.show(run->level, Quantity::volume, 2));
    text +=
        car->surge
            ? QString("; least in the surge tank %1").arg(w_.show(run->least_reserve, Quantity::volume, 2))
            : QString();
    if (run->laps > 1)
      text += run->first_short_lap > 0 ? QString("; runs short on lap %1").arg(run->first_short_lap)
                                       : QString("; repeats itself after %1 laps").arg(run->laps);
    if (under)
      text += QString(". Under what never comes out (%1): held only as what is burnt is thought replaced")
                  .arg(w_.show(car->never_drawn.total(), Quantity::volume, 2));
    title_->setText(text + ".");
    filling_ = true;
    events_->setVisible(!clean);
    events_->setRowCount(static_cast<int>(run->events.size()));
    std::optional<Filling> quiet(events_);
    for (int r = 0; r < events_->rowCount(); ++r) {
      const auto& e = run->events[static_cast<size_t>(r)];
      const QString cells[] = {
          QString::fromStdString(e.place + "\n" + e.phase), w_.show(e.end - e.start, Quantity::duration),
          QString::fromStdString(e.seen().in(w_.units()) + ": " + e.cause.in(w_.units()))};
      for (int c = 0; c < 3; ++c) {
        auto* item = new QTableWidgetItem(cells[c]);
        item->setToolTip(cells[c]);
        events_->setItem(r, c, item);
      }
    }
    quiet.reset();
    events_->resizeRowsToContents();
    filling_ = false;
    std::vector<Derivation> all;
    QStringList odd;
    if (const auto* v = w_.runs.verdict()) {
      all.push_back(v->lap->clean_working);
      all.push_back(starvation::reserve_working(*car, now->course, *run));
      for (const auto& a : v->lap->clean.clean_again) odd << QString::fromStdString(a.text.in(w_.units()));
    }
    working_->show_all(all,
                       {"A lean engine at full load can be destroyed in seconds: treat the clean level "
                        "as a floor, and check it against a logged lap before relying on it."},
                       odd);
  }

  Workspace& w_;
  QWidget* picture_;
  LapPlot* plot_;
  MapView* map_ = nullptr;
  QComboBox* layer_ = nullptr;
  QTableWidget* corners_ = nullptr;
  QTableWidget* events_;
  QLabel* title_;
  QWidget* side_;
  WorkingView* working_;
  LapPlot* models_ = nullptr;
  QLabel* differ_ = nullptr;
  size_t differs_at_ = 0;
  std::shared_ptr<const starvation::LevelRun> run_, compared_;
  Background<std::vector<slosh::Instant>> settled_job_;
  bool filling_ = false;
};

}  // namespace

std::unique_ptr<StationView> make_slosh_station(Workspace& workspace) {
  return std::make_unique<SloshStation>(workspace);
}

}  // namespace uadze::gui
