#pragma once
// One run at one level, on a lap or a standard manoeuvre; and a stint with the fuel burning down.
//
// Example:
//   using namespace uadze;
//   const auto opened = test::demo("ostrel-wisp");
//   const auto ran = solve::run(opened.project, {.alone = true}, {.level = 8e-3, .points = 200}, *opened.sources);
//   EXPECT_EQ(ran.run.reserve.size(), ran.ready->lap->value.size());
#include "core/lap/manoeuvre.h"
#include "core/solve/case.h"
#include "core/starvation/level_run.h"
#include "core/starvation/stint.h"

namespace uadze::solve {

struct RunOptions {
  double level = 0.0;                            ///< m3 in the main tank
  std::optional<lap::Manoeuvre> manoeuvre = {};  ///< at full load, in place of a lap
  double strength = 1.2;                         ///< g, of the manoeuvre
  bool with_motion = false;
  size_t points = 2400;  ///< of the circuit along the lap
};

struct RunResult {
  std::string setup, lap_name;
  LapCasePtr ready;
  starvation::LevelRun run;
};

/// Throws InputError for a level that the tank does not hold.
RunResult run(const project::Project& project, const Case& wanted, const RunOptions& options,
              Sources& sources, Progress* progress = nullptr);

struct StintResult {
  std::string setup, lap_name;
  LapCasePtr ready;
  starvation::StintRun stint;
};

StintResult run_stint(const project::Project& project, const Case& wanted, const RunOptions& options,
                      int laps, Sources& sources, Progress* progress = nullptr);

/// m3, within what the tank holds. Throws InputError, the level named in litres, otherwise.
double held_level(double level, const tank::Tank& tank);

}  // namespace uadze::solve
