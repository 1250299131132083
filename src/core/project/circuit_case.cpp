#include "core/project/circuit_case.h"

#include <algorithm>

#include "core/starvation/feed.h"

namespace uadze::project {

double demand_at(const Setup& setup, double power) {
  return power * setup.engine.consumption / fluid::density(setup.fuel) * demand_factor(setup);
}

double power_at(const Setup& setup, double demand) {
  const double one = demand_at(setup, 1.0);
  return one > 0 ? demand / one : 0.0;
}

Derivation demand_working(const Setup& setup, double power) {
  Derivation out{.name = "Demand at this power",
                 .value = demand_at(setup, power),
                 .quantity = Quantity::flow,
                 .formula = "Q = P b / rho x k",
                 .inputs = {{"P", "brake power", power, Quantity::power, "operating point"},
                            {"b", "brake specific consumption", setup.engine.consumption,
                             Quantity::consumption, "entered"},
                            {"rho", "density", fluid::density(setup.fuel), Quantity::density, "computed"},
                            {"k", "measured content against the entered one", demand_factor(setup),
                             Quantity::plain, setup.tube ? "water shift" : "none measured"}},
                 .source = "mass balance"};
  if (setup.tube) out.steps.push_back(fluid::water_shift_working(*setup.tube));
  out.steps.push_back(fluid::flow_factor_working(fuel_of(setup)));
  return out;
}

circuit::Case circuit_case(const Project& project, const Setup& setup) {
  if (!setup.circuit)
    throw InputError(Message{
        .file = setup.name, .place = "circuit", .expected = "a circuit in this setup", .found = "none"});
  circuit::Case c{.circuit = *setup.circuit,
                  .surroundings = surroundings_of(setup),
                  .fuel = fuel_of(setup),
                  .catalogue = project.catalogue,
                  .at = {}};
  c.at.demand = demand_at(setup, setup.engine.power);
  c.at.manifold = c.circuit.full_manifold;
  c.at.temperature = c.fuel.temperature;
  return c;
}

void place_level(circuit::Case& c, const Setup& setup, TankStore& tanks, double level) {
  const auto assembly = tanks.assembled(setup.tank);
  const tank::Tank& tank = assembly->tank;
  c.surroundings.tank_volume = tank.volume();
  c.at.level = tank.volume() > 0 ? std::clamp(level / tank.volume(), 0.0, 1.0) : 0.0;
  c.at.pickup_depth.assign(setup.tank.pickups.size(), 0.0);
  if (c.at.force.norm() < slosh::weightless || tank.volume() <= 0) return;
  slosh::FuelMotion fuel(tank, setup.tank.pickups, std::min(level, tank.volume()),
                         {.model = slosh::Model::settled});
  fuel.move(c.at.force, 0.0);
  for (size_t p = 0; p < setup.tank.pickups.size(); ++p) c.at.pickup_depth[p] = fuel.depth(p);
}

circuit::Course circuit_course(const starvation::FuelSystem& car, const lap::Lap& lap) {
  return starvation::circuit_course(lap, starvation::engine_demand(car, lap));
}

}  // namespace uadze::project
