#pragma once
// A session's stints as they are driven, lap by lap.
//
// Order: formation laps or out laps, neutralised laps, flying laps, in laps or cool-down laps. The
// neutralised laps come first, so that the flying laps are driven with the least fuel. All slow laps take
// `neutral_time` of a flying lap's time. A launch stands before the first flying lap of a race or sprint,
// before a flying lap after neutralised ones (the restart), before the first out lap (the pit exit), and
// before each run from rest of launch practice.
//
// Example:
//   session::Session s{.lap = "dry", .laps = 10, .out_laps = 1, .in_laps = 1};
//   const auto stint = session::schedule(s, 10, session::first_stint(s));
//   ASSERT_EQ(stint.size(), 3u);
//   EXPECT_EQ(stint[1].laps, 10);
//   EXPECT_EQ(stint[2].name, "in lap");
#include "core/session/plan.h"
#include "core/starvation/burn_down.h"

namespace uadze::session {

/// Laps that burn nothing or are none are left out. What they burn is what laps_worth says.
std::vector<starvation::Pace> schedule(const Session& session, int stint_laps, const StintPlace& place);

/// The first of the session, at a lap time (s).
std::vector<starvation::Pace> longest_stint(const Session& session, double lap_time);

}  // namespace uadze::session
