#include "core/log/layout.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cctype>
#include <set>

namespace uadze::log {
namespace {

constexpr size_t sample_bytes = size_t{1} << 18;
constexpr std::array separators{',', ';', '\t', '|', ' '};

[[noreturn]] void refuse(size_t line, std::string expected, std::string found) {
  throw InputError(Message{.file = {},
                           .place = line ? fmt::format("line {}", line) : "",
                           .expected = std::move(expected),
                           .found = std::move(found)});
}

std::string brief(std::string_view line) {
  line = trimmed(line);
  return line.size() > 60 ? std::string(line.substr(0, 57)) + "..." : std::string(line);
}

std::vector<std::string_view> lines_of(std::string_view text) {
  std::vector<std::string_view> out;
  while (!text.empty()) {
    const size_t end = text.find_first_of("\r\n");
    out.push_back(text.substr(0, end));
    if (end == std::string_view::npos) break;
    text.remove_prefix(text.substr(end).starts_with("\r\n") ? end + 2 : end + 1);
  }
  return out;
}

using Cells = std::vector<std::string_view>;

/// A number in any style, a clock time or a date.
bool is_value(std::string_view cell) {
  static constexpr std::array styles{NumberStyle{'.', 0},   NumberStyle{',', 0},    NumberStyle{',', '.'},
                                     NumberStyle{'.', ','}, NumberStyle{'.', '\''}, NumberStyle{'.', ' '},
                                     NumberStyle{',', ' '}};
  return std::any_of(styles.begin(), styles.end(),
                     [&](const NumberStyle& s) { return number(cell, s).has_value(); }) ||
         clock_seconds(cell) || date_days(cell);
}

struct Row {
  Cells cells;
  size_t values = 0, missing = 0, words = 0;
  std::ptrdiff_t worth() const {
    return static_cast<std::ptrdiff_t>(values) - static_cast<std::ptrdiff_t>(words);
  }
  /// Mostly values; where others are blank as many as words will do, behind a first value.
  bool data() const {
    return values > 0 && cells.size() >= 2 &&
           (values >= 2 * words || (missing > 0 && values >= words && is_value(cells.front())));
  }
};

Row row_of(std::string_view line, char separator) {
  Row out;
  split(line, separator, out.cells);
  // A separator behind the last value makes no column.
  if (separator != ' ' && out.cells.size() > 1 && out.cells.back().empty()) out.cells.pop_back();
  for (std::string_view cell : out.cells) {
    if (is_missing(cell))
      ++out.missing;
    else if (is_value(cell))
      ++out.values;
    else
      ++out.words;
  }
  return out;
}

/// The longest run of rows of data with one number of cells; blank lines do not end it.
struct Run {
  size_t first = 0, rows = 0, cells = 0;
  std::ptrdiff_t values = 0;  ///< less the words between them
};

Run longest_run(const std::vector<std::string_view>& lines, char separator) {
  std::vector<Run> all;
  bool open = false;
  for (size_t i = 0; i < lines.size(); ++i) {
    if (trimmed(lines[i]).empty()) continue;
    const Row row = row_of(lines[i], separator);
    if (!row.data()) {
      open = false;
      continue;
    }
    // Rows may end early where the last values are missing.
    if (open) {
      Run& now = all.back();
      if (row.cells.size() <= now.cells + (now.rows < 3 ? 1 : 0) &&
          row.cells.size() + 3 + now.cells / 2 > now.cells) {
        now.cells = std::max(now.cells, row.cells.size());
        ++now.rows, now.values += row.worth();
        continue;
      }
    }
    all.push_back({i, 1, row.cells.size(), row.worth()});
    open = true;
  }
  if (all.empty()) return {};
  const Run best = *std::max_element(all.begin(), all.end(),
                                     [](const Run& a, const Run& b) { return a.values < b.values; });
  // Where files were joined the table begins with the first of its pieces.
  for (const Run& run : all)
    if (run.cells == best.cells && run.rows >= std::min<size_t>(best.rows, 3)) {
      Run out = best;
      out.first = run.first;
      return out;
    }
  return best;
}

/// A row of the channels' rates that looks like the first of the data: round numbers of samples a second,
/// from which what comes next runs back.
bool is_of_rates(const Row& row, const Row& next) {
  constexpr std::array rates{1,  2,  4,   5,   8,   10,  16,  20,  25,   32,
                             40, 50, 100, 125, 200, 250, 400, 500, 1000, 2000};
  const auto value = [](std::string_view cell) { return number(cell, NumberStyle{'.', 0}); };
  const auto is_rate = [&](std::string_view cell) {
    const auto v = value(cell);
    return v && std::find(rates.begin(), rates.end(), *v) != rates.end();
  };
  if (row.values < 3) return false;
  bool runs_back = false, first = true, all_next = true;
  for (size_t c = 0; c < row.cells.size(); ++c) {
    if (!is_value(row.cells[c])) continue;
    if (!is_rate(row.cells[c])) return false;
    if (c >= next.cells.size() || !is_value(next.cells[c])) continue;
    all_next = all_next && is_rate(next.cells[c]);
    if (const auto v = value(next.cells[c]); first && v) runs_back = *v < *value(row.cells[c]);
    first = false;
  }
  return runs_back && !all_next;
}

/// "Sample Rate: 50 Hz", "Abtastrate;100;Hz": a line with a word for it, one number, and hertz.
std::optional<double> rate_said(std::string_view line) {
  std::string text(line);
  std::transform(text.begin(), text.end(), text.begin(), [](unsigned char c) { return std::tolower(c); });
  const auto has = [&](const char* part) { return text.find(part) != std::string::npos; };
  if (!has("hz") || !(has("rate") || has("freq") || has("sampl") || has("abtast"))) return std::nullopt;
  const auto digit = [](char c) { return c >= '0' && c <= '9'; };
  const auto begin = std::find_if(text.begin(), text.end(), digit);
  const auto end = std::find_if(begin, text.end(), [&](char c) { return !digit(c) && c != '.'; });
  const auto rate = number(std::string(begin, end), NumberStyle{'.', 0});
  if (std::any_of(end, text.end(), digit) || !rate || !(*rate >= 0.1 && *rate <= 1e5)) return std::nullopt;
  return rate;
}

/// Cells of a header that is parted by blanks, where names have blanks in them too.
Cells blank_header(std::string_view line, size_t wanted) {
  Cells out;
  split(line, ' ', out);
  if (out.size() == wanted) return out;
  // Two blanks part, one is within a name.
  Cells wide;
  for (size_t i = 0; i < line.size();) {
    while (i < line.size() && (line[i] == ' ' || line[i] == '\t')) ++i;
    if (i >= line.size()) break;
    size_t end = i;
    while (end < line.size() && line[end] != '\t' &&
           !(line[end] == ' ' && end + 1 < line.size() && line[end + 1] == ' '))
      ++end;
    wide.push_back(trimmed(line.substr(i, end - i)));
    i = end;
  }
  if (wide.size() == wanted) return wide;
  // A unit in brackets belongs to the name before it.
  Cells joined;
  for (std::string_view cell : out)
    if (!joined.empty() && (cell.starts_with('[') || cell.starts_with('(') || cell.starts_with('{')))
      joined.back() = std::string_view(joined.back().data(),
                                       static_cast<size_t>(cell.data() + cell.size() - joined.back().data()));
    else
      joined.push_back(cell);
  if (joined.size() == wanted) return joined;
  return out;
}

struct Words {
  size_t words = 0, units = 0, filled = 0;
};

Words words_in(const Cells& cells) {
  Words out;
  for (std::string_view cell : cells) {
    if (trimmed(cell).empty()) continue;
    ++out.filled;
    // "1" and "%" are units; "-" says that there is none.
    if (is_unit(cell) || known_unit(cell).empty())
      ++out.units;
    else if (!is_value(cell))
      ++out.words;
  }
  return out;
}

}  // namespace

Layout find_layout(std::string_view text) {
  const bool cut = text.size() > sample_bytes;
  std::vector<std::string_view> lines = lines_of(text.substr(0, sample_bytes));
  if (cut && lines.size() > 1) lines.pop_back();
  if (trimmed(text.substr(0, sample_bytes)).empty() ||
      std::all_of(lines.begin(), lines.end(), [](std::string_view l) { return trimmed(l).empty(); }))
    refuse(0, "a table of channels", "an empty file");
  for (char c : text.substr(0, 4096))
    if (c == '\0') refuse(1, "a text", "bytes that are none");
  for (size_t i = 0; i < lines.size(); ++i)
    if (static_cast<size_t>(std::count_if(lines[i].begin(), lines[i].end(),
                                          [](char c) { return c == ',' || c == ';' || c == '\t'; })) >
            2 * most_columns ||
        (cut && lines.size() == 1))
      refuse(i + 1, fmt::format("at most {} columns", most_columns), "more than that in one line");

  char separator = ',';
  Run run;
  for (char candidate : separators) {
    const Run found = longest_run(lines, candidate);
    // Of rows that split by two marks the one with more rows; then the one with more numbers.
    const auto better = [&] {
      if (found.rows == 0 || found.cells < 2) return false;
      if (run.rows == 0) return true;
      if (found.rows * 2 < run.rows) return false;
      if (run.rows * 2 < found.rows) return true;
      return found.values > run.values * 21 / 20;
    };
    if (better()) run = found, separator = candidate;
  }
  if (run.rows == 0) {
    // The widest row of words is the header of a table without rows.
    size_t widest = 0, cells = 0;
    for (size_t i = 0; i < lines.size(); ++i)
      for (char candidate : {',', ';', '\t'})
        if (const size_t n = row_of(lines[i], candidate).cells.size(); n > cells) cells = n, widest = i;
    if (cells >= 2) refuse(widest + 2, "rows of numbers under the header", "none");
    const bool numbers = std::count_if(lines.begin(), lines.end(),
                                       [](std::string_view l) { return is_value(trimmed(l)); }) > 2;
    const size_t at = static_cast<size_t>(
        std::find_if(lines.begin(), lines.end(), [](std::string_view l) { return !trimmed(l).empty(); }) -
        lines.begin());
    refuse(at + 1, "a time and at least one channel beside it",
           numbers ? "one column" : "\"" + brief(lines[at]) + "\"");
  }

  std::string_view rates;
  if (run.rows > 2) {
    size_t next = run.first + 1;
    while (next < lines.size() && trimmed(lines[next]).empty()) ++next;
    if (next < lines.size() &&
        is_of_rates(row_of(lines[run.first], separator), row_of(lines[next], separator)))
      rates = lines[run.first], run.first = next, --run.rows;
  }

  Layout out;
  out.separator = separator;
  out.rates_text = rates;
  std::vector<std::string_view> sample;
  {
    size_t rows = 0;
    for (size_t i = run.first; i < lines.size() && rows < 400; ++i) {
      const Row row = row_of(lines[i], separator);
      if (!row.data()) continue;
      ++rows;
      for (std::string_view cell : row.cells)
        if (!is_missing(cell) && cell.find(':') == std::string_view::npos && !date_days(cell))
          sample.push_back(cell);
    }
  }
  out.style = style_of(sample);

  // Upwards from the first row: a row of units, then the row with the names. Rows of rates or numbers between
  // them are no names.
  const auto cells_of = [&](size_t i) {
    Cells cells;
    if (separator == ' ')
      cells = blank_header(lines[i], run.cells);
    else
      split(lines[i], separator, cells);
    while (cells.size() > run.cells && cells.back().empty()) cells.pop_back();
    return cells;
  };
  size_t header = lines.size(), units = lines.size();
  for (size_t i = run.first, looked = 0; i-- > 0 && looked < 6;) {
    if (trimmed(lines[i]).empty()) continue;
    ++looked;
    const Cells cells = cells_of(i);
    const Words w = words_in(cells);
    if (cells.size() * 2 < run.cells || cells.size() > run.cells + 1) continue;
    if (units == lines.size() && w.units * 2 > w.filled && w.filled > 0 && i > 0) {
      // Names that look like units ("G", "C") are names if nothing stands above.
      units = i;
      continue;
    }
    if (w.words * 2 >= w.filled && w.filled * 2 >= run.cells) {
      header = i;
      break;
    }
  }
  if (header == lines.size() && units != lines.size()) std::swap(header, units);
  // Names that are units besides ("a", "c") at the very top.
  if (header == lines.size())
    for (size_t i = run.first; i-- > 0;) {
      if (trimmed(lines[i]).empty()) continue;
      const Cells cells = cells_of(i);
      const Words w = words_in(cells);
      if (cells.size() == run.cells && w.words + w.units == run.cells) header = i;
      break;
    }
  Cells names, unit_cells;
  if (header != lines.size()) {
    names = cells_of(header);
    out.header_line = header + 1, out.header_text = lines[header];
  }
  if (units != lines.size() && header != lines.size() && units > header) {
    unit_cells = cells_of(units);
    out.units_line = units + 1, out.units_text = lines[units];
  }
  for (size_t i = header + 1; i < run.first; ++i)
    if (i != units && row_of(lines[i], separator).data()) out.rates_text = lines[i];
  out.first_row = run.first + 1;
  for (size_t i = 0; i < std::min(header, run.first) && !out.said_rate; ++i)
    out.said_rate = rate_said(lines[i]);
  const size_t columns = std::max(run.cells, std::min(names.size(), run.cells + 1));
  for (size_t c = 0; c < columns; ++c) {
    Heading h;
    if (c < names.size()) {
      std::string_view name = names[c];
      if (c == 0 && (name.starts_with('#') || name.starts_with('%') || name.starts_with("//")))
        name = trimmed(name.substr(name.find_first_not_of("#%/")));
      h = unit_cells.empty() ? heading(name) : Heading{std::string(trimmed(name)), ""};
    }
    if (c < unit_cells.size()) {
      const std::string_view said = trimmed(unit_cells[c]);
      h.unit = known_unit(said).empty() ? "" : heading(std::string("x ") + std::string(said)).unit;
      if (h.unit.empty() && !known_unit(said).empty()) h.unit = known_unit(said);
    }
    if (h.name.empty()) h.name = fmt::format("column {}", c + 1);
    out.columns.push_back(std::move(h));
  }
  // Names that come twice are told apart.
  std::set<std::string> taken;
  for (Heading& h : out.columns) {
    const std::string name = h.name;
    for (int k = 2; !taken.insert(h.name).second; ++k) h.name = fmt::format("{} ({})", name, k);
  }
  return out;
}

bool is_heading_again(std::string_view line, const Layout& layout) {
  if (line.empty()) return false;
  return line == layout.header_text || line == layout.units_text || line == layout.rates_text;
}

std::vector<std::vector<std::string>> sample_rows(std::string_view text, const Layout& layout, size_t rows) {
  std::vector<std::vector<std::string>> out;
  const auto lines = lines_of(text.substr(0, sample_bytes));
  for (size_t i = layout.first_row - 1; i < lines.size() && out.size() < rows; ++i) {
    if (trimmed(lines[i]).empty() || is_heading_again(lines[i], layout)) continue;
    Cells cells;
    split(lines[i], layout.separator, cells);
    std::vector<std::string> row(cells.begin(), cells.end());
    row.resize(layout.columns.size());
    out.push_back(std::move(row));
  }
  return out;
}

}  // namespace uadze::log
