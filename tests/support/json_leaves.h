#pragma once
// Where the values of a JSON text stand.
#include "core/project/json_reader.h"

namespace uadze::test {

/// The pointers (RFC 6901) of all that is neither list nor object, in the file's order.
inline std::vector<std::string> leaves(const project::Json& json) {
  std::vector<std::string> out;
  const project::Json flat = json.flatten();
  for (const auto& [at, value] : flat.items())
    if (json[project::Json::json_pointer(at)].is_primitive()) out.push_back(at);
  return out;
}

}  // namespace uadze::test
