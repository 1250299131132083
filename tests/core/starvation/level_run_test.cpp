// Properties of runs on the demo's car and lap: balance, coverage, words.
#include "core/starvation/level_run.h"

#include <gtest/gtest.h>

#include "core/solve/circuit_point.h"
#include "core/solve/lap_result.h"
#include "core/starvation/stint.h"
#include "support/demo.h"
#include "support/simple_cars.h"

namespace uadze::starvation {
namespace {

class DemoRun : public ::testing::Test {
 protected:
  const test::Demo opened = test::demo("ostrel-p4");
  const solve::LapPtr lap = opened.sources->laps.get(opened.project.laps[0]);

  double clean(const project::Setup& setup) {
    project::Project p = opened.project;
    p.setups = {setup};
    return solve::lap_result(p, solve::resolve(p, {.alone = true}), *opened.sources,
                             {.ladder = MapOptions{.levels = 6, .resolution = 0.5e-3}})
        ->clean.level;
  }
  const solve::LapCase& ready(size_t setup) {
    auto& made = cases[setup];
    if (!made)
      made = solve::lap_case(
          opened.project,
          solve::resolve(opened.project, {.setup = opened.project.setups[setup].name, .alone = true}),
          *opened.sources, {.points = 600});
    return *made;
  }
  LevelRun run(size_t setup, double level) {
    return run_level(*ready(setup).car, ready(setup).course, level);
  }
  std::map<size_t, solve::LapCasePtr> cases;
};

TEST_F(DemoRun, FuelIsConservedAtEveryLevel) {
  for (size_t setup : {0u, 1u})
    for (double level = 0.5e-3; level < 64e-3; level += 9e-3) {
      const Ledger l = run(setup, level).ledger;
      EXPECT_NEAR(l.error(), 0, 1e-9 * l.start) << level;
      EXPECT_GT(l.burnt, 0.1e-3);
      EXPECT_DOUBLE_EQ(l.burnt, l.replaced);
    }
}

TEST_F(DemoRun, TheCircuitsFlowsAreUsedAndNotTheEnteredOnes) {
  const solve::LapCase& c = ready(0);
  ASSERT_TRUE(c.course.delivery->by_circuit);
  EXPECT_GT(c.car->lift_pumps[0].flow * 3.6e6, 132) << "entered: 130 L/h";
  // At a moment of the lap the feed is what the circuit gives there.
  circuit::Case at = solve::circuit_case(opened.project.setups[0], opened.sources->catalogue(opened.project));
  const size_t i = 2000;
  const lap::Lap& l = lap->value;
  at.at.demand = c.course.demand[i];
  at.at.throttle = l.throttle[i];
  at.at.rotation = l.rotation[i];
  at.at.manifold = circuit::manifold_at(at.circuit, l.throttle[i]);
  at.at.force = l.effective_gravity(i);
  const circuit::State state = circuit::run(at);
  EXPECT_NEAR(c.course.delivery->lift[0][i], state.surge.lifts[0], 0.02 * state.surge.lifts[0]);
}

// The Wisp's one pickup lets its rail dip as the level comes down: an event is what stays under the limit for
// longer than the setup allows, and what a run tells of its leanest moment is held by the same measure.
TEST(LeanTime, IsUnderWhatMakesAnEventWhereThereIsNone) {
  const auto wisp = test::demo_case("ostrel-wisp", 600);
  const double allowed = wisp->car->limits.mixture.time;
  int dips = 0, events = 0;
  for (double level = 7.5e-3; level < 8.1e-3; level += 0.05e-3) {
    const LevelRun run = run_level(*wisp->car, wisp->course, level);
    EXPECT_EQ(run.lean_time > 0, run.least_margin < 0) << level;
    const bool pressure =
        std::ranges::any_of(run.events, [](const Event& e) { return e.kind == Trouble::pressure; });
    if (run.least_margin < 0) ++(pressure ? events : dips);
    if (pressure) {
      EXPECT_GT(run.lean_time, 0) << level;
    } else {
      EXPECT_LE(run.lean_time, allowed + 0.02) << level;
    }
    // Stretches close to each other are one event.
    if (run.events.size() == 1 && pressure) {
      EXPECT_LE(run.lean_time, run.events.front().end - run.events.front().start + 0.02) << level;
      EXPECT_GT(run.lean_time, allowed - 0.02) << level;
    }
  }
  EXPECT_GT(dips, 0);
  EXPECT_GT(events, 0);
}

TEST(LeanTime, IsTheSameWhereverTheLapBegins) {
  const auto wisp = test::demo_case("ostrel-wisp", 600);
  Course course = wisp->course;
  course.repeated = true;  // its own is a run from rest
  const LevelRun whole = run_level(*wisp->car, course, 7.5e-3);
  ASSERT_GT(whole.lean_time, 0.05);
  // The same lap begun where the rail is leanest.
  const auto turn = [&](auto& values) {
    if (values.empty()) return;
    values.pop_back();
    std::rotate(values.begin(), values.begin() + static_cast<std::ptrdiff_t>(whole.margin_at), values.end());
    values.push_back(values.front());
  };
  lap::Lap lap = wisp->lap->value;
  for (auto* channel : {&lap.lateral, &lap.longitudinal, &lap.vertical}) turn(*channel);
  course.lap = &lap;
  Delivery delivery = *course.delivery;
  for (auto& lift : delivery.lift) turn(lift);
  for (auto* values : {&delivery.main, &delivery.fed, &delivery.set, &delivery.duty}) turn(*values);
  course.delivery = std::make_shared<const Delivery>(std::move(delivery));
  turn(course.demand), turn(course.reach), turn(course.limit);
  const LevelRun turned = run_level(*wisp->car, course, 7.5e-3);
  EXPECT_NEAR(turned.lean_time, whole.lean_time, 0.02);
  EXPECT_NEAR(turned.least_margin, whole.least_margin, 2e3);
}

// A place is entered over fifteen quick seconds: five later its pickups see what they see on a lap that was
// driven whole after another.
TEST_F(DemoRun, FiveSecondsOnNothingIsLeftOfHowAPlaceWasEntered) {
  double all = 0;
  int runs = 0;
  for (size_t setup : {0u, 1u}) {
    const solve::LapCase& c = ready(setup);
    for (const double share : {0.1, 0.3, 0.5, 0.7}) {
      const double level = share * c.car->tank->volume();
      Marcher whole(*c.car, c.course, level);
      whole.enter();
      LapTrace second;
      for (int k = 0; k < 2; ++k) whole.lap(second);
      for (const size_t at : {1500u, 3000u}) {
        Marcher entered(*c.car, c.course, level);
        entered.enter(at);
        LapTrace part;
        entered.lap(part, {.first = at, .last = at + 700});
        double sum = 0;
        for (size_t p = 0; p < part.wet.size(); ++p)
          for (size_t i = at + 250; i < at + 700; ++i) sum += std::pow(part.wet[p][i] - second.wet[p][i], 2);
        const double off = std::sqrt(sum / static_cast<double>(part.wet.size() * 450));
        EXPECT_LT(off, 0.06) << level * 1e3 << " L at " << at;
        all += off, ++runs;
      }
    }
  }
  EXPECT_LT(all / runs, 0.01);
}

TEST_F(DemoRun, EventsDoNotHangOnTheStep) {
  const solve::LapCase& c = ready(1);
  const LevelRun coarse = run_level(*c.car, c.course, 25e-3),
                 fine = run_level(*c.car, c.course, 25e-3, {.longest_part = 0.005});
  ASSERT_GT(coarse.events.size(), 3u);
  double a = 0, b = 0;
  for (const Event& e : coarse.events) a += e.missing;
  for (const Event& e : fine.events) b += e.missing;
  // What is lean by little begins and ends within a step.
  EXPECT_NEAR(a, b, 0.12 * b);
  for (size_t i = 0; i < lap->value.size(); i += 50)
    EXPECT_NEAR(coarse.tank_level[i], fine.tank_level[i], 0.02e-3);
}

TEST_F(DemoRun, AStintBurnsDownAndStartsToStarveNearTheCleanLevel) {
  const solve::LapCase& c = ready(1);
  const StintRun stint =
      run_stint(*c.car, c.course,
                {.start = 60e-3, .laps = 30, .temperature = opened.project.setups[1].fuel.temperature});
  ASSERT_TRUE(stint.first_event);
  EXPECT_NEAR(stint.ledger.error(), 0, 1e-9 * stint.ledger.start);
  EXPECT_EQ(stint.ledger.replaced, 0);
  EXPECT_EQ(stint.first_event_lap, static_cast<int>(stint.laps.size()));
  for (size_t k = 1; k < stint.laps.size(); ++k) EXPECT_LT(stint.laps[k].level, stint.laps[k - 1].level);
  const double at = stint.laps.back().level + stint.laps.back().burnt;
  const double steady = clean(opened.project.setups[1]);
  EXPECT_NEAR(at, steady, 3.5e-3) << "a lap burns 2.8 L";
  // What goes round warms the fuel of the tank.
  EXPECT_GT(stint.laps.back().tank_heat, opened.project.setups[1].fuel.temperature);
}

TEST_F(DemoRun, AStintWantsFuelThatTheTankHolds) {
  const solve::LapCase& c = ready(0);
  EXPECT_THROW(run_stint(*c.car, c.course, {.start = 0.2, .laps = 1}), InputError);
  EXPECT_THROW(run_stint(*c.car, c.course, {.start = 0, .laps = 1}), InputError);
  EXPECT_THROW(run_stint(*c.car, c.course, {.start = std::nan(""), .laps = 1}), InputError);
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
        EXPECT_GE(e.missing, 0);
        EXPECT_FALSE(e.place.empty());
        EXPECT_FALSE(e.phase.empty());
        EXPECT_FALSE(e.cause.in().empty());
        EXPECT_EQ(e.cause.in().find('{'), std::string::npos) << e.cause.in();
        last = e.start;
      }
      EXPECT_EQ(r.clean(), r.events.empty());
      EXPECT_EQ(r.clean(), r.first_short_lap == 0);
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
    const auto& feed = *ready(0).course.delivery;
    EXPECT_NEAR(r.supply[i], r.coverage.wet[0][i] * feed.lift[0][i] + r.coverage.wet[1][i] * feed.lift[1][i],
                0.02 * feed.lift[0][i]);
  }
}

