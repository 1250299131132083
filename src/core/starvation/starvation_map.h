#pragma once
// The starvation map (level against distance along the lap) and the clean level found on it.
//
//   level
//    40 l |  covered covered covered          A row is one steady level, a column one place on the lap.
//         |  covered thin    covered
//     8 l |--covered-thin----covered-- clean level
//         |  thin    DRY     covered
//       0 +--------------------------- distance
//
// Example:
//   const starvation::FuelSystem car = test::simple_car({0, 0, 0});
//   const lap::Lap lap = test::corner_lap(0.5 * standard_gravity, 8);
//   const auto map = starvation::starvation_map(car, test::course_of(car, lap), {.levels = 5});
//   EXPECT_EQ(map.rows.size(), 5u);
#include "core/base/derivation.h"
#include "core/starvation/ladder.h"

namespace uadze::starvation {

/// A lower level that was clean though a higher one starves, and what the two laps differ in.
struct Anomaly {
  double level = 0.0, higher = 0.0;  ///< m3: clean; starves
  Phrase text;
};

struct CleanLevel {
  bool exists = false;         ///< false: not even a full tank is clean
  double level = 0.0;          ///< m3, not under what is never drawn; the tank's volume if none is clean
  double unclean_below = 0.0;  ///< m3, the highest level found to starve; 0: none was
  std::vector<Anomaly> clean_again;  ///< not used for the clean level
  int runs = 0;                      ///< levels tried
  LevelRun at;                       ///< the lap at the clean level
  /// The lap at the highest level that starves: what would go wrong first. As `at` where none is known to.
  LevelRun below;
};

struct StarvationMap {
  std::vector<MapRow> rows;  ///< from the lowest level up
};

/// Where the lap begins to hurt as the level falls.
struct CornerLevel {
  std::string place;
  double level = 0.0;  ///< m3, the highest level of the map with an event that begins there
  Event event;         ///< the longest there at that level
};

/// The highest first.
std::vector<CornerLevel> corner_levels(const StarvationMap& map);

/// The ladder's rungs as rows, those that starve driven whole, in parallel; the result does not depend on the
/// number of threads. `known`: the same ladder, which saves climbing it again.
StarvationMap starvation_map(const FuelSystem& car, const Course& course, const MapOptions& options = {},
                             Progress* progress = nullptr, const Ladder* known = nullptr);

/// The smallest level above which no level of the ladder starves, refined by thirds. If a level below a
/// starving one was clean, that is reported in `clean_again`, not used. Not refined under what never comes
/// out of the tank. `known` as above.
CleanLevel clean_level(const FuelSystem& car, const Course& course, const MapOptions& options = {},
                       Progress* progress = nullptr, const Ladder* known = nullptr);

Derivation clean_level_working(const FuelSystem& car, const CleanLevel& clean, const MapOptions& options);
Derivation reserve_working(const FuelSystem& car, const Course& course, const LevelRun& run);

}  // namespace uadze::starvation
