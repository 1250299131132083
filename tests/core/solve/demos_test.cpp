// What the demo projects must come to.
#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include <map>

#include "core/report/session_report.h"
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

TEST_F(SolveDemo, TheWholeSessionDrivenAtItsLeastStartIsCleanAndWithATenthLessIsNot) {
  for (const char* name : {"ostrel-p4", "ostrel-tarn", "ostrel-wisp"}) {
    const auto opened = test::demo(name);
    LapOptions lap;
    lap.ladder = {.levels = 12};
    const PlanOptions how{.lap = lap, .draws = {.draws = 200}};
    const auto& p = opened.project;
    // All sessions of the first setup; of the others the first, where its fuel goes into the tank.
    std::vector<SessionResult> results;
    for (const auto& setup : p.setups) {
      const bool first = &setup == &p.setups.front();
      if (setup.name == "P4, surge removed") continue;
      for (auto& r : plan(p, {.setup = setup.name, .session = first ? "" : p.sessions.front().name}, how,
                          *opened.sources))
        results.push_back(std::move(r));
    }
    for (const SessionResult& r : results) {
      const auto stint = stints_of(*r.lap, r.entered).front();
      // Sample and gauge error are on top of what the run needs.
      const double burnt = starvation::burnt_over(r.lap->course, stint), start = r.end.end + burnt;
      const std::string what = r.setup + " | " + r.session;
      EXPECT_NEAR(start, r.plan.start - r.entered.sample - r.entered.gauge_error, 1e-9) << what;
      EXPECT_GE(r.end.end, r.lap->car->never_drawn.total() - 1e-9) << what;
      EXPECT_TRUE(r.possible()) << what;
      if (start > r.lap->car->tank->volume()) continue;
      const auto driven = [&](double from) {
        return starvation::burn_down(*r.lap->car, r.lap->course, stint, from,
                                     {.launch = r.lap->launch.get()});
      };
      const starvation::BurnDown at = driven(start);
      EXPECT_TRUE(at.clean()) << what << " starves on " << at.on;
      EXPECT_FALSE(driven(start - 0.1e-3).clean()) << what;
    }
  }
}

TEST_F(SolveDemo, WhatTheCircuitDoesWrongIsSaidAndAsksForNoFuel) {
  const auto p4 = solve("ostrel-p4", 0, 0), tarn = solve("ostrel-tarn", 0, 0),
             wisp = solve("ostrel-wisp", 0, 0);
  const auto& late = p4.lap->course.delivery->faults;
  ASSERT_FALSE(late.empty());
  EXPECT_EQ(late.front().kind, circuit::LapFaultKind::spin_up);
  EXPECT_GT(late.front().leaner(), 0.04) << "leaner than set by more than the limit of 3 %";
  EXPECT_TRUE(p4.lap->clean.exists);
  EXPECT_LT(p4.lap->clean.level, 5e-3);
  // A stricter limit finds more faults of the circuit, not a need for fuel.
  auto strict = test::demo("ostrel-p4");
  strict.project.setups[0].limits.mixture = {.lean = 0.01, .time = 0.05};
  const Resolved r = resolve(strict.project, {.setup = strict.project.setups[0].name});
  const auto harder =
      lap_result(strict.project, r, *strict.sources, {.ladder = {.levels = 10, .resolution = 1e-3}});
  EXPECT_TRUE(harder->clean.exists);
  EXPECT_LT(harder->clean.level, 6e-3);
  ASSERT_FALSE(tarn.lap->course.delivery->faults.empty());
  EXPECT_EQ(tarn.lap->course.delivery->faults.front().kind, circuit::LapFaultKind::overwhelmed);
  EXPECT_TRUE(wisp.lap->course.delivery->faults.empty());
  for (const auto* told : {&p4, &tarn}) EXPECT_FALSE(report::session_json(*told)["circuit_faults"].empty());
  EXPECT_THAT(report::session_text(p4, false), HasSubstr("CIRCUIT'S FAULT"));
}

TEST_F(SolveDemo, WithoutTheSurgeTankTheMinimumIsClearlyHigher) {
  const auto with_surge = solve("ostrel-p4", 0, 0), without_surge = solve("ostrel-p4", 1, 0);
  EXPECT_GT(without_surge.plan.start, with_surge.plan.start + 10e-3);
  EXPECT_TRUE(with_surge.lap->clean.at.clean());
  EXPECT_TRUE(starvation::holds_up(with_surge.lap->car->never_drawn, with_surge.lap->clean.level));
  EXPECT_FALSE(without_surge.lap->clean.below.clean());
  EXPECT_THAT(report::session_text(with_surge, false), HasSubstr("which decides"));
  EXPECT_THAT(report::session_text(without_surge, false), Not(HasSubstr("which decides")));
}

TEST_F(SolveDemo, TheWispStarvesAtItsLaunchWhenLow) {
  const auto r = solve("ostrel-wisp", 0, 1);
  ASSERT_FALSE(r.lap->clean.below.events.empty());
  EXPECT_LT(r.lap->clean.below.events[0].start, 6.0);
  EXPECT_THAT(r.lap->clean.below.events[0].cause.in(), HasSubstr("front"));
}

TEST_F(SolveDemo, TheTarnStarvesWithBothSidesTeedToTheEngine) {
  const auto with_surge = solve("ostrel-tarn", 0, 0), teed = solve("ostrel-tarn", 1, 0);
  ASSERT_EQ(teed.lap->car->tank->spaces.size(), 3u);
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
      EXPECT_LE(first.clean.beside.least_reserve, ready->car->reserve_capacity() * (1 + 1e-9)) << s.name;
      EXPECT_GE(first.clean.beside.least_reserve, 0) << s.name;
      EXPECT_LE(first.clean.beside.tightest_time, ready->lap->value.time.back()) << s.name;
      EXPECT_LE(first.clean.beside.margin_time, ready->lap->value.time.back()) << s.name;
      const auto fine = solve(name, setup, 0);
      EXPECT_TRUE(fine.possible()) << s.name;
      EXPECT_NEAR(first.risk.start, fine.risk.start, 0.17 * fine.lap->car->tank->volume()) << s.name;
    }
  }
}

TEST_F(SolveDemo, TheLaddersStepsDoNotDecide) {
  // Where clean levels and starving ones take turns, the search must not jump from one clean window into
  // another: 27 to 35 L were told of this car, by the ladder.
  const auto opened = test::demo("ostrel-tarn");
  const auto& p = opened.project;
  const Resolved r = resolve(p, {.setup = p.setups[1].name, .session = p.sessions[0].name});
  std::vector<double> levels, ends;
  for (const int steps : {8, 20}) {
    LapOptions options;
    options.ladder = {.levels = steps, .resolution = 0.1e-3};
    const LapResultPtr lap = lap_result(p, r, *opened.sources, options);
    levels.push_back(lap->clean.level);
    ends.push_back(least_end_of(*lap, p.sessions[0]).end);
  }
  EXPECT_NEAR(levels[1], levels[0], 0.1e-3);
  EXPECT_NEAR(ends[1], ends[0], 0.25e-3);
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
  EXPECT_NEAR(in["V_end"] + (in["n"] + in["m"]) * in["c"] + in["V_sample"] + in["V_gauge"], r.plan.start,
              1e-12);
}

}  // namespace
}  // namespace uadze::solve
