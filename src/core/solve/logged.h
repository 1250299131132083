#pragma once
// A log held against the model: its laps as they were driven, at the level that was in the tank, marched by
// the coupled model, and what came of it beside what was logged.
//
//   logged     difference / usual ----.        .-----         .------        one lap, parted by corners
//                                      '------'      '-------'
//   computed   difference / set   -----.      .------.       .------
//                                       '----'        '-----'
//              place:           Long Left          Kiln Hairpin
//                               both: a hit        both: a hit              only logged: a miss
//                                                                           only computed: a false alarm
//
// Laps that follow one another are marched in one go, so that the surge tank and the swinging fuel go over
// from lap to lap; the first of such a run is entered over its own last seconds, surge tank full. The engine
// burns what the log says (log/flow.h), else what throttle and power say.
//
// The circuit's own faults count as computed where the log has them, and are no false alarms where it has
// not: they are told elsewhere. Limits: what else made the pressure fall in the log (a filter, a wire) is no
// starvation, and stands there as a miss.
//
// Example:
//   const auto opened = test::demo("ostrel-wisp");
//   const solve::Resolved r = solve::resolve(opened.project, {});
//   EXPECT_THROW(solve::logged_case(opened.project, r, {}, {}, {}, {}, *opened.sources), InputError);   // no lap
#include "core/diagnosis/events.h"
#include "core/log/level.h"
#include "core/log/to_lap.h"
#include "core/solve/case.h"
#include "core/starvation/calibration.h"

namespace uadze::solve {

/// A stretch of the lap that is looked at as one: a corner and the way to the next.
struct Place {
  std::string name;
  double from = 0.0;  ///< m along the lap; to the next one's
};

struct LoggedLapCase {
  int number = 0;             ///< of the log's lap
  double begin = 0, end = 0;  ///< s of the log
  bool flying = true;         ///< at the pace of its best ones
  bool follows = false;       ///< the lap before it in the list ran straight into it
  LapCasePtr ready;           ///< of the lap as logged
  double level = 0.0;         ///< m3 in the main tank at its begin
  double level_error = 0.0;   ///< m3, one deviation
  std::vector<double> seen;   ///< [sample] difference over the usual one; empty: no pressure in the log
  std::vector<size_t> place;  ///< [sample] of `places`
  std::vector<char> event;    ///< [place] an event was logged
};

struct LoggedCase {
  std::string setup, lap_name;
  std::vector<Place> places;
  std::vector<LoggedLapCase> laps;  ///< flying and slow ones, in laps that follow them, in their order
  Messages notes;
};

struct LoggedOptions {
  log::ToLapOptions how = {.cut_off = 5.0, .rate = 50.0, .mounting = {}, .from_sensor = {0, 0, 0}};
  size_t points = 1200;     ///< of the circuit along each lap
  bool calibrated = true;  ///< with the setup's calibration
  int most_laps = 60;      ///< the last ones of the log
};

/// Injectors of a setup as log/flow.h takes them; nothing where its circuit does not say.
std::optional<log::InjectorLaw> injector_law(const project::Project& project, const project::Setup& setup,
                                             Sources& sources);

/// What flowed and what was in the tank, by a setup's injectors and fuel and the project's note of the log.
struct LoggedFuel {
  log::FlowAlong flow;    ///< burnt
  log::FlowAlong wanted;  ///< what would have been burnt at the set pressure
  log::LevelAlong level;
};
LoggedFuel logged_fuel(const project::Project& project, const project::Setup& setup, const std::string& file,
                       const log::Log& log, const diagnosis::Found& found, Sources& sources);

/// Throws InputError where the log has no lap that can be driven, or the level is not known.
LoggedCase logged_case(const project::Project& project, const Resolved& resolved, const log::Log& log,
                       const log::Laps& laps, const diagnosis::Found& found, const LoggedFuel& fuel,
                       Sources& sources, const LoggedOptions& options = {}, Progress* progress = nullptr);

struct ComputedLap {
  std::vector<double> rail;   ///< [sample] difference over the set one
  std::vector<double> level;  ///< [sample] m3 in the main tank
  std::vector<double> wet;    ///< [sample] least share of fuel at a pickup
  std::vector<starvation::LeanStretch> stretches;
  std::vector<char> event;  ///< [place] low fuel makes it too lean
  /// [place] the difference is under the limit for its time, be it by low fuel or the circuit's own doing:
  /// what a log would show.
  std::vector<char> shows;
};

struct ComputeOptions {
  /// On top of what the case was made with.
  std::optional<starvation::Calibration> factors = {};
  double level_shift = 0.0;  ///< m3, on every lap's level
  double longest_part = 0.02;
};

std::vector<ComputedLap> computed(const LoggedCase& logged, const ComputeOptions& options = {},
                                  Progress* progress = nullptr);

/// s, by lap and place: how much the difference lacks, over all of the place, beyond three hundredths under
/// what the circuit gives with every pickup covered.
std::vector<std::vector<double>> lacking_logged(const LoggedCase& logged);
std::vector<std::vector<double>> lacking_computed(const LoggedCase& logged,
                                                  const std::vector<ComputedLap>& run);

struct PlaceScore {
  std::string name;
  int laps = 0;  ///< that passed it
  int hits = 0, misses = 0, false_alarms = 0;
  /// m3, of flying laps by their begin: where the log shows an event at the highest, and none at the lowest.
  std::optional<double> highest_starved, lowest_clean;
};

struct Scores {
  std::vector<PlaceScore> places;
  int hits = 0, misses = 0, false_alarms = 0, quiet = 0;
};
/// `only`: of each lap whether it counts; empty: all do.
Scores scored(const LoggedCase& logged, const std::vector<ComputedLap>& run,
              const std::vector<char>& only = {});

}  // namespace uadze::solve
