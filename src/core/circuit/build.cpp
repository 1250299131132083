#include "core/circuit/build.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "core/circuit/friction.h"
#include "core/circuit/jet_pump.h"
#include "core/circuit/wiring.h"

namespace uadze::circuit {
namespace {

constexpr double air_density = 1.2;
constexpr double idle_rotation = 1000.0 / 60;  // 1/s, at which a pump on the engine is when base is set

class Builder {
 public:
  Builder(const Case& c, const BuildOptions& options) : c_(c), options_(options), k_(c.circuit) {}

  Built run() {
    out_.liquid = fluid::liquid(c_.fuel, c_.at.temperature);
    out_.ambient = ambient_pressure(c_.at.altitude);
    out_.tank = tank_pressure(c_, out_.liquid);
    tank_ = net().fixed("main tank", out_.tank);
    const double reference = k_.regulator.referenced ? c_.at.manifold : out_.ambient;
    out_.set = reference + k_.regulator.base;
    out_.spring = options_.garage || k_.regulator.type.empty()
                      ? out_.set
                      : reference + (c_.at.spring ? *c_.at.spring : regulator_spring(c_));
    if (c_.surroundings.surge) surge();
    mains();
    feed();
    return std::move(out_);
  }

 private:
  Network& net() { return out_.network; }

  int pickup_node(const std::string& name, size_t index) {
    const auto& depth = c_.at.pickup_depth;
    const double over = index < depth.size() ? std::max(depth[index], 0.0) : 0.0;
    return net().fixed(name, out_.tank + out_.liquid.density * c_.at.force.norm() * over);
  }

  std::vector<Element> elements(const Leg& leg, size_t i, double bore) const {
    const Part& p = leg[i];
    const Catalogue& cat = *c_.catalogue;
    const auto twin = [&](const Resistance& r) { return p.doubled ? doubled(r) : r; };
    switch (p.kind) {
      case PartKind::line: {
        const HoseType* hose = find(cat.hoses, p.type);
        return {Line{p.length, bore, hose ? hose->roughness : 1.5e-6}};
      }
      case PartKind::fitting: {
        double after = p.bore_after;
        for (size_t k = i + 1; after <= 0 && k < leg.size(); ++k) after = circuit::bore_of(leg, k, cat);
        return {loss(p.count * fitting_loss(p.form, bore, after > 0 ? after : bore), bore)};
      }
      case PartKind::filter: {
        const FilterType& f = *find(cat.filters, p.type);
        return {twin(rated(f.flow, p.measured * std::lerp(f.clean, f.loaded, c_.at.filter_load), f.viscous))};
      }
      case PartKind::check_valve: {
        const CheckValveType& v = *find(cat.check_valves, p.type);
        return {rated(v.flow, v.drop)};
      }
      case PartKind::sensor:
      case PartKind::diffuser: {
        const RestrictionType& r = *find(p.kind == PartKind::sensor ? cat.sensors : cat.diffusers, p.type);
        return {twin(rated(r.flow, r.drop))};
      }
      case PartKind::restriction:
        return {orifice(p.discharge, bore)};
      case PartKind::pump:
        break;
    }
    return {};
  }

