#pragma once
// What can be done with a shape (shapes.h): its solid, the convex bodies it is made of, what is wrong with
// it.
//
// Example:
//   using namespace uadze::tank;
//   const Shape shape = Cylinder{.start = {0, -0.3, 0.2}, .end = {0, 0.3, 0.2}, .radius = 0.15};
//   const Solid solid = make_solid(shape);
//   EXPECT_NEAR(solid.volume(), 3.14159265358979 * 0.15 * 0.15 * 0.6, 1e-9);
//   EXPECT_FALSE(convex_pieces(shape).empty());   // to cut others with
//
// Round shapes are made of flat facets; each facet ring has the circle's own area, so that volumes are those
// of the round shape (second moments within 1e-3).
#include <functional>
#include <memory>

#include "core/base/fault.h"
#include "core/tank/clip.h"
#include "core/tank/prism.h"

namespace uadze::tank {

/// Gives the solid of a mesh shape, as placed and mended; nothing where it was not read.
using MeshSource = std::function<std::shared_ptr<const Solid>(const MeshShape&)>;

/// What is wrong with a shape, each at its member.
Faults shape_faults(const Shape& shape);

/// Needs a shape without faults; a mesh that `meshes` does not give is an empty solid.
Solid make_solid(const Shape& shape, const MeshSource& meshes = {});

/// Convex bodies that together are the shape and do not overlap; none for a mesh.
std::vector<ConvexPiece> convex_pieces(const Shape& shape);

/// The saddle's outline across the car as a profile along x.
Prism saddle_prism(const Saddle& saddle);

/// The shape moved by a vector.
Shape moved(Shape shape, const Vec3& by);

}  // namespace uadze::tank
