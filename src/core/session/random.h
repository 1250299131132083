#pragma once
// Random numbers by their place, not by their order: the same seed gives the same draws on any number of
// threads.
//
// Example:
//   EXPECT_EQ(session::normal_draw(1, 2, 3), session::normal_draw(1, 2, 3)) << "by its place";
//   EXPECT_NE(session::normal_draw(1, 2, 3), session::normal_draw(2, 2, 3));
//   EXPECT_NEAR(session::normal_quantile(0.975), 1.959964, 1e-6);
#include <cstdint>
#include <memory>
#include <vector>

namespace uadze::session {

/// Uniform in (0, 1): SplitMix64 (Steele, Lea and Flood 2014) of the place.
double uniform_draw(std::uint64_t seed, std::uint64_t stream, std::uint64_t index);

/// The value that a standard normal stays under with this probability (0..1).
double normal_quantile(double probability);

inline double normal_draw(std::uint64_t seed, std::uint64_t stream, std::uint64_t index) {
  return normal_quantile(uniform_draw(seed, stream, index));
}

/// normal_draw of the first `count` places of a stream. Kept, as every session and stint asks for the same.
std::shared_ptr<const std::vector<double>> normal_draws(std::uint64_t seed, std::uint64_t stream,
                                                        size_t count);

}  // namespace uadze::session
