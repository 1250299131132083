#pragma once
// Switches that turn the circuit's day bad: one condition changed, all else the same.
//
// Example:
//   circuit::Case c = test::plain_case();
//   apply(circuit::WhatIf::loaded_filter, c);
//   EXPECT_LE(available_flow(c), available_flow(test::plain_case()));
#include <optional>
#include <string>
#include <vector>

#include "core/base/phrase.h"
#include "core/circuit/circuit.h"

namespace uadze::circuit {

enum class WhatIf {
  loaded_filter,
  low_voltage,
  hot_fuel,
  high_altitude,
  main_dead,
  lift_dead,
  no_check_valve,
  small_return,
  vent_blocked
};

struct WhatIfInfo {
  const char* name;  ///< "loaded-filter", for the command line
  Phrase title;      ///< "Filters loaded"
  Phrase tip;        ///< what is changed, exactly
};
const std::vector<WhatIfInfo>& what_ifs();
std::optional<WhatIf> find_what_if(const std::string& name);

/// Changes the case. Where there is nothing to change (no second main pump, no return line) it is left as it
/// is and false comes back.
bool apply(WhatIf what, Case& c);

}  // namespace uadze::circuit
