#include "core/circuit/circuit.h"
#include "core/circuit/build.h"
#include "core/circuit/shortfall.h"

#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>

#include "core/circuit/analysis.h"
#include "core/circuit/findings.h"
#include "core/circuit/what_if.h"
#include "core/project/places.h"
#include "support/circuits.h"

namespace uadze::circuit {
namespace {

using test::fitting;
using test::line;
using test::litre_per_hour;
using test::of_type;
using test::plain_case;
using test::pump;
using ::testing::HasSubstr;

std::string all_text(const State& s) {
  std::string out;
  for (const auto& f : s.findings) out += f.text.in() + "\n";
  return out;
}

TEST(Circuit, RandomOnesConvergeFromColdAndBalance) {
  test::Random random(21);
  int steady = 0;
  for (int k = 0; k < 600; ++k) {
    const Case c = test::random_case(random);
    ASSERT_TRUE(circuit_faults(c.circuit, c.surroundings, *c.catalogue).empty()) << k;
    const State s = run(c);
    ASSERT_TRUE(s.solution.converged) << k << ": " << s.solution.reason;
    ++steady;
    EXPECT_LT(s.solution.balance, 1e-11);
    // The engine gets what it burns, the rest goes back through the regulator.
    const double back = s.regulator.mode == RegulatorMode::none ? 0.0 : s.regulator.flow;
    if (s.rail_difference > 0) {
      EXPECT_NEAR(s.delivered, c.at.demand + back, 1e-8);
    }
    for (const PumpState& p : s.pumps)
      if (p.on && p.inlet_margin > p.margin_needed && p.flow > 0) {
        // Pulses meet the wires for their share of the time: the battery's current is less by as much.
        const double ohm = s.wires[static_cast<size_t>(&p - s.pumps.data())].resistance;
        EXPECT_NEAR(p.voltage + p.battery * ohm, p.share * p.supply, 1e-6);
      }
    for (const PartState& p : s.parts) EXPECT_TRUE(std::isfinite(p.inlet) && std::isfinite(p.loss)) << k;
  }
  EXPECT_EQ(steady, 600);
}

TEST(Circuit, MassBalanceOfTheSurgeTank) {
  const State s = run(plain_case());
  ASSERT_TRUE(s.solution.converged);
  EXPECT_NEAR(s.surge.lift + s.surge.back, s.surge.drawn + s.surge.overflow, 1e-11);
  EXPECT_EQ(s.surge.draining, 0);
  EXPECT_TRUE(std::isinf(s.surge.lasts));
}

TEST(Circuit, AThirstyEngineEmptiesTheSurgeTank) {
  Case c = plain_case();
  c.at.demand = 230 * litre_per_hour;
  const State s = run(c);
  EXPECT_NEAR(s.surge.draining, s.surge.drawn - s.surge.lift - s.surge.back, 1e-11);
  EXPECT_GT(s.surge.draining, 0);
  EXPECT_NEAR(s.surge.lasts, 1e-3 / s.surge.draining, 1e-9);
  EXPECT_THAT(all_text(s), HasSubstr("surge tank empties"));
}

// The return-restriction effect: over its setting at low demand, down to it as demand grows; winding the
// regulator down does not help.
TEST(Circuit, ASmallReturnBecomesTheRegulator) {
  Case c = plain_case();
  for (Part& p : c.circuit.back) p.bore = 3.0e-3;
  c.at.manifold = 101325;
  c.at.demand = 0;
  const State idle = run(c);
  EXPECT_EQ(idle.regulator.mode, RegulatorMode::overwhelmed);
  EXPECT_GT(idle.regulator.pressure, idle.regulator.set + 0.5e5);
  EXPECT_NEAR(idle.regulator.pressure, idle.regulator.floor, 20);
  EXPECT_THAT(all_text(idle), HasSubstr("Winding the regulator down does not help"));
  c.circuit.regulator.base = 2e5;
  EXPECT_NEAR(run(c).regulator.pressure, idle.regulator.pressure, 20);
  c.circuit.regulator.base = 3e5;
  double before = 1e9;
  for (double demand = 0; demand <= 260; demand += 20) {
    c.at.demand = demand * litre_per_hour;
    const State s = run(c);
    EXPECT_LT(s.regulator.pressure, before);
    before = s.regulator.pressure;
  }
  c.at.demand = 200 * litre_per_hour;
  const State busy = run(c);
  EXPECT_EQ(busy.regulator.mode, RegulatorMode::regulating);
  EXPECT_LT(busy.regulator.pressure, busy.regulator.set + 0.1e5);
}

TEST(Circuit, ATeedReturnLoadsTheOverflow) {
  Case apart = plain_case();
  apart.surroundings.return_to = ReturnTo::main_tank;
  Case teed = plain_case();
  teed.surroundings.return_to = ReturnTo::overflow_tee;
  teed.circuit.tee = {line(4, 0.8), fitting(FittingForm::bend_90, 2), fitting(FittingForm::exit)};
  for (Case* c : {&apart, &teed}) {
    c->at.demand = 20 * litre_per_hour;
    // Three lift pumps' worth, so that something overflows although all of the main flow is lifted.
    for (int k = 0; k < 2; ++k) {
      c->circuit.lifts.push_back(c->circuit.lifts[0]);
      c->circuit.lifts.back().pump += std::to_string(k);
      c->surroundings.pickups.push_back({"more" + std::to_string(k), c->circuit.lifts.back().pump});
    }
  }
  EXPECT_GT(run(teed).surge.pressure, run(apart).surge.pressure + 2e3);
}

TEST(Circuit, InjectorsFollowTheRootOfThePressure) {
  Case c = plain_case();
  const State low = run(c);
  c.circuit.regulator.base = 4e5;
  const State high = run(c);
  EXPECT_NEAR(low.duty / high.duty, std::sqrt(high.rail_difference / low.rail_difference), 5e-3);
  // By hand: duty = Q / (n q0 sqrt(dp/3 bar)).
  EXPECT_NEAR(low.duty, c.at.demand / (4 * 52 * litre_per_hour * std::sqrt(low.rail_difference / 3e5)), 2e-3);
  double sum = 0;
  for (const auto& i : low.injectors) sum += i.flow;
  EXPECT_NEAR(sum, c.at.demand, 1e-12);
}

TEST(Circuit, AThinRailStarvesItsFarInjectorAndFeedingBothEndsHelps) {
  Case c = plain_case();
  c.circuit.rail.bore = 4e-3;
  c.circuit.rail.length = 0.6;
  const State through = run(c);
  EXPECT_EQ(through.leanest, 3);
  EXPECT_GT(through.injectors[0].pressure, through.injectors[3].pressure + 100);
  c.circuit.rail.entry = RailEntry::both_ends;
  const State both = run(c);
  const auto spread = [](const State& s) {
    double low = 1e9, high = 0;
    for (const auto& i : s.injectors) low = std::min(low, i.pressure), high = std::max(high, i.pressure);
    return high - low;
  };
  EXPECT_LT(spread(both), spread(through));
}

TEST(Circuit, AccelerationPressesAlongTheRun) {
  Case c = plain_case();
  c.circuit.feed = {line(8, 2.0, {-2.0, 0, 0})};
  const State still = run(c);
  c.at.force = Vec3(-15, 0, -standard_gravity);  // the car speeds up: fuel is pressed backward
  const State launch = run(c);
  const auto gain = [](const State& s) {
    for (const auto& p : s.parts)
      if (p.leg.kind == LegKind::feed) return p.outlet - p.inlet + p.loss;
    return 0.0;
  };
  EXPECT_NEAR(gain(still), 0, 1e-9);
  EXPECT_NEAR(gain(launch), launch.liquid.density * 15 * 2.0, 1e-6);
}

TEST(Circuit, AvailableFlowIsWhereTheRegulatorJustShuts) {
  test::Random random(5);
  for (int k = 0; k < 60; ++k) {
    Case c = test::random_case(random);
    if (c.circuit.engine_supply == EngineSupply::high_pressure ||
        c.circuit.engine_supply == EngineSupply::returnless)
      c.circuit.engine_supply = EngineSupply::returned;
    const double most = available_flow(c);
    if (most < 5 * litre_per_hour) continue;
    c.at.demand = 0.99 * most;
    if (c.circuit.regulator.kind == RegulatorKind::bypass) {
      EXPECT_GE(run(c).regulator.pressure, run(c).regulator.set - 50) << k;
    }
    EXPECT_EQ(run(c).regulator.mode, RegulatorMode::regulating) << k;
    c.at.demand = 1.01 * most;
    EXPECT_EQ(run(c).regulator.mode, RegulatorMode::starved) << k;
  }
}

TEST(Circuit, AReturnlessSystemsFeedCostsWhatItsLineTakes) {
  Case c = plain_case();
  c.circuit.engine_supply = EngineSupply::returnless;
  const double near = available_flow(c);
  c.circuit.feed.push_back(test::line(4, 3));
  const double far = available_flow(c);
  EXPECT_LT(far, 0.95 * near) << "what counts is what arrives at the rail";
  const Capacity can = capacity(c);
  EXPECT_TRUE(std::any_of(can.costs.begin(), can.costs.end(),
                          [](const PartCost& p) { return p.leg.kind == LegKind::feed; }));
}

TEST(Circuit, MoreVoltageOrThickerWireNeverGivesLess) {
  Case c = plain_case();
  Wiring& w = c.circuit.mains[0].parts[0].wiring;
  w = {gauge_area(16), 4.0, gauge_area(16), 1.0, 4, "relay, 30 A", "fuse, 20 A", 0};
  const double thin = available_flow(c);
  w.feed_area = w.ground_area = gauge_area(10);
  const double thick = available_flow(c);
  EXPECT_GT(thick, thin);
  c.at.supply = 12.0;
  EXPECT_LT(available_flow(c), thick);
}

TEST(Circuit, WiresFusesAndRelaysAreJudged) {
  Case c = plain_case();
  c.circuit.mains[0].parts[0].wiring = {gauge_area(18), 5.0, gauge_area(18), 1.0, 4, "relay, 20 A",
                                        "fuse, 10 A",   0};
  const std::string said = all_text(run(c));
  EXPECT_THAT(said, HasSubstr("6 A/mm2"));
  EXPECT_THAT(said, HasSubstr("The wires of main take"));
  EXPECT_THAT(said, HasSubstr("The fuse of main"));
}

TEST(Circuit, HotHighAndThroughAThinSuctionItCavitates) {
  Case c = plain_case();
  c.surroundings.surge = false;
  c.surroundings.pickups = {{"pickup", "engine"}};
  c.circuit.suctions = {{"pickup", {line(8, 1.0)}}};
  const double easy = run(c).pumps[0].inlet_margin;
  Case thin = c;
  thin.circuit.suctions[0].parts[0].dash = 4;
  EXPECT_LT(run(thin).pumps[0].inlet_margin, easy - 5e3);
  Case high = c;
  high.at.altitude = 2500;
  EXPECT_NEAR(run(high).pumps[0].inlet_margin - easy, ambient_pressure(2500) - ambient_pressure(0), 300);
  Case hot = c;
  hot.at.temperature = 330;
  EXPECT_THAT(all_text(run(hot)), HasSubstr("boils"));
  Case vent = c;
  vent.circuit.tank_vent = 0.4e-3;
  EXPECT_LT(run(vent).tank, run(c).tank - 1e3);
  EXPECT_THAT(all_text(run(vent)), HasSubstr("vent lets too little air in"));
}

TEST(Circuit, ABlockedVentThinsTheGasIsothermally) {
  Case c = plain_case();
  c.at.vent_blocked_for = 300;
  c.at.level = 0.6;
  const State s = run(c);
  const double gas = 50e-3 * 0.4, drawn = c.at.demand * 300;
  EXPECT_NEAR(s.tank - s.liquid.vapour_pressure, (s.ambient - s.liquid.vapour_pressure) * gas / (gas + drawn),
              1e-6);
}

TEST(Circuit, HighPressureAndCarburettorFeedsHaveTheirOwnLimits) {
  Case c = plain_case();
  c.circuit.engine_supply = EngineSupply::high_pressure;
  c.circuit.high_pressure.least_inlet = 3.5e5;
  c.circuit.regulator.base = 4e5;
  c.circuit.regulator.referenced = false;
  EXPECT_GT(run(c).rail_difference, 3.5e5);
  c.at.demand = 400 * litre_per_hour;
  EXPECT_THAT(all_text(run(c)), HasSubstr("it needs 3.50 bar"));

  Case carb = plain_case();
  carb.surroundings.surge = false;
  carb.surroundings.pickups = {{"pickup", "engine"}};
  carb.circuit.engine_supply = EngineSupply::carburettor;
  carb.circuit.regulator.type = "";
  carb.circuit.back.clear();
  carb.circuit.mains[0].parts = {pump("engine-driven diaphragm pump, 120 l/h class")};
  carb.at.demand = 30 * litre_per_hour;
  EXPECT_TRUE(run(carb).findings.empty()) << all_text(run(carb));
  const double most = available_flow(carb);
  EXPECT_GT(most, 40 * litre_per_hour);
  carb.at.rotation = 8;
  EXPECT_LT(available_flow(carb), most) << "a slow engine drives its pump slowly";
  carb.circuit.carburettor.seat = 0.6e-3;
  EXPECT_THAT(all_text(run_met(carb).state), HasSubstr("the bowl lasts"));
}

TEST(Circuit, TransferByJetAndByBalanceLine) {
  Case c = plain_case();
  c.circuit.transfer.kind = TransferKind::jet;
  EXPECT_THROW(run(c), InputError) << "the return's one discharge ends in the surge tank";
  c.surroundings.return_to = ReturnTo::main_tank;
  Case without = c;
  without.circuit.transfer.kind = TransferKind::none;
  without.at.demand = c.at.demand = 20 * litre_per_hour;
  c.circuit.transfer.parts = {line(8, 0.8)};
  const State s = run(c);
  EXPECT_GT(s.transfer, 20 * litre_per_hour);
  EXPECT_GT(s.regulator.floor, run(without).regulator.floor + 1e4) << "the nozzle loads the return";
  c.circuit.transfer.kind = TransferKind::balance_line;
  c.circuit.transfer.parts = {line(10, 0.8, {0, 0.7, 0})};
  c.at.force = Vec3(0, 12, -standard_gravity);
  const double left = run(c).transfer;
  c.at.force = Vec3(0, -12, -standard_gravity);
  EXPECT_GT(left, 0);
  EXPECT_NEAR(run(c).transfer, -left, 1e-9);
}

TEST(Circuit, EveryWhatIfChangesThingsForTheWorse) {
  const Case good = plain_case();
  const double most = available_flow(good);
  for (size_t k = 0; k < what_ifs().size(); ++k) {
    Case c = good;
    ASSERT_TRUE(apply(static_cast<WhatIf>(k), c)) << what_ifs()[k].name;
    EXPECT_LE(available_flow(c), most * (1 + 1e-4)) << what_ifs()[k].name;
    EXPECT_EQ(find_what_if(what_ifs()[k].name), static_cast<WhatIf>(k));
  }
  EXPECT_FALSE(find_what_if("sunshine"));
  Case no_surge = good;
  no_surge.surroundings.surge = false;
  EXPECT_FALSE(apply(WhatIf::lift_dead, no_surge));
}

TEST(Circuit, CautionsStandAtTheirParts) {
  Case c = plain_case();
  c.fuel.ethanol = 0.8;
  c.circuit.feed[0].type = "rubber, braided";
  c.circuit.feed[0].in_cabin = true;
  c.circuit.lifts[0].parts[2].type = "rubber, braided";
  c.circuit.lifts[0].parts[2].in_fuel = true;
  c.circuit.feed[1].type = "paper filter, 10 micron";
  c.circuit.return_above_fuel = true;
  c.circuit.surge_inside = false;
  std::string said;
  for (const auto& f : find_cautions(c)) said += f.text.in() + "\n";
  for (const char* part : {"alcohol", "cabin", "not rated to lie in fuel", "paper filter", "foams",
                           "not fused", "exposed in a crash"})
    EXPECT_THAT(said, HasSubstr(part));
}

TEST(Circuit, FaultsNameTheirPlace) {
  const auto fault = [](const std::function<void(Case&)>& spoil) {
    Case c = plain_case();
    spoil(c);
    const Messages m = project::places_in(c.circuit, "/circuit")
                           .messages(circuit_faults(c.circuit, c.surroundings, *c.catalogue), "");
    return m.empty() ? std::string("none") : m.front().text();
  };
  EXPECT_EQ(fault([](Case&) {}), "none");
  EXPECT_THAT(fault([](Case& c) { c.circuit.feed[0].type = "garden hose"; }),
              HasSubstr("/circuit/feed/0/hose: expected a type of the catalogue"));
  EXPECT_THAT(fault([](Case& c) { c.circuit.feed[0].dash = 7; }), HasSubstr("/circuit/feed/0/dash"));
  EXPECT_THAT(fault([](Case& c) { c.circuit.feed[0].length = 0; }), HasSubstr("length_mm: expected above 0"));
  EXPECT_THAT(fault([](Case& c) { c.circuit.feed[0].run = Vec3(9, 0, 0); }),
              HasSubstr("not longer than the line"));
  EXPECT_THAT(fault([](Case& c) { c.circuit.feed = {fitting(FittingForm::bend_90)}; }),
              HasSubstr("a bore above 0"));
  EXPECT_THAT(fault([](Case& c) { c.circuit.mains.clear(); }), HasSubstr("nothing feeds the engine"));
  EXPECT_THAT(fault([](Case& c) { c.circuit.mains[0].parts.clear(); }), HasSubstr("a pump in the main leg"));
  EXPECT_THAT(fault([](Case& c) { c.circuit.overflow.clear(); }), HasSubstr("the loop can not close"));
  EXPECT_THAT(fault([](Case& c) { c.surroundings.return_to = ReturnTo::overflow_tee; }),
              HasSubstr("/circuit/tee"));
  EXPECT_THAT(fault([](Case& c) { c.circuit.lifts[0].pump = "nobody"; }), HasSubstr("/circuit/lifts/0/pump"));
  EXPECT_THAT(fault([](Case& c) { c.circuit.lifts.clear(); }), HasSubstr("fills the surge tank"));
  EXPECT_THAT(fault([](Case& c) { c.circuit.regulator.type = "x"; }), HasSubstr("/circuit/regulator/type"));
  EXPECT_THAT(fault([](Case& c) { c.circuit.rail.bore = 0; }), HasSubstr("/circuit/rail/bore_mm"));
  EXPECT_THAT(fault([](Case& c) {
                c.circuit.mains[0].stage = {StageBy::throttle, 0.4, 0.6};
              }),
              HasSubstr("off not above on"));
  Case broken = plain_case();
  broken.circuit.mains.clear();
  EXPECT_THROW(run(broken), InputError);
}

/// A passive part more never brings more, wherever it goes; a wider line never less.
TEST(Circuit, PartsOnlyCost) {
  test::Random random(17);
  for (int k = 0; k < 60; ++k) {
    Case c = test::random_case(random);
    const double before = available_flow(c);
    Case more = c;
    Leg& leg = random.whole(0, 1) ? more.circuit.feed
                                  : more.circuit
                                        .mains[static_cast<size_t>(
                                            random.whole(0, static_cast<int>(more.circuit.mains.size()) - 1))]
                                        .parts;
    Part added = fitting(FittingForm::bend_90);
    added.bore = random.uniform(4e-3, 12e-3);
    leg.insert(leg.begin() + random.whole(0, static_cast<int>(leg.size())), added);
    EXPECT_LE(available_flow(more), before * (1 + 1e-4) + 1e-9) << k;
    Case wider = c;
    wider.circuit.feed[0].bore = 30e-3;
    EXPECT_GE(available_flow(wider), before * (1 - 1e-4) - 1e-9) << k;
  }
}

TEST(Circuit, EveryWhatIfOnRandomCircuitsHasAState) {
  test::Random random(29);
  for (int k = 0; k < 80; ++k) {
    Case c = test::random_case(random);
    for (size_t w = 0; w < what_ifs().size(); ++w)
      if (random.whole(0, 2) == 0) apply(static_cast<WhatIf>(w), c);
    ASSERT_TRUE(circuit_faults(c.circuit, c.surroundings, *c.catalogue).empty()) << k;
    const State s = run(c);
    EXPECT_TRUE(s.solution.converged) << k << ": " << s.solution.reason;
    for (const PumpState& p : s.pumps) EXPECT_TRUE(std::isfinite(p.flow) && std::isfinite(p.current));
  }
}

TEST(Circuit, TheSameCaseGivesTheSameDigits) {
  test::Random random(31);
  const Case c = test::random_case(random);
  const State a = run(c), b = run(c);
  EXPECT_EQ(a.solution.flow, b.solution.flow);
  EXPECT_EQ(a.solution.pressure, b.solution.pressure);
  EXPECT_EQ(available_flow(c), available_flow(c));
}

TEST(Circuit, AStoppedCircuitHoldsNoPressure) {
  Case c = plain_case();
  c.at.demand = 0;
  c.at.supply = 0.0;
  const State s = run(c);
  ASSERT_TRUE(s.solution.converged);
  EXPECT_NEAR(s.regulator.pressure, s.ambient, 2e3);
  EXPECT_EQ(s.regulator.mode, RegulatorMode::starved);
}

TEST(Circuit, MoreThanCanFlowIsSaidAndNoPressureIsInvented) {
  Case c = plain_case();
  c.at.demand = 3000 * litre_per_hour;
  const State s = run(c);
  EXPECT_THAT(verdict_of(s).in(), HasSubstr("can not bring 3000 L/h"));
  EXPECT_GE(s.rail, 0);
  EXPECT_LE(s.rail_difference, 0);
}

TEST(Circuit, AReferenceHoseOffKeepsTheGaugeStill) {
  Case c = plain_case();
  c.circuit.regulator.referenced = false;
  c.at.manifold = 40e3;
  const State low = run(c);
  c.at.manifold = 180e3;
  const State high = run(c);
  EXPECT_NEAR(low.regulator.pressure, high.regulator.pressure, 1);
  EXPECT_NEAR(low.rail_difference - high.rail_difference, 140e3, 50);
}

TEST(Circuit, DepthOverThePickupPressesIn) {
  Case c = plain_case();
  const double bare = run(c).pumps[0].inlet;
  c.at.pickup_depth = {0.2};
  const State deep = run(c);
  EXPECT_NEAR(deep.pumps[0].inlet - bare, deep.liquid.density * standard_gravity * 0.2, 40);
}

// The gauge reads the base when it is set, with the return flowing; the spring is softer by slope x flow.
TEST(Circuit, BaseIsWhatTheGaugeReadsWithTheReturnFlowing) {
  Case c = test::plain_case();
  c.circuit.regulator.type = "regulator, small";
  c.circuit.back = {test::line(10, 1.0), test::fitting(FittingForm::exit)};
  c.at.demand = 0;
  c.at.manifold = 101325;
  const State idle = run(c);
  EXPECT_NEAR(idle.regulator.pressure - 101325, c.circuit.regulator.base, 500);
  const double slope = 9e3 / (100 * litre_per_hour);
  EXPECT_NEAR(idle.regulator.wished - idle.regulator.set, slope * idle.regulator.flow, 500);
  c.at.demand = 200 * litre_per_hour;
  const State load = run(c);
  EXPECT_NEAR(load.rail_difference,
              c.circuit.regulator.base - slope * (idle.regulator.flow - load.regulator.flow), 3e3)
      << "less goes back, so it holds less";
  // A return that holds more by itself: the screw does nothing, the spring is taken at the base.
  c.circuit.back = {test::line(4, 8.0)};
  EXPECT_NEAR(regulator_spring(c), c.circuit.regulator.base, 1e-6);
}

// Two unequal ways: flows by hand, q1/q2 = sqrt(k2/k1), and the same loss.
TEST(Circuit, UnequalWaysShareTheFlowByTheirLosses) {
  Case c = test::plain_case();
  Part a{.kind = PartKind::restriction}, b = a;
  a.bore = 5e-3, b.bore = 3e-3, a.way = 1, b.way = 2;
  c.circuit.feed = {test::line(8, 1.0), a, b, test::line(8, 0.5)};
  const State s = run(c);
  ASSERT_TRUE(s.solution.converged);
  const auto part = [&](int i) {
    for (const PartState& p : s.parts)
      if (p.leg.kind == LegKind::feed && p.part == i) return p;
    return PartState{};
  };
  EXPECT_NEAR(part(1).flow + part(2).flow, part(0).flow, 1e-10);
  EXPECT_NEAR(part(1).flow / part(2).flow, 25.0 / 9, 1e-3);
  EXPECT_NEAR(part(1).loss, part(2).loss, 1.0);
  EXPECT_NEAR(part(3).inlet, part(1).outlet, 1.0);
}

TEST(Circuit, TwoRailsSideBySideAreAlikeAndASeriesIsOneLongRail) {
  Case c = test::plain_case();
  c.at.demand = 180 * litre_per_hour;
  Rail& r = c.circuit.rail;
  r.injectors = 8, r.length = 0.3, r.bore = 8e-3, r.crossover_bore = 8e-3, r.crossover_length = 0.4;
  r.rails = Rails::side_by_side;
  for (const RailEntry entry : {RailEntry::through, RailEntry::dead_end}) {
    r.entry = entry;
    const State s = run(c);
    ASSERT_TRUE(s.solution.converged);
    for (size_t i = 0; i < 4; ++i)
      EXPECT_NEAR(s.injectors[i].pressure, s.injectors[i + 4].pressure, 1.0) << "by symmetry";
  }
  r.entry = RailEntry::through;
  const double beside = run(c).rail_difference;
  r.rails = Rails::in_series;
  const State series = run(c);
  for (size_t i = 0; i + 1 < 8; ++i)
    EXPECT_GT(series.injectors[i].pressure, series.injectors[i + 1].pressure)
        << "all the return goes by them";
  EXPECT_LT(std::abs(beside - series.rail_difference), 0.1e5);
}

// Each rail by its own line: equal lines feed alike, a longer second one starves its rail unless a crossover
// helps.
TEST(Circuit, TwoFeedsEachToItsRail) {
  Case c = test::plain_case();
  c.at.demand = 200 * litre_per_hour;
  Rail& r = c.circuit.rail;
  r.injectors = 8, r.rails = Rails::side_by_side, r.crossover_bore = 8e-3, r.crossover_length = 0.3;
  Part one = test::line(6, 1.0), other = one;
  one.way = 1, other.way = 2;
  c.circuit.feed = {test::line(8, 0.5), one, other};
  ASSERT_TRUE(two_feeds(c.circuit));
  const State alike = run(c);
  ASSERT_TRUE(alike.solution.converged);
  EXPECT_NEAR(alike.injectors[0].pressure, alike.injectors[4].pressure, 1.0);
  r.entry = RailEntry::dead_end, r.crossover_bore = 0;
  c.circuit.feed[2] = test::line(4, 3.0);
  c.circuit.feed[2].way = 2;
  const State apart = run(c);
  EXPECT_GT(apart.injectors[0].pressure, apart.injectors[4].pressure + 5e3)
      << "half of the demand through a -4";
  r.crossover_bore = 8e-3, r.crossover_length = 0.3;
  const State joined = run(c);
  EXPECT_LT(joined.injectors[0].pressure - joined.injectors[4].pressure,
            0.5 * (apart.injectors[0].pressure - apart.injectors[4].pressure));
  EXPECT_NEAR(joined.delivered, apart.delivered, 0.05 * apart.delivered);
  c.circuit.regulator.kind = RegulatorKind::dead_head;
  EXPECT_THROW(run(c), InputError);
}

TEST(Circuit, ADeadHeadRegulatorPassesWhatIsBurntAndThePumpEndsAtItsRelief) {
  Case c = test::plain_case();
  c.circuit.regulator.kind = RegulatorKind::dead_head;
  c.circuit.regulator.referenced = false;
  c.circuit.back.clear();
  c.at.manifold = 101325;
  for (const double demand : {0.0, 60.0, 200.0}) {
    c.at.demand = demand * litre_per_hour;
    const State s = run(c);
    ASSERT_TRUE(s.solution.converged) << demand;
    EXPECT_NEAR(s.delivered, c.at.demand, 1e-9) << "nothing goes back";
    EXPECT_NEAR(s.rail_difference, 3e5 - 3.5e3 * demand / 100, 1.5e3) << demand;
    const PumpState& main = s.pumps.back();
    EXPECT_LT(main.rise, 1.1 * 7.5e5 + 1e3) << "the relief valve in the pump ends it";
    EXPECT_EQ(main.relieved > 0, main.rise > 7.5e5);
  }
  // It carries as much as the pump gives at that pressure, and starves above.
  const double most = available_flow(c);
  c.at.demand = 1.02 * most;
  EXPECT_EQ(run(c).regulator.mode, RegulatorMode::starved);
  c.at.demand = 0.98 * most;
  EXPECT_EQ(run(c).regulator.mode, RegulatorMode::regulating);
}

TEST(Circuit, AFuseAgainstStartingAndABlockedPump) {
  Case c = test::plain_case();
  const auto says = [&](const char* fuse) {
    c.circuit.mains[0].parts[0].wiring = {gauge_area(10), 1.0, gauge_area(10), 0.5, 2, "", fuse, 0};
    std::string out;
    for (const Finding& f : run(c).findings) out += f.text.in() + "\n";
    return out;
  };
  EXPECT_NE(says("fuse, 5 A").find("over six times its fuse"), std::string::npos) << "42 A at 15 V";
  EXPECT_NE(says("fuse, 40 A").find("does not open at less than 1.35 times"), std::string::npos);
  EXPECT_EQ(says("fuse, 25 A").find("Blocked,"), std::string::npos);
}

TEST(Circuit, FiguresOutsideTheMeasuredCurvesAreMarked) {
  Case c = test::plain_case();
  EXPECT_TRUE(run(c).pumps.back().measured);
  c.at.supply = 16.5;
  const State s = run(c);
  EXPECT_FALSE(s.pumps.back().measured);
  EXPECT_TRUE(std::any_of(s.findings.begin(), s.findings.end(), [](const Finding& f) {
    return f.text.in().find("outside its measured curves") != std::string::npos;
  }));
}

TEST(Circuit, APartThatPassesMoreThanItsFiguresGoToIsMarkedAndTwoSideBySideTakeTwice) {
  Case c = test::plain_case();
  c.circuit.feed.push_back({.kind = PartKind::sensor, .type = "blend sensor"});
  Part& sensor = c.circuit.feed.back();
  const double rated = find(c.catalogue->sensors, "blend sensor")->flow;
  const auto state = [&] {
    const State s = run(c);
    for (const PartState& p : s.parts)
      if (p.leg.kind == LegKind::feed && p.part == static_cast<int>(c.circuit.feed.size()) - 1)
        return std::pair(p, s.findings);
    return std::pair(PartState{}, s.findings);
  };
  const auto marked = [](const std::vector<Finding>& findings) {
    return std::any_of(findings.begin(), findings.end(), [](const Finding& f) {
      return f.text.in().find("blend sensor passes") != std::string::npos;
    });
  };
  const auto [one, findings] = state();
  ASSERT_GT(one.flow, 1.1 * rated) << "the plain car's pump sends more round than one sensor is known for";
  EXPECT_FALSE(one.measured);
  EXPECT_TRUE(marked(findings));
  sensor.doubled = true;
  const auto [two, none] = state();
  EXPECT_EQ(two.rated, 2 * rated);
  EXPECT_EQ(two.measured, two.flow <= 2.2 * rated);
  EXPECT_EQ(marked(none), !two.measured);
}

}  // namespace
}  // namespace uadze::circuit
