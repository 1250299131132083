// uadze resolve: the fuel in three dimensions, with its table, its surface as files, and the fast model
// beside it.
#include <cmath>
#include <filesystem>

#include "cli/common.h"
#include "core/base/files.h"
#include "core/report/resolved_report.h"
#include "core/resolved/surface.h"

namespace uadze::cli {

namespace {

solve::KeepOptions keep_of(const ResolveOptions& options) {
  solve::KeepOptions out;
  if (!options.no_keep) out.folder = solve::runs_folder(std::filesystem::absolute(options.file));
  out.every = options.every_s;
  return out;
}

void resolve_corners(const ResolveOptions& options) {
  if (!options.accel.empty() || !options.manoeuvre.empty() || options.from || options.to ||
      !options.surface.empty() || !options.checkpoint.empty() || options.estimate || options.alone)
    throw UsageError(
        "resolve --corners: finds its own seconds of a lap; expected --lap, --level-l, --cell-mm, "
        "--sample-ms, --draw, --no-keep and -o only");
  const Job job = open_job(options.file);
  solve::CornersAsk ask{.corners = static_cast<size_t>(options.corners),
                        .levels = {},
                        .size = options.cell_mm * 1e-3,
                        .sample = options.sample_ms * 1e-3,
                        .draw = options.draw};
  for (const double l : options.level_l) ask.levels.push_back(l * 1e-3);
  const auto rows = solve::check_corners(
      job.project(), {.setup = options.setup, .lap = options.lap, .session = {}, .grip = {}, .alone = true},
      ask, *job.sources, keep_of(options));
  if (!options.output.empty()) write_or_put(options.output, report::corners_csv(rows));
  if (options.output != "-") put(report::corners_text(rows, units));
}

}  // namespace

void runs(const RunsOptions& options) {
  const auto folder = solve::runs_folder(std::filesystem::absolute(options.file));
  const auto there = solve::kept_runs(folder);
  if (!options.all && options.throw_away.empty()) {
    put(report::runs_text(there, units));
    return;
  }
  std::vector<solve::KeptLine> gone = options.all ? there : std::vector<solve::KeptLine>();
  for (const std::string& begin : options.throw_away) {
    const size_t before = gone.size();
    for (const auto& line : there)
      if (line.file.filename().string().starts_with(begin)) gone.push_back(line);
    if (gone.size() != before + 1)
      throw UsageError(fmt::format("runs: expected the begin of one run's name, found \"{}\", which {} have",
                                   begin, gone.size() - before));
  }
  put(fmt::format("{} thrown away, {:.1f} MB\n", gone.size(),
                  1e-6 * static_cast<double>(solve::throw_away(gone))));
}

void resolve_fuel(const ResolveOptions& options) {
  if (options.corners > 0) return resolve_corners(options);
  if (options.level_l.size() != 1)
    throw UsageError("resolve: expected one --level-l; --corners takes several");
  if (!options.lap.empty() + !options.accel.empty() + !options.manoeuvre.empty() != 1)
    throw UsageError("resolve: expected one of --lap, --accel and --manoeuvre");
  const Job job = open_job(options.file);
  solve::ResolvedAsk ask{.level = options.level_l.front() * 1e-3,
                         .strength = options.strength_g,
                         .acceleration = options.accel,
                         .from = options.from,
                         .to = options.to,
                         .size = options.cell_mm * 1e-3,
                         .sample = options.sample_ms * 1e-3,
                         .draw = options.draw};
  if (!options.manoeuvre.empty()) ask.manoeuvre = named_manoeuvre(options.manoeuvre);
  solve::ResolvedJob run = solve::resolved_job(
      job.project(), {.setup = options.setup, .lap = options.lap, .session = {}, .grip = {}, .alone = true},
      ask, *job.sources);
  if (options.estimate) {
    put(fmt::format("about {:.0f} s on one core\n", resolved::estimated_seconds(run.input(), run.options)));
    return;
  }
  run.options.checkpoint = options.checkpoint;
  run.options.every = options.every_s;
  if (!options.surface.empty()) {
    const std::filesystem::path folder = options.surface;
    std::error_code failed;
    std::filesystem::create_directories(folder, failed);
    if (failed)
      throw InputError(
          Message{.file = options.surface, .expected = "a folder for surfaces", .found = failed.message()});
    const double apart = options.frames > 0 ? 1 / options.frames : run.options.sample;
    const auto each = std::max(1L, std::lround(apart / run.options.sample));
    run.options.seen = [folder, each](const resolved::Fuel& fuel, size_t sample) {
      if (sample % static_cast<size_t>(each) != 0) return;
      const auto surface = resolved::surface_of(fuel);
      const std::string name = fmt::format("surface-{:06}", sample / static_cast<size_t>(each));
      write_file_atomically(folder / (name + ".vtu"), vtu_of(surface));
      write_file_atomically(folder / (name + ".obj"), obj_of(surface));
    };
  }
  // Surfaces and a checkpoint of the user's own are made by running.
  solve::KeepOptions keep = keep_of(options);
  if (!options.surface.empty() || !options.checkpoint.empty()) keep.folder.clear();
  const solve::KeptRun kept = solve::resolve_kept(run, keep);
  const resolved::RunResult& result = kept.run;
  std::optional<solve::Agreement> agreement;
  if (!options.alone) agreement = solve::agreement(result, solve::fast_beside(run, result));
  // Words first: a table that can not be written does not take them along.
  if (options.output != "-")
    put(report::resolved_text(run, result, kept.seconds, agreement ? &*agreement : nullptr, units) +
        (kept.was_there ? "kept from before: nothing was run\n" : "") +
        (kept.not_kept.empty() ? "" : "! Not kept: " + kept.not_kept + "\n"));
  if (!options.output.empty())
    write_or_put(options.output, report::resolved_csv(run.assembled->tank, run.car.pickups, result));
}

}  // namespace uadze::cli
