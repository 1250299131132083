// The flow through openings by itself: which way, how much, of what.
#include "core/slosh/flow.h"
#include "support/figures.h"

#include <gtest/gtest.h>

#include <array>
#include <cmath>
#include <numbers>

namespace uadze::slosh {
namespace {

using test::g;

using namespace tank;

/// Two boxes 0.3 x 0.4 m, 0.5 m high, with a hole_area of 40 mm in the wall between them at a height.
Tank two_boxes(double height, Passes passes = Passes::both) {
  TankParts parts;
  parts.shapes = {Box{{-0.3, -0.2, 0}, {0.3, 0.2, 0.5}}};
  Baffle wall{.name = "wall", .point = Vec3::Zero(), .normal = Vec3::UnitX()};
  wall.openings = {{.name = "hole_area",
                    .form = OpeningForm::round,
                    .at = {0, 0, height},
                    .diameter = 0.04,
                    .passes = passes}};
  parts.baffles = {wall};
  return assemble(parts).tank;
}

/// Level fuel of a depth in each space.
std::vector<SpaceSide> standing(const Tank& tank, double rear, double front, bool vented = true) {
  std::vector<SpaceSide> out;
  for (double depth : {rear, front}) {
    SpaceSide s;
    s.capacity = 0.06;
    s.area = 0.12;
    s.volume = 0.12 * depth;
    s.surface = {Vec3::UnitZ(), depth};
    s.reference = {0, 0, depth};
    s.pressing = {0, 0, -g};
    s.vented = vented;
    out.push_back(s);
  }
  EXPECT_EQ(tank.spaces[0].name, "rear");
  return out;
}

constexpr double hole_area = std::numbers::pi / 4 * 0.04 * 0.04;

TEST(Flow, IsTorricellisBetweenTwoLevels) {
  const Tank tank = two_boxes(0.05);
  OpeningFlows flows(tank, {});
  auto sides = standing(tank, 0.30, 0.20);
  flows.advance(sides, 1e-4);
  EXPECT_NEAR(flows.fuel()[0], 0.62 * hole_area * std::sqrt(2 * g * 0.1), 1e-3 * flows.fuel()[0]);
  EXPECT_NEAR(sides[0].volume + sides[1].volume, 0.06, 1e-17);
  auto other = standing(tank, 0.20, 0.30);
  OpeningFlows back(tank, {});
  back.advance(other, 1e-4);
  EXPECT_NEAR(back.fuel()[0], -flows.fuel()[0], 1e-12) << "the other way as much";
}

TEST(Flow, GoesByTheFullHeadIntoADrySpace) {
  const Tank tank = two_boxes(0.10);
  OpeningFlows flows(tank, {});
  auto sides = standing(tank, 0.30, 0.02);
  flows.advance(sides, 1e-4);
  EXPECT_NEAR(flows.fuel()[0], 0.62 * hole_area * std::sqrt(2 * g * 0.2), 0.01 * flows.fuel()[0]);
}

TEST(Flow, NothingMovesAtEvenLevelsOrOverDryHoles) {
  const Tank tank = two_boxes(0.05);
  OpeningFlows flows(tank, {});
  auto even = standing(tank, 0.2, 0.2);
  flows.advance(even, 0.01);
  EXPECT_EQ(flows.fuel()[0], 0);
  const Tank high = two_boxes(0.40);
  OpeningFlows dry(high, {});
  auto apart = standing(high, 0.3, 0.1);
  dry.advance(apart, 0.01);
  EXPECT_EQ(dry.fuel()[0], 0) << "the hole_area lies above both";
}

TEST(Flow, AStepNeverOvershoots) {
  const Tank tank = two_boxes(0.05);
  for (double dt : {0.1, 1.0, 10.0, 100.0}) {
    OpeningFlows flows(tank, {});
    auto sides = standing(tank, 0.30, 0.20);
    flows.advance(sides, dt);
    EXPECT_GE(sides[0].volume, sides[1].volume - 1e-12) << dt;
    EXPECT_NEAR(sides[0].volume + sides[1].volume, 0.06, 1e-16);
  }
  OpeningFlows flows(tank, {});
  auto sides = standing(tank, 0.30, 0.20);
  flows.advance(sides, 100);
  EXPECT_NEAR(sides[0].volume, 0.03, 1e-9) << "given long enough both are even";
}

TEST(Flow, OneWayHolesPassOneWay) {
  for (const auto& [passes, along] : {std::pair{Passes::along, true}, {Passes::against, false}}) {
    const Tank tank = two_boxes(0.05, passes);
    OpeningFlows high_rear(tank, {}), high_front(tank, {});
    auto rear = standing(tank, 0.3, 0.2), front = standing(tank, 0.2, 0.3);
    high_rear.advance(rear, 0.01);
    high_front.advance(front, 0.01);
    EXPECT_EQ(high_rear.fuel()[0] > 0, along);
    EXPECT_EQ(high_front.fuel()[0] < 0, !along);
  }
}

TEST(Flow, LockedGasStopsItAfterALittle) {
  const Tank tank = two_boxes(0.05);
  OpeningFlows flows(tank, {});
  auto sides = standing(tank, 0.30, 0.20, false);
  for (int k = 0; k < 500; ++k) {
    flows.advance(sides, 0.01);
    for (auto& s : sides) s.surface.offset = s.volume / s.area, s.reference.z() = s.surface.offset;
  }
  EXPECT_TRUE(flows.locked()[0] && flows.locked()[1]);
  // 100 mm of fuel are 0.73 kPa; the gas of the lower is pressed together, that of the higher drawn out.
  const double head = 745 * g * (sides[0].surface.offset - sides[1].surface.offset);
  EXPECT_NEAR(flows.gas_pressure()[1] - flows.gas_pressure()[0], head, 15);
  EXPECT_GT(sides[0].volume, 0.0355) << "hardly any went";
  EXPECT_NEAR(sides[0].volume + sides[1].volume, 0.06, 1e-15);
}

TEST(Flow, PressesSidewaysWhereFuelIsHeldBack) {
  // A sideways pull that does not move the fuel presses it through a sunken hole_area though levels are even.
  const Tank tank = two_boxes(0.05);
  OpeningFlows flows(tank, {});
  auto sides = standing(tank, 0.2, 0.2);
  sides[0].reference.x() = -0.15, sides[1].reference.x() = 0.15;
  for (auto& s : sides)
    s.pressing.x() = 3.0;  // pulled forward: the rear presses on the wall, the front pulls away
  flows.advance(sides, 1e-4);
  EXPECT_GT(flows.fuel()[0], 0.62 * hole_area * 0.5);
}

TEST(Flow, ANearlyFullSpaceTakesOnlyWhatItHasRoomFor) {
  const Tank tank = two_boxes(0.05);
  OpeningFlows flows(tank, {});
  auto sides = standing(tank, 0.45, 0.30);
  sides[1].capacity = sides[1].volume + 1e-5;
  flows.advance(sides, 10);
  EXPECT_LE(sides[1].volume, sides[1].capacity);
  EXPECT_GE(sides[0].volume, 0.45 * 0.12 - 1.01e-5);
}

TEST(Flow, AFullSpacePassesOnWhatComesIn) {
  // Three boxes in a row with sunken holes, the middle one full and without gas: what the first loses the
  // third gets within the same step, mirrored just so.
  TankParts parts;
  parts.shapes = {Box{{-0.3, -0.2, 0}, {0.3, 0.2, 0.5}}};
  for (const double x : {-0.1, 0.1}) {
    Baffle wall{.name = x < 0 ? "first" : "second", .point = {x, 0, 0}, .normal = Vec3::UnitX()};
    wall.openings = {{.name = "hole",
                      .form = OpeningForm::round,
                      .at = {x, 0, 0.05},
                      .diameter = 0.04,
                      .passes = Passes::both}};
    parts.baffles.push_back(wall);
  }
  const Tank tank = assemble(parts).tank;
  ASSERT_EQ(tank.spaces.size(), 3u);
  std::array<double, 2> passed{};
  for (const bool mirrored : {false, true}) {
    std::vector<SpaceSide> sides;
    for (size_t i = 0; i < 3; ++i) {
      const double x = tank.spaces[i].solid.centroid().x() * (mirrored ? -1 : 1);
      const double depth = std::abs(x) < 0.1 ? 0.3 : x < 0 ? 0.4 : 0.2;
      SpaceSide s;
      s.area = 0.08, s.volume = 0.08 * depth;
      s.capacity = std::abs(x) < 0.1 ? s.volume : 0.04;
      s.surface = {Vec3::UnitZ(), depth}, s.reference = {0, 0, depth}, s.pressing = {0, 0, -g};
      s.vented = std::abs(x) >= 0.1;
      sides.push_back(s);
    }
    const auto start = sides;
    OpeningFlows flows(tank, {});
    flows.advance(sides, 0.01);
    double all = 0, was = 0;
    for (size_t i = 0; i < 3; ++i) {
      all += sides[i].volume, was += start[i].volume;
      EXPECT_LE(sides[i].volume, sides[i].capacity);
      if (start[i].surface.offset == 0.4) passed[mirrored] = start[i].volume - sides[i].volume;
      if (start[i].surface.offset == 0.3) {
        EXPECT_NEAR(sides[i].volume, start[i].volume, 1e-6 * start[i].capacity);
      }
    }
    EXPECT_NEAR(all, was, 1e-16);
  }
  // By hand: 0.2 m of head over two like holes one after the other, in quasi-steady flow.
  EXPECT_NEAR(passed[0], 0.62 * hole_area * std::sqrt(2 * g * 0.1) * 0.01, 0.02 * passed[0]);
  EXPECT_NEAR(passed[0], passed[1], 1e-12);
}

}  // namespace
}  // namespace uadze::slosh
