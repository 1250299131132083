// Legs and parts by place; bores, fittings, wires by their types; what is wrong with a build.
#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <set>

#include "core/circuit/circuit.h"
#include "core/circuit/friction.h"
#include "core/circuit/wiring.h"

namespace uadze::circuit {
namespace {

template <class C>
auto* leg_in(C& c, const LegPlace& p) {
  const auto at = [&](auto& list) -> decltype(&list.front().parts) {
    return p.index >= 0 && static_cast<size_t>(p.index) < list.size()
               ? &list[static_cast<size_t>(p.index)].parts
               : nullptr;
  };
  switch (p.kind) {
    case LegKind::lift:
      return at(c.lifts);
    case LegKind::overflow:
      return &c.overflow;
    case LegKind::tee:
      return &c.tee;
    case LegKind::suction:
      return at(c.suctions);
    case LegKind::main:
      return at(c.mains);
    case LegKind::feed:
      return &c.feed;
    case LegKind::back:
      return &c.back;
    case LegKind::transfer:
      return &c.transfer.parts;
    case LegKind::rail:
      break;
  }
  return decltype(&c.feed)(nullptr);
}

class FaultFinder {
 public:
  FaultFinder(const Circuit& c, const Surroundings& around, const Catalogue& catalogue)
      : c_(c), around_(around), cat_(catalogue) {}

  Faults run() {
    for (const LegPlace& place : legs_of(c_, around_))
      if (const Leg* leg = leg_at(c_, place)) parts(*leg);
    ends();
    rail();
    charging();
    return std::move(out_);
  }

 private:
  template <class Member>
  void fail(const Member& member, std::string expected, std::string found) {
    add_fault(out_, Severity::error, place_of(member), std::move(expected), std::move(found));
  }

  /// What leads from the circuit to the tank and back may be missing for a while, as the two are edited one
  /// after the other.
  template <class Member>
  void warn(const Member& member, std::string expected, std::string found) {
    add_fault(out_, Severity::warning, place_of(member), std::move(expected), std::move(found));
  }

  bool hoses_known(const Leg& leg) const {
    return std::all_of(leg.begin(), leg.end(), [this](const Part& p) {
      return p.kind != PartKind::line || p.type.empty() || find(cat_.hoses, p.type);
    });
  }

  template <class List>
  bool known(const List& list, const std::string& name) {
    if (find(list, name)) return true;
    std::string names;
    for (const auto& t : list) names += (names.empty() ? "\"" : ", \"") + t.name + "\"";
    fail(name, "a type of the catalogue: " + (names.empty() ? "there is none" : names), "\"" + name + "\"");
    return false;
  }

  void parts(const Leg& leg) {
    if (leg.size() > most_parts)
      return fail(leg[most_parts], fmt::format("{} parts at most between two ends", most_parts),
                  fmt::format("{}", leg.size()));
    for (size_t i = 0; i < leg.size(); ++i) {
      const Part& p = leg[i];
      switch (p.kind) {
        case PartKind::line:
          if (!p.type.empty() && known(cat_.hoses, p.type) && p.bore <= 0 &&
              bore_of(*find(cat_.hoses, p.type), p.dash) <= 0) {
            std::string sizes;
            for (const auto& [dash, bore] : find(cat_.hoses, p.type)->bore)
              sizes += fmt::format("{}{}", sizes.empty() ? "" : ", ", dash);
            fail(p.dash, "a size this hose is made in: " + sizes, fmt::format("{}", p.dash));
          }
          if (!(p.length > 0)) fail(p.length, "above 0", fmt::format("{:.6g}", p.length * 1e3));
          if (p.run.norm() > p.length * (1 + 1e-6))
            fail(p.run, fmt::format("not longer than the line, {:.6g} mm", p.length * 1e3),
                 fmt::format("{:.6g} mm from start to end", p.run.norm() * 1e3));
          if (p.type.empty() && p.bore <= 0) fail(p, "a hose with its dash size, or a bore", "neither");
          break;
        case PartKind::fitting:
        case PartKind::restriction:
          // Beside a hose of an unknown type nothing is said of what takes its bore from it.
          if (!(bore_of(leg, i, cat_) > 0) && hoses_known(leg))
            fail(p.bore, "a bore above 0, or a line beside it to take it from",
                 fmt::format("{:.6g}", p.bore * 1e3));
          break;
        case PartKind::filter:
          known(cat_.filters, p.type);
          break;
        case PartKind::check_valve:
          known(cat_.check_valves, p.type);
          break;
        case PartKind::pump:
          if (known(cat_.pumps, p.type))
            for (const Fault& f : curve_faults(find(cat_.pumps, p.type)->curves))
              fail(p.type, f.expected, f.found);
          if (p.way != 0)
            fail(p.way, "0: pumps side by side are legs of their own", fmt::format("{}", p.way));
          speed(p.speed);
          if (!p.wiring.relay.empty()) known(cat_.relays, p.wiring.relay);
          if (!p.wiring.fuse.empty()) known(cat_.fuses, p.wiring.fuse);
          if ((p.wiring.feed_length > 0 && !(p.wiring.feed_area > 0)) ||
              (p.wiring.ground_length > 0 && !(p.wiring.ground_area > 0)))
            fail(p.wiring, "a gauge with each length", "a length without a gauge");
          break;
        case PartKind::sensor:
          known(cat_.sensors, p.type);
          break;
        case PartKind::diffuser:
          known(cat_.diffusers, p.type);
          break;
      }
    }
  }

