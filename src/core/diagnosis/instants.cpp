#include "core/diagnosis/instants.h"

#include <algorithm>
#include <cmath>
#include <limits>

#include "core/log/filter.h"
#include "core/log/flow.h"

namespace uadze::diagnosis {
namespace {

using log::Role;

constexpr double not_a_number = std::numeric_limits<double>::quiet_NaN();

double percentile(std::vector<double> values, double share) {
  if (values.empty()) return 0;
  const auto at =
      values.begin() + static_cast<std::ptrdiff_t>(share * static_cast<double>(values.size() - 1));
  std::nth_element(values.begin(), at, values.end());
  return *at;
}

/// How long the pressure takes to fall to 1/e where the engine stands still after it ran.
std::optional<double> fall_time(const log::Log& log, const Found& found, Instants::Fall& first_fall) {
  const auto rpm = log.values(Role::rpm);
  if (rpm.empty() || found.difference.empty()) return std::nullopt;
  // The rail over air, by its own fall: the manifold is at the air's pressure then.
  double sum_tt = 0, sum_ty = 0;
  bool any = false;
  for (size_t i = 1; i < log.size(); ++i) {
    if (rpm[i] > 1 || rpm[i - 1] <= 1) continue;
    const double begin = log.time[i] + 0.5;
    const size_t first = log.index_at(begin);
    if (found.difference[first] < 0.3 * found.usual) continue;
    size_t last = first;
    while (last + 1 < log.size() && rpm[last + 1] <= 1 && log.time[last + 1] - begin < 20 &&
           found.difference[last + 1] > 0.05 * found.usual)
      ++last;
    // Until it is nearly gone, or for three seconds at least.
    const bool gone = last + 1 < log.size() && found.difference[last + 1] <= 0.05 * found.usual;
    if (log.time[last] - begin < (gone ? 0.3 : 3.0)) continue;
    if (!any)
      for (size_t k = first; k <= last; k += 1 + (last - first) / 400)
        first_fall.time.push_back(log.time[k] - log.time[i]),
            first_fall.difference.push_back(found.difference[k]);
    any = true;
    for (size_t k = first; k <= last; ++k) {
      const double t = log.time[k] - log.time[first],
                   y = std::log(found.difference[first] / std::max(found.difference[k], 1.0));
      sum_tt += t * t, sum_ty += t * y;
    }
  }
  if (!any) return std::nullopt;
  const double rate = sum_tt > 0 ? sum_ty / sum_tt : 0;
  return rate > 1e-4 ? 1 / rate : 1e4;
}

}  // namespace

Instants instants_of(const log::Log& log, const log::Laps& laps, const Found& found) {
  Instants out;
  if (log.size() < 20 || found.difference.size() != log.size() || found.usual <= 0) return out;
  const auto rpm = log.values(Role::rpm), throttle = log.values(Role::throttle),
             lambda = log.values(Role::lambda), supply = log.values(Role::battery),
             current = log.values(Role::pump_current), temperature = log.values(Role::fuel_temperature),
             lat = log.values(Role::lat_acc), lon = log.values(Role::long_acc),
             up = log.values(Role::vert_acc);
  const log::Channel *manifold = log.channel(Role::manifold_pressure),
                     *outside = log.channel(Role::air_pressure);
  const log::FlowAlong along = log::flow_along(log);
  const std::vector<double>& flow = along.values;
  out.flow_from = name_of(along.from);
  const double most = std::max(percentile(flow, 0.995), 1e-300);
  double all = 0;
  for (size_t i = 1; i < log.size(); ++i) all += std::max(flow[i], 0.0) * (log.time[i] - log.time[i - 1]);
  std::vector<double> volts;
  for (size_t i = 0; i < log.size(); ++i) {
    const bool runs = rpm.empty() || rpm[i] > 15;
    if (!supply.empty() && runs) volts.push_back(supply[i]);
  }
  const double usual_supply = percentile(std::move(volts), 0.9);
  if (!supply.empty()) out.supply = std::max(usual_supply, 1.0);
  double coldest = 1e9;
  for (float t : temperature) coldest = std::min(coldest, static_cast<double>(t));
  if (!temperature.empty()) out.coldest = coldest;

  const auto leaps = [&](size_t from, size_t to) {
    if (manifold) return std::abs(manifold->values[to] - manifold->values[from]) > 8e3f;
    return !throttle.empty() && std::abs(throttle[to] - throttle[from]) > 0.2f;
  };
  double drawn = 0, runs_since = not_a_number, opened = -1e9, shut = 0, next = 0;
  struct Part {
    double d = 0, q = 0, u = 0, ay = 0, ax = 0, ay2 = 0, amps = 0, az = 0, az2 = 0, ax2 = 0, v = 0, t = 0,
           pm = 0, la = 0;
    int n = 0;
  } part;
  for (size_t i = 0; i < log.size(); ++i) {
    const bool runs = rpm.empty() || rpm[i] > 15;
    if (i > 0) drawn += std::max(flow[i], 0.0) * std::min(log.time[i] - log.time[i - 1], 1.0);
    if (!runs) runs_since = not_a_number;
    if (runs && std::isnan(runs_since)) runs_since = log.time[i];
    if (!throttle.empty()) {
      if (throttle[i] < 0.6f) shut = log.time[i];
      if (throttle[i] > 0.8f && (i == 0 || throttle[i - 1] <= 0.8f)) opened = log.time[i];
    }
    part.d += found.difference[i] / found.usual - 1, part.q += std::max(flow[i], 0.0) / most;
    part.u += throttle.empty() ? 0.0 : static_cast<double>(throttle[i]);
    if (!lat.empty()) part.ay += lat[i], part.ay2 += lat[i] * lat[i];
    if (!lon.empty()) part.ax += lon[i], part.ax2 += lon[i] * lon[i];
    if (!up.empty()) part.az += up[i], part.az2 += up[i] * up[i];
    part.v += supply.empty() ? 0.0 : static_cast<double>(supply[i]);
    part.amps += current.empty() ? 0.0 : static_cast<double>(current[i]);
    part.t += temperature.empty() ? 0.0 : static_cast<double>(temperature[i]);
    part.la += lambda.empty() ? 0.0 : static_cast<double>(lambda[i]);
    if (manifold) {
      const double air = outside ? static_cast<double>(outside->values[i]) : standard_air;
      part.pm += manifold->against == log::Against::vacuum ? air - manifold->values[i]
                                                           : -static_cast<double>(manifold->values[i]);
    }
    ++part.n;
    if (log.time[i] < next && i + 1 < log.size()) continue;
    next = log.time[i] + out.step - 1e-6;
    const Part p = part;
    part = {};
    // The first seconds after a start prime the rail.
    if (!runs || !(log.time[i] - runs_since > 3)) continue;
    const double n = p.n;
    out.time.push_back(log.time[i]);
    out.deviation.push_back(p.d / n), out.flow.push_back(std::min(p.q / n, 1.2)),
        out.throttle.push_back(p.u / n);
    out.since_opened.push_back(throttle.empty() || throttle[i] < 0.5f ? 1e9 : log.time[i] - opened);
    out.lateral.push_back(p.ay / n), out.longitudinal.push_back(p.ax / n);
    const auto spread = [n](double sum, double squares) {
      return std::max(squares / n - sum * sum / (n * n), 0.0);
    };
    out.shaking.push_back(std::sqrt(spread(p.ay, p.ay2) + spread(p.ax, p.ax2) + spread(p.az, p.az2)));
    out.drawn.push_back(all > 0 ? drawn / all : 0),
        out.along.push_back(log.time[i] / std::max(log.duration(), 1e-9));
    if (!supply.empty()) out.lack.push_back(usual_supply - p.v / n);
    if (!current.empty()) out.current.push_back(p.amps / n);
    if (!temperature.empty()) out.warm.push_back(p.t / n - coldest);
    if (manifold) out.vacuum.push_back(p.pm / n);
    const bool load = !throttle.empty() && log.time[i] - shut > 0.5;
    if (!lambda.empty()) out.lean.push_back(load ? p.la / n : not_a_number);
    out.transient.push_back(leaps(log.index_at(log.time[i] - 0.35), i));
    double place = -1;
    int number = 0;
    for (const log::LoggedLap& lap : laps.all)
      if (log.time[i] >= lap.begin && log.time[i] < lap.end &&
          (lap.kind == log::LapKind::flying || lap.kind == log::LapKind::slow))
        place = (log.time[i] - lap.begin) / lap.duration(), number = lap.number;
    out.place.push_back(place), out.lap.push_back(number);
  }
  if (!out.current.empty()) {
    const double usual_current = percentile(out.current, 0.5);
    for (double& a : out.current) a = usual_current > 0.5 ? a / usual_current - 1 : 0.0;
  }
  // The mixture wanted goes with the throttle: what is usual is asked of instants at the same.
  std::vector<std::vector<double>> at_throttle(11);
  const auto bin = [&](size_t i) { return static_cast<size_t>(std::clamp(10 * out.throttle[i], 0.0, 10.0)); };
  for (size_t i = 0; i < out.lean.size(); ++i)
    if (!std::isnan(out.lean[i])) at_throttle[bin(i)].push_back(out.lean[i]);
  std::vector<double> usual_lambda;
  for (auto& values : at_throttle)
    usual_lambda.push_back(values.size() < 10 ? not_a_number : percentile(std::move(values), 0.4));
  for (size_t i = 0; i < out.lean.size(); ++i) out.lean[i] = out.lean[i] / usual_lambda[bin(i)] - 1;

  // Dips at the logger's own rate.
  double squares = 0, in_short = 0;
  for (size_t i = 0; i < log.size();) {
    const auto low = [&](size_t k) {
      return (rpm.empty() || rpm[k] > 15) && found.difference[k] < 0.97 * found.usual;
    };
    if (!low(i)) {
      ++i;
      continue;
    }
    size_t end = i;
    double sum = 0;
    while (end < log.size() && low(end)) sum += std::pow(found.difference[end] / found.usual - 1, 2), ++end;
    const size_t before = log.index_at(log.time[i] - 0.2),
                 after = std::min(log.index_at(log.time[i] + 0.1), log.size() - 1);
    if (log.time[std::min(end, log.size() - 1)] - log.time[i] < 0.3 && leaps(before, after)) {
      i = end;
      continue;
    }
    ++out.dips;
    squares += sum;
    if (log.time[std::min(end, log.size() - 1)] - log.time[i] < 0.3) in_short += sum;
    i = end;
  }
  out.short_dips = squares > 0 ? in_short / squares : 0.0;
  out.fall_time = fall_time(log, found, out.fall);
  return out;
}

}  // namespace uadze::diagnosis
