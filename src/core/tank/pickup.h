#pragma once
// A pickup: a point with a round, level sock, and how much of the sock is under the fuel.
//
//       surface ______________
//                    |  depth (along the effective gravity, positive when covered)
//              ======o======   sock: a disc of `sock_radius` in the car's level
#include <string>

#include "core/tank/solid.h"

namespace uadze::tank {

struct Pickup {
  std::string name;
  Vec3 position = Vec3::Zero();  ///< m
  double sock_radius = 0.0;      ///< m; 0: a bare tube end, wet or dry
  std::string feeds;             ///< a lift pump's name, or "engine"

  bool operator==(const Pickup&) const = default;
};

/// m, of the pickup's middle below the surface along the effective gravity; negative when above it.
double depth(const Pickup& pickup, const Plane& surface);

/// Share of the sock's area below the surface, 0..1: the part of a disc on one side of a chord.
double wet_fraction(const Pickup& pickup, const Plane& surface);

}  // namespace uadze::tank
