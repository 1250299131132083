#include "cli/report.h"

#include <fmt/format.h>

#include <cmath>

namespace uadze::cli {
namespace {

/// JSON has no infinity: null stands for "no limit".
Json finite(double value) { return std::isfinite(value) ? Json(value) : Json(); }

}  // namespace

Json derivation_json(const Derivation& d) {
  const auto unit = [](Quantity q) { return std::string(shown_unit(q, {}).name); };
  const auto value = [](double si, Quantity q) { return finite(shown_unit(q, {}).from_si(si)); };
  Json json{{"name", d.name},
            {"value", value(d.value, d.quantity)},
            {"unit", unit(d.quantity)},
            {"formula", d.formula}};
  json["inputs"] = Json::array();
  for (const Term& t : d.inputs)
    json["inputs"].push_back({{"symbol", t.symbol},
                              {"meaning", t.meaning},
                              {"value", value(t.value, t.quantity)},
                              {"unit", unit(t.quantity)},
                              {"source", t.source}});
  json["source"] = d.source;
  if (!d.note.empty()) json["note"] = d.note;
  json["steps"] = Json::array();
  for (const Derivation& step : d.steps) json["steps"].push_back(derivation_json(step));
  return json;
}

Json event_json(const starvation::Event& e) {
  return {{"start_s", e.start},           {"end_s", e.end},    {"start_m", e.start_distance},
          {"end_m", e.end_distance},      {"corner", e.place}, {"pickups_bare", e.side},
          {"missing_l", e.missing * 1e3}, {"cause", e.cause}};
}

Json session_json(const project::SessionResult& r) {
  const starvation::CleanLevel& clean = r.lap->clean;
  Json events = Json::array();
  for (const auto& e : clean.below.events) events.push_back(event_json(e));
  return {
      {"setup", r.setup},
      {"session", r.session},
      {"lap", r.lap->lap_name},
      {"lap_time_s", r.lap->lap->value.duration()},
      {"laps", r.plan.laps},
      {"stint_laps", r.plan.stint_laps},
      {"consumption_l_per_lap", r.plan.consumption * 1e3},
      {"clean_level_l", clean.level * 1e3},
      {"clean_level_exists", clean.exists},
      {"start_l", r.plan.start * 1e3},
      {"start_kg", r.plan.start_mass},
      {"start_percent_of_tank", r.plan.start_share * 100},
      {"bring_back_l", r.plan.bring_back * 1e3},
      {"bring_back_kg", r.plan.bring_back_mass},
      {"bring_back_percent_of_tank", r.plan.bring_back_share * 100},
      {"fits_in_tank", r.plan.fits},
      {"tank_l", r.lap->car->tank->volume() * 1e3},
      {"usable_l", r.lap->usable_volume * 1e3},
      {"tightest",
       {{"corner", clean.at.tightest_place},
        {"distance_m", r.lap->course.lap->distance[clean.at.tightest]},
        {"pickups_bare", clean.at.tightest_side},
        {"least_reserve_l", clean.at.least_reserve * 1e3},
        {"least_reserve_s", finite(clean.at.least_seconds)}}},
      {"laps_until_it_repeats", clean.at.cycle.laps},
      {"events_just_below_clean_level", events},
      {"working",
       Json::array({derivation_json(r.working), derivation_json(r.plan.bring_back_working),
                    derivation_json(r.plan.mass_working), derivation_json(r.lap->reserve_working)})},
  };
}

std::string session_text(const project::SessionResult& r, bool working) {
  const starvation::CleanLevel& clean = r.lap->clean;
  const auto litres = [](double v) { return format(v, Quantity::volume); };
  std::string out = fmt::format("{} | {}\n", r.setup, r.session);
  out += fmt::format(
      "  least start fuel  {:>9}  {:>9}  {:.0f} % of the tank{}\n",
      litres(session::rounded_up(r.plan.start, {})), format(r.plan.start_mass, Quantity::mass),
      r.plan.start_share * 100,
      r.plan.fits ? "" : fmt::format("  MORE THAN MAY BE FILLED ({})", litres(r.lap->usable_volume)));
  out += fmt::format("  bring back        {:>9}  {:>9}  {:.0f} % of the tank\n",
                     litres(session::rounded_up(r.plan.bring_back, {})),
                     format(r.plan.bring_back_mass, Quantity::mass), r.plan.bring_back_share * 100);
  out += fmt::format("  clean level       {:>9}{}\n", litres(session::rounded_up(clean.level, {})),
                     clean.exists ? "" : "  NOT EVEN A FULL TANK IS CLEAN");
  out += fmt::format("  laps              {:>9}  of {} each{}\n", r.plan.stint_laps,
                     format(r.plan.consumption, Quantity::volume, {}, 2),
                     r.plan.laps == r.plan.stint_laps
                         ? ""
                         : fmt::format(", the longest stint of {} laps in all", r.plan.laps));
  out += fmt::format("  tightest          {}{}, reserve {} = {}\n", clean.at.tightest_place,
                     clean.at.tightest_side.empty() ? "" : " (" + clean.at.tightest_side + ")",
                     format(clean.at.least_reserve, Quantity::volume, {}, 2),
                     format(clean.at.least_seconds, Quantity::duration));
  constexpr size_t shown = 3;
  for (size_t i = 0; i < std::min(shown, clean.below.events.size()); ++i)
    out +=
        fmt::format("  below that        {}: {}\n", clean.below.events[i].place, clean.below.events[i].cause);
  if (clean.below.events.size() > shown)
    out += fmt::format("                    and {} more places\n", clean.below.events.size() - shown);
  if (working)
    out += "\n" + render_text(r.working, {}, 2) + render_text(r.plan.bring_back_working, {}, 2) +
           render_text(r.plan.mass_working, {}, 2) + render_text(r.lap->reserve_working, {}, 2);
  return out;
}

}  // namespace uadze::cli