  void speed(const PumpSpeed& s) {
    if (s.control == SpeedControl::none) return;
    if (s.points.empty()) fail(s.points, "at least one demand with its share of the supply", "none");
    for (size_t i = 1; i < s.points.size(); ++i)
      if (!(s.points[i].demand > s.points[i - 1].demand))
        fail(s.points[i].demand, "a demand above the one before it", "not above");
  }

  static int pumps_in(const Leg& leg) {
    return static_cast<int>(
        std::count_if(leg.begin(), leg.end(), [](const Part& p) { return p.kind == PartKind::pump; }));
  }

  void ends() {
    static_assert(most_mains == 4);
    const std::string count = "one to four main pumps";
    if (c_.mains.empty()) fail(c_.mains, count, "none: nothing feeds the engine");
    if (c_.mains.size() > most_mains) fail(c_.mains, count, fmt::format("{}", c_.mains.size()));
    for (size_t i = 0; i < c_.mains.size(); ++i) {
      const auto& m = c_.mains[i];
      if (pumps_in(m.parts) == 0) fail(m.parts, "a pump in the main leg", "none");
      if (m.stage.by != StageBy::always && m.stage.off > m.stage.on)
        fail(m.stage, "off not above on", "off above on: it would switch to and fro");
    }
    if (around_.surge) {
      if (c_.lifts.empty()) warn(c_.lifts, "a leg that fills the surge tank", "none");
      for (size_t i = 0; i < c_.lifts.size(); ++i) {
        if (pumps_in(c_.lifts[i].parts) == 0) fail(c_.lifts[i].parts, "a pump in the lift leg", "none");
        const bool fed = std::any_of(around_.pickups.begin(), around_.pickups.end(),
                                     [&](const auto& p) { return p.feeds == c_.lifts[i].pump; });
        if (!fed)
          warn(c_.lifts[i].pump, "a lift pump of the setup that a pickup feeds",
               "\"" + c_.lifts[i].pump + "\"");
        for (size_t k = 0; k < i; ++k)
          if (c_.lifts[k].pump == c_.lifts[i].pump)
            fail(c_.lifts[i].pump, "one leg for each lift pump",
                 "\"" + c_.lifts[i].pump + "\" a second time");
      }
      if (c_.overflow.empty())
        fail(c_.overflow, "a line for what the lift pumps bring too much", "none: the loop can not close");
      if (around_.return_to == ReturnTo::overflow_tee && c_.tee.empty())
        fail(c_.tee, "the line from the tee to the main tank", "none: the loop can not close");
    } else {
      for (size_t i = 0; i < c_.suctions.size(); ++i) {
        const bool known_pickup = std::any_of(around_.pickups.begin(), around_.pickups.end(),
                                              [&](const auto& p) { return p.name == c_.suctions[i].pickup; });
        if (!known_pickup)
          warn(c_.suctions[i].pickup, "a pickup of the tank", "\"" + c_.suctions[i].pickup + "\"");
      }
      const bool fed = std::any_of(around_.pickups.begin(), around_.pickups.end(),
                                   [](const auto& p) { return p.feeds == "engine"; });
      if (c_.suctions.empty() && !fed && !around_.pickups.empty())
        warn(c_.suctions, "a pickup that feeds the engine, as there is no surge tank", "none");
    }
    if (c_.transfer.kind == TransferKind::jet && c_.transfer.by_return && around_.surge &&
        around_.return_to == ReturnTo::surge_tank)
      fail(c_.transfer.by_return,
           "a return that ends in the main tank, where the jet stands: its discharge can not also end in the "
           "surge tank",
           "a jet driven by a return to the surge tank");
    if (c_.transfer.kind == TransferKind::jet &&
        !(c_.transfer.nozzle > 0 && c_.transfer.throat > c_.transfer.nozzle))
      fail(c_.transfer.throat, "wider than the nozzle",
           fmt::format("{:.6g} against {:.6g}", c_.transfer.throat * 1e3, c_.transfer.nozzle * 1e3));
  }

