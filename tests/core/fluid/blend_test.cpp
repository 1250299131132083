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

TEST(Blend, PureMethanolAndAThirdOfEachByHand) {
  const Blend methanol{.methanol = 1.0};
  EXPECT_DOUBLE_EQ(density(methanol, 293.15), 792.0);
  EXPECT_DOUBLE_EQ(stoichiometric_ratio(methanol), 6.4);
  EXPECT_DOUBLE_EQ(lower_heating_value(methanol), 19.9e6);
  // By mass of 0.2 x 789.3 = 157.86 ethanol, 0.3 x 792 = 237.6 methanol, 0.5 x 745 = 372.5 petrol, 767.96
  // together.
  const Blend both{.ethanol = 0.2, .methanol = 0.3};
  EXPECT_NEAR(stoichiometric_ratio(both), (157.86 * 9.0 + 237.6 * 6.4 + 372.5 * 14.7) / 767.96, 1e-9);
  EXPECT_NEAR(lower_heating_value(both), (157.86 * 26.8e6 + 237.6 * 19.9e6 + 372.5 * 43e6) / 767.96, 1e-3);
}

/// The same air: (A rho lambda) of the one over the other, by hand.
TEST(DemandRatio, FollowsTheAir) {
  const Blend petrol{.temperature = 293.15}, ethanol{.ethanol = 1, .temperature = 293.15},
      methanol{.methanol = 1, .temperature = 293.15};
  const double petrol_density = 745 / (1 + 9.5e-4 * 5);
  EXPECT_NEAR(demand_ratio({petrol, 1}, {ethanol, 1}), 14.7 * petrol_density / (9.0 * 789.3), 1e-12);
  EXPECT_NEAR(demand_ratio({petrol, 1}, {ethanol, 1}), 1.53, 0.01) << "half as much again";
  EXPECT_NEAR(demand_ratio({petrol, 1}, {methanol, 1}), 14.7 * petrol_density / (6.4 * 792.0), 1e-12);
  EXPECT_NEAR(demand_ratio({petrol, 0.9}, {petrol, 0.8}), 9.0 / 8, 1e-12) << "richer takes more";
  Blend hot = petrol;
  hot.temperature = 333.15;
  EXPECT_NEAR(demand_ratio({petrol, 1}, {hot, 1}), density(petrol) / density(hot), 1e-12);
  // There and back, and by a way round, is nothing gained.
  EXPECT_NEAR(demand_ratio({petrol, 0.9}, {ethanol, 0.8}) * demand_ratio({ethanol, 0.8}, {methanol, 0.7}) *
                  demand_ratio({methanol, 0.7}, {petrol, 0.9}),
              1, 1e-12);
  EXPECT_EQ(demand_ratio_working({petrol, 1}, {ethanol, 1}).value, demand_ratio({petrol, 1}, {ethanol, 1}));
}

TEST(Efficiency, IsWhatTheHeatingValueLeaves) {
  // 250 g/kWh of a petrol of 43 MJ/kg: 3600 / (0.25 x 43000).
  EXPECT_NEAR(efficiency({}, 250e-3 / 3.6e6), 3600 / (0.25 * 43000), 1e-9);
  EXPECT_GT(efficiency({.ethanol = 1}, 250e-3 / 3.6e6), most_efficiency) << "a petrol's figure for ethanol";
}

}  // namespace
}  // namespace uadze::fluid
