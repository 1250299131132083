#include "core/circuit/charging.h"

#include <gtest/gtest.h>

#include <cmath>

#include "core/circuit/lap_faults.h"
#include "support/circuits.h"

namespace uadze::circuit {
namespace {

using test::litre_per_hour;

LoadTrace steady(double rotation, double seconds = 60) {
  LoadTrace c;
  for (int i = 0; i <= 30; ++i) {
    c.time.push_back(seconds * i / 30);
    c.throttle.push_back(1.0);
    c.demand.push_back(140 * litre_per_hour);
    c.rotation.push_back(rotation);
    c.force.push_back({0, 0, -standard_gravity});
  }
  return c;
}

Case car(const char* alternator, double other_load) {
  Case c = test::plain_case();
  c.circuit.charging = {.alternator = alternator,
                        .ratio = 2.5,
                        .battery = 20 * 3600.0,
                        .loads = {{"engine, fan, lights", other_load}}};
  return c;
}

TEST(Charging, TheAlternatorHoldsTheVoltageUntilItsOutputIsSpent) {
  Circuit k;
  k.supply = 13.8;
  k.charging = {.alternator = "alternator, 70 A class", .ratio = 2.0, .battery = 3600 * 20.0};
  const Catalogue& catalogue = *test::plain_case().catalogue;
  // 1500 1/min of the crankshaft: 3000 of its own, 45.5 A.
  EXPECT_NEAR(bus_at(k, catalogue, 25, 40, 1).voltage, 13.8, 1e-12);
  EXPECT_NEAR(bus_at(k, catalogue, 25, 40, 1).charging, 0.85 * 5.5, 1e-9);
  EXPECT_NEAR(bus_at(k, catalogue, 25, 55.5, 1).voltage, 12.8 - 8e-3 * 10, 1e-9);
  EXPECT_NEAR(bus_at(k, catalogue, 25, 55.5, 0.5).voltage, 12.3 - 8e-3 * 10, 1e-9);
  EXPECT_NEAR(bus_at(k, catalogue, 25, 55.5, 0.5).charging, -10, 1e-9);
  k.supply = 12.0;
  EXPECT_NEAR(bus_at(k, catalogue, 25, 55.5, 1).voltage, 12.0, 1e-12)
      << "never over what the regulator holds";
}

TEST(Charging, PumpsSlowDownWithTheBatteryAndTheSessionsLastLapIsTheWorst) {
  const Case c = car("", 15);
  const LoadTrace trace = steady(100);
  const LoadRun lap = run_along(c, trace, 100, nullptr, false);
  for (const LoadPoint& p : lap.points)
    EXPECT_NEAR(p.supply, 12.8 - 8e-3 * (15 + p.current), 0.05) << "the loads of a moment ago";
  const ChargeRun session = run_charge(c, trace, lap, 2400);
  EXPECT_LT(session.voltage[session.voltage.size() - 2], session.voltage.front() - 0.5);
  EXPECT_LT(session.last.points.back().delivered, 0.97 * lap.points.back().delivered);
  // A given supply (a what-if) stands above the car's own.
  Case given = c;
  given.at.supply = 13.0;
  EXPECT_EQ(run_along(given, trace, 100, nullptr, false).points[5].supply, 13.0);
}

TEST(Charging, ABalanceThatFailsIsAFindingOfTheLapByAllLoadsAndSpeed) {
  const auto said = [](const Case& c, double rotation) {
    const LoadRun lap = run_along(c, steady(rotation), 100, nullptr, false);
    for (const LapFault& f : lap_faults(c, lap, {}))
      if (f.kind == LapFaultKind::discharging) return f.text.in();
    return std::string();
  };
  EXPECT_TRUE(said(car("alternator, 70 A class", 30), 100).empty());
  const std::string words = said(car("alternator, 40 A class", 35), 100);
  EXPECT_NE(words.find("the alternator can give 40.0 A"), std::string::npos) << words;
  EXPECT_FALSE(said(car("alternator, 70 A class", 30), 14).empty()) << "too slow a shaft";
  EXPECT_TRUE(said(car("", 30), 100).empty()) << "a car without one is built to live from its battery";
}

// Whether the battery may lose is settled at full load: where that says no, no lap of less load loses either.
TEST(Charging, MayDischargeIsToTheSafeSide) {
  const std::vector<double> time{0, 30, 60}, fast{100, 100, 100}, slow{100, 12, 12};
  EXPECT_FALSE(may_discharge(car("alternator, 70 A class", 20), time, fast));
  EXPECT_TRUE(may_discharge(car("alternator, 40 A class", 35), time, fast));
  EXPECT_TRUE(may_discharge(car("alternator, 70 A class", 45), time, slow))
      << "half a minute of next to nothing";
  EXPECT_TRUE(may_discharge(car("", 5), time, {}));
  EXPECT_FALSE(may_discharge(car("alternator, 40 A class", 35), time, {}))
      << "how fast it turns is not known";
  Case none = car("", 5);
  none.circuit.charging.battery = 0;
  EXPECT_FALSE(may_discharge(none, time, fast)) << "nothing to lose";
  for (double load = 5; load < 60; load += 5) {
    const Case c = car("alternator, 70 A class", load);
    const LoadRun lap = run_along(c, steady(100), 100, nullptr, false);
    Case full = c;
    full.at.demand = 140 * litre_per_hour;
    if (!may_discharge(full, time, fast)) {
      EXPECT_LE(charge_balance(c, lap).drain, 0.0) << load;
    }
  }
}

TEST(Charging, ThinnedLapsComeToTheSameCharge) {
  const Case c = car("alternator, 40 A class", 35);
  const LoadTrace trace = steady(100, 90);
  const double duration = 20 * 90.0;
  const ChargeRun whole = run_charge(c, trace, run_along(c, trace, 100, nullptr, false), duration);
  const ChargeRun thin = run_charge(c, trace, run_along(c, trace, 7, nullptr, false), duration);
  ASSERT_EQ(whole.charge.size(), 21u) << "twenty laps and their end";
  ASSERT_EQ(thin.charge.size(), 21u);
  EXPECT_NEAR(thin.charge.back(), whole.charge.back(),
              0.01 * (c.circuit.charging.battery - whole.charge.back()));
}

// The point at the lap's cursor and the lap itself agree on the voltage.
TEST(Charging, APointHasTheVoltageThatTheLapHasThere) {
  Case c = car("alternator, 40 A class", 35);
  const LoadRun lap = run_along(c, steady(100), 100, nullptr, false);
  c.at.demand = 140 * litre_per_hour, c.at.rotation = 100, c.at.throttle = 1.0;
  c.at.manifold = manifold_at(c.circuit, 1.0);
  EXPECT_NEAR(own_voltage(c), lap.points.back().supply, 0.01);
  EXPECT_LT(own_voltage(c), 13);
  EXPECT_FALSE(has_own_voltage(c.circuit, false)) << "how fast it turns is not known";
  LoadTrace without = steady(100);
  without.rotation.clear();
  EXPECT_EQ(run_along(c, without, 100, nullptr, false).points[3].supply, c.circuit.supply);
}

}  // namespace
}  // namespace uadze::circuit
