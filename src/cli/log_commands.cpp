// uadze log: check, mapping, laps, lap.
#include <algorithm>

#include "cli/log_job.h"
#include "core/log/doubts.h"
#include "core/log/text.h"
#include "core/log/to_lap.h"
#include "core/project/log_files.h"
#include "core/report/diagnosis_report.h"
#include "core/report/log_report.h"

namespace uadze::cli {
void log_check(const LogOptions& options) {
  const LogJob job = open_log(options);
  say(log::doubts(job.read.value.log, options.file));
  put(options.json ? report::log_json(options.file, job.read.value, job.laps).dump(2) + "\n"
                   : report::log_text(options.file, job.read.value, job.laps, units));
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
  const log::ToLapOptions how = to_lap_options(options, log);
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
    if (lap) how.corners = project.sources->laps.corners(*lap);
  }
  const log::Log& log = job.read.value.log;
  const auto found = diagnosis::find_events(log, job.laps, how, options.file);
  say(found.notes);
  const auto said = diagnosis::diagnose(log, job.laps, found);
  put(options.json ? report::diagnosis_json(found, said).dump(2) + "\n"
                   : report::diagnosis_text(found, said, units));
}

void log_trend(const LogOptions& options) {
  std::vector<diagnosis::Wear> logs;
  LogOptions one = options;
  std::vector<std::string> files{options.file};
  files.insert(files.end(), options.more.begin(), options.more.end());
  for (const std::string& file : files) {
    one.file = file;
    const LogJob job = open_log(one);
    const log::Log& log = job.read.value.log;
    logs.push_back(diagnosis::wear_of(file, log, job.laps, diagnosis::find_events(log, job.laps, {}, file)));
  }
  put(options.json ? report::trend_json(logs).dump(2) + "\n" : report::trend_text(logs, units));
}

}  // namespace uadze::cli
