#pragma once
// From a project to its answers: compiles setups, reads laps, finds clean levels, plans sessions.
//
//   LapStore laps(folder);
//   TankStore tanks;
//   const LapResultPtr lap = solve_lap(setup, reference, laps, tanks);
//   const SessionResult result = plan_session(lap, session);
//   result.plan.start, lap->clean.at.tightest_place, result.working ...
#include <map>
#include <memory>
#include <mutex>

#include "core/base/progress.h"
#include "core/project/project.h"
#include "core/project/tank_store.h"
#include "core/session/plan.h"
#include "core/starvation/starvation_map.h"

namespace uadze::project {

/// The setup as engineering objects. Needs a setup without faults (as parse_project gives).
/// `wait`: for the tank's inertia if it is not known yet; otherwise the box-equivalent serves meanwhile.
starvation::FuelSystem compile(const Setup& setup, TankStore& tanks, bool wait = true);

/// Lap files read once and shared; safe from several threads. A file that changed on the disk is read anew.
class LapStore {
 public:
  explicit LapStore(std::filesystem::path folder = {}) : folder_(std::move(folder)) {}
  using Entry = std::shared_ptr<const Read<lap::Lap>>;
  /// Throws InputError if the file is missing or broken.
  Entry get(const LapReference& reference);
  const std::filesystem::path& folder() const { return folder_; }

 private:
  struct Kept {
    std::filesystem::file_time_type written;
    Entry entry;
  };
  std::filesystem::path folder_;
  std::mutex mutex_;
  std::map<std::pair<std::string, int>, Kept> kept_;
};

/// The lap under the setup's demand. The lap must outlive it.
starvation::Course make_course(const starvation::FuelSystem& car, const LapReference& reference,
                               const lap::Lap& lap);

/// All that follows from one setup on one lap.
struct LapResult {
  std::string setup, lap_name;
  LapStore::Entry lap;
  std::shared_ptr<const starvation::FuelSystem> car;
  starvation::Course course;
  starvation::StarvationMap map;
  starvation::CleanLevel clean;
  double consumption = 0.0;  ///< m3 a lap
  double usable_volume = 0.0;
  Derivation density, clean_working, reserve_working, consumption_working;
};

using LapResultPtr = std::shared_ptr<const LapResult>;

LapResultPtr solve_lap(const Setup& setup, const LapReference& reference, LapStore& laps, TankStore& tanks,
                       const starvation::MapOptions& options = {}, Progress* progress = nullptr);

struct SessionResult {
  std::string setup, session;
  LapResultPtr lap;
  session::Plan plan;
  Derivation working;  ///< of the least start fuel, with the steps below it
};

SessionResult plan_session(const LapResultPtr& lap, const session::Session& session);

/// Everything that `uadze check` says: the project's own notes, then each lap's file, with hands checked.
Messages check_project(const Opened& opened);

}  // namespace uadze::project
