#pragma once
// One lap at one level: is every pickup covered, does the surge tank last, does the rail hold its pressure,
// and if not, where, on which side, for how long and why.
//
// "Level" is the fuel in the main tank with surge tank and line full besides. All of it together is held:
// what is burnt is replaced, and what the surge tank lacks stands in the main tank meanwhile. A repeated lap
// is driven until the surge tank ends it as it began it; a run from rest is driven once.
//
// Example:
//   const starvation::FuelSystem car = test::simple_car({0, 0, 0});
//   const lap::Lap lap = test::corner_lap(0.5 * standard_gravity, 8);
//   const starvation::Course course = test::course_of(car, lap);
//   EXPECT_TRUE(run_level(car, course, 40e-3).clean());
//   const starvation::LevelRun low = run_level(car, course, 5e-3);
//   ASSERT_FALSE(low.clean());
//   EXPECT_EQ(low.events[0].place, "Long Left");
//   EXPECT_NEAR(low.ledger.error(), 0, 1e-12);
#include "core/base/phrase.h"
#include "core/base/progress.h"
#include "core/starvation/march.h"

namespace uadze::starvation {

struct Event {
  Trouble kind = Trouble::pressure;
  double start = 0.0, end = 0.0;                    ///< s on the lap
  double start_distance = 0.0, end_distance = 0.0;  ///< m
  double missing = 0.0;                             ///< m3 wanted and not delivered
  double lowest = 0.0;  ///< Pa across the injectors; of a gas event the largest share of gas
  std::string place;    ///< corner, or where between corners
  std::string phase;    ///< braking, turn-in, mid-corner, exit, launch, straight
  std::string side;     ///< names of the bare pickups that led to it
  Phrase cause;         ///< a sentence
  /// "gas at the main pump, up to 64 %", "down to 2.10 bar across the injectors".
  Phrase seen() const;
};

/// Where a circuit's fault along the lap is worst: "in Weir Hairpin (exit)".
std::string worst_place(const Course& course, const circuit::LapFault& fault);

/// "bare": no fuel at the pickup; "part covered" where some is.
std::string uncovered_word(double share);

/// What the pickups see.
struct Coverage {
  /// [pickup][sample], 0..1: share of fuel in what it draws (tank/pickup.h: wet, and deep enough for its
  /// flow)
  std::vector<std::vector<double>> wet;
  std::vector<double> covered_least;  ///< [sample], the least of all pickups
  std::vector<double> covered_mean;   ///< [sample], their mean: 0 all bare, 1 all covered
};

struct LevelRun {
  double level = 0.0;  ///< m3
  Coverage coverage;
  std::vector<double> supply;      ///< m3/s into the reserve, at each sample
  std::vector<double> draw;        ///< m3/s wanted from it
  std::vector<double> reserve;     ///< m3: in the surge tank, or fuel in line and filter
  std::vector<double> rail;        ///< Pa across the injectors
  std::vector<double> gas;         ///< share of gas at the main pump
  std::vector<double> tank_level;  ///< m3 in the main tank
  std::vector<Event> events;
  int laps = 1;             ///< laps until it repeats itself
  int first_short_lap = 0;  ///< the first lap with an event, from 1; 0 if none
  bool settled = true;      ///< whether the last lap ended as it began
  Ledger ledger;

