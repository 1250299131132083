#pragma once
// The least and the most of a channel over any stretch, quick enough to draw ten million samples: one pair
// kept for each 256 samples.
//
// Example:
//   const std::vector<float> values{1, 5, 2, 4};
//   const log::Envelope envelope(values);
//   EXPECT_EQ(envelope.over(values, 1, 3), (std::pair{2.f, 5.f}));
#include <span>
#include <utility>
#include <vector>

namespace uadze::log {

class Envelope {
 public:
  explicit Envelope(std::span<const float> values);
  /// Least and most of [first, past); `values` are those it was made of, and there is one at least.
  std::pair<float, float> over(std::span<const float> values, size_t first, size_t past) const;

 private:
  static constexpr size_t block = 256;
  std::vector<std::pair<float, float>> blocks_;
};

}  // namespace uadze::log
