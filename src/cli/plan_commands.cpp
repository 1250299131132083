// uadze solve, map, run, size, plan, card: starvation runs, sizing, the session plan and its printed page.
#include "cli/common.h"
#include "core/base/names.h"
#include "core/report/plan_table.h"
#include "core/report/run_report.h"
#include "core/report/size_report.h"
#ifdef UADZE_CARD
#include "card/session_card.h"
#endif

namespace uadze::cli {
namespace {

using report::Json;

solve::SearchOptions search_options(const SizeOptions& o) {
  solve::SearchOptions out;
  if (!o.json) out.units = units;  // programs read names too
  for (double v : o.surge_l) out.surge_volumes.push_back(v * 1e-3);
  for (const std::string& r : o.returns) {
    const auto found = value_named<circuit::ReturnTo>(r);
    if (!found)
      throw UsageError(fmt::format("--return: expected {}, found \"{}\"",
                                   fmt::join(names_of<circuit::ReturnTo>(), ", "), r));
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

std::vector<solve::SessionResult> plan_sessions(const PlanOptions& options, const Job& job) {
  solve::PlanOptions how;
  how.lap.detail = options.no_band ? solve::Detail::fine : solve::Detail::band;
  how.draws = {std::nullopt, options.draws, options.seed};
  if (options.risk_percent) how.draws.risk = *options.risk_percent / 100;
  return solve::plan(job.project(), {.setup = options.setup, .session = options.session}, how, *job.sources);
}

}  // namespace

void solve(const SolveOptions& options) {
  const Job job = open_job(options.file);
  const solve::Case wanted{.setup = options.setup, .session = options.session};
  const auto results = options.setup.empty() ? solve::compare(job.project(), wanted, {}, *job.sources)
                                             : solve::plan(job.project(), wanted, {}, *job.sources);
  Json json = Json::array();
  std::string text;
  solve::LapResultPtr told;
  for (const solve::SessionResult& result : results) {
    if (result.lap != told) {
      Messages notes = result.lap->lap->notes;
      std::erase_if(notes, [](const Message& m) { return m.severity == Severity::note; });
      say(notes);
      told = result.lap;
    }
    if (options.json)
      json.push_back(report::session_json(result));
    else
      text += (text.empty() ? "" : "\n") + report::session_text(result, options.working, units);
  }
  put(options.json ? Json{{"project", job.project().name}, {"results", json}}.dump(2) + "\n" : text);
}

void map(const MapCommandOptions& options) {
  const Job job = open_job(options.file);
  solve::LapOptions how;
  how.ladder.levels = options.levels;
  how.detail = options.band ? solve::Detail::band : solve::Detail::fine;
  const solve::Resolved r = solve::resolve(job.project(), {.setup = options.setup,
                                                           .lap = options.lap,
                                                           .session = {},
                                                           .grip = options.grip_percent / 100,
                                                           .alone = true});
  const auto result = solve::lap_result(job.project(), r, *job.sources, how);
  write_or_put(options.output,
               options.json ? report::map_summary_json(*result).dump(2) + "\n" : report::map_csv(*result));
}

void run(const RunCommandOptions& options) {
  if (!options.manoeuvre.empty() && !options.lap.empty())
    throw UsageError("run: expected --lap or --manoeuvre, found both");
  const Job job = open_job(options.file);
  const solve::Case wanted{.setup = options.setup,
                           .lap = options.lap,
                           .session = {},
                           .grip = options.grip_percent / 100,
                           .alone = true};
  const auto assembly = job.sources->tanks.assembled(solve::chosen_setup(job.project(), options.setup).tank);
  solve::RunOptions how{.level = level_volume(options.level_l, assembly->tank),
                        .strength = options.strength_g};
  if (!options.manoeuvre.empty()) how.manoeuvre = named_manoeuvre(options.manoeuvre);
  std::string csv, text;
  Json json;
  if (options.stint_laps > 0) {
    const auto result = solve::run_stint(job.project(), wanted, how, options.stint_laps, *job.sources);
    csv = report::stint_csv(result);
    json = report::stint_json(result, how.level);
    text = report::stint_text(result, how.level, units);
  } else {
    const auto result = solve::run(job.project(), wanted, how, *job.sources);
    csv = report::run_csv(result);
    json = report::run_json(result);
    text = report::run_text(result, units);
  }
  if (!options.output.empty()) write_or_put(options.output, csv);
  if (!options.events.empty()) write_or_put(options.events, json.dump(2) + "\n");
  if (options.json)
    put(json.dump(2) + "\n");
  else if (options.output != "-" && options.events != "-")
    put(text);
}

void size(const SizeOptions& options) {
  const Job job = open_job(options.file);
  const solve::Case wanted{.setup = options.setup, .lap = options.lap, .session = options.session};
  if (asks_search(options)) {
    const auto found = solve::search(job.project(), wanted, search_options(options), *job.sources);
    const solve::Resolved r = solve::resolve(job.project(), wanted);
    write_or_put(options.output,
                 options.json ? report::search_json(found, r.setup->name, r.session->name).dump(2) + "\n"
                              : report::search_text(found, units));
    return;
  }
  solve::SizeOptions how;
  if (options.level_l) {
    const auto assembly =
        job.sources->tanks.assembled(solve::chosen_setup(job.project(), options.setup).tank);
    how.level = level_volume(*options.level_l, assembly->tank);
  }
  if (options.margin_percent) how.pumps.margin = *options.margin_percent / 100;
  if (options.low_supply_v) how.pumps.low_supply = *options.low_supply_v;
  if (options.hot_k) how.pumps.hot = *options.hot_k;
  const auto result = solve::size(job.project(), wanted, how, *job.sources);
  write_or_put(options.output,
               options.json ? report::size_json(*result).dump(2) + "\n" : report::size_text(*result, units));
}

void plan(const PlanOptions& options) {
  const Job job = open_job(options.file);
  const auto sessions = plan_sessions(options, job);
  std::string out;
  if (options.json) {
    Json json = Json::array();
    for (const auto& s : sessions) {
      Json one = report::session_json(s);
      one.erase("working");
      if (s.lap->band) one["band"] = report::band_json(*s.lap->band);
      json.push_back(one);
    }
    out = Json{{"project", job.project().name}, {"sessions", json}}.dump(2) + "\n";
  } else if (options.csv) {
    out = report::plan_csv(sessions, {});
  } else {
    for (const auto& s : sessions)
      out += report::session_text(s, false, units) + report::risk_text(s, units) + "\n";
  }
  write_or_put(options.output, out);
}

void card(const PlanOptions& options) {
  if (options.output.empty()) throw UsageError("card: expected -o FILE.pdf");
#ifdef UADZE_CARD
  const Job job = open_job(options.file);
  const auto paper = value_named<card::Paper>(options.paper);
  if (!paper) throw UsageError("card: --paper is A4 or letter, found \"" + options.paper + "\"");
  const auto ready = solve::ready_by_setup(job.project(), job.sources->catalogue(job.project()),
                                           solve::records_beside(options.file), now());
  write_or_put(options.output,
               card::pdf_of(plan_sessions(options, job), units, job.project().name, *paper, ready));
#else
  throw UsageError("card: this build is without printing");
#endif
}

}  // namespace uadze::cli
