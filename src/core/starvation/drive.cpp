#include "core/starvation/drive.h"

#include <algorithm>
#include <cmath>
#include <limits>
#include <utility>

namespace uadze::starvation {
namespace {

constexpr double infinite = std::numeric_limits<double>::infinity();

/// What was under its limit on a lap that went over to the one before, and the ledger of all.
void take_over(Drive& out, const LapTrace& before, const std::vector<LeanStretch>& stretches,
               const Ledger then, const lap::Lap& lap) {
  const Mark& here = out.trace.marks[*out.trace.taken_over];
  const Mark& there = before.marks[*out.trace.taken_over];
  for (const LeanStretch& s : stretches)
    if (s.start >= lap.time[there.sample]) out.stretches.push_back(s);
  out.ledger = {.start = here.ledger.start,
                .end = here.ledger.end + then.end - there.ledger.end,
                .burnt = here.ledger.burnt + then.burnt - there.ledger.burnt,
                .replaced = here.ledger.replaced + then.replaced - there.ledger.replaced};
}

}  // namespace

double Settling::drop(double change, double room) {
  const double last = std::exchange(last_, change);
  beyond_ = false;
  if (change <= 0 || last <= 0 || room <= change) return 0.0;
  const double slows = change / last;
  const bool endless = slows > 0.995;
  const double rest = endless ? infinite : change * slows / (1 - slows);
  beyond_ = rest > room;
  double drop = rest;
  if (rest <= room) {
    if (drop < change) return 0.0;
    skipped_ += static_cast<int>(std::ceil(std::log(2e-3) / std::log(slows)));
  } else {
    // As many whole laps as there is room for: n of them take rest (1 - slows^n), or n times the change.
    const double laps = std::floor(endless ? room / change : std::log1p(-room / rest) / std::log(slows));
    if (laps < 1) return 0.0;
    drop = endless ? laps * change : rest * (1 - std::pow(slows, laps));
    skipped_ += static_cast<int>(laps);
  }
  last_ = 0.0;
  return drop;
}

Drive drive_laps(Marcher& march, const Course& course, const DriveOptions& options,
                 std::vector<slosh::Instant>* motion) {
  Drive out;
  LapTrace before;
  std::vector<slosh::Instant> motion_before;
  if (motion) before.motion = &motion_before;
  out.trace.motion = motion;
  Settling settling;
  bool strode = true;  // nothing was driven before, or not from where the last lap ended
  for (int lap = 1;; ++lap) {
    if (options.progress) options.progress->check();
    out.start = march.reserve();
    const bool whole = march.lap(out.trace, {.stop_at_trouble = options.only_clean && lap == 1,
                                             .mark = course.repeated,
                                             .before = strode ? nullptr : &before});
    const std::vector<LeanStretch> last = std::exchange(out.stretches, march.stretches());
    const bool same = out.trace.taken_over.has_value();
    if (same) take_over(out, before, last, out.ledger, *course.lap);
    if (!same) out.ledger = march.ledger();
    if (!out.stretches.empty() && out.first_short == 0) out.first_short = out.laps + settling.laps_skipped();
    const double after = same ? out.end : march.reserve(), change = same ? 0.0 : out.start - after;
    out.end = after;
    if (!whole || !course.repeated) break;
    out.settled = std::abs(change) <= options.same;
    if (out.settled || lap >= options.most_laps) break;
    // A lap that starves and does not fill starves again.
    if (options.only_clean && !out.stretches.empty() && change >= 0) break;
    ++out.laps;
    strode = false;
    if (options.room) {
      const double room = options.room(out.trace), drop = settling.drop(change, room);
      out.beyond = options.within_room && settling.beyond();
      if (out.beyond) break;
      if (drop > 0) march.set_surge(after - drop), strode = true;
    }
    std::swap(out.trace, before);
    if (motion) std::swap(*motion, motion_before), out.trace.motion = motion, before.motion = &motion_before;
  }
  out.laps += settling.laps_skipped();
  return out;
}

}  // namespace uadze::starvation
