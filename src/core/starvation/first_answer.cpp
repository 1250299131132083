#include "core/starvation/first_answer.h"

#include <tbb/parallel_for.h>

#include <algorithm>
#include <cmath>

#include "core/base/root.h"

namespace uadze::starvation {
namespace {

constexpr double coarse_step = 0.08;  // s

size_t stride_of(const lap::Lap& lap) {
  const double mean = lap.duration() / static_cast<double>(std::max<size_t>(lap.size() - 1, 1));
  return static_cast<size_t>(std::max(std::floor(coarse_step / mean), 1.0));
}

}  // namespace

LapFigures figures_of(const LevelRun& run, const Course& course) {
  const lap::Lap& lap = *course.lap;
  UADZE_REQUIRE(run.reserve.size() == lap.size(), "a run is told of by its own lap");
  return {.clean = run.clean(),
          .least_seconds = run.least_seconds,
          .least_reserve = run.least_reserve,
          .least_margin = run.least_margin,
          .tightest_time = lap.time[run.tightest],
          .margin_time = lap.time[run.margin_at],
          .tightest_place = run.tightest_place,
          .tightest_side = run.tightest_side,
          .by_circuit = !run.events.empty() && run.events.front().side.empty()};
}

QuickLap::QuickLap(const FuelSystem& car, const Course& course) : car_(car), course_(course) {
  car_.motion.planar.phase_step = 1.0;
  car_.motion.longest_step = coarse_step;
  const size_t stride = stride_of(*course.lap);
  lap_ = lap::thinned(*course.lap, stride);
  const auto thin = [&](const std::vector<double>& values) {
    lap::Lap carrier;
    carrier.time = values;
    return lap::thinned(carrier, stride).time;
  };
  course_.lap = &lap_;
  course_.demand = thin(course.demand);
  Delivery delivery = *course.delivery;
  for (auto& lift : delivery.lift) lift = thin(lift);
  for (auto* values : {&delivery.main, &delivery.fed, &delivery.set}) *values = thin(*values);
  if (!delivery.duty.empty()) delivery.duty = thin(delivery.duty);
  course_.delivery = std::make_shared<const Delivery>(std::move(delivery));
  course_.reach = course_reach(car_, course_);
  course_.limit = course_limit(car_, course_);
}

LapFigures QuickLap::at(double level) const {
  return figures_of(run_level(car_, course_, level, {.most_laps = 1, .longest_part = coarse_step}), course_);
}

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
