#pragma once
// The shapes a tank, a collector, a foam block or a displacing body may have.
//
//   box        prism         cylinder, revolved    sphere     saddle            mesh
//   +----+     +----.        .--------------.       .--.      +-------------+   imported, see mesh.h
//   |    |     |     \      (________________)     (    )     |   .-----.   |
//   +----+     +------'                             '--'      +---+tunnel+--+
//
//   const Shape shape = Cylinder{.start = {0, -0.3, 0.2}, .end = {0, 0.3, 0.2}, .radius = 0.15};
//   const Solid solid = make_solid(shape);
//   const std::vector<ConvexPiece> pieces = convex_pieces(shape);    // to cut others with
//
// Round shapes are made of flat facets; each facet ring has the circle's own area, so that volumes are those
// of the round shape (second moments within 1e-3).
#include <memory>
#include <string>
#include <variant>

#include "core/tank/clip.h"
#include "core/tank/prism.h"

namespace uadze::tank {

struct Box {
  Vec3 from = Vec3::Zero(), to = Vec3::Zero();  ///< m, opposite corners
  bool operator==(const Box&) const = default;
};

struct Cylinder {
  Vec3 start = Vec3::Zero(), end = Vec3::Zero();  ///< m, middles of the two ends
  double radius = 0.0;                            ///< m
  bool operator==(const Cylinder&) const = default;
};

/// A profile turned around an axis of any direction.
struct Revolved {
  Vec3 start = Vec3::Zero();       ///< m, a point on the axis
  Vec3 direction = Vec3::UnitZ();  ///< along the axis
  std::vector<Vec2> profile;       ///< m: {along the axis, radius}, along never falling
  bool operator==(const Revolved&) const = default;
};

struct Sphere {
  Vec3 centre = Vec3::Zero();  ///< m
  double radius = 0.0;         ///< m
  bool operator==(const Sphere&) const = default;
};

/// A box with a tunnel along x through its floor (the driveshaft's): two sides joined over the tunnel.
struct Saddle {
  Vec3 from = Vec3::Zero(), to = Vec3::Zero();  ///< m, opposite corners
  double tunnel_from = 0.0, tunnel_to = 0.0;    ///< m, in y
  double tunnel_top = 0.0;                      ///< m, in z
  bool operator==(const Saddle&) const = default;
};

/// A closed surface from a file, with what places it in the car.
struct MeshShape {
  std::string file;                     ///< relative to the project's folder
  double unit = 1e-3;                   ///< m, of one unit of the file
  std::string axes = "x y z";           ///< the file's axes that point forward, left and up
  Vec3 move = Vec3::Zero();             ///< m, after turning
  std::vector<std::string> mends;       ///< that were agreed to, see mesh_check.h
  std::shared_ptr<const Solid> loaded;  ///< as placed and mended; nothing: the file was not read
  bool operator==(const MeshShape& o) const {
    return file == o.file && unit == o.unit && axes == o.axes && move == o.move && mends == o.mends;
  }
};

using Shape = std::variant<Box, Prism, Cylinder, Revolved, Sphere, Saddle, MeshShape>;

/// "box", "prism", ... in the order of the alternatives.
const std::vector<std::string>& shape_kinds();

/// What is wrong with a shape, as its key in the file and what was expected.
struct ShapeFault {
  std::string key;  ///< such as "radius_mm" or "profile_mm/2"
  std::string expected;
  std::string found;
};
std::vector<ShapeFault> shape_faults(const Shape& shape);

/// Needs a shape without faults; a mesh that was not loaded gives an empty solid.
Solid make_solid(const Shape& shape);

/// Convex bodies that together are the shape and do not overlap; none for a mesh.
std::vector<ConvexPiece> convex_pieces(const Shape& shape);

/// The saddle's outline across the car as a profile along x.
Prism saddle_prism(const Saddle& saddle);

/// The shape moved by a vector.
Shape moved(Shape shape, const Vec3& by);

}  // namespace uadze::tank
