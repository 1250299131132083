#pragma once
// The part of a solid below a plane as triangles, closed by its free surface: what is drawn as fuel.
#include "core/tank/solid.h"

namespace uadze::tank {

struct ClippedMesh {
  std::vector<Vec3> wall;     ///< three corners a triangle, on the tank's walls
  std::vector<Vec3> surface;  ///< three corners a triangle, on the plane
};

ClippedMesh clip_mesh(const Solid& solid, const Plane& plane);

}  // namespace uadze::tank
