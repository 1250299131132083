// Cells of a tank that foam parts, beside those of the same tank without foam.
#include "core/resolved/parting.h"

#include <gtest/gtest.h>

#include "core/resolved/fuel.h"
#include "support/figures.h"
#include "support/random_shapes.h"

namespace uadze::resolved {
namespace {

using test::g;

/// A box with a collector in the rear that has a flap, and foam before it; a plate across both if asked.
tank::TankParts car_tank(bool plate) {
  tank::TankParts parts;
  parts.shapes = {tank::Box{{-0.25, -0.2, 0}, {0.25, 0.2, 0.2}}};
  parts.collectors = {{.name = "pot",
                       .shape = tank::Box{{-0.2, -0.08, 0}, {-0.06, 0.08, 0.12}},
                       .openings = {{.name = "flap",
                                     .form = tank::OpeningForm::notch,
                                     .at = {-0.06, 0, 0},
                                     .width = 0.06,
                                     .height = 0.03,
                                     .passes = tank::Passes::against,
                                     .door = tank::Door::flap}}}};
  parts.foam = {{.name = "foam",
                 .shape = tank::Box{{-0.053, -0.3, -0.1}, {0.3, 0.3, 0.3}},
                 .porosity = 0.97,
                 .permeability = 2e-7}};
  if (plate)
    parts.baffles = {{.name = "plate",
                      .point = {0, 0.1, 0},
                      .normal = Vec3::UnitY(),
                      .openings = {{.name = "slot",
                                    .form = tank::OpeningForm::slot,
                                    .at = {-0.05, 0.1, 0.05},
                                    .width = 0.2,
                                    .height = 0.04}}}};
  return parts;
}

TEST(ResolvedParting, CellsAreThoseOfTheTankWithoutFoam) {
  for (const bool plate : {false, true}) {
    const tank::TankParts parts = car_tank(plate);
    tank::TankParts bare = parts;
    bare.foam.clear();
    const tank::Tank tank = assemble(parts).tank;
    const tank::Tank without = assemble(bare).tank;
    ASSERT_GT(tank.spaces.size(), without.spaces.size());
    const Lattice grid = make_lattice(tank, parts, {.size = 0.02});
    const Lattice plain = make_lattice(without, bare, {.size = 0.02});
    ASSERT_EQ(grid.axis[0].line, plain.axis[0].line);
    ASSERT_EQ(grid.shut, plain.shut);
    ASSERT_EQ(grid.inside, plain.inside);
    // Each space has its cells, to half of those at its edge.
    for (size_t s = 0; s < tank.spaces.size(); ++s) {
      double room = 0;
      for (size_t c = 0; c < grid.capacity.size(); ++c)
        if (grid.space[c] == static_cast<int>(s)) room += grid.capacity[c];
      EXPECT_NEAR(room, tank.spaces[s].volume(), 0.01 * 0.4 * 0.2 + 0.02 * tank.spaces[s].volume())
          << tank.spaces[s].name;
    }
    // Faces of an opening are between its own two spaces, and every opening has some.
    std::vector<int> faces(tank.openings.size(), 0);
    for (int a = 0; a < 3; ++a)
      for (size_t c = 0; c < grid.opening[a].size(); ++c) {
        const int o = grid.opening[a][c];
        if (o < 0) continue;
        ++faces[static_cast<size_t>(o)];
        const tank::Opening& opening = tank.openings[static_cast<size_t>(o)];
        const int here = grid.space[c], below = grid.space[c - static_cast<size_t>(grid.step(a))];
        EXPECT_EQ(std::minmax(here, below), std::minmax(opening.from, opening.to)) << opening.name;
        EXPECT_GT(grid.area[a][c], 0);
      }
    for (size_t o = 0; o < faces.size(); ++o) EXPECT_GT(faces[o], 0) << tank.openings[o].name;
  }
}

TEST(ResolvedParting, FoamThatSlowsNothingChangesNothing) {
  tank::TankParts parts = car_tank(false);
  parts.foam[0].porosity = 1.0, parts.foam[0].permeability = 1e9;
  tank::TankParts bare = parts;
  bare.foam.clear();
  std::vector<Vec3> middles[2];
  double crossed = 0;
  for (int k = 0; k < 2; ++k) {
    const tank::Tank tank = assemble(k ? bare : parts).tank;
    const auto grid = std::make_shared<const Lattice>(make_lattice(tank, k ? bare : parts, {.size = 0.025}));
    Fuel fuel(tank, grid, {});
    std::vector<double> volumes;
    const tank::Plane level{Vec3::UnitZ(), 0.08};
    for (const tank::Space& s : tank.spaces) volumes.push_back(moments_below(s.solid, level).volume);
    fuel.fill(std::vector<tank::Plane>(volumes.size(), level), volumes);
    double sum = 0;
    for (int n = 0; n < 40; ++n) {
      fuel.advance(0.02, {.gravity = Vec3(n < 20 ? g : -g, 0, -g)});
      middles[k].push_back(fuel.state().centroid);
    }
    for (double v : fuel.state().space) sum += v;
    EXPECT_NEAR(sum, 0.5 * 0.4 * 0.08, 1e-9);
    if (k == 0) crossed = fuel.state().space[1] - volumes[1];
  }
  for (size_t n = 0; n < middles[0].size(); ++n)
    EXPECT_LT((middles[0][n] - middles[1][n]).norm(), n < 10 ? 1e-5 : 2e-3) << n << ": what parts them grows";
  EXPECT_LT(crossed, -1e-3) << "thrown forward and back again, out of where the foam is";
}

}  // namespace
}  // namespace uadze::resolved
