#pragma once
// Results as JSON (keys carry units) and as text.
#include <nlohmann/json.hpp>
#include <string>

#include "core/project/solve.h"

namespace uadze::cli {

using Json = nlohmann::ordered_json;

Json derivation_json(const Derivation& derivation);
Json event_json(const starvation::Event& event);
/// For each corner the level at which it begins to hurt.
Json map_json(const project::LapResult& lap);
Json band_json(const starvation::ModelBand& band);
Json risk_json(const project::SessionResult& result);
Json session_json(const project::SessionResult& result);
std::string session_text(const project::SessionResult& result, bool working);

}  // namespace uadze::cli
