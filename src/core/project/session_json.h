#pragma once
// Sessions in the project file, both ways. docs/schema/project.schema.json has the same keys.
#include <nlohmann/json.hpp>

#include "core/project/json_reader.h"
#include "core/session/plan.h"

namespace uadze::project {

session::Session read_session(JsonReader in);
nlohmann::ordered_json session_json(const session::Session& session);

}  // namespace uadze::project
