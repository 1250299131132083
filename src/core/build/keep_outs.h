#pragma once
// Where the circuit's lines run in the car, and which of them come too near to what they must clear.
//
//   pickup --run--> --run--> surge tank --run--> ... --run--> rail --run--> back
//
// Each line is the straight between its entered ends: of one that bends far from it the bend itself is not
// seen. A leg whose start is not known (a pickup without a place), or without any run, is passed over.
//
// Example:
//   circuit::Case c = test::plain_case();
//   c.surroundings.pickups[0].place = Vec3(0, 0, 0.1);
//   c.circuit.lifts[0].parts[2].run = {0.5, 0, 0};
//   const build::KeepOut pipe{"exhaust", {0.2, -0.1, 0.12}, {0.3, 0.1, 0.2}, 50e-3};
//   ASSERT_EQ(build::crossings(c, {pipe}).size(), 1u);
//   EXPECT_NEAR(build::crossings(c, {pipe})[0].distance, 0.02, 1e-6);   // m
#include "core/build/kept.h"
#include "core/circuit/circuit.h"

namespace uadze::build {

struct Route {
  circuit::LegPlace leg;
  int part = 0;
  Vec3 from, to;  ///< m in the car
};
std::vector<Route> routes_in_car(const circuit::Case& c);

struct Crossing {
  circuit::LegPlace leg;
  int part = 0;
  size_t keep_out = 0;    ///< index
  double distance = 0.0;  ///< m from the line's middle to the box; 0: through it
};
/// Lines nearer than a box's clearance, by the lines' order.
std::vector<Crossing> crossings(const circuit::Case& c, const std::vector<KeepOut>& keep_outs);

/// m from a straight to a box; 0 if they meet.
double distance_to_box(const Vec3& from, const Vec3& to, const Vec3& low, const Vec3& high);

}  // namespace uadze::build
