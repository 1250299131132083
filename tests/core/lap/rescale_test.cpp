// Laps scaled to other grip and power, and tracks drawn from their segments.
#include "core/lap/rescale.h"

#include <gtest/gtest.h>

#include <cmath>
#include <random>

#include "core/lap/track_path.h"
#include "core/project/track_file.h"
#include "support/demo.h"
#include "support/refusal.h"

namespace uadze::lap {
namespace {

const Lap& demo_lap() {
  static const Lap& one = *new Lap(read_lap(test::source("demo/laps/brackenholt-p4.csv")).value);
  return one;
}

TEST(Rescale, NothingChangedIsTheSameLap) {
  const Lap same = rescaled(demo_lap(), 1, 1);
  ASSERT_EQ(same.size(), demo_lap().size());
  for (size_t i = 0; i < same.size(); i += 50) {
    EXPECT_NEAR(same.lateral[i], demo_lap().lateral[i], 1e-6);
    EXPECT_NEAR(same.longitudinal[i], demo_lap().longitudinal[i], 1e-6);
    EXPECT_NEAR(same.distance[i], demo_lap().distance[i], 1e-6);
  }
}

TEST(Rescale, MoreOfEachIsQuickerOnTheSameWay) {
  const Lap grip = rescaled(demo_lap(), 1.1, 1), power = rescaled(demo_lap(), 1, 1.1),
            wet = rescaled(demo_lap(), 0.7, 1);
  EXPECT_LT(grip.duration(), demo_lap().duration());
  EXPECT_LT(power.duration(), demo_lap().duration());
  EXPECT_GT(wet.duration(), demo_lap().duration());
  const auto most = [](const Lap& lap) {
    double out = 0;
    for (double a : lap.lateral) out = std::max(out, std::abs(a));
    return out;
  };
  EXPECT_NEAR(most(grip) / most(demo_lap()), 1.1, 0.02) << "tyres limit where it corners hardest";
  EXPECT_NEAR(most(wet) / most(demo_lap()), 0.7, 0.02);
  for (const Lap* lap : {&grip, &power, &wet}) {
    EXPECT_NEAR(lap->length(), demo_lap().length(), 1e-6);
    // Speed is the way's change, and the longitudinal acceleration the speed's, on the whole of the lap.
    double way = 0, gain = 0, rough = 0;
    for (size_t i = 0; i + 1 < lap->size(); ++i) {
      const double dt = lap->time[i + 1] - lap->time[i];
      way += (lap->speed[i] + lap->speed[i + 1]) / 2 * dt;
      gain += (lap->longitudinal[i] + lap->longitudinal[i + 1]) / 2 * dt;
      rough = std::max(rough, std::abs(lap->longitudinal[i]));
    }
    EXPECT_NEAR(way, lap->length(), 0.01 * lap->length());
    EXPECT_LT(rough, 45.0) << "no spikes where the blend begins";
    double before = 0;
    for (size_t i = 0; i + 1 < demo_lap().size(); ++i)
      before += (demo_lap().longitudinal[i] + demo_lap().longitudinal[i + 1]) / 2 *
                (demo_lap().time[i + 1] - demo_lap().time[i]);
    EXPECT_NEAR(gain, before, 0.15 * lap->duration()) << "m/s, as the lap itself closes, to its own noise";
  }
  // On full power the flow goes with it.
  double burnt = 0, burnt_before = 0;
  for (size_t i = 0; i + 1 < power.size(); ++i)
    burnt += power.fuel_flow[i] * (power.time[i + 1] - power.time[i]);
  for (size_t i = 0; i + 1 < demo_lap().size(); ++i)
    burnt_before += demo_lap().fuel_flow[i] * (demo_lap().time[i + 1] - demo_lap().time[i]);
  EXPECT_GT(burnt, burnt_before);
  EXPECT_LT(burnt, 1.1 * burnt_before);
}

TEST(Rescale, WhatIsNoFactorIsRefused) {
  for (double bad : {0.0, -1.0, 9.0, std::nan("")})
    EXPECT_NE(test::refusal([&] { rescaled(demo_lap(), bad, 1); }).find("grip: expected a factor"),
              std::string::npos);
  Lap without = demo_lap();
  without.speed.clear();
  EXPECT_THROW(rescaled(without, 1, 1), InputError);
}

TEST(TrackPath, TurnsAreExactWhateverTheStep) {
  std::mt19937_64 engine(3);
  const auto uniform = [&] { return static_cast<double>(engine() >> 11) * 0x1.0p-53; };
  for (int run = 0; run < 30; ++run) {
    Track track{.name = "random", .closed = false};
    double turned = 0;
    for (int k = 0; k < 8; ++k) {
      const double radius = uniform() < 0.3 ? 0.0 : (uniform() < 0.5 ? -1 : 1) * (20 + 200 * uniform());
      track.segments.push_back({.length = 5 + 200 * uniform(), .radius = radius});
      if (radius != 0) turned += track.segments.back().length / radius;
    }
    const TrackPath fine = track_path(track, 0.5), coarse = track_path(track, 40);
    EXPECT_NEAR(fine.turned, turned, 1e-9);
    EXPECT_NEAR((fine.points.back() - coarse.points.back()).norm(), 0, 1e-8);
    EXPECT_EQ(fine.first.size(), 8u);
  }
  // The demo's circuit comes back to its start.
  const Track ring = project::read_track(test::source("demo/tracks/brackenholt-ring.json")).value;
  const TrackPath path = track_path(ring);
  EXPECT_NEAR(std::abs(path.turned), 2 * 3.14159265, 0.2);
  EXPECT_TRUE(track_path({}).points.size() == 1);
}

}  // namespace
}  // namespace uadze::lap
