#include "core/build/checks.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "core/build/cutting.h"
#include "core/circuit/findings.h"

namespace uadze::build {
namespace {

using circuit::Case;
using circuit::Finding;
using circuit::Leg;
using circuit::LegKind;
using circuit::LegPlace;
using circuit::Material;
using circuit::Part;
using circuit::PartKind;
using circuit::Ratings;

class Checker {
 public:
  explicit Checker(const Case& c) : c_(c) {}

  std::vector<Finding> run(const std::vector<KeepOut>& keep_outs) {
    out_ = circuit::find_cautions(c_);
    for (const LegPlace& place : circuit::legs_of(c_.circuit, c_.surroundings))
      if (const Leg* leg = circuit::leg_at(c_.circuit, place)) check(place, *leg);
    rail();
    filters_before_injectors();
    check_valves();
    cabin();
    sensors();
    for (const Crossing& x : crossings(c_, keep_outs))
      say(Severity::error, x.leg, x.part,
          {fmt::format(
               "{} passes {} at {{}}: {{}} were asked for. What is near an exhaust, a shaft or the ground "
               "is moved, not sleeved.",
               x.leg.title(c_.circuit), keep_outs[x.keep_out].name),
           {{x.distance, Quantity::length}, {keep_outs[x.keep_out].clearance, Quantity::length}}});
    if (!unrated_.empty())
      say(Severity::note, unrated_at_, -1,
          {fmt::format("No ratings are known of {}: enter what their makers say.", unrated_), {}});
    if (c_.circuit.tank_vent > 0 && c_.circuit.roll_over == circuit::RollOverValve::missing)
      say(Severity::error, {LegKind::lift, 0}, -1,
          {"The tank's vent has no roll-over valve: on its roof the car empties itself. The series' "
           "regulations decide.",
           {}});
    if (c_.circuit.tank_vent > 0 && c_.circuit.roll_over == circuit::RollOverValve::not_said)
      say(Severity::note, {LegKind::lift, 0}, -1,
          {"The tank's vent needs a roll-over valve, and an end outside of the car where it drips on nothing "
           "hot; whether it has one is not said. The series' regulations decide.",
           {}});
    std::stable_sort(out_.begin(), out_.end(),
                     [](const Finding& a, const Finding& b) { return a.severity > b.severity; });
    return std::move(out_);
  }

 private:
  void say(Severity severity, const LegPlace& leg, int part, Phrase text) {
    out_.push_back({severity, leg, part, std::move(text)});
  }

  void rated(const LegPlace& place, int part, const std::string& what, const Ratings* r, double pressure,
             Place where) {
    const std::string at = " (" + place.title(c_.circuit) + ")";
    if (!r) {
      if (unrated_.find(what) == std::string::npos) {
        unrated_ += (unrated_.empty() ? "\"" : ", \"") + what + "\"";
        unrated_at_ = place;
      }
      return;
    }
    if (r->pressure > 0 && std::isinf(pressure))
      say(Severity::error, place, part,
          {"\"" + what + "\"" + at +
               ": the pump has no relief valve, so a blocked return raises the pressure without end.",
           {}});
    else if (r->pressure > 0 && pressure > r->pressure)
      say(Severity::error, place, part,
          {"\"" + what + "\"" + at + " is rated for {}; with the way out blocked it meets {}.",
           {{r->pressure, Quantity::pressure}, {pressure, Quantity::pressure}}});
    if (r->hottest > 0 && hottest(where) > r->hottest)
      say(Severity::warning, place, part,
          {"\"" + what + "\"" + at + " is rated up to {}; " + name_of(where) + " it may meet {}.",
           {{r->hottest, Quantity::temperature}, {hottest(where), Quantity::temperature}}});
    if (where == Place::fuel && !r->in_fuel)
      say(Severity::error, place, part,
          {"\"" + what + "\"" + at + " is not made to lie in fuel or its vapour.", {}});
    if (where == Place::engine_bay && !r->engine_bay)
      say(Severity::warning, place, part, {"\"" + what + "\"" + at + " is not made for the engine bay.", {}});
    const double share =
        c_.fuel.ethanol > 0 ? std::min(c_.fuel.ethanol + ethanol_scatter, 1.0) : c_.fuel.ethanol;
    if (r->ethanol && share > *r->ethanol + 1e-9)
      say(Severity::warning, place, part,
          {"\"" + what + "\"" + at + " stands {} of ethanol; this fuel may have {}." +
               (r->seasons > 0 ? fmt::format(" If it is used all the same: a date for its replacement, "
                                             "a season at the most.")
                               : std::string()),
           {{*r->ethanol, Quantity::fraction}, {share, Quantity::fraction}}});
    if (c_.fuel.methanol > 0 && !r->methanol)
      say(Severity::warning, place, part, {"\"" + what + "\"" + at + " is not known to stand methanol.", {}});
  }

