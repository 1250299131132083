// What is felt in a car that turns, and pieces of a drive.
#include "core/lap/force_trace.h"

#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>
#include <numbers>

#include "support/figures.h"
#include "support/random_shapes.h"

namespace uadze::lap {
namespace {

using test::Random;

/// Where a place of the car is on the ground when the car's origin runs along a path while it turns, and what
/// a body there is accelerated by: second differences of the place, turned back into the car's axes.
struct Ride {
  Vec3 drift, bend;        // of the origin: m/s2, m/s3
  double yaw, yaw_change;  // at t = 0
  double heading(double t) const { return yaw * t + yaw_change * t * t / 2; }
  Vec3 place(const Vec3& r, double t) const {
    const double c = std::cos(heading(t)), s = std::sin(heading(t));
    return drift * (t * t / 2) + bend * (t * t * t / 6) +
           Vec3(c * r.x() - s * r.y(), s * r.x() + c * r.y(), r.z());
  }
  Vec3 felt(const Vec3& r) const {
    constexpr double h = 1e-4;
    const Vec3 a = (place(r, h) + place(r, -h) - 2 * place(r, 0)) / (h * h);
    return Vec3(0, 0, -standard_gravity) - a;
  }
};

TEST(Push, IsFeltAsAPlaceThatRidesAlongIsAccelerated) {
  Random random(61);
  for (int trial = 0; trial < 300; ++trial) {
    const auto any = [&](double size) {
      return Vec3(random.uniform(-size, size), random.uniform(-size, size), random.uniform(-size, size));
    };
    const Ride ride{any(20), any(50), random.uniform(-4, 4), random.uniform(-20, 20)};
    const Push push{.gravity = ride.felt(Vec3::Zero()), .yaw = ride.yaw, .yaw_change = ride.yaw_change};
    const Vec3 r = any(2);
    EXPECT_LT((push.felt_at(r) - ride.felt(r)).norm(), 1e-4 * (1 + ride.felt(r).norm())) << trial;
  }
}

ForceTrace any_trace(Random& random, bool turning) {
  ForceTrace out;
  double t = random.uniform(-3, 100);
  for (int rows = 2 + static_cast<int>(random.uniform(0, 40)); rows > 0; --rows) {
    out.time.push_back(t);
    out.force.emplace_back(random.uniform(-20, 20), random.uniform(-20, 20), random.uniform(-20, 5));
    if (turning) out.yaw.push_back(random.uniform(-3, 3));
    t += random.uniform(1e-3, 0.4);
  }
  return out;
}

TEST(ForceTrace, APartIsTheWholeBetweenItsEnds) {
  Random random(62);
  for (int trial = 0; trial < 200; ++trial) {
    const ForceTrace whole = any_trace(random, trial % 2 == 0);
    const double wide = whole.end() - whole.begin();
    const double from = whole.begin() + random.uniform(0, 0.5) * wide,
                 to = from + random.uniform(0.1, 1) * (whole.end() - from);
    const ForceTrace part = whole.part(from, to);
    EXPECT_EQ(part.begin(), from);
    EXPECT_EQ(part.end(), to);
    ASSERT_EQ(part.yaw.size(), whole.yaw.empty() ? 0u : part.time.size());
    for (size_t i = 1; i < part.time.size(); ++i) EXPECT_GT(part.time[i], part.time[i - 1]);
    for (int k = 0; k < 20; ++k) {
      const double t = random.uniform(from, to);
      const Push one = whole.push(t), other = part.push(t);
      EXPECT_LT((one.gravity - other.gravity).norm(), 1e-9);
      EXPECT_NEAR(one.yaw, other.yaw, 1e-9);
    }
  }
}

TEST(ForceTrace, YawIsTheSlopeOfItsChangeAndHeldBeyondTheEnds) {
  Random random(63);
  for (int trial = 0; trial < 100; ++trial) {
    const ForceTrace trace = any_trace(random, true);
    for (int k = 0; k < 10; ++k) {
      const double t = random.uniform(trace.begin(), trace.end()), h = 1e-7;
      if (std::any_of(trace.time.begin(), trace.time.end(),
                      [&](double row) { return std::abs(row - t) < 2 * h; }))
        continue;
      const double slope = (trace.push(t + h).yaw - trace.push(t - h).yaw) / (2 * h);
      EXPECT_NEAR(trace.push(t).yaw_change, slope, 1e-4 * (1 + std::abs(slope)));
    }
    EXPECT_EQ(trace.push(trace.begin() - 1).yaw, trace.yaw.front());
    EXPECT_EQ(trace.push(trace.end() + 1).yaw, trace.yaw.back());
    EXPECT_EQ(trace.push(trace.end() + 1).yaw_change, 0.0);
  }
}

// A car that circles: the yaw of its line is what brings its nose round, a turn in the time of a turn.
TEST(ForceTrace, TheYawOfACirclesLineTurnsItOnceInALap) {
  const double radius = 30, speed = 15, time = 2 * std::numbers::pi * radius / speed;
  Lap lap;
  for (int i = 0; i <= 200; ++i) {
    lap.time.push_back(time * i / 200);
    lap.distance.push_back(speed * lap.time.back());
    lap.speed.push_back(speed);
    lap.lateral.push_back(speed * speed / radius);
    lap.longitudinal.push_back(0), lap.vertical.push_back(standard_gravity), lap.throttle.push_back(0.5);
  }
  const ForceTrace trace = force_trace(lap);
  double turned = 0;
  for (size_t i = 0; i + 1 < trace.time.size(); ++i)
    turned += (trace.time[i + 1] - trace.time[i]) * (trace.yaw[i] + trace.yaw[i + 1]) / 2;
  EXPECT_NEAR(turned, 2 * std::numbers::pi, 1e-9);
  for (double& v : lap.speed) v = 0.5;
  for (double y : force_trace(lap).yaw) EXPECT_EQ(y, 0.0) << "pushed about in the pits it turns on no line";
}

}  // namespace
}  // namespace uadze::lap
