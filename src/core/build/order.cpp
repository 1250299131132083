#include "core/build/order.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <stdexcept>

#include "core/circuit/wiring.h"

namespace uadze::build {
namespace {

using circuit::FittingForm;
using circuit::LegKind;
using circuit::LegPlace;
using circuit::Part;
using circuit::PartKind;
using circuit::Seal;

std::string size_of(int dash) { return dash > 0 ? fmt::format("-{}", dash) : std::string(); }

/// An order list knows one tee, whichever way fuel takes through it.
const char* ordered_as(FittingForm form) {
  return form == FittingForm::tee_through || form == FittingForm::tee_branch ? "tee" : words_of(form);
}

class Plan {
 public:
  Plan(const circuit::Case& c, const Scheme& scheme)
      : c_(c),
        cuts_(cutting_list(c)),
        loose_(loose_fittings(c)),
        joints_(joints(c)),
        wires_(wire_list(c, scheme)),
        solder_(scheme.joint == WireJoint::solder) {}

  std::vector<Step> run() {
    const bool surge = c_.surroundings.surge, inside = surge && c_.circuit.surge_inside;
    const int safe = make_safe();
    std::vector<int> in_tank{safe}, outside{safe};
    std::vector<int> tees;
    for (const LegPlace& place : circuit::legs_of(c_.circuit, c_.surroundings)) {
      if (place.kind == LegKind::rail) continue;
      const circuit::Leg* leg = circuit::leg_at(c_.circuit, place);
      if (!leg || leg->empty()) continue;
      const bool in = std::any_of(leg->begin(), leg->end(), [&](const Part& p) {
        return p.kind != PartKind::fitting && inside_tank(c_, place, p);
      });
      (in ? in_tank : outside).push_back(leg_step(place, *leg, in, safe));
    }
    const int closed = close(in_tank, inside);
    const int engine = engine_side(outside.size() > 1 ? outside : std::vector<int>{safe});
    std::vector<int> wired;
    std::string last;
    for (const WireRun& run : wires_)
      if (run.pump != last) {
        last = run.pump;
        wired.push_back(wire_step(run.pump, closed));
      }
    std::vector<int> all = outside;
    all.push_back(closed), all.push_back(engine);
    prove(all, wired);
    return std::move(steps_);
  }

 private:
  int add(Step step) {
    std::sort(step.after.begin(), step.after.end());
    step.after.erase(std::unique(step.after.begin(), step.after.end()), step.after.end());
    steps_.push_back(std::move(step));
    return static_cast<int>(steps_.size()) - 1;
  }

  int make_safe() {
    std::string relieve = "Relieve the pressure: ";
    switch (c_.circuit.engine_supply) {
      case circuit::EngineSupply::returned:
        relieve +=
            "pumps off, open the feed at the rail into a rag and a closed can; the regulator holds no "
            "pressure behind a check valve by itself.";
        break;
      case circuit::EngineSupply::returnless:
        relieve +=
            "pull the pump's fuse and let the engine run dry; then open the line at the rail into a rag.";
        break;
      case circuit::EngineSupply::high_pressure:
        relieve += "the high side by its maker's way only, with the engine cold; the low side into a rag.";
        break;
      case circuit::EngineSupply::carburettor:
        relieve += "pumps off, drain the bowls, open the feed into a rag.";
        break;
    }
    Step step{
        .title = "Make the place safe",
        .how = {"Pump the tank down, and store what comes out in closed, marked cans.", relieve,
                "Isolate the battery."},
        .cautions = {"Ventilate: vapour is heavier than air and creeps along the floor.",
                     "No sparks, no flame, no hot exhaust, no mains tools in reach of vapour.",
                     "Battery isolated before anything is opened.",
                     "Pressure relieved before anything is opened.",
                     "Fuel as low as it goes; drained fuel in closed, marked cans.",
                     "Static earthed: tank, can and funnel to one point.",
                     "An extinguisher of the right kind, and somebody at it.",
                     "Goggles and gloves: fuel in the eyes and on the skin hurts.",
                     "Welding or cutting near a tank that held fuel: only by those who are licensed for it.",
                     "Local codes, the series' regulations and licensed practice come before this list."},
        .minutes = 30};
    if (c_.fuel.methanol > 0)
      step.cautions.push_back(
          "Methanol: toxic through the skin, its flame is hardly seen. Face shield, water.");
    return add(std::move(step));
  }

