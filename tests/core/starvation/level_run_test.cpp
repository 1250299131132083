// Properties of runs on the demo's car and lap: balance, coverage, words.
#include "core/starvation/level_run.h"

#include <gtest/gtest.h>

#include "core/project/solve.h"
#include "support/temp_folder.h"

namespace uadze::starvation {
namespace {

class DemoRun : public ::testing::Test {
 protected:
  const project::Opened opened = project::open_project(test::source("demo/ostrel-p4.uadze.json"));
  project::LapStore laps{opened.file.path.parent_path()};
  const project::LapStore::Entry lap = laps.get(opened.project.laps[0]);

  double clean(const project::Setup& setup) {
    return project::solve_lap(setup, opened.project.laps[0], laps, tanks, {.levels = 6, .resolution = 2e-3})
        ->clean.level;
  }
  project::TankStore tanks;

  LevelRun run(size_t setup, double level) {
    const FuelSystem car = project::compile(opened.project.setups[setup], tanks);
    return run_level(car, project::make_course(car, opened.project.laps[0], lap->value), level);
  }
};

TEST_F(DemoRun, FuelIsConservedAtEveryLevel) {
  for (size_t setup : {0u, 1u})
    for (double level = 0.5e-3; level < 64e-3; level += 9e-3) {
      const ReserveRun& r = run(setup, level).cycle.last;
      EXPECT_NEAR(r.balance_error, 0, 1e-9 * r.supplied + 1e-15);
      double missing = 0;
      for (const Shortage& s : r.shortages) missing += s.volume;
      EXPECT_NEAR(missing, r.missing, 1e-15);
    }
}

TEST_F(DemoRun, EventsAreInOrderInsideTheLapAndHaveWords) {
  int events = 0;
  for (size_t setup : {0u, 1u})
    for (double level = 0.4e-3; level < 30e-3; level += 4e-3) {
      const LevelRun r = run(setup, level);
      double last = -1;
      for (const Event& e : r.events) {
        ++events;
        EXPECT_GE(e.start, last);
        EXPECT_GT(e.end, e.start);
        EXPECT_LE(e.end, lap->value.time.back() + 1e-9);
        EXPECT_LE(e.start_distance, e.end_distance);
        EXPECT_GT(e.missing, 0);
        EXPECT_FALSE(e.place.empty());
        EXPECT_NE(e.cause.find("empty"), std::string::npos) << e.cause;
        last = e.end;
      }
      EXPECT_EQ(r.clean(), r.events.empty());
      EXPECT_EQ(r.clean(), r.cycle.first_short_lap == 0);
    }
  EXPECT_GT(events, 5);
}

TEST_F(DemoRun, CoverageIsAFractionAndMeanLiesAboveTheLeast) {
  const LevelRun r = run(0, 5e-3);
  ASSERT_EQ(r.coverage.wet.size(), 2u);
  for (size_t i = 0; i < lap->value.size(); ++i) {
    for (const auto& wet : r.coverage.wet) {
      EXPECT_GE(wet[i], 0);
      EXPECT_LE(wet[i], 1);
    }
    EXPECT_NEAR(r.coverage.covered_mean[i], (r.coverage.wet[0][i] + r.coverage.wet[1][i]) / 2, 1e-15);
    EXPECT_LE(r.coverage.covered_least[i], r.coverage.covered_mean[i] + 1e-15);
    EXPECT_NEAR(r.supply[i], (r.coverage.wet[0][i] + r.coverage.wet[1][i]) * 130e-3 / 3600, 1e-12);
  }
}

TEST_F(DemoRun, FullIsCoveredAndEmptyIsBare) {
  const LevelRun full = run(0, 64e-3), empty = run(0, 0);
  double least = 1, most = 0;
  for (size_t i = 0; i < lap->value.size(); ++i) {
    least = std::min(least, full.coverage.covered_mean[i]);
    most = std::max(most, empty.coverage.covered_mean[i]);
  }
  EXPECT_EQ(least, 1.0);
  EXPECT_EQ(most, 0.0);
  EXPECT_TRUE(full.clean());
  EXPECT_TRUE(std::isinf(full.least_seconds)) << "two lift pumps bring more than is ever drawn";
  EXPECT_FALSE(empty.clean());
}

TEST_F(DemoRun, ABareOutsideIsNamedOnTheRightSide) {
  // In the long left-hand corner the collector's fuel is on its right: the left pickup is the bare one.
  const LevelRun r = run(0, 2.5e-3);
  const auto& d = lap->value.distance;
  const size_t i = static_cast<size_t>(std::lower_bound(d.begin(), d.end(), 1100.0) - d.begin());
  ASSERT_EQ(opened.project.setups[0].tank.pickups[0].name, "rear left");
  EXPECT_LT(r.coverage.wet[0][i], 0.1);
  EXPECT_GT(r.coverage.wet[1][i], r.coverage.wet[0][i]);
}

TEST_F(DemoRun, BiggerSurgeTanksNeverHurt) {
  project::Setup setup = opened.project.setups[0];
  double last = 1;
  for (double volume : {0.2e-3, 1e-3, 4e-3}) {
    setup.surge->volume = volume;
    const double level = clean(setup);
    EXPECT_LE(level, last + 1e-9) << volume;
    last = level;
  }
}

TEST_F(DemoRun, WeakerLiftPumpsNeverHelp) {
  project::Setup setup = opened.project.setups[0];
  double last = 0;
  for (double flow : {200e-3, 130e-3, 118e-3}) {
    for (auto& pump : setup.lift_pumps) pump.flow = flow / 3600;
    const double level = clean(setup);
    EXPECT_GE(level, last - 1e-9) << flow;
    last = level;
  }
}

}  // namespace
}  // namespace uadze::starvation
