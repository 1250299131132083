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

SessionResult solved(const test::Demo& opened, size_t setup, size_t session = 0) {
  const auto& p = opened.project;
  PlanOptions options;
  options.lap.ladder = {.levels = 10, .resolution = 1e-3};
  return plan(p, {.setup = p.setups[setup].name, .session = p.sessions[session].name}, options,
              *opened.sources)
      .at(0);
}

/// A setup's first answer is near its fine one, and what it tells was there to be seen: "surge removed" once
/// showed a reserve of 3e8 L, read past the thinned lap's end.
void expect_a_plausible_first_answer(const test::Demo& opened, const SessionResult& fine) {
  const auto& p = opened.project;
  const Resolved r = resolve(p, {.setup = fine.setup});
  const FirstAnswer first = first_answer(p, r, *opened.sources);
  const LapCasePtr ready = lap_case(p, r, *opened.sources, {.points = 100});
  const starvation::LapFigures& beside = first.clean.beside;
  EXPECT_LE(beside.least_reserve, ready->car->reserve_capacity() * (1 + 1e-9)) << fine.setup;
  EXPECT_GE(beside.least_reserve, 0) << fine.setup;
  EXPECT_LE(beside.tightest_time, ready->lap->value.time.back()) << fine.setup;
  EXPECT_LE(beside.margin_time, ready->lap->value.time.back()) << fine.setup;
  EXPECT_TRUE(fine.possible()) << fine.setup;
  EXPECT_NEAR(first.risk.start, fine.risk.start, 0.17 * fine.lap->car->tank->volume()) << fine.setup;
}

