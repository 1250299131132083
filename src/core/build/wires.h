#pragma once
// The wires of the pumps: every run with its gauge, length, colour, pieces and terminals.
//
//   battery --piece-- fuse --piece-- relay --piece-- pump --ground-- battery
//                                      `--coil-- switch
//
// Example:
//   circuit::Case c = test::plain_case();
//   for (const build::WireRun& run : build::wire_list(c)) EXPECT_EQ(run.terminals, 2 * run.pieces);
#include "core/build/kept.h"
#include "core/circuit/circuit.h"

namespace uadze::build {

struct WireRun {
  std::string pump;  ///< "lift left", "main 2"
  std::string what;  ///< "feed", "ground", "relay's coil"
  std::string from, to;
  double area = 0.0;    ///< m2 of copper; 0: not entered
  double length = 0.0;  ///< m, all pieces together; 0: to suit
  int pieces = 1, terminals = 2;
  std::string colour, label;  ///< of the sleeve at both its ends: "main 2 +"
  std::string fuse, relay;    ///< on its way
  bool operator==(const WireRun&) const = default;
};

/// In the order of the pumps along the circuit; engine-driven pumps have none.
std::vector<WireRun> wire_list(const circuit::Case& c, const Scheme& scheme = {});

}  // namespace uadze::build
