#include "core/build/bench.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <functional>

#include "core/base/root.h"
#include "core/circuit/analysis.h"

namespace uadze::build {

using circuit::Case;
using circuit::EngineSupply;
using circuit::Leg;
using circuit::LegKind;
using circuit::LegPlace;
using circuit::Part;
using circuit::PartKind;

namespace {

/// How much the main pumps give at base pressure, the engine standing.
double given(const Case& c, circuit::State& state) {
  Case at = c;
  at.at.demand = 0;
  at.at.throttle = 1;
  at.at.manifold = circuit::ambient_pressure(at.at.altitude);
  at.circuit.regulator.referenced = false;
  state = circuit::run(at);
  const bool returns = c.circuit.engine_supply == EngineSupply::returned ||
                       (c.circuit.engine_supply == EngineSupply::returnless &&
                        c.circuit.regulator.kind == circuit::RegulatorKind::bypass);
  if (returns) return state.delivered;
  const double can = circuit::available_flow(at);
  at.at.demand = can;
  state = circuit::run(at);
  return can;
}

void only_main(Case& c, size_t k) {
  std::vector<char> on(c.circuit.mains.size(), 0);
  on[k] = 1;
  c.at.mains_on = on;
}

/// All that a leg's flow hangs on.
std::string content_of(const Case& c, const LegPlace& place) {
  std::string out;
  if (const Leg* leg = circuit::leg_at(c.circuit, place))
    for (const Part& p : *leg)
      out += fmt::format("{}|{}|{}|{:.4f}|{:.5f}|{}|{:.9f}|{:.3f}\n", name_of(p.kind), p.type, p.dash,
                         p.length, p.bore, p.count, p.wiring.feed_area, p.wiring.feed_length);
  return out;
}

/// The leg's title; with its number where another leg has the same.
std::string pump_name(const Case& c, const LegPlace& place) {
  const std::string title = place.title(c.circuit);
  const auto all = circuit::legs_of(c.circuit, c.surroundings);
  const auto alike =
      std::count_if(all.begin(), all.end(), [&](const LegPlace& p) { return p.title(c.circuit) == title; });
  return alike > 1 ? fmt::format("{} ({})", title, place.index + 1) : title;
}

/// Of the filters that pass the whole flow, those whose loss a gauge can tell from nothing.
std::vector<FilterReading> filters_of(const Case& c, const circuit::State& s, double flow) {
  constexpr double least = 1e3;  // Pa
  std::vector<FilterReading> out;
  for (const circuit::PartState& p : s.parts) {
    const Leg* leg = circuit::leg_at(c.circuit, p.leg);
    if (!leg || p.part < 0 || p.part >= static_cast<int>(leg->size())) continue;
    const Part& part = leg->at(static_cast<size_t>(p.part));
    if (part.kind != PartKind::filter || std::abs(p.flow - flow) > 0.02 * flow || p.loss < least) continue;
    const auto* type = circuit::find(c.catalogue->filters, part.type);
    if (!type || type->clean <= 0) continue;
    const double now = std::lerp(type->clean, type->loaded, c.at.filter_load);
    std::string what = "loss of " + part.type;
    const auto alike = std::count_if(out.begin(), out.end(), [&](const auto& o) {
      return o.what == what || o.what.starts_with(what + " (");
    });
    if (alike > 0) what += fmt::format(" ({})", alike + 1);
    out.push_back({p.leg, p.part, std::move(what), p.loss, p.loss * std::max(type->loaded / now, 1.0)});
  }
  return out;
}

int pump_in(const Leg& leg) {
  for (size_t i = 0; i < leg.size(); ++i)
    if (leg[i].kind == PartKind::pump) return static_cast<int>(i);
  return -1;
}

}  // namespace

std::vector<PressureReading> gauge_readings(const Case& c, double idle, double full) {
  std::vector<PressureReading> out;
  if (c.circuit.engine_supply == EngineSupply::carburettor) {
    for (const auto& [what, demand] : {std::pair{"Idle", idle}, {"Full load", full}}) {
      Case at = c;
      at.at.demand = demand;
      const circuit::State s = circuit::run(at);
      out.push_back({what, s.rail - s.ambient, demand == idle});
    }
    return out;
  }
  for (const circuit::GaugeRow& row : circuit::gauge_card(c, idle, full))
    out.push_back({row.condition, row.reads, row.demand <= idle});
  return out;
}

std::vector<FlowReading> flow_readings(const Case& c) {
  std::vector<FlowReading> out;
  const auto read = [&](const LegPlace& place, const Case& alone, double flow, const circuit::State& s,
                        std::string how) {
    FlowReading r{.leg = place, .part = pump_in(*circuit::leg_at(c.circuit, place)), .how = std::move(how)};
    if (r.part < 0) return;
    r.pump = pump_name(c, place);
    r.flow = std::max(flow, 0.0);  // into a can, where nothing flows back
    for (const circuit::PumpState& p : s.pumps)
      if (p.leg == place && p.part == r.part && !p.engine_driven) r.voltage = p.voltage;
    r.filters = filters_of(c, s, flow);
    r.content = content_of(alone, place);
    out.push_back(std::move(r));
  };
  if (c.surroundings.surge)
    for (size_t k = 0; k < c.circuit.lifts.size(); ++k) {
      Case alone = c;
      alone.at.demand = 0;
      alone.at.mains_on = std::vector<char>(c.circuit.mains.size(), 0);
      alone.at.lifts_dead.assign(c.circuit.lifts.size(), 1);
      alone.at.lifts_dead[k] = 0;
      const circuit::State s = circuit::run(alone);
      read(
          {LegKind::lift, static_cast<int>(k)}, alone, k < s.surge.lifts.size() ? s.surge.lifts[k] : 0.0, s,
          "This pump alone, its line's end taken off the surge tank and held into a can at the same height.");
    }
  const bool carburettor = c.circuit.engine_supply == EngineSupply::carburettor;
  const bool returned = c.circuit.engine_supply == EngineSupply::returned;
  for (size_t k = 0; k < c.circuit.mains.size(); ++k) {
    Case alone = c;
    only_main(alone, k);
    circuit::State s;
    const double flow = given(alone, s);
    read({LegKind::main, static_cast<int>(k)}, alone, flow, s,
         returned
             ? "This pump alone at base pressure, engine off, reference open: the return's end into a can."
         : carburettor
             ? "This pump alone, the line's end at the carburettors into a can through a tap set to the "
               "needles' pressure."
             : "This pump alone, the feed's end into a can through a tap that is set to base pressure.");
  }
  return out;
}

namespace {

struct Fault {
  std::string text;  ///< with {} for its strength
  Quantity quantity = Quantity::fraction;
  std::vector<double> strengths;  ///< as they are said
  std::function<bool(Case&, double)> put;
};

/// The pump's own place, or all main pumps.
std::vector<Part*> pumps(Case& c, const std::string& flow_of) {
  std::vector<Part*> out;
  for (const LegPlace& place : circuit::legs_of(c.circuit, c.surroundings)) {
    if (!flow_of.empty() ? pump_name(c, place) != flow_of : place.kind != LegKind::main) continue;
    if (Leg* leg = circuit::leg_at(c.circuit, place))
      for (Part& p : *leg)
        if (p.kind == PartKind::pump) out.push_back(&p);
  }
  return out;
}

bool narrow(Leg& leg, const Case& c, double share) {
  bool done = false;
  for (size_t i = 0; i < leg.size(); ++i)
    if (leg[i].kind == PartKind::line) {
      const double bore = circuit::bore_of(leg, i, *c.catalogue);
      if (bore > 0) leg[i].bore = bore * (1 - share), done = true;
    }
  return done;
}

std::vector<Fault> faults_of(const Case& c, const Puzzle& puzzle) {
  std::vector<Fault> out;
  const std::vector<double> parts{0.1, 0.15, 0.2, 0.3, 0.4, 0.5, 0.7};
  const bool flow = !puzzle.flow_of.empty();
  if (!flow) {
    std::vector<double> steps;
    for (int k = 1; k <= 24; ++k) steps.push_back(0.05e5 * k), steps.push_back(-0.05e5 * k);
    out.push_back(
        {"The regulator is set {} off the base (or the gauge reads so): set it with the engine off and the "
         "reference open.",
         Quantity::pressure, steps, [](Case& x, double s) {
           x.circuit.regulator.base += s;
           return x.circuit.regulator.base > 0;
         }});
    if (c.circuit.regulator.referenced)
      out.push_back({"The reference does not reach the regulator: hose off, split or blocked.",
                     Quantity::fraction,
                     {1},
                     [](Case& x, double) {
                       x.circuit.regulator.referenced = false;
                       return true;
                     }});
    out.push_back({"The return is narrowed by {} of its bore: kinked, pinched, or its fitting.",
                   Quantity::fraction, parts,
                   [](Case& x, double s) { return narrow(x.circuit.back, x, s); }});
  }
  if (flow)
    out.push_back({"The pump stands still: fuse, relay, a wire off, or seized.",
                   Quantity::fraction,
                   {1},
                   [of = puzzle.flow_of](Case& x, double) {
                     const auto all = pumps(x, of);
                     for (Part* p : all) p->measured = 1e-6;
                     return !all.empty();
                   }});
  const auto load = [&](std::vector<double> by) {
    out.push_back({"The filters are loaded to {} of where they are due.", Quantity::fraction, std::move(by),
                   [](Case& x, double s) {
                     x.at.filter_load = s;
                     return true;
                   }});
  };
  load({0.3, 0.6, 1.0, 2.0, 4.0});
  out.push_back({"The pump gives {} less than its curve: worn, or of another kind.", Quantity::fraction,
                 parts, [of = puzzle.flow_of](Case& x, double s) {
                   const auto all = pumps(x, of);
                   for (Part* p : all) p->measured *= 1 - s;
                   return !all.empty();
                 }});
  out.push_back({"Its wires take more than they should: {} in contacts, ground or relay.",
                 Quantity::resistance,
                 {0.02, 0.05, 0.1, 0.15, 0.2, 0.3, 0.5},
                 [of = puzzle.flow_of](Case& x, double s) {
                   const auto all = pumps(x, of);
                   for (Part* p : all) p->wiring.extra += s;
                   return !all.empty();
                 }});
  if (flow)
    out.push_back({"Its line is narrowed by {} of its bore: kinked, collapsed, a blank left in.",
                   Quantity::fraction, parts, [of = puzzle.flow_of](Case& x, double s) {
                     for (const LegPlace& place : circuit::legs_of(x.circuit, x.surroundings))
                       if (pump_name(x, place) == of) return narrow(*circuit::leg_at(x.circuit, place), x, s);
                     return false;
                   }});
  return out;
}

/// The readings of the puzzle in a case, by name.
double read(const Puzzle& puzzle, const std::string& what, const std::vector<PressureReading>& pressures,
            const std::vector<FlowReading>& flows) {
  if (puzzle.flow_of.empty()) {
    for (const PressureReading& r : pressures)
      if (r.what == what) return r.value;
  } else {
    for (const FlowReading& r : flows)
      if (r.pump == puzzle.flow_of) {
        if (what == flow_reading) return r.flow;
        if (what == volts_reading) return r.voltage;
        for (const FilterReading& f : r.filters)
          if (f.what == what) return f.loss;
      }
  }
  return NAN;
}

/// Root mean square of measured less computed, over the tolerances.
double misfit(const Case& c, const Puzzle& puzzle) {
  std::vector<PressureReading> pressures;
  std::vector<FlowReading> flows;
  if (puzzle.flow_of.empty())
    pressures = gauge_readings(c, puzzle.idle, puzzle.full);
  else
    flows = flow_readings(c);
  double sum = 0;
  int count = 0;
  for (const auto& [what, value] : puzzle.measured) {
    const double is = read(puzzle, what, pressures, flows);
    if (!std::isfinite(is)) continue;
    const double tolerance = puzzle.flow_of.empty()  ? std::max(0.03 * std::abs(is), 0.1e5)
                             : what == flow_reading  ? 0.1 * std::max(is, 1e-6)
                             : what == volts_reading ? 0.3
                                                     : std::max(0.2 * is, gauges_apart);
    sum += (value - is) / tolerance * ((value - is) / tolerance), ++count;
  }
  return count ? std::sqrt(sum / count) : INFINITY;
}

}  // namespace

std::vector<Explanation> explanations(const Case& c, const Puzzle& puzzle) {
  std::vector<Explanation> out;
  const double as_it_is = misfit(c, puzzle);
  if (!std::isfinite(as_it_is) || as_it_is < 0.6) return out;
  for (const Fault& fault : faults_of(c, puzzle)) {
    Explanation best{{}, INFINITY};
    for (const double s : fault.strengths) {
      Case faulty = c;
      if (!fault.put(faulty, s)) continue;
      const double left = misfit(faulty, puzzle);
      if (left < best.misfit) best = {{fault.text, {{s, fault.quantity}}}, left};
    }
    // What explains nearly nothing of it is no explanation.
    if (best.misfit < 0.7 * as_it_is) {
      if (best.text.text.find("{}") == std::string::npos) best.text.values.clear();
      out.push_back(std::move(best));
    }
  }
  std::stable_sort(out.begin(), out.end(),
                   [](const Explanation& a, const Explanation& b) { return a.misfit < b.misfit; });
  if (out.size() > 5) out.resize(5);
  return out;
}

std::optional<double> extra_resistance(const Case& c, const FlowReading& of, double terminals) {
  const auto at = [&](double extra) {
    Case x = c;
    circuit::leg_at(x.circuit, of.leg)->at(static_cast<size_t>(of.part)).wiring.extra += extra;
    for (const FlowReading& r : flow_readings(x))
      if (r.leg == of.leg && r.part == of.part) return r.voltage - terminals;
    return 0.0;
  };
  if (of.voltage <= 0 || !(terminals > 0)) return std::nullopt;
  const Part& part = circuit::leg_at(c.circuit, of.leg)->at(static_cast<size_t>(of.part));
  const Root root = root_between(at, -part.wiring.extra, 1.0, 1e-4, 40);
  return root.found() ? std::optional(root.value) : std::nullopt;
}

}  // namespace uadze::build
