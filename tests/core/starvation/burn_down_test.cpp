// The fuel burning down over a stint, against closed forms in a box and against itself driven whole.
#include "core/starvation/burn_down.h"

#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include <cmath>

#include "core/starvation/never_drawn.h"
#include "support/simple_cars.h"

namespace uadze::starvation {
namespace {

using ::testing::HasSubstr;

/// 0.6 x 0.5 x 0.3 m, pickup in the middle of the left wall, on the floor; a left-hand corner runs it bare.
struct Burning {
  FuelSystem car = test::simple_car({0, 0.25, 0}, 1e-6);
  lap::Lap lap;
  Course course;
  explicit Burning(double seconds_before = 10, double g = 0.5)
      : lap(test::corner_lap(g * standard_gravity, 8, seconds_before)), course(test::course_of(car, lap)) {}
  double burnt() const { return consumption_per_lap(course.demand, lap); }
};

// The pickup is bare while the wedge_volume of fuel does not reach the left wall: at 0.5 g the surface falls
// by 0.25 m over the 0.5 m of width, so that at least 0.6 x 0.5 x 0.25 / 2 = 37.5 L must be there.
constexpr double wedge_volume = 37.5e-3;

TEST(BurnDown, TheLeastEndIsTheWedgeLessWhatIsBurntAfterTheCorner) {
  const Burning b;
  const std::vector<Pace> stint{{.laps = 6}};
  // The corner ends at 18 s of 28.
  const double after = 4e-5 * 10;
  const CleanLevel clean = clean_level(b.car, b.course, {.levels = 20, .resolution = 0.02e-3});
  EXPECT_NEAR(clean.level, wedge_volume, 0.2e-3);
  const LeastEnd least = least_end(b.car, b.course, stint, clean.level, {}, 0.02e-3);
  // The settled model is level with what was there as the lap began: 18 s of burning more.
  EXPECT_NEAR(least.end, wedge_volume - b.burnt(), 0.25e-3);
  EXPECT_LT(least.end, clean.level - after);
  EXPECT_TRUE(least.at.clean());
  EXPECT_FALSE(least.held_up);
  EXPECT_EQ(least.below.on, "lap 6");
  ASSERT_TRUE(least.below.event);
  EXPECT_EQ(least.below.event->place, "Long Left");
  // The whole stint driven, none of it skipped, says the same.
  EXPECT_TRUE(burn_down(b.car, b.course, stint, least.end + burnt_over(b.course, stint), {}).clean());
  EXPECT_FALSE(
      burn_down(b.car, b.course, stint, least.end - 0.1e-3 + burnt_over(b.course, stint), {}).clean());
}

TEST(BurnDown, AnEndSoughtCoarselyIsAsFarAboveTheClosestAsThatAtMost) {
  const Burning b;
  const std::vector<Pace> stint{{.laps = 6}};
  const double closest = wedge_volume - b.burnt();
  int before = 1000;
  for (const double resolution : {0.05e-3, 0.5e-3, 4e-3}) {
    const LeastEnd least = least_end(b.car, b.course, stint, wedge_volume + 0.1e-3, {}, resolution);
    EXPECT_TRUE(least.at.clean());
    EXPECT_FALSE(least.below.clean());
    EXPECT_LE(least.end - least.starves, 1.001 * resolution);
    EXPECT_GT(least.end, closest - 0.25e-3);
    EXPECT_LT(least.end, closest + 0.25e-3 + resolution);
    EXPECT_LE(least.runs, before) << "the coarser the sooner";
    before = least.runs;
  }
}

TEST(BurnDown, SlowLapsAfterTheLastFlyingOneLowerTheEndByWhatTheyBurn) {
  const Burning b;
  const CleanLevel clean = clean_level(b.car, b.course, {.levels = 20, .resolution = 0.02e-3});
  const auto end_of = [&](const std::vector<Pace>& stint) {
    return least_end(b.car, b.course, stint, clean.level, {}, 0.02e-3).end;
  };
  const double bare = end_of({{.laps = 4}});
  const std::vector<Pace> with_in_lap{{.laps = 4},
                                      {.name = "in lap", .laps = 1, .share = 0.6, .slower = 1.6}};
  EXPECT_NEAR(end_of(with_in_lap), bare - 0.6 * b.burnt(), 0.05e-3);
  EXPECT_NEAR(burnt_over(b.course, with_in_lap), 4.6 * b.burnt(), 1e-12);
}

TEST(BurnDown, ASlowLapIsSlowerGentlerAndBurnsItsShare) {
  const Burning b;
  const auto slow = slow_lap(b.car, b.course, 0.6, 1.6);
  EXPECT_NEAR(slow->lap.duration(), 1.6 * b.lap.duration(), 1e-9);
  EXPECT_NEAR(consumption_per_lap(slow->course.demand, slow->lap), 0.6 * b.burnt(), 1e-12);
  const size_t mid = b.lap.index_at(14);
  EXPECT_NEAR(slow->lap.lateral[mid], b.lap.lateral[mid] / 2.56, 1e-12);
  EXPECT_EQ(slow->lap.distance, b.lap.distance) << "the same way";
  // v dt is the same way: speed times time holds.
  EXPECT_NEAR(slow->lap.speed[mid] * 1.6, b.lap.speed[mid], 1e-12);
}

TEST(BurnDown, WhatNeverComesOutIsLeftAndSaid) {
  Burning b(10, 0.0);
  b.car.never_drawn = {.under = 1.0e-3, .foam = 0.5e-3, .film = 0.1e-3};
  const std::vector<Pace> stint{{.laps = 3}};
  const LeastEnd least = least_end(b.car, b.course, stint, 1.6e-3, {});
  EXPECT_TRUE(least.held_up);
  EXPECT_NEAR(least.end, 1.6e-3, 1e-12);
  const BurnDown less = burn_down(b.car, b.course, stint, least.end - 0.1e-3 + 3 * b.burnt(), {});
  EXPECT_TRUE(less.used_up);
  EXPECT_FALSE(less.clean());
  EXPECT_THAT(least_end_working(b.car, least, 1.6e-3).note.text, HasSubstr("what never comes out decides"));
}

TEST(BurnDown, ALaunchIsRunAtTheFuelThatTheCarHasThen) {
  const Burning b(10, 0.0);
  Launch launch{std::make_shared<const FuelSystem>(test::simple_car({0.3, 0, 0}, 1e-6)), b.lap, {}};
  // 0.4 g forward throws the fuel off the front wall: 0.24 m over 0.6 m, 0.6 x 0.5 x 0.24 / 2 = 36 L.
  for (double& a : launch.lap.longitudinal) a = 0.4 * standard_gravity;
  launch.course = test::course_of(*launch.car, launch.lap, false);
  const std::vector<Pace> stint{{.laps = 2, .launch = true}};
  const BurnOptions with{.launch = &launch};
  const BurnDown low = burn_down(b.car, b.course, stint, 34e-3, with);
  EXPECT_EQ(low.on, "launch before lap 1");
  EXPECT_TRUE(burn_down(b.car, b.course, stint, 38e-3, with).clean()) << "lap 2 has less and no launch";
  const LeastEnd least = least_end(b.car, b.course, stint, 3e-3, with, 0.05e-3);
  EXPECT_NEAR(least.end + 2 * b.burnt(), 36e-3, 0.5e-3);
}

TEST(BurnDown, KeptLapsGiveTheSameAsNewOnes) {
  const Burning b;
  const CleanLevel clean = clean_level(b.car, b.course, {.levels = 20, .resolution = 0.05e-3});
  Kept<Marched> kept(1u << 20);
  const BurnOptions how{.kept = &kept};
  for (int laps : {2, 5, 9}) {
    const std::vector<Pace> stint{{.laps = laps}, {.name = "in lap", .laps = 1, .share = 0.5, .slower = 2}};
    const LeastEnd with = least_end(b.car, b.course, stint, clean.level, how),
                   without = least_end(b.car, b.course, stint, clean.level, {});
    EXPECT_EQ(with.end, without.end);
    EXPECT_EQ(with.below.on, without.below.on) << laps;
    EXPECT_EQ(with.below.on, "lap " + std::to_string(laps)) << "named by its own stint, not by another's";
  }
}

}  // namespace
}  // namespace uadze::starvation
