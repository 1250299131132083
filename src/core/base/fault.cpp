#include "core/base/fault.h"

#include <algorithm>

namespace uadze {

bool has_errors(const Faults& faults) {
  return std::any_of(faults.begin(), faults.end(),
                     [](const Fault& f) { return f.severity == Severity::error; });
}

void add_fault(Faults& faults, Severity severity, const ValuePlace& at, std::string expected,
               std::string found) {
  faults.push_back({severity, at, std::move(expected), std::move(found)});
}

}  // namespace uadze
