// Circuits of whole setups: at a point, along a lap, with a measured fuel.
#include "core/solve/circuit_point.h"

#include <gmock/gmock.h>
#include <gtest/gtest.h>

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
