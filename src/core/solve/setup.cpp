#include "core/solve/setup.h"

#include <cmath>
#include <numbers>

#include "core/project/catalogue_file.h"

namespace uadze::solve {
namespace {

/// What of the entered line and filter is filter: all that the circuit's lines do not hold, and a quarter at
/// least; without a circuit's lines half.
double filter_hold(const project::Setup& setup, const circuit::Catalogue& catalogue) {
  double lines = 0;
  if (setup.circuit) {
    const auto add = [&](const circuit::Leg& leg) {
      for (size_t i = 0; i < leg.size(); ++i)
        if (leg[i].kind == circuit::PartKind::line)
          lines += std::numbers::pi / 4 * std::pow(circuit::bore_of(leg, i, catalogue), 2) * leg[i].length;
    };
    if (!setup.circuit->mains.empty()) add(setup.circuit->mains.front().parts);
    add(setup.circuit->feed);
  }
  if (lines <= 0) return setup.line_hold / 2;
  return std::max(setup.line_hold - lines, setup.line_hold / 4);
}

}  // namespace

Conditions conditions_of(const session::Session& session) { return {session.grip, session.temperature}; }

project::Setup conditioned(project::Setup setup, const Conditions& conditions) {
  if (conditions.temperature) setup.fuel.temperature = *conditions.temperature;
  return setup;
}

fluid::Blend fuel_of(const project::Setup& setup) {
  fluid::Blend out = setup.fuel;
  if (setup.tube) out.ethanol = fluid::water_shift_content(*setup.tube).middle;
  return out;
}

double demand_factor(const project::Setup& setup) {
  return fluid::flow_factor(fuel_of(setup)) / fluid::flow_factor(setup.fuel);
}

circuit::Surroundings surroundings_of(const project::Setup& setup, double tank_volume) {
  circuit::Surroundings out;
  out.surge = setup.surge.has_value();
  if (setup.surge) {
    out.surge_volume = setup.surge->volume;
    out.return_to = setup.surge->engine_return;
  }
  for (const auto& p : setup.tank.pickups) out.pickups.push_back({p.name, p.feeds});
  out.tank_volume = tank_volume;
  return out;
}

starvation::FuelSystem compile(const project::Setup& setup, Sources& sources,
                               const circuit::Catalogue* catalogue, bool wait) {
  const auto assembly = sources.tanks.assembled(setup.tank);
  const std::shared_ptr<const tank::Tank> tank(assembly, &assembly->tank);
  int back = 0;
  if (!tank->return_space.empty()) {
    back = tank->return_space.front();
  } else {
    for (size_t i = 0; i < tank->spaces.size(); ++i)
      if (tank->spaces[i].volume() > tank->spaces[static_cast<size_t>(back)].volume())
        back = static_cast<int>(i);
  }
  const fluid::Blend fuel = fuel_of(setup);
  const double density = fluid::density(fuel), factor = demand_factor(setup);
  starvation::Engine engine = setup.engine;
  engine.flow_scale *= factor;
  engine.idle_flow *= factor;
  engine.consumption *= factor * density / fluid::density(setup.fuel);
  return {.tank = tank,
          .inertia = sources.tanks.inertia(*tank, wait),
          .pickups = setup.tank.pickups,
          .return_space = std::max(back, 0),
          .lift_pumps = setup.lift_pumps,
          .surge = setup.surge,
          .main_pump_flow = setup.main_pump_flow,
          .line_hold = setup.line_hold,
          .filter_hold = filter_hold(setup, catalogue ? *catalogue : *project::shipped_catalogue()),
          .engine = engine,
          .limits = setup.limits,
          .fuel_density = density,
          .logged_density = fluid::density(setup.fuel)};
}

}  // namespace uadze::solve
