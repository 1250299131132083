#include "core/base/csv.h"

#include <fmt/format.h>

#include <algorithm>

#include "core/base/units.h"

namespace uadze {
namespace {

std::vector<std::string> split(std::string_view line, char separator) {
  std::vector<std::string> fields;
  std::string field;
  bool quoted = false;
  for (size_t i = 0; i < line.size(); ++i) {
    const char c = line[i];
    if (c == '"' && quoted && i + 1 < line.size() && line[i + 1] == '"')
      field += line[++i];
    else if (c == '"')
      quoted = !quoted;
    else if (c == separator && !quoted)
      fields.push_back(std::move(field)), field.clear();
    else
      field += c;
  }
  fields.push_back(std::move(field));
  for (auto& f : fields) {
    const auto first = f.find_first_not_of(" \t");
    const auto last = f.find_last_not_of(" \t");
    f = first == std::string::npos ? "" : f.substr(first, last - first + 1);
  }
  return fields;
}

}  // namespace

std::string csv_row(const std::vector<std::string>& cells) {
  std::string out;
  for (const std::string& cell : cells) {
    if (&cell != cells.data()) out += ',';
    // A field that begins with # would be taken for a comment.
    if (cell.find_first_of(",\"\r\n") == std::string::npos && !cell.starts_with('#')) {
      out += cell;
      continue;
    }
    out += '"';
    for (char c : cell) out += c == '"' ? std::string("\"\"") : std::string(1, c);
    out += '"';
  }
  return out + "\n";
}

CsvTable parse_csv(std::string_view text, const std::string& file) {
  if (text.starts_with("\xEF\xBB\xBF")) text.remove_prefix(3);
  CsvTable table;
  Messages faults;
  int line_number = 0;
  size_t left_out = 0;
  while (!text.empty()) {
    const size_t end = text.find_first_of("\r\n");
    std::string_view line = text.substr(0, end);
    ++line_number;
    text.remove_prefix(end == std::string_view::npos ? text.size() : end);
    if (text.starts_with("\r\n"))
      text.remove_prefix(2);
    else if (!text.empty())
      text.remove_prefix(1);
    if (line.find_first_not_of(" \t") == std::string_view::npos || line.starts_with('#')) continue;
    if (table.header.empty()) {
      for (char c : {';', '\t'})
        if (std::count(line.begin(), line.end(), c) > std::count(line.begin(), line.end(), table.separator))
          table.separator = c;
      table.header = split(line, table.separator);
      continue;
    }
    auto fields = split(line, table.separator);
    if (fields.size() != table.header.size()) {
      const bool decimal_commas = table.separator == ',' && fields.size() > table.header.size();
      if (faults.size() < 5)
        faults.push_back({.file = file,
                          .place = fmt::format("line {}", line_number),
                          .expected = fmt::format("{} fields, as the header names", table.header.size()),
                          .found = fmt::format("{} fields{}", fields.size(),
                                               decimal_commas ? " (are these decimal commas? Numbers need a "
                                                                "decimal point)"
                                                              : "")});
      else
        ++left_out;
      continue;
    }
    table.rows.push_back(std::move(fields));
    table.lines.push_back(line_number);
  }
  if (table.header.empty())
    faults.push_back({.file = file,
                      .place = "line 1",
                      .expected = "a header row that names the channels and their units",
                      .found = "an empty file"});
  if (left_out > 0)
    faults.push_back({.file = file,
                      .place = {},
                      .expected = {},
                      .found = fmt::format("{} more lines of the wrong length", left_out)});
  if (!faults.empty()) throw InputError(std::move(faults));
  return table;
}

}  // namespace uadze
