// The tank on the resolved solver's cells, and its systems of equations.
#include <gtest/gtest.h>
#include <tbb/global_control.h>

#include <Eigen/Dense>
#include <cmath>
#include <numbers>

#include "core/base/message.h"
#include "core/resolved/cast.h"
#include "core/resolved/lattice.h"
#include "core/resolved/poisson.h"
#include "core/tank/shape.h"
#include "support/random_shapes.h"
#include "support/refusal.h"

namespace uadze::resolved {
namespace {

tank::Assembly box_with(std::vector<tank::Baffle> baffles, std::vector<tank::Collector> collectors = {}) {
  tank::TankParts parts;
  parts.shapes = {tank::Box{{-0.3, -0.2, 0}, {0.3, 0.2, 0.25}}};
  parts.baffles = std::move(baffles), parts.collectors = std::move(collectors);
  return assemble(parts);
}

double open_area(const Lattice& grid, int opening) {
  double out = 0;
  for (int a = 0; a < 3; ++a)
    for (size_t c = 0; c < grid.capacity.size(); ++c)
      if (grid.opening[a][c] == opening) out += grid.area[a][c];
  return out;
}

TEST(ResolvedLattice, HoldsTheTanksVolumeWhateverItsShape) {
  test::Random r(41);
  for (int round = 0; round < 25; ++round) {
    const tank::Tank tank = tank::plain_tank(make_solid(r.prism()));
    const Lattice grid = make_lattice(tank, {}, {.size = r.uniform(0.012, 0.04)});
    EXPECT_NEAR(grid.volume() / tank.volume(), 1, 0.02) << round;
    for (size_t c = 0; c < grid.capacity.size(); ++c) {
      EXPECT_GE(grid.capacity[c], 0);
      for (int a = 0; a < 3; ++a) {
        const double area = grid.area[a][c];
        EXPECT_GE(area, 0);
        // What a face lets through leads from one cell that holds fuel to another.
        if (area > 0) {
          EXPECT_TRUE(grid.open(static_cast<int>(c)) && grid.open(static_cast<int>(c) - grid.step(a)));
        }
      }
    }
  }
}

TEST(ResolvedLattice, RoundShapesByTheirVolumes) {
  const double pi = std::numbers::pi;
  for (const auto& [shape, volume] : std::vector<std::pair<tank::Shape, double>>{
           {tank::Sphere{.centre = {0.1, 0, 0}, .radius = 0.2}, 4 * pi / 3 * 0.008},
           {tank::Cylinder{.start = {0, -0.3, 0}, .end = {0, 0.3, 0}, .radius = 0.15}, pi * 0.0225 * 0.6}}) {
    const Lattice grid = make_lattice(tank::plain_tank(make_solid(shape)), {}, {.size = 0.02});
    EXPECT_NEAR(grid.volume() / volume, 1, 1e-3);
    EXPECT_FALSE(grid.inside.empty());
  }
}

TEST(ResolvedLattice, APlateThinnerThanACellIsExactlyWhereItIs) {
  const auto made =
      box_with({{.name = "plate", .point = {0.0317, 0, 0}, .normal = Vec3::UnitX(), .top = 0.2}});
  ASSERT_EQ(made.tank.spaces.size(), 2u);
  const Lattice grid = make_lattice(made.tank, *made.parts, {.size = 0.02});
  for (size_t s = 0; s < 2; ++s) {
    double room = 0;
    for (size_t c = 0; c < grid.capacity.size(); ++c)
      if (grid.space[c] == static_cast<int>(s)) room += grid.capacity[c];
    EXPECT_NEAR(room, made.tank.spaces[s].body.volume(), 1e-12);
  }
  ASSERT_EQ(made.tank.openings.size(), 1u);
  // Faces that its edge cuts are open as porous plates: a row of cells more at the most.
  EXPECT_GE(open_area(grid, 0), 0.4 * 0.05 - 1e-9);
  EXPECT_LE(open_area(grid, 0), 0.4 * (0.05 + 0.02));
}

TEST(ResolvedLattice, SmallHolesDischargeAsEnteredAndLargeOnesByThemselves) {
  const auto with = [](double diameter) {
    return box_with({{.name = "plate",
                      .point = {0, 0, 0},
                      .normal = Vec3::UnitX(),
                      .openings = {{.name = "hole", .at = {0, 0, 0.1}, .diameter = diameter}}}});
  };
  const auto resistances = [](const tank::Assembly& made) {
    const Lattice grid = make_lattice(made.tank, *made.parts, {.size = 0.02});
    std::vector<std::pair<double, double>> out;  // share of the face, resistance
    for (size_t c = 0; c < grid.capacity.size(); ++c)
      if (grid.opening[0][c] == 0) out.emplace_back(grid.area[0][c], grid.resistance[0][c]);
    return out;
  };
  // Less than a cell: by hand, k = 1/(a Cd)2 - 1 with all of it in the faces that it lies on.
  const auto small = resistances(with(0.008));
  double through = 0;
  for (const auto& [area, k] : small) through += area / std::sqrt(1 + k);
  EXPECT_NEAR(through, 0.62 * std::numbers::pi / 4 * 0.008 * 0.008, 2e-6) << "a jet of what Torricelli has";
  const auto large = resistances(with(0.16));
  EXPECT_GT(large.size(), 40u);
  EXPECT_EQ(std::count_if(large.begin(), large.end(), [](const auto& f) { return f.second > 0.3; }) * 2 <
                static_cast<std::ptrdiff_t>(large.size()),
            true)
      << "its middle is free";
}

TEST(ResolvedLattice, BadSizesAndTooManyCellsAreSaid) {
  const auto made = box_with({});
  for (const double size : {0.0, -1.0, double(NAN), 1e9, 1e-6})
    EXPECT_THROW(make_lattice(made.tank, *made.parts, {.size = size}), InputError) << size;
  EXPECT_NE(
      test::refusal([&] { make_lattice(made.tank, *made.parts, {.size = 2e-4}); }).find("choose larger ones"),
      std::string::npos);
  // A collector smaller than the cells is told.
  const auto small = box_with({}, {{.name = "cup", .shape = tank::Box{{0, 0, 0}, {0.02, 0.02, 0.02}}}});
  const Lattice grid = make_lattice(small.tank, *small.parts, {.size = 0.05});
  ASSERT_FALSE(grid.said.empty());
  EXPECT_NE(grid.said.back().find("cup"), std::string::npos);
}

TEST(ResolvedCast, GoesInAndOutAsThePointsDo) {
  test::Random r(7);
  for (int round = 0; round < 20; ++round) {
    const tank::Tank tank = tank::plain_tank(make_solid(r.prism()));
    const int a = r.whole(0, 2);
    const Vec3 p = tank.lower_corner() + r.uniform(0.1, 0.9) * (tank.upper_corner() - tank.lower_corner());
    const auto through = cast(tank, a, {p[(a + 1) % 3]}, {p[(a + 2) % 3]})[0];
    for (int k = 0; k < 50; ++k) {
      Vec3 at = p;
      at[a] = tank.lower_corner()[a] + (k + 0.5) / 50 * (tank.upper_corner() - tank.lower_corner())[a];
      const bool in = std::any_of(through.begin(), through.end(),
                                  [&](const Stretch& s) { return at[a] > s.from && at[a] < s.to; });
      EXPECT_EQ(in, tank.contains(at)) << round << " at " << k;
    }
  }
}

/// Cells of a grid from its four corners along x and y towards the middle, or one after another; where ranges
/// that are not joined end.
std::vector<int> numbered(const int count[3], bool apart, std::vector<int>& ends) {
  std::vector<int> row(static_cast<size_t>(count[0] * count[1] * count[2]));
  int next = 0;
  const auto column = [&](int i, int j) {
    for (int k = 0; k < count[2]; ++k) row[static_cast<size_t>((i * count[1] + j) * count[2] + k)] = next++;
  };
  const int x = apart ? count[0] / 2 : count[0], y = apart ? count[1] / 2 : count[1];
  const std::vector<std::array<int, 2>> ways{{0, 1}, {1, -1}};
  for (const auto& [high_x, way_x] : ways)
    for (const auto& [high_y, way_y] : ways) {
      for (int i = high_x ? count[0] - 1 : 0; way_x * i < way_x * x; i += way_x)
        for (int j = high_y ? count[1] - 1 : 0; way_y * j < way_y * y; j += way_y) column(i, j);
      if (apart) ends.push_back(next);
    }
  if (!apart) return row;
  for (const auto& [high, way] : ways)
    for (int i = high ? count[0] - 1 : 0; way * i < way * x; i += way) column(i, y);
  for (const auto& [high, way] : ways)
    for (int j = high ? count[1] - 1 : 0; way * j < way * y; j += way) column(x, j);
  column(x, y);
  return row;
}

TEST(ResolvedPoisson, AnyGridAgainstADenseSolution) {
  test::Random r(3);
  for (int round = 0; round < 16; ++round) {
    const int count[3]{r.whole(1, 9), r.whole(1, 9), r.whole(1, 14)}, n = count[0] * count[1] * count[2];
    std::vector<int> ends;
    const std::vector<int> row = numbered(count, round % 2 == 1, ends);
    Poisson system;
    system.begin(n, ends);
    Eigen::MatrixXd dense = Eigen::MatrixXd::Zero(n, n);
    Eigen::VectorXd right(n);
    const int step[3]{count[1] * count[2], count[2], 1};
    for (int c = 0; c < n; ++c) {
      const int at[3]{c / step[0], c % step[0] / step[1], c % step[1]}, low = row[static_cast<size_t>(c)];
      dense(low, low) += 0.01, right(low) = r.uniform(-1, 1);
      for (int a = 0; a < 3; ++a) {
        if (at[a] + 1 >= count[a]) continue;
        const int high = row[static_cast<size_t>(c + step[a])];
        // A single number, as couplings are kept.
        const auto k = static_cast<double>(static_cast<float>(r.uniform(0.01, 5)));
        dense(low, low) += k, dense(high, high) += k;
        dense(low, high) -= k, dense(high, low) -= k;
        system.join(a, low, high, k);
      }
    }
    for (int c = 0; c < n; ++c)
      system.diagonal[static_cast<size_t>(c)] = dense(c, c), system.right[static_cast<size_t>(c)] = right(c);
    Poisson again = system;
    const Solved solved = system.solve({.enough = 1e-7, .most = 2000});
    EXPECT_LE(solved.left, 1e-7);
    const Eigen::VectorXd x = dense.ldlt().solve(right);
    for (int c = 0; c < n; ++c)
      EXPECT_NEAR(system.x[static_cast<size_t>(c)], x(c), 1e-5 * (1 + x.cwiseAbs().maxCoeff()));
    const tbb::global_control one(tbb::global_control::max_allowed_parallelism, 1);
    again.solve({.enough = 1e-7, .most = 2000});
    EXPECT_EQ(again.x, system.x) << "on one thread";
  }
}

TEST(ResolvedPoisson, RangesSideBySideTakeNoMoreIterations) {
  // A body of fuel with a surface over it, by columns from end to end and from its corners: nothing is cut
  // off the factor for the ranges' sake.
  int iterations[2]{};
  for (const bool apart : {false, true}) {
    const int count[3]{24, 20, 10}, step[3]{200, 10, 1};
    std::vector<int> ends;
    const std::vector<int> row = numbered(count, apart, ends);
    Poisson system;
    system.begin(24 * 20 * 10, ends);
    for (int c = 0; c < system.rows(); ++c) {
      const int at[3]{c / step[0], c % step[0] / step[1], c % step[1]}, low = row[static_cast<size_t>(c)];
      system.right[static_cast<size_t>(low)] = std::sin(0.3 * at[0]) + std::cos(0.2 * at[1] + at[2]);
      if (at[2] + 1 == count[2]) system.diagonal[static_cast<size_t>(low)] += 2;
      for (int a = 0; a < 3; ++a) {
        if (at[a] + 1 >= count[a]) continue;
        const int high = row[static_cast<size_t>(c + step[a])];
        system.diagonal[static_cast<size_t>(low)] += 1, system.diagonal[static_cast<size_t>(high)] += 1;
        system.join(a, low, high, 1.0);
      }
    }
    iterations[apart] = system.solve({.enough = 1e-4}).iterations;
  }
  EXPECT_LT(iterations[0], 40);
  EXPECT_LE(iterations[1], 1.15 * iterations[0]);
}

}  // namespace
}  // namespace uadze::resolved
