#include "core/starvation/burn_down.h"

#include <fmt/format.h>
#include <tbb/parallel_for.h>
#include <tbb/parallel_invoke.h>

#include <algorithm>
#include <cmath>
#include <functional>
#include <map>

#include "core/base/root.h"

namespace uadze::starvation {
namespace {

/// One lap of a stint.
struct Lap {
  const Pace* pace = nullptr;
  int number = 1;  // of its kind
  double burnt = 0.0;
  bool launch = false;
  std::string name() const { return fmt::format("{} {}", pace->name, number); }
};

std::vector<Lap> laps_of(const Course& flying, const std::vector<Pace>& stint) {
  const double flat_out = consumption_per_lap(flying.demand, *flying.lap);
  std::vector<Lap> out;
  for (const Pace& pace : stint)
    for (int k = 0; k < pace.laps; ++k)
      out.push_back({&pace, k + 1, flat_out * pace.share, pace.launch && k == 0});
  return out;
}

class Burner {
 public:
  Burner(const FuelSystem& car, const Course& flying, const std::vector<Pace>& stint,
         const BurnOptions& options)
      : car_(car), flying_(flying), options_(options), laps_(laps_of(flying, stint)) {
    for (const Pace& pace : stint)
      if (!is_flying(pace))
        if (auto& slow = slow_[{pace.share, pace.slower}]; !slow)
          slow = slow_lap(car, flying, pace.share, pace.slower);
  }

  double burnt() const {
    double sum = 0;
    for (const Lap& lap : laps_) sum += lap.burnt;
    return sum;
  }

  /// A moment on a lap, which is counted from the end: 1 is the last.
  struct Place {
    size_t lap = 1;
    double time = 0.0;  // s on it
  };

  /// From a lap or two before the first that may not be clean, so that the fuel comes as it would have from
  /// the start, to the end.
  BurnDown run(double end) const {
    BurnDown out{.start = end + burnt(), .end = end};
    out.used_up = end < car_.never_drawn.total() - 1e-12;
    const std::vector<double> level = levels(end);
    if (const auto launch = failed_launch(level)) {
      out.event = launch->first->event;
      out.on = "launch before " + laps_[launch->second].name();
      return out;
    }
    size_t first = unsure(level);
    // Only a surge tank remembers more than the lap before.
    for (int lead = car_.surge ? 2 : 1; lead > 0 && first > 0 && level[first - 1] <= car_.tank->volume();
         --lead)
      --first;
    const MarchedPtr marched = march(first, laps_.size(), level, false);
    out.laps_marched = marched->laps;
    out.least_reserve = marched->least_reserve;
    out.event = marched->event;
    if (marched->failed > 0) out.on = laps_[laps_.size() - marched->failed].name();
    return out;
  }

  /// Only whether the stint that ends so is clean, from the first lap that may not be and without the slow
  /// laps after the last flying one. Where `place` is known, only there; where it is not and the stint is not
  /// clean, it is where.
  bool glance(double end, std::optional<Place>& place) const {
    const std::vector<double> level = levels(end);
    if (end < car_.never_drawn.total() - 1e-12 || failed_launch(level)) return false;
    if (place) return !starves_at(*place, level);
    size_t past = laps_.size();
    while (past > 1 && !is_flying(*laps_[past - 1].pace)) --past;
    const MarchedPtr marched = march(unsure(level), past, level, true);
    // What drains over laps is not told by a moment of one.
    if (marched->failed > 0 && !car_.surge) place = Place{marched->failed, marched->time};
    return marched->failed == 0;
  }

 private:
  static bool is_flying(const Pace& pace) { return pace.share == 1.0 && pace.slower == 1.0; }

  /// m3 at each lap's start and at the end: from the end up, so that stints with the same last laps have the
  /// same to the last digit.
  std::vector<double> levels(double end) const {
    std::vector<double> level(laps_.size() + 1, end);
    for (size_t k = laps_.size(); k-- > 0;) level[k] = level[k + 1] + laps_[k].burnt;
    return level;
  }

