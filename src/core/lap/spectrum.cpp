#include "core/lap/spectrum.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace uadze::lap {

Spectrum excitation(const ForceTrace& trace, double highest, int count) {
  Spectrum out;
  constexpr double pi = std::numbers::pi, rate = 20.0;
  const double whole = trace.end() - trace.begin(), piece = std::min(20.0, whole);
  const int samples = static_cast<int>(piece * rate);
  out.frequency.resize(static_cast<size_t>(count));
  out.longitudinal.assign(static_cast<size_t>(count), 0.0);
  out.lateral.assign(static_cast<size_t>(count), 0.0);
  for (int k = 0; k < count; ++k) out.frequency[static_cast<size_t>(k)] = highest * (k + 1) / count;
  if (samples < 4) return out;
  const int pieces = std::max(1, static_cast<int>(std::floor((whole - piece) / (piece / 2))) + 1);
  for (int p = 0; p < pieces; ++p) {
    std::vector<Vec2> values;
    Vec2 mean = Vec2::Zero();
    double window_sum = 0;
    for (int i = 0; i < samples; ++i) {
      const Vec3 f = trace.at(trace.begin() + p * piece / 2 + i / rate);
      values.emplace_back(-f.x(), -f.y());
      mean += values.back() / samples;
    }
    for (int i = 0; i < samples; ++i) {
      const double window = 0.5 - 0.5 * std::cos(2 * pi * (i + 0.5) / samples);
      values[static_cast<size_t>(i)] = window * (values[static_cast<size_t>(i)] - mean);
      window_sum += window;
    }
    for (int k = 0; k < count; ++k) {
      const double w = 2 * pi * out.frequency[static_cast<size_t>(k)] / rate;
      Vec2 c = Vec2::Zero(), s = Vec2::Zero();
      for (int i = 0; i < samples; ++i) {
        c += std::cos(w * i) * values[static_cast<size_t>(i)];
        s += std::sin(w * i) * values[static_cast<size_t>(i)];
      }
      const Vec2 power = (c.cwiseAbs2() + s.cwiseAbs2()) * std::pow(2 / window_sum, 2);
      out.longitudinal[static_cast<size_t>(k)] += power.x() / pieces;
      out.lateral[static_cast<size_t>(k)] += power.y() / pieces;
    }
  }
  for (double& v : out.longitudinal) v = std::sqrt(v);
  for (double& v : out.lateral) v = std::sqrt(v);
  return out;
}

}  // namespace uadze::lap
