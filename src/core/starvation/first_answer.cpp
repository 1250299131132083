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
  FirstSearch(const QuickLap& lap, const LevelBeside& beside, Progress* progress)
      : lap_(lap),
        beside_(beside),
        progress_(progress),
        search_(lap.search()),
        low_(std::min(lap.never_drawn(), lap.tank_volume())),
        high_(lap.tank_volume()),
        grain_((high_ - low_) / steps) {}

  FirstAnswer run() {
    // With a surge tank most are clean down to what is never drawn.
    if (lap_.has_surge_tank()) {
      take({low_, (low_ + high_) / 2});
    } else {
      thirds();
      if (!starves_) take({low_, low_ + (high_ - low_) / 3});
    }
    while (true) {
      while (high_ - low_ > 1.5 * grain_) thirds();
      look();
      if (figures().clean || high_ >= lap_.tank_volume()) break;
      // It passes where others starved, and starves elsewhere.
      whole_ = true;
      starves_ = low_ = high_;
      const auto clean = std::find_if(known_.upper_bound(low_), known_.end(),
                                      [](const auto& one) { return one.second.clean; });
      high_ = clean == known_.end() ? lap_.tank_volume() : clean->first;
    }
    return {.exists = figures().clean,
            .level = high_,
            .unclean_below = starves_.value_or(0.0),
            .runs = runs_,
            .at = figures(),
            .beside = known_near(level_beside())->second};
  }

 private:
  using Two = std::array<double, 2>;

  /// Two levels at a time, as there are two cores at the least.
  void thirds() {
    const double third = (high_ - low_) / 3;
    take({low_ + third, high_ - third});
  }

  void take(const Two& levels) {
    const std::array<bool, 2> clean = ask(levels);
    if (!clean[1])
      starves_ = low_ = levels[1];
    else if (!clean[0])
      starves_ = low_ = levels[0], high_ = levels[1];
    else
      high_ = levels[0];
  }

  std::array<bool, 2> ask(const Two& levels) {
    if (progress_) progress_->check();
    std::array<bool, 2> clean{};
    if (search_.knows_a_place() && !whole_) {
      runs_ += 2;
      tbb::parallel_for(0, 2, [&](int k) { clean[k] = search_.passes(levels[k]); });
      return clean;
    }
    drive(levels);
    for (size_t k = 0; k < 2; ++k) clean[k] = known_.at(levels[k]).clean;
    // Where the higher one that starves does.
    if (!(clean[0] && clean[1])) search_.suspect(known_.at(levels[clean[1] ? 0 : 1]).tightest_time);
    return clean;
  }

  /// Both whole, what is not known of them.
  void drive(const Two& levels) {
    std::array<LapFigures*, 2> fresh{};
    for (size_t k = 0; k < 2; ++k)
      if (const auto [at, is_new] = known_.try_emplace(levels[k]); is_new) fresh[k] = &at->second, ++runs_;
    tbb::parallel_for(0, 2, [&](int k) {
      if (fresh[k]) *fresh[k] = lap_.at(levels[k]);
    });
  }

  void look() {
    if (progress_) progress_->check();
    const double beside = level_beside();
    drive({high_, beside - high_ <= grain_ || known_near(beside) != known_.end() ? high_ : beside});
  }
  /// Driven whole within a step of a level and not under the one that is told, the nearest; else the end.
  std::map<double, LapFigures>::const_iterator known_near(double level) const {
    auto out = known_.end();
    for (auto it = known_.lower_bound(high_); it != known_.end(); ++it)
      if (const double off = std::abs(it->first - level);
          off <= grain_ && (out == known_.end() || off < std::abs(out->first - level)))
        out = it;
    return out;
  }
  double level_beside() const { return std::clamp(beside_(high_), high_, lap_.tank_volume()); }
  const LapFigures& figures() const { return known_.at(high_); }

  const QuickLap& lap_;
  const LevelBeside& beside_;
  Progress* progress_;
  LevelSearch search_;
  double low_, high_, grain_;      // m3
  std::optional<double> starves_;  // m3, the highest found to
  bool whole_ = false;             // places tell too little
  std::map<double, LapFigures> known_;
  int runs_ = 0;
};

}  // namespace

FirstAnswer first_answer(const QuickLap& lap, const LevelBeside& beside, Progress* progress) {
  return FirstSearch(lap, beside, progress).run();
}

}  // namespace uadze::starvation
