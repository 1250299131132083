#include "core/fluid/liquid.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>

#include "core/base/message.h"

namespace uadze::fluid {
namespace {

constexpr double psi = 6894.757293168;
constexpr double mmhg = 133.322387415;

struct Molecule {
  double mass;     // kg/mol
  double density;  // kg/m3
};
constexpr Molecule petrol_like{0.105, 745.0}, ethanol_like{0.04607, ethanol_density_reference},
    methanol_like{0.03204, methanol_density_reference};

double andrade(double at_20c, double b, double temperature) {
  return at_20c * std::exp(b * (1 / temperature - 1 / 293.15));
}

/// The alcohols' activities by Margules' two-constant form (2.4 for ethanol in petrol, 2.6 for methanol, 1.9
/// the other way round), x of either in what both make of the blend by moles.
struct Activities {
  double ethanol, methanol;
};
Activities activities(const Blend& blend) {
  const double e = blend.ethanol * ethanol_like.density / ethanol_like.mass;
  const double m = blend.methanol * methanol_like.density / methanol_like.mass;
  const double p = blend.petrol() * petrol_like.density / petrol_like.mass;
  const double x = (e + m) / (e + m + p), y = 1 - x;
  const auto coefficient = [&](double in_petrol) {
    return std::exp(y * y * (in_petrol + 2 * (1.9 - in_petrol) * x));
  };
  return {e / (e + m + p) * coefficient(2.4), m / (e + m + p) * coefficient(2.6)};
}

/// Petrol's share of its own vapour pressure that is left in the blend: straight lines between the points of
/// the fit.
double petrol_share(double alcohol) {
  constexpr std::array<std::pair<double, double>, 11> fit{{{0.0, 1.0},
                                                           {0.05, 0.925},
                                                           {0.10, 0.898},
                                                           {0.20, 0.881},
                                                           {0.30, 0.835},
                                                           {0.40, 0.790},
                                                           {0.50, 0.745},
                                                           {0.60, 0.690},
                                                           {0.70, 0.600},
                                                           {0.85, 0.420},
                                                           {1.0, 0.0}}};
  for (size_t i = 1; i < fit.size(); ++i)
    if (alcohol <= fit[i].first)
      return std::lerp(fit[i - 1].second, fit[i].second,
                       (alcohol - fit[i - 1].first) / (fit[i].first - fit[i - 1].first));
  return 0.0;
}

}  // namespace

double viscosity(const Blend& blend, double temperature) {
  return std::exp(blend.petrol() * std::log(andrade(0.45e-3, 1000, temperature)) +
                  blend.ethanol * std::log(andrade(1.20e-3, 1720, temperature)) +
                  blend.methanol * std::log(andrade(0.585e-3, 1195, temperature)));
}

double petrol_vapour_pressure(double reid_pressure, double temperature) {
  const double rankine = temperature * 1.8, slope = std::sqrt(3.0), rvp = std::log10(reid_pressure / psi);
  return psi * std::exp((0.7553 - 413 / rankine) * slope * rvp - (1.854 - 1042 / rankine) * slope +
                        (2416 / rankine - 2.013) * rvp - 8742 / rankine + 15.64);
}

double ethanol_vapour_pressure(double temperature) {
  return mmhg * std::pow(10, 8.20417 - 1642.89 / (230.300 + temperature - 273.15));
}

double methanol_vapour_pressure(double temperature) {
  return 1e5 * std::pow(10, 5.20409 - 1581.341 / (temperature - 33.50));
}

double vapour_pressure(const Blend& blend, double temperature) {
  const Activities a = activities(blend);
  return petrol_share(blend.ethanol + blend.methanol) *
             petrol_vapour_pressure(blend.reid_pressure, temperature) +
         a.ethanol * ethanol_vapour_pressure(temperature) +
         a.methanol * methanol_vapour_pressure(temperature);
}

double heat_capacity(const Blend& blend) {
  const double e = ethanol_mass_fraction(blend), m = methanol_mass_fraction(blend);
  return (1 - e - m) * 2100 + e * 2440 + m * 2530;
}

Liquid liquid(const Blend& blend, double temperature) {
  return {density(blend, temperature), viscosity(blend, temperature), vapour_pressure(blend, temperature),
          heat_capacity(blend), 50e3 * petrol_share(blend.ethanol + blend.methanol) + 5e3};
}

Content water_shift_content(const WaterShift& tube) {
  const auto bad = [](const char* place, std::string expected, double found) {
    throw InputError(Message{
        .place = place, .expected = std::move(expected), .found = fmt::format("{:.4g} ml", found * 1e6)});
  };
  if (!(tube.fuel > 0) || !std::isfinite(tube.fuel)) bad("fuel", "a volume above 0", tube.fuel);
  if (!(tube.water > 0) || !std::isfinite(tube.water)) bad("water", "a volume above 0", tube.water);
  if (!(tube.boundary >= tube.water))
    bad("boundary", fmt::format("a mark not below the water's {:.4g} ml", tube.water * 1e6), tube.boundary);
  if (!(tube.boundary <= tube.water + tube.fuel))
    bad("boundary",
        fmt::format("a mark not above {:.4g} ml, all that was poured", (tube.water + tube.fuel) * 1e6),
        tube.boundary);
  const double read = (tube.boundary - tube.water) / tube.fuel;
  // No rise, no ethanol: then nothing has contracted either.
  const auto plus = [&](double points) { return read > 0 ? std::min(1.0, read + points) : 0.0; };
  return {plus(0.01), plus(0.02), plus(0.03)};
}

Derivation water_shift_working(const WaterShift& tube) {
  const Content c = water_shift_content(tube);
  return {.name = "Ethanol by water shift",
          .value = c.middle,
          .quantity = Quantity::fraction,
          .formula = "x = (V_b - V_w) / V_f + 0.02",
          .inputs = {{"V_b", "boundary after settling", tube.boundary, Quantity::volume, "read"},
                     {"V_w", "water", tube.water, Quantity::volume, "read"},
                     {"V_f", "fuel", tube.fuel, Quantity::volume, "read"},
                     {"x_low", "least", c.low, Quantity::fraction, "1 point over the reading"},
                     {"x_high", "most", c.high, Quantity::fraction, "3 points over the reading"}},
          .source = "volume balance; the reading is 1 to 3 points low",
          .note = "Water and ethanol contract when they mix, and a little petrol goes along."};
}

}  // namespace uadze::fluid
