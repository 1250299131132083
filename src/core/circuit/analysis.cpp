#include "core/circuit/analysis.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <map>
#include <utility>

#include "core/base/root.h"
#include "core/circuit/build.h"
#include "core/circuit/load_trace.h"
#include "core/circuit/shortfall.h"

namespace uadze::circuit {
namespace {

bool on_main_path(LegKind kind) {
  return kind == LegKind::main || kind == LegKind::feed || kind == LegKind::suction;
}

std::vector<PartCost> part_costs(const Case& c, double available) {
  std::vector<PartCost> out;
  Case other = c;
  other.at.mains_on = mains_running(c);
  const State now = run(c);
  for (const PartState& p : now.parts) {
    if (!on_main_path(p.leg.kind)) continue;
    Leg& leg = *leg_at(other.circuit, p.leg);
    const Leg before = leg;
    const auto i = static_cast<size_t>(p.part);
    PartCost cost{.leg = p.leg, .part = p.part, .label = p.label};
    if (leg[i].kind == PartKind::pump) {
      if (wiring_resistance(leg[i].wiring, *c.catalogue, c.circuit.wire_temperature) <= 0) continue;
      leg[i].wiring = {};
      cost.wiring = true;
      cost.label = "wires of " + p.leg.title(c.circuit);
    } else {
      // A part of no length and great bore costs nothing, and its neighbours keep their bore.
      if (leg[i].kind == PartKind::line) {
        leg[i].length = 1e-6;
        leg[i].run = Vec3::Zero();
      } else {
        leg.erase(leg.begin() + p.part);
      }
    }
    cost.flow = available_flow(other) - available;
    leg = before;
    if (cost.flow > 1e-9) out.push_back(std::move(cost));
  }
  std::stable_sort(out.begin(), out.end(),
                   [](const PartCost& a, const PartCost& b) { return a.flow > b.flow; });
  return out;
}

double injector_limit(const Case& c) {
  const InjectorType& type = *find(c.catalogue->injectors, c.circuit.rail.injector);
  const double ambient = ambient_pressure(c.at.altitude);
  const double set =
      c.circuit.regulator.base + (c.circuit.regulator.referenced ? 0.0 : ambient - c.at.manifold);
  return c.circuit.rail.duty_limit * c.circuit.rail.injectors * type.flow *
         std::sqrt(std::max(set, 0.0) / type.difference);
}

/// ", without main 2", of the main pumps that do not run at this point, as what the others give is no limit
/// once they do; nothing: all run.
std::string without(const Case& c) {
  const std::vector<char> on = mains_running(c);
  std::string out;
  for (size_t i = 0; i < on.size(); ++i)
    if (!on[i])
      out += (out.empty() ? ", without " : " and ") +
             LegPlace{LegKind::main, static_cast<int>(i)}.title(c.circuit);
  return out;
}

/// The largest demand at which the surge tank does not empty.
double lift_limit(const Case& given, double most) {
  Runner runner(given);
  runner.at().mains_on = mains_running(given);
  State last;
  bool any = false;
  const auto drains = [&](double demand) {
    runner.at().demand = demand;
    last = runner.run(any ? &last : nullptr, Tell::figures);
    any = true;
    return last.surge.draining > 1e-9;
  };
  if (drains(0.0)) return 0.0;
  if (!drains(most)) return most;
  return turn_between(drains, 0.0, most, most * 0x1p-24).no;
}

}  // namespace

Capacity capacity(const Case& c, bool costs) {
  Capacity out;
  out.available = available_flow(c);
  if (costs) out.costs = part_costs(c, out.available);
  const std::pair<double, Quantity> shown{out.available, Quantity::flow};
  std::string dearest;
  if (!out.costs.empty()) dearest = " What costs most of it: " + out.costs.front().label + ".";
  switch (c.circuit.engine_supply) {
    case EngineSupply::returned:
    case EngineSupply::returnless:
      out.limits.push_back(
          {LimitKind::supply,
           out.available,
           {"Pumps and lines give {} at the set pressure" + without(c) + "." + dearest, {shown}}});
      out.limits.push_back(
          {LimitKind::injectors,
           injector_limit(c),
           {"The injectors pass {} at {} duty.",
            {{injector_limit(c), Quantity::flow}, {c.circuit.rail.duty_limit, Quantity::fraction}}}});
      break;
    case EngineSupply::high_pressure:
      out.limits.push_back({LimitKind::supply,
                            out.available,
                            {"The high-pressure pump's inlet pressure holds up to {}." + dearest, {shown}}});
      break;
    case EngineSupply::carburettor:
      out.limits.push_back(
          {LimitKind::supply, out.available, {"Pump and needle seat pass {}." + dearest, {shown}}});
      break;
  }
  if (c.surroundings.surge) {
    const double lift = lift_limit(c, std::max(out.available, 1e-6));
    constexpr double nothing = 1e-7;  // m3/s, a third of a litre an hour
    if (lift < out.available)
      out.limits.push_back(
          {LimitKind::lift,
           lift,
           {lift > nothing ? "The lift pumps keep the surge tank full up to {}; above it lives on its volume."
            : c.surroundings.return_to == ReturnTo::surge_tank
                ? "The lift pumps bring nothing: the surge tank lives on its volume at any demand."
                : "The lift pumps bring less than the main pumps circulate: the surge tank empties even "
                  "without demand.",
            lift > nothing ? std::vector<std::pair<double, Quantity>>{{lift, Quantity::flow}}
                           : std::vector<std::pair<double, Quantity>>{}}});
  }
  std::stable_sort(out.limits.begin(), out.limits.end(),
                   [](const Limit& a, const Limit& b) { return a.demand < b.demand; });
  return out;
}

std::vector<SweepPoint> sweep(const Case& given, const std::vector<double>& powers,
                              const std::vector<SweepLoad>& loads) {
  std::vector<SweepPoint> out;
  out.reserve(loads.size());
  Runner runner(given);
  OperatingPoint& at = runner.at();
  State last;
  // What can be given depends on the stage and the manifold, not on demand.
  std::map<std::pair<std::vector<char>, int>, double> available;
  for (size_t i = 0; i < loads.size(); ++i) {
    at.demand = loads[i].demand;
    at.manifold = loads[i].manifold.value_or(given.at.manifold);
    at.throttle = loads[i].throttle.value_or(given.at.throttle);
    // Where the demand can not be met, what the engine then gets.
    last = run_met(runner, i > 0 ? &last : nullptr, Tell::figures).state;
    const std::vector<char> on = mains_running(runner.c());
    const auto [known, fresh] = available.try_emplace({on, static_cast<int>(at.manifold / 2e3)}, 0.0);
    if (fresh) known->second = runner.available();
    const double gauge = last.regulator.mode == RegulatorMode::none ? last.rail : last.regulator.pressure;
    out.push_back({i < powers.size() ? powers[i] : 0.0, loads[i].demand, known->second, last.rail_difference,
                   gauge - last.ambient, last.duty, last.surge.lift, last.surge.draining,
                   last.regulator.mode});
  }
  return out;
}

std::vector<BudgetItem> budget(const Case& c, const State& s) {
  std::vector<BudgetItem> out;
  if (!s.solution.converged) return out;
  // A slow pump beside a strong one may run against its shut check valve: the way is that of most flow.
  const PumpState* first = nullptr;
  for (const PumpState& p : s.pumps)
    if (p.leg.kind == LegKind::main && p.on && (!first || p.flow > first->flow + 1e-9)) first = &p;
  if (!first) return out;
  const int main = first->leg.index;
  std::vector<LegPlace> path;
  if (!c.surroundings.surge && !c.circuit.suctions.empty()) path.push_back({LegKind::suction, 0});
  path.push_back({LegKind::main, main});
  path.push_back({LegKind::feed, 0});
  double after = s.tank;
  // Of ways side by side the one that stands first: all lose as much.
  int way = 0;
  for (const LegPlace& leg : path)
    for (const PartState& p : s.parts) {
      if (!(p.leg == leg)) continue;
      const int own = leg_at(c.circuit, leg)->at(static_cast<size_t>(p.part)).way;
      if (own == 0 || way == 0) way = own;
      if (own != way) continue;
      if (out.empty())
        out.push_back({leg, -1, c.surroundings.surge ? "surge tank" : "pickup", 0.0, 0.0, p.inlet});
      out.push_back({leg, p.part, p.label, -p.loss, p.outlet - p.inlet + p.loss, p.outlet});
      after = p.outlet;
    }
  if (c.circuit.regulator.kind == RegulatorKind::dead_head && !c.circuit.regulator.type.empty()) {
    out.push_back(
        {{LegKind::feed, 0}, -1, "regulator", s.regulator.pressure - after, 0.0, s.regulator.pressure});
    after = s.regulator.pressure;
  }
  if (s.leanest >= 0) {
    const auto& i = s.injectors[static_cast<size_t>(s.leanest)];
    const LegPlace rail{LegKind::rail, 0};
    out.push_back(
        {rail, -1, fmt::format("rail to injector {}", s.leanest + 1), i.pressure - after, 0.0, i.pressure});
    out.push_back({rail, -1, "injector, to manifold", -i.difference, 0.0, s.manifold});
  }
  return out;
}

std::vector<GaugeRow> gauge_card(const Case& given, double idle, double full) {
  std::vector<GaugeRow> out;
  const double ambient = ambient_pressure(given.at.altitude);
  Circuit k = given.circuit;
  k.idle_manifold = manifold_at(given.circuit, 0.0, given.at.altitude);
  k.full_manifold = manifold_at(given.circuit, 1.0, given.at.altitude);
  const double spring = regulator_spring(given);
  const auto row = [&](const char* what, double manifold, double demand, double throttle, bool open) {
    Case c = given;
    c.at.spring = spring;
    c.at.manifold = manifold;
    c.at.demand = demand;
    c.at.throttle = throttle;
    if (open) c.circuit.regulator.referenced = false;
    const Met met = run_met(c);
    const State& s = met.state;
    const bool follows = c.circuit.regulator.referenced;
    std::optional<double> shut;
    if (s.regulator.mode == RegulatorMode::none) shut = s.rail - ambient;
    if (s.regulator.mode == RegulatorMode::regulating || s.regulator.mode == RegulatorMode::overwhelmed)
      shut = s.regulator.set - ambient;
    out.push_back({what, manifold, demand, k.regulator.base + (follows ? manifold - ambient : 0.0),
                   (s.regulator.mode == RegulatorMode::none ? s.rail : s.regulator.pressure) - ambient, shut,
                   std::max(s.rail_difference, 0.0), s.regulator.mode, !met.shortfall});
  };
  row("Pump on, engine off, reference open", ambient, 0.0, 0.0, true);
  row("Idle", k.idle_manifold, idle, 0.0, false);
  if (k.regulator.referenced) row("Idle, reference hose off", k.idle_manifold, idle, 0.0, true);
  const bool boosted = k.full_manifold > 1.05 * ambient;
  row("Full load, no boost", std::min(k.full_manifold, ambient),
      full * std::min(1.0, ambient / k.full_manifold), 1.0, false);
  if (boosted) row("Full load, boosted", k.full_manifold, full, 1.0, false);
  return out;
}

LineLimits line_limits(LegKind kind) {
  switch (kind) {
    case LegKind::suction:
      return {1.2, 3e3};
    case LegKind::lift:
      return {2.0, 10e3};
    case LegKind::overflow:
    case LegKind::tee:
      return {2.0, 5e3};
    case LegKind::back:
      return {3.0, 15e3};
    default:
      return {4.0, 25e3};
  }
}

std::vector<LineChoice> line_choices(const Case& c, const State& s, bool gains) {
  std::vector<LineChoice> out;
  const double available = gains ? available_flow(c) : 0.0;
  // What spills is most where least is burnt: the engine off, all that is lifted comes over.
  Case off = c;
  off.at.demand = 0;
  const State idle = c.surroundings.surge ? run(off) : s;
  for (const LegPlace& place : legs_of(c.circuit, c.surroundings)) {
    const Leg* leg = leg_at(c.circuit, place);
    if (!leg) continue;
    const auto line = std::find_if(leg->begin(), leg->end(), [](const Part& p) {
      return p.kind == PartKind::line && !p.type.empty() && p.bore <= 0;
    });
    if (line == leg->end()) continue;
    const HoseType* hose = find(c.catalogue->hoses, line->type);
    LineChoice choice{.leg = place, .hose = line->type, .limits = line_limits(place.kind)};
    const bool spills = place.kind == LegKind::overflow || place.kind == LegKind::tee;
    for (const PartState& p : spills ? idle.parts : s.parts)
      if (p.leg == place) choice.flow = std::max(choice.flow, std::abs(p.flow));
    for (const auto& [dash, bore] : hose->bore) {
      LineSize size{.dash = dash, .bore = bore, .velocity = velocity(choice.flow, bore)};
      for (const Part& p : *leg) {
        if (p.kind == PartKind::line && p.type == line->type && p.bore <= 0)
          size.loss += drop(Element{Line{p.length, bore, hose->roughness}}, choice.flow, s.liquid).value;
        if (p.kind == PartKind::fitting && p.bore <= 0 && p.form != FittingForm::reducer)
          size.loss +=
              drop(Element{loss(p.count * fitting_loss(p.form, bore, bore), bore)}, choice.flow, s.liquid)
                  .value;
      }
      size.meets = size.velocity <= choice.limits.velocity && size.loss <= choice.limits.loss;
      size.fitted = dash == line->dash;
      if (size.meets && choice.advised == 0) choice.advised = dash;
      choice.sizes.push_back(size);
    }
    for (size_t i = 0; i + 1 < choice.sizes.size(); ++i)
      if (choice.sizes[i].dash == choice.advised)
        choice.bought = choice.sizes[i].loss - choice.sizes[i + 1].loss;
    if (gains && on_main_path(place.kind)) {
      const auto larger = hose->bore.upper_bound(line->dash);
      if (larger != hose->bore.end()) {
        Case bigger = c;
        for (Part& p : *leg_at(bigger.circuit, place))
          if (p.dash == line->dash) p.dash = larger->first;
        choice.larger_gain = available_flow(bigger) - available;
      }
    }
    out.push_back(std::move(choice));
  }
  return out;
}

std::vector<Derivation> workings(const Case& c, const State& s) {
  std::vector<Derivation> out;
  if (!s.solution.converged) return out;
  Derivation rail{
      .name = s.injectors.empty() ? "Pressure before the engine's own pump or needle, over air"
                                  : "Pressure across the leanest injector",
      .value = s.rail_difference,
      .quantity = Quantity::pressure,
      .formula = s.injectors.empty() ? "dp = p_end - p_air" : "dp = p_source + sum of changes - p_manifold",
      .inputs = {},
      .source = "Darcy-Weisbach, Colebrook 1939, Crane Technical Paper 410; network by Newton's method",
      .note = fmt::format("Solved {} in {} steps; mass balance off by {:.0e} of the demand.",
                          name_of(s.solution.way), s.solution.iterations,
                          s.solution.balance / std::max(c.at.demand, 1e-3 / 3600))};
  for (const BudgetItem& item : budget(c, s)) {
    if (item.part < 0 && rail.inputs.empty())
      rail.inputs.push_back({"p", item.label + ", absolute", item.after, Quantity::pressure, "network"});
    else if (std::abs(item.change) + std::abs(item.head) > 1.0)
      rail.inputs.push_back({"dp", item.label, item.change + item.head, Quantity::pressure, "network"});
  }
  out.push_back(std::move(rail));
  if (!s.injectors.empty()) {
    const InjectorType& type = *find(c.catalogue->injectors, c.circuit.rail.injector);
    out.push_back(
        {.name = "Injector duty",
         .value = s.duty,
         .quantity = Quantity::fraction,
         .formula = "d = Q / (n q_0 sqrt(dp / dp_0))",
         .inputs = {{"Q", "engine's demand", c.at.demand, Quantity::flow, "operating point"},
                    {"n", "injectors", static_cast<double>(s.injectors.size()), Quantity::count, "entered"},
                    {"q_0", "flow held open", type.flow, Quantity::flow, "catalogue"},
                    {"dp_0", "at", type.difference, Quantity::pressure, "catalogue"},
                    {"dp", "across the leanest", s.rail_difference, Quantity::pressure, "network"}},
         .source = "orifice flow, q ~ sqrt(dp)"});
  }
  for (size_t i = 0; i < s.pumps.size(); ++i) {
    const PumpState& p = s.pumps[i];
    if (!p.on || p.engine_driven) continue;
    out.push_back({.name = "Voltage at " + p.name,
                   .value = p.voltage,
                   .quantity = Quantity::voltage,
                   .formula = "V = V_s - R I(dp, V)",
                   .inputs = {{"V_s", "supply", p.supply, Quantity::voltage, "operating point"},
                              {"R", "feed, ground, contacts", s.wires[i].resistance, Quantity::resistance,
                               "copper 1.724e-8 ohm m at 20 °C, +0.393 %/K (IEC 60028)"},
                              {"I", "current", p.current, Quantity::current, "pump's curve"},
                              {"dp", "rise", p.rise, Quantity::pressure, "network"}},
                   .source = "fixed point of voltage and current",
                   .note = ""});
  }
  return out;
}

CurvePair curves_of(const Case& c, const State& s, size_t pump) {
  CurvePair out;
  const PumpState& p = s.pumps[pump];
  const Part& part = leg_at(c.circuit, p.leg)->at(static_cast<size_t>(p.part));
  const PumpType& type = *find(c.catalogue->pumps, part.type);
  const PumpDrive drive{
      .supply = p.supply,
      .resistance =
          p.engine_driven ? 0.0 : wiring_resistance(part.wiring, *c.catalogue, c.circuit.wire_temperature),
      .yield = part.measured};
  double top = p.rise;
  for (const auto& curve : type.curves.curves) top = std::max(top, curve.points.back().pressure);
  // The circuit's side: all that is not pump in this leg, by the square of the flow about the present
  // point where it flows, plus the pressure it works against.
  double friction = 0;
  for (const PartState& x : s.parts)
    if (x.leg == p.leg && x.part != p.part) friction += x.loss;
  for (int k = 0; k <= 60; ++k) {
    const double rise = top * k / 60;
    const double flow = p.on ? wired(type.curves, rise, drive).flow : 0.0;
    if (flow < 0) break;
    out.rise.push_back(rise);
    out.flow.push_back(flow);
    const double ratio = p.flow > 1e-9 ? flow / p.flow : 0.0;
    out.system.push_back(p.rise - friction + friction * ratio * std::abs(ratio));
  }
  return out;
}

}  // namespace uadze::circuit
