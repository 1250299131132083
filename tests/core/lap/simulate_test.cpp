#include "core/lap/simulate.h"

#include <gtest/gtest.h>

#include <numbers>

#include "core/project/track_file.h"
#include "support/figures.h"
#include "support/temp_folder.h"

namespace uadze::lap {
namespace {

using test::g;

Car plain_car() {
  Car car;
  car.mass = 1000, car.power = 1e7, car.grip = 1.5, car.drag_area = 0, car.rolling = 0,
  car.traction_share = 1;
  return car;
}

Track circle(double radius, double banking = 0) {
  return {"circle", true, {{"round", 2 * std::numbers::pi * std::abs(radius), radius, banking, 0}}, 10};
}

TEST(Simulate, ACircleIsDrivenAtTheGripLimit) {
  const Lap lap = simulate(circle(80), plain_car());
  const double v = std::sqrt(1.5 * g * 80);
  for (double s : lap.speed) EXPECT_NEAR(s, v, 1e-3);
  for (double a : lap.lateral) EXPECT_NEAR(a, 1.5 * g, 1e-3);
  EXPECT_NEAR(lap.duration(), 2 * std::numbers::pi * 80 / v, 0.02 * lap.duration());
}

TEST(Simulate, ABankedCircleByClosedForm) {
  const double b = 0.3, mu = 0.8;
  Car car = plain_car();
  car.grip = mu;
  const Lap lap = simulate(circle(-60, b), car);
  const double v2 = g * 60 * (mu * std::cos(b) + std::sin(b)) / (std::cos(b) - mu * std::sin(b));
  EXPECT_NEAR(lap.speed[100] * lap.speed[100], v2, 1e-6 * v2);
  // What accelerometers read: v2/R cos b - g sin b to the side, g cos b + v2/R sin b up.
  EXPECT_NEAR(lap.lateral[100], -(v2 / 60 * std::cos(b) - g * std::sin(b)), 1e-6);
  EXPECT_NEAR(lap.vertical[100], g * std::cos(b) + v2 / 60 * std::sin(b), 1e-6);
}

TEST(Simulate, AStandingStartAtTheGripLimitTakesRootTwoSOverA) {
  const Track straight{"strip", false, {{"", 200, 0, 0, 0}}, 0};
  const Lap lap = simulate(straight, plain_car());
  EXPECT_NEAR(lap.duration(), std::sqrt(2 * 200 / (1.5 * g)), 0.01);
  EXPECT_NEAR(lap.speed.back(), std::sqrt(2 * 1.5 * g * 200), 0.05);
  EXPECT_NEAR(lap.longitudinal[40], 1.5 * g, 1e-6);
}

TEST(Simulate, PowerLimitedSpeedGrowsWithTheCubeRootOfDistance) {
  Car car = plain_car();
  car.power = 50e3, car.grip = 50;
  const Track straight{"strip", false, {{"", 1000, 0, 0, 0}}, 0};
  const Lap lap = simulate(straight, car);
  EXPECT_NEAR(std::pow(lap.speed.back(), 3), 3 * 50e3 / 1000 * 1000, 0.02 * 150e3);  // v^3 = 3 P s / m
}

TEST(Simulate, TopSpeedIsWherePowerMeetsDrag) {
  Car car = plain_car();
  car.power = 100e3, car.drag_area = 1.0;
  const Track straight{"strip", false, {{"", 12000, 0, 0, 0}}, 0};
  EXPECT_NEAR(simulate(straight, car).speed.back(), std::cbrt(2 * 100e3 / 1.2), 0.2);
}

TEST(Simulate, ASlopeIsReadByTheAccelerometerAsLongitudinal) {
  Car car = plain_car();
  car.power = 60e3;
  const Track hill{"hill", false, {{"", 20000, 0, 0, 0.1}}, 0};
  const Lap lap = simulate(hill, car);
  EXPECT_NEAR(lap.longitudinal.back(), g * std::sin(std::atan(0.1)), 0.02)
      << "steady speed uphill reads g sin s";
  EXPECT_NEAR(lap.vertical.back(), g * std::cos(std::atan(0.1)), 1e-9);
}

TEST(Simulate, BrakingKeepsWithinTheGripCircle) {
  const auto track = project::read_track(test::source("demo/tracks/brackenholt-ring.json")).value;
  auto [car, noise] = project::read_car(test::source("demo/cars/ostrel-p4.json")).value;
  noise = {};
  const Lap lap = simulate(track, car, noise);
  for (size_t i = 0; i < lap.size(); ++i) {
    const double load =
        lap.vertical[i] + car.air_density * car.downforce_area * lap.speed[i] * lap.speed[i] / (2 * car.mass);
    EXPECT_LE(std::abs(lap.lateral[i]), car.grip * load * 1.02);
    EXPECT_GE(lap.longitudinal[i], -car.brake_limit - 4);
  }
  EXPECT_NEAR(lap.length(), 4600, 1);
  EXPECT_EQ(track.corners().size(), 14u);
  EXPECT_TRUE(check_hands(lap, track.corners(), "").empty());
}

TEST(Simulate, AMirroredTrackGivesTheMirroredLap) {
  auto track = project::read_track(test::source("demo/tracks/vey-hill.json")).value;
  const auto car = project::read_car(test::source("demo/cars/ostrel-wisp.json")).value.car;
  const Lap one = simulate(track, car);
  for (Segment& s : track.segments) s.radius = -s.radius;
  const Lap other = mirrored(simulate(track, car));
  ASSERT_EQ(one.size(), other.size());
  for (size_t i = 0; i < one.size(); ++i) {
    EXPECT_EQ(one.lateral[i], other.lateral[i]);
    EXPECT_EQ(one.speed[i], other.speed[i]);
  }
}

TEST(Simulate, NoiseComesFromItsSeed) {
  const Noise noise{7, 0.2, 0.01};
  EXPECT_EQ(simulate(circle(80), plain_car(), noise).lateral,
            simulate(circle(80), plain_car(), noise).lateral);
  EXPECT_NE(simulate(circle(80), plain_car(), noise).lateral,
            simulate(circle(80), plain_car(), {8, 0.2, 0.01}).lateral);
  const Lap lap = simulate(circle(300), plain_car(), noise);
  double sum = 0;
  for (double a : lap.vertical) sum += (a - g) * (a - g);
  EXPECT_NEAR(std::sqrt(sum / static_cast<double>(lap.size())), 0.2, 0.02);
}

TEST(Simulate, TheDemosLapsAreWhatTheSimulatorMakes) {
  for (const auto& [track, car, lap] : {std::tuple{"brackenholt-ring", "ostrel-p4", "brackenholt-p4"},
                                        {"brackenholt-ring", "ostrel-tarn", "brackenholt-tarn"},
                                        {"vey-hill", "ostrel-wisp", "vey-hill-wisp"}}) {
    const auto made = project::read_car(test::source(std::string("demo/cars/") + car + ".json")).value;
    const Lap simulated =
        simulate(project::read_track(test::source(std::string("demo/tracks/") + track + ".json")).value,
                 made.car, made.noise);
    const Lap shipped = read_lap(test::source(std::string("demo/laps/") + lap + ".csv")).value;
    ASSERT_EQ(simulated.size(), shipped.size());
    for (size_t i = 0; i < shipped.size(); ++i) {
      EXPECT_NEAR(simulated.lateral[i], shipped.lateral[i], 1e-3);
      EXPECT_NEAR(simulated.fuel_flow[i], shipped.fuel_flow[i], 1e-8);
    }
  }
}

TEST(Simulate, ImpossibleTracksAreSaid) {
  Car weak = plain_car();
  weak.power = 1000;
  const Track wall{"wall", false, {{"", 500, 0, 0, 0.4}}, 0};
  EXPECT_THROW(simulate(wall, weak), InputError);
  EXPECT_THROW(simulate({"none", true, {}, 0}, weak), InputError);
}

TEST(TrackFile, FaultsAreNamedAtTheirPlace) {
  test::TempFolder folder;
  const auto said = [&](const std::string& text) {
    try {
      project::read_track(folder.write("t.json", text));
    } catch (const InputError& error) {
      return std::string(error.what());
    }
    return std::string("no failure");
  };
  EXPECT_NE(said(R"({"undertow_adze_track":1,"name":"t","segments":[{"length_m":-5}]})")
                .find("/segments/0/length_m: expected a number above 0"),
            std::string::npos);
  EXPECT_NE(said(R"({"undertow_adze_track":1,"name":"t","segments":[{"length_m":5,"radius_m":1}]})")
                .find("/segments/0/radius_m"),
            std::string::npos);
  EXPECT_NE(said(R"({"undertow_adze_track":1,"name":"t","segments":[]})").find("/segments"),
            std::string::npos);
  EXPECT_NE(said("{").find("cut short"), std::string::npos);
}

}  // namespace
}  // namespace uadze::lap
