#include "core/circuit/heat.h"

#include <gtest/gtest.h>

#include <cmath>

#include "support/random_shapes.h"

namespace uadze::circuit {
namespace {

HeatBalance random_balance(test::Random& random) {
  return {.loop = random.uniform(0, 800),
          .lift = random.uniform(0, 150),
          .tank_loss = random.uniform(0, 30),
          .surge_loss = random.uniform(0, 10),
          .ambient = random.uniform(270, 320),
          .heat_capacity = 1.5e6,
          .surge_inside = random.whole(0, 1) == 1};
}

TEST(Heat, TankAloneApproachesTheAirAsByNewtonsLaw) {
  const HeatBalance heat{.tank_loss = 20, .ambient = 290, .heat_capacity = 1.5e6};
  Temperatures now{320, 320};
  const HeatMoves moves{.time = 1, .tank_volume = 10e-3};
  for (int k = 0; k < 1000; ++k) now = warmed(now, heat, moves);
  EXPECT_NEAR(now.tank, 290 + 30 * std::exp(-1000 * 20 / (1.5e6 * 10e-3)), 0.01);
}

TEST(Heat, WhatGoesInIsKeptLostOrCarriedRound) {
  // Of a step in which what is lifted comes back by overflow and rail: no fuel leaves.
  test::Random random(5);
  for (int n = 0; n < 300; ++n) {
    const HeatBalance heat = random_balance(random);
    const double back = random.uniform(0, 1e-4), lifted = random.uniform(0, 1e-4);
    const bool home = random.whole(0, 1) == 1;
    HeatMoves m{.time = random.uniform(0.1, 10),
                .tank_volume = random.uniform(1e-3, 60e-3),
                .surge_volume = random.uniform(0.2e-3, 3e-3),
                .lifted = lifted + (home ? 0 : back),
                .overflow = lifted,
                .back = back,
                .main = back,
                .back_to_surge = home};
    const Temperatures before{random.uniform(280, 330), random.uniform(280, 330)};
    const Temperatures after = warmed(before, heat, m);
    const double rc = heat.heat_capacity;
    const double kept =
        rc * (m.tank_volume * (after.tank - before.tank) + m.surge_volume * (after.surge - before.surge));
    const double air = heat.tank_loss * (after.tank - heat.ambient) +
                       (heat.surge_inside ? 0 : heat.surge_loss * (after.surge - heat.ambient));
    const double in = (back > 0 ? heat.loop : 0) + heat.lift;
    EXPECT_NEAR(kept, (in - air) * m.time, 1e-6 * (rc * m.tank_volume)) << n;
  }
}

TEST(Heat, NothingWarmsWhereAllIsAsWarmAsTheAir) {
  const HeatBalance heat{.tank_loss = 20, .surge_loss = 5, .ambient = 300, .heat_capacity = 1.5e6};
  const Temperatures after =
      warmed({300, 300}, heat,
             {.time = 10, .tank_volume = 0.01, .surge_volume = 1e-3, .lifted = 1e-4, .overflow = 1e-4});
  EXPECT_NEAR(after.tank, 300, 1e-9);
  EXPECT_NEAR(after.surge, 300, 1e-9);
}

}  // namespace
}  // namespace uadze::circuit
