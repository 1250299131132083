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
#include "core/base/progress.h"
#include "core/base/require.h"
#include "core/starvation/level_run.h"

namespace uadze::starvation {

struct MapOptions {
  int levels = 40;              ///< rows
  double resolution = 0.05e-3;  ///< m3: the clean level is found this closely, on the safe side
  bool operator==(const MapOptions&) const = default;
};

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

/// The ladder: levels spread evenly over the tank, the empty tank left out, the full one included.
std::vector<double> level_ladder(double tank_volume, int levels);

/// The ladder's levels, in parallel; the result does not depend on the number of threads. Rows a tenth of the
/// tank apart are driven whole. Between two clean ones those in the middle are the thinned lap's
/// (quick_lap.h), and the others too, unless both beside them have plenty: half of the reserve left all
/// along. Those are drawn straight between the two, as is what lies between two rows that never have a pickup
/// bare. What starves is driven whole.
StarvationMap starvation_map(const FuelSystem& car, const Course& course, const MapOptions& options = {},
                             Progress* progress = nullptr);

/// The smallest level above which no level of the ladder starves, refined by halving. If a level below a
/// starving one was clean, that is reported in `clean_again`, not used. Not refined under what never comes
/// out of the tank.
/// `known`: the map of the same ladder, which saves running it again.
CleanLevel clean_level(const FuelSystem& car, const Course& course, const MapOptions& options = {},
                       Progress* progress = nullptr, const StarvationMap* known = nullptr);

Derivation clean_level_working(const FuelSystem& car, const CleanLevel& clean, const MapOptions& options);
Derivation reserve_working(const FuelSystem& car, const Course& course, const LevelRun& run);

}  // namespace uadze::starvation
