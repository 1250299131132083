#pragma once
// ASCII letters and digits, whatever the locale.
//
// Example:
//   EXPECT_EQ(log::lowered("Fuel P2"), "fuel p2");
#include <string>
#include <string_view>

namespace uadze::log {

constexpr bool is_upper(char c) { return c >= 'A' && c <= 'Z'; }
constexpr bool is_digit(char c) { return c >= '0' && c <= '9'; }
/// Letters of other alphabets (bytes of UTF-8) count as letters.
constexpr bool is_letter(char c) {
  return is_upper(c) || (c >= 'a' && c <= 'z') || static_cast<signed char>(c) < 0;
}
constexpr char lower(char c) { return is_upper(c) ? static_cast<char>(c - 'A' + 'a') : c; }

inline std::string lowered(std::string_view text) {
  std::string out(text);
  for (char& c : out) c = lower(c);
  return out;
}

}  // namespace uadze::log
