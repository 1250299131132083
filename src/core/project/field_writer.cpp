#include "core/project/field_writer.h"

#include <fmt/format.h>

#include <cmath>
#include <cstdint>

namespace uadze::project {

Json file_number(double si, const FileUnit& unit) {
  const double value = unit.from_si(si);
  const double rounded = value == 0 ? 0.0 : parse_number(fmt::format("{:.12g}", value)).value_or(0);
  if (rounded == std::floor(rounded) && std::abs(rounded) < 1e15) return static_cast<std::int64_t>(rounded);
  return rounded;
}

}  // namespace uadze::project
