#pragma once
// The tank as engineering objects: spaces that each hold one body of fuel, and the openings between them.
//
//        vent
//    +----o-----------+--------------+     spaces: front, rear, collector
//    |                |  gap over    |     openings: gap (front-rear), flap (rear to collector),
//    |   rear         |              |               collector's open top
//    |   +-------+    |   front      |
//    |  flap > o |    |              |
//    +---+-------+----+--------------+
//
// Spaces: the shapes' union less the bodies; collectors are cut out of it, then baffles cut the rest, each in
// the order given. A saddle is parted by open sections over both walls of its tunnel: fuel that leans away
// from a wall lies beside the tunnel and not on it, which one surface over both could not say. Foam takes its
// share of the volume by weight, and parts a space where its side stands upright (foam.h). All volumes are
// exact (clip.h).
//
// Example:
//   tank::TankParts parts;
//   parts.shapes = {tank::Saddle{{-0.2, -0.4, 0}, {0.2, 0.4, 0.3}, -0.1, 0.1, 0.2}};
//   const tank::Assembly made = assemble(parts);
//   EXPECT_TRUE(made.faults.empty());
//   EXPECT_EQ(made.tank.spaces.size(), 3u) << "right, over the tunnel, left";
//   EXPECT_EQ(made.tank.openings.size(), 2u);
#include <cmath>
#include <string>
#include <vector>

#include "core/base/fault.h"
#include "core/tank/parts.h"
#include "core/tank/pickup.h"
#include "core/tank/shape.h"

namespace uadze::tank {

/// What stands in a space and breaks its swing: a box along the axes round a collector or a body.
struct Obstacle {
  Vec3 middle = Vec3::Zero(), half = Vec3::Zero();  ///< m
};

/// A place in a space and what foam's drag is there; nought outside foam.
struct FoamPoint {
  Vec3 at = Vec3::Zero();  ///< m
  double darcy = 0.0, inertial = 0.0;
};

struct Space {
  std::string name;
  Solid body;                     ///< its walls, without foam: for drawing, cutting and finding points
  Solid solid;                    ///< what fuel can fill: weighted by foam's porosity, in few triangles
  bool vented = false;            ///< open to the air
  double darcy = 0.0;             ///< 1/m2: foam's drag by Darcy, mean over the space; 0 without foam
  double inertial = 0.0;          ///< 1/m: by Forchheimer, likewise
  std::vector<FoamPoint> foamed;  ///< of even density; none where foam is everywhere or nowhere
  double crowded = 0.0;           ///< share of its section that is taken all over it, see Collector
  std::vector<Obstacle> obstacles;
  double foam_keeps = 0.0;  ///< m3 that foam's cells hold back when the space has run empty
  double volume() const { return solid.volume(); }
};

/// A small part of an opening: where its middle is and how much of the area it stands for.
struct Cell {
  Vec3 at = Vec3::Zero();
  double area = 0.0;  ///< m2
};

struct Opening {
  std::string name;
  std::string part;      ///< of the baffle or collector that it is in
  int from = 0, to = 0;  ///< spaces, in the plate's normal's direction
  Vec3 normal = Vec3::UnitX();
  double area = 0.0;  ///< m2
  double discharge = 0.62;
  Passes passes = Passes::both;
  Door door = Door::none;
  bool edge = false;  ///< of a foam: no wall is there
  std::vector<Cell> cells;
  /// m, from a cell's middle to its sides, along the plate: level and up.
  Vec3 half_level = Vec3::Zero(), half_up = Vec3::Zero();
  /// m, how far a cell reaches along a direction from its middle.
  double half_along(const Vec3& n) const { return std::abs(n.dot(half_level)) + std::abs(n.dot(half_up)); }
};

struct Tank {
  Solid whole;  ///< all spaces
  std::vector<Space> spaces;
  std::vector<Opening> openings;
  std::vector<int> pickup_space, return_space;  ///< of each pickup and return; -1: outside
  std::vector<Solid> walls;                     ///< of each shape, for drawing
  std::vector<Solid> boxes;                     ///< what each collector and then each body takes of the tank
  /// Outlines of each baffle's plate, without its openings, for drawing.
  std::vector<std::vector<std::vector<Vec3>>> plates;

  double volume() const { return whole.volume(); }
  bool contains(const Vec3& point) const { return space_at(point) >= 0; }
  Vec3 lower_corner() const { return whole.lower_corner(); }
  Vec3 upper_corner() const { return whole.upper_corner(); }
  /// The space that holds the point; -1 if none does.
  int space_at(const Vec3& point) const;
};

/// A tank of one space: for tests and simple cases.
Tank plain_tank(Solid solid);

struct Assembly {
  std::shared_ptr<const TankParts> parts;  ///< what it was made of; the faults' places are members of it
  Tank tank;
  Faults faults;  ///< errors and warnings
};

/// Never throws: what can be built is built, and what is wrong is said. Mesh shapes take their solids from
/// `meshes`.
Assembly assemble(const TankParts& parts, const MeshSource& meshes = {});

}  // namespace uadze::tank
