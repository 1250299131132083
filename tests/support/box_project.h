#pragma once
// A project that holds nothing but a box with a pump.
#include <string>

namespace uadze::test {

/// `more`: keys of the project, each with a comma after it.
inline std::string box_project(const std::string& circuit, const std::string& more = "") {
  return R"({ "undertow_adze_project": 1, )" + more +
         R"( "setups": [ { "name": "box", "engine": {"power_kw": 200, "consumption_g_kwh": 300},
      "tank": { "axis": "y", "profile_mm": [[-250, 0], [250, 0], [250, 200], [-250, 200]], "from_mm": -300, "to_mm": 300 },
      "circuit": )" +
         circuit + "} ] }";
}

inline const char* const least_circuit =
    R"({ "mains": [{"parts": [{"kind": "pump", "type": "main pump, 255 l/h class"}]}],
    "rail": {"injector": "injector, 40 l/h class"}, "regulator": {"type": "regulator, small"} })";

}  // namespace uadze::test
