// uadze resolve: the fuel in three dimensions, with its table, its surface as files, and the fast model
// beside it.
#include <chrono>
#include <cmath>
#include <filesystem>

#include "cli/common.h"
#include "core/base/files.h"
#include "core/report/resolved_report.h"
#include "core/resolved/surface.h"

namespace uadze::cli {

void resolve_fuel(const ResolveOptions& options) {
  if (!options.lap.empty() + !options.accel.empty() + !options.manoeuvre.empty() != 1)
    throw UsageError("resolve: expected one of --lap, --accel and --manoeuvre");
  const Job job = open_job(options.file);
  solve::ResolvedAsk ask{.level = options.level_l * 1e-3,
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
  const resolved::RunInput input = run.input();
  if (options.estimate) {
    put(fmt::format("about {:.0f} s on one core\n", resolved::estimated_seconds(input, run.options)));
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
  const auto begin = std::chrono::steady_clock::now();
  const resolved::RunResult result = resolved::run(input, run.options);
  const double seconds = std::chrono::duration<double>(std::chrono::steady_clock::now() - begin).count();
  std::optional<solve::Agreement> agreement;
  if (!options.alone) agreement = solve::agreement(result, solve::fast_beside(run, result));
  if (!options.output.empty())
    write_or_put(options.output, report::resolved_csv(run.assembled->tank, run.car.pickups, result));
  if (options.output != "-")
    put(report::resolved_text(run, result, seconds, agreement ? &*agreement : nullptr));
}

}  // namespace uadze::cli
