#include "core/circuit/findings.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "core/circuit/build.h"
#include "core/circuit/routes.h"
#include "core/circuit/wiring.h"

namespace uadze::circuit {
namespace {

constexpr double least_voltage = 8.0;  // V at an electric pump

class Finder {
 public:
  Finder(const Case& c, const State& s) : c_(c), s_(s) {}

  std::vector<Finding> run() {
    boiling();  // first, as all else comes of it
    if (!s_.solution.converged) {
      say(Severity::error, {LegKind::feed, 0}, -1, {"No steady state: " + s_.solution.reason + ".", {}});
      return std::move(out_);
    }
    engine();
    for (const PumpState& p : s_.pumps) pump(p);
    for (size_t i = 0; i < s_.wires.size(); ++i) wire(s_.wires[i], s_.pumps[i]);
    for (const PartState& p : s_.parts)
      if (!p.measured)
        say(Severity::note, p.leg, p.part,
            {p.label + " passes {}; its figures end at {}: prolonged, not known.",
             {{p.flow, Quantity::flow}, {p.rated, Quantity::flow}}});
    surge();
    tank();
    std::stable_sort(out_.begin(), out_.end(),
                     [](const Finding& a, const Finding& b) { return a.severity > b.severity; });
    return std::move(out_);
  }

 private:
  void say(Severity severity, LegPlace leg, int part, Phrase text) {
    out_.push_back({severity, leg, part, std::move(text)});
  }
  std::pair<double, Quantity> over_air(double pressure) const {
    return {pressure - s_.ambient, Quantity::pressure};
  }

  LegPlace out_of_tank() const {
    return c_.surroundings.surge ? LegPlace{LegKind::lift, 0} : LegPlace{LegKind::suction, 0};
  }

  void boiling() {
    if (s_.liquid.vapour_pressure > s_.ambient)
      say(Severity::error, out_of_tank(), -1,
          {"The fuel boils in the tank at {}: its vapour pressure is {}, the air's {}.",
           {{c_.at.temperature, Quantity::temperature},
            {s_.liquid.vapour_pressure, Quantity::pressure},
            {s_.ambient, Quantity::pressure}}});
  }

  void engine() {
    const RegulatorState& r = s_.regulator;
    const Circuit& k = c_.circuit;
    const bool injected = !s_.injectors.empty();
    // Where nothing is asked for, what took the fuel away is said at its own place.
    const bool nothing = s_.rail_difference <= 0 && c_.at.demand <= 0;
    if (injected && r.mode == RegulatorMode::starved && !nothing) {
      if (s_.rail_difference <= 0)
        say(Severity::error, {LegKind::rail, 0}, -1,
            {"The circuit can not bring {} to the rail at any pressure.", {{c_.at.demand, Quantity::flow}}});
      else
        say(Severity::error, {LegKind::rail, 0}, -1,
            {"The rail is starved: {} across the injectors instead of {}.",
             {{s_.rail_difference, Quantity::pressure}, {s_.difference_set, Quantity::pressure}}});
    }
    if (r.mode == RegulatorMode::overwhelmed)
      say(Severity::error, {LegKind::back, 0}, -1,
          {"The return line overwhelms the regulator: it lets {} go wide open, and the pressure stands at {} "
           "over air instead of {}. Winding the regulator down does not help.",
           {{r.flow, Quantity::flow}, over_air(r.pressure), over_air(r.wished)}});
    // Above by as much as 3 % of mixture.
    if (injected && r.mode == RegulatorMode::regulating && s_.difference_set > 0 &&
        s_.rail_difference > 1.0609 * s_.difference_set)
      say(Severity::warning, {LegKind::back, 0}, -1,
          {"The regulator holds {} across the injectors instead of {} with {} going back: the mixture is {} "
           "richer than set.",
           {{s_.rail_difference, Quantity::pressure},
            {s_.difference_set, Quantity::pressure},
            {r.flow, Quantity::flow},
            {std::sqrt(s_.rail_difference / s_.difference_set) - 1, Quantity::fraction}}});
    if (injected && s_.duty > k.rail.duty_limit && s_.rail_difference > 0)
      say(Severity::error, {LegKind::rail, 0}, -1,
          {"The injectors would have to be open {} of the time; the limit is {}.",
           {{s_.duty, Quantity::fraction}, {k.rail.duty_limit, Quantity::fraction}}});
    if (injected && s_.leanest >= 0 && s_.rail_difference > 0) {
      double mean = 0;
      for (const auto& i : s_.injectors) mean += i.flow / static_cast<double>(s_.injectors.size());
      const double lean = mean > 0 ? 1 - s_.injectors[static_cast<size_t>(s_.leanest)].flow / mean : 0.0;
      if (lean > 0.01)
        say(Severity::warning, {LegKind::rail, 0}, -1,
            {fmt::format("Injector {} gets {{}} less than the mean: the rail itself loses pressure.",
                         s_.leanest + 1),
             {{lean, Quantity::fraction}}});
    }
    if (k.engine_supply == EngineSupply::high_pressure && s_.rail_difference < k.high_pressure.least_inlet)
      say(Severity::error, {LegKind::feed, 0}, -1,
          {"The high-pressure pump gets {} at its inlet; it needs {}.",
           {{s_.rail_difference, Quantity::pressure}, {k.high_pressure.least_inlet, Quantity::pressure}}});
    if (k.engine_supply == EngineSupply::high_pressure && s_.rail < s_.liquid.vapour_pressure)
      say(Severity::error, {LegKind::feed, 0}, -1,
          {"The fuel boils before the high-pressure pump: its inlet is {} under the vapour pressure.",
           {{s_.liquid.vapour_pressure - s_.rail, Quantity::pressure}}});
    if (k.engine_supply == EngineSupply::carburettor) needle();
  }

