#pragma once
// Values along something that rises, such as a lap's time.
//
// Example:
//   const std::vector<double> time{0, 1, 3}, speed{10, 20, 40};
//   EXPECT_EQ(last_until(time, 2.9), 1u);
//   EXPECT_EQ(between(time, speed, 2.0), 30.0);
//   EXPECT_EQ(between(time, speed, 9.0), 40.0);  // held before the first and after the last
#include <algorithm>
#include <cstddef>
#include <vector>

namespace uadze {

/// The last whose `at` is not over x; the first where all are.
inline size_t last_until(const std::vector<double>& at, double x) {
  const auto next = std::upper_bound(at.begin(), at.end(), x);
  return next == at.begin() ? 0 : static_cast<size_t>(next - at.begin() - 1);
}

/// Straight between neighbours, held before the first and after the last. Needs one value or more, as many as
/// `at` has.
template <class T>
T between(const std::vector<double>& at, const std::vector<T>& values, double x) {
  const auto next = std::upper_bound(at.begin(), at.end(), x);
  if (next == at.begin()) return values.front();
  if (next == at.end()) return values.back();
  const size_t j = static_cast<size_t>(next - at.begin()), i = j - 1;
  return values[i] + (values[j] - values[i]) * (x - at[i]) / (at[j] - at[i]);
}

}  // namespace uadze
