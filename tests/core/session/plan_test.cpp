#include "core/session/schedule.h"

#include <gtest/gtest.h>

#include <algorithm>

namespace uadze::session {
namespace {

const PlanInput sprint{.least_end = 4e-3,
                       .consumption_per_lap = 2.5e-3,
                       .lap_time = 95,
                       .density = 740,
                       .tank_volume = 60e-3,
                       .usable_volume = 57e-3};

TEST(Plan, AddsUpWhatIsBurntAndWhatMustBeLeft) {
  Session s{.name = "Practice", .kind = Kind::practice, .lap = "x", .laps = 10};
  s.formation_laps = 1, s.in_laps = 1, s.slow_lap_share = 0.5, s.sample = 1e-3, s.gauge_error = 0.5e-3;
  const Plan plan = make_plan(s, sprint);
  EXPECT_NEAR(plan.start, (4 + 10 * 2.5 + 2 * 0.5 * 2.5 + 1 + 0.5) * 1e-3, 1e-15);
  EXPECT_NEAR(plan.bring_back, 5.5e-3, 1e-15);
  EXPECT_NEAR(plan.start_mass, plan.start * 740, 1e-12);
  EXPECT_NEAR(plan.start_share, plan.start / 60e-3, 1e-15);
  EXPECT_NEAR(plan.bring_back_mass, 5.5e-3 * 740, 1e-12);
  EXPECT_NEAR(plan.bring_back_share, 5.5 / 60, 1e-12);
  EXPECT_EQ(plan.bring_back_mass_working.value, plan.bring_back_mass);
  EXPECT_TRUE(plan.fits);
  EXPECT_EQ(plan.start_working.value, plan.start);
  EXPECT_EQ(plan.bring_back_working.value, plan.bring_back);
}

TEST(Plan, ATimedSessionFinishesTheLapThatRuns) {
  Session s{.name = "Race", .lap = "x", .duration = 3600};
  EXPECT_EQ(make_plan(s, sprint).laps, 38) << "37.9 laps";
  s.duration = 95 * 4;
  EXPECT_EQ(make_plan(s, sprint).laps, 4);
  s.duration = 1;
  EXPECT_EQ(make_plan(s, sprint).laps, 1);
  EXPECT_FALSE(make_plan(s, sprint).start_working.steps.empty()) << "the laps have a working of their own";
}

TEST(Plan, StopsTakeTimeFromATimedSession) {
  Session s{.name = "Race", .lap = "x", .duration = 3600};
  s.refuel_stops = 2;
  EXPECT_EQ(laps_of(s, 95), 38);
  s.stop_time = 95;
  EXPECT_EQ(laps_of(s, 95), 36) << "two stops of a lap's time each";
  s.duration.reset(), s.laps = 38;
  EXPECT_EQ(laps_of(s, 95), 38) << "counted laps stay";
}

TEST(Schedule, IsWhatTheLapsAreWorth) {
  for (int stops : {0, 3})
    for (int neutral : {0, 2})
      for (int formation : {0, 1}) {
        Session s{.name = "Race", .kind = Kind::race, .lap = "x", .laps = 20};
        s.refuel_stops = stops, s.neutral_laps = neutral, s.formation_laps = formation;
        s.out_laps = 1, s.in_laps = 2, s.cool_laps = 1, s.in_share = 0.4, s.neutral_share = 0.35;
        for (const StintPlace& place : {first_stint(s), StintPlace{false, false}, StintPlace{false, true}}) {
          double worth = 0;
          for (const starvation::Pace& p : schedule(s, 5, place)) worth += p.laps * p.share;
          EXPECT_NEAR(worth, laps_worth(s, 5, place), 1e-12) << stops << neutral << formation;
        }
        const auto first = schedule(s, 5, first_stint(s));
        const auto flying =
            std::find_if(first.begin(), first.end(), [](const auto& p) { return p.share == 1; });
        ASSERT_NE(flying, first.end());
        EXPECT_TRUE(flying->launch) << "a standing start";
      }
  const Session practice{.name = "Practice", .lap = "x", .laps = 3, .out_laps = 1};
  const auto stint = schedule(practice, 3, first_stint(practice));
  ASSERT_EQ(stint.size(), 2u);
  EXPECT_TRUE(stint[0].launch) << "the pit exit";
  EXPECT_FALSE(stint[1].launch);
}

TEST(Plan, StopsShareTheLapsOut) {
  Session s{.name = "Race", .lap = "x", .laps = 100};
  s.refuel_stops = 6;
  const Plan plan = make_plan(s, sprint);
  EXPECT_EQ(plan.stint_laps, 15) << "the longest of seven stints";
  EXPECT_NEAR(plan.start, 4e-3 + 15 * 2.5e-3, 1e-15);
}

TEST(Plan, MeasuredConsumptionComesBeforeTheLaps) {
  Session s{.name = "Race", .lap = "x", .laps = 10};
  s.consumption_per_lap = 3e-3;
  EXPECT_NEAR(make_plan(s, sprint).start, 34e-3, 1e-15);
}

TEST(Plan, SaysWhenItDoesNotFit) {
  const Session s{.name = "Race", .lap = "x", .laps = 40};
  EXPECT_FALSE(make_plan(s, sprint).fits);
}

TEST(Plan, IsRoundedTheSafeWay) {
  EXPECT_NEAR(rounded_up(35.14e-3, {}), 35.2e-3, 1e-12);
  EXPECT_NEAR(rounded_up(35.2e-3, {}), 35.2e-3, 1e-12) << "what is round stays";
  const double gallon = 3.785411784e-3;
  EXPECT_NEAR(rounded_up(9.321 * gallon, UnitSystem::us()), 9.33 * gallon, 1e-12);
  EXPECT_NEAR(dip_rounded_up(0.1231, {}), 0.124, 1e-12) << "a stick is read to the millimetre";
  EXPECT_NEAR(dip_rounded_up(0.1231, UnitSystem::us()), 4.9 * 0.0254, 1e-12) << "or to a tenth of an inch";
}

}  // namespace
}  // namespace uadze::session
