#pragma once
// Petrol-ethanol blends: density, stoichiometric ratio, lower heating value.
//
// Volumes are taken as additive; the excess volume of petrol and ethanol is under 0.4 % and left out. The
// ethanol fraction by volume holds at each component's reference temperature.
// Sources: CRC Handbook of Chemistry and Physics (ethanol's density, expansion); EN 228 (petrol's density,
// 720 to 775 kg/m3 at 15 °C, 745 typical); Heywood, Internal Combustion Engine Fundamentals (heating values,
// air/fuel ratios).
//
// Example:
//   const fluid::Blend e20{.ethanol = 0.20};
//   EXPECT_NEAR(density(e20, 303.15), 741, 5);             // kg/m3 at 30 °C
//   EXPECT_NEAR(stoichiometric_ratio(e20), 13.5, 0.1);      // kg air per kg fuel
#include "core/base/derivation.h"

namespace uadze::fluid {

struct Blend {
  double ethanol = 0.0;            ///< fraction by volume, 0..1
  double petrol_density = 745.0;   ///< kg/m3 at 15 °C, typical
  double petrol_heating = 43.0e6;  ///< J/kg, typical (42.5 to 44)
  double petrol_air_ratio = 14.7;  ///< kg/kg
  double temperature = 288.15;     ///< K, of the fuel in the tank
  double reid_pressure = 60e3;     ///< Pa, Reid vapour pressure of the petrol (EN 228 summer: 45 to 60 kPa)

  bool operator==(const Blend&) const = default;
};

inline constexpr double petrol_reference_temperature = 288.15;   ///< K
inline constexpr double ethanol_reference_temperature = 293.15;  ///< K
inline constexpr double ethanol_density_reference = 789.3;       ///< kg/m3 at 20 °C
inline constexpr double petrol_expansion = 9.5e-4;               ///< 1/K
inline constexpr double ethanol_expansion = 1.09e-3;             ///< 1/K
inline constexpr double ethanol_heating = 26.8e6;                ///< J/kg
inline constexpr double ethanol_air_ratio = 9.0;                 ///< kg/kg

/// Mass fraction of ethanol, 0..1.
double ethanol_mass_fraction(const Blend& blend);
/// kg/m3 at `temperature` (K): mass over the two components' expanded volumes.
double density(const Blend& blend, double temperature);
/// kg/m3 at the blend's own temperature.
inline double density(const Blend& blend) { return density(blend, blend.temperature); }
/// kg of air per kg of fuel, weighted by mass.
double stoichiometric_ratio(const Blend& blend);
/// J/kg, weighted by mass.
double lower_heating_value(const Blend& blend);

Derivation density_working(const Blend& blend);
Derivation stoichiometric_working(const Blend& blend);
Derivation heating_working(const Blend& blend);

}  // namespace uadze::fluid
