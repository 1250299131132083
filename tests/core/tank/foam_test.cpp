// Foam in a tank: what it takes, and where it parts a space. Volumes and discharges by hand.
#include "core/tank/foam.h"

#include <gtest/gtest.h>

#include "support/random_shapes.h"

namespace uadze::tank {
namespace {

using test::Random;

TankParts foamed(const Vec3& from, const Vec3& to, double permeability = 2e-7) {
  TankParts parts;
  parts.shapes = {Box{{-0.25, -0.2, 0}, {0.25, 0.2, 0.25}}};
  parts.foam = {{.name = "foam", .shape = Box{from, to}, .porosity = 0.97, .permeability = permeability}};
  return parts;
}

std::vector<std::string> names(const Tank& tank) {
  std::vector<std::string> out;
  for (const Space& s : tank.spaces) out.push_back(s.name);
  return out;
}

double edge_area(const Tank& tank) {
  double sum = 0;
  for (const Opening& o : tank.openings) sum += o.edge ? o.area : 0.0;
  return sum;
}

TEST(Foam, WithAnUprightSideIsASpaceOfItsOwn) {
  const Tank tank = assemble(foamed({0.05, -0.3, -0.1}, {0.3, 0.3, 0.3})).tank;
  ASSERT_EQ(names(tank), (std::vector<std::string>{"tank", "foam"}));
  EXPECT_NEAR(tank.spaces[0].volume(), 0.3 * 0.4 * 0.25, 1e-14);
  EXPECT_NEAR(tank.spaces[1].volume(), 0.97 * 0.2 * 0.4 * 0.25, 1e-14);
  ASSERT_EQ(tank.openings.size(), 1u);
  EXPECT_NEAR(tank.openings[0].area, 0.4 * 0.25, 1e-14);
  EXPECT_TRUE(tank.openings[0].edge);
  // By hand: F = 0.1 0.97^2/sqrt(2e-7) = 210.39 1/m, L = 0.97 0.2 = 0.194 m; 1/C2 = 1/0.62^2 + 2 F L/9.
  EXPECT_NEAR(tank.openings[0].discharge, 0.29270, 1e-4);
  EXPECT_EQ(tank.spaces[0].inertial, 0);
  EXPECT_NEAR(tank.spaces[1].inertial, 210.39, 0.01);
  EXPECT_TRUE(tank.spaces[1].foamed.empty()) << "it is everywhere there";
}

TEST(Foam, InTheMiddlePartsFrontAndRear) {
  const Tank tank = assemble(foamed({-0.1, -0.3, -0.1}, {0.1, 0.3, 0.3})).tank;
  EXPECT_EQ(names(tank), (std::vector<std::string>{"rear", "front", "foam, middle"}));
  ASSERT_EQ(tank.openings.size(), 2u);
  for (const Opening& o : tank.openings) EXPECT_TRUE((o.from == 2) != (o.to == 2)) << "each on to the foam";
}

TEST(Foam, InACornerLeavesTheRestInOnePiece) {
  const Tank tank = assemble(foamed({0.05, 0, -0.1}, {0.3, 0.3, 0.3})).tank;
  ASSERT_EQ(names(tank), (std::vector<std::string>{"tank", "foam"}));
  EXPECT_NEAR(tank.spaces[0].volume(), (0.5 * 0.4 - 0.2 * 0.2) * 0.25, 1e-14);
  EXPECT_NEAR(edge_area(tank), (0.2 + 0.2) * 0.25, 1e-14);
  EXPECT_EQ(tank.openings.size(), 2u);
}

TEST(Foam, ThatLiesLowOrAllButFillsTheTankPartsNothing) {
  for (const auto& [from, to] : std::vector<std::pair<Vec3, Vec3>>{
           {{-0.3, -0.3, -0.1}, {0.3, 0.3, 0.12}},       // half the height
           {{0, -0.3, -0.1}, {0.3, 0.3, 0.08}},          // low, in front
           {{-0.24, -0.19, -0.1}, {0.24, 0.19, 0.245}},  // a centimetre short of every wall
           {{0.245, -0.3, -0.1}, {0.3, 0.3, 0.3}}}) {    // a mat on one wall
    const Tank tank = assemble(foamed(from, to)).tank;
    ASSERT_EQ(tank.spaces.size(), 1u) << to.transpose();
    EXPECT_TRUE(tank.openings.empty());
    // The points tell of it as the exact volumes do.
    double inertial = 0, low = 0;
    for (const FoamPoint& p : tank.spaces[0].foamed) {
      inertial += p.inertial / static_cast<double>(tank.spaces[0].foamed.size());
      low += p.at.z() < 0.125 ? 1 : 0;
    }
    EXPECT_NEAR(inertial, tank.spaces[0].inertial, 1e-9);
    EXPECT_NEAR(static_cast<double>(tank.spaces[0].foamed.size()), foam_points, 0.1 * foam_points);
    EXPECT_NEAR(low / static_cast<double>(tank.spaces[0].foamed.size()), 0.5, 0.02);
  }
  // Cut short of the roof as blocks are, it still parts.
  EXPECT_EQ(assemble(foamed({0, -0.3, -0.1}, {0.3, 0.3, 0.24})).tank.spaces.size(), 2u);
}

TEST(Foam, IsOneBodyOfFuelWithWhatIsBesideIt) {
  TankParts parts = foamed({0.05, -0.3, -0.1}, {0.3, 0.3, 0.3});
  parts.collectors = {{"pot", Box{{-0.2, -0.05, 0}, {-0.1, 0.05, 0.1}}, true, {}}};
  EXPECT_EQ(bodies_of(assemble(parts).tank), (std::vector<int>{0, 0, 2})) << "the pot is its own";
}

TEST(Foam, TwoThatMeetShareOneEdge) {
  TankParts parts = foamed({0.05, -0.3, -0.1}, {0.3, 0.3, 0.3});
  parts.foam.push_back({.name = "coarse",
                        .shape = Box{{-0.1, -0.3, -0.1}, {0.05, 0.3, 0.3}},
                        .porosity = 0.98,
                        .permeability = 1e-6});
  const Tank tank = assemble(parts).tank;
  EXPECT_EQ(tank.spaces.size(), 3u);
  EXPECT_NEAR(edge_area(tank), 2 * 0.4 * 0.25, 1e-12);
  EXPECT_EQ(tank.openings.size(), 2u);
}

TEST(Foam, OfAnyBoxKeepsVolumeAndMirrors) {
  Random random(929);
  int parted = 0;
  for (int n = 0; n < 60; ++n) {
    TankParts parts;
    parts.shapes = {random.prism()};
    const Solid solid = make_solid(parts.shapes[0]);
    const Vec3 size = solid.upper_corner() - solid.lower_corner();
    Vec3 low, high;
    for (int a = 0; a < 3; ++a) {
      const double p = random.uniform(-0.2, 0.9), q = random.uniform(p + 0.1, 1.2);
      low[a] = solid.lower_corner()[a] + p * size[a], high[a] = solid.lower_corner()[a] + q * size[a];
    }
    parts.foam = {{.name = "foam", .shape = Box{low, high}, .porosity = 0.9, .permeability = 1e-7}};
    if (n % 2)
      parts.baffles = {{.name = "plate",
                        .point = solid.middle(),
                        .normal = random.direction(),
                        .top = solid.middle().z()}};
    const Tank tank = assemble(parts).tank;
    double sum = 0, held = 0;
    for (const Space& s : tank.spaces) sum += s.volume(), held += s.body.volume() - s.volume();
    EXPECT_NEAR(sum, tank.volume(), 1e-13) << n;
    EXPECT_NEAR(sum + held, solid.volume(), 1e-13) << n;
    EXPECT_NEAR(held, 0.1 * clipped(solid, convex_pieces(*parts.foam[0].shape)).volume(), 1e-13) << n;
    parted += edge_area(tank) > 0;
    for (const Opening& o : tank.openings) {
      if (!o.edge) continue;
      EXPECT_GT(o.discharge, 0);
      EXPECT_LT(o.discharge, 0.62);
      for (const Cell& c : o.cells) {
        EXPECT_EQ(tank.space_at(c.at - 1e-3 * o.normal), o.from);
        EXPECT_EQ(tank.space_at(c.at + 1e-3 * o.normal), o.to);
      }
    }
  }
  EXPECT_GT(parted, 15);
}

}  // namespace
}  // namespace uadze::tank
