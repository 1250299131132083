// What changes from session to session, from logs written by hand.
#include "core/diagnosis/trend.h"

#include <gtest/gtest.h>

#include <cmath>
#include <random>

namespace uadze::diagnosis {
namespace {

using log::Role;

/// Ten minutes of laps: pressure lacks `loss` at full flow, with noise and, every minute, a dip of another
/// cause.
log::Log day(double loss, double amps, double volts, std::uint64_t seed) {
  std::mt19937_64 engine(seed);
  const auto noise = [&](double size) {
    return size * (static_cast<double>(engine() >> 11) * 0x1.0p-53 - 0.5);
  };
  log::Log out;
  out.parts = {0};
  std::vector<float> rail, rpm, flow, throttle, current, battery;
  for (int i = 0; i < 6000; ++i) {
    const double t = 0.1 * i, q = t < 20 ? 0.0 : 0.2 + 0.8 * std::pow(std::sin(0.11 * t), 2);
    const bool dips = t > 60 && std::fmod(t, 60) < 1.5;
    out.time.push_back(t);
    rail.push_back(static_cast<float>(3e5 * (1 - loss * q * q - (dips ? 0.25 : 0)) + noise(3e3)));
    rpm.push_back(t < 20 ? 0.f : 100.f);
    flow.push_back(static_cast<float>(5e-5 * q));
    throttle.push_back(static_cast<float>(0.5));
    current.push_back(static_cast<float>(amps + noise(0.2)));
    battery.push_back(static_cast<float>(t < 20 ? volts - 1 : volts + noise(0.1)));
  }
  for (auto& [role, values] : std::vector<std::pair<Role, std::vector<float>>>{{Role::rail_pressure, rail},
                                                                               {Role::rpm, rpm},
                                                                               {Role::fuel_flow, flow},
                                                                               {Role::throttle, throttle},
                                                                               {Role::pump_current, current},
                                                                               {Role::battery, battery}})
    out.channels.push_back({.name = name_of(role), .unit = "", .role = role, .values = values});
  return out;
}

Wear worn(const log::Log& log, const std::string& name) {
  const log::Laps laps = log::split_laps(log);
  return wear_of(name, log, laps, find_events(log, laps, {.limit = {}, .set = 3e5}, name));
}

TEST(Trend, TheLossOfEachLogIsFoundBesideDipsOfAnotherCause) {
  for (double loss : {0.0, 0.02, 0.08, 0.15}) {
    const Wear w = worn(day(loss, 8, 13.5, 5), "day");
    ASSERT_TRUE(w.loss);
    EXPECT_NEAR(*w.loss, loss, 0.006) << loss;
    EXPECT_NEAR(*w.current, 8, 0.05);
    EXPECT_NEAR(*w.loaded, 13.5, 0.05);
    EXPECT_NEAR(*w.standing, 12.5, 0.05);
  }
}

TEST(Trend, WhatGrowsIsClearAndWhatOnlyScattersIsNot) {
  std::vector<Wear> logs;
  for (int k = 0; k < 5; ++k) logs.push_back(worn(day(0.02 + 0.02 * k, 8.0, 13.6 - 0.15 * k, 10 + k), "day"));
  std::map<std::string, Trend> by;
  for (const Trend& t : trends(logs)) by[t.what] = t;
  EXPECT_TRUE(by["loss at full flow"].clear);
  EXPECT_NEAR(by["loss at full flow"].per_log, 0.02, 0.003);
  EXPECT_NE(by["loss at full flow"].sentence.find("filter"), std::string::npos);
  EXPECT_TRUE(by["supply under load"].clear);
  EXPECT_LT(by["supply under load"].per_log, 0);
  EXPECT_FALSE(by["pump current"].clear) << by["pump current"].sentence;
  EXPECT_NE(by["pump current"].sentence.find("no clear change"), std::string::npos);
}

TEST(Trend, HealthyLogsShowNone) {
  int clear = 0;
  for (int run = 0; run < 20; ++run) {
    std::vector<Wear> logs;
    for (int k = 0; k < 4; ++k) logs.push_back(worn(day(0.03, 8.0, 13.5, 100 * run + k), "day"));
    for (const Trend& t : trends(logs)) clear += t.clear;
  }
  EXPECT_EQ(clear, 0);
}

TEST(Trend, TwoLogsOrNoneSayNothing) {
  EXPECT_TRUE(trends({}).empty());
  EXPECT_TRUE(trends({{.log = "a", .loss = 0.1}, {.log = "b", .loss = 0.2}}).empty());
  EXPECT_FALSE(wear_of("empty", {}, {}, {}).loss);
}

}  // namespace
}  // namespace uadze::diagnosis
