// The resolved fuel against two-phase calculations made for the purpose (tests/data/two-phase/README.md):
// tanks thrown one way and then another.
#include <gtest/gtest.h>

#include "core/resolved/fuel.h"
#include "core/slosh/planar_tank.h"
#include "support/two_phase.h"

namespace uadze::resolved {
namespace {

test::ApartFromTwoPhase against_two_phase(const char* name) {
  const test::TwoPhase reference = test::two_phase(name);
  const tank::Tank& tank = reference.tank;
  const auto lattice = std::make_shared<const Lattice>(make_lattice(tank, reference.parts, {.size = 0.02}));
  Fuel fuel(tank, lattice, {});
  const std::vector<double> volumes = slosh::level_fill(tank, reference.volume);
  std::vector<tank::Plane> level;
  for (size_t k = 0; k < volumes.size(); ++k) {
    tank::PlaneCutter cutter(tank.spaces[k].solid);
    cutter.aim(Vec3::UnitZ());
    level.push_back({Vec3::UnitZ(), cutter.offset_for(volumes[k]).offset});
  }
  fuel.fill(level, volumes);
  const auto moved = [&](const Vec3& gravity, double dt) { fuel.advance(dt, {.gravity = gravity}); };
  const auto where = [&] {
    const State state = fuel.state();
    EXPECT_NEAR(state.volume, reference.volume, 1e-11);
    return test::WhereFuelIs{state.centroid, state.space[reference.held_by]};
  };
  return reference.apart(moved, where);
}

TEST(ResolvedTwoPhase, AThrownBoxGoesWithIt) {
  // Of a middle that moves by 170 mm; the fast model is 33 mm off.
  const auto a = against_two_phase("box");
  EXPECT_LT(a.level, 0.021);
  EXPECT_LT(a.height, 0.0125);
}

TEST(ResolvedTwoPhase, ABlowOnWallAndLidLosesLittle) {
  // A box two cells wide, so that the reference could have cells of 5 mm: a third of these.
  const double cell = 0.015;
  const tank::Tank tank = tank::plain_tank(make_solid(tank::Box{{0, 0, 0}, {2 * cell, 0.56, 0.22}}));
  const auto lattice = std::make_shared<const Lattice>(make_lattice(tank, {}, {.size = cell}));
  const std::string file = test::source("tests/data/two-phase/thrown-thin-5mm.csv").string();
  const auto reference = parse_csv(read_file(file), file);
  const double level = 0.27 * 0.22, starts = 4;
  double apart = 0, count = 0;
  for (int start = 0; start < starts; ++start) {
    // Levels that part by next to nothing: one run is no measure.
    Fuel fuel(tank, lattice, {.sealed = true});
    fuel.fill({{Vec3::UnitZ(), level}}, {2 * cell * 0.56 * level * (1 + 1e-5 * start)});
    for (const auto& row : reference.rows) {
      const auto figure = [&](size_t column) { return parse_number(row[column]).value(); };
      // Until the fuel has to let gas in to leave the lid.
      if (figure(0) > 0.36) break;
      fuel.advance(0.05, {.gravity = Vec3(0, -1.5 * test::g, -test::g)});
      const Vec3 is = fuel.state().centroid;
      apart += std::pow(is.y() - figure(1), 2) + std::pow(is.z() - figure(2), 2), ++count;
    }
  }
  EXPECT_LT(std::sqrt(apart / count), 0.009) << "13 mm with steps of two cells";
}

TEST(ResolvedTwoPhase, ACollectorHoldsAndSpillsAsThere) {
  const auto middle = against_two_phase("box-with-pot");
  EXPECT_LT(middle.level, 0.014) << "the fast model is 33 mm off";
  EXPECT_LT(middle.height, 0.006);
  EXPECT_LT(middle.held, 0.12e-3) << "of 2.3 L at the begin, 0.7 at the end";
  const auto aside = against_two_phase("box-with-pot-aside");
  EXPECT_LT(aside.level, 0.014) << "the fast model is 26 mm off";
  EXPECT_LT(aside.height, 0.008);
  EXPECT_LT(aside.held, 0.12e-3);
}

TEST(ResolvedTwoPhase, ASaddleSpillsOverItsTunnelAsThere) {
  const auto a = against_two_phase("saddle");
  EXPECT_LT(a.level, 0.012);
  EXPECT_LT(a.height, 0.008);
  EXPECT_LT(a.held, 0.32e-3) << "of 6 L at the begin, 9.2 after a second";
}

TEST(ResolvedTwoPhase, AFlapLetsThroughOneWayAndHolds) {
  // What splashes back over the wall's top when all is thrown against the shut flap is 1.7 L here, 1.1 there.
  const auto a = against_two_phase("box-with-flap");
  EXPECT_LT(a.level, 0.029);
  EXPECT_LT(a.height, 0.012);
  EXPECT_LT(a.held, 0.36e-3) << "of 1.8 L at the begin, 3.3 when the flap shuts";
}

}  // namespace
}  // namespace uadze::resolved
