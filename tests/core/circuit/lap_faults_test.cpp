// What is wrong with the circuit along a lap, against the injectors' law by hand and circuits made wrong on
// purpose.
#include "core/circuit/lap_faults.h"

#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include <cmath>

#include "support/circuits.h"

namespace uadze::circuit {
namespace {

using ::testing::HasSubstr;

/// A run with the differences given, one point every 0.05 s, set to 3 bar.
LoadRun run_of(const std::vector<double>& bar) {
  LoadRun out;
  for (size_t i = 0; i < bar.size(); ++i)
    out.points.push_back({.time = 0.05 * static_cast<double>(i),
                          .demand = 3e-5,
                          .difference = bar[i] * 1e5,
                          .set = 3e5,
                          .inlet_margin = 5e4,
                          .on = 1u,
                          .duty = 0.8});
  return out;
}

Case plain() {
  Case c = test::plain_case();
  c.surroundings.surge = false;
  return c;
}

TEST(LeanLimit, IsTheInjectorsLaw) {
  // 3 % less fuel for the same air is a difference of 1/1.03^2 = 0.94260.
  const LeanLimit limit{.lean = 0.03};
  EXPECT_NEAR(limit.least(3e5, 2e5, 0.9), 282'779, 1);
  EXPECT_NEAR(limit.most(3e5), 318'270, 1);
  // Corrected: at 2.5 bar and 80 % open, 100 % are reached at 2.5 x 0.64 = 1.6 bar; 3 % later at 1.508 bar.
  const LeanLimit corrected{.lean = 0.03, .corrected = true, .least_rail = 1.2e5};
  EXPECT_NEAR(corrected.least(3e5, 2.5e5, 0.8), 1.6e5 / 1.0609, 1);
  EXPECT_NEAR(corrected.least(3e5, 2.5e5, 0.5), 1.2e5, 1e-9) << "the rail's least comes first";
  const LapFault fault{.difference = 2.29e5, .set = 3e5};
  EXPECT_NEAR(fault.leaner(), std::sqrt(3 / 2.29) - 1, 1e-12);
  EXPECT_TRUE(std::isinf(LapFault{.set = 3e5}.leaner())) << "no pressure, no fuel";
}

TEST(LapFaults, CountOnlyWhatLastsLongerThanTheirTime) {
  std::vector<double> bar(60, 3.0);
  for (size_t i = 10; i < 12; ++i) bar[i] = 2.5;  // 0.05 s and the slopes to either side: under 0.15 s
  for (size_t i = 30; i < 40; ++i) bar[i] = 2.6;
  for (size_t i = 50; i < 60; ++i) bar[i] = 2.4;  // to the end
  const auto faults = lap_faults(plain(), run_of(bar), {.lean = 0.03, .time = 0.15});
  ASSERT_EQ(faults.size(), 1u);
  EXPECT_EQ(faults[0].kind, LapFaultKind::at_its_end);
  EXPECT_EQ(faults[0].count, 2);
  EXPECT_EQ(faults[0].difference, 2.4e5) << "the worst is told";
  EXPECT_NEAR(faults[0].start, 2.5, 0.05);
  EXPECT_NEAR(faults[0].longest, 0.5, 0.03);
  EXPECT_TRUE(lap_faults(plain(), run_of(bar), {.lean = 0.2, .time = 0.15}).empty());
  EXPECT_TRUE(lap_faults(plain(), {}, {}).empty());
}

TEST(LapFaults, TellTheirCause) {
  std::vector<double> bar(60, 3.0);
  for (size_t i = 20; i < 30; ++i) bar[i] = 2.5;
  Case staged = plain();
  staged.circuit.mains.push_back(staged.circuit.mains.front());
  staged.circuit.mains[1].name = "second";
  const auto only = [&](const LoadRun& run) {
    const auto faults = lap_faults(staged, run, {});
    EXPECT_EQ(faults.size(), 1u);
    return faults.empty() ? LapFault{} : faults.front();
  };
  LoadRun run = run_of(bar);
  EXPECT_EQ(only(run).kind, LapFaultKind::staged_off) << "the second never runs";
  for (LoadPoint& p : run.points) p.on = 3u;
  EXPECT_EQ(only(run).kind, LapFaultKind::at_its_end);
  run.points[20].spinning = 1;
  const LapFault late = only(run);
  EXPECT_EQ(late.kind, LapFaultKind::spin_up);
  EXPECT_EQ(late.main, 1);
  EXPECT_THAT(late.text.in(), HasSubstr("\"second\" comes late"));
  EXPECT_THAT(late.text.in(), HasSubstr("9.5 % leaner"));
  run.points[20].spinning = -1;
  for (LoadPoint& p : run.points) p.inlet_margin = -1e4;
  EXPECT_EQ(only(run).kind, LapFaultKind::boiling);
}

TEST(LapFaults, InjectorsThatAreTooSmallAreToldThoughThePressureHolds) {
  Case c = plain();
  c.circuit.rail.duty_limit = 0.85;
  LoadRun run = run_of(std::vector<double>(60, 3.0));
  for (size_t i = 20; i < 30; ++i) run.points[i].duty = 0.95;
  auto faults = lap_faults(c, run, {});
  ASSERT_EQ(faults.size(), 1u);
  EXPECT_EQ(faults[0].kind, LapFaultKind::injectors);
  EXPECT_EQ(faults[0].severity, Severity::warning) << "at their end, and nothing is lean";
  EXPECT_EQ(faults[0].leaner(), 0.0);
  EXPECT_THAT(faults[0].text.in(),
              HasSubstr("open 95.0 % of the time, where 85.0 % is their limit, for up to"));
  // Crossed at 0.85 on the way from 0.8 to 0.95 and back: a third of a step each way.
  EXPECT_NEAR(faults[0].longest, 0.05 * (9 + 2 * (1 - 1.0 / 3)), 1e-9);
  for (size_t i = 23; i < 26; ++i) run.points[i].duty = 1.0, run.points[i].short_by = 0.02 * double(i - 22);
  for (const bool corrected : {false, true}) {
    if (corrected)
      for (LoadPoint& p : run.points) p.duty *= 1 + p.short_by;
    faults = lap_faults(c, run, {.corrected = corrected});
    ASSERT_EQ(faults.size(), 1u) << corrected;
    EXPECT_EQ(faults[0].kind, LapFaultKind::injectors);
    EXPECT_EQ(faults[0].severity, Severity::error);
    EXPECT_NEAR(faults[0].leaner(), 0.06, 1e-12) << "at its worst";
    EXPECT_THAT(faults[0].text.in(), HasSubstr("open 100.0 % of the time"));
    EXPECT_THAT(faults[0].text.in(), HasSubstr("6.0 % leaner"));
  }
  // Without pressure it is the pressure that lacks.
  for (LoadPoint& p : run.points) p.difference = 2e5;
  for (const LapFault& f : lap_faults(c, run, {})) EXPECT_NE(f.kind, LapFaultKind::injectors);
}

TEST(LapFaults, TooMuchPressureIsOneToo) {
  std::vector<double> bar(60, 3.1);
  EXPECT_TRUE(lap_faults(plain(), run_of(bar), {}).empty()) << "3.3 % over: 1.7 % rich";
  for (size_t i = 20; i < 50; ++i) bar[i] = 3.4;
  LoadRun run = run_of(bar);
  for (LoadPoint& p : run.points) p.overwhelmed = p.difference > 3.3e5;
  const auto faults = lap_faults(plain(), run, {});
  ASSERT_EQ(faults.size(), 1u);
  EXPECT_EQ(faults[0].kind, LapFaultKind::overwhelmed);
  EXPECT_EQ(faults[0].severity, Severity::warning);
  EXPECT_LT(faults[0].leaner(), -0.05);
  EXPECT_THAT(faults[0].text.in(), HasSubstr("of the lap"));
}

TEST(LapFaults, ALiftThatBringsLessThanIsDrawnIsSaidOnce) {
  Case c = plain();
  c.surroundings.surge = true;
  c.surroundings.surge_volume = 1e-3;
  c.surroundings.return_to = ReturnTo::surge_tank;
  LoadRun run = run_of(std::vector<double>(60, 3.0));
  for (LoadPoint& p : run.points) p.lift = 2.5e-5;
  const auto faults = lap_faults(c, run, {});
  ASSERT_EQ(faults.size(), 1u);
  EXPECT_EQ(faults[0].kind, LapFaultKind::lift_short);
  // 1 L at 0.005 L/s.
  EXPECT_THAT(faults[0].text.in(), HasSubstr("200.0 s"));
  for (LoadPoint& p : run.points) p.lift = 3.1e-5;
  EXPECT_TRUE(lap_faults(c, run, {}).empty());
}

}  // namespace
}  // namespace uadze::circuit
