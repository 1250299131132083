#pragma once
// A first answer while the user still looks: the lap thinned, one lap driven at each level, and from the
// first that starves on only where that did (level_search.h); the level that is told is driven whole.
//
// Example:
//   using namespace uadze;
//   const auto ready = test::demo_case("ostrel-p4", 300);
//   const starvation::QuickLap quick(*ready->car, ready->course);
//   const starvation::FirstAnswer first = starvation::first_answer(quick);
//   EXPECT_GT(first.level, 0.0);
//   EXPECT_LE(first.at.tightest_time, ready->lap->value.time.back());
#include "core/starvation/quick_lap.h"

namespace uadze::starvation {

struct FirstAnswer {
  bool exists = false;         ///< false: not even a full tank is clean
  double level = 0.0;          ///< m3, the clean level about (to 1/81 of the tank, never below its floor)
  double unclean_below = 0.0;  ///< m3, the highest level found to starve
  int runs = 0;
  LapFigures at;  ///< at the level
};

/// Within a tenth of a second or so: rounds of thirds.
FirstAnswer first_answer(const QuickLap& lap, Progress* progress = nullptr);

}  // namespace uadze::starvation
