#include "core/starvation/first_answer.h"

#include <tbb/parallel_for.h>

#include <algorithm>
#include <array>
#include <map>

namespace uadze::starvation {
namespace {

constexpr double steps = 81;  // of the tank over what is never drawn: four thirds of thirds

class FirstSearch {
 public:
  FirstSearch(const QuickLap& lap, Progress* progress)
      : lap_(lap),
        progress_(progress),
        search_(lap.search()),
        low_(std::min(lap.never_drawn(), lap.tank_volume())),
        high_(lap.tank_volume()),
        grain_((high_ - low_) / steps) {}

  FirstAnswer run() {
    thirds();
    // Clean wherever it was asked: as a car with a surge tank, down to what is never drawn.
    if (!starves_) low_end();
    while (true) {
      while (high_ - low_ > 1.5 * grain_) thirds();
      if (figures().clean || high_ >= lap_.tank_volume()) break;
      // It passes where others starved, and starves elsewhere: one more place, and on from there.
      search_.clean(high_);
      starves_ = low_ = high_;
      high_ = lap_.tank_volume();
    }
    return {.exists = figures().clean,
            .level = high_,
            .unclean_below = starves_.value_or(0.0),
            .runs = runs_,
            .at = figures()};
  }

 private:
  /// Two levels at a time, as there are two cores at the least.
  void thirds() {
    const double third = (high_ - low_) / 3, lower = low_ + third, upper = high_ - third;
    take({lower, upper}, ask({lower, upper}));
  }

  void low_end() {
    const std::array levels{low_, low_ + (high_ - low_) / 3};
    take(levels, ask(levels));
  }

  void take(const std::array<double, 2>& levels, const std::array<bool, 2>& clean) {
    if (!clean[1])
      starves_ = low_ = levels[1];
    else if (!clean[0])
      starves_ = low_ = levels[0], high_ = levels[1];
    else
      high_ = levels[0];
  }

  std::array<bool, 2> ask(const std::array<double, 2>& levels) {
    if (progress_) progress_->check();
    runs_ += 2;
    std::array<bool, 2> clean{};
    if (search_.knows_a_place()) {
      tbb::parallel_for(0, 2, [&](int k) { clean[k] = search_.passes(levels[k]); });
      return clean;
    }
    std::array<LapFigures, 2> found;
    tbb::parallel_for(0, 2, [&](int k) { found[k] = lap_.at(levels[k]); });
    for (size_t k = 0; k < 2; ++k) {
      clean[k] = found[k].clean;
      if (!clean[k] && (k == 1 || found[1].clean)) search_.suspect(found[k].tightest_time);
      known_.emplace(levels[k], std::move(found[k]));
    }
    return clean;
  }

  const LapFigures& figures() {
    const auto [at, fresh] = known_.try_emplace(high_);
    if (fresh) at->second = lap_.at(high_), ++runs_;
    return at->second;
  }

  const QuickLap& lap_;
  Progress* progress_;
  LevelSearch search_;
  double low_, high_, grain_;      // m3
  std::optional<double> starves_;  // m3, the highest found to
  std::map<double, LapFigures> known_;
  int runs_ = 0;
};

}  // namespace

FirstAnswer first_answer(const QuickLap& lap, Progress* progress) { return FirstSearch(lap, progress).run(); }

}  // namespace uadze::starvation
