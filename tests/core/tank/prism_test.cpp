#include "core/tank/prism.h"

#include <gtest/gtest.h>
#include <cmath>
#include <numbers>

#include "core/tank/clip.h"
#include "support/random_shapes.h"

namespace uadze::tank {
namespace {

using test::Random;

// ---- an independent integration: slices across the axis, each a polygon cut by a line
// -----------------------------

/// Area and first moment of the part of the polygon with n.p <= h (Sutherland and Hodgman, then the
/// shoelace).
std::pair<double, Vec2> slice(const std::vector<Vec2>& polygon, const Vec2& n, double h) {
  std::vector<Vec2> kept;
  for (size_t i = 0; i < polygon.size(); ++i) {
    const Vec2 &a = polygon[i], &b = polygon[(i + 1) % polygon.size()];
    const double da = n.dot(a) - h, db = n.dot(b) - h;
    if (da <= 0) kept.push_back(a);
    if ((da < 0 && db > 0) || (da > 0 && db < 0)) kept.push_back(a + (b - a) * (da / (da - db)));
  }
  double area = 0;
  Vec2 first = Vec2::Zero();
  for (size_t i = 0; i < kept.size(); ++i) {
    const Vec2 &a = kept[i], &b = kept[(i + 1) % kept.size()];
    const double c = a.x() * b.y() - a.y() * b.x();
    area += c / 2;
    first += c / 6 * (a + b);
  }
  return {area, first};
}

/// Volume and first moment by Gauss-Legendre between the places where the plane passes a corner of the
/// profile: exact, as the integrand is a polynomial there.
Moments by_slices(const Prism& prism, const Plane& plane) {
  const auto [i, j] = profile_axes(prism.axis);
  const int k = static_cast<int>(prism.axis);
  const Vec2 n(plane.normal[i], plane.normal[j]);
  const double along = plane.normal[k];
  std::vector<double> breaks{prism.from, prism.to};
  for (const Vec2& p : prism.profile)
    if (std::abs(along) > 1e-12) {
      const double s = (plane.offset - n.dot(p)) / along;
      if (s > prism.from && s < prism.to) breaks.push_back(s);
    }
  std::sort(breaks.begin(), breaks.end());
  constexpr double x[] = {-0.8611363115940526, -0.3399810435848563, 0.3399810435848563, 0.8611363115940526};
  constexpr double w[] = {0.3478548451374538, 0.6521451548625461, 0.6521451548625461, 0.3478548451374538};
  Moments out;
  const double sign = polygon_area(prism.profile) < 0 ? -1 : 1;
  for (size_t b = 0; b + 1 < breaks.size(); ++b) {
    const double mid = (breaks[b] + breaks[b + 1]) / 2, half = (breaks[b + 1] - breaks[b]) / 2;
    for (int q = 0; q < 4; ++q) {
      const double s = mid + half * x[q];
      const auto [area, first] = slice(prism.profile, n, plane.offset - along * s);
      out.volume += sign * half * w[q] * area;
      out.first[i] += sign * half * w[q] * first.x();
      out.first[j] += sign * half * w[q] * first.y();
      out.first[k] += sign * half * w[q] * area * s;
    }
  }
  return out;
}

TEST(Prism, RandomPrismsUnderRandomPlanesAgreeWithSlices) {
  Random random(20261);
  for (int n = 0; n < 600; ++n) {
    const Prism prism = random.prism();
    ASSERT_TRUE(profile_faults(prism.profile).empty());
    const Solid solid = make_solid(prism);
    const Vec3 normal = n % 7 == 0 ? Vec3(Vec3::Unit(n % 3)) : random.direction();
    PlaneCutter cutter(solid);
    cutter.aim(normal);
    const Plane plane{normal, random.uniform(cutter.lowest(), cutter.highest())};
    const Moments exact = by_slices(prism, plane), found = moments_below(solid, plane);
    const double scale = solid.volume();
    EXPECT_NEAR(found.volume, exact.volume, 1e-12 * scale + 1e-15) << n;
    EXPECT_NEAR((found.first - exact.first).norm(), 0, 1e-11 * scale) << n;
    EXPECT_NEAR(cutter.below(plane.offset).volume, exact.volume, 1e-12 * scale + 1e-15) << n;
  }
}

TEST(Prism, WholeVolumeIsAreaTimesLength) {
  Random random(7);
  for (int n = 0; n < 200; ++n) {
    const Prism prism = random.prism();
    EXPECT_NEAR(make_solid(prism).volume(), std::abs(polygon_area(prism.profile)) * (prism.to - prism.from),
                1e-14);
  }
}

TEST(Prism, EveryEdgeIsSharedByTwoFacesThatRunItBothWays) {
  Random random(11);
  for (int n = 0; n < 50; ++n) {
    const Solid solid = make_solid(random.prism());
    std::map<std::pair<int, int>, int> directed;
    for (const Triangle& t : solid.triangles())
      for (int k = 0; k < 3; ++k) ++directed[{t[k], t[(k + 1) % 3]}];
    for (const auto& [edge, count] : directed) {
      EXPECT_EQ(count, 1);
      EXPECT_EQ((directed.contains({edge.second, edge.first})), true);
    }
  }
}

TEST(Prism, PartsBelowAndAboveMakeTheWhole) {
  Random random(5);
  for (int n = 0; n < 200; ++n) {
    const Solid solid = make_solid(random.prism());
    const Vec3 normal = random.direction();
    PlaneCutter cutter(solid);
    cutter.aim(normal);
    const double offset = random.uniform(cutter.lowest(), cutter.highest());
    const Moments below = moments_below(solid, {normal, offset}),
                  above = moments_below(solid, {-normal, -offset});
    EXPECT_NEAR(below.volume + above.volume, solid.volume(), 1e-13);
    EXPECT_NEAR((below.first + above.first - solid.volume() * solid.centroid()).norm(), 0, 1e-13);
    EXPECT_NEAR(section(solid, {normal, offset}).area, section(solid, {-normal, -offset}).area, 1e-12);
  }
}

TEST(Prism, TriangulationCoversThePolygonAndNothingElse) {
  Random random(3);
  for (int n = 0; n < 200; ++n) {
    const auto polygon = random.polygon(random.whole(3, 14));
    double sum = 0;
    for (const Triangle& t : triangulate(polygon)) {
      const double area = polygon_area({polygon[t[0]], polygon[t[1]], polygon[t[2]]});
      EXPECT_GE(area, -1e-15);
      sum += area;
    }
    EXPECT_NEAR(sum, std::abs(polygon_area(polygon)), 1e-14);
  }
}

TEST(Prism, FaultsOfTheProfileAreNamedAtTheirPoint) {
  const auto fault = [](std::vector<Vec2> points) {
    const auto faults = profile_faults(points);
    return faults.empty() ? std::string("none") : std::to_string(faults[0].point) + " " + faults[0].found;
  };
  EXPECT_EQ(fault({{0, 0}, {1, 0}, {1, 1}}), "none");
  EXPECT_EQ(fault({{0, 0}, {1, 0}}), "-1 2 points");
  EXPECT_EQ(fault({}), "-1 0 points");
  EXPECT_NE(fault({{0, 0}, {1, 1}, {1, 0}, {0, 1}}).find("meets the side"), std::string::npos) << "a bow tie";
  EXPECT_NE(fault({{0, 0}, {1, 0}, {1, 0}, {0, 1}}).find("2 the same point again"), std::string::npos);
  EXPECT_NE(fault({{0, 0}, {1, 0}, {2, 0}}).find("all points on one line"), std::string::npos) << "flat";
  EXPECT_NE(fault({{0, 0}, {2, 0}, {2, 2}, {1, 0}, {0, 2}}).find("meets"), std::string::npos)
      << "touches itself";
}

TEST(Prism, AsManySidesAsCanBeHeldAgainstEachOther) {
  std::vector<Vec2> round;
  for (int k = 0; k < most_profile_points; ++k) {
    const double a = 2 * std::numbers::pi * k / most_profile_points;
    round.push_back({0.3 * std::cos(a), 0.3 * std::sin(a)});
  }
  EXPECT_TRUE(profile_faults(round).empty());
  round.push_back({0.31, -0.001});
  ASSERT_EQ(profile_faults(round).size(), 1u);
  EXPECT_EQ(profile_faults(round)[0].expected, "500 points at most");
}

}  // namespace
}  // namespace uadze::tank
