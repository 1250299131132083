#pragma once
// Rows as they were read, each with what its clock said, made into a log: one time that only rises, rows of
// one moment as one, blank cells filled, parts where the clock leaps.
//
// Example:
//   Messages notes;
//   log::Rows rows{.clock = {0, 1, 1, 2}, .channels = {{.name = "v", .unit = "V", .values = {1, 2, 2, 3}}}};
//   const log::Log log = log::settled(std::move(rows), "a.csv", notes);
//   EXPECT_EQ(log.time, (std::vector<double>{0, 1, 2}));
#include <limits>

#include "core/log/log.h"

namespace uadze::log {

/// A cell without a value.
inline constexpr float blank_cell = std::numeric_limits<float>::quiet_NaN();

struct Rows {
  std::vector<double> clock;      ///< s of each row; not a number where a line was no row
  std::vector<int> date;          ///< days since 1970 of each row, 0 where none is said; empty: no dates
  std::vector<Channel> channels;  ///< one value a row, `blank_cell` where none is
  std::string clock_name = "time";
  size_t first_line = 1;  ///< line of the first row
};

/// Throws InputError naming the file for fewer than two different times, or steps that no logger has; says
/// leaps, repeated times and channels without a value.
Log settled(Rows&& rows, const std::string& file, Messages& notes);

}  // namespace uadze::log
