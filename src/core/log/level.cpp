#include "core/log/level.h"

#include <algorithm>
#include <cmath>

#include "core/base/vector.h"

namespace uadze::log {

LevelAlong level_along(const Log& log, const FlowAlong& flow, const KnownFuel& known) {
  LevelAlong out;
  if (log.size() < 2) return out;
  if (known.put_in && flow.absolute) {
    const size_t n = log.size();
    std::vector<double> sum(n, 0.0);
    size_t part = 0;
    for (size_t i = 1; i < n; ++i) {
      while (part + 1 < log.parts.size() && log.parts[part + 1] <= i) ++part;
      const double dt = log.parts[part] == i ? 0.0 : log.time[i] - log.time[i - 1];
      sum[i] = sum[i - 1] + (flow.values[i] + flow.values[i - 1]) / 2 * dt;
    }
    const bool both = known.drained && sum.back() > 0 && *known.put_in > *known.drained;
    out.scale = known.scale;
    if (both) {
      out.check = FlowCheck{sum.back(), *known.put_in - *known.drained};
      out.scale = out.check->scale();
    }
    out.from = both ? "put in less burnt, drained at the end" : "put in less burnt";
    out.values.reserve(n), out.deviation.reserve(n);
    for (size_t i = 0; i < n; ++i) {
      const double burnt = out.scale * sum[i], error = known.scale_error * out.scale;
      const double spread =
          both ? error * error * sum[i] * (sum.back() - sum[i]) : error * error * sum[i] * sum[i];
      out.values.push_back(std::max(*known.put_in - burnt, 0.0));
      out.deviation.push_back(std::sqrt(known.put_in_error * known.put_in_error + spread));
    }
    return out;
  }
  const auto gauge = log.values(Role::fuel_level);
  if (gauge.empty()) {
    out.from = known.put_in ? "no flow in the log: what is burnt is not known"
                            : "not known: say what was put in, or log the gauge";
    return out;
  }
  // Half a minute about each moment, within its part: the slosh at the gauge is out of it.
  out.from = "the gauge";
  out.values.resize(log.size());
  out.deviation.assign(log.size(), 2e-3);
  for (size_t p = 0; p < log.parts.size(); ++p) {
    const size_t first = log.parts[p], past = p + 1 < log.parts.size() ? log.parts[p + 1] : log.size();
    size_t a = first, b = first;
    double sum = 0;
    for (size_t i = first; i < past; ++i) {
      while (b < past && log.time[b] <= log.time[i] + 15) sum += gauge[b], ++b;
      while (log.time[a] < log.time[i] - 15) sum -= gauge[a], ++a;
      out.values[i] = std::max(sum / static_cast<double>(b - a), 0.0);
    }
  }
  return out;
}

std::optional<GaugeCheck> gauge_check(const Log& log, const LevelAlong& level) {
  const auto gauge = log.values(Role::fuel_level), lat = log.values(Role::lat_acc),
             lon = log.values(Role::long_acc);
  if (gauge.empty() || !level.known() || level.from == "the gauge") return std::nullopt;
  GaugeCheck out;
  double sum = 0, squares = 0;
  for (size_t i = 0; i < log.size(); ++i) {
    const double push = std::hypot(lat.empty() ? 0.f : lat[i], lon.empty() ? 0.f : lon[i]);
    if (push > 0.15 * standard_gravity || !std::isfinite(gauge[i])) continue;
    const double e = gauge[i] - level.values[i];
    sum += e, squares += e * e, ++out.moments;
  }
  if (out.moments < 20) return std::nullopt;
  const double n = static_cast<double>(out.moments);
  out.mean = sum / n;
  out.deviation = std::sqrt(std::max(squares / n - out.mean * out.mean, 0.0));
  return out;
}

}  // namespace uadze::log
