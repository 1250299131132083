#pragma once
// Tanks thrown one way and then another, with what a general two-phase solver says of them
// (tests/data/two-phase/README.md), and how far a model of ours lies from that.
//
//   const test::TwoPhase saddle = test::two_phase("saddle");
//   slosh::PlanarTank fuel(saddle.tank, slosh::level_fill(saddle.tank, saddle.volume));
//   EXPECT_LT(saddle.apart([&](const Vec3& gravity, double dt) { fuel.step(gravity, dt); },
//                          [&] { return test::WhereFuelIs{fuel.centroid(), fuel.space(saddle.held_by).volume()}; }).level, 0.02);
#include <cmath>
#include <map>
#include <optional>
#include <string>
#include <vector>

#include "core/base/csv.h"
#include "core/base/files.h"
#include "core/base/require.h"
#include "core/tank/tank.h"
#include "support/figures.h"
#include "support/temp_folder.h"

namespace uadze::test {

/// Where a tank's fuel is: m, and m3 in the part that is looked at.
struct WhereFuelIs {
  Vec3 middle = Vec3::Zero();
  double held = 0.0;
};

/// Root mean squares over the rows.
struct ApartFromTwoPhase {
  double level = 0.0, height = 0.0;  ///< m, of the middle: on the level, upward
  double held = 0.0;                 ///< m3
  double most_held = 0.0;            ///< m3, the largest
};

struct TwoPhase {
  tank::TankParts parts;
  tank::Tank tank;
  double volume = 0.0;  ///< m3
  size_t held_by = 0;   ///< the space of the pot, of the saddle's side, of the half behind the flap
  Vec3 first = down, then = down;
  struct Row {
    double time = 0.0;
    WhereFuelIs is;
  };
  std::vector<Row> rows;

  /// `advance` moves the model on under a gravity (m/s2) by seconds; `where` tells of it.
  template <class Advance, class Where>
  ApartFromTwoPhase apart(Advance&& advance, Where&& where) const {
    ApartFromTwoPhase out;
    double now = 0;
    for (const Row& row : rows) {
      for (; now < row.time - 1e-9; now += 0.01) advance(now < 1 - 1e-9 ? first : then, 0.01);
      const WhereFuelIs is = where();
      const Vec3 off = is.middle - row.is.middle;
      const double held = std::abs(is.held - row.is.held);
      out.level += off.head<2>().squaredNorm(), out.height += off.z() * off.z(), out.held += held * held;
      out.most_held = std::max(out.most_held, held);
    }
    const auto count = static_cast<double>(rows.size());
    for (double* square : {&out.level, &out.height, &out.held}) *square = std::sqrt(*square / count);
    return out;
  }
};

inline TwoPhase two_phase(const std::string& name) {
  using namespace tank;
  TwoPhase out;
  Vec3 held(0, 0, 0.01);
  const Box box{{-0.25, -0.28, 0}, {0.25, 0.28, 0.22}};
  const double brake = 1.2 * g;
  const auto thrown = [&](double fill, const Vec3& first, const Vec3& then) {
    out.parts.shapes = {box};
    out.volume = fill * 0.5 * 0.56 * 0.22, out.first = first, out.then = then;
  };
  if (name == "box" || name == "box-with-pot") thrown(0.27, {brake, 0, -g}, {0, brake, -g});
  if (name == "box-with-pot")
    out.parts.collectors = {{"pot", Box{{-0.1, -0.098, 0}, {0.1, 0.098, 0.12375}}, true, {}}};
  if (name == "box-with-pot-aside") {
    thrown(0.40, {0, g, -g}, {brake, 0, -g});
    out.parts.collectors = {{"pot", Box{{-0.15, 0.042, 0}, {-0.05, 0.14, 0.12375}}, true, {}}};
    held = {-0.1, 0.1, 0.01};
  }
  if (name == "saddle") {
    out.parts.shapes = {Saddle{{-0.15, -0.3, 0}, {0.15, 0.3, 0.25}, -0.1, 0.1, 0.125}};
    out.volume = 0.012, out.first = {0, g, -g}, out.then = {brake, 0, -g};
    held = {0, 0.2, 0.01};
  }
  if (name == "box-with-flap") {
    out.parts.shapes = {Box{{-0.25, -0.14, 0}, {0.25, 0.14, 0.22}}};
    Baffle wall{.name = "wall", .top = 0.165};
    wall.openings = {{.name = "door",
                      .form = OpeningForm::notch,
                      .width = 0.056,
                      .height = 0.04125,
                      .passes = Passes::along,
                      .door = Door::flap}};
    out.parts.baffles = {wall};
    out.volume = 0.5 * 0.28 * 0.0264, out.first = {g, 0, -g}, out.then = {-g, 0, -g};
    held = {0.1, 0, 0.01};
  }
  UADZE_REQUIRE(!out.parts.shapes.empty(), "a reference that there is");
  out.parts.vent = Vent{{0, 0, 0.21}};
  out.tank = assemble(out.parts).tank;
  out.held_by = static_cast<size_t>(out.tank.space_at(held));
  const std::string file = source("tests/data/two-phase/" + name + ".csv").string();
  for (const auto& row : parse_csv(read_file(file), file).rows) {
    const auto figure = [&](size_t column) { return parse_number(row[column]).value(); };
    out.rows.push_back({figure(0), {Vec3(figure(1), figure(2), figure(3)) * 1e-3, figure(5) * 1e-3}});
  }
  return out;
}

}  // namespace uadze::test
