#include "core/session/random.h"

#include <cmath>
#include <numbers>

namespace uadze::session {
namespace {

std::uint64_t mix(std::uint64_t z) {
  z += 0x9E3779B97F4A7C15ULL;
  z = (z ^ (z >> 30)) * 0xBF58476D1CE4E5B9ULL;
  z = (z ^ (z >> 27)) * 0x94D049BB133111EBULL;
  return z ^ (z >> 31);
}

}  // namespace

double uniform_draw(std::uint64_t seed, std::uint64_t stream, std::uint64_t index) {
  const std::uint64_t bits = mix(mix(mix(seed) ^ stream) ^ index);
  return (static_cast<double>(bits >> 11) + 0.5) * 0x1p-53;
}

double normal_quantile(double p) {
  constexpr double a[] = {-3.969683028665376e+01, 2.209460984245205e+02,  -2.759285104469687e+02,
                          1.383577518672690e+02,  -3.066479806614716e+01, 2.506628277459239e+00};
  constexpr double b[] = {-5.447609879822406e+01, 1.615858368580409e+02, -1.556989798598866e+02,
                          6.680131188771972e+01, -1.328068155288572e+01};
  constexpr double c[] = {-7.784894002430293e-03, -3.223964580411365e-01, -2.400758277161838e+00,
                          -2.549732539343734e+00, 4.374664141464968e+00,  2.938163982698783e+00};
  constexpr double d[] = {7.784695709041462e-03, 3.224671290700398e-01, 2.445134137142996e+00,
                          3.754408661907416e+00};
  const double q = p < 0.5 ? p : 1 - p;
  double x;
  if (q < 0.02425) {
    const double r = std::sqrt(-2 * std::log(q));
    x = (((((c[0] * r + c[1]) * r + c[2]) * r + c[3]) * r + c[4]) * r + c[5]) /
        ((((d[0] * r + d[1]) * r + d[2]) * r + d[3]) * r + 1);
  } else {
    const double r = q - 0.5, s = r * r;
    x = (((((a[0] * s + a[1]) * s + a[2]) * s + a[3]) * s + a[4]) * s + a[5]) * r /
        (((((b[0] * s + b[1]) * s + b[2]) * s + b[3]) * s + b[4]) * s + 1);
  }
  const double error = 0.5 * std::erfc(-x / std::numbers::sqrt2) - q;
  const double step = error * std::sqrt(2 * std::numbers::pi) * std::exp(x * x / 2);
  x -= step / (1 + x * step / 2);
  return p < 0.5 ? x : -x;
}

}  // namespace uadze::session