  /// The leg's branches from one node to another; returns the last one. Pumps split it.
  /// `other_end`: where ways 2 and 3 lead to if the leg ends in them.
  int leg(const LegPlace& place, int from, int to, bool running, std::vector<Element> last = {},
          bool gas_back = false, int other_end = -1) {
    const Leg& parts = *leg_at(k_, place);
    const std::string title = place.title(k_);
    Branch chain{.name = title, .from = from, .to = to, .law = Chain{}};
    int here = from;
    bool any = false;
    std::vector<size_t> waiting;
    const auto close = [&](int end) {
      chain.from = here;
      chain.to = end;
      chain.gas_back = gas_back;
      const int branch = net().add(chain);
      for (size_t w : waiting) out_.pieces[w].branch = branch;
      waiting.clear();
      chain = Branch{.name = title, .law = Chain{}};
      any = false;
      here = end;
      return branch;
    };
    const auto take = [&](size_t i) {
      const Part& p = parts[i];
      const double bore = circuit::bore_of(parts, i, *c_.catalogue);
      auto list = elements(parts, i, bore);
      const double head = p.kind == PartKind::line ? out_.liquid.density * c_.at.force.dot(p.run) : 0.0;
      auto& all = std::get<Chain>(chain.law);
      all.insert(all.end(), list.begin(), list.end());
      chain.head += head;
      double cracking = 0;
      if (p.kind == PartKind::check_valve) {
        chain.one_way = true;
        cracking = find(c_.catalogue->check_valves, p.type)->cracking;
        chain.cracking += cracking;
      }
      waiting.push_back(out_.pieces.size());
      out_.pieces.push_back({place, static_cast<int>(i), 0, std::move(list), bore, head, cracking});
      any = true;
    };
    for (size_t i = 0; i < parts.size(); ++i) {
      const Part& p = parts[i];
      if (p.kind != PartKind::pump && p.way == 0) {
        take(i);
        continue;
      }
      if (p.kind != PartKind::pump) {
        size_t behind = i;
        while (behind < parts.size() && parts[behind].way > 0 && parts[behind].kind != PartKind::pump)
          ++behind;
        if (any || chain.one_way) close(net().node(title + ", where it parts"));
        const bool apart = other_end >= 0 && behind == parts.size();
        const int split = here, join = apart ? to : net().node(title + ", where it meets again");
        int branch = -1;
        for (int way = 1; way <= most_ways; ++way) {
          here = split;
          for (size_t k = i; k < behind; ++k)
            if (parts[k].way == way) take(k);
          if (any) branch = close(apart && way > 1 ? other_end : join);
        }
        if (apart) return branch;
        here = join;
        i = behind - 1;
        continue;
      }
      if (any) close(net().node(title + " at the pump's inlet"));
      const PumpType& type = *find(c_.catalogue->pumps, p.type);
      const bool ends = i + 1 == parts.size() && last.empty() && !(type.built_in_check && p.check_valve);
      const int after = ends ? to : net().node(title + " behind the pump");
      const PumpDrive drive =
          type.curves.engine_driven
              ? PumpDrive{.supply = c_.at.rotation * p.turns, .yield = p.measured}
              : PumpDrive{.supply = c_.at.supply.value_or(k_.supply),
                          .resistance = wiring_resistance(p.wiring, *c_.catalogue, k_.wire_temperature),
                          .share = p.speed.share(c_.at.demand),
                          .modulated = p.speed.control == SpeedControl::modulated,
                          .yield = p.measured};
      const bool to_surge = returns_to(ReturnTo::surge_tank);
      const LegKind drawing = c_.surroundings.surge && !to_surge ? LegKind::lift : LegKind::main;
      const bool dry = place.kind == LegKind::lift
                           ? static_cast<size_t>(place.index) < c_.at.lifts_dry.size() &&
                                 c_.at.lifts_dry[static_cast<size_t>(place.index)]
                           : place.kind == LegKind::main && c_.at.mains_dry;
      const double gas = dry ? 1.0 : place.kind == drawing ? c_.at.gas : 0.0;
      const int branch = net().add(
          {.name = title,
           .from = here,
           .to = after,
           .law = Pump{&type.curves, drive, running, swing_of(place, i, type.curves, drive.supply), gas}});
      out_.pumps.push_back({place, static_cast<int>(i), branch, &type, &p.wiring});
      out_.pieces.push_back({place, static_cast<int>(i), branch, {}, 0.0, 0.0, 0.0});
      here = after;
      chain.one_way = type.built_in_check && p.check_valve;
      if (ends) return branch;
    }
    auto& all = std::get<Chain>(chain.law);
    all.insert(all.end(), last.begin(), last.end());
    return close(to);
  }

  /// Inertance and loss of what the pump draws its fuel through, back to where fuel stands free.
  double swing_of(const LegPlace& place, size_t pump, const PumpCurves& curves, double rotation) const {
    if (curves.peak_flow <= 1) return 0.0;
    double inertance = 0, resistance = 0;
    const auto add = [&](const Leg& leg, size_t end) {
      for (size_t i = 0; i < end; ++i) {
        const double bore = circuit::bore_of(leg, i, *c_.catalogue);
        if (leg[i].kind == PartKind::line) inertance += out_.liquid.density * leg[i].length / area(bore);
        if (leg[i].kind != PartKind::pump)
          resistance += drop(elements(leg, i, bore), c_.at.demand, out_.liquid).slope;
      }
    };
    add(*leg_at(k_, place), pump);
    if (place.kind == LegKind::main && !c_.surroundings.surge && k_.suctions.size() == 1)
      add(k_.suctions.front().parts, k_.suctions.front().parts.size());
    return inlet_swing(curves, rotation, inertance, resistance);
  }

