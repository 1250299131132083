#pragma once
// Channels made of others by one line, such as "(rail_pressure - manifold_pressure) / bar".
//
// Names in a line: each channel by the words of its name in small letters joined by "_" ("Fuel Press 2":
// fuel_press_2), and by its role (rail_pressure) where it has one; formulas that stand before. Channels with
// a role are in SI; the units bar, kPa, psi, g, kmh, mph, litre, l_h, deg, rpm stand for their size in SI.
// Operators, comparisons, ?: and functions are those of the expression library (muParser): abs, min, max,
// sqrt, exp, log, sin and their like.
//
// Example:
//   log::Log log = log::parse_log("Time [s],Fuel Press [bar],MAP [bar]\n0,3,0.4\n1,3,1.0\n2,3,1.0\n", "a.csv").value;
//   log::add_formula(log, {.name = "difference", .text = "(fuel_press - map) / bar", .unit = "bar"});
//   EXPECT_NEAR(log.channels.back().values[0], 2.6, 1e-6);
//   EXPECT_EQ(log::identifier("Fuel Press 2"), "fuel_press_2");
#include "core/log/log.h"

namespace uadze::log {

/// What a channel is called in a formula.
std::string identifier(std::string_view name);

/// Adds the channel; values that are no numbers (a root of less than nothing) stay such. Throws InputError,
/// placed "formula NAME", for a line that can not be read, a name that nothing has (those that there are are
/// listed), an empty name or one that a channel has.
void add_formula(Log& log, const Formula& formula);

/// All of a mapping's, in their order.
void add_formulas(LogFile& file, const std::vector<Formula>& formulas);

}  // namespace uadze::log
