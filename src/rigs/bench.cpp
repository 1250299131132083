#include "rigs/bench.h"

#include <fmt/format.h>

#include <random>

#include "core/base/message.h"
#include "core/build/bench.h"
#include "core/session/random.h"
#include "core/session/risk.h"
#include "core/tank/gauge.h"

namespace uadze::rigs {
namespace {

using circuit::PartKind;

/// Standard deviations of a garage's instruments.
constexpr double pressure_noise = 1.5e3, flow_noise = 0.01, volt_noise = 0.02, kelvin_noise = 0.05;
constexpr double dip_noise = 0.7e-3, gauge_noise = 0.004;

class Scatter {
 public:
  explicit Scatter(const BenchOptions& o) : engine_(o.seed), times_(o.noise) {}
  /// The same everywhere: no library's own way of drawing a normal.
  double operator()(double deviation) {
    double sum = 0;
    for (int k = 0; k < 12; ++k) sum += static_cast<double>(engine_() >> 11) * 0x1p-53;
    return times_ * deviation * (sum - 6);
  }

 private:
  std::mt19937_64 engine_;
  double times_;
};

void put_in(circuit::Case& c, const BenchOptions& o) {
  const auto all = [&](const auto& each) {
    for (const auto& place : circuit::legs_of(c.circuit, c.surroundings))
      if (auto* leg = circuit::leg_at(c.circuit, place))
        for (size_t i = 0; i < leg->size(); ++i) each(*leg, i);
  };
  switch (o.fault) {
    case BenchFault::none:
    case BenchFault::leak:
      break;
    case BenchFault::worn_pump:
      all([&](circuit::Leg& leg, size_t i) {
        if (leg[i].kind == PartKind::pump) leg[i].measured *= 1 - 0.6 * o.strength;
      });
      break;
    case BenchFault::bad_ground:
      all([&](circuit::Leg& leg, size_t i) {
        if (leg[i].kind == PartKind::pump) leg[i].wiring.extra += 0.5 * o.strength;
      });
      break;
    case BenchFault::narrowed_line:
      all([&](circuit::Leg& leg, size_t i) {
        if (leg[i].kind == PartKind::line)
          leg[i].bore = circuit::bore_of(leg, i, *c.catalogue) * (1 - 0.7 * o.strength);
      });
      break;
    case BenchFault::loaded_filter:
      c.at.filter_load = 3 * o.strength;
      break;
    case BenchFault::regulator_off:
      c.circuit.regulator.base += 1e5 * o.strength;
      break;
    case BenchFault::reference_off:
      c.circuit.regulator.referenced = false;
      break;
  }
}

}  // namespace

std::vector<logbook::Reading> bench_readings(const circuit::Case& c, const build::Garage& garage,
                                             const std::string& id, const BenchOptions& o) {
  circuit::Case as_is = c;
  put_in(as_is, o);
  build::Garage here = garage;
  here.supply = o.supply;
  const auto asked = build::commissioning(c, garage);
  const build::Gate* gate = build::find_gate(asked, id);
  if (!gate)
    throw InputError(Message{.place = id, .expected = "a gate of this setup", .found = "none of that name"});
  // What would be expected of the circuit with its fault is what is read of it.
  const auto faulty = build::commissioning(as_is, here);
  const build::Gate* now = build::find_gate(faulty, id);
  Scatter noise(o);
  std::vector<logbook::Reading> out;
  for (const build::Expected& e : gate->readings) {
    std::optional<double> value;
    if (now)
      for (const build::Expected& f : now->readings)
        if (f.what == e.what) value = f.value;
    // With the reference off the hose makes no difference.
    if (now && !value && o.fault == BenchFault::reference_off && e.what == "Idle, reference hose off")
      value = now->readings.front().value;
    if (e.what == build::battery_reading) value = o.supply;
    if (id == "hold") {
      const double start = *gate->readings.front().value;
      const double fall = o.fault == BenchFault::leak ? start / 3 * o.strength : 0.0;
      if (e.what == "pressure at start") value = start;
      // It has cooled by two kelvin meanwhile.
      if (e.what == "temperature at start") value = 293.15;
      if (e.what == "temperature at end") value = 291.15;
      if (e.what == "pressure at end") value = (start + 101325.0) * 291.15 / 293.15 - 101325.0 - fall;
    }
    if (id == "prime" && e.quantity == Quantity::count) value = 5;
    if (id == "charging")
      value = o.fault == BenchFault::bad_ground && e.what == "volts after five" ? 12.4 : 13.9;
    if (id == "dip table") value = e.quantity == Quantity::count ? 10.0 : c.surroundings.tank_volume;
    if (id == "run-out" && !value) value = garage.never_drawn.value_or(0.3e-3);
    if (!value) continue;
    switch (e.quantity) {
      case Quantity::pressure:
        *value = std::max(*value + noise(pressure_noise), 0.0);
        break;
      case Quantity::flow:
        *value *= 1 + noise(flow_noise);
        break;
      case Quantity::voltage:
        *value += noise(volt_noise);
        break;
      case Quantity::temperature:
        *value += noise(kelvin_noise);
        break;
      default:
        break;
    }
    out.push_back({e.what, e.quantity, *value, {}});
  }
  return out;
}

std::string bench_csv(const std::vector<logbook::Reading>& readings) {
  std::string out = "reading,value\n";
  for (const auto& r : readings) {
    const Unit unit = shown_unit(r.quantity, {});
    out += fmt::format("\"{}\",{:.6g}{}{}\n", r.what, unit.from_si(r.value), unit.name.empty() ? "" : " ",
                       unit.name);
  }
  return out;
}

std::vector<tank::FilledStep> filled_in_steps(const tank::TankParts& parts, const tank::Tank& tank, int steps,
                                              const BenchOptions& o) {
  Scatter noise(o);
  std::vector<tank::FilledStep> out;
  tank::TankParts bare = parts;
  bare.filled.clear();
  for (int k = 1; k <= steps; ++k) {
    tank::FilledStep step{.volume = tank.volume() * parts.usable_share * k / steps};
    const auto says = session::readings(bare, tank, step.volume);
    if (says.dip) step.dip = std::max(*says.dip + noise(dip_noise), 0.0);
    if (says.gauge) step.gauge = std::clamp(*says.gauge + noise(gauge_noise), 0.0, 1.0);
    out.push_back(step);
  }
  return out;
}

}  // namespace uadze::rigs
