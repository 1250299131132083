#include <QHBoxLayout>
#include <QHeaderView>
#include <QLabel>
#include <QSplitter>
#include <QTableWidget>
#include <QVBoxLayout>

#include "gui/stations/map_view.h"
#include "gui/stations/station.h"
#include "gui/widgets/level_bar.h"
#include "gui/widgets/plot.h"
#include "gui/widgets/working_view.h"

namespace uadze::gui {
namespace {

class SloshStation : public StationView {
 public:
  explicit SloshStation(Workspace& w)
      : w_(w), picture_(new QWidget), plot_(new LapPlot(w)), events_(new QTableWidget) {
    auto* bar = new QHBoxLayout;
    bar->setContentsMargins(8, 4, 8, 0);
    bar->addWidget(new QLabel("<b>Starvation map</b>"));
    bar->addStretch();
    bar->addWidget(new LevelBar(w));
    auto* split = new QSplitter(Qt::Vertical);
    split->addWidget(new MapView(w));
    split->addWidget(plot_);
    split->setStretchFactor(0, 3);
    split->setStretchFactor(1, 2);
    split->setSizes({330, 230});
    auto* layout = new QVBoxLayout(picture_);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->addLayout(bar);
    layout->addWidget(split, 1);

    auto* upper = new QWidget;
    auto* column = new QVBoxLayout(upper);
    column->setContentsMargins(0, 0, 0, 0);
    title_ = new QLabel;
    title_->setWordWrap(true);
    column->addWidget(title_);
    events_->setColumnCount(3);
    events_->setHorizontalHeaderLabels({"Where", "For", "Cause"});
    events_->verticalHeader()->hide();
    events_->setEditTriggers(QAbstractItemView::NoEditTriggers);
    events_->setSelectionBehavior(QAbstractItemView::SelectRows);
    events_->horizontalHeader()->setSectionResizeMode(0, QHeaderView::ResizeToContents);
    events_->horizontalHeader()->setSectionResizeMode(1, QHeaderView::ResizeToContents);
    events_->horizontalHeader()->setStretchLastSection(true);
    events_->setWordWrap(true);
    events_->setAccessibleName("Starvation events");
    column->addWidget(events_, 1);
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
    QObject::connect(&w, &Workspace::appearance_changed, plot_, [this] { run_ = nullptr; });
    refresh();
  }
  QWidget* picture() override { return picture_; }
  QWidget* side() override { return side_; }
  void shown() override { refresh(); }

 private:
  void refresh() {
    const auto run = w_.level_run();
    const auto entry = w_.lap();
    const auto car = w_.car();
    if (!run || !entry || !car) {
      plot_->show_panes({}, {});
      run_ = nullptr;
      title_->setText(w_.fault());
      events_->hide();
      working_->show_all({}, {});
      return;
    }
    if (run == run_) return;
    run_ = run;
    std::vector<Trace> wet;
    constexpr Qt::PenStyle styles[] = {Qt::SolidLine, Qt::DashLine, Qt::DotLine, Qt::DashDotLine};
    for (size_t k = 0; k < car->pickups.size(); ++k)
      wet.push_back({QString::fromStdString(car->pickups[k].name), Quantity::fraction, run->coverage.wet[k],
                     styles[k % 4]});
    plot_->show_panes(entry->value.distance, {{{{car->surge ? "surge tank" : "line, filter", Quantity::volume,
                                                 run->cycle.last.volume, Qt::SolidLine}},
                                               true},
                                              {{{"supply", Quantity::flow, run->supply, Qt::SolidLine},
                                                {"draw", Quantity::flow, run->draw, Qt::DashLine}},
                                               true},
                                              {std::move(wet), true}});
    const bool clean = run->clean();
    QString text = QString("<b>%1</b> with %2 in the tank")
                       .arg(clean ? "Clean"
                                  : QString("▲ Starves at %1 place%2")
                                        .arg(run->events.size())
                                        .arg(run->events.size() == 1 ? "" : "s"),
                            w_.show(run->level, Quantity::volume, 2));
    text +=
        car->surge
            ? QString("; least in the surge tank %1").arg(w_.show(run->least_reserve, Quantity::volume, 2))
            : QString();
    if (run->cycle.laps > 1)
      text += run->cycle.first_short_lap > 0
                  ? QString("; runs short on lap %1").arg(run->cycle.first_short_lap)
                  : QString("; repeats itself after %1 laps").arg(run->cycle.laps);
    title_->setText(text + ".");
    filling_ = true;
    events_->setVisible(!clean);
    events_->setRowCount(static_cast<int>(run->events.size()));
    for (int r = 0; r < events_->rowCount(); ++r) {
      const auto& e = run->events[static_cast<size_t>(r)];
      const QString cells[] = {QString::fromStdString(e.place), w_.show(e.end - e.start, Quantity::duration),
                               QString::fromStdString(e.cause)};
      for (int c = 0; c < 3; ++c) {
        auto* item = new QTableWidgetItem(cells[c]);
        item->setToolTip(cells[c]);
        events_->setItem(r, c, item);
      }
    }
    events_->resizeRowsToContents();
    filling_ = false;
    std::vector<Derivation> all;
    if (const auto* v = w_.verdict()) {
      all.push_back(v->lap->clean_working);
      all.push_back(starvation::reserve_working(*car, v->lap->course, *run));
    }
    working_->show_all(all, {"A lean engine at full load can be destroyed in seconds: treat the clean level "
                             "as a floor, and check it against a logged lap before relying on it."});
  }

  Workspace& w_;
  QWidget* picture_;
  LapPlot* plot_;
  QTableWidget* events_;
  QLabel* title_;
  QWidget* side_;
  WorkingView* working_;
  std::shared_ptr<const starvation::LevelRun> run_;
  bool filling_ = false;
};

}  // namespace

std::unique_ptr<StationView> make_slosh_station(Workspace& workspace) {
  return std::make_unique<SloshStation>(workspace);
}

}  // namespace uadze::gui