  size_t unsure(const std::vector<double>& level) const {
    const double most = car_.tank->volume() * (1 + 1e-9);
    size_t first = 0;
    while (first < laps_.size() && (level[first + 1] >= options_.sure || level[first] > most)) ++first;
    return first;
  }

  const Course& course_of(const Pace& pace) const {
    return is_flying(pace) ? flying_ : slow_.at({pace.share, pace.slower})->course;
  }

  using MarchedPtr = std::shared_ptr<const Marched>;

  MarchedPtr kept(const ContentKey& key, const std::function<Marched()>& make) const {
    if (options_.kept)
      if (MarchedPtr known = options_.kept->find(key)) return known;
    auto made = std::make_shared<const Marched>(make());
    if (options_.kept) options_.kept->keep(key, made, 1024);
    return made;
  }

  KeyMaker key_of(const char* what, double level) const {
    KeyMaker maker;
    maker.add(what).add(level).add(consumption_per_lap(flying_.demand, *flying_.lap));
    return maker;
  }

  std::optional<std::pair<MarchedPtr, size_t>> failed_launch(const std::vector<double>& level) const {
    for (size_t k = 0; k < laps_.size() && options_.launch; ++k)
      if (laps_[k].launch)
        if (MarchedPtr launched = launch(std::clamp(level[k], 0.0, car_.tank->volume())); launched->event)
          return std::pair(launched, k);
    return std::nullopt;
  }

  bool starves_at(const Place& place, const std::vector<double>& level) const {
    const size_t k = laps_.size() - place.lap;
    const Course& course = course_of(*laps_[k].pace);
    const Stretch stretch = stretch_about(course, place.time);
    const lap::Lap& lap = *course.lap;
    double there = level[k];
    for (size_t i = 0; i < stretch.first; ++i)
      there -= (course.demand[i] + course.demand[i + 1]) / 2 * (lap.time[i + 1] - lap.time[i]);
    KeyMaker key = key_of("place", there);
    key.add(place.time).add(laps_[k].pace->share).add(laps_[k].pace->slower);
    const auto look = [&] {
      if (options_.progress) options_.progress->check();
      const bool starves =
          starves_on(car_, course, stretch, std::clamp(there, 0.0, car_.tank->volume()), {.hold = false});
      return Marched{.event = {}, .failed = starves ? place.lap : 0};
    };
    return kept(key.key(), look)->failed > 0;
  }

  MarchedPtr launch(double level) const {
    return kept(key_of("launch", level).key(), [&] {
      const LevelRun run = run_level(*options_.launch->car, options_.launch->course, level);
      Marched out;
      if (!run.clean()) out.event = run.events.front();
      return out;
    });
  }

  MarchedPtr march(size_t first, size_t past, const std::vector<double>& level, bool glance) const {
    KeyMaker key = key_of("march", level[std::min(first, laps_.size())]);
    key.add(glance).add(first > 0).add(options_.reserve.value_or(-1.0));
    for (size_t k = first; k < past; ++k) key.add(laps_[k].pace->share).add(laps_[k].pace->slower);
    key.add(static_cast<std::int64_t>(laps_.size() - past));
    return kept(key.key(), [&] { return marched(first, past, level, glance); });
  }

  Marched marched(size_t first, size_t past, const std::vector<double>& level, bool glance) const {
    Marched out;
    std::optional<Marcher> march;
    LapTrace trace;
    LevelRun run;
    for (size_t k = first; k < past; ++k) {
      if (options_.progress) options_.progress->check();
      const Course& course = course_of(*laps_[k].pace);
      if (!march) {
        march.emplace(car_, course, std::min(level[k], car_.tank->volume()), MarchOptions{.hold = false});
        if (k > 0) march->enter();
        if (k > 0 && car_.surge && options_.reserve) march->set_surge(*options_.reserve);
        out.least_reserve = march->reserve();
      } else {
        march->go_on(course);
      }
      ++out.laps;
      march->lap(trace, {.stop_at_trouble = glance});
      out.least_reserve =
          std::min(out.least_reserve, *std::min_element(trace.reserve.begin(), trace.reserve.end()));
      const auto stretches = march->stretches();
      if (stretches.empty()) continue;
      out.failed = laps_.size() - k;
      out.time = stretches.front().start;
      if (glance) return out;
      run.level = level[k];
      adopt(run, std::move(trace));
      auto events = explain(car_, course, run, stretches);
      if (!events.empty()) {
        out.event = std::move(events.front());
        return out;
      }
      out.failed = 0;
      trace = {};
    }
    return out;
  }

