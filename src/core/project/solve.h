#pragma once
// From a project to its answers: compiles setups, reads laps, finds clean levels, plans sessions.
//
//   LapStore laps(folder);
//   TankStore tanks;
//   const LapResultPtr lap = solve_lap(project, setup, reference, laps, tanks);
//   const SessionResult result = plan_session(lap, session);
//   result.risk.start, lap->clean.at.tightest_place, result.working ...
#include <map>
#include <memory>
#include <mutex>

#include "core/base/progress.h"
#include "core/project/project.h"
#include "core/project/tank_store.h"
#include "core/session/plan.h"
#include "core/session/risk.h"
#include "core/starvation/band.h"

namespace uadze::project {

/// The setup as engineering objects. Needs a setup without faults (as parse_project gives).
/// `wait`: for the tank's inertia if it is not known yet; otherwise the box-equivalent serves meanwhile.
starvation::FuelSystem compile(const Setup& setup, TankStore& tanks, bool wait = true);

/// Lap files read once and shared; safe from several threads. A file that changed on the disk is read anew.
class LapStore {
 public:
  explicit LapStore(std::filesystem::path folder = {}) : folder_(std::move(folder)) {}
  using Entry = std::shared_ptr<const Read<lap::Lap>>;
  /// Throws InputError if the file is missing or broken. Under another grip the accelerations are scaled; the
  /// test bench's lap needs no file.
  Entry get(const LapReference& reference, double grip = 1.0);
  const std::filesystem::path& folder() const { return folder_; }

 private:
  struct Kept {
    std::filesystem::file_time_type written;
    Entry entry, of;  ///< `of`: the unscaled lap that a scaled one was made from
  };
  std::filesystem::path folder_;
  std::mutex mutex_;
  std::map<std::tuple<std::string, int, double>, Kept> kept_;
};

/// The lap under the setup's demand, with the entered constants for its pumps. The lap must outlive it.
starvation::Course make_course(const starvation::FuelSystem& car, const LapReference& reference,
                               const lap::Lap& lap);

/// What a session changes on a setup and a lap.
struct Conditions {
  double grip = 1.0;                  ///< on lateral and longitudinal acceleration
  std::optional<double> temperature;  ///< K, of the fuel; nothing: the setup's
  bool operator==(const Conditions&) const = default;
};
Conditions conditions_of(const session::Session& session);

/// A setup on a lap, ready to be run: the tank compiled, the circuit solved along the lap.
struct LapCase {
  LapStore::Entry lap;  ///< under the conditions' grip
  std::shared_ptr<const starvation::FuelSystem> car;
  starvation::Course course;
};

struct CaseOptions {
  Conditions conditions;
  bool wait = true;       ///< for the tank's inertia
  size_t points = 2400;   ///< of the circuit along the lap
  LapStore::Entry given;  ///< in place of the reference's file
};

/// Throws InputError, named by setup and lap.
LapCase lap_case(const Project& project, const Setup& setup, const LapReference& reference, LapStore& laps,
                 TankStore& tanks, const CaseOptions& options = {}, Progress* progress = nullptr);

/// Full load on a test bench, car level and standing: what a session without a lap is run on.
const LapReference& bench_reference();
/// The session's lap, or the bench's for a test bench session without one; nothing if there is none.
const LapReference* reference_of(const Project& project, const session::Session& session);

/// How much of the answer is wanted.
enum class Detail {
  coarse,  ///< a first answer while the user still looks: the clean level about, no map
  fine,
  band  ///< fine, and how sure the clean level is
};

/// All that follows from one setup on one lap.
struct LapResult {
  std::string setup, lap_name;
  LapStore::Entry lap;
  std::shared_ptr<const starvation::FuelSystem> car;
  starvation::Course course;
  Detail detail = Detail::fine;
  std::optional<starvation::ModelBand> band;
  tank::TankParts parts;             ///< for dip and gauge
  double fuel_temperature = 293.15;  ///< K
  starvation::StarvationMap map;
  starvation::CleanLevel clean;
  double consumption = 0.0;  ///< m3 a lap
  double usable_volume = 0.0;
  Derivation density, clean_working, reserve_working, consumption_working;
};

using LapResultPtr = std::shared_ptr<const LapResult>;

struct SolveSettings {
  Conditions conditions;
  Detail detail = Detail::fine;
  std::optional<starvation::MapOptions> ladder;  ///< in place of the usual one
  size_t points = 2400;                          ///< of the circuit along the lap, but for a coarse answer
};

LapResultPtr solve_lap(const Project& project, const Setup& setup, const LapReference& reference,
                       LapStore& laps, TankStore& tanks, const SolveSettings& settings = {},
                       Progress* progress = nullptr);
/// The result with the model's band.
LapResultPtr with_band(const LapResultPtr& lap, Progress* progress = nullptr);

struct SessionResult {
  std::string setup, session;
  session::Session entered;
  LapResultPtr lap;
  session::Plan plan;      ///< the sum, without scatter
  session::RiskPlan risk;  ///< at the session's risk
  session::Readings start_reads, back_reads;
  std::optional<session::RuleCheck> rule;
  std::vector<session::StintPlan> stints;
  Derivation working;  ///< of the least start fuel, with the steps below it
};

struct DrawOptions {
  std::optional<double> risk;  ///< nothing: the session's
  int draws = 20000;
  unsigned long long seed = 1;
};

SessionResult plan_session(const LapResultPtr& lap, const session::Session& session,
                           const DrawOptions& options = {});

/// The lap at the level that the session brings back: the reserve that is left where it is tightest.
starvation::LevelRun run_at_back(const SessionResult& session);

/// Everything that `uadze check` says: the project's own notes, then each lap's file, with hands checked.
Messages check_project(const Opened& opened);

}  // namespace uadze::project
