#pragma once
// A sentence with quantities in it, put into the reader's units only when it is shown.
//
// Example:
//   const Phrase p{"The rail stands at {} instead of {}.", {{4.6e5, Quantity::pressure}, {4e5, Quantity::pressure}}};
//   EXPECT_EQ(p.in(), "The rail stands at 4.60 bar instead of 4.00 bar.");
//   EXPECT_EQ((Phrase{"cut {0}", {{0.412, Quantity::length}}}.in(UnitSystem::us())), "cut 16.2 in");
#include <string>
#include <utility>
#include <vector>

#include "core/base/units.h"

namespace uadze {

struct Phrase {
  Phrase() = default;
  Phrase(std::string words, std::vector<std::pair<double, Quantity>> of = {})
      : text(std::move(words)), values(std::move(of)) {}
  Phrase(const char* words, std::vector<std::pair<double, Quantity>> of = {})
      : Phrase(std::string(words), std::move(of)) {}

  /// With {} where a value goes, or {2} for one with two decimals: of the metric unit, and in others so many
  /// more as they are larger.
  std::string text;
  std::vector<std::pair<double, Quantity>> values;

  bool empty() const { return text.empty(); }
  Phrase& operator+=(const Phrase& more) {
    text += more.text;
    values.insert(values.end(), more.values.begin(), more.values.end());
    return *this;
  }
  std::string in(const UnitSystem& units = {}) const;
};

}  // namespace uadze
