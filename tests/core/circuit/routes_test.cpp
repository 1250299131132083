#include "core/circuit/routes.h"

#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include "core/circuit/findings.h"
#include "support/circuits.h"

namespace uadze::circuit {
namespace {

/// Two lifts to one surge tank, two mains, a loop that closes; every line with its run.
Case closed() {
  Case c = test::plain_case();
  c.surroundings.pickups = {{"left", "lift", Vec3(-0.1, 0.2, 0)}, {"right", "other", Vec3(-0.1, -0.2, 0)}};
  const Part sock = test::of_type(PartKind::filter, "pickup sock, 100 micron"),
             lift = test::pump("lift pump, 200 l/h class"), main = test::pump("main pump, 340 l/h class");
  c.circuit.lifts = {{"lift", {sock, lift, test::line(6, 0.6, {0, -0.2, 0.2})}},
                     {"other", {sock, lift, test::line(6, 0.6, {0, 0.2, 0.2})}}};
  c.circuit.mains = {
      {"one", {main, test::line(6, 0.5, {0.1, 0, 0.1})}, {}},
      {"two", {main, test::line(6, 0.3, {0.05, 0, 0.05}), test::line(6, 0.3, {0.05, 0, 0.05})}, {}}};
  c.circuit.feed = {test::line(8, 1.5, {1.2, 0.1, 0.2})};
  c.circuit.back = {test::line(6, 1.6, {-1.3, -0.1, -0.3})};
  c.circuit.rail.length = 0.3;
  return c;
}

TEST(Routes, ALoopThatClosesIsNotSpokenOf) {
  EXPECT_TRUE(route_gaps(closed()).empty());
  for (const Finding& f : find_cautions(closed()))
    EXPECT_EQ(f.text.in().find("routes"), std::string::npos) << f.text.in();
}

TEST(Routes, AForgottenSignIsFoundAtItsLegWithTheGapThatItMakes) {
  Case c = closed();
  c.circuit.back[0].run = {1.3, -0.1, -0.3};
  auto gaps = route_gaps(c);
  ASSERT_EQ(gaps.size(), 1u);
  EXPECT_EQ(gaps[0].leg, (LegPlace{LegKind::back, 0}));
  EXPECT_NEAR((gaps[0].gap - Vec3(-2.6, 0, 0)).norm(), 0, 1e-12) << "it would have to run 2.6 m back";
  const auto said = find_cautions(c);
  EXPECT_TRUE(std::any_of(said.begin(), said.end(), [](const Finding& f) {
    return f.text.in().find("misses the surge tank by 2600.0 mm (forward -2600 mm, left 0 mm,") !=
               std::string::npos &&
           f.text.in(UnitSystem::us()).find("by 102.36 in (forward -102.4 in, left 0.0 in,") !=
               std::string::npos;
  }));
  // A lift leg that does not come to where the other has the surge tank; a main leg that does not meet.
  c = closed();
  c.circuit.lifts[1].parts[2].run = {0, -0.2, 0.2};
  c.circuit.mains[1].parts[1].run = {-0.3, 0, 0.05};
  gaps = route_gaps(c);
  ASSERT_EQ(gaps.size(), 2u);
  EXPECT_EQ(gaps[0].leg, (LegPlace{LegKind::lift, 1}));
  EXPECT_NEAR(gaps[0].gap.y(), 0.4, 1e-12);
  EXPECT_EQ(gaps[1].leg, (LegPlace{LegKind::main, 1}));
}

TEST(Routes, AReturnToTheMainTankEndsAtItsOutlet) {
  Case c = closed();
  c.surroundings.return_to = ReturnTo::main_tank;
  // Surge tank at (-0.1, 0, 0.2): main, feed and return come back to it, the outlet stands elsewhere.
  c.surroundings.returns = {Vec3(-0.1, 0, 0.25)};
  EXPECT_TRUE(route_gaps(c).empty());
  c.surroundings.returns = {Vec3(-1.5, 0, 0.25)};
  ASSERT_EQ(route_gaps(c).size(), 1u);
  EXPECT_NEAR(route_gaps(c)[0].gap.x(), -1.4, 1e-12);
  c.surroundings.returns.clear();
  EXPECT_TRUE(route_gaps(c).empty()) << "where it should end is not known";
}

TEST(Routes, UnknownRunsAndWaysSideBySide) {
  Case c = closed();
  c.circuit.feed[0].run = Vec3::Zero();
  EXPECT_TRUE(route_gaps(c).empty()) << "a leg without runs is unknown, not of no length";
  c = closed();
  Part a = test::line(6, 0.6, {0.5, 0.1, 0}), b = test::line(6, 0.7, {0.5, 0.1, 0});
  a.way = 1, b.way = 2;
  c.circuit.feed = {a, b, test::line(8, 1.0, {0.7, 0, 0.2})};
  EXPECT_TRUE(route_gaps(c).empty()) << "one way is counted, not both";
  c.circuit.feed[1].run = {0.1, 0.1, 0};
  ASSERT_EQ(route_gaps(c).size(), 1u);
  EXPECT_NEAR(route_gaps(c)[0].gap.x(), 0.4, 1e-12);
}

}  // namespace
}  // namespace uadze::circuit
