// Whole runs in tanks of random shape: every drop accounted for, pickups that share a pump, levels in order,
// the band by closed form.
#include <gtest/gtest.h>

#include "core/starvation/band.h"
#include "core/starvation/first_answer.h"
#include "core/starvation/stint.h"
#include "support/figures.h"
#include "support/random_shapes.h"
#include "support/simple_cars.h"

namespace uadze::starvation {
namespace {

using test::g;

/// A lap of random forces that comes back to where it began.
lap::Lap random_lap(test::Random& random, double seconds = 12) {
  lap::Lap lap;
  const double a = random.uniform(0, 2), b = random.uniform(0, 2), w = random.uniform(1, 6);
  for (double t = 0; t <= seconds + 1e-9; t += 0.02) {
    const double turn = 2 * 3.14159265358979 * t / seconds;
    lap.time.push_back(t);
    lap.distance.push_back(40 * t);
    lap.lateral.push_back(a * g * std::sin(std::round(w) * turn));
    lap.longitudinal.push_back(b * g * std::cos(std::round(w + 1) * turn));
    lap.vertical.push_back(g);
    lap.speed.push_back(40);
    lap.fuel_flow.push_back(3e-5 * (1 + 0.9 * std::sin(turn)));
  }
  return lap;
}

/// A car whose tank has any shape, with or without a surge tank, its pickups anywhere in it.
FuelSystem random_car(test::Random& random) {
  FuelSystem car = test::simple_car({0, 0, 0}, random.uniform(0, 2e-4));
  car.tank = test::plain(random.prism());
  car.model = slosh::Model::planar;
  car.submergence_scale = 1;
  car.filter_hold = random.uniform(0, 1) * car.line_hold;
  car.limits = {};
  const bool surge = random.uniform(0, 1) < 0.6;
  car.pickups.clear();
  for (int k = 0; k < 2; ++k) {
    const Vec3 middle = car.tank->whole.centroid();
    Vec3 at = middle;
    for (int tries = 0; tries < 50; ++tries) {
      const Vec3 low = car.tank->lower_corner(), high = car.tank->upper_corner();
      const Vec3 offered(random.uniform(low.x(), high.x()), random.uniform(low.y(), high.y()),
                         random.uniform(low.z(), middle.z()));
      if (car.tank->contains(offered)) {
        at = offered;
        break;
      }
    }
    car.pickups.push_back({k ? "second" : "first", at, 0.015, surge ? (k ? "b" : "a") : "engine"});
  }
  if (surge) {
    car.lift_pumps = {{"a", random.uniform(1e-5, 6e-5)}, {"b", random.uniform(1e-5, 6e-5)}};
    car.surge = SurgeTank{.volume = random.uniform(0.2e-3, 2e-3),
                          .engine_return = random.uniform(0, 1) < 0.5 ? circuit::ReturnTo::surge_tank
                                                                      : circuit::ReturnTo::main_tank,
                          .height = random.uniform(0.05, 0.3)};
  }
  return car;
}

TEST(Coupling, KeepsTheVolumeInTanksOfAnyShape) {
  test::Random random(17);
  int events = 0;
  for (int n = 0; n < 25; ++n) {
    const FuelSystem car = random_car(random);
    const lap::Lap lap = random_lap(random);
    const Course course = test::course_of(car, lap, random.uniform(0, 1) < 0.7);
    const double level = random.uniform(0.02, 1) * car.tank->volume();
    const LevelRun run = run_level(car, course, level, {.most_laps = 3});
    EXPECT_NEAR(run.ledger.error(), 0, 1e-9 * run.ledger.start) << n;
    for (size_t i = 0; i < lap.size(); i += 7) {
      EXPECT_GE(run.tank_level[i], -1e-12);
      EXPECT_LE(run.tank_level[i], car.tank->volume() * (1 + 1e-9));
      EXPECT_GE(run.rail[i], 0);
    }
    for (const Event& e : run.events) {
      ++events;
      EXPECT_FALSE(e.cause.in().empty());
      EXPECT_GT(e.end, e.start);
      EXPECT_FALSE(e.place.empty());
    }
    const StintRun stint = run_stint(car, course, {.start = level, .laps = 4, .stop_at_event = false});
    EXPECT_NEAR(stint.ledger.error(), 0, 1e-9 * stint.ledger.start) << n;
    double burnt = 0;
    for (const StintLap& l : stint.laps) burnt += l.burnt;
    EXPECT_NEAR(burnt, stint.ledger.burnt, 1e-12);
  }
  EXPECT_GT(events, 5) << "some of them starve";
}

TEST(Coupling, ABarePickupBesideACoveredOneTakesNearlyAllTheFlow) {
  // One deep, one above any fuel; both feed the engine.
  FuelSystem car = test::simple_car({0, 0, 0.01}, 0);
  car.pickups = {{"deep", {0, 0, 0.01}, 0.0, "engine"}, {"high", {0, 0, 0.29}, 0.0, "engine"}};
  const lap::Lap lap = test::corner_lap(0, 1, 3);
  const Course course = test::course_of(car, lap);
  const LevelRun run = run_level(car, course, 30e-3);
  const double ease = std::sqrt(1.3 / car.fuel_density);
  EXPECT_NEAR(1 - run.gas[100], ease / (1 + ease), 1e-6);
  EXPECT_FALSE(run.clean());
}

TEST(Coupling, LevelsAreInOrderOrTheMapSaysWhyNot) {
  test::Random random(29);
  for (int n = 0; n < 4; ++n) {
    const FuelSystem car = random_car(random);
    const lap::Lap lap = random_lap(random);
    const Course course = test::course_of(car, lap);
    const MapOptions options{.levels = 12, .resolution = 0.2e-3};
    const Ladder steps = ladder(car, course, options);
    const StarvationMap map = starvation_map(car, course, options, nullptr, &steps);
    const CleanLevel clean = clean_level(car, course, options, nullptr, &steps);
    // What a rung tells by a place or a quick look its whole lap tells too.
    for (size_t k = 0; k < map.rows.size(); ++k)
      EXPECT_EQ(map.rows[k].events.empty(), bool(steps.rungs[k].clean)) << n << ", " << map.rows[k].level;
    size_t cleaner = 0;
    bool starved_above = false;
    for (auto row = map.rows.rbegin(); row != map.rows.rend(); ++row) {
      if (row->events.empty() && starved_above) ++cleaner;
      starved_above = starved_above || !row->events.empty();
    }
    EXPECT_EQ(clean.clean_again.size(), cleaner);
    for (const Anomaly& a : clean.clean_again) {
      EXPECT_LT(a.level, a.higher);
      EXPECT_NE(a.text.in().find("Less fuel is not safer"), std::string::npos);
    }
    const auto corners = corner_levels(map);
    for (size_t k = 1; k < corners.size(); ++k) EXPECT_LE(corners[k].level, corners[k - 1].level);
  }
}

// Every row of the map again by the whole lap: none that starves is drawn clean, and what a quick look shows,
// or what is drawn between two rows that keep half of the reserve, lies near.
TEST(Coupling, RowsBetweenCleanOnesAreQuickLooksThatAgree) {
  test::Random random(53);
  int coarse = 0, drawn_between = 0;
  double apart = 0, cells = 0;
  for (int n = 0; n < 10; ++n) {
    const FuelSystem car = random_car(random);
    const lap::Lap lap = random_lap(random);
    const Course course = test::course_of(car, lap);
    const StarvationMap map = starvation_map(car, course, {.levels = 40});
    ASSERT_EQ(map.rows.size(), 40u);
    for (size_t i = 0; i < map.rows.size(); ++i) {
      const MapRow& row = map.rows[i];
      const MapRow whole = row_of(run_level(car, course, row.level), course, car.reserve_capacity());
      EXPECT_EQ(row.events.empty(), whole.events.empty())
          << n << ", " << row.level << (row.coarse ? " coarse" : "");
      if (!row.coarse) {
        EXPECT_EQ(row.wet, whole.wet) << n << ", " << row.level;
        continue;
      }
      ++coarse;
      EXPECT_TRUE(row.events.empty());
      ASSERT_EQ(row.wet.size(), lap.size());
      const MapRow &lower = map.rows[i - 1], &upper = map.rows[i + 1];
      bool straight = true, bare = false;
      for (size_t k = 0; k < lap.size(); ++k) {
        straight = straight && std::abs(row.wet[k] - (lower.wet[k] + upper.wet[k]) / 2) < 1e-5f;
        bare = bare || row.wet[k] < 0.9f;
      }
      if (straight && bare) {
        ++drawn_between;
        for (size_t k = 0; k < lap.size(); ++k) EXPECT_GT(whole.reserve[k], 0.4f) << n << ", " << row.level;
      }
      for (size_t k = 0; k < lap.size(); ++k) apart += std::abs(row.wet[k] - whole.wet[k]), cells += 1;
      EXPECT_GT(i, 0u) << "the lowest is whole";
      EXPECT_NE(i, 39u) << "so is the full tank";
    }
  }
  EXPECT_GT(coarse, 60) << "or nothing was tried";
  EXPECT_GT(drawn_between, 10);
  EXPECT_LT(apart / cells, 0.02) << "of the coverage, on the mean";
}

// A band's end that stands on what never comes out goes by it.
TEST(Coupling, WhatAQuickLookFindsCleanByFarIsClean) {
  test::Random random(71);
  int far = 0, starving = 0;
  for (int n = 0; n < 40; ++n) {
    FuelSystem car = random_car(random);
    const lap::Lap lap = random_lap(random);
    const Course course = test::course_of(car, lap);
    const QuickLap quick(car, course);
    for (const double share : {0.1, 0.4, 0.8}) {
      const double level = share * car.tank->volume();
      const bool by_far = quick.clean_by_far(level), clean = is_clean(car, course, level);
      far += by_far, starving += !clean;
      EXPECT_TRUE(clean || !by_far) << n << ", " << level;
      if (!by_far) continue;
      car.never_drawn.under = level;
      EXPECT_DOUBLE_EQ(clean_level_near(car, course, level, 0.1e-3), level);
      car.never_drawn.under = 0;
    }
  }
  EXPECT_GT(far, 20);
  EXPECT_GT(starving, 20);
}

TEST(Coupling, NothingIsSearchedUnderWhatNeverComesOut) {
  FuelSystem car = test::simple_car({0, 0, 0.01});
  const lap::Lap lap = test::corner_lap(0.2, 3);
  const Course course = test::course_of(car, lap);
  const double own = clean_level(car, course, {.levels = 20}).level;
  car.never_drawn.under = own + 2e-3;
  const double least = car.never_drawn.total();
  const ModelBand band = model_band(car, course, least);
  for (const BandTerm& term : band.terms) {
    EXPECT_EQ(term.at_low, least) << term.name;
    EXPECT_EQ(term.at_high, least) << term.name;
  }
  EXPECT_EQ(clean_level(car, course, {.levels = 20}).level, least);
}

TEST(Band, OfABoxFollowsTheGrip) {
  // The clean level of a wedge goes with the lateral acceleration; nothing else plays a part when settled.
  const FuelSystem car = test::simple_car({0, 0, 0});
  const lap::Lap lap = test::corner_lap(0.5 * g, 8);
  const Course course = test::course_of(car, lap);
  const double wedge = 0.6 * 0.25 * 0.125 / 2;
  const ModelBand band = model_band(car, course, wedge, 1e-6);
  for (const BandTerm& t : band.terms) {
    const bool grip = t.name == "grip";
    EXPECT_NEAR(t.at_low, wedge * (grip ? 0.95 : 1), 3e-6) << t.name;
    EXPECT_NEAR(t.at_high, wedge * (grip ? 1.05 : 1), 3e-6) << t.name;
  }
  EXPECT_NEAR(band.high, wedge * 1.05, 1e-5);
  EXPECT_NEAR(band.low, wedge * 0.95, 1e-5);
  EXPECT_NEAR(band.level({1, 0, 0, 0}), wedge * 1.05, 1e-5);
  EXPECT_NEAR(band.level({-2, 0, 0, 0}), wedge * 0.9, 1e-5);
  Progress progress;
  progress.cancel();
  EXPECT_THROW(model_band(car, course, wedge, 1e-6, &progress), Cancelled);
}

TEST(Coupling, TheFirstAnswerFindsTheWedgeToo) {
  const FuelSystem car = test::simple_car({0, 0, 0});
  const lap::Lap lap = test::corner_lap(0.5 * g, 8);
  const Course course = test::course_of(car, lap);
  const FirstAnswer clean = first_answer(QuickLap(car, course));
  EXPECT_TRUE(clean.exists);
  EXPECT_NEAR(clean.level, 0.6 * 0.25 * 0.125 / 2, car.tank->volume() / 81 + 1e-6);
  EXPECT_LE(clean.at.tightest_time, lap.time.back());
  // What hangs on the level is looked at beside it, to a step of the search.
  const QuickLap quick(car, course);
  const auto more = [&](double by) {
    return first_answer(quick, [by](double level) { return level + by; }).beside.least_reserve;
  };
  const double step = car.tank->volume() / 81;
  EXPECT_EQ(more(0.5 * step), clean.at.least_reserve);
  EXPECT_EQ(more(20 * step), quick.at(clean.level + 20 * step).least_reserve);
  EXPECT_EQ(more(1.0), quick.at(car.tank->volume()).least_reserve);
}

}  // namespace
}  // namespace uadze::starvation
