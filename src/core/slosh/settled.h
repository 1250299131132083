#pragma once
// The settled model: at every instant the fuel lies as if the present effective gravity had always acted.
//
//   f = g - a                         effective gravity in the tank's frame
//   n = -f/|f|                        the surface's normal
//   { x : n.x <= offset } n space     the fuel of each space, its offset found from its volume
//
// Spaces communicate where an opening is wet: fuel runs over its lowest edge until the surfaces are even, and
// only the way that the opening passes. What is behind a dry edge is trapped and stays for the next instant.
//
// Limits: no inertia (the fuel arrives at once and never overshoots), no gas held in, no time to flow. Below
// `weightless` there is no surface to speak of; the last direction is kept.
//
// Example:
//   const tank::Tank tank = plain_tank(make_solid(tank::Box{{0, 0, 0}, {0.6, 0.4, 0.3}}));
//   slosh::SettledTank settled(tank, slosh::level_fill(tank, 0.020));
//   settled.update(slosh::effective_gravity(Vec3(0, 2, 0)));
//   EXPECT_NEAR(settled.surface(0).normal.y() / settled.surface(0).normal.z(), 2 / standard_gravity, 1e-12);
//   EXPECT_NEAR(settled.volume(0), 0.020, 1e-15);
#include <vector>

#include "core/tank/pickup.h"
#include "core/tank/tank.h"

namespace uadze::slosh {

/// m/s2; under this |f| the direction of f is noise and the last surface direction is kept.
inline constexpr double weightless = 0.02 * standard_gravity;

/// f = g - a, for an acceleration of the vehicle (m/s2, vehicle axes, gravity not in it).
inline Vec3 effective_gravity(const Vec3& vehicle_acceleration) {
  return Vec3(0, 0, -standard_gravity) - vehicle_acceleration;
}

class SettledTank {
 public:
  /// `volumes` (m3) of the spaces. The tank must outlive this.
  SettledTank(const tank::Tank& tank, std::vector<double> volumes);

  /// Lets the fuel settle under f (m/s2).
  void update(const Vec3& f);
  tank::Plane surface(size_t space) const { return {normal_, offset_[space]}; }
  double volume(size_t space) const { return volume_[space]; }
  Vec3 centroid(size_t space) const { return cutter_[space].cut(offset_[space]).below.centroid(); }

 private:
  bool even_out();
  void exchange();

  const tank::Tank* tank_;
  std::vector<tank::PlaneCutter> cutter_;
  std::vector<double> volume_, offset_;
  Vec3 normal_ = Vec3::UnitZ();
};

}  // namespace uadze::slosh
