#pragma once
// What a log shows to be wrong, as text and JSON: events with their places, causes with their evidence.
//
// Example:
//   const diagnosis::Diagnosis none;
//   EXPECT_NE(report::diagnosis_text({}, none).find("no events"), std::string::npos);
#include "core/diagnosis/cause.h"
#include "core/diagnosis/trend.h"
#include "core/project/json_reader.h"

namespace uadze::report {

std::string diagnosis_text(const diagnosis::Found& found, const diagnosis::Diagnosis& said,
                           const UnitSystem& units = {});
project::Json diagnosis_json(const diagnosis::Found& found, const diagnosis::Diagnosis& said);

/// Wear of several logs in their order, and what of it changes.
std::string trend_text(const std::vector<diagnosis::Wear>& logs, const UnitSystem& units = {});
project::Json trend_json(const std::vector<diagnosis::Wear>& logs);

/// What an event lost, in its own measure: "0.45 bar", "6.0 % leaner", "2.1 A".
std::string lost_words(const diagnosis::LoggedEvent& event, const UnitSystem& units = {});
/// "Heron Sweep, braking, fuel to the right".
std::string where_words(const diagnosis::LoggedEvent& event);

}  // namespace uadze::report
