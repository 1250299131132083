#pragma once
// A setup's circuit at an operating point: types looked up, the fuel as measured, the tank's level over the
// pickups.
//
// Example:
//   using namespace uadze;
//   const auto opened = test::demo("ostrel-p4");
//   solve::PointOptions at;
//   at.power = 300e3;
//   const solve::CircuitPoint point = solve::circuit_point(opened.project, {}, at, *opened.sources);
//   EXPECT_TRUE(point.state.solution.converged);
//   EXPECT_NEAR(solve::power_at(opened.project.setups[0], point.at.at.demand), 300e3, 1.0);
#include <set>

#include "core/circuit/analysis.h"
#include "core/circuit/shortfall.h"
#include "core/circuit/what_if.h"
#include "core/solve/case.h"

namespace uadze::solve {

/// At full load: the setup's power, full manifold pressure, its fuel's temperature. Throws InputError if the
/// setup has no circuit.
circuit::Case circuit_case(const project::Setup& setup, std::shared_ptr<const circuit::Catalogue> catalogue);

/// m3/s that the engine burns at a brake power (W), of fuel at `temperature` (K; nothing: the setup's).
double demand_at(const project::Setup& setup, double power, std::optional<double> temperature = {});
double power_at(const project::Setup& setup, double demand, std::optional<double> temperature = {});
Derivation demand_working(const project::Setup& setup, double power);

/// Depths over the pickups with the fuel settled at a level (m3) under the case's force; the tank's volume.
/// Share of fuel in what each pickup draws.
std::vector<double> place_level(circuit::Case& c, const project::Setup& setup, const tank::Tank& tank,
                                double level);

struct PointOptions {
  std::optional<double> power, demand;  ///< W or m3/s; nothing: full load
  std::optional<double> manifold, supply, temperature, altitude, throttle, rotation, filter_load;  ///< SI
  std::optional<double> level;       ///< m3 in the tank, at most what it holds; nothing: half full
  bool own_voltage = false;          ///< the supply follows from battery and loads at the rotation
  std::optional<Vec3> acceleration;  ///< m/s2, of the vehicle
  std::vector<circuit::WhatIf> what_ifs;
  std::optional<std::vector<double>> wet = {};  ///< share of fuel at each pickup; nothing: as it lies settled
};

struct CircuitPoint {
  circuit::Case at;
  circuit::State state;  ///< where the demand can not be met, of what is burnt then
  std::optional<circuit::Shortfall> shortfall;
  std::vector<circuit::WhatIf> without_effect;  ///< what-ifs that change nothing here
  std::vector<std::string> bare;                ///< pickups without fuel
  bool gas_to_engine = false;                   ///< one of them feeds the engine straight
  bool manifold_follows = true;  ///< manifold and throttle go with the power, as none was given by hand
};

/// A bare pickup brings its pump gas: a lift pump lifts nothing then (it takes nearly all through a bare one
/// even where another is covered), an engine that it feeds straight gets nothing. `wet`: share of fuel in
/// what each pickup draws.
void draw_gas(CircuitPoint& point, const project::Setup& setup, const std::vector<double>& wet);

/// The case alone, before it is solved: for a sweep.
CircuitPoint circuit_point_case(const project::Project& project, const Case& wanted,
                                const PointOptions& options, Sources& sources);
void solve_point(CircuitPoint& point);
CircuitPoint circuit_point(const project::Project& project, const Case& wanted, const PointOptions& options,
                           Sources& sources);

/// What can be carried, over a range of brake power (W), manifold and throttle following it or held. Throws
/// InputError without a specific consumption.
std::vector<circuit::SweepPoint> power_sweep(const project::Setup& setup, const circuit::Case& c,
                                             const std::vector<double>& powers, bool manifold_follows = true);

}  // namespace uadze::solve
