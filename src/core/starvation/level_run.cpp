#include "core/starvation/level_run.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <limits>

namespace uadze::starvation {
namespace {

/// Mean wet fraction, at a sample, of the pickups that feed `target`; 1 if there are none.
double mean_wet(const FuelSystem& car, const Coverage& cover, const std::string& target, size_t i) {
  double sum = 0;
  int count = 0;
  for (size_t p = 0; p < car.pickups.size(); ++p)
    if (car.pickups[p].feeds == target) sum += cover.wet[p][i], ++count;
  return count ? sum / count : 0.0;
}

struct Flows {
  std::vector<double> supply, draw;
};

Flows flows(const FuelSystem& car, const Course& course, const Coverage& cover) {
  const size_t n = course.lap->size();
  Flows out{std::vector<double>(n, 0.0), course.demand};
  if (car.surge) {
    for (const LiftPump& pump : car.lift_pumps)
      for (size_t i = 0; i < n; ++i) out.supply[i] += pump.flow * mean_wet(car, cover, pump.name, i);
    if (car.surge->engine_return != Return::surge_tank)
      for (size_t i = 0; i < n; ++i) out.draw[i] = std::max(out.draw[i], car.main_pump_flow);
    return out;
  }
  for (size_t i = 0; i < n; ++i) {
    const double through = std::max(car.main_pump_flow, course.demand[i]);
    const double wet = mean_wet(car, cover, "engine", i);
    out.draw[i] = through;
    out.supply[i] = wet < 1 ? wet * through : 2 * through;
  }
  return out;
}

ReserveCycle cycle_of(const FuelSystem& car, const Course& course, const Flows& f) {
  const ReserveInput input{course.lap->time, f.supply, f.draw, car.reserve_capacity(),
                           car.reserve_capacity()};
  if (course.repeated) return repeat_reserve(input);
  ReserveCycle cycle;
  cycle.last = run_reserve(input);
  cycle.first_short_lap = cycle.last.shortages.empty() ? 0 : 1;
  return cycle;
}

/// Names of the pickups that are less than half covered at a sample.
std::string bare_pickups(const FuelSystem& car, const Coverage& cover, size_t i, double below = 0.5) {
  std::string names;
  for (size_t p = 0; p < car.pickups.size(); ++p)
    if (cover.wet[p][i] < below) names += (names.empty() ? "" : ", ") + car.pickups[p].name;
  return names;
}

/// The last sample at or before i at which any pickup was bare, looking back (round the lap if it repeats).
std::optional<size_t> last_bare(const Coverage& cover, size_t i, bool repeated) {
  const size_t n = cover.covered_least.size();
  for (size_t back = 0; back < n; ++back) {
    if (back > i && !repeated) break;
    const size_t k = (i + n - back) % n;
    if (cover.covered_least[k] < 1) return k;
  }
  return std::nullopt;
}

struct Spell {
  double seconds = 0.0;
  size_t start = 0;
};

/// How long, up to sample i, some pickup had been bare.
Spell bare_spell(const Coverage& cover, const lap::Lap& lap, size_t i) {
  size_t k = i;
  while (k > 0 && cover.covered_least[k - 1] < 1) --k;
  size_t end = i;
  while (end + 1 < lap.size() && cover.covered_least[end + 1] < 1) ++end;
  return {lap.time[end] - lap.time[k], k};
}

std::string cause_of(const FuelSystem& car, const Course& course, const LevelRun& run,
                     const Shortage& shortage) {
  const lap::Lap& lap = *course.lap;
  const size_t at = lap.index_at(shortage.start);
  const char* empty = car.surge ? "the surge tank runs empty" : "line and filter run empty";
  const auto bare = last_bare(run.coverage, at, course.repeated);
  double lifted = 0;
  for (const auto& pump : car.lift_pumps) lifted += pump.flow;
  if (!bare || (car.surge && lifted < run.draw[at] && run.coverage.covered_least[at] >= 1)) {
    if (car.surge)
      return fmt::format("the lift pumps bring {:.0f} L/h where {:.0f} L/h are drawn, so {}", lifted * 3.6e6,
                         run.draw[at] * 3.6e6, empty);
    return fmt::format("{}: no pickup feeds the engine", empty);
  }
  const ReserveRun& last = run.cycle.last;
  if (car.surge && course.repeated && last.supplied < last.delivered + last.missing - 1e-9)
    return fmt::format(
        "over the lap the pickups bring {:.2f} L where {:.2f} L are drawn ({} bare at times), so {}",
        last.supplied * 1e3, (last.delivered + last.missing) * 1e3,
        bare_pickups(car, run.coverage, *bare, 1.0), empty);
  const Spell spell = bare_spell(run.coverage, lap, *bare);
  size_t worst = spell.start;
  for (size_t i = spell.start; i <= *bare; ++i)
    if (run.coverage.covered_least[i] < run.coverage.covered_least[worst]) worst = i;
  std::string manner = lap::turning(lap.lateral[worst]);
  const std::string phase = lap::phase(lap.longitudinal[worst], lap.speed[worst]);
  if (phase != "steady" || manner.empty()) manner = phase + (manner.empty() ? "" : ", ") + manner;
  const std::string names = bare_pickups(car, run.coverage, worst, 1.0);
  if (spell.seconds > 0.98 * lap.duration())
    return fmt::format("{} never wholly covered on the lap; {}", names, empty);
  return fmt::format("{} not covered for {:.1f} s ({}), {}; {}", names, spell.seconds, manner,
                     lap::place_at(course.corners, lap.distance[worst]), empty);
}

double interpolate(const std::vector<double>& x, const std::vector<double>& y, double at) {
  const auto next = std::upper_bound(x.begin(), x.end(), at);
  if (next == x.begin()) return y.front();
  if (next == x.end()) return y.back();
  const size_t j = static_cast<size_t>(next - x.begin()), i = j - 1;
  return y[i] + (y[j] - y[i]) * (at - x[i]) / (x[j] - x[i]);
}

}  // namespace

Coverage coverage(const FuelSystem& car, const lap::Lap& lap, double level, bool repeated,
                  std::vector<slosh::Instant>* motion) {
  Coverage out;
  const size_t n = lap.size();
  out.wet.assign(car.pickups.size(), std::vector<double>(n));
  out.covered_least.assign(n, 1.0);
  out.covered_mean.assign(n, car.pickups.empty() ? 1.0 : 0.0);
  if (car.pickups.empty() && !motion) return out;
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
    for (size_t p = 0; p < car.pickups.size(); ++p) {
      const double wet = fuel.drawn(p);
      out.wet[p][i] = wet;
      out.covered_least[i] = std::min(out.covered_least[i], wet);
      out.covered_mean[i] += wet / static_cast<double>(car.pickups.size());
    }
  }
  return out;
}