  void check(const LegPlace& place, const Leg& leg) {
    const auto pump =
        std::find_if(leg.begin(), leg.end(), [](const Part& p) { return p.kind == PartKind::pump; });
    const bool has_pump = pump != leg.end();
    for (size_t i = 0; i < leg.size(); ++i) {
      const Part& p = leg[i];
      const bool before = has_pump && static_cast<std::ptrdiff_t>(i) < pump - leg.begin();
      const int at = static_cast<int>(i);
      if (p.kind != PartKind::fitting && p.kind != PartKind::restriction) {
        // What sucks meets the head of its fuel alone.
        const bool sucks = before || (place.kind == LegKind::suction && !has_pump);
        rated(place, at, called(p), ratings_of(p, *c_.catalogue), sucks ? 0.0 : worst_pressure(c_, place),
              place_of(c_, place, i));
      }
      if (p.kind == PartKind::filter && (before || place.kind == LegKind::suction))
        if (const auto* f = circuit::find(c_.catalogue->filters, p.type);
            f && f->mesh > 0 && f->mesh < fine_mesh)
          say(Severity::error, place, at,
              {fmt::format(
                   "\"{}\" ({:.0f} micron) stands before the pump ({}): as it loads, the pump cavitates. "
                   "A coarse screen before the pump, the fine filter behind it.",
                   called(p), 1e6 * f->mesh, place.title(c_.circuit)),
               {}});
      if (p.kind == PartKind::line && p.run.norm() > p.length + 1e-3)
        say(Severity::error, place, at,
            {"A line of {} can not reach over {} (" + place.title(c_.circuit) + ").",
             {{p.length, Quantity::length}, {p.run.norm(), Quantity::length}}});
    }
    metals(place, leg);
  }

  /// Copper beside aluminium or steel, wet with water from alcohol, eats the lesser metal.
  void metals(const LegPlace& place, const Leg& leg) {
    const Ratings* last = nullptr;
    std::string last_name;
    for (const Part& p : leg) {
      if (p.kind == PartKind::fitting) continue;
      const Ratings* r = ratings_of(p, *c_.catalogue);
      const auto base = [](Material m) {
        return m == Material::aluminium || m == Material::steel || m == Material::stainless;
      };
      const auto red = [](Material m) { return m == Material::copper || m == Material::brass; };
      if (r && last &&
          ((red(r->material) && base(last->material)) || (base(r->material) && red(last->material))))
        say(Severity::warning, place, -1,
            {"\"" + last_name + "\" of " + name_of(last->material) + " joins \"" + called(p) + "\" of " +
                 name_of(r->material) + " (" + place.title(c_.circuit) +
                 "): the lesser metal corrodes where water from the fuel stands.",
             {}});
      last = r, last_name = called(p);
    }
  }

  void rail() {
    const LegPlace place{LegKind::rail, 0};
    if (c_.circuit.engine_supply == circuit::EngineSupply::carburettor) return;
    const double pressure = worst_pressure(c_, place);
    if (const auto* type = circuit::find(c_.catalogue->injectors, c_.circuit.rail.injector))
      rated(place, -1, type->name, type->ratings ? &*type->ratings : nullptr, pressure, Place::engine_bay);
    if (const auto* type = circuit::find(c_.catalogue->regulators, c_.circuit.regulator.type))
      rated(place, -1, type->name, type->ratings ? &*type->ratings : nullptr, pressure,
            c_.circuit.engine_supply == circuit::EngineSupply::returned ? Place::engine_bay : Place::outside);
  }

