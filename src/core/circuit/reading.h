#pragma once
// What a solved network says of the circuit: pressures and flows of its parts, currents of its pumps, what
// the engine has, and what is wrong with it.
//
// Example:
//   const circuit::Case c = test::plain_case();
//   const circuit::Built built = circuit::build(c);
//   const circuit::State s =
//       circuit::reading(c, built, circuit::solve(built.network, built.liquid), circuit::Tell::figures);
//   EXPECT_EQ(s.rail_difference, circuit::run(c).rail_difference);
//   EXPECT_TRUE(s.parts.empty() && s.findings.empty());
#include "core/circuit/build.h"

namespace uadze::circuit {

/// How much is told: all, or what a lap needs of each moment, without parts, wires, names, transfer, network
/// and findings.
enum class Tell { all, figures };

/// `solution`: of `built`, which was built for this case at this operating point.
State reading(const Case& c, const Built& built, Solution solution, Tell tell = Tell::all);

}  // namespace uadze::circuit
