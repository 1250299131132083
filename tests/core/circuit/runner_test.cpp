#include "core/circuit/runner.h"

#include <fmt/format.h>
#include <gtest/gtest.h>

#include "core/circuit/shortfall.h"
#include "support/circuits.h"

namespace uadze::circuit {
namespace {

/// Another moment of the same circuit: all that may change between two runs does.
void move_on(OperatingPoint& at, test::Random& r, const Circuit& k) {
  at.demand = r.uniform(0, 400) * test::litre_per_hour;
  at.manifold = r.uniform(30e3, 250e3);
  at.supply = r.uniform(9, 14.5);
  at.force = r.uniform(2, 30) * r.direction();
  at.temperature = r.uniform(263, 333);
  at.altitude = r.uniform(0, 2500);
  at.filter_load = 0.5 * r.whole(0, 2);
  at.throttle = r.uniform(0, 1);
  at.rotation = r.uniform(15, 120);
  at.level = r.uniform(0, 1);
  at.vent_blocked_for = r.whole(0, 3) == 0 ? 60.0 : 0.0;
  at.pickup_depth = {r.uniform(0, 0.3)};
  at.gas = r.whole(0, 3) == 0 ? 0.05 : 0.0;
  const auto flags = [&r](size_t n) {
    std::vector<char> out(n);
    for (char& f : out) f = r.whole(0, 4) == 0;
    return out;
  };
  at.lifts_dead = flags(k.lifts.size());
  at.lifts_dry = flags(k.lifts.size());
  at.mains_dead = flags(k.mains.size());
  at.mains_dry = r.whole(0, 5) == 0;
  at.mains_on.reset();
  if (r.whole(0, 1)) at.mains_on = std::vector<char>(k.mains.size(), 1);
}

std::vector<double> figures_of(const State& s) {
  std::vector<double> out{s.rail,
                          s.rail_difference,
                          s.difference_set,
                          s.duty,
                          s.delivered,
                          s.regulator.pressure,
                          s.regulator.flow,
                          s.regulator.set,
                          s.surge.lift,
                          s.surge.overflow,
                          s.surge.draining,
                          s.tank,
                          static_cast<double>(s.leanest),
                          s.aeration.share};
  for (const PumpState& p : s.pumps)
    out.insert(out.end(), {p.flow, p.rise, p.inlet_margin, p.current, p.battery, p.power, double(p.on)});
  return out;
}

TEST(Runner, IsAtEachPointWhatACircuitBuiltForThatPointIs) {
  test::Random r(11);
  int met = 0, lacking = 0;
  for (int k = 0; k < 60; ++k) {
    const Case c = test::random_case(r);
    Runner runner(c);
    Case fresh = c;
    fresh.at.spring = regulator_spring(c);
    for (int point = 0; point < 4; ++point) {
      SCOPED_TRACE(fmt::format("circuit {}, point {}", k, point));
      if (point > 0) move_on(runner.at(), r, c.circuit);
      runner.at().spring.reset();
      const std::optional<double> spring = fresh.at.spring;
      fresh.at = runner.at();
      fresh.at.spring = spring;
      const Met one = run_met(runner, nullptr, Tell::figures), other = run_met(fresh);
      EXPECT_EQ(figures_of(one.state), figures_of(other.state));
      EXPECT_EQ(one.shortfall.has_value(), other.shortfall.has_value());
      if (one.shortfall && other.shortfall) {
        EXPECT_EQ(one.shortfall->burnt, other.shortfall->burnt);
      }
      EXPECT_EQ(runner.at().demand, fresh.at.demand);
      EXPECT_EQ(runner.available(), available_flow(fresh));
      ++(one.shortfall ? lacking : met);
    }
  }
  EXPECT_GT(met, 40);
  EXPECT_GT(lacking, 40);
}

TEST(Runner, RefusesACircuitWithAFault) {
  Case c = test::plain_case();
  c.circuit.feed.front().length = -1;
  EXPECT_THROW(Runner{c}, InputError);
  EXPECT_THROW(available_flow(c), InputError);
}

}  // namespace
}  // namespace uadze::circuit
