#pragma once
// Why the pressure was not what it should have been: each cause as a small model of what it would do to the
// difference of pressure across the injectors, held against the log.
//
// The log is thinned to instants five a second in which the engine runs. Of each, the deviation
// d = difference / usual - 1 is explained by a cause k as d = a_k x_k(t) with the one sign that the cause can
// have, x_k being what the cause goes by:
//
//   slosh           a push away from the pickup, some time before (the fuel in the line), stronger as the
//                   level falls: max(0, +-a - a0), each hand, braking and speeding up tried
//   capacity        flow over what can be brought: max(0, Q / Q_most - q)^2
//   staged late     the first moments after the throttle is opened, at high flow
//   wiring          the supply's lack of voltage, by the flow
//   filter          flow squared, growing over the log
//   vapour          the fuel's warming, by the flow
//   vent            what has been drawn since the begin, at any flow
//   small return    flow that the engine does not take: (1 - Q / Q_most)^2, upward
//   reference lost  the manifold's vacuum, upward
//   check valve     how fast the pressure falls while the engine stands still
//   aeration        how fast the car shakes, in bursts, spread over all flows
//   sensor          a fall of the reading that lambda (or the pump's current) knows nothing of
//
// The likelihood of a cause is that of the residuals: -n/2 ln(RSS_k / RSS_none) - c/2 ln n, for n independent
// instants (by the deviation's own correlation in time) and c figures fitted (Schwarz 1978). None is a cause
// like the others, and two at once are tried of the best ones.
//
// Limits: what a log does not show (no lambda, no voltage) can not be told; a cause that acts for less than
// half a second is seen coarsely.
//
// Example:
//   const diagnosis::Diagnosis healthy = diagnosis::diagnose({}, {}, {});
//   EXPECT_TRUE(healthy.causes.empty());
//   EXPECT_EQ(healthy.answer, "There is not enough in the log to say.");
#include "core/diagnosis/events.h"
#include "core/diagnosis/picture.h"

namespace uadze::diagnosis {

enum class Cause {
  none,
  slosh,
  capacity,
  staged_late,
  wiring,
  filter,
  vapour,
  vent,
  small_return,
  reference_lost,
  check_valve,
  aeration,
  sensor
};
constexpr const char* name_of(Cause cause) {
  constexpr const char* names[] = {"nothing is wrong",
                                   "fuel away from the pickup",
                                   "pump or line at its end",
                                   "staged pump late",
                                   "wiring or supply voltage",
                                   "filter loading",
                                   "vapour",
                                   "vent blocked",
                                   "return too small",
                                   "regulator's reference lost",
                                   "leak back past the check valve",
                                   "aeration",
                                   "the sensor lies"};
  const auto k = static_cast<size_t>(cause);
  return k < std::size(names) ? names[k] : nullptr;
}

struct Suspect {
  Cause cause = Cause::none;
  double probability = 0.0;           ///< of all causes tried
  double explained = 0.0;             ///< share of the deviation's variance
  double amount = 0.0;                ///< of the usual difference, at the cause's greatest; signed
  std::vector<std::string> evidence;  ///< sentences with numbers
  std::vector<std::string> against;
  Picture picture;
  std::vector<double> model;  ///< the deviation that it would have made, at each moment of the log
};

struct Diagnosis {
  std::vector<Suspect> causes;    ///< likeliest first
  std::optional<Cause> also;      ///< a second one that works beside the first
  std::string answer;             ///< a sentence
  std::string next_test;          ///< the cheapest that tells the first two apart
  std::vector<double> deviation;  ///< at each moment; not a number while the engine stands
  bool enough = false;            ///< whether the log has what is needed to say anything
};

/// "67 %"; never "100 %": models are not the car.
std::string sure_words(double probability);

Diagnosis diagnose(const log::Log& log, const log::Laps& laps, const Found& found);

}  // namespace uadze::diagnosis
