// The gates of commissioning: what they expect, how they judge, which faults they find.
#include <gtest/gtest.h>

#include "core/build/bench.h"
#include "core/build/gates.h"
#include "core/build/own_steps.h"
#include "core/circuit/analysis.h"
#include "core/report/build_report.h"
#include "core/solve/garage.h"
#include "support/circuits.h"
#include "support/demo.h"

namespace uadze::build {
namespace {

using circuit::Case;
using circuit::LegKind;

constexpr Garage engine{.idle = 1e-6, .full = 33e-6};

GateTest read(std::vector<Measured> measured, std::string way = {}, double lasted = 0) {
  return {.measured = std::move(measured), .way = std::move(way), .lasted = lasted};
}

TEST(Gates, EachHasItsCautionAndComesBehindWhatItWaitsFor) {
  test::Random r(5);
  for (int round = 0; round < 12; ++round) {
    const auto gates = commissioning(round ? test::random_case(r) : test::plain_case(), engine);
    std::set<std::string> before;
    for (const Gate& g : gates) {
      EXPECT_FALSE(g.cautions.empty()) << g.id;
      EXPECT_FALSE(g.how.empty()) << g.id;
      EXPECT_FALSE(g.limit.empty()) << g.id;
      EXPECT_FALSE(g.content.empty()) << g.id;
      for (const std::string& a : g.after) EXPECT_TRUE(before.contains(a)) << g.id << " after " << a;
      EXPECT_TRUE(before.insert(g.id).second) << g.id << " twice";
      // Leaks and what stops the pumps are not for one pair of eyes.
      if (g.id == "leak" || g.id == "hold" || g.id == "prime" || g.id == "safety" || g.id == "hot check") {
        EXPECT_TRUE(g.two_people) << g.id;
      }
    }
  }
}

TEST(Gates, TheHoldTestFollowsTheGasLaw) {
  const auto gates = commissioning(test::plain_case(), engine);
  const Gate& hold = *find_gate(gates, "hold");
  const auto verdict = [&](double p0, double p1, double c0, double c1, const std::string& way) {
    return judge(hold, read({{"pressure at start", p0 * 1e5},
                             {"pressure at end", p1 * 1e5},
                             {"temperature at start", c0 + 273.15},
                             {"temperature at end", c1 + 273.15}},
                            way, 1800));
  };
  // By hand: 4.01325 bar absolute at 293.15 K is 3.87636 at 283.15 K: 2.86311 over air.
  const std::string gas = hold.ways[0], fuel = hold.ways[1];
  EXPECT_TRUE(verdict(3.0, 2.8631, 20, 10, gas).passed) << "the cold alone";
  EXPECT_FALSE(verdict(3.0, 2.8631, 20, 20, gas).passed) << "3.4 % are gone";
  EXPECT_FALSE(verdict(3.0, 3.0, 20, 30, gas).passed) << "it should have risen by 0.137 bar";
  EXPECT_TRUE(verdict(3.0, 2.93, 20, 20, gas).passed) << "1.7 %";
  const std::string said = verdict(3.0, 2.8631, 20, 10, gas).reason.in();
  EXPECT_NE(said.find("3.00 bar at the temperature of the start: a fall of 0.0 %"), std::string::npos)
      << said;
  // A line full of fuel says nothing where the temperature moved.
  EXPECT_FALSE(verdict(3.0, 3.0, 20, 21, fuel).passed);
  EXPECT_NE(verdict(3.0, 3.0, 20, 21, fuel).reason.in().find("says nothing"), std::string::npos);
  EXPECT_TRUE(verdict(3.0, 2.95, 20, 20.3, fuel).passed);
  EXPECT_FALSE(verdict(0.0, 0.0, 20, 20, gas).passed) << "a line without pressure holds nothing";
  EXPECT_FALSE(verdict(1.0, 1.0, 20, 20, gas).passed) << "a third of the base proves little";
  EXPECT_FALSE(verdict(4.0, 4.0, 20, 20, gas).passed) << "never over the base";
  EXPECT_FALSE(judge(hold, read({}, gas, 1800)).complete);
  EXPECT_FALSE(verdict(3, 3, 20, 20, "air").complete) << "air is no way";
  auto early = read({{"pressure at start", 3e5},
                     {"pressure at end", 3e5},
                     {"temperature at start", 293},
                     {"temperature at end", 293}},
                    gas, 600);
  EXPECT_FALSE(judge(hold, early).complete) << "ten minutes are not half an hour";
}

TEST(Gates, ALeakTestNeedsItsTwelveHoursAndAllThatIsLookedAt) {
  const auto gates = commissioning(test::plain_case(), engine);
  const Gate& leak = *find_gate(gates, "leak");
  GateTest t{.seen = leak.look, .way = leak.ways[0], .lasted = 12 * 3600};
  EXPECT_TRUE(judge(leak, t).passed);
  t.lasted = 11.9 * 3600;
  EXPECT_FALSE(judge(leak, t).complete);
  t.lasted = 13 * 3600, t.seen.pop_back();
  EXPECT_FALSE(judge(leak, t).complete);
  EXPECT_NE(judge(leak, t).reason.in().find("paper dry"), std::string::npos);
}

TEST(Gates, AFlowIsHeldAgainstTheCircuitAtTheVoltsThatWereRead) {
  const Case c = test::plain_case();
  const auto of = [&](double volts) {
    Garage g = engine;
    g.supply = volts;
    return *find_gate(commissioning(c, g), "flow of main")->readings[1].value;
  };
  EXPECT_LT(of(12.0), of(13.8));
  // The same as the circuit itself returns at no demand.
  Case off = c;
  off.at.demand = 0, off.circuit.regulator.referenced = false, off.at.manifold = 101325;
  EXPECT_NEAR(of(13.8), circuit::run(off).delivered, 1e-9);
  const auto flows = flow_readings(c);
  const Gate flow = *find_gate(commissioning(c, engine), "flow of main");
  const auto at = [&](double share) {
    return judge(
        flow, read({{battery_reading, 13.8}, {"flow", share * flows[1].flow}, {"volts at the pump", 13.8}}));
  };
  EXPECT_TRUE(at(0.91).passed);
  EXPECT_FALSE(at(0.89).passed);
  EXPECT_FALSE(at(1.2).passed) << "too much is another pump, or a wrong can";
  EXPECT_FALSE(at(NAN).passed);
  EXPECT_FALSE(judge(flow, read({{"flow", flows[1].flow}})).complete) << "without the volts it says nothing";
}

TEST(Gates, ExtremesAreSaidForWhatTheyAre) {
  const Case c = test::plain_case();
  const auto gates = commissioning(c, engine);
  const Gate& flow = *find_gate(gates, "flow of main");
  // Volts that no test is worth at are no failed pump.
  for (const double volts : {0.0, 6.0, 900.0}) {
    const auto said =
        judge(flow, read({{battery_reading, volts}, {"flow", 0}, {"volts at the pump", volts}}));
    EXPECT_FALSE(said.complete) << volts;
    EXPECT_NE(said.reason.in().find("charge it"), std::string::npos) << said.reason.in();
  }
  // A pump that gives nothing stands still.
  const auto why =
      explanations(c, {.idle = engine.idle,
                       .full = engine.full,
                       .flow_of = "main",
                       .measured = {{"flow", 0.0}, {"volts at the pump", flow_readings(c)[1].voltage}}});
  ASSERT_FALSE(why.empty());
  EXPECT_NE(why[0].text.in().find("stands still"), std::string::npos) << why[0].text.in();
  // A circuit that starves at full load is not passed in silence for reading what it brings.
  EXPECT_EQ(find_gate(gates, "base pressure")->cautions.size(), 2u);
  const auto starved = commissioning(c, {.idle = engine.idle, .full = 150e-6});
  EXPECT_NE(find_gate(starved, "base pressure")->cautions.back().find("does not hold"), std::string::npos);
}

TEST(Gates, CanAndWatch) {
  EXPECT_NEAR(*can_and_watch("1.5 L / 30 s"), 1.5e-3 / 30, 1e-12);
  EXPECT_NEAR(*can_and_watch("180 L/h"), 180e-3 / 3600, 1e-12);
  EXPECT_NEAR(*can_and_watch("180"), 180e-3 / 3600, 1e-12);
  EXPECT_NEAR(*can_and_watch("1 gal / 1 min"), 3.785412e-3 / 60, 1e-9);
  for (const char* bad : {"", "1.5 L / 0 s", "1.5 / -3 s", "much", "1.5 L /", "-3", "nan", "1.5 bar / 3 s"})
    EXPECT_FALSE(can_and_watch(bad)) << bad;
}

// What was wrong is among the first two explanations, by random faults of random strength.
TEST(Explanations, NameTheFaultThatWasPutIn) {
  const Case c = test::plain_case();
  test::Random r(3);
  int first = 0, named = 0, asked = 0;
  for (int round = 0; round < 24; ++round) {
    Case wrong = c;
    std::string word;
    Puzzle puzzle{.idle = engine.idle, .full = engine.full};
    switch (round % 4) {
      case 0:
        wrong.circuit.regulator.base += (round % 8 ? 1 : -1) * r.uniform(0.3e5, 0.9e5), word = "set";
        break;
      case 1:
        wrong.circuit.regulator.referenced = false, word = "reference does not reach";
        break;
      case 2:
        wrong.circuit.mains[0].parts[0].measured = r.uniform(0.4, 0.8), word = "worn",
        puzzle.flow_of = "main";
        break;
      case 3:
        wrong.circuit.mains[0].parts[0].wiring.extra = r.uniform(0.12, 0.5), word = "wires",
        puzzle.flow_of = "main";
        break;
    }
    if (puzzle.flow_of.empty()) {
      for (const auto& p : gauge_readings(wrong, engine.idle, engine.full))
        puzzle.measured.emplace_back(p.what, p.value + r.uniform(-2e3, 2e3));
      if (round % 4 == 1)  // with the hose off or on the same is read
        puzzle.measured.emplace_back("Idle, reference hose off", puzzle.measured[1].second);
    } else {
      const auto f = flow_readings(wrong)[1];
      puzzle.measured = {{"flow", f.flow * r.uniform(0.99, 1.01)},
                         {"volts at the pump", f.voltage + r.uniform(-0.02, 0.02)}};
    }
    const auto all = explanations(c, puzzle);
    ++asked;
    for (size_t k = 0; k < std::min<size_t>(all.size(), 2); ++k)
      if (all[k].text.in().find(word) != std::string::npos) {
        first += k == 0, ++named;
        EXPECT_LT(all[k].misfit, 1.0) << all[k].text.in();
        break;
      }
  }
  EXPECT_EQ(named, asked);
  EXPECT_GE(first, asked * 3 / 4);
  // As expected: nothing is to be explained.
  Puzzle fine{.idle = engine.idle, .full = engine.full};
  for (const auto& p : gauge_readings(c, engine.idle, engine.full))
    fine.measured.emplace_back(p.what, p.value);
  EXPECT_TRUE(explanations(c, fine).empty());
}

TEST(Measured, AWornPumpGivesLessEverywhereAndItsTestPutsItIntoTheModel) {
  Case c = test::plain_case();
  const auto before = flow_readings(c)[1];
  c.circuit.mains[0].parts[0].measured = 0.8;
  EXPECT_NEAR(flow_readings(c)[1].flow / before.flow, 0.8, 0.03);
  EXPECT_EQ(flow_readings(c)[1].content, before.content) << "the test stays a proof of this pump";
  EXPECT_LT(circuit::available_flow(c), circuit::available_flow(test::plain_case()));
  Case loaded = test::plain_case();
  for (auto& p : loaded.circuit.feed)
    if (p.kind == circuit::PartKind::filter) p.measured = 3;
  EXPECT_LT(circuit::available_flow(loaded), circuit::available_flow(test::plain_case()));

  // From a record back into the setup: what the bench found comes out of the circuit again.
  const auto opened = test::demo("ostrel-p4");
  const auto& setup = opened.project.setups[0];
  const auto catalogue = opened.sources->catalogue(opened.project);
  const auto in = solve::in_garage(opened.project, setup, catalogue, {}, 0);
  project::Setup worn = setup;
  auto& pump = worn.circuit->mains[0].parts[0];
  pump.measured = 0.85, pump.wiring.extra += 0.06;
  const auto bench = solve::in_garage(opened.project, worn, catalogue, {}, 0);
  const auto flows = flow_readings(bench.at);
  const auto f = std::find_if(flows.begin(), flows.end(), [](const auto& x) { return x.pump == "main 1"; });
  logbook::Record record{.number = 12, .at = 0, .kind = logbook::Kind::test, .subject = "flow of main 1"};
  record.readings = {{"flow", Quantity::flow, f->flow, {}},
                     {"volts at the pump", Quantity::voltage, f->voltage, {}}};
  const auto corrected = solve::corrected(setup, in, record);
  ASSERT_TRUE(corrected);
  const auto& found = corrected->circuit->mains[0].parts[0];
  EXPECT_NEAR(found.measured, 0.85, 1e-3);
  EXPECT_NEAR(found.wiring.extra, pump.wiring.extra, 2e-3);
  EXPECT_NE(found.measured_by.find("record 12"), std::string::npos);
  record.readings.clear();
  EXPECT_FALSE(solve::corrected(setup, in, record));
}

TEST(Gates, AFiltersLossIsReadAndTakenIntoTheModel) {
  const auto opened = test::demo("ostrel-p4");
  project::Setup setup = opened.project.setups[0];
  const auto catalogue = opened.sources->catalogue(opened.project);
  const auto in = solve::in_garage(opened.project, setup, catalogue, {}, 0);
  const auto flows = flow_readings(in.at);
  const auto f = std::find_if(flows.begin(), flows.end(), [](const auto& r) { return !r.filters.empty(); });
  ASSERT_NE(f, flows.end());
  const FilterReading filter = f->filters.front();
  const auto& part = circuit::leg_at(in.at.circuit, filter.leg)->at(static_cast<size_t>(filter.part));
  // By hand: what the catalogue has, at the square of the flow or in proportion to it.
  const auto& type = *circuit::find(catalogue->filters, part.type);
  const double ratio = f->flow / type.flow;
  EXPECT_GE(filter.loss, 0.95 * type.clean * std::min(ratio, ratio * ratio));
  EXPECT_LE(filter.loss, 1.05 * type.clean * std::max(ratio, ratio * ratio));
  const auto gates = commissioning(in.at, in.garage);
  const Gate& gate = *find_gate(gates, "flow of " + f->pump);
  const auto expected = std::find_if(gate.readings.begin(), gate.readings.end(),
                                     [&](const Expected& e) { return e.what == filter.what; });
  ASSERT_NE(expected, gate.readings.end());
  EXPECT_TRUE(expected->may_lack) << "not every car has ports for two gauges";
  // A filter of eight times the loss: found as one that is loaded, and as its own factor in the model.
  project::Setup loaded = setup;
  circuit::leg_at(*loaded.circuit, filter.leg)->at(static_cast<size_t>(filter.part)).measured = 8;
  const auto as_is = solve::in_garage(opened.project, loaded, catalogue, {}, 0);
  const auto read_flows = flow_readings(as_is.at);
  const auto& is = read_flows[static_cast<size_t>(f - flows.begin())];
  logbook::Record record{.number = 3, .at = 0, .kind = logbook::Kind::test, .subject = gate.id};
  record.readings = {{flow_reading, Quantity::flow, is.flow, {}},
                     {volts_reading, Quantity::voltage, is.voltage, {}},
                     {filter.what, Quantity::pressure, is.filters.front().loss, {}}};
  const auto why = solve::explained(in, record);
  ASSERT_FALSE(why.empty());
  EXPECT_NE(why.front().text.in().find("filters are loaded"), std::string::npos) << why.front().text.in();
  const auto corrected = solve::corrected(setup, in, record);
  ASSERT_TRUE(corrected);
  const auto& found = circuit::leg_at(*corrected->circuit, filter.leg)->at(static_cast<size_t>(filter.part));
  EXPECT_NEAR(found.measured, 8, 0.05);
  EXPECT_NE(found.measured_by.find("record 3"), std::string::npos);
  EXPECT_NEAR(circuit::leg_at(*corrected->circuit, f->leg)->at(static_cast<size_t>(f->part)).measured, 1,
              0.01);
}

TEST(KeepOuts, DistanceToABox) {
  const Vec3 low(0, 0, 0), high(1, 1, 1);
  EXPECT_NEAR(distance_to_box({-1, 0.5, 0.5}, {2, 0.5, 0.5}, low, high), 0, 1e-9);
  EXPECT_NEAR(distance_to_box({-1, 0.5, 1.25}, {2, 0.5, 1.25}, low, high), 0.25, 1e-6);
  EXPECT_NEAR(distance_to_box({2, 2, 0.5}, {3, 3, 0.5}, low, high), std::sqrt(2), 1e-6);
  EXPECT_NEAR(distance_to_box({3, 0, 4}, {0, 3, 4}, low, high), std::sqrt(0.25 + 0.25 + 9), 1e-6);
  // Against many points along the straight.
  test::Random r(9);
  for (int round = 0; round < 200; ++round) {
    const Vec3 a = 3 * r.direction(), b = 3 * r.direction();
    double least = 1e9;
    for (int k = 0; k <= 2000; ++k) {
      const Vec3 p = a + (b - a) * k / 2000.0;
      least = std::min(least, (p - p.cwiseMax(low).cwiseMin(high)).norm());
    }
    EXPECT_NEAR(distance_to_box(a, b, low, high), least, 5e-3);
    EXPECT_LE(distance_to_box(a, b, low, high), least + 1e-5);
  }
}

TEST(WorkOrder, OwnStepsStandWhereTheyBelongAndWhatCanNotBeIsSaid) {
  const Case c = test::plain_case();
  const auto plain = assembly(c);
  Kept kept;
  kept.own = {{"P4", "Weigh the tank", {"Empty, on the scale."}, "Close the tank", 10, false},
              {"P4", "Bleed the cooler", {}, "no such step", 5, true},
              {"Tarn", "Not here", {}, "", 5, false}};
  kept.changes = {{"P4", "Close the tank", {"Photo of the seal."}, 55.0, ""},
                  {"P4", "Make the place safe", {}, {}, "Close the tank"},
                  {"P4", "gone", {"x"}, {}, ""}};
  kept.scheme.joint = WireJoint::solder;
  const WorkOrder order = work_order(c, "P4", kept);
  EXPECT_EQ(order.steps.size(), plain.size() + 2);
  EXPECT_EQ(order.refused.size(), 3u) << "an unknown place, a circle, a step that is gone";
  std::map<std::string, int> place;
  for (size_t k = 0; k < order.steps.size(); ++k) {
    place[order.steps[k].title] = static_cast<int>(k);
    for (int a : order.steps[k].after) EXPECT_LT(a, static_cast<int>(k));
  }
  EXPECT_EQ(place["Weigh the tank"], place["Close the tank"] + 1);
  EXPECT_EQ(place["Make the place safe"], 0);
  const Step& close = order.steps[static_cast<size_t>(place["Close the tank"])];
  EXPECT_EQ(close.how.back().in(), "Photo of the seal.");
  EXPECT_EQ(close.minutes, 55);
  // What opens fuel waits for the first step, own ones too.
  for (const Step& s : order.steps)
    if (s.opens_fuel && &s != &order.steps[0]) {
      EXPECT_FALSE(s.after.empty()) << s.title;
    }
  const Step& wires = order.steps[static_cast<size_t>(place["main: wires"])];
  EXPECT_TRUE(std::any_of(wires.cautions.begin(), wires.cautions.end(), [](const std::string& s) {
    return s.find("iron lights vapour") != std::string::npos;
  }));
}

TEST(Lists, PortsAndLabelsAreThoseOfTheJointsAndLines) {
  test::Random r(21);
  for (int round = 0; round < 20; ++round) {
    const Case c = test::random_case(r);
    const auto labels = report::labels_table(c);
    EXPECT_EQ(labels.rows.size(), 2 * cutting_list(c).size() + 2 * wire_list(c).size());
    for (const auto& row : report::ports_table(c).rows)
      for (const HoseCut& h : cutting_list(c)) EXPECT_NE(row[0], h.type) << "a hose is no part with ports";
    size_t feeds = 0;
    for (const WireRun& w : wire_list(c)) feeds += w.what == "feed";
    EXPECT_EQ(report::fuses_table(c).rows.size(), feeds);
  }
}

}  // namespace
}  // namespace uadze::build
