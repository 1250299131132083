#include "core/solve/search.h"

#include "core/circuit/shortfall.h"
#include "core/session/schedule.h"
#include "core/starvation/burn_down.h"

#include <fmt/format.h>
#include <tbb/parallel_for.h>

#include <algorithm>
#include <atomic>
#include <cmath>
#include <functional>
#include <numbers>

#include "core/session/plan.h"
#include "core/solve/circuit_point.h"
#include "core/solve/lap_result.h"
#include "core/solve/setup.h"
#include "core/starvation/band.h"
#include "core/starvation/surge.h"

namespace uadze::solve {
namespace {

using project::Setup;

using Change = std::function<bool(Setup&)>;  // false: there is nothing to change

struct Step {
  std::string text;  // empty: as it is
  Change apply;
};

template <class List, class Text, class Apply>
std::vector<Step> steps(const List& values, Text&& text, Apply&& apply) {
  std::vector<Step> out{{"", [](Setup&) { return true; }}};
  for (const auto& v : values) out.push_back({text(v), [v, apply](Setup& s) { return apply(s, v); }});
  return out;
}

void fit_pumps(circuit::Leg& leg, const std::string& type) {
  for (circuit::Part& p : leg)
    if (p.kind == circuit::PartKind::pump) p.type = type, p.name.clear();
}

/// With four digits, so that values that differ have different names.
std::string named(double value, Quantity quantity, const UnitSystem& units) {
  const Unit unit = shown_unit(quantity, units);
  return fmt::format("{:.4g}{}{}", unit.from_si(value), unit.name.empty() ? "" : " ", unit.name);
}

/// No alternative that can not be passes for one that merely loses.
void check_alternatives(const SearchOptions& o, double tank) {
  const auto expect = [&](bool good, const char* what, std::string expected, double found,
                          Quantity quantity) {
    if (!good)
      throw InputError(
          Message{.place = what, .expected = std::move(expected), .found = named(found, quantity, o.units)});
  };
  for (double v : o.surge_volumes)
    expect(v > 0 && v <= tank, "surge volumes to try",
           "above 0 and at most the tank's " + format(tank, Quantity::volume, o.units), v, Quantity::volume);
  for (double x : o.pickup_shifts)
    expect(std::abs(x) < 10, "shifts of the pickups to try",
           "less than " + named(10, Quantity::length, o.units), x, Quantity::length);
  for (const auto& [scales, what] : {std::pair(&o.opening_scales, "scales of openings to try"),
                                     {&o.collector_scales, "scales of collectors to try"}})
    for (double k : *scales) expect(k >= 0.1 && k <= 10, what, "0.1 to 10", k, Quantity::plain);
}

/// What the combinations are made of, in the order in which they are told.
std::vector<std::vector<Step>> dimensions(const SearchOptions& o) {
  std::vector<std::vector<Step>> out;
  out.push_back(steps(
      o.surge_volumes, [&](double v) { return "surge tank " + named(v, Quantity::volume, o.units); },
      [](Setup& s, double v) {
        if (!s.surge || s.surge->volume == v) return false;
        s.surge->volume = v;
        return true;
      }));
  out.push_back(steps(
      o.returns, [](circuit::ReturnTo r) { return std::string("return to the ") + name_of(r); },
      [](Setup& s, circuit::ReturnTo r) {
        if (!s.surge || s.surge->engine_return == r) return false;
        s.surge->engine_return = r;
        return true;
      }));
  out.push_back(steps(
      o.lift_types, [](const std::string& t) { return t; },
      [](Setup& s, const std::string& t) {
        if (!s.circuit || s.circuit->lifts.empty()) return false;
        const circuit::Circuit before = *s.circuit;
        for (auto& lift : s.circuit->lifts) fit_pumps(lift.parts, t);
        return before != *s.circuit;
      }));
  out.push_back(steps(
      o.main_types, [](const std::string& t) { return "one " + t; },
      [](Setup& s, const std::string& t) {
        if (!s.circuit || s.circuit->mains.empty()) return false;
        const circuit::Circuit before = *s.circuit;
        s.circuit->mains.resize(1);
        s.circuit->mains[0].stage = {};
        fit_pumps(s.circuit->mains[0].parts, t);
        return before != *s.circuit;
      }));
  out.push_back(steps(
      o.pickup_shifts,
      [&](double x) {
        return fmt::format("pickups {} {}", named(std::abs(x), Quantity::length, o.units),
                           x < 0 ? "back" : "forward");
      },
      [](Setup& s, double x) {
        for (auto& p : s.tank.pickups) p.position.x() += x;
        return x != 0 && !s.tank.pickups.empty();
      }));
  out.push_back(steps(
      o.opening_scales, [](double k) { return fmt::format("openings {:.2g} times as wide and high", k); },
      [](Setup& s, double k) {
        bool any = false;
        const auto scale = [&](tank::OpeningPart& p) {
          p.diameter *= k, p.width *= k, p.height *= k;
          any = any || k != 1;
        };
        for (auto& b : s.tank.baffles) std::for_each(b.openings.begin(), b.openings.end(), scale);
        for (auto& c : s.tank.collectors) std::for_each(c.openings.begin(), c.openings.end(), scale);
        return any;
      }));
  out.push_back(steps(
      o.collector_scales, [](double k) { return fmt::format("collector {:.2g} times as long and wide", k); },
      [](Setup& s, double k) {
        bool any = false;
        for (auto& c : s.tank.collectors)
          if (auto* box = std::get_if<tank::Box>(&c.shape)) {
            const Vec3 middle = (box->from + box->to) / 2, half = (box->to - box->from) / 2;
            for (int axis : {0, 1}) {
              box->from[axis] = middle[axis] - k * half[axis];
              box->to[axis] = middle[axis] + k * half[axis];
            }
            any = any || k != 1;
          }
        return any;
      }));
  return out;
}

void evaluate(Alternative& a, const project::Project& project, Resolved r, Sources& sources,
              const SearchOptions& options, double hint, Progress* progress) {
  r.setup = &a.setup;
  try {
    const auto assembly = sources.tanks.assembled(a.setup.tank);
    for (const Fault& fault : assembly->faults)
      if (fault.severity == Severity::error) {
        a.fault = "expected " + fault.expected + ", found " + fault.found;
        return;
      }
    for (const auto& p : a.setup.tank.pickups)
      if (!assembly->tank.contains(p.position)) {
        a.fault = p.name + " would stand outside the tank";
        return;
      }
    const LapCasePtr made = lap_case(project, r, sources, {.points = options.points}, progress);
    const auto& car = *made->car;
    const starvation::Course& course = made->course;
    a.clean_level = starvation::clean_level_near(car, course, hint, 0.1e-3, progress);
    const starvation::LevelRun at = run_level(car, course, a.clean_level, {.progress = progress});
    a.exists = at.clean();
    a.tightest = at.tightest_place;
    const auto stint = session::longest_stint(*r.session, course.lap->duration());
    const starvation::BurnOptions burn{
        .hint = starvation::end_hint(course, stint, a.clean_level, course.lap->time[at.tightest]),
        .reserve = at.reserve.front(),
        .progress = progress};
    const double end =
        a.exists ? starvation::least_end(car, course, stint, a.clean_level, burn, 0.1e-3).end : a.clean_level;
    const session::Plan plan =
        session::make_plan(*r.session, plan_input(car, *course.lap, end,
                                                  starvation::consumption_per_lap(course.demand, *course.lap),
                                                  a.setup.tank.usable_share * car.tank->volume()));
    const auto catalogue = sources.catalogue(project);
    double load = 0;
    if (a.setup.circuit)
      for (const auto& p :
           circuit::run_met(circuit_case(conditioned(a.setup, r.conditions), catalogue)).state.pumps)
        load += p.current;
    double starved = 0;
    for (const auto& e : run_level(car, course, 0.9 * a.clean_level, {.progress = progress}).events)
      starved += e.end - e.start;
    const double surge_fuel = a.setup.surge ? a.setup.surge->volume * car.fuel_density : 0.0;
    a.cost = {plan.start, parts_mass(a.setup, *catalogue) + surge_fuel, load, parts_cost(a.setup, *catalogue),
              starved};
  } catch (const InputError& error) {
    a.fault = error.what();
  }
}

template <class Visit>
void each_entry(const Setup& setup, const circuit::Catalogue& cat, Visit&& visit) {
  if (!setup.circuit) return;
  for (const auto& place : circuit::legs_of(*setup.circuit, surroundings_of(setup))) {
    const circuit::Leg* leg = leg_at(*setup.circuit, place);
    if (!leg) continue;
    for (const circuit::Part& p : *leg) {
      const double twice = p.doubled ? 2 : 1;
      const auto offer = [&](const circuit::Entry* e, double times) {
        if (e) visit(*e, times);
      };
      switch (p.kind) {
        case circuit::PartKind::pump:
          offer(find(cat.pumps, p.type), 1);
          break;
        case circuit::PartKind::filter:
          offer(find(cat.filters, p.type), twice);
          break;
        case circuit::PartKind::check_valve:
          offer(find(cat.check_valves, p.type), 1);
          break;
        case circuit::PartKind::sensor:
          offer(find(cat.sensors, p.type), twice);
          break;
        case circuit::PartKind::diffuser:
          offer(find(cat.diffusers, p.type), 1);
          break;
        case circuit::PartKind::line:
          // The entry's own mass is that of a metre of -8.
          if (const circuit::HoseType* hose = find(cat.hoses, p.type); hose && hose->mass > 0)
            offer(hose, p.length * mass_of(*hose, p.dash) / hose->mass);
          break;
        default:
          break;
      }
    }
  }
}

}  // namespace

double parts_mass(const Setup& setup, const circuit::Catalogue& catalogue) {
  double sum = 0;
  each_entry(setup, catalogue, [&](const circuit::Entry& e, double times) { sum += times * e.mass; });
  if (setup.surge) {
    const double r = surge_radius(*setup.surge), h = surge_height(*setup.surge);
    sum += 2 * std::numbers::pi * r * (r + h) * 2e-3 * 2700;
  }
  return sum;
}

double parts_cost(const Setup& setup, const circuit::Catalogue& catalogue) {
  double sum = setup.surge ? 3 : 0;
  each_entry(setup, catalogue, [&](const circuit::Entry& e, double) {
    sum += e.cost == circuit::CostClass::low ? 1 : e.cost == circuit::CostClass::middle ? 3 : 10;
  });
  return sum;
}

SearchResult search(const project::Project& project, const Case& wanted, const SearchOptions& options,
                    Sources& sources, Progress* progress) {
  const Resolved r = resolve(project, wanted);
  const Setup& setup = *r.setup;
  if (!r.session)
    throw InputError(
        Message{.file = {}, .place = "/sessions", .expected = "a session to search for", .found = "none"});
  check_alternatives(options, sources.tanks.assembled(setup.tank)->tank.volume());
  const auto dims = dimensions(options);
  size_t count = 1;
  for (const auto& d : dims) count *= d.size();
  if (count < 2 || count > static_cast<size_t>(options.most))
    throw InputError(Message{.file = setup.name,
                             .place = "search",
                             .expected = fmt::format("options for 2 to {} combinations", options.most),
                             .found = fmt::format("{}", count)});
  SearchResult out;
  for (size_t k = 0; k < count; ++k) {
    Alternative a{.setup = setup};
    size_t rest = k;
    bool new_one = true;
    for (const auto& d : dims) {
      const Step& step = d[rest % d.size()];
      rest /= d.size();
      // A step that changes nothing makes the same setup again.
      new_one = new_one && step.apply(a.setup);
      if (!step.text.empty()) a.changes += (a.changes.empty() ? "" : ", ") + step.text;
    }
    if (!new_one) continue;
    if (!a.changes.empty()) a.setup.name = setup.name + ": " + a.changes;
    out.all.push_back(std::move(a));
  }
  // The present setup first: where its clean level lies the others' are looked for.
  evaluate(out.all.front(), project, r, sources, options,
           0.25 * sources.tanks.assembled(setup.tank)->tank.volume(), progress);
  const double hint = out.all.front().clean_level;
  std::atomic<size_t> done{1};
  const auto report = [&] {
    if (progress) progress->report(static_cast<double>(done.load()) / static_cast<double>(out.all.size()));
  };
  report();
  tbb::parallel_for(size_t{1}, out.all.size(), [&](size_t i) {
    if (progress && progress->cancelled()) return;
    try {
      evaluate(out.all[i], project, r, sources, options, hint, progress);
    } catch (const Cancelled&) {
      return;
    }
    ++done;
    report();
  });
  if (progress) progress->check();
  std::vector<sizing::Cost> costs;
  std::vector<size_t> index;
  for (size_t i = 0; i < out.all.size(); ++i)
    if (out.all[i].fault.empty()) costs.push_back(out.all[i].cost), index.push_back(i);
  for (size_t k : sizing::non_dominated(costs)) out.kept.push_back(index[k]);
  std::stable_sort(out.kept.begin(), out.kept.end(),
                   [&](size_t a, size_t b) { return out.all[a].cost[0] < out.all[b].cost[0]; });
  return out;
}

}  // namespace uadze::solve
