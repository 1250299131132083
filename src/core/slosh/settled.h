#pragma once
// The settled model: at every instant the fuel lies as if the present effective gravity had always acted.
//
//   f = g - a                         effective gravity in the tank's frame
//   n = -f/|f|                        the surface's normal
//   { x : n.x <= offset } n tank      the fuel, its offset found from its volume
//
//   SettledTank settled(solid);
//   const Plane surface = settled.surface(effective_gravity(acceleration), volume);
//
// Limits: no inertia (the fuel arrives at once and never overshoots). Below `weightless` there is no surface
// to speak of; the last direction is kept.
#include <optional>

#include "core/tank/pickup.h"
#include "core/tank/solid.h"

namespace uadze::slosh {

/// m/s2; under this |f| the direction of f is noise and the last surface direction is kept.
inline constexpr double weightless = 0.02 * standard_gravity;

/// f = g - a, for an acceleration of the vehicle (m/s2, vehicle axes, gravity not in it).
inline Vec3 effective_gravity(const Vec3& vehicle_acceleration) {
  return Vec3(0, 0, -standard_gravity) - vehicle_acceleration;
}

class SettledTank {
 public:
  explicit SettledTank(const tank::Solid& solid) : cutter_(solid) {}

  /// The free surface for `volume` (m3) under `f` (m/s2). Remembers the last answer as the next start; the
  /// answer itself does not depend on it beyond the solver's tolerance.
  tank::Plane surface(const Vec3& f, double volume);

 private:
  tank::PlaneCutter cutter_;
  Vec3 normal_ = Vec3::UnitZ();
  std::optional<double> last_offset_;
};

}  // namespace uadze::slosh
