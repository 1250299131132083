#pragma once
// Whether the legs' routes close: each line's run is entered by itself, and acceleration presses along it, so
// a sign or a forgotten line is a pressure that is not there in the car.
//
//   pickup + lift leg = surge tank          the same place by every lift leg
//   main legs                               from one place to one: equal sums
//   surge tank + main + feed + return       back at the surge tank, or at the tank's return outlet
//
// Legs without any run entered are taken as unknown and nothing is said of them. What is not entered (a
// rail's own length, a surge tank's size) is let pass, and 50 mm.
//
// Example:
//   circuit::Case c = test::plain_case();
//   c.circuit.feed[0].run = {-1.2, 0, 0.1};                       // and the return is 1.2 m too short to come back
//   c.circuit.back[0].run = {0.1, 0, -0.1};
//   ASSERT_EQ(route_gaps(c).size(), 1u);
//   EXPECT_NEAR(route_gaps(c)[0].gap.x(), 1.1, 1e-12);
#include "core/circuit/circuit.h"

namespace uadze::circuit {

struct RouteGap {
  LegPlace leg;             ///< whose end does not meet
  Vec3 gap;                 ///< m, from where it ends to where it should
  double allowed = 0.0;     ///< m
  std::string ends, meets;  ///< "the return line", "the surge tank"
};
std::vector<RouteGap> route_gaps(const Case& c);

}  // namespace uadze::circuit
