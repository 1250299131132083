#pragma once
// Standard manoeuvres beside laps: what the fuel feels in a steady turn, a launch, a stop and so on.
//
//   g |    ______        Each begins and ends with a second at rest (or at steady speed), and comes and goes
//     |___/      \___    over a fifth of a second, as a tyre lets it.
//
// Example:
//   const auto trace = lap::manoeuvre(lap::Manoeuvre::braking, {.strength = 1.4});
//   EXPECT_GT(trace.at((trace.begin() + trace.end()) / 2).x(), 0) << "the fuel runs forward";
#include "core/lap/force_trace.h"

namespace uadze::lap {

enum class Manoeuvre { turn_left, turn_right, launch, braking, slalom, lift_off, kerb_strike, spin };

constexpr const char* name_of(Manoeuvre value) {
  switch (value) {
    case Manoeuvre::turn_left:
      return "steady turn, left";
    case Manoeuvre::turn_right:
      return "steady turn, right";
    case Manoeuvre::launch:
      return "launch";
    case Manoeuvre::braking:
      return "braking";
    case Manoeuvre::slalom:
      return "slalom";
    case Manoeuvre::lift_off:
      return "lift-off";
    case Manoeuvre::kerb_strike:
      return "kerb strike";
    case Manoeuvre::spin:
      return "spin";
  }
  return nullptr;
}

struct ManoeuvreOptions {
  double strength = 1.2;  ///< g
  double duration = 4.0;  ///< s, of the push itself
};

/// Sampled at 100 Hz.
ForceTrace manoeuvre(Manoeuvre which, const ManoeuvreOptions& options = {});

}  // namespace uadze::lap
