#pragma once
// Cars and laps so simple that answers have a closed form.
#include "core/starvation/starvation_map.h"
#include "core/tank/prism.h"

namespace uadze::test {

/// One space, the pickups in it.
inline std::shared_ptr<const tank::Tank> plain(const tank::Prism& shape) {
  tank::Tank tank = tank::plain_tank(make_solid(shape));
  tank.pickup_space = {0, 0};
  return starvation::shared_tank(std::move(tank));
}

/// A box tank 0.6 x 0.5 x 0.3 m with one pickup that feeds the engine; settled fuel, no critical submergence,
/// so that answers have a closed form.
inline starvation::FuelSystem simple_car(const Vec3& pickup, double hold = 1e-4) {
  return {
      .tank = plain(tank::Prism{tank::Axis::y, {{-0.3, 0}, {0.3, 0}, {0.3, 0.3}, {-0.3, 0.3}}, -0.25, 0.25}),
      .pickups = {{"pickup", pickup, 0.0, "engine"}},
      .model = slosh::Model::settled,
      .submergence_scale = 0.0,
      .lift_pumps = {},
      .surge = std::nullopt,
      .main_pump_flow = 5e-5,
      .line_hold = hold,
      .engine = {},
      // Three quarters of the set difference, at once.
      .limits = {.mixture = {.lean = 0.1547005, .time = 0},
                 .gas = 1,
                 .gas_time = 1e9,
                 .compliance = 1e-14,
                 .bubble_rise = 100},
      .fuel_density = 745};
}

/// `seconds` on the straight, then a corner of `turn` seconds at `lateral`, then straight again.
inline lap::Lap corner_lap(double lateral, double turn, double seconds = 10) {
  lap::Lap lap;
  for (double t = 0; t <= 2 * seconds + turn + 1e-9; t += 0.02) {
    lap.time.push_back(t);
    lap.distance.push_back(50 * t);
    lap.lateral.push_back(t > seconds && t < seconds + turn ? lateral : 0.0);
    lap.longitudinal.push_back(0);
    lap.vertical.push_back(standard_gravity);
    lap.speed.push_back(50);
    lap.fuel_flow.push_back(4e-5);
  }
  return lap;
}

inline starvation::Course course_of(const starvation::FuelSystem& car, const lap::Lap& lap,
                                    bool repeated = true) {
  return starvation::completed({.lap = &lap,
                                .corners = {{"Long Left", 500, 750, lap::Hand::left}},
                                .repeated = repeated,
                                .demand = starvation::engine_demand(car, lap)},
                               car);
}

inline starvation::FuelSystem surge_car(double volume, double lift,
                                        circuit::ReturnTo to = circuit::ReturnTo::surge_tank) {
  starvation::FuelSystem car = simple_car({0, 0.2, 0});
  car.pickups[0].feeds = "lift";
  car.lift_pumps = {{"lift", lift}};
  // Tall and thin, so that its own tilt does not count.
  car.surge = starvation::SurgeTank{.volume = volume, .engine_return = to, .height = 5, .pickup_radius = 0};
  return car;
}

}  // namespace uadze::test