  bool empty(const LegPlace& place) const { return leg_at(k_, place)->empty(); }

  bool returns_to(ReturnTo where) const {
    return c_.surroundings.surge && c_.surroundings.return_to == where;
  }

  void surge() {
    out_.surge = net().node("surge tank");
    for (size_t i = 0; i < k_.lifts.size(); ++i) {
      size_t index = 0;
      std::string name = "pickup of " + k_.lifts[i].pump;
      for (size_t p = 0; p < c_.surroundings.pickups.size(); ++p)
        if (c_.surroundings.pickups[p].feeds == k_.lifts[i].pump)
          index = p, name = c_.surroundings.pickups[p].name;
      const bool dead = i < c_.at.lifts_dead.size() && c_.at.lifts_dead[i];
      const LegPlace place{LegKind::lift, static_cast<int>(i)};
      out_.lift_ends.push_back(leg(place, pickup_node(name, index), out_.surge, !dead));
      if (i == 0 && k_.transfer.kind == TransferKind::jet && !k_.transfer.by_return) lift_jet();
    }
    int end = tank_;
    if (returns_to(ReturnTo::overflow_tee)) {
      tee_ = net().node("tee of overflow and return");
      end = tee_;
      leg({LegKind::tee, 0}, tee_, tank_, true);
    }
    out_.overflow = leg({LegKind::overflow, 0}, out_.surge, end, true, {}, true);
    if (k_.surge_vent > 0) {
      const int air = net().fixed("air", out_.ambient);
      out_.vent = net().add({.name = "surge tank's vent",
                             .from = air,
                             .to = out_.surge,
                             .law = Chain{orifice(0.61, k_.surge_vent)},
                             .one_way = true,
                             .gas = true});
    }
  }

  /// A share of the first lift pump's flow drives the jet: from behind the pump back into the tank.
  void lift_jet() {
    if (out_.pumps.empty()) return;
    const int behind = net().branches[static_cast<size_t>(out_.pumps.front().branch)].to;
    out_.jet = net().add({.name = "jet", .from = behind, .to = tank_, .law = Chain{jet_nozzle()}});
  }

  Resistance jet_nozzle() const {
    const JetPump jet{k_.transfer.nozzle, k_.transfer.throat};
    return loss(1 + jet.nozzle_loss, jet.nozzle);
  }

  void mains() {
    out_.merge = net().node("merge of the main pumps");
    int source = out_.surge;
    if (!c_.surroundings.surge) {
      source = tank_;
      std::vector<int> drawn;
      for (size_t i = 0; i < k_.suctions.size(); ++i) {
        size_t index = 0;
        for (size_t p = 0; p < c_.surroundings.pickups.size(); ++p)
          if (c_.surroundings.pickups[p].name == k_.suctions[i].pickup) index = p;
        if (i == 0) source = net().node("where the main pumps draw");
        leg({LegKind::suction, static_cast<int>(i)}, pickup_node(k_.suctions[i].pickup, index), source, true);
      }
      if (k_.suctions.empty() && !c_.surroundings.pickups.empty())
        for (size_t p = 0; p < c_.surroundings.pickups.size(); ++p)
          if (c_.surroundings.pickups[p].feeds == "engine")
            source = pickup_node(c_.surroundings.pickups[p].name, p), p = c_.surroundings.pickups.size();
    }
    const std::vector<char> on = mains_running(c_);
    for (size_t i = 0; i < k_.mains.size(); ++i)
      out_.main_ends.push_back(leg({LegKind::main, static_cast<int>(i)}, source, out_.merge, on[i] != 0));
  }

  void feed() {
    out_.entry = net().node("end of the feed line");
    const bool dead_head = k_.regulator.kind == RegulatorKind::dead_head && !k_.regulator.type.empty();
    const int end = dead_head ? net().node("before the regulator") : out_.entry;
    if (two_feeds(k_)) other_entry_ = net().node("end of the second feed line");
    leg({LegKind::feed, 0}, out_.merge, end, true, {}, false, other_entry_);
    if (dead_head) reducer(end);
    switch (k_.engine_supply) {
      case EngineSupply::returned:
        rail();
        if (!dead_head) regulator(out_.sense);
        break;
      case EngineSupply::returnless:
        rail();
        if (dead_head) break;
        out_.sense = out_.merge;
        regulator(out_.merge);
        break;
      case EngineSupply::high_pressure:
      case EngineSupply::carburettor:
        net().nodes[static_cast<size_t>(out_.entry)].withdrawal = c_.at.demand;
        out_.sense = k_.back.empty() && !dead_head ? out_.merge : out_.entry;
        if (!k_.regulator.type.empty() && !dead_head) regulator(out_.sense);
        break;
    }
  }

