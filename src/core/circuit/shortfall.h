#pragma once
// The circuit's state where the engine asks for more than can come: the injectors pass what the pressure that
// is left gives them, and the mixture is leaner by what is missing.
//
//   find q <= demand:  q = d sum over injectors of Q_i sqrt((p_rail,i(q) - p_manifold) / p_i)
//
// d is the share of the time that they are open. A controller that corrects for the rail's pressure opens
// them longer, d = 1 at the end. One that does not leaves them the time that meets the demand at the pressure
// that is set: d = demand / sum of Q_i sqrt(p_set / p_i), at most 1; so q = demand sqrt(dp / dp_set), by the
// same law as the mixture's limits (lap_faults.h). It is asked where the regulator has shut and the rail
// still lacks pressure, and where the injectors would have to be open for more than all the time.
//
// p_rail(q) is the network's own answer at that flow, and falls with it, so there is one such q. At q every
// pressure, flow and current is one that can be; at the demand itself the equations end below no pressure at
// all. A needle passes what the pump can bring through it, a high-pressure pump
// draws what comes to it at the pressure that it needs.
//
// Example:
//   circuit::Case c = test::plain_case();
//   c.at.demand = 5e-3;                                          // m3/s: 18,000 L/h
//   const circuit::Met met = circuit::run_met(c);
//   EXPECT_LT(met.shortfall->burnt, met.shortfall->asked);
//   EXPECT_NEAR(met.state.duty, 1.0, 1e-6);                      // more than they pass at any pressure set
#include <optional>

#include "core/circuit/runner.h"

namespace uadze::circuit {

/// Share leaner than set beyond which no spark lights the mixture: engines misfire from some 1.6 times the
/// air of a complete burn on (Heywood, Internal Combustion Engine Fundamentals, 1988, chapter 9), and are set
/// to 0.8 to 1.
inline constexpr double most_lean = 1.0;

struct Shortfall {
  double asked = 0.0, burnt = 0.0;  ///< m3/s
  bool at_any_pressure = true;      ///< whether the demand could flow at all, however little pressure is left
  bool lights() const { return burnt * (1 + most_lean) >= asked; }
  /// The mixture's air ratio over the one that is set: 1.1 is 10 % leaner. Says nothing where it does not
  /// light.
  double leaner() const { return asked / burnt; }
};

struct Met {
  State state;
  std::optional<Shortfall> shortfall;  ///< nothing: the engine gets what it asks for
};

/// As run(), but with what can be burnt where that is less than the demand; its findings say so first.
Met run_met(const Case& c, const State* start = nullptr);
/// The same of a circuit that is ready, at its operating point.
Met run_met(Runner& runner, const State* start = nullptr, Tell tell = Tell::all);

}  // namespace uadze::circuit
