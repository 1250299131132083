// Circuits of whole setups: at a point, along a lap, with a measured fuel.
#include "core/solve/circuit_point.h"

#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include "core/circuit/findings.h"
#include "core/project/catalogue_file.h"
#include "support/box_project.h"
#include "support/demo.h"
#include "support/refusal.h"

namespace uadze::solve {
namespace {

using test::box_project;
using test::least_circuit;
using test::refusal;
using ::testing::HasSubstr;

TEST(CircuitPoint, EveryDemosCircuitRunsWithoutAFault) {
  for (const char* name : {"ostrel-p4", "ostrel-tarn", "ostrel-wisp"}) {
    const auto opened = test::demo(name);
    for (const project::Setup& s : opened.project.setups) {
      ASSERT_TRUE(s.circuit) << s.name;
      const auto catalogue = opened.sources->catalogue(opened.project);
      const circuit::State state = run(circuit_case(s, catalogue));
      EXPECT_TRUE(state.solution.converged) << s.name;
      for (const auto& f : state.findings) EXPECT_NE(f.severity, Severity::error) << f.text.in();
    }
  }
}

/// Demand is air: a fuel that needs less of it is burnt in a larger volume, and so is a warmer one.
TEST(Demand, OfADemoFollowsFuelMixtureAndTemperature) {
  const auto opened = test::demo("ostrel-tarn");
  project::Setup s = opened.project.setups[0];
  const double power = s.engine.power, own = demand_at(s, power);
  constexpr double lh = 1e-3 / 3600;
  EXPECT_NEAR(own / lh, 139.0, 0.1);
  EXPECT_NEAR(demand_at(s, power, 333.15) / lh, 143.7, 0.1) << "at 60 °C";
  EXPECT_NEAR(power_at(s, demand_at(s, power, 333.15), 333.15), power, 1e-6);
  PointOptions hot;
  hot.what_ifs = {circuit::WhatIf::hot_fuel};
  EXPECT_NEAR(circuit_point_case(opened.project, {}, hot, *opened.sources).at.at.demand / lh, 143.7, 0.1);
  const auto with = [&](double ethanol, double methanol) {
    project::Setup other = s;
    other.fuel.ethanol = ethanol, other.fuel.methanol = methanol;
    return demand_at(other, power);
  };
  EXPECT_GT(with(1, 0), own) << "more ethanol, more fuel";
  EXPECT_LT(with(0, 0), own);
  EXPECT_NEAR(with(1, 0) / with(0, 0), 1.53, 0.02) << "half as much again as petrol";
  EXPECT_NEAR(with(0, 1) / with(0, 0), 2.14, 0.03);
  s.engine.lambda = 0.8;
  s.engine.figures_of->lambda = 0.9;
  EXPECT_NEAR(demand_at(s, power) / own, 9.0 / 8, 1e-12) << "a richer map";
}

/// A lap's logged volume likewise; by mass and by power it comes to the same air.
TEST(Demand, OfALapFollowsItToo) {
  const auto opened = test::demo("ostrel-tarn");
  project::Setup s = opened.project.setups[0];
  lap::Lap lap = opened.sources->laps.get(opened.project.laps[0])->value;
  const auto litres = [&](const project::Setup& setup, const lap::Lap& of) {
    const auto car = compile(setup, *opened.sources);
    return starvation::consumption_per_lap(engine_demand(car, of), of);
  };
  lap::Lap by_mass = lap;
  const double figure = fluid::density(figure_mixture(s).fuel);
  for (double q : lap.fuel_flow) by_mass.fuel_mass_flow.push_back(q * figure);
  by_mass.fuel_flow.clear();
  for (const auto& [ethanol, celsius] : {std::pair{0.8, 28.0}, {0.0, 28.0}, {1.0, 50.0}}) {
    project::Setup now = s;
    now.fuel.ethanol = ethanol;
    now.engine.figures_of->temperature = 301.15;
    now = conditioned(now, {.grip = 1.0, .temperature = celsius + 273.15});
    const double k = fluid::demand_ratio(figure_mixture(now), mixture_of(now));
    EXPECT_NEAR(litres(now, lap), k * litres(s, lap), 1e-9) << ethanol;
    EXPECT_NEAR(litres(now, by_mass), litres(now, lap), 1e-9) << ethanol;
  }
}

TEST(Demand, AnEditOfTheFuelKeepsWhatTheFiguresAreOf) {
  project::Project before;
  before.setups.push_back({.name = "one"});
  before.setups[0].fuel.ethanol = 0.1;
  project::Project after = before;
  after.setups[0].fuel.temperature += 5;
  keep_figures(before, after);
  EXPECT_FALSE(after.setups[0].engine.figures_of) << "a warmer day is no other fuel";
  after.setups[0].fuel.ethanol = 1.0;
  keep_figures(before, after);
  ASSERT_TRUE(after.setups[0].engine.figures_of);
  EXPECT_EQ(after.setups[0].engine.figures_of->ethanol, 0.1);
  EXPECT_GT(demand_factor(after.setups[0]), 1.3);
  project::Project own = after;
  own.setups[0].engine.figures_of.reset();
  keep_figures(after, own);
  EXPECT_FALSE(own.setups[0].engine.figures_of) << "taken out by hand";
}

/// A petrol's grams per kilowatt hour with an alcohol's heating value are an engine that nobody has.
TEST(Demand, AnImpossibleEfficiencyIsSaid) {
  project::Project p = test::demo("ostrel-tarn").project;
  EXPECT_EQ(text_of(project::check_values(p, "p")), "");
  auto& engine = p.setups[0].engine;
  engine.consumption = 270e-3 / 3.6e6;
  engine.figures_of->ethanol = 1.0;
  EXPECT_THAT(text_of(project::check_values(p, "p")),
              HasSubstr("/setups/0/engine/consumption_g_kwh: expected 320 g/kWh or more"));
  engine.figures_of->ethanol = 0.0;
  EXPECT_EQ(text_of(project::check_values(p, "p")), "") << "of petrol it is a good engine";
  p.setups[0].fuel.methanol = 0.3;
  EXPECT_THAT(text_of(project::check_values(p, "p")),
              HasSubstr("/setups/0/fuel/methanol_percent: expected at most the 20 %"));
}

TEST(Setup, AMeasuredContentMovesFuelAndDemand) {
  project::Setup s;
  s.fuel.ethanol = 0.85;
  s.engine.power = 200e3;
  s.engine.consumption = 430e-3 / 3.6e6;
  const double before = demand_at(s, s.engine.power);
  s.tube = fluid::WaterShift{10e-6, 90e-6, 10e-6 + 0.58 * 90e-6};
  EXPECT_NEAR(fuel_of(s).ethanol, 0.60, 1e-12);
  EXPECT_LT(demand_at(s, s.engine.power), before) << "less ethanol needs less volume";
  EXPECT_NEAR(demand_at(s, s.engine.power) / before, demand_factor(s), 1e-12);
  EXPECT_NEAR(power_at(s, demand_at(s, 123e3)), 123e3, 1e-6);
}

TEST(CircuitPoint, DepthOverThePickupsCountsAndASetupWithoutCircuitIsSaid) {
  const auto opened = test::demo("ostrel-p4");
  const auto catalogue = opened.sources->catalogue(opened.project);
  const project::Setup& s = opened.project.setups[0];
  const auto tank = opened.sources->tanks.assembled(s.tank);
  circuit::Case c = circuit_case(s, catalogue);
  place_level(c, s, tank->tank, 20e-3);
  ASSERT_EQ(c.at.pickup_depth.size(), 2u);
  EXPECT_GT(c.at.pickup_depth[0], 0.01);
  const double low = run(c).pumps[0].inlet;
  place_level(c, s, tank->tank, 40e-3);
  EXPECT_GT(run(c).pumps[0].inlet, low);
  project::Setup bare = s;
  bare.circuit.reset();
  EXPECT_THAT(refusal([&] { circuit_case(bare, catalogue); }), HasSubstr("a circuit in this setup"));
}

TEST(CircuitPoint, ABarePickupStarvesItsPump) {
  const auto tarn = test::demo("ostrel-tarn"), wisp = test::demo("ostrel-wisp");
  const CircuitPoint empty = circuit_point(tarn.project, {}, {.level = 0.0}, *tarn.sources);
  EXPECT_EQ(empty.bare.size(), 2u);
  EXPECT_NEAR(empty.state.surge.lift, 0, 1e-9);
  // Braking at 5 g presses along the lift lines, but there is no fuel in them to press on.
  const CircuitPoint braking = circuit_point(
      tarn.project, {}, {.level = 0.0, .acceleration = Vec3(-5 * standard_gravity, 0, 0)}, *tarn.sources);
  EXPECT_NEAR(braking.state.surge.lift, 0, 1e-9);
  EXPECT_NEAR(braking.state.surge.draining, braking.state.surge.drawn - braking.state.surge.back, 1e-9);
  for (const circuit::PumpState& pump : braking.state.pumps)
    if (pump.leg.kind == circuit::LegKind::lift) {
      EXPECT_TRUE(pump.on && pump.dry) << pump.name << " turns, and on gas";
    }
  for (const circuit::Finding& f : braking.state.findings)
    EXPECT_THAT(f.text.text, testing::Not(HasSubstr("moves nothing"))) << "what it lacks is said already";
  EXPECT_THAT(circuit::verdict_of(empty.state).in(), HasSubstr("No fuel at left side, right side"));
  const CircuitPoint none = circuit_point(wisp.project, {}, {.level = 0.0}, *wisp.sources);
  ASSERT_TRUE(none.shortfall);
  EXPECT_EQ(none.shortfall->burnt, 0.0);
  EXPECT_TRUE(none.state.solution.converged);
  EXPECT_THAT(circuit::verdict_of(none.state).in(), HasSubstr("gas reaches the main pump"));
  EXPECT_TRUE(circuit_point(wisp.project, {}, {.level = 8e-3}, *wisp.sources).bare.empty());
  EXPECT_THAT(refusal([&] { circuit_point(wisp.project, {}, {.level = 0.5}, *wisp.sources); }),
              HasSubstr("what the tank holds"));
}

TEST(CircuitPoint, ManifoldAndThrottleFollowThePowerUntilTheyAreGiven) {
  const auto opened = test::demo("ostrel-tarn");
  const project::Setup& s = opened.project.setups[0];
  const auto at = [&](const PointOptions& o) {
    return circuit_point_case(opened.project, {}, o, *opened.sources);
  };
  EXPECT_EQ(at({}).at.at.manifold, s.circuit->full_manifold);
  EXPECT_EQ(at({.power = 0.0}).at.at.manifold, s.circuit->idle_manifold);
  EXPECT_NEAR(at({.power = 0.5 * s.engine.power}).at.at.manifold,
              (s.circuit->idle_manifold + s.circuit->full_manifold) / 2, 1e-6);
  const CircuitPoint held = at({.power = 0.0, .manifold = 1.2e5});
  EXPECT_EQ(held.at.at.manifold, 1.2e5);
  EXPECT_FALSE(held.manifold_follows);
  // Over a sweep the same, point by point.
  const std::vector<double> powers{0, 100e3, s.engine.power};
  const auto points = power_sweep(s, at({}).at, powers);
  for (size_t i = 0; i < powers.size(); ++i) {
    const CircuitPoint one = circuit_point(opened.project, {}, {.power = powers[i]}, *opened.sources);
    EXPECT_NEAR(points[i].difference, one.state.rail_difference, 1.0) << powers[i];
  }
  EXPECT_NE(power_sweep(s, held.at, powers, false)[0].difference, points[0].difference);
}

TEST(CircuitPoint, ThinAirLowersTheManifoldOfAnEngineWithoutBoostOnly) {
  // The standard atmosphere at 2000 m: 79.5 kPa (ICAO).
  circuit::Circuit c;
  c.idle_manifold = 40e3, c.full_manifold = 100e3;
  EXPECT_NEAR(circuit::manifold_at(c, 1.0, 2000), 100e3 * 79495 / 101325, 60);
  c.full_manifold = 180e3;
  EXPECT_EQ(circuit::manifold_at(c, 1.0, 2000), 180e3);
}

TEST(CircuitPoint, TheLeastCircuitRuns) {
  const project::Project p = project::parse_project(box_project(least_circuit), "box.json").value;
  const circuit::State s = run(circuit_case(p.setups[0], project::shipped_catalogue()));
  EXPECT_TRUE(s.solution.converged);
  EXPECT_EQ(s.regulator.mode, circuit::RegulatorMode::regulating);
  EXPECT_NEAR(s.rail_difference, 3e5, 0.3e5);
}

TEST(Setup, TheLapsCourseFollowsItsChannels) {
  const auto opened = test::demo("ostrel-wisp");
  const starvation::FuelSystem car = compile(opened.project.setups[0], *opened.sources, nullptr, false);
  lap::Lap lap;
  for (int i = 0; i < 5; ++i) {
    lap.time.push_back(i * 0.1);
    lap.distance.push_back(i);
    lap.lateral.push_back(i), lap.longitudinal.push_back(2 * i), lap.vertical.push_back(9.8);
    lap.fuel_flow.push_back(i * 1e-5);
  }
  const circuit::LoadTrace course = starvation::load_trace(lap, starvation::engine_demand(car, lap));
  EXPECT_EQ(course.force[3], Vec3(-6, -3, -9.8));
  ASSERT_EQ(course.throttle.size(), 5u) << "without a throttle channel it follows the demand";
  EXPECT_NEAR(course.throttle[4], 1.0, 1e-12);
  EXPECT_LT(course.throttle[1], 0.3);
}

}  // namespace
}  // namespace uadze::solve
