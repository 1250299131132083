#include "core/tank/tank.h"

#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include <numbers>

#include "core/project/places.h"
#include "support/figures.h"
#include "support/random_shapes.h"

namespace uadze::tank {
namespace {

using test::pi;
using test::Random;
using ::testing::HasSubstr;

TankParts box() {
  TankParts parts;
  parts.shapes = {Box{{-0.3, -0.2, 0}, {0.3, 0.2, 0.25}}};
  return parts;
}

OpeningPart hole(const Vec3& at, double diameter) {
  return {.name = "hole", .form = OpeningForm::round, .at = at, .diameter = diameter};
}

/// Places and words of all messages.
std::string said(const TankParts& parts) {
  std::string out;
  const Assembly made = assemble(parts);
  for (const Message& m : project::places_in(*made.parts).messages(made.faults, "")) out += m.text() + "\n";
  return out;
}

double sum_of_spaces(const Tank& tank) {
  double sum = 0;
  for (const Space& s : tank.spaces) sum += s.volume();
  return sum;
}

TEST(Shapes, HaveTheVolumesOfTheirFormulas) {
  EXPECT_NEAR(make_solid(Cylinder{{0, 0, 0}, {0.1, 0.2, 0.3}, 0.15}).volume(),
              pi * 0.15 * 0.15 * std::sqrt(0.14), 1e-12);
  EXPECT_NEAR(make_solid(Sphere{{1, 2, 3}, 0.2}).volume(), 4 * pi / 3 * 0.008, 1e-12);
  const Revolved cone{{0, 0, 0}, Vec3(1, 1, 0), {{0, 0.1}, {0.3, 0.0}}};
  EXPECT_NEAR(make_solid(cone).volume(), pi * 0.01 * 0.3 / 3, 1e-12);
  const Saddle saddle{{-0.2, -0.4, 0}, {0.2, 0.4, 0.3}, -0.1, 0.1, 0.2};
  EXPECT_NEAR(make_solid(saddle).volume(), 0.4 * (0.8 * 0.3 - 0.2 * 0.2), 1e-12);
}

TEST(Shapes, PiecesFillTheShape) {
  const Shape shapes[] = {Cylinder{{0, -0.1, 0.1}, {0, 0.2, 0.1}, 0.08}, Sphere{{0, 0, 0.1}, 0.1},
                          Saddle{{-0.2, -0.3, 0}, {0.2, 0.3, 0.3}, -0.1, 0.1, 0.2},
                          Prism{Axis::z, {{0, 0}, {0.2, 0}, {0.05, 0.05}, {0, 0.2}}, 0, 0.2}};
  const Solid around = make_solid(Box{{-1, -1, -1}, {1, 1, 1}});
  for (const Shape& shape : shapes)
    EXPECT_NEAR(clipped(around, convex_pieces(shape)).volume(), make_solid(shape).volume(), 1e-12)
        << shape_kinds()[shape.index()];
}

TEST(Shapes, FaultsAreNamedByTheirKey) {
  const auto key = [](const Shape& s) {
    TankParts parts;
    parts.short_form = false;
    parts.shapes = {s};
    const auto faults = project::places_in(parts).messages(shape_faults(parts.shapes[0]), "");
    return faults.empty() ? std::string() : faults[0].place.substr(std::string("/shapes/0/").size());
  };
  EXPECT_EQ(key(Box{{0, 0, 0}, {1, 1, 0}}), "to_mm");
  EXPECT_EQ(key(Cylinder{{0, 0, 0}, {0, 0, 1}, 0}), "radius_mm");
  EXPECT_EQ(key(Cylinder{{0, 0, 0}, {0, 0, 0}, 1}), "end_mm");
  EXPECT_EQ(key(Revolved{{0, 0, 0}, Vec3::Zero(), {{0, 1}, {1, 1}}}), "direction");
  EXPECT_EQ(key(Revolved{{0, 0, 0}, Vec3::UnitX(), {{0, 1}, {-1, 1}}}), "profile_mm/1");
  EXPECT_EQ(key(Revolved{{0, 0, 0}, Vec3::UnitX(), {{0, -1}, {1, 1}}}), "profile_mm/0");
  EXPECT_EQ(key(Saddle{{0, 0, 0}, {1, 1, 1}, -0.5, 0.5, 0.5}), "tunnel_mm");
  EXPECT_EQ(key(Saddle{{0, 0, 0}, {1, 1, 1}, 0.2, 0.5, 1.5}), "tunnel_top_mm");
  EXPECT_EQ(key(Sphere{{0, 0, 0}, std::nan("")}), "radius_mm");
}

TEST(Assemble, AUnionCountsWhatIsSharedOnce) {
  TankParts parts = box();
  parts.shapes.push_back(Box{{0.1, -0.1, 0.1}, {0.5, 0.1, 0.4}});
  const Tank tank = assemble(parts).tank;
  EXPECT_NEAR(tank.volume(), 0.6 * 0.4 * 0.25 + 0.4 * 0.2 * 0.3 - 0.2 * 0.2 * 0.15, 1e-14);
  EXPECT_EQ(tank.space_at({0.4, 0, 0.3}), 0);
  EXPECT_EQ(tank.space_at({0.4, 0, 0.05}), -1);
  parts.shapes.push_back(Box{{2, 2, 2}, {3, 3, 3}});
  EXPECT_THAT(said(parts), HasSubstr("/shapes/2: expected a shape that meets the ones before it"));
}

TEST(Assemble, BafflesDivideExactlyAndNameTheirSides) {
  TankParts parts = box();
  parts.baffles = {{.name = "cross",
                    .point = {0.1, 0, 0},
                    .normal = Vec3::UnitX(),
                    .openings = {hole({0.1, 0, 0.1}, 0.05)}},
                   {.name = "along",
                    .point = {0, 0, 0},
                    .normal = Vec3::UnitY(),
                    .openings = {hole({0.2, 0, 0.1}, 0.05), hole({-0.1, 0, 0.1}, 0.05)}}};
  parts.baffles[1].openings[1].name = "other hole";
  parts.baffles[0].openings[0].at.y() = 0.1;
  parts.baffles[0].openings.push_back(hole({0.1, -0.1, 0.1}, 0.05));
  const Assembly made = assemble(parts);
  ASSERT_FALSE(has_errors(made.faults)) << said(parts);
  ASSERT_EQ(made.tank.spaces.size(), 4u);
  EXPECT_NEAR(sum_of_spaces(made.tank), 0.06, 1e-15);
  const auto& front_left = made.tank.spaces[static_cast<size_t>(made.tank.space_at({0.2, 0.1, 0.1}))];
  EXPECT_EQ(front_left.name, "front left");
  EXPECT_NEAR(front_left.volume(), 0.2 * 0.2 * 0.25, 1e-15);
  ASSERT_EQ(made.tank.openings.size(), 4u);
  for (const Opening& o : made.tank.openings) EXPECT_NEAR(o.area, pi / 4 * 0.0025, 1e-15);
}

/// Each costs time with every other: what no tank has is refused at once, at its place (decision 28).
TEST(Assemble, RefusesMorePartsThanAnyTankHas) {
  const auto refusal = [](const TankParts& parts) { return said(parts); };
  for (size_t count : {most_of_a_kind, most_of_a_kind + 1}) {
    const bool refused = count > most_of_a_kind;
    const auto expect = [&](const TankParts& parts, const char* what) {
      EXPECT_EQ(refusal(parts).find(std::string("60 ") + what + " at most") != std::string::npos, refused)
          << what;
    };
    TankParts parts = box();
    parts.pickups.assign(count, {"pickup", {0, 0, 0.01}, 0.01, "engine"});
    expect(parts, "pickups");
    parts = box();
    parts.bodies.assign(count, {"pump", Box{{0, 0, 0}, {0.01, 0.01, 0.01}}});
    if (refused) expect(parts, "bodies");
    parts = box();
    parts.baffles.assign(count,
                         {.name = "wall", .point = {0, 0, 0}, .normal = Vec3::UnitX(), .openings = {}});
    if (refused) expect(parts, "baffles");
  }
  TankParts many = box();
  many.shapes.assign(40, many.shapes[0]);
  EXPECT_NE(refusal(many).find("fewer parts that overlap here"), std::string::npos) << refusal(many);
  TankParts some = box();
  some.shapes.assign(4, some.shapes[0]);
  EXPECT_EQ(refusal(some), "");
  EXPECT_NEAR(assemble(some).tank.volume(), assemble(box()).tank.volume(), 1e-12)
      << "the same again adds nothing";
}

TEST(Assemble, ACollectorHoldsItsShareAndOpensAtTheTop) {
  TankParts parts = box();
  OpeningPart flap{.name = "flap",
                   .form = OpeningForm::notch,
                   .at = {-0.1, 0, 0},
                   .width = 0.05,
                   .height = 0.02,
                   .passes = Passes::against,
                   .door = Door::flap};
  parts.collectors = {{"pot", Box{{-0.3, -0.1, 0}, {-0.1, 0.1, 0.1}}, true, {flap}}};
  const Assembly made = assemble(parts);
  ASSERT_FALSE(has_errors(made.faults)) << said(parts);
  ASSERT_EQ(made.tank.spaces.size(), 2u);
  EXPECT_EQ(made.tank.spaces[1].name, "pot");
  EXPECT_NEAR(made.tank.spaces[1].volume(), 0.2 * 0.2 * 0.1, 1e-15);
  EXPECT_NEAR(made.tank.spaces[0].volume(), 0.06 - 0.004, 1e-15);
  ASSERT_EQ(made.tank.openings.size(), 2u);
  EXPECT_NEAR(made.tank.openings[0].area, 0.04, 1e-12) << "the top";
  EXPECT_EQ(made.tank.openings[1].from, 1) << "walls face out of the collector";
  EXPECT_NEAR(made.tank.openings[1].normal.x(), 1, 1e-12)
      << "of two walls at the corner the one between spaces";
}

TEST(Assemble, FoamAndBodiesTakeTheirShare) {
  TankParts parts = box();
  parts.bodies = {{"pump", Cylinder{{0, 0, 0}, {0, 0, 0.1}, 0.04}}};
  parts.foam = {{"block", Shape(Box{{0.1, -0.2, 0}, {0.3, 0.2, 0.25}}), 0.95, 1e-8}};
  const Tank tank = assemble(parts).tank;
  EXPECT_NEAR(tank.volume(), 0.06 - pi * 0.0016 * 0.1 - 0.05 * 0.02, 1e-14);
  ASSERT_EQ(tank.spaces.size(), 2u) << "beside the foam and in it";
  EXPECT_EQ(tank.spaces[0].darcy, 0);
  EXPECT_NEAR(tank.spaces[1].darcy, 0.95 / 1e-8, 1);
  EXPECT_EQ(tank.space_at({0, 0, 0.05}), -1) << "inside the pump";
  EXPECT_EQ(tank.space_at({0.2, 0, 0.05}), 1) << "inside the foam";
}

TEST(Assemble, ASaddleIsTwoSidesAndWhatIsOverTheTunnel) {
  TankParts parts;
  parts.shapes = {Saddle{{-0.2, -0.4, 0}, {0.2, 0.4, 0.3}, -0.1, 0.1, 0.2}};
  const Assembly made = assemble(parts);
  EXPECT_TRUE(made.faults.empty()) << said(parts);
  ASSERT_EQ(made.tank.spaces.size(), 3u);
  const size_t right = static_cast<size_t>(made.tank.space_at({0, -0.3, 0.1})),
               over = static_cast<size_t>(made.tank.space_at({0, 0, 0.25})),
               left = static_cast<size_t>(made.tank.space_at({0, 0.3, 0.1}));
  EXPECT_NEAR(made.tank.spaces[right].volume(), made.tank.spaces[left].volume(), 1e-14);
  EXPECT_NEAR(made.tank.spaces[right].volume(), 0.4 * 0.3 * 0.3, 1e-5);
  EXPECT_NEAR(made.tank.spaces[over].volume(), 0.4 * 0.2 * 0.1, 1e-5);
  EXPECT_EQ(made.tank.spaces[over].name, "centre");
  ASSERT_EQ(made.tank.openings.size(), 2u);
  for (const Opening& o : made.tank.openings) {
    EXPECT_NEAR(o.area, 0.4 * 0.1, 1e-12);
    EXPECT_TRUE(o.from == static_cast<int>(over) || o.to == static_cast<int>(over));
    double lowest = 1;
    for (const Cell& c : o.cells) lowest = std::min(lowest, c.at.z() - o.half_along(Vec3::UnitZ()));
    EXPECT_NEAR(lowest, 0.2, 1e-12) << "the sill is the tunnel's top";
  }
  // Over a narrow tunnel one section does.
  parts.shapes = {Saddle{{-0.2, -0.4, 0}, {0.2, 0.4, 0.3}, -0.01, 0.01, 0.2}};
  EXPECT_EQ(assemble(parts).tank.spaces.size(), 2u);
}

TEST(Assemble, AGapOverALowBaffleHasTheExactArea) {
  TankParts parts = box();
  parts.shapes.push_back(Box{{-0.3, -0.1, 0.2}, {0.3, 0.1, 0.35}});
  parts.baffles = {{.name = "low", .point = {0, 0, 0}, .normal = Vec3::UnitX(), .top = 0.15}};
  const Assembly made = assemble(parts);
  ASSERT_FALSE(has_errors(made.faults)) << said(parts);
  ASSERT_EQ(made.tank.openings.size(), 1u);
  EXPECT_NEAR(made.tank.openings[0].area, 0.4 * 0.1 + 0.2 * 0.1, 1e-12);
}

TEST(Assemble, FaultsStandAtTheirPlace) {
  TankParts parts = box();
  parts.baffles = {{.name = "away", .point = {2, 0, 0}, .normal = Vec3::UnitX()}};
  EXPECT_THAT(said(parts), HasSubstr("/baffles/0: expected a plate that crosses the tank"));
  parts.baffles = {{.name = "wall", .point = {0, 0, 0}, .normal = Vec3::UnitX()}};
  EXPECT_THAT(
      said(parts),
      HasSubstr("/baffles: expected a way in and out of every space, found no opening into \"rear\""));
  parts.baffles[0].openings = {hole({0, 0, 0.1}, 0.7)};
  EXPECT_THAT(said(parts), HasSubstr("/baffles/0/openings/0: expected an opening smaller than its baffle"));
  parts.baffles[0].openings = {hole({0, 0.19, 0.1}, 0.1)};
  EXPECT_THAT(said(parts), HasSubstr("/baffles/0/openings/0: expected an opening wholly within its baffle"));
  parts.baffles[0].openings = {hole({0, 0, 0.02}, 0.02)};
  EXPECT_THAT(said(parts), HasSubstr("gas is locked in"));
  parts.vent = Vent{{0, 5, 0}};
  EXPECT_THAT(said(parts), HasSubstr("/vent/position_mm: expected a point inside the tank"));
  parts = box();
  parts.collectors = {{"pot", Box{{3, 3, 3}, {4, 4, 4}}, true, {}}};
  EXPECT_THAT(said(parts), HasSubstr("/collectors/0: expected a collector inside the tank"));
  parts = box();
  parts.baffles = {{.name = "zero", .point = {0, 0, 0}, .normal = Vec3::Zero()}};
  EXPECT_THAT(said(parts), HasSubstr("/baffles/0/normal: expected a direction that is not zero"));
  parts.shapes.clear();
  EXPECT_THAT(said(parts), HasSubstr("/shapes: expected at least one shape"));
}

TEST(Assemble, RandomTanksKeepTheirVolume) {
  Random random(311);
  for (int n = 0; n < 60; ++n) {
    TankParts parts;
    parts.shapes = {random.prism()};
    const Solid solid = make_solid(parts.shapes[0]);
    for (int k = 0; k < 2; ++k) {
      Baffle b;
      b.name = "b" + std::to_string(k);
      b.point = solid.middle() + 0.05 * random.direction();
      b.normal = random.direction();
      b.top = solid.middle().z();
      parts.baffles.push_back(b);
    }
    const Tank tank = assemble(parts).tank;
    EXPECT_NEAR(sum_of_spaces(tank), solid.volume(), 1e-13) << n;
    EXPECT_NEAR(tank.volume(), solid.volume(), 1e-13) << n;
    for (const Opening& o : tank.openings) {
      EXPECT_GE(o.area, 0);
      EXPECT_NE(o.from, o.to);
    }
  }
}

}  // namespace
}  // namespace uadze::tank
