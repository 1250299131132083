#include "core/log/laps.h"

#include <fmt/format.h>
#include <gtest/gtest.h>

#include <numbers>

#include "core/log/filter.h"
#include "core/log/mounting.h"
#include "core/log/to_lap.h"
#include "support/random_shapes.h"
#include "support/refusal.h"

namespace uadze::log {
namespace {

/// Round a circle of 200 m at 20 m/s, 10 times a second: from standing, `laps` times, and back to standing.
/// The line lies at angle 0, where the log begins 30 m before it.
struct Round {
  Log log;
  double lap_time = 0;
};

Round round_and_round(int laps, double radius = 200 / (2 * std::numbers::pi)) {
  Round out;
  const double length = 2 * std::numbers::pi * radius, dt = 0.1;
  std::vector<Channel> c{
      {.name = "v", .unit = "", .role = Role::speed, .values = {}},
      {.name = "s", .unit = "", .role = Role::distance, .values = {}},
      {.name = "lap", .unit = "", .role = Role::lap, .between = Between::held, .values = {}},
      {.name = "beacon", .unit = "", .role = Role::beacon, .between = Between::held, .values = {}},
      {.name = "x", .unit = "", .role = Role::position_x, .values = {}},
      {.name = "y", .unit = "", .role = Role::position_y, .values = {}}};
  double way = -30, v = 0, t = 0;
  const double goal = laps * length + 60;
  int lap = 0;
  while (t < 3000) {
    const int now = static_cast<int>(std::floor(way / length)) + 1;
    c[0].values.push_back(static_cast<float>(v));
    c[1].values.push_back(static_cast<float>(way - (now - 1) * length));
    c[2].values.push_back(static_cast<float>(now));
    c[3].values.push_back(now > lap && !out.log.time.empty() ? 1.f : 0.f);
    c[4].values.push_back(static_cast<float>(radius * std::cos(way / radius)));
    c[5].values.push_back(static_cast<float>(radius * std::sin(way / radius)));
    lap = now;
    out.log.time.push_back(t);
    if (way >= goal && v <= 0) break;
    // 30 m are enough to be at speed: 10 m/s2.
    const double target = way < goal - 25 ? 20 : 0;
    v = target > v ? std::min(v + 10 * dt, target) : std::max(v - 10 * dt, target);
    if (target == 0 && v < 1) v = way < goal ? 1 : 0;
    way += v * dt, t += dt;
  }
  out.log.parts = {0};
  out.log.channels = std::move(c);
  out.lap_time = length / 20;
  return out;
}

TEST(SplitLaps, EveryWayFindsTheSameLaps) {
  const Round round = round_and_round(5);
  for (LapBy by : {LapBy::counter, LapBy::beacon, LapBy::distance, LapBy::line}) {
    SCOPED_TRACE(name_of(by));
    LapOptions how{.by = by, .line = {}};
    if (by == LapBy::line) how.line = StartLine{Vec2(200 / (2 * std::numbers::pi), 0)};
    const Laps laps = split_laps(round.log, how);
    EXPECT_EQ(laps.by, by);
    ASSERT_EQ(laps.all.size(), 7u);
    EXPECT_EQ(laps.all.front().kind, LapKind::out);
    EXPECT_EQ(laps.all.back().kind, LapKind::in);
    for (size_t i = 1; i + 1 < laps.all.size(); ++i) {
      EXPECT_EQ(laps.all[i].kind, LapKind::flying) << i;
      EXPECT_NEAR(laps.all[i].duration(), round.lap_time,
                  by == LapBy::line || by == LapBy::distance ? 0.02 : 0.11);
      EXPECT_NEAR(laps.all[i].length, 200, 2.1);
    }
    // Nothing is left out and nothing is counted twice.
    for (size_t i = 1; i < laps.all.size(); ++i) EXPECT_EQ(laps.all[i].begin, laps.all[i - 1].end);
  }
}

TEST(SplitLaps, ALapByItselfIsWhole) {
  // Logs are often cut to one lap, or begin on the line: they are not out or in laps for that.
  Round round = round_and_round(4);
  Log& log = round.log;
  const Laps all = split_laps(log);
  const size_t a = log.index_at(all.all[1].begin) + 1, b = log.index_at(all.all[3].end);
  for (Channel& c : log.channels)
    c.values = {c.values.begin() + static_cast<std::ptrdiff_t>(a),
                c.values.begin() + static_cast<std::ptrdiff_t>(b)};
  std::vector<double> time(log.time.begin() + static_cast<std::ptrdiff_t>(a),
                           log.time.begin() + static_cast<std::ptrdiff_t>(b));
  for (double& t : time) t -= log.time[a];
  log.time = time;
  const Laps cut = split_laps(log);
  ASSERT_EQ(cut.all.size(), 3u);
  for (const LoggedLap& lap : cut.all) EXPECT_EQ(lap.kind, LapKind::flying) << lap.number;
  EXPECT_EQ(split_laps(log, {.by = LapBy::whole, .line = {}}).all[0].kind, LapKind::part);
}

TEST(SplitLaps, ASlowLapIsTold) {
  Round round = round_and_round(5);
  const Laps before = split_laps(round.log);
  // The clock runs half as fast over one lap.
  const double from = before.all[3].begin, to = before.all[3].end;
  for (double& t : round.log.time)
    if (t > from) t += std::min(t, to) - from;
  const Laps after = split_laps(round.log);
  EXPECT_EQ(after.all[3].kind, LapKind::slow);
  EXPECT_EQ(after.all[2].kind, LapKind::flying);
  ASSERT_TRUE(after.best());
  EXPECT_NE(*after.best(), 3u);
}

TEST(Driven, SpeedAndDistanceAgree) {
  Round round = round_and_round(3);
  const auto by_distance = driven(round.log);
  std::erase_if(round.log.channels, [](const Channel& c) { return c.role == Role::distance; });
  const auto by_speed = driven(round.log);
  ASSERT_EQ(by_speed.size(), by_distance.size());
  EXPECT_NEAR(by_speed.back(), by_distance.back(), 4.0);
}

TEST(Positions, DegreesBecomeMetres) {
  // A minute of arc along a meridian is a nautical mile, 1852 m; along 60 degrees north half of that.
  Log log;
  log.time = {0, 1, 2}, log.parts = {0};
  const float deg = static_cast<float>(std::numbers::pi / 180);
  log.channels = {{.name = "lat",
                   .unit = "",
                   .role = Role::latitude,
                   .values = {60 * deg, 60 * deg + deg / 60, 60 * deg}},
                  {.name = "lon", .unit = "", .role = Role::longitude, .values = {0, 0, deg / 60}}};
  const auto at = positions(log);
  EXPECT_NEAR(at[1].y(), 1852, 8);
  EXPECT_NEAR(at[2].x(), 926, 5);
}

// --- Filter ---

TEST(LowPass, ShiftsNothingAndHalvesThePowerAtItsCutOff) {
  // By hand: a sine far under the cut-off comes through as it is, at the cut-off with 1/sqrt(2) of its
  // amplitude, a decade over it with less than a thousandth; and never later.
  const double rate = 100;
  for (const auto& [frequency, gain] : {std::pair(0.5, 1.0), std::pair(5.0, 0.70711), std::pair(30.0, 0.0)}) {
    std::vector<double> wave;
    for (int i = 0; i < 4000; ++i) wave.push_back(std::sin(2 * std::numbers::pi * frequency * i / rate));
    const auto out = low_pass(wave, rate, 5.0);
    double in_phase = 0, across = 0;
    for (int i = 1000; i < 3000; ++i) {
      in_phase += out[static_cast<size_t>(i)] * wave[static_cast<size_t>(i)] / 1000;
      across += out[static_cast<size_t>(i)] * std::cos(2 * std::numbers::pi * frequency * i / rate) / 1000;
    }
    EXPECT_NEAR(in_phase, gain, 0.005) << frequency;
    EXPECT_NEAR(across, 0, 1e-3) << frequency;
  }
}

TEST(LowPass, IsTheSameForwardAndBackwardAndKeepsStraightLines) {
  test::Random random(5);
  std::vector<double> values, line;
  for (int i = 0; i < 500; ++i) values.push_back(random.uniform(-1, 1)), line.push_back(3 + 0.1 * i);
  auto turned = values;
  std::reverse(turned.begin(), turned.end());
  auto back = low_pass(turned, 50, 4);
  std::reverse(back.begin(), back.end());
  const auto there = low_pass(values, 50, 4);
  for (size_t i = 60; i + 60 < there.size(); ++i) EXPECT_NEAR(there[i], back[i], 1e-6) << i;
  const auto kept = low_pass(line, 50, 4);
  for (size_t i = 0; i < line.size(); ++i) EXPECT_NEAR(kept[i], line[i], 2e-3) << i;
}

// --- Mounting ---

/// A car that stands, then brakes and speeds up straight and corners, read by a sensor turned by `turn`.
Log turned_log(const Eigen::Matrix3d& turn, bool with_yaw) {
  Log out;
  out.parts = {0};
  out.channels = {{.name = "ay", .unit = "", .role = Role::lat_acc, .values = {}},
                  {.name = "ax", .unit = "", .role = Role::long_acc, .values = {}},
                  {.name = "az", .unit = "", .role = Role::vert_acc, .values = {}},
                  {.name = "v", .unit = "", .role = Role::speed, .values = {}}};
  if (with_yaw) out.channels.push_back({.name = "w", .unit = "", .role = Role::yaw_rate, .values = {}});
  double v = 0;
  for (int i = 0; i < 6000; ++i) {
    const double t = i * 0.01;
    double forward = 0, w = 0;
    if (t > 5) {
      const double in = std::fmod(t - 5, 10);
      forward = in < 4 ? 6 : in < 6 ? 0 : in < 9 ? -8 : 0;
      w = in >= 4 && in < 6 ? 0.5 : 0;
    }
    v = std::max(v + forward * 0.01, 0.0);
    if (v == 0) forward = std::max(forward, 0.0);
    const Vec3 car(forward, v * w, standard_gravity), read = turn.transpose() * car;
    out.time.push_back(t);
    out.channels[0].values.push_back(static_cast<float>(read.y()));
    out.channels[1].values.push_back(static_cast<float>(read.x()));
    out.channels[2].values.push_back(static_cast<float>(read.z()));
    out.channels[3].values.push_back(static_cast<float>(v));
    if (with_yaw) out.channels[4].values.push_back(static_cast<float>(w));
  }
  return out;
}

TEST(Mounting, AnyTurnOfTheSensorIsFound) {
  test::Random random(11);
  for (int n = 0; n < 24; ++n) {
    // Every other one upside down, the first exactly.
    const double yaw = random.uniform(-3, 3), pitch = n == 0 ? 0 : random.uniform(-0.5, 0.5),
                 roll = n == 0 ? std::numbers::pi : random.uniform(-0.5, 0.5) + n % 2 * std::numbers::pi;
    const Eigen::Matrix3d turn =
        (Eigen::AngleAxisd(yaw, Vec3::UnitZ()) * Eigen::AngleAxisd(pitch, Vec3::UnitY()) *
         Eigen::AngleAxisd(roll, Vec3::UnitX()))
            .toRotationMatrix();
    const Mounting found = find_mounting(turned_log(turn, n % 2 == 0));
    EXPECT_GT(found.standing, 4.0);
    EXPECT_GT(found.straight, 10.0);
    // The angle between the two turns.
    EXPECT_LT(Eigen::AngleAxisd(found.turn * turn.transpose()).angle(), 0.02)
        << n << ": " << yaw << ", " << pitch << ", " << roll;
  }
}

TEST(Mounting, WhatTheLogDoesNotShowIsTakenAsRight) {
  Log log = turned_log(Eigen::Matrix3d::Identity(), false);
  for (float& v : log.channels[3].values) v = 30;
  const Mounting found = find_mounting(log);
  EXPECT_EQ(found.standing, 0.0);
  EXPECT_EQ(found.straight, 0.0);
  EXPECT_EQ(found.turn, (Eigen::Matrix3d::Identity()));
}

TEST(AtPlace, APirouetteThrowsTheFuelOutward) {
  // By hand: spinning on the spot at w = 6 rad/s, a tank 1 m behind feels 36 m/s2 towards the centre, which
  // lies in front of it; while the spin grows by 2 rad/s2 (to the left) its place moves to the right.
  const Vec3 a = at_place(Vec3(0, 0, standard_gravity), 6, 2, Vec3(-1, 0, 0));
  EXPECT_NEAR(a.x(), 36, 1e-12);
  EXPECT_NEAR(a.y(), -2, 1e-12);
  EXPECT_EQ(a.z(), standard_gravity);
  // Steady cornering on a circle of R: at r outward of the sensor it is w^2 (R + r).
  EXPECT_NEAR(at_place(Vec3(0, 0.25 * 40, 0), 0.5, 0, Vec3(0, -2, 0)).y(), 0.25 * 42, 1e-12);
}

TEST(ToLap, IsTheSameForASensorThatIsTurnedAndAwayFromTheTank) {
  const Log straight = turned_log(Eigen::Matrix3d::Identity(), true);
  const Eigen::Matrix3d turn = Eigen::AngleAxisd(0.4, Vec3(0.2, 0.1, 1).normalized()).toRotationMatrix();
  const Log turned = turned_log(turn, true);
  const LoggedLap lap{.number = 1, .begin = 6.013, .end = 44.0};
  const auto a = to_lap(straight, lap, {}).value,
             b = to_lap(turned, lap, {.mounting = find_mounting(turned)}).value;
  ASSERT_EQ(a.size(), b.size());
  ASSERT_EQ(a.size(), 1900u);
  for (size_t i = 0; i < a.size(); ++i) {
    ASSERT_NEAR(a.lateral[i], b.lateral[i], 0.2) << i;
    ASSERT_NEAR(a.longitudinal[i], b.longitudinal[i], 0.2) << i;
    ASSERT_NEAR(b.vertical[i], standard_gravity, 0.2) << i;
  }
  // The tank lies 2 m behind and the car turns left at 0.5 rad/s: 0.5 m/s2 more to the front.
  const auto c = to_lap(straight, lap, {.from_sensor = Vec3(-2, 0, 0)}).value;
  const size_t mid = a.index_at(10.0 - 6.013 + 0.0);
  EXPECT_NEAR(c.longitudinal[mid] - a.longitudinal[mid], 0.5, 0.02);
  EXPECT_NEAR(c.lateral[mid], a.lateral[mid], 0.05);
}

TEST(ToLap, RawNoiseDoesNotDriveTheFuel) {
  Log log = turned_log(Eigen::Matrix3d::Identity(), true);
  for (size_t i = 0; i < log.size(); ++i)
    log.channels[0].values[i] += 20.f * static_cast<float>(std::sin(2 * std::numbers::pi * 33 * log.time[i]));
  const LoggedLap lap{.number = 1, .begin = 6, .end = 44};
  const auto a = to_lap(log, lap, {}).value,
             b = to_lap(turned_log(Eigen::Matrix3d::Identity(), true), lap, {}).value;
  for (size_t i = 0; i < a.size(); ++i) ASSERT_NEAR(a.lateral[i], b.lateral[i], 0.15) << i;
}

TEST(ToLap, SaysWhatIsMissing) {
  Log log = turned_log(Eigen::Matrix3d::Identity(), false);
  const LoggedLap lap{.number = 1, .begin = 6, .end = 44};
  const auto found = [](const Log& of, const LoggedLap& l) {
    return test::refusal([&] { to_lap(of, l, {}); });
  };
  EXPECT_NE(found(log, {.begin = 6, .end = 6.01}).find("a lap of 0.1 s to 7200 s"), std::string::npos);
  EXPECT_FALSE(to_lap(log, lap, {.from_sensor = Vec3(1, 0, 0)}).notes.empty()) << "without a yaw rate";
  // What no car can do never reaches the fuel.
  auto absurd = log;
  for (Channel& c : absurd.channels)
    if (c.role == Role::lat_acc) c.values[c.values.size() / 2] = 1e9f;
  EXPECT_NE(found(absurd, lap).find("expected between -12 and 12 g"), std::string::npos)
      << found(absurd, lap);
  log.channels.erase(log.channels.begin());
  EXPECT_NE(found(log, lap).find("a lateral acceleration"), std::string::npos);
}

}  // namespace
}  // namespace uadze::log
