#include "core/sizing/sequent_peak.h"

#include <algorithm>
#include <limits>

#include "core/base/require.h"

namespace uadze::sizing {
namespace {

/// Part of a step (0..1) in which the net flow is n0 + (n1 - n0) u, u from a to b: its volume over the step.
double swept(double n0, double n1, double a, double b, double dt) {
  return dt * ((b - a) * n0 + (n1 - n0) * (b * b - a * a) / 2);
}

}  // namespace

double needed_capacity(const Flows& in) {
  UADZE_REQUIRE(in.supply.size() == in.time.size() && in.draw.size() == in.time.size(),
                "flows have as many samples as times");
  const size_t n = in.time.size();
  double largest = 0, deficit = 0, after_first = 0;
  for (int round = 0; round < 2; ++round) {
    for (size_t i = 0; i + 1 < n; ++i) {
      const double dt = in.time[i + 1] - in.time[i];
      const double n0 = in.draw[i] - in.supply[i], n1 = in.draw[i + 1] - in.supply[i + 1];
      const bool turns = (n0 < 0) != (n1 < 0) && n0 != 0 && n1 != 0;
      const double zero = turns ? n0 / (n0 - n1) : 1.0;
      deficit = std::max(0.0, deficit + swept(n0, n1, 0, zero, dt));
      largest = std::max(largest, deficit);
      if (turns) {
        deficit = std::max(0.0, deficit + swept(n0, n1, zero, 1, dt));
        largest = std::max(largest, deficit);
      }
    }
    if (round == 0) after_first = deficit;
  }
  if (deficit > after_first + 1e-12) return std::numeric_limits<double>::infinity();
  return largest;
}

}  // namespace uadze::sizing
