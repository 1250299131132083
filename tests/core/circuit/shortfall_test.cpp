// More is asked for than can come: a state that can be, and what the engine then gets.
#include "core/circuit/shortfall.h"

#include <gtest/gtest.h>

#include <cmath>
#include <random>

#include "core/circuit/analysis.h"
#include "core/circuit/findings.h"
#include "core/circuit/what_if.h"
#include "core/solve/circuit_point.h"
#include "support/circuits.h"
#include "support/demo.h"

namespace uadze::circuit {
namespace {

/// Every figure of a state is one that a gauge could show.
void expect_possible(const Met& met, const Case& c, const std::string& where) {
  const State& s = met.state;
  ASSERT_TRUE(s.solution.converged) << where;
  for (double p : s.solution.pressure) EXPECT_GE(p, 0.0) << where;
  for (const PartState& p : s.parts) {
    EXPECT_GE(p.inlet, 0.0) << where << ", " << p.label;
    EXPECT_GE(p.outlet, 0.0) << where << ", " << p.label;
  }
  EXPECT_LE(s.duty, 1.0 + 1e-6) << where;
  EXPECT_GE(s.rail_difference, -1e-3) << where;
  // No rail is starved whose regulator regulates.
  if (s.regulator.mode == RegulatorMode::regulating) {
    for (const Finding& f : s.findings)
      EXPECT_EQ(f.text.text.find("rail is starved"), std::string::npos)
          << where << ": " << verdict_of(s).in();
  }
  // The injectors' law, made apart from the code: what they pass at this pressure, open for as long as the
  // demand takes at the pressure set, is what is burnt.
  if (met.shortfall && met.shortfall->burnt > 0) {
    const InjectorType& type = *find(c.catalogue->injectors, c.circuit.rail.injector);
    double pass = 0, at_set = 0;
    for (const InjectorState& i : s.injectors) {
      pass += type.flow * std::sqrt(i.difference / type.difference);
      at_set += type.flow * std::sqrt(s.difference_set / type.difference);
    }
    const double open = c.pressure_corrected ? 1.0 : std::min(1.0, c.at.demand / at_set);
    EXPECT_NEAR(open * pass / met.shortfall->burnt, 1.0, 1e-4) << where;
    EXPECT_NEAR(s.duty, open, 1e-4) << where;
  }
}

TEST(Shortfall, IsNoneWhereTheDemandIsMet) {
  const Case c = test::plain_case();
  const Met met = run_met(c);
  EXPECT_FALSE(met.shortfall);
  EXPECT_EQ(met.state.rail_difference, run(c).rail_difference);
}

TEST(Shortfall, OfTheDemosIsAStateThatCanBe) {
  for (const char* name : {"ostrel-p4", "ostrel-tarn", "ostrel-wisp"}) {
    const auto opened = test::demo(name);
    Case c = solve::circuit_case(opened.project.setups[0], opened.sources->catalogue(opened.project));
    if (run(c).injectors.empty()) continue;
    double before = -1;
    for (double factor : {1.5, 2.5, 4.0, 10.0, 100.0}) {
      Case asked = c;
      asked.at.demand *= factor;
      const Met met = run_met(asked);
      const std::string where = std::string(name) + " x " + std::to_string(factor);
      expect_possible(met, asked, where);
      if (!met.shortfall) continue;
      EXPECT_LT(met.shortfall->burnt, asked.at.demand) << where;
      EXPECT_FALSE(met.state.findings.empty()) << where;
      if (met.state.duty < 1 - 1e-9) continue;
      // What is held open all the time gives the same, however much more is asked.
      if (before > 0) {
        EXPECT_NEAR(met.shortfall->burnt / before, 1, 1e-6) << where;
      }
      before = met.shortfall->burnt;
    }
    EXPECT_GT(before, 0) << name << ": a hundredfold is never met";
  }
}

// A pump a third too small: the circuit and the lap tell one mixture, that of the injectors' law at one
// pressure. With the controller's correction the injectors stay open longer, all is burnt, and the rail
// stands lower.
TEST(Shortfall, IsAsLeanAtOneLoadAsAlongTheLap) {
  Case c = test::plain_case();
  c.at.demand = 1.08 * available_flow(c);
  c.circuit.rail.injectors = 12;
  const Met met = run_met(c);
  ASSERT_TRUE(met.shortfall);
  ASSERT_LT(met.state.duty, 0.9) << "the injectors are large enough";
  const double lean = std::sqrt(met.state.difference_set / met.state.rail_difference) - 1;
  EXPECT_GT(lean, 0.03);
  EXPECT_NEAR(met.shortfall->leaner() - 1, lean, 0.003) << "the rail itself loses a little";
  LoadTrace lap;
  lap.time = {0, 1, 2}, lap.demand.assign(3, c.at.demand), lap.throttle.assign(3, 1.0);
  const LoadRun run = run_along(c, lap, 3);
  const auto faults = lap_faults(c, run, LeanLimit{});
  ASSERT_FALSE(faults.empty());
  EXPECT_NEAR(faults[0].leaner(), lean, 1e-4);

  Case corrected = c;
  corrected.pressure_corrected = true;
  const Met kept = run_met(corrected);
  EXPECT_FALSE(kept.shortfall);
  EXPECT_LT(kept.state.rail_difference, met.state.rail_difference);
  EXPECT_GT(kept.state.duty, met.state.duty);
  EXPECT_LT(kept.state.duty, 1.0);
}

TEST(Shortfall, RandomBadDaysLeaveNoImpossibleFigure) {
  std::mt19937 draw(11);
  const auto opened = test::demo("ostrel-p4");
  const Case usual = solve::circuit_case(opened.project.setups[0], opened.sources->catalogue(opened.project));
  const auto between = [&](double a, double b) { return std::uniform_real_distribution<>(a, b)(draw); };
  for (int k = 0; k < 40; ++k) {
    Case c = usual;
    c.pressure_corrected = k % 2 == 1;
    c.at.demand *= between(0.1, 6);
    c.at.supply = between(7, 15);
    c.at.manifold = between(0.3e5, 3e5);
    c.at.filter_load = between(0, 1);
    for (WhatIf what : {WhatIf::main_dead, WhatIf::lift_dead, WhatIf::hot_fuel})
      if (between(0, 1) < 0.3) apply(what, c);
    expect_possible(run_met(c), c, std::to_string(k));
  }
}

TEST(Shortfall, ACarburettorsShortageIsWhatItsCapacitySays) {
  Case c = test::plain_case();
  c.surroundings.surge = false;
  c.surroundings.pickups = {{"pickup", "engine"}};
  c.circuit.engine_supply = EngineSupply::carburettor;
  c.circuit.regulator.type = "";
  c.circuit.back.clear();
  c.circuit.mains[0].parts = {test::pump("engine-driven diaphragm pump, 120 l/h class")};
  c.circuit.carburettor.seat = 0.6e-3;
  const double can = available_flow(c);
  ASSERT_GT(can, 0);
  for (double share : {0.5, 0.98}) {
    c.at.demand = share * can;
    EXPECT_FALSE(run_met(c).shortfall) << share;
  }
  c.at.demand = 2 * can;
  const Met met = run_met(c);
  ASSERT_TRUE(met.shortfall);
  EXPECT_NEAR(met.shortfall->burnt, can, 1e-9);
  // 0.61 A sqrt(2 dp / rho), written out.
  const double area = 3.14159265358979 / 4 * 0.6e-3 * 0.6e-3;
  EXPECT_NEAR(0.61 * area * std::sqrt(2 * met.state.rail_difference / met.state.liquid.density), can,
              0.01 * can);
  const std::string said = met.state.findings.front().text.in();
  EXPECT_NE(said.find("the bowl lasts"), std::string::npos) << said;
  EXPECT_EQ(said.find("injector"), std::string::npos) << said;
}

TEST(Shortfall, ATankWithoutAVentIsShut) {
  Case c = test::plain_case();
  c.circuit.tank_vent = 0;
  const State shut = run(c);
  EXPECT_LT(shut.tank, 0.9 * shut.ambient);
  EXPECT_NE(shut.findings.front().text.in().find("no vent"), std::string::npos);
  c.at.demand = 0;
  EXPECT_NEAR(run(c).tank, shut.ambient, 1) << "nothing leaves, nothing lacks";
}

TEST(Shortfall, WiresAreNotBlamedForVapourAndGaugesCountTheContacts) {
  Case c = test::plain_case();
  c.circuit.mains[0].parts[0].wiring = {
      .feed_area = 0.8e-6, .feed_length = 2, .ground_area = 0.8e-6, .ground_length = 1};
  const State cool = run(c);
  const auto main_of = [](const State& s) {
    for (size_t i = 0; i < s.pumps.size(); ++i)
      if (s.pumps[i].leg.kind == LegKind::main) return i;
    return size_t{0};
  };
  const size_t m = main_of(cool);
  EXPECT_GT(cool.pumps[m].lost_to_wires, 0);
  EXPECT_NEAR(cool.pumps[m].lost_to_wires, cool.pumps[m].flow_unwired - cool.pumps[m].flow,
              0.02 * cool.pumps[m].flow_unwired)
      << "cool, the two are the same";
  c.at.temperature = 273.15 + 75;
  const State hot = run_met(c).state;
  if (hot.pumps[m].on && hot.pumps[m].flow < 0.5 * cool.pumps[m].flow) {
    EXPECT_LT(hot.pumps[m].lost_to_wires, 0.5 * (hot.pumps[m].flow_unwired - hot.pumps[m].flow));
  }
  // Contacts that take the whole wish leave no wire that could mend it.
  Case bad = test::plain_case();
  bad.circuit.mains[0].parts[0].wiring = c.circuit.mains[0].parts[0].wiring;
  bad.circuit.mains[0].parts[0].wiring.extra = 0.5;
  const State s = run(bad);
  EXPECT_FALSE(s.wires[m].advised);
  EXPECT_GT(s.wires[m].beside, bad.circuit.wished_drop);
}

TEST(Shortfall, NothingComesFromADeadPump) {
  Case c = test::plain_case();
  c.at.mains_dead.assign(c.circuit.mains.size(), 1);
  const Met met = run_met(c);
  ASSERT_TRUE(met.shortfall);
  EXPECT_LT(met.shortfall->burnt, 0.5 * met.shortfall->asked);
  bool said = false;
  for (const Finding& f : met.state.findings) said = said || f.severity == Severity::error;
  EXPECT_TRUE(said);
}

// Hot, high, on a weak battery, through bad contacts, asked for anything: what the engine then gets is a
// state.
TEST(Shortfall, AThousandBadDaysAllHaveAState) {
  test::Random r(77);
  for (int k = 0; k < 1000; ++k) {
    Case c = test::random_case(r);
    c.at.temperature = r.uniform(313, 353);
    c.at.altitude = r.uniform(0, 3000);
    c.at.supply = r.uniform(8, 15);
    for (MainLeg& main : c.circuit.mains)
      for (Part& p : main.parts)
        if (p.kind == PartKind::pump) p.wiring.extra = r.uniform(0, 0.5);
    const Met met = run_met(c);
    ASSERT_TRUE(met.state.solution.converged) << k << ": " << met.state.solution.reason;
    if (met.shortfall) {
      EXPECT_LE(met.shortfall->burnt, met.shortfall->asked) << k;
      EXPECT_GE(met.shortfall->burnt, 0) << k;
    }
  }
}

}  // namespace
}  // namespace uadze::circuit
