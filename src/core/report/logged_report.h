#pragma once
// A log held against a setup, as text and JSON: what was burnt, what was in the tank, where it starved and
// where it should have, what that teaches of the model's figures.
//
// Example:
//   solve::Scores scores;
//   scores.places = {{.name = "Long Left", .laps = 5, .hits = 2}};
//   EXPECT_NE(report::scores_text(scores).find("Long Left"), std::string::npos);
#include "core/log/laps.h"
#include "core/project/json_reader.h"
#include "core/solve/calibrate.h"

namespace uadze::report {

std::string fuel_text(const log::Log& log, const log::Laps& laps, const solve::LoggedFuel& fuel,
                      const UnitSystem& units = {});
project::Json fuel_json(const log::Log& log, const log::Laps& laps, const solve::LoggedFuel& fuel);

std::string scores_text(const solve::Scores& scores, const UnitSystem& units = {});
project::Json scores_json(const solve::Scores& scores);
/// With what level the pressure fell at a place, and held: "fell at 5.2 L, held at 5.6 L".
std::string bracket_words(const solve::PlaceScore& place, const UnitSystem& units = {});

std::string calibration_text(const solve::CalibrationResult& result, const UnitSystem& units = {});
project::Json calibration_json(const solve::CalibrationResult& result);

}  // namespace uadze::report
