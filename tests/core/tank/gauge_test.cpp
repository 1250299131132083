#include "core/tank/gauge.h"

#include <gtest/gtest.h>

#include <cmath>

#include "core/lap/manoeuvre.h"
#include "core/lap/spectrum.h"
#include "core/slosh/reach.h"

namespace uadze::tank {
namespace {

/// A box 0.6 x 0.4 x 0.25 with a pickup and a sender in it.
TankParts parts() {
  TankParts p;
  p.shapes = {Box{{-0.3, -0.2, 0}, {0.3, 0.2, 0.25}}};
  p.usable_share = 0.95;
  p.pickups = {{"p", {-0.2, 0.1, 0.02}, 0.02, "engine"}};
  p.sender = Sender{.pivot = {0, 0, 0.125}, .arm = 0.2, .empty = -0.5, .full = 0.5};
  return p;
}

TEST(Dip, IsTheLevelOfABoxAndGoesWithTheRake) {
  const Tank tank = assemble(parts()).tank;
  EXPECT_NEAR(*dip_depth(tank, {0.1, 0.1}, standing_surface(tank, 0.024)), 0.1, 1e-12);
  // Nose up by a tenth of a radian: fuel runs to the rear, the level turns about the middle.
  const Plane raked = standing_surface(tank, 0.024, {.pitch = 0.1});
  EXPECT_NEAR(*dip_depth(tank, {-0.2, 0}, raked), 0.1 + 0.2 * std::tan(0.1), 1e-9);
  EXPECT_NEAR(*dip_depth(tank, {0.2, 0}, raked), 0.1 - 0.2 * std::tan(0.1), 1e-9);
  // Left side up: to the right.
  const Plane rolled = standing_surface(tank, 0.024, {.roll = 0.1});
  EXPECT_LT(*dip_depth(tank, {0, 0.1}, rolled), *dip_depth(tank, {0, -0.1}, rolled));
  EXPECT_FALSE(dip_depth(tank, {2, 0}, raked)) << "no tank there";
}

TEST(Dip, StandsOnTheFloorUnderIt) {
  TankParts p;
  p.shapes = {Saddle{{-0.2, -0.4, 0.1}, {0.2, 0.4, 0.4}, -0.1, 0.1, 0.3}};
  const Tank tank = assemble(p).tank;
  EXPECT_NEAR(*floor_under(tank, {0, 0.3}), 0.1, 1e-12);
  EXPECT_NEAR(*floor_under(tank, {0, 0.0}), 0.3, 1e-12) << "on the tunnel";
}

TEST(SenderGauge, ReadsByTheArmsAngle) {
  const TankParts p = parts();
  const Tank tank = assemble(p).tank;
  const auto reading = [&](double volume) {
    return sender_reading(*p.sender, standing_surface(tank, volume));
  };
  // The float lies at the level: sin(angle) = (level - 0.125)/0.2.
  for (double level : {0.05, 0.1, 0.125, 0.2}) {
    const double angle = std::asin((level - 0.125) / 0.2);
    EXPECT_NEAR(reading(0.24 * level), (angle + 0.5) / 1.0, 1e-9) << level;
  }
  EXPECT_EQ(reading(0.0), 0.0);
  EXPECT_EQ(reading(0.06), 1.0) << "at its stop";
  EXPECT_NEAR(volume_by_gauge(*p.sender, tank, reading(0.024)), 0.024, 1e-9)
      << "calibrated: it says the truth";
}

TEST(SenderGauge, ABentArmAndAHigherHangerHideFuel) {
  TankParts p = parts();
  const Tank tank = assemble(p).tank;
  const GaugeTable good = gauge_table(p, tank, {0, 0}, {});
  EXPECT_NEAR(good.hidden[0].volume, 0.24 * 0.02, 1e-9);
  // The float bent downward hangs lower than the sender thinks: the gauge reads more than there is.
  p.sender->bent = -0.2;
  const GaugeTable bent = gauge_table(p, tank, {0, 0}, {});
  EXPECT_GT(bent.rows[20].reading, good.rows[20].reading + 0.1);
  EXPECT_GT(bent.rows[20].believed, bent.rows[20].volume + 1e-3);
  // A hanger that sits 30 mm higher carries pickup and sender up with it: quarter tank, and bare.
  TankParts raised = parts();
  raised.pickups[0].position.z() += 0.03;
  raised.sender->raised = 0.03;
  const Hidden hidden = gauge_table(raised, tank, {0, 0}, {}).hidden[0];
  EXPECT_NEAR(hidden.volume, 0.24 * 0.05, 1e-9);
  EXPECT_LT(hidden.believed, hidden.volume);
}

TEST(FillLimits, LeaveRoomAndSayWhatIsOutOfReach) {
  const TankParts p = parts();
  const auto limits = fill_limits(p, assemble(p).tank);
  EXPECT_NEAR(limits[0].value, 0.06, 1e-15);
  EXPECT_NEAR(limits[1].value, 0.057, 1e-15);
  EXPECT_NEAR(limits[2].value, 0.24 * 0.02, 1e-12);
}

TEST(Pickup, DrawsGasAboveItsCriticalSubmergence) {
  // h/a = 0.69 (Q2/(g a5))^(1/5).
  EXPECT_NEAR(critical_submergence(0.01, 1e-4, 9.81), 0.01 * 0.69 * std::pow(1e-8 / (9.81 * 1e-10), 0.2),
              1e-12);
  EXPECT_EQ(critical_submergence(0.01, 0, 9.81), 0);
  const Pickup tube{"t", {0, 0, 0}, 0.0, "engine"};
  const auto drawn = [&](double depth, double flow) {
    return drawn_fuel(tube, {Vec3::UnitZ(), depth}, flow, 9.81);
  };
  const double h = critical_submergence(0, 5e-5, 9.81);
  EXPECT_EQ(drawn(h * 1.01, 5e-5), 1.0);
  EXPECT_NEAR(drawn(h / 2, 5e-5), 0.5, 1e-12);
  EXPECT_EQ(drawn(-0.001, 5e-5), 0.0);
  EXPECT_GT(critical_submergence(0, 5e-5, 9.81), critical_submergence(0, 5e-5, 3 * 9.81))
      << "less under load";
}

TEST(Reach, OfABoxByClosedForm) {
  const TankParts p = parts();
  const Tank tank = assemble(p).tank;
  const Pickup point{"p", {0, 0, 0.0}, 0.0, "engine"};
  const slosh::Reach reach = slosh::pickup_reach(tank, point, 0, 0.5, 4);
  // A wedge from the middle of the floor to the wall it is pushed at: legs 0.3 (along) or 0.2, half as high.
  EXPECT_NEAR(reach.volume[0], 0.4 * 0.3 * 0.15 / 2, 1e-12);
  EXPECT_NEAR(reach.volume[1], 0.6 * 0.2 * 0.10 / 2, 1e-12);
  EXPECT_NEAR(reach.volume[2], reach.volume[0], 1e-12);
  const Pickup roof{"r", {0.29, 0, 0.249}, 0.0, "engine"};
  EXPECT_GT(slosh::pickup_reach(tank, roof, 0, 2, 8).volume[0], 0.05);
}

TEST(Reach, ACollectorHoldsFuelAroundThePickup) {
  TankParts p = parts();
  const Pickup pickup{"p", {-0.2, 0, 0.01}, 0.0, "engine"};
  p.pickups = {pickup};
  const Tank open = assemble(p).tank;
  p.collectors = {{"pot", Box{{-0.28, -0.08, 0}, {-0.12, 0.08, 0.2}}, true, {}}};
  const Assembly made = assemble(p);
  ASSERT_EQ(made.tank.pickup_space[0], 1);
  const Vec3 braking = slosh::effective_gravity({-1.0 * standard_gravity, 0, 0});
  EXPECT_LT(slosh::reach_volume(made.tank, pickup, 1, braking),
            0.7 * slosh::reach_volume(open, pickup, 0, braking));
}

TEST(Manoeuvre, EachPushesTheWayItIsCalled) {
  using lap::Manoeuvre;
  const auto mean = [](Manoeuvre which) {
    const auto trace = lap::manoeuvre(which, {.strength = 1.0});
    Vec3 sum = Vec3::Zero();
    for (const Vec3& f : trace.force)
      sum += (Vec3(0, 0, -standard_gravity) - f) / static_cast<double>(trace.force.size());
    EXPECT_NEAR(trace.force.front().z(), -standard_gravity, 1e-12) << "begins at rest";
    EXPECT_NEAR((trace.force.front() - trace.force.back()).norm(), 0, 1e-12) << "and ends so";
    return sum;
  };
  EXPECT_GT(mean(Manoeuvre::turn_left).y(), 3);
  EXPECT_LT(mean(Manoeuvre::turn_right).y(), -3);
  EXPECT_GT(mean(Manoeuvre::launch).x(), 3);
  EXPECT_LT(mean(Manoeuvre::braking).x(), -3);
  EXPECT_NEAR(mean(Manoeuvre::slalom).y(), 0, 1.0);
}

TEST(Spectrum, FindsTheAmplitudeOfASine) {
  lap::ForceTrace trace;
  for (int i = 0; i <= 6000; ++i) {
    trace.time.push_back(i * 0.01);
    trace.force.push_back({0, -4 * std::sin(2 * M_PI * 0.8 * i * 0.01), -standard_gravity});
  }
  const lap::Spectrum s = lap::excitation(trace, 2.0, 80);
  const size_t peak =
      static_cast<size_t>(std::max_element(s.lateral.begin(), s.lateral.end()) - s.lateral.begin());
  EXPECT_NEAR(s.frequency[peak], 0.8, 0.026);
  EXPECT_NEAR(s.lateral[peak], 4, 0.1);
  EXPECT_NEAR(s.longitudinal[peak], 0, 1e-9);
}

}  // namespace
}  // namespace uadze::tank
