#include "core/solve/logged.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "core/base/counted.h"
#include "core/solve/circuit_point.h"
#include "core/solve/setup.h"

namespace uadze::solve {
namespace {

/// A corner and the way to the next; eighths of the lap where no corner is named.
std::vector<Place> places_of(const std::vector<lap::Corner>& corners, double length) {
  std::vector<Place> out;
  for (const lap::Corner& c : corners)
    if (c.from < length) out.push_back({c.name, c.from});
  std::sort(out.begin(), out.end(), [](const Place& a, const Place& b) { return a.from < b.from; });
  for (int k = 0; out.empty() && k < 8; ++k) {
    for (int j = 0; j < 8; ++j) out.push_back({fmt::format("{} of 8 of the lap", j + 1), length * j / 8});
  }
  return out;
}

/// Before the first place is the last one's way home.
size_t place_at(const std::vector<Place>& places, double distance) {
  size_t out = places.size() - 1;
  for (size_t k = 0; k < places.size(); ++k)
    if (distance >= places[k].from) out = k;
  return out;
}

[[noreturn]] void fail(std::string place, std::string expected, std::string found) {
  throw InputError(Message{
      .file = {}, .place = std::move(place), .expected = std::move(expected), .found = std::move(found)});
}

/// Values of a channel of the log at a time, straight between its moments.
template <class Values>
double at_time(const log::Log& log, const Values& values, double t) {
  const size_t i = std::min(log.index_at(t), log.size() - 2);
  const double u = std::clamp((t - log.time[i]) / (log.time[i + 1] - log.time[i]), 0.0, 1.0);
  return values[i] + (values[i + 1] - values[i]) * u;
}

}  // namespace

std::optional<log::InjectorLaw> injector_law(const project::Project& project, const project::Setup& setup,
                                             Sources& sources) {
  if (!setup.circuit) return std::nullopt;
  const auto catalogue = sources.catalogue(project);
  const auto* type = circuit::find(catalogue->injectors, setup.circuit->rail.injector);
  if (!type) return std::nullopt;
  return log::InjectorLaw{
      .count = setup.circuit->rail.injectors, .flow = type->flow, .difference = type->difference};
}

LoggedFuel logged_fuel(const project::Project& project, const project::Setup& setup, const std::string& file,
                       const log::Log& log, const diagnosis::Found& found, Sources& sources) {
  const fluid::Blend fuel = fuel_of(setup);
  LoggedFuel out;
  log::FlowOptions how{.injectors = injector_law(project, setup, sources),
                       .set = found.usual,
                       .density = fluid::density(fuel),
                       .air_ratio = fluid::stoichiometric_ratio(fuel)};
  out.wanted = log::flow_along(log, how);
  how.difference = found.difference;
  out.flow = log::flow_along(log, how);
  log::KnownFuel known;
  if (const project::LogNote* note = project.find_log(file)) {
    known.put_in = note->put_in;
    known.drained = note->drained;
    known.scale = note->flow_scale;
  }
  out.level = log::level_along(log, out.flow, known);
  return out;
}

LoggedCase logged_case(const project::Project& project, const Resolved& r, const log::Log& log,
                       const log::Laps& laps, const diagnosis::Found& found, const LoggedFuel& fuel,
                       Sources& sources, const LoggedOptions& options, Progress* progress) {
  LoggedCase out;
  out.setup = r.setup->name, out.lap_name = r.lap->name;
  std::vector<const log::LoggedLap*> driven;
  for (const log::LoggedLap& lap : laps.all) {
    // An in lap goes on from a flying one, with the least fuel of all; an out lap begins in the pits.
    const bool goes_on = lap.kind == log::LapKind::in && !driven.empty() && driven.back()->end == lap.begin;
    if ((lap.kind == log::LapKind::flying || lap.kind == log::LapKind::slow || goes_on) &&
        lap.duration() >= starvation::shortest_lap)
      driven.push_back(&lap);
  }
  if (driven.empty()) fail("laps", "a flying lap", counted(laps.all.size(), "lap") + ", none of them flying");
  if (!fuel.level.known()) fail("level", "what was in the tank", fuel.level.from);
  if (static_cast<int>(driven.size()) > options.most_laps) {
    out.notes.push_back({Severity::note,
                         {},
                         "laps",
                         "",
                         fmt::format("only the last {} of {} laps are held against the model",
                                     options.most_laps, driven.size())});
    driven.erase(driven.begin(), driven.end() - options.most_laps);
  }
  out.places = places_of(sources.laps.corners(*r.lap), driven.front()->length);

  // What was logged is of this car as it was: no other fuel, no other map.
  project::Setup setup = *r.setup;
  setup.engine.figures_of.reset();
  setup.engine.flow_scale = 1.0;
  if (!options.calibrated) setup.calibration.reset();
  Resolved as_logged = r;
  as_logged.setup = &setup;
  as_logged.session = nullptr;
  as_logged.conditions.grip = 1.0;
  const auto rpm = log.values(log::Role::rpm);
  const bool measured = fuel.wanted.absolute;
  if (!measured)
    out.notes.push_back({Severity::note,
                         {},
                         "channels",
                         "",
                         "no fuel flow in the log: what is burnt is throttle x power x consumption"});
  for (size_t k = 0; k < driven.size(); ++k) {
    const log::LoggedLap& lap = *driven[k];
    auto made = log::to_lap(log, lap, options.how);
    if (k == 0)
      for (Message& m : made.notes) out.notes.push_back(std::move(m));
    LoggedLapCase one{.number = lap.number, .begin = lap.begin, .end = lap.end};
    one.flying = lap.kind == log::LapKind::flying;
    one.follows = k > 0 && r.lap->repeated && std::abs(driven[k - 1]->end - lap.begin) < 1e-6;
    lap::Lap& channels = made.value;
    channels.fuel_mass_flow.clear(), channels.fuel_flow.clear();
    if (measured)
      for (double t : channels.time)
        channels.fuel_flow.push_back(fuel.level.scale *
                                     at_time(log, fuel.wanted.values, std::min(lap.begin + t, lap.end)));
    KeyMaker key;
    key.add("logged lap");
    for (const auto* values :
         {&channels.time, &channels.lateral, &channels.longitudinal, &channels.vertical, &channels.distance,
          &channels.speed, &channels.throttle, &channels.rotation, &channels.fuel_flow})
      key.add(std::span<const double>(*values));
    const auto given = std::make_shared<const KeptLap>(KeptLap{std::move(channels), {}, key.key()});
    one.ready = lap_case(project, as_logged, sources, {.points = options.points, .given = given}, progress);
    one.level = std::min(at_time(log, fuel.level.values, lap.begin), one.ready->car->tank->volume());
    one.level_error = at_time(log, fuel.level.deviation, lap.begin);
    const lap::Lap& as_made = given->value;
    one.event.assign(out.places.size(), 0);
    for (size_t i = 0; i < as_made.size(); ++i) {
      one.place.push_back(place_at(out.places, as_made.distance[i]));
      if (found.usual > 0 && found.difference.size() == log.size())
        // An engine that stands asks for nothing.
        one.seen.push_back(
            !rpm.empty() && at_time(log, rpm, std::min(lap.begin + as_made.time[i], lap.end)) < 5
                ? 1.0
                : at_time(log, found.difference, std::min(lap.begin + as_made.time[i], lap.end)) /
                      found.usual);
    }
    for (const diagnosis::LoggedEvent& e : found.events)
      if (e.sign == diagnosis::Sign::pressure && e.begin >= lap.begin && e.begin < lap.end)
        one.event[one.place[as_made.index_at(e.begin - lap.begin)]] = 1;
    out.laps.push_back(std::move(one));
    if (progress) {
      progress->check();
      progress->report(static_cast<double>(k + 1) / static_cast<double>(driven.size()));
    }
  }
  return out;
}

namespace {

/// Falls of pressure whoever does them, the circuit itself too. A pump's run-up lasts about as long as the
/// limit's time: half of that is enough to be the log's event. One that goes over the line is one.
void show_own_falls(const LoggedCase& logged, const circuit::LeanLimit& limit,
                    std::vector<ComputedLap>& run) {
  for (size_t k = 0; k < run.size(); ++k) {
    const auto& time = logged.laps[k].ready->lap->value.time;
    const auto low_from = [&](size_t lap, size_t i) {
      while (i < run[lap].rail.size() && run[lap].rail[i] < limit.share()) ++i;
      return i;
    };
    for (size_t i = 0, past = 0; i < time.size(); i = std::max(past, i + 1)) {
      past = low_from(k, i);
      if (past == i) continue;
      double lasts = time[std::min(past, time.size() - 1)] - time[i];
      if (past == time.size() && k + 1 < run.size() && logged.laps[k + 1].follows) {
        const auto& next = logged.laps[k + 1].ready->lap->value.time;
        lasts += next[std::min(low_from(k + 1, 0), next.size() - 1)] - next.front();
      }
      if (lasts > limit.time / 2) run[k].shows[logged.laps[k].place[i]] = 1;
    }
  }
}

}  // namespace

std::vector<ComputedLap> computed(const LoggedCase& logged, const ComputeOptions& options,
                                  Progress* progress) {
  std::vector<ComputedLap> out;
  if (logged.laps.empty()) return out;
  starvation::FuelSystem car = *logged.laps.front().ready->car;
  if (options.factors) car = starvation::calibrated(std::move(car), *options.factors);
  const double lift = starvation::factor_of(options.factors, starvation::Figure::lift);
  const double most = car.tank->volume();
  std::vector<starvation::Course> courses;
  courses.reserve(logged.laps.size());
  for (const LoggedLapCase& lap : logged.laps) {
    courses.push_back(lap.ready->course);
    if (lift == 1.0) continue;
    auto delivery = std::make_shared<starvation::Delivery>(*courses.back().delivery);
    for (auto& flow : delivery->lift)
      for (double& q : flow) q *= lift;
    courses.back().delivery = std::move(delivery);
  }
  std::optional<starvation::Marcher> march;
  for (size_t k = 0; k < logged.laps.size(); ++k) {
    if (progress) progress->check();
    const LoggedLapCase& lap = logged.laps[k];
    if (!lap.follows) {
      march.emplace(car, courses[k], std::clamp(lap.level + options.level_shift, 1e-6, most),
                    starvation::MarchOptions{.hold = false, .longest_part = options.longest_part});
      march->enter();
    } else {
      march->go_on(courses[k]);
    }
    starvation::LapTrace trace;
    march->lap(trace);
    ComputedLap one;
    const auto& set = courses[k].delivery->set;
    const size_t n = lap.ready->lap->value.size();
    for (size_t i = 0; i < n; ++i) {
      one.rail.push_back(set[i] > 0 ? trace.rail[i] / set[i] : 1.0);
      double wet = 1.0;
      for (const auto& pickup : trace.wet) wet = std::min(wet, pickup[i]);
      one.wet.push_back(wet);
    }
    one.level = std::move(trace.level);
    one.event.assign(logged.places.size(), 0);
    for (const starvation::LeanStretch& s : march->stretches())
      if (s.kind == starvation::Trouble::pressure) {
        const lap::Lap& driven = lap.ready->lap->value;
        one.event[lap.place[driven.index_at(std::max(s.start, driven.time.front()))]] = 1;
        one.stretches.push_back(s);
      }
    one.shows = one.event;
    out.push_back(std::move(one));
  }
  show_own_falls(logged, car.limits.mixture, out);
  return out;
}

namespace {

/// Sum over each place of what `share` lacks under the circuit's own.
template <class Share>
std::vector<double> lacking(const LoggedCase& logged, const LoggedLapCase& lap, Share&& share) {
  constexpr double slack = 0.03;
  std::vector<double> out(logged.places.size(), 0.0);
  const lap::Lap& driven = lap.ready->lap->value;
  const starvation::Delivery& delivery = *lap.ready->course.delivery;
  for (size_t i = 0; i + 1 < driven.size(); ++i) {
    const double own = delivery.set[i] > 0 ? std::min(delivery.fed[i] / delivery.set[i], 1.0) : 1.0;
    out[lap.place[i]] +=
        std::max(own - slack - std::max(share(i), 0.0), 0.0) * (driven.time[i + 1] - driven.time[i]);
  }
  return out;
}

}  // namespace

std::vector<std::vector<double>> lacking_logged(const LoggedCase& logged) {
  std::vector<std::vector<double>> out;
  for (const LoggedLapCase& lap : logged.laps)
    out.push_back(lacking(logged, lap, [&](size_t i) { return lap.seen.empty() ? 1.0 : lap.seen[i]; }));
  return out;
}

std::vector<std::vector<double>> lacking_computed(const LoggedCase& logged,
                                                  const std::vector<ComputedLap>& run) {
  std::vector<std::vector<double>> out;
  for (size_t k = 0; k < logged.laps.size(); ++k)
    out.push_back(lacking(logged, logged.laps[k], [&](size_t i) { return run[k].rail[i]; }));
  return out;
}

Scores scored(const LoggedCase& logged, const std::vector<ComputedLap>& run, const std::vector<char>& only) {
  Scores out;
  for (const Place& p : logged.places) out.places.push_back({.name = p.name});
  for (size_t k = 0; k < logged.laps.size() && k < run.size(); ++k) {
    if (!only.empty() && !only[k]) continue;
    const LoggedLapCase& lap = logged.laps[k];
    for (size_t p = 0; p < out.places.size(); ++p) {
      PlaceScore& place = out.places[p];
      ++place.laps;
      const bool seen = lap.event[p], said = run[k].event[p], shows = run[k].shows[p];
      place.hits += seen && shows, place.misses += seen && !shows, place.false_alarms += !seen && said;
      out.quiet += !seen && !said;
      if (!lap.flying) continue;
      if (seen) place.highest_starved = std::max(place.highest_starved.value_or(0.0), lap.level);
      if (!seen) place.lowest_clean = std::min(place.lowest_clean.value_or(1e9), lap.level);
    }
  }
  for (const PlaceScore& p : out.places)
    out.hits += p.hits, out.misses += p.misses, out.false_alarms += p.false_alarms;
  return out;
}

}  // namespace uadze::solve
