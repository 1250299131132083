#pragma once
// The effective gravity that the fuel feels in time: from a lap, or from a recording of the vehicle's
// acceleration.
//
// File: CSV with the columns time [s], ax [g], ay [g], az [g] in any order: the vehicle's acceleration in
// vehicle axes, gravity not in it (0, 0, 0 when standing).
//
// Example:
//   const auto trace = lap::parse_acceleration("time [s],ax [g],ay [g],az [g]\n0,0,0,0\n1,1,0,0\n", "throw.csv").value;
//   EXPECT_NEAR(trace.at(0.5).x(), -0.5 * standard_gravity, 1e-12);   // m/s2, between the rows
#include <filesystem>
#include <vector>

#include "core/base/message.h"
#include "core/base/vector.h"
#include "core/lap/lap.h"

namespace uadze::lap {

/// What acts on the fuel at one moment, in the tank's frame. In a car that turns it differs from place to
/// place: what lies outward is thrown outward more.
struct Push {
  Vec3 gravity{0, 0, -standard_gravity};  ///< m/s2, effective: g - a, at the frame's origin
  double yaw = 0.0;                       ///< rad/s, to the left
  double yaw_change = 0.0;                ///< rad/s2
  /// g - a at a place that rides along: f - dw/dt x r - w x (w x r).
  Vec3 felt_at(const Vec3& place) const;
};

struct ForceTrace {
  std::vector<double> time;  ///< s, strictly increasing
  std::vector<Vec3> force;   ///< m/s2, f = g - a
  std::vector<double> yaw;   ///< rad/s at the same times, to the left; empty: none

  double begin() const { return time.front(); }
  double end() const { return time.back(); }
  /// Linear between the rows, held before the first and after the last.
  Vec3 at(double t) const;
  Push push(double t) const;
  /// The seconds between, with rows at both ends.
  ForceTrace part(double from, double to) const;
};

/// With the yaw of its line: lateral acceleration over speed, from 3 m/s on.
ForceTrace force_trace(const Lap& lap);

/// The trace as a run from rest at full throttle: speed and distance by integrating the forward acceleration.
Lap as_lap(const ForceTrace& trace);

/// Throws InputError naming file, line and column for missing columns, text, absurd figures (over 100 g),
/// fewer than two rows, or time that does not increase.
Read<ForceTrace> parse_acceleration(std::string_view text, const std::string& file);
Read<ForceTrace> read_acceleration(const std::filesystem::path& path);

}  // namespace uadze::lap
