#pragma once
// A log as text and JSON: what was found in the file, which column is which channel, its laps.
//
// Example:
//   const auto read = log::read_text("Time [s],Speed [km/h]\n0,36\n1,72\n2,72\n", "a.csv");
//   EXPECT_NE(report::log_text("a.csv", read.value, log::split_laps(read.value.log)).find("speed"), std::string::npos);
#include "core/log/laps.h"
#include "core/project/json_reader.h"

namespace uadze::report {

std::string log_text(const std::string& file, const log::LogFile& read, const log::Laps& laps,
                     const UnitSystem& units = {});
project::Json log_json(const std::string& file, const log::LogFile& read, const log::Laps& laps);
/// "comma-separated, decimal point, UTF-8, header in line 3, units in line 4".
std::string layout_words(const log::LogFile& read);
std::string laps_csv(const log::Laps& laps);
/// "1:35.440".
std::string lap_time(double seconds);

}  // namespace uadze::report
