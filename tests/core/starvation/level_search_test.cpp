// Levels asked where others starved, against wedges in a box and against laps driven whole.
#include "core/starvation/level_search.h"

#include <gtest/gtest.h>

#include "core/base/root.h"
#include "core/starvation/band.h"
#include "support/random_shapes.h"
#include "support/simple_cars.h"

namespace uadze::starvation {
namespace {

using test::course_of;
using test::simple_car;

/// Left-hand corners of 6 s, one after the other, 15 s of straight before each and after the last.
lap::Lap corners_of(const std::vector<double>& accelerations) {
  lap::Lap out;
  for (double a : accelerations) {
    lap::Lap one = test::corner_lap(a * standard_gravity, 6, 15);
    const double so_far = out.time.empty() ? 0.0 : out.time.back() + 0.02;
    for (double& t : one.time) t += so_far;
    for (double& s : one.distance) s += 50 * so_far;
    for (auto channel : {&lap::Lap::time, &lap::Lap::distance, &lap::Lap::lateral, &lap::Lap::longitudinal,
                         &lap::Lap::vertical, &lap::Lap::speed, &lap::Lap::fuel_flow})
      (out.*channel).insert((out.*channel).end(), (one.*channel).begin(), (one.*channel).end());
  }
  return out;
}

constexpr double middle = 18.0, apart = 36.02;  // s: of the first corner, and from one to the next

/// m3 that just reach from the right wall to a pickup in the middle of the floor.
double wedge(double acceleration) { return 0.6 * 0.25 * 0.25 * acceleration / 2; }

TEST(LevelSearch, SeesAtAPlaceWhatStarvesThereAndNothingElse) {
  const FuelSystem car = simple_car({0, 0, 0});
  const lap::Lap lap = corners_of({0.3, 0.5, 0.4});
  const Course course = course_of(car, lap);
  for (int k = 0; k < 3; ++k)
    for (double by : {0.98, 1.02}) {
      const double own = wedge(std::array{0.3, 0.5, 0.4}[static_cast<size_t>(k)]);
      EXPECT_EQ(starves_about(car, course, by * own, middle + k * apart), by < 1) << k;
      EXPECT_FALSE(starves_about(car, course, by * own, middle + k * apart - 12)) << "on the straight before";
    }
  // At the lap's very beginning and end too, where it is come to over the start line.
  for (double time : {-1.0, 0.0, lap.time.back(), lap.time.back() + 1})
    EXPECT_FALSE(starves_about(car, course, 0.5 * wedge(0.3), time)) << time;
}

TEST(LevelSearch, FindsWhatStarvesBeyondThePlacesItKnows) {
  const FuelSystem car = simple_car({0, 0, 0});
  const lap::Lap lap = corners_of({0.3, 0.5, 0.4});
  const Course course = course_of(car, lap);
  LevelSearch search(car, course);
  search.suspect(middle);
  const double level = 1.1 * wedge(0.3);
  EXPECT_TRUE(search.passes(level)) << "the first corner does not starve";
  EXPECT_FALSE(search.clean(level)) << "the second and third do";
  EXPECT_FALSE(search.passes(0.9 * level)) << "under what was found to starve";
  EXPECT_FALSE(search.passes(1.01 * level));
  EXPECT_FALSE(search.passes(0.98 * wedge(0.5)));
  EXPECT_TRUE(search.passes(1.02 * wedge(0.5)));
  // A search that is told a place where nothing hurts, another corner or none ends at the same.
  for (const std::optional<double> suspect : {std::optional<double>(), {3.0}, {middle}, {middle + 2 * apart}})
    for (double start : {2e-3, wedge(0.3), wedge(0.5), 30e-3})
      EXPECT_NEAR(clean_level_near(car, course, start, 1e-6, nullptr, suspect), wedge(0.5), 2e-6)
          << suspect.value_or(-1) << " from " << start;
}

TEST(LevelSearch, DrivesWholeWhatDrainsFromLapToLap) {
  // Lift pumps that do not keep up: the surge tank is empty only some laps later.
  FuelSystem car = test::surge_car(0.5e-3, 3.8e-5);
  car.pickups[0].position = {0, 0, 0};
  const lap::Lap lap = corners_of({0.3, 0.5});
  const Course course = course_of(car, lap);
  const double full = car.tank->volume();
  ASSERT_FALSE(is_clean(car, course, full)) << "or nothing is tried";
  LevelSearch search(car, course);
  search.suspect(middle);
  EXPECT_TRUE(search.passes(full)) << "with a full surge tank nothing shows there";
  EXPECT_FALSE(search.clean(full));
  EXPECT_FALSE(search.passes(full * (1 - 1e-9)));
  EXPECT_EQ(clean_level_near(car, course, 20e-3, 0.1e-3), full);
}

TEST(LevelSearch, FindsTheBoundaryOfWhatDrainsFromLapToLap) {
  // Pumps that keep up until the second corner bares them: over the laps that drains the surge tank too.
  FuelSystem car = test::surge_car(0.5e-3, 4.3e-5);
  car.pickups[0].position = {0, 0, 0};
  const lap::Lap lap = corners_of({0.3, 0.5});
  const Course course = course_of(car, lap);
  const auto is = [&](double level) { return is_clean(car, course, level); };
  ASSERT_TRUE(is(20e-3));
  const double turns = turn_between(is, 1e-3, 20e-3, 0.1e-3).yes;
  const auto trouble = first_trouble(car, course, turns - 0.5e-3);
  ASSERT_TRUE(trouble && trouble->later) << "or nothing is tried";
  for (const std::optional<double> suspect : {std::optional<double>(), {middle + apart}})
    for (double start : {2e-3, 8e-3, 20e-3})
      EXPECT_NEAR(clean_level_near(car, course, start, 0.1e-3, nullptr, suspect), turns, 0.1e-3) << start;
}

TEST(LevelSearch, WhatIsToldWasDrivenWholeInRandomCarsOnRandomLaps) {
  test::Random random(26);
  int between = 0;
  for (int n = 0; n < 12; ++n) {
    FuelSystem car = simple_car({random.uniform(-0.25, 0.25), random.uniform(-0.2, 0.2), 0.005});
    car.model = slosh::Model::planar;
    std::vector<double> accelerations;
    for (int k = random.whole(1, 4); k > 0; --k) accelerations.push_back(random.uniform(-0.9, 0.9));
    const lap::Lap lap = corners_of(accelerations);
    const Course course = course_of(car, lap);
    const CleanLevel clean = clean_level(car, course, {.levels = 10});
    if (clean.exists) {
      EXPECT_TRUE(is_clean(car, course, clean.level)) << n;
      EXPECT_TRUE(clean.at.clean()) << n;
    }
    if (clean.unclean_below > 0) {
      EXPECT_FALSE(is_clean(car, course, clean.unclean_below)) << n;
      EXPECT_LE(clean.level - clean.unclean_below, 0.05e-3 + 1e-12) << n;
      ++between;
    }
    const double near = clean_level_near(car, course, random.uniform(0, 90e-3), 0.1e-3);
    EXPECT_TRUE(near >= car.tank->volume() || is_clean(car, course, near)) << n;
  }
  EXPECT_GE(between, 6) << "or little was tried";
}

}  // namespace
}  // namespace uadze::starvation