  void need(Step& step, std::string what, std::string size, double count, Spare spare = Spare::none,
            bool metres = false, const circuit::Ratings* r = nullptr) {
    if (count <= 0) return;
    for (Need& n : step.needs)
      if (n.what == what && n.size == size) {
        n.count += count;
        return;
      }
    step.needs.push_back({std::move(what), std::move(size), count, metres, spare,
                          r ? r->supplier : std::string(), r ? r->marking : std::string()});
  }

  void needs_of_end(Step& step, const HoseCut& cut, const HoseEnd& end) {
    switch (end.kind) {
      case EndKind::barb:
        need(step, "hose clamp", size_of(cut.dash), 1, Spare::twice);
        break;
      case EndKind::tube_nut:
        need(step, "tube nut", size_of(cut.dash), 1);
        need(step, "tube sleeve", size_of(cut.dash), 1, Spare::one);
        break;
      case EndKind::flare:
        need(step, fmt::format("hose end, {}", ordered_as(end.form)), size_of(cut.dash), 1);
        break;
    }
  }

  void needs_of_joint(Step& step, const Joint& joint) {
    switch (joint.seal) {
      case Seal::o_ring_boss:
        need(step, "adapter, O-ring boss to flare", size_of(joint.dash), 1);
        need(step, "O-ring", size_of(joint.dash), 1, Spare::one);
        break;
      case Seal::crush_washer:
        need(step, "banjo and bolt", size_of(joint.dash), 1);
        need(step, "crush washer", size_of(joint.dash), 2, Spare::one);
        break;
      case Seal::olive:
        need(step, "olive", size_of(joint.dash), 1, Spare::one);
        break;
      case Seal::quick_connector:
        need(step, "quick connector", size_of(joint.dash), 1);
        need(step, "quick connector's O-ring", size_of(joint.dash), 1, Spare::one);
        break;
      case Seal::flare:
      case Seal::barb:
      case Seal::unknown:
        break;  // metal on metal; a barb's clamp is its hose's
    }
  }

  int leg_step(const LegPlace& place, const circuit::Leg& leg, bool in, int safe) {
    const std::string name = place.title(c_.circuit);
    Step step{.title = fmt::format("{}: parts and lines", name), .after = {safe}, .opens_fuel = true};
    for (size_t i = 0; i < leg.size(); ++i) {
      const Part& p = leg[i];
      if (p.kind == PartKind::line || p.kind == PartKind::fitting) continue;
      const int each = p.doubled ? 2 : 1;
      need(step, called(p), "", each, Spare::none, false, ratings_of(p, *c_.catalogue));
      if (p.kind == PartKind::check_valve || p.kind == PartKind::filter || p.kind == PartKind::sensor)
        step.how.push_back(fmt::format("{}: its arrow along the flow.", called(p)));
      if (p.kind == PartKind::pump)
        step.how.push_back(fmt::format("{}: inlet and outlet blanked until its lines are on.", called(p)));
      step.minutes += 15;
    }
    for (const HoseCut& cut : cuts_) {
      if (!(cut.leg == place)) continue;
      const Part& line = leg[static_cast<size_t>(cut.part)];
      need(step, cut.type.empty() ? "line" : cut.type, size_of(cut.dash), cut.cut, Spare::none, true,
           ratings_of(line, *c_.catalogue));
      needs_of_end(step, cut, cut.near_end), needs_of_end(step, cut, cut.far_end);
      need(step, "P-clip", size_of(cut.dash), cut.clips, Spare::twice);
      if (cut.sleeved) need(step, "heat sleeve", size_of(cut.dash), cut.cut, Spare::none, true);
      Phrase words{cut.label + ": cut {0}, square and clean, blow it through.",
                   {{cut.cut, Quantity::length}}};
      if (cut.clocked) words.text += " Mark on the car how its two bends stand to each other.";
      step.how.push_back(std::move(words));
      step.minutes += cut.rigid ? 30 : 20;
    }
    for (const LooseFitting& f : loose_)
      if (f.leg == place) {
        // One tee is passed straight by one leg and from its side by another: it is bought with the latter.
        if (f.form == FittingForm::tee_through && tees_by_side()) continue;
        need(step, fmt::format("fitting, {}", ordered_as(f.form)), size_of(f.dash), f.count);
        if (f.form == FittingForm::bulkhead) {
          need(step, "bulkhead nut", size_of(f.dash), f.count);
          need(step, "bulkhead seal", size_of(f.dash), 2.0 * f.count, Spare::one);
        }
        step.minutes += 5;
      }
    for (const Joint& joint : joints_)
      if (joint.leg == place) needs_of_joint(step, joint);
    if (in) {
      step.how.push_back("Before the lid: nothing chafes on a baffle, no loop rises over the pickup.");
      step.cautions.push_back("Only hose that is rated to lie in fuel; wires and connectors likewise.");
    }
    step.tools = {"hose cutter", "vice with soft jaws", "spanners of the sizes", "blanks"};
    step.minutes = std::max(step.minutes, 10.0);
    return add(std::move(step));
  }

