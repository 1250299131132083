#include "core/circuit/load_trace.h"

#include <algorithm>
#include <cmath>
#include <limits>
#include <map>
#include <tuple>

#include "core/circuit/build.h"
#include "core/circuit/charging.h"
#include "core/circuit/heat.h"
#include "core/circuit/shortfall.h"

namespace uadze::circuit {
namespace {

struct Stages {
  std::vector<char> wanted, on;
  std::vector<double> since;  // s since it was wanted
};

}  // namespace

double manifold_at(const Circuit& circuit, double throttle, double altitude) {
  constexpr double atmosphere = 101325.0;
  const double thinner =
      circuit.full_manifold <= 1.01 * atmosphere ? ambient_pressure(altitude) / atmosphere : 1.0;
  return thinner * std::lerp(circuit.idle_manifold, circuit.full_manifold, std::clamp(throttle, 0.0, 1.0));
}

LoadRun run_along(const Case& given, const LoadTrace& trace, size_t points, Progress* progress,
                  bool available_too) {
  LoadRun out;
  const size_t n = trace.time.size();
  if (n == 0) return out;
  Case ready = given;
  ready.at.spring.reset();
  Runner runner(std::move(ready));
  const Case& c = runner.c();
  OperatingPoint& at = runner.at();
  const bool by_battery = !given.at.supply && has_own_voltage(given.circuit, !trace.rotation.empty());
  const auto& mains = c.circuit.mains;
  Stages s{std::vector<char>(mains.size(), 0), std::vector<char>(mains.size(), 0),
           std::vector<double>(mains.size(), 1e9)};
  const size_t stride = std::max<size_t>(1, (n + points - 1) / std::max<size_t>(points, 1));
  State last;
  bool any = false;
  // What can be given depends on stage, manifold and voltage, and hardly on anything else along the lap.
  std::map<std::tuple<unsigned, int, int>, double> available;
  out.least_difference = std::numeric_limits<double>::infinity();
  double weight = 0;
  for (size_t i = 0; i < n; i += stride) {
    if (progress) {
      progress->check();
      progress->report(static_cast<double>(i) / static_cast<double>(n));
    }
    const double step = i >= stride ? trace.time[i] - trace.time[i - stride] : 0.0;
    at.demand = trace.demand[i];
    at.throttle = trace.throttle.empty() ? 1.0 : trace.throttle[i];
    if (!trace.rotation.empty()) at.rotation = trace.rotation[i];
    at.manifold = manifold_at(c.circuit, at.throttle, at.altitude);
    if (!trace.force.empty()) at.force = trace.force[i];
    LoadPoint point{.time = trace.time[i], .demand = at.demand, .manifold = at.manifold};
    for (size_t k = 0; k < mains.size(); ++k) {
      const bool want = stage_wants(mains[k].stage, at, s.wanted[k] != 0);
      if (want && !s.wanted[k]) {
        // The first moment finds pumps as they have been for long.
        s.since[k] = any ? 0.0 : 1e9;
        if (any) ++out.switches;
      }
      s.wanted[k] = want;
      s.on[k] = want && s.since[k] >= mains[k].stage.spin_up;
      if (want) s.since[k] += step;
      if (s.on[k]) point.on |= 1u << k;
    }
    at.mains_on = s.on;
    point.rotation = trace.rotation.empty() ? 0.0 : at.rotation;
    const auto pumps = [](const State& state) {
      double sum = 0;
      for (const PumpState& p : state.pumps) sum += p.battery;
      return sum;
    };
    const auto bus = [&](double load) {
      return bus_at(c.circuit, *c.catalogue, point.rotation, other_loads(c.circuit) + load, at.charge)
          .voltage;
    };
    // The pumps take what they took a moment ago; the first moment is run twice.
    if (by_battery) at.supply = bus(any ? pumps(last) : pumps(run_met(runner, nullptr, Tell::figures).state));
    Met met = run_met(runner, any ? &last : nullptr, Tell::figures);
    last = std::move(met.state);
    any = true;
    point.supply = at.supply.value_or(c.circuit.supply);
    if (available_too) {
      const auto key =
          std::tuple{point.on, static_cast<int>(at.manifold / 5e3), static_cast<int>(point.supply / 0.1)};
      const auto [known, fresh] = available.try_emplace(key, 0.0);
      if (fresh) known->second = runner.available();
      point.available = known->second;
    }
    point.difference = last.rail_difference;
    point.duty = last.duty;
    if (const auto& lack = met.shortfall)
      point.short_by = lack->burnt > 0 ? lack->leaner() - 1 : std::numeric_limits<double>::infinity();
    // Open all the time and still not enough.
    if (c.pressure_corrected) point.duty *= 1 + std::min(point.short_by, 1e3);
    point.overwhelmed = last.regulator.mode == RegulatorMode::overwhelmed;
    for (size_t k = 0; k < mains.size(); ++k)
      if (s.wanted[k] && !s.on[k]) point.spinning = static_cast<int>(k);
    point.inlet_margin = std::numeric_limits<double>::infinity();
    for (const PumpState& p : last.pumps) {
      point.current += p.battery;
      (p.leg.kind == LegKind::lift ? point.lift_electric : point.electric) += p.power;
      if (p.leg.kind == LegKind::main && p.on)
        point.inlet_margin = std::min(point.inlet_margin, p.inlet_margin);
    }
    point.lift = last.surge.lift;
    point.lifts = last.surge.lifts;
    point.set = last.difference_set;
    point.overflow = last.surge.overflow;
    point.delivered = last.delivered;
    point.back = last.regulator.flow;
    const double set = last.difference_set;
    for (size_t k = 0; k < mains.size(); ++k) {
      const bool spinning = s.wanted[k] && !s.on[k];
      if (!spinning || point.difference > set - 5e3) continue;
      if (!out.dips.empty() && out.dips.back().main == static_cast<int>(k) &&
          point.time - out.dips.back().time < mains[k].stage.spin_up + step) {
        Dip& dip = out.dips.back();
        dip.difference = std::min(dip.difference, point.difference);
        dip.short_of = set - dip.difference;
      } else {
        out.dips.push_back({point.time, static_cast<int>(k), point.difference, set - point.difference});
      }
    }
    if (point.difference - set < out.least_difference - out.set_difference ||
        !std::isfinite(out.least_difference)) {
      out.least_difference = point.difference;
      out.set_difference = set;
      out.least_at = out.points.size();
    }
    out.points.push_back(point);
    const double w = std::max(step, 1e-9);
    out.mean_demand += w * point.demand;
    out.mean_electric += w * (point.electric + point.lift_electric);
    weight += w;
  }
  out.mean_demand /= weight;
  out.mean_electric /= weight;
  return out;
}

Case always_on(Case c) {
  for (MainLeg& m : c.circuit.mains) m.stage = {};
  return c;
}

HeatRun run_heat(const Case& c, const LoadRun& lap, const HeatOptions& options) {
  HeatRun out;
  if (lap.points.empty()) return out;
  const HeatPlace& place = c.circuit.heat;
  const bool has_surge = c.surroundings.surge;
  const bool to_surge = has_surge && c.surroundings.return_to == ReturnTo::surge_tank;
  // Means over the lap: temperatures move in minutes, the lap in seconds.
  double demand = 0, lift = 0, delivered = 0, injected = 0, electric = 0, lift_power = 0, weight = 0;
  for (size_t i = 0; i < lap.points.size(); ++i) {
    const LoadPoint& p = lap.points[i];
    const double w = i > 0 ? p.time - lap.points[i - 1].time : 1e-9;
    demand += w * p.demand;
    lift += w * p.lift;
    delivered += w * p.delivered;
    electric += w * p.electric;
    lift_power += w * p.lift_electric;
    injected += w * p.demand * std::max(p.difference, 0.0);
    weight += w;
  }
  for (double* mean : {&demand, &lift, &delivered, &injected, &electric, &lift_power}) *mean /= weight;
  delivered = std::max(delivered, demand);
  lift = std::max(lift, to_surge || !has_surge ? demand : delivered);
  const double back = delivered - demand;
  const fluid::Liquid liquid = fluid::liquid(c.fuel, c.at.temperature);
  const double rc = liquid.density * liquid.heat_capacity;
  const bool bay_is_burnt = c.circuit.engine_supply == EngineSupply::returnless ||
                            c.circuit.regulator.kind == RegulatorKind::dead_head;
  const HeatBalance heat{.loop = electric - injected + (bay_is_burnt ? 0.0 : place.engine_bay),
                         .burnt = bay_is_burnt ? place.engine_bay : 0.0,
                         .lift = has_surge ? lift_power : 0.0,
                         .tank_loss = place.tank_loss,
                         .surge_loss = place.surge_loss,
                         .ambient = place.ambient,
                         .heat_capacity = rc,
                         .surge_inside = c.circuit.surge_inside};
  const double start = c.at.temperature, surge_volume = std::max(c.surroundings.surge_volume, 1e-6);
  const double step = std::max(options.step, 1e-3), keep = std::max(options.least_volume, 0.1e-3);
  Temperatures now{start, start};
  double volume = options.start_volume;
  // Overflow carries what is lifted and not burnt (return to the surge tank) or not drawn (to the main tank).
  const HeatMoves moves{.time = step,
                        .surge_volume = has_surge ? surge_volume : 0.0,
                        .lifted = lift * step,
                        .overflow = std::max(lift + (to_surge ? back : 0.0) - delivered, 0.0) * step,
                        .back = back * step,
                        .main = delivered * step,
                        .back_to_surge = to_surge};
  const double behind = demand > 1e-12 ? heat.burnt / (rc * demand) : 0.0;
  const auto rail = [&] { return (has_surge ? now.surge : now.tank) + loop_rise(heat, moves) + behind; };
  const auto note = [&](double t) {
    out.time.push_back(t);
    out.tank.push_back(now.tank);
    out.surge.push_back(has_surge ? now.surge : now.tank);
    out.rail.push_back(rail());
  };
  note(0.0);
  for (double t = 0; t < options.duration - 1e-9; t += step) {
    // Fuel at its start temperature is put in when the tank comes down to what is kept.
    if (volume - demand * step < keep) {
      const double added = options.start_volume - volume;
      now.tank = (now.tank * volume + start * added) / options.start_volume;
      volume = options.start_volume;
    }
    HeatMoves of_step = moves;
    of_step.tank_volume = volume;
    volume -= demand * step;
    now = warmed(now, heat, of_step);
    out.heat_in += step * (heat.loop + heat.lift + (behind > 0 ? heat.burnt : 0.0));
    out.heat_lost += step * heat.tank_loss * (now.tank - heat.ambient);
    if (has_surge && !heat.surge_inside) out.heat_lost += step * heat.surge_loss * (now.surge - heat.ambient);
    out.heat_burnt += step * rc * demand * (rail() - start);
    note(std::min(t + step, options.duration));
  }
  out.heat_kept = rc * (volume * (now.tank - start) + (has_surge ? surge_volume * (now.surge - start) : 0.0));
  Case hot = c;
  hot.at.temperature = has_surge ? now.surge : now.tank;
  const State end = run(hot);
  for (const PumpState& p : end.pumps)
    if (p.leg.kind == LegKind::main && p.on) {
      out.end_margin = p.inlet_margin;
      break;
    }
  out.end_available = available_flow(hot);
  out.density_change = fluid::density(c.fuel, out.rail.back()) / fluid::density(c.fuel, start) - 1;
  return out;
}

}  // namespace uadze::circuit
