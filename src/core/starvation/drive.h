#pragma once
// Laps driven one after the other until they repeat themselves.
//
// A lap that comes to the state in which the lap before was at the same place goes on as that did: it is
// driven no further. Where a surge tank drains from lap to lap its end is guessed and strided to (Settling).
//
// Example:
//   const starvation::FuelSystem car = test::simple_car({0, 0, 0});
//   const lap::Lap lap = test::corner_lap(0.5 * standard_gravity, 8);
//   const starvation::Course course = test::course_of(car, lap);
//   starvation::Marcher march(car, course, 40e-3);
//   march.enter();
//   const starvation::Drive drive = drive_laps(march, course, {});
//   EXPECT_TRUE(drive.settled);
//   EXPECT_TRUE(drive.stretches.empty());
#include <functional>

#include "core/base/progress.h"
#include "core/starvation/march.h"

namespace uadze::starvation {

/// Where a surge tank that drains lap by lap comes to rest: what it lacks stands in the main tank and covers
/// the pickups better, so that each lap takes less. The end is guessed from how the laps' takings slow
/// (Aitken 1926), at most as far as there is room; the lap is then driven from there.
class Settling {
 public:
  /// After a lap that took `change` (m3): how much further to let it down at once (m3), 0: drive on.
  double drop(double change, double room);
  /// Whether it would come to rest only beyond the room, or never: it drains until it is empty.
  bool beyond() const { return beyond_; }
  int laps_skipped() const { return skipped_; }

 private:
  double last_ = 0.0;
  bool beyond_ = false;
  int skipped_ = 0;
};

struct DriveOptions {
  int most_laps = 14;  ///< driven; what is between is strided over by the reserve's own balance
  double same = 2e-6;  ///< m3 by which a lap may end otherwise than it began and still repeats itself
  /// m3 that a stride may take, after a lap; nothing: no strides.
  std::function<double(const LapTrace&)> room;
  bool only_clean = false;       ///< ends as soon as it is clear that there is trouble
  bool within_room = false;      ///< ends where it would come to rest beyond the room
  Progress* progress = nullptr;  ///< asked before every lap whether to go on
};

struct Drive {
  LapTrace trace;  ///< of the last lap
  std::vector<LeanStretch> stretches;
  int laps = 1;         ///< those strided over included
  int first_short = 0;  ///< the first lap with a stretch, from 1; 0: none
  double start = 0.0;   ///< m3 of the reserve as the last lap began
  double end = 0.0;     ///< m3 as it ended
  Ledger ledger;        ///< of all laps driven
  bool settled = true;
  bool beyond = false;  ///< it comes to rest beyond the room
};

/// `motion`: where the fuel of the last lap is told, or nullptr.
Drive drive_laps(Marcher& march, const Course& course, const DriveOptions& options,
                 std::vector<slosh::Instant>* motion = nullptr);

}  // namespace uadze::starvation
