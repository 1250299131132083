// The resolved fuel against two-phase calculations made for the purpose (tests/data/two-phase/README.md): a
// box thrown one way and then across, empty, with an open collector in its middle, and with one aside.
#include <gtest/gtest.h>

#include "core/base/csv.h"
#include "core/base/files.h"
#include "core/base/units.h"
#include "core/resolved/fuel.h"
#include "core/tank/shape.h"
#include "support/figures.h"
#include "support/temp_folder.h"

namespace uadze::resolved {
namespace {

using test::g;

struct Apart {
  double level = 0.0, height = 0.0;  ///< m, root mean square of the middle's distance: on the level, upward
  double pot = 0.0;                  ///< L, root mean square of what the collector holds
};
Apart against_two_phase(const std::string& name, double fill, const std::optional<tank::Box>& pot,
                        const Vec3& first, const Vec3& then) {
  tank::TankParts parts;
  parts.shapes = {tank::Box{{-0.25, -0.28, 0}, {0.25, 0.28, 0.22}}};
  if (pot) parts.collectors = {{"pot", *pot, true, {}}};
  const tank::Tank tank = assemble(parts).tank;
  const auto lattice = std::make_shared<const Lattice>(make_lattice(tank, parts, {.size = 0.02}));
  Fuel fuel(tank, lattice, {});
  const double volume = fill * 0.5 * 0.56 * 0.22;
  const std::vector<tank::Plane> level(tank.spaces.size(), {Vec3::UnitZ(), fill * 0.22});
  std::vector<double> volumes;
  double sum = 0;
  for (size_t s = 0; s < tank.spaces.size(); ++s)
    sum += volumes.emplace_back(moments_below(tank.spaces[s].solid, level[s]).volume);
  for (double& v : volumes) v *= volume / sum;
  fuel.fill(level, volumes);
  const std::string file = test::source("tests/data/two-phase/" + name).string();
  const CsvTable reference = parse_csv(read_file(file), file);
  Apart out;
  double now = 0;
  const auto rows = static_cast<double>(reference.rows.size());
  for (const auto& row : reference.rows) {
    const auto figure = [&](size_t column) { return parse_number(row[column]).value(); };
    for (; now < figure(0) - 1e-9; now += 0.01)
      fuel.advance(0.01, {.gravity = now < 1 - 1e-9 ? first : then});
    const State state = fuel.state();
    const Vec3 off = state.centroid - Vec3(figure(1), figure(2), figure(3)) * 1e-3;
    out.level += off.head<2>().squaredNorm() / rows, out.height += off.z() * off.z() / rows;
    for (size_t s = 0; s < tank.spaces.size(); ++s)
      if (tank.spaces[s].name == "pot") out.pot += std::pow(state.space[s] * 1e3 - figure(5), 2) / rows;
    EXPECT_NEAR(state.volume, volume, 1e-11);
  }
  return {std::sqrt(out.level), std::sqrt(out.height), std::sqrt(out.pot)};
}

TEST(ResolvedTwoPhase, AThrownBoxGoesWithIt) {
  // Of a middle that moves by 170 mm; the fast model is 33 mm off.
  const Apart a = against_two_phase("box.csv", 0.27, {}, Vec3(1.2 * g, 0, -g), Vec3(0, 1.2 * g, -g));
  EXPECT_LT(a.level, 0.021);
  EXPECT_LT(a.height, 0.011);
}

TEST(ResolvedTwoPhase, ACollectorHoldsAndSpillsAsThere) {
  const Apart middle =
      against_two_phase("box-with-pot.csv", 0.27, tank::Box{{-0.1, -0.098, 0}, {0.1, 0.098, 0.12375}},
                        Vec3(1.2 * g, 0, -g), Vec3(0, 1.2 * g, -g));
  EXPECT_LT(middle.level, 0.014) << "the fast model is 33 mm off";
  EXPECT_LT(middle.height, 0.006);
  EXPECT_LT(middle.pot, 0.12) << "of 2.3 L at the begin, 0.7 at the end";
  const Apart aside =
      against_two_phase("box-with-pot-aside.csv", 0.40, tank::Box{{-0.15, 0.042, 0}, {-0.05, 0.14, 0.12375}},
                        Vec3(0, g, -g), Vec3(1.2 * g, 0, -g));
  EXPECT_LT(aside.level, 0.014) << "the fast model is 26 mm off";
  EXPECT_LT(aside.height, 0.008);
  EXPECT_LT(aside.pot, 0.12);
}

}  // namespace
}  // namespace uadze::resolved
