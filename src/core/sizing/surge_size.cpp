#include "core/sizing/surge_size.h"

#include <fmt/format.h>
#include <tbb/parallel_for.h>

#include <algorithm>
#include <atomic>
#include <cmath>
#include <limits>
#include <numbers>

#include "core/base/root.h"
#include "core/sizing/sequent_peak.h"
#include "core/starvation/drive.h"
#include "core/starvation/surge.h"

namespace uadze::sizing {
namespace {

using circuit::ReturnTo;
using starvation::Course;
using starvation::FuelSystem;
constexpr double infinite = std::numeric_limits<double>::infinity();

FuelSystem with_surge(FuelSystem car, double volume, circuit::ReturnTo layout) {
  if (!car.surge) car.surge = starvation::SurgeTank{};
  // In the proportions it has, unless its height is entered.
  car.surge->volume = volume;
  car.surge->engine_return = layout;
  return car;
}

Course with_lift(const Course& course, double factor) {
  Course out = course;
  starvation::Delivery delivery = *course.delivery;
  for (auto& lift : delivery.lift)
    for (double& q : lift) q *= factor;
  out.delivery = std::make_shared<const starvation::Delivery>(std::move(delivery));
  return out;
}

double mean(const std::vector<double>& time, const std::vector<double>& values) {
  double sum = 0;
  for (size_t i = 0; i + 1 < time.size(); ++i)
    sum += (values[i] + values[i + 1]) / 2 * (time[i + 1] - time[i]);
  return sum / std::max(time.back() - time.front(), 1e-9);
}

double total_lift(const Course& course) {
  double sum = 0;
  for (const auto& lift : course.delivery->lift) sum += mean(course.lap->time, lift);
  return sum;
}

double drawn_from_surge(const Course& course, circuit::ReturnTo layout) {
  if (layout == circuit::ReturnTo::surge_tank) return mean(course.lap->time, course.demand);
  std::vector<double> main = course.delivery->main;
  for (size_t i = 0; i < main.size(); ++i) main[i] = std::max(main[i], course.demand[i]);
  return mean(course.lap->time, main);
}

/// A lap that repeats itself with a surge tank that may be overdrawn.
struct Deficit {
  starvation::LapTrace trace;  ///< the draw at the pickups over it
  double start = 0.0;          ///< m3 that the surge tank lacks as the lap begins
};

/// Nothing if the deficit grows from lap to lap. What the surge tank lacks stands in the main tank, so that a
/// deficit may come to rest far down (Settling).
std::optional<Deficit> deficit_of(const FuelSystem& car, const Course& course, double level, double most) {
  starvation::Marcher march(car, course, level, {.bottomless = true});
  march.enter();
  starvation::Drive driven = drive_laps(
      march, course, {.room = [most](const starvation::LapTrace&) { return most; }, .within_room = true});
  const double lacking = car.surge->volume - driven.start;
  if (driven.beyond || car.surge->volume - driven.end > most) return std::nullopt;
  return Deficit{std::move(driven.trace), lacking};
}

}  // namespace

double needed_volume(const FuelSystem& given, const std::vector<const Course*>& courses, double level,
                     double lift_factor, circuit::ReturnTo layout, const SurgeSizeOptions& options) {
  double needed = 0;
  for (const Course* original : courses) {
    Course course = with_lift(*original, lift_factor);
    const FuelSystem car = with_surge(given, 1e-3, layout);
    course.reach = course_reach(car, course);
    const auto deficit = deficit_of(car, course, level, options.most_volume);
    if (!deficit) return infinite;
    const auto clean = [&](double volume) {
      const FuelSystem sized = with_surge(given, volume, layout);
      Course fitted = course;
      fitted.reach = course_reach(sized, fitted);
      return replay_is_clean(sized, fitted, deficit->trace, deficit->start, original->repeated ? 2 : 1);
    };
    double low = 0, high = options.most_volume;
    if (!clean(high)) return infinite;
    // From small tanks up, doubling, so that the bracket is narrow where tanks are small.
    for (double v = 0.05e-3; v < high; v *= 2) {
      if (clean(v)) {
        high = v;
        break;
      }
      low = v;
    }
    needed = std::max(needed, turn_between(clean, low, high, options.resolution * high / 2).yes);
  }
  return needed;
}

std::vector<SurgeFloor> surge_floors(const FuelSystem& given, const Course& course, double by_lap,
                                     const SurgeSizeOptions& options) {
  const circuit::ReturnTo layout = given.surge ? given.surge->engine_return : circuit::ReturnTo::surge_tank;
  double fastest = 0, one = 0, most_drawn = 0;
  for (size_t k = 0; k < course.lap->size(); ++k) {
    const double main = std::max(course.delivery->main[k], course.demand[k]);
    fastest = std::max(fastest, main);
    most_drawn = std::max(most_drawn, layout == ReturnTo::surge_tank ? course.demand[k] : main);
  }
  for (const auto& lift : course.delivery->lift) one = std::max(one, mean(course.lap->time, lift));
  // With what its own pickup can not reach at the lap's worst tilt.
  const auto with_reach = [&](double wanted) {
    const auto holds = [&](double volume) {
      const FuelSystem car = with_surge(given, volume, layout);
      Course fitted = course;
      fitted.reach = course_reach(car, fitted);
      for (const auto& reach : fitted.reach)
        if (volume - reach.covered < wanted) return false;
      return true;
    };
    if (!(wanted > 0) || !holds(options.most_volume)) return wanted;
    return turn_between(holds, wanted, options.most_volume, 1e-6).yes;
  };
  std::vector<SurgeFloor> out;
  const double area = fastest / std::max(given.limits.bubble_rise, 1e-6);
  // Twice as high as wide, unless its height is entered.
  const double height = given.surge && given.surge->height > 0 ? given.surge->height
                                                               : 2 * std::sqrt(4 * area / std::numbers::pi);
  out.push_back({"bubbles to rise against the fuel that sinks", area * height});
  out.push_back({fmt::format("the lift pumps' spin-up of {:g} s", options.spin_up),
                 with_reach(most_drawn * options.spin_up)});
  const double lacking = std::max(most_drawn - (total_lift(course) - one), 0.0);
  out.push_back({fmt::format("the largest lift pump lost for {:g} s", options.lost_lift),
                 std::isfinite(by_lap)
                     ? std::max(by_lap + lacking * options.lost_lift, with_reach(lacking * options.lost_lift))
                     : with_reach(lacking * options.lost_lift)});
  std::stable_sort(out.begin(), out.end(),
                   [](const SurgeFloor& a, const SurgeFloor& b) { return a.volume > b.volume; });
  return out;
}

SurgeSizing size_surge(const FuelSystem& car, const std::vector<const Course*>& courses, double level,
                       const SurgeSizeOptions& options, Progress* progress) {
  if (car.lift_pumps.empty())
    throw InputError(Message{.file = {},
                             .place = "lift_pumps",
                             .expected = "lift pumps that fill a surge tank",
                             .found = "none: this setup draws from the pickup straight"});
  SurgeSizing out;
  out.level = level;
  out.lift = total_lift(*courses.front());
  if (car.surge) out.volume = car.surge->volume, out.layout = car.surge->engine_return;
  std::vector<circuit::ReturnTo> layouts{out.layout};
  if (options.all_layouts)
    for (circuit::ReturnTo r : {circuit::ReturnTo::surge_tank, circuit::ReturnTo::main_tank})
      if (r != out.layout) layouts.push_back(r);
  const size_t n = options.lift_factors.size();
  for (circuit::ReturnTo layout : layouts) {
    DeficitCurve curve{.layout = layout, .points = std::vector<DeficitPoint>(n)};
    curve.drawn = drawn_from_surge(*courses.front(), layout);
    out.curves.push_back(std::move(curve));
  }
  std::atomic<size_t> done{0};
  tbb::parallel_for(size_t{0}, layouts.size() * n, [&](size_t k) {
    if (progress && progress->cancelled()) return;
    DeficitPoint& point = out.curves[k / n].points[k % n];
    const double factor = options.lift_factors[k % n];
    point = {out.lift * factor, needed_volume(car, courses, level, factor, layouts[k / n], options)};
    if (progress) progress->report(static_cast<double>(++done) / static_cast<double>(layouts.size() * n));
  });
  if (progress) progress->check();

  const auto& present = out.curves.front().points;
  out.needed = infinite;
  for (const DeficitPoint& p : present)
    if (std::abs(p.lift - out.lift) < 1e-9 * out.lift) out.needed = p.volume;
  if (!std::isfinite(out.needed)) out.needed = needed_volume(car, courses, level, 1.0, out.layout, options);
  out.bridge = present.back().volume;
  out.by_lap = out.needed;
  for (const Course* course : courses)
    for (const SurgeFloor& floor : surge_floors(car, *course, out.by_lap, options)) {
      const auto known = std::find_if(out.floors.begin(), out.floors.end(),
                                      [&](const SurgeFloor& f) { return f.name == floor.name; });
      if (known == out.floors.end())
        out.floors.push_back(floor);
      else
        known->volume = std::max(known->volume, floor.volume);
    }
  std::stable_sort(out.floors.begin(), out.floors.end(),
                   [](const SurgeFloor& a, const SurgeFloor& b) { return a.volume > b.volume; });
  out.needed = std::max(out.needed, out.floors.front().volume);
  out.lift_enough = infinite;
  for (size_t k = 0; k < n; ++k) {
    if (present[k].volume > out.volume) continue;
    out.lift_enough = present[k].lift;
    // Between this point and the one before it, straight.
    if (k > 0 && std::isfinite(present[k - 1].volume)) {
      const double u = (present[k - 1].volume - out.volume) / (present[k - 1].volume - present[k].volume);
      out.lift_enough = std::lerp(present[k - 1].lift, present[k].lift, u);
    }
    break;
  }
  // The longest stretch that must be bridged.
  const Course& course = *courses.front();
  const starvation::LevelRun run = run_level(car, course, level);
  size_t i = 0;
  while (i < course.lap->size()) {
    if (run.coverage.covered_least[i] >= 1) {
      ++i;
      continue;
    }
    const auto stretch = starvation::bare_before(run.coverage, course, i);
    if (stretch->seconds > out.bare_seconds) {
      out.bare_seconds = stretch->seconds;
      out.bare_place = lap::place_at(course.corners, *course.lap, course.lap->time[stretch->worst]);
      out.bare_where = lap::in_words(out.bare_place);
      out.bare_side = bare_pickups(car, run.coverage, stretch->worst);
    }
    if (stretch->end < i) break;  // goes on over the start line
    i = stretch->end + 1;
  }
  // Other proportions for the volume that is needed (or fitted).
  const double volume = std::isfinite(out.needed) ? std::max(out.needed, 0.2e-3) : std::max(out.volume, 1e-3);
  double fastest = 0;
  for (size_t k = 0; k < course.lap->size(); ++k)
    fastest = std::max({fastest, course.delivery->main[k], course.demand[k]});
  for (double ratio : {4.0, 3.0, 2.0, 1.5, 1.0, 0.6}) {
    FuelSystem shaped = with_surge(car, volume, out.layout);
    const double diameter = std::cbrt(4 * volume / (std::numbers::pi * ratio));
    shaped.surge->height = ratio * diameter;
    ShapeChoice choice{.height = ratio * diameter, .diameter = diameter};
    for (const auto& reach : course_reach(shaped, course))
      choice.unreached = std::max(choice.unreached, reach.bare);
    choice.sink = fastest / (std::numbers::pi / 4 * diameter * diameter);
    choice.carries_gas = choice.sink > car.limits.bubble_rise;
    out.shapes.push_back(choice);
  }

  const double draws = out.curves.front().drawn;
  if (!std::isfinite(out.needed))
    out.text = {
        out.bare_seconds > 0
            ? "The lift pumps bring {} at the most and {} are drawn on the mean: with pickups not covered at "
              "times no surge tank lasts. More volume buys laps, not safety; more lift or better pickups are "
              "needed."
            : "The lift pumps bring {} at the most and {} are drawn on the mean: no surge tank lasts. More "
              "volume buys laps, not safety; more lift is needed.",
        {{out.lift, Quantity::flow}, {draws, Quantity::flow}}};
  else if (out.needed > out.by_lap)
    out.text = {"The lap itself asks for {2}; {2} are needed for " + out.floors.front().name + ".",
                {{out.by_lap, Quantity::volume}, {out.needed, Quantity::volume}}};
  else if (out.bridge > 0.9 * out.needed && out.bare_seconds > 0)
    out.text = {"{2} must be bridged: " + (out.bare_side.empty() ? std::string("a pickup") : out.bare_side) +
                    " not covered for {} " + out.bare_where +
                    ". More lift buys nothing there; more volume, or a pickup that stays covered, does.",
                {{out.needed, Quantity::volume}, {out.bare_seconds, Quantity::duration}}};
  else
    out.text = {"{2} are needed with the lift pumps as they are; with three times their flow {2} would do.",
                {{out.needed, Quantity::volume}, {out.bridge, Quantity::volume}}};
  out.working = {
      .name = "Surge tank volume needed",
      .value = out.needed,
      .quantity = Quantity::volume,
      .formula =
          "C = least C without an event, V(t) = C - max over s < t of the integral from s to t of (Q_drawn - "
          "Q_lifted)",
      .inputs = {{"Q_lifted", "lift pumps together, pickups covered, mean", out.lift, Quantity::flow,
                  course.delivery->by_circuit ? "by the circuit" : "entered"},
                 {"Q_drawn", "drawn from the surge tank, mean", draws, Quantity::flow,
                  out.layout == circuit::ReturnTo::surge_tank ? "the engine's demand"
                                                              : "the main pumps' whole flow"},
                 {"V", "level in the main tank", level, Quantity::volume, "of this computation"},
                 {"t_bare", "longest stretch with a pickup not wholly covered", out.bare_seconds,
                  Quantity::duration, out.bare_place},
                 {"C_deficit", "largest running deficit of the lap at that level, without tilt and transit",
                  needed_capacity({course.lap->time, run.supply, run.draw}), Quantity::volume,
                  "sequent peak"},
                 {"C_bridge", "needed however much is lifted", out.bridge, Quantity::volume,
                  "right end of the curve"}},
      .source = "Rippl 1883; Thomas and Burden 1963; driven with the moving fuel",
      .note = "The tank's own tilt and its pickup's submergence are in it; gas that mixes into it is not."};
  out.working.inputs.push_back(
      {"C_lap", "what the laps alone ask for", out.by_lap, Quantity::volume, "driven"});
  for (const SurgeFloor& floor : out.floors)
    out.working.inputs.push_back(
        {"C_floor", floor.name, floor.volume, Quantity::volume, "not sized under it"});
  return out;
}

}  // namespace uadze::sizing
