#include "core/slosh/planar.h"

#include <gtest/gtest.h>

#include <cmath>
#include <numbers>

#include "core/tank/prism.h"
#include "support/figures.h"
#include "support/random_shapes.h"

namespace uadze::slosh {
namespace {

using test::down;
using test::g;
using test::pi;
using test::Random;

tank::Solid box(double length, double width, double height) {
  return tank::make_solid(
      tank::Prism{tank::Axis::y,
                  {{-length / 2, 0}, {length / 2, 0}, {length / 2, height}, {-length / 2, height}},
                  -width / 2,
                  width / 2});
}

/// Period of small motion along x, from the centroid's passes through the middle.
double period(const tank::Solid& solid, double volume, double dt) {
  PlanarSpace tank(solid, volume);
  tank.settle(Vec3(0.01 * g, 0, -g));
  double last_x = tank.centroid().x(), first = -1, t = 0;
  int passes = 0;
  while (passes < 11 && t < 60) {
    tank.step(down, dt);
    t += dt;
    const double x = tank.centroid().x();
    if ((x < 0) != (last_x < 0)) {
      const double at = t - dt * x / (x - last_x);
      if (passes++ == 0) first = at;
      if (passes == 11) return (at - first) / 5;
    }
    last_x = x;
  }
  return -1;
}

TEST(Planar, SmallMotionOfABoxHasTheFirstSloshingPeriod) {
  for (const auto& [length, depth] : {std::pair{0.6, 0.05}, {0.6, 0.2}, {0.4, 0.3}, {1.0, 0.1}}) {
    const tank::Solid solid = box(length, 0.37, 0.6);
    const double k = pi / length, wanted = 2 * pi / std::sqrt(g * k * std::tanh(k * depth));
    EXPECT_NEAR(period(solid, length * 0.37 * depth, 0.005), wanted, 0.01 * wanted)
        << length << " x " << depth;
  }
}

TEST(Planar, TheStepTheUserChoosesDoesNotMatter) {
  const tank::Solid solid = box(0.6, 0.4, 0.4);
  const auto after = [&](double dt) {
    PlanarSpace tank(solid, 0.024);
    tank.settle(down);
    for (double t = 0; t < 0.6 - 1e-9; t += dt) tank.step(Vec3(0, -0.6 * g, -g), dt);
    return tank.centroid();
  };
  const Vec3 fine = after(0.001);
  for (double dt : {0.005, 0.02, 0.1, 0.6}) EXPECT_NEAR((after(dt) - fine).norm(), 0, 0.003) << dt;
}

TEST(Planar, ComesToRestWhereTheSettledModelLies) {
  Random random(101);
  for (int n = 0; n < 15; ++n) {
    const tank::Solid solid = tank::make_solid(random.prism());
    const double volume = random.uniform(0.15, 0.85) * solid.volume();
    Vec3 f = random.direction() * random.uniform(0.8, 3) * g;
    f.z() = -std::abs(f.z()) - 0.3 * g;
    PlanarSpace tank(solid, volume, {.violent_damping = 0.5, .violent_tilt = 0.02});
    tank.settle(down);
    for (int k = 0; k < 600; ++k) tank.step(f, 0.05);
    EXPECT_NEAR((tank.surface().normal + f.normalized()).norm(), 0, 0.02) << n;
  }
}

TEST(Planar, VolumeIsKeptAndEnergyNeverGrowsWhateverTheDirection) {
  Random random(103);
  for (int n = 0; n < 40; ++n) {
    const tank::Solid solid = tank::make_solid(random.prism());
    const double volume = random.uniform(0.05, 0.95) * solid.volume();
    PlanarSpace tank(solid, volume);
    tank.settle(random.direction() * g);
    for (int phase = 0; phase < 5; ++phase) {
      // Up to 6 g, upside down, free fall.
      const Vec3 f = phase == 3 ? Vec3(Vec3::Zero()) : Vec3(random.direction() * random.uniform(0.01, 6) * g);
      double energy = tank.energy(f);
      const double scale = 6 * g * (solid.upper_corner() - solid.lower_corner()).norm();
      for (int k = 0; k < 60; ++k) {
        tank.step(f, 0.01);
        ASSERT_NEAR(moments_below(solid, tank.surface()).volume, volume, 1e-12 * solid.volume());
        ASSERT_TRUE(tank.surface().normal.allFinite());
        ASSERT_LE(tank.energy(f), energy + 1e-3 * scale) << n;
        energy = tank.energy(f);
      }
    }
  }
}

TEST(Planar, AThrownBoxArrivesLateOvershootsAndComesBack) {
  // 0.6 m wide, 1 g sideways: the settled centroid lies at the end of a swing that the fuel passes.
  const tank::Solid solid = box(0.4, 0.6, 0.5);
  const double volume = 0.4 * 0.6 * 0.15;
  const Vec3 f(0, -g, -g);
  PlanarSpace tank(solid, volume);
  tank.settle(down);
  PlanarSpace lying(solid, volume);
  lying.settle(f);
  const double rest = lying.centroid().y();
  double furthest = 0, early = 0, late = 0;
  for (int k = 1; k <= 1000; ++k) {
    tank.step(f, 0.005);
    furthest = std::min(furthest, tank.centroid().y());
    if (k == 10) early = tank.centroid().y();
    if (k == 1000) late = tank.centroid().y();
  }
  EXPECT_GT(early, 0.3 * rest) << "late (rest is negative: the fuel goes right)";
  EXPECT_LT(furthest, 1.02 * rest) << "overshoots";
  EXPECT_NEAR(late, rest, 0.1 * std::abs(rest)) << "comes back";
}

TEST(Planar, LargeMotionDiesFasterThanSmall) {
  const tank::Solid solid = box(0.6, 0.4, 0.6);
  const auto kept = [&](double tilt) {
    PlanarSpace tank(solid, 0.05);
    tank.settle(Vec3(tilt * g, 0, -g));
    const double rest = [&] {
      PlanarSpace still(solid, 0.05);
      still.settle(down);
      return still.energy(down);
    }();
    const double first = tank.energy(down) - rest;
    for (int k = 0; k < 200; ++k) tank.step(down, 0.01);
    return (tank.energy(down) - rest) / first;
  };
  EXPECT_GT(kept(0.02), 0.85) << "a smooth wall takes little";
  EXPECT_LT(kept(0.8), 0.35) << "a wave that breaks takes much";
}

TEST(Planar, AMirroredThrowGivesTheMirroredMotion) {
  const tank::Solid solid = box(0.5, 0.7, 0.4);
  PlanarSpace one(solid, 0.03), other(solid, 0.03);
  one.settle(down), other.settle(down);
  for (int k = 0; k < 200; ++k) {
    const Vec3 f(0.3 * g * std::sin(0.05 * k), 0.9 * g, -g);
    one.step(f, 0.01);
    other.step(f.cwiseProduct(Vec3(1, -1, 1)), 0.01);
    EXPECT_NEAR((one.centroid().cwiseProduct(Vec3(1, -1, 1)) - other.centroid()).norm(), 0, 1e-7);
  }
}

}  // namespace
}  // namespace uadze::slosh
