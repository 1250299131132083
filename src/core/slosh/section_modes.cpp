#include "core/slosh/section_modes.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace uadze::slosh {

SectionModes section_modes(const tank::Section& section, double volume, const Vec3& normal, double size) {
  constexpr double pi = std::numbers::pi;
  SectionModes out;
  // Nothing is cut out of an empty or full space.
  const bool any = section.area > 0;
  const Vec3 e1 = any ? section.e1 : Vec3(normal.unitOrthogonal()), e2 = any ? section.e2 : normal.cross(e1);
  const double a = section.second11, b = section.second12, c = section.second22;
  const double half = (a - c) / 2, spread = std::sqrt(half * half + b * b);
  // Half the angle of (half, b), without its trigonometry.
  double co = 1, si = 0;
  if (spread > 0) {
    co = std::sqrt(std::max(0.0, (1 + half / spread) / 2));
    si = std::copysign(std::sqrt(std::max(0.0, (1 - half / spread) / 2)), b);
  }
  out.axis[0] = co * e1 + si * e2;
  out.axis[1] = normal.cross(out.axis[0]);
  // A section this small moves the centroid by less than a ten-thousandth of the tank a radian.
  const double least = std::max(1e-4 * volume * size, 1e-15);
  const double area = std::max(section.area, 1e-9), depth = volume / area;
  for (int i = 0; i < 2; ++i) {
    out.second[i] = std::max((a + c) / 2 + (i == 0 ? spread : -spread), least);
    const double length = std::sqrt(12 * out.second[i] / area), x = pi * depth / length;
    out.length[i] = length;
    // tanh by its definition: one exp, and 1 where it no longer matters.
    const double e = x < 20 ? std::exp(-2 * x) : 0.0;
    out.floor[i] = e;
    const double tanh = x < 1e-4 ? x : (1 - e) / (1 + e);
    out.inertia[i] = 12 / (pi * pi) * (x > 0 ? x / tanh : 1.0);
  }
  return out;
}

}  // namespace uadze::slosh
