#pragma once
// Tables as text: a header row, then rows of the same length. UTF-8 with or without byte-order mark, any line
// ends, separated by comma, semicolon or tab (whichever the header holds most of). Numbers have a decimal
// point whatever the locale.
//
// Example:
//   using namespace uadze;
//   const std::string text = csv_row({"pickup", "volume [l]"}) + csv_row({"rear, left", "1.25"});
//   const CsvTable table = parse_csv(text, "reach.csv");
//   EXPECT_EQ(table.rows[0][0], "rear, left");
#include <string>
#include <string_view>
#include <vector>

#include "core/base/message.h"

namespace uadze {

struct CsvTable {
  std::vector<std::string> header;
  std::vector<std::vector<std::string>> rows;
  std::vector<int> lines;  ///< line number of each row, from 1
  char separator = ',';
};

/// Splits the text. Empty lines are passed over, lines that begin with # are comments. Throws InputError that
/// names file and line for an empty file or rows of another length than the header; where decimal commas look
/// like the reason it says so.
CsvTable parse_csv(std::string_view text, const std::string& file);

/// One line of a table, its end with it; cells that need it are quoted (RFC 4180).
std::string csv_row(const std::vector<std::string>& cells);

}  // namespace uadze
