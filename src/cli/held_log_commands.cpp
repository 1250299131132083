// uadze log: fuel, compare, calibrate: a log held against a setup of a project.
#include <ctime>

#include "cli/log_job.h"
#include "core/project/project_file.h"
#include "core/report/log_report.h"
#include "core/report/logged_report.h"

namespace uadze::cli {
namespace {

std::string bare_name(const std::string& file) { return std::filesystem::path(file).filename().string(); }

/// A log beside the project that it is held against.
struct Held {
  LogJob log;
  diagnosis::Found found;
  solve::LoggedFuel fuel;
};

void note_fuel(project::Project& project, const LogOptions& options) {
  if (!options.put_in_l && !options.drained_l) return;
  const std::string name = bare_name(options.file);
  project::LogNote* note = nullptr;
  for (project::LogNote& n : project.logs)
    if (n.file == name) note = &n;
  if (!note) note = &project.logs.emplace_back(project::LogNote{.file = name});
  if (options.put_in_l) note->put_in = *options.put_in_l * 1e-3;
  if (options.drained_l) note->drained = *options.drained_l * 1e-3;
}

Held hold(const LogOptions& options, const project::Project& project, const solve::Resolved& r,
          solve::Sources& sources) {
  Held out{open_log(options), {}, {}};
  diagnosis::FindOptions find{.limit = r.setup->limits.mixture, .corners = sources.laps.corners(*r.lap)};
  if (r.setup->circuit) find.set = r.setup->circuit->regulator.base;
  const log::Log& log = out.log.read.value.log;
  out.found = diagnosis::find_events(log, out.log.laps, find, options.file);
  say(out.found.notes);
  out.fuel = solve::logged_fuel(project, *r.setup, bare_name(options.file), log, out.found, sources);
  return out;
}

solve::LoggedCase made_of(const LogOptions& options, const Held& held, const project::Project& project,
                          const solve::Resolved& r, solve::Sources& sources, bool calibrated) {
  solve::LoggedOptions how{.calibrated = calibrated};
  const log::Log& log = held.log.read.value.log;
  const double rate = how.how.rate, cut_off = how.how.cut_off;
  how.how = to_lap_options(options, log);
  how.how.rate = rate, how.how.cut_off = cut_off;
  try {
    auto out = solve::logged_case(project, r, log, held.log.laps, held.found, held.fuel, sources, how);
    for (Message& m : out.notes) m.file = options.file;
    say(out.notes);
    return out;
  } catch (const InputError& error) {
    Messages messages = error.messages();
    for (Message& m : messages)
      if (m.file.empty()) m.file = options.file;
    throw InputError(std::move(messages));
  }
}

std::string today() {
  const std::time_t now = std::time(nullptr);
  std::tm parts{};
  gmtime_r(&now, &parts);
  return fmt::format("{:04}-{:02}-{:02}", parts.tm_year + 1900, parts.tm_mon + 1, parts.tm_mday);
}

}  // namespace

void log_fuel(const LogOptions& options) {
  Job job = open_job(options.project);
  note_fuel(job.opened.project, options);
  const auto r =
      solve::resolve(job.project(), {.setup = options.setup, .lap = options.lap_name, .alone = true});
  const Held held = hold(options, job.project(), r, *job.sources);
  const log::Log& log = held.log.read.value.log;
  put(options.json ? report::fuel_json(log, held.log.laps, held.fuel).dump(2) + "\n"
                   : report::fuel_text(log, held.log.laps, held.fuel, units));
}

void log_compare(const LogOptions& options) {
  Job job = open_job(options.project);
  note_fuel(job.opened.project, options);
  const auto r =
      solve::resolve(job.project(), {.setup = options.setup, .lap = options.lap_name, .alone = true});
  const Held held = hold(options, job.project(), r, *job.sources);
  const auto made = made_of(options, held, job.project(), r, *job.sources, true);
  const auto scores = solve::scored(made, solve::computed(made));
  const std::string learnt = starvation::calibrated_words(r.setup->calibration);
  put(options.json
          ? report::scores_json(scores).dump(2) + "\n"
          : report::scores_text(scores, units) + (learnt.empty() ? "" : "The setup is " + learnt + ".\n"));
}

void log_calibrate(const LogOptions& options) {
  Job job = open_job(options.project);
  note_fuel(job.opened.project, options);
  const auto r =
      solve::resolve(job.project(), {.setup = options.setup, .lap = options.lap_name, .alone = true});
  std::vector<solve::CalibrationLog> logs;
  LogOptions one = options;
  std::vector<std::string> files{options.file};
  files.insert(files.end(), options.more.begin(), options.more.end());
  for (const std::string& file : files) {
    one.file = file;
    const Held held = hold(one, job.project(), r, *job.sources);
    logs.push_back({bare_name(file), made_of(one, held, job.project(), r, *job.sources, false)});
  }
  const auto result =
      solve::calibrate(logs, job.sources->laps.get(*r.lap), options.date.empty() ? today() : options.date);
  if (!options.output.empty()) {
    project::Project with = job.project();
    for (project::Setup& setup : with.setups)
      if (setup.name == r.setup->name)
        setup.calibration = starvation::with_what_logs_do_not_tell(result.value, setup.calibration);
    write_or_put(options.output, project::project_text(with, job.opened.file.text));
  }
  const std::string text = options.json ? report::calibration_json(result).dump(2) + "\n"
                                        : report::calibration_text(result, units);
  if (options.output == "-" || options.output == "/dev/stdout")
    fmt::print(stderr, "{}", text);
  else
    put(text);
}

}  // namespace uadze::cli
