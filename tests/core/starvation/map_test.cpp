#include <gtest/gtest.h>
#include <tbb/global_control.h>

#include "core/starvation/starvation_map.h"
#include "support/figures.h"
#include "support/random_shapes.h"
#include "support/simple_cars.h"

namespace uadze::starvation {
namespace {

using test::g;

using test::corner_lap;
using test::course_of;
using test::plain;
using test::simple_car;
using test::surge_car;

TEST(CleanLevel, OfABoxInALongCornerByClosedForm) {
  // At 0.5 g the surface falls 0.5 a metre to the left. A pickup on the floor at y = 0 is just covered when
  // the fuel's edge reaches it: a wedge with legs 0.25 and 0.125.
  const FuelSystem car = simple_car({0, 0, 0});
  const lap::Lap lap = corner_lap(0.5 * g, 8);
  const CleanLevel clean = clean_level(car, course_of(car, lap), {.levels = 40, .resolution = 1e-6});
  const double wedge = 0.6 * 0.25 * 0.125 / 2;
  ASSERT_TRUE(clean.exists);
  EXPECT_NEAR(clean.level, wedge, 2e-6);
  EXPECT_GE(clean.level, wedge) << "found from the safe side";
  EXPECT_LE(clean.unclean_below, wedge);
  ASSERT_FALSE(clean.below.events.empty());
  EXPECT_EQ(clean.below.events[0].place, "Long Left");
  const std::string cause = clean.below.events[0].cause.in();
  EXPECT_NE(cause.find("left-hand"), std::string::npos) << cause;
}

TEST(CleanLevel, IsNotSoughtUnderWhatNeverComesOut) {
  // The wedge of the test above, 9.4 L: what stays in the tank decides where it is more than that.
  FuelSystem car = simple_car({0, 0, 0});
  const lap::Lap lap = corner_lap(0.5 * g, 8);
  const Course course = course_of(car, lap);
  const double wedge = 0.6 * 0.25 * 0.125 / 2;
  const MapOptions fine{.levels = 40, .resolution = 1e-6};
  const int all = clean_level(car, course, fine).runs;
  for (double never : {0.5 * wedge, 0.99 * wedge, 1.01 * wedge, 1.9 * wedge, 0.09, 1.0}) {
    car.never_drawn.under = never;
    const CleanLevel clean = clean_level(car, course, fine);
    ASSERT_TRUE(clean.exists);
    EXPECT_NEAR(clean.level, std::clamp(never, wedge, car.tank->volume()), 2e-6) << never;
    EXPECT_LE(clean.unclean_below, wedge) << never;
    EXPECT_TRUE(clean.at.clean());
    EXPECT_FALSE(clean.below.clean()) << "a level that starves is known from the ladder";
    if (never > wedge) {
      EXPECT_LT(clean.runs, all - 10) << never;
    }
  }
  // All of the ladder clean: none is known to starve, and none is looked for.
  const FuelSystem easy = [] {
    FuelSystem out = simple_car({0, 0, 0});
    out.never_drawn.under = 2e-3;
    return out;
  }();
  const lap::Lap straight = corner_lap(0, 8);
  const CleanLevel clean = clean_level(easy, course_of(easy, straight), fine);
  EXPECT_EQ(clean.level, 2e-3);
  EXPECT_EQ(clean.unclean_below, 0);
  EXPECT_TRUE(clean.below.clean());
}

TEST(CleanLevel, TheFilterMixesAShortSipOfGasIntoWhatTheRailBears) {
  // Bare for t the filter's share of fuel falls to exp(-Q t/V); the rail holds 3/4 of its pressure while
  // share x Q brings sqrt(3/4) of the demand: t = -V/Q ln(0.866 x 0.8) = 0.734 s.
  FuelSystem car = simple_car({0, 0.2, 0});
  car.filter_hold = car.line_hold;
  const double edge = -std::log(std::sqrt(0.75) * 4.0 / 5.0) * 1e-4 / 5e-5;
  for (const auto& [turn, clean] : {std::pair{edge - 0.05, true}, {edge + 0.05, false}}) {
    const lap::Lap lap = corner_lap(1.5 * g, turn);
    EXPECT_EQ(is_clean(car, course_of(car, lap), 3e-3), clean) << turn;
  }
}

TEST(LevelRun, AGasSlugArrivesWhenTheLineHasPassedAndGoesAsItCame) {
  const FuelSystem car = simple_car({0, 0.2, 0});
  const lap::Lap lap = corner_lap(1.5 * g, 5);
  const LevelRun run = run_level(car, course_of(car, lap), 3e-3);
  ASSERT_EQ(run.events.size(), 1u);
  // 0.1 L at 0.05 L/s: two seconds.
  EXPECT_NEAR(run.events[0].start, 12.0, 0.05);
  EXPECT_NEAR(run.events[0].end, 17.0, 0.06);
  EXPECT_NEAR(run.events[0].start_distance, 600, 3);
  EXPECT_NEAR(run.events[0].missing, 5 * 4e-5, 3e-6);
  EXPECT_EQ(run.events[0].side, "pickup");
  EXPECT_EQ(run.events[0].phase, "mid-corner");
  EXPECT_EQ(run.tightest_place, "Long Left");
  EXPECT_EQ(run.least_seconds, 0);
}

TEST(LevelRun, TheSurgeTankLastsForItsVolumeOverTheDraw) {
  // Bare for 5 s at 0.04 L/s: 0.2 L are needed.
  const lap::Lap lap = corner_lap(1.5 * g, 5);
  const FuelSystem enough = surge_car(2.1e-4, 6e-5), little = surge_car(1.9e-4, 6e-5);
  EXPECT_TRUE(is_clean(enough, course_of(enough, lap), 3e-3));
  EXPECT_FALSE(is_clean(little, course_of(little, lap), 3e-3));
  const LevelRun run = run_level(enough, course_of(enough, lap), 3e-3);
  EXPECT_NEAR(run.least_reserve, 0.1e-4, 0.02e-4);
  EXPECT_NEAR(run.least_seconds, 0.1e-4 / 4e-5, 0.05);
  EXPECT_NEAR(lap.time[run.tightest], 15, 0.1);
}

TEST(LevelRun, AReturnToTheMainTankMakesTheLiftPumpsCarryItAll) {
  const lap::Lap lap = corner_lap(0, 1);
  const FuelSystem here = surge_car(1e-3, 4.5e-5),
                   there = surge_car(1e-3, 4.5e-5, circuit::ReturnTo::main_tank);
  EXPECT_TRUE(is_clean(here, course_of(here, lap), 3e-2)) << "lift above demand";
  EXPECT_FALSE(is_clean(there, course_of(there, lap), 3e-2)) << "lift below the main pump's flow";
  const LevelRun run = run_level(there, course_of(there, lap), 3e-2);
  EXPECT_NE(run.events[0].cause.in().find("are drawn"), std::string::npos) << run.events[0].cause.in();
}

TEST(LevelRun, AStandingRunIsDrivenOnceFromAFullReserve) {
  // Drawn down by 0.2 L and refilled with only 0.1 L: the second lap would begin lower.
  const lap::Lap lap = corner_lap(1.5 * g, 5, 2);
  const FuelSystem car = surge_car(3.0e-4, 4.5e-5);
  EXPECT_TRUE(run_level(car, course_of(car, lap, false), 3e-3).clean());
  const LevelRun repeated = run_level(car, course_of(car, lap, true), 3e-3);
  EXPECT_FALSE(repeated.clean());
  EXPECT_GT(repeated.first_short_lap, 1);
}

TEST(LevelRun, AMirroredLapInAMirroredTankGivesMirroredResults) {
  test::Random random(83);
  for (int n = 0; n < 12; ++n) {
    tank::Prism shape = random.prism();
    if (shape.axis == tank::Axis::z) shape.axis = tank::Axis::x;
    tank::Prism mirror = shape;
    if (shape.axis == tank::Axis::y) {
      mirror.from = -shape.to, mirror.to = -shape.from;
    } else {
      for (Vec2& p : mirror.profile) p.x() = -p.x();
    }
    FuelSystem one = surge_car(1e-4, 5e-5), other = one;
    one.tank = plain(shape), other.tank = plain(mirror);
    one.pickups[0].position = one.tank->whole.centroid();
    one.pickups[0].sock_radius = other.pickups[0].sock_radius = 0.02;
    other.pickups[0].position = one.pickups[0].position.cwiseProduct(Vec3(1, -1, 1));
    lap::Lap lap = corner_lap(1.2 * g, 4);
    for (size_t i = 0; i < lap.size(); ++i)
      lap.longitudinal[i] = 0.4 * g * std::sin(0.1 * static_cast<double>(i));
    const lap::Lap turned = lap::mirrored(lap);
    const double level = random.uniform(0.2, 0.8) * one.tank->volume();
    const LevelRun a = run_level(one, course_of(one, lap), level),
                   b = run_level(other, course_of(other, turned), level);
    ASSERT_EQ(a.events.size(), b.events.size());
    for (size_t i = 0; i < lap.size(); ++i) EXPECT_NEAR(a.coverage.wet[0][i], b.coverage.wet[0][i], 1e-6);
    EXPECT_NEAR(a.least_reserve, b.least_reserve, 1e-10);
  }
}

TEST(StarvationMap, DoesNotDependOnTheNumberOfThreads) {
  const FuelSystem car = surge_car(2e-4, 6e-5);
  const lap::Lap lap = corner_lap(1.1 * g, 6);
  const Course course = course_of(car, lap);
  const auto run = [&](size_t threads) {
    const tbb::global_control limit(tbb::global_control::max_allowed_parallelism, threads);
    return std::pair{starvation_map(car, course), clean_level(car, course)};
  };
  const auto [map1, clean1] = run(1);
  const auto [map2, clean2] = run(4);
  EXPECT_EQ(clean1.level, clean2.level);
  ASSERT_EQ(map1.rows.size(), map2.rows.size());
  for (size_t r = 0; r < map1.rows.size(); ++r) {
    EXPECT_EQ(map1.rows[r].wet, map2.rows[r].wet);
    EXPECT_EQ(map1.rows[r].reserve, map2.rows[r].reserve);
  }
}

TEST(StarvationMap, RowsAgreeWithTheCleanLevel) {
  const FuelSystem car = simple_car({0, 0.1, 0});
  const lap::Lap lap = corner_lap(0.8 * g, 6);
  const Course course = course_of(car, lap);
  const CleanLevel clean = clean_level(car, course);
  for (const MapRow& row : starvation_map(car, course).rows)
    EXPECT_EQ(row.events.empty(), row.level >= clean.level) << row.level;
  EXPECT_TRUE(clean.clean_again.empty());
  EXPECT_LE(clean.level - clean.unclean_below, 0.05e-3);
}

TEST(StarvationMap, CanBeCancelled) {
  const FuelSystem car = simple_car({0, 0.1, 0});
  const lap::Lap lap = corner_lap(0.8 * g, 6);
  Progress progress;
  progress.cancel();
  EXPECT_THROW(starvation_map(car, course_of(car, lap), {}, &progress), Cancelled);
  EXPECT_THROW(clean_level(car, course_of(car, lap), {}, &progress), Cancelled);
}

TEST(CleanLevel, SaysWhenNotEvenAFullTankIsClean) {
  FuelSystem car = simple_car({0, 0.249, 0.299}, 0);
  const lap::Lap lap = corner_lap(2 * g, 6);
  car.pickups[0].feeds = "nothing";
  const CleanLevel clean = clean_level(car, course_of(car, lap));
  EXPECT_FALSE(clean.exists);
  EXPECT_EQ(clean.level, car.tank->volume());
  EXPECT_NE(clean_level_working(car, clean, {}).note.text.find("Not even a full tank"), std::string::npos);
}

TEST(CleanLevel, APuddleUnderAWallPickupIsNotTakenForTheMinimum) {
  // Never less safe than any higher level of the ladder.
  const FuelSystem car = simple_car({0.25, -0.2, 0});
  const lap::Lap lap = corner_lap(1.0 * g, 6);
  const Course course = course_of(car, lap);
  const CleanLevel clean = clean_level(car, course);
  for (double level : level_ladder(car.tank->volume(), 40)) {
    EXPECT_TRUE(level <= clean.level || is_clean(car, course, level)) << level;
  }
}

TEST(Demand, ComesFromTheLogOrFromPower) {
  FuelSystem car = simple_car({0, 0, 0});
  lap::Lap lap = corner_lap(0, 1);
  car.engine.flow_scale = 1.1;
  EXPECT_NEAR(engine_demand(car, lap)[5], 4.4e-5, 1e-15);
  EXPECT_NEAR(consumption_per_lap(engine_demand(car, lap), lap), 4.4e-5 * lap.duration(), 1e-12);
  lap.throttle.assign(lap.size(), 0.5);
  car.engine = {.power = 200e3, .consumption = 8e-8, .idle_flow = 1e-6, .demand = DemandFrom::power};
  EXPECT_NEAR(engine_demand(car, lap)[5], 0.5 * 200e3 * 8e-8 / 745, 1e-15);
  lap.throttle.assign(lap.size(), 0.0);
  EXPECT_EQ(engine_demand(car, lap)[5], 1e-6) << "not less than idle";
  lap.throttle.clear();
  EXPECT_THROW(engine_demand(car, lap), InputError);
  lap.throttle.assign(lap.size(), 0.5);
  car.engine.power = 0;
  EXPECT_THROW(engine_demand(car, lap), InputError);
}

}  // namespace
}  // namespace uadze::starvation
