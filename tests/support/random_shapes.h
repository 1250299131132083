#pragma once
// Random tanks and planes for property tests, from a fixed seed so that a failure can be run again.
#include <cmath>
#include <numbers>
#include <random>

#include "core/tank/prism.h"

namespace uadze::test {

class Random {
 public:
  explicit Random(unsigned seed) : engine_(seed) {}
  double uniform(double low, double high) {
    return low + (high - low) * (static_cast<double>(engine_()) / 4294967296.0);
  }
  int whole(int low, int high) {
    return low + static_cast<int>(engine_() % static_cast<unsigned>(high - low + 1));
  }

  Vec3 direction() {
    for (;;) {
      const Vec3 v(uniform(-1, 1), uniform(-1, 1), uniform(-1, 1));
      if (v.norm() > 0.1 && v.norm() < 1) return v.normalized();
    }
  }

  /// A simple polygon around the origin, star-shaped, mostly not convex; either way round.
  std::vector<Vec2> polygon(int corners) {
    std::vector<Vec2> out;
    for (int i = 0; i < corners; ++i) {
      const double angle = 2 * std::numbers::pi * (i + uniform(0.05, 0.85)) / corners;
      out.push_back(uniform(0.08, 0.4) * Vec2(std::cos(angle), std::sin(angle)));
    }
    if (whole(0, 1)) std::reverse(out.begin(), out.end());
    const Vec2 shift(uniform(-0.5, 0.5), uniform(-0.5, 0.5));
    for (Vec2& p : out) p += shift;
    return out;
  }

  tank::Prism prism() {
    const double from = uniform(-0.6, 0.3);
    return {static_cast<tank::Axis>(whole(0, 2)), polygon(whole(3, 9)), from, from + uniform(0.05, 0.9)};
  }

 private:
  std::mt19937 engine_;
};

}  // namespace uadze::test
