#include "core/fluid/blend.h"

namespace uadze::fluid {
namespace {

constexpr const char* sources =
    "CRC Handbook of Chemistry and Physics; EN 228; Heywood, Internal Combustion "
    "Engine Fundamentals";

Term ethanol_term(const Blend& blend) {
  return {"e", "ethanol by volume", blend.ethanol, Quantity::fraction, "entered"};
}

/// The mass-weighted mean of a petrol and an ethanol property, with its working.
Derivation by_mass(const Blend& blend, const char* name, const char* symbol, double petrol, double ethanol,
                   Quantity quantity) {
  const double w = ethanol_mass_fraction(blend);
  const std::string s = symbol;
  return {.name = name,
          .value = (1 - w) * petrol + w * ethanol,
          .quantity = quantity,
          .formula = s + " = (1 - w) " + s + "_p + w " + s + "_e,  w = e rho_e / (e rho_e + (1 - e) rho_p)",
          .inputs = {ethanol_term(blend),
                     {"w", "ethanol by mass", w, Quantity::fraction, "computed"},
                     {s + "_p", "petrol", petrol, quantity, "typical; can be entered"},
                     {s + "_e", "ethanol", ethanol, quantity, "CRC Handbook; Heywood"}},
          .source = sources,
          .note = {},
          .steps = {}};
}

}  // namespace

double ethanol_mass_fraction(const Blend& blend) {
  const double ethanol = blend.ethanol * ethanol_density_reference;
  return ethanol / (ethanol + (1 - blend.ethanol) * blend.petrol_density);
}

double density(const Blend& blend, double temperature) {
  const double mass = blend.ethanol * ethanol_density_reference + (1 - blend.ethanol) * blend.petrol_density;
  const double volume =
      blend.ethanol * (1 + ethanol_expansion * (temperature - ethanol_reference_temperature)) +
      (1 - blend.ethanol) * (1 + petrol_expansion * (temperature - petrol_reference_temperature));
  return mass / volume;
}

double stoichiometric_ratio(const Blend& blend) { return stoichiometric_working(blend).value; }
double lower_heating_value(const Blend& blend) { return heating_working(blend).value; }

Derivation density_working(const Blend& blend) {
  return {
      .name = "Density of the fuel",
      .value = density(blend),
      .quantity = Quantity::density,
      .formula = "rho = (e rho_e + (1 - e) rho_p) / (e (1 + b_e (T - 20 °C)) + (1 - e)(1 + b_p (T - 15 °C)))",
      .inputs = {ethanol_term(blend),
                 {"T", "fuel temperature", blend.temperature, Quantity::temperature, "entered"},
                 {"rho_p", "petrol at 15 °C", blend.petrol_density, Quantity::density, "entered; EN 228"},
                 {"rho_e", "ethanol at 20 °C", ethanol_density_reference, Quantity::density, "CRC Handbook"},
                 {"b_p", "expansion of petrol, 1/K", petrol_expansion * 1000, Quantity::plain, "times 1000"},
                 {"b_e", "expansion of ethanol, 1/K", ethanol_expansion * 1000, Quantity::plain,
                  "times 1000; CRC Handbook"}},
      .source = sources,
      .note = "Volumes are taken as additive: the excess volume of petrol and ethanol is under 0.4 %.",
      .steps = {}};
}

Derivation stoichiometric_working(const Blend& blend) {
  return by_mass(blend, "Stoichiometric air/fuel ratio", "A", blend.petrol_air_ratio, ethanol_air_ratio,
                 Quantity::ratio_mass);
}

Derivation heating_working(const Blend& blend) {
  return by_mass(blend, "Lower heating value", "H", blend.petrol_heating, ethanol_heating, Quantity::heating);
}

}  // namespace uadze::fluid
