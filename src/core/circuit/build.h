#pragma once
// From a circuit's legs to a network, and which part of which leg became which element: its form first, which
// is made once, then the figures of an operating point, which may be set again and again.
//
// Example:
//   circuit::Case c = test::plain_case();
//   circuit::Built built = circuit::build(c);
//   EXPECT_TRUE(circuit::solve(built.network, built.liquid).converged);
//   c.at.demand *= 2;
//   set_point(built, c);                                   // the same network, another demand
#include "core/circuit/circuit.h"

namespace uadze::circuit {

/// A part's place in the network.
struct Built {
  struct Piece {
    LegPlace leg;
    int part = 0;
    int branch = 0;
    std::vector<Element> elements;  ///< none for a pump
    double bore = 0.0;
    double head = 0.0;      ///< Pa
    double cracking = 0.0;  ///< Pa, of a check valve that is open
  };
  struct PumpAt {
    LegPlace leg;
    int part = 0;
    int branch = 0;
    const PumpType* type = nullptr;
    const Wiring* wiring = nullptr;
  };

  Network network;
  fluid::Liquid liquid;
  double ambient = 0.0, tank = 0.0;  ///< Pa
  double set = 0.0;                  ///< Pa absolute that a gauge should show before (behind) the regulator
  double spring = 0.0;               ///< Pa absolute that its spring holds without flow
  std::vector<Piece> pieces;
  std::vector<PumpAt> pumps;
  std::vector<std::pair<int, size_t>> pickups;         ///< node, and which of the surroundings' it is
  int surge = -1, merge = -1, entry = -1, sense = -1;  ///< nodes; entry: where the feed line ends
  int main_tank = -1, air = -1;                        ///< nodes
  int overflow = -1, vent = -1, relief = -1;           ///< branches
  int reducer = -1;                                    ///< branch of a dead-head regulator
  std::vector<int> lift_ends, main_ends;               ///< branches that bring fuel in
  std::vector<int> injectors;                          ///< nodes
  int back = -1;                                       ///< branch of the return line, or the relief itself
  int jet = -1;                                        ///< branch whose flow drives the jet
};

struct BuildOptions {
  bool relief = true;   ///< false: a bypass regulator held shut, a dead-head one wide open
  bool garage = false;  ///< the regulator holds its base whatever flows: as it is being set
};

/// Needs a circuit without faults.
Built build(const Case& c, const BuildOptions& options = {});

/// Brings a network that was built for this case to its operating point as it is now. All of `at` but the
/// filters' load may have changed.
void set_point(Built& built, const Case& c, const BuildOptions& options = {});

/// Pa over the vapour pressure's side of things: tank gas, with its vent's loss or blocked for some time.
/// s of the demand after which a tank without a vent is looked at.
inline constexpr double shut_vent_time = 600.0;
double tank_pressure(const Case& c, const fluid::Liquid& liquid);

/// Pa over its reference that the regulator's spring holds without flow, when its screw was turned until the
/// gauge read the base: pump on, engine off, reference open, clean filters, 20 °C, the return flowing. Where
/// the return alone holds more than that the screw can do nothing, and the spring is taken at the base.
double regulator_spring(const Case& c);

/// Which main pumps run.
std::vector<char> mains_running(const Case& c);

}  // namespace uadze::circuit
