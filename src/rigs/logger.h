#pragma once
// The logger that is not there: a setup of a project driven round its lap, the fuel burning down, by the
// coupled model; a fault laid over it; sensors with noise, lag, offset and steps; and the whole written as
// a text table or as CAN frames. Seeded: the same seed, the same bytes.
//
// A fault is laid over the difference of pressure across the injectors, as a fraction `s` (its strength)
// says:
//   capacity        what flows is at most (1 - 0.35 s) of the greatest demand: dp = set (Q_can / Q)^2
//   staged_late     the same with 0.75 (1 - 0.2 s), for 0.6 s after the throttle is opened
//   wiring          the supply falls by 2.5 s V over the log; a pump's flow goes with V^1.5
//   filter          a loss of 0.35 s set (Q / Q_most)^2, growing from nothing to that over the log
//   vapour          the fuel warms by 30 K; a pump gives 2.5 s per cent less for each K over 12
//   vent            the tank's air thins with what is drawn: 0.2 s set over the log, at any flow
//   small_return    + 0.35 s set (1 - Q / Q_most)^2: what is not burnt can not go back
//   reference_lost  the rail no longer follows the manifold
//   check_valve     with the engine stopped the rail falls with 25 s / (1 + 24 s) instead of 90 s
//   aeration        dips with the shaking of the car: 0.3 s set, in bursts of a tenth of a second
//   sensor          the reading falls by up to 0.3 s set for seconds at a time, the pressure does not
//   slosh           less fuel: the level at the end is under the clean level by 60 s per cent of it
#include <cstdint>
#include <string>

#include "core/log/log.h"
#include "core/log/signal.h"
#include "core/solve/case.h"

namespace uadze::rigs {

enum class CarFault {
  none,
  slosh,
  capacity,
  staged_late,
  wiring,
  filter,
  vapour,
  vent,
  small_return,
  reference_lost,
  check_valve,
  aeration,
  sensor
};
constexpr const char* name_of(CarFault fault) {
  constexpr const char* names[] = {"none",        "slosh",    "capacity", "staged-late",  "wiring",
                                   "filter",      "vapour",   "vent",     "small-return", "reference-lost",
                                   "check-valve", "aeration", "sensor"};
  const auto k = static_cast<size_t>(fault);
  return k < std::size(names) ? names[k] : nullptr;
}

struct DriveOptions {
  int laps = 6;            ///< flying ones; an out lap and an in lap besides
  double end_level = 0.0;  ///< m3 as the engine stops; 0: half as much again as the clean level
  CarFault fault = CarFault::none;
  double strength = 0.7;  ///< 0 to 1
  std::uint64_t seed = 1;
  double noise = 1.0;  ///< of all sensors, times the usual
  /// The circuit as it is wished: what it lacks by itself on this lap is left out.
  bool sound = false;
  bool manifold = true, lambda = true, current = true, temperature = true, yaw = true, position = true;
};

/// m3 in the tank as the log begins, as the rig would have put it in.
double put_in(const solve::LapCase& ready, double clean_level, const DriveOptions& options);

/// As the car's sensors would read it, 50 times a second, SI; the rail over air.
log::Log drive(const solve::LapCase& ready, const project::Setup& setup, double clean_level,
               const DriveOptions& options);

enum class Shape { plain, semicolons, preamble, milliseconds, mixed_rates };
constexpr const char* name_of(Shape shape) {
  constexpr const char* names[] = {"plain", "semicolons", "preamble", "milliseconds", "mixed-rates"};
  const auto k = static_cast<size_t>(shape);
  return k < std::size(names) ? names[k] : nullptr;
}

/// A log as the text that a logger would have written.
std::string written(const log::Log& log, Shape shape);
/// The same as frames of a CAN bus, with the table that they are read by.
std::string written_as_can(const log::Log& log, std::vector<log::Signal>& table);

}  // namespace uadze::rigs