  const FuelSystem& car_;
  const Course& flying_;
  BurnOptions options_;
  std::vector<Lap> laps_;
  std::map<std::pair<double, double>, std::shared_ptr<const SlowLap>> slow_;
};

}  // namespace

double burnt_over(const Course& flying, const std::vector<Pace>& stint) {
  double sum = 0;
  for (const Lap& lap : laps_of(flying, stint)) sum += lap.burnt;
  return sum;
}

std::shared_ptr<const SlowLap> slow_lap(const FuelSystem& car, const Course& flying, double share,
                                        double slower) {
  UADZE_REQUIRE(slower >= 1 && share > 0, "a slow lap takes longer and burns something");
  auto out = std::make_shared<SlowLap>();
  out->lap = *flying.lap;
  lap::Lap& lap = out->lap;
  for (double& t : lap.time) t *= slower;
  for (double& v : lap.speed) v /= slower;
  for (auto* a : {&lap.lateral, &lap.longitudinal})
    for (double& x : *a) x /= slower * slower;
  for (double& z : lap.vertical) z = standard_gravity + (z - standard_gravity) / (slower * slower);
  for (double& n : lap.rotation) n /= slower;
  Course& course = out->course;
  course = flying;
  course.lap = &lap;
  for (double& q : course.demand) q *= share / slower;
  course.reach.clear();
  course.limit.clear();
  course = completed(std::move(course), car);
  return out;
}

BurnDown burn_down(const FuelSystem& car, const Course& flying, const std::vector<Pace>& stint, double start,
                   const BurnOptions& options) {
  const Burner burner(car, flying, stint, options);
  return burner.run(start - burner.burnt());
}

LeastEnd least_end(const FuelSystem& car, const Course& flying, const std::vector<Pace>& stint,
                   double clean_level, const BurnOptions& options, double resolution) {
  BurnOptions how = options;
  how.sure = clean_level + 0.3e-3;
  const Burner burner(car, flying, stint, how);
  const double burnt = burner.burnt(), least = std::min(car.never_drawn.total(), clean_level);
  LeastEnd out;
  const auto to_the_end = [&](double end) { return burner.run(end); };
  // Far under the clean level a glance nearly always tells enough.
  std::optional<Burner::Place> far;
  BurnDown at;
  const bool hopeless = least < clean_level && !burner.glance(least, far);
  ++out.runs;
  if (!hopeless) at = burner.run(least), ++out.runs;
  if (!hopeless && at.clean()) {
    out.held_up = true;
    out.starves = std::max(least - resolution, 0.0);
    out.below = {.start = out.starves + burnt, .end = out.starves, .used_up = true};
  } else {
    // A step to either side of where it may lie, both at once; then further to the side that does not turn.
    const double first = std::max(resolution, 0.1e-3);
    double step = first;
    const double hint = std::clamp(options.hint.value_or(clean_level), least, clean_level);
    double low = std::max(hint - step, least), high = hint + step;
    bool low_clean = low > least, high_clean = false;
    // Where one starves, there the others are asked.
    std::optional<Burner::Place> place, above;
    tbb::parallel_invoke([&] { low_clean = low_clean && burner.glance(low, place); },
                         [&] { high_clean = burner.glance(high, above); });
    if (!place) place = above;
    const auto clean = [&](double end) {
      std::optional<Burner::Place> known = place;
      return burner.glance(end, known);
    };
    out.runs += 2;
    const double most = car.tank->volume();
    while (!high_clean && high < most)
      low = high, low_clean = false, high = std::min(high + (step *= 2), most), high_clean = clean(high),
      ++out.runs;
    if (!high_clean) {
      out.exists = false;
      out.end = out.starves = most;
      out.at = out.below = burner.run(most);
      return out;
    }
    // Down in small steps: under an end that starves there may be clean ones by luck, which are not used.
    // They grow where many were clean, as with a large surge tank that lasts for the last laps.
    step = 2 * first;
    for (int steps = 1; low_clean; ++steps, ++out.runs) {
      high = low, low = std::max(low - step, least), low_clean = low > least && clean(low);
      if (steps % 10 == 0) step *= 2;
    }
    const Turn turn = turn_in_thirds(
        [&](double lower, double upper) {
          const double tried[2] = {lower, upper};
          bool is[2];
          tbb::parallel_for(0, 2, [&](int k) { is[k] = clean(tried[k]); });
          return std::pair(is[0], is[1]);
        },
        low, high, resolution);
    out.runs += turn.evaluations;
    // From there with the laps before and the slow laps after, until one is clean and another, lower by just
    // the resolution, is not: on the edge a gulp just bears or does not, and a glance may have it otherwise.
    // The strides are powers of two of the resolution, so that halving ends on just it.
    BurnDown below;
    tbb::parallel_invoke([&] { at = to_the_end(turn.yes); },
                         [&] { below = to_the_end(std::max(turn.yes - resolution, least)); });
    out.runs += 2;
    // Down by small steps, up further off with each, then halved: where the fuel remembers the laps before,
    // they may be far off.
    double stride = resolution;
    for (; at.clean() && below.clean() && below.end > least; ++out.runs) {
      at = std::move(below);
      below = to_the_end(std::max(at.end - (stride = 2 * resolution), least));
    }
    for (; !at.clean() && at.end < most; ++out.runs, stride *= 2) {
      below = std::move(at);
      at = to_the_end(std::min(below.end + stride, most));
    }
    for (; at.clean() && !below.clean() && at.end - below.end > 1.001 * resolution; ++out.runs) {
      BurnDown between = to_the_end((at.end + below.end) / 2);
      (between.clean() ? at : below) = std::move(between);
    }
    out.exists = at.clean();
    out.starves = below.end;
    out.below = std::move(below);
  }
  out.at = std::move(at);
  out.end = out.at.end;
  return out;
}

double end_hint(const Course& flying, const std::vector<Pace>& stint, double clean_level, double worst_time) {
  const double flat_out = consumption_per_lap(flying.demand, *flying.lap);
  double after = flat_out * (1 - worst_time / std::max(flying.lap->duration(), 1e-9));
  bool flown = false;
  for (const Pace& pace : stint)
    if (pace.share == 1.0 && pace.slower == 1.0)
      flown = true;
    else if (flown)
      after += pace.laps * pace.share * flat_out;
  return clean_level - after;
}

Derivation least_end_working(const FuelSystem& car, const LeastEnd& least, double clean_level) {
  Derivation d{
      .name = "Least fuel at the end",
      .value = least.end,
      .quantity = Quantity::volume,
      .formula =
          "V_end = least V such that the stint, driven with the fuel burning down to V, has no "
          "starvation until the engine stops; not under V_never",
      .inputs = {{"V_clean", "clean level of the lap held steady: above it no lap is marched again",
                  clean_level, Quantity::volume, "starvation map"},
                 {"V_never", "what never comes out", car.never_drawn.total(), Quantity::volume, "see there"},
                 {"V_starves", least.held_up ? "not clean, as it is under V_never" : "an end that starves",
                  least.starves, Quantity::volume, least.below.on.empty() ? "computed" : least.below.on},
                 {"V_reserve", "least in surge tank or line on the laps marched", least.at.least_reserve,
                  Quantity::volume, "computed"},
                 {"laps", "marched of the last run", static_cast<double>(least.at.laps_marched),
                  Quantity::count, "those that end near V_clean or under it"},
                 {"runs", "stints computed", static_cast<double>(least.runs), Quantity::count, "computed"}},
      .source = "march of the stint: fuel motion, circuit, surge tank, line and rail together",
      .note = least.held_up ? "The stint itself would be clean with less: what never comes out decides." : "",
      .steps = {}};
  if (!least.held_up && least.below.event)
    d.note = "With less it starves first on " + least.below.on + ": " + least.below.event->cause.in() + ".";
  return d;
}

}  // namespace uadze::starvation
