// A saddle tank: what each side keeps behind its tunnel when the car is pushed aside, and what crosses over.
#include <gtest/gtest.h>

#include <cmath>

#include "core/slosh/planar_tank.h"
#include "core/slosh/settled.h"
#include "support/figures.h"
#include "support/random_shapes.h"
#include "support/two_phase.h"

namespace uadze::slosh {
namespace {

using test::down;
using test::g;

/// L x w of one side, its wall beside the tunnel h high; pushed so that the surface rises `slope` a metre
/// toward the tunnel, it keeps what lies under the plane through the wall's upper edge.
double kept_behind(double length, double width, double height, double slope) {
  const double reach = height / slope;
  return length * (reach <= width ? height * reach / 2 : width * (height - slope * width / 2));
}

struct AnySaddle {
  tank::Saddle shape;
  tank::Tank tank;
  double length, side, height;
  size_t left, right;  ///< its spaces
};
AnySaddle random_saddle(test::Random& r) {
  AnySaddle out;
  out.length = r.uniform(0.2, 0.5), out.side = r.uniform(0.1, 0.35), out.height = r.uniform(0.05, 0.2);
  const double half = r.uniform(0.03, 0.15), roof = out.height + r.uniform(0.05, 0.15);
  out.shape = {{-out.length / 2, -half - out.side, 0},
               {out.length / 2, half + out.side, roof},
               -half,
               half,
               out.height};
  tank::TankParts parts;
  parts.shapes = {out.shape};
  parts.vent = tank::Vent{{0, 0, roof - 0.005}};
  out.tank = assemble(parts).tank;
  out.left = static_cast<size_t>(out.tank.space_at(out.shape.to - Vec3(0.01, 0.01, roof - 0.01)));
  out.right = static_cast<size_t>(out.tank.space_at(out.shape.from + Vec3(0.01, 0.01, 0.01)));
  return out;
}

TEST(Saddle, SettledItKeepsWhatLiesUnderItsWall) {
  test::Random r(31);
  for (int round = 0; round < 60; ++round) {
    const AnySaddle s = random_saddle(r);
    const double slope = r.uniform(0.3, 2.0), kept = kept_behind(s.length, s.side, s.height, slope);
    // No more than what the other side can take besides.
    const double each = r.uniform(0.1, 0.9) * std::min(s.length * s.side * s.height, s.tank.volume() / 3);
    std::vector<double> volumes(s.tank.spaces.size(), 0.0);
    volumes[s.left] = volumes[s.right] = each;
    SettledTank fuel(s.tank, volumes);
    fuel.update(Vec3(0, -slope * g, -g));  // to the right
    EXPECT_NEAR(fuel.volume(s.left), std::min(each, kept), 2e-3 * kept + 1e-9) << round;
    double sum = 0;
    for (size_t k = 0; k < s.tank.spaces.size(); ++k) sum += fuel.volume(k);
    EXPECT_NEAR(sum, 2 * each, 1e-12);
  }
}

TEST(Saddle, MovingItComesToTheSameAndMirroredItIsMirrored) {
  test::Random r(32);
  for (int round = 0; round < 6; ++round) {
    const AnySaddle s = random_saddle(r);
    const double slope = r.uniform(0.6, 1.6), kept = kept_behind(s.length, s.side, s.height, slope);
    std::vector<double> volumes(s.tank.spaces.size(), 0.0);
    volumes[s.left] = volumes[s.right] = 0.8 * s.length * s.side * s.height;
    PlanarTank one(s.tank, volumes), other(s.tank, volumes);
    one.settle(down), other.settle(down);
    // Pushed on slowly, so that no swing throws more over than the push does.
    for (int k = 0; k < 3000; ++k) {
      const double now = slope * std::min(1.0, k / 1500.0);
      one.step(Vec3(0, -now * g, -g), 0.01), other.step(Vec3(0, now * g, -g), 0.01);
    }
    const double stays = one.space(s.left).volume();
    EXPECT_LT(stays, 1.12 * kept) << round << ": a little waits to run over";
    EXPECT_GT(stays, 0.85 * std::min(kept, volumes[s.left])) << round;
    EXPECT_NEAR(other.space(s.right).volume(), stays, 1e-3 * kept) << round;
  }
}

TEST(Saddle, ThrownItGoesAsATwoPhaseCalculationHasIt) {
  // 12 L, a side 0.2 m wide behind a wall of 0.125 m, 1 g aside and then 1.2 g of braking. With one surface a
  // side that reached to the tunnel's middle it was 57 mm off, and 11.9 of the 12 L had crossed after a
  // second.
  const test::TwoPhase reference = test::two_phase("saddle");
  ASSERT_EQ(reference.tank.spaces.size(), 3u);
  PlanarTank fuel(reference.tank, level_fill(reference.tank, reference.volume));
  fuel.settle(down);
  double after_a_second = 0, now = 0;
  const auto apart =
      reference.apart([&](const Vec3& gravity, double dt) { fuel.step(gravity, dt), now += dt; },
                      [&] {
                        const double held = fuel.space(reference.held_by).volume();
                        if (now < 1.001) after_a_second = held;
                        return test::WhereFuelIs{fuel.centroid(), held};
                      });
  EXPECT_NEAR(after_a_second, 9.16e-3, 0.1e-3);
  EXPECT_LT(apart.level, 0.026);
  EXPECT_LT(apart.height, 0.012);
  EXPECT_LT(apart.held, 0.67e-3) << "braked, a litre less of 4 runs back over the tunnel's front";
}

}  // namespace
}  // namespace uadze::slosh
