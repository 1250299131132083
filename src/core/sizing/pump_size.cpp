#include "core/sizing/pump_size.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <map>
#include <optional>

#include "core/base/root.h"
#include "core/circuit/shortfall.h"

namespace uadze::sizing {
namespace {

using circuit::Case;
using circuit::LegKind;
using circuit::PumpType;

void fit(circuit::Leg& leg, const std::string& type, double turns = 1.0) {
  for (circuit::Part& p : leg)
    if (p.kind == circuit::PartKind::pump)
      p.type = type, p.name.clear(), p.check_valve = true, p.speed = {}, p.turns = turns;
}

void control(Case& c, const circuit::PumpSpeed& speed) {
  for (circuit::MainLeg& main : c.circuit.mains)
    for (circuit::Part& p : main.parts)
      if (p.kind == circuit::PartKind::pump) p.speed = speed;
}

circuit::PumpSpeed speed_of(const PumpChoice& choice, double full) {
  if (choice.control == circuit::SpeedControl::stepped)
    return {choice.control, {{0.0, choice.slow}, {slow_until * full, 1.0}}};
  return {choice.control, {{full / 3, choice.slow}, {full, 1.0}}};
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
  for (const auto& p : circuit::run_met(c).state.pumps)
    if (p.leg.kind == kind) out.current += p.current;
  c.at.demand = demand / 3;
  for (const auto& p : circuit::run_met(c).state.pumps)
    if (p.leg.kind == kind) out.electric += p.engine_driven ? p.hydraulic : p.power;
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
    if (a.alcohol != b.alcohol) return a.alcohol;
    if (!a.meets) return a.flow > b.flow;
    if ((a.turns > 0) != (b.turns > 0)) return b.turns > 0;
    return a.current < b.current;
  });
}

bool plenty(const PumpChoice& p, const PumpSizeOptions& o) {
  return p.need > 0 && p.flow > o.plenty * p.need;
}

/// Leaves what a car would be given. Of what gives plenty or is hopeless it leaves the fitted, and as many of
/// the nearest as make three: the smallest that serve, or if none does, those that give most.
void shorten(std::vector<PumpChoice>& sorted, const PumpSizeOptions& o) {
  constexpr size_t few = 3;
  const auto serves = [](const PumpChoice& p) { return p.meets && p.alcohol; };
  std::vector<size_t> small, large;
  std::vector<bool> keep(sorted.size());
  size_t serving = 0;
  for (size_t k = 0; k < sorted.size(); ++k) {
    const PumpChoice& p = sorted[k];
    const bool little = p.flow < o.hopeless * p.need, much = plenty(p, o);
    keep[k] = p.fitted || (!little && !much);
    if (keep[k] && serves(p)) ++serving;
    if (!keep[k] && much && serves(p)) large.push_back(k);
    if (!keep[k] && little && p.flow > 0) small.push_back(k);
  }
  const auto flow = [&](size_t k) { return sorted[k].flow; };
  std::ranges::stable_sort(large, std::less(), flow);
  std::ranges::stable_sort(small, std::greater(), flow);
  for (const size_t k : large)
    if (serving < few) keep[k] = true, ++serving;
  for (size_t n = 0; n < small.size() && serving == 0 && n < few; ++n) keep[small[n]] = true;
  std::vector<PumpChoice> out;
  for (size_t k = 0; k < sorted.size(); ++k)
    if (keep[k]) out.push_back(std::move(sorted[k]));
  sorted = std::move(out);
}

}  // namespace

bool offered_for_main(const PumpType& type) { return type.role != circuit::PumpRole::lift; }

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

std::string PumpChoice::name() const {
  std::string out = fmt::format("{} x {}", count, type);
  if (!second.empty()) {
    // "main pump, 150 l/h class + 190 l/h class": of one kind it is named once.
    const size_t kind = type.find(", ");
    const bool same = kind != std::string::npos && second.compare(0, kind + 2, type, 0, kind + 2) == 0;
    out += " + " + (same ? second.substr(kind + 2) : second) + ", staged";
  }
  if (control == circuit::SpeedControl::modulated)
    out += fmt::format(", pulsed to {:.0f} % at ⅓", slow * 100);
  if (control == circuit::SpeedControl::stepped)
    out += fmt::format(", two speeds, {:.0f} % at ⅓", slow * 100);
  if (turns > 0) out += fmt::format(", at {:.3g}", turns);
  return out;
}

Case with_main_pumps(Case c, const PumpChoice& choice) {
  const double full = c.at.demand;
  c = with_main_pumps(std::move(c), choice.type, choice.count);
  if (choice.turns > 0)
    for (circuit::MainLeg& main : c.circuit.mains) fit(main.parts, choice.type, choice.turns);
  if (!choice.second.empty() && !c.circuit.mains.empty()) {
    circuit::MainLeg other = c.circuit.mains.front();
    fit(other.parts, choice.second);
    other.name = "staged";
    c.circuit.mains.push_back(std::move(other));
  }
  if (choice.slow < 1) control(c, speed_of(choice, full));
  return c;
}

