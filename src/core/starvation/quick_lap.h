#pragma once
// A lap thinned, for where a quick look is enough: the first answer, the map's rows between two clean ones,
// and where a search begins. It is of a type of its own: what it tells of the lap it tells as times and
// places, never as samples, as its lap has others than the lap that was asked of.
//
// Example:
//   using namespace uadze;
//   const auto ready = test::demo_case("ostrel-p4", 300);
//   const starvation::QuickLap quick(*ready->car, ready->course);
//   EXPECT_LE(quick.at(0.02).tightest_time, ready->lap->value.time.back());
//   EXPECT_EQ(quick.row(0.02, ready->course).wet.size(), ready->lap->value.size());
#include "core/starvation/level_search.h"

namespace uadze::starvation {

/// What a lap at a level comes to, without its samples.
struct LapFigures {
  bool clean = true;
  double least_seconds = 0.0;                     ///< s; infinite if the reserve is never drawn on
  double least_reserve = 0.0;                     ///< m3 that the main pump can reach
  double least_margin = 0.0;                      ///< Pa of pressure difference over its limit
  double lean_time = 0.0;                         ///< s: how long it is under its limit there
  double tightest_time = 0.0, margin_time = 0.0;  ///< s on the lap
  std::string tightest_place, tightest_side;
  bool by_circuit = false;  ///< the first event has no bare pickup: the circuit is at fault
};

/// The figures of a run on its own course.
LapFigures figures_of(const LevelRun& run, const Course& course);

struct QuickOptions {
  double step = 0.08;  ///< s, of the thinned lap and of the march
};

/// Car and course thinned for quick runs.
class QuickLap {
 public:
  explicit QuickLap(const FuelSystem& car, const Course& course, const QuickOptions& options = {});
  QuickLap(const QuickLap&) = delete;
  LapFigures at(double level) const;
  /// Whether it is clean when it is driven until it repeats itself.
  bool clean(double level, Progress* progress = nullptr) const;
  /// Clean with half of the reserve left all along, driven until it repeats itself: so is the whole lap.
  bool clean_by_far(double level, Progress* progress = nullptr) const;
  /// Of one lap at each level.
  LevelSearch search() const { return {car_, course_, {.most_laps = 1, .longest_part = options_.step}}; }
  /// A row of the map of the lap that was asked of, `full`: one lap's, drawn straight between the thinned
  /// lap's samples.
  MapRow row(double level, const Course& full) const;
  /// The same of laps driven until they repeat themselves; nothing unless it is clean by far.
  std::optional<MapRow> row_by_far(double level, const Course& full, Progress* progress = nullptr) const;
  double tank_volume() const { return car_.tank->volume(); }
  double never_drawn() const { return car_.never_drawn.total(); }
  bool has_surge_tank() const { return car_.surge.has_value(); }

 private:
  std::optional<LevelRun> run_by_far(double level, Progress* progress) const;
  MapRow spread(LevelRun&& run, const Course& full) const;

  QuickOptions options_;
  FuelSystem car_;
  lap::Lap lap_;
  Course course_;
};

}  // namespace uadze::starvation
