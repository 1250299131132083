#include "core/slosh/settled.h"

#include <gtest/gtest.h>

#include "core/tank/prism.h"
#include "support/figures.h"
#include "support/random_shapes.h"

namespace uadze::slosh {
namespace {

using test::g;

tank::Tank box() {
  return tank::plain_tank(tank::make_solid(
      tank::Prism{tank::Axis::x, {{-0.3, 0}, {0.3, 0}, {0.3, 0.4}, {-0.3, 0.4}}, -0.25, 0.25}));
}

/// The surface under f from a fresh start.
tank::Plane surface_of(const tank::Tank& tank, double volume, const Vec3& f) {
  SettledTank settled(tank, {volume});
  settled.update(f);
  return settled.surface(0);
}

TEST(Settled, TiltIsAccelerationOverGravity) {
  const tank::Tank solid = box();
  for (const Vec3& a :
       {Vec3(0, 0.2 * g, 0), Vec3(-0.4 * g, 0, 0), Vec3(0.2 * g, -0.3 * g, 0), Vec3(0, 0, 0)}) {
    // Deep enough for the surface to meet only the walls: it turns about the middle of the level surface.
    const tank::Plane surface = surface_of(solid, 0.06, effective_gravity(a));
    EXPECT_NEAR(surface.normal.x() / surface.normal.z(), a.x() / g, 1e-12);
    EXPECT_NEAR(surface.normal.y() / surface.normal.z(), a.y() / g, 1e-12);
    EXPECT_NEAR(surface.offset / surface.normal.z(), 0.06 / (0.6 * 0.5), 1e-12);
  }
}

TEST(Settled, FuelGoesAgainstTheAcceleration) {
  const tank::Tank solid = box();
  const auto centroid = [&](const Vec3& a) {
    const tank::Plane surface = surface_of(solid, 0.01, effective_gravity(a));
    return moments_below(solid.whole, surface).centroid();
  };
  EXPECT_LT(centroid({g, 0, 0}).x(), -0.1) << "speeding up: to the rear";
  EXPECT_GT(centroid({-g, 0, 0}).x(), 0.1) << "braking: forward";
  EXPECT_LT(centroid({0, g, 0}).y(), -0.1) << "a left-hand corner: to the right";
}

TEST(Settled, WeightlessKeepsTheLastSurface) {
  const tank::Tank tank = box();
  SettledTank settled(tank, {0.02});
  settled.update(effective_gravity({0, 0.5 * g, 0}));
  const tank::Plane before = settled.surface(0);
  settled.update(Vec3(0.01, 0, -0.02));
  EXPECT_EQ(before.normal, settled.surface(0).normal);
  EXPECT_NEAR(before.offset, settled.surface(0).offset, 1e-12);
}

TEST(Settled, UpsideDownTheFuelIsAtTheTop) {
  const tank::Tank solid = box();
  const tank::Plane surface = surface_of(solid, 0.03, Vec3(0, 0, 3 * g));
  EXPECT_NEAR(moments_below(solid.whole, surface).centroid().z(), 0.4 - 0.05, 1e-12);
}

TEST(Settled, HistoryDoesNotChangeTheAnswer) {
  test::Random random(51);
  for (int n = 0; n < 40; ++n) {
    const tank::Tank solid = tank::plain_tank(tank::make_solid(random.prism()));
    const double volume = random.uniform(0.05, 0.95) * solid.volume();
    SettledTank used(solid, {volume});
    for (int k = 0; k < 20; ++k) {
      const Vec3 f = random.uniform(0.5, 6) * g * random.direction();
      used.update(f);
      const tank::Plane a = used.surface(0), b = surface_of(solid, volume, f);
      EXPECT_NEAR(a.offset, b.offset, 1e-9);
      EXPECT_NEAR(moments_below(solid.whole, a).volume, volume, 1e-11 * solid.volume());
    }
  }
}

}  // namespace
}  // namespace uadze::slosh
