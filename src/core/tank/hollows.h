#pragma once
// Floors with a hump: hollows that join only over it. A space has one surface, so fuel that leans away from a
// hump would lie on both of its sides at once; the space has to be parted where this finds one.
//
//      |                     |        z of the saddle: the lowest way from the one hollow to the other
//      |       ______        |
//      |______|......|_______|        Upright lines through the solid give its floors; taken from the lowest
//        left          right          upward, floors that touch become one hollow, and where two hollows
//                                     meet that both hold something, there is a hump (a merge tree).
//
// Limits: lines stand a 64th of the tank's longer side apart, so a ridge or a way round it that is narrower
// may be missed.
//
// Example:
//   const tank::Solid saddle = make_solid(tank::Saddle{{-0.1, -0.3, 0}, {0.1, 0.3, 0.25}, -0.1, 0.1, 0.12});
//   const auto humps = tank::humps_of(saddle);
//   ASSERT_EQ(humps.size(), 1u);
//   EXPECT_NEAR(humps[0].top, 0.12, 1e-9);
//   EXPECT_NEAR(humps[0].smaller, 0.2 * 0.2 * 0.12, 1e-4);      // m3, of either side
#include "core/tank/solid.h"

namespace uadze::tank {

struct Hump {
  double top = 0.0;         ///< m: z at which the hollows join
  double smaller = 0.0;     ///< m3 that the smaller hollow holds below that
  Vec3 one = Vec3::Zero();  ///< m: the middles of the larger hollow and of the smaller, filled to that
  Vec3 other = Vec3::Zero();
};

/// From the lowest to the highest. Hollows of less than a hundredth of the solid's volume are none. What
/// `filled` takes of the solid counts as part of it: one can go round what stands on a floor.
std::vector<Hump> humps_of(const Solid& solid, const std::vector<Solid>& filled = {});

}  // namespace uadze::tank
