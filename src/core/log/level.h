#pragma once
// What was in the tank along a log: put in less burnt, with how sure that is; and the gauge held against it.
//
//   V(t) = V0 - k S(t),   S(t) = flow summed up to t,   k = scale of the flow
//   s(t)^2 = s0^2 + (s_k k S(t))^2
//
// With what was drained known too, k makes both ends meet and the middle is surer than either end alone
// (a bridge): s(t)^2 = s0^2 + (s_k k)^2 S (1 - S / S_end) with k = (V0 - V_end) / S_end.
//
// Example:
//   const log::Log log = log::parse_log("Time [s],Fuel Flow [L/h],RPM\n0,36,3000\n50,36,3000\n100,36,3000\n", "a.csv").value;
//   const auto level = log::level_along(log, log::flow_along(log), {.put_in = 20e-3});
//   EXPECT_NEAR(level.values[2], 19e-3, 1e-9);      // m3: 36 L/h for 100 s is one litre
//   EXPECT_GT(level.deviation[2], level.deviation[0]);
#include "core/log/flow.h"

namespace uadze::log {

/// What is known of the fuel beside the log's channels.
struct KnownFuel {
  std::optional<double> put_in;   ///< m3 in the tank as the log begins
  std::optional<double> drained;  ///< m3 in the tank as it ends
  double put_in_error = 0.1e-3;   ///< m3, one deviation, of either
  double scale = 1.0;             ///< of the flow
  double scale_error = 0.03;      ///< one deviation, of a scale that was not found from both ends
};

struct LevelAlong {
  std::vector<double> values, deviation;  ///< m3 at each moment; empty: not known
  std::string from;                       ///< "put in less burnt", "the gauge", or why there is none
  double scale = 1.0;                     ///< of the flow, as it was used
  std::optional<FlowCheck> check;         ///< with put in and drained
  bool known() const { return !values.empty(); }
};

/// By put in and flow; without them by the log's own level channel, smoothed over half a minute, to two
/// litres sure.
LevelAlong level_along(const Log& log, const FlowAlong& flow, const KnownFuel& known);

/// The gauge against the level: mean error and its scatter over moments at which the car is steady.
struct GaugeCheck {
  size_t moments = 0;
  double mean = 0.0, deviation = 0.0;  ///< m3, gauge less level
};
std::optional<GaugeCheck> gauge_check(const Log& log, const LevelAlong& level);

}  // namespace uadze::log
