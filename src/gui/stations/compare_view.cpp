#include "gui/stations/compare_view.h"

#include <QHeaderView>
#include <QLabel>
#include <QTableWidget>
#include <QVBoxLayout>
#include <cmath>

#include "gui/widgets/plot.h"

namespace uadze::gui {

CompareView::CompareView(Workspace& workspace, QWidget* parent)
    : QWidget(parent), workspace_(workspace), table_(new QTableWidget), plot_(new LapPlot(workspace)) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(8, 4, 8, 0);
  table_->setAccessibleName("Setups side by side");
  table_->setObjectName("compare");
  table_->setColumnCount(7);
  table_->verticalHeader()->hide();
  table_->setEditTriggers(QAbstractItemView::NoEditTriggers);
  table_->setSelectionBehavior(QAbstractItemView::SelectRows);
  table_->setSizeAdjustPolicy(QAbstractScrollArea::AdjustToContents);
  table_->setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Maximum);
  column->addWidget(table_);
  column->addWidget(plot_, 1);
  connect(table_, &QTableWidget::cellDoubleClicked, this,
          [this](int row, int) { workspace_.choose_setup(row); });
  for (auto signal : {&Workspace::changed, &Workspace::level_changed})
    connect(&workspace_, signal, this, [this] {
      if (isVisible()) refresh();
    });
}

void CompareView::refresh() {
  const auto* reference = workspace_.lap_reference();
  const auto* session = workspace_.session();
  if (!reference) {
    table_->setRowCount(0);
    plot_->show_panes({}, {});
    return;
  }
  const project::Project project = workspace_.project();
  const auto laps = workspace_.evaluator.laps();
  const auto tanks = workspace_.document.tanks();
  const project::Conditions conditions = session ? project::conditions_of(*session) : project::Conditions{};
  const double level = workspace_.level();
  runs_.start(
      this,
      [project, laps, tanks, conditions, level, lap = *reference](Progress& progress) {
        std::vector<Side> out;
        for (const auto& setup : project.setups) {
          progress.check();
          Side side;
          side.name = QString::fromStdString(setup.name);
          try {
            const auto* known = project.find_lap(lap.name);
            const project::LapCase c =
                project::lap_case(project, setup, known ? *known : project::bench_reference(), *laps, *tanks,
                                  {.conditions = conditions, .wait = false, .points = 400}, &progress);
            side.run = run_level(*c.car, c.course, std::min(level, c.car->tank->volume()));
            side.set = c.course.feed->set;
            side.capacity = c.car->reserve_capacity();
          } catch (const InputError& error) {
            side.fault = error.what();
          }
          out.push_back(std::move(side));
        }
        return out;
      },
      [this](const std::vector<Side>& sides) { show_sides(sides); });
}

void CompareView::show_sides(const std::vector<Side>& sides) {
  const auto entry = workspace_.lap();
  if (!entry) return;
  table_->setHorizontalHeaderLabels(
      {"Setup", QString("With %1").arg(workspace_.show(workspace_.level(), Quantity::volume, 2)),
       "Least reserve", "Lasts", "Rail margin", "Clean level", "Least start"});
  table_->setRowCount(static_cast<int>(sides.size()));
  Pane reserve{{}, true}, rail{{}, true};
  constexpr Qt::PenStyle styles[] = {Qt::SolidLine, Qt::DashLine, Qt::DotLine, Qt::DashDotLine};
  for (size_t r = 0; r < sides.size(); ++r) {
    const Side& s = sides[r];
    QStringList cells{s.name};
    if (s.run) {
      const auto& run = *s.run;
      cells << (run.clean() ? QString("clean")
                            : QString("▲ %1 events, first %2")
                                  .arg(run.events.size())
                                  .arg(QString::fromStdString(run.events.front().place)))
            << workspace_.show(run.least_reserve, Quantity::volume, 2)
            << (std::isfinite(run.least_seconds) ? workspace_.show(run.least_seconds, Quantity::duration)
                                                 : "not drawn on")
            << workspace_.show(run.least_margin, Quantity::pressure);
      std::vector<double> share = run.reserve, pressure = run.rail;
      for (double& v : share) v /= std::max(s.capacity, 1e-12);
      if (share.size() == entry->value.size()) {
        reserve.traces.push_back({s.name, Quantity::fraction, share, styles[r % 4]});
        rail.traces.push_back({s.name, Quantity::pressure, pressure, styles[r % 4]});
      }
    } else {
      cells << s.fault << ""
            << ""
            << "";
    }
    const auto* v = workspace_.session()
                        ? workspace_.result_of(s.name.toStdString(), workspace_.session()->name)
                        : nullptr;
    cells << (v ? workspace_.show(session::rounded_up(v->lap->clean.level, workspace_.units()),
                                  Quantity::volume)
                : QString("–"))
          << (v ? workspace_.show(session::rounded_up(v->risk.start, workspace_.units()), Quantity::volume)
                : QString("–"));
    for (int c = 0; c < cells.size(); ++c) {
      auto* item = new QTableWidgetItem(cells[c]);
      item->setToolTip(cells[c]);
      table_->setItem(static_cast<int>(r), c, item);
    }
  }
  table_->horizontalHeader()->setSectionResizeMode(QHeaderView::ResizeToContents);
  table_->horizontalHeader()->setSectionResizeMode(1, QHeaderView::Stretch);
  plot_->show_panes(entry->value.distance, {std::move(reserve), std::move(rail)});
}

}  // namespace uadze::gui
