#include "core/report/log_report.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "core/base/csv.h"

namespace uadze::report {
namespace {

const char* separator_word(char c) {
  switch (c) {
    case ',':
      return "comma";
    case ';':
      return "semicolon";
    case '\t':
      return "tab";
    case '|':
      return "bar sign";
    default:
      return "blanks";
  }
}

/// Least, mean and most of a channel in the units of the file.
std::string range_of(const log::Channel& c, const std::string& unit) {
  const auto [low, high] = std::minmax_element(c.values.begin(), c.values.end());
  double a = *low, b = *high;
  if (c.role != log::Role::none)
    if (const auto u = log::unit_for(c.role, unit)) a = u->from_si(a), b = u->from_si(b);
  return fmt::format("{:.4g} to {:.4g}{}{}", a, b, unit.empty() ? "" : " ", unit);
}

}  // namespace

std::string lap_time(double seconds) {
  const auto thousandths = static_cast<long long>(std::llround(seconds * 1000));
  return fmt::format("{}:{:02}.{:03}", thousandths / 60000, thousandths / 1000 % 60, thousandths % 1000);
}

std::string layout_words(const log::LogFile& read) {
  const log::Layout& l = read.layout;
  if (l.first_row == 0) return read.encoding;
  std::string out =
      fmt::format("{}, parted by {}, decimal {}", read.encoding.empty() ? "UTF-8" : read.encoding,
                  separator_word(l.separator), l.style.decimal == ',' ? "comma" : "point");
  if (l.style.thousands) out += ", thousands marked";
  out += l.header_line ? fmt::format(", header in line {}", l.header_line) : ", no header";
  if (l.units_line) out += fmt::format(", units in line {}", l.units_line);
  return out + fmt::format(", data from line {}", l.first_row);
}

std::string log_text(const std::string& file, const log::LogFile& read, const log::Laps& laps,
                     const UnitSystem& units) {
  const log::Log& log = read.log;
  std::string out =
      fmt::format("{}\n  {}\n  {} moments over {}, {:.3g} a second{}\n\n", file, layout_words(read),
                  log.size(), lap_time(log.duration()), log.step() > 0 ? 1 / log.step() : 0.0,
                  log.parts.size() > 1 ? fmt::format(", in {} parts", log.parts.size()) : "");
  out += fmt::format("  {:<28} {:<26} {:<6} {:<26} {}\n", "column", "is", "sure", "from", "by");
  for (const log::ColumnUse& use : read.mapping.columns) {
    const auto c = std::find_if(log.channels.begin(), log.channels.end(),
                                [&](const log::Channel& channel) { return channel.name == use.column; });
    const bool known = use.role != log::Role::none;
    std::string is = known ? log::info_of(use.role).label : c == log.channels.end() ? "left out" : "kept";
    if (use.reversed) is += ", reversed";
    if (known && log::info_of(use.role).quantity == Quantity::pressure)
      is += use.against == log::Against::air ? ", over air" : ", absolute";
    out += fmt::format("  {:<28} {:<26} {:<6} {:<26} {}\n", use.column, is,
                       known ? fmt::format("{:.0f} %", 100 * use.sure) : "",
                       c == log.channels.end() ? "" : range_of(*c, use.unit), use.why);
  }
  for (const log::Formula& formula : read.mapping.formulas)
    for (const log::Channel& c : log.channels)
      if (c.name == formula.name)
        out += fmt::format("  {:<28} {:<26} {:<6} {:<26} {}\n", c.name, "formula", "", range_of(c, c.unit),
                           formula.text);
  out += fmt::format("\n  laps, by {}\n", name_of(laps.by));
  for (const log::LoggedLap& lap : laps.all)
    out += fmt::format("  {:>4}  {:<12} {:>10}  {:>9}\n", lap.number, name_of(lap.kind),
                       lap_time(lap.duration()), format(lap.length, Quantity::distance, units));
  return out;
}

project::Json log_json(const std::string& file, const log::LogFile& read, const log::Laps& laps) {
  project::Json out;
  out["file"] = file;
  out["encoding"] = read.encoding;
  const log::Layout& l = read.layout;
  out["separator"] = separator_word(l.separator);
  out["decimal"] = std::string(1, l.style.decimal);
  out["header_line"] = l.header_line, out["units_line"] = l.units_line, out["first_row_line"] = l.first_row;
  out["moments"] = read.log.size();
  out["duration_s"] = read.log.duration();
  out["parts"] = read.log.parts.size();
  out["columns"] = project::Json::array();
  for (const log::ColumnUse& use : read.mapping.columns)
    out["columns"].push_back({{"column", use.column},
                              {"channel", name_of(use.role)},
                              {"unit", use.unit},
                              {"reversed", use.reversed},
                              {"sure", use.sure},
                              {"by", use.why}});
  out["formulas"] = project::Json::array();
  for (const log::Formula& formula : read.mapping.formulas)
    out["formulas"].push_back({{"name", formula.name}, {"text", formula.text}, {"unit", formula.unit}});
  out["laps_by"] = name_of(laps.by);
  out["laps"] = project::Json::array();
  for (const log::LoggedLap& lap : laps.all)
    out["laps"].push_back({{"number", lap.number},
                           {"kind", name_of(lap.kind)},
                           {"begin_s", lap.begin},
                           {"end_s", lap.end},
                           {"time_s", lap.duration()},
                           {"length_m", lap.length}});
  return out;
}

std::string laps_csv(const log::Laps& laps) {
  std::string out = csv_row({"lap", "kind", "begin [s]", "time [s]", "length [m]"});
  for (const log::LoggedLap& lap : laps.all)
    out += csv_row({fmt::format("{}", lap.number), name_of(lap.kind), fmt::format("{:.3f}", lap.begin),
                    fmt::format("{:.3f}", lap.duration()), fmt::format("{:.1f}", lap.length)});
  return out;
}

}  // namespace uadze::report
