#pragma once
// What a plane section of the fuel says of its two first modes of swing: of the box with the same second
// moment and the mean depth (Lamb, Hydrodynamics):
//   L_i = sqrt(12 J_i / A),  h = V/A,  mu_i = 12 h / (pi L_i tanh(pi h / L_i)):   exact for a level box.
//
// Example:
//   const tank::Solid box = make_solid(tank::Box{{0, 0, 0}, {0.6, 0.4, 0.3}});
//   const tank::Section level = section(box, {Vec3::UnitZ(), 0.1});
//   const slosh::SectionModes modes = slosh::section_modes(level, 0.024, Vec3::UnitZ(), box.size());
//   EXPECT_NEAR(modes.length[0], 0.6, 1e-12);
//   EXPECT_NEAR(modes.length[1], 0.4, 1e-12);
#include <array>

#include "core/tank/solid.h"

namespace uadze::slosh {

/// What the section says of the two first modes of a plane surface, along its principal axes.
struct SectionModes {
  std::array<Vec3, 2> axis;
  std::array<double, 2> second{};   ///< m4
  std::array<double, 2> length{};   ///< m, of the box with the same second moment
  std::array<double, 2> inertia{};  ///< mu
  std::array<double, 2> floor{};    ///< exp(-2 pi h/L): how little of the mode reaches the floor
};

/// `size`: of the whole space, m: second moments are not taken below a ten-thousandth of it.
SectionModes section_modes(const tank::Section& section, double volume, const Vec3& normal, double size);

}  // namespace uadze::slosh