  void needle() {
    const Carburettor& carb = c_.circuit.carburettor;
    if (s_.rail_difference > carb.most_pressure)
      say(Severity::error, {LegKind::feed, 0}, -1,
          {"{} press on the needle; it holds {}: the bowl floods.",
           {{s_.rail_difference, Quantity::pressure}, {carb.most_pressure, Quantity::pressure}}});
  }

  void pump(const PumpState& p) {
    if (p.on && p.inlet_margin < p.margin_needed)
      say(p.inlet_margin < 0 ? Severity::error : Severity::warning, p.leg, p.part,
          p.inlet_margin < 0
              ? Phrase{"The fuel boils at the inlet of " + p.name +
                           ": {} under its vapour pressure; the pump draws gas.",
                       {{-p.inlet_margin, Quantity::pressure}}}
              : Phrase{"At the inlet of " + p.name + " only {} are left over vapour pressure; it needs {}.",
                       {{p.inlet_margin, Quantity::pressure}, {p.margin_needed, Quantity::pressure}}});
    if (!p.on && p.flow < -0.3e-6)
      say(Severity::error, p.leg, p.part,
          {"{} run back through " + p.name + ", which stands still without a check valve.",
           {{-p.flow, Quantity::flow}}});
    if (p.on && !p.dry && p.flow < 0.1e-6 && p.rise > 0 && p.inlet_margin >= 0)
      say(Severity::warning, p.leg, p.part,
          {p.name + " runs against {} and moves nothing.", {{p.rise, Quantity::pressure}}});
    if (p.swing > 2e3 && p.on && p.inlet_margin < p.margin_needed)
      say(Severity::warning, p.leg, p.part,
          {"The strokes of " + p.name +
               " pull its inlet {} under the mean: a shorter or wider suction, or a "
               "dome before it, softens them.",
           {{p.swing, Quantity::pressure}}});
    if (p.relieved > 0.3e-6)
      say(Severity::warning, p.leg, p.part,
          {"The relief valve in " + p.name + " is open: {} go round in it at a rise of {}.",
           {{p.relieved, Quantity::flow}, {p.rise, Quantity::pressure}}});
    if (p.on && !p.measured && p.flow > 0.1e-6)
      say(Severity::note, p.leg, p.part,
          {p.engine_driven
               ? p.name + " works outside its measured curves (a rise of {}): prolonged, not known."
               : p.name + " works outside its measured curves (a rise of {} at {}): prolonged, not "
                          "known.",
           p.engine_driven ? std::vector<std::pair<double, Quantity>>{{p.rise, Quantity::pressure}}
                           : std::vector<std::pair<double, Quantity>>{{p.rise, Quantity::pressure},
                                                                      {p.voltage, Quantity::voltage}}});
    if (p.on && !p.engine_driven && p.voltage < least_voltage && p.share >= 1)
      say(Severity::error, p.leg, p.part,
          {"Only {} reach " + p.name +
               ": under {} electric pumps slow down unevenly, stall, or do not start.",
           {{p.voltage, Quantity::voltage}, {least_voltage, Quantity::voltage}}});
  }

