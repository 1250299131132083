#pragma once
// Sessions, laps and events as JSON (keys carry units) and as text.
//
// Example:
//   using namespace uadze;
//   const Derivation working{.name = "Least reserve", .value = 1.0 / 0.0, .quantity = Quantity::duration};
//   EXPECT_TRUE(report::derivation_json(working)["value"].is_null()) << "JSON has no infinity";
#include <nlohmann/json.hpp>
#include <string>

#include "core/solve/plan.h"

namespace uadze::report {

using Json = nlohmann::ordered_json;

/// JSON has no infinity: null stands for "no limit".
Json finite(double value);

Json derivation_json(const Derivation& derivation);
Json event_json(const starvation::Event& event);
/// The circuit's own faults along the lap, whatever is in the tank.
Json faults_json(const starvation::Course& course);
std::string faults_text(const starvation::Course& course, const UnitSystem& units = {});
/// For each corner the level at which it begins to hurt.
Json map_json(const solve::LapResult& lap);
Json band_json(const starvation::ModelBand& band);
Json risk_json(const solve::SessionResult& result);
Json session_json(const solve::SessionResult& result);
std::string session_text(const solve::SessionResult& result, bool working, const UnitSystem& units = {});
/// Who has how much of the margin, and the draws that it is from.
std::string risk_text(const solve::SessionResult& result, const UnitSystem& units = {});

}  // namespace uadze::report
