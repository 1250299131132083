#include "core/base/phrase.h"

#include <algorithm>

namespace uadze {
namespace {

int decimals_in(const UnitSystem& units, Quantity quantity, int metric) {
  return std::max(0, metric + shown_unit(quantity, units).decimals - shown_unit(quantity, {}).decimals);
}

}  // namespace

std::string Phrase::in(const UnitSystem& units) const {
  std::string out;
  size_t from = 0, next = 0;
  for (size_t at = 0; next < values.size() && (at = text.find('{', at)) != std::string::npos;) {
    // {} or {2}: with so many decimals. Any other brace is of a part's own name.
    const std::string_view rest = std::string_view(text).substr(at);
    const bool decimals = rest.size() > 2 && rest[1] >= '0' && rest[1] <= '9' && rest[2] == '}';
    if (!decimals && !rest.starts_with("{}")) {
      ++at;
      continue;
    }
    const auto& [value, quantity] = values[next];
    out += text.substr(from, at - from) +
           format(value, quantity, units, decimals ? decimals_in(units, quantity, rest[1] - '0') : -1);
    from = at += decimals ? 3 : 2;
    ++next;
  }
  return out + text.substr(from);
}

}  // namespace uadze
