#pragma once
// A stint as it is driven, the fuel burning down from its start until the engine stops, and the least fuel
// with which that is clean.
//
//   fuel |\ formation
//        | \_ _ _  launch
//        |   \  lap, lap, lap ...
//        |    \_______\_ _  in lap, slowly; the engine stops: what is left is brought back
//
// A slow lap is the lap with its times longer by `slower`: speeds less by it, accelerations by its square.
// Its consumption is `share` of a flying lap's. A run from rest (a hill) begins each lap standing level. A
// launch is run alone, from rest, at the fuel that the car has then. What is left at the end is the start
// less what was burnt, so that fuel missing from the surge tank is counted as missing; it must not be under
// what never comes out (never_drawn.h), as only the surge tank would feed the engine then.
//
// While the least end is looked for, laps that end above the lap's clean level are not marched but for one
// that leads to the others, with a surge tank two: the ladder has them clean, and nothing of them is left.
//
// Example:
//   const starvation::FuelSystem car = test::simple_car({0, 0, 0});
//   const lap::Lap lap = test::corner_lap(0.5 * standard_gravity, 8);
//   const starvation::Course course = test::course_of(car, lap);
//   const std::vector<starvation::Pace> stint{{.laps = 5}, {.name = "in lap", .laps = 1, .share = 0.6, .slower = 1.6}};
//   const double burnt = starvation::burnt_over(course, stint);        // m3
//   EXPECT_TRUE(burn_down(car, course, stint, 20e-3 + burnt).clean());
//   EXPECT_FALSE(burn_down(car, course, stint, 1e-3 + burnt).clean());
#include "core/base/derivation.h"
#include "core/base/kept.h"
#include "core/starvation/level_run.h"

namespace uadze::starvation {

/// Laps of one kind, one after the other.
struct Pace {
  std::string name = "lap";
  int laps = 1;
  double share = 1.0;   ///< of a flying lap's consumption
  double slower = 1.0;  ///< its time over a flying lap's, 1 or more
  bool launch = false;  ///< its first lap begins with a launch from rest
  bool operator==(const Pace&) const = default;
};

/// m3 burnt over all of them.
double burnt_over(const Course& flying, const std::vector<Pace>& stint);

/// The lap as it is driven slowly; holds what the course points to.
struct SlowLap {
  lap::Lap lap;
  Course course;
};
std::shared_ptr<const SlowLap> slow_lap(const FuelSystem& car, const Course& flying, double share,
                                        double slower);

/// The start from rest that the car does: full load, at the strongest acceleration that its lap shows.
struct Launch {
  std::shared_ptr<const FuelSystem> car;
  lap::Lap lap;
  Course course;
};

struct BurnDown {
  double start = 0.0;  ///< m3 in the main tank, surge tank and lines full besides
  double end = 0.0;    ///< m3: start less what is burnt
  int laps_marched = 0;
  bool used_up = false;        ///< the end is under what never comes out
  std::optional<Event> event;  ///< the first trouble
  std::string on;              ///< "lap 9", "in lap 1", "launch before lap 1"
  double least_reserve = 0.0;  ///< m3 of surge tank or line, on the laps marched
  bool clean() const { return !event && !used_up; }
};

/// What the last laps of a stint came to, whatever was before them.
struct Marched {
  std::optional<Event> event;
  size_t failed = 0;  ///< the lap with the trouble, counted from the end: 1 is the last; 0: none
  double time = 0.0;  ///< s on that lap, when it began
  int laps = 0;
  double least_reserve = 0.0;  ///< m3
};

struct BurnOptions {
  double sure = 1e9;  ///< m3: laps above this level are clean by the map; the default marches all
  const Launch* launch = nullptr;
  std::optional<double> hint;  ///< m3, where the least end may lie
  std::optional<double>
      reserve;  ///< m3 in the surge tank where the march begins on a later lap; nothing: full
  Kept<Marched>* kept = nullptr;  ///< of this car, course but for its demand's scale, and launch
  Progress* progress = nullptr;
};

/// Where the least end may lie (m3): the clean level less what is burnt after its worst moment (s on the
/// lap).
double end_hint(const Course& flying, const std::vector<Pace>& stint, double clean_level, double worst_time);

/// From `start` (m3; laps marched must begin within what the tank holds) to the first trouble or the end.
BurnDown burn_down(const FuelSystem& car, const Course& flying, const std::vector<Pace>& stint, double start,
                   const BurnOptions& options = {});

struct LeastEnd {
  double end = 0.0;      ///< m3 left at the end of a clean stint, the least
  double starves = 0.0;  ///< m3, the highest end that was found to starve; not more than `end`
  bool exists = true;    ///< false: not even with a full tank at the end; `end` is then that
  bool held_up = false;  ///< the stint would be clean with less than what never comes out
  BurnDown at, below;    ///< the stint that ends so; the one that starves
  int runs = 0;
};

/// Looked for between `clean_level` and what never comes out, about the hint: an end with which the stint
/// is clean, while with one lower by just `resolution` (m3) it is not (less below only where that end
/// would lie under what never comes out). Within a few tenths of a litre of the edge clean ends and others
/// may take turns; the answer is one such pair. Down from the hint it goes by small steps, 0.2 L or two of
/// `resolution` at first: ends that are clean by luck under one that starves are not used. `clean_level`
/// must be the lap's.
LeastEnd least_end(const FuelSystem& car, const Course& flying, const std::vector<Pace>& stint,
                   double clean_level, const BurnOptions& options = {}, double resolution = 0.1e-3);

Derivation least_end_working(const FuelSystem& car, const LeastEnd& least, double clean_level);

}  // namespace uadze::starvation