  void wire(const WireState& w, const PumpState& p) {
    if (!p.on || p.engine_driven) return;
    const Wiring& wiring = leg_at(c_.circuit, p.leg)->at(static_cast<size_t>(p.part)).wiring;
    const double wished = c_.circuit.wished_drop;
    if (w.drop > 1.6 * wished)
      say(Severity::warning, p.leg, p.part,
          {"The wires of " + p.name + " take {} at {}: it moves {} less. " +
               (w.advised ? fmt::format("AWG {} would keep it under {{}}.", *w.advised)
                : w.beside >= wished
                    ? std::string("Contacts, relay and fuse alone take more than {}: no wire mends that.")
                    : std::string("No usual gauge keeps it under {} at this length.")),
           {{w.drop, Quantity::voltage},
            {p.current, Quantity::current},
            {p.lost_to_wires, Quantity::flow},
            {wished, Quantity::voltage}}});
    if (std::max(w.feed_density, w.ground_density) > loom_density)
      say(Severity::error, p.leg, p.part,
          {"{} through the wire of " + p.name + " heat it by " + fmt::format("{:.1f}", w.heat) +
               " W a metre: over 6 A/mm2, the rule for a loom.",
           {{p.current, Quantity::current}}});
    if (const FuseType* fuse = find(c_.catalogue->fuses, wiring.fuse)) {
      if (p.current > 0.75 * fuse->rating)
        say(Severity::warning, p.leg, p.part,
            {"The fuse of " + p.name +
                 " ({}) carries {}: over three quarters of its rating, it ages and opens.",
             {{fuse->rating, Quantity::current}, {p.current, Quantity::current}}});
      const double thinnest = std::min(wiring.feed_area > 0 ? wiring.feed_area : 1.0,
                                       wiring.ground_area > 0 ? wiring.ground_area : 1.0);
      if (fuse->rating > 2 * loom_density * thinnest)
        say(Severity::warning, p.leg, p.part,
            {"The fuse of " + p.name + " ({}) does not protect its wire, which bears {} for long.",
             {{fuse->rating, Quantity::current}, {loom_density * thinnest, Quantity::current}}});
    }
    locked(p, wiring);
    if (const RelayType* relay = find(c_.catalogue->relays, wiring.relay); relay && p.current > relay->rating)
      say(Severity::error, p.leg, p.part,
          {"The relay of " + p.name + " is made for {} and carries {}.",
           {{relay->rating, Quantity::current}, {p.current, Quantity::current}}});
  }

  /// Blade fuses open at 1.35 times their rating within ten minutes, at 2 within 5 s, at 3.5 within 0.5 s, at
  /// 6 within 0.1 s (ISO 8820-3). A starting motor takes its locked current for some tenths of a second.
  void locked(const PumpState& p, const Wiring& wiring) {
    const FuseType* fuse = find(c_.catalogue->fuses, wiring.fuse);
    if (!fuse) return;
    const std::string known = p.locked_known ? "" : " (estimated)";
    if (p.locked > 6 * fuse->rating)
      say(Severity::warning, p.leg, p.part,
          {"Starting, " + p.name + " takes {}" + known +
               ", over six times its fuse ({}): it opens within a tenth of a second.",
           {{p.locked, Quantity::current}, {fuse->rating, Quantity::current}}});
    else if (p.locked < 1.35 * fuse->rating)
      say(Severity::warning, p.leg, p.part,
          {"Blocked, " + p.name + " takes {}" + known +
               ": its fuse ({}) does not open at less than 1.35 times its rating, the motor and its wire "
               "burn "
               "first.",
           {{p.locked, Quantity::current}, {fuse->rating, Quantity::current}}});
  }

  void surge() {
    if (!c_.surroundings.surge || !surge_empties(s_)) return;
    Phrase words{"The surge tank empties at {}: the lift pumps bring {}. Full, it lasts {}.",
                 {{s_.surge.draining, Quantity::flow},
                  {s_.surge.lift, Quantity::flow},
                  {s_.surge.lasts, Quantity::duration}}};
    if (s_.surge.lasts > seconds_told) {
      words.text = "The surge tank empties at {}: the lift pumps bring {}. Full, it lasts over ten minutes.";
      words.values.pop_back();
    }
    say(Severity::warning, {LegKind::overflow, 0}, -1, std::move(words));
  }

  void tank() {
    const LegPlace out = out_of_tank();
    const bool shut = c_.circuit.tank_vent <= 0 && !(c_.at.vent_blocked_for > 0);
    if (const double under = s_.ambient - s_.tank; shut && under > 1500)
      say(Severity::error, out, -1,
          {"The tank has no vent: after {} of this demand it stands {} under the air.",
           {{shut_vent_time, Quantity::duration}, {under, Quantity::pressure}}});
    else if (under > 1500)
      say(Severity::warning, out, -1,
          {c_.at.vent_blocked_for > 0
               ? "With the vent blocked for {} the tank stands {} under the air: it sucks against the pumps "
                 "and may "
                 "collapse."
               : "The vent lets too little air in: at a demand of {} the tank stands {} under the air.",
           c_.at.vent_blocked_for > 0
               ? std::vector<std::pair<double, Quantity>>{{c_.at.vent_blocked_for, Quantity::duration},
                                                          {under, Quantity::pressure}}
               : std::vector<std::pair<double, Quantity>>{{c_.at.demand, Quantity::flow},
                                                          {under, Quantity::pressure}}});
    if (c_.circuit.transfer.kind == TransferKind::jet && s_.transfer <= 0)
      say(Severity::warning, {LegKind::transfer, 0}, -1, {"The jet draws nothing across the tank.", {}});
  }

