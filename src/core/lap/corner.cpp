#include "core/lap/corner.h"

#include <fmt/format.h>

#include <cmath>

namespace uadze::lap {

const Corner* corner_at(const std::vector<Corner>& corners, double distance) {
  for (const Corner& c : corners)
    if (distance >= c.from && distance <= c.to) return &c;
  return nullptr;
}

std::string place_at(const std::vector<Corner>& corners, double distance) {
  if (const Corner* corner = corner_at(corners, distance)) return corner->name;
  const Corner *before = nullptr, *after = nullptr;
  for (const Corner& c : corners) {
    if (c.to < distance && (!before || c.to > before->to)) before = &c;
    if (c.from > distance && (!after || c.from < after->from)) after = &c;
  }
  if (after && (!before || after->from - distance < distance - before->to)) return "before " + after->name;
  if (before) return "after " + before->name;
  return fmt::format("at {:.0f} m", distance);
}

std::string in_words(const std::string& place) {
  for (const char* begin : {"before ", "after ", "at "})
    if (place.starts_with(begin)) return place;
  return "in " + place;
}

std::string at_place(const std::vector<Corner>& corners, double distance) {
  return in_words(place_at(corners, distance));
}

std::string turning(double lateral) {
  if (lateral > 0.15 * standard_gravity) return "left-hand";
  if (lateral < -0.15 * standard_gravity) return "right-hand";
  return "";
}

std::string phase(double longitudinal, double speed) {
  if (longitudinal < -0.3 * standard_gravity) return "braking";
  if (longitudinal > 0.15 * standard_gravity) return speed < 20 ? "launch" : "speeding up";
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

}  // namespace

std::string driving_phase(const std::vector<Corner>& corners, const Lap& lap, size_t i) {
  const double along = lap.longitudinal[i];
  if (launched(lap, i)) return "launch";
  if (along < -0.3 * standard_gravity) return "braking";
  if (const Corner* corner = corner_at(corners, lap.distance[i])) {
    const double part = (lap.distance[i] - corner->from) / std::max(corner->to - corner->from, 1e-9);
    return part < 1.0 / 3 ? "turn-in" : part > 2.0 / 3 ? "exit" : "mid-corner";
  }
  return std::abs(lap.lateral[i]) > 0.5 * standard_gravity ? "mid-corner" : "straight";
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
