#pragma once
// Changes a JSON text only where its meaning changes; every other byte (layout, number forms, unknown keys)
// stays.
//
// Example:
//   const std::string text = R"({ "a": 1.50,  "x": 2 })";
//   EXPECT_EQ(project::patched_text(text, {{"a", 1.5}}, {{"a", 3}}), R"({ "a": 3,  "x": 2 })");
#include <string>

#include "core/project/json_reader.h"

namespace uadze::project {

/// `text` is what is on the disk; `before` is what was understood of it, `after` what it shall say. Where the
/// two are alike nothing is touched. Elements of lists of objects are those of the same content, then of the
/// same "name", then those that are most alike.
std::string patched_text(const std::string& text, const Json& before, const Json& after);

}  // namespace uadze::project
