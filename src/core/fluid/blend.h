#pragma once
// Blends of petrol, ethanol and methanol: density, stoichiometric ratio, lower heating value, and how much of
// one takes the place of another.
//
// Volumes are taken as additive; the excess volume of petrol and alcohol is under 0.4 % and left out. The
// fractions by volume hold at each component's reference temperature.
// Sources: CRC Handbook of Chemistry and Physics (the alcohols' density, expansion); EN 228 (petrol's
// density, 720 to 775 kg/m3 at 15 °C, 745 typical); Heywood, Internal Combustion Engine Fundamentals (heating
// values, air/fuel ratios; methanol 6.4, 792 kg/m3 and 19.9 MJ/kg typical).
//
// Demand is air: an engine breathes so much air at a speed and throttle, whatever it burns. Q its fuel by
// volume, A the stoichiometric ratio, rho the density, lambda how lean: A rho lambda Q = air = the same for
// both, so Q_now = Q_then (A rho lambda)_then / (A rho lambda)_now. The efficiency is taken as the same.
//
// Example:
//   const fluid::Blend e20{.ethanol = 0.20};
//   EXPECT_NEAR(density(e20, 303.15), 741, 5);             // kg/m3 at 30 °C
//   EXPECT_NEAR(stoichiometric_ratio(e20), 13.5, 0.1);      // kg air per kg fuel
#include "core/base/derivation.h"

namespace uadze::fluid {

struct Blend {
  double ethanol = 0.0;            ///< fraction by volume, 0..1
  double methanol = 0.0;           ///< fraction by volume, 0..1; petrol is what the two leave
  double petrol_density = 745.0;   ///< kg/m3 at 15 °C, typical
  double petrol_heating = 43.0e6;  ///< J/kg, typical (42.5 to 44)
  double petrol_air_ratio = 14.7;  ///< kg/kg
  double temperature = 288.15;     ///< K, of the fuel in the tank
  double reid_pressure = 60e3;     ///< Pa, Reid vapour pressure of the petrol (EN 228 summer: 45 to 60 kPa)

  double petrol() const { return 1.0 - ethanol - methanol; }  ///< fraction by volume
  bool operator==(const Blend&) const = default;
};

/// A fuel and how lean it is burnt: what a figure of demand belongs to.
struct Mixture {
  Blend fuel;
  double lambda = 1.0;  ///< air over what burns it exactly
};

inline constexpr double petrol_reference_temperature = 288.15;   ///< K
inline constexpr double ethanol_reference_temperature = 293.15;  ///< K
inline constexpr double ethanol_density_reference = 789.3;       ///< kg/m3 at 20 °C
inline constexpr double petrol_expansion = 9.5e-4;               ///< 1/K
inline constexpr double ethanol_expansion = 1.09e-3;             ///< 1/K
inline constexpr double ethanol_heating = 26.8e6;                ///< J/kg
inline constexpr double ethanol_air_ratio = 9.0;                 ///< kg/kg
inline constexpr double methanol_density_reference = 792.0;      ///< kg/m3 at 20 °C
inline constexpr double methanol_expansion = 1.20e-3;            ///< 1/K
inline constexpr double methanol_heating = 19.9e6;               ///< J/kg
inline constexpr double methanol_air_ratio = 6.4;                ///< kg/kg

/// Mass fraction of ethanol, 0..1.
double ethanol_mass_fraction(const Blend& blend);
double methanol_mass_fraction(const Blend& blend);
/// kg/m3 at `temperature` (K): mass over the components' expanded volumes.
double density(const Blend& blend, double temperature);
/// kg/m3 at the blend's own temperature.
inline double density(const Blend& blend) { return density(blend, blend.temperature); }
/// kg of air per kg of fuel, weighted by mass.
double stoichiometric_ratio(const Blend& blend);
/// J/kg, weighted by mass.
double lower_heating_value(const Blend& blend);

/// Volume of `now` that burns with the air of one volume of `then`, each at its own temperature:
/// (A rho lambda)_then / (A rho lambda)_now.
double demand_ratio(const Mixture& then, const Mixture& now);
Derivation demand_ratio_working(const Mixture& then, const Mixture& now);
/// Brake efficiency that a specific consumption (kg/J) means with this fuel: 1 / (b H).
double efficiency(const Blend& blend, double consumption);
/// More than racing engines reach: Heywood gives 0.30 to 0.36 for spark ignition, the best ever shown 0.42.
inline constexpr double most_efficiency = 0.42;

Derivation density_working(const Blend& blend);
Derivation stoichiometric_working(const Blend& blend);
Derivation heating_working(const Blend& blend);

}  // namespace uadze::fluid
