#pragma once
// The levels of a tank, one over the other, each asked whether the lap is clean there.
//
//   63 l |--o  driven, clean             A rung that is clean was driven, or lies between two that were: it
//        |--o  between, clean            has its row of the map. One that starves was asked until it did:
//        |--o  driven, clean             what else goes wrong on its lap is the map's to tell.
//   46 l |--X  starves; driven whole     Of those that starve the highest was driven whole.
//        |--x  starves
//      0 +---------------- distance
//
// Example:
//   const starvation::FuelSystem car = test::simple_car({0, 0, 0});
//   const lap::Lap lap = test::corner_lap(0.5 * standard_gravity, 8);
//   const auto ladder = starvation::ladder(car, test::course_of(car, lap), {.levels = 5});
//   EXPECT_EQ(ladder.rungs.size(), 5u);
//   EXPECT_TRUE(ladder.rungs.back().clean);
#include "core/base/progress.h"
#include "core/starvation/level_run.h"

namespace uadze::starvation {

struct MapOptions {
  int levels = 40;              ///< rows
  double resolution = 0.05e-3;  ///< m3: the clean level is found this closely, on the safe side
  bool operator==(const MapOptions&) const = default;
};

struct Rung {
  double level = 0.0;  ///< m3
  bool clean = false;
  std::optional<double> hurts;  ///< s on the lap: where it starves
  MapRow row;                   ///< of a clean one
};

struct Ladder {
  std::vector<Rung> rungs;  ///< from the lowest level up
  LevelRun highest;         ///< the highest that starves; its level is 0 if none does
  /// How many rungs at the top are clean one under the other.
  size_t clean_on_top() const;
};

/// The ladder's levels: spread evenly over the tank, the empty tank left out, the full one included.
std::vector<double> level_ladder(double tank_volume, int levels);

/// In parallel; the result does not depend on the number of threads. Rungs a tenth of the tank apart are
/// driven until they starve or repeat themselves; with a surge tank by a quick look (quick_lap.h) where that
/// keeps half of the reserve. Between two clean ones those in the middle are the thinned lap's, and the
/// others too, unless both beside them have plenty: half of the reserve left all along. Those are drawn
/// straight between the two, as is what lies between two rungs that never have a pickup bare. Beside one that
/// starves a rung is asked where that did (level_search.h), and driven if it passes there.
Ladder ladder(const FuelSystem& car, const Course& course, const MapOptions& options = {},
              Progress* progress = nullptr);

}  // namespace uadze::starvation
