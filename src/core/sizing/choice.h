#pragma once
// Alternatives against several ends at once: those that no other beats in all of them.
//
// Example:
//   const std::vector<sizing::Cost> costs{{1, 2, 2, 2, 2}, {2, 1, 2, 2, 2}, {2, 2, 2, 2, 2}};   // the smaller the better
//   EXPECT_EQ(sizing::non_dominated(costs), (std::vector<size_t>{0, 1}));
#include <array>
#include <cstddef>
#include <vector>

namespace uadze::sizing {

/// Least fuel (m3), mass (kg), electrical load (A), cost points, risk (s starved a lap with a tenth less).
using Cost = std::array<double, 5>;

/// Whether a is nowhere worse than b and somewhere better (by more than rounding).
bool dominates(const Cost& a, const Cost& b);

/// Indices of those that none dominates, in their order. Of equals the first.
std::vector<size_t> non_dominated(const std::vector<Cost>& costs);

}  // namespace uadze::sizing
