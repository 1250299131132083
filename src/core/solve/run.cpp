#include "core/solve/run.h"

#include <fmt/format.h>

#include "core/solve/setup.h"

namespace uadze::solve {
namespace {

LapCasePtr ready_case(const project::Project& project, const Case& wanted, const RunOptions& options,
                      Sources& sources, std::string& setup, std::string& lap_name, Progress* progress) {
  CaseOptions how{.points = options.points};
  if (!options.manoeuvre) {
    const Resolved r = resolve(project, wanted);
    setup = r.setup->name, lap_name = r.lap->name;
    return lap_case(project, r, sources, how, progress);
  }
  const lap::Lap lap = lap::as_lap(lap::manoeuvre(*options.manoeuvre, {.strength = options.strength}));
  KeyMaker maker;
  maker.add(static_cast<int>(*options.manoeuvre)).add(options.strength);
  how.given = std::make_shared<const KeptLap>(KeptLap{lap, {}, maker.key()});
  const project::Setup* found = wanted.setup.empty() && !project.setups.empty()
                                    ? &project.setups.front()
                                    : project.find_setup(wanted.setup);
  project::Setup driven = found ? *found : *resolve(project, wanted).setup;
  driven.engine.demand = starvation::DemandFrom::power;
  const project::LapReference reference{
      .name = name_of(*options.manoeuvre), .file = "", .repeated = false, .corners = {}};
  Resolved r{.setup = &driven, .lap = &reference, .session = nullptr, .conditions = {}};
  if (wanted.grip) r.conditions.grip = *wanted.grip;
  setup = driven.name, lap_name = reference.name;
  return lap_case(project, r, sources, how, progress);
}

}  // namespace

double held_level(double level, const tank::Tank& tank) {
  const double whole = tank.volume();
  if (!(level >= 0) || level > whole * (1 + 1e-9))
    throw InputError(Message{.file = {},
                             .place = "level",
                             .expected = fmt::format("0 to {:.4g} L, what the tank holds", whole * 1e3),
                             .found = fmt::format("{:.6g}", level * 1e3)});
  return std::min(level, whole);
}

RunResult run(const project::Project& project, const Case& wanted, const RunOptions& options,
              Sources& sources, Progress* progress) {
  RunResult out;
  out.ready = ready_case(project, wanted, options, sources, out.setup, out.lap_name, progress);
  out.run = starvation::run_level(*out.ready->car, out.ready->course,
                                  held_level(options.level, *out.ready->car->tank),
                                  {.with_motion = options.with_motion, .progress = progress});
  return out;
}

StintResult run_stint(const project::Project& project, const Case& wanted, const RunOptions& options,
                      int laps, Sources& sources, Progress* progress) {
  StintResult out;
  out.ready = ready_case(project, wanted, options, sources, out.setup, out.lap_name, progress);
  const project::Setup* setup = project.find_setup(out.setup);
  out.stint = starvation::run_stint(*out.ready->car, out.ready->course,
                                    {.start = held_level(options.level, *out.ready->car->tank),
                                     .laps = laps,
                                     .temperature = setup->fuel.temperature},
                                    progress);
  return out;
}

}  // namespace uadze::solve
