#include "core/log/laps.h"

#include <algorithm>
#include <cmath>

namespace uadze::log {
namespace {

constexpr double earth_radius = 6371008.8;  // m, mean (IUGG)

struct Part {
  size_t begin, end;  // moments
};

std::vector<Part> parts_of(const Log& log) {
  std::vector<Part> out;
  for (size_t p = 0; p < log.parts.size(); ++p)
    out.push_back({log.parts[p], p + 1 < log.parts.size() ? log.parts[p + 1] : log.size()});
  return out;
}

/// Moments (s) at which a new lap begins within a part.
using Crossings = std::vector<double>;

Crossings by_counter(const Log& log, const Part& part) {
  const auto lap = log.values(Role::lap);
  Crossings out;
  for (size_t i = part.begin + 1; i < part.end; ++i)
    if (std::lround(lap[i]) != std::lround(lap[i - 1])) out.push_back(log.time[i]);
  return out;
}

Crossings by_beacon(const Log& log, const Part& part) {
  const auto beacon = log.values(Role::beacon);
  float low = beacon[part.begin], high = low;
  for (size_t i = part.begin; i < part.end; ++i)
    low = std::min(low, beacon[i]), high = std::max(high, beacon[i]);
  Crossings out;
  if (high <= low) return out;
  const float half = (low + high) / 2;
  for (size_t i = part.begin + 1; i < part.end; ++i)
    if (beacon[i] > half && beacon[i - 1] <= half && (out.empty() || log.time[i] - out.back() > 5))
      out.push_back(log.time[i]);
  return out;
}

Crossings by_distance(const Log& log, const Part& part) {
  const auto s = log.values(Role::distance);
  Crossings out;
  for (size_t i = part.begin + 1; i < part.end; ++i)
    if (s[i] < s[i - 1] - 50 && s[i] < 0.5f * s[i - 1]) {
      // Where it is nothing, by how far the new one has come since.
      const double after =
          i + 1 < part.end ? std::max(0.0f, s[i + 1] - s[i]) / (log.time[i + 1] - log.time[i]) : 0.0;
      const double back = after > 0 ? std::min(s[i] / after, log.time[i] - log.time[i - 1]) : 0.0;
      out.push_back(log.time[i] - std::max(back, 0.0));
    }
  return out;
}

struct Line {
  Vec2 place, along;  // along the track
  double reach;
};

Crossings by_line(const Log& log, const Part& part, const std::vector<Vec2>& at, const Line& line) {
  Crossings out;
  for (size_t i = part.begin + 1; i < part.end; ++i) {
    const double a = (at[i - 1] - line.place).dot(line.along), b = (at[i] - line.place).dot(line.along);
    if (!(a < 0 && b >= 0)) continue;
    const double share = a / (a - b);
    const Vec2 where = at[i - 1] + share * (at[i] - at[i - 1]);
    if ((where - line.place).norm() > line.reach) continue;
    const double t = log.time[i - 1] + share * (log.time[i] - log.time[i - 1]);
    if (out.empty() || t - out.back() > 5) out.push_back(t);
  }
  return out;
}

/// The local plane of latitude and longitude.
Vec2 local(const Vec2& place, const Vec2& origin) {
  return earth_radius * Vec2((place.y() - origin.y()) * std::cos(origin.x()), place.x() - origin.x());
}

/// Channels of the position and whether they are angles.
struct PositionChannels {
  std::span<const float> first, second;
  bool angles = false;
};

PositionChannels position_channels(const Log& log) {
  if (const auto lat = log.values(Role::latitude), lon = log.values(Role::longitude);
      !lat.empty() && !lon.empty())
    return {lat, lon, true};
  return {log.values(Role::position_x), log.values(Role::position_y), false};
}

std::optional<Line> line_of(const Log& log, const std::vector<Vec2>& at, const LapOptions& options) {
  if (at.empty()) return std::nullopt;
  size_t i = 0;
  double reach = 25;
  if (options.line) {
    const PositionChannels channels = position_channels(log);
    const Vec2 origin(channels.first[0], channels.second[0]);
    const Vec2 wanted = channels.angles ? local(options.line->place, origin) : options.line->place - origin;
    for (size_t k = 1; k < at.size(); ++k)
      if ((at[k] - wanted).norm() < (at[i] - wanted).norm()) i = k;
    reach = options.line->reach;
    if ((at[i] - wanted).norm() > reach) return std::nullopt;
  } else {
    double fastest = -1;
    for (size_t k = 1; k + 1 < at.size(); ++k)
      if (const double v = (at[k + 1] - at[k - 1]).norm() / (log.time[k + 1] - log.time[k - 1]);
          v > fastest && v < 150)
        fastest = v, i = k;
  }
  // Its direction over some metres, as positions of satellites come in steps.
  size_t a = i, b = i;
  while (a > 0 && (at[i] - at[a]).norm() < 5) --a;
  while (b + 1 < at.size() && (at[b] - at[i]).norm() < 5) ++b;
  const Vec2 along = at[b] - at[a];
  if (along.norm() < 1) return std::nullopt;
  return Line{at[i], along.normalized(), reach};
}

double speed_near(const Log& log, double t) {
  const auto v = log.values(Role::speed);
  return v.empty() ? 1e9 : static_cast<double>(v[log.index_at(t)]);
}

}  // namespace

std::vector<Vec2> positions(const Log& log) {
  const PositionChannels channels = position_channels(log);
  std::vector<Vec2> out;
  if (channels.first.empty() || channels.second.empty()) return out;
  // A first place of nothing is a receiver that had found none yet.
  size_t first = 0;
  while (first + 1 < log.size() && channels.first[first] == 0 && channels.second[first] == 0) ++first;
  const Vec2 origin(channels.first[first], channels.second[first]);
  out.reserve(log.size());
  for (size_t i = 0; i < log.size(); ++i) {
    const size_t k = std::max(i, first);
    const Vec2 place(channels.first[k], channels.second[k]);
    out.push_back(channels.angles ? local(place, origin) : Vec2(place - origin));
  }
  return out;
}

std::vector<double> driven(const Log& log) {
  std::vector<double> out;
  const auto s = log.values(Role::distance), v = log.values(Role::speed);
  if (s.empty() && v.empty()) return out;
  out.assign(log.size(), 0.0);
  for (size_t i = 1; i < log.size(); ++i) {
    const double dt = log.time[i] - log.time[i - 1];
    double step = s.empty() ? std::max(0.0, 0.5 * (static_cast<double>(v[i]) + v[i - 1])) * dt
                            : static_cast<double>(s[i]) - s[i - 1];
    // Where it begins again the speed goes on, or the step before.
    if (step < 0 || step > 120 * dt + 5)
      step = !v.empty() ? std::max(0.0, 0.5 * (static_cast<double>(v[i]) + v[i - 1])) * dt
             : i > 1    ? out[i - 1] - out[i - 2]
                        : 0.0;
    out[i] = out[i - 1] + step;
  }
  return out;
}

std::optional<size_t> Laps::best() const {
  std::optional<size_t> out;
  for (size_t i = 0; i < all.size(); ++i)
    if (all[i].kind == LapKind::flying && (!out || all[i].duration() < all[*out].duration())) out = i;
  return out;
}

Laps split_laps(const Log& log, const LapOptions& options) {
  Laps out;
  if (log.size() < 2) return out;
  const std::vector<Vec2> at = positions(log);
  const auto line = line_of(log, at, options);
  const auto parts = parts_of(log);
  const auto crossings = [&](LapBy by) {
    std::vector<Crossings> all;
    for (const Part& part : parts) {
      switch (by) {
        case LapBy::counter:
          all.push_back(log.values(Role::lap).empty() ? Crossings() : by_counter(log, part));
          break;
        case LapBy::beacon:
          all.push_back(log.values(Role::beacon).empty() ? Crossings() : by_beacon(log, part));
          break;
        case LapBy::distance:
          all.push_back(log.values(Role::distance).empty() ? Crossings() : by_distance(log, part));
          break;
        case LapBy::line:
          all.push_back(line ? by_line(log, part, at, *line) : Crossings());
          break;
        case LapBy::whole:
          all.emplace_back();
          break;
      }
    }
    return all;
  };
  std::vector<Crossings> found(parts.size());
  for (LapBy by : {LapBy::counter, LapBy::beacon, LapBy::distance, LapBy::line}) {
    if (options.by && *options.by != by) continue;
    auto tried = crossings(by);
    if (std::all_of(tried.begin(), tried.end(), [](const Crossings& c) { return c.empty(); })) continue;
    out.by = by, found = std::move(tried);
    break;
  }

  const std::vector<double> way = driven(log);
  const auto way_at = [&](double t) {
    if (way.empty()) return 0.0;
    const size_t i = log.index_at(t);
    if (i + 1 >= log.size()) return way[i];
    return way[i] + (way[i + 1] - way[i]) * (t - log.time[i]) / (log.time[i + 1] - log.time[i]);
  };
  std::vector<std::pair<size_t, size_t>> ends;  // first and last lap of each part
  for (size_t p = 0; p < parts.size(); ++p) {
    std::vector<double> marks{log.time[parts[p].begin]};
    marks.insert(marks.end(), found[p].begin(), found[p].end());
    marks.push_back(log.time[parts[p].end - 1]);
    const size_t first = out.all.size();
    for (size_t k = 0; k + 1 < marks.size(); ++k) {
      if (marks[k + 1] - marks[k] < 0.5) continue;
      out.all.push_back({.number = static_cast<int>(out.all.size()) + 1,
                         .begin = marks[k],
                         .end = marks[k + 1],
                         .length = way_at(marks[k + 1]) - way_at(marks[k]),
                         .kind = found[p].empty() ? LapKind::part : LapKind::flying});
    }
    if (out.all.size() > first) ends.emplace_back(first, out.all.size() - 1);
  }

  // A part's first and last laps are whole ones only if they are as long as the others and driven through.
  std::vector<double> lengths, times;
  const auto is_end = [&](size_t i) {
    return std::any_of(ends.begin(), ends.end(),
                       [&](const auto& e) { return e.first == i || e.second == i; });
  };
  for (size_t i = 0; i < out.all.size(); ++i)
    if (out.all[i].kind == LapKind::flying && !is_end(i))
      lengths.push_back(out.all[i].length), times.push_back(out.all[i].duration());
  const auto middle = [](std::vector<double> v) {
    if (v.empty()) return 0.0;
    const auto at_middle = v.begin() + static_cast<std::ptrdiff_t>(v.size() / 2);
    std::nth_element(v.begin(), at_middle, v.end());
    return *at_middle;
  };
  const double usual = middle(lengths),
               quickest = times.empty() ? 0.0 : *std::min_element(times.begin(), times.end());
  for (const auto& [first, last] : ends) {
    LoggedLap &a = out.all[first], &b = out.all[last];
    const auto whole = [&](const LoggedLap& lap) {
      // Without a length to compare, a lap as long in time.
      const bool length = usual > 0      ? std::abs(lap.length - usual) < 0.03 * usual
                          : quickest > 0 ? lap.duration() > 0.9 * quickest
                                         : false;
      return length;
    };
    if (a.kind == LapKind::flying && (!whole(a) || speed_near(log, a.begin) < 5)) a.kind = LapKind::out;
    if (&a != &b && b.kind == LapKind::flying && (!whole(b) || speed_near(log, b.end) < 5))
      b.kind = LapKind::in;
  }
  double best = 1e300;
  for (const LoggedLap& lap : out.all)
    if (lap.kind == LapKind::flying) best = std::min(best, lap.duration());
  for (LoggedLap& lap : out.all)
    if (lap.kind == LapKind::flying && lap.duration() > options.slow * best) lap.kind = LapKind::slow;
  return out;
}

}  // namespace uadze::log
