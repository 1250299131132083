#include "core/report/build_report.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <set>

#include "core/base/counted.h"
#include "core/circuit/wiring.h"

namespace uadze::report {
namespace {

/// Characters of UTF-8, as wide as they are shown.
size_t wide(const std::string& text) {
  return static_cast<size_t>(
      std::count_if(text.begin(), text.end(), [](char c) { return (c & 0xC0) != 0x80; }));
}

std::string quoted(const std::string& cell) {
  if (cell.find_first_of(",\"\n") == std::string::npos) return cell;
  std::string out = "\"";
  for (char c : cell) out += c == '"' ? std::string("\"\"") : std::string(1, c);
  return out + "\"";
}

/// Decimals of a length that is cut: whole millimetres, tenths of an inch.
int whole_of(const UnitSystem& units) { return units.length == LengthUnit::millimetre ? 0 : 1; }

std::string dash_words(int dash) { return dash > 0 ? fmt::format("-{}", dash) : std::string(); }

}  // namespace

std::string text_of(const Table& table) {
  std::vector<size_t> width;
  for (const std::string& c : table.columns) width.push_back(wide(c));
  for (const auto& row : table.rows)
    for (size_t k = 0; k < row.size(); ++k) width[k] = std::max(width[k], wide(row[k]));
  std::string out;
  const auto line = [&](const std::vector<std::string>& row) {
    std::string text;
    for (size_t k = 0; k < row.size(); ++k)
      text += row[k] + std::string(k + 1 < row.size() ? width[k] - wide(row[k]) + 2 : 0, ' ');
    while (!text.empty() && text.back() == ' ') text.pop_back();
    out += text + "\n";
  };
  line(table.columns);
  for (const auto& row : table.rows) line(row);
  return out;
}

std::string csv_of(const Table& table) {
  std::string out;
  const auto line = [&](const std::vector<std::string>& row) {
    for (size_t k = 0; k < row.size(); ++k) out += (k ? "," : "") + quoted(row[k]);
    out += "\n";
  };
  line(table.columns);
  for (const auto& row : table.rows) line(row);
  return out;
}

std::string end_words(const build::HoseEnd& end) {
  std::string bend = words_of(end.form);
  if (!bend.ends_with("°")) bend = end.kind == build::EndKind::flare ? "straight" : "";
  if (!bend.empty()) bend += " ";
  return bend + name_of(end.kind) + " to " + end.meets;
}

Table cutting_table(const circuit::Case& c, const UnitSystem& units) {
  Table out{{"line", "of", "size", "route", "cut", "near end", "far end", "also"}, {}};
  const int whole = whole_of(units);
  for (const build::HoseCut& h : build::cutting_list(c)) {
    std::string also;
    const auto add = [&](const std::string& words) { also += (also.empty() ? "" : "; ") + words; };
    if (h.clocked) add("mark the angle between its ends on the car");
    if (h.sleeved) add("heat sleeve");
    if (h.clips > 0) add(counted(h.clips, "P-clip"));
    if (h.rigid) add("two flares, nuts and sleeves; bends by the car");
    out.rows.push_back({h.label, h.type, dash_words(h.dash), format(h.route, Quantity::length, units, whole),
                        format(h.cut, Quantity::length, units, whole), end_words(h.near_end),
                        end_words(h.far_end), also});
  }
  return out;
}

Table joints_table(const circuit::Case& c) {
  Table out{{"leg", "from", "to", "size", "sealed by", "where"}, {}};
  for (const build::Joint& j : build::joints(c))
    out.rows.push_back({j.leg.title(c.circuit), j.from, j.to, dash_words(j.dash), name_of(j.seal),
                        j.inside ? "in the tank" : "outside"});
  return out;
}

Table wires_table(const circuit::Case& c, const build::Scheme& scheme, const UnitSystem& units) {
  Table out{{"pump", "wire", "gauge", "colour", "length", "pieces", "terminals", "by", "label"}, {}};
  for (const build::WireRun& w : build::wire_list(c, scheme)) {
    std::string by = w.fuse;
    if (!w.relay.empty()) by += (by.empty() ? "" : ", ") + w.relay;
    out.rows.push_back({w.pump, w.what, w.area > 0 ? circuit::gauge_text(w.area) : "not entered", w.colour,
                        w.length > 0 ? format(w.length, Quantity::length, units, whole_of(units)) : "to suit",
                        std::to_string(w.pieces), std::to_string(w.terminals), by, w.label});
  }
  return out;
}

Table fuses_table(const circuit::Case& c, const build::Scheme& scheme) {
  Table out{{"pump", "fuse", "relay", "feed", "ground"}, {}};
  for (const build::WireRun& w : build::wire_list(c, scheme))
    if (w.what == "feed")
      out.rows.push_back({w.pump, w.fuse.empty() ? "none" : w.fuse, w.relay.empty() ? "none" : w.relay,
                          w.colour, scheme.ground});
  return out;
}

Table ports_table(const circuit::Case& c) {
  Table out{{"part", "port", "joined to", "size", "seal"}, {}};
  // Lines and where legs meet are no parts with ports.
  std::set<std::string> passed{"main pumps"};
  for (const build::HoseCut& h : build::cutting_list(c)) passed.insert(h.type);
  for (const circuit::LegPlace& place : circuit::legs_of(c.circuit, c.surroundings))
    if (place.kind != circuit::LegKind::rail) passed.insert(place.title(c.circuit));
  for (const build::Joint& j : build::joints(c)) {
    const std::string where = j.leg.title(c.circuit);
    const auto port = [&](const std::string& part, const char* way, const std::string& other) {
      if (passed.contains(part)) return;
      const bool one = part == "main tank" || part == "surge tank" || part == "rail" || part == "regulator";
      out.rows.push_back({one ? part : part + " (" + where + ")", one ? where + ", " + way : way, other,
                          dash_words(j.dash), name_of(j.seal)});
    };
    port(j.from, "out", j.to);
    port(j.to, "in", j.from);
  }
  std::stable_sort(out.rows.begin(), out.rows.end(),
                   [](const auto& a, const auto& b) { return a[0] < b[0]; });
  return out;
}

Table labels_table(const circuit::Case& c, const build::Scheme& scheme) {
  Table out{{"label", "on", "end"}, {}};
  for (const build::HoseCut& h : build::cutting_list(c))
    for (const auto& [label, end] :
         {std::pair{h.label + " >", h.near_end.meets}, {"> " + h.label, h.far_end.meets}})
      out.rows.push_back({label, h.type + " " + dash_words(h.dash), "at " + end});
  for (const build::WireRun& w : build::wire_list(c, scheme))
    for (const std::string& end : {w.from, w.to})
      out.rows.push_back({w.label, "wire, " + w.colour, "at " + end});
  return out;
}

std::string work_time(double minutes) {
  return minutes < 100 ? fmt::format("{:.0f} min", minutes) : fmt::format("{:.1f} h", minutes / 60);
}

std::string amount(double count, bool metres, const UnitSystem& units) {
  if (metres) return format(count, Quantity::length, units, whole_of(units));
  return fmt::format("{:g}", count);
}

Table order_table(const std::vector<build::OrderItem>& items, const std::vector<build::Step>& steps,
                  const UnitSystem& units) {
  Table out{{"what", "size", "needed", "spare", "in stock", "ordered", "to order", "stops", "supplier"}, {}};
  for (const build::OrderItem& i : items)
    out.rows.push_back({i.what, i.size, amount(i.needed, i.metres, units), amount(i.spare, i.metres, units),
                        amount(i.have, i.metres, units), amount(i.ordered, i.metres, units),
                        amount(i.to_order, i.metres, units),
                        i.stops ? steps[static_cast<size_t>(*i.stops)].title : std::string(), i.supplier});
  return out;
}

namespace {

std::string step_text(const std::vector<build::Step>& steps, size_t k, const UnitSystem& units) {
  const build::Step& s = steps[k];
  std::string out = fmt::format("{:>2}  {}  ({}", k + 1, s.title, work_time(s.minutes));
  if (!s.after.empty()) {
    std::string before;
    for (int a : s.after) before += (before.empty() ? "" : ", ") + std::to_string(a + 1);
    out += "; after " + before;
  }
  out += ")\n";
  for (const std::string& c : s.cautions) out += "    ! " + c + "\n";
  for (const Phrase& h : s.how) out += "    [ ] " + h.in(units) + "\n";
  for (const build::Need& n : s.needs)
    out += fmt::format("      {} x {}{}\n", amount(n.count, n.metres, units), n.what,
                       n.size.empty() ? "" : ", " + n.size);
  if (!s.tools.empty()) out += fmt::format("      tools: {}\n", fmt::join(s.tools, ", "));
  return out;
}

}  // namespace

std::string day_title(const std::vector<build::Step>& steps, const std::vector<int>& day, size_t number) {
  double minutes = 0;
  for (int k : day) minutes += steps[static_cast<size_t>(k)].minutes;
  return fmt::format("Day {}, {}", number, work_time(minutes));
}

std::string steps_text(const std::vector<build::Step>& steps, const std::vector<char>& done, double day,
                       const UnitSystem& units) {
  std::string out;
  if (day > 0) {
    const auto days = build::by_day(steps, done, day);
    for (size_t d = 0; d < days.size(); ++d) {
      out += (d ? "\n" : "") + day_title(steps, days[d], d + 1) + "\n\n";
      for (int k : days[d]) out += step_text(steps, static_cast<size_t>(k), units);
    }
    if (days.empty()) out += "All steps are done.\n";
  } else {
    for (size_t k = 0; k < steps.size(); ++k) out += step_text(steps, k, units);
  }
  out +=
      fmt::format("\nThe longest chain of steps takes {}.\n", work_time(build::longest_chain(steps, done)));
  return out;
}

std::string checks_text(const std::vector<circuit::Finding>& findings, const UnitSystem& units) {
  std::string out;
  for (const circuit::Finding& f : findings)
    out += fmt::format("{:<8} {}\n",
                       f.severity == Severity::error     ? "fault"
                       : f.severity == Severity::warning ? "warning"
                                                         : "caution",
                       f.text.in(units));
  return out.empty() ? "nothing found\n" : out;
}

}  // namespace uadze::report
