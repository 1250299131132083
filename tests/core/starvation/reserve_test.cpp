#include "core/starvation/reserve.h"

#include <gtest/gtest.h>

#include <cmath>

#include "support/random_shapes.h"

namespace uadze::starvation {
namespace {

using test::Random;

struct Flows {
  std::vector<double> time, supply, draw;
  ReserveInput input(double capacity) const { return {time, supply, draw, capacity, capacity}; }
};

/// Random flows that end as they begin, so that the lap can be repeated.
Flows random_flows(Random& random, double supply_scale = 1.0) {
  Flows f;
  const int n = random.whole(5, 80);
  double t = 0;
  for (int i = 0; i < n; ++i) {
    f.time.push_back(t);
    t += random.uniform(0.01, 0.5);
    f.supply.push_back(random.whole(0, 2) ? random.uniform(0, 8e-5) * supply_scale : 0);
    f.draw.push_back(random.uniform(0, 6e-5));
  }
  f.supply.back() = f.supply.front();
  f.draw.back() = f.draw.front();
  return f;
}

TEST(Reserve, ConstantDeficitEmptiesAtCapacityOverNetDraw) {
  const Flows f{{0, 10}, {1e-5, 1e-5}, {3e-5, 3e-5}};
  const ReserveRun run = run_reserve(f.input(1e-4));
  ASSERT_EQ(run.shortages.size(), 1u);
  EXPECT_NEAR(run.shortages[0].start, 5.0, 1e-12) << "0.1 L at 0.02 L/s";
  EXPECT_NEAR(run.shortages[0].end, 10.0, 1e-12);
  EXPECT_NEAR(run.missing, 1e-4, 1e-16);
  EXPECT_NEAR(run.delivered, 2e-4, 1e-16);
}

TEST(Reserve, ARampEmptiesAtTheRootOfTheTime) {
  // Net draw grows from 0 as 1e-5 t: V = C - 0.5e-5 t2.
  const Flows f{{0, 10}, {0, 0}, {0, 1e-4}};
  const ReserveRun run = run_reserve(f.input(2e-4));
  ASSERT_EQ(run.shortages.size(), 1u);
  EXPECT_NEAR(run.shortages[0].start, std::sqrt(2e-4 / 0.5e-5), 1e-9);
}

TEST(Reserve, TheTurnOfTheFlowInsideAStepIsFound) {
  // The deficit turns into a surplus half way: 1e-4 drawn, then 1e-4 returned.
  const Flows f{{0, 10}, {0, 4e-5 * 2}, {4e-5, 4e-5}};
  EXPECT_TRUE(run_reserve(f.input(1.0001e-4)).shortages.empty());
  const ReserveRun run = run_reserve(f.input(0.9e-4));
  ASSERT_EQ(run.shortages.size(), 1u);
  EXPECT_NEAR(run.shortages[0].end, 5.0, 1e-9);
  EXPECT_NEAR(run.volume.back(), 0.9e-4, 1e-12);
}

TEST(Reserve, WhatDoesNotFitOverflows) {
  const Flows f{{0, 10}, {2e-5, 2e-5}, {1e-5, 1e-5}};
  const ReserveRun run = run_reserve(f.input(1e-3));
  EXPECT_NEAR(run.overflow, 1e-4, 1e-16);
  EXPECT_EQ(run.volume.back(), 1e-3);
}

TEST(Reserve, OneLongShortageIsOneEvent) {
  Flows f;
  for (int i = 0; i <= 50; ++i) f.time.push_back(i * 0.1), f.supply.push_back(0), f.draw.push_back(1e-5);
  EXPECT_EQ(run_reserve(f.input(1e-5)).shortages.size(), 1u);
  EXPECT_EQ(run_reserve(f.input(0)).shortages.size(), 1u) << "no reserve at all";
}

TEST(Reserve, VolumeIsConservedOverAHundredLaps) {
  Random random(61);
  for (int n = 0; n < 200; ++n) {
    const Flows f = random_flows(random);
    ReserveInput in = f.input(random.uniform(0, 2e-4));
    double supplied = 0, delivered = 0, overflow = 0;
    const double begun = in.start;
    for (int lap = 0; lap < 100; ++lap) {
      const ReserveRun run = run_reserve(in);
      supplied += run.supplied, delivered += run.delivered, overflow += run.overflow;
      EXPECT_NEAR(run.balance_error, 0, 1e-15);
      for (double v : run.volume) {
        EXPECT_GE(v, 0);
        EXPECT_LE(v, in.capacity);
      }
      in.start = run.volume.back();
    }
    EXPECT_NEAR(begun + supplied - delivered - overflow - in.start, 0, 1e-9 * std::max(supplied, 1e-6));
  }
}

TEST(Reserve, TheStrideGivesWhatLapByLapGives) {
  Random random(67);
  int strides = 0;
  for (int n = 0; n < 300; ++n) {
    const Flows f = random_flows(random, random.uniform(0.3, 1.2));
    const ReserveInput in = f.input(random.uniform(1e-4, 2e-2));
    const ReserveCycle cycle = repeat_reserve(in);
    ReserveInput slow = in;
    int laps = 0, first_short = 0;
    ReserveRun run;
    for (; laps < 30000;) {
      run = run_reserve(slow);
      ++laps;
      if (!run.shortages.empty() && !first_short) first_short = laps;
      const double change = run.volume.back() - slow.start;
      slow.start = run.volume.back();
      if (std::abs(change) <= 1e-9 * in.capacity) break;
    }
    if (cycle.laps > 4) ++strides;
    EXPECT_EQ(cycle.last.shortages.empty(), run.shortages.empty());
    EXPECT_NEAR(cycle.last.lowest, run.lowest, 1e-8);
    EXPECT_NEAR(cycle.first_short_lap, first_short, 0.5) << "the first short lap";
    EXPECT_TRUE(cycle.settled);
  }
  EXPECT_GT(strides, 10) << "the case is met";
}

TEST(NeededCapacity, JustThatVolumeStaysCleanAndOnePerCentLessDoesNot) {
  Random random(71);
  int finite = 0;
  for (int n = 0; n < 400; ++n) {
    const Flows f = random_flows(random, 1.6);
    const double needed = needed_capacity(f.input(0));
    if (!std::isfinite(needed) || needed < 1e-9) continue;
    ++finite;
    EXPECT_TRUE(repeat_reserve(f.input(needed * (1 + 1e-9))).last.shortages.empty()) << n;
    EXPECT_FALSE(repeat_reserve(f.input(needed * 0.99)).last.shortages.empty()) << n;
  }
  EXPECT_GT(finite, 100);
}

TEST(NeededCapacity, IsInfiniteWhenTheLapDrawsMoreThanItGets) {
  const Flows f{{0, 1, 2}, {1e-5, 0, 1e-5}, {2e-5, 2e-5, 2e-5}};
  EXPECT_TRUE(std::isinf(needed_capacity(f.input(0))));
  EXPECT_FALSE(repeat_reserve(f.input(0.1)).last.shortages.empty()) << "no volume is enough for ever";
}

}  // namespace
}  // namespace uadze::starvation