  void rail() {
    const Rail& r = k_.rail;
    const int n = std::max(r.injectors, 1);
    for (int i = 0; i < n; ++i)
      out_.injectors.push_back(net().node(fmt::format("injector {}", i + 1), c_.at.demand / n));
    // Two rails: the second begins at this injector.
    const int second = r.rails == Rails::one ? n : (n + 1) / 2;
    for (int i = 0; i + 1 < n; ++i)
      if (const int of_it = i < second ? second : n - second; i + 1 != second)
        net().add({.name = "rail",
                   .from = injector(i),
                   .to = injector(i + 1),
                   .law = Chain{Line{r.length / std::max(of_it - 1, 1), r.bore, 1e-5}}});
    const double turn = 60 * fitting_friction(r.bore);
    const auto joint = [&](int from, int end) {
      net().add({.name = "rail", .from = from, .to = end, .law = Chain{loss(turn, r.bore)}});
    };
    joint(out_.entry, injector(0));
    if (r.entry == RailEntry::both_ends && n > 1) joint(out_.entry, injector(n - 1));
    if (r.rails == Rails::side_by_side)
      joint(other_entry_ >= 0 ? other_entry_ : out_.entry, injector(second));
    const auto crossover = [&](int from, int to, double part) {
      Chain chain{Line{part * r.crossover_length, r.crossover_bore, 1e-5}};
      chain.push_back(loss(part * 2 * 60 * fitting_friction(r.crossover_bore), r.crossover_bore));
      net().add({.name = "crossover", .from = from, .to = to, .law = std::move(chain)});
    };
    const bool crossed = r.crossover_bore > 0;
    if (r.rails == Rails::in_series) crossover(injector(second - 1), injector(second), 1.0);
    switch (r.entry) {
      case RailEntry::through:
        out_.sense = injector(n - 1);
        break;
      case RailEntry::both_ends:
        out_.sense = injector(n / 2);
        break;
      case RailEntry::dead_end:
        out_.sense = out_.entry;
        break;
    }
    if (r.rails == Rails::side_by_side && crossed) {
      if (r.entry == RailEntry::dead_end) return crossover(injector(second - 1), injector(n - 1), 1.0);
      out_.sense = net().node("middle of the crossover");
      crossover(injector(second - 1), out_.sense, 0.5);
      crossover(injector(n - 1), out_.sense, 0.5);
    }
  }

  int injector(int i) const { return out_.injectors[static_cast<size_t>(i)]; }

  void reducer(int before) {
    const RegulatorType& type = *find(c_.catalogue->regulators, k_.regulator.type);
    const double set = options_.relief ? out_.spring : 1e12;
    out_.reducer = net().add({.name = "regulator",
                              .from = before,
                              .to = out_.entry,
                              .law = Reducer{set, type.slope, rated(type.open_flow, type.open_drop)}});
    out_.sense = out_.entry;
  }

  void regulator(int at) {
    const RegulatorType& type = *find(c_.catalogue->regulators, k_.regulator.type);
    int end = tank_;
    if (returns_to(ReturnTo::surge_tank)) end = out_.surge;
    if (returns_to(ReturnTo::overflow_tee)) end = tee_;
    const bool jet = k_.transfer.kind == TransferKind::jet && k_.transfer.by_return;
    int outlet = end;
    if (!empty({LegKind::back, 0}) || jet) {
      outlet = net().node("behind the regulator");
      std::vector<Element> last;
      if (jet) last.emplace_back(jet_nozzle());
      out_.back = leg({LegKind::back, 0}, outlet, end, true, last);
      if (jet) out_.jet = out_.back;
    }
    if (!options_.relief) return;
    out_.relief = net().add({.name = "regulator",
                             .from = at,
                             .to = outlet,
                             .law = Relief{out_.spring, options_.garage ? 0.0 : type.slope,
                                           rated(type.open_flow, type.open_drop)}});
    if (out_.back < 0) out_.back = out_.relief;
  }

