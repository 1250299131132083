#pragma once
// The planar model of a whole tank: a moving plane in each space (planar.h), joined by the flow of fuel and
// gas through the openings (flow.h).
//
// Volume is kept to rounding: what leaves one space is what the other gets. Fuel may be drawn and returned
// (draw, a negative volume returns).
//
// A step swings the surfaces for half of it, lets fuel and gas through for the whole, and swings them for the
// other half: second order. With steps of 20 ms what a pickup sees in the demo's collector is within 0.005 to
// 0.016 (rms of its share of fuel) of steps of 2.5 ms (decision 0050). Full and empty spaces are looked at
// once a step, after the flow.
//
// Example:
//   const tank::Tank tank = plain_tank(make_solid(tank::Box{{0, 0, 0}, {0.6, 0.4, 0.3}}));
//   slosh::PlanarTank fuel(tank, slosh::level_fill(tank, 0.020));
//   fuel.settle(Vec3(0, 0, -9.81));
//   fuel.step(Vec3(-5, 0, -9.81), 0.01);
//   EXPECT_NEAR(fuel.volume(), 0.020, 1e-15);
#include <vector>

#include "core/lap/force_trace.h"
#include "core/slosh/flow.h"

namespace uadze::slosh {

struct TankOptions {
  PlanarOptions planar;
  FlowOptions flow;
  double longest_step = 0.02;  ///< s, in which the openings' flow follows the surfaces
};

/// With the steps of a quick look: nothing hangs on it but where the fuel is about.
TankOptions quickly(TankOptions options, double longest_step);

/// 1/s: where more of a space than this goes through its openings a second, steps are half as long.
inline constexpr double quick_exchange = 0.5;

/// Volumes of the spaces when the fuel stands under one plane of this normal throughout.
std::vector<double> level_fill(const tank::Tank& tank, double volume, const Vec3& normal = Vec3::UnitZ());

class PlanarTank {
 public:
  /// `tank` and `inertia` must outlive this.
  PlanarTank(const tank::Tank& tank, const std::vector<double>& volumes, const TankOptions& options = {},
             const TankInertia* inertia = nullptr);

  /// Every space at rest under f (m/s2), with the fuel that it holds.
  void settle(const Vec3& f);
  /// Moves on by dt (s) under a constant push; each space feels what acts in its surface's middle.
  void step(const lap::Push& push, double dt);
  void step(const Vec3& f, double dt) { step(lap::Push{.gravity = f}, dt); }
  /// Takes its steps from others' options from now on; what else they say is not looked at.
  void step_by(const TankOptions& steps);
  /// Takes up to `volume` (m3) out of a space, or puts it in if negative; what was moved.
  double draw(size_t space, double volume);
  /// Makes the surfaces exact for the present volumes, after steps and draws.
  void refresh();

  size_t size() const { return spaces_.size(); }
  const PlanarSpace& space(size_t i) const { return spaces_[i]; }
  double volume() const;
  Vec3 centroid() const;
  double energy(const Vec3& f) const;  ///< J/(kg/m3): sum over spaces of volume times energy
  /// Appends what decides how it goes on, each in a measure of which 1e-4 is nothing.
  void tell_state(std::vector<double>& out) const;
  const OpeningFlows& flows() const { return flows_; }

 private:
  enum class Half { first, last };
  void swing(const lap::Push& push, double dt, Half half);
  void flow(const lap::Push& push, double dt);

  const tank::Tank* tank_;
  std::vector<PlanarSpace> spaces_;
  double longest_;
  double exchanged_ = 0.0;  ///< 1/s: of the last step, the most of a space's capacity
  OpeningFlows flows_;
  std::vector<SpaceSide> sides_;
};

}  // namespace uadze::slosh
