#include "core/fluid/blend.h"

#include <gtest/gtest.h>

namespace uadze::fluid {
namespace {

TEST(Blend, PureComponentsGiveTheirTableValues) {
  const Blend petrol{};
  EXPECT_DOUBLE_EQ(density(petrol, 288.15), 745.0);
  EXPECT_DOUBLE_EQ(stoichiometric_ratio(petrol), 14.7);
  EXPECT_DOUBLE_EQ(lower_heating_value(petrol), 43.0e6);
  const Blend ethanol{.ethanol = 1.0};
  EXPECT_DOUBLE_EQ(density(ethanol, 293.15), 789.3);
  EXPECT_DOUBLE_EQ(stoichiometric_ratio(ethanol), 9.0);
  EXPECT_DOUBLE_EQ(lower_heating_value(ethanol), 26.8e6);
}

TEST(Blend, TwentyPercentByHand) {
  // 0.2 x 789.3 = 157.86 and 0.8 x 745 = 596: w = 157.86 / 753.86 = 0.209402.
  const Blend e20{.ethanol = 0.2};
  EXPECT_NEAR(ethanol_mass_fraction(e20), 0.209402, 1e-6);
  EXPECT_NEAR(stoichiometric_ratio(e20), 14.7 - 0.209402 * 5.7, 1e-5);
  EXPECT_NEAR(lower_heating_value(e20), 43e6 - 0.209402 * 16.2e6, 20);
  // At 32 °C: 0.2 (1 + 1.09e-3 12) + 0.8 (1 + 9.5e-4 17) = 1.015536.
  EXPECT_NEAR(density(e20, 305.15), 753.86 / 1.015536, 1e-6);
}

TEST(Blend, DensityFallsWithTemperatureAndLiesBetweenTheComponents) {
  for (double e = 0; e <= 1.0; e += 0.1) {
    const Blend blend{.ethanol = e};
    EXPECT_GT(density(blend, 280), density(blend, 320));
    EXPECT_GE(density(blend, 291), 740);
    EXPECT_LE(density(blend, 291), 793);
  }
}

TEST(Blend, WorkingGivesTheNumberAndItsSources) {
  const Blend blend{.ethanol = 0.85, .temperature = 300};
  EXPECT_EQ(density_working(blend).value, density(blend));
  for (const Derivation& d :
       {density_working(blend), stoichiometric_working(blend), heating_working(blend)}) {
    EXPECT_FALSE(d.formula.empty());
    EXPECT_FALSE(d.source.empty());
    EXPECT_GE(d.inputs.size(), 3u);
  }
}

}  // namespace
}  // namespace uadze::fluid
