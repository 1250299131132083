#include "core/log/doubts.h"

#include <gtest/gtest.h>

#include <numbers>

namespace uadze::log {
namespace {

/// Five minutes round a circuit of straights and corners to both hands, all channels right.
Log drive() {
  Log log;
  log.parts = {0};
  const auto add = [&](const char* name, Role role) {
    log.channels.push_back({.name = name, .unit = "", .role = role, .values = {}});
  };
  add("v", Role::speed), add("ay", Role::lat_acc), add("ax", Role::long_acc), add("w", Role::yaw_rate);
  add("lat", Role::position_x), add("lon", Role::position_y), add("s", Role::distance),
      add("P", Role::rail_pressure);
  double v = 20, s = 0, heading = 0;
  Vec2 at(0, 0);
  for (int i = 0; i < 15000; ++i) {
    const double t = 0.02 * i, in = std::fmod(t, 15);
    const double shake = 0.3 * std::sin(9 * t) + 0.2 * std::sin(23 * t);
    const double ax = (in < 4 ? 5 : in < 6.5 ? -8 : 0) + shake;
    const double w = (in > 7 && in < 11 ? 0.4 : in > 12 && in < 14 ? -0.4 : 0) + 0.03 * shake;
    const float values[] = {static_cast<float>(v),      static_cast<float>(v * w),
                            static_cast<float>(ax),     static_cast<float>(w),
                            static_cast<float>(at.x()), static_cast<float>(at.y()),
                            static_cast<float>(s),      static_cast<float>(3e5 + 1e3 * std::sin(7 * t))};
    for (size_t k = 0; k < 8; ++k) log.channels[k].values.push_back(values[k]);
    log.time.push_back(t);
    v += 0.02 * ax, heading += 0.02 * w, s += 0.02 * v;
    at += 0.02 * v * Vec2(std::cos(heading), std::sin(heading));
  }
  return log;
}

Channel& of(Log& log, Role role) {
  return *std::find_if(log.channels.begin(), log.channels.end(),
                       [&](const Channel& c) { return c.role == role; });
}

std::string said(const Log& log) { return text_of(doubts(log, "x")); }

TEST(Doubts, ARightLogHasNone) { EXPECT_EQ(said(drive()), ""); }

TEST(Doubts, EachFaultIsNamedAndNothingElse) {
  struct Case {
    Role role;
    void (*spoil)(std::vector<float>&);
    const char* expected;
    int lines = 1;
  };
  const Case cases[] = {{Role::long_acc,
                         [](auto& v) {
                           for (float& x : v) x = -x;
                         },
                         "channel ax: expected positive when the car speeds up"},
                        {Role::long_acc,
                         [](auto& v) {
                           for (float& x : v) x *= 9.81f;
                         },
                         "channel ax: expected as much as the speed changes by", 2},
                        {Role::long_acc, [](auto& v) { std::rotate(v.begin(), v.end() - 15, v.end()); },
                         "it comes 0.3 s later"},
                        {Role::lat_acc,
                         [](auto& v) {
                           for (float& x : v) x = -x;
                         },
                         "the two have opposite signs", 2},
                        {Role::lat_acc,
                         [](auto& v) {
                           for (float& x : v) x /= 9.81f;
                         },
                         "channel ay: expected about yaw rate times speed"},
                        {Role::speed,
                         [](auto& v) {
                           for (float& x : v) x *= 3.6f;
                         },
                         "is its unit right?", -1},
                        {Role::lat_acc,
                         [](auto& v) {
                           for (float& x : v) x = std::min(x, 6.f);
                         },
                         "it is clipped there"},
                        {Role::rail_pressure,
                         [](auto& v) {
                           for (float& x : v) x = 3e5f;
                         },
                         "is the sensor dead?"},
                        {Role::rail_pressure,
                         [](auto& v) {
                           for (float& x : v) x *= 6.9f;
                         },
                         "channel P: expected -0.50 bar to 15.00 bar"}};
  for (const Case& c : cases) {
    Log log = drive();
    c.spoil(of(log, c.role).values);
    const std::string text = said(log);
    EXPECT_NE(text.find(c.expected), std::string::npos) << c.expected << "\n" << text;
    if (c.lines > 0) {
      EXPECT_EQ(std::count(text.begin(), text.end(), '\n') + 1, c.lines) << text;
    }
  }
}

TEST(Doubts, ALateralSignAgainstThePathAlone) {
  Log log = drive();
  std::erase_if(log.channels, [](const Channel& c) { return c.role == Role::yaw_rate; });
  EXPECT_EQ(said(log), "");
  for (float& x : of(log, Role::lat_acc).values) x = -x;
  EXPECT_NE(said(log).find("the path by its position bends the other way"), std::string::npos);
}

TEST(Doubts, CornersKnowTheirHands) {
  const Log log = drive();
  const LoggedLap lap{.number = 1, .begin = 0, .end = 15};
  const double from = log.values(Role::distance)[355], to = log.values(Role::distance)[545];
  EXPECT_TRUE(doubts(log, lap, {{"Heron Sweep", from, to, lap::Hand::left}}, "x").empty());
  EXPECT_FALSE(doubts(log, lap, {{"Heron Sweep", from, to, lap::Hand::right}}, "x").empty());
}

}  // namespace
}  // namespace uadze::log
