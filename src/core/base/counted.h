#pragma once
// A number with what it counts, as it is said.
//
// Example:
//   EXPECT_EQ(counted(1, "lap"), "1 lap");
//   EXPECT_EQ(counted(0, "lap"), "0 laps");
//   EXPECT_EQ(counted(2, "match", "matches"), "2 matches");
#include <concepts>
#include <string>
#include <string_view>

namespace uadze {

/// `many`: where it is not `one` with an s.
template <std::integral N>
std::string counted(N number, std::string_view one, std::string_view many = {}) {
  std::string out = std::to_string(number) + " ";
  out += number == 1 || many.empty() ? one : many;
  return number == 1 || !many.empty() ? out : out + "s";
}

}  // namespace uadze
