#include "core/lap/corner.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <numbers>

namespace uadze::lap {

const Corner* corner_at(const std::vector<Corner>& corners, double distance) {
  for (const Corner& c : corners)
    if (distance >= c.from && distance <= c.to) return &c;
  return nullptr;
}

double around(double length, double speed_at_begin, double speed_at_end) {
  const double slower = std::min(speed_at_begin, speed_at_end),
               faster = std::max(speed_at_begin, speed_at_end);
  return slower > 5.0 && slower > 0.9 * faster ? length : 0.0;
}

double around(const Lap& lap) {
  if (lap.speed.empty()) return 0.0;
  return around(lap.distance.back() - lap.distance.front(), lap.speed.front(), lap.speed.back());
}

namespace {

/// The nearer of the corners before and behind a place that is in none.
struct Near {
  const Corner* corner = nullptr;
  bool ahead = false;
  double away = 0.0;  ///< m to its begin, or from its end
};

Near nearest(const std::vector<Corner>& corners, double distance, double round) {
  Near out;
  const auto see = [&](const Corner& c, bool ahead, double away) {
    if (away >= 0 && (!out.corner || away < out.away)) out = {&c, ahead, away};
  };
  // Where two are as near, the one behind.
  for (const Corner& c : corners) {
    see(c, false, distance - c.to);
    if (round > 0) see(c, false, distance - c.to + round);
  }
  for (const Corner& c : corners) {
    see(c, true, c.from - distance);
    if (round > 0) see(c, true, c.from - distance + round);
  }
  return out;
}

}  // namespace

std::string place_at(const std::vector<Corner>& corners, double distance, double round) {
  if (const Corner* corner = corner_at(corners, distance)) return corner->name;
  const Near near = nearest(corners, distance, round);
  return near.corner ? (near.ahead ? "before " : "after ") + near.corner->name : "";
}

std::string place_at(const std::vector<Corner>& corners, const Lap& lap, double time) {
  const std::string named = place_at(corners, lap.distance_at(time), around(lap));
  return named.empty() ? fmt::format("at {:.1f} s", time) : named;
}

std::vector<Corner> propose_corners(const Lap& lap) {
  constexpr double window = 0.4, joined = 0.4;                  // s
  constexpr double least_turn = 12.0 * std::numbers::pi / 180;  // rad
  constexpr double slowest = 2.0;                               // m/s
  const size_t n = lap.size();
  if (n < 3) return {};
  // The mean over a window about each sample, by time: a log's rate may change.
  std::vector<double> sum(n, 0.0), smooth(n);
  for (size_t i = 1; i < n; ++i)
    sum[i] = sum[i - 1] + 0.5 * (lap.lateral[i] + lap.lateral[i - 1]) * (lap.time[i] - lap.time[i - 1]);
  for (size_t i = 0, a = 0, b = 0; i < n; ++i) {
    while (lap.time[i] - lap.time[a] > window / 2) ++a;
    while (b + 1 < n && lap.time[b + 1] - lap.time[i] <= window / 2) ++b;
    smooth[i] = b > a ? (sum[b] - sum[a]) / (lap.time[b] - lap.time[a]) : lap.lateral[i];
  }
  std::vector<double> sizes;
  for (double v : smooth) sizes.push_back(std::abs(v));
  const auto hardest = sizes.begin() + static_cast<std::ptrdiff_t>(0.95 * static_cast<double>(n - 1));
  std::nth_element(sizes.begin(), hardest, sizes.end());
  const double in = std::max(0.2 * standard_gravity, 0.25 * *hardest), out = in / 2;

  struct Stretch {
    size_t from, to;
    bool left;
  };
  std::vector<Stretch> stretches;
  for (size_t i = 0; i < n; ++i) {
    if (std::abs(smooth[i]) <= in) continue;
    const bool left = smooth[i] > 0;
    const auto keeps = [&](size_t k) { return (left ? smooth[k] : -smooth[k]) > out; };
    Stretch s{i, i, left};
    while (s.from > 0 && keeps(s.from - 1)) --s.from;
    while (s.to + 1 < n && keeps(s.to + 1)) ++s.to;
    i = s.to;
    if (!stretches.empty() && stretches.back().left == left &&
        lap.time[s.from] - lap.time[stretches.back().to] < joined)
      stretches.back().to = s.to;
    else
      stretches.push_back(s);
  }
  std::vector<Corner> corners;
  for (const Stretch& s : stretches) {
    double turned = 0;
    for (size_t i = s.from + 1; i <= s.to; ++i) {
      const double dt = lap.time[i] - lap.time[i - 1];
      const double speed = lap.speed.empty() ? (lap.distance[i] - lap.distance[i - 1]) / dt
                                             : 0.5 * (lap.speed[i] + lap.speed[i - 1]);
      turned += 0.5 * (lap.lateral[i] + lap.lateral[i - 1]) * dt / std::max(speed, slowest);
    }
    if (std::abs(turned) < least_turn) continue;
    corners.push_back({fmt::format("Corner {}", corners.size() + 1), std::round(lap.distance[s.from]),
                       std::round(lap.distance[s.to]), s.left ? Hand::left : Hand::right});
  }
  return corners;
}

std::string in_words(const std::string& place) {
  for (const char* begin : {"before ", "after ", "at "})
    if (place.starts_with(begin)) return place;
  return "in " + place;
}

std::string at_place(const std::vector<Corner>& corners, const Lap& lap, double time) {
  return in_words(place_at(corners, lap, time));
}

std::string turning(double lateral) {
  if (lateral > 0.15 * standard_gravity) return "left-hand";
  if (lateral < -0.15 * standard_gravity) return "right-hand";
  return "";
}

std::string phase(double longitudinal, bool stood) {
  if (longitudinal < -0.3 * standard_gravity) return "braking";
  if (longitudinal > 0.15 * standard_gravity) return stood ? "launch" : "speeding up";
  return "steady";
}

namespace {

/// Whether the car speeds up at sample i and has done so since it stood.
bool launched(const Lap& lap, size_t i) {
  constexpr double standing = 2.0, slow = 20.0, pulling = 0.15 * standard_gravity;  // m/s, m/s, m/s2
  if (lap.speed.empty() || lap.speed[i] >= slow || lap.longitudinal[i] <= pulling) return false;
  size_t k = i;
  while (k > 0 && lap.speed[k] > standing && lap.longitudinal[k] > 0) --k;
  return lap.speed[k] <= standing;
}

/// Where a car turns outside of all named corners: on its way into the next or out of the last if it turns
/// the same way all the way there, else in a corner that nobody named.
std::string bend_beside(const std::vector<Corner>& corners, const Lap& lap, size_t i) {
  const double least = 0.15 * standard_gravity, round = around(lap);
  const Near near = nearest(corners, lap.distance[i], round);
  if (!near.corner) return "mid-corner";
  const size_t n = lap.size();
  size_t k = i;
  for (double gone = 0.0; gone < near.away;) {
    const bool turns = lap.lateral[i] > 0 ? lap.lateral[k] > least : lap.lateral[k] < -least;
    const bool over_the_line = near.ahead ? k + 1 == n : k == 0;
    if (!turns || (over_the_line && round <= 0)) return "mid-corner";
    const size_t next = near.ahead ? (k + 1) % n : (k + n - 1) % n;
    // The lap's last row is the next one's first.
    if (!over_the_line) gone += std::abs(lap.distance[next] - lap.distance[k]);
    k = next;
  }
  return near.ahead ? "turn-in" : "exit";
}

}  // namespace

std::string driving_phase(const std::vector<Corner>& corners, const Lap& lap, size_t i) {
  const double along = lap.longitudinal[i];
  if (launched(lap, i)) return "launch";
  if (along < -0.3 * standard_gravity) return "braking";
  if (const Corner* corner = corner_at(corners, lap.distance[i])) {
    const double part = (lap.distance[i] - corner->from) / std::max(corner->to - corner->from, 1e-9);
    return part < 1.0 / 3 ? "turn-in" : part > 2.0 / 3 ? "exit" : "mid-corner";
  }
  if (std::abs(lap.lateral[i]) <= 0.5 * standard_gravity) return "straight";
  return bend_beside(corners, lap, i);
}

Messages check_hands(const Lap& lap, const std::vector<Corner>& corners, const std::string& file) {
  int agree = 0, against = 0;
  std::string first;
  for (const Corner& corner : corners) {
    if (corner.hand == Hand::none) continue;
    double sum = 0;
    int count = 0;
    for (size_t i = 0; i < lap.size(); ++i)
      if (lap.distance[i] >= corner.from && lap.distance[i] <= corner.to) sum += lap.lateral[i], ++count;
    if (count == 0 || std::abs(sum / count) < 0.15 * standard_gravity) continue;
    const bool left = sum > 0;
    if (left == (corner.hand == Hand::left)) {
      ++agree;
    } else {
      ++against;
      if (first.empty())
        first = fmt::format("{:.2f} g in {}, a {}-hand corner", sum / count / standard_gravity, corner.name,
                            corner.hand == Hand::left ? "left" : "right");
    }
  }
  if (against == 0) return {};
  Message m{Severity::warning, file, "column lat_acc", "positive in left-hand corners", first};
  if (against > agree) m.found += ": the sign of the whole channel is turned round";
  return {m};
}

}  // namespace uadze::lap