  double least_reserve = 0.0;  ///< m3 that the main pump can reach
  /// s: reserve within reach over net draw, its least; infinite if the reserve is never drawn on
  double least_seconds = 0.0;
  size_t tightest = 0;  ///< sample at which the reserve is least in seconds
  std::string tightest_place;
  std::string tightest_side;  ///< the pickups bare before it, or ""
  /// Pa of pressure difference over its limit, the least of where the circuit itself is not at its end;
  /// infinite if it is so throughout
  double least_margin = 0.0;
  size_t margin_at = 0;                ///< sample of it
  double lean_time = 0.0;              ///< s: how long the pressure is under its limit there, in one piece
  std::vector<slosh::Instant> motion;  ///< the fuel at each sample; empty unless it was asked for
  bool clean() const { return events.empty(); }
};

struct RunOptions {
  bool with_motion = false;
  int most_laps = 14;            ///< driven; what is between is strided over by the reserve's own balance
  double longest_part = 0.02;    ///< s
  Progress* progress = nullptr;  ///< asked after every lap whether to go on
};

/// Only what the pickups see, at their mean flows, the level held. A repeated lap is entered from its own
/// last seconds, so that the fuel comes to its start as it does on the next lap; a run from rest begins
/// level.
Coverage coverage(const FuelSystem& car, const lap::Lap& lap, double level, bool repeated,
                  std::vector<slosh::Instant>* motion = nullptr);

/// The whole run with its events.
LevelRun run_level(const FuelSystem& car, const Course& course, double level, const RunOptions& options = {});

/// Where a lap first goes wrong.
struct FirstTrouble {
  double time = 0.0;   ///< s on the lap; under its beginning: begun on the lap before
  bool later = false;  ///< not on the first lap: what drains from lap to lap is at its end
};

/// The whole run of a level that is clean; given up as soon as it is clear that it is not.
struct CleanRun {
  std::optional<FirstTrouble> trouble;  ///< nothing: it is clean
  LevelRun run;                         ///< of a clean one
};
CleanRun run_while_clean(const FuelSystem& car, const Course& course, double level,
                         const RunOptions& options = {});

/// A lap at a level as the map keeps it.
struct MapRow {
  double level = 0.0;            ///< m3
  std::vector<float> wet;        ///< [sample] mean wet fraction of the pickups: 0 all bare, 1 all covered
  std::vector<float> least_wet;  ///< [sample] least wet fraction of the pickups
  std::vector<std::vector<float>> pickups;  ///< [pickup][sample] share of fuel in what it draws
  std::vector<float> reserve;               ///< [sample] of capacity, 0..1, on the repeating lap
  std::vector<float> rail;                  ///< [sample] pressure difference over the one set
  std::vector<Event> events;
  bool coarse = false;  ///< by a quick look
};

/// `capacity`: m3, of the reserve.
MapRow row_of(LevelRun run, const Course& course, double capacity);

/// Only whether the lap is clean at the level, driven until it repeats itself; nothing: it is.
std::optional<FirstTrouble> first_trouble(const FuelSystem& car, const Course& course, double level,
                                          const RunOptions& options = {});
inline bool is_clean(const FuelSystem& car, const Course& course, double level,
                     const RunOptions& options = {}) {
  return !first_trouble(car, course, level, options);
}

/// The samples from `before` (s) before a time on the lap to a few seconds after it, when fuel that swings
/// otherwise and the gas behind it are at the rail; of a run from rest from its start.
struct Stretch {
  size_t first = 0, last = 0;
};
Stretch stretch_about(const Course& course, double time, double before = 5);

/// Whether a stretch alone goes wrong, from `level` at its first sample, come to as to a lap's start.
bool starves_on(const FuelSystem& car, const Course& course, const Stretch& stretch, double level,
                const MarchOptions& options = {});

/// Whether it goes wrong from `before` (s) before `time` (s on the lap) to a few seconds after it, come to as
/// to a lap's start, with the surge tank full.
bool starves_about(const FuelSystem& car, const Course& course, double level, double time, double before = 5,
                   const RunOptions& options = {});

/// Takes over what a march found along its lap.
void adopt(LevelRun& run, LapTrace&& trace);

/// Events of a lap from its stretches and its trace.
std::vector<Event> explain(const FuelSystem& car, const Course& course, const LevelRun& run,
                           const std::vector<LeanStretch>& stretches);

/// Sample at which the stretch with a pickup not wholly covered began that ended at or went on at sample i
/// (looking back, round the lap if it repeats); nothing if all were covered throughout.
struct BareStretch {
  size_t start = 0, worst = 0, end = 0;  ///< samples; over the start line the end is before the start
  double seconds = 0.0;
  double least = 0.0;  ///< share of fuel in what the least covered pickup draws, at worst
};
std::optional<BareStretch> bare_before(const Coverage& cover, const Course& course, size_t i);

/// Names of the pickups that are covered less than `below` at a sample.
std::string bare_pickups(const FuelSystem& car, const Coverage& cover, size_t i, double below = 1.0);

}  // namespace uadze::starvation
