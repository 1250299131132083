#include "core/starvation/surge.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace uadze::starvation {

double cylinder_below(double radius, double height, double at_axis, double slope) {
  const double r2 = radius * radius, whole = std::numbers::pi * r2;
  slope = std::abs(slope);
  if (slope < 1e-9) return whole * std::clamp(at_axis, 0.0, height);
  // From x = a, where the plane leaves the floor, to x = b, where it meets the lid, its height; behind b all
  // of the height.
  const auto area = [&](double x) {  // of the disc left of x
    const double y = std::sqrt(std::max(r2 - x * x, 0.0));
    return x * y + r2 * (std::asin(std::clamp(x / radius, -1.0, 1.0)) + std::numbers::pi / 2);
  };
  const auto moment = [&](double x) { return -2.0 / 3.0 * std::pow(std::max(r2 - x * x, 0.0), 1.5); };
  const double a = std::clamp(-at_axis / slope, -radius, radius);
  const double b = std::clamp((height - at_axis) / slope, -radius, radius);
  return at_axis * (area(b) - area(a)) + slope * (moment(b) - moment(a)) + height * (whole - area(b));
}

double surge_height(const SurgeTank& surge) {
  if (surge.height > 0) return surge.height;
  return 2 * std::cbrt(2 * surge.volume / std::numbers::pi);
}

double surge_radius(const SurgeTank& surge) {
  return std::sqrt(surge.volume / (std::numbers::pi * surge_height(surge)));
}

SurgeReach surge_reach(const SurgeTank& surge, const Vec3& f, double flow) {
  const double pull = f.norm();
  if (pull < slosh::weightless || surge.volume <= 0) return {0.0, 0.0};
  const Vec3 up = -f / pull;
  if (up.z() < 0.02) return {surge.volume, surge.volume};
  const double radius = surge_radius(surge), height = surge_height(surge);
  const double slope = std::hypot(up.x(), up.y()) / up.z();
  const double through = (up.x() * surge.pickup.x() + up.y() * surge.pickup.y()) / up.z();
  const double over =
      surge.pickup_radius > 0 ? tank::critical_submergence(surge.pickup_radius, flow, pull) / up.z() : 0.0;
  return {cylinder_below(radius, height, through, slope),
          cylinder_below(radius, height, through + over, slope)};
}

}  // namespace uadze::starvation
