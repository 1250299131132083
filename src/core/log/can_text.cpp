#include "core/log/can_text.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <charconv>
#include <map>

#include "core/log/rows.h"

namespace uadze::log {
namespace {

struct Frame {
  std::optional<double> time;
  std::uint32_t id = 0;
  std::array<std::uint8_t, 64> data{};
  size_t bytes = 0;
};

bool hex_byte(std::string_view text, std::uint8_t& out) {
  return text.size() == 2 && std::from_chars(text.data(), text.data() + 2, out, 16).ptr == text.data() + 2;
}

std::optional<Frame> frame_of(std::string_view line) {
  Frame out;
  line = trimmed(line);
  if (line.starts_with('(')) {
    const size_t close = line.find(')');
    if (close == std::string_view::npos) return std::nullopt;
    const std::string_view inside = line.substr(1, close - 1);
    out.time = number(inside, {});
    if (!out.time) out.time = clock_seconds(inside);
    if (!out.time) return std::nullopt;
    line = trimmed(line.substr(close + 1));
  }
  std::vector<std::string_view> words;
  split(line, ' ', words);
  if (words.size() < 2) return std::nullopt;
  const auto id_of = [&](std::string_view text) {
    const auto id = frame_id(text);
    out.id = id.value_or(0);
    return id.has_value();
  };
  if (const size_t mark = words[1].find('#'); mark != std::string_view::npos) {
    if (!id_of(words[1].substr(0, mark))) return std::nullopt;
    std::string_view data = words[1].substr(mark + 1);
    // Flexible data rate: another mark and a digit of flags. Remote frames have no data.
    if (data.starts_with('#')) data.remove_prefix(std::min<size_t>(2, data.size()));
    if (data.starts_with('R')) data = {};
    for (; data.size() >= 2 && out.bytes < out.data.size(); data.remove_prefix(2))
      if (!hex_byte(data.substr(0, 2), out.data[out.bytes++])) return std::nullopt;
    return data.empty() ? std::optional(out) : std::nullopt;
  }
  if (words.size() < 3 || !id_of(words[1])) return std::nullopt;
  size_t first = 2;
  if (words[2].starts_with('[')) first = 3;
  for (size_t k = first; k < words.size() && out.bytes < out.data.size(); ++k) {
    if (words[k].size() != 2 || !hex_byte(words[k], out.data[out.bytes])) break;  // text of the bytes behind
    ++out.bytes;
  }
  return first == 3 ? std::optional(out) : std::nullopt;
}

}  // namespace

std::optional<std::uint32_t> frame_id(std::string_view text) {
  if (text.starts_with("0x") || text.starts_with("0X")) text.remove_prefix(2);
  std::uint32_t id = 0;
  const auto [end, error] = std::from_chars(text.data(), text.data() + text.size(), id, 16);
  if (text.empty() || error != std::errc{} || end != text.data() + text.size() || id >= 1u << 29)
    return std::nullopt;
  return id;
}

std::optional<double> raw_value(const Signal& signal, std::span<const std::uint8_t> data) {
  std::uint64_t raw = 0;
  int byte = signal.start_bit / 8, bit = signal.start_bit % 8;
  for (int k = 0; k < signal.length; ++k) {
    if (byte < 0 || static_cast<size_t>(byte) >= data.size()) return std::nullopt;
    const std::uint64_t one = data[static_cast<size_t>(byte)] >> bit & 1u;
    if (signal.order == ByteOrder::little) {
      raw |= one << k;
      if (++bit == 8) bit = 0, ++byte;
    } else {
      raw = raw << 1 | one;
      if (--bit < 0) bit = 7, ++byte;
    }
  }
  if (signal.negative && signal.length < 64 && (raw >> (signal.length - 1) & 1u))
    raw |= ~std::uint64_t{0} << signal.length;
  return signal.negative ? static_cast<double>(static_cast<std::int64_t>(raw)) : static_cast<double>(raw);
}

bool looks_like_can(std::string_view text) {
  size_t frames = 0, lines = 0;
  while (!text.empty() && lines < 20) {
    const size_t end = text.find('\n');
    const std::string_view line = text.substr(0, end);
    text.remove_prefix(end == std::string_view::npos ? text.size() : end + 1);
    if (trimmed(line).empty()) continue;
    ++lines, frames += frame_of(line).has_value();
  }
  return lines > 0 && frames * 10 >= lines * 8;
}

Read<LogFile> parse_can(std::string_view text, const std::vector<Signal>& table, const std::string& file,
                        const Mapping* mapping, Progress* progress) {
  Messages notes;
  const auto say = [&](Severity severity, std::string place, std::string expected, std::string found) {
    notes.push_back({severity, file, std::move(place), std::move(expected), std::move(found)});
  };
  if (table.empty()) {
    say(Severity::error, "", "a table of signals for its frames", "none");
    throw InputError(notes);
  }
  std::map<std::uint32_t, std::vector<size_t>> by_id;
  for (size_t k = 0; k < table.size(); ++k) {
    const auto id = frame_id(table[k].id);
    if (!id) {
      say(Severity::error, "signal " + table[k].name, "a frame's number, hexadecimal",
          "\"" + table[k].id + "\"");
      throw InputError(notes);
    }
    by_id[*id].push_back(k);
  }
  std::vector<std::vector<float>> values(table.size());
  std::vector<size_t> found(table.size(), 0), cut(table.size(), 0);
  Rows rows;
  size_t line_number = 0, bad = 0;
  const size_t whole = text.size();
  while (!text.empty()) {
    const size_t end = text.find('\n');
    const std::string_view line = text.substr(0, end);
    text.remove_prefix(end == std::string_view::npos ? text.size() : end + 1);
    if (++line_number % 65536 == 0 && progress) {
      progress->check();
      progress->report(1 - static_cast<double>(text.size()) / static_cast<double>(whole));
    }
    const auto push = [&](double t) {
      rows.clock.push_back(t);
      for (auto& v : values) v.push_back(blank_cell);
    };
    if (trimmed(line).empty()) {
      push(std::numeric_limits<double>::quiet_NaN());
      continue;
    }
    const auto frame = frame_of(line);
    if (!frame || !frame->time) {
      if (bad++ < 2)
        say(bad > line_number / 20 + 2 ? Severity::error : Severity::warning,
            fmt::format("line {}", line_number), "a frame with its time, such as \"(10.02) can0 1A0#0A2B\"",
            "\"" + std::string(trimmed(line).substr(0, 40)) + "\"");
      push(std::numeric_limits<double>::quiet_NaN());
      continue;
    }
    const auto here = by_id.find(frame->id);
    if (here == by_id.end()) {
      push(std::numeric_limits<double>::quiet_NaN());
      continue;
    }
    push(*frame->time);
    for (size_t k : here->second) {
      const auto raw = raw_value(table[k], std::span(frame->data).first(frame->bytes));
      if (!raw) {
        ++cut[k];
        continue;
      }
      ++found[k];
      values[k].back() = static_cast<float>(*raw * table[k].scale + table[k].offset);
    }
  }
  if (bad * 20 > line_number) {
    for (Message& m : notes) m.severity = Severity::error;
    throw InputError(notes);
  }
  for (size_t k = 0; k < table.size(); ++k) {
    if (found[k]) continue;
    say(Severity::note, "signal " + table[k].name, "",
        cut[k] ? fmt::format("its frames {} are too short for it", table[k].id)
               : fmt::format("no frame {} in the log", table[k].id));
  }
  if (std::all_of(found.begin(), found.end(), [](size_t n) { return n == 0; })) {
    say(Severity::error, "", "frames of the table's signals", "none of them in the log");
    throw InputError(notes);
  }

  LogFile out;
  std::vector<std::vector<std::string>> sample;
  for (const Signal& s : table) out.layout.columns.push_back({s.name, s.unit});
  for (size_t r = 0; r < rows.clock.size() && sample.size() < 4000; ++r) {
    sample.emplace_back(table.size());
    for (size_t k = 0; k < table.size(); ++k)
      if (!std::isnan(values[k][r])) sample.back()[k] = fmt::format("{}", values[k][r]);
  }
  out.mapping = propose(out.layout, sample);
  for (ColumnUse& use : out.mapping.columns)
    if (use.role == Role::time || use.role == Role::date) use.role = Role::none;
  if (mapping) out.mapping = applied(*mapping, out.mapping);
  for (size_t k = 0; k < table.size(); ++k) {
    const ColumnUse& use = out.mapping.columns[k];
    Channel c{.name = use.column,
              .unit = use.unit,
              .role = use.role,
              .against = use.against,
              .values = std::move(values[k])};
    if (use.role != Role::none) {
      c.between = info_of(use.role).between, c.unit.clear();
      const Unit unit = unit_for(use.role, use.unit).value_or(Unit{"", 1.0});
      for (float& v : c.values) v = static_cast<float>((use.reversed ? -1 : 1) * unit.to_si(v));
    }
    rows.channels.push_back(std::move(c));
  }
  out.encoding = "CAN frames";
  out.log = settled(std::move(rows), file, notes);
  return {std::move(out), std::move(notes)};
}

}  // namespace uadze::log
