// The resolved fuel against closed forms, published figures, conservation and symmetry.
#include <fmt/format.h>
#include <gtest/gtest.h>
#include <tbb/global_control.h>

#include <numbers>

#include "core/resolved/fuel.h"
#include "core/resolved/surface.h"
#include "core/slosh/modes.h"
#include "core/slosh/planar.h"
#include "core/tank/shape.h"
#include "support/figures.h"
#include "support/random_shapes.h"

namespace uadze::resolved {
namespace {

using test::g;

/// A tank with its cells, kept together.
struct Rig {
  tank::TankParts parts;
  tank::Tank tank;
  std::shared_ptr<const Lattice> lattice;

  Rig(const tank::Shape& shape, double size) : tank(tank::plain_tank(make_solid(shape))) { cells(size); }
  Rig(tank::TankParts p, double size) : parts(std::move(p)), tank(assemble(parts).tank) { cells(size); }
  void cells(double size) {
    lattice = std::make_shared<const Lattice>(make_lattice(tank, parts, {.size = size}));
  }
  /// Filled under a plane along a direction, all spaces to one height.
  Fuel filled(const Vec3& up, double volume, const FuelOptions& options = {}) const {
    Fuel fuel(tank, lattice, options);
    tank::PlaneCutter cut(tank.whole);
    cut.aim(up.normalized());
    const tank::Plane plane{up.normalized(), cut.offset_for(volume).offset};
    std::vector<double> volumes;
    for (const tank::Space& s : tank.spaces) volumes.push_back(moments_below(s.solid, plane).volume);
    fuel.fill(std::vector<tank::Plane>(volumes.size(), plane), volumes);
    return fuel;
  }
};

Vec3 settled_centroid(const tank::Tank& tank, double volume, const Vec3& f) {
  tank::PlaneCutter cut(tank.whole);
  cut.aim(-f.normalized());
  return cut.cut(cut.offset_for(volume).offset).below.centroid();
}

TEST(ResolvedFuel, AtRestItStaysAtRestInAnyShape) {
  const std::vector<tank::Shape> shapes{
      tank::Box{{0, 0, 0}, {0.31, 0.22, 0.2}}, tank::Sphere{.centre = {0, 0, 0}, .radius = 0.15},
      tank::Cylinder{.start = {0, -0.2, 0}, .end = {0, 0.2, 0}, .radius = 0.12},
      tank::Prism{.axis = tank::Axis::y,
                  .profile = {{-0.2, 0}, {0.2, 0}, {0.1, 0.2}, {-0.2, 0.2}},
                  .from = -0.15,
                  .to = 0.15}};
  for (const auto& shape : shapes) {
    const Rig rig(shape, 0.02);
    const double volume = 0.4 * rig.tank.volume();
    Fuel fuel = rig.filled(Vec3::UnitZ(), volume);
    const Vec3 begin = fuel.state().centroid;
    fuel.advance(1.0, {});
    const State s = fuel.state();
    EXPECT_NEAR(s.volume, volume, 1e-9 * volume);
    EXPECT_NEAR(s.filled / volume, 1, 3e-3);
    EXPECT_LT((s.centroid - begin).norm(), 1e-3) << shape.index();
    EXPECT_LT(s.energy, 2e-3 * fuel.lattice().volume() * 745 * g * 0.1) << shape.index();
  }
}

TEST(ResolvedFuel, StandsTiltedUnderASteadyPush) {
  const Rig rig(tank::Box{{0, 0, 0}, {0.4, 0.3, 0.3}}, 0.02);
  const double volume = 0.35 * rig.tank.volume();
  for (const Vec3& push : {Vec3(0.5 * g, 0, -g), Vec3(-0.3 * g, 0.4 * g, -g)}) {
    Fuel fuel = rig.filled(-push, volume);
    Vec3 mean = Vec3::Zero();
    for (int k = 0; k < 20; ++k) fuel.advance(0.05, {.gravity = push}), mean += fuel.state().centroid / 20;
    // Within a tenth of a cell.
    EXPECT_LT((mean - settled_centroid(rig.tank, volume, push)).norm(), 2e-3);
  }
}

/// The frequency (rad/s) and damping of the fuel's middle along an axis, let go from a slight tilt.
struct Swing {
  double frequency = 0.0, damping = 0.0;
  double at_first = 0.0;  ///< rad/s, by its first quarter
};
Swing swing(const Rig& rig, double volume, int axis, double about, double tilt) {
  Vec3 up = Vec3::UnitZ();
  up[axis] = -tilt;
  Fuel fuel = rig.filled(up, volume);
  const double middle = settled_centroid(rig.tank, volume, Vec3(0, 0, -g))[axis], dt = 0.01;
  double before = fuel.state().centroid[axis] - middle, peak = 0;
  std::vector<double> crossings, peaks;
  for (int k = 1; k * dt < 4.2 * 2 * std::numbers::pi / about; ++k) {
    fuel.advance(dt, {});
    const double now = fuel.state().centroid[axis] - middle;
    peak = std::max(peak, std::abs(now));
    if (before * now < 0) {
      crossings.push_back((k - 1) * dt + dt * before / (before - now));
      peaks.push_back(peak);
      peak = 0;
    }
    before = now;
  }
  Swing out;
  if (crossings.size() < 4) return out;
  out.at_first = std::numbers::pi / 2 / crossings.front();
  out.frequency =
      std::numbers::pi * static_cast<double>(crossings.size() - 1) / (crossings.back() - crossings.front());
  out.damping =
      std::log(peaks[1] / peaks.back()) / (std::numbers::pi * static_cast<double>(peaks.size() - 2));
  return out;
}

/// m: the middle's way in a box of length `l` and depth `h` a time after a steady push sets in, by linear
/// theory: sum over the odd modes of their share of the mass 8 tanh(kh)/(n3 pi3 h/l) (Abramson 1966), each
/// a/w2 (1 - cos wt), w2 = g k tanh(kh), k = n pi/l.
double linear_way(double push, double time, double h, double l) {
  double sum = 0;
  for (int n = 1; n < 800; n += 2) {
    const double k = n * std::numbers::pi / l, w2 = g * k * std::tanh(k * h);
    const double share = 8 * std::tanh(k * h) / (std::pow(n * std::numbers::pi, 3) * h / l);
    sum += share * push / w2 * (1 - std::cos(std::sqrt(w2) * time));
  }
  return sum;
}

TEST(ResolvedFuel, SetsOffAsLinearTheoryHasIt) {
  test::Random random(47);
  for (int k = 0; k < 12; ++k) {
    const double along = random.uniform(0.3, 0.6), deep = random.uniform(0.06, 0.2);
    const double push = random.uniform(0.3, 1.5) * g;
    const int axis = random.whole(0, 1);
    Vec3 size(0.2, 0.2, 0.4);
    size[axis] = along;
    const Rig rig(tank::Box{{0, 0, 0}, size}, 0.02);
    Fuel fuel = rig.filled(Vec3::UnitZ(), size.x() * size.y() * deep);
    Vec3 gravity(0, 0, -g);
    gravity[axis] = -push;
    fuel.advance(0.04, {.gravity = gravity});
    const double way = along / 2 - fuel.state().centroid[axis];
    EXPECT_NEAR(way / linear_way(push, 0.04, deep, along), 1, 0.03) << along << " long, " << deep << " deep";
  }
}

TEST(ResolvedFuel, SwingsAtItsNaturalFrequency) {
  struct Case {
    const char* name;
    tank::Shape shape;
    int axis;
    double fill;
  };
  for (const Case& c : std::vector<Case>{
           {"box", tank::Box{{-0.25, -0.06, 0}, {0.25, 0.06, 0.3}}, 0, 0.3},
           {"upright", tank::Cylinder{.start = {0, 0, 0}, .end = {0, 0, 0.3}, .radius = 0.2}, 0, 0.5},
           {"lying", tank::Cylinder{.start = {-0.25, 0, 0.15}, .end = {0.25, 0, 0.15}, .radius = 0.15}, 1,
            0.3},
           {"sphere", tank::Sphere{.centre = {0, 0, 0}, .radius = 0.2}, 0, 0.5}}) {
    const Rig rig(c.shape, 0.02);
    const double volume = c.fill * rig.tank.volume();
    const auto modes = slosh::first_modes(rig.tank.whole, volume, Vec3(0, 0, -g));
    double mode = 0;
    for (size_t k = modes.frequency.size(); k-- > 0;)
      if (std::abs(modes.direction[k][c.axis]) > 0.3) mode = modes.frequency[k];
    ASSERT_GT(mode, 1) << c.name;
    const Swing is = swing(rig, volume, c.axis, mode, 0.1);
    EXPECT_NEAR(is.frequency / mode, 1, 0.015) << c.name << " at " << c.fill;
    EXPECT_LT(std::abs(is.damping), 0.02) << c.name << " at " << c.fill;
  }
}

TEST(ResolvedFuel, RoundABlockItSwingsAsAPlaneDoes) {
  // Fuel round three sides of a block: a tilt is parted into three modes, of which the lowest has a twentieth
  // (a gap of 10 mm before the block) to a third (60 mm) and is a fifth slower.
  for (const auto& [room, fill] : {std::pair{-0.07, 0.25}, {-0.03, 0.25}, {-0.03, 0.45}}) {
    tank::TankParts parts;
    parts.shapes = {tank::Box{{-0.23, -0.325, 0}, {room, 0.325, 0.24}}};
    parts.bodies = {{"block", tank::Box{{-0.23, -0.11, 0}, {room == -0.07 ? -0.08 : -0.09, 0.11, 0.24}}}};
    const Rig rig(parts, 0.02);
    const double volume = fill * rig.tank.volume();
    const slosh::PlaneSwing plane = slosh::plane_swing(rig.tank.spaces[0].body, volume);
    const int axis = std::abs(plane.section.axis[0].x()) > 0.9 ? 0 : 1;
    const double wanted = plane.frequency[static_cast<size_t>(axis)];
    const Swing is = swing(rig, volume, 0, wanted, 0.1);
    EXPECT_NEAR(is.at_first / wanted, 1, 0.04) << room << " " << fill;
    if (room == -0.07) {
      EXPECT_NEAR(is.frequency / wanted, 1, 0.04);
    }
  }
}

TEST(ResolvedFuel, RunsThroughAHoleByTorricelli) {
  for (const auto& [name, opening] : std::vector<std::pair<std::string, tank::OpeningPart>>{
           {"half a cell", {.name = "hole", .at = {0, 0, 0.06}, .diameter = 0.014}},
           {"two cells", {.name = "hole", .at = {0, 0, 0.06}, .diameter = 0.034}},
           {"four cells",
            {.name = "slot",
            .form = tank::OpeningForm::slot,
            .at = {0, 0, 0.06},
            .width = 0.08,
            .height = 0.08}}}) {
    tank::TankParts parts;
    parts.shapes = {tank::Box{{-0.3, -0.1, 0}, {0.3, 0.1, 0.3}}};
    parts.baffles = {{.name = "plate", .point = {0, 0, 0}, .normal = Vec3::UnitX(), .openings = {opening}}};
    const Rig rig(parts, 0.02);
    Fuel fuel(rig.tank, rig.lattice, {});
    const size_t full = rig.tank.spaces[0].body.centroid().x() < 0 ? 0 : 1;
    std::vector<double> volumes(2, 0.0);
    volumes[full] = 0.3 * 0.2 * 0.24;
    fuel.fill(std::vector<tank::Plane>(2, {Vec3::UnitZ(), 0.24}), volumes);
    fuel.advance(0.1, {});
    const double before = fuel.state().space[1 - full];
    double ideal = 0;
    const double area = rig.tank.openings[0].area;
    while (fuel.time() < 0.6 && fuel.state().space[1 - full] / 0.06 < 0.025) {
      ideal += 0.05 * area * std::sqrt(2 * g * (fuel.state().space[full] / 0.06 - 0.06));
      fuel.advance(0.05, {});
    }
    const State s = fuel.state();
    EXPECT_NEAR((s.space[1 - full] - before) / ideal, 0.62, 0.1)
        << name << ": some hundred particles through the smallest";
    EXPECT_NEAR(std::abs(s.through[0]), s.space[1 - full], 1e-9) << name << ": what went through is there";
    EXPECT_NEAR(s.volume, volumes[full], 1e-11);
  }
}

TEST(ResolvedFuel, ABrokenDamRunsAsItWasMeasured) {
  // Martin and Moyce 1952 (Phil. Trans. R. Soc. A 244), a column twice as high as wide: the front's place
  // over the width, against time times the root of 2 g over the width.
  const double width = 0.15;
  const Rig rig(tank::Box{{0, 0, 0}, {0.75, 0.06, 0.3}}, 0.015);
  Fuel fuel(rig.tank, rig.lattice, {});
  fuel.fill({{Vec3::UnitX(), width}}, {width * 0.06 * 0.3});
  std::vector<double> reached(5,
                              0.0);  // dimensionless time at which the front is at 1.5, 2, 2.5, 3, 3.5 widths
  for (int k = 0; k < 200 && reached.back() == 0; ++k) {
    fuel.advance(0.005, {});
    double front = 0;
    for (const Particle& p : fuel.particles()) front = std::max(front, p.x[0]);
    for (size_t m = 0; m < reached.size(); ++m)
      if (reached[m] == 0 && front >= (1.5 + 0.5 * static_cast<double>(m)) * width)
        reached[m] = fuel.time() * std::sqrt(2 * g / width);
  }
  // By their table, 1.25, 1.73, 2.15, 2.51 and 2.87; a gate that has to be drawn costs a real one some 0.2.
  const double measured[5]{1.25, 1.73, 2.15, 2.51, 2.87};
  for (size_t m = 0; m < 5; ++m) EXPECT_NEAR(reached[m], measured[m] - 0.15, 0.25) << m;
  EXPECT_NEAR((reached[4] - reached[1]) / (measured[4] - measured[1]), 1, 0.12) << "its speed";
}

TEST(ResolvedFuel, KeepsItsVolumeWhileItIsThrown) {
  const Rig rig(tank::Box{{0, 0, 0}, {0.5, 0.56, 0.22}}, 0.03);
  const double volume = 0.27 * rig.tank.volume();
  Fuel fuel = rig.filled(Vec3::UnitZ(), volume);
  for (int k = 0; k < 40; ++k) {
    fuel.advance(0.05, {.gravity = k < 20 ? Vec3(0, -1.5 * g, -g) : Vec3(1.5 * g, 0, -g)});
    const State s = fuel.state();
    EXPECT_NEAR(s.volume / volume, 1, 1e-9);
    // Blows on the lid and the far wall too: with cells of 30 mm, a percent and a bit.
    EXPECT_NEAR(s.filled / volume, 1, 0.013) << k;
    // What cells see is what particles brought: nothing is left where they were.
    double seen = 0;
    for (size_t c = 0; c < fuel.share().size(); ++c) seen += fuel.share()[c] * rig.lattice->spread[c];
    EXPECT_NEAR(seen / volume, 1, 1e-5) << k;
    for (const Particle& p : fuel.particles()) {
      ASSERT_TRUE(rig.tank.contains(Vec3(p.x[0], p.x[1], p.x[2])));
    }
  }
}

TEST(ResolvedFuel, GasThatIsShutInGivesNoEnergy) {
  // What gravity has given, and no more: per kilogram, over the deepest that the fuel can fall.
  const Rig rig(tank::Box{{0, 0, 0}, {0.50, 0.56, 0.22}}, 0.02);
  const double volume = 0.27 * rig.tank.volume(), mass = 745 * volume;
  const Vec3 push(0, -1.5 * g, -g);
  for (const double courant : {1.0, 1.4}) {
    Fuel fuel = rig.filled(Vec3::UnitZ(), volume, {.courant = courant, .sealed = true});
    const Vec3 begin = fuel.state().centroid;
    double most = -1e9;
    for (int k = 0; k < 30; ++k) {
      fuel.advance(0.02, {.gravity = push});
      const State s = fuel.state();
      most = std::max(most, s.energy / mass - push.dot(s.centroid - begin));
    }
    EXPECT_LT(most, 0.05 * push.norm() * 0.2) << courant;
  }
}

TEST(ResolvedFuel, ItsWallsTakeWhatItsMassTimesAccelerationNeeds) {
  const Rig rig(tank::Box{{0, 0, 0}, {0.4, 0.3, 0.3}}, 0.02);
  const double volume = 0.4 * rig.tank.volume(), mass = 745 * volume;
  Fuel fuel = rig.filled(Vec3::UnitZ(), volume);
  fuel.advance(0.1, {});
  EXPECT_NEAR(fuel.state().force.z() / (-mass * g), 1, 0.02) << "its weight";
  // Thrown: force on the walls is m f less what speeds the fuel up, over a third of a second.
  const Vec3 push(0.6 * g, 0, -g);
  Vec3 impulse = Vec3::Zero();
  const Vec3 begin = fuel.state().momentum;
  for (int k = 0; k < 60; ++k) fuel.advance(0.005, {.gravity = push}), impulse += 0.005 * fuel.state().force;
  const Vec3 needed = mass * push * 0.3 - (fuel.state().momentum - begin);
  EXPECT_LT((impulse - needed).norm() / (mass * g * 0.3), 0.06);
}

TEST(ResolvedFuel, AMirroredThrowIsTheMirrorImage) {
  const Rig rig(tank::Box{{-0.2, -0.15, 0}, {0.2, 0.15, 0.2}}, 0.025);
  const double volume = 0.3 * rig.tank.volume();
  const auto thrown = [&](double way) {
    Fuel fuel = rig.filled(Vec3::UnitZ(), volume);
    fuel.advance(0.4, {.gravity = Vec3(way * 0.8 * g, 0, -g)});
    return fuel.state().centroid;
  };
  const Vec3 there = thrown(1), back = thrown(-1);
  // Sums run the other way round, so that digits part; where the fuel lies does not.
  EXPECT_NEAR(there.x(), -back.x(), 2e-3);
  EXPECT_NEAR(there.z(), back.z(), 2e-3);
}

TEST(ResolvedFuel, TheSameDigitsOnAnyNumberOfThreadsAndAfterAStop) {
  tank::TankParts parts;
  parts.shapes = {tank::Box{{-0.3, -0.2, 0}, {0.3, 0.2, 0.2}}};
  parts.baffles = {{.name = "plate",
                    .point = {0, 0, 0},
                    .normal = Vec3::UnitX(),
                    .top = 0.1,
                    .openings = {{.name = "flap",
                                  .at = {0, 0, 0.04},
                                  .diameter = 0.05,
                                  .passes = tank::Passes::along,
                                  .door = tank::Door::flap}}}};
  const Rig rig(parts, 0.025);
  const auto run = [&](int threads, bool stop) {
    const tbb::global_control limit(tbb::global_control::max_allowed_parallelism,
                                    static_cast<size_t>(threads));
    Fuel fuel = rig.filled(Vec3::UnitZ(), 10e-3, {.vents = {{-0.25, 0, 0.199}}});
    for (int k = 0; k < 20; ++k) {
      if (stop && k == 7) {
        const std::string bytes = fuel.frozen();
        Fuel again(rig.tank, rig.lattice, {.vents = {{-0.25, 0, 0.199}}});
        again.thaw(bytes);
        fuel = std::move(again);
      }
      fuel.advance(0.02, {.gravity = Vec3(0.9 * g * std::cos(0.3 * k), 0.4 * g, -g), .yaw = 0.4});
    }
    return fuel.frozen();
  };
  const std::string one = run(1, false);
  EXPECT_EQ(run(2, false), one);
  EXPECT_EQ(run(3, true), one);
  Fuel other = rig.filled(Vec3::UnitZ(), 10e-3);
  EXPECT_THROW(other.thaw(one.substr(0, one.size() / 2)), std::runtime_error);
  EXPECT_THROW(other.thaw("nonsense"), std::runtime_error);
}

TEST(ResolvedFuel, AShutCollectorKeepsItsGas) {
  tank::TankParts parts;
  parts.shapes = {tank::Box{{-0.2, -0.2, 0}, {0.2, 0.2, 0.3}}};
  parts.collectors = {{.name = "pot",
                       .shape = tank::Box{{-0.1, -0.1, 0}, {0.1, 0.1, 0.2}},
                       .open_top = false,
                       .openings = {{.name = "hole", .at = {0.1, 0, 0.05}, .diameter = 0.08}}}};
  const Rig rig(parts, 0.025);
  const auto entered = [&](bool vented) {
    FuelOptions options;
    // The pot's gas has its own way out, or none.
    options.vents = {{0.15, 0, 0.299}};
    if (vented) options.vents.push_back({0, 0, 0.199});
    Fuel fuel(rig.tank, rig.lattice, options);
    std::vector<double> volumes;
    size_t pot = 0;
    for (size_t s = 0; s < rig.tank.spaces.size(); ++s) {
      const bool is = rig.tank.spaces[s].name == "pot";
      if (is) pot = s;
      volumes.push_back(is ? 0.0 : moments_below(rig.tank.spaces[s].solid, {Vec3::UnitZ(), 0.15}).volume);
    }
    fuel.fill(std::vector<tank::Plane>(volumes.size(), {Vec3::UnitZ(), 0.15}), volumes);
    fuel.advance(1.5, {});
    return fuel.state().space[pot] / (0.2 * 0.2);
  };
  EXPECT_NEAR(entered(true), 0.15 * 0.12 / 0.16, 0.03) << "m: it fills to the level outside";
  // By hand: the hole is covered, and p V = const lets in what a decimetre's head presses: a hundredth of 0.2
  // m, over the hole's own height, which is 10 to 90 mm.
  EXPECT_LT(entered(false), 0.07);
}

TEST(ResolvedFuel, AFlapLetsInAndHoldsBack) {
  tank::TankParts parts;
  parts.shapes = {tank::Box{{-0.3, -0.1, 0}, {0.3, 0.1, 0.25}}};
  parts.baffles = {{.name = "plate",
                    .point = {0, 0, 0},
                    .normal = Vec3::UnitX(),
                    .openings = {{.name = "flap",
                                  .at = {0, 0, 0.04},
                                  .diameter = 0.06,
                                  .passes = tank::Passes::along,
                                  .door = tank::Door::flap}}}};
  const Rig rig(parts, 0.02);
  int flap = -1;
  for (size_t o = 0; o < rig.tank.openings.size(); ++o)
    if (rig.tank.openings[o].passes != tank::Passes::both) flap = static_cast<int>(o);
  ASSERT_GE(flap, 0);
  Fuel fuel = rig.filled(Vec3::UnitZ(), 0.6 * 0.2 * 0.08);
  const auto ahead = [&] {
    const State s = fuel.state();
    return rig.tank.spaces[0].body.centroid().x() > 0 ? s.space[0] : s.space[1];
  };
  const double level = ahead();
  for (int k = 0; k < 30; ++k) fuel.advance(0.02, {.gravity = Vec3(0.8 * g, 0, -g)});
  const double pushed = ahead();
  EXPECT_GT(pushed, level + 0.5e-3) << "braking lets fuel forward";
  for (int k = 0; k < 30; ++k) fuel.advance(0.02, {.gravity = Vec3(-0.8 * g, 0, -g)});
  EXPECT_GT(ahead(), pushed - 0.15e-3) << "and it stays there";
  EXPECT_EQ(fuel.state().door_open[static_cast<size_t>(flap)], 0);
}

TEST(ResolvedFuel, RunsOverAWeirByItsHead) {
  // What goes over is drawn beyond the plate and poured in before it, until the head stands.
  tank::TankParts parts;
  parts.shapes = {tank::Box{{-0.5, -0.1, 0}, {0.4, 0.1, 0.3}}};
  parts.baffles = {{.name = "weir", .point = {0, 0, 0}, .normal = Vec3::UnitX(), .top = 0.1, .openings = {}}};
  const Rig rig(parts, 0.02);
  Fuel fuel(rig.tank, rig.lattice, {});
  const size_t before = rig.tank.spaces[0].body.centroid().x() < 0 ? 0 : 1;
  std::vector<double> volumes(2, 0.4 * 0.2 * 0.03), draw_owed(12), pour_owed(12);
  std::vector<tank::Plane> surfaces(2, {Vec3::UnitZ(), 0.03});
  volumes[before] = 0.5 * 0.2 * 0.16, surfaces[before].offset = 0.16;
  fuel.fill(surfaces, volumes);
  const double flow = 6e-3, dt = 0.01;
  double head = 0;
  for (int k = 0; k < 400; ++k) {
    double got = 0;
    for (int m = 0; m < 12; ++m)
      got += fuel.draw({0.1 + 0.08 * (m % 4), -0.07 + 0.07 * (m / 4), 0.01}, 0.045, flow * dt / 12,
                       draw_owed[static_cast<size_t>(m)]);
    for (int m = 0; m < 12; ++m)
      fuel.pour({-0.45 + 0.03 * (m % 3), -0.08 + 0.053 * (m / 3), 0.02}, got / 12,
                pour_owed[static_cast<size_t>(m)]);
    fuel.advance(dt, {});
    if (k < 200) continue;
    // Some heads before the plate, where the surface is not yet drawn down.
    double there = 0;
    for (const Particle& p : fuel.particles())
      if (p.x[0] > -0.3 && p.x[0] < -0.2) there += p.volume;
    head += (there / (0.1 * 0.2) - 0.1) / 200;
  }
  // Rehbock 1929: q = 2/3 (0.602 + 0.083 H/P) sqrt(2 g) H^1.5 of a width, by a plate of height P.
  double expected = 0.05;
  for (int k = 0; k < 50; ++k)
    expected =
        std::pow(flow / 0.2 / (2.0 / 3 * (0.602 + 0.083 * expected / 0.1) * std::sqrt(2 * g)), 2.0 / 3);
  EXPECT_NEAR(head / expected, 1, 0.065) << "three cells deep, and nothing rubs";
}

TEST(ResolvedFuel, ThrownHardItStaysWithinWhatItsFallGives) {
  // A drowned vent, films, corners that fall dry: nothing may be quicker than what 2.8 g do over the tank's
  // length, nor may fuel gather in a corner that it has left.
  const Vec3 size(0.45, 0.6, 0.25);
  const Rig rig(tank::Box{{0, 0, 0}, size}, 0.025);
  const double volume = 0.25 * rig.tank.volume();
  Fuel fuel = rig.filled(Vec3::UnitZ(), volume, {.vents = {{0.44, 0.3, 0.245}}});
  const double most = std::sqrt(2 * 2.8 * g * size.norm());
  double fullest = 0;
  for (int k = 0; k < 150; ++k) {
    const double way = k < 50 ? 2.8 : k < 75 ? -1.0 : 0.3;
    fuel.advance(0.01, {.gravity = Vec3(way * g, k < 75 ? 0.0 : 1.2 * g, -g)});
    ASSERT_LT(fuel.state().fastest, 1.3 * most) << k;
    for (const double share : fuel.share()) fullest = std::max(fullest, share);
    for (const Particle& p : fuel.particles())
      ASSERT_GT(rig.lattice->capacity[static_cast<size_t>(rig.lattice->index(p.at[0], p.at[1], p.at[2]))], 0);
  }
  EXPECT_LT(fullest, 6) << "of what a cell can hold, at a blow";
}

TEST(ResolvedFuel, AFullBodyBehindAShutDoorStandsStill) {
  tank::TankParts parts;
  parts.shapes = {tank::Box{{-0.2, -0.1, 0}, {0.2, 0.1, 0.2}}};
  parts.baffles = {{.name = "plate",
                    .point = {0, 0, 0},
                    .normal = Vec3::UnitX(),
                    .openings = {{.name = "flap",
                                  .at = {0, 0, 0.04},
                                  .diameter = 0.05,
                                  .passes = tank::Passes::along,
                                  .door = tank::Door::flap}}}};
  const Rig rig(parts, 0.02);
  Fuel fuel(rig.tank, rig.lattice, {.vents = {{-0.15, 0, 0.199}}});
  const size_t full = rig.tank.spaces[0].body.centroid().x() > 0 ? 0 : 1;
  std::vector<double> volumes(2, 0.2 * 0.2 * 0.05);
  std::vector<tank::Plane> surfaces(2, {Vec3::UnitZ(), 0.05});
  volumes[full] = rig.tank.spaces[full].body.volume(), surfaces[full].offset = 0.2;
  fuel.fill(surfaces, volumes);
  for (int k = 0; k < 60; ++k) {
    fuel.advance(0.02, {.gravity = Vec3(-1.5 * g * std::cos(0.2 * k), 0.5 * g, -g)});
    ASSERT_LT(fuel.state().fastest, 5) << k;
    ASSERT_NEAR(fuel.state().space[full], volumes[full], 0.02 * volumes[full]) << k;
  }
}

// The fast model takes foam as one square damping: the same foam, thrown to one side and let go.
TEST(ResolvedFuel, FoamHoldsTheFuelAsTheFastModelHasIt) {
  for (const double permeability : {3e-8, 2e-7, 1e-6}) {
    tank::TankParts parts;
    parts.shapes = {tank::Box{{-0.25, -0.06, 0}, {0.25, 0.06, 0.3}}};
    parts.foam = {{.name = "all of it", .porosity = 0.97, .permeability = permeability}};
    const Rig rig(parts, 0.02);
    const double volume = 0.3 * rig.tank.volume();
    Fuel fuel = rig.filled(Vec3::UnitZ(), volume);
    const tank::Space& space = rig.tank.spaces[0];
    slosh::PlanarSpace fast(space.solid, volume, {}, {.darcy = space.darcy, .inertial = space.inertial});
    fast.settle(Vec3(0, 0, -g));
    double squares = 0, most = 0;
    const int rows = 100;
    for (int k = 0; k < rows; ++k) {
      const Vec3 f(k < 40 ? g : 0, 0, -g);
      fuel.advance(0.02, {.gravity = f});
      fast.step(f, 0.02);
      const double x = fuel.state().centroid.x();
      squares += std::pow(x - fast.centroid().x(), 2), most = std::max(most, std::abs(x));
    }
    EXPECT_GT(most, 0.02);
    EXPECT_LT(std::sqrt(squares / rows), 0.15 * most) << permeability << ": " << most;
  }
}

TEST(ResolvedFuel, AYawingTankThrowsItsFuelOutward) {
  // Turning steadily about its own middle without any other push: the surface is a paraboloid, w2 r2 / 2 g.
  const Rig rig(tank::Cylinder{.start = {0, 0, 0}, .end = {0, 0, 0.3}, .radius = 0.2}, 0.02);
  Fuel fuel = rig.filled(Vec3::UnitZ(), 0.4 * rig.tank.volume());
  const double w = 6.0;
  double before = fuel.state().centroid.z(), mean = 0;
  for (int k = 0; k < 75; ++k) fuel.advance(0.02, {.yaw = w});
  for (int k = 0; k < 75; ++k) fuel.advance(0.02, {.yaw = w}), mean += fuel.state().centroid.z() / 75;
  // By hand: with s = w2/(2 g) the surface is h + s (r2 - R2/2); the centroid rises by s2 R4 / (24 h).
  const double s = w * w / (2 * g), h = 0.4 * 0.3;
  EXPECT_NEAR(mean - before, s * s * std::pow(0.2, 4) / (24 * h), 0.8e-3);
}

TEST(ResolvedFuel, WhatIsDrawnIsGoneAndWhatIsPouredIsThere) {
  const Rig rig(tank::Box{{0, 0, 0}, {0.3, 0.3, 0.2}}, 0.02);
  Fuel fuel = rig.filled(Vec3::UnitZ(), 5e-3);
  double owed = 0, taken = 0, back = 0;
  for (int k = 0; k < 50; ++k) {
    taken += fuel.draw({0.15, 0.15, 0.01}, 0.03, 20e-6, owed);
    fuel.advance(0.02, {});
  }
  EXPECT_NEAR(taken, 1e-3, 5e-6);
  EXPECT_NEAR(fuel.state().volume, 5e-3 - taken, 1e-12);
  const double here = fuel.state().volume;
  for (int k = 0; k < 50; ++k) fuel.pour({0.05, 0.05, 0.15}, 20e-6, back), fuel.advance(0.02, {});
  EXPECT_NEAR(fuel.state().volume, here + 1e-3 - back, 1e-12);
  EXPECT_NEAR(fuel.state().filled / fuel.state().volume, 1, 0.02);
  // A bare pickup draws nothing, and is owed nothing later.
  double bare = 0;
  EXPECT_EQ(fuel.draw({0.15, 0.15, 0.19}, 0.02, 1e-3, bare), 0);
  EXPECT_LE(bare, std::pow(0.02, 3) / 4 * (1 + 1e-9)) << "a particle's volume";
  EXPECT_EQ(fuel.wet({0.15, 0.15, 0.01}, 0.02), 1);
  EXPECT_EQ(fuel.wet({0.15, 0.15, 0.19}, 0.02), 0);
}

TEST(ResolvedSurface, ASpheresCapHasItsArea) {
  const Rig rig(tank::Box{{0, 0, 0}, {0.4, 0.3, 0.3}}, 0.02);
  const Vec3 up = Vec3(-0.5, 0.2, 1).normalized();
  const Fuel fuel = rig.filled(up, 0.4 * rig.tank.volume());
  const Surface surface = surface_of(fuel);
  tank::PlaneCutter cut(rig.tank.whole);
  cut.aim(up);
  const double flat = section(rig.tank.whole, {up, cut.offset_for(0.4 * rig.tank.volume()).offset}).area;
  EXPECT_NEAR(area(surface) / flat, 1, 0.02);
  // It is seen from the gas: what faces away is next to nothing.
  double away = 0;
  for (const auto& t : surface.triangles) {
    const Vec3& a = surface.points[static_cast<size_t>(t[0])];
    const Vec3 n =
        (surface.points[static_cast<size_t>(t[1])] - a).cross(surface.points[static_cast<size_t>(t[2])] - a);
    away += std::max(-n.dot(up) / 2, 0.0);
  }
  EXPECT_LT(away / flat, 0.01);
  const std::string vtu = vtu_of(surface);
  EXPECT_NE(vtu.find(fmt::format("NumberOfPoints=\"{}\"", surface.points.size() + surface.drops.size())),
            std::string::npos);
}

}  // namespace
}  // namespace uadze::resolved