  const Case& c_;
  const State& s_;
  std::vector<Finding> out_;
};

}  // namespace

namespace {

Finding caution(const LegPlace& leg, int part, std::string_view text) {
  Finding out;
  out.severity = Severity::note;
  out.leg = leg;
  out.part = part;
  out.text.text.assign(text);
  return out;
}

}  // namespace

std::vector<Finding> find_trouble(const Case& c, const State& state) { return Finder(c, state).run(); }

std::vector<Finding> find_cautions(const Case& c) {
  std::vector<Finding> out;
  const bool alcohol = c.fuel.ethanol + c.fuel.methanol > 0.25;
  for (const LegPlace& place : legs_of(c.circuit, c.surroundings)) {
    const Leg* leg = leg_at(c.circuit, place);
    if (!leg) continue;
    for (size_t i = 0; i < leg->size(); ++i) {
      const Part& p = (*leg)[i];
      const auto say = [&](const std::string& text) {
        out.push_back(caution(place, static_cast<int>(i), text));
      };
      const std::string where = " (" + place.title(c.circuit) + ")";
      if (p.kind == PartKind::line) {
        const HoseType* hose = find(c.catalogue->hoses, p.type);
        if (hose && p.in_fuel && !hose->lies_in_fuel)
          say("\"" + p.type + "\" is not rated to lie in fuel" + where +
              ": it turns soft and its crumbs kill pumps.");
        if (hose && alcohol && !hose->alcohol)
          say("\"" + p.type + "\" and alcohol" + where + ": use rated hose, or replace it every season.");
        if (p.in_cabin)
          say("A fuel line in the cabin" + where +
              ": no joints there, sheathed; the series' regulations decide.");
      }
      if (p.kind == PartKind::filter)
        if (const FilterType* f = find(c.catalogue->filters, p.type); f && f->paper && alcohol)
          say("A paper filter swells in alcohol" + where + ".");
      if (p.kind == PartKind::pump) {
        const PumpType* type = find(c.catalogue->pumps, p.type);
        if (type && alcohol && !type->alcohol)
          say("\"" + p.type + "\" is not made for alcohol" + where + ".");
        if (type && !type->curves.engine_driven && p.wiring.fuse.empty())
          say("The feed of the pump is not fused" + where + ": a chafed wire burns.");
        if (type && type->curves.estimated)
          say("The curve of \"" + p.type + "\" is estimated from a single point" + where + ".");
      }
    }
  }
  for (const RouteGap& gap : route_gaps(c)) {
    out.push_back(caution(
        gap.leg, -1,
        fmt::format("The routes do not close: the end of {} misses {} by {{}} (forward {{0}}, left {{0}}, up "
                    "{{0}}). Acceleration presses on what is not there: see each line's run.",
                    gap.ends, gap.meets)));
    out.back().severity = Severity::warning;
    out.back().text.values = {{gap.gap.norm(), Quantity::length}};
    // No "-0 mm".
    for (double x : gap.gap)
      out.back().text.values.push_back({std::abs(x) < 5e-4 ? 0.0 : x, Quantity::length});
  }
  if (c.circuit.return_above_fuel)
    out.push_back(caution({LegKind::back, 0}, -1,
                          "The return ends above the fuel: it foams, the pump draws foam and the gauge's "
                          "needle shakes. Lead it under the level."));
  if (c.surroundings.surge && !c.circuit.surge_inside)
    out.push_back(caution({LegKind::overflow, 0}, -1,
                          "The surge tank stands outside the fuel cell: its joints and its fuel are exposed "
                          "in a crash. The series' regulations decide."));
  if (c.fuel.methanol > 0) out.push_back(caution({LegKind::rail, 0}, -1, methanol_caution));
  return out;
}

Phrase verdict_of(const State& s) {
  for (const Finding& f : s.findings)
    if (f.severity == Severity::error) return f.text;
  for (const Finding& f : s.findings)
    if (f.severity != Severity::note) return f.text;
  return {"The circuit carries this: {} across the injectors, the regulator sends {} back.",
          {{s.rail_difference, Quantity::pressure}, {s.regulator.flow, Quantity::flow}}};
}

}  // namespace uadze::circuit