  bool tees_by_side() const {
    return std::any_of(loose_.begin(), loose_.end(),
                       [](const LooseFitting& f) { return f.form == FittingForm::tee_branch; });
  }

  int close(const std::vector<int>& in_tank, bool surge_inside) {
    Step step{.title = "Close the tank", .after = in_tank, .minutes = 40, .opens_fuel = true};
    step.how = {"Count tools and rags: none stays inside.",
                "New lid seal, bolts crosswise in three rounds; enter the torque that was reached.",
                "Vent with roll-over valve, its end outside of the car, over nothing hot."};
    if (surge_inside) step.how.insert(step.how.begin(), "The surge tank stands fast: pull at it by hand.");
    need(step, "lid seal", "", 1, Spare::one);
    if (c_.circuit.tank_vent > 0)
      need(step, "roll-over valve", fmt::format("{:.0f} mm", 1e3 * c_.circuit.tank_vent), 1);
    step.tools = {"torque wrench"};
    step.cautions = {"A bladder's pressure limit is its maker's word."};
    return add(std::move(step));
  }

  int engine_side(std::vector<int> after) {
    const auto& c = c_.circuit;
    Step step{.title = "Engine side", .after = std::move(after), .minutes = 60, .opens_fuel = true};
    if (c.engine_supply != circuit::EngineSupply::carburettor) {
      if (!c.rail.injector.empty()) {
        const auto* type = circuit::find(c_.catalogue->injectors, c.rail.injector);
        need(step, c.rail.injector, "", c.rail.injectors, Spare::none, false,
             type && type->ratings ? &*type->ratings : nullptr);
        need(step, "injector O-ring", "", 2.0 * c.rail.injectors, Spare::twice);
        step.how.push_back("New O-rings on each injector, oiled, none rolled or nicked.");
      }
      if (!c.regulator.type.empty()) {
        const auto* type = circuit::find(c_.catalogue->regulators, c.regulator.type);
        need(step, c.regulator.type, "", 1, Spare::none, false,
             type && type->ratings ? &*type->ratings : nullptr);
        step.how.push_back(c.regulator.referenced ? "Regulator: its reference hose to the manifold, clamped."
                                                  : "Regulator: its reference port open to the air.");
        if (c.regulator.referenced) need(step, "vacuum hose, 4 mm", "", 0.5, Spare::none, true);
      }
    } else {
      step.how.push_back("Needles and seats clean, float heights as the carburettors' maker says.");
    }
    step.cautions = {"Lines clear of the exhaust, of what moves, and of the ground: a hand's breadth."};
    step.tools = {"spanners of the sizes", "torque wrench"};
    return add(std::move(step));
  }

