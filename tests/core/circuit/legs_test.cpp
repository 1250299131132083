// Legs and parts by place, and what each kind of part does in a leg.
#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include <cmath>

#include "core/circuit/build.h"
#include "core/circuit/what_if.h"
#include "support/circuits.h"

namespace uadze::circuit {
namespace {

using test::fitting;
using test::line;
using test::litre_per_hour;
using test::of_type;
using test::plain_case;
using ::testing::ElementsAre;

std::vector<std::string> titles(const Case& c) {
  std::vector<std::string> out;
  for (const LegPlace& place : legs_of(c.circuit, c.surroundings)) out.push_back(place.title(c.circuit));
  return out;
}

double loss_of(const State& s, const LegPlace& leg, int part) {
  for (const PartState& p : s.parts)
    if (p.leg == leg && p.part == part) return p.loss;
  ADD_FAILURE() << "no part " << part << " in leg " << static_cast<int>(leg.kind) << " " << leg.index;
  return 0;
}

TEST(Legs, StandInTheOrderOfFlow) {
  Case c = plain_case();
  EXPECT_THAT(titles(c), ElementsAre("lift", "overflow", "main", "feed line", "rail", "return line"));
  c.surroundings.return_to = ReturnTo::overflow_tee;
  c.circuit.transfer.kind = TransferKind::jet;
  EXPECT_THAT(titles(c), ElementsAre("lift", "overflow", "tee to tank", "main", "feed line", "rail",
                                     "return line", "transfer"));
  c.surroundings.surge = false;
  c.circuit.suctions = {{"pickup", {line(8, 0.3)}}};
  EXPECT_THAT(titles(c),
              ElementsAre("suction, pickup", "main", "feed line", "rail", "return line", "transfer"));
}

TEST(Legs, AreFoundByPlaceAndNamed) {
  Case c = plain_case();
  for (const LegPlace& place : legs_of(c.circuit, c.surroundings)) {
    EXPECT_EQ(leg_at(c.circuit, place) == nullptr, place.kind == LegKind::rail);
    EXPECT_FALSE(place.title(c.circuit).empty());
  }
  EXPECT_EQ(leg_at(c.circuit, {LegKind::main, 7}), nullptr);
  EXPECT_EQ((LegPlace{LegKind::lift, 0}.title(c.circuit)), "lift");
  c.circuit.mains[0].name.clear();
  EXPECT_EQ((LegPlace{LegKind::main, 0}.title(c.circuit)), "main 1");
}

TEST(Legs, FittingsTakeTheBoreOfTheLineBeforeThem) {
  const auto& cat = *plain_case().catalogue;
  Leg leg{fitting(FittingForm::entry), line(8, 1), fitting(FittingForm::bend_90), line(6, 1),
          fitting(FittingForm::exit)};
  EXPECT_NEAR(bore_of(leg, 0, cat), 10.3e-3, 1e-9) << "none before it: the one behind";
  EXPECT_NEAR(bore_of(leg, 2, cat), 10.3e-3, 1e-9);
  EXPECT_NEAR(bore_of(leg, 4, cat), 7.9e-3, 1e-9);
  leg[2].bore = 5e-3;
  EXPECT_NEAR(bore_of(leg, 2, cat), 5e-3, 1e-12);
  EXPECT_EQ(bore_of({fitting(FittingForm::exit)}, 0, cat), 0);
}

TEST(Legs, ALineCostsItsLengthAndFittingsTheirNumber) {
  Case c = plain_case();
  c.circuit.feed = {line(6, 1.0), line(6, 2.0), fitting(FittingForm::bend_90, 1),
                    fitting(FittingForm::bend_90, 3)};
  const State s = run(c);
  const LegPlace feed{LegKind::feed, 0};
  EXPECT_NEAR(loss_of(s, feed, 1), 2 * loss_of(s, feed, 0), 1e-6);
  EXPECT_NEAR(loss_of(s, feed, 3), 3 * loss_of(s, feed, 2), 1e-6);
}

TEST(Legs, FiltersLoadAndTwoSideBySideTakeHalfTheFlow) {
  Case c = plain_case();
  c.circuit.feed = {of_type(PartKind::filter, "fine filter, 10 micron"), line(8, 1)};
  const LegPlace feed{LegKind::feed, 0};
  // The catalogue's own figures, at its own flow: 7 kPa clean, 60 loaded at 300 L/h.
  const FilterType& type = *find(c.catalogue->filters, "fine filter, 10 micron");
  const auto by_hand = [&](double load, double q, const fluid::Liquid& l) {
    const double drop = std::lerp(type.clean, type.loaded, load), r = q / type.flow;
    return drop * (type.viscous * r * l.viscosity / reference_viscosity +
                   (1 - type.viscous) * r * r * l.density / reference_density);
  };
  for (double load : {0.0, 0.5, 1.0}) {
    c.at.filter_load = load;
    const State s = run(c);
    EXPECT_NEAR(loss_of(s, feed, 0), by_hand(load, s.delivered, s.liquid), 0.5) << load;
  }
  c.circuit.feed[0].doubled = true;
  const State s = run(c);
  EXPECT_NEAR(loss_of(s, feed, 0), by_hand(1.0, s.delivered / 2, s.liquid), 0.5);
}

TEST(Legs, SensorsDiffusersAndRestrictionsByTheirFigures) {
  Case c = plain_case();
  Part hole{.kind = PartKind::restriction};
  hole.bore = 4e-3;
  c.circuit.feed = {of_type(PartKind::sensor, "blend sensor"), of_type(PartKind::diffuser, "surge diffuser"),
                    hole, line(8, 1)};
  const State s = run(c);
  const LegPlace feed{LegKind::feed, 0};
  const double q = s.delivered, rho = s.liquid.density;
  EXPECT_NEAR(loss_of(s, feed, 0), 3e3 * std::pow(q / (200 * litre_per_hour), 2) * rho / 750, 1);
  EXPECT_NEAR(loss_of(s, feed, 1), 3e3 * std::pow(q / (250 * litre_per_hour), 2) * rho / 750, 1);
  EXPECT_NEAR(loss_of(s, feed, 2), rho / 2 * std::pow(q / (0.61 * area(4e-3)), 2), 1);
}

TEST(Legs, ACheckValveTakesItsSpringAndShutsAgainstTheOther) {
  Case c = plain_case();
  c.circuit.mains.push_back(c.circuit.mains[0]);
  for (auto& m : c.circuit.mains)
    m.parts.push_back(of_type(PartKind::check_valve, "check valve, stiff spring"));
  State s = run(c);
  EXPECT_GT(loss_of(s, {LegKind::main, 0}, 1), 10e3) << "its cracking pressure and more";
  c.at.mains_dead = {0, 1};
  s = run(c);
  for (const PumpState& p : s.pumps)
    if (p.leg.kind == LegKind::main && !p.on) {
      EXPECT_NEAR(p.flow, 0, 1e-9);
    }
}

TEST(Legs, PumpsInSeriesAddTheirRises) {
  Case c = plain_case();
  c.circuit.mains[0].parts.push_back(c.circuit.mains[0].parts[0]);
  const State s = run(c);
  ASSERT_EQ(s.pumps.size(), 3u);
  EXPECT_NEAR(s.pumps[1].flow, s.pumps[2].flow, 1e-10);
  EXPECT_NEAR(s.pumps[1].rise, s.pumps[2].rise, 2e3);
  EXPECT_GT(available_flow(c), available_flow(plain_case()));
}

TEST(Legs, ARegulatorAtTheTankLeavesTheFeedLinesLossToTheRail) {
  Case c = plain_case();
  c.circuit.engine_supply = EngineSupply::returnless;
  const State s = run(c);
  double loss = 0;
  for (const PartState& p : s.parts) {
    if (p.leg.kind != LegKind::feed) continue;
    loss += p.loss;
    EXPECT_NEAR(p.flow, c.at.demand, 1e-10);
  }
  EXPECT_NEAR(s.regulator.pressure - s.injectors[0].pressure, loss, 200);
}

TEST(Stages, EachKindReadsItsOwnValue) {
  OperatingPoint at;
  at.throttle = 0.8, at.manifold = 150e3, at.demand = 30e-6, at.rotation = 90;
  const auto wants = [&](StageBy by, double on) { return stage_wants({by, on, on / 2}, at, false); };
  EXPECT_TRUE(stage_wants({StageBy::always}, at, false));
  EXPECT_TRUE(wants(StageBy::throttle, 0.7));
  EXPECT_FALSE(wants(StageBy::throttle, 0.9));
  EXPECT_TRUE(wants(StageBy::manifold, 140e3));
  EXPECT_FALSE(wants(StageBy::manifold, 160e3));
  EXPECT_TRUE(wants(StageBy::demand, 25e-6));
  EXPECT_FALSE(wants(StageBy::demand, 35e-6));
  EXPECT_TRUE(wants(StageBy::rotation, 80));
  EXPECT_FALSE(wants(StageBy::rotation, 100));
}

TEST(Stages, ASecondPumpOffLeavesTheFirstAlone) {
  Case c = plain_case();
  c.circuit.mains.push_back({"second", c.circuit.mains[0].parts, {StageBy::throttle, 0.7, 0.5}});
  c.at.throttle = 0.3;
  const State s = run(c);
  EXPECT_FALSE(s.pumps[2].on);
  EXPECT_EQ(s.pumps[2].current, 0);
  EXPECT_NEAR(s.delivered, run(plain_case()).delivered, 1e-8);
  c.at.throttle = 1.0;
  EXPECT_TRUE(run(c).pumps[2].on);
  c.at.mains_on = std::vector<char>{1, 0};
  EXPECT_FALSE(run(c).pumps[2].on) << "what is given goes before the stages";
}

TEST(WhatIfs, ChangeWhatTheySayAndNothingElse) {
  const Case good = plain_case();
  const auto with = [&](WhatIf w) {
    Case c = good;
    EXPECT_TRUE(apply(w, c));
    return c;
  };
  EXPECT_EQ(with(WhatIf::loaded_filter).at.filter_load, 1.0);
  EXPECT_EQ(*with(WhatIf::low_voltage).at.supply, 12.0);
  EXPECT_NEAR(with(WhatIf::hot_fuel).at.temperature, 333.15, 1e-9);
  EXPECT_EQ(with(WhatIf::high_altitude).at.altitude, 2000);
  EXPECT_NEAR(with(WhatIf::high_altitude).at.manifold, ambient_pressure(2000), 1)
      << "no boost, so it falls with the air";
  EXPECT_EQ(with(WhatIf::small_return).circuit.back[0].dash, 4);
  EXPECT_EQ(with(WhatIf::small_return).circuit.feed, good.circuit.feed);
  EXPECT_FALSE(with(WhatIf::no_check_valve).circuit.mains[0].parts[0].check_valve);
  EXPECT_EQ(with(WhatIf::main_dead).at.mains_dead, std::vector<char>{1});
  EXPECT_EQ(with(WhatIf::lift_dead).at.lifts_dead, std::vector<char>{1});
  EXPECT_EQ(with(WhatIf::vent_blocked).circuit, good.circuit);
  Case boosted = good;
  boosted.at.manifold = 180e3;
  apply(WhatIf::high_altitude, boosted);
  EXPECT_EQ(boosted.at.manifold, 180e3) << "a turbine holds its boost";
}

TEST(Altitude, IsTheStandardAtmosphere) {
  EXPECT_NEAR(ambient_pressure(0), 101325, 1e-9);
  EXPECT_NEAR(ambient_pressure(1000), 89875, 30);
  EXPECT_NEAR(ambient_pressure(2000), 79495, 30);
}

TEST(TankVent, PassesAsMuchAirAsFuelIsBurnt) {
  Case c = plain_case();
  c.circuit.tank_vent = 1e-3;
  const double speed = c.at.demand / (0.61 * area(1e-3));
  EXPECT_NEAR(101325 - tank_pressure(c, fluid::liquid(c.fuel, 293.15)), 0.6 * speed * speed, 1e-6);
  c.circuit.tank_vent = 0;
  c.at.demand = 0;
  EXPECT_EQ(tank_pressure(c, {}), 101325) << "shut, and nothing leaves";
  c.at.demand = 120 * litre_per_hour;
  EXPECT_LT(tank_pressure(c, {}), 90e3) << "shut for ten minutes";
}

TEST(Legs, AsManyPartsAsCanBeSolvedAtOnce) {
  Case at = plain_case();
  Circuit& c = at.circuit;
  c.feed.assign(most_parts + 1, line(8, 0.1));
  const Faults faults = circuit_faults(c, at.surroundings, *project::shipped_catalogue());
  EXPECT_TRUE(std::ranges::any_of(faults, [&](const Fault& f) {
    return f.at == place_of(c.feed[most_parts]) && f.expected == "200 parts at most between two ends";
  }));
}

TEST(Legs, OnlyJointsOutsideTheFuelAreCounted) {
  Leg leg{line(8, 0.3), line(8, 0.3)};
  for (Part& p : leg) p.in_fuel = true;
  EXPECT_EQ(joints_outside(leg), 0);
  const int wet = joints_outside(leg);
  leg.push_back(line(8, 0.3));
  EXPECT_GT(joints_outside(leg), wet);
  EXPECT_LE(joints_outside(leg), 4) << "connections, not parts";
}

}  // namespace
}  // namespace uadze::circuit
