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
#include "core/base/message.h"

namespace uadze::session {

enum class Kind {
  practice,
  qualifying,
  race,
  sprint,
  endurance,  ///< timed, with stints and refuelling
  hillclimb,  ///< standing starts against the clock
  launch_practice,
  test_bench  ///< of the engine or the whole car: standing level, no lap needed
};

/// What scatters from one session to the next: standard deviations as shares.
struct Scatter {
  double consumption = 0.02;      ///< of a whole session's consumption: driver, wind, map
  double lap_consumption = 0.01;  ///< of one lap's against the next
  double lap_time = 0.01;         ///< of a timed session's mean lap time
  double grip = 0.025;            ///< of the accelerations
  bool operator==(const Scatter&) const = default;
};

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
  int cool_laps = 0;            ///< after the flag
  int neutral_laps = 0;         ///< of the laps, driven slowly behind a safety car or under flags
  double slow_lap_share = 0.6;  ///< consumption of such a lap, as a share of a flying lap's, unless
  std::optional<double> formation_share, out_share, in_share, cool_share, neutral_share;  ///< it has its own
  double neutral_time = 1.6;                  ///< time of a neutralised lap over a flying lap's
  double sample = 0.0;                        ///< m3, to be left for the scrutineers
  double gauge_error = 0.0;                   ///< m3, by which the gauge may read too much
  std::optional<double> consumption_per_lap;  ///< m3, measured; else from the lap
  double grip = 1.0;                          ///< of the lap's accelerations: about 0.7 in the wet
  std::optional<double> temperature;          ///< K, of the fuel; else the setup's
  double risk = 0.01;                         ///< of starving or being short, accepted for the session
  Scatter scatter;
  std::optional<double> rule;  ///< the team's rule of thumb: never under this share of the tank

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
  int laps = 0;                  ///< laps in all, without formation, out, in and cool-down
  int stint_laps = 0;            ///< of the longest stint
  int neutral_laps = 0;          ///< of those, counted on only where there is one stint
  double slow_laps = 0.0;        ///< flying laps that burn as much as all slow laps beside
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

/// Laps of a session at a lap time (s): as entered, or those begun before the time is up, neutralised laps
/// taking longer.
int laps_of(const Session& session, double lap_time);

/// Flying laps that burn as much as `laps` of a stint with the slow laps beside.
double laps_worth(const Session& session, int stint_laps);

/// Faults of the session alone, `place` leading to it: contradictions, absurd figures.
Messages session_faults(const Session& session, const std::string& place);

const char* kind_name(Kind kind);

}  // namespace uadze::session
