#include "core/starvation/fuel_system.h"

#include <algorithm>

namespace uadze::starvation {

std::vector<double> pickup_flows(const FuelSystem& car) {
  const auto of = [&](const std::string& target) {
    if (target == "engine") return car.surge ? 0.0 : car.main_pump_flow;
    for (const LiftPump& pump : car.lift_pumps)
      if (pump.name == target) return pump.flow;
    return 0.0;
  };
  std::vector<double> out;
  for (const tank::Pickup& p : car.pickups) {
    double sharing = 0;
    for (const tank::Pickup& other : car.pickups) sharing += other.feeds == p.feeds;
    out.push_back(of(p.feeds) / sharing);
  }
  return out;
}

double compliance_of(const FuelSystem& car) {
  if (car.limits.compliance > 0) return car.limits.compliance;
  return std::max(car.line_hold, 0.05e-3) * (1 / 0.13e9 + 1 / 1.3e9);
}

slosh::MotionOptions motion_options(const FuelSystem& car, bool repeated) {
  slosh::MotionOptions out;
  out.model = car.model;
  out.start = repeated ? slosh::Start::settled : slosh::Start::level;
  out.tank = car.motion;
  out.tank.flow.density = car.fuel_density;
  out.inertia = car.inertia.get();
  out.circulation = {pickup_flows(car), car.return_space, car.submergence_scale};
  return out;
}

std::vector<double> engine_demand(const FuelSystem& car, const lap::Lap& lap) {
  std::vector<double> out(lap.size());
  const Engine& engine = car.engine;
  if (engine.demand == DemandFrom::logged_flow && lap.has_flow()) {
    const bool by_mass = lap.fuel_flow.empty();
    for (size_t i = 0; i < out.size(); ++i)
      out[i] = (by_mass ? lap.fuel_mass_flow[i] / car.logged_density : lap.fuel_flow[i]) * engine.flow_scale;
    return out;
  }
  if (lap.throttle.empty())
    throw InputError(Message{.file = {},
                             .place = "lap",
                             .expected = "a column fuel_flow or throttle, to know what the engine burns",
                             .found = "neither"});
  if (!(engine.power > 0) || !(engine.consumption > 0))
    throw InputError(
        Message{.file = {},
                .place = "engine",
                .expected = "power and specific consumption above zero, as the lap has no fuel_flow",
                .found = "zero"});
  const double full = engine.power * engine.consumption / car.fuel_density;
  for (size_t i = 0; i < out.size(); ++i) out[i] = std::max(engine.idle_flow, lap.throttle[i] * full);
  return out;
}

double consumption_per_lap(const std::vector<double>& demand, const lap::Lap& lap) {
  double sum = 0;
  for (size_t i = 0; i + 1 < demand.size(); ++i)
    sum += (demand[i] + demand[i + 1]) / 2 * (lap.time[i + 1] - lap.time[i]);
  return sum;
}

}  // namespace uadze::starvation
