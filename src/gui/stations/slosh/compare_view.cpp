#include "gui/stations/slosh/compare_view.h"

#include <QHeaderView>
#include <QLabel>
#include <QTableWidget>
#include <QVBoxLayout>
#include <cmath>
#include <optional>

#include "gui/widgets/filling.h"
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
          [this](int row, int) { workspace_.selection.choose_setup(row); });
  for (auto signal : {&Workspace::changed, &Workspace::level_changed})
    connect(&workspace_, signal, this, [this] {
      if (isVisible()) refresh();
    });
}

void CompareView::refresh() {
  const auto* reference = workspace_.selection.lap_reference();
  const auto* session = workspace_.selection.session();
  if (!reference) {
    table_->setRowCount(0);
    plot_->show_panes({}, {});
    return;
  }
  const double level = workspace_.runs.level();
  const std::string name = session ? session->name : "", lap = session ? "" : reference->name;
  runs_.start(
      this,
      [project = workspace_.project(), sources = workspace_.document.sources(), level, name,
       lap](Progress& progress) {
        std::vector<Side> out;
        for (const auto& setup : project.setups) {
          progress.check();
          Side side;
          side.name = QString::fromStdString(setup.name);
          try {
            const double most = sources->tanks.assembled(setup.tank)->tank.volume();
            side.result = solve::run(project, {.setup = setup.name, .lap = lap, .session = name},
                                     {.level = std::min(level, most), .points = 400}, *sources, &progress);
          } catch (const InputError& error) {
            side.fault = error.what();
          }
          out.push_back(std::move(side));
        }
        return out;
      },
      [this](const std::vector<Side>& sides) { show_sides(sides); },
      [this](const QString& why) { show_sides({Side{.name = "all", .fault = why}}); });
}

void CompareView::show_sides(const std::vector<Side>& sides) {
  const auto entry = workspace_.runs.lap();
  if (!entry) return;
  table_->setHorizontalHeaderLabels(
      {"Setup", QString("With %1").arg(workspace_.show(workspace_.runs.level(), Quantity::volume, 2)),
       "Least reserve", "Lasts", "Rail margin", "Clean level", "Least start"});
  table_->setRowCount(static_cast<int>(sides.size()));
  std::optional<Filling> quiet(table_);
  Pane reserve{{}, true}, rail{{}, true};
  constexpr Qt::PenStyle styles[] = {Qt::SolidLine, Qt::DashLine, Qt::DotLine, Qt::DashDotLine};
  for (size_t r = 0; r < sides.size(); ++r) {
    const Side& s = sides[r];
    QStringList cells{s.name};
    if (s.result) {
      const auto& run = s.result->run;
      cells << (run.clean() ? QString("clean")
                            : QString("▲ %1 events, first %2")
                                  .arg(run.events.size())
                                  .arg(QString::fromStdString(lap::in_words(run.events.front().place))))
            << workspace_.show(run.least_reserve, Quantity::volume, 2)
            << (std::isfinite(run.least_seconds) ? workspace_.show(run.least_seconds, Quantity::duration)
                                                 : "not drawn on")
            << (std::isfinite(run.least_margin) ? workspace_.show(run.least_margin, Quantity::pressure)
                                                : "–");
      std::vector<double> share = run.reserve, pressure = run.rail;
      for (double& v : share) v /= std::max(s.result->ready->car->reserve_capacity(), 1e-12);
      if (s.result->ready->lap == entry) {
        reserve.traces.push_back({s.name, Quantity::fraction, share, styles[r % 4]});
        rail.traces.push_back({s.name, Quantity::pressure, pressure, styles[r % 4]});
      }
    } else {
      cells << s.fault << ""
            << ""
            << "";
    }
    const auto* v =
        workspace_.selection.session()
            ? workspace_.runs.result_of(s.name.toStdString(), workspace_.selection.session()->name)
            : nullptr;
    const auto told = [&](bool exists, double volume) {
      return exists ? workspace_.show(session::rounded_up(volume, workspace_.units()), Quantity::volume)
                    : QString("▲ none");
    };
    cells << (v ? told(v->lap->clean.exists, v->lap->clean.level) : QString("–"))
          // More than may be filled is marked, as in the plan.
          << (v ? (v->possible() && !v->risk.fits ? "▲ " : "") + told(v->possible(), v->risk.start)
                : QString("–"));
    for (int c = 0; c < cells.size(); ++c) {
      auto* item = new QTableWidgetItem(cells[c]);
      item->setToolTip(cells[c]);
      table_->setItem(static_cast<int>(r), c, item);
    }
  }
  quiet.reset();
  table_->horizontalHeader()->setSectionResizeMode(QHeaderView::ResizeToContents);
  table_->horizontalHeader()->setSectionResizeMode(1, QHeaderView::Stretch);
  plot_->show_panes(entry->value.distance, {std::move(reserve), std::move(rail)});
}

}  // namespace uadze::gui
