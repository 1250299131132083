#pragma once
// A pickup: a point with a round, level sock; how much of the sock is under the fuel, and how much of what it
// draws is fuel.
//
//       surface ______________
//                    |  depth (along the effective gravity, positive when covered)
//              ======o======   sock: a disc of `sock_radius` in the car's level
//
// Example:
//   const tank::Pickup pickup{"rear", {0, 0, 0.01}, 0.02, "engine"};
//   EXPECT_NEAR(depth(pickup, {Vec3::UnitZ(), 0.05}), 0.04, 1e-15);
//   EXPECT_EQ(wet_fraction(pickup, {Vec3::UnitZ(), 0.05}), 1.0);
#include "core/tank/parts.h"
#include "core/tank/solid.h"

namespace uadze::tank {

/// m, of the pickup's middle below the surface along the effective gravity; negative when above it.
double depth(const Pickup& pickup, const Plane& surface);

/// Share of the sock's area below the surface, 0..1: the part of a disc on one side of a chord.
double wet_fraction(const Pickup& pickup, const Plane& surface);

/// m: the least depth at which a drain of the radius (m) draws no gas at a flow (m3/s) under a pull (m/s2):
/// h/a = 0.69 (Q2/(g a5))^(1/5) (Lubin and Springer 1967, The formation of a dip on the surface of a liquid
/// draining from a tank). A bare tube end counts as 8 mm.
double critical_submergence(double radius, double flow, double pull);

/// Share of fuel in what a pickup draws, 0..1: all fuel from the critical submergence of its flow down, none
/// when bare, in between by depth, and never more than is wet. Lubin and Springer give the beginning only;
/// the line below it is an assumption.
double drawn_fuel(const Pickup& pickup, const Plane& surface, double flow, double pull);

}  // namespace uadze::tank
