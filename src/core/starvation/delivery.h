#pragma once
// What the pumps do along a lap while they have fuel: the circuit's answer at each sample, or the constants
// entered where a setup has no circuit.
//
// The circuit is solved at up to `points` moments of the lap, with its stages, voltage, acceleration heads
// and manifold pressure, and lies straight between them. Limits: no level over the pickups (a few kPa, on the
// safe side); the surge tank is full in it, so that the overflow's back-pressure stands against the lift
// pumps.
//
// Example:
//   const starvation::FuelSystem car = test::surge_car(1e-3, 4e-5);
//   const starvation::Delivery delivery = constant_delivery(car, std::vector<double>(10, 3e-5));
//   EXPECT_EQ(delivery.lift[0][7], 4e-5);
//   EXPECT_FALSE(delivery.by_circuit);
#include "core/circuit/heat.h"
#include "core/circuit/lap_faults.h"
#include "core/starvation/fuel_system.h"

namespace uadze::starvation {

/// All by sample of the lap.
struct Delivery {
  std::vector<std::vector<double>> lift;  ///< m3/s, of each lift pump of the car
  std::vector<double> main;               ///< m3/s through the main pumps
  std::vector<double> fed, set;           ///< Pa across the injectors: as they are fed, as they should be
  std::vector<double> duty;               ///< of the injectors for the demand; empty: unknown
  bool by_circuit = false;
  std::vector<circuit::LapFault> faults;  ///< of the circuit with every pickup covered
  double charge = 1.0;                    ///< 0..1 of the battery's, as the lap begins
  circuit::HeatBalance heat;
  double vapour_margin = 0.0;  ///< Pa, least at a main pump's inlet; 0 without a circuit
};

/// Constants as entered; pressure is taken as held.
Delivery constant_delivery(const FuelSystem& car, const std::vector<double>& demand);

/// By the circuit; lift pumps that it does not have keep their entered flow. `driven`: s of laps; where the
/// alternator does not carry the car, the lap is the last of them, at the voltage that the battery has left.
Delivery circuit_delivery(const circuit::Case& c, const FuelSystem& car, const lap::Lap& lap,
                          const std::vector<double>& demand, size_t points = 2400,
                          Progress* progress = nullptr, double driven = 0.0);

/// The car with its constants replaced by the delivery's means: what the pickups draw when the fuel alone is
/// asked.
FuelSystem with_delivery(FuelSystem car, const Delivery& delivery);

/// The lap as the circuit sees it.
circuit::LoadTrace load_trace(const lap::Lap& lap, const std::vector<double>& demand);

}  // namespace uadze::starvation
