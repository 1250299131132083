#pragma once
// The one place where SI values become what a person reads and types, and back.
//
// Example:
//   const UnitSystem units;                                    // litres, bar, l/h, °C, mm, km/h
//   EXPECT_EQ(format(0.0475, Quantity::volume, units), "47.5 L");
//   EXPECT_NEAR(*parse_quantity("12.5 gal", Quantity::volume, units), 0.0473176, 1e-6);   // m3
#include <optional>
#include <span>
#include <string>
#include <string_view>

namespace uadze {

enum class Quantity {
  plain,     ///< a pure number
  count,     ///< a whole number
  fraction,  ///< 0..1, shown in per cent
  length,    ///< m, a dimension of the car
  distance,  ///< m, along the lap
  area,      ///< m2
  volume,    ///< m3
  mass,      ///< kg
  duration,  ///< s
  flow,      ///< m3/s
  density,   ///< kg/m3
  speed,     ///< m/s
  acceleration,
  angle,          ///< rad
  temperature,    ///< K
  power,          ///< W
  pressure,       ///< Pa
  rotation,       ///< 1/s
  consumption,    ///< kg/J, brake specific
  heating,        ///< J/kg
  ratio_mass,     ///< kg/kg
  velocity,       ///< m/s, of fuel in a line
  viscosity,      ///< Pa s
  voltage,        ///< V
  current,        ///< A
  resistance,     ///< ohm
  wire_area,      ///< m2, of copper
  charge,         ///< C
  specific_heat,  ///< J/(kg K)
  heat_flow,      ///< W, of pumps, heat and losses
  mass_flow,      ///< kg/s
  turn_rate,      ///< rad/s, of the car about its own axes
};

enum class VolumeUnit { litre, us_gallon };
enum class FlowUnit { litre_per_hour, us_gallon_per_hour, pound_per_hour };
enum class PressureUnit { bar, psi };
enum class TemperatureUnit { celsius, fahrenheit };
enum class LengthUnit { millimetre, inch };
enum class SpeedUnit { kilometre_per_hour, mile_per_hour };
enum class MassUnit { kilogram, pound };

/// The units a person has chosen to see. `fuel_density` (kg/m3) serves lb/h only.
struct UnitSystem {
  VolumeUnit volume = VolumeUnit::litre;
  FlowUnit flow = FlowUnit::litre_per_hour;
  PressureUnit pressure = PressureUnit::bar;
  TemperatureUnit temperature = TemperatureUnit::celsius;
  LengthUnit length = LengthUnit::millimetre;
  SpeedUnit speed = SpeedUnit::kilometre_per_hour;
  MassUnit mass = MassUnit::kilogram;
  double fuel_density = 750.0;

  bool operator==(const UnitSystem&) const = default;
  static UnitSystem us();
};

/// A unit by name: SI = value * factor + offset.
struct Unit {
  std::string_view name;
  double factor;
  double offset = 0.0;
  int decimals = 1;

  double to_si(double value) const { return value * factor + offset; }
  double from_si(double value) const { return (value - offset) / factor; }
};

/// The unit in which `quantity` is shown.
Unit shown_unit(Quantity quantity, const UnitSystem& units);

/// Every unit in which `quantity` may be typed or named in a file's header.
std::span<const Unit> known_units(Quantity quantity);

/// The known unit of that name (letter case and blanks do not count), if there is one.
std::optional<Unit> find_unit(std::string_view name, Quantity quantity, const UnitSystem& units = {});

/// "47.5 L"; `decimals` below 0 takes the unit's own. Infinite: "no limit". Not a number: "no value".
std::string format(double si, Quantity quantity, const UnitSystem& units = {}, int decimals = -1);

/// With one digit more for volumes: for a working, where figures are added up.
std::string format_working(double si, Quantity quantity, const UnitSystem& units = {});

/// The figure alone, for a table whose header has the unit.
std::string format_figure(double si, Quantity quantity, const UnitSystem& units = {}, int decimals = -1);

/// Reads a number with or without a unit: "47.5", "47.5 L", "12 gal"; a number alone is in the shown unit.
/// The decimal sign is a point whatever the locale. Nothing if it can not be read.
std::optional<double> parse_quantity(std::string_view text, Quantity quantity, const UnitSystem& units = {});

/// A number by itself, with a decimal point whatever the locale; nothing but blanks may stand around it.
std::optional<double> parse_number(std::string_view text);

}  // namespace uadze
