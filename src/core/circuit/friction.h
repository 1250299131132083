#pragma once
// Darcy's friction factor of a round line: exact where laminar (64/Re up to 2000), Colebrook where turbulent
// (from 4000), a curve between that joins both in value and slope.
//
// Colebrook 1939, solved by Serghides' three steps (1984, Chemical Engineering), which are within 0.003 % of
// it. Between 2000 and 4000 the flow is undecided and so is any formula: a cubic in ln Re and ln f.
//
// Example:
//   EXPECT_NEAR(circuit::friction_factor(1e5, 1e-3).value, 0.0222, 1e-4);

namespace uadze::circuit {

struct Friction {
  double value = 0.0;
  double slope = 0.0;  ///< d ln f / d ln Re
};

inline constexpr double laminar_end = 2000.0, turbulent_start = 4000.0;

/// `relative_roughness` is roughness over bore.
Friction friction_factor(double reynolds, double relative_roughness);

/// f_T, at so high a Reynolds number that only roughness counts (von Karman).
double fully_turbulent_friction(double relative_roughness);

/// f_T that goes with the equivalent lengths of fittings: Crane Technical Paper 410 defines them for clean
/// commercial steel (0.0457 mm) of the fitting's bore, whatever the hose is made of.
double fitting_friction(double bore);

}  // namespace uadze::circuit
