#include "core/base/phrase.h"

#include <gtest/gtest.h>

namespace uadze {
namespace {

TEST(Phrase, FollowsTheUnits) {
  const Phrase p{"{} instead of {}.", {{4.5e5, Quantity::pressure}, {30e-6, Quantity::flow}}};
  EXPECT_EQ(p.in(), "4.50 bar instead of 108 L/h.");
  EXPECT_EQ(p.in(UnitSystem::us()), "65.3 psi instead of 28.5 US gal/h.");
}

TEST(Phrase, BracesInAPartsNameAreItsOwn) {
  const std::vector<std::pair<double, Quantity>> value{{1e5, Quantity::pressure}};
  EXPECT_EQ((Phrase{"\"{main}\" gives {}", value}).in(), "\"{main}\" gives 1.00 bar");
  EXPECT_EQ((Phrase{"\"a { b\" gives {1}", value}).in(), "\"a { b\" gives 1.0 bar");
  EXPECT_EQ((Phrase{"\"{9\" gives {}", value}).in(), "\"{9\" gives 1.00 bar");
}

TEST(Phrase, TooFewOrTooManyValuesLoseNothing) {
  EXPECT_EQ((Phrase{"a {} b {}", {{1e5, Quantity::pressure}}}).in(), "a 1.00 bar b {}");
  EXPECT_EQ((Phrase{"plain", {{1e5, Quantity::pressure}}}).in(), "plain");
}

}  // namespace
}  // namespace uadze
