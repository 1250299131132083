// Laps until they repeat themselves: strides, and laps taken over from the one before.
#include "core/starvation/drive.h"

#include <gtest/gtest.h>

#include "core/starvation/level_run.h"
#include "support/demo.h"
#include "support/simple_cars.h"

namespace uadze::starvation {
namespace {

TEST(Settling, GuessesTheEndOfAGeometricFall) {
  // 0.4, 0.2, 0.1 ... comes to rest 0.8 down in all; after two laps 0.2 are left.
  Settling settling;
  EXPECT_EQ(settling.drop(0.4, 10), 0);
  EXPECT_NEAR(settling.drop(0.2, 10), 0.2, 1e-12);
  EXPECT_FALSE(settling.beyond());
  Settling steady;
  steady.drop(0.1, 1);
  EXPECT_NEAR(steady.drop(0.1, 1.05), 1.0, 1e-12) << "no slowing: as many laps as there is room for";
  EXPECT_EQ(steady.laps_skipped(), 10);
  EXPECT_TRUE(steady.beyond());
  Settling far;
  far.drop(1.0, 2.7);
  EXPECT_NEAR(far.drop(0.9, 2.7), 0.81 + 0.729 + 0.6561, 1e-12)
      << "three more laps, of 8.1 that it would fall";
  EXPECT_EQ(far.laps_skipped(), 3);
  EXPECT_TRUE(far.beyond());
}

/// Two laps driven to their ends, and by drive_laps.
struct Both {
  Both(const FuelSystem& car, const Course& course, double level) {
    Marcher plain(car, course, level);
    plain.enter();
    plain.lap(second);
    burnt = -plain.ledger().burnt;
    plain.lap(second);
    burnt += plain.ledger().burnt;
    stretches = plain.stretches();
    Marcher march(car, course, level);
    march.enter();
    drive = drive_laps(march, course, {.most_laps = 2});
  }
  LapTrace second;
  double burnt = 0.0;  ///< m3, on the second lap
  std::vector<LeanStretch> stretches;
  Drive drive;
};

TEST(Drive, ALapTakenOverIsAsItWouldHaveBeenDriven) {
  const solve::LapCasePtr ready = [] {
    const test::Demo opened = test::demo("ostrel-p4");
    return solve::lap_case(
        opened.project,
        solve::resolve(opened.project, {.setup = opened.project.setups[1].name, .alone = true}),
        *opened.sources, {.points = 300});
  }();
  const lap::Lap& lap = *ready->course.lap;
  // With 12 L, and more so with 21, a lap is a chance's width from another: so far apart full laps are, too.
  for (const auto& [level, apart] : {std::pair{12e-3, 3.0}, {36e-3, 1.0}, {21e-3, 15.0}}) {
    SCOPED_TRACE(level);
    const Both both(*ready->car, ready->course, level);
    ASSERT_TRUE(both.drive.trace.taken_over);
    EXPECT_TRUE(both.drive.settled);
    EXPECT_EQ(both.drive.laps, 2);
    // Driven no further than half of the lap, or it would not be worth it.
    EXPECT_LT(both.drive.trace.marks.back().sample, lap.size() / 2);
    double worst = 0, wet = 0;
    for (size_t i = 0; i < lap.size(); ++i) {
      worst = std::max(worst, std::abs(both.drive.trace.rail[i] - both.second.rail[i]));
      for (size_t p = 0; p < both.second.wet.size(); ++p)
        wet += std::abs(both.drive.trace.wet[p][i] - both.second.wet[p][i]) / static_cast<double>(lap.size());
    }
    EXPECT_LT(worst, apart * 0.02e5) << "Pa at the rail";
    EXPECT_LT(wet, 1e-3);
    ASSERT_EQ(both.drive.stretches.size(), both.stretches.size());
    for (size_t k = 0; k < both.stretches.size(); ++k) {
      EXPECT_NEAR(both.drive.stretches[k].start, both.stretches[k].start, apart * 1e-2);
      EXPECT_NEAR(both.drive.stretches[k].end, both.stretches[k].end, apart * 1e-2);
      EXPECT_NEAR(both.drive.stretches[k].missing, both.stretches[k].missing, apart * 2e-7);
    }
    const Ledger& all = both.drive.ledger;
    EXPECT_NEAR(all.error(), 0, 1e-9 * all.start);
    EXPECT_NEAR(all.burnt, all.replaced, 1e-12);
    EXPECT_NEAR(all.burnt, 2 * both.burnt, 0.02 * both.burnt) << "of both laps";
  }
}

TEST(Drive, NoLapIsTakenOverWhileAStretchIsOpenOrTheTankDrains) {
  Mark quiet{.sample = 7, .state = {1, 2}}, same = quiet, loud = quiet, other = quiet, later = quiet;
  loud.quiet = false, other.state[1] += 2e-4, later.sample = 8;
  EXPECT_TRUE(quiet.same_as(same));
  for (const Mark* m : {&loud, &other, &later}) EXPECT_FALSE(quiet.same_as(*m) || m->same_as(quiet));
  same.state[0] = std::nan("");
  EXPECT_FALSE(quiet.same_as(same));
  // A surge tank that sinks by the same each lap: no lap is as the one before, though the fuel lies alike.
  const lap::Lap lap = test::corner_lap(0, 5);
  const FuelSystem car = test::surge_car(2e-3, 3.9e-5);
  const Course course = test::course_of(car, lap);
  Marcher march(car, course, 20e-3);
  march.enter();
  const Drive drive = drive_laps(march, course, {.most_laps = 3});
  EXPECT_FALSE(drive.trace.taken_over);
  EXPECT_FALSE(drive.settled);
  EXPECT_NEAR(drive.start - drive.end, 1e-6 * lap.duration(), 2e-8)
      << "the lift pump brings 1 mL/s too little";
}

}  // namespace
}  // namespace uadze::starvation
