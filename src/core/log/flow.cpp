#include "core/log/flow.h"

#include <algorithm>
#include <cmath>

namespace uadze::log {
namespace {

/// Whether the log can give it, by a law if one is needed.
bool has(const Log& log, FlowFrom from) {
  const auto is = [&](Role role) { return log.channel(role) != nullptr; };
  switch (from) {
    case FlowFrom::meter:
      return is(Role::fuel_flow);
    case FlowFrom::mass_meter:
      return is(Role::fuel_mass_flow);
    case FlowFrom::injector_time:
      return is(Role::injector_time) && is(Role::rpm);
    case FlowFrom::injector_duty:
      return is(Role::injector_duty);
    case FlowFrom::air:
      return is(Role::air_flow) && is(Role::lambda);
    case FlowFrom::measure:
      return is(Role::throttle);
    case FlowFrom::nothing:
      break;
  }
  return false;
}

}  // namespace

double dead_time_at(const InjectorLaw& law, double volts) {
  return law.dead_time * std::pow(14.0 / std::clamp(volts, 6.0, 20.0), 1.5);
}

FlowAlong flow_along(const Log& log, const FlowOptions& options) {
  FlowAlong out;
  out.values.assign(log.size(), 0.0);
  if (options.from) {
    if (has(log, *options.from)) out.from = *options.from;
  } else {
    for (FlowFrom from : {FlowFrom::meter, FlowFrom::mass_meter, FlowFrom::injector_time,
                          FlowFrom::injector_duty, FlowFrom::air, FlowFrom::measure})
      if (out.from == FlowFrom::nothing && has(log, from)) out.from = from;
  }
  const auto rpm = log.values(Role::rpm), volts = log.values(Role::battery),
             lambda = log.values(Role::lambda);
  const auto& law = options.injectors;
  const bool seen = options.difference.size() == log.size();
  /// Of the flow where q0 was measured.
  const auto root = [&](size_t i) {
    const double at = seen ? options.difference[i] : options.set;
    return law && law->difference > 0 && at > 0 ? std::sqrt(at / law->difference) : seen ? 0.0 : 1.0;
  };
  /// Of the flow at the set pressure.
  const auto lacking = [&](size_t i) {
    return seen && options.set > 0 ? std::sqrt(std::clamp(options.difference[i] / options.set, 0.0, 1.0))
                                   : 1.0;
  };
  const auto fill = [&](Role role, auto&& flow) {
    const auto values = log.values(role);
    for (size_t i = 0; i < values.size(); ++i) {
      const double q = flow(i, static_cast<double>(values[i]));
      out.values[i] = std::isfinite(q) ? std::max(q, 0.0) : 0.0;
    }
  };
  switch (out.from) {
    case FlowFrom::nothing:
      break;
    case FlowFrom::meter:
      out.absolute = true;
      fill(Role::fuel_flow, [&](size_t i, double q) { return q * lacking(i); });
      break;
    case FlowFrom::mass_meter:
      out.absolute = true;
      fill(Role::fuel_mass_flow, [&](size_t i, double m) { return m / options.density * lacking(i); });
      break;
    case FlowFrom::injector_time:
      out.absolute = law && law->flow > 0;
      fill(Role::injector_time, [&](size_t i, double open) {
        if (!law) return open * rpm[i];
        const double dead = dead_time_at(*law, volts.empty() ? 14.0 : static_cast<double>(volts[i]));
        return static_cast<double>(law->count) * static_cast<double>(rpm[i]) / 2 *
               std::max(open - dead, 0.0) * (law->flow > 0 ? law->flow : 1.0) * root(i);
      });
      break;
    case FlowFrom::injector_duty:
      out.absolute = law && law->flow > 0;
      fill(Role::injector_duty, [&](size_t i, double duty) {
        return law && law->flow > 0 ? static_cast<double>(law->count) * duty * law->flow * root(i) : duty;
      });
      break;
    case FlowFrom::air:
      out.absolute = true;
      fill(Role::air_flow, [&](size_t i, double air) {
        return air / (std::max(static_cast<double>(lambda[i]), 0.3) * options.air_ratio * options.density);
      });
      break;
    case FlowFrom::measure:
      fill(Role::throttle, [&](size_t i, double u) { return rpm.empty() ? u : u * rpm[i]; });
      break;
  }
  return out;
}

double flowed(const Log& log, const FlowAlong& flow, double begin, double end) {
  double out = 0;
  size_t part = 0;
  for (size_t i = 1; i < log.size() && i < flow.values.size(); ++i) {
    while (part + 1 < log.parts.size() && log.parts[part + 1] <= i) ++part;
    if (log.parts[part] == i || log.time[i] <= begin || log.time[i - 1] >= end) continue;
    // Of a step that lies partly outside its share.
    const double dt = log.time[i] - log.time[i - 1];
    const double a = std::max(begin, log.time[i - 1]), b = std::min(end, log.time[i]);
    const auto at = [&](double t) {
      return flow.values[i - 1] + (flow.values[i] - flow.values[i - 1]) * (t - log.time[i - 1]) / dt;
    };
    out += (at(a) + at(b)) / 2 * (b - a);
  }
  return out;
}

LapsBurnt laps_burnt(const Log& log, const Laps& laps, const FlowAlong& flow, double scale) {
  LapsBurnt out;
  double squares = 0;
  for (const LoggedLap& lap : laps.all) {
    out.each.push_back(scale * flowed(log, flow, lap.begin, lap.end));
    if (lap.kind != LapKind::flying) continue;
    ++out.flying;
    out.mean += out.each.back();
  }
  if (out.flying == 0) return out;
  out.mean /= static_cast<double>(out.flying);
  for (size_t k = 0; k < laps.all.size(); ++k)
    if (laps.all[k].kind == LapKind::flying) squares += (out.each[k] - out.mean) * (out.each[k] - out.mean);
  if (out.flying > 1) out.deviation = std::sqrt(squares / static_cast<double>(out.flying - 1));
  return out;
}

Derivation flow_check_working(const FlowCheck& check, FlowFrom from) {
  return {.name = "Scale of the logged flow",
          .value = check.scale(),
          .quantity = Quantity::plain,
          .formula = "scale = (put in - drained) / sum of the flow",
          .inputs = {{"V", "put in less drained", check.burnt, Quantity::volume, "by the rig"},
                     {"S", "sum of the flow", check.counted, Quantity::volume, name_of(from)},
                     {"r", "residual", check.residual(), Quantity::volume, "S - V"}},
          .source = "volume balance"};
}

}  // namespace uadze::log