namespace {

/// Main pumps of a fuel system: what is common to all choices.
class MainPumps {
 public:
  MainPumps(const Case& given, double demand, const PumpSizeOptions& options)
      : c_(harder(given, options)), demand_(demand), options_(options) {
    c_.at.demand = demand;
    const auto& mains = given.circuit.mains;
    for (const auto& main : mains) {
      fitted_.push_back(fitted_type(main.parts));
      for (const circuit::Part& p : main.parts)
        if (p.kind == circuit::PartKind::pump) turns_.emplace(p.type, p.turns);
    }
    controlled_ = std::any_of(mains.begin(), mains.end(), [](const circuit::MainLeg& m) {
      return std::any_of(m.parts.begin(), m.parts.end(), [](const circuit::Part& p) {
        return p.speed.control != circuit::SpeedControl::none;
      });
    });
  }

  PumpChoice like(const PumpType& type, int count) const {
    PumpChoice out = begin(type);
    out.count = count;
    out.mass = count * type.mass;
    const Case other = with_main_pumps(c_, out);
    finish(out, other);
    load(other, demand_, LegKind::main, out);
    out.fitted = !controlled_ && fitted_ == std::vector<std::string>(static_cast<size_t>(count), type.name);
    return out;
  }

  /// Nothing if the first alone carries all or not a third, or both do not carry all.
  std::optional<PumpChoice> staged(const PumpType& first, double alone, const PumpType& second) const {
    const bool fitted = !controlled_ && fitted_ == std::vector<std::string>{first.name, second.name};
    PumpChoice out = begin(first);
    if (alone < out.need / 3 || (alone >= out.need && !fitted)) return std::nullopt;
    out.second = second.name;
    out.mass += second.mass;
    out.cost = std::max(first.cost, second.cost);
    out.alcohol = out.alcohol && stands(second);
    const Case both = with_main_pumps(c_, out);
    finish(out, both);
    if (!out.meets) return std::nullopt;
    load(both, demand_, LegKind::main, out);
    PumpChoice little;
    load(with_main_pumps(c_, first.name, 1), demand_, LegKind::main, little);
    out.electric = little.electric;
    out.fitted = fitted;
    return out;
  }

  /// As slow as still carries what is asked where it is slow, with the margin.
  std::optional<PumpChoice> slowed(PumpChoice out, circuit::SpeedControl by) const {
    out.control = by;
    const double most_slow = by == circuit::SpeedControl::stepped ? slow_until * demand_ : demand_ / 3;
    const double need = most_slow * (1 + options_.margin);
    // The supply is the share here: what counts is what reaches the pump.
    const auto spare = [&](double share) {
      out.slow = share;
      Case c = with_main_pumps(c_, out);
      c.at.demand = most_slow;
      control(c, {by, {{0.0, share}}});
      return circuit::available_flow(c) - need;
    };
    constexpr double least = 0.4, most = 0.98;
    if (!out.meets || out.turns > 0 || spare(most) < 0) return std::nullopt;
    const double low = spare(least), high = spare(most);
    const double share = low >= 0 ? least : root_between(spare, least, most, low, high, 1e-3).value;
    out.slow = std::ceil(share * 100) / 100;
    if (out.slow >= 1) return std::nullopt;
    // Base pressure is set with the pump slow: less goes back then, and the spring stands harder.
    finish(out, with_main_pumps(c_, out));
    if (!out.meets) return std::nullopt;
    out.current = out.electric = 0;
    load(with_main_pumps(c_, out), demand_, LegKind::main, out);
    out.fitted = false;
    return out;
  }

  double demand() const { return demand_; }

 private:
  double turns_of(const PumpType& type) const {
    if (!type.curves.engine_driven) return 0.0;
    const auto driven = turns_.find(type.name);
    return driven != turns_.end() ? driven->second : type.turns;
  }
  bool stands(const PumpType& type) const {
    return type.alcohol || c_.fuel.ethanol + c_.fuel.methanol < 0.25;
  }
  PumpChoice begin(const PumpType& type) const {
    return {.type = type.name,
            .turns = turns_of(type),
            .need = demand_ * (1 + options_.margin),
            .mass = type.mass,
            .cost = type.cost,
            .alcohol = stands(type)};
  }
  void finish(PumpChoice& out, const Case& other) const {
    out.flow = circuit::available_flow(other);
    out.meets = out.flow >= out.need;
  }

  Case c_;
  double demand_;
  PumpSizeOptions options_;
  std::vector<std::string> fitted_;
  std::map<std::string, double> turns_;  // of what is fitted
  bool controlled_ = false;
};

void keep_best(std::vector<PumpChoice>& list, size_t most) {
  std::stable_sort(list.begin(), list.end(),
                   [](const PumpChoice& a, const PumpChoice& b) { return a.electric < b.electric; });
  // What is fitted stays in the list, wherever it stands.
  std::vector<PumpChoice> out;
  for (PumpChoice& p : list)
    if (out.size() < most || p.fitted) out.push_back(std::move(p));
  list = std::move(out);
}

}  // namespace