  void rail() {
    const bool injected =
        c_.engine_supply == EngineSupply::returned || c_.engine_supply == EngineSupply::returnless;
    if (injected || !c_.regulator.type.empty()) known(cat_.regulators, c_.regulator.type);
    if (!injected) return;
    if (c_.rail.injectors < 1) fail(c_.rail.injectors, "1 or more", fmt::format("{}", c_.rail.injectors));
    if (c_.rail.rails != Rails::one) {
      if (c_.rail.injectors < 2) fail(c_.rail.injectors, "2 or more on two rails", "1");
      const bool needed = c_.rail.rails == Rails::in_series || c_.rail.entry != RailEntry::dead_end;
      if (needed && !(c_.rail.crossover_bore > 0))
        fail(c_.rail.crossover_bore, "a bore above 0: the fuel goes through the crossover", "0");
      if (two_feeds(c_) && c_.regulator.kind == RegulatorKind::dead_head)
        fail(c_.regulator.kind,
             "\"bypass\" behind two feed lines: one that stops dead stands at the end of one",
             "\"dead head\"");
      if (c_.rail.rails == Rails::side_by_side && c_.rail.entry == RailEntry::both_ends)
        fail(c_.rail.entry, "\"through\" or \"dead end\" of two rails side by side", "\"both ends\"");
    }
    if (!(c_.rail.bore > 0)) fail(c_.rail.bore, "above 0", fmt::format("{:.6g}", c_.rail.bore * 1e3));
    known(cat_.injectors, c_.rail.injector);
  }

  void charging() {
    if (!c_.charging.alternator.empty()) known(cat_.alternators, c_.charging.alternator);
  }

