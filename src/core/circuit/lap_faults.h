#pragma once
// What is wrong with the circuit along a lap however much fuel is in the tank: every pickup covered, is the
// mixture right throughout?
//
// Injectors' law: flow ~ sqrt(dp). A mixture leaner by the share x is fuel less by 1/(1 + x), so the
// difference that bounds it is   dp = dp_set / (1 + x)^2   (3 %: 94.3 % of the set one; the same x rich:
// 106.1 %). Where the controller corrects for the measured rail pressure, it keeps the mixture until the
// injectors are open all the time, dp = dp_now duty^2 / (1 + x)^2, or until the rail is at the least pressure
// that the engine is mapped to.
//
// Example:
//   const circuit::LeanLimit limit{.lean = 0.03, .time = 0.15};
//   EXPECT_NEAR(limit.least(3e5, 3e5, 0.8), 3e5 / 1.0609, 1);            // Pa
//   EXPECT_NEAR(limit.most(3e5), 3e5 * 1.0609, 1);
//   const circuit::Case c = test::plain_case();
//   const lap::Lap lap = test::corner_lap(5.0, 8);
//   EXPECT_TRUE(lap_faults(c, run_along(c, starvation::load_trace(lap, lap.fuel_flow), 50), limit).empty());
#include "core/circuit/load_trace.h"

namespace uadze::circuit {

/// How lean is too lean, and for how long.
struct LeanLimit {
  double lean = 0.03;       ///< share by which the mixture may be leaner than set
  double time = 0.15;       ///< s, that it may last
  bool corrected = false;   ///< the controller corrects the injectors' time for the measured pressure
  double least_rail = 0.0;  ///< Pa across the injectors, where that correction ends too
  bool operator==(const LeanLimit&) const = default;

  /// Of the pressure difference: 1/(1 + lean)^2.
  double share() const { return 1 / ((1 + lean) * (1 + lean)); }
  /// Pa across the injectors under which the mixture is too lean; `now`, `duty`: as the circuit feeds them.
  double least(double set, double now, double duty) const;
  /// Pa over which it is too rich by as much, or the correction's ground is left.
  double most(double set) const { return set * (1 + lean) * (1 + lean); }
};

enum class LapFaultKind {
  spin_up,      ///< a staged pump comes late
  staged_off,   ///< a pump stands still though the pressure falls
  boiling,      ///< the fuel boils at a pump's inlet
  at_its_end,   ///< all pumps that there are run, and it is not enough
  injectors,    ///< open for longer than their limit though the pressure holds
  overwhelmed,  ///< too much pressure: the return can not take the flow
  too_high,     ///< too much pressure otherwise
  lift_short,   ///< the lift pumps bring less than is drawn: the surge tank empties
  discharging   ///< the alternator gives less than the car takes
};
constexpr const char* name_of(LapFaultKind value) {
  switch (value) {
    case LapFaultKind::spin_up:
      return "staged pump comes late";
    case LapFaultKind::staged_off:
      return "staged pump is off";
    case LapFaultKind::boiling:
      return "fuel boils at an inlet";
    case LapFaultKind::at_its_end:
      return "pumps at their end";
    case LapFaultKind::injectors:
      return "injectors too small";
    case LapFaultKind::overwhelmed:
      return "return overwhelms the regulator";
    case LapFaultKind::too_high:
      return "pressure too high";
    case LapFaultKind::lift_short:
      return "lift pumps bring too little";
    case LapFaultKind::discharging:
      return "battery discharges";
  }
  return nullptr;
}

/// All stretches of one kind (and of one pump).
struct LapFault {
  LapFaultKind kind = LapFaultKind::at_its_end;
  int main = -1;  ///< of the circuit's main pumps, if it is about one
  Severity severity = Severity::error;
  int count = 0;                                     ///< stretches
  double total = 0.0;                                ///< s
  double longest = 0.0;                              ///< s
  double start = 0.0, end = 0.0;                     ///< s, of the worst
  double difference = 0.0, set = 0.0, demand = 0.0;  ///< Pa, Pa, m3/s at its worst moment
  double open = 0.0;                                 ///< of injectors too small: share of the time, the most
  double short_by = 0.0;                             ///< and share by which more is asked for than they pass
  Phrase text;                                       ///< what it is and what cures it, without the place
  /// Share by which the mixture is leaner (negative: richer) at the worst moment: by the pressure,
  /// uncorrected, or by what the injectors do not pass.
  double leaner() const;
};

/// The worst first. Points as `run_along` gives them; their first and last are the lap's ends.
std::vector<LapFault> lap_faults(const Case& c, const LoadRun& run, const LeanLimit& limit);

}  // namespace uadze::circuit