  void filters_before_injectors() {
    if (c_.circuit.engine_supply == circuit::EngineSupply::carburettor) return;
    const auto fine = [&](const Leg& leg) {
      return std::any_of(leg.begin(), leg.end(), [&](const Part& p) {
        const auto* f = p.kind == PartKind::filter ? circuit::find(c_.catalogue->filters, p.type) : nullptr;
        return f && f->mesh > 0 && f->mesh <= fine_mesh;
      });
    };
    if (fine(c_.circuit.feed)) return;
    for (size_t k = 0; k < c_.circuit.mains.size(); ++k)
      if (!fine(c_.circuit.mains[k].parts))
        say(Severity::warning, {LegKind::main, static_cast<int>(k)}, -1,
            {"No fine filter stands between " +
                 LegPlace{LegKind::main, static_cast<int>(k)}.title(c_.circuit) +
                 " and the injectors: what passes a coarse one blocks their baskets.",
             {}});
  }

  bool holds_back(const Leg& leg) const {
    return std::any_of(leg.begin(), leg.end(), [&](const Part& p) {
      const auto* type = p.kind == PartKind::pump ? circuit::find(c_.catalogue->pumps, p.type) : nullptr;
      return p.kind == PartKind::check_valve || (type && type->built_in_check && p.check_valve);
    });
  }

  void check_valves() {
    const auto& c = c_.circuit;
    for (size_t k = 0; k < c.mains.size(); ++k) {
      if (holds_back(c.mains[k].parts)) continue;
      const LegPlace place{LegKind::main, static_cast<int>(k)};
      if (c.mains.size() > 1)
        say(Severity::error, place, -1,
            {place.title(c) + " has no check valve: while it stands the others pump back through it.", {}});
      else
        say(Severity::warning, place, -1,
            {place.title(c) +
                 " has no check valve: the rail empties while the engine stands, and it starts late.",
             {}});
    }
    for (size_t k = 0; c.lifts.size() > 1 && k < c.lifts.size(); ++k)
      if (!holds_back(c.lifts[k].parts)) {
        const LegPlace place{LegKind::lift, static_cast<int>(k)};
        say(Severity::warning, place, -1,
            {place.title(c) +
                 " has no check valve: dead, or dry, it lets the surge tank drain back where its "
                 "line ends under the level.",
             {}});
      }
  }

  void cabin() {
    for (const LegPlace& place : circuit::legs_of(c_.circuit, c_.surroundings)) {
      const Leg* leg = circuit::leg_at(c_.circuit, place);
      if (!leg) continue;
      for (size_t i = 0; i + 1 < leg->size(); ++i) {
        const bool here = (*leg)[i].kind == PartKind::line && (*leg)[i].in_cabin;
        const auto next = std::find_if(leg->begin() + static_cast<std::ptrdiff_t>(i) + 1, leg->end(),
                                       [](const Part& p) { return p.kind != PartKind::fitting; });
        if (here && next != leg->end() && next->kind == PartKind::line && next->in_cabin)
          say(Severity::warning, place, static_cast<int>(i),
              {"A joint stands in the cabin (" + place.title(c_.circuit) +
                   "): lead one line through without a joint. The series' regulations decide.",
               {}});
      }
    }
  }

  void sensors() {
    for (const LegPlace& place : circuit::legs_of(c_.circuit, c_.surroundings)) {
      const Leg* leg = circuit::leg_at(c_.circuit, place);
      for (size_t i = 0; leg && i < leg->size(); ++i)
        if (const Part& p = (*leg)[i]; p.kind == PartKind::sensor && p.reversed)
          say(Severity::error, place, static_cast<int>(i),
              {fmt::format("\"{}\" stands against the flow ({}): what it reads is not the flow.", called(p),
                           place.title(c_.circuit)),
               {}});
    }
  }

  const Case& c_;
  std::vector<Finding> out_;
  std::string unrated_;
  LegPlace unrated_at_;
};

}  // namespace

std::vector<Finding> check(const Case& c, const std::vector<KeepOut>& keep_outs) {
  return Checker(c).run(keep_outs);
}

}  // namespace uadze::build
