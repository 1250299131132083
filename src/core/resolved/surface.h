#pragma once
// The fuel's surface as triangles, and as files that general viewers open.
//
// Between the cells' middles the depth under the surface is known (fuel.h); each cube of eight middles is cut
// into six tetrahedra, and each of those by the surface (Doi and Koide 1991). At walls the outermost middles
// are moved onto the wall, so that the surface reaches it.
//
// Example:
//   const tank::Tank tank = plain_tank(make_solid(tank::Box{{0, 0, 0}, {0.4, 0.2, 0.2}}));
//   const auto lattice = std::make_shared<const resolved::Lattice>(resolved::make_lattice(tank, {}, {.size = 0.02}));
//   resolved::Fuel fuel(tank, lattice, {});
//   fuel.fill({{Vec3::UnitZ(), 0.1}}, {0.4 * 0.2 * 0.1});
//   const auto surface = resolved::surface_of(fuel);
//   EXPECT_NEAR(area(surface), 0.4 * 0.2, 1e-3);
//   EXPECT_TRUE(resolved::obj_of(surface).starts_with("v "));
#include "core/resolved/fuel.h"

namespace uadze::resolved {

struct Surface {
  std::vector<Vec3> points;  ///< m
  std::vector<std::array<int, 3>> triangles;
  std::vector<Vec3> drops;  ///< m: particles where the fuel is too thin for a surface
};

Surface surface_of(const Fuel& fuel);
double area(const Surface& surface);  ///< m2

/// Wavefront OBJ, in m; the drops as points.
std::string obj_of(const Surface& surface);
/// VTK's unstructured grid as XML text, in m.
std::string vtu_of(const Surface& surface);

}  // namespace uadze::resolved
