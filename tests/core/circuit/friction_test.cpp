#include "core/circuit/friction.h"

#include <gtest/gtest.h>

#include <cmath>

namespace uadze::circuit {
namespace {

/// Colebrook (1939), solved by substitution: the check made apart from the code's own closed form.
double colebrook(double reynolds, double roughness) {
  double x = 6.0;  // 1/sqrt(f)
  for (int i = 0; i < 80; ++i) x = -2 * std::log10(roughness / 3.7 + 2.51 * x / reynolds);
  return 1 / (x * x);
}

TEST(Friction, LaminarIsExact) {
  for (double re : {1.0, 50.0, 800.0, 1999.0, 2000.0})
    EXPECT_DOUBLE_EQ(friction_factor(re, 1e-3).value, 64 / re);
}

// Published values of Colebrook's formula (Moody chart tables).
TEST(Friction, TablesOfColebrook) {
  EXPECT_NEAR(colebrook(1e5, 1e-3), 0.02217, 1e-5);
  EXPECT_NEAR(colebrook(1e4, 1e-2), 0.04313, 1e-5);
  EXPECT_NEAR(colebrook(1e6, 1e-4), 0.01344, 1e-5);
}

TEST(Friction, TurbulentIsColebrookWithinAHalfPerCent) {
  for (double re = 4000; re < 1e8; re *= 1.17)
    for (double rough : {0.0, 1e-6, 1e-4, 1e-3, 1e-2, 0.05})
      EXPECT_NEAR(friction_factor(re, rough).value / colebrook(re, rough), 1.0, 5e-4) << re << " " << rough;
}

TEST(Friction, JoinsInValueAndSlope) {
  for (double rough : {0.0, 1e-3, 0.03})
    for (double edge : {laminar_end, turbulent_start}) {
      const Friction below = friction_factor(edge * (1 - 1e-9), rough),
                     above = friction_factor(edge * (1 + 1e-9), rough);
      EXPECT_NEAR(below.value, above.value, 1e-7 * above.value);
      EXPECT_NEAR(below.slope, above.slope, 1e-5);
    }
}

TEST(Friction, SlopeIsTheDerivative) {
  for (double re = 300; re < 1e7; re *= 1.31)
    for (double rough : {1e-5, 1e-2}) {
      const double d = 1e-5;
      const double numeric =
          std::log(friction_factor(re * (1 + d), rough).value / friction_factor(re * (1 - d), rough).value) /
          (2 * d);
      EXPECT_NEAR(friction_factor(re, rough).slope, numeric, 2e-4) << re;
    }
}

// Crane Technical Paper 410: f_T of half-inch schedule 40 pipe (15.8 mm) is 0.027, of one inch (26.6 mm)
// 0.023.
TEST(Friction, FittingFrictionIsCranes) {
  EXPECT_NEAR(fitting_friction(15.8e-3), 0.027, 0.0015);
  EXPECT_NEAR(fitting_friction(26.6e-3), 0.023, 0.001);
}

}  // namespace
}  // namespace uadze::circuit
