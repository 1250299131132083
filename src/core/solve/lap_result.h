#pragma once
// All that follows from one setup on one lap: the clean level, how sure it is, and when it is asked for the
// starvation map. And a first answer to that while the user still looks.
//
// Example:
//   using namespace uadze;
//   const auto opened = test::demo("ostrel-wisp");
//   solve::LapOptions options;
//   options.ladder.levels = 6;
//   options.points = 200;
//   const auto lap = solve::lap_result(opened.project, solve::resolve(opened.project, {}), *opened.sources, options);
//   EXPECT_EQ(solve::map_of(*lap).rows.size(), 6u);
//   EXPECT_TRUE(lap->clean.exists);
#include <optional>
#include <vector>

#include "core/base/once.h"
#include "core/base/require.h"
#include "core/session/risk.h"
#include "core/solve/case.h"
#include "core/starvation/band.h"
#include "core/starvation/burn_down.h"
#include "core/starvation/first_answer.h"

namespace uadze::solve {

/// How much of the answer is wanted.
enum class Detail {
  fine,
  band  ///< fine, and how sure the clean level is
};

struct LapOptions {
  Detail detail = Detail::fine;
  starvation::MapOptions ladder;
  size_t points = 2400;  ///< of the circuit along the lap
};

struct LapResult {
  std::string setup, lap_name;
  LapPtr lap;
  std::shared_ptr<const starvation::FuelSystem> car;
  starvation::Course course;
  std::optional<starvation::ModelBand> band;
  tank::TankParts parts;             ///< for dip and gauge
  double fuel_temperature = 293.15;  ///< K
  std::shared_ptr<const starvation::Ladder> ladder;
  std::shared_ptr<Once<starvation::StarvationMap>> map;  ///< map_of()
  starvation::CleanLevel clean;
  double consumption = 0.0;  ///< m3 a lap
  double usable_volume = 0.0;
  double end_resolution = 0.1e-3;                      ///< m3, of a stint's least end: twice the ladder's
  fluid::Blend fuel;                                   ///< as it runs
  std::shared_ptr<const starvation::Launch> launch;    ///< nothing: the lap's own demand is not known
  std::shared_ptr<Kept<starvation::Marched>> marched;  ///< of the stints asked for so far
  Derivation density, clean_working, reserve_working, consumption_working;
};
using LapResultPtr = std::shared_ptr<const LapResult>;

/// In at least the detail asked for. Kept by content; what is kept is given at once.
LapResultPtr lap_result(const project::Project& project, const Resolved& resolved, Sources& sources,
                        const LapOptions& options = {}, Progress* progress = nullptr);

/// Its starvation map, made when it is first asked for: the rungs of the ladder that starve driven whole.
const starvation::StarvationMap& map_of(const LapResult& lap, Progress* progress = nullptr);

/// A lap's result, or why there is none.
struct LapOrFault {
  LapResultPtr lap;
  std::optional<InputError> fault;
};

/// Of each, in their order: side by side, and what several share once.
std::vector<LapOrFault> lap_results(const project::Project& project, const std::vector<Resolved>& wanted,
                                    Sources& sources, const LapOptions& options = {},
                                    Progress* progress = nullptr);

/// What a session's plan needs of a lap, fine or about.
session::PlanInput plan_input(const starvation::FuelSystem& car, const lap::Lap& lap, double least_end,
                              double consumption, double usable_volume);

/// The clean level about, on a lap thinned and a circuit solved at few moments.
struct FirstAnswer {
  std::string setup, session, lap_name;
  starvation::FirstAnswer clean;  ///< beside it: with the fuel that is brought back
  session::RiskPlan risk;         ///< without the model's band
  double tank_volume = 0.0, usable_volume = 0.0, density = 0.0;
  bool surge = false, by_circuit = false;
};

/// Needs a session.
FirstAnswer first_answer(const project::Project& project, const Resolved& resolved, Sources& sources,
                         const session::Draws& draws = {2000, 1}, Progress* progress = nullptr);

}  // namespace uadze::solve
