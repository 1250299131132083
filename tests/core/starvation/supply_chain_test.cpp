// Surge tank, line and rail step by step: volume kept, transit, mixing, compliance.
#include "core/starvation/supply_chain.h"

#include <gtest/gtest.h>

#include "core/starvation/march.h"
#include "support/random_shapes.h"

namespace uadze::starvation {
namespace {

TEST(SupplyChain, KeepsEveryDropWhateverComes) {
  test::Random random(5);
  for (int k = 0; k < 200; ++k) {
    ChainOptions o{
        .surge = random.uniform(0, 1) < 0.6,
        .capacity = random.uniform(0.1e-3, 3e-3),
        .area = random.uniform(1e-3, 0.02),
        .back = random.uniform(0, 1) < 0.5 ? circuit::ReturnTo::surge_tank : circuit::ReturnTo::main_tank,
        .line = random.uniform(0, 1) < 0.2 ? 0.0 : random.uniform(0, 0.5e-3),
        .filter = random.uniform(0, 1) < 0.3 ? 0.0 : random.uniform(0, 0.3e-3),
        .compliance = random.uniform(1e-13, 1e-11)};
    if (!o.surge) o.capacity = 0;
    SupplyChain chain(o, 3e5);
    const double start = chain.held();
    double in = 0, out = 0;
    for (int i = 0; i < 800; ++i) {
      ChainStep s{.time = random.uniform(0.002, 0.03),
                  .main = random.uniform(0, 1e-4),
                  .demand = random.uniform(0, 6e-5),
                  .fed = random.uniform(1e5, 4e5)};
      const double flow = std::max(s.main, s.demand), share = std::clamp(random.uniform(-0.5, 1.5), 0.0, 1.0);
      s.fuel = flow * s.time * share;
      s.gas = flow * s.time - s.fuel;
      s.reach = {0.05 * o.capacity, 0.1 * o.capacity};
      in += s.fuel;
      out += chain.step(s);
      EXPECT_GE(chain.surge(), -1e-15);
      EXPECT_LE(chain.surge(), o.capacity + 1e-15);
      EXPECT_GE(chain.difference(), 0);
      EXPECT_LE(chain.difference(), 4e5);
    }
    EXPECT_NEAR(start + in - out - chain.burnt() - chain.held(), 0, 1e-12 * (start + in));
  }
}

TEST(SupplyChain, EmptiesTheRailAsFastAsTheInjectorsDo) {
  // Without any fuel: K dp/dt = -Q sqrt(p/p0), so sqrt(p/p0) = 1 - Q t / (2 K p0).
  const double k = 2e-12, q = 4e-5, p0 = 3e5;
  SupplyChain chain({.line = 0, .compliance = k}, p0);
  const double t = 0.3 * 2 * k * p0 / q;
  constexpr int steps = 4000;
  for (int i = 0; i < steps; ++i)
    chain.step({.time = t / steps, .fuel = 0, .gas = q * t / steps, .main = q, .demand = q, .fed = p0});
  EXPECT_NEAR(std::sqrt(chain.difference() / p0), 0.7, 1e-3);
  EXPECT_NEAR(chain.burnt(), k * p0 * (1 - 0.49), 1e-3 * k * p0);
}

TEST(SupplyChain, GasCarriedDownOnlyWhereFuelSinksFasterThanBubblesRise) {
  for (const double area : {1e-2, 4e-4}) {
    SupplyChain chain(
        {.surge = true, .capacity = 1.5e-3, .area = area, .line = 0, .compliance = 1e-13, .bubble_rise = 0.1},
        3e5);
    for (int i = 0; i < 3000; ++i)
      chain.step({.time = 0.02,
                  .fuel = 0.5 * 8e-5 * 0.02,
                  .gas = 0.5 * 8e-5 * 0.02,
                  .main = 8e-5,
                  .demand = 2e-5,
                  .fed = 3e5});
    // 8e-5/4e-4 = 0.2 m/s: half of the gas comes along in the end; half of what is lifted is gas.
    EXPECT_NEAR(chain.gas_drawn(), area < 1e-3 ? 0.25 : 0.0, 0.015) << area;
  }
}

TEST(LimitMonitor, CountsOnlyWhatLastsLongerThanItsLimitAndGoesOnOverTheLapsEnd) {
  LimitMonitor monitor({.mixture = {.time = 0.1}});
  const auto at = [&](double t, double p) { monitor.see(t, t + 0.02, p, 0.5, 0.0, 1e-6); };
  for (int i = 0; i < 50; ++i) at(0.02 * i, 1);
  for (int i = 50; i < 54; ++i) at(0.02 * i, 0.2);
  for (int i = 54; i < 100; ++i) at(0.02 * i, 1);
  EXPECT_TRUE(monitor.stretches().empty()) << "0.08 s";
  for (int i = 0; i < 4; ++i) at(2 + 0.02 * i, 0.2);
  monitor.next_lap(2.08);
  for (int i = 0; i < 4; ++i) at(0.02 * i, 0.2);
  at(0.08, 1);
  ASSERT_EQ(monitor.stretches().size(), 1u);
  EXPECT_NEAR(monitor.stretches()[0].start, -0.08, 0.02);
  EXPECT_EQ(monitor.stretches()[0].lowest, 0.2);
}

TEST(LimitMonitor, GasAtThePumpIsATroubleOfItsOwn) {
  LimitMonitor monitor({.gas = 0.5, .gas_time = 0.3});
  for (int i = 0; i < 20; ++i) monitor.see(0.02 * i, 0.02 * (i + 1), 3e5, 2.8e5, i >= 2 ? 0.8 : 0.1, 0);
  ASSERT_EQ(monitor.stretches().size(), 1u);
  EXPECT_EQ(monitor.stretches()[0].kind, Trouble::gas);
  EXPECT_FALSE(monitor.quiet());
}

}  // namespace
}  // namespace uadze::starvation
