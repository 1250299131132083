#pragma once
// What is wrong at an operating point, and what to be careful with, each at its part and in plain words.
//
// Example:
//   circuit::Case c = test::plain_case();
//   c.circuit.mains[0].parts.front().wiring.fuse.clear();
//   EXPECT_FALSE(circuit::find_cautions(c).empty());
#include "core/circuit/circuit.h"

namespace uadze::circuit {

/// At a solved state: starved, overwhelmed, cavitation, wires, fuses, a surge tank that empties...
std::vector<Finding> find_trouble(const Case& c, const State& state);

inline constexpr const char* methanol_caution =
    "Methanol is toxic, through the skin too, and its flame is hardly seen in daylight: gloves, face shield, "
    "fresh air, water and an alcohol-resistant extinguisher at hand. It corrodes aluminium, zinc and "
    "magnesium "
    "and swells some rubbers: flush the whole circuit after use.";

/// Of the build as such, whatever the flow: hoses in fuel, alcohol and hoses, paper filters, unfused feeds,
/// lines in the cabin, foaming returns. Severity note: a caution.
std::vector<Finding> find_cautions(const Case& c);

/// One sentence for the whole: "The circuit carries this." or its worst trouble.
Phrase verdict_of(const State& state);

/// Whether its surge tank empties, by as much as is worth a word: a litre an hour.
inline bool surge_empties(const State& state) { return state.surge.draining > 0.3e-6; }
/// s, beyond which nobody asks how long a surge tank lasts to the second.
inline constexpr double seconds_told = 600;

}  // namespace uadze::circuit
