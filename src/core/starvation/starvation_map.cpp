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
#include "core/starvation/quick_lap.h"

namespace uadze::starvation {
namespace {

/// Runs `work(i)` for every i on all cores, with progress and cancel.
template <class Work>
void for_each_level(size_t count, Progress* progress, Work&& work) {
  std::atomic<size_t> done{0};
  tbb::parallel_for(size_t{0}, count, [&](size_t i) {
    if (progress && progress->cancelled()) return;
    work(i);
    if (progress) progress->report(static_cast<double>(++done) / static_cast<double>(count));
  });
  if (progress) progress->check();
}

bool all_over(const std::vector<float>& values, float least) {
  return std::ranges::all_of(values, [least](float v) { return v >= least; });
}
bool never_bare(const MapRow& row) { return row.events.empty() && all_over(row.least_wet, 1.0f); }
/// Clean by far: no pickup sees gas, or half of the reserve is left all along.
bool has_plenty(const MapRow& row) {
  return never_bare(row) || (row.events.empty() && all_over(row.reserve, 0.5f));
}

/// What a level between two rows shows, straight between them.
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

}  // namespace

std::vector<double> level_ladder(double tank_volume, int levels) {
  std::vector<double> out;
  for (int i = 1; i <= levels; ++i) out.push_back(tank_volume * i / levels);
  return out;
}

StarvationMap starvation_map(const FuelSystem& car, const Course& course, const MapOptions& options,
                             Progress* progress) {
  const std::vector<double> levels = level_ladder(car.tank->volume(), options.levels);
  StarvationMap map;
  map.rows.resize(levels.size());
  const double capacity = std::max(car.reserve_capacity(), 1e-12);
  const size_t n = levels.size(), apart = std::max<size_t>(1, n / 10);
  std::vector<size_t> whole, middle, others;
  for (size_t i = 0; i < n; ++i) {
    const size_t from_above = (n - 1 - i) % apart;
    (i == 0 || from_above == 0 ? whole : from_above == apart / 2 ? middle : others).push_back(i);
  }
  const auto fine = [&](size_t i) {
    map.rows[i] = row_of(run_level(car, course, levels[i], {.progress = progress}), course, capacity);
  };
  for_each_level(whole.size(), progress, [&](size_t k) { fine(whole[k]); });
  if (middle.empty()) return map;
  // A row beside whole ones is seen beside them: finer than what a first answer does with.
  const QuickLap quick(car, course, {.step = 0.04});
  const auto fill = [&](const std::vector<size_t>& rows, const std::vector<size_t>& known, auto&& enough) {
    for_each_level(rows.size(), progress, [&](size_t k) {
      const size_t i = rows[k];
      const auto above = std::ranges::upper_bound(known, i);
      const MapRow &upper = map.rows[*above], &lower = map.rows[*std::prev(above)];
      if (enough(upper) && enough(lower)) {
        map.rows[i] = between(lower, upper, levels[i]);
        return;
      }
      if (upper.events.empty() && lower.events.empty()) {
        map.rows[i] = quick.row(levels[i], course);
        if (map.rows[i].events.empty()) return;
      }
      fine(i);
    });
  };
  fill(middle, whole, never_bare);
  std::vector<size_t> driven;
  std::ranges::merge(whole, middle, std::back_inserter(driven));
  fill(others, driven, has_plenty);
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

}  // namespace

CleanLevel clean_level(const FuelSystem& car, const Course& course, const MapOptions& options,
                       Progress* progress, const StarvationMap* known) {
  const std::vector<double> levels = level_ladder(car.tank->volume(), options.levels);
  std::vector<char> clean(levels.size());
  std::vector<std::optional<double>> hurts(levels.size());  // s, where it goes wrong on the lap
  if (known)
    for (size_t i = 0; i < levels.size(); ++i) {
      clean[i] = known->rows[i].events.empty();
      if (!clean[i]) hurts[i] = known->rows[i].events.front().start;
    }
  else
    for_each_level(levels.size(), progress, [&](size_t i) {
      const auto trouble = first_trouble(car, course, levels[i], {.progress = progress});
      clean[i] = !trouble;
      if (trouble && !trouble->later) hurts[i] = trouble->time;
    });

  CleanLevel out;
  out.runs = static_cast<int>(levels.size());
  size_t first = levels.size();  // lowest of the unbroken clean levels at the top
  while (first > 0 && clean[first - 1]) --first;
  std::vector<std::pair<double, double>> odd;  // a clean level and the next that starves above it
  for (size_t i = 0; i < first; ++i)
    if (clean[i]) {
      size_t above = i + 1;
      while (clean[above]) ++above;
      odd.emplace_back(levels[i], levels[above]);
    }
  out.clean_again = anomalies(car, course, odd, progress);
  if (first == levels.size()) {
    out.level = out.unclean_below = car.tank->volume();
    out.at = out.below = run_level(car, course, out.level);
    return out;
  }
  out.exists = true;
  // Under what is never drawn nothing is sought: such a level is not used, and nobody asks how clean it is.
  const double never = std::min(car.never_drawn.total(), car.tank->volume());
  double low = first > 0 ? levels[first - 1] : 0.0, high = levels[first];
  LevelSearch search(car, course, {.progress = progress});
  if (first > 0 && hurts[first - 1]) search.suspect(*hurts[first - 1]);
  if (never > low && never < high) (search.clean(never) ? high : low) = never, ++out.runs;
  const auto passes = [&](double lower, double upper) {
    if (progress) progress->check();
    const double tried[2] = {lower, upper};
    bool clean_at[2];
    tbb::parallel_for(0, 2, [&](int k) { clean_at[k] = search.passes(tried[k]); });
    return std::pair(clean_at[0], clean_at[1]);
  };
  // What is told is driven whole, on both sides; where that says otherwise than a place did, it is sought on.
  const auto drive = [&] {
    tbb::parallel_invoke([&] { out.at = run_level(car, course, high, {.progress = progress}); },
                         [&] {
                           if (low > 0) out.below = run_level(car, course, low, {.progress = progress});
                         });
    out.runs += 2;
  };
  for (double starves = low, sound = high;;) {
    // Two levels at a time: as many as halving takes, on two cores.
    if (never < sound) {
      const Turn turn = turn_in_thirds(passes, starves, sound, options.resolution);
      low = turn.no, high = turn.yes;
      out.runs += turn.evaluations;
    }
    high = std::max(high, never);
    drive();
    if (high < sound && !out.at.clean())
      starves = high, search.clean(high);
    else if (low > starves && out.below.clean())
      sound = low, search.drive_whole();
    else
      break;
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
