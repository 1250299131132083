#include "core/circuit/charging.h"

#include "core/circuit/build.h"
#include "core/circuit/shortfall.h"

#include <algorithm>
#include <cmath>
#include <limits>

namespace uadze::circuit {
namespace {

constexpr double charge_efficiency = 0.85;
constexpr double voltage_step = 0.05;  // V of the resting battery, after which the lap is run anew

double output_of(const Circuit& k, const Catalogue& catalogue, double rotation) {
  const AlternatorType* alternator = find(catalogue.alternators, k.charging.alternator);
  return alternator ? alternator->current(rotation * k.charging.ratio) : 0.0;
}

}  // namespace

bool has_battery(const Circuit& circuit) { return circuit.charging.battery > 0; }

double other_loads(const Circuit& circuit) {
  double sum = 0;
  for (const Load& l : circuit.charging.loads) sum += l.current;
  return sum;
}

Bus bus_at(const Circuit& k, const Catalogue& catalogue, double rotation, double load, double charge) {
  Bus out;
  out.output = output_of(k, catalogue, rotation);
  const double surplus = out.output - load;
  out.charging = surplus > 0 ? charge_efficiency * surplus : surplus;
  const double rest =
      std::lerp(k.charging.flat_voltage, k.charging.full_voltage, std::clamp(charge, 0.0, 1.0));
  out.voltage = surplus >= 0 ? k.supply : std::clamp(rest + k.charging.resistance * surplus, 0.0, k.supply);
  return out;
}

bool has_own_voltage(const Circuit& circuit, bool rotation_known) {
  return has_battery(circuit) && (circuit.charging.alternator.empty() || rotation_known);
}

double own_voltage(const Case& given) {
  Case c = given;
  c.at.supply = given.circuit.supply;
  if (!c.at.spring) c.at.spring = regulator_spring(given);
  // A pump's current hardly hangs on a tenth of a volt: twice is enough.
  for (int k = 0; k < 2; ++k) {
    double pumps = 0;
    for (const PumpState& p : run_met(c).state.pumps) pumps += p.battery;
    c.at.supply =
        bus_at(c.circuit, *c.catalogue, c.at.rotation, other_loads(c.circuit) + pumps, c.at.charge).voltage;
  }
  return *c.at.supply;
}

ChargeBalance charge_balance(const Case& c, const LoadRun& lap) {
  ChargeBalance out;
  double weight = 0;
  const double others = other_loads(c.circuit);
  for (size_t i = 1; i < lap.points.size(); ++i) {
    const LoadPoint& p = lap.points[i];
    const double step = p.time - lap.points[i - 1].time, load = others + p.current;
    const double output = output_of(c.circuit, *c.catalogue, p.rotation), surplus = output - load;
    out.load += step * load;
    out.output += step * output;
    out.drain -= step * (surplus > 0 ? charge_efficiency * surplus : surplus);
    weight += step;
  }
  for (double* mean : {&out.load, &out.output, &out.drain}) *mean /= std::max(weight, 1e-9);
  return out;
}

bool may_discharge(const Case& full, const std::vector<double>& time, const std::vector<double>& rotation) {
  if (!has_own_voltage(full.circuit, !rotation.empty())) return false;
  double load = other_loads(full.circuit), kept = 0;
  for (const PumpState& p : run_met(full).state.pumps) load += p.battery;
  for (size_t i = 1; i < time.size(); ++i) {
    const double turns = rotation.empty() ? 0.0 : rotation[i];
    const double surplus = output_of(full.circuit, *full.catalogue, turns) - load;
    kept += (time[i] - time[i - 1]) * (surplus > 0 ? charge_efficiency * surplus : surplus);
  }
  return kept < 0;
}

ChargeRun run_charge(const Case& c, const LoadTrace& trace, const LoadRun& first, double duration,
                     Progress* progress) {
  ChargeRun out;
  out.empty_after = out.least_voltage = std::numeric_limits<double>::infinity();
  const Charging& k = c.circuit.charging;
  if (first.points.empty()) return out;
  const ChargeBalance balance = charge_balance(c, first);
  out.mean_load = balance.load;
  out.mean_output = balance.output;
  const double others = other_loads(c.circuit);
  // The run may be thinned: its last moment stands until the lap's end.
  const double lap_time = std::max(trace.time.back() - trace.time.front(), 1e-3);
  const auto share = [&](double charge) { return k.battery > 0 ? charge / k.battery : 0.0; };
  double charge = k.battery, now = 0, run_at = share(charge);
  out.least = charge;
  out.last = first;
  while (now < duration * (1 - 1e-9)) {
    if (progress) progress->check();
    if (has_battery(c.circuit) &&
        std::abs(share(charge) - run_at) * std::abs(k.full_voltage - k.flat_voltage) > voltage_step) {
      Case at = c;
      at.at.charge = run_at = share(charge);
      out.last = run_along(at, trace, first.points.size(), progress, false);
    }
    double least = std::numeric_limits<double>::infinity();
    for (const LoadPoint& p : out.last.points) least = std::min(least, p.supply);
    out.time.push_back(now);
    out.charge.push_back(charge);
    out.voltage.push_back(least);
    out.least_voltage = std::min(out.least_voltage, least);
    for (size_t i = 0; i < out.last.points.size(); ++i) {
      const LoadPoint& p = out.last.points[i];
      const double until = i + 1 < out.last.points.size() ? out.last.points[i + 1].time : trace.time.back();
      const double step = until - p.time;
      const Bus bus = bus_at(c.circuit, *c.catalogue, p.rotation, others + p.current, share(charge));
      charge = std::min(charge + bus.charging * step, k.battery);
      if (charge <= 0 && !std::isfinite(out.empty_after)) out.empty_after = now + until - trace.time.front();
      charge = std::max(charge, 0.0);
      out.least = std::min(out.least, charge);
    }
    now += lap_time;
  }
  out.time.push_back(now);
  out.charge.push_back(charge);
  out.voltage.push_back(out.voltage.empty() ? 0.0 : out.voltage.back());
  return out;
}

}  // namespace uadze::circuit
