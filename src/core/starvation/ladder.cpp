#include "core/starvation/ladder.h"

#include <tbb/parallel_for.h>

#include <algorithm>
#include <atomic>
#include <cmath>

#include "core/starvation/quick_lap.h"

namespace uadze::starvation {
namespace {

bool all_over(const std::vector<float>& values, float least) {
  return std::ranges::all_of(values, [least](float v) { return v >= least; });
}
bool never_bare(const MapRow& row) { return all_over(row.least_wet, 1.0f); }
/// Clean by far: no pickup sees gas, or half of the reserve is left all along.
bool has_plenty(const MapRow& row) { return never_bare(row) || all_over(row.reserve, 0.5f); }

/// What a level between two clean rows shows, straight between them.
MapRow between(const MapRow& lower, const MapRow& upper, double level) {
  MapRow out = lower;
  out.level = level, out.coarse = true;
  const auto share = static_cast<float>((level - lower.level) / (upper.level - lower.level));
  const auto mix = [share](std::vector<float>& values, const std::vector<float>& others) {
    for (size_t k = 0; k < values.size(); ++k) values[k] = std::lerp(values[k], others[k], share);
  };
  mix(out.wet, upper.wet), mix(out.least_wet, upper.least_wet);
  mix(out.reserve, upper.reserve), mix(out.rail, upper.rail);
  for (size_t k = 0; k < out.pickups.size(); ++k) mix(out.pickups[k], upper.pickups[k]);
  return out;
}

class Climb {
 public:
  Climb(const FuelSystem& car, const Course& course, const MapOptions& options, Progress* progress)
      : car_(car), course_(course), progress_(progress), quick_(car, course, {.step = 0.04}) {
    for (const double level : level_ladder(car.tank->volume(), options.levels))
      out_.rungs.push_back({.level = level, .hurts = {}, .row = {}});
  }

  Ladder all() {
    const size_t n = out_.rungs.size(), apart = std::max<size_t>(1, n / 10);
    std::vector<size_t> whole, middle, others;
    for (size_t i = 0; i < n; ++i) {
      const size_t from_above = (n - 1 - i) % apart;
      (i == 0 || from_above == 0 ? whole : from_above == apart / 2 ? middle : others).push_back(i);
    }
    for_each(whole, [&](size_t i) { first_asked(i); });
    // A row beside whole ones is seen beside them: finer than what a first answer does with.
    fill(middle, whole, never_bare);
    std::vector<size_t> known;
    std::ranges::merge(whole, middle, std::back_inserter(known));
    fill(others, known, has_plenty);
    drive_highest();
    return std::move(out_);
  }

 private:
  /// `work(i)` for each on all cores, with progress and cancel.
  template <class Work>
  void for_each(const std::vector<size_t>& rungs, Work&& work) {
    std::atomic<size_t> done{0};
    tbb::parallel_for(size_t{0}, rungs.size(), [&](size_t k) {
      if (progress_ && progress_->cancelled()) return;
      work(rungs[k]);
      if (progress_) progress_->report(static_cast<double>(++done) / static_cast<double>(rungs.size()));
    });
    if (progress_) progress_->check();
  }

  void first_asked(size_t i) {
    // The lowest and the full tank are always whole.
    if (car_.surge && i > 0 && i + 1 < out_.rungs.size())
      if (auto row = quick_.row_by_far(out_.rungs[i].level, course_, progress_)) {
        out_.rungs[i].clean = true;
        out_.rungs[i].row = std::move(*row);
        return;
      }
    drive(i);
  }

  void drive(size_t i) {
    Rung& rung = out_.rungs[i];
    CleanRun driven = run_while_clean(car_, course_, rung.level, {.progress = progress_});
    rung.clean = !driven.trouble;
    if (rung.clean)
      rung.row = row_of(std::move(driven.run), course_, capacity());
    else if (!driven.trouble->later)
      rung.hurts = driven.trouble->time;
  }

  /// Rungs between two of those known each; `enough`: both rows are such that what lies between is too.
  template <class Enough>
  void fill(const std::vector<size_t>& rungs, const std::vector<size_t>& known, Enough&& enough) {
    for_each(rungs, [&](size_t i) {
      Rung& rung = out_.rungs[i];
      const auto above = std::ranges::upper_bound(known, i);
      const Rung &upper = out_.rungs[*above], &lower = out_.rungs[*std::prev(above)];
      if (upper.clean && lower.clean) {
        rung.row = enough(upper.row) && enough(lower.row) ? between(lower.row, upper.row, rung.level)
                                                          : quick_.row(rung.level, course_);
        rung.clean = rung.row.events.empty();
        if (rung.clean) return;
        rung.row = {};
      }
      const std::optional<double> place = upper.hurts ? upper.hurts : lower.hurts;
      if (place && starves_about(car_, course_, rung.level, *place, 5, {.progress = progress_}))
        rung.hurts = place;
      else
        drive(i);
    });
  }

  /// One that starved at a place alone may be clean when it is driven whole.
  void drive_highest() {
    for (;;) {
      const size_t clean = out_.clean_on_top();
      if (clean == out_.rungs.size()) return;
      Rung& rung = out_.rungs[out_.rungs.size() - 1 - clean];
      LevelRun run = run_level(car_, course_, rung.level, {.progress = progress_});
      if (!run.clean()) {
        out_.highest = std::move(run);
        return;
      }
      rung.clean = true;
      rung.hurts.reset();
      rung.row = row_of(std::move(run), course_, capacity());
    }
  }

  double capacity() const { return std::max(car_.reserve_capacity(), 1e-12); }

  const FuelSystem& car_;
  const Course& course_;
  Progress* progress_;
  QuickLap quick_;
  Ladder out_;
};

}  // namespace

size_t Ladder::clean_on_top() const {
  const auto starves = std::find_if(rungs.rbegin(), rungs.rend(), [](const Rung& r) { return !r.clean; });
  return static_cast<size_t>(starves - rungs.rbegin());
}

std::vector<double> level_ladder(double tank_volume, int levels) {
  std::vector<double> out;
  for (int i = 1; i <= levels; ++i) out.push_back(tank_volume * i / levels);
  return out;
}

Ladder ladder(const FuelSystem& car, const Course& course, const MapOptions& options, Progress* progress) {
  return Climb(car, course, options, progress).all();
}

}  // namespace uadze::starvation
