#include "core/base/derivation.h"

#include <fmt/format.h>

namespace uadze {

std::string render_text(const Derivation& derivation, const UnitSystem& units, int indent) {
  const std::string pad(static_cast<size_t>(indent), ' ');
  std::string out = fmt::format("{}{} = {}\n", pad, derivation.name,
                                format_working(derivation.value, derivation.quantity, units));
  if (!derivation.formula.empty()) out += fmt::format("{}  {}\n", pad, derivation.formula);
  for (const Term& term : derivation.inputs)
    out += fmt::format("{}    {:<10} {:>14}  {}{}\n", pad, term.symbol,
                       format_working(term.value, term.quantity, units), term.meaning,
                       term.source.empty() ? "" : " (" + term.source + ")");
  if (!derivation.source.empty()) out += fmt::format("{}  Source: {}\n", pad, derivation.source);
  if (!derivation.note.empty()) out += fmt::format("{}  Note: {}\n", pad, derivation.note.in(units));
  for (const Derivation& step : derivation.steps) out += render_text(step, units, indent + 4);
  return out;
}

}  // namespace uadze
