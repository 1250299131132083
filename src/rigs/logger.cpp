#include "rigs/logger.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <memory>
#include <numbers>
#include <random>

#include "core/base/csv.h"
#include "core/circuit/load_trace.h"
#include "core/starvation/march.h"

namespace uadze::rigs {
namespace {

using log::Role;

constexpr double step = 0.02;       // s, of the log
constexpr double air = 101325.0;    // Pa
constexpr double standing = 12.0;   // s before the out lap and after the in lap
constexpr double idle = 15.0;       // 1/s
constexpr double idle_flow = 5e-7;  // m3/s

/// Normal draws that are the same on every machine (Box and Muller 1958).
class Noise {
 public:
  explicit Noise(std::uint64_t seed) : engine_(seed) {}
  double uniform() { return static_cast<double>(engine_() >> 11) * 0x1.0p-53; }
  double operator()() {
    const double u = std::max(uniform(), 1e-300), v = uniform();
    return std::sqrt(-2 * std::log(u)) * std::cos(2 * std::numbers::pi * v);
  }

 private:
  std::mt19937_64 engine_;
};

/// What happened, before any sensor.
struct Truth {
  std::vector<double> time, lat, lon, up, speed, throttle, rpm, demand, difference, gas, level, distance;
  std::vector<int> lap;
  void push(double t, double ay, double ax, double az, double v, double u, double n, double q, double dp,
            double g, double l, double s, int number) {
    time.push_back(t), lat.push_back(ay), lon.push_back(ax), up.push_back(az), speed.push_back(v),
        throttle.push_back(u), rpm.push_back(n);
    demand.push_back(q), difference.push_back(dp), gas.push_back(g), level.push_back(l),
        distance.push_back(s), lap.push_back(number);
  }
};

/// A lap driven slower by a factor: the same line, all accelerations of the car by its square, the same fuel.
struct Paced {
  std::unique_ptr<lap::Lap> lap;
  starvation::Course course;
};

/// `rest`: s of standing after a run from rest; 0: a lap of a circuit.
Paced paced(const starvation::Course& course, const starvation::FuelSystem& car, double slower, double rest) {
  Paced out{std::make_unique<lap::Lap>(*course.lap), course};
  lap::Lap& lap = *out.lap;
  for (double& t : lap.time) t = lap.time.front() + (t - lap.time.front()) * slower;
  const double less = 1 / (slower * slower);
  for (auto* channel : {&lap.lateral, &lap.longitudinal})
    for (double& a : *channel) a *= less;
  for (double& a : lap.vertical) a = standard_gravity + (a - standard_gravity) * less;
  for (auto* channel : {&lap.speed, &lap.rotation, &out.course.demand})
    for (double& v : *channel) v /= slower;
  out.course.lap = out.lap.get();
  // A run from rest ends with the way to the stop and a wait at idle.
  if (rest > 0) {
    auto delivery = std::make_shared<starvation::Delivery>(*course.delivery);
    const double dt = 0.05;
    double v = lap.speed.back();
    for (double in = dt; v > 0 || in < rest; in += dt) {
      const double brake = v > 0 ? -6.0 : 0.0;
      v = std::max(v + brake * dt, 0.0);
      lap.time.push_back(lap.time.back() + dt), lap.distance.push_back(lap.distance.back() + v * dt);
      lap.lateral.push_back(0), lap.longitudinal.push_back(brake), lap.vertical.push_back(standard_gravity);
      lap.speed.push_back(v);
      if (!lap.throttle.empty()) lap.throttle.push_back(0);
      if (!lap.rotation.empty()) lap.rotation.push_back(idle);
      out.course.demand.push_back(idle_flow);
      for (auto& flow : delivery->lift) flow.push_back(flow.back());
      for (auto* values : {&delivery->main, &delivery->set, &delivery->duty})
        if (!values->empty()) values->push_back(values->back());
      delivery->fed.push_back(delivery->set.back());
      if (!out.course.limit.empty()) out.course.limit.push_back(out.course.limit.back());
    }
    for (auto& channel : lap.extra) channel.cells.resize(lap.time.size());
    out.course.delivery = std::move(delivery);
  }
  out.course.reach = starvation::course_reach(car, out.course);
  return out;
}

Truth truth_of(const solve::LapCase& ready, double start, const DriveOptions& options) {
  const lap::Lap& lap = ready.lap->value;
  const auto& car = *ready.car;
  const int laps = options.laps + 2;
  Truth out;
  const double set = ready.course.delivery->set.front();
  double t = 0, way = 0;
  for (; t < standing; t += step)
    out.push(t, 0, 0, standard_gravity, 0, 0, t > 6 ? idle : 0, t > 6 ? idle_flow : 0, set, 0, start, 0, 1);
  const bool from_rest = lap.speed.front() < 3;
  // Each lap is driven, and marched, at its own pace; out and in laps slower; runs from rest are all alike,
  // with a stop after each.
  std::vector<Paced> paces;
  for (int k = 0; k < laps; ++k) {
    const bool ends = !from_rest && (k == 0 || k + 1 == laps);
    paces.push_back(
        paced(ready.course, car, ends ? 1.25 : 1.0 + 0.004 * ((k * 7) % 5 - 2), from_rest ? 25.0 : 0.0));
  }
  starvation::Marcher march(car, paces.front().course, start, {.hold = false});
  march.enter();
  for (int k = 0; k < laps; ++k) {
    if (k > 0) march.go_on(paces[static_cast<size_t>(k)].course);
    starvation::LapTrace trace;
    march.lap(trace);
    const bool ends = !from_rest && (k == 0 || k + 1 == laps);
    const lap::Lap& driven = *paces[static_cast<size_t>(k)].lap;
    const auto& demand = paces[static_cast<size_t>(k)].course.demand;
    const double slower = ends ? 1.25 : 1.0, whole = driven.duration();
    const starvation::Delivery& delivery = *paces[static_cast<size_t>(k)].course.delivery;
    // Gas on its way from the pickup takes its time to the rail.
    std::vector<double> lately(trace.gas.size(), 0.0);
    for (size_t i = 1; i < lately.size(); ++i) lately[i] = std::max(0.98 * lately[i - 1], trace.gas[i]);
    const auto rail = [&](size_t i) {
      if (trace.rail.empty()) return set;
      if (!options.sound || delivery.fed.empty() || delivery.fed[i] <= 0) return trace.rail[i];
      // Where only fuel came, what is lacking is the circuit's own.
      const double share =
          lately.empty() || lately[i] < 0.01 ? 1.0 : std::min(trace.rail[i] / delivery.fed[i], 1.0);
      return delivery.set[i] * share;
    };
    for (double in = 0; in < whole; in += step, t += step) {
      const size_t i = driven.index_at(driven.time.front() + in);
      // The out lap's last seconds and the in lap's first are at speed.
      const double to_line = k == 0 ? whole - in : in;
      const double pace = !ends ? 1.0 : 1.0 + (slower - 1) * std::clamp(1 - to_line / 6, 0.0, 1.0);
      const double ramp = !ends ? 1.0 : k == 0 ? std::min(1.0, in / 8) : std::min(1.0, (whole - in) / 8);
      out.push(t, driven.lateral[i] * ramp, driven.longitudinal[i], driven.vertical[i],
               driven.speed[i] * pace * ramp, driven.throttle.empty() ? 0.5 : driven.throttle[i],
               driven.rotation.empty() ? 100.0 : std::max(driven.rotation[i], idle), demand[i], rail(i),
               trace.gas.empty() ? 0 : trace.gas[i], trace.level[i], way, k + 1);
      way += out.speed.back() * step;
    }
  }
  // Out and in laps are the flying one's, slower: what they push follows from how their speed changes.
  constexpr size_t around = 6;
  for (size_t i = around; i + around < out.time.size(); ++i)
    if (!from_rest && (out.lap[i] == 1 || out.lap[i] == laps))
      out.lon[i] = (out.speed[i + around] - out.speed[i - around]) / (2 * around * step);
  const double left = out.level.back();
  for (double end = t + 2 * standing; t < end; t += step)
    out.push(t, 0, 0, standard_gravity, 0, 0, t < end - standing - 6 ? idle : 0,
             t < end - standing - 6 ? idle_flow : 0, set, 0, left, way, laps);
  return out;
}

/// The fault on the difference across the injectors, and on what goes with it.
struct Overlay {
  std::vector<double> supply, warm;  // V; K
  std::vector<double> reading;       // Pa that the sensor alone adds
};

Overlay lay_over(Truth& truth, const project::Setup& setup, double set, const DriveOptions& options,
                 Noise& noise) {
  const size_t n = truth.time.size();
  const double s = options.strength, whole = truth.time.back();
  const double most = *std::max_element(truth.demand.begin(), truth.demand.end());
  Overlay out{std::vector<double>(n, 13.8), std::vector<double>(n, 303.15), std::vector<double>(n, 0.0)};
  double opened = -1e9, drawn = 0, all_drawn = 0, burst = 0, lie = 0, rail = set;
  bool lying = false;
  for (double q : truth.demand) all_drawn += q * step;
  for (size_t i = 0; i < n; ++i) {
    const double share = truth.demand[i] / most, along = truth.time[i] / whole;
    const bool runs = truth.rpm[i] > 5;
    drawn += truth.demand[i] * step;
    if (i > 0 && truth.throttle[i] > 0.8 && truth.throttle[i - 1] <= 0.8) opened = truth.time[i];
    out.supply[i] = runs ? 13.8 - 0.25 * share : 12.5;
    out.warm[i] = 298 + 6 * along;
    double& dp = truth.difference[i];
    const auto can = [&](double capacity) {
      if (share > capacity && capacity > 0) dp = std::min(dp, set * std::pow(capacity / share, 2));
    };
    switch (options.fault) {
      case CarFault::none:
      case CarFault::slosh:
      case CarFault::check_valve:
        break;
      case CarFault::capacity:
        can(1 - 0.35 * s);
        break;
      case CarFault::staged_late:
        if (truth.time[i] - opened < 0.6) can(0.75 * (1 - 0.2 * s));
        break;
      case CarFault::wiring:
        out.supply[i] -= 2.5 * s * (0.3 + 0.7 * along) * (0.5 + 0.5 * share);
        can(1.02 * std::pow(out.supply[i] / 13.3, 1.5));
        break;
      case CarFault::filter:
        dp -= 0.35 * s * set * along * share * share;
        break;
      case CarFault::vapour:
        out.warm[i] = 298 + 30 * along;
        can(1.02 * (1 - 0.025 * s * std::max(0.0, out.warm[i] - 310)));
        break;
      case CarFault::vent:
        dp -= 0.2 * s * set * drawn / all_drawn * (runs ? 1 : 0);
        break;
      case CarFault::small_return:
        if (runs) dp += 0.35 * s * set * std::pow(1 - share, 2);
        break;
      case CarFault::reference_lost:
        if (runs && setup.circuit) dp += s * (air - circuit::manifold_at(*setup.circuit, truth.throttle[i]));
        break;
      case CarFault::aeration: {
        const double shaken =
            i > 0 ? std::abs(truth.lat[i] - truth.lat[i - 1]) + std::abs(truth.up[i] - truth.up[i - 1]) : 0.0;
        if (runs && noise.uniform() < 0.004 * std::min(shaken / 0.4, 3.0))
          burst = 0.12 + 0.1 * noise.uniform();
        if (burst > 0) dp -= (0.15 + 0.15 * noise.uniform()) * s * set, burst -= step;
        break;
      }
      case CarFault::sensor:
        if (noise.uniform() < (lying ? 0.004 : 0.0015))
          lying = !lying, lie = -(0.4 + 0.6 * noise.uniform()) * 0.3 * s * set;
        out.reading[i] = lying ? lie : 0.0;
        break;
    }
    // The rail's own volume takes a few hundredths of a second; stopped, it holds, or leaks back.
    if (runs)
      rail += (dp - rail) * std::min(1.0, step / 0.04);
    else if (truth.time[i] > standing)
      rail *= std::exp(-step / (options.fault == CarFault::check_valve ? 25.0 * 1.04 / (1 + 24 * s) : 90.0));
    else
      rail = set;  // primed
    dp = std::max(rail, 0.0);
  }
  return out;
}

}  // namespace

namespace {
double end_of(double clean_level, const DriveOptions& options) {
  if (options.fault == CarFault::slosh) return clean_level * (1 - 0.6 * options.strength);
  return options.end_level > 0 ? options.end_level : 1.5 * clean_level + 1e-3;
}
}  // namespace

double put_in(const solve::LapCase& ready, double clean_level, const DriveOptions& options) {
  const double burnt = starvation::consumption_per_lap(ready.course.demand, ready.lap->value);
  return std::min(end_of(clean_level, options) + (options.laps + 2) * burnt, ready.car->tank->volume());
}

log::Log drive(const solve::LapCase& ready, const project::Setup& setup, double clean_level,
               const DriveOptions& options) {
  Noise noise(options.seed * 0x9E3779B97F4A7C15ull + 1);
  const double set = ready.course.delivery->set.front();
  Truth truth = truth_of(ready, put_in(ready, clean_level, options), options);
  const Overlay over = lay_over(truth, setup, set, options, noise);

  log::Log out;
  out.time = truth.time, out.parts = {0};
  const size_t n = out.time.size();
  // Reading: lag (first order), steps of a converter, noise.
  const auto sense = [&](const char* name, Role role, auto&& value, double deviation, double lag,
                         double quantum, log::Between between = log::Between::straight) {
    log::Channel c{
        .name = name, .unit = "", .role = role, .between = between, .values = std::vector<float>(n)};
    double held = value(0);
    for (size_t i = 0; i < n; ++i) {
      held += (value(i) - held) * (lag > 0 ? 1 - std::exp(-step / lag) : 1.0);
      double read = held + options.noise * deviation * noise();
      if (quantum > 0) read = std::round(read / quantum) * quantum;
      c.values[i] = static_cast<float>(read);
    }
    out.channels.push_back(std::move(c));
  };
  const auto manifold = [&](size_t i) {
    return truth.rpm[i] < 5 ? air
           : setup.circuit  ? circuit::manifold_at(*setup.circuit, truth.throttle[i])
                            : 0.4 * air + 0.55 * air * truth.throttle[i];
  };
  // Injectors that are timed for the set pressure: the mixture goes with its root.
  const auto mixture = [&](size_t i) {
    if (truth.rpm[i] < 5) return 1.6;
    const double share = std::clamp(truth.difference[i] / set, 0.05, 4.0);
    return truth.throttle[i] < 0.05 ? 1.05 : (0.98 - 0.1 * truth.throttle[i]) / std::sqrt(share);
  };
  const auto current = [&](size_t i) {
    return truth.rpm[i] < 5 && truth.time[i] > standing
               ? 0.0
               : 8.5 * (0.55 + 0.45 * truth.difference[i] / set) * (1 - 0.5 * truth.gas[i]) * 13.8 /
                     std::max(over.supply[i], 5.0);
  };
  sense(
      "Speed", Role::speed, [&](size_t i) { return truth.speed[i]; }, 0.05, 0, 0.01);
  sense(
      "Lat Acc", Role::lat_acc, [&](size_t i) { return truth.lat[i]; }, 0.3, 0, 0.02);
  sense(
      "Long Acc", Role::long_acc, [&](size_t i) { return truth.lon[i]; }, 0.3, 0, 0.02);
  sense(
      "Vert Acc", Role::vert_acc, [&](size_t i) { return truth.up[i]; }, 0.5, 0, 0.02);
  sense(
      "Throttle", Role::throttle, [&](size_t i) { return truth.throttle[i]; }, 0.002, 0, 0.001);
  sense(
      "RPM", Role::rpm, [&](size_t i) { return truth.rpm[i]; }, 0.1, 0, 1.0 / 60);
  sense(
      "Fuel Flow", Role::fuel_flow, [&](size_t i) { return truth.demand[i]; }, 1e-7, 0.05, 0);
  sense(
      "Lap", Role::lap, [&](size_t i) { return static_cast<double>(truth.lap[i]); }, 0, 0, 1,
      log::Between::held);
  sense(
      "Battery", Role::battery, [&](size_t i) { return over.supply[i]; }, 0.03, 0, 0.01);
  // Over air: what the gauge on the rail reads.
  sense(
      "Fuel Pressure", Role::rail_pressure,
      [&](size_t i) { return truth.difference[i] + manifold(i) - air + over.reading[i]; }, 1.2e3, 0.01, 500);
  if (options.manifold) {
    sense("MAP", Role::manifold_pressure, manifold, 400, 0.01, 100);
    out.channels.back().against = log::Against::vacuum;
  }
  if (options.lambda) sense("Lambda", Role::lambda, mixture, 0.004, 0.12, 0.001);
  if (options.current) sense("Pump Current", Role::pump_current, current, 0.1, 0.03, 0.05);
  if (options.temperature)
    sense(
        "Fuel Temp", Role::fuel_temperature, [&](size_t i) { return over.warm[i]; }, 0.1, 0, 0.1);
  if (options.yaw)
    sense(
        "Yaw Rate", Role::yaw_rate,
        [&](size_t i) { return truth.speed[i] > 5 ? truth.lat[i] / truth.speed[i] : 0.0; }, 0.005, 0, 0.001);
  sense(
      "Fuel Level", Role::fuel_level,
      [&](size_t i) {
        return truth.level[i] + (truth.rpm[i] > 5 ? 1e-3 * truth.lat[i] / standard_gravity : 0);
      },
      4e-4, 2.0, 1e-4);
  return out;
}

namespace {

struct Written {
  const char* unit;
  double factor, offset;
  int digits, every;
};

Written how_written(Role role) {
  switch (role) {
    case Role::speed:
      return {"km/h", 1 / 3.6, 0, 1, 1};
    case Role::lat_acc:
    case Role::long_acc:
    case Role::vert_acc:
      return {"g", standard_gravity, 0, 3, 1};
    case Role::throttle:
      return {"%", 0.01, 0, 1, 1};
    case Role::rpm:
      return {"1/min", 1.0 / 60, 0, 0, 1};
    case Role::fuel_flow:
      return {"L/h", 1e-3 / 3600, 0, 1, 2};
    case Role::battery:
      return {"V", 1, 0, 2, 5};
    case Role::rail_pressure:
      return {"bar", 1e5, 0, 3, 1};
    case Role::manifold_pressure:
      return {"kPa", 1e3, 0, 1, 1};
    case Role::pump_current:
      return {"A", 1, 0, 2, 2};
    case Role::fuel_temperature:
      return {"°C", 1, 273.15, 1, 50};
    case Role::yaw_rate:
      return {"deg/s", std::numbers::pi / 180, 0, 2, 1};
    case Role::fuel_level:
      return {"L", 1e-3, 0, 1, 50};
    case Role::lambda:
      return {"", 1, 0, 3, 2};
    default:
      return {"", 1, 0, 0, 1};
  }
}

}  // namespace

std::string written(const log::Log& log, Shape shape) {
  const bool decimal_comma = shape == Shape::semicolons;
  const char mark = decimal_comma ? ';' : ',';
  const auto figure = [&](double value, int digits) {
    std::string out = fmt::format("{:.{}f}", value, digits);
    if (decimal_comma) std::replace(out.begin(), out.end(), '.', ',');
    return out;
  };
  std::string out;
  if (shape == Shape::preamble) out = "Simulated logger\nSession,Practice\nRate,50\n\n";
  const bool in_row = shape == Shape::semicolons || shape == Shape::preamble;
  std::string names = shape == Shape::milliseconds ? "Time [ms]"
                      : in_row                     ? "Time"
                                                   : "Time [s]",
              units = shape == Shape::milliseconds ? "ms" : "s";
  std::vector<Written> how;
  for (const log::Channel& c : log.channels) {
    how.push_back(how_written(c.role));
    const std::string unit = how.back().unit;
    names += mark + c.name + (in_row || unit.empty() ? "" : " [" + unit + "]");
    units += mark + (unit.empty() ? "-" : unit);
  }
  out += names + "\n" + (in_row ? units + "\n" : "");
  for (size_t i = 0; i < log.size(); ++i) {
    out += shape == Shape::milliseconds ? fmt::format("{:.0f}", 1000 * log.time[i]) : figure(log.time[i], 3);
    for (size_t k = 0; k < how.size(); ++k) {
      out += mark;
      if (shape == Shape::mixed_rates && i % static_cast<size_t>(how[k].every) != 0) continue;
      out += figure((log.channels[k].values[i] - how[k].offset) / how[k].factor, how[k].digits);
    }
    out += '\n';
  }
  return out;
}

std::string written_as_can(const log::Log& log, std::vector<log::Signal>& table) {
  table.clear();
  std::vector<Written> how;
  for (size_t k = 0; k < log.channels.size(); ++k) {
    how.push_back(how_written(log.channels[k].role));
    // Three signals of 16 bits to a frame.
    table.push_back({.name = log.channels[k].name,
                     .id = fmt::format("{:X}", 0x200 + k / 3),
                     .start_bit = static_cast<int>(16 * (k % 3)),
                     .length = 16,
                     .negative = true,
                     .scale = std::pow(10.0, -how.back().digits),
                     .unit = how.back().unit});
  }
  std::string out;
  for (size_t i = 0; i < log.size(); ++i)
    for (size_t k = 0; k < how.size(); k += 3) {
      out +=
          fmt::format("({:.6f}) can0 {}#", 1.6e9 + log.time[i] + 1e-4 * static_cast<double>(k), table[k].id);
      for (size_t j = k; j < std::min(k + 3, how.size()); ++j) {
        const auto raw = static_cast<std::int16_t>(std::clamp(
            std::round((log.channels[j].values[i] - how[j].offset) / how[j].factor / table[j].scale),
            -32768.0, 32767.0));
        out += fmt::format("{:02X}{:02X}", static_cast<unsigned>(raw) & 0xFF,
                           static_cast<unsigned>(raw) >> 8 & 0xFF);
      }
      out += '\n';
    }
  return out;
}

}  // namespace uadze::rigs
