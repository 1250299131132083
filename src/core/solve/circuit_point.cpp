#include "core/solve/circuit_point.h"

#include <algorithm>

#include "core/circuit/charging.h"
#include "core/solve/run.h"

#include <algorithm>

#include "core/slosh/motion.h"
#include "core/solve/setup.h"

namespace uadze::solve {

using project::Setup;

double demand_at(const Setup& setup, double power, std::optional<double> temperature) {
  if (temperature) return demand_at(conditioned(setup, {.grip = 1.0, .temperature = temperature}), power);
  return power * setup.engine.consumption / fluid::density(figure_mixture(setup).fuel) * demand_factor(setup);
}

double power_at(const Setup& setup, double demand, std::optional<double> temperature) {
  const double one = demand_at(setup, 1.0, temperature);
  return one > 0 ? demand / one : 0.0;
}

Derivation demand_working(const Setup& setup, double power) {
  Derivation out{.name = "Demand at this power",
                 .value = demand_at(setup, power),
                 .quantity = Quantity::flow,
                 .formula = "Q = P b / rho_f x k",
                 .inputs = {{"P", "brake power", power, Quantity::power, "operating point"},
                            {"b", "brake specific consumption", setup.engine.consumption,
                             Quantity::consumption, "entered"},
                            {"rho_f", "density of the figure's fuel",
                             fluid::density(figure_mixture(setup).fuel), Quantity::density, "computed"},
                            {"k", "this fuel against the figure's, at the same air", demand_factor(setup),
                             Quantity::plain,
                             setup.tube                ? "water shift"
                             : setup.engine.figures_of ? "entered"
                                                       : "the same fuel"}},
                 .source = "mass balance"};
  if (setup.tube) out.steps.push_back(fluid::water_shift_working(*setup.tube));
  out.steps.push_back(demand_factor_working(setup));
  return out;
}

circuit::Case circuit_case(const Setup& setup, std::shared_ptr<const circuit::Catalogue> catalogue) {
  if (!setup.circuit)
    throw InputError(Message{
        .file = "setup \"" + setup.name + "\"", .place = "circuit", .expected = "a circuit in this setup", .found = "none"});
  circuit::Case c{.circuit = *setup.circuit,
                  .surroundings = surroundings_of(setup),
                  .fuel = fuel_of(setup),
                  .catalogue = std::move(catalogue),
                  .at = {},
                  .pressure_corrected = setup.limits.mixture.corrected};
  c.at.demand = demand_at(setup, setup.engine.power);
  c.at.manifold = c.circuit.full_manifold;
  c.at.temperature = c.fuel.temperature;
  return c;
}

std::vector<double> place_level(circuit::Case& c, const Setup& setup, const tank::Tank& tank, double level) {
  c.surroundings.tank_volume = tank.volume();
  c.at.level = tank.volume() > 0 ? std::clamp(level / tank.volume(), 0.0, 1.0) : 0.0;
  c.at.pickup_depth.assign(setup.tank.pickups.size(), 0.0);
  std::vector<double> wet(setup.tank.pickups.size(), 1.0);
  if (c.at.force.norm() < slosh::weightless || tank.volume() <= 0) return wet;
  slosh::FuelMotion fuel(tank, setup.tank.pickups, std::min(level, tank.volume()),
                         {.model = slosh::Model::settled});
  fuel.move(c.at.force, 0.0);
  for (size_t p = 0; p < setup.tank.pickups.size(); ++p) {
    c.at.pickup_depth[p] = fuel.depth(p);
    wet[p] = fuel.drawn(p, 0.0);
  }
  return wet;
}

CircuitPoint circuit_point_case(const project::Project& project, const Case& wanted, const PointOptions& o,
                                Sources& sources) {
  // A circuit point needs no lap.
  const Setup* setup = wanted.setup.empty() && !project.setups.empty() ? &project.setups.front()
                                                                       : project.find_setup(wanted.setup);
  if (!setup) setup = resolve(project, wanted).setup;
  CircuitPoint out{.at = circuit_case(*setup, sources.catalogue(project)),
                   .state = {},
                   .shortfall = {},
                   .without_effect = {},
                   .bare = {}};
  circuit::OperatingPoint& at = out.at.at;
  // The same power asks for more volume of a warmer fuel.
  at.demand = demand_at(*setup, o.power.value_or(setup->engine.power), o.temperature);
  if (o.demand) at.demand = *o.demand;
  // Manifold and throttle follow the power unless they are given.
  const double full = demand_at(*setup, setup->engine.power, o.temperature);
  const double share = full > 0 ? std::clamp(at.demand / full, 0.0, 1.0) : 1.0;
  at.throttle = o.throttle.value_or(share);
  out.manifold_follows = !o.manifold;
  at.manifold = circuit::manifold_at(out.at.circuit, at.throttle, o.altitude.value_or(at.altitude));
  if (o.supply) at.supply = *o.supply;
  const auto take = [](const std::optional<double>& given, double& member) {
    member = given.value_or(member);
  };
  take(o.manifold, at.manifold);
  take(o.temperature, at.temperature);
  take(o.altitude, at.altitude);
  take(o.rotation, at.rotation);
  take(o.filter_load, at.filter_load);
  if (o.acceleration) at.force = slosh::effective_gravity(*o.acceleration);
  const auto assembly = sources.tanks.assembled(setup->tank);
  const double volume = assembly->tank.volume();
  const double level = held_level(o.level.value_or(volume / 2), assembly->tank);
  const std::vector<double> settled = place_level(out.at, *setup, assembly->tank, level);
  draw_gas(out, *setup, o.wet ? *o.wet : settled);
  if (o.own_voltage && !o.supply) at.supply = circuit::own_voltage(out.at);
  for (circuit::WhatIf what : o.what_ifs)
    if (!apply(what, out.at)) out.without_effect.push_back(what);
  return out;
}

void draw_gas(CircuitPoint& point, const Setup& setup, const std::vector<double>& wet) {
  auto& dry = point.at.at.lifts_dry;
  dry.resize(point.at.circuit.lifts.size(), 0);
  for (size_t p = 0; p < std::min(wet.size(), setup.tank.pickups.size()); ++p) {
    if (wet[p] >= 0.02) continue;
    const auto& pickup = setup.tank.pickups[p];
    point.bare.push_back(pickup.name);
    point.gas_to_engine = point.gas_to_engine || (!setup.surge && pickup.feeds == "engine");
    for (size_t k = 0; k < dry.size(); ++k)
      if (point.at.circuit.lifts[k].pump == pickup.feeds) dry[k] = 1;
  }
}

void solve_point(CircuitPoint& point) {
  if (point.gas_to_engine && point.at.at.demand > 0) {
    circuit::Case c = point.at;
    c.at.demand = 0;
    c.at.mains_dry = true;
    point.state = circuit::run(c);
    point.shortfall = circuit::Shortfall{.asked = point.at.at.demand, .burnt = 0.0, .at_any_pressure = false};
  } else {
    circuit::Met met = circuit::run_met(point.at);
    point.state = std::move(met.state);
    point.shortfall = met.shortfall;
  }
  if (point.bare.empty()) return;
  std::string names;
  for (const std::string& name : point.bare) names += (names.empty() ? "" : ", ") + name;
  circuit::Finding f;
  f.severity = Severity::error;
  f.leg = {point.at.surroundings.surge ? circuit::LegKind::lift : circuit::LegKind::suction, 0};
  f.text = {"No fuel at " + names + ": " +
                (point.gas_to_engine ? "gas reaches the main pump and the engine."
                                     : "what lifts from there draws gas."),
            {}};
  point.state.findings.insert(point.state.findings.begin(), std::move(f));
}

CircuitPoint circuit_point(const project::Project& project, const Case& wanted, const PointOptions& options,
                           Sources& sources) {
  CircuitPoint out = circuit_point_case(project, wanted, options, sources);
  solve_point(out);
  return out;
}

std::vector<circuit::SweepPoint> power_sweep(const Setup& setup, const circuit::Case& c,
                                             const std::vector<double>& powers, bool manifold_follows) {
  if (!(setup.engine.consumption > 0))
    throw InputError(Message{.file = setup.name,
                             .place = "engine/consumption_g_kwh",
                             .expected = "above 0 for a sweep of power",
                             .found = "0"});
  std::vector<circuit::SweepLoad> loads;
  for (double power : powers) {
    circuit::SweepLoad load{.demand = demand_at(setup, power, c.at.temperature)};
    if (manifold_follows && setup.engine.power > 0) {
      load.throttle = std::clamp(power / setup.engine.power, 0.0, 1.0);
      load.manifold = circuit::manifold_at(c.circuit, *load.throttle, c.at.altitude);
    }
    loads.push_back(load);
  }
  return circuit::sweep(c, powers, loads);
}

}  // namespace uadze::solve
