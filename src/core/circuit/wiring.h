#pragma once
// Wires: resistance by gauge, length and temperature; what they cost in voltage and heat.
//
// Copper 1.724e-8 ohm m at 20 °C and +0.393 % per K (IEC 60028); gauge n: d = 0.127 mm x 92^((36-n)/39)
// (ASTM B258).
//
// Example:
//   EXPECT_NEAR(circuit::wire_resistance(circuit::gauge_area(12), 3.0, 293.15), 15.6e-3, 0.1e-3);   // ohm
#include <optional>
#include <span>
#include <string>

namespace uadze::circuit {

/// m2 of copper of an American wire gauge.
double gauge_area(int gauge);
/// ohm of one wire.
double wire_resistance(double area, double length, double temperature);
/// "AWG 12", "12 AWG", "2.5 mm2", as m2; nothing if it is no gauge.
std::optional<double> parse_gauge(const std::string& text);
/// The text of an area: "AWG 12" where it is one, otherwise in mm2.
std::string gauge_text(double area);

/// Sizes to choose from, smallest first: AWG 20 to AWG 4, every second.
std::span<const int> usual_gauges();

/// A/m2: the rule of thumb for wires in a loom, 6 A/mm2.
inline constexpr double loom_density = 6e6;

/// The smallest of the usual gauges that loses no more than `drop` volts there and back (`length` each way)
/// and stays under the loom's current density; nothing if none does.
std::optional<int> smallest_gauge(double current, double length, double drop, double temperature);

}  // namespace uadze::circuit
