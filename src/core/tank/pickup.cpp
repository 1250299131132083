#include "core/tank/pickup.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace uadze::tank {

double depth(const Pickup& pickup, const Plane& surface) {
  return surface.offset - surface.normal.dot(pickup.position);
}

namespace {

/// Across the disc the depth changes by at most this much from its middle.
double reach_of(const Pickup& pickup, const Plane& surface) {
  return pickup.sock_radius * surface.normal.head<2>().norm();
}

}  // namespace

double wet_fraction(const Pickup& pickup, const Plane& surface) {
  const double below = depth(pickup, surface), reach = reach_of(pickup, surface);
  if (reach <= 1e-12) return below > 0 ? 1.0 : 0.0;
  const double t = below / reach;
  if (t >= 1) return 1.0;
  if (t <= -1) return 0.0;
  return 0.5 + (t * std::sqrt(1 - t * t) + std::asin(t)) / std::numbers::pi;
}

double critical_submergence(double radius, double flow, double pull) {
  const double a = radius > 0 ? radius : 0.008;
  if (!(flow > 0) || !(pull > 0)) return 0.0;
  return a * 0.69 * std::pow(flow * flow / (pull * (a * a) * (a * a) * a), 0.2);
}

double drawn_fuel(const Pickup& pickup, const Plane& surface, double flow, double pull) {
  const double wet = wet_fraction(pickup, surface);
  if (wet <= 0) return wet;
  const double critical = critical_submergence(pickup.sock_radius, flow, pull);
  if (critical <= 0) return wet;
  const double reach = reach_of(pickup, surface);
  return std::min(
      wet, std::clamp((depth(pickup, surface) + reach) / (std::max(critical, reach) + reach), 0.0, 1.0));
}

}  // namespace uadze::tank
