#include "core/base/phrase.h"

namespace uadze {

std::string Phrase::in(const UnitSystem& units) const {
  std::string out;
  size_t from = 0, next = 0;
  for (size_t at; next < values.size() && (at = text.find("{}", from)) != std::string::npos; from = at + 2) {
    out += text.substr(from, at - from) + format(values[next].first, values[next].second, units);
    ++next;
  }
  return out + text.substr(from);
}

}  // namespace uadze
