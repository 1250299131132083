#pragma once
// A log written by hand, without any model of a car: what is wrong is laid over it by each test.
#include <algorithm>
#include <cmath>
#include <functional>

#include "core/diagnosis/cause.h"
#include "support/random_shapes.h"

namespace uadze::diagnosis {

using log::Channel;
using log::Role;

/// Twelve minutes of driving written by hand: eight laps of 90 s with three corners, throttle and flow as
/// steps; every channel right and the pressure steady. What is wrong is laid over it by each test.
struct Hand {
  log::Log log;
  std::vector<double> flow, throttle, lateral, since_opened;

  std::vector<float>& of(Role role) {
    return std::find_if(log.channels.begin(), log.channels.end(),
                        [&](const Channel& c) { return c.role == role; })
        ->values;
  }
  /// Changes the difference by a share of the usual, the mixture with it.
  template <class Change>
  void lay_over(Change&& change, bool mixture = true) {
    auto &rail = of(Role::rail_pressure), &lambda = of(Role::lambda);
    for (size_t i = 0; i < log.size(); ++i) {
      const double d = change(i);
      rail[i] += static_cast<float>(3e5 * d);
      if (mixture) lambda[i] = static_cast<float>(lambda[i] / std::sqrt(std::max(1 + d, 0.05)));
    }
  }
};

inline Hand drive(unsigned seed = 1) {
  Hand out;
  test::Random random(seed);
  const auto noise = [&](double size) {
    return size * (random.uniform(-1, 1) + random.uniform(-1, 1) + random.uniform(-1, 1));
  };
  const auto add = [&](const char* name, Role role) {
    out.log.channels.push_back(
        {.name = name,
         .unit = "",
         .role = role,
         .against = role == Role::manifold_pressure ? log::Against::vacuum : log::Against::air,
         .values = {}});
  };
  add("v", Role::speed), add("ay", Role::lat_acc), add("ax", Role::long_acc), add("u", Role::throttle),
      add("n", Role::rpm), add("lap", Role::lap);
  add("q", Role::fuel_flow), add("P", Role::rail_pressure), add("MAP", Role::manifold_pressure),
      add("lambda", Role::lambda), add("U", Role::battery), add("T", Role::fuel_temperature);
  out.log.parts = {0};
  double opened = -100;
  for (int i = 0; i < 36000; ++i) {
    const double t = 0.02 * i, in = std::fmod(t, 90);
    const bool stopped = t > 705;
    const bool left = in > 20 && in<26, right = in> 50 && in<54, fast = in> 70 && in < 78;
    const bool brake = (in > 17 && in < 20) || (in > 47.5 && in < 50);
    const double u = stopped ? 0 : brake || left || right ? 0.1 : fast ? 0.8 : 1.0;
    if (u > 0.8 && !out.throttle.empty() && out.throttle.back() <= 0.8) opened = t;
    const double n = stopped ? 0 : 90 + 40 * std::fmod(in, 6) / 6,
                 q = stopped ? 0 : 1e-6 + 4e-5 * u * n / 130;
    const double ay = stopped ? 0
                      : left  ? 12
                      : right ? -11
                      : fast  ? 15
                              : 0,
                 ax = stopped   ? 0
                      : brake   ? -12
                      : u > 0.9 ? 3
                                : 0;
    const double map = stopped ? 101325 : 4e4 + 6e4 * u;
    out.log.time.push_back(t);
    out.flow.push_back(q / 4.1e-5), out.throttle.push_back(u), out.lateral.push_back(ay),
        out.since_opened.push_back(t - opened);
    const double values[] = {stopped ? 0 : 45.0,
                             ay + noise(0.2),
                             ax + noise(0.2),
                             u,
                             n,
                             1 + std::floor(t / 90),
                             q,
                             stopped ? 0 : 3e5 + map - 101325 + noise(800),
                             map,
                             0.9 + noise(0.003),
                             (stopped ? 12.4 : 13.8) + noise(0.02),
                             300 + 3 * t / 720};
    for (size_t k = 0; k < std::size(values); ++k)
      out.log.channels[k].values.push_back(static_cast<float>(values[k]));
  }
  // Stopped it falls slowly.
  auto& rail = out.of(Role::rail_pressure);
  for (size_t i = 0; i < out.log.size(); ++i)
    if (out.log.time[i] > 705) rail[i] = static_cast<float>(3e5 * std::exp(-(out.log.time[i] - 705) / 120));
  return out;
}

inline Diagnosis said(const Hand& hand) {
  const auto laps = log::split_laps(hand.log);
  return diagnose(hand.log, laps, find_events(hand.log, laps, {}, "x"));
}

/// A pump that takes 8 A, and runs light where it draws gas.
inline void add_pump(Hand& h, const std::function<bool(double)>& gas) {
  std::vector<float> amps;
  for (double t : h.log.time) amps.push_back(t > 705 ? 0.f : gas(t) ? 5.f : 8.f);
  h.log.channels.push_back({.name = "I", .unit = "", .role = Role::pump_current, .values = std::move(amps)});
}

}  // namespace uadze::diagnosis
