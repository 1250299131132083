#include "core/sizing/pump_size.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

namespace uadze::sizing {
namespace {

using circuit::Case;
using circuit::LegKind;
using circuit::PumpType;

void fit(circuit::Leg& leg, const std::string& type) {
  for (circuit::Part& p : leg)
    if (p.kind == circuit::PartKind::pump) p.type = type, p.name.clear(), p.check_valve = true;
}

Case harder(Case c, const PumpSizeOptions& o) {
  c.at.temperature += o.hot;
  c.circuit.supply = std::max(c.circuit.supply - o.low_supply, 1.0);
  if (c.at.supply) *c.at.supply = std::max(*c.at.supply - o.low_supply, 1.0);
  return c;
}

/// Of pumps of a kind: current at the case's point, power at a third of its demand.
void load(const Case& at_full, double demand, LegKind kind, PumpChoice& out) {
  Case c = at_full;
  c.at.demand = demand;
  for (const auto& p : circuit::run(c).pumps)
    if (p.leg.kind == kind) out.current += p.current;
  c.at.demand = demand / 3;
  for (const auto& p : circuit::run(c).pumps)
    if (p.leg.kind == kind) out.electric += p.power;
}

bool has_pump(const circuit::Leg& leg) {
  return std::any_of(leg.begin(), leg.end(),
                     [](const circuit::Part& p) { return p.kind == circuit::PartKind::pump; });
}

std::string fitted_type(const circuit::Leg& leg) {
  for (const auto& p : leg)
    if (p.kind == circuit::PartKind::pump) return p.type;
  return "";
}

void sort_choices(std::vector<PumpChoice>& list) {
  std::stable_sort(list.begin(), list.end(), [](const PumpChoice& a, const PumpChoice& b) {
    if (a.meets != b.meets) return a.meets;
    if (!a.meets) return a.flow > b.flow;
    return a.current < b.current;
  });
}

}  // namespace

bool offered_for_main(const PumpType& type) {
  return !type.curves.engine_driven && type.role != circuit::PumpRole::lift;
}

bool offered_for_lift(const PumpType& type) {
  return !type.curves.engine_driven && type.role != circuit::PumpRole::main;
}

Case with_main_pumps(Case c, const std::string& type, int count) {
  if (c.circuit.mains.empty()) return c;
  circuit::MainLeg one = c.circuit.mains.front();
  fit(one.parts, type);
  one.stage = {};
  c.circuit.mains.clear();
  for (int k = 0; k < count; ++k) {
    one.name = count > 1 ? fmt::format("main {}", k + 1) : "main";
    c.circuit.mains.push_back(one);
  }
  return c;
}

Case with_lift_pumps(Case c, const std::string& type) {
  for (auto& lift : c.circuit.lifts) fit(lift.parts, type);
  return c;
}

std::vector<PumpChoice> main_pump_choices(const Case& given, double demand, const PumpSizeOptions& options,
                                          Progress* progress) {
  std::vector<PumpChoice> out;
  const Case c = harder(given, options);
  if (c.circuit.mains.empty() || !has_pump(c.circuit.mains.front().parts)) return out;
  const std::string now = fitted_type(c.circuit.mains.front().parts);
  for (const PumpType& type : c.catalogue->pumps) {
    if (!offered_for_main(type)) continue;
    for (int count = 1; count <= options.most; ++count) {
      if (progress) progress->check();
      Case other = with_main_pumps(c, type.name, count);
      PumpChoice choice{.type = type.name, .count = count, .need = demand * (1 + options.margin)};
      other.at.demand = demand;
      choice.flow = circuit::available_flow(other);
      load(other, demand, LegKind::main, choice);
      choice.mass = count * type.mass;
      choice.cost = type.cost;
      choice.meets = choice.flow >= choice.need;
      choice.fitted = type.name == now && count == static_cast<int>(given.circuit.mains.size());
      choice.alcohol = type.alcohol || c.fuel.ethanol + c.fuel.methanol < 0.25;
      out.push_back(choice);
    }
  }
  sort_choices(out);
  return out;
}

std::vector<PumpChoice> lift_pump_choices(const Case& given, double need, const PumpSizeOptions& options,
                                          Progress* progress) {
  std::vector<PumpChoice> out;
  const Case c = harder(given, options);
  if (!c.surroundings.surge || c.circuit.lifts.empty()) return out;
  const std::string now = fitted_type(c.circuit.lifts.front().parts);
  for (const PumpType& type : c.catalogue->pumps) {
    if (!offered_for_lift(type)) continue;
    if (progress) progress->check();
    const Case other = with_lift_pumps(c, type.name);
    PumpChoice choice{.type = type.name,
                      .count = static_cast<int>(c.circuit.lifts.size()),
                      .need = need * (1 + options.margin)};
    choice.flow = circuit::run(other).surge.lift;
    load(other, other.at.demand, LegKind::lift, choice);
    choice.mass = choice.count * type.mass;
    choice.cost = type.cost;
    choice.meets = choice.flow >= choice.need;
    choice.fitted = type.name == now;
    choice.alcohol = type.alcohol || c.fuel.ethanol + c.fuel.methanol < 0.25;
    out.push_back(choice);
  }
  sort_choices(out);
  return out;
}

Staging propose_staging(const Case& given, const PumpChoice& pair, double demand,
                        const PumpSizeOptions& options) {
  Staging out;
  const Case c = harder(given, options);
  Case one = with_main_pumps(c, pair.type, 1);
  one.at.demand = demand;
  out.alone = circuit::available_flow(one) / (1 + options.margin);
  if (pair.count < 2 || demand <= 0) {
    out.text = {"One pump needs no staging.", {}};
    return out;
  }
  out.on = std::clamp(out.alone / demand, 0.0, 1.0);
  out.off = 0.8 * out.on;
  PumpChoice alone;
  load(one, demand, LegKind::main, alone);
  out.saved = pair.electric - alone.electric;
  out.worth_it = out.on > 0.25 && out.on < 1 && out.saved > 0;
  if (out.on >= 1)
    out.text = {"One of the two gives {} and so does alone: the second is a spare.",
                {{out.alone, Quantity::flow}}};
  else
    out.text = {
        "One pump alone holds the pressure up to {} of full demand; the second should come in there, on "
        "demand or throttle, before it is needed, and stop at {}. At a third of the demand that saves {} of "
        "electrical load and as much heat in the fuel.",
        {{out.on, Quantity::fraction}, {out.off, Quantity::fraction}, {out.saved, Quantity::heat_flow}}};
  return out;
}

}  // namespace uadze::sizing
