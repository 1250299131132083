#pragma once
// The least fuel for a session: what must be in the tank at the start, and what must come back.
//
//   start = clean level + flying laps + formation, out and in laps + sample + gauge error
//   bring back = clean level + sample + gauge error
//
//   const Plan plan = make_plan(session, {.clean_level = v, .consumption_per_lap = c, ...});
//
// All of it is fuel in the main tank, with surge tank and lines already full: their fuel is on top and is not
// counted on.
#include <optional>
#include <string>

#include "core/base/derivation.h"

namespace uadze::session {

enum class Kind { practice, qualifying, race, hillclimb };

struct Session {
  std::string name;
  Kind kind = Kind::practice;
  std::string lap;                 ///< name of the lap it is driven on
  std::optional<int> laps;         ///< flying laps in all; or
  std::optional<double> duration;  ///< s, of a timed session: laps = the lap running when time is up included
  int refuel_stops = 0;            ///< the laps are shared out over stops + 1 stints
  int formation_laps = 0;
  int out_laps = 0;
  int in_laps = 0;
  double slow_lap_share = 0.6;  ///< consumption of a formation, out or in lap, as a share of a flying lap
  double sample = 0.0;          ///< m3, to be left for the scrutineers
  double gauge_error = 0.0;     ///< m3, by which the gauge may read too much
  std::optional<double> consumption_per_lap;  ///< m3, measured; else from the lap

  bool operator==(const Session&) const = default;
};

struct PlanInput {
  double clean_level = 0.0;          ///< m3
  double consumption_per_lap = 0.0;  ///< m3, from the lap
  double lap_time = 0.0;             ///< s
  double density = 0.0;              ///< kg/m3
  double tank_volume = 0.0;          ///< m3, brimful
  double usable_volume = 0.0;        ///< m3 that may be filled
};

struct Plan {
  int laps = 0;                  ///< flying laps in all
  int stint_laps = 0;            ///< of the longest stint
  double consumption = 0.0;      ///< m3, one flying lap
  double start = 0.0;            ///< m3
  double bring_back = 0.0;       ///< m3
  double start_mass = 0.0;       ///< kg
  double bring_back_mass = 0.0;  ///< kg
  double start_share = 0.0;      ///< of the tank's whole volume
  double bring_back_share = 0.0;
  bool fits = true;  ///< false: more than may be filled
  Derivation start_working, bring_back_working, mass_working, bring_back_mass_working;
};

/// The plan; needs a session without faults and a lap time above zero.
Plan make_plan(const Session& session, const PlanInput& input);

/// The next tenth of a litre (or hundredth of a US gallon) up: what to order from the rig, never too little.
double rounded_up(double volume, const UnitSystem& units);

const char* kind_name(Kind kind);

}  // namespace uadze::session
