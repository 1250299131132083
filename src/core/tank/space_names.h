#pragma once
// What the spaces of a tank are called: by where they lie among the planes that part it.
//
//      |      |           Along each axis the planes across it number the places: rear, middle, front;
//   rear  middle  front   right, centre, left; lower, halfway, upper.
//      |      |
//
// Example:
//   const tank::Plane across{Vec3::UnitX(), 0.0};
//   const auto names = tank::space_names({{Vec3(-0.1, 0, 0), "", ""}, {Vec3(0.1, 0, 0), "", "foam"}}, {across});
//   EXPECT_EQ(names[0], "rear");
//   EXPECT_EQ(names[1], "foam, front");
#include <string>
#include <vector>

#include "core/tank/solid.h"

namespace uadze::tank {

struct NamedPlace {
  Vec3 middle;
  std::string own;   ///< a collector's, which it keeps
  std::string foam;  ///< of foam that fills it, or ""
};

/// One for each place, no two the same: "rear left", "upper", "tank" where nothing parts it, "front 2".
std::vector<std::string> space_names(const std::vector<NamedPlace>& places,
                                     const std::vector<Plane>& partings);

}  // namespace uadze::tank
