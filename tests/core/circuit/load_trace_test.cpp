#include "core/circuit/charging.h"

#include <gtest/gtest.h>

#include <cmath>
#include <numbers>

#include "support/circuits.h"

namespace uadze::circuit {
namespace {

using test::litre_per_hour;

/// Full load and coasting in turn, ten seconds each.
LoadTrace to_and_fro(double seconds = 60, double rate = 20) {
  LoadTrace c;
  for (int i = 0; i <= seconds * rate; ++i) {
    const double t = i / rate;
    const bool full = std::fmod(t, 20.0) < 10.0;
    c.time.push_back(t);
    c.throttle.push_back(full ? 1.0 : 0.1);
    c.demand.push_back((full ? 140 : 10) * litre_per_hour);
    c.rotation.push_back(full ? 120 : 60);
    c.force.push_back({0, 0, -standard_gravity});
  }
  return c;
}

Case staged_case() {
  Case c = test::plain_case();
  c.circuit.mains = {
      {"small", {test::pump("main pump, 150 l/h class")}, {}},
      {"second", {test::pump("main pump, 190 l/h class")}, {StageBy::throttle, 0.7, 0.5, 0.3}}};
  c.circuit.regulator.base = 4e5;
  return c;
}

TEST(LoadTrace, StagesSwitchWithHysteresisAndSpinUp) {
  const LoadRun run = run_along(staged_case(), to_and_fro(), 5000);
  EXPECT_EQ(run.switches, 3) << "at 20, 40 and 60 s; the first moment finds it running";
  ASSERT_EQ(run.dips.size(), 3u);
  EXPECT_NEAR(run.dips[0].time, 20.0, 0.1);
  EXPECT_GT(run.dips[0].short_of, 0.07e5) << "one small pump alone can not hold full load";
  Case corrected = staged_case();
  corrected.pressure_corrected = true;
  EXPECT_GT(run_along(corrected, to_and_fro(), 5000).dips[0].short_of, run.dips[0].short_of)
      << "whose injectors stay open longer meanwhile";
  for (const LoadPoint& p : run.points) {
    const double since = std::fmod(p.time, 20.0);
    const bool expected = since < 10.0 && (p.time < 10.0 || since > 0.35);
    if (expected) {
      EXPECT_EQ(p.on, 3u) << p.time;
    }
    if (since > 10.1) {
      EXPECT_EQ(p.on, 1u) << p.time;
    }
  }
  // Between on and off the pump stays as it was.
  Stage s{StageBy::throttle, 0.7, 0.5};
  OperatingPoint at;
  at.throttle = 0.6;
  EXPECT_FALSE(stage_wants(s, at, false));
  EXPECT_TRUE(stage_wants(s, at, true));
}

TEST(LoadTrace, RunningAllTheTimeTakesMorePowerAndHasNoDips) {
  const Case c = staged_case();
  const LoadRun staged = run_along(c, to_and_fro()), always = run_along(always_on(c), to_and_fro());
  EXPECT_GT(always.mean_electric, staged.mean_electric);
  EXPECT_TRUE(always.dips.empty());
  const HeatOptions how{.duration = 1800, .start_volume = 40e-3};
  EXPECT_GT(run_heat(always_on(c), always, how).rail.back(), run_heat(c, staged, how).rail.back());
}

TEST(LoadTrace, CancelsAndReportsProgress) {
  Progress progress;
  progress.cancel();
  EXPECT_THROW(run_along(staged_case(), to_and_fro(), 100, &progress), Cancelled);
}

// A battery alone: charge falls by load x time.
TEST(Charge, BatteryAloneByHand) {
  Case c = test::plain_case();
  // Of one voltage whatever its charge, so that the load stays.
  c.circuit.charging = {.alternator = "",
                        .battery = 20 * 3600,
                        .full_voltage = 12.8,
                        .flat_voltage = 12.8,
                        .loads = {{"electronics", 15}}};
  const LoadTrace course = to_and_fro();
  const LoadRun lap = run_along(c, course, 5000);
  const ChargeRun charge = run_charge(c, course, lap, 600);
  double pumps = 0, time = 0;
  for (size_t i = 1; i < lap.points.size(); ++i) {
    const double step = lap.points[i].time - lap.points[i - 1].time;
    pumps += step * lap.points[i].current;
    time += step;
  }
  EXPECT_NEAR(charge.mean_load, 15 + pumps / time, 1e-9);
  EXPECT_NEAR(charge.charge.back(), 20 * 3600 - charge.mean_load * charge.time.back(), 0.1);
  c.circuit.charging.battery = 2 * 3600;
  const ChargeRun empty = run_charge(c, course, lap, 3600);
  EXPECT_NEAR(empty.empty_after, 2 * 3600 / empty.mean_load, 5);
}

TEST(Charge, AStrongAlternatorKeepsItFull) {
  Case c = test::plain_case();
  c.circuit.charging = {
      .alternator = "alternator, 100 A class", .ratio = 2.5, .battery = 20 * 3600, .loads = {{"x", 15}}};
  const LoadTrace course = to_and_fro();
  const ChargeRun charge = run_charge(c, course, run_along(c, course), 3600);
  EXPECT_NEAR(charge.charge.back(), 20 * 3600, 1);
  EXPECT_TRUE(std::isinf(charge.empty_after));
}

// What pumps and engine bay give is lost to the air, burnt, or still there.
TEST(Heat, EnergyBalanceInEveryLayout) {
  for (int layout = 0; layout < 4; ++layout) {
    Case c = staged_case();
    c.surroundings.surge = layout < 3;
    c.surroundings.return_to = layout == 0 ? ReturnTo::surge_tank : ReturnTo::main_tank;
    c.circuit.surge_inside = layout != 2;
    if (layout == 3) c.surroundings.pickups = {{"pickup", "engine"}};
    const LoadRun lap = run_along(c, to_and_fro());
    const HeatRun h = run_heat(c, lap, {.duration = 1200, .start_volume = 60e-3});
    EXPECT_NEAR(h.heat_in, h.heat_lost + h.heat_burnt + h.heat_kept, 1e-3 * h.heat_in) << layout;
    EXPECT_GT(h.rail.back(), h.tank.back());
  }
}

// Nothing burnt, no loss to the air: the temperature climbs by P/(rho c V).
TEST(Heat, ClosedTankByHand) {
  Case c = test::plain_case();
  c.surroundings.surge = false;
  c.surroundings.pickups = {{"pickup", "engine"}};
  c.circuit.heat = {.ambient = 293.15, .tank_loss = 0, .surge_loss = 0, .engine_bay = 100};
  LoadTrace idle = to_and_fro();
  for (double& d : idle.demand) d = 0;
  const LoadRun lap = run_along(c, idle);
  const HeatRun h = run_heat(c, lap, {.duration = 1000, .start_volume = 30e-3});
  const double rho_c = fluid::density(c.fuel, 293.15) * 2100;
  EXPECT_NEAR(h.tank.back() - 293.15, (lap.mean_electric + 100) * 1000 / (rho_c * 30e-3), 0.02);
}

// Without a return what the engine bay gives is burnt with the fuel: it warms the rail, not the tank.
TEST(Heat, BayHeatOfALineWithoutReturnLeavesWithWhatIsBurnt) {
  Case c = test::plain_case();
  c.circuit.engine_supply = EngineSupply::returnless;
  c.circuit.heat.engine_bay = 0;
  const LoadRun lap = run_along(c, to_and_fro());
  const HeatOptions how{.duration = 1200, .start_volume = 60e-3};
  const HeatRun cool = run_heat(c, lap, how);
  c.circuit.heat.engine_bay = 400;
  const HeatRun warm = run_heat(c, lap, how);
  EXPECT_NEAR(warm.tank.back(), cool.tank.back(), 1e-9);
  const double rho_c = fluid::density(c.fuel, 293.15) * 2100;
  EXPECT_NEAR(warm.rail.back() - cool.rail.back(), 400 / (rho_c * lap.mean_demand), 0.3);
  EXPECT_NEAR(warm.heat_in, warm.heat_lost + warm.heat_burnt + warm.heat_kept, 1e-3 * warm.heat_in);
}

TEST(Heat, StepDoesNotMatter) {
  const Case c = staged_case();
  const LoadRun lap = run_along(c, to_and_fro());
  const double fine = run_heat(c, lap, {.duration = 1800, .step = 0.5}).rail.back(),
               coarse = run_heat(c, lap, {.duration = 1800, .step = 10}).rail.back();
  EXPECT_NEAR(fine, coarse, 0.2);
}

TEST(Heat, ReturnToTheMainTankKeepsTheSurgeTankCooler) {
  Case c = staged_case();
  const LoadRun lap = run_along(c, to_and_fro());
  // For a few minutes; later the tank as a whole is the warmer, as less heat leaves with what is burnt.
  const HeatOptions how{.duration = 240};
  const double hot = run_heat(c, lap, how).surge.back();
  c.surroundings.return_to = ReturnTo::main_tank;
  EXPECT_LT(run_heat(c, run_along(c, to_and_fro()), how).surge.back(), hot);
}

TEST(Alternator, StraightBetweenItsPoints) {
  const AlternatorType a{{}, {{20, 0}, {40, 30}, {100, 60}}};
  EXPECT_EQ(a.current(10), 0);
  EXPECT_NEAR(a.current(30), 15, 1e-12);
  EXPECT_EQ(a.current(500), 60);
}

}  // namespace
}  // namespace uadze::circuit
