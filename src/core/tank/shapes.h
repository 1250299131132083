#pragma once
// The shapes a tank, a collector, a foam block or a displacing body may have, as plain values in m.
//
//   box        prism         cylinder, revolved    sphere     saddle            mesh
//   +----+     +----.        .--------------.       .--.      +-------------+   imported, see mesh_check.h
//   |    |     |     \      (________________)     (    )     |   .-----.   |
//   +----+     +------'                             '--'      +---+tunnel+--+
//
// Example:
//   using namespace uadze::tank;
//   const Shape shape = Cylinder{.start = {0, -0.3, 0.2}, .end = {0, 0.3, 0.2}, .radius = 0.15};
//   EXPECT_EQ(shape_kinds()[shape.index()], "cylinder");
#include <string>
#include <variant>
#include <vector>

#include "core/base/vector.h"

namespace uadze::tank {

enum class Axis { x = 0, y = 1, z = 2 };

constexpr const char* name_of(Axis axis) {
  switch (axis) {
    case Axis::x:
      return "x";
    case Axis::y:
      return "y";
    case Axis::z:
      return "z";
  }
  return nullptr;
}

/// A polygon pushed along one axis.
struct Prism {
  Axis axis = Axis::y;
  std::vector<Vec2> profile;  ///< m; closed by itself, either way round
  double from = 0.0;          ///< m
  double to = 0.0;            ///< m

  bool operator==(const Prism&) const = default;
};

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
  std::string file;                ///< relative to the project's folder
  double unit = 1e-3;              ///< m, of one unit of the file
  std::string axes = "x y z";      ///< the file's axes that point forward, left and up
  Vec3 move = Vec3::Zero();        ///< m, after turning
  std::vector<std::string> mends;  ///< that were agreed to, see mesh_check.h
  bool operator==(const MeshShape&) const = default;
};

using Shape = std::variant<Box, Prism, Cylinder, Revolved, Sphere, Saddle, MeshShape>;

/// "box", "prism", ... in the order of the alternatives.
const std::vector<std::string>& shape_kinds();

}  // namespace uadze::tank
