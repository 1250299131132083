#pragma once
// The surge tank's size: how much volume the laps need, against the lift pumps' flow, for each way of the
// engine's return.
//
//   needed
//   volume |\                       left of the curve's foot the lift pumps bring less than is drawn: no
//          | \                      volume is enough;
//          |  \____ bridge          far right the pickups are bare for some seconds whatever the pumps could
//          |_______________         lift: the tank must bridge that, and more lift buys nothing.
//              lift flow
//
// Cumulative deficit (Rippl 1883; sequent peak, Thomas and Burden 1963): the run is driven with a surge tank
// that may be overdrawn, coupled to the moving fuel, until the deficit repeats; then the least tank is found
// with which surge tank, line and rail, marched over that run's draw, have no starvation event. Its own tilt
// and pickup count (starvation/surge.h). It is never sized under what separating gas, the lift pumps' spin-up
// and a lost lift pump ask for.
//
// Example:
//   const starvation::FuelSystem car = test::surge_car(1e-3, 6e-5);
//   const lap::Lap lap = test::corner_lap(0.5 * standard_gravity, 8);
//   const starvation::Course course = test::course_of(car, lap);
//   const auto size = sizing::size_surge(car, {&course}, 5e-3, {.lift_factors = {1.0, 2.0}});
//   EXPECT_GE(size.needed, size.bridge * 0.99);   // more lift never needs more volume
#include "core/base/progress.h"
#include "core/starvation/starvation_map.h"

namespace uadze::sizing {

struct DeficitPoint {
  double lift = 0.0;    ///< m3/s, all lift pumps together, mean along the lap, pickups covered
  double volume = 0.0;  ///< m3 needed; infinite: no volume is enough
};

struct DeficitCurve {
  circuit::ReturnTo layout = circuit::ReturnTo::surge_tank;
  std::vector<DeficitPoint> points;  ///< lift rising
  double drawn = 0.0;                ///< m3/s, mean, that must be lifted with this layout
};

/// A surge tank of the needed volume in other proportions.
struct ShapeChoice {
  double height = 0.0, diameter = 0.0;  ///< m
  double unreached = 0.0;               ///< m3 that its pickup can not reach at the worst tilt
  double sink = 0.0;                    ///< m/s, at the largest main flow: bubbles must rise faster
  bool carries_gas = false;
};

/// A volume that the surge tank is not sized under, whatever the lap asks for.
struct SurgeFloor {
  std::string name;     ///< "one lift pump lost for 10 s"
  double volume = 0.0;  ///< m3, with what its pickup can not reach
};

struct SurgeSizing {
  double level = 0.0;   ///< m3 in the main tank that it is sized for
  double lift = 0.0;    ///< m3/s, present
  double volume = 0.0;  ///< m3, present
  circuit::ReturnTo layout = circuit::ReturnTo::surge_tank;
  double needed = 0.0;  ///< m3 at the present lift and layout, not under a floor; infinite: none is enough
  double by_lap = 0.0;  ///< m3, what the laps alone ask for
  std::vector<SurgeFloor> floors;  ///< the largest first
  double lift_enough = 0.0;        ///< m3/s: the least lift with which the present volume is enough;
                                   ///< infinite: none
  double bridge = 0.0;             ///< m3 needed however much is lifted
  double bare_seconds = 0.0;       ///< s, longest stretch with a bare pickup
  std::string bare_place, bare_where, bare_side;  ///< "Heron Sweep", "in Heron Sweep", pickups
  std::vector<DeficitCurve> curves;               ///< present layout first
  std::vector<ShapeChoice> shapes;                ///< for the needed volume, slender to flat
  Phrase text;                                    ///< what more lift and more volume buy
  Derivation working;
};

struct SurgeSizeOptions {
  std::vector<double> lift_factors{0.35, 0.5, 0.65, 0.8, 1.0, 1.25, 1.6, 2.0, 3.0};  ///< of the present flow
  double resolution = 0.002;                                                         ///< of the volume
  double most_volume = 12e-3;  ///< m3: more counts as none
  bool all_layouts = true;
  double lost_lift = 10.0;  ///< s that it must bridge with its largest lift pump dead
  double spin_up = 1.0;     ///< s until the lift pumps deliver after a start
};

/// What separating gas (bubbles rise as fast as the fuel sinks at the largest main flow, in the tank's
/// proportions), the lift pumps' spin-up, and, at full load on top of what the lap asks for (`by_lap`, m3), a
/// lost lift pump ask for.
std::vector<SurgeFloor> surge_floors(const starvation::FuelSystem& car, const starvation::Course& course,
                                     double by_lap, const SurgeSizeOptions& options = {});

/// Needs a car with lift pumps; with no surge tank one is thought in. `courses`: the laps it must serve,
/// completed; at least one.
SurgeSizing size_surge(const starvation::FuelSystem& car,
                       const std::vector<const starvation::Course*>& courses, double level,
                       const SurgeSizeOptions& options = {}, Progress* progress = nullptr);

/// Least volume (m3) at one lift factor and layout; infinite if none up to the most is enough.
double needed_volume(const starvation::FuelSystem& car, const std::vector<const starvation::Course*>& courses,
                     double level, double lift_factor, circuit::ReturnTo layout,
                     const SurgeSizeOptions& options = {});

}  // namespace uadze::sizing
