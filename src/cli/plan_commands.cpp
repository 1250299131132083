// uadze run, size, plan, card: starvation runs, sizing, the session plan and its printed page.
#include <algorithm>
#include <cmath>

#include "cli/common.h"
#include "cli/report.h"
#include "core/lap/manoeuvre.h"
#include "core/project/circuit_case.h"
#include "core/project/plan_table.h"
#include "core/project/search.h"
#include "core/sizing/pump_size.h"
#include "core/sizing/surge_size.h"
#include "core/starvation/stint.h"
#ifdef UADZE_CARD
#include "card/session_card.h"
#endif

namespace uadze::cli {
namespace {

using namespace project;

Json finite(double value) { return std::isfinite(value) ? Json(value) : Json(); }

Json ledger_json(const starvation::Ledger& l) {
  return {{"start_l", l.start * 1e3},
          {"burnt_l", l.burnt * 1e3},
          {"replaced_l", l.replaced * 1e3},
          {"end_l", l.end * 1e3},
          {"error_l", l.error() * 1e3}};
}

/// The lap or the manoeuvre that a run is on.
LapCase run_case(const Opened& opened, const Setup& setup, const RunCommandOptions& options, LapStore& laps,
                 TankStore& tanks) {
  CaseOptions how;
  how.conditions.grip = options.grip_percent / 100;
  if (options.manoeuvre.empty())
    return lap_case(opened.project, setup, chosen_lap(opened, options.lap), laps, tanks, how);
  if (!options.lap.empty()) throw UsageError("run: expected --lap or --manoeuvre, found both");
  const auto& names = lap::manoeuvre_names();
  const auto found = std::find(names.begin(), names.end(), options.manoeuvre);
  if (found == names.end())
    throw UsageError(fmt::format("--manoeuvre: expected one of \"{}\", found \"{}\"",
                                 fmt::join(names, "\", \""), options.manoeuvre));
  how.given = std::make_shared<const Read<lap::Lap>>(
      Read<lap::Lap>{lap::as_lap(lap::manoeuvre(static_cast<lap::Manoeuvre>(found - names.begin()),
                                                {.strength = options.strength_g})),
                     {}});
  Setup driven = setup;
  driven.engine.demand = starvation::DemandFrom::power;
  const LapReference reference{.name = options.manoeuvre, .file = "", .repeated = false, .corners = {}};
  return lap_case(opened.project, driven, reference, laps, tanks, how);
}

std::string series_csv(const LapCase& c, const Setup& setup, const starvation::LevelRun& run) {
  std::string text =
      "time [s],distance [m],tank [l],reserve [l],supply [l/h],draw [l/h],gas at the main pump [1],"
      "difference [kPa],difference set [kPa]";
  for (const auto& p : setup.tank.pickups) text += "," + p.name + " [1]";
  text += "\n";
  const lap::Lap& lap = *c.course.lap;
  for (size_t i = 0; i < lap.size(); ++i) {
    text += fmt::format("{:.3f},{:.2f},{:.5f},{:.5f},{:.3f},{:.3f},{:.4f},{:.3f},{:.3f}", lap.time[i],
                        lap.distance[i], run.tank_level[i] * 1e3, run.reserve[i] * 1e3, run.supply[i] * 3.6e6,
                        run.draw[i] * 3.6e6, run.gas[i], run.rail[i] / 1e3, c.course.feed->set[i] / 1e3);
    for (const auto& wet : run.coverage.wet) text += fmt::format(",{:.4f}", wet[i]);
    text += "\n";
  }
  return text;
}

void run_stint_command(const RunCommandOptions& options, const Setup& setup, const LapCase& c) {
  const starvation::StintRun stint = run_stint(
      *c.car, c.course,
      {.start = options.level_l * 1e-3, .laps = options.stint_laps, .temperature = setup.fuel.temperature});
  std::string csv = "lap,tank [l],burnt [l],least reserve [l],least rail over set [1],events";
  const bool heat = c.course.feed->by_circuit;
  csv += heat ? ",tank [C],surge [C]\n" : "\n";
  Json events = Json::array();
  for (size_t k = 0; k < stint.laps.size(); ++k) {
    const auto& lap = stint.laps[k];
    csv += fmt::format("{},{:.4f},{:.4f},{:.4f},{:.4f},{}", k + 1, lap.level * 1e3, lap.burnt * 1e3,
                       lap.least_reserve * 1e3, lap.least_rail, lap.events.size());
    csv += heat ? fmt::format(",{:.2f},{:.2f}\n", lap.tank_heat - 273.15, lap.surge_heat - 273.15) : "\n";
    for (const auto& e : lap.events) {
      Json json = event_json(e);
      json["lap"] = k + 1;
      events.push_back(json);
    }
  }
  const Json json{{"setup", setup.name},
                  {"start_l", options.level_l},
                  {"laps_driven", stint.laps.size()},
                  {"first_event_lap", stint.first_event_lap},
                  {"volume", ledger_json(stint.ledger)},
                  {"events", events}};
  if (!options.output.empty()) write_or_put(options.output, csv);
  if (!options.events.empty()) write_or_put(options.events, json.dump(2) + "\n");
  if (options.json) {
    put(json.dump(2) + "\n");
  } else if (options.output != "-" && options.events != "-") {
    put(fmt::format("{} | {:.2f} L at the start: {} laps, {:.2f} L left\n{}", setup.name, options.level_l,
                    stint.laps.size(), stint.laps.empty() ? options.level_l : stint.laps.back().level * 1e3,
                    stint.first_event ? fmt::format("  first event on lap {}, {} ({}): {}\n",
                                                    stint.first_event_lap, stint.first_event->place,
                                                    stint.first_event->phase, stint.first_event->cause.in())
                                      : "  no event\n"));
  }
}

Json pump_json(const sizing::PumpChoice& p) {
  return {{"type", p.type},
          {"count", p.count},
          {"flow_l_h", p.flow * 3.6e6},
          {"needed_l_h", p.need * 3.6e6},
          {"meets", p.meets},
          {"fitted", p.fitted},
          {"stands_the_fuel", p.alcohol},
          {"current_a", p.current},
          {"heat_at_a_third_w", p.electric},
          {"mass_kg", p.mass},
          {"cost", circuit::cost_names()[static_cast<size_t>(p.cost)]}};
}

std::string pumps_text(const std::vector<sizing::PumpChoice>& list) {
  std::string out;
  for (const auto& p : list)
    out +=
        fmt::format("  {} {} x {:28} {:6.0f} of {:.0f} L/h {:6.1f} A {:5.0f} W {:5.2f} kg{}{}\n",
                    p.meets ? "+" : "-", p.count, p.type, p.flow * 3.6e6, p.need * 3.6e6, p.current,
                    p.electric, p.mass, p.fitted ? "  fitted" : "", p.alcohol ? "" : "  not for this fuel");
  return out;
}

const char* return_name(starvation::Return r) {
  return r == starvation::Return::surge_tank  ? "surge tank"
         : r == starvation::Return::main_tank ? "main tank"
                                              : "overflow tee";
}

SearchOptions search_options(const SizeOptions& o) {
  SearchOptions out;
  for (double v : o.surge_l) out.surge_volumes.push_back(v * 1e-3);
  for (const std::string& r : o.returns) {
    const starvation::Return all[] = {starvation::Return::surge_tank, starvation::Return::main_tank,
                                      starvation::Return::overflow_tee};
    const auto found =
        std::find_if(std::begin(all), std::end(all), [&](auto x) { return r == return_name(x); });
    if (found == std::end(all))
      throw UsageError(
          fmt::format("--return: expected surge tank, main tank or overflow tee, found \"{}\"", r));
    out.returns.push_back(*found);
  }
  out.lift_types = o.lift_types;
  out.main_types = o.main_types;
  for (double x : o.pickup_shift_mm) out.pickup_shifts.push_back(x * 1e-3);
  out.opening_scales = o.opening_scale;
  out.collector_scales = o.collector_scale;
  return out;
}

bool asks_search(const SizeOptions& o) {
  return !o.surge_l.empty() || !o.returns.empty() || !o.lift_types.empty() || !o.main_types.empty() ||
         !o.pickup_shift_mm.empty() || !o.opening_scale.empty() || !o.collector_scale.empty();
}

std::vector<SessionResult> plan_sessions(const PlanOptions& options, const Opened& opened) {
  const Project& project = opened.project;
  if (project.sessions.empty())
    throw InputError(Message{
        .file = options.file, .place = "/sessions", .expected = "a session to plan", .found = "none"});
  const Setup& setup = chosen_setup(project, options.setup);
  if (!options.session.empty()) named(project.sessions, options.session, "session");
  LapStore laps(opened.file.path.parent_path());
  TankStore tanks;
  std::map<std::string, LapResultPtr> done;
  std::vector<SessionResult> out;
  DrawOptions draws{std::nullopt, options.draws, options.seed};
  if (options.risk_percent) draws.risk = *options.risk_percent / 100;
  for (const session::Session& s : project.sessions) {
    if (!options.session.empty() && s.name != options.session) continue;
    LapResultPtr& lap = done[case_key(setup, s)];
    if (!lap)
      lap = solve_lap(
          project, setup, session_lap(project, s, options.file), laps, tanks,
          {.conditions = conditions_of(s), .detail = options.no_band ? Detail::fine : Detail::band});
    out.push_back(plan_session(lap, s, draws));
  }
  return out;
}

}  // namespace

void run(const RunCommandOptions& options) {
  const Opened opened = open_project(options.file);
  say(opened.notes);
  const Setup& setup = chosen_setup(opened.project, options.setup);
  LapStore laps(opened.file.path.parent_path());
  TankStore tanks;
  const LapCase c = run_case(opened, setup, options, laps, tanks);
  const double level = level_volume(options.level_l, *c.car);
  if (options.stint_laps > 0) {
    run_stint_command(options, setup, c);
    return;
  }
  const starvation::LevelRun run = run_level(*c.car, c.course, level);
  Json events = Json::array();
  for (const auto& e : run.events) events.push_back(event_json(e));
  const Json json{{"setup", setup.name},
                  {"level_l", options.level_l},
                  {"clean", run.clean()},
                  {"laps_until_it_repeats", run.laps},
                  {"first_short_lap", run.first_short_lap},
                  {"least_reserve_l", run.least_reserve * 1e3},
                  {"least_reserve_s", finite(run.least_seconds)},
                  {"tightest", run.tightest_place},
                  {"pickups_bare", run.tightest_side},
                  {"least_rail_margin_kpa", run.least_margin / 1e3},
                  {"volume", ledger_json(run.ledger)},
                  {"events", events}};
  if (!options.output.empty()) write_or_put(options.output, series_csv(c, setup, run));
  if (!options.events.empty()) write_or_put(options.events, json.dump(2) + "\n");
  if (options.json) {
    put(json.dump(2) + "\n");
  } else if (options.output != "-" && options.events != "-") {
    std::string text = fmt::format("{} | {:.2f} L: {}\n", setup.name, options.level_l,
                                   run.clean() ? "clean" : fmt::format("{} events", run.events.size()));
    text +=
        fmt::format("  least reserve {} = {} at {}{}\n", format(run.least_reserve, Quantity::volume, {}, 2),
                    format(run.least_seconds, Quantity::duration), run.tightest_place,
                    run.tightest_side.empty() ? "" : " (" + run.tightest_side + ")");
    for (const auto& e : run.events)
      text += fmt::format("  {:6.2f} to {:6.2f} s  {} ({}): {}\n", e.start, e.end, e.place, e.phase,
                          e.cause.in());
    put(text);
  }
}

void size(const SizeOptions& options) {
  const Opened opened = open_project(options.file);
  say(opened.notes);
  const Setup& setup = chosen_setup(opened.project, options.setup);
  const LapReference& reference = chosen_lap(opened, options.lap);
  LapStore laps(opened.file.path.parent_path());
  TankStore tanks;
  if (asks_search(options)) {
    if (opened.project.sessions.empty())
      throw InputError(Message{.file = options.file,
                               .place = "/sessions",
                               .expected = "a session to search for",
                               .found = "none"});
    const session::Session& session = options.session.empty()
                                          ? opened.project.sessions.front()
                                          : named(opened.project.sessions, options.session, "session");
    const SearchResult found =
        search(opened.project, setup, session_lap(opened.project, session, options.file), session,
               search_options(options), laps, tanks);
    Json rows = Json::array();
    std::string text = fmt::format("{} of {} combinations are not beaten in everything at once\n",
                                   found.kept.size(), found.all.size());
    for (size_t k : found.kept) {
      const Alternative& a = found.all[k];
      rows.push_back({{"changes", a.changes},
                      {"start_l", a.cost[0] * 1e3},
                      {"mass_kg", a.cost[1]},
                      {"load_a", a.cost[2]},
                      {"cost_points", a.cost[3]},
                      {"starved_s_with_a_tenth_less", a.cost[4]},
                      {"clean_level_l", a.clean_level * 1e3},
                      {"clean_level_exists", a.exists},
                      {"tightest", a.tightest}});
      text +=
          fmt::format("  {:7.1f} L {:6.2f} kg {:5.1f} A {:4.0f} points {:5.1f} s  {}\n", a.cost[0] * 1e3,
                      a.cost[1], a.cost[2], a.cost[3], a.cost[4], a.changes.empty() ? "as it is" : a.changes);
    }
    Json faults = Json::array();
    for (const Alternative& a : found.all)
      if (!a.fault.empty()) faults.push_back({{"changes", a.changes}, {"fault", a.fault}});
    write_or_put(
        options.output,
        options.json
            ? Json{{"setup", setup.name}, {"session", session.name}, {"kept", rows}, {"not_run", faults}}
                      .dump(2) +
                  "\n"
            : text);
    return;
  }
  const LapCase c = lap_case(opened.project, setup, reference, laps, tanks);
  // At the clean level itself the present surge tank is just enough, whatever it is: size for what is brought
  // back.
  double level = 0;
  if (options.level_l) {
    level = level_volume(*options.level_l, *c.car);
  } else {
    level = starvation::clean_level(*c.car, c.course).level;
    for (const session::Session& s : opened.project.sessions)
      if (options.session.empty() ? s.lap == reference.name : s.name == options.session) {
        level = std::min(level + s.sample + s.gauge_error, c.car->tank->volume());
        break;
      }
  }
  Json json{{"setup", setup.name}, {"lap", reference.name}, {"level_l", level * 1e3}};
  std::string text =
      fmt::format("{} | {} | {:.2f} L in the main tank\n", setup.name, reference.name, level * 1e3);
  double lift_need = 0;
  for (double d : c.course.demand) lift_need += d / static_cast<double>(c.course.demand.size());
  if (!c.car->lift_pumps.empty()) {
    // It must serve every lap of the project, unless one is named.
    std::vector<LapCase> others;
    for (const LapReference& other : opened.project.laps)
      if (options.lap.empty() && other.name != reference.name)
        others.push_back(lap_case(opened.project, setup, other, laps, tanks));
    std::vector<const starvation::Course*> courses{&c.course};
    for (const LapCase& other : others) courses.push_back(&other.course);
    const sizing::SurgeSizing z = sizing::size_surge(*c.car, courses, level);
    Json curves = Json::array();
    for (const auto& curve : z.curves) {
      Json points = Json::array();
      for (const auto& p : curve.points)
        points.push_back({{"lift_l_h", p.lift * 3.6e6}, {"volume_l", finite(p.volume * 1e3)}});
      curves.push_back({{"engine_return", return_name(curve.layout)},
                        {"drawn_l_h", curve.drawn * 3.6e6},
                        {"points", points}});
      text += fmt::format("  return to the {}:", return_name(curve.layout));
      for (const auto& p : curve.points)
        text += std::isfinite(p.volume) ? fmt::format("  {:.0f} L/h {:.2f} L", p.lift * 3.6e6, p.volume * 1e3)
                                        : fmt::format("  {:.0f} L/h -", p.lift * 3.6e6);
      text += "\n";
    }
    json["surge_tank"] = {{"present_l", z.volume * 1e3},
                          {"needed_l", finite(z.needed * 1e3)},
                          {"lift_l_h", z.lift * 3.6e6},
                          {"lift_enough_l_h", finite(z.lift_enough * 3.6e6)},
                          {"bridge_l", finite(z.bridge * 1e3)},
                          {"bare_s", z.bare_seconds},
                          {"bare_at", z.bare_place},
                          {"pickups_bare", z.bare_side},
                          {"says", z.text.in()},
                          {"curves", curves}};
    text += fmt::format("  surge tank {:.2f} L, needed {}: {}\n", z.volume * 1e3,
                        std::isfinite(z.needed) ? fmt::format("{:.2f} L", z.needed * 1e3) : "none is enough",
                        z.text.in());
    if (std::isfinite(z.lift_enough)) lift_need = std::max(lift_need, z.lift_enough);
  }
  if (setup.circuit) {
    const circuit::Case full = circuit_case(opened.project, setup);
    const sizing::PumpSizeOptions how{
        .margin = options.margin_percent / 100, .low_supply = options.low_supply_v, .hot = options.hot_k};
    const auto mains = sizing::main_pump_choices(full, full.at.demand, how);
    const auto lifts = sizing::lift_pump_choices(full, lift_need, how);
    json["main_pumps"] = Json::array();
    for (const auto& p : mains) json["main_pumps"].push_back(pump_json(p));
    json["lift_pumps"] = Json::array();
    for (const auto& p : lifts) json["lift_pumps"].push_back(pump_json(p));
    text += "main pumps at full load\n" + pumps_text(mains);
    const auto pair =
        std::find_if(mains.begin(), mains.end(), [](const auto& p) { return p.count == 2 && p.meets; });
    if (pair != mains.end()) {
      const auto stage = sizing::propose_staging(full, *pair, full.at.demand, how);
      json["staging"] = {{"type", pair->type},
                         {"worth_it", stage.worth_it},
                         {"on_percent_of_demand", stage.on * 100},
                         {"off_percent_of_demand", stage.off * 100},
                         {"saved_w", stage.saved},
                         {"says", stage.text.in()}};
      text += "  " + stage.text.in() + "\n";
    }
    if (!lifts.empty()) text += "lift pumps\n" + pumps_text(lifts);
  }
  write_or_put(options.output, options.json ? json.dump(2) + "\n" : text);
}

void plan(const PlanOptions& options) {
  const Opened opened = open_project(options.file);
  say(opened.notes);
  const auto sessions = plan_sessions(options, opened);
  std::string out;
  if (options.json) {
    Json json = Json::array();
    for (const auto& s : sessions) {
      Json one = session_json(s);
      one.erase("working");
      if (s.lap->band) one["band"] = band_json(*s.lap->band);
      json.push_back(one);
    }
    out = Json{{"project", opened.project.name}, {"sessions", json}}.dump(2) + "\n";
  } else if (options.csv) {
    out = plan_csv(sessions, {});
  } else {
    for (const auto& s : sessions) {
      out += session_text(s, false);
      for (const auto& c : s.risk.causes)
        out += fmt::format("  {:3.0f} % of margin   {}\n", c.share * 100, c.name);
      out += fmt::format("  seed {}, {} draws, standard error {}\n\n", s.risk.seed, s.risk.draws,
                         format(s.risk.start_error, Quantity::volume, {}, 2));
    }
  }
  write_or_put(options.output, out);
}

void card(const PlanOptions& options) {
  const Opened opened = open_project(options.file);
  say(opened.notes);
  if (options.output.empty()) throw UsageError("card: expected -o FILE.pdf");
#ifdef UADZE_CARD
  card::write_pdf(options.output, plan_sessions(options, opened), {}, opened.project.name);
#else
  throw UsageError("card: this build is without printing");
#endif
}

}  // namespace uadze::cli
