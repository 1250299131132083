#pragma once
// The car's fuel side as engineering objects: the tank's solid, its pickups, the lift pumps they delivery,
// the reserve (surge tank or line), the engine. Immutable once made; runs are free functions over it.
//
// Example:
//   using namespace uadze;
//   const starvation::FuelSystem car = test::simple_car({0, 0, 0});   // a box, one pickup to the engine
//   EXPECT_NEAR(car.tank->volume(), 0.6 * 0.5 * 0.3, 1e-12);
//   EXPECT_EQ(car.reserve_capacity(), car.line_hold) << "no surge tank";
#include <memory>
#include <optional>
#include <string>
#include <vector>

#include "core/lap/lap.h"
#include "core/slosh/motion.h"
#include "core/starvation/calibration.h"
#include "core/starvation/parts.h"
#include "core/tank/pickup.h"

namespace uadze::starvation {

struct FuelSystem {
  std::shared_ptr<const tank::Tank> tank;             ///< never nothing
  std::shared_ptr<const slosh::TankInertia> inertia;  ///< nothing: box-equivalent
  std::vector<tank::Pickup> pickups;
  int return_space = 0;  ///< of the tank, where overflow and engine return come back
  slosh::Model model = slosh::Model::planar;
  slosh::TankOptions motion;
  double submergence_scale = 1.0;  ///< on the critical submergence; 0 leaves it out
  std::vector<LiftPump> lift_pumps;
  std::optional<SurgeTank> surge;            ///< nothing: the pickup feeds the engine straight
  int transfer_from = -1, transfer_to = -1;  ///< spaces that a jet or balance line joins; -1: none
  double transfer_flow = 0.0;                ///< m3/s that it moves while there is fuel
  double main_pump_flow = 0.0;               ///< m3/s; what circulates
  double line_hold = 0.0;    ///< m3 in line and filter between the main pump's pickup and the rail
  double filter_hold = 0.0;  ///< m3 of it in the filter, where gas mixes with fuel; the rest passes in line
  Engine engine;
  Limits limits;
  std::optional<Calibration> calibration;  ///< whose factors are in the figures above
  NeverDrawn never_drawn;                  ///< no answer lies under it; left at nothing it bounds none
  double fuel_density = 750.0;             ///< kg/m3
  double logged_density =
      750.0;  ///< kg/m3, of the fuel that a flow logged by mass was of: the setup's as entered

  /// m3 that stand between the pickups and the engine.
  double reserve_capacity() const { return surge ? surge->volume : line_hold; }
};

/// m3/Pa: as entered, or that of `line_hold` in hoses that are ten times as soft as petrol (0.13 GPa, typical
/// of braided hose; petrol itself 1.3 GPa).
double compliance_of(const FuelSystem& car);

inline std::shared_ptr<const tank::Tank> shared_tank(tank::Tank tank) {
  return std::make_shared<const tank::Tank>(std::move(tank));
}

/// What each pickup draws at full flow, m3/s: its share of its lift pump's, or of the main pump's.
std::vector<double> pickup_flows(const FuelSystem& car);

/// How the fuel moves in this car.
slosh::MotionOptions motion_options(const FuelSystem& car, bool repeated);

/// What the engine burns at each sample, m3/s: the logged flow (scaled) or throttle x power x consumption /
/// density, not less than idle. Throws InputError if the lap has neither flow nor throttle.
std::vector<double> engine_demand(const FuelSystem& car, const lap::Lap& lap);

/// Fuel burnt over the lap, m3.
double consumption_per_lap(const std::vector<double>& demand, const lap::Lap& lap);

}  // namespace uadze::starvation
