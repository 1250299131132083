#include "core/base/phrase.h"

#include <gtest/gtest.h>

namespace uadze {
namespace {

TEST(Phrase, FollowsTheUnits) {
  const Phrase p{"{} instead of {}.", {{4.5e5, Quantity::pressure}, {30e-6, Quantity::flow}}};
  EXPECT_EQ(p.in(), "4.50 bar instead of 108 L/h.");
  EXPECT_EQ(p.in(UnitSystem::us()), "65.3 psi instead of 28.5 US gal/h.");
}

TEST(Phrase, TooFewOrTooManyValuesLoseNothing) {
  EXPECT_EQ((Phrase{"a {} b {}", {{1e5, Quantity::pressure}}}).in(), "a 1.00 bar b {}");
  EXPECT_EQ((Phrase{"plain", {{1e5, Quantity::pressure}}}).in(), "plain");
}

}  // namespace
}  // namespace uadze
