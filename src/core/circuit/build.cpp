#include "core/circuit/build.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "core/circuit/friction.h"
#include "core/circuit/jet_pump.h"
#include "core/circuit/wiring.h"

namespace uadze::circuit {
namespace {

class Builder {
 public:
  Builder(const Case& c, const BuildOptions& options) : c_(c), options_(options), k_(c.circuit) {}

  Built run() {
    out_.main_tank = tank_ = net().fixed("main tank", 0.0);
    if (c_.surroundings.surge) surge();
    mains();
    feed();
    set_point(out_, c_, options_);
    return std::move(out_);
  }

 private:
  Network& net() { return out_.network; }

  int pickup_node(const std::string& name, size_t index) {
    out_.pickups.push_back({net().fixed(name, 0.0), index});
    return out_.pickups.back().first;
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
  int leg(const LegPlace& place, int from, int to, std::vector<Element> last = {}, bool gas_back = false,
          int other_end = -1) {
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
      auto& all = std::get<Chain>(chain.law);
      all.insert(all.end(), list.begin(), list.end());
      double cracking = 0;
      if (p.kind == PartKind::check_valve) {
        chain.one_way = true;
        cracking = find(c_.catalogue->check_valves, p.type)->cracking;
        chain.cracking += cracking;
      }
      waiting.push_back(out_.pieces.size());
      out_.pieces.push_back({place, static_cast<int>(i), 0, std::move(list), bore, 0.0, cracking});
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
              ? PumpDrive{.yield = p.measured}
              : PumpDrive{.resistance = wiring_resistance(p.wiring, *c_.catalogue, k_.wire_temperature),
                          .modulated = p.speed.control == SpeedControl::modulated,
                          .yield = p.measured};
      const int branch =
          net().add({.name = title, .from = here, .to = after, .law = Pump{&type.curves, drive}});
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
      const LegPlace place{LegKind::lift, static_cast<int>(i)};
      out_.lift_ends.push_back(leg(place, pickup_node(name, index), out_.surge));
      if (i == 0 && k_.transfer.kind == TransferKind::jet && !k_.transfer.by_return) lift_jet();
    }
    int end = tank_;
    if (returns_to(ReturnTo::overflow_tee)) {
      tee_ = net().node("tee of overflow and return");
      end = tee_;
      leg({LegKind::tee, 0}, tee_, tank_);
    }
    out_.overflow = leg({LegKind::overflow, 0}, out_.surge, end, {}, true);
    if (k_.surge_vent > 0) {
      out_.air = net().fixed("air", 0.0);
      out_.vent = net().add({.name = "surge tank's vent",
                             .from = out_.air,
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
        leg({LegKind::suction, static_cast<int>(i)}, pickup_node(k_.suctions[i].pickup, index), source);
      }
      if (k_.suctions.empty() && !c_.surroundings.pickups.empty())
        for (size_t p = 0; p < c_.surroundings.pickups.size(); ++p)
          if (c_.surroundings.pickups[p].feeds == "engine")
            source = pickup_node(c_.surroundings.pickups[p].name, p), p = c_.surroundings.pickups.size();
    }
    for (size_t i = 0; i < k_.mains.size(); ++i)
      out_.main_ends.push_back(leg({LegKind::main, static_cast<int>(i)}, source, out_.merge));
  }

  void feed() {
    out_.entry = net().node("end of the feed line");
    const bool dead_head = k_.regulator.kind == RegulatorKind::dead_head && !k_.regulator.type.empty();
    const int end = dead_head ? net().node("before the regulator") : out_.entry;
    if (two_feeds(k_)) other_entry_ = net().node("end of the second feed line");
    leg({LegKind::feed, 0}, out_.merge, end, {}, false, other_entry_);
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
        out_.sense = k_.back.empty() && !dead_head ? out_.merge : out_.entry;
        if (!k_.regulator.type.empty() && !dead_head) regulator(out_.sense);
        break;
    }
  }

  void rail() {
    const Rail& r = k_.rail;
    const int n = std::max(r.injectors, 1);
    for (int i = 0; i < n; ++i) out_.injectors.push_back(net().node(fmt::format("injector {}", i + 1)));
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
    out_.reducer = net().add({.name = "regulator",
                              .from = before,
                              .to = out_.entry,
                              .law = Reducer{0.0, type.slope, rated(type.open_flow, type.open_drop)}});
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
      out_.back = leg({LegKind::back, 0}, outlet, end, last);
      if (jet) out_.jet = out_.back;
    }
    if (!options_.relief) return;
    out_.relief = net().add(
        {.name = "regulator",
         .from = at,
         .to = outlet,
         .law = Relief{0.0, options_.garage ? 0.0 : type.slope, rated(type.open_flow, type.open_drop)}});
    if (out_.back < 0) out_.back = out_.relief;
  }

  const Case& c_;
  const BuildOptions& options_;
  const Circuit& k_;
  Built out_;
  int tank_ = -1, tee_ = -1, other_entry_ = -1;
};

}  // namespace

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

Built build(const Case& c, const BuildOptions& options) { return Builder(c, options).run(); }

}  // namespace uadze::circuit