  int wire_step(const std::string& pump, int closed) {
    Step step{.title = pump + ": wires", .after = {closed}, .minutes = 40};
    const char* joined = solder_ ? "soldered, sleeved" : "crimped";
    int terminals = 0;
    for (const WireRun& run : wires_) {
      if (run.pump != pump) continue;
      const std::string gauge =
          run.area > 0 ? circuit::gauge_text(run.area) : std::string("gauge not entered");
      need(step, "wire, " + gauge + ", " + run.colour, "", run.length > 0 ? run.length : 1.0, Spare::none,
           true);
      need(step, "terminal, " + gauge, "", run.terminals, Spare::twice);
      terminals += run.terminals;
      need(step, "label sleeve", "", 2.0 * run.pieces, Spare::twice);
      if (!run.fuse.empty()) need(step, run.fuse, "", 1, Spare::one), need(step, "fuse holder", "", 1);
      if (!run.relay.empty() && run.what == "feed")
        need(step, run.relay, "", 1), need(step, "relay socket", "", 1);
      step.how.push_back(fmt::format("{}: {} {}, {} to {}, label \"{}\", {} terminals {} and pulled at.",
                                     run.what, gauge, run.colour, run.from, run.to, run.label, run.terminals,
                                     joined));
    }
    need(step, "grommet", "", 1, Spare::twice);
    step.how.push_back("Polarity: watch which way the pump turns, in fuel, for a second.");
    step.cautions = {"Battery isolated until all is fused and covered.",
                     "No bare copper where vapour is: sealed connectors, wires through rated glands."};
    if (solder_) need(step, "shrink sleeve with glue", "", terminals, Spare::twice);
    step.tools = {solder_ ? "soldering iron, far from fuel" : "crimping tool of the terminals' maker",
                  "multimeter"};
    if (solder_) step.cautions.emplace_back("Solder before the tank is in the room: an iron lights vapour.");
    return add(std::move(step));
  }

  void prove(std::vector<int> after, const std::vector<int>& wired) {
    const int leak =
        add({.title = "Leak test, brim full",
             .how = {"Fill to the brim, dry everything, paper under every joint.",
                     "Twelve hours or overnight, vent as it is driven; a bladder by its maker's limit.",
                     "Two people look and sign: not the same one twice."},
             .cautions = {"A full tank in a closed room: ventilated, nothing that sparks, watched."},
             .needs = {},
             .tools = {"torch that is sealed", "paper"},
             .after = std::move(after),
             .minutes = 30});
    std::vector<int> before = wired;
    before.push_back(leak);
    const int hold =
        add({.title = "Pressure hold test of the lines",
             .how = {"Prime five times, then read pressure and temperature at start and end.",
                     "A fall beyond the limit that was set: find it before anything else."},
             .cautions = {"Fuel under pressure: goggles, nobody beside the lines while they fill."},
             .needs = {},
             .tools = {"gauge with a date of check"},
             .after = std::move(before),
             .minutes = 45});
    const int base =
        add({.title = "Base pressure and flow",
             .how = {"Base by the gauge card: pump on, engine off, reference open.",
                     "Return into a can at running pressure and voltage: litres and time of each pump.",
                     "Volts at each pump's terminals while it runs."},
             .cautions = {"The can earthed and far from anything hot."},
             .needs = {},
             .tools = {"gauge", "measuring can", "watch", "multimeter"},
             .after = {hold},
             .minutes = 60});
    add({.title = "First run and hot check",
         .how = {"Pumps stop when the engine stops; inertia and kill switch tried.",
                 "Run up warm, look at every joint; stop, look again hot."},
         .cautions =
             {"Extinguisher manned. Hands off what is hot or turns.",
              "Nothing here says that the car is safe: the series' scrutineers and licensed practice do."},
         .needs = {},
         .tools = {"torch that is sealed"},
         .after = {base},
         .minutes = 60});
  }

