#pragma once
// Fuel that stays in the tank whatever is done: no clean level, start or bring-back lies under it.
//
//   under   what lies below every way out with the car at rest on the level. A space drains to its lowest
//           pickup, or over an opening's lowest edge into a space that drains (and no lower than that one); a
//           space that a jet or balance line empties drains whole; one without a way out keeps all.
//   foam    what its cells hold back: the entered share of the foam's volume, over the level left under.
//           Upper limits for reticulated foams are 2.5 % (coarse) to 4.5 % (fine) (MIL-DTL-83054).
//   film    what drains too slowly from the walls: its mean a minute after, (2/3) sqrt(nu H / (g t)) on all
//           walls (Jeffreys 1930, The draining of a vertical plate), nu = 0.6e-6 m2/s.
//
// Example:
//   starvation::FuelSystem car = test::simple_car({-0.3, 0, 0.01});    // 0.6 x 0.5 x 0.3 m
//   const starvation::NeverDrawn left = starvation::never_drawn(car);
//   EXPECT_NEAR(left.under, 0.6 * 0.5 * 0.01, 1e-12);                  // m3
#include "core/base/derivation.h"
#include "core/starvation/fuel_system.h"

namespace uadze::starvation {

/// Of the car's tank, pickups and transfer.
NeverDrawn never_drawn(const FuelSystem& car);
/// Whether a level (m3) is less than what never comes out: no car can be driven at it, whatever a run says in
/// which all that is burnt is replaced.
inline bool is_under(double level, const NeverDrawn& left) { return level < left.total() - 1e-9; }
/// Whether a clean level is what it is because of it: the lap itself would be clean with less.
inline bool holds_up(const NeverDrawn& left, double clean_level) {
  return left.total() > 0 && clean_level <= left.total();
}
Derivation never_drawn_working(const NeverDrawn& left);

}  // namespace uadze::starvation
