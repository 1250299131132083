#pragma once
// A first answer while the user still looks: the lap thinned, one lap driven at each level. It is of a type
// of its own: what it tells of the lap it tells as times and places, never as samples, as its lap has others
// than the lap that was asked of.
//
// Example:
//   using namespace uadze;
//   const auto ready = test::demo_case("ostrel-p4", 300);
//   const starvation::QuickLap quick(*ready->car, ready->course);
//   const starvation::FirstAnswer first = starvation::first_answer(quick);
//   EXPECT_GT(first.level, 0.0);
//   EXPECT_LE(first.at.tightest_time, ready->lap->value.time.back());
#include "core/starvation/starvation_map.h"

namespace uadze::starvation {

/// What a lap at a level comes to, without its samples.
struct LapFigures {
  bool clean = true;
  double least_seconds = 0.0;                     ///< s; infinite if the reserve is never drawn on
  double least_reserve = 0.0;                     ///< m3 that the main pump can reach
  double least_margin = 0.0;                      ///< Pa of pressure difference over its limit
  double tightest_time = 0.0, margin_time = 0.0;  ///< s on the lap
  std::string tightest_place, tightest_side;
  bool by_circuit = false;  ///< the first event has no bare pickup: the circuit is at fault
};

/// The figures of a run on its own course.
LapFigures figures_of(const LevelRun& run, const Course& course);

/// Car and course thinned for quick runs.
class QuickLap {
 public:
  QuickLap(const FuelSystem& car, const Course& course);
  QuickLap(const QuickLap&) = delete;
  LapFigures at(double level) const;
  double tank_volume() const { return car_.tank->volume(); }
  double never_drawn() const { return car_.never_drawn.total(); }

 private:
  FuelSystem car_;
  lap::Lap lap_;
  Course course_;
};

struct FirstAnswer {
  bool exists = false;         ///< false: not even a full tank is clean
  double level = 0.0;          ///< m3, the clean level about (to 1/81 of the tank)
  double unclean_below = 0.0;  ///< m3, the highest level found to starve
  int runs = 0;
  LapFigures at;  ///< at the level
};

/// Within a tenth of a second or so: four rounds of thirds.
FirstAnswer first_answer(const QuickLap& lap, Progress* progress = nullptr);

}  // namespace uadze::starvation
