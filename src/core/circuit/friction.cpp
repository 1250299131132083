#include "core/circuit/friction.h"

#include <cmath>

namespace uadze::circuit {
namespace {

constexpr double steel_roughness = 4.57e-5;

Friction turbulent(double re, double rough) {
  const double a = -2 * std::log10(rough / 3.7 + 12 / re);
  const double b = -2 * std::log10(rough / 3.7 + 2.51 * a / re);
  const double c = -2 * std::log10(rough / 3.7 + 2.51 * b / re);
  const double x = a - (b - a) * (b - a) / (c - 2 * b + a);  // 1/sqrt(f)
  // Colebrook differentiated: d ln x / d ln Re = k / (1 + k).
  const double k = 2 / std::log(10.0) * 2.51 / (re * (rough / 3.7 + 2.51 * x / re));
  return {1 / (x * x), -2 * k / (1 + k)};
}

}  // namespace

Friction friction_factor(double re, double rough) {
  if (re <= laminar_end) return {64 / re, -1.0};
  if (re >= turbulent_start) return turbulent(re, rough);
  const Friction high = turbulent(turbulent_start, rough);
  const double y0 = std::log(64 / laminar_end), y1 = std::log(high.value);
  const double span = std::log(turbulent_start / laminar_end), s = std::log(re / laminar_end) / span;
  const double m0 = -span, m1 = high.slope * span, s2 = s * s, s3 = s2 * s;
  const double y =
      (2 * s3 - 3 * s2 + 1) * y0 + (s3 - 2 * s2 + s) * m0 + (3 * s2 - 2 * s3) * y1 + (s3 - s2) * m1;
  const double dy = (6 * s2 - 6 * s) * (y0 - y1) + (3 * s2 - 4 * s + 1) * m0 + (3 * s2 - 2 * s) * m1;
  return {std::exp(y), dy / span};
}

double fully_turbulent_friction(double rough) { return std::pow(-2 * std::log10(rough / 3.7), -2); }

double fitting_friction(double bore) { return fully_turbulent_friction(steel_roughness / bore); }

}  // namespace uadze::circuit
