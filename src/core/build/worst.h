#pragma once
// The worst that each part of a circuit may meet: what it must be rated for, not what it sees on a good day.
//
//   pressure   behind the main pumps: the highest pump's dead head (or where its relief valve lets all by)
//              at the charging system's most, the return blocked and the reference open; in the lift legs,
//              surge tank and overflow: the lift pumps' dead head, the overflow blocked
//   heat       in the fuel 65 °C; outside 80 °C; in the engine bay, where it soaks after a stop, 120 °C
//              (typical: measure yours)
//   blend      ethanol at the upper end of its scatter: 5 % of the blend over what is entered, 85 % blends
//              as sold reach that
//
// Limits: an engine-driven pump without a relief valve has no end; it is told as such (infinite).
//
// Example:
//   const circuit::Case c = test::plain_case();
//   EXPECT_GT(build::worst_pressure(c, {circuit::LegKind::back, 0}), c.circuit.regulator.base);   // Pa over air
#include "core/circuit/circuit.h"

namespace uadze::build {

/// V that a charging system gives at the most.
inline constexpr double most_supply = 14.8;
/// 1/s of the crankshaft: what engine-driven pumps are driven by at the worst.
inline constexpr double most_rotation = 150.0;
/// Of the blend, by volume, over what is entered.
inline constexpr double ethanol_scatter = 0.05;

/// Pa of rise at which a pump moves nothing more, at these volts (or turns of its shaft); infinite if it has
/// no end.
double dead_head(const circuit::PumpCurves& pump, double drive);

/// Pa over air that a part behind the pump of its leg may meet.
double worst_pressure(const circuit::Case& c, const circuit::LegPlace& leg);

enum class Place { fuel, outside, engine_bay };
constexpr const char* name_of(Place value) {
  switch (value) {
    case Place::fuel:
      return "in the fuel";
    case Place::outside:
      return "outside";
    case Place::engine_bay:
      return "in the engine bay";
  }
  return nullptr;
}
/// The last line of the feed, rail, regulator and the first of the return are in the engine bay.
Place place_of(const circuit::Case& c, const circuit::LegPlace& leg, size_t part);
/// K.
double hottest(Place place);

}  // namespace uadze::build
