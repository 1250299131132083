#pragma once
// The drag of foam that fills a part of a space, on the fuel as it lies.
//
// Along each of the section's axes the mean of the foam's drag over the wet part, by the mode's flow
// U ~ 1 - (2x/L)^2 to the power that the drag's work has: squared for Darcy's, cubed for Forchheimer's. Low
// foam slows a low level throughout; foam in the middle, where the flow is, slows more than at an end.
//
// Limit: all of the fuel is slowed alike. Foam with upright sides is a space of its own instead (tank.h).
//
// Example:
//   tank::TankParts parts;
//   parts.shapes = {tank::Box{{0, 0, 0}, {0.6, 0.4, 0.3}}};
//   parts.foam = {{.name = "low", .shape = tank::Box{{0, 0, 0}, {0.6, 0.4, 0.1}}, .permeability = 2e-7}};
//   const tank::Space space = assemble(parts).tank.spaces[0];
//   const tank::Plane level{Vec3::UnitZ(), 0.1};
//   const tank::Section section = tank::section(space.solid, level);
//   const auto modes = slosh::section_modes(section, 0.0233, Vec3::UnitZ(), space.solid.size());
//   const auto drag = slosh::foam_drag(space.foamed, level, section.centroid, modes);
//   EXPECT_NEAR(drag[0].inertial, parts.foam[0].inertial(), 0.02 * parts.foam[0].inertial());
//   EXPECT_NEAR(space.inertial, parts.foam[0].inertial() / 3, 1e-9) << "the whole space's mean";
#include <array>
#include <vector>

#include "core/slosh/section_modes.h"
#include "core/tank/tank.h"

namespace uadze::slosh {

struct FoamDrag {
  double darcy = 0.0, inertial = 0.0;  ///< 1/m2, 1/m: see tank::Foam
};

/// Along each axis of the section with this middle; none where nothing is wet.
std::array<FoamDrag, 2> foam_drag(const std::vector<tank::FoamPoint>& points, const tank::Plane& surface,
                                  const Vec3& middle, const SectionModes& modes);

}  // namespace uadze::slosh
