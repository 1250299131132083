#pragma once
// Cutting solids up and laying them together, exactly.
//
// A cut is closed by caps on the very points where the plane meets the edges, so that two halves share them
// and volume is kept to rounding, whatever touches whatever: no faces have to be matched.
//
// Example:
//   const tank::Solid box = make_solid(tank::Box{{0, 0, 0}, {0.5, 0.4, 0.3}});
//   const tank::Solid lower = clipped(box, tank::Plane{Vec3::UnitZ(), 0.1});         // closed by its cap
//   const tank::Solid upper = tank::together({{&box, +1}, {&lower, -1}});                  // the rest
//   EXPECT_NEAR(lower.volume() + upper.volume(), box.volume(), 1e-15);
#include <utility>

#include "core/tank/solid.h"

namespace uadze::tank {

/// A convex body as the planes that bound it: inside is below all of them.
using ConvexPiece = std::vector<Plane>;

/// The part below the plane.
Solid clipped(const Solid& solid, const Plane& plane);

/// The part inside a body made of convex pieces that do not overlap.
Solid clipped(const Solid& solid, const std::vector<ConvexPiece>& pieces);

/// Solids added with weights: +1 joins, -1 cuts away what lies inside the others, less than 1 in size counts
/// in part.
Solid together(const std::vector<std::pair<const Solid*, double>>& parts);

/// The same sums from fewer triangles: what lies in one plane is gathered, what cancels is left out. Volumes,
/// moments and sections are those of the solid; its outlines are not, as corners no longer meet corners.
Solid compacted(const Solid& solid);

}  // namespace uadze::tank
