#pragma once
// A session as it is entered, as plain values.
//
// Example:
//   using namespace uadze::session;
//   const Session race{.name = "Race", .kind = Kind::endurance, .lap = "Brackenholt, dry", .duration = 10800.0};
//   EXPECT_STREQ(name_of(race.kind), "endurance");
#include <optional>
#include <string>

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

constexpr const char* name_of(Kind value) {
  switch (value) {
    case Kind::practice:
      return "practice";
    case Kind::qualifying:
      return "qualifying";
    case Kind::race:
      return "race";
    case Kind::sprint:
      return "sprint";
    case Kind::endurance:
      return "endurance";
    case Kind::hillclimb:
      return "hillclimb";
    case Kind::launch_practice:
      return "launch practice";
    case Kind::test_bench:
      return "test bench";
  }
  return nullptr;
}

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
  double stop_time = 0.0;          ///< s that each stop takes: a timed session has fewer laps for them
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
  std::optional<double> fill_temperature;     ///< K, of the fuel as it is put in; else as it runs
  double risk = 0.01;                         ///< of starving or being short, accepted for the session
  Scatter scatter;
  std::optional<double> rule;  ///< the team's rule of thumb: never under this share of the tank

  bool operator==(const Session&) const = default;
};

/// What was found after a session: fuel by the rig, and what the car thinks it burnt.
struct Record {
  std::string session;            ///< name of the session that was driven
  int laps = 0;                   ///< flying laps of the stint; 0: as planned
  double put_in = 0.0;            ///< m3 in the tank at its start
  double drained = 0.0;           ///< m3 out of it at its end
  std::optional<double> counted;  ///< m3 that the car counted as burnt
  bool operator==(const Record&) const = default;
};

}  // namespace uadze::session
