#include "core/base/units.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <charconv>
#include <cmath>
#include <numbers>

#include "core/base/vector.h"

namespace uadze {
namespace {

constexpr double us_gallon = 3.785411784e-3;  // m3, exact by definition
constexpr double pound = 0.45359237;          // kg, exact by definition
constexpr double inch = 0.0254;               // m, exact by definition
constexpr double hour = 3600.0;

constexpr std::array plain_units{Unit{"", 1, 0, 3}};
constexpr std::array count_units{Unit{"", 1, 0, 0}, Unit{"laps", 1, 0, 0}};
constexpr std::array fraction_units{Unit{"%", 0.01, 0, 1}, Unit{"1", 1.0, 0, 3}};
constexpr std::array length_units{Unit{"mm", 1e-3, 0, 1}, Unit{"in", inch, 0, 2}, Unit{"cm", 1e-2},
                                  Unit{"m", 1.0, 0, 3}, Unit{"ft", 12 * inch, 0, 3}};
constexpr std::array distance_units{Unit{"m", 1.0, 0, 0}, Unit{"ft", 12 * inch, 0, 0},
                                    Unit{"km", 1000.0, 0, 3}, Unit{"mi", 1609.344, 0, 3}};
constexpr std::array area_units{Unit{"cm2", 1e-4, 0, 1}, Unit{"in2", inch* inch, 0, 2}, Unit{"m2", 1.0}};
constexpr std::array volume_units{Unit{"L", 1e-3, 0, 1},     Unit{"US gal", us_gallon, 0, 2},
                                  Unit{"gal", us_gallon},    Unit{"ml", 1e-6, 0, 0},
                                  Unit{"cm3", 1e-6, 0, 0},   Unit{"cc", 1e-6, 0, 0},
                                  Unit{"litre", 1e-3, 0, 1}, Unit{"m3", 1.0, 0, 4}};
constexpr std::array mass_flow_units{Unit{"kg/h", 1 / hour, 0, 1}, Unit{"lb/h", pound / hour, 0, 1},
                                     Unit{"g/s", 1e-3, 0, 2}, Unit{"kg/s", 1.0, 0, 5}};
constexpr std::array mass_units{Unit{"kg", 1.0, 0, 1}, Unit{"lb", pound, 0, 1}, Unit{"g", 1e-3, 0, 0}};
constexpr std::array duration_units{Unit{"s", 1.0, 0, 1}, Unit{"ms", 1e-3, 0, 0}, Unit{"us", 1e-6, 0, 0},
                                    Unit{"min", 60.0}, Unit{"h", hour, 0, 2}};
constexpr std::array flow_units{Unit{"L/h", 1e-3 / hour, 0, 0},
                                Unit{"US gal/h", us_gallon / hour, 0, 1},
                                Unit{"gal/h", us_gallon / hour},
                                Unit{"L/min", 1e-3 / 60},
                                Unit{"ml/s", 1e-6},
                                Unit{"cc/min", 1e-6 / 60},
                                Unit{"ml/min", 1e-6 / 60},
                                Unit{"m3/s", 1.0, 0, 6}};
constexpr std::array density_units{Unit{"kg/m3", 1.0, 0, 1}, Unit{"kg/L", 1000.0, 0, 3},
                                   Unit{"g/cm3", 1000.0, 0, 3}, Unit{"lb/US gal", pound / us_gallon, 0, 2}};
constexpr std::array speed_units{Unit{"km/h", 1 / 3.6, 0, 0}, Unit{"mph", 1609.344 / hour, 0, 0},
                                 Unit{"m/s", 1.0}, Unit{"kn", 1852.0 / hour, 0, 0}};
constexpr std::array turn_rate_units{Unit{"deg/s", std::numbers::pi / 180, 0, 1}, Unit{"rad/s", 1.0, 0, 3}};
constexpr std::array acceleration_units{Unit{"g", standard_gravity, 0, 2}, Unit{"m/s2", 1.0, 0, 2},
                                        Unit{"m/s^2", 1.0, 0, 2}, Unit{"mg", standard_gravity * 1e-3, 0, 0}};
constexpr std::array angle_units{Unit{"°", std::numbers::pi / 180, 0, 1}, Unit{"deg", std::numbers::pi / 180},
                                 Unit{"rad", 1.0, 0, 3}};
constexpr std::array temperature_units{Unit{"°C", 1.0, 273.15, 1}, Unit{"C", 1.0, 273.15, 1},
                                       Unit{"°F", 5.0 / 9, 273.15 - 32 * 5.0 / 9, 0},
                                       Unit{"F", 5.0 / 9, 273.15 - 32 * 5.0 / 9, 0}, Unit{"K", 1.0}};
constexpr std::array power_units{Unit{"kW", 1000.0, 0, 0}, Unit{"hp", 745.6998715822702, 0, 0},
                                 Unit{"W", 1.0, 0, 0}};
constexpr std::array pressure_units{Unit{"bar", 1e5, 0, 2},
                                    Unit{"psi", pound* standard_gravity / (inch * inch)},
                                    Unit{"kPa", 1e3},
                                    Unit{"Pa", 1.0, 0, 0},
                                    Unit{"mbar", 1e2, 0, 0},
                                    Unit{"MPa", 1e6, 0, 3},
                                    Unit{"inHg", 3386.389, 0, 1}};
constexpr std::array rotation_units{Unit{"1/min", 1.0 / 60, 0, 0}, Unit{"rpm", 1.0 / 60, 0, 0},
                                    Unit{"1/s", 1.0}};
constexpr std::array consumption_units{Unit{"g/kWh", 1e-3 / 3.6e6, 0, 0},
                                       Unit{"lb/hph", pound / (745.6998715822702 * hour), 0, 3}};
constexpr std::array heating_units{Unit{"MJ/kg", 1e6, 0, 2}};
constexpr std::array ratio_units{Unit{"kg/kg", 1.0, 0, 2}};
constexpr std::array velocity_units{Unit{"m/s", 1.0, 0, 2}, Unit{"ft/s", 12 * inch, 0, 1}};
constexpr std::array viscosity_units{Unit{"mPa s", 1e-3, 0, 3}, Unit{"cP", 1e-3, 0, 3}, Unit{"Pa s", 1.0}};
constexpr std::array voltage_units{Unit{"V", 1.0, 0, 2}, Unit{"mV", 1e-3, 0, 0}};
constexpr std::array current_units{Unit{"A", 1.0, 0, 1}, Unit{"mA", 1e-3, 0, 0}};
constexpr std::array resistance_units{Unit{"mΩ", 1e-3, 0, 1}, Unit{"mohm", 1e-3}, Unit{"ohm", 1.0, 0, 4}};
constexpr std::array wire_area_units{Unit{"mm2", 1e-6, 0, 2}};
constexpr std::array charge_units{Unit{"Ah", 3600.0, 0, 1}};
constexpr std::array heat_flow_units{Unit{"W", 1.0, 0, 0}, Unit{"kW", 1e3, 0, 2}};
constexpr std::array specific_heat_units{Unit{"kJ/(kg K)", 1e3, 0, 2}};

char lower(char c) { return c >= 'A' && c <= 'Z' ? static_cast<char>(c - 'A' + 'a') : c; }

std::string squeezed(std::string_view text) {
  std::string out;
  for (char c : text)
    if (c != ' ' && c != '\t') out += lower(c);
  return out;
}

Unit pound_per_hour(double density) { return {"lb/h", pound / hour / density, 0, 0}; }

}  // namespace

UnitSystem UnitSystem::us() {
  return {VolumeUnit::us_gallon, FlowUnit::us_gallon_per_hour, PressureUnit::psi, TemperatureUnit::fahrenheit,
          LengthUnit::inch,      SpeedUnit::mile_per_hour,     MassUnit::pound,   750.0};
}

std::span<const Unit> known_units(Quantity quantity) {
  switch (quantity) {
    case Quantity::plain:
      return plain_units;
    case Quantity::count:
      return count_units;
    case Quantity::fraction:
      return fraction_units;
    case Quantity::length:
      return length_units;
    case Quantity::distance:
      return distance_units;
    case Quantity::area:
      return area_units;
    case Quantity::volume:
      return volume_units;
    case Quantity::mass:
      return mass_units;
    case Quantity::duration:
      return duration_units;
    case Quantity::flow:
      return flow_units;
    case Quantity::density:
      return density_units;
    case Quantity::speed:
      return speed_units;
    case Quantity::acceleration:
      return acceleration_units;
    case Quantity::angle:
      return angle_units;
    case Quantity::temperature:
      return temperature_units;
    case Quantity::power:
      return power_units;
    case Quantity::pressure:
      return pressure_units;
    case Quantity::rotation:
      return rotation_units;
    case Quantity::consumption:
      return consumption_units;
    case Quantity::heating:
      return heating_units;
    case Quantity::ratio_mass:
      return ratio_units;
    case Quantity::velocity:
      return velocity_units;
    case Quantity::viscosity:
      return viscosity_units;
    case Quantity::voltage:
      return voltage_units;
    case Quantity::current:
      return current_units;
    case Quantity::resistance:
      return resistance_units;
    case Quantity::wire_area:
      return wire_area_units;
    case Quantity::charge:
      return charge_units;
    case Quantity::specific_heat:
      return specific_heat_units;
    case Quantity::heat_flow:
      return heat_flow_units;
    case Quantity::mass_flow:
      return mass_flow_units;
    case Quantity::turn_rate:
      return turn_rate_units;
  }
  return plain_units;
}

Unit shown_unit(Quantity quantity, const UnitSystem& units) {
  const auto all = known_units(quantity);
  const auto pick = [&](bool second) { return all[second ? 1 : 0]; };
  switch (quantity) {
    case Quantity::volume:
      return pick(units.volume == VolumeUnit::us_gallon);
    case Quantity::flow:
      if (units.flow == FlowUnit::pound_per_hour) return pound_per_hour(units.fuel_density);
      return pick(units.flow == FlowUnit::us_gallon_per_hour);
    case Quantity::pressure:
      return pick(units.pressure == PressureUnit::psi);
    case Quantity::temperature:
      return all[units.temperature == TemperatureUnit::fahrenheit ? 2 : 0];
    case Quantity::length:
    case Quantity::area:
      return pick(units.length == LengthUnit::inch);
    case Quantity::distance:
      return pick(units.speed == SpeedUnit::mile_per_hour);
    case Quantity::speed:
    case Quantity::velocity:
      return pick(units.speed == SpeedUnit::mile_per_hour);
    case Quantity::mass:
    case Quantity::mass_flow:
    case Quantity::consumption:
      return pick(units.mass == MassUnit::pound);
    case Quantity::density:
      return all[units.mass == MassUnit::pound ? 3 : 0];
    default:
      return all[0];
  }
}

std::optional<Unit> find_unit(std::string_view name, Quantity quantity, const UnitSystem& units) {
  const std::string wanted = squeezed(name);
  for (const Unit& unit : known_units(quantity))
    if (squeezed(unit.name) == wanted) return unit;
  if (quantity == Quantity::flow && wanted == "lb/h") return pound_per_hour(units.fuel_density);
  return std::nullopt;
}

std::string format_figure(double si, Quantity quantity, const UnitSystem& units, int decimals) {
  if (std::isnan(si)) return "no value";
  if (std::isinf(si)) return "no limit";
  const Unit unit = shown_unit(quantity, units);
  // Under a second the hundredths count.
  const bool brief = quantity == Quantity::duration && std::abs(si) < 1 && si != 0;
  const int places = decimals >= 0 ? decimals : brief ? std::max(unit.decimals, 2) : unit.decimals;
  std::string out = fmt::format("{:.{}f}", unit.from_si(si), places);
  // A negative zero would only puzzle the reader.
  if (out[0] == '-' && out.find_first_not_of("-0.") == std::string::npos) out.erase(0, 1);
  return out;
}

std::string format(double si, Quantity quantity, const UnitSystem& units, int decimals) {
  std::string figure = format_figure(si, quantity, units, decimals);
  const Unit unit = shown_unit(quantity, units);
  if (!std::isfinite(si) || unit.name.empty()) return figure;
  return figure + (unit.name == "°" ? "" : " ") + std::string(unit.name);
}

std::string format_working(double si, Quantity quantity, const UnitSystem& units) {
  const int more = quantity == Quantity::volume ? shown_unit(quantity, units).decimals + 1 : -1;
  return format(si, quantity, units, more);
}

std::optional<double> parse_number(std::string_view text) {
  while (!text.empty() && (text.front() == ' ' || text.front() == '\t')) text.remove_prefix(1);
  while (!text.empty() && (text.back() == ' ' || text.back() == '\t')) text.remove_suffix(1);
  if (text.size() > 1 && text.front() == '+' && text[1] != '-') text.remove_prefix(1);
  double value = 0;
  const auto [end, error] = std::from_chars(text.data(), text.data() + text.size(), value);
  if (error != std::errc{} || end != text.data() + text.size() || !std::isfinite(value)) return std::nullopt;
  return value;
}

std::optional<double> parse_quantity(std::string_view text, Quantity quantity, const UnitSystem& units) {
  const auto blank = [](char c) { return c == ' ' || c == '\t'; };
  while (!text.empty() && blank(text.front())) text.remove_prefix(1);
  while (!text.empty() && blank(text.back())) text.remove_suffix(1);
  // The number is the longest head that reads as one; the rest has to be a unit.
  for (size_t length = text.size(); length > 0; --length) {
    const auto number = parse_number(text.substr(0, length));
    if (!number) continue;
    const std::string_view rest = text.substr(length);
    if (squeezed(rest).empty()) return shown_unit(quantity, units).to_si(*number);
    if (const auto unit = find_unit(rest, quantity, units)) return unit->to_si(*number);
    return std::nullopt;
  }
  return std::nullopt;
}

}  // namespace uadze
