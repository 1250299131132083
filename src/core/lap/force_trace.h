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

struct ForceTrace {
  std::vector<double> time;  ///< s, strictly increasing
  std::vector<Vec3> force;   ///< m/s2, f = g - a

  double begin() const { return time.front(); }
  double end() const { return time.back(); }
  /// Linear between the rows, held before the first and after the last.
  Vec3 at(double t) const;
};

ForceTrace force_trace(const Lap& lap);

/// The trace as a run from rest at full throttle: speed and distance by integrating the forward acceleration.
Lap as_lap(const ForceTrace& trace);

/// Throws InputError naming file, line and column for missing columns, text, absurd figures (over 100 g),
/// fewer than two rows, or time that does not increase.
Read<ForceTrace> parse_acceleration(std::string_view text, const std::string& file);
Read<ForceTrace> read_acceleration(const std::filesystem::path& path);

}  // namespace uadze::lap
