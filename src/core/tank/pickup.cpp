#include "core/tank/pickup.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace uadze::tank {

double depth(const Pickup& pickup, const Plane& surface) {
  return surface.offset - surface.normal.dot(pickup.position);
}

double wet_fraction(const Pickup& pickup, const Plane& surface) {
  const double below = depth(pickup, surface);
  // Across the disc the depth changes by at most this much from its middle.
  const double reach = pickup.sock_radius * std::hypot(surface.normal.x(), surface.normal.y());
  if (reach <= 1e-12) return below > 0 ? 1.0 : 0.0;
  const double t = below / reach;
  if (t >= 1) return 1.0;
  if (t <= -1) return 0.0;
  return 0.5 + (t * std::sqrt(1 - t * t) + std::asin(t)) / std::numbers::pi;
}

}  // namespace uadze::tank
