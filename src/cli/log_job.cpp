#include "cli/log_job.h"

#include <numbers>

#include "core/log/formula.h"
#include "core/project/log_files.h"

namespace uadze::cli {

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
  LogJob out = [&]() -> LogJob {
    try {
      return {log::read_log(options.file, mapping ? &*mapping : nullptr, signal_table), {}};
    } catch (const InputError& error) {
      // The log is as it is: where a mapping decides how it is read, that is said too.
      Messages messages = error.messages();
      if (!options.mapping.empty())
        messages.push_back({Severity::note, options.mapping, "", "", "is the mapping that it was read by"});
      throw InputError(std::move(messages));
    }
  }();
  std::vector<log::Formula> formulas = mapping ? mapping->formulas : std::vector<log::Formula>();
  for (const std::string& line : options.formulas) {
    const size_t equals = line.find('=');
    if (equals == std::string::npos)
      throw UsageError("--formula: expected NAME=FORMULA, found \"" + line + "\"");
    formulas.push_back(
        {.name = std::string(log::trimmed(line.substr(0, equals))), .text = line.substr(equals + 1)});
  }
  log::add_formulas(out.read.value, formulas);
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

log::ToLapOptions to_lap_options(const LogOptions& options, const log::Log& log) {
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
  return how;
}

}  // namespace uadze::cli
