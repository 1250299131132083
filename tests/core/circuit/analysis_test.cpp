#include "core/circuit/analysis.h"

#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include <cmath>

#include "core/circuit/shortfall.h"
#include "support/circuits.h"

namespace uadze::circuit {
namespace {

using test::litre_per_hour;
using test::plain_case;

TEST(Analysis, BudgetAddsUpFromPickupToManifold) {
  test::Random random(8);
  for (int k = 0; k < 40; ++k) {
    Case c = test::random_case(random);
    c.circuit.engine_supply = EngineSupply::returned;
    const State s = run(c);
    const auto items = budget(c, s);
    ASSERT_GE(items.size(), 3u);
    double at = items.front().after;
    for (size_t i = 1; i < items.size(); ++i) {
      at += items[i].change + items[i].head;
      if (s.rail > 0) {
        EXPECT_NEAR(at, items[i].after, 1.0) << items[i].label;
      }
    }
    EXPECT_NEAR(items.back().after, c.at.manifold, 1e-9);
  }
}

TEST(Analysis, ACostIsWhatTakingThePartOutBrings) {
  Case c = plain_case();
  c.circuit.feed.push_back(test::of_type(PartKind::sensor, "blend sensor"));
  const Capacity can = capacity(c);
  ASSERT_FALSE(can.costs.empty());
  EXPECT_EQ(can.costs.front().label, "blend sensor");
  c.circuit.feed.pop_back();
  EXPECT_NEAR(available_flow(c) - can.available, can.costs.front().flow, 1e-9);
}

TEST(Analysis, LimitsComeNearestFirstAndTheLiftLimitIsWhereDrainingBegins) {
  Case c = plain_case();
  c.circuit.lifts[0].parts[1].type = "lift pump, 90 l/h class";
  const Capacity can = capacity(c, false);
  ASSERT_EQ(can.limits.size(), 3u);
  for (size_t i = 1; i < can.limits.size(); ++i) EXPECT_LE(can.limits[i - 1].demand, can.limits[i].demand);
  EXPECT_EQ(can.limits[0].kind, LimitKind::lift);
  c.at.demand = can.limits[0].demand - 0.5 * litre_per_hour;
  EXPECT_EQ(run(c).surge.draining, 0);
  c.at.demand = can.limits[0].demand + 0.5 * litre_per_hour;
  EXPECT_GT(run(c).surge.draining, 0);
}

TEST(Analysis, TheSweepIsTheSameAsItsPoints) {
  const Case c = plain_case();
  std::vector<double> demands;
  std::vector<SweepLoad> loads;
  for (int k = 0; k <= 20; ++k) demands.push_back(k * 20 * litre_per_hour), loads.push_back({demands.back()});
  const auto points = sweep(c, {}, loads);
  for (size_t i = 0; i < demands.size(); ++i) {
    Case one = c;
    one.at.demand = demands[i];
    const Met met = run_met(one);
    EXPECT_NEAR(points[i].difference, met.state.rail_difference, 1e-2);
    EXPECT_EQ(points[i].mode, met.state.regulator.mode);
    // Injectors that are open all the time may pass less than the pumps could still bring.
    const double burnt = met.shortfall ? met.shortfall->burnt : demands[i];
    EXPECT_EQ(points[i].mode == RegulatorMode::starved, burnt > points[i].available) << i;
  }
}

TEST(Analysis, GaugeCardKeepsTheDifferenceAcrossTheInjector) {
  Case c = plain_case();
  c.circuit.full_manifold = 180e3;
  c.circuit.idle_manifold = 35e3;
  c.circuit.regulator.base = 3e5;
  const auto rows = gauge_card(c, 5 * litre_per_hour, 150 * litre_per_hour);
  ASSERT_EQ(rows.size(), 5u);
  EXPECT_NEAR(rows[0].wished, 3e5, 1);
  EXPECT_NEAR(rows[1].wished, 3e5 + 35e3 - 101325, 1) << "idle: the reference takes its vacuum off";
  EXPECT_NEAR(rows[2].wished, 3e5, 1) << "hose off: as with the engine off";
  EXPECT_NEAR(rows[4].wished, 3e5 + 180e3 - 101325, 1);
  for (const auto& r : rows) EXPECT_NEAR(r.reads, r.wished, 0.2e5) << r.condition;
  EXPECT_NEAR(rows[1].difference, rows[4].difference, 0.1e5);
}

TEST(Analysis, GaugeCardReadsWhatIsThereWhereTheDemandCanNotBeMet) {
  Case c = plain_case();
  for (const auto& r : gauge_card(c, 5 * litre_per_hour, 150 * litre_per_hour))
    EXPECT_TRUE(r.met) << r.condition;
  for (const double full : {600 * litre_per_hour, 6000 * litre_per_hour}) {
    const auto rows = gauge_card(c, 5 * litre_per_hour, full);
    EXPECT_FALSE(rows.back().met) << full;
    for (const auto& r : rows) {
      EXPECT_GT(r.reads + 101325, 0.2e5) << r.condition << ": no gauge reads less than nothing";
      EXPECT_LT(r.reads, r.wished + 0.3e5) << r.condition;
    }
  }
}

TEST(Analysis, GaugeCardOfADeadPumpSaysThatNothingIsHeld) {
  Case c = plain_case();
  c.circuit.full_manifold = 180e3;
  const auto alive = gauge_card(c, 5 * litre_per_hour, 150 * litre_per_hour);
  EXPECT_TRUE(std::all_of(alive.begin(), alive.end(), [](const GaugeRow& r) { return r.shut.has_value(); }));
  c.at.mains_dead.assign(c.circuit.mains.size(), 1);
  for (const auto& r : gauge_card(c, 5 * litre_per_hour, 150 * litre_per_hour)) {
    EXPECT_EQ(r.mode, RegulatorMode::starved) << r.condition;
    EXPECT_FALSE(r.shut) << r.condition << ": no regulator holds what no pump brings";
    EXPECT_GE(r.difference, 0) << r.condition << ": boost does not press fuel back through injectors";
  }
}

TEST(Analysis, LineChoiceAdvisesTheSmallestThatServes) {
  const Case c = plain_case();
  const auto choices = line_choices(c, run(c));
  ASSERT_FALSE(choices.empty());
  for (const auto& choice : choices) {
    double before = 1e99;
    for (const auto& z : choice.sizes) {
      EXPECT_LT(z.loss, before);
      before = z.loss;
      EXPECT_EQ(z.meets, z.velocity <= choice.limits.velocity && z.loss <= choice.limits.loss);
      if (choice.advised > 0) {
        EXPECT_EQ(z.dash < choice.advised, !z.meets && z.dash < choice.advised);
      }
      EXPECT_NEAR(z.velocity * area(z.bore), choice.flow, 1e-12);
    }
  }
}

TEST(Analysis, WorkingOfTheRailIsItsBudget) {
  const Case c = plain_case();
  const State s = run(c);
  const auto all = workings(c, s);
  ASSERT_GE(all.size(), 3u);
  EXPECT_EQ(all[0].value, s.rail_difference);
  EXPECT_EQ(all[1].value, s.duty);
}

TEST(Analysis, ThePumpsCurveMeetsTheCircuitWhereItWorks) {
  const Case c = plain_case();
  const State s = run(c);
  const auto curves = curves_of(c, s, 1);
  double gap = 1e99, flow = 0;
  for (size_t i = 0; i < curves.flow.size(); ++i)
    if (const double d = std::abs(curves.rise[i] - curves.system[i]); d < gap) gap = d, flow = curves.flow[i];
  EXPECT_NEAR(flow, s.pumps[1].flow, 0.06 * s.pumps[1].flow);
}

}  // namespace
}  // namespace uadze::circuit
