#pragma once
// What foam does to the spaces of a tank: it takes its share of the volume, keeps some fuel in its cells,
// slows what runs through it, and parts what runs through it from what runs beside it.
//
//        +---------------+:::::::::+    A foam with mostly upright sides is a space of its own: at 1 g fuel
//        |   free   ~~~~~ edge     |    runs through it at 0.1 to 0.3 m/s and beside it at 1 to 2 m/s, so the
//        | ~~~~~~~       |:::~~~~::|    two stand and swing apart. Its edge is open, and takes what it costs
//        +---------------+:::::::::+    to come in from, or go out to, the foam's middle.
//
// Low foam, with the fuel's surface over it or in it, parts nothing: the space's fuel is slowed by what of it
// lies in foam, for which foam is kept as points.
//
// Example:
//   tank::TankParts parts;
//   parts.shapes = {tank::Box{{0, 0, 0}, {0.6, 0.4, 0.3}}};
//   parts.foam = {{.name = "front", .shape = tank::Box{{0.3, 0, 0}, {0.6, 0.4, 0.3}}, .porosity = 0.97}};
//   const tank::Tank tank = assemble(parts).tank;
//   ASSERT_EQ(tank.spaces.size(), 2u) << "tank, front";
//   EXPECT_NEAR(tank.spaces[1].volume(), 0.036 * 0.97, 1e-12);
//   EXPECT_NEAR(tank.openings[0].area, 0.4 * 0.3, 1e-12);
//   EXPECT_LT(tank.openings[0].discharge, 0.2);
//   EXPECT_EQ(bodies_of(tank), (std::vector<int>{0, 0}));
#include "core/tank/cells.h"
#include "core/tank/clip.h"

namespace uadze::tank {

/// Where a foam ends within the tank: a face of its shape, and the cells of it that are free on both sides.
struct FoamEdge {
  Plate plate;  ///< its normal out of the foam
  Cells cells;
  double deep = 0.0;  ///< m2 of it that is open for a tenth of the tank: more than a gap along a wall
};

/// What a foam makes of a body.
struct FoamParting {
  std::vector<Solid> foam, free;
  std::vector<FoamEdge> edges;
};

/// The body parted at the foam's edges; nothing in it where the foam fills all but a fiftieth or lies in a
/// fiftieth of it, where less than seven tenths of its deep edge stand upright, and for a mesh.
FoamParting parted_by(const Foam& foam, const Solid& body);

/// Discharge coefficient of a foam's edge: 1/C^2 = 1/C0^2 + sum over its sides of 2 F L/9, with F the foam's
/// inertial drag there and L the space's volume over its edge's area. A third of what even flow to the far
/// wall would take (L/3): the rest stands in the fuel's own tilt. By two-phase calculations and by resolved
/// boxes with foam of 1e-8 to 2e-6 m2 (decision 55).
double edge_discharge(double sharp, const std::vector<std::pair<double, double>>& inertial_and_length);

/// The same with `drag` times what foam takes of it.
double edge_discharge(const Opening& edge, double drag);

/// Points, about, that a space with foam in a part of it is told by.
inline constexpr int foam_points = 1000;

/// `space.solid` of the spaces as they are without foam becomes what fuel can fill, and their drag is set.
/// The foams, by number, that lie in none of them.
std::vector<size_t> take_foam(std::vector<Space>& spaces, const std::vector<Foam>& foams);

/// Whether all of the space's fuel is in foam, where nothing swings.
inline bool is_in_foam(const Space& space) { return space.inertial > 0 && space.foamed.empty(); }

/// Of each space the first one that it is one body of fuel with: with no more than a foam's edge between.
std::vector<int> bodies_of(const Tank& tank);

}  // namespace uadze::tank
