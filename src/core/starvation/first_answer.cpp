#include "core/starvation/first_answer.h"

#include <tbb/parallel_for.h>

#include <algorithm>
#include <cmath>

#include "core/base/root.h"

namespace uadze::starvation {
FirstAnswer first_answer(const QuickLap& lap, Progress* progress) {
  FirstAnswer out;
  const Turn turn = turn_in_thirds(
      [&](double lower, double upper) {
        if (progress) progress->check();
        const double tried[2] = {lower, upper};
        LapFigures found[2];
        tbb::parallel_for(0, 2, [&](int k) { found[k] = lap.at(tried[k]); });
        const bool is[2] = {found[0].clean, found[1].clean};
        // The lowest clean one so far.
        if (is[1]) out.at = std::move(found[is[0] ? 0 : 1]);
        return std::pair(is[0], is[1]);
      },
      0.0, lap.tank_volume(), 0.0, 4);
  const double high = std::min(std::max(turn.yes, lap.never_drawn()), lap.tank_volume()), low = turn.no;
  out.runs = turn.evaluations;
  if (high > turn.yes || high >= lap.tank_volume()) out.at = lap.at(high);
  out.exists = out.at.clean;
  out.level = high;
  out.unclean_below = low;
  return out;
}

}  // namespace uadze::starvation
