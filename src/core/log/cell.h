#pragma once
// Cells of a log as numbers: decimal point or comma, thousands marks, clock times and dates, and the words
// that loggers write where a value is missing.
//
// Example:
//   EXPECT_EQ(log::number("1.234,5", {',', '.'}), 1234.5);
//   EXPECT_EQ(log::clock_seconds("1:02:03,25"), 3723.25);
//   EXPECT_EQ(log::clock_seconds("2026-03-01T00:00:10") , 1772323210.0);     // s since 1970
//   EXPECT_TRUE(log::is_missing("n/a"));
#include <optional>
#include <span>
#include <string_view>
#include <vector>

namespace uadze::log {

/// How numbers are written. `thousands` is 0 where there is no such mark.
struct NumberStyle {
  char decimal = '.';
  char thousands = 0;
  bool operator==(const NumberStyle&) const = default;
};

std::string_view trimmed(std::string_view text);

/// Splits a line at a separator, quotes taken off; ' ' stands for any run of blanks. The views are into the
/// line.
void split(std::string_view line, char separator, std::vector<std::string_view>& out);

/// A finite number, nothing around it but blanks.
std::optional<double> number(std::string_view cell, const NumberStyle& style);

/// Empty, or one of the words for no value: "nan", "n/a", "-", "null", "inf" and their like.
bool is_missing(std::string_view cell);

/// The style in which most cells of a sample are numbers.
NumberStyle style_of(std::span<const std::string_view> cells);

/// Seconds of "12:34", "1:02:03.25", of "2026-03-01 10:00:00" and "01.03.2026 10:00:00" (since 1970), with
/// AM and PM. A number alone is none. Without a date they are since midnight.
std::optional<double> clock_seconds(std::string_view cell);

/// Days since 1970 of "2026-03-01", "01.03.2026", "03/25/2026"; day first where both could be.
std::optional<int> date_days(std::string_view cell);

}  // namespace uadze::log
