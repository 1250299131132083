#pragma once
// What went wrong in a log: stretches in which the injectors had less pressure than they should, the mixture
// was lean, the fuel pump ran light, or the low level switch spoke; each with its place on the lap.
//
//   difference
//     ----.          .------      usual: what the setup sets, or what the log itself mostly shows
//   - - - -\- - - - / - - - -     limit: usual / (1 + lean)^2, by the injectors' law q ~ sqrt(dp)
//           '------'
//           |<---->|              longer than the limit's time: an event
//
// Difference over the injectors = rail - manifold, both absolute; a rail over the air's pressure has the
// air's added (the log's own, or the standard's), and without a manifold's pressure the injectors are taken
// to spray into the air.
//
// Example:
//   std::string text = "Time [s],Fuel Press [bar],RPM\n";
//   for (int i = 0; i < 200; ++i) text += std::to_string(0.05 * i) + (i > 100 && i < 120 ? ",2.1,6000\n" : ",3.0,6000\n");
//   const log::Log log = log::parse_log(text, "a.csv").value;
//   const auto found = diagnosis::find_events(log, log::split_laps(log), {}, "a.csv");
//   ASSERT_EQ(found.events.size(), 1u);
//   EXPECT_NEAR(found.events[0].begin, 5.05, 0.06);
//   EXPECT_NEAR(found.events[0].lost, 0.9e5, 0.1e5);      // Pa
#include "core/lap/corner.h"
#include "core/log/laps.h"
#include "core/starvation/parts.h"

namespace uadze::diagnosis {

/// Pa, where the log has no air's pressure.
inline constexpr double standard_air = 101325.0;

enum class Sign { pressure, lean, pump, level };
constexpr const char* name_of(Sign sign) {
  switch (sign) {
    case Sign::pressure:
      return "pressure low";
    case Sign::lean:
      return "lean";
    case Sign::pump:
      return "pump runs light";
    case Sign::level:
      return "level switch";
  }
  return nullptr;
}

struct LoggedEvent {
  Sign sign = Sign::pressure;
  double begin = 0, end = 0;             ///< s of the log
  int lap = 0;                           ///< number of the lap, 0 if none
  double distance = 0;                   ///< m along the lap at its begin
  std::string place, phase;              ///< as lap/corner.h has them; "" without corners
  std::string side;                      ///< "left", "right": where the fuel is thrown to; "" going straight
  double lateral = 0, longitudinal = 0;  ///< m/s2, means over the second before
  double usual = 0, worst = 0;           ///< Pa, lambda or A: what it should be, and the farthest from it
  double lost = 0;                       ///< Pa, lambda or A
  std::optional<double> level;           ///< m3, by the log's own level channel
  double duration() const { return end - begin; }
};

struct FindOptions {
  circuit::LeanLimit limit;   ///< how lean, for how long
  std::optional<double> set;  ///< Pa over the injectors that the setup sets; the log's own median without
  std::vector<lap::Corner> corners;
  double running = 15.0;  ///< 1/s, crankshaft: below it the engine is not running
};

struct Found {
  std::vector<LoggedEvent> events;  ///< in their order in time
  std::vector<double> difference;   ///< Pa over the injectors at each moment; empty without a rail's pressure
  double usual = 0.0;               ///< Pa, what it is held against
  Messages notes;                   ///< what was taken for what, and what could not be looked at
};

/// Everything that the log's channels can show.
Found find_events(const log::Log& log, const log::Laps& laps, const FindOptions& options,
                  const std::string& file);

}  // namespace uadze::diagnosis
