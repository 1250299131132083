#pragma once
// A stint: laps with the fuel burning down, from a start fuel to the first trouble, to the last lap, or until
// the tank is empty.
//
// Temperatures, where the circuit gives them: lumps of fuel in the main tank, the surge tank and the rail's
// loop; the surge tank warms by what comes back from the rail (pumps, regulator, engine bay) and is cooled by
// what is lifted.
//
// Example:
//   const starvation::FuelSystem car = test::simple_car({0, 0, 0});
//   const lap::Lap lap = test::corner_lap(0, 8);
//   const auto stint = run_stint(car, test::course_of(car, lap), {.start = 0.040, .laps = 20});
//   EXPECT_EQ(stint.laps.size(), 20u);
//   EXPECT_NEAR(stint.laps.back().level, 0.040 - 20 * stint.laps.back().burnt, 1e-4);
#include "core/base/progress.h"
#include "core/starvation/level_run.h"

namespace uadze::starvation {

struct StintOptions {
  double start = 0.0;  ///< m3 in the main tank
  int laps = 1;
  bool stop_at_event = true;
  double temperature = 293.15;  ///< K
  int laps_at_most = 2000;
};

struct StintLap {
  double level = 0.0;                        ///< m3 in the main tank at its end
  double burnt = 0.0;                        ///< m3 on it
  double least_reserve = 0.0;                ///< m3
  double least_rail = 0.0;                   ///< of the set difference
  double tank_heat = 0.0, surge_heat = 0.0;  ///< K at its end
  std::vector<Event> events;
};

struct StintRun {
  std::vector<StintLap> laps;
  std::optional<Event> first_event;
  int first_event_lap = 0;  ///< from 1; 0: none
  Ledger ledger;
};

/// 0 < start <= the tank's volume; throws InputError otherwise.
StintRun run_stint(const FuelSystem& car, const Course& course, const StintOptions& options,
                   Progress* progress = nullptr);

}  // namespace uadze::starvation
