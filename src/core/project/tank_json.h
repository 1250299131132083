#pragma once
// The tank's part of the project file.
//
//   tank::TankParts parts = read_tank(setup.object("tank"));
//   json["tank"] = tank_json(parts);
//
// A tank of a single prism may give its keys (axis, profile_mm, from_mm, to_mm) without a list of shapes; it
// is written back that way.
#include "core/project/json_reader.h"
#include "core/tank/parts.h"

namespace uadze::project {

tank::TankParts read_tank(JsonReader in);
Json tank_json(const tank::TankParts& parts);

/// What a number of the file is in SI: 12 digits, so that the rounding of the conversion does not show.
Json file_number(double si, double factor = 1.0, double offset = 0.0);

}  // namespace uadze::project
