#include "core/lap/manoeuvre.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace uadze::lap {
namespace {

constexpr double pi = std::numbers::pi, waiting = 1.0, ramp = 0.2;

/// 0 before, 1 within, smooth over `ramp` at either end.
double gate(double t, double duration) {
  const auto rise = [](double x) { return x <= 0 ? 0.0 : x >= 1 ? 1.0 : x * x * (3 - 2 * x); };
  return rise(t / ramp) * rise((duration - t) / ramp);
}

/// Vehicle acceleration in g at a time after the manoeuvre's beginning.
Vec3 push(Manoeuvre which, double t, double d) {
  const double g = gate(t, d);
  switch (which) {
    case Manoeuvre::turn_left:
      return {0, g, 0};
    case Manoeuvre::turn_right:
      return {0, -g, 0};
    case Manoeuvre::launch:
      // Strongest at first, less as speed grows.
      return {g * (1 - 0.4 * std::clamp(t / d, 0.0, 1.0)), 0, 0};
    case Manoeuvre::braking:
      return {-g, 0, 0};
    case Manoeuvre::slalom:
      return {0, g * std::sin(2 * pi * t / 1.6), 0};
    case Manoeuvre::lift_off:
      // Full throttle, then off it: the push forward ends at once and drag takes its place.
      return {t < d / 2 ? 0.6 * g : -0.35 * g, 0, 0};
    case Manoeuvre::kerb_strike: {
      // In a corner, over a kerb: up and down within a tenth of a second.
      const double k = t - d / 2;
      const double bump = k >= 0 && k < 0.12 ? 2.0 * std::sin(2 * pi * k / 0.12) : 0.0;
      return {0, 0.7 * g, bump};
    }
    case Manoeuvre::spin: {
      // The car turns round twice while it slows on its way: the push goes round in its own axes.
      const double turned = 4 * pi * std::clamp(t / d, 0.0, 1.0);
      return {-g * std::cos(turned), g * std::sin(turned), 0};
    }
  }
  return Vec3::Zero();
}

}  // namespace

ForceTrace manoeuvre(Manoeuvre which, const ManoeuvreOptions& options) {
  constexpr double step = 0.01;
  ForceTrace out;
  const int count = static_cast<int>(std::lround((options.duration + 2 * waiting) / step));
  for (int i = 0; i <= count; ++i) {
    const double t = i * step;
    const Vec3 a = options.strength * standard_gravity * push(which, t - waiting, options.duration);
    out.time.push_back(t);
    out.force.push_back(Vec3(0, 0, -standard_gravity) - a);
  }
  return out;
}

}  // namespace uadze::lap
