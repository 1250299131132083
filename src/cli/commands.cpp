// uadze check, schema, lap simulate.
#include "cli/commands.h"

#include <algorithm>

#include "cli/common.h"
#include "core/base/counted.h"
#include "core/base/names.h"
#include "core/project/schema.h"
#include "core/project/track_file.h"

namespace uadze::cli {

int check(const std::string& file) {
  solve::Sources sources(std::filesystem::path(file).parent_path());
  const project::Opened opened = solve::open_project(file, sources, outside_files);
  Messages messages = opened.notes;
  const Messages laps = solve::check_laps(opened.project, file, sources);
  messages.insert(messages.end(), laps.begin(), laps.end());
  say(messages);
  const auto count = [&](Severity s) {
    return std::count_if(messages.begin(), messages.end(), [s](const Message& m) { return m.severity == s; });
  };
  put(fmt::format("{}: {}, {}, {}; {}, {}\n", file, counted(opened.project.setups.size(), "setup"),
                  counted(opened.project.laps.size(), "lap"),
                  counted(opened.project.sessions.size(), "session"),
                  counted(count(Severity::error), "error"), counted(count(Severity::warning), "warning")));
  return has_errors(messages) ? 1 : 0;
}

void schema(const std::string& kind, bool tables) {
  const auto wanted = value_named<project::FileKind>(kind);
  if (!wanted)
    throw UsageError(fmt::format("schema: expected {}, found \"{}\"",
                                 fmt::join(names_of<project::FileKind>(), ", "), kind));
  put(tables ? project::field_tables(*wanted) : project::json_schema(*wanted).dump(2) + "\n");
}

void simulate_lap(const SimulateOptions& options) {
  const auto track = project::read_track(options.track);
  const auto car = project::read_car(options.car);
  say(track.notes);
  say(car.notes);
  lap::Noise noise = car.value.noise;
  if (options.seed) noise.seed = *options.seed;
  const lap::Lap lap = lap::simulate(track.value, car.value.car, noise, options.rate_hz.value_or(50.0));
  write_or_put(options.output, write_lap(lap));
  fmt::print(stderr, "{} on {}: {:.2f} s, {:.0f} m, noise seed {}\n", car.value.car.name, track.value.name,
             lap.duration(), lap.length(), noise.seed);
}

void propose_corners(const CornersOptions& options) {
  const auto lap = lap::read_lap(options.file);
  say(lap.notes);
  nlohmann::ordered_json list = nlohmann::ordered_json::array();
  for (const lap::Corner& c : lap::propose_corners(lap.value))
    list.push_back({{"name", c.name}, {"from_m", c.from}, {"to_m", c.to}, {"hand", name_of(c.hand)}});
  write_or_put(options.output, list.dump(2) + "\n");
}

}  // namespace uadze::cli
