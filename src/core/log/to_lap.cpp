#include "core/log/to_lap.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "core/log/filter.h"

namespace uadze::log {

Read<lap::Lap> to_lap(const Log& log, const LoggedLap& lap, const ToLapOptions& options) {
  Read<lap::Lap> out;
  const auto fail = [](std::string expected, std::string found) {
    throw InputError(
        Message{.file = {}, .place = "channels", .expected = std::move(expected), .found = std::move(found)});
  };
  std::string names;
  for (const Channel& c : log.channels)
    if (c.role != Role::none) names += (names.empty() ? "" : ", ") + std::string(info_of(c.role).label);
  for (Role needed : {Role::lat_acc, Role::long_acc})
    if (log.values(needed).empty())
      fail(fmt::format("a {}", info_of(needed).label), names.empty() ? "no known channel" : "only: " + names);
  if (log.values(Role::speed).empty() && log.values(Role::distance).empty())
    fail("a speed or a distance", "only: " + names);
  if (!(lap.duration() >= lap::shortest_lap && lap.duration() <= lap::longest_lap))
    fail(fmt::format("a lap of {:g} s to {:g} s", lap::shortest_lap, lap::longest_lap),
         fmt::format("{:.6g} s", lap.duration()));

  // Filtered with some seconds on both sides, so that the lap's own ends are not the filter's.
  const double step = 1 / options.rate, around = options.cut_off > 0 ? 3 / options.cut_off : 0;
  size_t part = 0;
  while (part + 1 < log.parts.size() && log.time[log.parts[part + 1]] <= lap.begin) ++part;
  const double first = log.time[log.parts[part]],
               last = log.time[part + 1 < log.parts.size() ? log.parts[part + 1] - 1 : log.size() - 1];
  const size_t before = static_cast<size_t>(std::floor(std::min(around, lap.begin - first) / step));
  const double begin = lap.begin - static_cast<double>(before) * step, end = std::min(lap.end + around, last);
  const size_t n = static_cast<size_t>(std::floor(lap.duration() / step + 1e-9)) + 1;
  // Filtered at the logger's own rate: what is thinned first takes the shaking down with it.
  const size_t fine =
      static_cast<size_t>(std::clamp(std::round(step / std::max(log.step(), 1e-6)), 1.0, 200.0));
  const double fine_step = step / static_cast<double>(fine);
  const auto even = [&](Role role) {
    const Channel* c = log.channel(role);
    return c ? resampled(log, c->values, c->between, begin, end, fine_step) : std::vector<double>();
  };
  const auto smooth = [&](Role role) {
    auto values = even(role);
    return options.cut_off > 0 && !values.empty() ? low_pass(values, 1 / fine_step, options.cut_off) : values;
  };
  const auto cut = [&](const std::vector<double>& values) {
    std::vector<double> kept;
    for (size_t i = 0; i < n && !values.empty(); ++i)
      kept.push_back(values[std::min((before + i) * fine, values.size() - 1)]);
    return kept;
  };
  auto lat = smooth(Role::lat_acc), lon = smooth(Role::long_acc), up = smooth(Role::vert_acc);
  const auto w = smooth(Role::yaw_rate);
  if (up.empty()) {
    up.assign(lat.size(), standard_gravity);
    out.notes.push_back({Severity::note, {}, "channels", "", "no vertical acceleration: 1 g throughout"});
  }
  const bool moved = options.from_sensor.norm() > 0;
  if (moved && w.empty())
    out.notes.push_back({Severity::warning,
                         {},
                         "channels",
                         "a yaw rate, to bring the accelerations to the tank's place",
                         "none: they are taken as they are at the sensor"});
  for (size_t i = 0; i < lat.size(); ++i) {
    Vec3 a = options.mounting.turn * Vec3(lon[i], lat[i], up[i]);
    if (moved && !w.empty()) {
      const size_t p = i > 0 ? i - 1 : 0, q = std::min(i + 1, w.size() - 1);
      a = at_place(a, w[i], q > p ? (w[q] - w[p]) / (fine_step * static_cast<double>(q - p)) : 0.0,
                   options.from_sensor);
    }
    lon[i] = a.x(), lat[i] = a.y(), up[i] = a.z();
  }
  lap::Lap& made = out.value;
  made.lateral = cut(lat), made.longitudinal = cut(lon), made.vertical = cut(up);
  for (size_t i = 0; i < n; ++i) made.time.push_back(step * static_cast<double>(i));
  made.speed = cut(even(Role::speed));
  made.throttle = cut(even(Role::throttle));
  made.rotation = cut(even(Role::rpm));
  made.fuel_flow = cut(even(Role::fuel_flow));
  if (made.fuel_flow.empty()) made.fuel_mass_flow = cut(even(Role::fuel_mass_flow));
  const std::vector<double> way = driven(log);
  made.distance.reserve(n);
  for (size_t i = 0; i < n; ++i) {
    const double t = std::min(lap.begin + step * static_cast<double>(i), last);
    const size_t k = std::min(log.index_at(t), log.size() - 2);
    made.distance.push_back(way[k] +
                            (way[k + 1] - way[k]) * (t - log.time[k]) / (log.time[k + 1] - log.time[k]));
  }
  const double origin = made.distance.front();
  for (double& s : made.distance) s -= origin;
  for (size_t i = 1; i < n; ++i) made.distance[i] = std::max(made.distance[i], made.distance[i - 1]);
  if (made.speed.empty())
    for (size_t i = 0; i < n; ++i) {
      const size_t a = i > 5 ? i - 5 : 0, b = std::min(i + 5, n - 1);
      made.speed.push_back((made.distance[b] - made.distance[a]) / (made.time[b] - made.time[a]));
    }
  for (double& p : made.throttle) p = std::clamp(p, 0.0, 1.0);
  for (auto* flow : {&made.fuel_flow, &made.fuel_mass_flow})
    for (double& q : *flow) q = std::max(q, 0.0);
  if (const auto fault = lap::absurd(made)) throw InputError(*fault);
  return out;
}

}  // namespace uadze::log
