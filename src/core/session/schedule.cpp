#include "core/session/schedule.h"

#include <algorithm>

namespace uadze::session {

std::vector<starvation::Pace> schedule(const Session& s, int stint_laps, const StintPlace& place) {
  std::vector<starvation::Pace> out;
  const auto slow = [&](const char* name, int laps, const std::optional<double>& own, bool launch = false) {
    const double share = own.value_or(s.slow_lap_share);
    if (laps > 0 && share > 0) out.push_back({name, laps, share, std::max(s.neutral_time, 1.0), launch});
    return laps > 0 && share > 0;
  };
  const bool stops = s.refuel_stops > 0;
  if (place.first) slow("formation lap", s.formation_laps, s.formation_share);
  if (!place.first || !stops || s.formation_laps == 0) slow("out lap", s.out_laps, s.out_share, true);
  const int neutral = stops ? 0 : std::min(s.neutral_laps, stint_laps);
  const bool restart = slow("neutralised lap", neutral, s.neutral_share);
  const bool standing = place.first && (s.kind == Kind::race || s.kind == Kind::sprint);
  if (stint_laps > neutral)
    out.push_back(
        {"lap", stint_laps - neutral, 1.0, 1.0, standing || restart || s.kind == Kind::launch_practice});
  if (!place.last || !stops || s.cool_laps == 0) slow("in lap", s.in_laps, s.in_share);
  if (place.last) slow("cool-down lap", s.cool_laps, s.cool_share);
  return out;
}

std::vector<starvation::Pace> longest_stint(const Session& s, double lap_time) {
  const int stints = s.refuel_stops + 1;
  return schedule(s, (laps_of(s, lap_time) + stints - 1) / stints, first_stint(s));
}

}  // namespace uadze::session
