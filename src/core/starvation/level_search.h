#pragma once
// Whether a lap is clean, asked at one level after another.
//
//   level  A |-----------------------x              |   driven whole; starves at x
//          B |               ~~~~~~---x             |   there alone: entered, then some seconds
//          C |               ~~~~~~-----            |   passes there
//          C |--------------------------------------|   the one that is told is driven whole
//
// What goes wrong at one level goes wrong first at the levels round it. So a level is asked at the places
// where others starved: if it starves there, it starves. If not it passes, and only the level that a search
// ends at is driven whole; where that starves is one more place to ask at, and the search goes on above it.
//
// Example:
//   const starvation::FuelSystem car = test::simple_car({0, 0, 0});
//   const lap::Lap lap = test::corner_lap(0.5 * standard_gravity, 8);
//   const starvation::Course course = test::course_of(car, lap);
//   starvation::LevelSearch search(car, course);
//   EXPECT_FALSE(search.clean(5e-3));
//   EXPECT_FALSE(search.passes(6e-3));
//   EXPECT_TRUE(search.passes(40e-3));
//   EXPECT_TRUE(search.clean(40e-3));
#include "core/starvation/level_run.h"

namespace uadze::starvation {

class LevelSearch {
 public:
  /// Car and course must outlive this.
  LevelSearch(const FuelSystem& car, const Course& course, const RunOptions& options = {})
      : car_(car), course_(course), options_(options) {}

  /// A time (s on the lap) at which levels round those asked starve.
  void suspect(double time);
  bool knows_a_place() const { return !places_.empty(); }
  size_t places() const { return places_.size(); }
  /// Whether the level starves at none of the places known and lies over what was found to starve; driven
  /// whole where no place is known, or they tell too little. Any number of threads may ask.
  bool passes(double level) const;
  /// Driven whole. Where it starves is known from then on. `passed`: it was just found to pass.
  bool clean(double level, bool passed = false);
  /// The level passes and yet starves so, driven whole: asked there from then on, or from further before it.
  void missed(double level, const FirstTrouble& trouble);
  /// From now on every level is driven whole.
  void drive_whole() { whole_ = true; }
  /// One of them: whole until a place is known.
  bool ask(double level) { return knows_a_place() || whole_ ? passes(level) : clean(level); }

 private:
  const FuelSystem& car_;
  const Course& course_;
  RunOptions options_;
  std::vector<double> places_;           // s
  double starves_ = -1.0, clean_ = 1e9;  // m3: the highest found to starve, the last driven clean
  double before_ = 5.0;                  // s before a place
  bool whole_ = false;
};

}  // namespace uadze::starvation
