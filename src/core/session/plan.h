#pragma once
// The least fuel for a session: what must be in the tank at the start, and what must come back.
//
//   start = least end + flying laps + formation, out and in laps + sample + gauge error
//   bring back = least end + sample + gauge error
//
// The least end is what must be left when the engine stops (starvation/burn_down.h).
//
// All of it is fuel in the main tank, with surge tank and lines already full: their fuel is on top and is not
// counted on.
//
// Example:
//   session::Session s{.lap = "dry", .laps = 10};
//   s.sample = 1e-3;
//   const session::PlanInput in{.least_end = 4e-3, .consumption_per_lap = 2.5e-3, .lap_time = 95, .density = 740,
//                               .tank_volume = 60e-3, .usable_volume = 57e-3};
//   EXPECT_NEAR(make_plan(s, in).start, 30e-3, 1e-15);
//   EXPECT_NEAR(make_plan(s, in).bring_back, 5e-3, 1e-15);
#include "core/base/derivation.h"
#include "core/base/fault.h"
#include "core/session/session.h"

namespace uadze::session {

struct PlanInput {
  double least_end = 0.0;            ///< m3, of a clean stint
  double consumption_per_lap = 0.0;  ///< m3, from the lap
  double lap_time = 0.0;             ///< s
  double density = 0.0;              ///< kg/m3
  double tank_volume = 0.0;          ///< m3, brimful
  double usable_volume = 0.0;        ///< m3 that may be filled
};

struct Plan {
  int laps = 0;                  ///< laps in all, without formation, out, in and cool-down
  int stint_laps = 0;            ///< of the first stint, the longest
  int neutral_laps = 0;          ///< of those, counted on only where there is one stint
  double slow_laps = 0.0;        ///< flying laps that burn as much as the first stint's slow laps
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
/// A dip stick's reading, up to what is read off one: the next whole millimetre or tenth of an inch.
double dip_rounded_up(double dip, const UnitSystem& units);
int dip_decimals(const UnitSystem& units);

/// Laps of a session at a lap time (s): as entered, or those begun before the time is up, neutralised laps
/// taking longer and stops their time.
int laps_of(const Session& session, double lap_time);
/// s that its laps are driven, stops left out.
double driving_time(const Session& session, double lap_time);

/// Which of a session's stints: the first has the formation laps, the last the cool-down laps; each stop has
/// its in laps before it and its out laps after it. The first stint begins with out laps and the last ends
/// with in laps too, unless there are stops and formation (cool-down) laps stand there.
struct StintPlace {
  bool first = true, last = true;
  bool operator==(const StintPlace&) const = default;
};
StintPlace first_stint(const Session& session);

/// Flying laps that burn as much as `stint_laps` with the slow laps beside.
double laps_worth(const Session& session, int stint_laps, const StintPlace& place);

/// Faults of the session alone, each at its member: contradictions, absurd figures.
Faults session_faults(const Session& session);

}  // namespace uadze::session
