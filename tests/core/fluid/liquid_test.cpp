#include "core/fluid/liquid.h"

#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include "core/base/message.h"

namespace uadze::fluid {
namespace {

constexpr double psi = 6894.757293168;
double fahrenheit(double f) { return (f - 32) * 5 / 9 + 273.15; }

// US EPA AP-42's own points for RVP 9.
TEST(Liquid, PetrolVapourPressureMeetsItsCheckPoints) {
  EXPECT_NEAR(petrol_vapour_pressure(9 * psi, fahrenheit(60)) / psi, 4.61, 0.01);
  EXPECT_NEAR(petrol_vapour_pressure(9 * psi, fahrenheit(100)) / psi, 9.58, 0.015);
  EXPECT_NEAR(petrol_vapour_pressure(9 * psi, fahrenheit(140)) / psi, 18.05, 0.02);
}

TEST(Liquid, EthanolByAntoine) {
  EXPECT_NEAR(ethanol_vapour_pressure(293.15), 5.83e3, 20);
  EXPECT_NEAR(ethanol_vapour_pressure(273.15 + 37.8), 15.9e3, 60);
  EXPECT_NEAR(ethanol_vapour_pressure(273.15 + 78.3), 101.3e3, 500);
}

TEST(Liquid, BlendsRiseAtFivePerCentAndFallAtEightyFive) {
  const double t = 273.15 + 37.8;
  // The correlation is 6 % over the Reid pressure at 100 °F; the blend's points hold against its own value.
  const double neat = vapour_pressure({.ethanol = 0}, t), scale = 60e3 / neat;
  const auto at = [&](double e) { return vapour_pressure({.ethanol = e}, t); };
  EXPECT_NEAR((at(0.05) - neat) * scale, 6e3, 2e3);
  EXPECT_NEAR((at(0.10) - neat) * scale, 7e3, 2e3);
  EXPECT_NEAR(at(0.40) * scale, 60e3, 3e3);
  EXPECT_GT(at(0.85) * scale, 35e3);
  EXPECT_LT(at(0.85) * scale, 45e3);
  EXPECT_NEAR(at(1.0), ethanol_vapour_pressure(t), 1);
}

TEST(Liquid, Viscosity) {
  EXPECT_NEAR(viscosity({.ethanol = 0}, 293.15), 0.45e-3, 1e-9);
  EXPECT_NEAR(viscosity({.ethanol = 1}, 293.15), 1.20e-3, 1e-9);
  // CRC Handbook: ethanol 1.786 mPa s at 0 °C, 0.694 at 50, 0.476 at 75.
  EXPECT_NEAR(viscosity({.ethanol = 1}, 273.15), 1.786e-3, 0.07e-3);
  EXPECT_NEAR(viscosity({.ethanol = 1}, 323.15), 0.694e-3, 0.02e-3);
  EXPECT_NEAR(viscosity({.ethanol = 1}, 348.15), 0.476e-3, 0.02e-3);
}

TEST(Liquid, MethanolByItsTables) {
  EXPECT_NEAR(methanol_vapour_pressure(273.15 + 64.7), 101.3e3, 1.5e3) << "boils at 64.7 °C";
  EXPECT_NEAR(methanol_vapour_pressure(273.15 + 37.8), 32e3, 0.6e3);
  EXPECT_NEAR(methanol_vapour_pressure(293.15), 12.9e3, 0.3e3);
  // CRC Handbook: 0.793 mPa s at 0 °C, 0.544 at 25, 0.403 at 50.
  for (const auto& [celsius, wanted] : {std::pair{0.0, 0.793e-3}, {25.0, 0.544e-3}, {50.0, 0.403e-3}})
    EXPECT_NEAR(viscosity({.methanol = 1}, 273.15 + celsius), wanted, 0.02 * wanted);
  const double t = 273.15 + 37.8, neat = vapour_pressure({}, t), scale = 60e3 / neat;
  for (double m : {0.05, 0.10, 0.15})
    EXPECT_NEAR((vapour_pressure({.methanol = m}, t) - neat) * scale, 22e3, 5e3) << m;
  EXPECT_NEAR(vapour_pressure({.methanol = 1}, t), methanol_vapour_pressure(t), 1);
  EXPECT_NEAR(heat_capacity({.methanol = 1}), 2530, 1e-9);
}

TEST(WaterShift, ReadsContentAsARange) {
  const Content c = water_shift_content({10e-6, 90e-6, 10e-6 + 0.70 * 90e-6});
  EXPECT_NEAR(c.low, 0.71, 1e-12);
  EXPECT_NEAR(c.middle, 0.72, 1e-12);
  EXPECT_NEAR(c.high, 0.73, 1e-12);
  EXPECT_EQ(water_shift_content({10e-6, 90e-6, 10e-6}).high, 0) << "no rise, no ethanol";
  EXPECT_EQ(water_shift_content({10e-6, 90e-6, 100e-6}).high, 1);
}

TEST(WaterShift, ImpossibleReadingsAreNamed) {
  const auto place = [](WaterShift tube) {
    try {
      water_shift_content(tube);
    } catch (const InputError& error) {
      return error.messages().front().place;
    }
    return std::string("accepted");
  };
  EXPECT_EQ(place({10e-6, 90e-6, 9e-6}), "boundary");
  EXPECT_EQ(place({10e-6, 90e-6, 101e-6}), "boundary");
  EXPECT_EQ(place({10e-6, 0, 10e-6}), "fuel");
  EXPECT_EQ(place({0, 90e-6, 10e-6}), "water");
}

TEST(Liquid, EveryBlendBoilsEarlierWhenHotterAndIsThinner) {
  for (double e = 0; e <= 1.0; e += 0.05)
    for (double t = 255; t < 350; t += 5) {
      const Blend b{.ethanol = e};
      const Liquid cool = liquid(b, t), warm = liquid(b, t + 5);
      EXPECT_GT(warm.vapour_pressure, cool.vapour_pressure) << e << " " << t;
      EXPECT_LT(warm.viscosity, cool.viscosity);
      EXPECT_LT(warm.density, cool.density);
      EXPECT_GE(cool.flash_range, 5e3);
    }
}

TEST(Liquid, MoreAlcoholTakesMoreFuel) {
  for (const bool methanol : {false, true}) {
    double before = 0.99;
    for (double part = 0; part <= 1.0; part += 0.1) {
      const Blend now{.ethanol = methanol ? 0.0 : part, .methanol = methanol ? part : 0.0};
      const double k = demand_ratio({.fuel = {}}, {.fuel = now});
      EXPECT_GT(k, before);
      before = k;
    }
  }
}

}  // namespace
}  // namespace uadze::fluid
