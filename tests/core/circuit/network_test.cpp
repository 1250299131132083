#include "core/circuit/network.h"

#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include <cmath>
#include <deque>

#include "core/circuit/jet_pump.h"
#include "support/figures.h"
#include "support/random_shapes.h"

namespace uadze::circuit {
namespace {

using test::litre_per_hour;
using test::petrol;

using ::testing::HasSubstr;

PumpCurves straight(double free, double top) {
  return {.curves = {{13.5, {{0, free, 5}, {top, 0, 5}}}}, .inlet_margin = 1, .idle_leak = 10e-6};
}

struct Loop {
  std::deque<PumpCurves> curves;
  Network net;
  int tank = net.fixed("tank", 101325);
  int end = net.node("end");
  int pump(const PumpCurves& c, int from, int to, bool running = true) {
    return net.add(
        {.name = "pump", .from = from, .to = to, .law = Pump{&curves.emplace_back(c), {13.5, 0}, running}});
  }
  int chain(int from, int to, Chain parts, bool one_way = false) {
    return net.add({.name = "line", .from = from, .to = to, .law = std::move(parts), .one_way = one_way});
  }
};

// Pump Q = Q0 (1 - p/p0) against k Q2: a quadratic, solved by hand.
TEST(Network, PumpAgainstAResistanceByHand) {
  Loop l;
  const double free = 1e-4, top = 5e5, k = 745 / 750.0 * 4e13;
  l.pump(straight(free, top), l.tank, l.end);
  l.chain(l.end, l.tank, {Resistance{0, 4e13}});
  const Solution s = solve(l.net, petrol);
  ASSERT_TRUE(s.converged) << s.reason;
  const double a = k * free / top, q = (-1 + std::sqrt(1 + 4 * a * free)) / (2 * a);
  EXPECT_NEAR(s.flow[0], q, 1e-8 * q);
  EXPECT_NEAR(s.pressure[1] - 101325, k * q * q, 1e-3);
}

TEST(Network, EqualPumpsInParallelDoubleTheFlowInSeriesTheRise) {
  const PumpCurves one = straight(1e-4, 4e5);
  Loop parallel;
  parallel.pump(one, parallel.tank, parallel.end);
  parallel.pump(one, parallel.tank, parallel.end);
  parallel.net.nodes[1].withdrawal = 1e-4;
  const Solution p = solve(parallel.net, petrol);
  ASSERT_TRUE(p.converged);
  EXPECT_NEAR(p.flow[0], 0.5e-4, 1e-12);
  EXPECT_NEAR(p.flow[1], 0.5e-4, 1e-12);
  EXPECT_NEAR(p.pressure[1], 101325 + 2e5, 1e-2);

  Loop series;
  const int middle = series.net.node("middle");
  series.pump(one, series.tank, middle);
  series.pump(one, middle, series.end);
  series.net.nodes[1].withdrawal = 0.5e-4;
  const Solution s = solve(series.net, petrol);
  ASSERT_TRUE(s.converged);
  EXPECT_NEAR(s.pressure[1], 101325 + 4e5, 1e-2);
}

TEST(Network, ATeeSharesEquallyBetweenEqualLegs) {
  Loop l;
  for (int k = 0; k < 2; ++k) {
    const int out = l.net.node("out");
    l.pump(straight(1e-4, 4e5), l.tank, out);
    l.chain(out, l.end, {Line{1.0, 7e-3, 1e-5}, loss(2.0, 7e-3)});
  }
  l.chain(l.end, l.tank, {orifice(0.61, 1.5e-3)});
  const Solution s = solve(l.net, petrol);
  ASSERT_TRUE(s.converged);
  EXPECT_NEAR(s.flow[1], s.flow[3], 1e-12);
  EXPECT_NEAR(s.flow[4], 2 * s.flow[1], 1e-12);
}

TEST(Network, AStandingPumpLeaksBackWithoutACheckValveAndNotWithOne) {
  for (bool valve : {false, true}) {
    Loop l;
    const int behind = l.net.node("behind the standing pump");
    l.pump(straight(1e-4, 4e5), l.tank, l.end);
    l.pump(straight(1e-4, 4e5), l.tank, behind, false);
    l.chain(behind, l.end, {loss(1.0, 7e-3)}, valve);
    l.chain(l.end, l.tank, {orifice(0.61, 1.2e-3)});
    const Solution s = solve(l.net, petrol);
    ASSERT_TRUE(s.converged) << s.reason;
    if (valve) {
      EXPECT_NEAR(s.flow[1], 0, 1e-9);
    } else
      EXPECT_NEAR(s.flow[1], -10e-6 * std::sqrt((s.pressure[2] - 101325) / 1e5 * 750 / 745), 1e-9);
  }
}

TEST(Network, ReliefRegulatesStarvesAndIsOverwhelmed) {
  for (double wide : {8e-3, 1.0e-3}) {
    Loop l;
    const int behind = l.net.node("behind");
    const PumpCurves pump = straight(1e-4, 8e5);
    l.pump(pump, l.tank, l.end);
    l.net.add({.name = "regulator", .from = l.end, .to = behind, .law = Relief{4e5, 1e9, rated(5e-5, 2e4)}});
    l.chain(behind, l.tank, {orifice(0.61, wide)});
    const Solution s = solve(l.net, petrol);
    ASSERT_TRUE(s.converged);
    const double q = s.flow[1];
    EXPECT_GT(q, 0);
    if (wide > 2e-3) {
      EXPECT_NEAR(s.pressure[1], 4e5 + 1e9 * q, 1) << "regulating";
    } else
      EXPECT_NEAR(s.pressure[1], s.pressure[2] + 745 / 750.0 * 2e4 * std::pow(q / 5e-5, 2), 1) << "wide open";
    l.net.nodes[1].withdrawal = 0.9e-4;
    const Solution dry = solve(l.net, petrol);
    ASSERT_TRUE(dry.converged);
    EXPECT_LT(dry.pressure[1], 4e5);
    EXPECT_NEAR(dry.flow[1], 0, 1e-9) << "starved: shut";
  }
}

// Mass at each node, energy over all of it: what pumps give, friction takes.
TEST(Network, BalancesForRandomCircuits) {
  test::Random random(11);
  int solved = 0;
  for (int trial = 0; trial < 1500; ++trial) {
    Loop l;
    l.net.nodes.pop_back();
    std::vector<int> nodes{l.tank};
    const auto chain = [&] {
      Chain out;
      for (int k = random.whole(1, 4); k > 0; --k)
        out.push_back(random.whole(0, 1)
                          ? Element{Line{random.uniform(0.1, 3), random.uniform(3e-3, 15e-3), 1e-5}}
                          : Element{loss(random.uniform(0.1, 3), random.uniform(3e-3, 15e-3))});
      return out;
    };
    const auto any = [&] {
      return nodes[static_cast<size_t>(random.whole(0, static_cast<int>(nodes.size()) - 1))];
    };
    for (int k = random.whole(3, 9); k > 0; --k) {
      const int from = any(), to = l.net.node("n");
      if (random.whole(0, 2) == 0)
        l.pump(straight(random.uniform(2e-5, 1e-4), random.uniform(1e5, 7e5)), from, to,
               random.whole(0, 4) > 0);
      else
        l.chain(from, to, chain());
      nodes.push_back(to);
    }
    for (int k = 0; k < 3; ++k) {
      const int a = any(), b = any();
      if (a == b) continue;
      if (random.whole(0, 2) == 0)
        l.net.add({.name = "relief",
                   .from = a,
                   .to = b,
                   .law = Relief{random.uniform(2e5, 6e5), 1e8, rated(5e-5, 2e4)}});
      else
        l.chain(a, b, chain());
    }
    l.chain(nodes.back(), l.tank, chain());
    const Solution s = solve(l.net, petrol);
    ASSERT_TRUE(s.converged) << trial << ": " << s.reason;
    ++solved;
    EXPECT_LT(s.balance, 1e-12);
    double given = 0, taken = 0;
    for (size_t k = 0; k < l.net.branches.size(); ++k) {
      const Branch& b = l.net.branches[k];
      const double fall = s.pressure[static_cast<size_t>(b.from)] - s.pressure[static_cast<size_t>(b.to)];
      if (const auto* c = std::get_if<Chain>(&b.law)) {
        EXPECT_NEAR(fall, drop(*c, s.flow[k], petrol).value, 1e-3 + 1e-7 * std::abs(fall));
      }
      (fall * s.flow[k] < 0 ? given : taken) += std::abs(fall * s.flow[k]);
    }
    EXPECT_NEAR(given, taken, 1e-6 * (given + taken) + 1e-9);
  }
  EXPECT_EQ(solved, 1500);
}

TEST(Network, WarmAndColdStartsAgree) {
  Loop l;
  l.pump(straight(1e-4, 6e5), l.tank, l.end);
  l.chain(l.end, l.tank, {orifice(0.61, 1.4e-3), Line{2, 7e-3, 1e-5}});
  const Solution cold = solve(l.net, petrol);
  Solution far = cold;
  for (double& q : far.flow) q = -3e-4;
  for (double& p : far.pressure) p = 3e6;
  const Solution warm = solve(l.net, petrol, &far);
  ASSERT_TRUE(cold.converged && warm.converged);
  EXPECT_NEAR(warm.flow[0], cold.flow[0], 1e-12);
}

TEST(Network, WhatHasNoSolutionSaysWhy) {
  Loop open;
  open.pump(straight(1e-4, 4e5), open.tank, open.end);
  open.net.node("forgotten");
  EXPECT_THAT(solve(open.net, petrol).reason, HasSubstr("\"forgotten\" is joined to nothing"));
  Loop nowhere;
  nowhere.chain(nowhere.tank, 7, {});
  EXPECT_THAT(solve(nowhere.net, petrol).reason, HasSubstr("leads nowhere"));
  Loop self;
  self.chain(self.end, self.end, {});
  EXPECT_THAT(solve(self.net, petrol).reason, HasSubstr("back to itself"));
  Loop nan;
  nan.pump(straight(1e-4, 4e5), nan.tank, nan.end);
  nan.net.nodes[1].withdrawal = std::nan("");
  const Solution s = solve(nan.net, petrol);
  EXPECT_FALSE(s.converged);
  EXPECT_THAT(s.reason, HasSubstr("no number"));
  for (double q : s.flow) EXPECT_TRUE(std::isfinite(q));
}

TEST(Network, APumpThatDrawsHotFuelLosesItsFlow) {
  Loop l;
  PumpCurves pump = straight(1e-4, 4e5);
  pump.inlet_margin = 10e3;
  const int inlet = l.net.node("inlet");
  l.chain(l.tank, inlet, {orifice(0.61, 3e-3)});
  l.pump(pump, inlet, l.end);
  l.chain(l.end, l.tank, {orifice(0.61, 2e-3)});
  double before = 1;
  for (double vapour : {20e3, 60e3, 95e3, 110e3, 140e3, 160e3}) {
    fluid::Liquid hot = petrol;
    hot.vapour_pressure = vapour;
    const Solution s = solve(l.net, hot);
    ASSERT_TRUE(s.converged) << vapour << s.reason;
    EXPECT_LE(s.flow[1], before * (1 + 1e-9));
    before = s.flow[1];
  }
  EXPECT_LT(before, 1e-8) << "nothing but gas 50 kPa under the bubble point";
}

// The momentum balance written out once more, with all losses left out: at no lift and no losses the jet's
// momentum rho q1^2/An is what accelerates both flows.
TEST(JetPump, MomentumBalance) {
  const JetPump ideal{2e-3, 4e-3, 0, 0, 0, 0};
  const double an = area(2e-3), at = area(4e-3), as = at - an, q1 = 4e-5, q2 = 3e-5, rho = petrol.density;
  const double chamber = -rho / 2 * std::pow(q2 / as, 2);
  const double mixed = rho * (q1 * q1 / an + q2 * q2 / as - std::pow(q1 + q2, 2) / at) / at;
  EXPECT_NEAR(jet_rise(ideal, q1, q2, petrol), chamber + mixed + rho / 2 * std::pow((q1 + q2) / at, 2), 1e-9);
  // Nothing beside the jet in a throat as wide as the nozzle's jet: Borda's shock, rho (v1 - v)^2/2 lost.
  const double v1 = q1 / an, v = q1 / at;
  EXPECT_NEAR(jet_rise(ideal, q1, 0, petrol), rho / 2 * v1 * v1 - rho / 2 * std::pow(v1 - v, 2), 1e-6);
}

TEST(JetPump, DrawsLessAgainstMoreLiftAndNothingAgainstTooMuch) {
  const JetPump jet;
  double before = 1;
  for (double lift : {0.0, 500.0, 1000.0, 2000.0, 4000.0}) {
    const double q = entrained_flow(jet, 30e-6, lift, petrol);
    EXPECT_LT(q, before);
    if (q > 0) {
      EXPECT_NEAR(jet_rise(jet, 30e-6, q, petrol), lift, 1e-3);
    }
    before = q;
  }
  EXPECT_EQ(entrained_flow(jet, 30e-6, 1e6, petrol), 0);
  EXPECT_EQ(entrained_flow(jet, 0, 0, petrol), 0);
}

// A reducing valve: regulating, wide open under its setting, shut above it; nothing goes backward.
TEST(Network, AReducingValveByHand) {
  for (const double before : {5e5, 2.5e5}) {
    Network net;
    const int source = net.fixed("source", before), end = net.node("end", 40e-6);
    net.add({.name = "valve",
             .from = source,
             .to = end,
             .law = Reducer{3e5, 1e9, Resistance{0, 750 / 745.0 * 1e13}}});
    const Solution s = solve(net, petrol);
    ASSERT_TRUE(s.converged) << s.reason;
    EXPECT_NEAR(s.pressure[1], before > 3e5 ? 3e5 - 1e9 * 40e-6 : before - 1e13 * 1.6e-9, 50);
  }
  Network over;
  const int low = over.fixed("low", 2e5), held = over.fixed("held", 4e5);
  over.add({.name = "valve", .from = low, .to = held, .law = Reducer{3e5, 1e9, Resistance{0, 1e13}}});
  EXPECT_NEAR(solve(over, petrol).flow[0], 0, 1e-9);
}

}  // namespace
}  // namespace uadze::circuit
