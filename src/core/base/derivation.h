#pragma once
// Show working: a number together with the formula, inputs and source it came from.
//
// Example:
//   const Derivation start{.name = "Least start fuel", .value = 0.030, .quantity = Quantity::volume,
//                          .formula = "V = V_clean + n c + V_sample",
//                          .inputs = {{"V_clean", "clean level", 0.005, Quantity::volume, "starvation map"}}};
//   EXPECT_EQ(start.inputs[0].symbol, "V_clean");
#include <string>
#include <vector>

#include "core/base/phrase.h"

namespace uadze {

struct Term {
  std::string symbol;
  std::string meaning;
  double value = 0.0;  ///< SI
  Quantity quantity = Quantity::plain;
  std::string source;  ///< "entered", "logged", "computed", or a citation
};

struct Derivation {
  std::string name;
  double value = 0.0;  ///< SI
  Quantity quantity = Quantity::plain;
  std::string formula;
  std::vector<Term> inputs;
  std::string source;             ///< where the formula is from
  Phrase note;                    ///< what it leaves out
  std::vector<Derivation> steps;  ///< how inputs that are themselves computed came about
};

/// The derivation as indented plain text, in the given units.
std::string render_text(const Derivation& derivation, const UnitSystem& units, int indent = 0);

}  // namespace uadze
