#pragma once
// What of a log can not be right, said before anything rests on it: signs against what the car did, units by
// their size, channels that are dead, clipped or late.
//
// Example:
//   const log::Log log = log::parse_log("Time [s],Fuel Press [bar]\n0,3\n4,3\n8,3\n", "a.csv").value;
//   EXPECT_NE(text_of(log::doubts(log, "a.csv")).find("is the sensor dead?"), std::string::npos);
#include "core/lap/corner.h"
#include "core/log/laps.h"

namespace uadze::log {

/// Warnings with what was expected and what was found. Checked, where the channels are there:
/// - longitudinal acceleration against the speed's change: sign, size, and how late it comes;
/// - lateral acceleration against yaw rate times speed, and against the bend of the path by position;
/// - speed against position and distance;
/// - vertical acceleration about 1 g; fuel pressure, lambda and voltage of sizes that a running car has;
/// - a channel that never moves, or that stands at its own end for more than a fiftieth of the time;
/// - accelerations at less than ten samples a second.
Messages doubts(const Log& log, const std::string& file);

/// The same of a lap against the corners' hands.
Messages doubts(const Log& log, const LoggedLap& lap, const std::vector<lap::Corner>& corners,
                const std::string& file);

}  // namespace uadze::log
