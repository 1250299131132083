#pragma once
// Passive parts as pressure drops: line, loss coefficient, filter. A leg's parts in series are a
// Chain.
//
// Every drop rises with the flow, so that a network of them has one solution.
// Sources: Darcy-Weisbach; Crane Technical Paper 410 (losses); Darcy 1856 and Forchheimer 1901 for filters
// (a part that follows viscosity, a part that follows density).
//
// Example:
//   const fluid::Liquid fuel = fluid::liquid({}, 293.15);
//   const circuit::Chain leg{circuit::Line{.length = 2.0, .bore = 8.7e-3, .roughness = 1e-5}, circuit::loss(0.5, 8.7e-3)};
//   EXPECT_GT(drop(leg, 55e-6, fuel).value, drop(leg, 50e-6, fuel).value);        // Pa
#include <span>
#include <variant>
#include <vector>

#include "core/fluid/liquid.h"

namespace uadze::circuit {

struct Line {
  double length = 0.0;        ///< m
  double bore = 0.0;          ///< m
  double roughness = 1.5e-6;  ///< m
};

/// dp = linear (mu/mu0) q + quadratic (rho/rho0) q |q|.
struct Resistance {
  double linear = 0.0;     ///< Pa s/m3 at the reference viscosity
  double quadratic = 0.0;  ///< Pa s2/m6 at the reference density
};
inline constexpr double reference_viscosity = 0.45e-3;  ///< Pa s
inline constexpr double reference_density = 750.0;      ///< kg/m3

using Element = std::variant<Line, Resistance>;
using Chain = std::vector<Element>;

struct Drop {
  double value = 0.0;  ///< Pa
  double slope = 0.0;  ///< Pa s/m3, above 0
};

Drop drop(const Element& element, double flow, const fluid::Liquid& liquid);
Drop drop(std::span<const Element> chain, double flow, const fluid::Liquid& liquid);

/// m2, of a round bore.
double area(double bore);
double velocity(double flow, double bore);
double reynolds(double flow, double bore, const fluid::Liquid& liquid);

/// K rho v^2/2 in the bore.
Resistance loss(double coefficient, double bore);
/// Discharge coefficient 0.61 where sharp-edged.
Resistance orifice(double discharge, double bore);
/// A part that is known by its drop at one flow; `viscous` is the share that follows viscosity.
Resistance rated(double flow, double drop, double viscous = 0.0);
/// Two equal ones side by side: each takes half the flow.
Resistance doubled(const Resistance& one);

/// Pa s/m3 behind a shut valve: 3 bar press 1e-6 L/h through it.
inline constexpr double shut_resistance = 1e15;

}  // namespace uadze::circuit
