#pragma once
// What a circuit needs to know of the fuel at a temperature: density, viscosity, vapour pressure, heat
// capacity; and what a measured ethanol content does to the demand.
//
// Viscosity: Andrade's law ln mu = a + B/T for each component (petrol 0.45 mPa s at 20 °C typical, B 1000 K;
// ethanol 1.20 mPa s, B 1720 K: within 3 % of the CRC Handbook from 0 to 75 °C; methanol 0.585 mPa s, B 1195
// K: within 2 % of it from 0 to 50 °C), blended by volume in the logarithm (Arrhenius 1887). Vapour pressure:
// petrol by its Reid vapour pressure (US EPA AP-42, section 7.1, slope S = 3); ethanol by Antoine (Gmehling
// and Onken, DECHEMA); the blend as P = s P_petrol + a P_ethanol, a by Margules' activity (2.4 and 1.9), s
// straight between points such that 5 to 10 % ethanol add about 7 kPa to a 60 kPa petrol at 37.8 °C, 40 %
// give the petrol's own, 85 % give 40 kPa (Andersen et al. 2010, Energy & Fuels). Within about 3 kPa.
// Methanol likewise by Antoine (NIST Chemistry WebBook, after Ambrose and Sprake 1970) and Margules (2.6
// and 1.9, chosen so that 5 to 15 % add 20 to 23 kPa); within about 5 kPa. Of two alcohols in one blend each
// is as active as petrol around it makes it.
//
// Example:
//   const fluid::Liquid hot = fluid::liquid({.ethanol = 0.2}, 333.15);
//   EXPECT_GT(hot.vapour_pressure, 80e3);                    // Pa
//   EXPECT_NEAR(fluid::water_shift_content({.water = 10e-6, .fuel = 90e-6, .boundary = 28e-6}).middle, 0.22, 1e-9);
#include "core/base/derivation.h"
#include "core/fluid/blend.h"

namespace uadze::fluid {

struct Liquid {
  double density = 750.0;         ///< kg/m3
  double viscosity = 0.45e-3;     ///< Pa s
  double vapour_pressure = 30e3;  ///< Pa, absolute
  double heat_capacity = 2100.0;  ///< J/(kg K)
  /// Pa below the bubble point at which a pump passes gas only. A blend boils over a range: its light ends
  /// go first, and twenty volumes of gas to one of liquid (where pumps give up) come about 17 K later, at
  /// which petrol's pressure is 50 kPa higher; ethanol boils at one temperature. An estimate.
  double flash_range = 50e3;
};

Liquid liquid(const Blend& blend, double temperature);

/// Pa s, at K.
double viscosity(const Blend& blend, double temperature);
/// Pa absolute, at K: the true vapour pressure of the blend at its bubble point.
double vapour_pressure(const Blend& blend, double temperature);
double petrol_vapour_pressure(double reid_pressure, double temperature);
double ethanol_vapour_pressure(double temperature);
double methanol_vapour_pressure(double temperature);
/// J/(kg K), weighted by mass (petrol 2100, ethanol 2440, methanol 2530).
double heat_capacity(const Blend& blend);

/// Water and fuel shaken in a graduated tube: the ethanol goes to the water, the boundary rises.
struct WaterShift {
  double water = 0.0;     ///< m3 poured in first
  double fuel = 0.0;      ///< m3
  double boundary = 0.0;  ///< m3, mark of the boundary after settling, from the bottom
  bool operator==(const WaterShift&) const = default;
};

/// Ethanol fraction by volume: (boundary - water)/fuel reads 1 to 3 points low, as water and ethanol
/// contract.
struct Content {
  double low = 0.0, middle = 0.0, high = 0.0;
};

/// Throws InputError naming the reading that can not be (boundary below the water, above the total, no fuel).
Content water_shift_content(const WaterShift& tube);
Derivation water_shift_working(const WaterShift& tube);

}  // namespace uadze::fluid
