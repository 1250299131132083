#include "core/session/random.h"

#include <tbb/parallel_for.h>

#include <boost/math/distributions/normal.hpp>

#include "core/base/kept.h"

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
  // In the registers' own doubles: the library would go by way of long ones, four times slower for a digit
  // that no draw shows.
  using Plain = boost::math::policies::policy<boost::math::policies::promote_double<false>>;
  return boost::math::quantile(boost::math::normal_distribution<double, Plain>(), probability);
}

std::shared_ptr<const std::vector<double>> normal_draws(std::uint64_t seed, std::uint64_t stream,
                                                        size_t count) {
  // Never taken down: work in the background may ask for it until the very end.
  static Kept<std::vector<double>>& kept = *new Kept<std::vector<double>>(8u << 20);
  const ContentKey key = KeyMaker()
                             .add("normal draws")
                             .add(static_cast<std::int64_t>(seed))
                             .add(static_cast<std::int64_t>(stream))
                             .add(static_cast<std::int64_t>(count))
                             .key();
  if (auto known = kept.find(key)) return known;
  auto out = std::make_shared<std::vector<double>>(count);
  tbb::parallel_for(size_t{0}, count, [&](size_t i) { (*out)[i] = normal_draw(seed, stream, i); });
  kept.keep(key, out, count * sizeof(double));
  return out;
}

}  // namespace uadze::session
