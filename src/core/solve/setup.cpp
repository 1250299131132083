#include "core/solve/setup.h"

#include <algorithm>
#include <cmath>
#include <numbers>

#include "core/project/catalogue_file.h"
#include "core/starvation/surge.h"

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

Conditions conditions_of(const project::Setup& setup, const session::Session& session) {
  return {session.grip * starvation::factor_of(setup.calibration, starvation::Figure::grip),
          session.temperature};
}

project::Setup conditioned(project::Setup setup, const Conditions& conditions) {
  if (!conditions.temperature) return setup;
  // The figures stay those of the fuel that they were measured with, as warm as it was.
  auto& figures = setup.engine.figures_of;
  if (!figures)
    figures = {
        .ethanol = setup.fuel.ethanol, .methanol = setup.fuel.methanol, .lambda = {}, .temperature = {}};
  if (!figures->temperature) figures->temperature = setup.fuel.temperature;
  setup.fuel.temperature = *conditions.temperature;
  return setup;
}

fluid::Blend fuel_of(const project::Setup& setup) {
  fluid::Blend out = setup.fuel;
  // Water takes either alcohol out of the petrol: what is measured is both.
  if (setup.tube) out.ethanol = std::max(fluid::water_shift_content(*setup.tube).middle - out.methanol, 0.0);
  return out;
}

fluid::Mixture mixture_of(const project::Setup& setup) { return {fuel_of(setup), setup.engine.lambda}; }

fluid::Mixture figure_mixture(const project::Setup& setup) {
  fluid::Mixture out{setup.fuel, setup.engine.lambda};
  if (const auto& of = setup.engine.figures_of) {
    out.fuel.ethanol = of->ethanol;
    out.fuel.methanol = of->methanol;
    out.fuel.temperature = of->temperature.value_or(setup.fuel.temperature);
    out.lambda = of->lambda.value_or(setup.engine.lambda);
  }
  return out;
}

void keep_figures(const project::Project& before, project::Project& after) {
  if (before.setups.size() != after.setups.size()) return;
  for (size_t i = 0; i < after.setups.size(); ++i) {
    const fluid::Blend &was = before.setups[i].fuel, &is = after.setups[i].fuel;
    const auto& had = before.setups[i].engine.figures_of;
    auto& has = after.setups[i].engine.figures_of;
    if (before.setups[i].name != after.setups[i].name || had || has) continue;
    if (was.ethanol != is.ethanol || was.methanol != is.methanol)
      has = {.ethanol = was.ethanol, .methanol = was.methanol, .lambda = {}, .temperature = was.temperature};
  }
}

double demand_factor(const project::Setup& setup) {
  return fluid::demand_ratio(figure_mixture(setup), mixture_of(setup));
}

Derivation demand_factor_working(const project::Setup& setup) {
  return fluid::demand_ratio_working(figure_mixture(setup), mixture_of(setup));
}

circuit::Surroundings surroundings_of(const project::Setup& setup, double tank_volume) {
  circuit::Surroundings out;
  out.surge = setup.surge.has_value();
  if (setup.surge) {
    out.surge_volume = setup.surge->volume;
    out.return_to = setup.surge->engine_return;
    const double radius = surge_radius(*setup.surge);
    out.surge_area = std::numbers::pi * radius * radius;
  }
  for (const auto& p : setup.tank.pickups) out.pickups.push_back({p.name, p.feeds, p.position});
  for (const auto& r : setup.tank.returns) out.returns.push_back(r.position);
  out.foam = !setup.tank.foam.empty();
  out.bubble_rise = setup.limits.bubble_rise;
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
  const double density = fluid::density(fuel), factor = demand_factor(setup),
               figure_density = fluid::density(figure_mixture(setup).fuel);
  starvation::Engine engine = setup.engine;
  engine.flow_scale *= factor;
  engine.idle_flow *= factor;
  engine.consumption *= factor * density / figure_density;
  starvation::FuelSystem car{
      .tank = tank,
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
      .logged_density = figure_density};
  return setup.calibration ? starvation::calibrated(std::move(car), *setup.calibration) : car;
}

}  // namespace uadze::solve