std::vector<PumpChoice> main_pump_choices(const Case& given, double demand, const PumpSizeOptions& options,
                                          Progress* progress) {
  std::vector<PumpChoice> out, staged, slowed;
  if (given.circuit.mains.empty() || !has_pump(given.circuit.mains.front().parts)) return out;
  const MainPumps pumps(given, demand, options);
  std::vector<std::pair<const PumpType*, double>> alone;
  for (const PumpType& type : given.catalogue->pumps) {
    if (!offered_for_main(type) || (type.curves.engine_driven && !(given.at.rotation > 0))) continue;
    // An engine has one place to drive a pump from.
    const int most = type.curves.engine_driven ? 1 : static_cast<int>(circuit::most_mains);
    for (int count = 1; count <= std::min(options.most, most); ++count) {
      if (progress) progress->check();
      out.push_back(pumps.like(type, count));
      if (type.curves.engine_driven) continue;
      if (count == 1) alone.emplace_back(&type, out.back().flow);
      if (count > 2 || options.mixed == 0 || plenty(out.back(), options)) continue;
      for (const auto by : {circuit::SpeedControl::modulated, circuit::SpeedControl::stepped}) {
        const PumpChoice free = out.back();
        if (auto choice = pumps.slowed(free, by)) slowed.push_back(std::move(*choice));
      }
    }
  }
  if (options.mixed > 0)
    for (const auto& [first, flow] : alone)
      for (const auto& [second, more] : alone) {
        if (progress) progress->check();
        if (first == second || more < flow) continue;
        if (auto choice = pumps.staged(*first, flow, *second)) staged.push_back(std::move(*choice));
      }
  keep_best(staged, options.mixed);
  out.insert(out.end(), staged.begin(), staged.end());
  // Of each way by itself: a resistor never beats pulses, and is what many cars have.
  const auto two_speeds = std::stable_partition(slowed.begin(), slowed.end(), [](const PumpChoice& p) {
    return p.control == circuit::SpeedControl::modulated;
  });
  std::vector<PumpChoice> stepped(two_speeds, slowed.end());
  slowed.erase(two_speeds, slowed.end());
  for (auto* list : {&slowed, &stepped}) {
    keep_best(*list, options.mixed);
    out.insert(out.end(), list->begin(), list->end());
  }
  sort_choices(out);
  shorten(out, options);
  return out;
}

std::string left_out(const PumpSizeOptions& options) {
  return fmt::format("what gives over {:g} times the need, or under {:.0f} % of it, is left out",
                     options.plenty, options.hopeless * 100);
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
    // What a shut check valve lets back is no flow.
    choice.flow = std::max(circuit::run(other).surge.lift, 0.0);
    load(other, other.at.demand, LegKind::lift, choice);
    choice.mass = choice.count * type.mass;
    choice.cost = type.cost;
    choice.meets = choice.flow >= choice.need;
    choice.fitted = type.name == now;
    choice.alcohol = type.alcohol || c.fuel.ethanol + c.fuel.methanol < 0.25;
    out.push_back(choice);
  }
  sort_choices(out);
  shorten(out, options);
  return out;
}

const PumpChoice* pair_to_stage(const std::vector<PumpChoice>& choices) {
  const auto pair = [](const PumpChoice& p) {
    return (p.count >= 2 || !p.second.empty()) && p.slow >= 1 && p.meets;
  };
  for (const PumpChoice& p : choices)
    if (p.fitted && pair(p)) return &p;
  const auto does_alone = [&](const std::string& type) {
    return std::ranges::any_of(choices, [&](const PumpChoice& p) {
      return p.type == type && p.count == 1 && p.second.empty() && p.slow >= 1 && p.meets;
    });
  };
  for (const PumpChoice& p : choices)
    if (pair(p) && p.alcohol && !does_alone(p.type)) return &p;
  return nullptr;
}

Staging propose_staging(const Case& given, const PumpChoice& pair, double demand,
                        const PumpSizeOptions& options) {
  Staging out;
  const Case c = harder(given, options);
  Case one = with_main_pumps(c, pair.type, 1);
  one.at.demand = demand;
  out.alone = circuit::available_flow(one) / (1 + options.margin);
  const bool one_pump = pair.count < 2 && pair.second.empty();
  if (one_pump || demand <= 0) {
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
    out.text = {pair.name() +
                    ": the first alone gives {} with the margin taken off, which is enough: what stands "
                    "beside it is a spare.",
                {{out.alone, Quantity::flow}}};
  else
    out.text = {
        pair.name() +
            ": the first alone holds the pressure up to {} of full demand; what stands beside it should "
            "come in there, on demand or throttle, before it is needed, and stop at {}. At a third of the "
            "demand that saves {} of electrical load and as much heat in the fuel.",
        {{out.on, Quantity::fraction}, {out.off, Quantity::fraction}, {out.saved, Quantity::heat_flow}}};
  return out;
}

}  // namespace uadze::sizing
