#include "core/circuit/element.h"

#include <gtest/gtest.h>

#include <cmath>
#include <numbers>

#include "core/circuit/circuit.h"
#include "core/circuit/friction.h"
#include "core/circuit/wiring.h"
#include "support/figures.h"

namespace uadze::circuit {
namespace {

using test::litre_per_hour;
using test::petrol;

TEST(Element, LaminarLineIsPoiseuilles) {
  const Line line{2.0, 8e-3, 1e-5};
  const double q = 5e-6;  // Re 1300
  const double expected = 128 * petrol.viscosity * line.length * q / (std::numbers::pi * std::pow(8e-3, 4));
  EXPECT_NEAR(drop(Element{line}, q, petrol).value, expected, 1e-9 * expected);
}

// A -8 hose of 11.1 mm bore, 3 m, four sharp elbows, entry and exit, 300 L/h of petrol, by hand:
//   v = 0.8612 m/s, Re = 15825, f (Colebrook, e/D 9.01e-4) = 0.029108, line f L/D rho v2/2 = 2173.2 Pa;
//   f_T (steel in 11.1 mm: e/D 4.117e-3) = 0.028657, K = 4 x 30 f_T + 0.5 + 1 = 4.9389, 1364 Pa.
TEST(Element, LineWithFittingsByHand) {
  const double bore = 11.1e-3, q = 300 * litre_per_hour;
  EXPECT_NEAR(velocity(q, bore), 0.8612, 1e-4);
  EXPECT_NEAR(reynolds(q, bore, petrol), 15825, 10);
  EXPECT_NEAR(drop(Element{Line{3.0, bore, 1e-5}}, q, petrol).value, 2173.2, 0.5);
  const double k = 4 * fitting_loss(FittingForm::bend_90, bore, bore) +
                   fitting_loss(FittingForm::entry, bore, bore) + fitting_loss(FittingForm::exit, bore, bore);
  EXPECT_NEAR(k, 4.9389, 1e-3);
  EXPECT_NEAR(drop(Element{loss(k, bore)}, q, petrol).value, k * 745 / 2 * 0.8612 * 0.8612, 1);
}

TEST(Element, BordaCarnotAndContraction) {
  const double wide = 10e-3, narrow = 5e-3;
  EXPECT_NEAR(fitting_loss(FittingForm::reducer, narrow, wide), std::pow(1 - 0.25, 2), 1e-12);
  // Contraction: 0.5 (1 - A2/A1) on the narrow side's velocity, which is 4 times that before it.
  EXPECT_NEAR(fitting_loss(FittingForm::reducer, wide, narrow), 0.5 * 0.75 * 16, 1e-12);
  EXPECT_NEAR(fitting_loss(FittingForm::reducer, wide, wide), 0, 1e-12);
}

TEST(Element, OrificeIsTorricellis) {
  const double bore = 3e-3, dp = 2e4;
  const double q = 0.61 * area(bore) * std::sqrt(2 * dp / petrol.density);
  EXPECT_NEAR(drop(Element{orifice(0.61, bore)}, q, petrol).value, dp, 1e-6 * dp);
}

TEST(Element, EveryDropRisesWithTheFlowAndItsSlopeIsTheDerivative) {
  const std::vector<Element> all{Line{1.0, 6e-3, 1e-5}, Resistance{1e8, 3e12}, loss(2.0, 7e-3),
                                 rated(8e-5, 2e4, 0.5)};
  for (const Element& e : all)
    for (double q = -2e-4; q < 2e-4; q += 3.1e-6) {
      const double d = 1e-9;
      const double up = drop(e, q + d, petrol).value, down = drop(e, q - d, petrol).value;
      EXPECT_GT(up, down) << q;
      EXPECT_NEAR(drop(e, q, petrol).slope / ((up - down) / (2 * d)), 1.0, 2e-3) << e.index() << " " << q;
      EXPECT_NEAR(drop(e, -q, petrol).value, -drop(e, q, petrol).value, 1e-9);
    }
}

TEST(Element, TwoSideBySideTakeAQuarterOfAQuadraticLoss) {
  EXPECT_NEAR(drop(Element{doubled(rated(5e-5, 2e4))}, 5e-5, petrol).value, 5e3 * 745 / 750, 1e-2);
}

// ASTM B258's table, ohm per km at 20 °C.
TEST(Wiring, GaugeTable) {
  const std::pair<int, double> table[] = {{8, 2.06},  {10, 3.28}, {12, 5.21},
                                          {14, 8.29}, {16, 13.2}, {18, 20.9}};
  for (const auto& [gauge, ohm] : table)
    EXPECT_NEAR(wire_resistance(gauge_area(gauge), 1000, 293.15), ohm, 0.005 * ohm) << gauge;
  EXPECT_NEAR(wire_resistance(gauge_area(12), 1, 343.15) / wire_resistance(gauge_area(12), 1, 293.15), 1.1965,
              1e-4);
}

TEST(Wiring, GaugesAreReadAndWritten) {
  EXPECT_NEAR(*parse_gauge("AWG 12"), gauge_area(12), 1e-15);
  EXPECT_NEAR(*parse_gauge("12awg"), gauge_area(12), 1e-15);
  EXPECT_NEAR(*parse_gauge("2.5 mm2"), 2.5e-6, 1e-15);
  for (const char* bad : {"", "AWG", "AWG 99", "AWG 1.5", "thick", "-2 mm2"})
    EXPECT_FALSE(parse_gauge(bad)) << bad;
  EXPECT_EQ(gauge_text(gauge_area(14)), "AWG 14");
  EXPECT_EQ(gauge_text(1.5e-6), "1.5 mm2");
}

TEST(Wiring, SmallestGaugeMeetsDropAndDensityAndTheNextSmallerDoesNot) {
  for (double current : {2.0, 8.0, 14.0, 20.0}) {
    const auto n = smallest_gauge(current, 2.5, 0.5, 313.15);
    ASSERT_TRUE(n);
    const auto meets = [&](int gauge) {
      return current * wire_resistance(gauge_area(gauge), 5.0, 313.15) <= 0.5 &&
             current / gauge_area(gauge) <= loom_density;
    };
    EXPECT_TRUE(meets(*n));
    if (*n < 20) {
      EXPECT_FALSE(meets(*n + 2));
    }
  }
  EXPECT_FALSE(smallest_gauge(200, 20, 0.1, 313.15));
}

}  // namespace
}  // namespace uadze::circuit
