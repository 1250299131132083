// What the demo projects must come to.
#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include <map>

#include "core/solve/plan.h"
#include "support/demo.h"

namespace uadze::solve {
namespace {

using ::testing::HasSubstr;

class SolveDemo : public ::testing::Test {
 protected:
  SessionResult solve(const std::string& file, size_t setup, size_t session) {
    const auto opened = test::demo(file);
    const auto& p = opened.project;
    PlanOptions options;
    options.lap.ladder = {.levels = 10, .resolution = 1e-3};
    return plan(p, {.setup = p.setups[setup].name, .session = p.sessions[session].name}, options,
                *opened.sources)
        .at(0);
  }
};

TEST_F(SolveDemo, WithoutTheSurgeTankTheMinimumIsClearlyHigher) {
  const auto with_surge = solve("ostrel-p4", 0, 0), without_surge = solve("ostrel-p4", 1, 0);
  EXPECT_GT(without_surge.plan.start, with_surge.plan.start + 10e-3);
  EXPECT_TRUE(with_surge.lap->clean.at.clean());
  EXPECT_FALSE(with_surge.lap->clean.below.clean());
}

TEST_F(SolveDemo, TheWispStarvesAtItsLaunchWhenLow) {
  const auto r = solve("ostrel-wisp", 0, 1);
  ASSERT_FALSE(r.lap->clean.below.events.empty());
  EXPECT_LT(r.lap->clean.below.events[0].start, 6.0);
  EXPECT_THAT(r.lap->clean.below.events[0].cause.in(), HasSubstr("front"));
}

TEST_F(SolveDemo, TheTarnStarvesWithBothSidesTeedToTheEngine) {
  const auto with_surge = solve("ostrel-tarn", 0, 0), teed = solve("ostrel-tarn", 1, 0);
  ASSERT_EQ(teed.lap->car->tank->spaces.size(), 2u);
  EXPECT_GT(teed.lap->clean.level, with_surge.lap->clean.level + 10e-3);
  EXPECT_THAT(teed.lap->clean.below.events.at(0).cause.in(), HasSubstr("side"));
}

TEST_F(SolveDemo, AFirstAnswerTellsPlausibleTimesAndPlaces) {
  // "Surge removed" once showed a reserve of 3e8 L, read past the thinned lap's end.
  for (const char* name : {"ostrel-p4", "ostrel-tarn", "ostrel-wisp"}) {
    const auto opened = test::demo(name);
    for (size_t setup = 0; setup < opened.project.setups.size(); ++setup) {
      const project::Setup& s = opened.project.setups[setup];
      const Resolved r = resolve(opened.project, {.setup = s.name});
      const FirstAnswer first = first_answer(opened.project, r, *opened.sources);
      const LapCasePtr ready = lap_case(opened.project, r, *opened.sources, {.points = 100});
      EXPECT_LE(first.back.least_reserve, ready->car->reserve_capacity() * (1 + 1e-9)) << s.name;
      EXPECT_GE(first.back.least_reserve, 0) << s.name;
      EXPECT_LE(first.back.tightest_time, ready->lap->value.time.back()) << s.name;
      EXPECT_LE(first.back.margin_time, ready->lap->value.time.back()) << s.name;
      const auto fine = solve(name, setup, 0);
      EXPECT_NEAR(first.risk.start, fine.risk.start, 0.17 * fine.lap->car->tank->volume()) << s.name;
    }
  }
}

TEST_F(SolveDemo, TheTarnsDipStickStandsBesideTheTunnel) {
  const auto opened = test::demo("ostrel-tarn");
  const auto tank = opened.sources->tanks.assembled(opened.project.setups[0].tank);
  const auto reads = session::readings(opened.project.setups[0].tank, tank->tank, 24.5e-3);
  ASSERT_TRUE(reads.dip);
  EXPECT_GT(*reads.dip, 0.05) << "24.5 L are no empty tank";
  EXPECT_NEAR(*floor_under(tank->tank, reads.place), tank->tank.lower_corner().z(), 1e-6);
}

TEST_F(SolveDemo, EveryHeadlineHasItsWorking) {
  const auto r = solve("ostrel-p4", 0, 2);
  EXPECT_EQ(r.working.value, r.risk.start);
  ASSERT_FALSE(r.working.steps.empty());
  EXPECT_EQ(r.working.steps[0].value, r.plan.start);
  EXPECT_EQ(r.lap->clean_working.value, r.lap->clean.level);
  EXPECT_EQ(r.lap->reserve_working.value, r.lap->clean.at.least_seconds);
  // The sum in the working is the number shown.
  std::map<std::string, double> in;
  for (const Term& t : r.working.steps[0].inputs) in[t.symbol] = t.value;
  EXPECT_NEAR(in["V_clean"] + (in["n"] + in["m"]) * in["c"] + in["V_sample"] + in["V_gauge"], r.plan.start,
              1e-12);
}

}  // namespace
}  // namespace uadze::solve
