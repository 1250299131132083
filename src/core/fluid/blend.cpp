#include "core/fluid/blend.h"

namespace uadze::fluid {
namespace {

constexpr const char* sources =
    "CRC Handbook of Chemistry and Physics; EN 228; Heywood, Internal Combustion "
    "Engine Fundamentals";

Term ethanol_term(const Blend& blend) {
  return {"e", "ethanol by volume", blend.ethanol, Quantity::fraction, "entered"};
}
Term methanol_term(const Blend& blend) {
  return {"m", "methanol by volume", blend.methanol, Quantity::fraction, "entered"};
}

double mass(const Blend& blend) {  // kg per m3 of the components at their reference temperatures
  return blend.ethanol * ethanol_density_reference + blend.methanol * methanol_density_reference +
         blend.petrol() * blend.petrol_density;
}

/// The mass-weighted mean of a property of petrol, ethanol and methanol, with its working.
Derivation by_mass(const Blend& blend, const char* name, const char* symbol, double petrol, double ethanol,
                   double methanol, Quantity quantity) {
  const double w = ethanol_mass_fraction(blend), u = methanol_mass_fraction(blend);
  const std::string s = symbol;
  Derivation out{
      .name = name,
      .value = (1 - w - u) * petrol + w * ethanol + u * methanol,
      .quantity = quantity,
      .formula = s + " = (1 - w) " + s + "_p + w " + s + "_e,  w = e rho_e / (e rho_e + (1 - e) rho_p)",
      .inputs = {ethanol_term(blend),
                 {"w", "ethanol by mass", w, Quantity::fraction, "computed"},
                 {s + "_p", "petrol", petrol, quantity, "typical; can be entered"},
                 {s + "_e", "ethanol", ethanol, quantity, "CRC Handbook; Heywood"}},
      .source = sources,
      .note = {},
      .steps = {}};
  if (blend.methanol > 0) {
    out.formula = s + " = (1 - w - u) " + s + "_p + w " + s + "_e + u " + s + "_m,  w, u by mass";
    out.inputs.push_back(methanol_term(blend));
    out.inputs.push_back({"u", "methanol by mass", u, Quantity::fraction, "computed"});
    out.inputs.push_back({s + "_m", "methanol", methanol, quantity, "Heywood"});
  }
  return out;
}

}  // namespace

double ethanol_mass_fraction(const Blend& blend) {
  return blend.ethanol * ethanol_density_reference / mass(blend);
}

double methanol_mass_fraction(const Blend& blend) {
  return blend.methanol * methanol_density_reference / mass(blend);
}

double density(const Blend& blend, double temperature) {
  const double volume =
      blend.ethanol * (1 + ethanol_expansion * (temperature - ethanol_reference_temperature)) +
      blend.methanol * (1 + methanol_expansion * (temperature - ethanol_reference_temperature)) +
      blend.petrol() * (1 + petrol_expansion * (temperature - petrol_reference_temperature));
  return mass(blend) / volume;
}

double stoichiometric_ratio(const Blend& blend) { return stoichiometric_working(blend).value; }
double lower_heating_value(const Blend& blend) { return heating_working(blend).value; }

double demand_ratio(const Mixture& then, const Mixture& now) {
  const auto air = [](const Mixture& m) { return stoichiometric_ratio(m.fuel) * density(m.fuel) * m.lambda; };
  return air(then) / air(now);
}

Derivation demand_ratio_working(const Mixture& then, const Mixture& now) {
  const auto terms = [](const Mixture& m, const std::string& at, const std::string& of) {
    return std::vector<Term>{{"A" + at, "stoichiometric ratio " + of, stoichiometric_ratio(m.fuel),
                              Quantity::ratio_mass, "computed"},
                             {"rho" + at, "density " + of, density(m.fuel), Quantity::density, "computed"},
                             {"lambda" + at, "air ratio " + of, m.lambda, Quantity::plain, "entered"}};
  };
  Derivation out{
      .name = "Demand against the figure's",
      .value = demand_ratio(then, now),
      .quantity = Quantity::plain,
      .formula = "k = (A rho lambda)_f / (A rho lambda)_now",
      .inputs = terms(then, "_f", "of the figure's fuel"),
      .source = "mass balance at the same air",
      .note = "The engine's efficiency is taken as the same; alcohols often allow more ignition advance."};
  for (Term& t : terms(now, "", "of the fuel in the car")) out.inputs.push_back(std::move(t));
  return out;
}

double efficiency(const Blend& blend, double consumption) {
  return 1.0 / (consumption * lower_heating_value(blend));
}

Derivation density_working(const Blend& blend) {
  Derivation out{
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
  if (blend.methanol > 0) {
    out.formula =
        "rho = sum of x rho_x / sum of x (1 + b_x (T - T_x)),  x petrol, ethanol, methanol by volume";
    out.inputs.push_back(methanol_term(blend));
    out.inputs.push_back(
        {"rho_m", "methanol at 20 °C", methanol_density_reference, Quantity::density, "CRC Handbook"});
    out.inputs.push_back({"b_m", "expansion of methanol, 1/K", methanol_expansion * 1000, Quantity::plain,
                          "times 1000; CRC Handbook"});
  }
  return out;
}

Derivation stoichiometric_working(const Blend& blend) {
  return by_mass(blend, "Stoichiometric air/fuel ratio", "A", blend.petrol_air_ratio, ethanol_air_ratio,
                 methanol_air_ratio, Quantity::ratio_mass);
}

Derivation heating_working(const Blend& blend) {
  return by_mass(blend, "Lower heating value", "H", blend.petrol_heating, ethanol_heating, methanol_heating,
                 Quantity::heating);
}

}  // namespace uadze::fluid
