#include "core/base/phrase.h"

namespace uadze {

std::string Phrase::in(const UnitSystem& units) const {
  std::string out;
  size_t from = 0, next = 0;
  for (size_t at; next < values.size() && (at = text.find('{', from)) != std::string::npos; ++next) {
    // {} or {2}: with so many decimals.
    const bool decimals = at + 2 < text.size() && text[at + 1] >= '0' && text[at + 1] <= '9';
    out += text.substr(from, at - from) +
           format(values[next].first, values[next].second, units, decimals ? text[at + 1] - '0' : -1);
    from = at + (decimals ? 3 : 2);
  }
  return out + text.substr(from);
}

}  // namespace uadze
