#pragma once
// A setup's circuit as a case to run: types looked up, the fuel as measured, the tank's level over the
// pickups.
//
//   circuit::Case c = circuit_case(project, setup);
//   c.at.demand = demand_at(setup, 300e3);
//   place_level(c, setup, tanks, 20e-3);      // depths over the pickups under c.at.force
#include "core/circuit/course.h"
#include "core/project/solve.h"

namespace uadze::project {

/// At full load: the setup's power, full manifold pressure, its fuel's temperature. Throws InputError if the
/// setup has no circuit.
circuit::Case circuit_case(const Project& project, const Setup& setup);

/// m3/s that the engine burns at a brake power (W).
double demand_at(const Setup& setup, double power);
double power_at(const Setup& setup, double demand);
Derivation demand_working(const Setup& setup, double power);

/// Depths over the pickups with the fuel settled at a level (m3) under the case's force; the tank's volume.
void place_level(circuit::Case& c, const Setup& setup, TankStore& tanks, double level);

/// A lap as the circuit sees it, with the setup's demand.
circuit::Course circuit_course(const starvation::FuelSystem& car, const lap::Lap& lap);

}  // namespace uadze::project
