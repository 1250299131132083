#pragma once
// Reach of a pickup: for each direction of a steady push, the least fuel that keeps its sock covered.
//
//            braking
//        90      |      the point at angle 0 is acceleration forward (fuel runs back), 90 a left-hand corner
//     -----------+----  (fuel runs right), 180 braking; the distance from the middle is the volume.
//                |
//
// The fuel is filled level and then settles (settled.h), so that what a collector holds back counts.
//
// Example:
//   const tank::Tank tank = plain_tank(make_solid(tank::Box{{-0.3, -0.25, 0}, {0.3, 0.25, 0.3}}));
//   const auto reach = slosh::pickup_reach(tank, {"middle", {0, 0, 0}, 0.0, "engine"}, 0, 0.5, 4);
//   EXPECT_NEAR(reach.volume[1], 0.6 * 0.25 * 0.125 / 2, 1e-9);   // m3, a wedge in a steady left-hand corner
#include <vector>

#include "core/base/progress.h"
#include "core/slosh/settled.h"

namespace uadze::slosh {

struct Reach {
  double strength = 0.0;       ///< g
  std::vector<double> angle;   ///< rad, of the vehicle's acceleration from forward to the left
  std::vector<double> volume;  ///< m3; infinite where not even a full tank covers it
};

/// `space`: that the pickup is in. `strength` in g, sustained, with gravity of 1 g besides.
Reach pickup_reach(const tank::Tank& tank, const tank::Pickup& pickup, size_t space, double strength,
                   int directions = 72, Progress* progress = nullptr);

/// The least volume (m3) that keeps the pickup covered under one f; infinite if none does. Found from above,
/// so that all larger volumes tried cover it too.
double reach_volume(const tank::Tank& tank, const tank::Pickup& pickup, size_t space, const Vec3& f);

}  // namespace uadze::slosh
