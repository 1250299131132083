#include "core/report/run_report.h"

#include <fmt/format.h>

#include "core/base/counted.h"
#include "core/base/csv.h"
#include "core/starvation/never_drawn.h"

namespace uadze::report {
namespace {

Json events_json(const std::vector<starvation::Event>& events) {
  Json out = Json::array();
  for (const auto& e : events) out.push_back(event_json(e));
  return out;
}

double litres(double volume) { return volume * 1e3; }
double litres_per_hour(double flow) { return flow * 3.6e6; }

}  // namespace

Json ledger_json(const starvation::Ledger& l) {
  return {{"start_l", litres(l.start)},
          {"burnt_l", litres(l.burnt)},
          {"replaced_l", litres(l.replaced)},
          {"end_l", litres(l.end)},
          {"error_l", litres(l.error())}};
}

std::string run_csv(const solve::RunResult& result) {
  const starvation::LevelRun& run = result.run;
  const starvation::Course& course = result.ready->course;
  const lap::Lap& lap = *course.lap;
  std::vector<std::string> cells{"time [s]",
                                 "distance [m]",
                                 "tank [l]",
                                 "reserve [l]",
                                 "supply [l/h]",
                                 "draw [l/h]",
                                 "gas at the main pump [1]",
                                 "difference [kPa]",
                                 "difference set [kPa]"};
  for (const auto& p : result.ready->car->pickups) cells.push_back(p.name + " [1]");
  std::string out = csv_row(cells);
  for (size_t i = 0; i < lap.size(); ++i) {
    cells = {fmt::format("{:.3f}", lap.time[i]),
             fmt::format("{:.2f}", lap.distance[i]),
             fmt::format("{:.5f}", litres(run.tank_level[i])),
             fmt::format("{:.5f}", litres(run.reserve[i])),
             fmt::format("{:.3f}", litres_per_hour(run.supply[i])),
             fmt::format("{:.3f}", litres_per_hour(run.draw[i])),
             fmt::format("{:.4f}", run.gas[i]),
             fmt::format("{:.3f}", run.rail[i] / 1e3),
             fmt::format("{:.3f}", course.delivery->set[i] / 1e3)};
    for (const auto& wet : run.coverage.wet) cells.push_back(fmt::format("{:.4f}", wet[i]));
    out += csv_row(cells);
  }
  return out;
}

Json run_json(const solve::RunResult& result) {
  const starvation::LevelRun& run = result.run;
  return {{"setup", result.setup},
          {"level_l", litres(run.level)},
          {"clean", run.clean() && !is_under(run.level, result.ready->car->never_drawn)},
          {"never_drawn_l", litres(result.ready->car->never_drawn.total())},
          {"laps_until_it_repeats", run.laps},
          {"first_short_lap", run.first_short_lap},
          {"least_reserve_l", litres(run.least_reserve)},
          {"least_reserve_s", finite(run.least_seconds)},
          {"tightest", run.tightest_place},
          {"pickups_not_covered", run.tightest_side},
          {"least_rail_margin_kpa", finite(run.least_margin / 1e3)},
          {"under_lean_limit_s", run.lean_time},
          {"circuit_faults", faults_json(result.ready->course)},
          {"volume", ledger_json(run.ledger)},
          {"events", events_json(run.events)}};
}

std::string run_text(const solve::RunResult& result, const UnitSystem& units) {
  const starvation::LevelRun& run = result.run;
  const auto& never = result.ready->car->never_drawn;
  const bool under = is_under(run.level, never);
  std::string out = fmt::format("{} | {}: {}\n", result.setup, format(run.level, Quantity::volume, units, 2),
                                !run.clean() ? counted(run.events.size(), "event")
                                : under      ? "no level to drive at"
                                             : "clean");
  out += fmt::format("  least reserve {} = {} {}{}\n", format(run.least_reserve, Quantity::volume, units, 2),
                     format(run.least_seconds, Quantity::duration), lap::in_words(run.tightest_place),
                     run.tightest_side.empty() ? "" : " (" + run.tightest_side + ")");
  if (under)
    out += fmt::format("  under what never comes out ({}){}\n",
                       format(never.total(), Quantity::volume, units, 2),
                       run.clean() ? ": it holds only because what is burnt is thought replaced" : "");
  for (const auto& e : run.events)
    out += fmt::format("  {:6.2f} to {:6.2f} s  {} ({}), {}: {}\n", e.start, e.end, e.place, e.phase,
                       e.seen().in(units), e.cause.in(units));
  return out + faults_text(result.ready->course, units);
}

std::string stint_csv(const solve::StintResult& result) {
  const bool heat = result.ready->course.delivery->by_circuit;
  std::vector<std::string> cells{
      "lap", "tank [l]", "burnt [l]", "least reserve [l]", "least rail over set [1]", "events"};
  if (heat) cells.insert(cells.end(), {"tank [C]", "surge [C]"});
  std::string out = csv_row(cells);
  for (size_t k = 0; k < result.stint.laps.size(); ++k) {
    const auto& lap = result.stint.laps[k];
    cells = {fmt::format("{}", k + 1),
             fmt::format("{:.4f}", litres(lap.level)),
             fmt::format("{:.4f}", litres(lap.burnt)),
             fmt::format("{:.4f}", litres(lap.least_reserve)),
             fmt::format("{:.4f}", lap.least_rail),
             fmt::format("{}", lap.events.size())};
    if (heat)
      for (double kelvin : {lap.tank_heat, lap.surge_heat})
        cells.push_back(fmt::format("{:.2f}", kelvin - 273.15));
    out += csv_row(cells);
  }
  return out;
}

Json stint_json(const solve::StintResult& result, double start) {
  Json events = Json::array();
  for (size_t k = 0; k < result.stint.laps.size(); ++k)
    for (const auto& e : result.stint.laps[k].events) {
      Json json = event_json(e);
      json["lap"] = k + 1;
      events.push_back(json);
    }
  return {{"setup", result.setup},
          {"start_l", litres(start)},
          {"laps_driven", result.stint.laps.size()},
          {"first_event_lap", result.stint.first_event_lap},
          {"volume", ledger_json(result.stint.ledger)},
          {"events", events}};
}

std::string stint_text(const solve::StintResult& result, double start, const UnitSystem& units) {
  const starvation::StintRun& stint = result.stint;
  return fmt::format("{} | {} at the start: {}, {} left\n{}", result.setup,
                     format(start, Quantity::volume, units, 2), counted(stint.laps.size(), "lap"),
                     format(stint.laps.empty() ? start : stint.laps.back().level, Quantity::volume, units, 2),
                     stint.first_event
                         ? fmt::format("  first event on lap {}, {} ({}): {}\n", stint.first_event_lap,
                                       stint.first_event->place, stint.first_event->phase,
                                       stint.first_event->cause.in(units))
                         : "  no event\n");
}

std::string map_csv(const solve::LapResult& result) {
  const lap::Lap& lap = result.lap->value;
  std::vector<std::string> cells{
      "level [l]",   "time [s]",     "distance [m]",     "mean wet fraction [1]", "least wet fraction [1]",
      "reserve [1]", "starving [1]", "rail over set [1]"};
  for (const auto& p : result.car->pickups) cells.push_back(p.name + " [1]");
  std::string out = csv_row(cells);
  for (const auto& row : solve::map_of(result).rows)
    for (size_t i = 0; i < lap.size(); ++i) {
      const double t = lap.time[i];
      const bool starving = std::any_of(row.events.begin(), row.events.end(),
                                        [t](const auto& e) { return t >= e.start && t <= e.end; });
      // Figures need no quotes; a map has too many of them to ask each.
      out += fmt::format("{:.4f},{:.3f},{:.2f},{:.4f},{:.4f},{:.4f},{},{:.4f}", litres(row.level), t,
                         lap.distance[i], row.wet[i], row.least_wet[i], row.reserve[i], starving ? 1 : 0,
                         row.rail[i]);
      for (const auto& p : row.pickups) out += fmt::format(",{:.4f}", p[i]);
      out += "\n";
    }
  return out;
}

Json map_summary_json(const solve::LapResult& lap) {
  Json json{{"setup", lap.setup},
            {"lap", lap.lap_name},
            {"clean_level_l", litres(lap.clean.level)},
            {"clean_level_exists", lap.clean.exists},
            {"starves_below_l", litres(lap.clean.unclean_below)},
            {"circuit_faults", faults_json(lap.course)},
            {"corners", map_json(lap)}};
  if (lap.band) json["band"] = band_json(*lap.band);
  json["less_fuel_but_cleaner"] = Json::array();
  for (const auto& a : lap.clean.clean_again)
    json["less_fuel_but_cleaner"].push_back(
        {{"level_l", litres(a.level)}, {"starves_at_l", litres(a.higher)}, {"why", a.text.in()}});
  return json;
}

}  // namespace uadze::report
