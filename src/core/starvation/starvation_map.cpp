#include "core/starvation/starvation_map.h"

#include <fmt/format.h>
#include <tbb/parallel_for.h>
#include <tbb/parallel_invoke.h>

#include <algorithm>
#include <atomic>
#include <map>

#include "core/base/root.h"
#include "core/starvation/level_search.h"
#include "core/starvation/never_drawn.h"

namespace uadze::starvation {
StarvationMap starvation_map(const FuelSystem& car, const Course& course, const MapOptions& options,
                             Progress* progress, const Ladder* known) {
  const Ladder climbed = known ? Ladder{} : ladder(car, course, options, progress);
  const Ladder& steps = known ? *known : climbed;
  const double capacity = std::max(car.reserve_capacity(), 1e-12);
  StarvationMap map;
  std::vector<size_t> left;
  for (size_t i = 0; i < steps.rungs.size(); ++i) {
    const Rung& rung = steps.rungs[i];
    map.rows.push_back(rung.row);
    if (rung.clean) continue;
    if (rung.level == steps.highest.level)
      map.rows[i] = row_of(steps.highest, course, capacity);
    else
      left.push_back(i);
  }
  std::atomic<size_t> done{0};
  tbb::parallel_for(size_t{0}, left.size(), [&](size_t k) {
    if (progress && progress->cancelled()) return;
    const size_t i = left[k];
    map.rows[i] =
        row_of(run_level(car, course, steps.rungs[i].level, {.progress = progress}), course, capacity);
    if (progress) progress->report(static_cast<double>(++done) / static_cast<double>(left.size()));
  });
  if (progress) progress->check();
  return map;
}

std::vector<CornerLevel> corner_levels(const StarvationMap& map) {
  std::vector<CornerLevel> out;
  for (auto row = map.rows.rbegin(); row != map.rows.rend(); ++row)
    for (const Event& e : row->events) {
      const auto known =
          std::find_if(out.begin(), out.end(), [&](const CornerLevel& c) { return c.place == e.place; });
      if (known == out.end())
        out.push_back({e.place, row->level, e});
      else if (known->level == row->level && e.end - e.start > known->event.end - known->event.start)
        known->event = e;
    }
  return out;
}

namespace {

/// What a starving level, `high`, and a lower clean one differ in, at the worst event of the first.
Anomaly anomaly(const Course& course, const LevelRun& clean, const LevelRun& starving) {
  const double low = clean.level, high = starving.level;
  Anomaly out{low, high, {}};
  const size_t at = starving.tightest;
  const auto longer = bare_before(starving.coverage, course, at),
             shorter = bare_before(clean.coverage, course, at);
  const double before = longer ? longer->seconds : 0.0, after = shorter ? shorter->seconds : 0.0;
  const bool moved = !shorter || !longer || shorter->start != longer->start;
  out.text = {
      "With {} the lap is clean though it starves with {}: " + lap::in_words(starving.tightest_place) +
          " the pickups are not covered for {} instead of {}" +
          (moved ? ", as a smaller body of fuel swings with another period and comes back at another moment"
                 : "") +
          ". Less fuel is not safer: this level is not used.",
      {{low, Quantity::volume},
       {high, Quantity::volume},
       {after, Quantity::duration},
       {before, Quantity::duration}}};
  return out;
}

/// Of pairs of a clean level and a higher one that starves; each level is driven once, on all cores.
std::vector<Anomaly> anomalies(const FuelSystem& car, const Course& course,
                               const std::vector<std::pair<double, double>>& pairs, Progress* progress) {
  std::map<double, LevelRun> runs;
  for (const auto& [low, high] : pairs) runs[low], runs[high];
  std::vector<std::pair<const double, LevelRun>*> all;
  for (auto& one : runs) all.push_back(&one);
  tbb::parallel_for(size_t{0}, all.size(), [&](size_t k) {
    all[k]->second = run_level(car, course, all[k]->first, {.progress = progress});
  });
  std::vector<Anomaly> out;
  for (const auto& [low, high] : pairs) out.push_back(anomaly(course, runs.at(low), runs.at(high)));
  return out;
}

/// s on the lap: where a level starves worst, and second worst. With a little more fuel one of them is what
/// is left.
std::vector<double> worst_times(const LevelRun& run) {
  std::vector<Event> events = run.events;
  const size_t most = std::min<size_t>(events.size(), 2);
  std::partial_sort(events.begin(), events.begin() + static_cast<std::ptrdiff_t>(most), events.end(),
                    [](const Event& a, const Event& b) {
                      return std::pair(a.end - a.start, a.missing) > std::pair(b.end - b.start, b.missing);
                    });
  std::vector<double> out;
  for (size_t k = 0; k < most; ++k) out.push_back(events[k].start);
  return out;
}

}  // namespace

CleanLevel clean_level(const FuelSystem& car, const Course& course, const MapOptions& options,
                       Progress* progress, const Ladder* known) {
  const Ladder climbed = known ? Ladder{} : ladder(car, course, options, progress);
  const Ladder& steps = known ? *known : climbed;
  const std::vector<Rung>& rungs = steps.rungs;

  CleanLevel out;
  out.runs = static_cast<int>(rungs.size());
  const size_t first = rungs.size() - steps.clean_on_top();  // lowest of those clean at the top
  std::vector<std::pair<double, double>> odd;  // a clean level and the next that starves above it
  for (size_t i = 0; i < first; ++i)
    if (rungs[i].clean) {
      size_t above = i + 1;
      while (rungs[above].clean) ++above;
      odd.emplace_back(rungs[i].level, rungs[above].level);
    }
  out.clean_again = anomalies(car, course, odd, progress);
  if (first == rungs.size()) {
    out.level = out.unclean_below = car.tank->volume();
    out.at = out.below = steps.highest;
    return out;
  }
  out.exists = true;
  // Under what is never drawn nothing is sought: such a level is not used, and nobody asks how clean it is.
  const double never = std::min(car.never_drawn.total(), car.tank->volume());
  double low = first > 0 ? rungs[first - 1].level : 0.0, high = rungs[first].level;
  LevelSearch search(car, course, {.progress = progress});
  for (const double time : worst_times(steps.highest)) search.suspect(time);
  if (never > low && never < high) (search.clean(never) ? high : low) = never, ++out.runs;
  const auto passes = [&](double lower, double upper) {
    if (progress) progress->check();
    const double tried[2] = {lower, upper};
    bool clean_at[2];
    tbb::parallel_for(0, 2, [&](int k) { clean_at[k] = search.passes(tried[k]); });
    return std::pair(clean_at[0], clean_at[1]);
  };
  // Two levels at a time: as many as halving takes, on two cores. What is told is driven whole, on both
  // sides; where that says otherwise than a place did, it is sought on.
  LevelRun starving = steps.highest;  // driven whole
  const auto drive = [&] {
    const bool driven = low <= 0 || low == starving.level;
    tbb::parallel_invoke(
        [&] { out.at = run_level(car, course, high, {.progress = progress}); },
        [&] { out.below = driven ? starving : run_level(car, course, low, {.progress = progress}); });
    out.runs += driven ? 1 : 2;
  };
  const auto take = [&](const Turn& turn) {
    low = turn.no, high = turn.yes;
    out.runs += turn.evaluations;
  };
  double starves = low, sound = high;
  if (never < sound) take(turn_in_thirds(passes, starves, sound, options.resolution));
  for (;;) {
    high = std::max(high, never);
    drive();
    if (high < sound && !out.at.clean()) {
      search.missed(high, {out.at.events.front().start, out.at.first_short_lap > 1});
      starves = high;
      starving = std::move(out.at);
      take(turn_close_to(passes, starves, sound, options.resolution));
    } else if (low > starves && out.below.clean()) {
      sound = low;
      search.drive_whole();
      take(turn_in_thirds(passes, starves, sound, options.resolution));
    } else {
      break;
    }
  }
  out.level = high;
  out.unclean_below = low;
  if (low <= 0) out.below = out.at;
  return out;
}

Derivation clean_level_working(const FuelSystem& car, const CleanLevel& clean, const MapOptions& options) {
  const char* reserve = car.surge ? "surge tank" : "line and filter";
  Derivation d{
      .name = clean.exists ? "Clean level" : "No clean level; tried up to",
      .value = clean.level,
      .quantity = Quantity::volume,
      .formula =
          "V_clean = least V such that the lap, repeated at V and at every higher level tried, has no "
          "starvation event; not under V_never",
      .inputs =
          {{"V_tank", "the tank's whole volume", car.tank->volume(), Quantity::volume, "computed, exact"},
           {"n", "levels of the ladder", static_cast<double>(options.levels), Quantity::count, "setting"},
           {"dV", "refined to", options.resolution, Quantity::volume, "setting"},
           {"V_starves", "highest level found to starve", clean.unclean_below, Quantity::volume, "computed"},
           {"V_never", "what never comes out", car.never_drawn.total(), Quantity::volume, "see below"},
           {"C", fmt::format("reserve: {}", reserve), car.reserve_capacity(), Quantity::volume, "entered"},
           {"x_limit", "leaner than set by", car.limits.mixture.lean, Quantity::fraction, "entered"},
           {"p_limit",
            car.limits.mixture.corrected
                ? "of the difference at which the injectors are open all the time: 1 / (1 + x)^2"
                : "of the pressure difference set: 1 / (1 + x)^2",
            car.limits.mixture.share(), Quantity::fraction,
            "injectors' law; no more than the lap gives with every pickup covered"},
           {"t_limit", "for longer than", car.limits.mixture.time, Quantity::duration, "entered"},
           {"runs", "levels tried, on the whole lap or where it starves", static_cast<double>(clean.runs),
            Quantity::count, "computed"}},
      .source = std::string(car.model == slosh::Model::settled
                                ? "settled free surface normal to f = g - a"
                                : "planar model: a surface plane with inertia in each space") +
                "; circuit, surge tank, line and rail marched with it",
      .note = car.model == slosh::Model::settled
                  ? "Steady level, settled surface: the fuel's inertia is not in it."
                  : "Steady level: what is burnt is thought replaced. No breaking waves or splashes."};
  if (clean.unclean_below <= 0)
    std::erase_if(d.inputs, [](const auto& input) { return input.symbol == "V_starves"; });
  if (!clean.clean_again.empty())
    d.note += fmt::format(
        " {} lower levels of the ladder were clean though a higher one starves; they are not used.",
        clean.clean_again.size());
  if (clean.exists && holds_up(car.never_drawn, clean.level))
    d.note.text = "The lap itself would be clean with less: what never comes out decides. " + d.note.text;
  d.steps.push_back(never_drawn_working(car.never_drawn));
  if (!clean.exists) d.note.text = "Not even a full tank is clean on this lap. " + d.note.text;
  return d;
}

Derivation reserve_working(const FuelSystem& car, const Course& course, const LevelRun& run) {
  const bool logged = car.engine.demand == DemandFrom::logged_flow && course.lap->has_flow();
  const bool pump = !car.surge || car.surge->engine_return != circuit::ReturnTo::surge_tank;
  const std::string drawn = pump ? "drawn by the main pump" : "drawn by the engine";
  const std::string from =
      pump     ? (course.delivery && course.delivery->by_circuit ? "its whole flow, by the circuit"
                                                                 : "its whole flow, entered")
      : logged ? "logged flow"
               : "throttle x power x consumption / density";
  const size_t i = run.tightest;
  const double unreached = car.surge && !course.reach.empty() ? course.reach[i].bare : 0.0;
  const double volume = run.reserve.empty() ? 0 : std::max(run.reserve[i] - unreached, 0.0);
  return {.name = "Least reserve in seconds",
          .value = run.least_seconds,
          .quantity = Quantity::duration,
          .formula = "t = V_reserve / (Q_draw - Q_supply), the least along the lap",
          .inputs = {{"V_reserve",
                      car.surge ? "surge tank within its pickup's reach at that moment"
                                : "line and filter at that moment",
                      volume, Quantity::volume, "volume balance"},
                     {"Q_draw", drawn, run.draw.empty() ? 0 : run.draw[i], Quantity::flow, from},
                     {"Q_supply", "brought by covered pickups", run.supply.empty() ? 0 : run.supply[i],
                      Quantity::flow, "flow x share of fuel in the draw"},
                     {"s", "distance along the lap (" + run.tightest_place + ")", course.lap->distance[i],
                      Quantity::distance, "lap"},
                     {"V", "level in the main tank", run.level, Quantity::volume, "of this run"}},
          .source = "volume balance of the reserve, dV/dt = Q_supply - Q_draw",
          .note = "No limit means that the reserve is never drawn on.",
          .steps = {}};
}

}  // namespace uadze::starvation