  const Circuit& c_;
  const Surroundings& around_;
  const Catalogue& cat_;
  Faults out_;
};

}  // namespace

std::string LegPlace::title(const Circuit& c) const {
  const auto named = [&](const auto& list, auto get, const char* what) {
    const auto i = static_cast<size_t>(index);
    return i < list.size() && !get(list[i]).empty() ? get(list[i]) : fmt::format("{} {}", what, index + 1);
  };
  switch (kind) {
    case LegKind::lift:
      return named(
          c.lifts, [](const LiftLeg& l) { return l.pump; }, "lift");
    case LegKind::overflow:
      return "overflow";
    case LegKind::tee:
      return "tee to tank";
    case LegKind::suction:
      return named(
          c.suctions, [](const SuctionLeg& l) { return "suction, " + l.pickup; }, "suction");
    case LegKind::main:
      return named(
          c.mains, [](const MainLeg& l) { return l.name; }, "main");
    case LegKind::feed:
      return "feed line";
    case LegKind::rail:
      return "rail";
    case LegKind::back:
      return "return line";
    case LegKind::transfer:
      return "transfer";
  }
  return {};
}

bool two_feeds(const Circuit& c) {
  if (c.rail.rails != Rails::side_by_side || c.feed.empty() || c.feed.back().way == 0) return false;
  bool first = false, other = false;
  for (size_t i = c.feed.size(); i-- > 0 && c.feed[i].way > 0;) (c.feed[i].way == 1 ? first : other) = true;
  return first && other;
}

int joints_outside(const Leg& leg) {
  const auto weeps = [](const Part& p) { return !p.in_fuel && p.kind != PartKind::fitting; };
  const auto pieces = std::count_if(leg.begin(), leg.end(), weeps);
  return pieces > 0 ? static_cast<int>(pieces) + 1 : 0;
}

const Leg* leg_at(const Circuit& circuit, const LegPlace& place) { return leg_in(circuit, place); }
Leg* leg_at(Circuit& circuit, const LegPlace& place) { return leg_in(circuit, place); }

std::vector<LegPlace> legs_of(const Circuit& c, const Surroundings& around) {
  std::vector<LegPlace> out;
  if (around.surge) {
    for (size_t i = 0; i < c.lifts.size(); ++i) out.push_back({LegKind::lift, static_cast<int>(i)});
    out.push_back({LegKind::overflow, 0});
    if (around.return_to == ReturnTo::overflow_tee) out.push_back({LegKind::tee, 0});
  } else {
    for (size_t i = 0; i < c.suctions.size(); ++i) out.push_back({LegKind::suction, static_cast<int>(i)});
  }
  for (size_t i = 0; i < c.mains.size(); ++i) out.push_back({LegKind::main, static_cast<int>(i)});
  out.push_back({LegKind::feed, 0});
  out.push_back({LegKind::rail, 0});
  out.push_back({LegKind::back, 0});
  if (c.transfer.kind != TransferKind::none) out.push_back({LegKind::transfer, 0});
  return out;
}

double fitting_loss(FittingForm form, double bore, double after) {
  const double ft = fitting_friction(bore);
  switch (form) {
    case FittingForm::straight:
      return 2 * ft;
    case FittingForm::bend_45:
      return 16 * ft;
    case FittingForm::bend_90:
      return 30 * ft;
    case FittingForm::bend_120:
      return 40 * ft;
    case FittingForm::bend_180:
      return 50 * ft;
    case FittingForm::smooth_bend:
      return 12 * ft;
    case FittingForm::reducer: {
      // Both on the velocity before it. Borda-Carnot where it widens; half of it, on the narrow side's
      // velocity, where it narrows (Crane).
      const double ratio = (bore / after) * (bore / after);
      return after >= bore ? (1 - ratio) * (1 - ratio) : 0.5 * (1 - 1 / ratio) * ratio * ratio;
    }
    case FittingForm::tee_through:
      return 20 * ft;
    case FittingForm::tee_branch:
      return 60 * ft;
    case FittingForm::quick_connector:
      return 40 * ft;
    case FittingForm::bulkhead:
      return 8 * ft;
    case FittingForm::entry:
      return 0.5;
    case FittingForm::exit:
      return 1.0;
  }
  return 0.0;
}

double bore_of(const Leg& leg, size_t i, const Catalogue& catalogue) {
  const auto own = [&](const Part& p) {
    if (p.kind != PartKind::line && p.kind != PartKind::fitting && p.kind != PartKind::restriction)
      return 0.0;
    if (p.bore > 0) return p.bore;
    const HoseType* hose = find(catalogue.hoses, p.type);
    return hose ? bore_of(*hose, p.dash) : 0.0;
  };
  const Part& part = leg[i];
  if (const double bore = own(part); bore > 0 || part.kind == PartKind::line) return bore;
  if (part.kind != PartKind::fitting && part.kind != PartKind::restriction) return 0.0;
  for (size_t k = i; k-- > 0;)
    if (leg[k].kind == PartKind::line) return own(leg[k]);
  for (size_t k = i + 1; k < leg.size(); ++k)
    if (leg[k].kind == PartKind::line) return own(leg[k]);
  return 0.0;
}

double wiring_resistance(const Wiring& w, const Catalogue& catalogue, double temperature) {
  double out = wire_resistance(w.feed_area, w.feed_length, temperature) +
               wire_resistance(w.ground_area, w.ground_length, temperature) +
               w.connectors * contact_resistance + w.extra;
  if (const RelayType* relay = find(catalogue.relays, w.relay)) out += relay->resistance;
  if (const FuseType* fuse = find(catalogue.fuses, w.fuse)) out += fuse->resistance;
  return out;
}

Faults circuit_faults(const Circuit& circuit, const Surroundings& around, const Catalogue& catalogue) {
  return FaultFinder(circuit, around, catalogue).run();
}

}  // namespace uadze::circuit
