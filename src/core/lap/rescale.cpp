#include "core/lap/rescale.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <numeric>

#include "core/base/vector.h"

namespace uadze::lap {
namespace {

/// How far the tyres limit at each sample, 0 to 1, blended over `reach` m to both sides.
std::vector<double> tyres_limit(const Lap& lap, double reach) {
  const size_t n = lap.size();
  double hardest = 0.1;
  for (size_t i = 0; i < n; ++i) hardest = std::max(hardest, std::hypot(lap.lateral[i], lap.longitudinal[i]));
  std::vector<double> raw(n);
  for (size_t i = 0; i < n; ++i) {
    const bool open = lap.throttle.empty() ? lap.longitudinal[i] > 0 : lap.throttle[i] > 0.9;
    const double cornering = std::abs(lap.lateral[i]) / hardest;
    raw[i] = open ? std::clamp((cornering - 0.3) / 0.4, 0.0, 1.0) : 1.0;
  }
  // The most within the reach, so that nowhere more is asked of the tyres than there is; then its mean over
  // the reach again, so that nothing leaps.
  const auto over = [&](const std::vector<double>& values, auto&& of) {
    std::vector<double> out(n);
    for (size_t i = 0, a = 0, b = 0; i < n; ++i) {
      while (lap.distance[a] < lap.distance[i] - reach) ++a;
      while (b < n && lap.distance[b] <= lap.distance[i] + reach) ++b;
      out[i] = of(values.begin() + static_cast<std::ptrdiff_t>(a),
                  values.begin() + static_cast<std::ptrdiff_t>(b));
    }
    return out;
  };
  const auto most = over(raw, [](auto first, auto past) { return *std::max_element(first, past); });
  return over(most, [](auto first, auto past) {
    return std::accumulate(first, past, 0.0) / static_cast<double>(past - first);
  });
}

}  // namespace

Lap rescaled(const Lap& lap, double grip, double power) {
  const auto fail = [](const char* place, std::string expected, std::string found) {
    throw InputError(
        Message{.file = {}, .place = place, .expected = std::move(expected), .found = std::move(found)});
  };
  for (const auto& [name, factor] : {std::pair{"grip", grip}, std::pair{"power", power}})
    if (!(factor >= 0.2 && factor <= 5)) fail(name, "a factor of 0.2 to 5", fmt::format("{:.6g}", factor));
  if (lap.speed.empty() || lap.size() < 3) fail("speed", "a lap with its speed", "none");
  const size_t n = lap.size();
  const std::vector<double> tyres = tyres_limit(lap, 30.0);
  std::vector<double> faster(n);
  for (size_t i = 0; i < n; ++i)
    faster[i] = std::sqrt(std::pow(grip, tyres[i]) * std::pow(power, 2.0 / 3 * (1 - tyres[i])));
  // The same places, later or sooner.
  Lap out = lap;
  out.extra.clear();
  out.time[0] = 0;
  for (size_t i = 1; i < n; ++i)
    out.time[i] = out.time[i - 1] + (lap.time[i] - lap.time[i - 1]) / ((faster[i] + faster[i - 1]) / 2);
  for (size_t i = 0; i < n; ++i) {
    const double g = faster[i] * faster[i];
    out.speed[i] = lap.speed[i] * faster[i];
    out.lateral[i] = lap.lateral[i] * g;
    out.vertical[i] = standard_gravity + (lap.vertical[i] - standard_gravity) * g;
    if (!lap.rotation.empty()) out.rotation[i] = lap.rotation[i] * faster[i];
    // v dv/ds scaled, and what the change of the factor along the way adds.
    const size_t a = i > 0 ? i - 1 : 0, b = std::min(i + 1, n - 1);
    const double ds = lap.distance[b] - lap.distance[a];
    const double change = ds > 0 ? (faster[b] * faster[b] - faster[a] * faster[a]) / (2 * ds) : 0.0;
    out.longitudinal[i] = lap.longitudinal[i] * g + lap.speed[i] * lap.speed[i] * change;
    const double burns = faster[i] * (1 - (1 - tyres[i])) + power * (1 - tyres[i]);
    if (!lap.fuel_flow.empty()) out.fuel_flow[i] = lap.fuel_flow[i] * burns;
    if (!lap.fuel_mass_flow.empty()) out.fuel_mass_flow[i] = lap.fuel_mass_flow[i] * burns;
  }
  // At even steps again, as many a second as there were.
  const double step = lap.duration() / static_cast<double>(n - 1);
  const size_t m = std::max<size_t>(static_cast<size_t>(std::lround(out.duration() / step)) + 1, 3);
  Lap even;
  const double even_step = out.duration() / static_cast<double>(m - 1);
  for (auto channel : {&Lap::distance, &Lap::lateral, &Lap::longitudinal, &Lap::vertical, &Lap::speed,
                       &Lap::throttle, &Lap::rotation, &Lap::fuel_flow, &Lap::fuel_mass_flow}) {
    const std::vector<double>& from = out.*channel;
    if (from.empty()) continue;
    for (size_t k = 0, i = 0; k < m; ++k) {
      const double t = even_step * static_cast<double>(k);
      while (i + 2 < n && out.time[i + 1] <= t) ++i;
      const double u = std::clamp((t - out.time[i]) / (out.time[i + 1] - out.time[i]), 0.0, 1.0);
      (even.*channel).push_back(from[i] + (from[i + 1] - from[i]) * u);
    }
  }
  for (size_t k = 0; k < m; ++k) even.time.push_back(even_step * static_cast<double>(k));
  return even;
}

}  // namespace uadze::lap
