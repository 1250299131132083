// What flowed and what was in the tank: by hand, and by volume balance on random logs.
#include "core/log/flow.h"

#include <gtest/gtest.h>

#include <random>

#include "core/log/level.h"

namespace uadze::log {
namespace {

Log made(std::vector<double> time, std::vector<std::pair<Role, std::vector<float>>> channels) {
  Log out;
  out.time = std::move(time);
  out.parts = {0};
  for (auto& [role, values] : channels)
    out.channels.push_back({.name = name_of(role), .unit = "", .role = role, .values = std::move(values)});
  return out;
}

constexpr InjectorLaw law{.count = 6, .flow = 8e-6, .difference = 3e5, .dead_time = 0.9e-3};

TEST(Flow, InjectorTimeByHand) {
  const Log log = made(
      {0, 1}, {{Role::rpm, {100, 100}}, {Role::injector_time, {6e-3f, 0.5e-3f}}, {Role::battery, {14, 14}}});
  const std::vector<double> difference{4 * 3e5, 3e5};
  const FlowAlong flow = flow_along(log, {.injectors = law, .difference = difference, .set = 3e5});
  EXPECT_TRUE(flow.absolute);
  EXPECT_EQ(flow.from, FlowFrom::injector_time);
  // 6 injectors, 50 openings a second, 5.1 ms each, twice the flow at four times the pressure.
  EXPECT_NEAR(flow.values[0], 6 * 50 * 5.1e-3 * 2 * 8e-6, 1e-12);
  EXPECT_EQ(flow.values[1], 0.0) << "shorter than the dead time";
  // A weak battery opens them later: (14 / 10)^1.5 = 1.656 times 0.9 ms.
  EXPECT_NEAR(dead_time_at(law, 10.0), 1.4908e-3, 1e-6);
}

TEST(Flow, DutyMassAndAirByHand) {
  const Log duty = made({0, 1}, {{Role::injector_duty, {0.5f, 0}}});
  EXPECT_NEAR(flow_along(duty, {.injectors = law, .set = 3e5}).values[0], 24e-6, 1e-12);
  EXPECT_FALSE(flow_along(duty, {}).absolute) << "without injectors it has no scale";
  const Log mass = made({0, 1}, {{Role::fuel_mass_flow, {0.0075f, 0}}});
  EXPECT_NEAR(flow_along(mass, {.density = 750}).values[0], 1e-5, 1e-11);
  const Log air = made({0, 1}, {{Role::air_flow, {0.147f, 0.147f}}, {Role::lambda, {1.0f, 0.8f}}});
  const auto rich = flow_along(air, {.density = 750, .air_ratio = 14.7});
  EXPECT_NEAR(rich.values[0], 0.01 / 750, 1e-9);
  EXPECT_NEAR(rich.values[1] / rich.values[0], 1.25, 1e-6);
  EXPECT_EQ(flow_along(made({0, 1}, {}), {}).from, FlowFrom::nothing);
}

TEST(Flow, WhatWasReckonedForTheSetPressureIsLessWhereItLacked) {
  const Log log = made({0, 1, 2}, {{Role::fuel_flow, {1e-5f, 1e-5f, 1e-5f}}});
  const std::vector<double> difference{3e5, 0.25 * 3e5, -1e5};
  const auto flow = flow_along(log, {.difference = difference, .set = 3e5});
  EXPECT_NEAR(flow.values[0], 1e-5, 1e-11);
  EXPECT_NEAR(flow.values[1], 0.5e-5, 1e-11);
  EXPECT_EQ(flow.values[2], 0.0);
}

TEST(Flow, SumsAddUpOverAnyCutAndNothingFlowsBetweenParts) {
  std::mt19937_64 engine(7);
  const auto uniform = [&] { return static_cast<double>(engine() >> 11) * 0x1.0p-53; };
  for (int run = 0; run < 50; ++run) {
    std::vector<double> time{0};
    std::vector<float> q{static_cast<float>(uniform())};
    for (int i = 1; i < 60; ++i)
      time.push_back(time.back() + 0.01 + uniform()), q.push_back(static_cast<float>(uniform()));
    Log log = made(time, {{Role::fuel_flow, q}});
    log.parts = {0, 20 + static_cast<size_t>(20 * uniform())};
    const FlowAlong flow = flow_along(log);
    const double whole = flowed(log, flow, 0, log.duration()), cut = uniform() * log.duration();
    EXPECT_NEAR(flowed(log, flow, 0, cut) + flowed(log, flow, cut, log.duration()), whole, 1e-12);
    const size_t gap = log.parts[1];
    EXPECT_NEAR(flowed(log, flow, log.time[gap - 1], log.time[gap]), 0.0, 1e-15);
    // The level falls by what flowed.
    const LevelAlong level = level_along(log, flow, {.put_in = 100.0});
    EXPECT_NEAR(level.values.front() - level.values.back(), whole, 1e-9);
    for (size_t i = 1; i < log.size(); ++i) ASSERT_LE(level.values[i], level.values[i - 1] + 1e-12);
  }
}

TEST(Level, BothEndsKnownMakeTheScaleAndTheMiddleTheLeastSure) {
  std::vector<double> time;
  std::vector<float> q;
  for (int i = 0; i <= 1000; ++i) time.push_back(i), q.push_back(1e-5f);
  const Log log = made(time, {{Role::fuel_flow, q}});
  const LevelAlong level =
      level_along(log, flow_along(log), {.put_in = 30e-3, .drained = 19e-3, .put_in_error = 0.1e-3});
  ASSERT_TRUE(level.check);
  EXPECT_NEAR(level.check->counted, 10e-3, 1e-8);
  EXPECT_NEAR(level.check->residual(), -1e-3, 1e-8);
  EXPECT_NEAR(level.scale, 1.1, 1e-6);
  EXPECT_NEAR(level.values.back(), 19e-3, 1e-9);
  EXPECT_NEAR(level.deviation.front(), 0.1e-3, 1e-12);
  EXPECT_NEAR(level.deviation.back(), 0.1e-3, 1e-12);
  // Half way: 3 % of 11 L, over two.
  EXPECT_NEAR(level.deviation[500], std::hypot(0.1e-3, 0.03 * 11e-3 / 2), 1e-8);
  EXPECT_NEAR(flow_check_working(*level.check, FlowFrom::meter).value, 1.1, 1e-6);
}

TEST(Level, WithoutWhatWasPutInTheGaugeServesAndIsNotHeldAgainstItself) {
  std::vector<double> time;
  std::vector<float> gauge, lat;
  for (int i = 0; i < 600; ++i)
    time.push_back(0.1 * i), lat.push_back(i % 20 < 10 ? 10.f : -10.f),
        gauge.push_back(0.02f + 0.0002f * lat.back());
  Log log = made(time, {{Role::fuel_level, gauge}, {Role::lat_acc, lat}});
  const LevelAlong level = level_along(log, flow_along(log), {});
  EXPECT_EQ(level.from, "the gauge");
  EXPECT_NEAR(level.values[300], 0.02, 1e-4) << "the swing is out of it";
  EXPECT_FALSE(gauge_check(log, level));
  EXPECT_FALSE(level_along(made({0, 1}, {}), {}, {.put_in = 0.02}).known()) << "no flow";
}

TEST(Level, TheGaugesErrorIsFoundWhereTheCarIsSteady) {
  std::vector<double> time;
  std::vector<float> gauge, lat, q;
  for (int i = 0; i < 600; ++i) {
    time.push_back(i);
    lat.push_back(i % 2 ? 8.f : 0.f);
    q.push_back(1e-5f);
    gauge.push_back(0.03f - 1e-5f * static_cast<float>(i) + 0.0015f + (i % 2 ? 0.01f : 0.f));
  }
  const Log log = made(time, {{Role::fuel_level, gauge}, {Role::lat_acc, lat}, {Role::fuel_flow, q}});
  const auto check = gauge_check(log, level_along(log, flow_along(log), {.put_in = 0.03}));
  ASSERT_TRUE(check);
  EXPECT_EQ(check->moments, 300u);
  EXPECT_NEAR(check->mean, 1.5e-3, 1e-6);
  EXPECT_LT(check->deviation, 1e-6);
}

}  // namespace
}  // namespace uadze::log
