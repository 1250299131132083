#pragma once
// What the log commands share: a log read by their options, and how its laps are taken.
#include "cli/common.h"
#include "core/log/laps.h"
#include "core/log/to_lap.h"

namespace uadze::cli {

struct LogJob {
  Read<log::LogFile> read;
  log::Laps laps;
};

/// Says what was said on reading.
LogJob open_log(const LogOptions& options);
/// The sensor's axes and place, as the options have them; says how it was found to be turned.
log::ToLapOptions to_lap_options(const LogOptions& options, const log::Log& log);

}  // namespace uadze::cli
