#include "core/session/random.h"

#include <boost/math/distributions/normal.hpp>

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

double normal_quantile(double probability) {
  return boost::math::quantile(boost::math::normal_distribution<double>(), probability);
}

}  // namespace uadze::session
