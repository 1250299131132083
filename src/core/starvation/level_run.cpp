#include "core/starvation/level_run.h"

#include <algorithm>
#include <cmath>
#include <limits>

#include "core/starvation/drive.h"

namespace uadze::starvation {
namespace {

void tell_coverage(Coverage& out, size_t samples) {
  out.covered_least.assign(samples, 1.0);
  out.covered_mean.assign(samples, out.wet.empty() ? 1.0 : 0.0);
  for (const auto& wet : out.wet)
    for (size_t i = 0; i < samples; ++i) {
      out.covered_least[i] = std::min(out.covered_least[i], wet[i]);
      out.covered_mean[i] += wet[i] / static_cast<double>(out.wet.size());
    }
}

/// Until the lap repeats itself, with strides where the surge tank only drains from lap to lap.
DriveOptions drive_options(const FuelSystem& car, const Course& course, const RunOptions& options) {
  DriveOptions how{.most_laps = options.most_laps,
                   .same = 2e-3 * (car.surge ? car.surge->volume : std::max(car.line_hold, 1e-6)),
                   .progress = options.progress};
  if (car.surge)
    // Not further down than nearly to where the pickup begins to draw gas.
    how.room = [&car, &course](const LapTrace& trace) {
      double room = car.surge->volume;
      for (size_t i = 0; i < trace.reserve.size(); ++i)
        room = std::min(room, trace.reserve[i] - course.reach[i].covered);
      return std::max(0.9 * room, 0.0);
    };
  return how;
}

/// s: how long the pressure is under its limit around a sample, straight between samples; on a repeated lap
/// over the start line too.
double lean_time(const LevelRun& run, const Course& course, size_t at) {
  const auto over = [&](size_t i) { return run.rail[i] - course.limit[i]; };
  const std::vector<double>& time = course.lap->time;
  const size_t last = time.size() - 1;
  const auto until_over = [&](size_t i, bool forward) {
    double passed = 0;
    for (size_t k = 0; k < last && over(i) < 0; ++k) {
      if (i == (forward ? last : 0)) {
        if (!course.repeated) break;
        i = forward ? 0 : last;
        if (over(i) >= 0) break;
      }
      const size_t next = forward ? i + 1 : i - 1;
      const double share = over(next) < 0 ? 1.0 : over(i) / (over(i) - over(next));
      passed += share * std::abs(time[next] - time[i]);
      i = next;
    }
    return passed;
  };
  return std::min(until_over(at, true) + until_over(at, false), course.lap->duration());
}

}  // namespace

Coverage coverage(const FuelSystem& car, const lap::Lap& lap, double level, bool repeated,
                  std::vector<slosh::Instant>* motion) {
  Coverage out;
  const size_t n = lap.size();
  out.wet.assign(car.pickups.size(), std::vector<double>(n));
  const lap::ForceTrace trace = lap::force_trace(lap);
  slosh::FuelMotion fuel(*car.tank, car.pickups, level, motion_options(car, repeated));
  constexpr double entering = 15.0;  // s
  const double before = repeated ? std::max(lap.time.front(), lap.time.back() - entering) : lap.time.front();
  fuel.begin(trace.at(before));
  if (repeated)
    for (size_t i = lap.index_at(before) + 1; i < n; ++i) fuel.move(trace, lap.time[i - 1], lap.time[i]);
  for (size_t i = 0; i < n; ++i) {
    if (i > 0)
      fuel.move(trace, lap.time[i - 1], lap.time[i]);
    else if (car.model == slosh::Model::settled)
      fuel.move(trace.at(lap.time[0]), 0.0);
    if (motion) motion->push_back(slosh::instant_of(fuel, lap.time[i], car.pickups.size()));
    for (size_t p = 0; p < car.pickups.size(); ++p) out.wet[p][i] = fuel.drawn(p);
  }
  tell_coverage(out, n);
  return out;
}

MapRow row_of(LevelRun run, const Course& course, double capacity) {
  MapRow row;
  row.level = run.level;
  row.wet.assign(run.coverage.covered_mean.begin(), run.coverage.covered_mean.end());
  row.least_wet.assign(run.coverage.covered_least.begin(), run.coverage.covered_least.end());
  for (const auto& wet : run.coverage.wet) row.pickups.emplace_back(wet.begin(), wet.end());
  row.reserve.reserve(course.lap->size());
  for (double v : run.reserve) row.reserve.push_back(static_cast<float>(v / capacity));
  for (size_t k = 0; k < run.rail.size(); ++k)
    row.rail.push_back(static_cast<float>(run.rail[k] / course.delivery->set[k]));
  row.events = std::move(run.events);
  return row;
}

Stretch stretch_about(const Course& course, double time, double before) {
  constexpr double after = 4.0;  // s
  const lap::Lap& lap = *course.lap;
  time = std::clamp(time, lap.time.front(), lap.time.back());
  return {course.repeated ? lap.index_at(std::max(time - before, lap.time.front())) : 0,
          lap.index_at(std::min(time + after, lap.time.back())) + 1};
}

bool starves_on(const FuelSystem& car, const Course& course, const Stretch& stretch, double level,
                const MarchOptions& options) {
  Marcher march(car, course, level, options);
  march.enter(stretch.first);
  LapTrace trace;
  march.lap(trace, {.stop_at_trouble = true, .first = stretch.first, .last = stretch.last});
  return !march.stretches().empty();
}

bool starves_about(const FuelSystem& car, const Course& course, double level, double time, double before,
                   const RunOptions& options) {
  return starves_on(car, course, stretch_about(course, time, before), level,
                    {.longest_part = options.longest_part});
}

void adopt(LevelRun& run, LapTrace&& trace) {
  run.coverage.wet = std::move(trace.wet);
  run.supply = std::move(trace.supply);
  run.draw = std::move(trace.draw);
  run.reserve = std::move(trace.reserve);
  run.rail = std::move(trace.rail);
  run.gas = std::move(trace.gas);
  run.tank_level = std::move(trace.level);
  tell_coverage(run.coverage, run.reserve.size());
}

namespace {

/// Drives a level until its lap repeats itself, or until it is clear that it is not clean.
Drive driven_at(const FuelSystem& car, const Course& course, double level, const RunOptions& options,
                bool only_clean, std::vector<slosh::Instant>* motion) {
  Marcher march(car, course, level, {.longest_part = options.longest_part});
  march.enter();
  DriveOptions how = drive_options(car, course, options);
  how.only_clean = only_clean;
  return drive_laps(march, course, how, motion);
}

std::optional<FirstTrouble> trouble_of(const Drive& drive) {
  if (drive.stretches.empty()) return std::nullopt;
  return FirstTrouble{drive.stretches.front().start, drive.first_short > 1};
}

/// All that a drive tells.
void tell(LevelRun& run, Drive&& cycle, const FuelSystem& car, const Course& course) {
  const lap::Lap& lap = *course.lap;
  adopt(run, std::move(cycle.trace));
  run.laps = cycle.laps;
  run.settled = cycle.settled;
  run.ledger = cycle.ledger;
  run.events = explain(car, course, run, cycle.stretches);
  run.first_short_lap = run.events.empty() ? 0 : std::max(cycle.first_short, 1);

  run.least_seconds = run.least_reserve = std::numeric_limits<double>::infinity();
  run.least_margin = std::numeric_limits<double>::infinity();
  for (size_t i = 0; i < lap.size(); ++i) {
    const double unreached = car.surge ? course.reach[i].bare : 0.0;
    const double within = std::max(run.reserve[i] - unreached, 0.0);
    run.least_reserve = std::min(run.least_reserve, within);
    // Where the circuit itself is at its end its fault is told (lap_faults), not a margin.
    const double margin = run.rail[i] - course.limit[i];
    if (margin < run.least_margin && (margin < 0 || !circuit_limits(car, course, i)))
      run.least_margin = margin, run.margin_at = i;
    const double net = run.draw[i] - run.supply[i];
    if (net <= 1e-12) continue;
    if (const double seconds = within / net; seconds < run.least_seconds)
      run.least_seconds = seconds, run.tightest = i;
  }
  run.lean_time = lean_time(run, course, run.margin_at);
  if (!run.events.empty()) {
    run.least_seconds = 0;
    const auto worst =
        std::max_element(run.events.begin(), run.events.end(), [](const Event& a, const Event& b) {
          return std::pair(a.missing, a.end - a.start) < std::pair(b.missing, b.end - b.start);
        });
    run.tightest = lap.index_at(std::max(worst->start, lap.time.front()));
    run.tightest_side = worst->side;
  } else if (const auto bare = bare_before(run.coverage, course, run.tightest);
             bare && std::isfinite(run.least_seconds)) {
    run.tightest_side = bare_pickups(car, run.coverage, bare->worst);
  }
  run.tightest_place = lap::place_at(course.corners, lap, lap.time[run.tightest]);
}

}  // namespace

LevelRun run_level(const FuelSystem& car, const Course& course, double level, const RunOptions& options) {
  LevelRun run;
  run.level = level;
  tell(run, driven_at(car, course, level, options, false, options.with_motion ? &run.motion : nullptr), car,
       course);
  return run;
}

CleanRun run_while_clean(const FuelSystem& car, const Course& course, double level,
                         const RunOptions& options) {
  CleanRun out;
  out.run.level = level;
  Drive drive = driven_at(car, course, level, options, true, options.with_motion ? &out.run.motion : nullptr);
  out.trouble = trouble_of(drive);
  if (!out.trouble) tell(out.run, std::move(drive), car, course);
  return out;
}

std::optional<FirstTrouble> first_trouble(const FuelSystem& car, const Course& course, double level,
                                          const RunOptions& options) {
  return trouble_of(driven_at(car, course, level, options, true, nullptr));
}

}  // namespace uadze::starvation
