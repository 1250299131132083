#pragma once
// Standard manoeuvres beside laps: what the fuel feels in a steady turn, a launch, a stop and so on.
//
//   const ForceTrace trace = manoeuvre(Manoeuvre::braking, {.strength = 1.4});
//   const ForceTrace mine = drawn_trace({{0, {0, 0}}, {1, {-1.2, 0}}, {2.5, {0, 0.8}}});    // by hand
//
//   g |    ______        Each begins and ends with a second at rest (or at steady speed), and comes and goes
//     |___/      \___    over a fifth of a second, as a tyre lets it.
#include <string>
#include <utility>
#include <vector>

#include "core/lap/force_trace.h"

namespace uadze::lap {

enum class Manoeuvre { turn_left, turn_right, launch, braking, slalom, lift_off, kerb_strike, spin };

/// "steady turn, left", ... in the order above.
const std::vector<std::string>& manoeuvre_names();

struct ManoeuvreOptions {
  double strength = 1.2;  ///< g
  double duration = 4.0;  ///< s, of the push itself
};

/// Sampled at 100 Hz.
ForceTrace manoeuvre(Manoeuvre which, const ManoeuvreOptions& options = {});

/// A trace through points {s, {forward g, left g}}, straight between them. Needs two points or more, times
/// rising.
ForceTrace drawn_trace(const std::vector<std::pair<double, Vec2>>& points);

}  // namespace uadze::lap
