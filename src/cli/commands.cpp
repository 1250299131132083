#include "cli/commands.h"

#include <fmt/format.h>

#include <algorithm>

#include "cli/common.h"
#include "cli/report.h"
#include "core/base/units.h"
#include "core/project/track_file.h"

namespace uadze::cli {
using namespace project;

int check(const std::string& file) {
  const Opened opened = open_project(file);
  const Messages messages = check_project(opened);
  say(messages);
  const auto count = [&](Severity s) {
    return std::count_if(messages.begin(), messages.end(), [s](const Message& m) { return m.severity == s; });
  };
  put(fmt::format("{}: {} setups, {} laps, {} sessions; {} errors, {} warnings\n", file,
                  opened.project.setups.size(), opened.project.laps.size(), opened.project.sessions.size(),
                  count(Severity::error), count(Severity::warning)));
  return has_errors(messages) ? 1 : 0;
}

void solve(const SolveOptions& options) {
  const Opened opened = open_project(options.file);
  say(opened.notes);
  const Project& project = opened.project;
  if (project.sessions.empty())
    throw InputError(Message{
        .file = options.file, .place = "/sessions", .expected = "a session to solve for", .found = "none"});
  if (!options.setup.empty()) named(project.setups, options.setup, "setup");
  if (!options.session.empty()) named(project.sessions, options.session, "session");
  LapStore laps(opened.file.path.parent_path());
  TankStore tanks;
  std::map<std::string, LapResultPtr> done;
  Json json = Json::array();
  std::string text;
  for (const Setup& setup : project.setups) {
    if (!options.setup.empty() && setup.name != options.setup) continue;
    for (const session::Session& s : project.sessions) {
      if (!options.session.empty() && s.name != options.session) continue;
      LapResultPtr& lap = done[case_key(setup, s)];
      if (!lap) {
        lap = solve_lap(project, setup, session_lap(project, s, options.file), laps, tanks,
                        {.conditions = conditions_of(s)});
        Messages notes = lap->lap->notes;
        std::erase_if(notes, [](const Message& m) { return m.severity == Severity::note; });
        say(notes);
      }
      const SessionResult result = plan_session(lap, s);
      if (options.json)
        json.push_back(session_json(result));
      else
        text += (text.empty() ? "" : "\n") + session_text(result, options.working);
    }
  }
  put(options.json ? Json{{"project", project.name}, {"results", json}}.dump(2) + "\n" : text);
}

void simulate_lap(const SimulateOptions& options) {
  const auto track = read_track(options.track);
  const auto car = read_car(options.car);
  say(track.notes);
  say(car.notes);
  lap::Noise noise = car.value.noise;
  if (options.seed) noise.seed = *options.seed;
  const lap::Lap lap = lap::simulate(track.value, car.value.car, noise, options.rate_hz.value_or(50.0));
  write_or_put(options.output, write_lap(lap));
  fmt::print(stderr, "{} on {}: {:.2f} s, {:.0f} m, noise seed {}\n", car.value.car.name, track.value.name,
             lap.duration(), lap.length(), noise.seed);
}

void map(const MapCommandOptions& options) {
  const Opened opened = open_project(options.file);
  say(opened.notes);
  const Setup& setup = chosen_setup(opened.project, options.setup);
  const LapReference& reference = chosen_lap(opened, options.lap);
  LapStore laps(opened.file.path.parent_path());
  TankStore tanks;
  SolveSettings settings;
  settings.ladder = starvation::MapOptions{.levels = options.levels};
  settings.detail = options.band ? Detail::band : Detail::fine;
  settings.conditions = {options.grip_percent / 100, std::nullopt};
  const LapResultPtr result = solve_lap(opened.project, setup, reference, laps, tanks, settings);
  const lap::Lap& lap = result->lap->value;
  if (options.json) {
    Json json{{"setup", setup.name},
              {"lap", reference.name},
              {"clean_level_l", result->clean.level * 1e3},
              {"clean_level_exists", result->clean.exists},
              {"starves_below_l", result->clean.unclean_below * 1e3},
              {"corners", map_json(*result)}};
    if (result->band) json["band"] = band_json(*result->band);
    json["less_fuel_but_cleaner"] = Json::array();
    for (const auto& a : result->clean.clean_again)
      json["less_fuel_but_cleaner"].push_back(
          {{"level_l", a.level * 1e3}, {"starves_at_l", a.higher * 1e3}, {"why", a.text.in()}});
    write_or_put(options.output, json.dump(2) + "\n");
    return;
  }
  std::string text =
      "level [l],time [s],distance [m],mean wet fraction [1],least wet fraction [1],reserve [1],starving [1],"
      "rail over set [1]";
  for (const auto& p : setup.tank.pickups) text += "," + p.name + " [1]";
  text += "\n";
  for (const auto& row : result->map.rows)
    for (size_t i = 0; i < lap.size(); ++i) {
      const double t = lap.time[i];
      const bool starving = std::any_of(row.events.begin(), row.events.end(),
                                        [t](const auto& e) { return t >= e.start && t <= e.end; });
      text += fmt::format("{:.4f},{:.3f},{:.2f},{:.4f},{:.4f},{:.4f},{},{:.4f}", row.level * 1e3, t,
                          lap.distance[i], row.wet[i], row.least_wet[i], row.reserve[i], starving ? 1 : 0,
                          row.rail[i]);
      for (const auto& p : row.pickups) text += fmt::format(",{:.4f}", p[i]);
      text += "\n";
    }
  write_or_put(options.output, text);
}

}  // namespace uadze::cli
