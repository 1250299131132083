#include "core/starvation/quick_lap.h"

#include <algorithm>
#include <cmath>

#include "core/base/require.h"

namespace uadze::starvation {
namespace {

size_t stride_of(const lap::Lap& lap, double step) {
  const double mean = lap.duration() / static_cast<double>(std::max<size_t>(lap.size() - 1, 1));
  return static_cast<size_t>(std::max(std::floor(step / mean + 1e-6), 1.0));
}

}  // namespace

LapFigures figures_of(const LevelRun& run, const Course& course) {
  const lap::Lap& lap = *course.lap;
  UADZE_REQUIRE(run.reserve.size() == lap.size(), "a run is told of by its own lap");
  return {.clean = run.clean(),
          .least_seconds = run.least_seconds,
          .least_reserve = run.least_reserve,
          .least_margin = run.least_margin,
          .lean_time = run.lean_time,
          .tightest_time = lap.time[run.tightest],
          .margin_time = lap.time[run.margin_at],
          .tightest_place = run.tightest_place,
          .tightest_side = run.tightest_side,
          .by_circuit = !run.events.empty() && run.events.front().side.empty()};
}

QuickLap::QuickLap(const FuelSystem& car, const Course& course, const QuickOptions& options)
    : options_(options), car_(car), course_(course) {
  car_.motion = slosh::quickly(car_.motion, options.step);
  const size_t stride = stride_of(*course.lap, options.step);
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

bool QuickLap::clean(double level, Progress* progress) const {
  return is_clean(car_, course_, level, {.longest_part = options_.step, .progress = progress});
}

std::optional<LevelRun> QuickLap::run_by_far(double level, Progress* progress) const {
  CleanRun driven =
      run_while_clean(car_, course_, level, {.longest_part = options_.step, .progress = progress});
  if (driven.trouble || !driven.run.settled || driven.run.least_reserve < 0.5 * car_.reserve_capacity())
    return std::nullopt;
  return std::move(driven.run);
}

bool QuickLap::clean_by_far(double level, Progress* progress) const {
  return run_by_far(level, progress).has_value();
}

MapRow QuickLap::row(double level, const Course& full) const {
  return spread(run_level(car_, course_, level, {.most_laps = 1, .longest_part = options_.step}), full);
}

std::optional<MapRow> QuickLap::row_by_far(double level, const Course& full, Progress* progress) const {
  if (auto run = run_by_far(level, progress)) return spread(std::move(*run), full);
  return std::nullopt;
}

MapRow QuickLap::spread(LevelRun&& run, const Course& full) const {
  MapRow out = row_of(std::move(run), course_, std::max(car_.reserve_capacity(), 1e-12));
  out.coarse = true;
  // Each sample of the full lap lies at a share between two of this one.
  const lap::Lap& lap = *full.lap;
  std::vector<std::pair<size_t, float>> at;
  size_t k = 0;
  for (double t : lap.time) {
    while (k + 2 < lap_.size() && lap_.time[k + 1] <= t) ++k;
    const double wide = lap_.time[k + 1] - lap_.time[k];
    at.emplace_back(k, static_cast<float>(std::clamp((t - lap_.time[k]) / wide, 0.0, 1.0)));
  }
  const auto widen = [&](std::vector<float>& values) {
    std::vector<float> wide;
    wide.reserve(at.size());
    for (const auto& [i, share] : at) wide.push_back(std::lerp(values[i], values[i + 1], share));
    values = std::move(wide);
  };
  for (auto* values : {&out.wet, &out.least_wet, &out.reserve, &out.rail}) widen(*values);
  for (auto& values : out.pickups) widen(values);
  return out;
}

LapFigures QuickLap::at(double level) const {
  return figures_of(run_level(car_, course_, level, {.most_laps = 1, .longest_part = options_.step}),
                    course_);
}

}  // namespace uadze::starvation
