#include "core/tank/solid.h"

#include <gtest/gtest.h>

#include "core/tank/pickup.h"
#include "support/random_shapes.h"

namespace uadze::tank {
namespace {

using test::Random;

Solid box(double l, double w, double h) {
  return make_solid(Prism{Axis::y, {{-l / 2, 0}, {l / 2, 0}, {l / 2, h}, {-l / 2, h}}, -w / 2, w / 2});
}

TEST(Section, OfALevelBoxIsItsFloor) {
  const Section s = section(box(0.6, 0.4, 0.3), {Vec3::UnitZ(), 0.1});
  EXPECT_NEAR(s.area, 0.24, 1e-15);
  EXPECT_NEAR((s.centroid - Vec3(0, 0, 0.1)).norm(), 0, 1e-15);
  EXPECT_NEAR(s.second()(0, 0), 0.4 * 0.6 * 0.6 * 0.6 / 12, 1e-15);
  EXPECT_NEAR(s.second()(1, 1), 0.6 * 0.4 * 0.4 * 0.4 / 12, 1e-15);
  EXPECT_NEAR(s.second()(0, 1), 0, 1e-15);
  EXPECT_NEAR(s.second()(2, 2), 0, 1e-15);
}

TEST(Section, AreaIsTheDerivativeOfVolume) {
  Random random(23);
  for (int n = 0; n < 200; ++n) {
    const Solid solid = make_solid(random.prism());
    PlaneCutter cutter(solid);
    const Vec3 normal = random.direction();
    cutter.aim(normal);
    const double offset = random.uniform(cutter.lowest(), cutter.highest()), step = 1e-6;
    const double slope =
        (cutter.below(offset + step).volume - cutter.below(offset - step).volume) / (2 * step);
    EXPECT_NEAR(cutter.below(offset).area, slope, 1e-6);
    EXPECT_NEAR(section(solid, {normal, offset}).area, cutter.below(offset).area, 1e-12);
  }
}

// Dupin: tilting the plane about the section's centroid moves the centroid of the volume by the second
// moments over the volume.
TEST(Section, SecondMomentsGiveTheMetacentre) {
  Random random(29);
  for (int n = 0; n < 100; ++n) {
    const Solid solid = make_solid(random.prism());
    PlaneCutter cutter(solid);
    const Vec3 normal = random.direction();
    cutter.aim(normal);
    const double volume = random.uniform(0.1, 0.9) * solid.volume();
    const PlaneSolve level = cutter.offset_for(volume);
    const Section cut = section(solid, {normal, level.offset});
    const Vec3 turn = normal.unitOrthogonal();
    const double angle = 1e-5;
    const auto centroid_at = [&](double a) {
      const Vec3 tilted = (normal + a * turn).normalized();
      cutter.aim(tilted);
      return moments_below(solid, {tilted, cutter.offset_for(volume).offset}).centroid();
    };
    const Vec3 moved = (centroid_at(angle) - centroid_at(-angle)) / (2 * angle);
    EXPECT_NEAR((moved + cut.second() * turn / volume).norm(), 0, 2e-4 * (cut.second().norm() / volume)) << n;
  }
}

TEST(PlaneCutter, FindsThePlaneOfAnyVolume) {
  Random random(31);
  int most = 0;
  for (int n = 0; n < 3000; ++n) {
    const Solid solid = make_solid(random.prism());
    PlaneCutter cutter(solid);
    const Vec3 normal = n % 5 == 0 ? Vec3(Vec3::Unit(n % 3)) : random.direction();
    cutter.aim(normal);
    const double volume = std::pow(random.uniform(0, 1), 3) * solid.volume();
    const PlaneSolve solve = cutter.offset_for(volume);
    EXPECT_NEAR(moments_below(solid, {normal, solve.offset}).volume, volume, 1e-11 * solid.volume());
    EXPECT_LE(std::abs(solve.residual), 1e-9 * solid.volume());
    most = std::max(most, solve.iterations);
  }
  EXPECT_LT(most, 60) << "the search is safeguarded";
}

TEST(PlaneCutter, EmptyFullAndBeyondAreClamped) {
  const Solid solid = box(1, 1, 1);
  PlaneCutter cutter(solid);
  cutter.aim(Vec3::UnitZ());
  EXPECT_EQ(cutter.offset_for(0).stop, PlaneSolve::Stop::clamped_empty);
  EXPECT_EQ(cutter.offset_for(-1).offset, 0.0);
  EXPECT_EQ(cutter.offset_for(2).offset, 1.0);
  EXPECT_EQ(cutter.offset_for(std::nan("")).stop, PlaneSolve::Stop::clamped_empty);
}

TEST(PlaneCutter, TheGuessDoesNotChangeTheAnswer) {
  Random random(37);
  for (int n = 0; n < 300; ++n) {
    const Solid solid = make_solid(random.prism());
    PlaneCutter cutter(solid);
    cutter.aim(random.direction());
    const double volume = random.uniform(0.02, 0.98) * solid.volume();
    const double cold = cutter.offset_for(volume).offset;
    EXPECT_NEAR(cutter.offset_for(volume, random.uniform(-3, 3)).offset, cold, 1e-9);
  }
}

TEST(Solid, TiltedWedgeInABoxByHand) {
  // A box 0.6 long under 1 g sideways: 45°. With 0.02 m3 in a depth of 0.4 the wedge has legs sqrt(2 V /
  // 0.4).
  const Solid solid = box(0.6, 0.4, 0.5);
  const Vec3 normal = Vec3(-1, 0, 1).normalized();  // fuel at +x
  PlaneCutter cutter(solid);
  cutter.aim(normal);
  const Plane plane{normal, cutter.offset_for(0.02).offset};
  const double leg = std::sqrt(2 * 0.02 / 0.4);
  const Moments fuel = moments_below(solid, plane);
  EXPECT_NEAR((fuel.centroid() - Vec3(0.3 - leg / 3, 0, leg / 3)).norm(), 0, 1e-12);
  EXPECT_NEAR(section(solid, plane).area, leg * std::sqrt(2.0) * 0.4, 1e-12);
}

TEST(Solid, ContainsAgreesWithThePolygon) {
  Random random(41);
  for (int n = 0; n < 40; ++n) {
    const Prism prism = random.prism();
    const Solid solid = make_solid(prism);
    const auto [i, j] = profile_axes(prism.axis);
    for (int k = 0; k < 60; ++k) {
      Vec3 p;
      for (int a = 0; a < 3; ++a)
        p[a] = random.uniform(solid.lower_corner()[a] - 0.1, solid.upper_corner()[a] + 0.1);
      // Even-odd rule on the profile.
      bool inside = false;
      for (size_t a = 0; a < prism.profile.size(); ++a) {
        const Vec2 &u = prism.profile[a], &v = prism.profile[(a + 1) % prism.profile.size()];
        if ((u.y() > p[j]) != (v.y() > p[j]) &&
            p[i] < u.x() + (v.x() - u.x()) * (p[j] - u.y()) / (v.y() - u.y()))
          inside = !inside;
      }
      const double s = p[static_cast<int>(prism.axis)];
      inside = inside && s > prism.from && s < prism.to;
      EXPECT_EQ(solid.contains(p), inside);
    }
    for (const Vec3& corner : solid.vertices())
      EXPECT_TRUE(solid.contains(corner)) << "the surface belongs to it";
  }
}

TEST(Pickup, WetFractionOfATiltedSock) {
  const Plane tilted{Vec3(1, 0, 1).normalized(), 0.0};
  const auto wet = [&](double x) { return wet_fraction({"p", {x, 0, 0}, 0.02, "engine"}, tilted); };
  EXPECT_DOUBLE_EQ(wet(0), 0.5) << "the surface passes through its middle";
  EXPECT_EQ(wet(-0.0201), 1.0);
  EXPECT_EQ(wet(0.0201), 0.0);
  EXPECT_NEAR(wet(0.005) + wet(-0.005), 1.0, 1e-12) << "symmetric";
  // A chord at half the radius leaves 1/3 - sqrt(3)/(4 pi) of the disc.
  EXPECT_NEAR(wet(0.01), 1.0 / 3 - std::sqrt(3.0) / (4 * std::numbers::pi), 1e-12);
}

TEST(Pickup, LevelFuelCoversAllOrNothing) {
  const Pickup p{"p", {0, 0, 0.01}, 0.02, "engine"};
  EXPECT_EQ(wet_fraction(p, {Vec3::UnitZ(), 0.0101}), 1.0);
  EXPECT_EQ(wet_fraction(p, {Vec3::UnitZ(), 0.0099}), 0.0);
  EXPECT_NEAR(depth(p, {Vec3::UnitZ(), 0.05}), 0.04, 1e-15);
}

TEST(Pickup, WetFractionGrowsWithDepthAndAgreesWithSampling) {
  Random random(43);
  for (int n = 0; n < 60; ++n) {
    Vec3 normal = random.direction();
    normal.z() = std::abs(normal.z());
    const Pickup p{"p", Vec3::Zero(), random.uniform(0.005, 0.05), ""};
    const double offset = random.uniform(-0.05, 0.05);
    const Plane plane{normal, offset};
    int in = 0, all = 0;
    for (int i = -40; i <= 40; ++i)
      for (int k = -40; k <= 40; ++k) {
        const Vec3 q(p.sock_radius * i / 40, p.sock_radius * k / 40, 0);
        if (q.norm() > p.sock_radius) continue;
        ++all;
        in += normal.dot(q) < offset;
      }
    EXPECT_NEAR(wet_fraction(p, plane), static_cast<double>(in) / all, 0.03);
    EXPECT_GE(wet_fraction(p, {normal, offset + 0.001}), wet_fraction(p, plane));
  }
}

}  // namespace
}  // namespace uadze::tank