TEST_F(DemoRun, FullIsCoveredAndEmptyIsBare) {
  const LevelRun full = run(0, 64e-3);
  const Coverage empty = coverage(*ready(0).car, lap->value, 0.0, true);
  double least = 1, most = 0;
  for (size_t i = 0; i < lap->value.size(); ++i) {
    least = std::min(least, full.coverage.covered_mean[i]);
    most = std::max(most, empty.covered_mean[i]);
  }
  EXPECT_EQ(least, 1.0);
  EXPECT_EQ(most, 0.0);
  EXPECT_TRUE(full.clean());
  EXPECT_TRUE(std::isinf(full.least_seconds)) << "two lift pumps bring more than is ever drawn";
  EXPECT_FALSE(run(1, 0).clean());
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

TEST(BareStretch, OverTheStartLineIsOne) {
  lap::Lap lap;
  for (int i = 0; i <= 100; ++i) lap.time.push_back(0.1 * i);
  Course course{.lap = &lap, .repeated = true};
  Coverage cover;
  cover.covered_least.assign(101, 1.0);
  for (size_t i = 90; i <= 100; ++i) cover.covered_least[i] = 0.5;
  for (size_t i = 0; i <= 5; ++i) cover.covered_least[i] = 0.2;
  for (size_t from : {3u, 20u, 95u}) {
    const auto bare = bare_before(cover, course, from);
    ASSERT_TRUE(bare) << from;
    EXPECT_EQ(bare->start, 90u);
    EXPECT_EQ(bare->end, 5u);
    EXPECT_EQ(bare->worst, 0u) << "where it is first as bare as it gets, whoever asks";
    EXPECT_NEAR(bare->seconds, 1.5, 1e-12);
  }
  course.repeated = false;
  EXPECT_EQ(bare_before(cover, course, 3)->start, 0u) << "a run from rest begins there";
  EXPECT_NEAR(bare_before(cover, course, 95)->seconds, 1.0, 1e-12);
  cover.covered_least.assign(101, 0.0);
  course.repeated = true;
  EXPECT_NEAR(bare_before(cover, course, 50)->seconds, 10, 0.11) << "never covered: once round";
}

TEST(FirstShortLap, IsThatOfDrivingLapByLap) {
  // A surge tank that loses a little each lap: many laps are strided over.
  const lap::Lap lap = test::corner_lap(0, 5);
  int strided = 0;
  for (double lift : {2.9e-5, 2.7e-5, 2.5e-5, 2e-5}) {
    const FuelSystem car = test::surge_car(40e-3, lift);
    const Course course = test::course_of(car, lap);
    const LevelRun run = run_level(car, course, 20e-3);
    MarchOptions how;
    Marcher march(car, course, 20e-3, how);
    march.enter();
    LapTrace trace;
    int laps = 0;
    do {
      march.lap(trace);
      ++laps;
    } while (march.stretches().empty() && laps < 500);
    ASSERT_LT(laps, 500) << lift;
    EXPECT_EQ(run.first_short_lap, laps) << lift;
    if (laps > 20) ++strided;
  }
  EXPECT_GT(strided, 0) << "the case is met";
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
  setup.circuit.reset();  // the entered flows then count
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
