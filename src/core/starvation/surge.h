#pragma once
// The surge tank's own tilted surface: which volume its pickup can not reach.
//
//        |  /|      An upright cylinder of radius R and height H. The surface is the plane normal to f; it is
//        | / |      taken as settled at once (a litre and a half swings several times a second). The pickup
//        |/  |      stands on the floor:
//        o---+        bare:    volume below the plane through the pickup: it draws gas only
//      pickup         covered: below the plane its critical submergence higher: fuel only; between, by
//      volume.
//
// Example:
//   const starvation::SurgeTank surge{.volume = 1.5e-3};
//   const auto level = surge_reach(surge, {0, 0, -9.81}, 72e-6), cornering = surge_reach(surge, {0, -9.81, -9.81}, 72e-6);
//   EXPECT_GT(cornering.bare, level.bare);
//   EXPECT_GE(cornering.covered, cornering.bare);
#include "core/starvation/fuel_system.h"

namespace uadze::starvation {

/// m3 of an upright cylinder (radius, height in m, floor at 0) below the plane z = at_axis + slope x.
/// Closed form: chords 2 sqrt(R2 - x2) integrated between the lines where the plane meets floor and lid.
double cylinder_below(double radius, double height, double at_axis, double slope);

double surge_height(const SurgeTank& surge);  ///< m: entered, or twice the diameter
double surge_radius(const SurgeTank& surge);  ///< m

struct SurgeReach {
  double bare = 0.0, covered = 0.0;  ///< m3
};

/// Under f (m/s2) at the main pump's flow (m3/s). Upside down the pickup is bare at any volume.
SurgeReach surge_reach(const SurgeTank& surge, const Vec3& f, double flow);

}  // namespace uadze::starvation
