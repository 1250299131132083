#pragma once
// A logged lap as a lap of the project: at even steps, in the car's axes, at the tank's place, and without
// what the engine shakes.
//
// Example:
//   const log::Log log = log::parse_log("Time [s],Lat [g],Long Acc [g],Speed [m/s]\n0,1,0,30\n1,1,0,30\n2,1,0,30\n", "a.csv").value;
//   const lap::Lap lap = log::to_lap(log, {.begin = 0, .end = 2}, {}).value;
//   EXPECT_NEAR(lap.lateral[20], standard_gravity, 1e-6);
//   EXPECT_NEAR(lap.length(), 60.0, 1e-6);
#include "core/lap/lap.h"
#include "core/log/laps.h"
#include "core/log/mounting.h"

namespace uadze::log {

struct ToLapOptions {
  /// Hz: above the tank's own sloshing (1 to 3), below the engine's shaking (10 and more); nothing is
  /// filtered at 0.
  double cut_off = 5.0;
  double rate = 50.0;         ///< samples a second
  Mounting mounting;          ///< how the sensor is turned
  Vec3 from_sensor{0, 0, 0};  ///< m, from the sensor to the tank, in the car's axes
};

/// Throws InputError (without a file's name) where lateral or longitudinal acceleration or both speed and
/// distance are missing, or the lap is too short or long. Notes: channels that are missing, a yaw rate that
/// would be needed for the tank's place.
Read<lap::Lap> to_lap(const Log& log, const LoggedLap& lap, const ToLapOptions& options);

}  // namespace uadze::log
