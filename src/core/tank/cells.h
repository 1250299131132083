#pragma once
// Openings as small cells on their plate: what assembling a tank and the flow through it work with.
//
// Example:
//   const tank::Plate plate(Vec3::UnitX(), 0.1);
//   const tank::OpeningPart hole{.name = "hole", .form = tank::OpeningForm::round, .at = {0.1, 0, 0.1}, .diameter = 0.04};
//   const tank::Cells cells = cells_of(hole, plate);
//   EXPECT_FALSE(cells.list.empty());
#include <functional>

#include "core/tank/tank.h"

namespace uadze::tank {

/// m, how far to either side of a plate its spaces are looked for.
inline constexpr double beside_plate = 1e-3;

/// A plane with level and upward directions in it.
struct Plate {
  Plane plane;
  Vec3 level, up;

  Plate(const Vec3& normal, double offset);
  Vec3 onto(const Vec3& p) const { return p - (plane.normal.dot(p) - plane.offset) * plane.normal; }
};

/// Cells of one size over an opening.
struct Cells {
  std::vector<Cell> list;
  double half_level = 0.0, half_up = 0.0;  ///< m
};

Cells cells_of(const OpeningPart& part, const Plate& plate);

/// Cells on a grid over the part of a plane that `open` accepts, within the corners of a body; about twenty
/// on `area` (m2).
Cells grid_cells(const Plate& plate, const Solid& body, double area,
                 const std::function<bool(const Vec3&)>& open);

/// Makes the cells' areas sum to `area`.
void scale_to(Cells& cells, double area);

/// Whether a point lies within a polygon (crossing number).
bool within(const std::vector<Vec2>& polygon, const Vec2& p);

}  // namespace uadze::tank
