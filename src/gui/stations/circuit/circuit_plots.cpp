#include "gui/stations/circuit/circuit_plots.h"

#include <qcustomplot.h>

#include <QHBoxLayout>
#include <QHeaderView>
#include <QLabel>
#include <QScrollArea>
#include <QTableWidget>
#include <cmath>
#include <optional>

#include "core/solve/circuit_point.h"
#include "gui/stations/circuit/circuit_pictures.h"
#include "gui/widgets/filling.h"
#include "gui/widgets/plot.h"
#include "gui/widgets/quantity_plot.h"

namespace uadze::gui {
namespace {

QVector<double> in_unit(const std::vector<double>& si, const Unit& unit) {
  QVector<double> out;
  for (double v : si) out << unit.from_si(v);
  return out;
}

QString unit_name(const Unit& unit) {
  return QString::fromUtf8(unit.name.data(), static_cast<int>(unit.name.size()));
}

PlotFigures::PowerLines power_lines(const PlotInputs::Side& side, double most_power) {
  PlotFigures::PowerLines out;
  for (int k = 0; k <= 40; ++k) {
    out.power.push_back(most_power * k / 40);
    out.required.push_back(solve::demand_at(side.setup, out.power.back(), side.at.at.temperature));
  }
  // Without a consumption nothing is asked for: what could be given still shows.
  const auto points =
      side.setup.engine.consumption > 0
          ? solve::power_sweep(side.setup, side.at, out.power, side.manifold_follows)
          : circuit::sweep(side.at, out.power, std::vector<circuit::SweepLoad>(out.power.size()));
  for (const auto& p : points) out.available.push_back(p.available), out.lifted.push_back(p.lift);
  return out;
}

}  // namespace

CircuitPlots::CircuitPlots(Workspace& workspace, CircuitBench& bench, QWidget* parent)
    : QTabWidget(parent), workspace_(workspace), bench_(bench) {
  setDocumentMode(true);
  setObjectName("circuit tabs");
  power_ = make_plot("Available and required flow along power");
  addTab(power_, "Power");
  pumps_ = make_plot("Pump on its curve");
  addTab(pumps_, "Pump");
  addTab(budget_ = new BudgetView(workspace, bench), "Budget");
  wiring_ = new WiringView(workspace, bench);
  auto* scroll = new QScrollArea;
  scroll->setWidget(wiring_);
  scroll->setWidgetResizable(true);
  scroll->setFrameShape(QFrame::NoFrame);
  addTab(scroll, "Wiring");
  gauge_ = make_table("Gauge card", {"With", "Manifold", "Gauge should read", "It reads",
                                     "Nothing going back", "Across injectors", "Regulator"});
  addTab(gauge_, "Gauge card");
  lines_ = make_table("Line sizes", {"Leg", "Hose", "Size", "Velocity", "Loss", "Limits", "Advice"});
  addTab(lines_, "Lines");
  lap_ = new LapPlot(workspace);
  addTab(lap_, "Lap");
  auto* page = new QWidget;
  auto* row = new QHBoxLayout(page);
  row->setContentsMargins(0, 0, 0, 0);
  row->setSpacing(0);
  heat_ = make_plot("Temperatures over the session");
  heat_text_ = new QLabel;
  heat_text_->setWordWrap(true);
  heat_text_->setContentsMargins(8, 4, 8, 4);
  heat_text_->setAlignment(Qt::AlignLeft | Qt::AlignTop);
  heat_text_->setObjectName("heat and charge");
  // Beside the plot and scrolled, so that a longer sentence takes no leg from the circuit's picture.
  auto* words = new QScrollArea;
  words->setWidget(heat_text_);
  words->setWidgetResizable(true);
  words->setFrameShape(QFrame::NoFrame);
  words->setFixedWidth(320);
  row->addWidget(heat_, 1);
  row->addWidget(words);
  addTab(page, "Session");
  connect(&bench_, &CircuitBench::changed, this, [this] {
    if (isVisible()) refresh();
  });
  connect(&bench_, &CircuitBench::session_changed, this, [this] {
    if (isVisible()) refresh();
  });
  connect(this, &QTabWidget::currentChanged, this, [this] { refresh(); });
}

QCustomPlot* CircuitPlots::make_plot(const QString& name) { return gui::make_plot(name); }

void CircuitPlots::style(QCustomPlot* plot, const QString& x, const QString& y) {
  style_plot(plot, workspace_.theme(), x, y);
}

QTableWidget* CircuitPlots::make_table(const QString& name, const QStringList& header) {
  auto* table = new QTableWidget(0, static_cast<int>(header.size()));
  table->setAccessibleName(name);
  table->setObjectName(name);
  table->setHorizontalHeaderLabels(header);
  table->verticalHeader()->hide();
  table->verticalHeader()->setDefaultSectionSize(22);
  table->setEditTriggers(QAbstractItemView::NoEditTriggers);
  table->horizontalHeader()->setSectionResizeMode(QHeaderView::ResizeToContents);
  table->horizontalHeader()->setStretchLastSection(true);
  return table;
}

void CircuitPlots::show_pump(int pump) {
  pump_ = pump;
  if (isVisible()) refresh();
}

void CircuitPlots::refresh() {
  figures_.cancel();
  if (!bench_.state()) return show_nothing();
  const QWidget* page = currentWidget();
  if (page == lap_) lap_page();
  if (page->isAncestorOf(heat_)) heat_page();
  const bool power = page == power_, pumps = page == pumps_, gauge = page == gauge_, lines = page == lines_;
  if (!power && !pumps && !gauge && !lines) return;
  PlotInputs in;
  in.sides.push_back({*workspace_.setup(), *bench_.point(), *bench_.state(), bench_.manifold_follows()});
  if (bench_.other_point())
    in.sides.push_back({workspace_.project().setups[static_cast<size_t>(bench_.compared())],
                        *bench_.other_point(), *bench_.other_state(), bench_.manifold_follows()});
  in.most_power = bench_.most_power();
  const auto& all = bench_.state()->pumps;
  if (pump_ >= 0 && pump_ < static_cast<int>(all.size()))
    in.pump = static_cast<size_t>(pump_);
  else
    for (size_t i = all.size(); i-- > 0;)
      if (all[i].leg.kind == circuit::LegKind::main) in.pump = i;
  figures_.start(
      this,
      [=, in = std::move(in)](Progress& progress) mutable {
        PlotFigures out{.of = std::move(in), .power = {}, .pumps = {}, .gauge = {}, .lines = {}};
        const PlotInputs::Side& own = out.of.sides.front();
        for (const auto& side : out.of.sides) {
          progress.check();
          if (power) out.power.push_back(power_lines(side, out.of.most_power));
          if (pumps && out.of.pump < side.state.pumps.size())
            out.pumps.push_back(curves_of(side.at, side.state, out.of.pump));
        }
        if (gauge)
          out.gauge = gauge_card(own.at, own.setup.engine.idle_flow,
                                 solve::demand_at(own.setup, own.setup.engine.power, own.at.at.temperature));
        if (lines) out.lines = line_choices(own.at, own.state);
        return out;
      },
      [this](const PlotFigures& figures) { show_figures(figures); },
      [this](const QString& why) { emit workspace_.runs.failed("The circuit's curves: " + why); });
}

void CircuitPlots::show_nothing() {
  for (QCustomPlot* plot : {power_, pumps_, heat_}) {
    style(plot, {}, {});
    plot->legend->setVisible(false);
    for (QCPAxis* axis : {plot->xAxis, plot->yAxis}) axis->setVisible(false);
    plot->replot(QCustomPlot::rpQueuedReplot);
  }
  for (QTableWidget* table : {gauge_, lines_}) table->setRowCount(0);
  heat_text_->clear();
  lap_->show_panes({}, {});
}

void CircuitPlots::show_figures(const PlotFigures& figures) {
  const QWidget* page = currentWidget();
  if (page == power_) power_page(figures);
  if (page == pumps_) pump_page(figures);
  if (page == gauge_) gauge_page(figures.gauge);
  if (page == lines_) lines_page(figures);
}

void CircuitPlots::power_page(const PlotFigures& figures) {
  const Theme& t = workspace_.theme();
  const Unit flow = shown_unit(Quantity::flow, workspace_.units()),
             power = shown_unit(Quantity::power, workspace_.units());
  style(power_, "power, " + unit_name(power), "flow, " + unit_name(flow));
  double top = 0;
  for (size_t i = 0; i < figures.power.size(); ++i) {
    const bool first = i == 0;
    const auto& lines = figures.power[i];
    const auto& side = figures.of.sides[i];
    for (size_t k = 0; k < lines.power.size(); ++k)
      top = std::max({top, lines.required[k], lines.available[k]});
    const auto graph = [&](const QString& name, const std::vector<double>& y, const QPen& pen) {
      QCPGraph* g = power_->addGraph();
      g->setName(first ? name : name + ", " + QString::fromStdString(side.setup.name));
      g->setPen(pen);
      g->setData(in_unit(lines.power, power), in_unit(y, flow));
    };
    graph("required", lines.required, QPen(first ? t.ink : t.faint, 2, first ? Qt::SolidLine : Qt::DashLine));
    graph("available at set pressure", lines.available,
          QPen(t.covered, 2, first ? Qt::SolidLine : Qt::DashLine));
    if (side.at.surroundings.surge)
      graph("lifted", lines.lifted, QPen(t.dry, 2, first ? Qt::DashDotLine : Qt::DotLine));
  }
  // Where it stands now.
  QCPGraph* now = power_->addGraph();
  now->setName("this point");
  now->setLineStyle(QCPGraph::lsNone);
  now->setScatterStyle(QCPScatterStyle(QCPScatterStyle::ssDiamond, QPen(t.ink, 1.4), t.paper, 10));
  const PlotInputs::Side& own = figures.of.sides.front();
  const double demand = own.at.at.demand;
  now->addData(power.from_si(solve::power_at(own.setup, demand, own.at.at.temperature)),
               flow.from_si(demand));
  power_->xAxis->setRange(0, power.from_si(figures.of.most_power));
  power_->yAxis->setRange(0, flow.from_si(top) * 1.1);
  power_->replot(QCustomPlot::rpQueuedReplot);
}

void CircuitPlots::pump_page(const PlotFigures& figures) {
  const Theme& t = workspace_.theme();
  const Unit flow = shown_unit(Quantity::flow, workspace_.units()),
             pressure = shown_unit(Quantity::pressure, workspace_.units());
  style(pumps_, "flow, " + unit_name(flow), "rise, " + unit_name(pressure));
  if (figures.pumps.empty()) return pumps_->replot(), void();
  for (size_t i = 0; i < figures.pumps.size(); ++i) {
    const bool first = i == 0;
    const auto& curves = figures.pumps[i];
    const circuit::PumpState& pump = figures.of.sides[i].state.pumps[figures.of.pump];
    const auto curve = [&](const QString& name, const std::vector<double>& rise, const QPen& pen) {
      auto* line = new QCPCurve(pumps_->xAxis, pumps_->yAxis);
      line->setName(first ? name : name + ", compared");
      line->setPen(pen);
      line->setData(in_unit(curves.flow, flow), in_unit(rise, pressure));
    };
    curve(QString::fromStdString(pump.name) + " at " + workspace_.show(pump.voltage, Quantity::voltage),
          curves.rise, QPen(t.covered, 2, first ? Qt::SolidLine : Qt::DashLine));
    if (pump.on)
      curve("its leg asks for", curves.system, QPen(t.ink, 1.6, first ? Qt::DashDotLine : Qt::DotLine));
    auto* point = pumps_->addGraph();
    point->setName(first ? "where it works" : "compared");
    point->setLineStyle(QCPGraph::lsNone);
    point->setScatterStyle(QCPScatterStyle(first ? QCPScatterStyle::ssDiamond : QCPScatterStyle::ssCross,
                                           QPen(t.ink, 1.4), t.paper, 10));
    point->addData(flow.from_si(pump.flow), pressure.from_si(pump.rise));
  }
  pumps_->rescaleAxes();
  pumps_->xAxis->setRangeLower(0);
  pumps_->xAxis->setRangeUpper(pumps_->xAxis->range().upper * 1.25);
  pumps_->yAxis->setRange(0, pumps_->yAxis->range().upper * 1.1);
  pumps_->replot(QCustomPlot::rpQueuedReplot);
}

void CircuitPlots::gauge_page(const std::vector<circuit::GaugeRow>& rows) {
  gauge_->setRowCount(static_cast<int>(rows.size()));
  const Filling quiet(gauge_);
  for (size_t i = 0; i < rows.size(); ++i) {
    const auto& r = rows[i];
    static const char* const modes[] = {"none", "regulates", "starved", "overwhelmed by its return"};
    const auto p = [&](double v) { return workspace_.show(v, Quantity::pressure); };
    const QStringList cells{QString::fromStdString(r.condition),
                            p(r.manifold),
                            p(r.wished),
                            p(r.reads),
                            r.shut ? p(*r.shut) : QString("nothing is held"),
                            r.shut ? p(r.difference) : QString("-"),
                            modes[static_cast<size_t>(r.mode)]};
    for (int k = 0; k < cells.size(); ++k) {
      auto* item = new QTableWidgetItem(cells[k]);
      if (k > 0 && k < 6)
        item->setFont(figure_font(0.9)), item->setTextAlignment(Qt::AlignRight | Qt::AlignVCenter);
      gauge_->setItem(static_cast<int>(i), k, item);
    }
  }
}

void CircuitPlots::lines_page(const PlotFigures& figures) {
  const circuit::Circuit& circuit = figures.of.sides.front().at.circuit;
  int row = 0;
  lines_->setRowCount(0);
  const auto& units = workspace_.units();
  for (const auto& c : figures.lines)
    for (size_t i = 0; i < c.sizes.size(); ++i) {
      const auto& z = c.sizes[i];
      // The fitted size with its neighbours and the advised one say all that is asked.
      const bool near = (i + 1 < c.sizes.size() && c.sizes[i + 1].fitted) || (i > 0 && c.sizes[i - 1].fitted);
      if (!z.fitted && !near && z.dash != c.advised) continue;
      QStringList advice;
      if (z.fitted) advice << "fitted";
      if (z.dash == c.advised)
        advice << QString("serves; one more saves %1").arg(workspace_.show(c.bought, Quantity::pressure));
      if (z.fitted && c.larger_gain > 1e-8)
        advice << QString("one size up: %1 more").arg(workspace_.show(c.larger_gain, Quantity::flow));
      const QStringList cells{QString::fromStdString(c.leg.title(circuit)),
                              QString::fromStdString(c.hose),
                              QString("-%1, %2").arg(z.dash).arg(workspace_.show(z.bore, Quantity::length)),
                              workspace_.show(z.velocity, Quantity::velocity),
                              QString::fromStdString(format(z.loss, Quantity::pressure, units, 3)),
                              z.meets                          ? "within"
                              : z.velocity > c.limits.velocity ? "too fast"
                                                               : "too much loss",
                              advice.join("; ")};
      lines_->insertRow(row);
      for (int k = 0; k < cells.size(); ++k) {
        auto* item = new QTableWidgetItem(cells[k]);
        if (z.fitted) item->setFont(text_font(1.0, true));
        if (k == 5)
          item->setToolTip(QString("limits: %1 and %2")
                               .arg(workspace_.show(c.limits.velocity, Quantity::velocity),
                                    workspace_.show(c.limits.loss, Quantity::pressure)));
        if (k == 6) item->setToolTip(cells[k]);
        if (k >= 2 && k <= 4) item->setFont(figure_font(0.9, z.fitted));
        lines_->setItem(row, k, item);
      }
      ++row;
    }
}

void CircuitPlots::lap_page() {
  bench_.want_session();
  const auto* s = bench_.session();
  const auto entry = workspace_.runs.lap();
  if (!s || !entry || s->lap.points.empty()) {
    lap_->show_panes({}, {});
    return;
  }
  // The run is thinned; the plot and its cursor go by the lap's own samples.
  std::vector<double> difference, available, demand;
  size_t at = 0;
  const auto& points = s->lap.points;
  for (double time : entry->value.time) {
    while (at + 1 < points.size() && points[at + 1].time <= time) ++at;
    difference.push_back(points[at].difference);
    available.push_back(points[at].available);
    demand.push_back(points[at].demand);
  }
  lap_->show_panes(
      entry->value.distance,
      {{{{"required", Quantity::flow, demand}, {"available", Quantity::flow, available, Qt::DashLine}}, true},
       {{{"across the injectors", Quantity::pressure, difference}}, false}});
}

void CircuitPlots::heat_page() {
  bench_.want_session();
  const Theme& t = workspace_.theme();
  const auto* s = bench_.session();
  const Unit temperature = shown_unit(Quantity::temperature, workspace_.units());
  style(heat_, "time, min", unit_name(temperature));
  if (!s) {
    heat_text_->setText("Computing a lap and the session…");
    heat_->replot();
    return;
  }
  const auto graph = [&](const QString& name, const std::vector<double>& y, const QPen& pen) {
    QCPGraph* g = heat_->addGraph();
    g->setName(name);
    g->setPen(pen);
    QVector<double> minutes;
    for (double x : s->heat.time) minutes << x / 60;
    g->setData(minutes, in_unit(y, temperature), true);
  };
  graph("rail", s->heat.rail, QPen(t.trouble, 1.8));
  if (bench_.point()->surroundings.surge)
    graph("surge tank", s->heat.surge, QPen(t.covered, 1.8, Qt::DashLine));
  graph("main tank", s->heat.tank, QPen(t.ink, 1.8, Qt::DashDotLine));
  heat_->rescaleAxes();
  heat_->yAxis->scaleRange(1.15);
  heat_->replot(QCustomPlot::rpQueuedReplot);
  const auto& w = workspace_;
  QString text =
      QString(
          "After %1 min the rail is at %2 and the fuel at the pump %3 over its vapour pressure; the "
          "circuit then gives %4. The rail's fuel is %5 % less dense. ")
          .arg(s->duration / 60, 0, 'f', 0)
          .arg(w.show(s->heat.rail.back(), Quantity::temperature),
               w.show(s->heat.end_margin, Quantity::pressure), w.show(s->heat.end_available, Quantity::flow))
          .arg(-100 * s->heat.density_change, 0, 'f', 1);
  if (const auto& lap = workspace_.runs.evaluator.result().lap)
    for (const auto& fault : lap->course.delivery->faults)
      text += QString("<b>▲ %1</b> %2 Worst %3. ")
                  .arg(fault.severity == Severity::error ? "The circuit's own fault." : "Circuit.",
                       QString::fromStdString(fault.text.in(w.units())).toHtmlEscaped(),
                       QString::fromStdString(starvation::worst_place(lap->course, fault)).toHtmlEscaped());
  const auto& mains = bench_.point()->circuit.mains;
  const bool staged = std::any_of(mains.begin(), mains.end(),
                                  [](const auto& m) { return m.stage.by != circuit::StageBy::always; });
  if (staged) {
    text += QString("Staging saves %1 (%2 instead of %3) and %4 K in the rail; %5 switches a lap")
                .arg(w.show(s->always_electric - s->lap.mean_electric, Quantity::heat_flow),
                     w.show(s->lap.mean_electric, Quantity::heat_flow),
                     w.show(s->always_electric, Quantity::heat_flow))
                .arg(s->heat_always.rail.back() - s->heat.rail.back(), 0, 'f', 1)
                .arg(s->lap.switches);
    if (!s->lap.dips.empty()) {
      const auto worst =
          std::max_element(s->lap.dips.begin(), s->lap.dips.end(),
                           [](const auto& a, const auto& b) { return a.short_of < b.short_of; });
      text += QString(", the deepest dip while a pump spins up %1. ")
                  .arg(w.show(worst->short_of, Quantity::pressure));
    } else {
      text += ", none with a dip. ";
    }
  }
  text += QString("Electric load %1, alternator %2 on the mean: ")
              .arg(w.show(s->charge.mean_load, Quantity::current),
                   w.show(s->charge.mean_output, Quantity::current));
  text +=
      std::isfinite(s->charge.empty_after)
          ? QString("<b>▲ the battery is empty after %1 min.</b>").arg(s->charge.empty_after / 60, 0, 'f', 0)
          : QString("%1 left in the battery at the end.")
                .arg(w.show(s->charge.charge.back(), Quantity::charge));
  if (circuit::has_battery(bench_.point()->circuit))
    text += QString(" Lowest voltage %1; in the last lap %2 of %3 across the injectors at the least.")
                .arg(w.show(s->charge.least_voltage, Quantity::voltage),
                     w.show(s->charge.last.least_difference, Quantity::pressure),
                     w.show(s->charge.last.set_difference, Quantity::pressure));
  heat_text_->setText(text);
}

}  // namespace uadze::gui
