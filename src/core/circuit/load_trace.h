#pragma once
// The circuit along a lap and over a session: pumps staged, currents, the battery, temperatures.
//
// Example:
//   const circuit::Case c = test::plain_case();
//   const lap::Lap lap = test::corner_lap(5.0, 8);
//   const circuit::LoadRun run = run_along(c, starvation::load_trace(lap, lap.fuel_flow), 50);
//   EXPECT_GT(run.least_difference, 2.5e5);
#include "core/base/progress.h"
#include "core/circuit/circuit.h"

namespace uadze::circuit {

/// A lap as the circuit sees it; all of one length.
struct LoadTrace {
  std::vector<double> time;      ///< s
  std::vector<double> demand;    ///< m3/s
  std::vector<double> throttle;  ///< 0..1
  std::vector<double> rotation;  ///< 1/s; empty: unknown
  std::vector<Vec3> force;       ///< m/s2
};

/// Pa absolute in the manifold: from idle's to full load's with the throttle. Without boost (full load at an
/// atmosphere or less) both go with the air's pressure; a boost is held by its controller.
double manifold_at(const Circuit& circuit, double throttle, double altitude = 0.0);

struct LoadPoint {
  double time = 0.0, demand = 0.0, manifold = 0.0;
  double available = 0.0;                                          ///< m3/s at the set pressure
  double difference = 0.0;                                         ///< Pa, least across the injectors
  double set = 0.0;                                                ///< Pa, wished there
  std::vector<double> lifts;                                       ///< m3/s, of each lift leg
  double inlet_margin = 0.0;                                       ///< Pa, least of the main pumps that run
  double current = 0.0;                                            ///< A, of all pumps
  double lift = 0.0, delivered = 0.0, back = 0.0, overflow = 0.0;  ///< m3/s
  double electric = 0.0, lift_electric = 0.0;                      ///< W, main pumps; lift pumps
  unsigned on = 0;                                                 ///< a bit for each main pump that delivers
  int spinning = -1;         ///< main pump that is switched on and does not deliver yet; -1: none
  double duty = 0.0;         ///< of the injectors, for the demand
  double short_by = 0.0;     ///< share by which more is asked for than burnt; infinite: nothing is
  double supply = 0.0;       ///< V
  double rotation = 0.0;     ///< 1/s; 0: unknown
  bool overwhelmed = false;  ///< the return lets more back than the regulator can rule
};

/// A second pump that comes too late: what the pressure did meanwhile.
struct Dip {
  double time = 0.0;
  int main = 0;
  double difference = 0.0;  ///< Pa, least from the switch to the pump's delivering
  double short_of = 0.0;    ///< Pa under the setting
};

struct LoadRun {
  std::vector<LoadPoint> points;
  std::vector<Dip> dips;
  double least_difference = 0.0, set_difference = 0.0;  ///< Pa
  size_t least_at = 0;
  int switches = 0;
  double mean_demand = 0.0;
  double mean_electric = 0.0;  ///< W, of all pumps
};

/// Marches the stages with hysteresis and spin-up. With a battery the voltage is the car's own at each moment
/// (charging.h), at the case's charge, unless the case gives a supply. `points`: the lap is thinned to at
/// most so many moments. `available`: also what could be given at each, which takes longer.
LoadRun run_along(const Case& c, const LoadTrace& trace, size_t points = 800, Progress* progress = nullptr,
                  bool available = true);

/// The same with all main pumps always on, for comparing.
Case always_on(Case c);

struct HeatOptions {
  double duration = 3600.0;     ///< s
  double start_volume = 40e-3;  ///< m3 in the main tank
  double least_volume = 2e-3;   ///< m3: refuelled before it is less
  double step = 1.0;            ///< s
};

struct HeatRun {
  std::vector<double> time, tank, surge, rail;  ///< s, K
  double heat_in = 0.0;                         ///< J that pumps and engine bay gave
  double heat_lost = 0.0;                       ///< J to the air
  double heat_burnt = 0.0;                      ///< J over the start temperature that left with burnt fuel
  double heat_kept = 0.0;                       ///< J more in tank and surge tank than at the start
  double end_available = 0.0;                   ///< m3/s at the end's temperature and the case's point
  double end_margin = 0.0;                      ///< Pa at the first running main pump's inlet then
  double density_change = 0.0;                  ///< of the rail's fuel, share
};
/// Lumps: tank, surge tank, rail loop (which has no storage of its own). Implicit Euler, so stable at any
/// step.
HeatRun run_heat(const Case& c, const LoadRun& lap, const HeatOptions& options);

}  // namespace uadze::circuit
