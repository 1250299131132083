// The surge tank's tilted surface against sums over thin slices, and its limits.
#include "core/starvation/surge.h"

#include <gtest/gtest.h>

#include <numbers>

#include "support/random_shapes.h"

namespace uadze::starvation {
namespace {

double by_slices(double radius, double height, double at_axis, double slope) {
  constexpr int n = 20000;
  double sum = 0;
  for (int i = 0; i < n; ++i) {
    const double x = radius * (-1 + 2 * (i + 0.5) / n);
    sum += 2 * std::sqrt(radius * radius - x * x) * std::clamp(at_axis + slope * x, 0.0, height);
  }
  return sum * 2 * radius / n;
}

TEST(Cylinder, BelowATiltedPlaneIsTheSumOfItsSlices) {
  test::Random random(11);
  for (int k = 0; k < 300; ++k) {
    const double r = random.uniform(0.02, 0.2), h = random.uniform(0.03, 0.4);
    const double z = random.uniform(-0.3, 0.7), s = random.uniform(-8, 8);
    const double whole = std::numbers::pi * r * r * h;
    EXPECT_NEAR(cylinder_below(r, h, z, s), by_slices(r, h, z, s), 2e-5 * whole)
        << r << " " << h << " " << z << " " << s;
    // What is over the plane is below it in the cylinder turned upside down.
    EXPECT_NEAR(cylinder_below(r, h, z, s) + cylinder_below(r, h, h - z, s), whole, 1e-12);
  }
}

TEST(Cylinder, LevelEmptyAndFull) {
  EXPECT_NEAR(cylinder_below(0.1, 0.2, 0.05, 0), std::numbers::pi * 0.01 * 0.05, 1e-15);
  EXPECT_EQ(cylinder_below(0.1, 0.2, -1, 0.3), 0);
  EXPECT_NEAR(cylinder_below(0.1, 0.2, 5, 0.3), std::numbers::pi * 0.01 * 0.2, 1e-12);
}

TEST(SurgeReach, AtRestOnlyTheSubmergenceIsOutOfReach) {
  const SurgeTank surge{.volume = 1.5e-3, .height = 0.16};
  const SurgeReach still = surge_reach(surge, Vec3(0, 0, -standard_gravity), 70e-6);
  EXPECT_NEAR(still.bare, 0, 1e-9);
  EXPECT_NEAR(still.covered,
              tank::critical_submergence(surge.pickup_radius, 70e-6, standard_gravity) * 1.5e-3 / 0.16, 1e-9);
  const SurgeReach tilted = surge_reach(surge, Vec3(0, -2 * standard_gravity, -standard_gravity), 70e-6);
  EXPECT_GT(tilted.bare, 0.1e-3);
  EXPECT_GT(tilted.covered, tilted.bare);
}

TEST(SurgeReach, AFlatTankKeepsMoreOutOfReachThanATallOne) {
  const Vec3 corner(0, -2 * standard_gravity, -standard_gravity);
  double last = 0;
  for (double height : {0.4, 0.2, 0.1, 0.05}) {
    const SurgeTank surge{.volume = 1.5e-3, .height = height};
    const double bare = surge_reach(surge, corner, 70e-6).bare;
    EXPECT_GT(bare, last);
    last = bare;
  }
}

TEST(SurgeReach, APickupWhereTheFuelGoesIsCoveredLonger) {
  // Pushed to the left the fuel goes to the right.
  const Vec3 f(0, -1.5 * standard_gravity, -standard_gravity);
  SurgeTank right{.volume = 1.5e-3, .height = 0.12}, left = right;
  right.pickup = {0, -0.04}, left.pickup = {0, 0.04};
  EXPECT_LT(surge_reach(right, f, 70e-6).bare, surge_reach(left, f, 70e-6).bare);
  EXPECT_EQ(surge_reach(right, Vec3(0, 0, 5), 70e-6).bare, 1.5e-3) << "upside down";
  EXPECT_EQ(surge_reach(right, Vec3::Zero(), 70e-6).bare, 0) << "weightless: no surface to speak of";
}

}  // namespace
}  // namespace uadze::starvation
