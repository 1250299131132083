#include "core/log/cell.h"

#include <algorithm>
#include <array>
#include <charconv>
#include <chrono>
#include <cmath>

#include "core/log/letters.h"

namespace uadze::log {
namespace {

std::optional<double> plain(std::string_view text) {
  if (text.size() > 1 && text.front() == '+' && text[1] != '-') text.remove_prefix(1);
  double value = 0;
  const auto [end, error] = std::from_chars(text.data(), text.data() + text.size(), value);
  if (error != std::errc{} || end != text.data() + text.size() || !std::isfinite(value)) return std::nullopt;
  return value;
}

/// Whole digits up to a mark; nothing if there are none.
std::optional<int> digits(std::string_view& text, size_t most) {
  size_t n = 0;
  while (n < text.size() && n < most && is_digit(text[n])) ++n;
  int value = 0;
  if (n == 0 || std::from_chars(text.data(), text.data() + n, value).ec != std::errc{}) return std::nullopt;
  text.remove_prefix(n);
  return value;
}

}  // namespace

std::string_view trimmed(std::string_view text) {
  const auto blank = [](char c) { return c == ' ' || c == '\t' || c == '\r' || c == '\0'; };
  while (!text.empty() && blank(text.front())) text.remove_prefix(1);
  while (!text.empty() && blank(text.back())) text.remove_suffix(1);
  if (text.starts_with("\xC2\xA0")) text.remove_prefix(2);
  if (text.ends_with("\xC2\xA0")) text.remove_suffix(2);
  return text;
}

void split(std::string_view line, char separator, std::vector<std::string_view>& out) {
  out.clear();
  if (line.ends_with('\r')) line.remove_suffix(1);
  if (separator == ' ') {
    for (size_t i = 0;;) {
      while (i < line.size() && (line[i] == ' ' || line[i] == '\t')) ++i;
      if (i >= line.size()) return;
      size_t end = i;
      if (line[i] == '"') {
        end = std::min(line.find('"', i + 1), line.size());
        out.push_back(line.substr(i + 1, end - i - 1));
        i = end + 1;
        continue;
      }
      while (end < line.size() && line[end] != ' ' && line[end] != '\t') ++end;
      out.push_back(line.substr(i, end - i));
      i = end;
    }
  }
  for (size_t i = 0;;) {
    while (i < line.size() && line[i] == ' ') ++i;
    if (i < line.size() && line[i] == '"') {
      size_t end = i + 1;
      while (end < line.size() && (line[end] != '"' || (end + 1 < line.size() && line[end + 1] == '"')))
        end += line[end] == '"' ? 2 : 1;
      end = std::min(end, line.size());
      out.push_back(trimmed(line.substr(i + 1, end - i - 1)));
      i = line.find(separator, end);
    } else {
      const size_t end = line.find(separator, i);
      out.push_back(trimmed(line.substr(i, end == std::string_view::npos ? end : end - i)));
      i = end;
    }
    if (i == std::string_view::npos) return;
    ++i;
  }
}

std::optional<double> number(std::string_view cell, const NumberStyle& style) {
  cell = trimmed(cell);
  if (cell.empty()) return std::nullopt;
  if (style.decimal == '.' && style.thousands == 0) return plain(cell);
  std::array<char, 64> buffer;
  size_t n = 0, since_mark = 0;
  bool marks = false, after_decimal = false;
  for (size_t i = 0; i < cell.size(); ++i) {
    char c = cell[i];
    // A thin or hard blank as thousands mark.
    if (style.thousands == ' ' &&
        (cell.substr(i).starts_with("\xC2\xA0") || cell.substr(i).starts_with("\xE2\x80\xAF")))
      i += cell[i] == '\xC2' ? 1 : 2, c = ' ';
    if (style.thousands && c == style.thousands && !after_decimal) {
      if (n == 0 || (marks && since_mark != 3)) return std::nullopt;
      marks = true, since_mark = 0;
      continue;
    }
    if (c == style.decimal) {
      if (after_decimal || (marks && since_mark != 3)) return std::nullopt;
      after_decimal = true, c = '.';
    } else if (c == '.' || c == ',') {
      return std::nullopt;
    } else if (is_digit(c)) {
      ++since_mark;
    }
    if (n == buffer.size()) return std::nullopt;
    buffer[n++] = c;
  }
  if (marks && !after_decimal && since_mark != 3) return std::nullopt;
  return plain({buffer.data(), n});
}

bool is_missing(std::string_view cell) {
  cell = trimmed(cell);
  if (cell.empty()) return true;
  if (cell.size() > 8) return false;
  const std::string word = lowered(cell);
  static constexpr std::array words{"nan",  "n/a",  "na",   "-",       "--", "---", "null", "none", "inf",
                                    "-inf", "+inf", "#n/a", "1.#qnan", "*",  "?",   "err",  "nul",  "-nan"};
  return std::find(words.begin(), words.end(), word) != words.end();
}

NumberStyle style_of(std::span<const std::string_view> cells) {
  static constexpr std::array styles{NumberStyle{'.', 0},   NumberStyle{',', 0},    NumberStyle{',', '.'},
                                     NumberStyle{'.', ','}, NumberStyle{'.', '\''}, NumberStyle{'.', ' '},
                                     NumberStyle{',', ' '}};
  NumberStyle best;
  double most = -1;
  for (const NumberStyle& style : styles) {
    double sum = 0;
    for (std::string_view cell : cells) {
      if (!number(cell, style)) continue;
      sum += 1;
      // "0,250" is no quarter of a million, "12,5" no number with marks: only threes after a mark can be
      // either, and there the decimal sign is the likelier one where the head is nothing.
      if (style.thousands && cell.find(style.thousands) != std::string_view::npos &&
          (cell.starts_with("0") || cell.starts_with("-0")))
        sum -= 2;
    }
    if (sum > most + 1e-9) most = sum, best = style;
  }
  return best;
}

std::optional<int> date_days(std::string_view cell) {
  cell = trimmed(cell);
  std::array<int, 3> part{};
  std::array<size_t, 3> length{};
  char mark = 0;
  for (size_t k = 0; k < 3; ++k) {
    const size_t before = cell.size();
    const auto value = digits(cell, 4);
    if (!value) return std::nullopt;
    part[k] = *value, length[k] = before - cell.size();
    if (k == 2) break;
    if (cell.empty() || (cell[0] != '-' && cell[0] != '.' && cell[0] != '/')) return std::nullopt;
    if (mark && cell[0] != mark) return std::nullopt;
    mark = cell[0];
    cell.remove_prefix(1);
  }
  if (!cell.empty()) return std::nullopt;
  int year = part[2], month = part[1], day = part[0];
  if (length[0] == 4)
    year = part[0], day = part[2];
  else if (month > 12 && day <= 12)
    std::swap(month, day);
  if (length[0] != 4 && length[2] == 2) year += 2000;
  if (year < 1970 || year > 2200) return std::nullopt;
  const std::chrono::year_month_day date{std::chrono::year(year),
                                         std::chrono::month(static_cast<unsigned>(month)),
                                         std::chrono::day(static_cast<unsigned>(day))};
  if (!date.ok()) return std::nullopt;
  return static_cast<int>(std::chrono::sys_days(date).time_since_epoch().count());
}

std::optional<double> clock_seconds(std::string_view cell) {
  cell = trimmed(cell);
  double base = 0;
  bool dated = false;
  if (const size_t blank = cell.find_first_of(" T"); blank != std::string_view::npos)
    if (const auto days = date_days(cell.substr(0, blank))) {
      base = *days * 86400.0, dated = true;
      cell = trimmed(cell.substr(blank + 1));
    }
  if (cell.ends_with('Z')) cell.remove_suffix(1);
  int half = -1;
  if (cell.size() > 2 && lower(cell.back()) == 'm') {
    const char which = lower(cell[cell.size() - 2]);
    if (which != 'a' && which != 'p') return std::nullopt;
    half = which == 'p';
    cell = trimmed(cell.substr(0, cell.size() - 2));
  }
  // An offset from Greenwich changes nothing within one log.
  if (dated && cell.size() > 6 && (cell[cell.size() - 6] == '+' || cell[cell.size() - 6] == '-'))
    cell.remove_suffix(6);
  const bool negative = cell.starts_with('-');
  if (negative) cell.remove_prefix(1);
  std::array<double, 3> part{};
  size_t n = 0;
  for (;;) {
    const auto whole = digits(cell, 6);
    if (!whole) return std::nullopt;
    part[n++] = *whole;
    if (cell.empty()) break;
    const bool fraction = cell[0] == '.' || cell[0] == ',' || (cell[0] == ':' && n == 3);
    cell.remove_prefix(cell[0] == ':' || fraction ? 1 : 0);
    if (fraction) {
      if (cell.empty()) return std::nullopt;
      double value = 0, scale = 1;
      for (; !cell.empty() && is_digit(cell[0]); cell.remove_prefix(1))
        value = 10 * value + (cell[0] - '0'), scale *= 10;
      part[n - 1] += value / scale;
      if (!cell.empty()) return std::nullopt;
      break;
    }
    if (n == 3 || cell.empty()) return std::nullopt;
  }
  if (n < 2) return std::nullopt;
  if ((n == 3 && part[1] >= 60) || part[n - 1] >= 60.0001) return std::nullopt;
  double seconds = n == 3 ? 3600 * part[0] + 60 * part[1] + part[2] : 60 * part[0] + part[1];
  // With a date, or with AM and PM, two parts are hours and minutes.
  if (n == 2 && (dated || half >= 0)) seconds *= 60;
  if (half >= 0)
    seconds += (half ? 43200.0 : 0.0) - (std::fmod(part[0], 12) == 0 && part[0] >= 12 ? 43200.0 : 0.0);
  return base + (negative ? -seconds : seconds);
}

}  // namespace uadze::log
