// First modes against closed forms and published values: see the table in docs/theory.md.
#include "core/slosh/modes.h"

#include <gtest/gtest.h>

#include <numbers>

#include "core/tank/shape.h"
#include "support/figures.h"

namespace uadze::slosh {
namespace {

using test::down;
using test::g;
using test::pi;

TEST(Modes, OfABoxAreLambs) {
  for (const auto& [length, width, depth] : {std::tuple{0.6, 0.4, 0.15}, {0.6, 0.4, 0.02}, {0.3, 0.5, 0.4}}) {
    const tank::Solid solid = make_solid(tank::Box{{0, 0, 0}, {length, width, 0.5}});
    const Modes modes = first_modes(solid, length * width * depth, down);
    const auto lamb = [&, d = depth](double k) { return std::sqrt(g * k * std::tanh(k * d)); };
    std::vector<double> wanted{lamb(pi / length), lamb(pi / width),
                               lamb(pi * std::hypot(1 / length, 1 / width))};
    std::sort(wanted.begin(), wanted.end());
    ASSERT_GE(modes.frequency.size(), 3u);
    EXPECT_NEAR(modes.frequency[0], wanted[0], 1e-3 * wanted[0]);
    EXPECT_NEAR(modes.frequency[1], wanted[1], 1e-3 * wanted[1]);
    const int along = length > width ? 0 : 1;
    EXPECT_NEAR(std::abs(modes.direction[0][along]), 1, 1e-6);
  }
}

TEST(Modes, OfWhatABodyLeavesAreThoseOfThatAlone) {
  // Bodies and collectors are cut out as faces turned the other way round, on the free surface too.
  tank::TankParts parts;
  parts.shapes = {tank::Box{{0, 0, 0}, {0.6, 0.4, 0.3}}};
  parts.bodies = {{"block", tank::Box{{-0.1, -0.1, -0.1}, {0.27, 0.5, 0.4}}}};
  const tank::Tank left = assemble(parts).tank;
  const tank::Solid alone = make_solid(tank::Box{{0.27, 0, 0}, {0.6, 0.4, 0.3}});
  const double volume = 0.33 * 0.4 * 0.12;
  const Modes modes = first_modes(left.spaces[0].body, volume, down),
              wanted = first_modes(alone, volume, down);
  ASSERT_GE(modes.frequency.size(), 3u);
  for (size_t k = 0; k < 3; ++k)
    EXPECT_NEAR(modes.frequency[k], wanted.frequency[k], 2e-3 * wanted.frequency[k]) << k;
}

TEST(Modes, OfAnUprightCylinder) {
  // w2 = g 1.8412/R tanh(1.8412 h/R) (Lamb; Abramson 1966).
  for (double depth : {0.05, 0.15, 0.4}) {
    const double r = 0.2;
    const tank::Solid solid = make_solid(tank::Cylinder{{0, 0, 0}, {0, 0, 0.5}, r});
    const Modes modes = first_modes(solid, pi * r * r * depth, down);
    const double wanted = std::sqrt(g * 1.8412 / r * std::tanh(1.8412 * depth / r));
    EXPECT_NEAR(modes.frequency[0], wanted, 0.005 * wanted);
    EXPECT_NEAR(modes.frequency[1], wanted, 0.005 * wanted) << "twice, round the axis";
  }
}

TEST(Modes, OfAHalfFullLyingCylinderAcross) {
  const double r = 0.2, length = 0.4;
  const tank::Solid solid = make_solid(tank::Cylinder{{0, -length / 2, 0}, {0, length / 2, 0}, r});
  const Modes modes = first_modes(solid, pi * r * r * length / 2, down);
  const double wanted = std::sqrt(1.3557 * g / r);  // McIver 1989
  double nearest = 0;
  for (size_t k = 0; k < modes.frequency.size(); ++k)
    if (std::abs(modes.direction[k].x()) > 0.99) nearest = modes.frequency[k];
  EXPECT_NEAR(nearest, wanted, 0.005 * wanted);
}

TEST(Modes, OfAHalfFullSphere) {
  const double r = 0.15;
  const tank::Solid solid = make_solid(tank::Sphere{{0, 0, 0}, r});
  const Modes modes = first_modes(solid, 2 * pi / 3 * r * r * r, down);
  const double wanted = std::sqrt(1.5602 * g / r);  // McIver 1989
  EXPECT_NEAR(modes.frequency[0], wanted, 0.005 * wanted);
}

TEST(Modes, ScaleWithTheRootOfThePullAndTurnWithIt) {
  const tank::Solid cube = make_solid(tank::Box{{0, 0, 0}, {0.3, 0.3, 0.3}});
  const double half = 0.0135;
  const Modes at_rest = first_modes(cube, half, down), pulled = first_modes(cube, half, Vec3(0, 4 * g, 0));
  EXPECT_NEAR(pulled.frequency[0], 2 * at_rest.frequency[0], 1e-6);
  EXPECT_TRUE(first_modes(cube, 0, down).frequency.empty());
  EXPECT_TRUE(first_modes(cube, 0.027, down).frequency.empty()) << "full: no surface";
  EXPECT_TRUE(first_modes(cube, half, Vec3::Zero()).frequency.empty());
}

TEST(Modes, ShareOutATiltOfTheSurface) {
  // Of a box's tilt x its cosines have 96/(n pi)^4; all modes of a way together have all of it.
  const tank::Solid box = make_solid(tank::Box{{0, 0, 0}, {0.6, 0.4, 0.5}});
  const Modes of_box = first_modes(box, 0.6 * 0.4 * 0.15, down, {.degree = 8, .count = 12});
  double shared[2] = {0, 0};
  for (size_t k = 0; k < of_box.frequency.size(); ++k)
    for (int axis : {0, 1})
      if (std::abs(of_box.direction[k][axis]) > 0.99) {
        if (shared[axis] == 0) {
          EXPECT_NEAR(of_box.share[k], 96 / std::pow(pi, 4), 1e-3);
        }
        shared[axis] += of_box.share[k];
      }
  EXPECT_NEAR(shared[0], 1, 2e-3);
  EXPECT_NEAR(shared[1], 1, 2e-3);
  // Round a block the shares wander from mode to mode with the degree, and what a plane swings at does not.
  tank::TankParts parts;
  parts.shapes = {tank::Box{{-0.23, -0.325, 0}, {-0.07, 0.325, 0.24}}};
  parts.bodies = {{"block", tank::Box{{-0.23, -0.11, 0}, {-0.08, 0.11, 0.15}}}};
  const tank::Solid round = assemble(parts).tank.spaces[0].body;
  for (double fill : {0.08, 0.3, 0.5, 0.62, 0.8}) {
    const auto along = [&](int degree) {
      const PlaneSwing swing = plane_swing(round, fill * round.volume(), {.degree = degree, .count = 12});
      return swing.frequency[std::abs(swing.section.axis[0].x()) > 0.9 ? 0 : 1];
    };
    EXPECT_NEAR(along(6) / along(10), 1, 0.025) << fill;
  }
}

TEST(Modes, ThePlanarModelSwingsWithThem) {
  // Small motion in shapes that are no boxes, both ways: within 1 % of the mode.
  const tank::Shape shapes[] = {
      tank::Cylinder{{0, -0.3, 0}, {0, 0.3, 0}, 0.2}, tank::Sphere{{0, 0, 0}, 0.2},
      tank::Prism{tank::Axis::y, {{-0.23, 0}, {0.23, 0}, {0.134, 0.24}, {-0.23, 0.24}}, -0.325, 0.325}};
  for (const tank::Shape& shape : shapes)
    for (double fill : {0.35, 0.5, 0.65}) {
      const tank::Solid solid = make_solid(shape);
      const InertiaTable table = inertia_table(solid);
      for (int axis : {0, 1}) {
        PlanarSpace space(solid, fill * solid.volume(), {}, {}, &table);
        Vec3 tilted = down;
        tilted[axis] = 0.01 * g;
        space.settle(down);
        const double middle = space.centroid()[axis];
        space.settle(tilted);
        double last = space.centroid()[axis] - middle, first = -1, t = 0, period = 0;
        for (int passes = 0; passes < 7 && t < 30; t += 0.004) {
          space.step(down, 0.004);
          const double now = space.centroid()[axis] - middle;
          if ((now < 0) != (last < 0)) {
            const double at = t + 0.004 * last / (last - now);
            if (passes == 0) first = at;
            if (passes == 6) period = (at - first) / 3;
            ++passes;
          }
          last = now;
        }
        const Modes modes = first_modes(solid, fill * solid.volume(), down);
        double wanted = 0;
        for (size_t k = modes.frequency.size(); k-- > 0;)
          if (std::abs(modes.direction[k][axis]) > 0.65) wanted = 2 * pi / modes.frequency[k];
        EXPECT_NEAR(period, wanted, 0.01 * wanted) << shape.index() << " " << fill << " axis " << axis;
      }
    }
}

}  // namespace
}  // namespace uadze::slosh
