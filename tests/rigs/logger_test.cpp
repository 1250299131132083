#include "rigs/logger.h"

#include <gtest/gtest.h>

#include <numeric>

#include "core/log/can_text.h"
#include "core/log/doubts.h"
#include "support/demo.h"

namespace uadze::rigs {
namespace {

using log::Role;

/// The kart driven four runs, once for all tests here.
struct Car {
  test::Demo demo = test::demo("ostrel-wisp");
  solve::Resolved chosen = solve::resolve(demo.project, {});
  solve::LapCasePtr ready = solve::lap_case(demo.project, chosen, *demo.sources, {.points = 400});
  log::Log drive(const DriveOptions& options) const {
    return rigs::drive(*ready, *chosen.setup, 8e-3, options);
  }
};
const Car& car() {
  static const Car& one = *new Car;
  return one;
}

TEST(Logger, TheSameSeedGivesTheSameBytes) {
  const log::Log a = car().drive({.laps = 1, .fault = CarFault::aeration, .seed = 5}),
                 b = car().drive({.laps = 1, .fault = CarFault::aeration, .seed = 5}),
                 c = car().drive({.laps = 1, .fault = CarFault::aeration, .seed = 6});
  EXPECT_EQ(written(a, Shape::plain), written(b, Shape::plain));
  EXPECT_NE(written(a, Shape::plain), written(c, Shape::plain));
}

TEST(Logger, EveryShapeReadsBackWithoutAHandOnIt) {
  const log::Log made = car().drive({.laps = 1});
  for (int k = 0; k < count_of<Shape>(); ++k) {
    const auto shape = static_cast<Shape>(k);
    SCOPED_TRACE(name_of(shape));
    const auto read = log::parse_log(written(made, shape), "x");
    ASSERT_EQ(read.value.size(), made.size());
    for (const log::Channel& c : made.channels) {
      const auto back = read.value.values(c.role);
      ASSERT_EQ(back.size(), made.size()) << c.name;
      // Written in steps of its last digit; at lower rates, only at some moments.
      const size_t every = shape == Shape::mixed_rates ? 100 : 1;
      const auto [low, high] = std::minmax_element(c.values.begin(), c.values.end());
      for (size_t i = 0; i < made.size(); i += every)
        ASSERT_NEAR(back[i], c.values[i], 0.01 * (*high - *low) + 1e-6) << c.name << ", " << i;
    }
    EXPECT_EQ(text_of(log::doubts(read.value, "x")), "");
  }
}

TEST(Logger, CanFramesReadBackByTheirTable) {
  const log::Log made = car().drive({.laps = 1});
  std::vector<log::Signal> table;
  const std::string text = written_as_can(made, table);
  const auto read = log::parse_can(text, table, "x.log");
  EXPECT_TRUE(read.notes.empty()) << text_of(read.notes);
  for (Role role : {Role::speed, Role::lat_acc, Role::rail_pressure, Role::lambda, Role::fuel_temperature}) {
    const auto back = read.value.log.values(role), was = made.values(role);
    ASSERT_FALSE(back.empty()) << name_of(role);
    // Each frame of a moment comes a little after the one before; between frames values are drawn straight.
    const auto at = std::find_if(made.channels.begin(), made.channels.end(),
                                 [&](const log::Channel& c) { return c.role == role; }) -
                    made.channels.begin();
    for (size_t i = 0; i < made.size(); i += 37) {
      const double frame = made.time[i] + 1e-4 * static_cast<double>(at / 3 * 3) + 5e-5;
      ASSERT_NEAR(back[read.value.log.index_at(frame)], was[i], 0.02 + 1e-3 * std::abs(was[i]))
          << name_of(role) << " at " << made.time[i];
    }
  }
}

/// Mean difference over the injectors while the engine runs, over a stretch of the log's time.
double mean_difference(const log::Log& log, double from, double to, double least_flow = 0,
                       double most_flow = 1) {
  const auto rail = log.values(Role::rail_pressure), manifold = log.values(Role::manifold_pressure),
             n = log.values(Role::rpm), q = log.values(Role::fuel_flow);
  const double most = *std::max_element(q.begin(), q.end());
  double sum = 0, count = 0;
  for (size_t i = 0; i < log.size(); ++i) {
    const double share = log.time[i] / log.duration();
    if (n[i] < 20 || share < from || share > to || q[i] < least_flow * most || q[i] > most_flow * most)
      continue;
    sum += rail[i] + 101325.0 - manifold[i], count += 1;
  }
  return sum / count;
}

TEST(Logger, FaultsDoWhatTheySay) {
  const auto of = [](CarFault fault) {
    return car().drive({.laps = 2, .fault = fault, .strength = 1, .sound = true});
  };
  const log::Log healthy = of(CarFault::none);
  const double set = mean_difference(healthy, 0, 1);
  EXPECT_NEAR(mean_difference(healthy, 0, 0.5), mean_difference(healthy, 0.5, 1), 0.01 * set);
  // Over the log's end, at any flow; at flow only; at idle only.
  const log::Log vent = of(CarFault::vent);
  EXPECT_LT(mean_difference(vent, 0.8, 1), 0.87 * set);
  EXPECT_GT(mean_difference(vent, 0, 0.2), 0.95 * set);
  const log::Log filter = of(CarFault::filter);
  EXPECT_LT(mean_difference(filter, 0.7, 1, 0.8), 0.8 * set);
  EXPECT_GT(mean_difference(filter, 0.7, 1, 0, 0.2), 0.97 * set);
  const log::Log back = of(CarFault::small_return);
  EXPECT_GT(mean_difference(back, 0, 1, 0, 0.2), 1.15 * set);
  EXPECT_LT(mean_difference(back, 0, 1, 0.9), 1.03 * set);
  const log::Log wiring = of(CarFault::wiring);
  EXPECT_LT(wiring.values(Role::battery)[wiring.size() - 40 * 50], 13.4f);
  // With the engine stopped the rail holds, or does not.
  const auto end = [](const log::Log& log) { return log.values(Role::rail_pressure).back(); };
  EXPECT_GT(end(healthy), 2e5f);
  EXPECT_LT(end(of(CarFault::check_valve)), 2e4f);
}

TEST(Logger, TheLevelFallsByWhatIsBurnt) {
  const log::Log log = car().drive({.laps = 3, .end_level = 8.5e-3, .noise = 0});
  const auto level = log.values(Role::fuel_level), flow = log.values(Role::fuel_flow);
  double burnt = 0;
  for (size_t i = 1; i < log.size(); ++i) burnt += flow[i] * (log.time[i] - log.time[i - 1]);
  EXPECT_NEAR(level[100] - level.back(), burnt, 0.1 * burnt);
  EXPECT_NEAR(level.back(), 8.5e-3, 0.5e-3);
}

}  // namespace
}  // namespace uadze::rigs
