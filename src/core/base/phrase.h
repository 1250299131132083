#pragma once
// A sentence with quantities in it, put into the reader's units only when it is shown.
//
// Example:
//   const Phrase p{"The rail stands at {} instead of {}.", {{4.6e5, Quantity::pressure}, {4e5, Quantity::pressure}}};
//   EXPECT_EQ(p.in(), "The rail stands at 4.60 bar instead of 4.00 bar.");
#include <string>
#include <utility>
#include <vector>

#include "core/base/units.h"

namespace uadze {

struct Phrase {
  std::string text;  ///< with {} where a value goes, or {2} for one with two decimals
  std::vector<std::pair<double, Quantity>> values;

  std::string in(const UnitSystem& units = {}) const;
};

}  // namespace uadze
