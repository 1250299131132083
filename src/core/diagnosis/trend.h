#pragma once
// What changes from session to session: the filter's loss, the pump's current, the battery.
//
//   loss      share of the usual difference that is missing at the greatest flow: d = -loss q^2 + c by least squares
//             over instants of one log (turbulent loss in a loading filter or a pinched line)
//   current   the pump's, median while the engine runs at usual pressure: bearings and commutator
//   loaded    V of the supply at over 0.7 of the greatest flow, median
//   standing  V with the engine stopped, median: the battery
//
// Over the logs in their order a straight line is fitted to each; it is called clear where its slope is over
// three of its own standard errors, at least by what is noticeable (1 % of the difference, 3 % of the
// current, 0.1 V) from first to last.
//
// Limits: another fuel map, regulator or weather moves them too; a log within which the filter loads is told
// by diagnose().
//
// Example:
//   std::vector<diagnosis::Wear> logs(4);
//   for (int k = 0; k < 4; ++k) logs[k] = {.log = "day " + std::to_string(k + 1), .loss = 0.02 + 0.03 * k};
//   const auto trends = diagnosis::trends(logs);
//   ASSERT_EQ(trends.size(), 1u);
//   EXPECT_NEAR(trends[0].per_log, 0.03, 1e-12);
//   EXPECT_TRUE(trends[0].clear);
#include "core/diagnosis/instants.h"

namespace uadze::diagnosis {

struct Wear {
  std::string log;
  double begin = 0.0;  ///< s, the log's clock, to put logs in order
  std::optional<double> loss, current, loaded, standing;
};

Wear wear_of(const std::string& name, const log::Log& log, const log::Laps& laps, const Found& found);

struct Trend {
  std::string what;  ///< "loss at full flow", ...
  Quantity quantity = Quantity::plain;
  size_t logs = 0;
  double first = 0.0, last = 0.0;     ///< of the line
  double per_log = 0.0, error = 0.0;  ///< slope and its standard error
  bool clear = false;
  std::string sentence;  ///< with what to look at
};

/// Of those that three logs or more show, in the order of the list.
std::vector<Trend> trends(const std::vector<Wear>& logs);

}  // namespace uadze::diagnosis
