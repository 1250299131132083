#include "core/tank/tank_check.h"

#include <fmt/format.h>

#include <algorithm>

#include "core/tank/hollows.h"

namespace uadze::tank {

std::string point_in_mm(const Vec3& p) {
  return fmt::format("({:.6g}, {:.6g}, {:.6g}) mm", p.x() * 1e3, p.y() * 1e3, p.z() * 1e3);
}

Faults check_ways(const Tank& tank, const TankParts& parts, bool sound) {
  Faults faults;
  if (tank.spaces.size() < 2) return faults;
  for (size_t s = 0; s < tank.spaces.size(); ++s) {
    const Space& space = tank.spaces[s];
    const auto own = [&](const Opening& o) {
      return o.from == static_cast<int>(s) || o.to == static_cast<int>(s);
    };
    // Of a collector's space the collector is at fault, of another the baffles are.
    const Collector* collector = nullptr;
    for (const Collector& c : parts.collectors)
      if (c.name == space.name) collector = &c;
    const auto tell = [&](Severity severity, std::string expected, std::string found) {
      add_fault(faults, severity, collector ? place_of(*collector) : place_of(parts.baffles),
                std::move(expected), std::move(found));
    };
    const auto& openings = tank.openings;
    if (std::none_of(openings.begin(), openings.end(), own)) {
      if (sound && !has_errors(faults))
        tell(Severity::error, "a way in and out of every space",
             fmt::format("no opening into \"{}\"", space.name));
      continue;
    }
    double highest = -1e300;
    bool out = false;
    for (const Opening& o : openings)
      if (own(o)) {
        const bool leaves =
            o.passes == Passes::both || (o.passes == Passes::along) == (o.from == static_cast<int>(s));
        out = out || leaves;
        for (const Cell& c : o.cells)
          if (leaves) highest = std::max(highest, c.at.z() + o.half_along(Vec3::UnitZ()));
      }
    bool drawn = false;
    for (const Pickup& p : parts.pickups) drawn = drawn || tank.space_at(p.position) == static_cast<int>(s);
    if (!out && !drawn)
      tell(Severity::warning, "a way out for the fuel, or a pickup in it",
           fmt::format("\"{}\" fills and never empties", space.name));
    const double low = space.body.lower_corner().z(), high = space.body.upper_corner().z();
    if (!space.vented && highest < high - 0.2 * (high - low))
      tell(Severity::warning,
           fmt::format("a way for gas out of the upper fifth of \"{}\" (or the vent in it)", space.name),
           out ? fmt::format("its highest opening at z {:.4g} mm: gas is locked in over it, and the space "
                             "neither fills nor empties freely",
                             highest * 1e3)
               : "none: gas is locked in, and the space does not fill freely");
  }
  return faults;
}

Faults check_humps(const Tank& tank, const TankParts& parts, const std::vector<char>& of_foam) {
  Faults faults;
  for (size_t s = 0; s < tank.spaces.size(); ++s) {
    const Space& space = tank.spaces[s];
    std::vector<Solid> standing = tank.boxes;
    for (size_t r = 0; r < tank.spaces.size(); ++r)
      if (of_foam[r] && r != s) standing.push_back(tank.spaces[r].body);
    for (const Hump& h : humps_of(space.body, standing)) {
      const auto whole_mm = [](const Vec3& p) { return Vec3((p * 1e3).array().round() / 1e3); };
      std::string expected =
          "a floor without a hump, or a baffle that stands on it, its upper edge as high as the hump "
          "(one at each edge of a flat top)";
      std::string found = fmt::format(
          "\"{}\" has two hollows, round {} and {}, that join only at z {:.4g} mm: what is in the smaller, "
          "some {:.2g} L up to there, would run through the hump as though it were not there",
          space.name, point_in_mm(whole_mm(h.one)), point_in_mm(whole_mm(h.other)), h.top * 1e3,
          h.smaller * 1e3);
      add_fault(faults, Severity::warning,
                parts.shapes.size() == 1 ? place_of(parts.shapes[0]) : place_of(parts.shapes),
                std::move(expected), std::move(found));
    }
  }
  return faults;
}

}  // namespace uadze::tank
