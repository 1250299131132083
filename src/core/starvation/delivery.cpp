#include "core/starvation/delivery.h"

#include "core/circuit/charging.h"

#include <algorithm>

namespace uadze::starvation {
namespace {

/// Values at `from` (rising times) brought to each of `to`.
template <class Get>
std::vector<double> spread(const std::vector<circuit::LoadPoint>& from, const std::vector<double>& to,
                           Get&& get) {
  std::vector<double> out(to.size());
  size_t k = 0;
  for (size_t i = 0; i < to.size(); ++i) {
    while (k + 2 < from.size() && from[k + 1].time <= to[i]) ++k;
    const size_t next = std::min(k + 1, from.size() - 1);
    const double wide = from[next].time - from[k].time;
    const double u = wide > 0 ? std::clamp((to[i] - from[k].time) / wide, 0.0, 1.0) : 0.0;
    out[i] = get(from[k]) * (1 - u) + get(from[next]) * u;
  }
  return out;
}

double mean(const std::vector<double>& values) {
  double sum = 0;
  for (double v : values) sum += v;
  return values.empty() ? 0.0 : sum / static_cast<double>(values.size());
}

/// The case as the last of the laps driven begins: its battery as it is then.
circuit::Case at_last_lap(circuit::Case c, const circuit::LoadTrace& trace, const circuit::LoadRun& first,
                          double driven, Progress* progress) {
  if (first.points.empty() || driven <= 0 || !circuit::has_battery(c.circuit) || c.at.supply) return c;
  if (charge_balance(c, first).drain <= 0) return c;
  // The charge hangs on means: few moments of each lap are enough.
  constexpr size_t few = 120;
  const circuit::LoadRun coarse = circuit::run_along(c, trace, few, progress, false);
  const circuit::ChargeRun charge = circuit::run_charge(c, trace, coarse, driven, progress);
  if (charge.charge.size() > 1)
    c.at.charge = charge.charge[charge.charge.size() - 2] / c.circuit.charging.battery;
  return c;
}

}  // namespace

Delivery constant_delivery(const FuelSystem& car, const std::vector<double>& demand) {
  Delivery out;
  const size_t n = demand.size();
  for (const LiftPump& pump : car.lift_pumps) out.lift.emplace_back(n, pump.flow);
  for (double d : demand) out.main.push_back(std::max(d, car.main_pump_flow));
  out.fed.assign(n, 3e5);
  out.set.assign(n, 3e5);
  return out;
}

circuit::LoadTrace load_trace(const lap::Lap& lap, const std::vector<double>& demand) {
  circuit::LoadTrace out;
  out.time = lap.time;
  out.demand = demand;
  out.throttle = lap.throttle;
  if (out.throttle.empty()) {
    const double most = demand.empty() ? 0.0 : *std::max_element(demand.begin(), demand.end());
    for (double d : demand) out.throttle.push_back(most > 0 ? d / most : 0.0);
  }
  out.rotation = lap.rotation;
  for (size_t i = 0; i < lap.size(); ++i) out.force.push_back(lap.effective_gravity(i));
  return out;
}

Delivery circuit_delivery(const circuit::Case& full, const FuelSystem& car, const lap::Lap& lap,
                          const std::vector<double>& demand, size_t points, Progress* progress,
                          double driven) {
  const circuit::LoadTrace trace = load_trace(lap, demand);
  circuit::LoadRun run = circuit::run_along(full, trace, points, progress, false);
  const circuit::Case c = at_last_lap(full, trace, run, driven, progress);
  if (c.at.charge < full.at.charge) run = circuit::run_along(c, trace, points, progress, false);
  Delivery out = constant_delivery(car, demand);
  out.by_circuit = true;
  out.charge = c.at.charge;
  const double learnt = factor_of(car.calibration, Figure::lift);
  for (size_t l = 0; l < car.lift_pumps.size(); ++l)
    for (size_t k = 0; k < c.circuit.lifts.size(); ++k)
      // Without a surge tank the circuit has no lift legs that run.
      if (c.circuit.lifts[k].pump == car.lift_pumps[l].name && !run.points.empty() &&
          k < run.points.front().lifts.size())
        out.lift[l] = spread(run.points, lap.time, [k, learnt](const circuit::LoadPoint& p) {
          return learnt * std::max(p.lifts[k], 0.0);
        });
  out.main = spread(run.points, lap.time, [](const circuit::LoadPoint& p) { return p.delivered; });
  for (size_t i = 0; i < demand.size(); ++i) out.main[i] = std::max(out.main[i], demand[i]);
  out.fed =
      spread(run.points, lap.time, [](const circuit::LoadPoint& p) { return std::max(p.difference, 0.0); });
  out.set = spread(run.points, lap.time, [](const circuit::LoadPoint& p) { return std::max(p.set, 1.0); });
  out.duty = spread(run.points, lap.time, [](const circuit::LoadPoint& p) { return p.duty; });
  out.faults = circuit::lap_faults(c, run, car.limits.mixture);
  const fluid::Liquid liquid = fluid::liquid(c.fuel, c.at.temperature);
  const circuit::HeatPlace& place = c.circuit.heat;
  // What a line without a return takes up in the engine bay is burnt with it.
  const bool returns = c.circuit.engine_supply != circuit::EngineSupply::returnless &&
                       c.circuit.regulator.kind == circuit::RegulatorKind::bypass;
  out.heat = {.loop = returns ? place.engine_bay : 0.0,
              .burnt = returns ? 0.0 : place.engine_bay,
              .lift = 0,
              .tank_loss = place.tank_loss,
              .surge_loss = place.surge_loss,
              .ambient = place.ambient,
              .heat_capacity = liquid.density * liquid.heat_capacity,
              .surge_inside = c.circuit.surge_inside};
  out.vapour_margin = run.points.empty() ? 0.0 : run.points.front().inlet_margin;
  for (const circuit::LoadPoint& p : run.points) {
    const double share = 1.0 / static_cast<double>(run.points.size());
    out.heat.loop += share * (p.electric - p.demand * std::max(p.difference, 0.0));
    out.heat.lift += share * p.lift_electric;
    out.vapour_margin = std::min(out.vapour_margin, p.inlet_margin);
  }
  return out;
}

FuelSystem with_delivery(FuelSystem car, const Delivery& delivery) {
  for (size_t l = 0; l < car.lift_pumps.size(); ++l) car.lift_pumps[l].flow = mean(delivery.lift[l]);
  car.main_pump_flow = mean(delivery.main);
  return car;
}

}  // namespace uadze::starvation
