#include "core/report/size_report.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

namespace uadze::report {
namespace {

Json pump_json(const sizing::PumpChoice& p) {
  return {{"type", p.type},
          {"count", p.count},
          {"staged_beside", p.second.empty() ? Json() : Json(p.second)},
          {"supply_at_a_third", p.slow},
          {"held_back_by", name_of(p.control)},
          {"turns_of_the_crankshaft", p.turns > 0 ? Json(p.turns) : Json()},
          {"flow_l_h", p.flow * 3.6e6},
          {"needed_l_h", p.need * 3.6e6},
          {"meets", p.meets},
          {"fitted", p.fitted},
          {"stands_the_fuel", p.alcohol},
          {"current_a", p.current},
          {"heat_at_a_third_w", p.electric},
          {"mass_kg", p.mass},
          {"cost", name_of(p.cost)}};
}

std::string pumps_text(const std::vector<sizing::PumpChoice>& list, const UnitSystem& units) {
  const auto wide = [](const std::string& text) {
    return std::count_if(text.begin(), text.end(), [](char c) { return (c & 0xC0) != 0x80; });
  };
  std::ptrdiff_t longest = 0;
  for (const auto& p : list) longest = std::max(longest, wide(p.name()));
  std::string out;
  for (const auto& p : list)
    out += fmt::format("  {} {}{} {:>5} of {} {:6.1f} A {:5.0f} W {:>8}{}{}\n", p.meets ? "+" : "-", p.name(),
                       std::string(static_cast<size_t>(longest - wide(p.name())), ' '),
                       format_figure(p.flow, Quantity::flow, units), format(p.need, Quantity::flow, units),
                       p.current, p.electric, format(p.mass, Quantity::mass, units, 2),
                       p.fitted ? "  fitted" : "", p.alcohol ? "" : "  not for this fuel");
  return out;
}

Json surge_json(const sizing::SurgeSizing& z) {
  Json curves = Json::array();
  for (const auto& curve : z.curves) {
    Json points = Json::array();
    for (const auto& p : curve.points)
      points.push_back({{"lift_l_h", p.lift * 3.6e6}, {"volume_l", finite(p.volume * 1e3)}});
    curves.push_back(
        {{"engine_return", name_of(curve.layout)}, {"drawn_l_h", curve.drawn * 3.6e6}, {"points", points}});
  }
  Json floors = Json::array();
  for (const auto& f : z.floors) floors.push_back({{"for", f.name}, {"volume_l", f.volume * 1e3}});
  return {{"present_l", z.volume * 1e3},
          {"needed_l", finite(z.needed * 1e3)},
          {"by_lap_l", finite(z.by_lap * 1e3)},
          {"floors", floors},
          {"lift_l_h", z.lift * 3.6e6},
          {"lift_enough_l_h", finite(z.lift_enough * 3.6e6)},
          {"bridge_l", finite(z.bridge * 1e3)},
          {"not_covered_s", z.bare_seconds},
          {"not_covered_at", z.bare_place},
          {"pickups_not_covered", z.bare_side},
          {"says", z.text.in()},
          {"curves", curves}};
}

std::string surge_text(const sizing::SurgeSizing& z, const UnitSystem& units) {
  const auto flow = [&](double v) { return format(v, Quantity::flow, units); };
  const auto volume = [&](double v) { return format(v, Quantity::volume, units, 2); };
  std::string out;
  for (const auto& curve : z.curves) {
    out += fmt::format("  return to the {}:", name_of(curve.layout));
    for (const auto& p : curve.points)
      out += std::isfinite(p.volume) ? fmt::format("  {} {}", flow(p.lift), volume(p.volume))
                                     : fmt::format("  {} -", flow(p.lift));
    out += "\n";
  }
  return out + fmt::format("  surge tank {}, needed {}: {}\n", volume(z.volume),
                           std::isfinite(z.needed) ? volume(z.needed) : "none is enough", z.text.in(units));
}

}  // namespace

Json size_json(const solve::SizeResult& r) {
  Json json{{"setup", r.setup}, {"lap", r.lap_name}, {"session", r.session}, {"level_l", r.level * 1e3}};
  if (r.surge) json["surge_tank"] = surge_json(*r.surge);
  if (r.state) {
    json["main_pumps"] = Json::array();
    for (const auto& p : r.mains) json["main_pumps"].push_back(pump_json(p));
    json["lift_pumps"] = Json::array();
    for (const auto& p : r.lifts) json["lift_pumps"].push_back(pump_json(p));
  }
  if (r.staging)
    json["staging"] = {{"type", r.staged_type},
                       {"worth_it", r.staging->worth_it},
                       {"on_percent_of_demand", r.staging->on * 100},
                       {"off_percent_of_demand", r.staging->off * 100},
                       {"saved_w", r.staging->saved},
                       {"says", r.staging->text.in()}};
  return json;
}

std::string size_text(const solve::SizeResult& r, const UnitSystem& units) {
  std::string out = fmt::format("{} | {} | {} in the main tank\n", r.setup, r.lap_name,
                                format(r.level, Quantity::volume, units, 2));
  if (r.surge) out += surge_text(*r.surge, units);
  if (r.state)
    out += fmt::format("main pumps at full load{}\n", r.mains.empty() ? "" : "; " + sizing::left_out()) +
           pumps_text(r.mains, units);
  if (r.staging) out += "  " + r.staging->text.in(units) + "\n";
  if (!r.lifts.empty()) out += "lift pumps\n" + pumps_text(r.lifts, units);
  return out;
}

Json search_json(const solve::SearchResult& found, const std::string& setup, const std::string& session) {
  Json rows = Json::array(), faults = Json::array();
  for (size_t k : found.kept) {
    const solve::Alternative& a = found.all[k];
    rows.push_back({{"changes", a.changes},
                    {"start_l", a.exists ? Json(a.cost[0] * 1e3) : Json()},
                    {"mass_kg", a.cost[1]},
                    {"load_a", a.cost[2]},
                    {"cost_points", a.cost[3]},
                    {"starved_s_with_a_tenth_less", a.cost[4]},
                    {"clean_level_l", a.exists ? Json(a.clean_level * 1e3) : Json()},
                    {"clean_level_exists", a.exists},
                    {"tightest", a.tightest}});
  }
  for (const solve::Alternative& a : found.all)
    if (!a.fault.empty()) faults.push_back({{"changes", a.changes}, {"fault", a.fault}});
  return {{"setup", setup}, {"session", session}, {"kept", rows}, {"not_run", faults}};
}

std::string search_text(const solve::SearchResult& found, const UnitSystem& units) {
  std::string out = fmt::format("{} of {} combinations are not beaten in everything at once\n",
                                found.kept.size(), found.all.size());
  for (size_t k : found.kept) {
    const solve::Alternative& a = found.all[k];
    out += fmt::format("  {:>9} {:>9} {:5.1f} A {:4.0f} points {:5.1f} s  {}\n",
                       a.exists ? format(a.cost[0], Quantity::volume, units) : "none",
                       format(a.cost[1], Quantity::mass, units, 2), a.cost[2], a.cost[3], a.cost[4],
                       a.changes.empty() ? "as it is" : a.changes);
  }
  return out;
}

}  // namespace uadze::report
