#pragma once
// A log: channels against one clock, read from a text table of any of the usual shapes.
//
// All channels have a value at each of the log's moments; cells that were blank (channels at a lower rate)
// are filled straight between their neighbours or held, as the channel is meant. Where the clock runs back or
// leaps, a new part begins (files that were joined, a logger that was switched off): the time goes on from
// there, and nothing is drawn between the parts.
//
// Example:
//   const log::Log log = log::parse_log("Time [s],Speed [km/h],Fuel Press [bar]\n0,36,3.0\n0.1,,3.1\n0.2,72,3.0\n", "a.csv").value;
//   EXPECT_NEAR(log.values(log::Role::speed)[1], 15.0, 1e-6);      // m/s, between its neighbours
//   EXPECT_EQ(log.channel(log::Role::rail_pressure)->name, "Fuel Press");
#include <filesystem>
#include <optional>
#include <span>
#include <string>
#include <vector>

#include "core/base/message.h"
#include "core/base/progress.h"
#include "core/log/mapping.h"
#include "core/log/signal.h"

namespace uadze::log {

struct Channel {
  std::string name;  ///< as in the file
  std::string unit;  ///< of `values`: empty for a channel with a role, whose values are SI
  Role role = Role::none;
  Against against = Against::air;
  Between between = Between::straight;
  std::vector<float> values;  ///< one at each moment; not a number where the channel never spoke
};

struct Log {
  std::vector<double> time;   ///< s from the log's begin, strictly increasing
  std::vector<size_t> parts;  ///< first moment of each part; the first is 0
  std::vector<Channel> channels;
  double begin = 0.0;  ///< what the file's clock said at the begin, s

  size_t size() const { return time.size(); }
  double duration() const { return time.empty() ? 0.0 : time.back(); }
  const Channel* channel(Role role) const;
  /// The values of a role, SI; empty if no channel has it.
  std::span<const float> values(Role role) const;
  size_t index_at(double t) const;
  /// The usual step, s: the median.
  double step() const;
};

struct LogFile {
  Layout layout;
  Mapping mapping;
  std::string encoding;
  Log log;
};

/// A log as the text has it, by the mapping that is proposed for it or by one given on top. Throws
/// InputError naming file, line and column for: no table, no time, a clock that stands still, a channel with
/// a role more than a twentieth of whose filled cells are no numbers, a unit that does not belong to the
/// role. Notes: rows passed over, cells that are no numbers, leaps of the clock, repeated times, channels
/// dropped.
Read<Log> parse_log(std::string_view text, const std::string& file, const Mapping* mapping = nullptr,
                    Progress* progress = nullptr);

/// The same with what was found on the way.
Read<LogFile> read_text(std::string_view text, const std::string& file, const Mapping* mapping = nullptr,
                        Progress* progress = nullptr);

/// A log file: a table, or frames of a CAN bus (can_text.h), for which `signal_table` are needed.
Read<LogFile> read_log(const std::filesystem::path& path, const Mapping* mapping = nullptr,
                       const std::vector<Signal>& signal_table = {}, Progress* progress = nullptr);

}  // namespace uadze::log
