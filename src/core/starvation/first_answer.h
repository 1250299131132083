#pragma once
// A first answer while the user still looks: the lap thinned, one lap driven at each level, and from the
// first that starves on only where that did (level_search.h). The level that is told is driven whole, and
// beside it another that hangs on it; where it starves elsewhere the search goes on by whole laps, up to the
// next level that was driven whole and is clean.
//
// Example:
//   using namespace uadze;
//   const auto ready = test::demo_case("ostrel-p4", 300);
//   const starvation::QuickLap quick(*ready->car, ready->course);
//   const starvation::FirstAnswer first = starvation::first_answer(quick);
//   EXPECT_GT(first.level, 0.0);
//   EXPECT_LE(first.at.tightest_time, ready->lap->value.time.back());
#include <functional>

#include "core/starvation/quick_lap.h"

namespace uadze::starvation {

struct FirstAnswer {
  bool exists = false;         ///< false: not even a full tank is clean
  double level = 0.0;          ///< m3, the clean level about (to 1/81 of the tank, never below its floor)
  double unclean_below = 0.0;  ///< m3, the highest level found to starve
  int runs = 0;
  LapFigures at;      ///< at the level
  LapFigures beside;  ///< at the level beside it
};

/// Gives the level (m3) that is looked at beside the one told, up to the tank's.
using LevelBeside = std::function<double(double level)>;
inline double nothing_beside(double level) { return level; }

/// Within a tenth of a second or so: rounds of two levels.
FirstAnswer first_answer(const QuickLap& lap, const LevelBeside& beside = nothing_beside,
                         Progress* progress = nullptr);

}  // namespace uadze::starvation
