#pragma once
// A tank as a polygon pushed along one axis: box, wedge, sloped front.
//
//   z                 axis = y: the profile is drawn in (x, z), looking along +y from the right-hand side
//   |  ________       axis = x: profile in (y, z)
//   | /        |      axis = z: profile in (x, y)
//   |/_________|
//   +----------- x    from..to: where along the axis the solid begins and ends
//
// Example:
//   const tank::Prism box{.axis = tank::Axis::y, .profile = {{0, 0}, {0.5, 0}, {0.5, 0.3}, {0, 0.3}}, .from = -0.4, .to = 0.4};
//   EXPECT_NEAR(make_solid(box).volume(), 0.5 * 0.3 * 0.8, 1e-15);
#include <string>
#include <vector>

#include "core/tank/shapes.h"
#include "core/tank/solid.h"

namespace uadze::tank {

/// The vehicle axes in which a profile along `axis` is drawn: {first, second}.
std::array<int, 2> profile_axes(Axis axis);

/// What is wrong with a profile, and at which of its points.
struct ProfileFault {
  int point = -1;  ///< index into the profile; -1: the whole
  std::string expected;
  std::string found;
};

/// Sides are held against each other: the time to do so grows with a power of their number.
inline constexpr int most_profile_points = 500;

/// Every fault of the profile: too few or too many points, points that coincide, sides that cross, no area.
std::vector<ProfileFault> profile_faults(const std::vector<Vec2>& profile);

/// Signed area of a polygon, m2; positive if anticlockwise.
double polygon_area(const std::vector<Vec2>& polygon);

/// Triangles of a simple polygon by ear clipping (Meisters 1975, Polygons have ears): indices into it,
/// anticlockwise.
std::vector<Triangle> triangulate(const std::vector<Vec2>& polygon);

/// The solid. Needs a profile without faults and from < to.
Solid make_solid(const Prism& prism);

}  // namespace uadze::tank
