#pragma once
// The fuel's way through a trace of forces, by the settled or the planar model.
//
// Example:
//   const tank::Tank tank = plain_tank(make_solid(tank::Box{{0, 0, 0}, {0.6, 0.4, 0.3}}));
//   const auto trace = lap::manoeuvre(lap::Manoeuvre::braking, {.strength = 1.0});
//   const std::vector<tank::Pickup> none;
//   slosh::FuelMotion fuel(tank, none, 0.012, {.model = slosh::Model::planar});
//   fuel.begin(trace.at(0));
//   fuel.move(trace, 0.0, 0.02);              // 20 ms on
//   EXPECT_NEAR(fuel.volume(0), 0.012, 1e-15);
#include <optional>
#include <vector>

#include "core/lap/force_trace.h"
#include "core/slosh/planar_tank.h"
#include "core/slosh/settled.h"
#include "core/tank/pickup.h"

namespace uadze::slosh {

enum class Model { settled, planar };

/// How the fuel lies at the first instant.
enum class Start {
  level,    ///< at rest in a car that stands still
  settled,  ///< at rest under the first force
};

/// What the pickups draw and where it comes back, so that the tank as a whole stays at its level.
struct Circulation {
  std::vector<double> flow;  ///< m3/s, of each pickup when it draws fuel only; empty: none
  int return_space = 0;
  double submergence_scale = 1.0;  ///< on the critical submergence; 0 leaves it out
};

struct MotionOptions {
  Model model = Model::planar;
  Start start = Start::level;
  double step = 0.01;  ///< s, between the instants given back; the planar model cuts it up as it needs
  TankOptions tank;
  const TankInertia* inertia = nullptr;  ///< must outlive the motion
  Circulation circulation;
};

class FuelMotion {
 public:
  /// 0 <= volume <= the tank's (m3). Tank and pickups must outlive this.
  FuelMotion(const tank::Tank& tank, const std::vector<tank::Pickup>& pickups, double volume,
             const MotionOptions& options = {});

  /// The fuel at rest: filled level, then settled under `first` if so asked.
  void begin(const Vec3& first);
  /// The car has come to rest: each space stands level with what it holds now. By the settled model, which
  /// holds its level while it is drawn from, the tank is level with what is left.
  void stand();
  void move(const lap::ForceTrace& trace, double from, double to);
  /// One step under a constant f.
  void move(const Vec3& f, double dt) { move(lap::Push{.gravity = f}, dt); }
  void move(const lap::Push& push, double dt);
  /// As PlanarTank has it; by the settled model nothing.
  void step_by(const TankOptions& steps) {
    if (planar_) planar_->step_by(steps);
  }
  /// Surfaces exact for the volumes; between, they are so to second order of a step's flow.
  void refresh();

  tank::Plane surface(size_t space) const;
  double volume(size_t space) const;
  Vec3 centroid() const;
  double flow(size_t opening) const;  ///< m3/s of fuel; 0 by the settled model
  int substeps(size_t space) const { return planar_ ? planar_->space(space).substeps() : 0; }
  bool locked(size_t space) const;  ///< gas held in; never by the settled model
  /// Of the surface in the pickup's own space.
  double depth(size_t pickup) const;
  double wet(size_t pickup) const;
  double drawn(size_t pickup) const;  ///< share of fuel in what it draws at its circulation's flow
  double drawn(size_t pickup, double flow) const;  ///< the same at a flow (m3/s)
  /// Takes up to `volume` (m3) at a pickup; what was taken. By the settled model nothing moves: the level is
  /// held, and all of it counts as taken while the space has fuel.
  double draw(size_t pickup, double volume);
  /// Puts `volume` (m3) into a space, and what does not fit there into the others; what was put in.
  double put(size_t space, double volume);
  double take(size_t space, double volume);  ///< m3 out of a space; what was taken
  double total() const;                      ///< m3, of all spaces
  /// Appends what decides how it goes on, each in a measure of which 1e-4 is nothing.
  void tell_state(std::vector<double>& out) const;
  const tank::Tank& tank() const { return *tank_; }

 private:
  void circulate(const Vec3& f, double dt);
  bool inside(size_t pickup) const {
    return pickup < tank_->pickup_space.size() && tank_->pickup_space[pickup] >= 0;
  }
  size_t space_of(size_t pickup) const {
    return inside(pickup) ? static_cast<size_t>(tank_->pickup_space[pickup]) : 0;
  }

  const tank::Tank* tank_;
  const std::vector<tank::Pickup>* pickups_;
  MotionOptions options_;
  std::vector<double> fill_;
  std::optional<SettledTank> settled_;
  std::optional<PlanarTank> planar_;
  double submergence_flow_;  ///< on the flow, for the critical submergence's scale
  double pull_ = standard_gravity;
  double settled_drawn_ = 0.0;  ///< m3 taken and not put back, by the settled model
};

struct Instant {
  double time = 0.0;
  std::vector<tank::Plane> surface;  ///< of each space
  std::vector<double> volume;        ///< m3, of each space
  double total = 0.0;                ///< m3
  Vec3 centroid = Vec3::Zero();
  std::vector<double> flow;        ///< m3/s, through each opening
  std::vector<char> locked;        ///< of each space
  std::vector<double> depth, wet;  ///< of each pickup: m; 0..1
};

/// By surfaces cut to rounding, on a copy: the motion goes on as though nobody had looked.
Instant instant_of(const FuelMotion& fuel, double time, size_t pickups);

/// Needs 0 <= volume <= the tank's and a step above zero.
std::vector<Instant> slosh_motion(const tank::Tank& tank, const std::vector<tank::Pickup>& pickups,
                                  double volume, const lap::ForceTrace& trace,
                                  const MotionOptions& options = {});

}  // namespace uadze::slosh
