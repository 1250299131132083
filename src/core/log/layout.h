#pragma once
// Where in a log's text the table stands and how it is written: found from the text itself.
//
//   Session;Club practice           preamble, any length
//
//   Time;Speed;Fuel Pressure        header
//   s;km/h;bar                      units, in the header or in a row of their own
//   50;50;10                        the channels' rates, which some loggers write there: passed over
//   0,00;98,2;3,02                  first row of data
//
// The table is the longest run of rows that split into the same number of cells, most of them numbers, by one
// separator; the header is the row of words above it.
//
// Example:
//   const auto found = log::find_layout("Zeit;v\ns;km/h\n0,0;98,2\n0,1;98,4\n");
//   EXPECT_EQ(found.separator, ';');
//   EXPECT_EQ(found.style.decimal, ',');
//   EXPECT_EQ(found.columns[1], (log::Heading{"v", "km/h"}));
//   EXPECT_EQ(found.first_row, 3u);
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/base/message.h"
#include "core/log/cell.h"
#include "core/log/heading.h"

namespace uadze::log {

/// Columns that a log may have; what has more is no table of channels.
inline constexpr size_t most_columns = 5000;

struct Layout {
  char separator = ',';  ///< ' ' for runs of blanks
  NumberStyle style;
  size_t header_line = 0;           ///< from 1; 0 where there is none
  size_t units_line = 0;            ///< from 1; 0 where units stand in the header or nowhere
  size_t first_row = 0;             ///< line of the first row of data, from 1
  std::optional<double> said_rate;  ///< 1/s, where the preamble names one ("Sample Rate: 50 Hz")
  std::vector<Heading> columns;
  /// As they stand there: where files were joined they come again.
  std::string header_text, units_text, rates_text;
};

/// Throws InputError (without a file's name) that says line, expected and found where there is no table of
/// numbers: an empty text, words only, one column, no row.
Layout find_layout(std::string_view text);

/// What a row of the layout's table has in each column, for looks: at most `rows` rows.
std::vector<std::vector<std::string>> sample_rows(std::string_view text, const Layout& layout, size_t rows);

/// Whether a line is one of the table's header or units again.
bool is_heading_again(std::string_view line, const Layout& layout);

}  // namespace uadze::log
