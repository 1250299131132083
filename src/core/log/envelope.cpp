#include "core/log/envelope.h"

#include <algorithm>

#include "core/base/require.h"

namespace uadze::log {

Envelope::Envelope(std::span<const float> values) {
  for (size_t i = 0; i < values.size(); i += block) {
    const auto part = values.subspan(i, std::min(block, values.size() - i));
    const auto [low, high] = std::minmax_element(part.begin(), part.end());
    blocks_.emplace_back(*low, *high);
  }
}

std::pair<float, float> Envelope::over(std::span<const float> values, size_t first, size_t past) const {
  UADZE_REQUIRE(first < past && past <= values.size(), "a stretch of the channel with a sample in it");
  std::pair<float, float> out{values[first], values[first]};
  const auto take = [&](float low, float high) {
    out.first = std::min(out.first, low), out.second = std::max(out.second, high);
  };
  for (size_t i = first; i < past;) {
    if (i % block == 0 && i + block <= past) {
      take(blocks_[i / block].first, blocks_[i / block].second);
      i += block;
    } else {
      take(values[i], values[i]);
      ++i;
    }
  }
  return out;
}

}  // namespace uadze::log
