#include "core/build/worst.h"

#include <algorithm>
#include <cmath>
#include <limits>

#include "core/build/cutting.h"

namespace uadze::build {
namespace {

using circuit::LegKind;
using circuit::PartKind;

/// Of all pumps of the legs of one kind.
double highest(const circuit::Case& c, LegKind kind) {
  double out = 0;
  for (const circuit::LegPlace& place : circuit::legs_of(c.circuit, c.surroundings)) {
    if (place.kind != kind) continue;
    const circuit::Leg* leg = circuit::leg_at(c.circuit, place);
    double sum = 0;
    if (leg)
      for (const circuit::Part& p : *leg)
        if (p.kind == PartKind::pump)
          if (const auto* type = circuit::find(c.catalogue->pumps, p.type))
            // One after the other they add up.
            sum +=
                dead_head(type->curves, type->curves.engine_driven ? most_rotation * p.turns
                                                                   : std::max(most_supply, c.circuit.supply));
    out = std::max(out, sum);
  }
  return out;
}

}  // namespace

double dead_head(const circuit::PumpCurves& pump, double drive) {
  if (pump.curves.empty()) return 0;
  // The valve lets by all that the pump moves a tenth above its opening.
  const double valve = pump.relief > 0 ? 1.1 * pump.relief : std::numeric_limits<double>::infinity();
  circuit::PumpCurves bare = pump;
  bare.relief = 0;
  double low = 0, high = 1e5;
  while (circuit::operate(bare, high, drive).flow > 1e-9 && high < 1e9) low = high, high *= 2;
  if (high >= 1e9) return valve;
  for (int k = 0; k < 60; ++k) {
    const double middle = 0.5 * (low + high);
    (circuit::operate(bare, middle, drive).flow > 1e-9 ? low : high) = middle;
  }
  return std::min(high, valve);
}

double worst_pressure(const circuit::Case& c, const circuit::LegPlace& leg) {
  switch (leg.kind) {
    case LegKind::lift:
    case LegKind::overflow:
    case LegKind::tee:
      return highest(c, LegKind::lift);
    case LegKind::transfer:
      return std::max(highest(c, LegKind::lift), highest(c, LegKind::transfer));
    case LegKind::suction:
      return highest(c, LegKind::suction);
    case LegKind::main:
    case LegKind::feed:
    case LegKind::rail:
    case LegKind::back:
      return highest(c, LegKind::main) + highest(c, LegKind::suction);
  }
  return 0;
}

Place place_of(const circuit::Case& c, const circuit::LegPlace& leg, size_t part) {
  const circuit::Leg* parts = circuit::leg_at(c.circuit, leg);
  if (leg.kind == LegKind::rail || !parts || part >= parts->size()) return Place::engine_bay;
  if (inside_tank(c, leg, (*parts)[part])) return Place::fuel;
  const auto is_line = [](const circuit::Part& p) { return p.kind == PartKind::line; };
  if (leg.kind == LegKind::feed) {
    const auto last = std::find_if(parts->rbegin(), parts->rend(), is_line);
    if (last != parts->rend() && part >= static_cast<size_t>(parts->rend() - last) - 1)
      return Place::engine_bay;
  }
  if (leg.kind == LegKind::back) {
    const auto first = std::find_if(parts->begin(), parts->end(), is_line);
    if (first != parts->end() && part <= static_cast<size_t>(first - parts->begin()))
      return Place::engine_bay;
  }
  return Place::outside;
}

double hottest(Place place) {
  constexpr double zero = 273.15;
  return zero + (place == Place::fuel ? 65.0 : place == Place::outside ? 80.0 : 120.0);
}

}  // namespace uadze::build
