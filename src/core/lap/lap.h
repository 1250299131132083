#pragma once
// A lap as logged or simulated: channels against time, in SI and vehicle axes.
//
// Sign convention. The acceleration channels hold what accelerometers fixed to the car read (the specific
// force a - g = -f, so banking and slope are in them):
//
//   lat_acc  > 0 in a left-hand corner (the car is pushed to the left, +y)
//   long_acc > 0 when the car speeds up (+x)
//   vert_acc = +1 g at rest on level ground (+z); a file without it is read as 1 g throughout
//
// so that f = -(long_acc, lat_acc, vert_acc).
//
// File: CSV whose header names channel and unit, in any order, other columns allowed:
//
//   time [s],distance [m],lat_acc [g],long_acc [g],speed [km/h],throttle [%],rpm [1/min],fuel_flow [l/h]
//   0.00,0.0,0.012,0.431,182.3,100,8123,96.2
//
// Example:
//   const auto lap = lap::read_lap(std::filesystem::path(UADZE_SOURCE_DIR) / "demo/laps/brackenholt-p4.csv").value;
//   EXPECT_EQ(lap.lateral.size(), lap.time.size());
//   EXPECT_NEAR(lap.effective_gravity(0).z(), -lap.vertical[0], 1e-12);
#include <filesystem>
#include <optional>
#include <string>
#include <vector>

#include "core/base/message.h"
#include "core/base/vector.h"

namespace uadze::lap {

/// A column of the file that is not one of the known channels: kept as it was read.
struct ExtraChannel {
  std::string header;
  std::vector<std::string> cells;
};

/// All channels have the length of `time`, except absent ones, which are empty.
struct Lap {
  std::vector<double> time;          ///< s, strictly increasing
  std::vector<double> distance;      ///< m, never falling
  std::vector<double> lateral;       ///< m/s2, + in a left-hand corner
  std::vector<double> longitudinal;  ///< m/s2, + when speeding up
  std::vector<double> vertical;      ///< m/s2, +9.81 at rest
  std::vector<double> speed;         ///< m/s; may be absent
  std::vector<double> throttle;      ///< 0..1; may be absent
  std::vector<double> rotation;      ///< 1/s, of the crankshaft; may be absent
  std::vector<double> fuel_flow;     ///< m3/s; may be absent
  /// kg/s, where the log has its fuel_flow by mass; the fuel that it was of decides the volume.
  std::vector<double> fuel_mass_flow;
  std::vector<ExtraChannel> extra;

  bool has_flow() const { return !fuel_flow.empty() || !fuel_mass_flow.empty(); }
  size_t size() const { return time.size(); }
  double duration() const { return time.empty() ? 0.0 : time.back() - time.front(); }
  double length() const { return distance.empty() ? 0.0 : distance.back() - distance.front(); }
  /// Effective gravity at sample i, m/s2.
  Vec3 effective_gravity(size_t i) const { return {-longitudinal[i], -lateral[i], -vertical[i]}; }
  /// The last sample at or before a time (s, on the lap's own clock).
  size_t index_at(double t) const;
  /// m, straight between the samples.
  double distance_at(double t) const;
};

/// Whether a vertical channel at rest reads 1 g (as an accelerometer does) or 0 (gravity taken out).
enum class VerticalZero { accelerometer, gravity_removed };
constexpr const char* name_of(VerticalZero value) {
  switch (value) {
    case VerticalZero::accelerometer:
      return "accelerometer";
    case VerticalZero::gravity_removed:
      return "gravity removed";
  }
  return nullptr;
}

/// s. What is shorter, longer or further apart is no lap of a car, but times in another unit.
inline constexpr double shortest_lap = 0.1, longest_lap = 7200.0, longest_gap = 60.0;

/// The first figure of a lap that no car can have, with its channel and time; nothing if there is none.
std::optional<Message> absurd(const Lap& lap);

/// Reads a lap from CSV text. Throws InputError naming file, line and column for: a missing lateral or
/// longitudinal channel, neither distance nor speed, text or absurd figures in numbers, fewer than two rows,
/// time that runs backward. Notes: channels that are missing, gaps, repeated times (the later row is left
/// out), a decimal comma.
Read<Lap> parse_lap(std::string_view text, const std::string& file,
                    VerticalZero zero = VerticalZero::accelerometer);
Read<Lap> read_lap(const std::filesystem::path& path, VerticalZero zero = VerticalZero::accelerometer);

/// "lat_acc [g]" as name and unit; the unit is empty if there is none.
struct Heading {
  std::string name, unit;
};
Heading channel_heading(const std::string& text);

/// The lap as CSV text in the units of the example above.
std::string write_lap(const Lap& lap);

/// The lap as driven in a mirror: lateral acceleration reversed.
Lap mirrored(Lap lap);

/// The lap with every `stride` samples drawn together into their means, for quick answers; extra channels are
/// left out. The first and the last sample stay.
Lap thinned(const Lap& lap, size_t stride);

/// The car's path seen from above, m, by integrating speed and lateral acceleration; for a lap that ends
/// where it began the drift is spread over the lap. Needs speed or distance.
std::vector<Vec2> path(const Lap& lap, bool closed);

}  // namespace uadze::lap
