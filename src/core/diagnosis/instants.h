#pragma once
// A log thinned to what causes are judged by: ten instants a second in which the engine has been running for
// some seconds, each with the deviation of pressure and with what causes go by.
//
// Example:
//   EXPECT_EQ(diagnosis::instants_of({}, {}, {}).size(), 0u);
#include "core/diagnosis/events.h"

namespace uadze::diagnosis {

struct Instants {
  double step = 0.1;                          ///< s
  std::vector<double> time;                   ///< s of the log
  std::vector<double> deviation;              ///< of the usual difference: difference / usual - 1
  std::vector<double> flow;                   ///< share of the greatest flow
  std::vector<double> throttle;               ///< 0..1
  std::vector<double> since_opened;           ///< s since the throttle went over 0.8
  std::vector<double> lateral, longitudinal;  ///< m/s2, slow
  std::vector<double> shaking;                ///< m/s2, deviation of the fast part over a second
  std::vector<double> drawn;                  ///< share of all that the log draws, so far
  std::vector<double> along;                  ///< share of the log's time
  std::vector<double> lack;                   ///< V under what the supply mostly has; empty: not in the log
  double supply = 13.0;                       ///< V, what the supply mostly has
  std::vector<double> warm;                   ///< K over the coldest; empty: not in the log
  double coldest = 0;                         ///< K
  std::vector<double> vacuum;  ///< Pa that the manifold is under the air; empty: not in the log
  std::vector<double>
      lean;  ///< lambda over its usual, under load for half a second; NaN otherwise; empty: none
  std::vector<double> current;  ///< the pump's over its usual, less 1; empty: not in the log
  /// Whether the manifold's pressure (or the throttle) has just leapt: two sensors of different haste make a
  /// dip of the difference there that is none of the fuel's.
  std::vector<char> transient;
  std::vector<double> place;  ///< share of the lap, -1 outside of flying laps
  std::vector<int> lap;
  std::string flow_from;  ///< "fuel flow", "injector time and engine speed", ...
  /// s in which the pressure falls to 1/e while the engine stands; nothing if it never stood for three.
  std::optional<double> fall_time;
  /// The first such fall: s since the engine stopped, and Pa over the injectors.
  struct Fall {
    std::vector<double> time, difference;
  } fall;
  double short_dips = 0.0;  ///< share of the deviation's square that lies in dips of under 0.3 s
  size_t dips = 0;          ///< stretches more than 3 % under the usual
  size_t size() const { return time.size(); }
};

Instants instants_of(const log::Log& log, const log::Laps& laps, const Found& found);

}  // namespace uadze::diagnosis