bool is_clean(const FuelSystem& car, const Course& course, double level) {
  const Coverage cover = coverage(car, *course.lap, level, course.repeated);
  return cycle_of(car, course, flows(car, course, cover)).last.shortages.empty();
}

LevelRun run_level(const FuelSystem& car, const Course& course, double level, bool with_motion) {
  const lap::Lap& lap = *course.lap;
  LevelRun run;
  run.level = level;
  run.coverage = coverage(car, lap, level, course.repeated, with_motion ? &run.motion : nullptr);
  Flows f = flows(car, course, run.coverage);
  run.cycle = cycle_of(car, course, f);
  run.supply = std::move(f.supply);
  run.draw = std::move(f.draw);
  const std::vector<double>& volume = run.cycle.last.volume;

  run.least_reserve = run.cycle.last.lowest;
  run.least_seconds = std::numeric_limits<double>::infinity();
  for (size_t i = 0; i < lap.size(); ++i) {
    const double net = run.draw[i] - run.supply[i];
    if (net <= 0) continue;
    const double seconds = volume[i] / net;
    if (seconds < run.least_seconds) run.least_seconds = seconds, run.tightest = i;
  }
  for (const Shortage& s : run.cycle.last.shortages) {
    Event e{.start = s.start, .end = s.end, .missing = s.volume};
    e.start_distance = interpolate(lap.time, lap.distance, s.start);
    e.end_distance = interpolate(lap.time, lap.distance, s.end);
    e.place = lap::place_at(course.corners, e.start_distance);
    const size_t at = lap.index_at(s.start);
    e.side = bare_pickups(car, run.coverage, at, 1.0);
    e.cause = cause_of(car, course, run, s);
    run.events.push_back(std::move(e));
  }
  if (!run.events.empty()) {
    run.least_reserve = 0;
    run.least_seconds = 0;
    const auto worst = std::max_element(run.events.begin(), run.events.end(),
                                        [](const Event& a, const Event& b) { return a.missing < b.missing; });
    run.tightest = lap.index_at(worst->start);
    run.tightest_side = worst->side;
  } else if (const auto bare = last_bare(run.coverage, run.tightest, course.repeated);
             bare && std::isfinite(run.least_seconds)) {
    run.tightest_side = bare_pickups(car, run.coverage, *bare, 1.0);
  }
  run.tightest_place = lap::place_at(course.corners, lap.distance[run.tightest]);
  return run;
}

}  // namespace uadze::starvation
