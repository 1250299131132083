#include "core/slosh/planar.h"

#include <gtest/gtest.h>

#include <cmath>
#include <numbers>

#include "core/tank/parts.h"
#include "core/tank/prism.h"
#include "support/figures.h"
#include "support/random_shapes.h"

namespace uadze::slosh {
namespace {

using test::down;
using test::g;
using test::pi;
using test::Random;

tank::Solid box(double length, double width, double height) {
  return tank::make_solid(
      tank::Prism{tank::Axis::y,
                  {{-length / 2, 0}, {length / 2, 0}, {length / 2, height}, {-length / 2, height}},
                  -width / 2,
                  width / 2});
}

/// Period of small motion along x, from the centroid's passes through the middle.
double period(const tank::Solid& solid, double volume, double dt) {
  PlanarSpace tank(solid, volume);
  tank.settle(Vec3(0.01 * g, 0, -g));
  double last_x = tank.centroid().x(), first = -1, t = 0;
  int passes = 0;
  while (passes < 11 && t < 60) {
    tank.step(down, dt);
    t += dt;
    const double x = tank.centroid().x();
    if ((x < 0) != (last_x < 0)) {
      const double at = t - dt * x / (x - last_x);
      if (passes++ == 0) first = at;
      if (passes == 11) return (at - first) / 5;
    }
    last_x = x;
  }
  return -1;
}

TEST(Planar, SmallMotionOfABoxHasTheFirstSloshingPeriod) {
  for (const auto& [length, depth] : {std::pair{0.6, 0.05}, {0.6, 0.2}, {0.4, 0.3}, {1.0, 0.1}}) {
    const tank::Solid solid = box(length, 0.37, 0.6);
    const double k = pi / length, wanted = 2 * pi / std::sqrt(g * k * std::tanh(k * depth));
    EXPECT_NEAR(period(solid, length * 0.37 * depth, 0.005), wanted, 0.01 * wanted)
        << length << " x " << depth;
  }
}

// A steady sway at 0.7 of the first frequency, grown slowly: linear potential theory's centroid, all odd
// modes k = n pi/L with their shares 96/(n pi)^4 of the still tilt, each 1/(1 - w2/w_n2) as large.
TEST(Planar, SwaysNearResonanceAsLinearTheoryHasIt) {
  const double length = 0.5, width = 0.1;
  for (const double depth : {0.06, 0.1, 0.2})
    for (const double strength : {0.02, 0.05, 0.1}) {
      const auto frequency2 = [&](double k) { return g * k * std::tanh(k * depth); };
      const double w = 0.7 * std::sqrt(frequency2(pi / length)), cycle = 2 * pi / w, dt = cycle / 100;
      double wanted = 0;
      for (int n = 1; n < 40; n += 2)
        wanted += 96 / std::pow(n * pi, 4) / (1 - w * w / frequency2(n * pi / length));
      wanted *= strength * length * length / (12 * depth);
      const tank::Solid solid = box(length, width, 0.6);
      PlanarSpace fuel(solid, depth * length * width);
      fuel.settle(down);
      double in_phase = 0, across = 0;
      for (int i = 0; i < 1200; ++i) {
        const double t = (i + 0.5) * dt, grown = std::min(1.0, t / (6 * cycle));
        fuel.step(Vec3(strength * g * grown * std::sin(w * t), 0, -g), dt);
        if (i < 800) continue;
        in_phase += fuel.centroid().x() * std::sin(w * (i + 1) * dt) / 200;
        across += fuel.centroid().x() * std::cos(w * (i + 1) * dt) / 200;
      }
      EXPECT_NEAR(std::hypot(in_phase, across), wanted, 0.035 * wanted) << depth << ", " << strength;
    }
}

TEST(Planar, TheStepTheUserChoosesDoesNotMatter) {
  const tank::Solid solid = box(0.6, 0.4, 0.4);
  const auto after = [&](double dt) {
    PlanarSpace tank(solid, 0.024);
    tank.settle(down);
    for (double t = 0; t < 0.6 - 1e-9; t += dt) tank.step(Vec3(0, -0.6 * g, -g), dt);
    return tank.centroid();
  };
  const Vec3 fine = after(0.001);
  for (double dt : {0.005, 0.02, 0.1, 0.6}) EXPECT_NEAR((after(dt) - fine).norm(), 0, 0.003) << dt;
}

TEST(Planar, ComesToRestWhereTheSettledModelLies) {
  Random random(101);
  for (int n = 0; n < 15; ++n) {
    const tank::Solid solid = tank::make_solid(random.prism());
    const double volume = random.uniform(0.15, 0.85) * solid.volume();
    Vec3 f = random.direction() * random.uniform(0.8, 3) * g;
    f.z() = -std::abs(f.z()) - 0.3 * g;
    PlanarSpace tank(solid, volume, {.violent_damping = 0.5, .violent_tilt = 0.02});
    tank.settle(down);
    for (int k = 0; k < 600; ++k) tank.step(f, 0.05);
    EXPECT_NEAR((tank.surface().normal + f.normalized()).norm(), 0, 0.02) << n;
  }
}

TEST(Planar, VolumeIsKeptAndEnergyNeverGrowsWhateverTheDirection) {
  Random random(103);
  for (int n = 0; n < 40; ++n) {
    const tank::Solid solid = tank::make_solid(random.prism());
    const double volume = random.uniform(0.05, 0.95) * solid.volume();
    PlanarSpace tank(solid, volume);
    tank.settle(random.direction() * g);
    for (int phase = 0; phase < 5; ++phase) {
      // Up to 6 g, upside down, free fall.
      const Vec3 f = phase == 3 ? Vec3(Vec3::Zero()) : Vec3(random.direction() * random.uniform(0.01, 6) * g);
      double energy = tank.energy(f);
      const double scale = 6 * g * (solid.upper_corner() - solid.lower_corner()).norm();
      for (int k = 0; k < 60; ++k) {
        tank.step(f, 0.01);
        ASSERT_TRUE(tank.surface().normal.allFinite());
        PlanarSpace cut = tank;
        cut.refresh();
        ASSERT_NEAR(moments_below(solid, cut.surface()).volume, volume, 1e-12 * solid.volume());
        ASSERT_EQ(tank.volume(), cut.volume());
        ASSERT_LE(tank.energy(f), energy + 1e-3 * scale) << n;
        energy = tank.energy(f);
      }
    }
  }
}

TEST(Planar, BetweenCutsItGoesWhereItGoesWithACutAtEachStep) {
  Random random(107);
  // m: centroids by cuts from time to time and by shorter steps off those by a cut at each; surfaces off
  // cuts.
  double off = 0, stepped = 0, surface_off = 0;
  for (int n = 0; n < 40; ++n) {
    const tank::Solid solid = tank::make_solid(random.prism());
    const double volume = random.uniform(0.1, 0.9) * solid.volume();
    const PlanarOptions always{.stray = 0};
    PlanarSpace lazy(solid, volume), exact(solid, volume, always), fine(solid, volume, always);
    for (PlanarSpace* s : {&lazy, &exact, &fine}) s->settle(down);
    const Vec3 push = random.uniform(0.1, 1.0) * g * random.direction();
    double gap = 0, step_gap = 0;
    for (int k = 0; k < 100; ++k) {
      const Vec3 f = down + std::sin(0.05 * k) * Vec3(push.x(), push.y(), 0.3 * push.z());
      lazy.step(f, 0.01), exact.step(f, 0.01);
      for (int part = 0; part < 4; ++part) fine.step(f, 0.0025);
      gap = std::max(gap, (lazy.centroid() - exact.centroid()).norm());
      step_gap = std::max(step_gap, (fine.centroid() - exact.centroid()).norm());
      PlanarSpace cut = lazy;
      cut.refresh();
      EXPECT_EQ(lazy.surface().normal, cut.surface().normal);
      const double middle = cut.surface().normal.dot(cut.section().centroid);
      surface_off = std::max(surface_off, std::abs(middle - lazy.surface().offset));
    }
    off += gap, stepped += step_gap;
  }
  EXPECT_LT(off, stepped);
  EXPECT_LT(surface_off, 0.2e-3);
}

TEST(Planar, BetweenCutsTheCentroidOfABoxIsWhereItIsByHand) {
  // A wedge of slope t on level fuel: L2 t/(12 h) aside, L2 t2/(24 h) up.
  const double length = 0.6, depth = 0.1;
  const tank::Solid solid = box(length, 0.4, 0.3);
  PlanarSpace tank(solid, length * 0.4 * depth);
  tank.settle(down);
  double tilt = 0;
  for (int k = 0; k < 100 && tilt < 0.018; ++k) {
    tank.step(down + Vec3(-0.2 * g, 0, 0), 1e-3);
    const Vec3 n = tank.surface().normal;
    tilt = std::abs(n.x() / n.z());
    EXPECT_NEAR(std::abs(tank.centroid().x()), length * length * tilt / (12 * depth), 1e-6);
    EXPECT_NEAR(tank.centroid().z(), depth / 2 + length * length * tilt * tilt / (24 * depth), 1e-6);
    EXPECT_NEAR(tank.surface().offset, n.z() * depth, 1e-9);
  }
  EXPECT_GT(tilt, 0.01);
}

// In a ball, here a lathe's of many sides, the fuel's middle hangs under the ball's along the normal whatever
// the turn: pushed round and round, the surface stays whole, at its distance, and square to the middle.
TEST(Planar, TurningOnAndOnTheSurfaceStaysWholeAndAtItsDistance) {
  const tank::Solid ball = tank::make_solid(tank::Sphere{.centre = Vec3::Zero(), .radius = 0.3});
  PlanarSpace fuel(ball, 0.4 * ball.volume());
  fuel.settle(down);
  const double offset = fuel.surface().offset, depth = fuel.centroid().norm();
  for (int k = 0; k < 3000; ++k) {
    const double turn = 0.004 * k;
    fuel.step(Vec3(0.8 * g * std::cos(turn), 0.8 * g * std::sin(turn), -g), 0.01);
    ASSERT_NEAR(fuel.surface().normal.norm(), 1.0, 1e-14);
    ASSERT_NEAR(fuel.surface().offset, offset, 0.002) << "at " << k;
    ASSERT_NEAR(fuel.centroid().norm(), depth, 0.002) << "at " << k;
    ASSERT_LT(fuel.centroid().cross(fuel.surface().normal).norm(), 0.002) << "at " << k;
  }
}

TEST(Planar, AThrownBoxArrivesLateOvershootsAndComesBack) {
  // 0.6 m wide, 1 g sideways: the settled centroid lies at the end of a swing that the fuel passes.
  const tank::Solid solid = box(0.4, 0.6, 0.5);
  const double volume = 0.4 * 0.6 * 0.15;
  const Vec3 f(0, -g, -g);
  PlanarSpace tank(solid, volume);
  tank.settle(down);
  PlanarSpace lying(solid, volume);
  lying.settle(f);
  const double rest = lying.centroid().y();
  double furthest = 0, early = 0, late = 0;
  for (int k = 1; k <= 1000; ++k) {
    tank.step(f, 0.005);
    furthest = std::min(furthest, tank.centroid().y());
    if (k == 10) early = tank.centroid().y();
    if (k == 1000) late = tank.centroid().y();
  }
  EXPECT_GT(early, 0.3 * rest) << "late (rest is negative: the fuel goes right)";
  EXPECT_LT(furthest, 1.02 * rest) << "overshoots";
  EXPECT_NEAR(late, rest, 0.1 * std::abs(rest)) << "comes back";
}

TEST(Planar, LargeMotionDiesFasterThanSmall) {
  const tank::Solid solid = box(0.6, 0.4, 0.6);
  const auto kept = [&](double tilt) {
    PlanarSpace tank(solid, 0.05);
    tank.settle(Vec3(tilt * g, 0, -g));
    const double rest = [&] {
      PlanarSpace still(solid, 0.05);
      still.settle(down);
      return still.energy(down);
    }();
    const double first = tank.energy(down) - rest;
    for (int k = 0; k < 200; ++k) tank.step(down, 0.01);
    return (tank.energy(down) - rest) / first;
  };
  EXPECT_GT(kept(0.02), 0.85) << "a smooth wall takes little";
  EXPECT_LT(kept(0.8), 0.35) << "a wave that breaks takes much";
}

// With less gas than a thousandth the fuel stands still: its centroid is where the last of the gas, anywhere
// in the space, would have it to a thousandth; drawn from, it begins to move from rest.
TEST(Planar, ASpaceThatIsFullStandsStillAndMovesOnceItIsNot) {
  Random random(29);
  for (int n = 0; n < 20; ++n) {
    const tank::Solid solid = tank::make_solid(random.prism());
    const double size = solid.size(), whole = solid.volume(), gas = random.uniform(0.05, 0.95) * full_gas;
    PlanarSpace space(solid, (1 - gas) * whole);
    space.settle(down);
    const Vec3 push(random.uniform(-2, 2) * g, random.uniform(-2, 2) * g, -g);
    double volume = space.volume();
    for (int k = 0; k < 20; ++k) {
      space.step(push, 0.02);
      EXPECT_LT((space.centroid() - solid.centroid()).norm(), full_gas * size);
      EXPECT_NEAR(space.energy(push), -push.dot(space.centroid()), 1e-12) << "it does not move";
      // What comes and goes by as much as there is gas does not throw its plane out of the space.
      volume = (1 - random.uniform(0, 1) * full_gas) * whole;
      space.set_volume(volume);
      EXPECT_EQ(space.volume(), volume);
    }
    space.set_volume(0.9 * whole);
    EXPECT_NEAR(moments_below(solid, space.surface()).volume / whole, 0.9, 1e-6) << "its plane is found anew";
    space.step(down, 0.1);
    EXPECT_GT(space.substeps(), 0);
  }
}

TEST(Planar, AMirroredThrowGivesTheMirroredMotion) {
  const tank::Solid solid = box(0.5, 0.7, 0.4);
  PlanarSpace one(solid, 0.03), other(solid, 0.03);
  one.settle(down), other.settle(down);
  for (int k = 0; k < 200; ++k) {
    const Vec3 f(0.3 * g * std::sin(0.05 * k), 0.9 * g, -g);
    one.step(f, 0.01);
    other.step(f.cwiseProduct(Vec3(1, -1, 1)), 0.01);
    EXPECT_NEAR((one.centroid().cwiseProduct(Vec3(1, -1, 1)) - other.centroid()).norm(), 0, 1e-7);
  }
}

// Baines and Peterson's law by hand at S = 0.42, and what it must do at the ends.
TEST(Planar, LossOfABlockedSectionByHand) {
  EXPECT_NEAR(blockage_loss(0.42), 2.106, 2e-3);
  EXPECT_EQ(blockage_loss(0.0), blockage_loss(-1.0));
  EXPECT_NEAR(blockage_loss(0.0), 0.0, 1e-12);
  for (double s = 0.05; s < 0.8; s += 0.05) EXPECT_GT(blockage_loss(s), blockage_loss(s - 0.05));
}

// Square damping alone: 1/U grows evenly, by 4 k t/(3 pi), U the greatest u of a cycle, k = 27/16 C/(mu^1.5
// L).
TEST(Planar, ACrowdedSpacesSwingDiesBySquareDamping) {
  const double length = 0.3, depth = 0.08, volume = length * 0.25 * depth, crowded = 0.6;
  const tank::Solid solid = box(length, 0.25, 0.4);
  const PlanarOptions bare{.violent_damping = 0, .blockage = 1, .viscosity = 1e-12};
  PlanarSpace tank(solid, volume, bare, {.crowded = crowded});
  tank.settle(Vec3(0.08 * g, 0, -g));
  const double rest = [&] {
    PlanarSpace still(solid, volume);
    still.settle(down);
    return still.energy(down);
  }();
  const double first = std::sqrt(2 * (tank.energy(down) - rest));
  const double time = 6.0;
  for (int i = 0; i < time / 0.01; ++i) tank.step(down, 0.01);
  const double last = std::sqrt(2 * (tank.energy(down) - rest));
  const double x = pi * depth / length, mu = 12 / (pi * pi) * x / std::tanh(x);
  const double k = 27.0 / 16 * blockage_loss(crowded) / (std::pow(mu, 1.5) * length);
  EXPECT_NEAR(1 / last - 1 / first, 4 * k * time / (3 * pi), 0.05 * 4 * k * time / (3 * pi));
  EXPECT_LT(last, 0.7 * first);
}

// Pushed by a, still level: what foam takes is what the push gives, a/sqrt(mu) = K u^2, whatever the step.
TEST(Planar, ThroughFoamItCreepsAtTheSpeedThatFoamAllows) {
  const double length = 0.6, depth = 0.1, push = g;
  const tank::Solid solid = box(length, 0.3, 0.6);
  const double x = pi * depth / length, mu = 12 / (pi * pi) * x / std::tanh(x);
  for (const double permeability : {1e-12, 2e-8, 2e-7, 1e-6}) {
    const tank::Foam foam{.porosity = 0.97, .permeability = permeability};
    const double k = (16.0 / 35) / std::pow(8.0 / 15, 1.5) * 0.1 * 0.97 * 0.97 / std::sqrt(permeability);
    const double speed = std::sqrt(push / std::sqrt(mu) / k) / std::sqrt(mu);
    for (const double dt : {0.001, 0.005, 0.025}) {
      const double volume = length * 0.3 * depth;
      PlanarSpace tank(solid, volume, {.viscosity = 1e-12}, {.inertial = foam.inertial()});
      tank.settle(down);
      const auto on = [&](double time) {
        for (int i = 0; i < std::lround(time / dt); ++i) tank.step(Vec3(push, 0, -g), dt);
        return tank.centroid().x();
      };
      const double from = on(0.05), to = on(0.05);
      EXPECT_NEAR((to - from) / 0.05, speed, 0.08 * speed) << permeability << ", " << dt;
    }
  }
}

// What runs out at one side takes its own first moment with it.
TEST(Planar, FuelThatGoesAtAPlaceTakesItsMomentWithIt) {
  const tank::Solid solid = box(0.4, 0.3, 0.4);
  Random random(31);
  for (int k = 0; k < 100; ++k) {
    const double volume = 0.3 * solid.volume(), came = random.uniform(-1, 1) * 2e-5;
    PlanarSpace tank(solid, volume);
    tank.settle(down);
    const Vec3 before = tank.volume() * tank.centroid();
    const Vec3 at(random.uniform(-0.2, 0.2), random.uniform(-0.15, 0.15), 0.3 * 0.4);
    Exchange through;
    through.add(came, at);
    tank.set_volume(volume + came, through, 0.02);
    tank.refresh();
    const Vec3 change = tank.volume() * tank.centroid() - before;
    EXPECT_NEAR(change.x(), came * at.x(), 0.01 * std::abs(came) * 0.2);
    EXPECT_NEAR(change.y(), came * at.y(), 0.01 * std::abs(came) * 0.2);
  }
}

// A body in the middle breaks the swing across it; the nearer it stands to the end, the less.
TEST(Planar, ABodyInTheMiddleBreaksTheSwingAndOneAtTheEndHardly) {
  const tank::Solid solid = box(0.5, 0.4, 0.3);
  const auto left = [&](std::vector<tank::Obstacle> standing) {
    PlanarSpace tank(solid, 0.2 * solid.volume(), {.blockage = 1}, {.obstacles = &standing});
    tank.settle(Vec3(0.4 * g, 0, -g));
    for (int i = 0; i < 200; ++i) tank.step(down, 0.01);
    PlanarSpace still(solid, 0.2 * solid.volume());
    still.settle(down);
    return tank.energy(down) - still.energy(down);
  };
  const Vec3 half(0.05, 0.1, 0.1);
  const double free = left({}), middle = left({{Vec3(0, 0, 0.1), half}}),
               end = left({{Vec3(0.2, 0, 0.1), half}});
  EXPECT_LT(middle, 0.2 * free);
  EXPECT_GT(end, 4 * middle);
  EXPECT_GT(end, 0.4 * free);
  const double before = left({{Vec3(0.1, 0, 0.1), half}}), behind = left({{Vec3(-0.1, 0, 0.1), half}});
  EXPECT_NEAR(before, behind, 0.1 * before);
  EXPECT_EQ(left({{Vec3(0, 0, 0.9), half}}), free) << "out of the fuel";
}

}  // namespace
}  // namespace uadze::slosh