  const circuit::Case& c_;
  std::vector<HoseCut> cuts_;
  std::vector<LooseFitting> loose_;
  std::vector<Joint> joints_;
  std::vector<WireRun> wires_;
  bool solder_;
  std::vector<Step> steps_;
};

}  // namespace

std::vector<Step> assembly(const circuit::Case& c, const Scheme& scheme) { return Plan(c, scheme).run(); }

std::vector<OrderItem> order_list(const circuit::Case&, const std::vector<Step>& steps,
                                  const std::vector<Stock>& stock) {
  std::vector<OrderItem> out;
  std::vector<Spare> spares;
  for (size_t k = 0; k < steps.size(); ++k)
    for (const Need& n : steps[k].needs) {
      auto at = std::find_if(out.begin(), out.end(),
                             [&](const OrderItem& i) { return i.what == n.what && i.size == n.size; });
      if (at == out.end()) {
        out.push_back({.what = n.what,
                       .size = n.size,
                       .metres = n.metres,
                       .supplier = n.supplier,
                       .marking = n.marking});
        spares.push_back(n.spare);
        at = out.end() - 1;
      }
      at->needed += n.count;
      at->steps.push_back(static_cast<int>(k));
    }
  for (size_t i = 0; i < out.size(); ++i) {
    OrderItem& item = out[i];
    item.spare = spares[i] == Spare::one ? 1.0 : spares[i] == Spare::twice ? item.needed : 0.0;
    for (const Stock& s : stock)
      if (s.what == item.what && s.size == item.size) item.have += s.have, item.ordered += s.ordered;
    const double lacking = std::max(item.needed + item.spare - item.have - item.ordered, 0.0);
    item.to_order = item.metres ? std::ceil(10 * lacking - 1e-9) / 10 : std::ceil(lacking - 1e-9);
    item.to_order += 0.0;  // no "-0"
    // Spares stop nothing.
    double left = item.have;
    for (int k : item.steps) {
      double wanted = 0;
      for (const Need& n : steps[static_cast<size_t>(k)].needs)
        if (n.what == item.what && n.size == item.size) wanted += n.count;
      left -= wanted;
      if (left < -1e-9) {
        item.stops = k;
        break;
      }
    }
  }
  std::stable_sort(out.begin(), out.end(),
                   [](const OrderItem& a, const OrderItem& b) { return a.supplier < b.supplier; });
  return out;
}

std::vector<int> can_start(const std::vector<Step>& steps, const std::vector<OrderItem>& items,
                           const std::vector<char>& done) {
  const auto is_done = [&](int k) {
    return static_cast<size_t>(k) < done.size() && done[static_cast<size_t>(k)];
  };
  std::vector<int> out;
  for (size_t k = 0; k < steps.size(); ++k) {
    const int step = static_cast<int>(k);
    if (is_done(step)) continue;
    if (!std::all_of(steps[k].after.begin(), steps[k].after.end(), is_done)) continue;
    // Counted for this step alone: which of several gets the parts is for the hand that reaches for them.
    const bool in = std::all_of(steps[k].needs.begin(), steps[k].needs.end(), [&](const Need& n) {
      const auto at = std::find_if(items.begin(), items.end(),
                                   [&](const OrderItem& i) { return i.what == n.what && i.size == n.size; });
      return at != items.end() && at->have >= n.count - 1e-9;
    });
    if (in) out.push_back(step);
  }
  return out;
}

std::vector<std::vector<int>> by_day(const std::vector<Step>& steps, const std::vector<char>& done,
                                     double minutes) {
  if (!(minutes > 0) || !std::isfinite(minutes))
    throw std::invalid_argument("expected a day with time in it");
  std::vector<std::vector<int>> out;
  double left = 0;
  for (size_t k = 0; k < steps.size(); ++k) {
    if (k < done.size() && done[k]) continue;
    if (out.empty() || steps[k].minutes > left) out.emplace_back(), left = minutes;
    out.back().push_back(static_cast<int>(k));
    left -= steps[k].minutes;
  }
  return out;
}

double longest_chain(const std::vector<Step>& steps, const std::vector<char>& done) {
  std::vector<double> until(steps.size(), 0.0);
  double out = 0;
  for (size_t k = 0; k < steps.size(); ++k) {
    double before = 0;
    for (int a : steps[k].after) before = std::max(before, until[static_cast<size_t>(a)]);
    until[k] = before + (k < done.size() && done[k] ? 0.0 : steps[k].minutes);
    out = std::max(out, until[k]);
  }
  return out;
}

}  // namespace uadze::build
