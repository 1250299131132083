// Foam in the fast model: by its integrals, and beside the resolved fuel where a part of a tank has it.
#include <gtest/gtest.h>

#include "core/base/csv.h"
#include "core/base/files.h"
#include "core/resolved/fuel.h"
#include "core/slosh/foam_drag.h"
#include "core/slosh/planar_tank.h"
#include "support/figures.h"
#include "support/temp_folder.h"

namespace uadze::slosh {
namespace {

using test::down;
using test::g;

tank::TankParts box_with_foam(const Vec3& from, const Vec3& to, double permeability) {
  tank::TankParts parts;
  parts.shapes = {tank::Box{{-0.25, -0.15, 0}, {0.25, 0.15, 0.2}}};
  parts.foam = {
      {.name = "foam", .shape = tank::Box{from, to}, .porosity = 0.97, .permeability = permeability}};
  return parts;
}

TEST(FoamDrag, IsTheFlowsMeanOverWhatIsWet) {
  // Points on a grid, foam within a quarter of the length from the middle: by hand the integral of (1 - x2)^3
  // from 0 to 1/2 over that to 1 is 0.3926/0.4571, of its square 0.4229/0.5333.
  std::vector<tank::FoamPoint> points;
  for (int i = 0; i < 200; ++i)
    for (int k = 0; k < 10; ++k) {
      const double x = -0.25 + 0.5 * (i + 0.5) / 200;
      const bool foam = std::abs(x) < 0.125;
      points.push_back({Vec3(x, 0, 0.02 * k), foam ? 1e7 : 0.0, foam ? 200.0 : 0.0});
    }
  SectionModes modes;
  modes.axis = {Vec3::UnitX(), Vec3::UnitY()};
  modes.length = {0.5, 0.3};
  for (const double level : {0.05, 0.15}) {
    const auto drag = foam_drag(points, {Vec3::UnitZ(), level}, Vec3(0, 0, level), modes);
    EXPECT_NEAR(drag[0].inertial, 200 * 0.3926 / 0.4571, 0.2);
    EXPECT_NEAR(drag[0].darcy, 1e7 * 0.4229 / 0.5333, 1e4);
    EXPECT_NEAR(drag[1].inertial, 100, 1e-9) << "across, half of the fuel";
  }
  EXPECT_EQ(foam_drag(points, {Vec3::UnitZ(), -0.1}, Vec3::Zero(), modes)[0].inertial, 0) << "nothing is wet";
}

/// The tank as one space that foam slows alike, as its mean over the space says.
tank::Tank as_one_space(const tank::TankParts& parts) {
  tank::TankParts bare = parts;
  bare.foam.clear();
  tank::Tank out = assemble(bare).tank;
  const tank::Tank parted = assemble(parts).tank;
  double darcy = 0, inertial = 0;
  for (const tank::Space& s : parted.spaces)
    darcy += s.darcy * s.body.volume(), inertial += s.inertial * s.body.volume();
  out.spaces[0].darcy = darcy / out.volume(), out.spaces[0].inertial = inertial / out.volume();
  return out;
}

/// m: how far the fuel's middle is from the resolved one's in the mean, thrown at 1.2 g along x, let go, and
/// thrown along y; as the model has the tank, and as one space.
std::pair<double, double> apart(const tank::TankParts& parts, double fill) {
  const tank::Tank tank = assemble(parts).tank, one = as_one_space(parts);
  const auto lattice =
      std::make_shared<const resolved::Lattice>(resolved::make_lattice(tank, parts, {.size = 0.025}));
  const double volume = fill * tank.volume();
  const std::vector<double> volumes = level_fill(tank, volume);
  PlanarTank fast(tank, volumes), former(one, {volume});
  fast.settle(down), former.settle(down);
  std::vector<tank::Plane> surfaces;
  for (size_t s = 0; s < fast.size(); ++s) surfaces.push_back(fast.space(s).surface());
  resolved::Fuel fuel(tank, lattice, {});
  fuel.fill(surfaces, volumes);
  double now = 0, then = 0;
  const int rows = 120;
  for (int k = 0; k < rows; ++k) {
    const Vec3 f(k < 40 ? 1.2 * g : 0.0, k >= 80 ? 1.2 * g : 0.0, -g);
    fuel.advance(0.02, {.gravity = f});
    for (PlanarTank* t : {&fast, &former}) t->step(f, 0.02), t->refresh();
    const Vec3 middle = fuel.state().centroid;
    now += (middle - fast.centroid()).norm() / rows, then += (middle - former.centroid()).norm() / rows;
  }
  return {now, then};
}

TEST(FoamParts, AndTheFastModelGoesWithTheResolvedOne) {
  const auto nearer = [](const tank::TankParts& parts, double fill, double most, double share) {
    const auto [now, then] = apart(parts, fill);
    EXPECT_LT(now, most);
    EXPECT_LT(now, share * then) << now << " m, one space " << then;
  };
  nearer(box_with_foam({0, -0.2, -0.1}, {0.3, 0.2, 0.3}, 2e-7), 0.2, 7e-3, 0.5);
  nearer(box_with_foam({-0.3, -0.2, -0.1}, {0.3, 0, 0.3}, 2e-7), 0.2, 30e-3, 0.65);
  nearer(box_with_foam({-0.3, -0.2, -0.1}, {0.3, 0, 0.3}, 1e-8), 0.5, 21e-3, 0.65);
  nearer(box_with_foam({-0.3, -0.2, -0.1}, {0.3, 0.2, 0.1}, 2e-7), 0.2, 17e-3, 0.6);
}

// A slice half full of foam, thrown into it and back: the reference's own 10 mm cells lie 8.7 mm from
// it.
TEST(FoamParts, AsATwoPhaseCalculationHasIt) {
  const std::string file = test::source("tests/data/two-phase/foam-half-5mm.csv").string();
  const CsvTable reference = parse_csv(read_file(file), file);
  tank::TankParts parts;
  parts.shapes = {tank::Box{{0, 0, 0}, {0.04, 0.56, 0.30}}};
  parts.foam = {
      {.name = "foam", .shape = tank::Box{{-1, 0.28, -1}, {1, 1, 1}}, .porosity = 1.0, .permeability = 2e-7}};
  const tank::Tank tank = assemble(parts).tank, one = as_one_space(parts);
  const auto lattice =
      std::make_shared<const resolved::Lattice>(resolved::make_lattice(tank, parts, {.size = 0.02}));
  const std::vector<double> volumes = level_fill(tank, 0.3 * tank.volume());
  PlanarTank fast(tank, volumes), former(one, {0.3 * tank.volume()});
  fast.settle(down), former.settle(down);
  resolved::Fuel fuel(tank, lattice, {.sealed = true});
  fuel.fill(std::vector<tank::Plane>(volumes.size(), {Vec3::UnitZ(), 0.09}), volumes);
  double now = 0, rms[3] = {};
  for (const auto& row : reference.rows) {
    for (; now < *parse_number(row[0]) - 1e-9; now += 0.01) {
      const Vec3 f(0, now < 0.8 - 1e-9 ? g : now < 1.8 - 1e-9 ? -g : 0.0, -g);
      fuel.advance(0.01, {.gravity = f});
      for (PlanarTank* t : {&fast, &former}) t->step(f, 0.01), t->refresh();
    }
    const double middles[] = {fuel.state().centroid.y(), fast.centroid().y(), former.centroid().y()};
    for (int k = 0; k < 3; ++k)
      rms[k] += std::pow(middles[k] - *parse_number(row[1]), 2) / static_cast<double>(reference.rows.size());
  }
  EXPECT_LT(std::sqrt(rms[0]), 0.010) << "the resolved fuel";
  EXPECT_LT(std::sqrt(rms[1]), 0.012) << "the fast model";
  EXPECT_GT(std::sqrt(rms[2]), 0.020) << "with one space";
}

TEST(FoamParts, WithoutACostWhereTheFuelStandsStill) {
  // Across the edge the fuel comes to one level, and what was beside it runs in: by the edge's discharge
  // within seconds.
  const tank::Tank tank = assemble(box_with_foam({0, -0.2, -0.1}, {0.3, 0.2, 0.3}, 2e-7)).tank;
  const double volume = 0.4 * tank.volume();
  PlanarTank fuel(tank, {volume, 0.0});
  fuel.settle(down);
  for (int k = 0; k < 500; ++k) fuel.step(Vec3(0, 0, -g), 0.02);
  fuel.refresh();
  EXPECT_NEAR(fuel.volume(), volume, 1e-15);
  EXPECT_NEAR(fuel.space(0).surface().offset, fuel.space(1).surface().offset, 5e-4);
}

}  // namespace
}  // namespace uadze::slosh
