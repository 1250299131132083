// uadze log: check, mapping, laps, lap.
#include <algorithm>

#include "cli/common.h"
#include "core/log/doubts.h"
#include "core/log/text.h"
#include "core/log/to_lap.h"
#include "core/project/log_files.h"
#include "core/report/diagnosis_report.h"
#include "core/report/log_report.h"

namespace uadze::cli {
namespace {

struct LogJob {
  Read<log::LogFile> read;
  log::Laps laps;
};

LogJob open_log(const LogOptions& options) {
  std::optional<log::Mapping> mapping;
  if (!options.mapping.empty()) {
    auto read = project::read_mapping(options.mapping);
    say(read.notes);
    mapping = std::move(read.value);
  }
  if (options.rate_hz) {
    if (!mapping) mapping.emplace();
    mapping->rate = options.rate_hz;
  }
  std::vector<log::Signal> signal_table;
  if (!options.signal_table.empty()) {
    auto read = project::read_signals(options.signal_table);
    say(read.notes);
    signal_table = std::move(read.value);
  }
  LogJob out{log::read_log(options.file, mapping ? &*mapping : nullptr, signal_table), {}};
  say(out.read.notes);
  log::LapOptions how;
  if (!options.by.empty()) {
    static const std::pair<const char*, log::LapBy> words[] = {{"counter", log::LapBy::counter},
                                                               {"beacon", log::LapBy::beacon},
                                                               {"distance", log::LapBy::distance},
                                                               {"line", log::LapBy::line},
                                                               {"whole", log::LapBy::whole}};
    for (const auto& [word, by] : words)
      if (options.by == word) how.by = by;
  }
  if (!options.line.empty()) {
    const auto at =
        parse_numbers(options.line, 2, 1e8, "--line: expected latitude,longitude in degrees, or x,y in m");
    const bool degrees = out.read.value.log.channel(log::Role::latitude) != nullptr;
    how.line = log::StartLine{Vec2(at[0], at[1]) * (degrees ? std::numbers::pi / 180 : 1.0)};
    if (!how.by) how.by = log::LapBy::line;
  }
  out.laps = log::split_laps(out.read.value.log, how);
  return out;
}

}  // namespace

void log_check(const LogOptions& options) {
  const LogJob job = open_log(options);
  say(log::doubts(job.read.value.log, options.file));
  put(options.json ? report::log_json(options.file, job.read.value, job.laps).dump(2) + "\n"
                   : report::log_text(options.file, job.read.value, job.laps));
}

void log_mapping(const LogOptions& options) {
  const LogJob job = open_log(options);
  write_or_put(options.output, project::mapping_text(job.read.value.mapping));
}

void log_laps(const LogOptions& options) {
  const LogJob job = open_log(options);
  write_or_put(options.output, report::laps_csv(job.laps));
}

void log_lap(const LogOptions& options) {
  const LogJob job = open_log(options);
  const log::Log& log = job.read.value.log;
  const log::LoggedLap* lap = nullptr;
  if (options.lap == 0) {
    const auto best = job.laps.best();
    if (!best) {
      if (job.laps.all.size() != 1)
        throw UsageError("--lap: no flying lap was found; say which: uadze log laps FILE");
      lap = &job.laps.all.front();
    } else {
      lap = &job.laps.all[*best];
    }
  } else {
    const auto it = std::find_if(job.laps.all.begin(), job.laps.all.end(),
                                 [&](const log::LoggedLap& l) { return l.number == options.lap; });
    if (it == job.laps.all.end())
      throw UsageError(fmt::format("--lap: expected 1 to {}, found {}", job.laps.all.size(), options.lap));
    lap = &*it;
  }
  log::ToLapOptions how;
  how.cut_off = options.cut_off_hz;
  if (options.mount) {
    how.mounting = log::find_mounting(log);
    fmt::print(
        stderr,
        "sensor: pitch {:.1f}°, roll {:.1f}°, yaw {:.1f}°, from {:.0f} s standing and {:.0f} s straight\n",
        how.mounting.pitch * 180 / std::numbers::pi, how.mounting.roll * 180 / std::numbers::pi,
        how.mounting.yaw * 180 / std::numbers::pi, how.mounting.standing, how.mounting.straight);
  }
  if (!options.from_sensor_mm.empty()) {
    const auto r = parse_numbers(options.from_sensor_mm, 3, 20000,
                                 "--from-sensor-mm: expected x,y,z: three numbers in mm");
    how.from_sensor = Vec3(r[0], r[1], r[2]) * 1e-3;
  }
  auto made = log::to_lap(log, *lap, how);
  for (Message& m : made.notes) m.file = options.file;
  say(made.notes);
  write_or_put(options.output, lap::write_lap(made.value));
  fmt::print(stderr, "lap {} ({}): {}, {:.0f} m\n", lap->number, name_of(lap->kind),
             report::lap_time(lap->duration()), lap->length);
}

void log_find(const LogOptions& options) {
  const LogJob job = open_log(options);
  diagnosis::FindOptions how;
  if (!options.project.empty()) {
    const Job project = open_job(options.project);
    const project::Setup& setup = solve::chosen_setup(project.project(), options.setup);
    how.limit = setup.limits.mixture;
    if (setup.circuit) how.set = setup.circuit->regulator.base;
    const project::LapReference* lap =
        options.lap_name.empty()
            ? (project.project().laps.empty() ? nullptr : &project.project().laps.front())
            : project.project().find_lap(options.lap_name);
    if (!options.lap_name.empty() && !lap)
      throw UsageError(fmt::format("--lap-name: the project has no lap \"{}\"", options.lap_name));
    if (lap) how.corners = lap->corners;
  }
  const log::Log& log = job.read.value.log;
  const auto found = diagnosis::find_events(log, job.laps, how, options.file);
  say(found.notes);
  const auto said = diagnosis::diagnose(log, job.laps, found);
  put(options.json ? report::diagnosis_json(found, said).dump(2) + "\n"
                   : report::diagnosis_text(found, said));
}

}  // namespace uadze::cli
