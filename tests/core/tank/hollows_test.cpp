// Floors with a hump, found in any solid: against saddles by closed form, and none where there is none.
#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include "core/tank/clip.h"
#include "core/tank/hollows.h"
#include "core/tank/shape.h"
#include "core/tank/tank.h"
#include "support/random_shapes.h"

namespace uadze::tank {
namespace {

using test::Random;

/// A box of length x width x height on a floor that rises to a flat top, or a ridge, across its middle.
struct Humped {
  double length, width, height, top, foot, flat;  ///< m; `foot` and `flat` half as wide as hump and its top
  explicit Humped(Random& r) {
    length = r.uniform(0.2, 0.5), width = r.uniform(0.4, 0.8), height = r.uniform(0.15, 0.3);
    top = r.uniform(0.3, 0.8) * height, foot = r.uniform(0.15, 0.35) * width;
    flat = r.whole(0, 1) ? r.uniform(0.2, 1.0) * foot : 0.0;
  }
  Prism prism() const {
    const double half = width / 2;
    return {Axis::x,
            {{-half, 0},
             {-foot, 0},
             {-flat, top},
             {flat, top},
             {foot, 0},
             {half, 0},
             {half, height},
             {-half, height}},
            0,
            length};
  }
  /// m3 that either side holds below the top.
  double side() const { return length * top * (width / 2 - foot + (foot - flat) / 2); }
};

TEST(Hollows, OfHumpsTheirTopAndWhatEachSideHolds) {
  Random r(64);
  for (int round = 0; round < 80; ++round) {
    const Humped h(r);
    const auto humps = humps_of(make_solid(h.prism()));
    ASSERT_EQ(humps.size(), 1u) << round;
    // Lines stand beside a ridge: within what its flank falls between two of them.
    const double fall = h.flat > 0 ? 1e-9 : h.top / h.foot * h.width / 64;
    EXPECT_NEAR(humps[0].top, h.top, fall) << round;
    EXPECT_NEAR(humps[0].smaller / h.side(), 1, 0.03 + fall / h.top * 2) << round;
    EXPECT_LT(humps[0].one.y() * humps[0].other.y(), 0) << "one on either side";
  }
}

TEST(Hollows, NoneInShapesWithoutAHump) {
  for (const Shape& shape :
       std::vector<Shape>{Box{{0, 0, 0}, {0.5, 0.4, 0.2}}, Sphere{.centre = {0, 0, 0}, .radius = 0.2},
                          Cylinder{.start = {0, 0, 0}, .end = {0.5, 0.1, 0.05}, .radius = 0.15},
                          Cylinder{.start = {0, 0, 0}, .end = {0, 0, 0.4}, .radius = 0.15}})
    EXPECT_TRUE(humps_of(make_solid(shape)).empty()) << shape.index();
  // A box stood on any edge or corner has one lowest place; so has any of its parts.
  Random r(65);
  const Solid box = make_solid(Box{{-0.2, -0.15, -0.1}, {0.2, 0.15, 0.1}});
  for (int round = 0; round < 60; ++round) {
    const Vec3 n = r.direction();
    const Solid part = clipped(box, Plane{n, r.uniform(-0.05, 0.1)});
    const Mat3 turn = Eigen::AngleAxisd(r.uniform(0, 3), r.direction()).toRotationMatrix();
    std::vector<Vec3> turned;
    for (const Vec3& v : part.vertices()) turned.push_back(turn * v);
    EXPECT_TRUE(humps_of(Solid(turned, part.triangles())).empty()) << round;
  }
}

TEST(Hollows, TurnedUprightTheyAreTheSame) {
  Random r(66);
  for (int round = 0; round < 20; ++round) {
    const Solid solid = make_solid(Humped(r).prism());
    const Mat3 turn = Eigen::AngleAxisd(r.uniform(0, 6), Vec3::UnitZ()).toRotationMatrix();
    std::vector<Vec3> turned;
    for (const Vec3& v : solid.vertices()) turned.push_back(turn * v);
    const auto is = humps_of(Solid(turned, solid.triangles())), was = humps_of(solid);
    ASSERT_EQ(is.size(), 1u) << round;
    EXPECT_NEAR(is[0].top, was[0].top, 0.15 * was[0].top) << round;
    EXPECT_NEAR(is[0].smaller / was[0].smaller, 1, 0.2) << round;
  }
}

/// Two hollows of 2 and 6 L, one each side of a block 100 mm high in a box.
TankParts blocked(bool as_boxes) {
  TankParts parts;
  if (as_boxes)
    parts.shapes = {Box{{0, 0, 0}, {0.2, 0.1, 0.2}}, Box{{0, 0.1, 0.1}, {0.2, 0.3, 0.2}},
                    Box{{0, 0.3, 0}, {0.2, 0.6, 0.2}}};
  else
    parts.shapes = {
        Prism{Axis::x,
              {{0, 0}, {0.1, 0}, {0.1, 0.1}, {0.3, 0.1}, {0.3, 0}, {0.6, 0}, {0.6, 0.2}, {0, 0.2}},
              0,
              0.2}};
  parts.vent = Vent{{0.1, 0.2, 0.19}};
  return parts;
}

TEST(Hollows, AreSaidAtTheShapesAndNotWhereBafflesPartThem) {
  for (const bool as_boxes : {true, false}) {
    TankParts parts = blocked(as_boxes);
    const Assembly one = assemble(parts);
    ASSERT_EQ(one.faults.size(), 1u) << as_boxes;
    EXPECT_FALSE(has_errors(one.faults));
    EXPECT_THAT(one.faults[0].found, testing::HasSubstr("join only at z 100 mm"));
    EXPECT_THAT(one.faults[0].found, testing::HasSubstr("some 2.1 L up to there"));
    // A baffle at each edge of its flat top, open over it, as the message says.
    for (const double y : {0.1 - 1e-5, 0.3 + 1e-5})
      parts.baffles.push_back({.name = "edge", .point = {0, y, 0}, .normal = Vec3::UnitY(), .top = 0.1});
    const Assembly parted = assemble(parts);
    EXPECT_TRUE(parted.faults.empty()) << parted.faults.front().found;
    EXPECT_EQ(parted.tank.spaces.size(), 3u);
  }
}

TEST(Hollows, WhatStandsOnTheFloorIsGoneRound) {
  TankParts parts;
  parts.shapes = {Box{{0, 0, 0}, {0.3, 0.6, 0.2}}};
  parts.vent = Vent{{0.1, 0.2, 0.19}};
  // But for 2 mm on either side they fill the tank's whole breadth.
  parts.bodies.push_back({.name = "pump", .shape = Box{{0.002, 0.2, 0}, {0.298, 0.25, 0.1}}});
  parts.collectors.push_back({.name = "pot",
                              .shape = Box{{0.002, 0.35, 0}, {0.298, 0.45, 0.12}},
                              .open_top = true,
                              .openings = {{.name = "hole", .at = {0.1, 0.35, 0.02}, .diameter = 0.02}}});
  EXPECT_TRUE(assemble(parts).faults.empty());
}

TEST(Hollows, NoneIsSaidOfASaddleThatIsParted) {
  TankParts parts;
  parts.shapes = {Saddle{{-0.1, -0.3, 0}, {0.1, 0.3, 0.25}, -0.1, 0.1, 0.12}};
  parts.vent = Vent{{0, 0, 0.24}};
  EXPECT_TRUE(assemble(parts).faults.empty());
}

}  // namespace
}  // namespace uadze::tank
