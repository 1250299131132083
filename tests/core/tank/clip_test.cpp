#include "core/tank/clip.h"

#include <gtest/gtest.h>

#include "core/tank/shape.h"
#include "support/random_shapes.h"

namespace uadze::tank {
namespace {

using test::Random;

/// A random convex piece: a box, turned nowhere, about the origin.
Box random_box(Random& random) {
  const Vec3 a(random.uniform(-0.6, 0.3), random.uniform(-0.6, 0.3), random.uniform(-0.6, 0.3));
  return {a, a + Vec3(random.uniform(0.1, 0.7), random.uniform(0.1, 0.7), random.uniform(0.1, 0.7))};
}

/// Every edge is run along as often one way as the other.
bool closed(const Solid& solid) {
  std::map<std::pair<int, int>, int> edges;
  for (const Triangle& t : solid.triangles())
    for (size_t k = 0; k < 3; ++k) {
      const int a = t[k], b = t[(k + 1) % 3];
      edges[std::minmax(a, b)] += a < b ? 1 : -1;
    }
  return std::all_of(edges.begin(), edges.end(), [](const auto& e) { return e.second == 0; });
}

TEST(Clip, TwoHalvesMakeTheWhole) {
  Random random(301);
  for (int n = 0; n < 200; ++n) {
    const Solid solid = make_solid(random.prism());
    const Vec3 normal = random.direction();
    const Plane plane{normal, normal.dot(solid.middle()) + random.uniform(-0.2, 0.2)};
    const Solid below = clipped(solid, plane), above = clipped(solid, {-normal, -plane.offset});
    EXPECT_TRUE(closed(below) && closed(above)) << n;
    EXPECT_NEAR(below.volume(), moments_below(solid, plane).volume, 1e-13) << n;
    EXPECT_NEAR(below.volume() + above.volume(), solid.volume(), 1e-13) << n;
  }
}

TEST(Clip, APlaneOnAWallTakesNothingAndAll) {
  const Solid box = make_solid(Box{{-0.3, -0.2, 0}, {0.3, 0.2, 0.25}});
  EXPECT_NEAR(clipped(box, {Vec3::UnitX(), 0.3}).volume(), box.volume(), 1e-15);
  EXPECT_TRUE(clipped(box, {-Vec3::UnitX(), -0.3}).triangles().empty());
  EXPECT_EQ(clipped(box, {Vec3::UnitX(), 0.3}).triangles().size(), 12u) << "no slivers";
}

TEST(Clip, InsideAndOutsideOfABodyMakeTheWhole) {
  Random random(303);
  for (int n = 0; n < 100; ++n) {
    const Solid solid = make_solid(random.prism());
    const Solid inside = clipped(solid, convex_pieces(Shape(random_box(random))));
    const Solid outside = together({{&solid, 1.0}, {&inside, -1.0}});
    for (int k = 0; k < 20; ++k) {
      const Vec3 normal = random.direction();
      const Plane plane{normal, random.uniform(-0.5, 0.5)};
      const double whole = moments_below(solid, plane).volume;
      EXPECT_NEAR(moments_below(inside, plane).volume + moments_below(outside, plane).volume, whole, 1e-13);
      EXPECT_GE(moments_below(outside, plane).volume, -1e-13);
    }
  }
}

TEST(Clip, CompactedHasTheSameSumsInFewerTriangles) {
  Random random(305);
  size_t before = 0, after = 0;
  for (int n = 0; n < 100; ++n) {
    const Solid solid = make_solid(random.prism());
    const Solid inside = clipped(solid, convex_pieces(Shape(random_box(random))));
    const Solid foam = clipped(solid, convex_pieces(Shape(random_box(random))));
    const Solid mixed = together({{&solid, 1.0}, {&inside, -1.0}, {&foam, -0.05}});
    const Solid compact = compacted(mixed);
    before += mixed.triangles().size(), after += compact.triangles().size();
    for (int k = 0; k < 10; ++k) {
      const Vec3 normal = random.direction();
      PlaneCutter a(mixed), b(compact);
      a.aim(normal), b.aim(normal);
      const double offset = random.uniform(-0.5, 0.5);
      const auto one = a.cut(offset), other = b.cut(offset);
      EXPECT_NEAR(one.below.volume, other.below.volume, 1e-13) << n;
      EXPECT_NEAR((one.below.first - other.below.first).norm(), 0, 1e-13) << n;
      EXPECT_NEAR(one.section.area, other.section.area, 1e-11) << n;
      EXPECT_NEAR((one.section.second() - other.section.second()).norm(), 0, 1e-11) << n;
      EXPECT_NEAR(b.below(offset).volume, other.below.volume, 1e-13) << "both ways of summing";
    }
  }
  EXPECT_LT(after, before * 9 / 10);
}

TEST(Clip, ManyTrianglesAreCutByGroupsToTheSameSums) {
  // A ball of some thousand triangles goes through the groups; its halves through plain sums.
  Random random(307);
  const Solid ball = make_solid(Sphere{{0.1, -0.2, 0.3}, 0.25});
  ASSERT_FALSE(ball.groups().empty());
  std::vector<Vec3> v = ball.vertices();
  for (int n = 0; n < 50; ++n) {
    const Vec3 normal = random.direction();
    PlaneCutter cutter(ball);
    cutter.aim(normal);
    const double wanted = random.uniform(0.02, 0.98) * ball.volume();
    const double offset = cutter.offset_for(wanted).offset;
    const auto cut = cutter.cut(offset);
    EXPECT_NEAR(cut.below.volume, wanted, 1e-12 * ball.volume());
    // By hand, triangle by triangle, on the clipped body.
    const Solid below = clipped(ball, {normal, offset});
    EXPECT_NEAR(below.volume(), wanted, 1e-12 * ball.volume());
    EXPECT_NEAR((below.centroid() - cut.below.centroid()).norm(), 0, 1e-11);
  }
}

TEST(Clip, SettledVolumesAgreeWithCountingPoints) {
  // Random meshes against Monte Carlo: the share of random points that are inside and below the plane.
  Random random(309);
  for (int n = 0; n < 8; ++n) {
    const Solid solid = make_solid(random.prism());
    PlaneCutter cutter(solid);
    const Vec3 normal = random.direction();
    cutter.aim(normal);
    const double offset = cutter.offset_for(random.uniform(0.2, 0.8) * solid.volume()).offset;
    const Vec3 low = solid.lower_corner(), size = solid.upper_corner() - low;
    int inside = 0;
    constexpr int points = 20000;
    for (int k = 0; k < points; ++k) {
      const Vec3 p =
          low + size.cwiseProduct(Vec3(random.uniform(0, 1), random.uniform(0, 1), random.uniform(0, 1)));
      inside += normal.dot(p) < offset && solid.contains(p);
    }
    const double box = size.prod(), share = cutter.cut(offset).below.volume / box;
    EXPECT_NEAR(static_cast<double>(inside) / points, share, 4 * std::sqrt(share * (1 - share) / points))
        << n;
  }
}

}  // namespace
}  // namespace uadze::tank
