#pragma once
// What is amiss with a tank that was put together: spaces that fuel or gas can not leave, and floors with two
// hollows, for which the model has one surface.
//
// Example:
//   const tank::TankParts parts{.shapes = {tank::Box{{0, 0, 0}, {0.6, 0.4, 0.3}}}};
//   const tank::Assembly box = tank::assemble(parts);
//   EXPECT_TRUE(check_ways(box.tank, *box.parts, true).empty()) << "one space needs none";
//   EXPECT_TRUE(check_humps(box.tank, *box.parts, {0}).empty());
#include <string>
#include <vector>

#include "core/tank/tank.h"

namespace uadze::tank {

/// Of each space: a way in and out, a way for gas. `parts`: what the tank was made of; the faults' places are
/// members of it. `sound`: whether all its openings were made, so that none is missing for another fault.
Faults check_ways(const Tank& tank, const TankParts& parts, bool sound);

/// A space has one surface: over a hump it would be two. `of_foam`: of each space.
Faults check_humps(const Tank& tank, const TankParts& parts, const std::vector<char>& of_foam);

/// "(120, -30, 45) mm"
std::string point_in_mm(const Vec3& point);

}  // namespace uadze::tank
