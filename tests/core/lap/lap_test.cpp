#include "core/lap/lap.h"

#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include <fmt/format.h>
#include "core/lap/corner.h"
#include "core/lap/force_trace.h"
#include "support/figures.h"
#include "support/refusal.h"

#include <numbers>

namespace uadze::lap {
namespace {

using test::g;

using ::testing::HasSubstr;

std::string failure_of(const std::string& text) {
  try {
    parse_lap(text, "lap.csv");
  } catch (const InputError& error) {
    return error.what();
  }
  return "no failure";
}

std::string notes_of(const std::string& text, VerticalZero zero = VerticalZero::accelerometer) {
  return text_of(parse_lap(text, "lap.csv", zero).notes);
}

const std::string plain =
    "time [s],distance [m],lat_acc [g],long_acc [g]\n0,0,0.5,0.1\n0.1,2,0.6,0.2\n0.2,4,0.7,0.3\n";

TEST(Lap, ReadsChannelsIntoSi) {
  const Lap lap = parse_lap(
                      "rpm [1/min],fuel_flow [l/h],time [s],throttle [%],speed [km/h],long_acc [g],lat_acc "
                      "[g],distance [m]\n"
                      "6000,36,1.0,50,36,-1,2,100\n6000,36,1.5,50,36,-1,2,105\n",
                      "x")
                      .value;
  EXPECT_EQ(lap.size(), 2u);
  EXPECT_DOUBLE_EQ(lap.rotation[0], 100);
  EXPECT_DOUBLE_EQ(lap.fuel_flow[0], 1e-5);
  EXPECT_DOUBLE_EQ(lap.throttle[0], 0.5);
  EXPECT_DOUBLE_EQ(lap.speed[0], 10);
  EXPECT_DOUBLE_EQ(lap.longitudinal[0], -g);
  EXPECT_DOUBLE_EQ(lap.lateral[0], 2 * g);
  EXPECT_DOUBLE_EQ(lap.vertical[0], g) << "absent: 1 g";
  EXPECT_DOUBLE_EQ(lap.duration(), 0.5);
  EXPECT_DOUBLE_EQ(lap.length(), 5);
  EXPECT_EQ(lap.effective_gravity(0), Vec3(g, -2 * g, -g))
      << "fuel goes forward under braking, right in a left-hander";
}

TEST(Lap, OrderSeparatorsLineEndsAndUnitsDoNotMatter) {
  const Lap one = parse_lap(plain, "x").value;
  for (const std::string text :
       {"long_acc [g];lat_acc [g];distance [m];time [s]\r\n0.1;0.5;0;0\r\n0.2;0.6;2;0.1\r\n0.3;0.7;4;0.2\r\n",
        "\xEF\xBB\xBFtime [ms],distance [km],lat_acc [m/s2],long_acc "
        "[g]\n0,0,4.903325,0.1\n100,0.002,5.88399,0.2\n200,0.004,6.864655,0.3\n"}) {
    const Lap other = parse_lap(text, "x").value;
    for (size_t i = 0; i < 3; ++i) {
      EXPECT_NEAR(other.time[i], one.time[i], 1e-12);
      EXPECT_NEAR(other.distance[i], one.distance[i], 1e-12);
      EXPECT_NEAR(other.lateral[i], one.lateral[i], 1e-9);
      EXPECT_NEAR(other.longitudinal[i], one.longitudinal[i], 1e-9);
    }
  }
}

TEST(Lap, ExtraColumnsAreKeptAndWrittenAgain) {
  const Lap lap =
      parse_lap("time [s],oil,distance [m],lat_acc [g],long_acc [g]\n0,hot,0,0,0\n1,cold,9,0,0\n", "x").value;
  ASSERT_EQ(lap.extra.size(), 1u);
  EXPECT_EQ(lap.extra[0].cells, (std::vector<std::string>{"hot", "cold"}));
  const Lap again = parse_lap(write_lap(lap), "x").value;
  EXPECT_EQ(again.extra[0].header, "oil");
  EXPECT_EQ(again.extra[0].cells, lap.extra[0].cells);
  EXPECT_NEAR(again.distance[1], 9, 1e-9);
}

TEST(Lap, MissingChannelsAreSaid) {
  const std::string notes = notes_of(plain);
  for (const char* part :
       {"no column vert_acc: 1 g", "no column speed", "no column throttle", "no column fuel_flow"})
    EXPECT_THAT(notes, HasSubstr(part));
  EXPECT_THAT(
      failure_of("time [s],distance [m],long_acc [g]\n0,0,0\n1,1,0\n"),
      HasSubstr(
          "header: expected a column lat_acc [unit], found only: time [s], distance [m], long_acc [g]"));
  EXPECT_THAT(failure_of("distance [m],lat_acc [g],long_acc [g]\n0,0,0\n1,1,0\n"),
              HasSubstr("a column time"));
  EXPECT_THAT(failure_of("time [s],lat_acc [g],long_acc [g]\n0,0,0\n1,1,0\n"),
              HasSubstr("distance [m] or speed"));
}

TEST(Lap, FaultsNameLineAndColumn) {
  const std::string head = "time [s],distance [m],lat_acc [g],long_acc [g]\n";
  EXPECT_THAT(
      failure_of(head + "0,0,0,0\n1,1,fast,0\n"),
      HasSubstr("lap.csv: line 3, column lat_acc: expected a number with a decimal point, found \"fast\""));
  EXPECT_THAT(
      failure_of(head + "0,0,0,0\n1,1,,0\n"),
      HasSubstr("line 3, column lat_acc: expected a number with a decimal point, found an empty field"));
  EXPECT_THAT(failure_of(head + "0,0,0,0\n1,1,nan,0\n"), HasSubstr("found \"nan\""));
  EXPECT_THAT(failure_of(head + "0,0,0,0\n1,1,45,0\n"), HasSubstr("between -12 and 12 g, found 45"));
  EXPECT_THAT(failure_of(head + "0,0,0,0\n"), HasSubstr("expected at least 2 rows of data, found 1"));
  EXPECT_THAT(failure_of(head), HasSubstr("at least 2 rows"));
  EXPECT_THAT(
      failure_of(head + "0,0,0,0\n1,1,0,0\n0.5,2,0,0\n"),
      HasSubstr("line 4, column time: expected a time after 1 s, found 0.5 s: the clock runs backward"));
  EXPECT_THAT(failure_of(head + "0,0,0,0\n1,10,0,0\n2,5,0,0\n"), HasSubstr("line 4, column distance"));
  EXPECT_THAT(failure_of(head + "1,0,0,0\n1,1,0,0\n"), HasSubstr("at least 2 different times"));
  EXPECT_THAT(failure_of("time,distance [m],lat_acc [g],long_acc [g]\n0,0,0,0\n"),
              HasSubstr("time with a unit: [s], [ms]"));
  EXPECT_THAT(failure_of("time [s],distance [m],lat_acc [lbs],long_acc [g]\n0,0,0,0\n"),
              HasSubstr("header, column 3"));
  EXPECT_THAT(failure_of("time [s],time [s],distance [m],lat_acc [g],long_acc [g]\n0,0,0,0,0\n"),
              HasSubstr("two of them"));
  EXPECT_THAT(failure_of(""), HasSubstr("an empty file"));
}

TEST(Lap, DecimalCommasAreRecognised) {
  EXPECT_THAT(failure_of("time [s],distance [m],lat_acc [g],long_acc [g]\n0,0,0,0,0,0,0,0\n"),
              HasSubstr("decimal comma"));
  EXPECT_THAT(failure_of("time [s];distance [m];lat_acc [g];long_acc [g]\n0;0;0,5;0\n1;1;0,5;0\n"),
              HasSubstr("\"0,5\" (a decimal comma)"));
}

TEST(Lap, ManyFaultsAreCountedNotRepeated) {
  std::string text = "time [s],distance [m],lat_acc [g],long_acc [g]\n";
  for (int i = 0; i < 50; ++i) text += std::to_string(i) + "," + std::to_string(i) + ",x,0\n";
  const std::string said = failure_of(text);
  EXPECT_THAT(said, HasSubstr("47 more rows with the same fault"));
  EXPECT_LT(std::count(said.begin(), said.end(), '\n'), 10);
}

TEST(Lap, RepeatedTimesAndGapsAreWarnedOfWithTheirLine) {
  std::string text = "time [s],distance [m],lat_acc [g],long_acc [g]\n";
  for (const char* t : {"0", "0.1", "0.2", "0.2", "0.3", "2.3", "2.4"})
    text += std::string(t) + "," + t + ",0,0\n";
  const auto read = parse_lap(text, "x");
  EXPECT_EQ(read.value.size(), 6u) << "the repeated row is left out";
  const std::string notes = text_of(read.notes);
  EXPECT_THAT(notes, HasSubstr("line 5, column time: expected a later time, found 0.2 s again"));
  EXPECT_THAT(notes, HasSubstr("line 7, column time: expected steps of about 0.1 s, found a gap of 2 s"));
}

TEST(Lap, DistanceIsFoundFromSpeedAndSpeedFromDistance) {
  const Lap lap =
      parse_lap("time [s],speed [m/s],lat_acc [g],long_acc [g]\n0,10,0,0\n1,20,0,0\n3,20,0,0\n", "x").value;
  EXPECT_EQ(lap.distance, (std::vector<double>{0, 15, 55}));
  std::string text = "time [s],distance [m],lat_acc [g],long_acc [g]\n";
  for (int i = 0; i < 30; ++i) text += fmt::format("{},{},0,0\n", i * 0.1, i * 3.0);
  for (double v : parse_lap(text, "x").value.speed) EXPECT_NEAR(v, 30, 1e-9);
}

TEST(Lap, VerticalZeroIsCheckedAndConverted) {
  const std::string text =
      "time [s],distance [m],lat_acc [g],long_acc [g],vert_acc [g]\n0,0,0,0,0.02\n1,1,0,0,-0.02\n2,2,0,0,0\n";
  EXPECT_THAT(notes_of(text), HasSubstr("gravity removed"));
  const auto read = parse_lap(text, "x", VerticalZero::gravity_removed);
  EXPECT_NEAR(read.value.vertical[0], 1.02 * g, 1e-12);
  EXPECT_THAT(text_of(read.notes), Not(HasSubstr("vert_acc:")));
}

TEST(Lap, TurnedRoundSignsAreNoticed) {
  std::string good = "time [s],distance [m],lat_acc [g],long_acc [g],speed [m/s]\n", bad = good;
  for (int i = 0; i < 60; ++i) {
    const double v = 30 + 10 * std::sin(i * 0.1), a = 10 * std::cos(i * 0.1) / g;
    good += fmt::format("{},{},1,{},{}\n", i * 0.1, i * 3.0, a, v);
    bad += fmt::format("{},{},1,{},{}\n", i * 0.1, i * 3.0, -a, v);
  }
  EXPECT_THAT(notes_of(good), Not(HasSubstr("turned round")));
  EXPECT_THAT(notes_of(bad), HasSubstr("column long_acc: expected positive when the car speeds up"));
  const Lap lap = parse_lap(good, "x").value;
  EXPECT_TRUE(check_hands(lap, {{"A", 10, 100, Hand::left}}, "x").empty());
  const Messages said = check_hands(lap, {{"A", 10, 100, Hand::right}}, "x");
  ASSERT_EQ(said.size(), 1u);
  EXPECT_THAT(said[0].text(),
              HasSubstr("1.00 g in A, a right-hand corner: the sign of the whole channel is turned round"));
}

TEST(Corner, PlacesHaveNames) {
  const std::vector<Corner> corners{{"Alder", 100, 200, Hand::left}, {"Birch", 400, 500, Hand::right}};
  EXPECT_EQ(place_at(corners, 150), "Alder");
  EXPECT_EQ(place_at(corners, 220), "after Alder");
  EXPECT_EQ(place_at(corners, 390), "before Birch");
  EXPECT_EQ(place_at(corners, 900), "after Birch");
  EXPECT_EQ(place_at({}, 812), "");
  EXPECT_EQ(turning(g), "left-hand");
  EXPECT_EQ(turning(-g), "right-hand");
  EXPECT_EQ(phase(-g, false), "braking");
  EXPECT_EQ(phase(g, true), "launch");
}

TEST(Path, AConstantCornerIsACircleThatCloses) {
  Lap lap;
  const double v = 20, r = 50;
  const int n = 1001;
  const double whole = 2 * std::numbers::pi * r / v;
  for (int i = 0; i < n; ++i) {
    lap.time.push_back(whole * i / (n - 1));
    lap.distance.push_back(v * lap.time.back());
    lap.lateral.push_back(v * v / r * 1.03);  // a logger's scale error is spread over the lap
    lap.longitudinal.push_back(0);
    lap.vertical.push_back(g);
    lap.speed.push_back(v);
  }
  const auto points = path(lap, true);
  EXPECT_NEAR((points.back() - points.front()).norm(), 0, 1e-9);
  Vec2 low = points[0], high = points[0];
  for (const Vec2& p : points) low = low.cwiseMin(p), high = high.cwiseMax(p);
  EXPECT_NEAR(high.x() - low.x(), 2 * r, 0.5);
  EXPECT_NEAR(high.y() - low.y(), 2 * r, 0.5);
  EXPECT_GT(points[static_cast<size_t>(n / 4)].y(), 0) << "a left-hand turn bends to the left";
}

TEST(Lap, TimesThatNoLapHasAreRefused) {
  const auto rows = [](double step, int count) {
    std::string text = "time [s],speed [km/h],lat_acc [g],long_acc [g]\n";
    for (int i = 0; i < count; ++i) text += fmt::format("{},100,0,0\n", i * step);
    return text;
  };
  EXPECT_THAT(failure_of(rows(20, 4000)), HasSubstr("are these milliseconds?"));
  EXPECT_THAT(failure_of(rows(1e6, 2)), HasSubstr("line 3, column time: expected a time at most 60 s after"));
  EXPECT_THAT(failure_of(rows(1e-12, 2)), HasSubstr("expected a lap of 0.1 s to 7200 s"));
  EXPECT_EQ(failure_of(rows(0.02, 100)), "no failure");
}

TEST(Lap, DistanceIsHeldAgainstSpeedTimesTime) {
  const auto rows = [](double metres) {  // 20 s at 180 km/h
    return fmt::format(
        "time [s],speed [km/h],distance [m],lat_acc [g],long_acc [g]\n0,180,0,0,0\n20,180,{},0,0\n", metres);
  };
  EXPECT_THAT(notes_of(rows(1000)), ::testing::Not(HasSubstr("speed times time")));
  EXPECT_THAT(notes_of(rows(1300)), HasSubstr("expected about 1000 m, what speed times time makes"));
  EXPECT_THAT(failure_of(rows(1)), HasSubstr("column distance")) << "kilometres headed [m]";
}

TEST(Acceleration, TimesWithoutEndAreRefused) {
  const auto refused = [](const std::string& text) {
    return test::refusal([&] { parse_acceleration(text, "a.csv"); });
  };
  EXPECT_THAT(refused("time [s],ax [g],ay [g],az [g]\n0,0,0,0\n1e9,0,0,0\n"),
              HasSubstr("60 s after the last"));
  std::string text = "time [s],ax [g],ay [g],az [g]\n";
  for (int i = 0; i < 400; ++i) text += fmt::format("{},0,0,0\n", i * 50);
  EXPECT_THAT(refused(text), HasSubstr("7200 s at most in all"));
}

}  // namespace
}  // namespace uadze::lap
