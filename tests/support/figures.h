#pragma once
// Figures that many tests share.
//
//   EXPECT_NEAR(period, 2 * pi * std::sqrt(length / g), 1e-9);
#include <numbers>

#include "core/base/vector.h"
#include "core/fluid/liquid.h"

namespace uadze::test {

inline constexpr double g = standard_gravity, pi = std::numbers::pi;
inline const Vec3 down(0, 0, -g);
inline constexpr double litre_per_hour = 1e-3 / 3600;
inline constexpr fluid::Liquid petrol{.density = 745, .viscosity = 0.45e-3, .vapour_pressure = 40e3};

}  // namespace uadze::test