  const Case& c_;
  const BuildOptions& options_;
  const Circuit& k_;
  Built out_;
  int tank_ = -1, tee_ = -1, other_entry_ = -1;
};

}  // namespace

double ambient_pressure(double altitude) {
  return 101325.0 * std::pow(std::max(1 - 2.25577e-5 * altitude, 0.05), 5.25588);
}

double tank_pressure(const Case& c, const fluid::Liquid& liquid) {
  const double ambient = ambient_pressure(c.at.altitude), demand = c.at.demand;
  const double blocked = c.at.vent_blocked_for > 0  ? c.at.vent_blocked_for
                         : c.circuit.tank_vent <= 0 ? shut_vent_time
                                                    : 0.0;
  if (blocked > 0) {
    // Vapour makes itself anew as fuel leaves; the air that is in there only thins.
    const double vapour = std::min(liquid.vapour_pressure, 0.95 * ambient);
    const double gas = std::max(c.surroundings.tank_volume * (1 - c.at.level), 1e-4);
    return vapour + (ambient - vapour) * gas / (gas + demand * blocked);
  }
  const double speed = demand / (0.61 * area(c.circuit.tank_vent));
  return ambient - std::min(air_density / 2 * speed * speed, 0.9 * ambient);
}

bool stage_wants(const Stage& stage, const OperatingPoint& at, bool now) {
  const double value = stage.by == StageBy::throttle   ? at.throttle
                       : stage.by == StageBy::manifold ? at.manifold
                       : stage.by == StageBy::demand   ? at.demand
                                                       : at.rotation;
  return stage.by == StageBy::always || value > (now ? stage.off : stage.on);
}

std::vector<char> mains_running(const Case& c) {
  const auto& mains = c.circuit.mains;
  std::vector<char> on(mains.size(), 0);
  for (size_t i = 0; i < mains.size(); ++i) {
    on[i] = c.at.mains_on && i < c.at.mains_on->size() ? (*c.at.mains_on)[i]
                                                       : stage_wants(mains[i].stage, c.at, false);
    if (i < c.at.mains_dead.size() && c.at.mains_dead[i]) on[i] = 0;
  }
  return on;
}

double rated_flow(const Part& part, const Catalogue& catalogue) {
  const auto of = [&](const auto& list) {
    const auto* type = find(list, part.type);
    return type ? (part.doubled ? 2 : 1) * type->flow : 0.0;
  };
  switch (part.kind) {
    case PartKind::filter:
      return of(catalogue.filters);
    case PartKind::check_valve:
      return of(catalogue.check_valves);
    case PartKind::sensor:
      return of(catalogue.sensors);
    case PartKind::diffuser:
      return of(catalogue.diffusers);
    default:
      return 0.0;
  }
}

double PumpSpeed::share(double demand) const {
  if (control == SpeedControl::none || points.empty()) return 1.0;
  const auto above = std::ranges::find_if(points, [&](const Point& p) { return p.demand > demand; });
  if (above == points.begin()) return above->share;
  const Point& below = *std::prev(above);
  if (control == SpeedControl::stepped || above == points.end()) return below.share;
  return std::lerp(below.share, above->share, (demand - below.demand) / (above->demand - below.demand));
}

double regulator_spring(const Case& given) {
  const Regulator& r = given.circuit.regulator;
  const RegulatorType* type = find(given.catalogue->regulators, r.type);
  // Nothing flows through one that shuts against the standing engine.
  if (!type || type->slope <= 0 || r.kind == RegulatorKind::dead_head) return r.base;
  Case c = given;
  c.at = {};
  c.at.throttle = 0.0;
  c.at.rotation = idle_rotation;
  c.at.mains_on = std::nullopt;
  c.circuit.regulator.referenced = false;
  const Built b = build(c, {.garage = true});
  const Solution s = solve(b.network, b.liquid);
  if (!s.converged || b.relief < 0) return r.base;
  const Branch& relief = b.network.branches[static_cast<size_t>(b.relief)];
  const double flow = s.flow[static_cast<size_t>(b.relief)];
  const bool holds = std::abs(s.pressure[static_cast<size_t>(relief.from)] - b.set) < 500.0;
  return holds && flow > 0 ? std::max(r.base - type->slope * flow, 0.0) : r.base;
}

Built build(const Case& c, const BuildOptions& options) { return Builder(c, options).run(); }

}  // namespace uadze::circuit