TEST(SolveDemo, TheWholeSessionDrivenAtItsLeastStartIsCleanAndWithATenthLessIsNot) {
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

// Each session of a demo is solved once, and all that is asked of it asked there.

TEST(SolveDemo, TheP4NeedsClearlyMoreWithoutItsSurgeTankAndItsPumpsSpinUpLate) {
  const auto opened = test::demo("ostrel-p4");
  const auto with_surge = solved(opened, 0), without_surge = solved(opened, 1);
  EXPECT_GT(without_surge.plan.start, with_surge.plan.start + 10e-3);
  EXPECT_TRUE(with_surge.lap->clean.at.clean());
  EXPECT_TRUE(starvation::holds_up(with_surge.lap->car->never_drawn, with_surge.lap->clean.level));
  EXPECT_FALSE(without_surge.lap->clean.below.clean());
  EXPECT_THAT(report::session_text(with_surge, false), HasSubstr("which decides"));
  EXPECT_THAT(report::session_text(without_surge, false), Not(HasSubstr("which decides")));
  for (const auto* r : {&with_surge, &without_surge}) expect_a_plausible_first_answer(opened, *r);
  // What the circuit does wrong is said, and asks for no fuel.
  const auto& late = with_surge.lap->course.delivery->faults;
  ASSERT_FALSE(late.empty());
  EXPECT_EQ(late.front().kind, circuit::LapFaultKind::spin_up);
  EXPECT_GT(late.front().leaner(), 0.04) << "leaner than set by more than the limit of 3 %";
  EXPECT_TRUE(with_surge.lap->clean.exists);
  EXPECT_LT(with_surge.lap->clean.level, 5e-3);
  EXPECT_FALSE(report::session_json(with_surge)["circuit_faults"].empty());
  EXPECT_THAT(report::session_text(with_surge, false), HasSubstr("CIRCUIT'S FAULT"));
  // A stricter limit finds more faults of the circuit, not a need for fuel.
  auto strict = test::demo("ostrel-p4");
  strict.project.setups[0].limits.mixture = {.lean = 0.01, .time = 0.05};
  const auto harder = lap_result(strict.project, resolve(strict.project, {.setup = with_surge.setup}),
                                 *strict.sources, {.ladder = {.levels = 10, .resolution = 1e-3}});
  EXPECT_TRUE(harder->clean.exists);
  EXPECT_LT(harder->clean.level, 6e-3);
}

TEST(SolveDemo, TheTarnStarvesWithBothSidesTeedToTheEngine) {
  const auto opened = test::demo("ostrel-tarn");
  const auto with_surge = solved(opened, 0), teed = solved(opened, 1);
  ASSERT_EQ(teed.lap->car->tank->spaces.size(), 3u);
  EXPECT_GT(teed.lap->clean.level, with_surge.lap->clean.level + 10e-3);
  EXPECT_THAT(teed.lap->clean.below.events.at(0).cause.in(), HasSubstr("side"));
  for (const auto* r : {&with_surge, &teed}) expect_a_plausible_first_answer(opened, *r);
  ASSERT_FALSE(with_surge.lap->course.delivery->faults.empty());
  EXPECT_EQ(with_surge.lap->course.delivery->faults.front().kind, circuit::LapFaultKind::overwhelmed);
  EXPECT_FALSE(report::session_json(with_surge)["circuit_faults"].empty());
}

TEST(SolveDemo, TheWispStarvesAtItsLaunchWhenLow) {
  const auto opened = test::demo("ostrel-wisp");
  const auto practice = solved(opened, 0), timed = solved(opened, 0, 1), moved = solved(opened, 1);
  ASSERT_FALSE(timed.lap->clean.below.events.empty());
  EXPECT_LT(timed.lap->clean.below.events[0].start, 6.0);
  EXPECT_THAT(timed.lap->clean.below.events[0].cause.in(), HasSubstr("front"));
  EXPECT_TRUE(practice.lap->course.delivery->faults.empty());
  for (const auto* r : {&practice, &moved}) expect_a_plausible_first_answer(opened, *r);
  // Every headline has its working, and the sum in it is the number shown.
  EXPECT_EQ(timed.working.value, timed.risk.start);
  ASSERT_FALSE(timed.working.steps.empty());
  EXPECT_EQ(timed.working.steps[0].value, timed.plan.start);
  EXPECT_EQ(timed.lap->clean_working.value, timed.lap->clean.level);
  EXPECT_EQ(timed.lap->reserve_working.value, timed.lap->clean.at.least_seconds);
  std::map<std::string, double> in;
  for (const Term& t : timed.working.steps[0].inputs) in[t.symbol] = t.value;
  EXPECT_NEAR(in["V_end"] + (in["n"] + in["m"]) * in["c"] + in["V_sample"] + in["V_gauge"], timed.plan.start,
              1e-12);
}

TEST(SolveDemo, TheLaddersStepsDoNotDecide) {
  // Where clean levels and starving ones take turns, the search must not jump from one clean window into
  // another: 27 to 35 L were told of this car, by the ladder.
  const auto opened = test::demo("ostrel-tarn");
  const auto& p = opened.project;
  const Resolved r = resolve(p, {.setup = p.setups[1].name, .session = p.sessions[0].name});
  std::vector<double> levels, ends;
  for (const int steps : {8, 15}) {
    LapOptions options;
    options.ladder = {.levels = steps, .resolution = 0.1e-3};
    const LapResultPtr lap = lap_result(p, r, *opened.sources, options);
    levels.push_back(lap->clean.level);
    ends.push_back(least_end_of(*lap, p.sessions[0]).end);
  }
  EXPECT_NEAR(levels[1], levels[0], 0.1e-3);
  EXPECT_NEAR(ends[1], ends[0], 0.25e-3);
}

TEST(SolveDemo, TheTarnsDipStickStandsBesideTheTunnel) {
  const auto opened = test::demo("ostrel-tarn");
  const auto tank = opened.sources->tanks.assembled(opened.project.setups[0].tank);
  const auto reads = session::readings(opened.project.setups[0].tank, tank->tank, 24.5e-3);
  ASSERT_TRUE(reads.dip);
  EXPECT_GT(*reads.dip, 0.05) << "24.5 L are no empty tank";
  EXPECT_NEAR(*floor_under(tank->tank, reads.place), tank->tank.lower_corner().z(), 1e-6);
}

}  // namespace
}  // namespace uadze::solve
