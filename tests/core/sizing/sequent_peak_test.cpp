// The needed storage against a march over the same flows, each step solved exactly.
#include "core/sizing/sequent_peak.h"

#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>
#include <vector>

#include "support/random_shapes.h"

namespace uadze::sizing {
namespace {

struct Lap {
  std::vector<double> time, supply, draw;
  Flows flows() const { return {time, supply, draw}; }
};

/// Random flows that end as they begin, so that the lap can be repeated.
Lap random_lap(test::Random& random) {
  Lap lap;
  const int n = random.whole(5, 80);
  double t = 0;
  for (int i = 0; i < n; ++i) {
    lap.time.push_back(t);
    t += random.uniform(0.01, 0.5);
    lap.supply.push_back(random.whole(0, 2) ? random.uniform(0, 8e-5) * 1.6 : 0);
    lap.draw.push_back(random.uniform(0, 6e-5));
  }
  lap.supply.back() = lap.supply.front();
  lap.draw.back() = lap.draw.front();
  return lap;
}

/// Whether a store of that size, full at first, never runs out over many laps. Each step in a hundred parts,
/// in which the flows' straight lines are summed exactly.
bool lasts(const Lap& lap, double capacity) {
  double held = capacity;
  for (int n = 0; n < 6; ++n)
    for (size_t i = 0; i + 1 < lap.time.size(); ++i) {
      const double dt = (lap.time[i + 1] - lap.time[i]) / 100;
      for (int k = 0; k < 100; ++k) {
        const double at = (k + 0.5) / 100;
        const double net =
            (1 - at) * (lap.supply[i] - lap.draw[i]) + at * (lap.supply[i + 1] - lap.draw[i + 1]);
        held = std::min(capacity, held + net * dt);
        if (held < 0) return false;
      }
    }
  return true;
}

TEST(SequentPeak, ConstantDeficitAndSurplusByHand) {
  // 2e-5 m3/s short for 10 s, then as much too much.
  const Lap lap{{0, 10, 10.0001, 20.0001}, {1e-5, 1e-5, 5e-5, 5e-5}, {3e-5, 3e-5, 3e-5, 3e-5}};
  EXPECT_NEAR(needed_capacity(lap.flows()), 2e-4, 1e-8);
}

TEST(SequentPeak, ARampIsSummedToItsTurnInsideAStep) {
  // Net draw falls from 4e-5 to -4e-5 over 10 s: the deficit's peak is at 5 s, half of 4e-5 times 5.
  const Lap lap{{0, 10}, {0, 8e-5}, {4e-5, 4e-5}};
  EXPECT_NEAR(needed_capacity(lap.flows()), 1e-4, 1e-15);
}

TEST(SequentPeak, JustThatVolumeLastsAndOnePerCentLessDoesNot) {
  test::Random random(71);
  int finite = 0;
  for (int n = 0; n < 400; ++n) {
    const Lap lap = random_lap(random);
    const double needed = needed_capacity(lap.flows());
    if (!std::isfinite(needed) || needed < 1e-7) continue;
    ++finite;
    EXPECT_TRUE(lasts(lap, needed * 1.001)) << n;
    EXPECT_FALSE(lasts(lap, needed * 0.99)) << n;
  }
  EXPECT_GT(finite, 100);
}

TEST(SequentPeak, IsInfiniteWhenTheLapDrawsMoreThanItGets) {
  const Lap lap{{0, 1, 2}, {1e-5, 0, 1e-5}, {2e-5, 2e-5, 2e-5}};
  EXPECT_TRUE(std::isinf(needed_capacity(lap.flows())));
  EXPECT_FALSE(lasts(lap, 1e-5));
}

}  // namespace
}  // namespace uadze::sizing
