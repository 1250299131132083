#pragma once
// A setup as engineering objects.
//
// Example:
//   using namespace uadze;
//   const auto opened = test::demo("ostrel-p4");
//   const starvation::FuelSystem car = solve::compile(opened.project.setups[0], *opened.sources);
//   EXPECT_GT(car.tank->volume(), 0.04);
//   EXPECT_EQ(car.lift_pumps.size(), 2u);
#include "core/circuit/circuit.h"
#include "core/solve/sources.h"
#include "core/starvation/fuel_system.h"

namespace uadze::solve {

/// What a session changes on a setup and a lap.
struct Conditions {
  double grip = 1.0;                  ///< on lateral and longitudinal acceleration
  std::optional<double> temperature;  ///< K, of the fuel; nothing: the setup's
  bool operator==(const Conditions&) const = default;
};
/// The session's, on the laps as this car was found to drive them.
Conditions conditions_of(const project::Setup& setup, const session::Session& session);

/// The fuel as it is: with the measured ethanol content, if there is one.
fluid::Blend fuel_of(const project::Setup& setup);

/// The fuel in the car, measured where it was, as lean as the engine burns it; and what the figures of its
/// engine and laps were measured with (the setup's entered fuel where nothing is said).
fluid::Mixture mixture_of(const project::Setup& setup);
fluid::Mixture figure_mixture(const project::Setup& setup);

/// Figures belong to the fuel that the setup had when they were entered: where an edit changes its alcohols
/// and nothing says of which fuel they are, that is said now, so that the demand follows the new fuel.
void keep_figures(const project::Project& before, project::Project& after);

/// Volume in the car for a volume of the figures', at the same air.
double demand_factor(const project::Setup& setup);
Derivation demand_factor_working(const project::Setup& setup);

/// The setup with the fuel as warm as a session has it.
project::Setup conditioned(project::Setup setup, const Conditions& conditions);

/// The setup's surroundings as the circuit sees them. `tank_volume`: m3.
circuit::Surroundings surroundings_of(const project::Setup& setup, double tank_volume = 50e-3);

/// Needs a setup without faults. Throws InputError if a mesh can not be read.
/// `wait`: for the tank's inertia if it is not known yet; otherwise the box-equivalent serves meanwhile.
/// `catalogue`: the project's, for the bores of its hoses; nothing: the shipped one.
starvation::FuelSystem compile(const project::Setup& setup, Sources& sources,
                               const circuit::Catalogue* catalogue = nullptr, bool wait = true);

}  // namespace uadze::solve
