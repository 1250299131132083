#include "core/report/session_report.h"

#include <fmt/format.h>

#include <cmath>

#include "core/base/counted.h"
#include "core/circuit/shortfall.h"
#include "core/starvation/never_drawn.h"

namespace uadze::report {

Json finite(double value) { return std::isfinite(value) ? Json(value) : Json(); }

Json derivation_json(const Derivation& d) {
  const auto unit = [](Quantity q) { return std::string(shown_unit(q, {}).name); };
  const auto value = [](double si, Quantity q) { return finite(shown_unit(q, {}).from_si(si)); };
  Json json{{"name", d.name},
            {"value", value(d.value, d.quantity)},
            {"unit", unit(d.quantity)},
            {"formula", d.formula}};
  json["inputs"] = Json::array();
  for (const Term& t : d.inputs)
    json["inputs"].push_back({{"symbol", t.symbol},
                              {"meaning", t.meaning},
                              {"value", value(t.value, t.quantity)},
                              {"unit", unit(t.quantity)},
                              {"source", t.source}});
  json["source"] = d.source;
  if (!d.note.empty()) json["note"] = d.note.in();
  json["steps"] = Json::array();
  for (const Derivation& step : d.steps) json["steps"].push_back(derivation_json(step));
  return json;
}

Json event_json(const starvation::Event& e) {
  Json json{{"kind", e.kind == starvation::Trouble::gas ? "gas at the main pump" : "pressure"},
            {"start_s", e.start},
            {"end_s", e.end},
            {"start_m", e.start_distance},
            {"end_m", e.end_distance},
            {"corner", e.place},
            {"phase", e.phase},
            {"pickups_not_covered", e.side},
            {"missing_l", e.missing * 1e3}};
  if (e.kind == starvation::Trouble::gas)
    json["most_gas_percent"] = e.lowest * 100;
  else
    json["least_difference_kpa"] = e.lowest / 1e3;
  json["cause"] = e.cause.in();
  return json;
}

Json faults_json(const starvation::Course& course) {
  Json out = Json::array();
  for (const auto& f : course.delivery->faults)
    out.push_back({{"kind", name_of(f.kind)},
                   {"severity", f.severity == Severity::error ? "error" : "warning"},
                   {"times_a_lap", f.count},
                   {"in_all_s", f.total},
                   {"longest_s", f.longest},
                   {"worst", starvation::worst_place(course, f)},
                   {"worst_from_s", f.start},
                   {"worst_to_s", f.end},
                   {"difference_kpa", f.difference / 1e3},
                   {"set_kpa", f.set / 1e3},
                   {"leaner_percent", f.leaner() <= circuit::most_lean ? Json(f.leaner() * 100) : Json()},
                   {"demand_l_h", f.demand * 3.6e6},
                   {"text", f.text.in()}});
  return out;
}

std::string faults_text(const starvation::Course& course, const UnitSystem& units) {
  std::string out;
  for (const auto& f : course.delivery->faults)
    out +=
        fmt::format("  {:<17} worst {}: {}\n", f.severity == Severity::error ? "CIRCUIT'S FAULT" : "circuit",
                    starvation::worst_place(course, f), f.text.in(units));
  return out;
}

Json map_json(const solve::LapResult& lap) {
  Json json = Json::array();
  for (const auto& c : starvation::corner_levels(solve::map_of(lap)))
    json.push_back({{"place", c.place}, {"hurts_at_l", c.level * 1e3}, {"event", event_json(c.event)}});
  return json;
}

Json band_json(const starvation::ModelBand& band) {
  Json terms = Json::array();
  for (const auto& t : band.terms)
    terms.push_back({{"name", t.name},
                     {"low_factor", t.low_factor},
                     {"high_factor", t.high_factor},
                     {"clean_level_at_low_l", t.at_low * 1e3},
                     {"clean_level_at_high_l", t.at_high * 1e3}});
  return {{"low_l", band.low * 1e3},
          {"high_l", band.high * 1e3},
          {"capped", band.capped},
          {"calibrated", band.calibrated},
          {"terms", terms}};
}

Json risk_json(const solve::SessionResult& r) {
  const session::RiskPlan& k = r.risk;
  const double density = r.lap->car->fuel_density, tank = r.lap->car->tank->volume();
  const auto amount = [&](double v, const session::Readings& reads) {
    Json json{{"l", v * 1e3},
              {"rounded_up_l", session::rounded_up(v, {}) * 1e3},
              {"kg", v * density},
              {"percent_of_tank", v / tank * 100}};
    if (reads.gauge) json["gauge_percent"] = *reads.gauge * 100;
    if (reads.dip) json["dip_mm"] = *reads.dip * 1e3;
    return json;
  };
  Json causes = Json::array();
  for (const auto& c : k.causes)
    causes.push_back({{"cause", c.name},
                      {"deviation_l", c.deviation * 1e3},
                      {"share_percent", c.share * 100},
                      {"margin_l", c.margin * 1e3}});
  Json json{{"risk_percent", k.risk * 100},
            {"draws", k.draws},
            {"seed", k.seed},
            {"start", amount(k.start, r.start_reads)},
            {"bring_back", amount(k.bring_back, r.back_reads)},
            {"mean_l", k.start_mean * 1e3},
            {"margin_l", k.margin * 1e3},
            {"standard_error_l", k.start_error * 1e3},
            {"fits_in_tank", k.fits},
            {"laps_least", k.least_laps},
            {"laps_most", k.most_laps},
            {"model_band_in_it", k.with_band},
            {"causes", causes}};
  Json stints = Json::array();
  for (const auto& s : r.stints)
    stints.push_back({{"laps", s.laps},
                      {"start_l", s.need * 1e3},
                      {"add_l", s.add * 1e3},
                      {"latest_lap_when_full", s.latest_lap},
                      {"one_more_lap_needs_l", s.one_more * 1e3},
                      {"one_more_lap_risk_percent", s.one_more_risk * 100}});
  json["stints"] = stints;
  if (r.rule)
    json["rule_of_thumb"] = {{"percent_of_tank", r.rule->share * 100},
                             {"start_l", r.rule->start * 1e3},
                             {"saved_kg", r.rule->saved},
                             {"starves", r.rule->starves},
                             {"place", r.rule->place}};
  return json;
}

namespace {

Json learnt_json(const session::Learnt& l) {
  Json json{{"kind", name_of(l.kind)},
            {"sessions", l.per_lap.size()},
            {"consumption_before_l", l.before.mean * 1e3},
            {"consumption_l_per_lap", l.consumption.mean * 1e3},
            {"consumption_scatter_percent", l.scatter() * 100},
            {"counted", l.reads_over.size()}};
  if (!l.reads_over.empty()) {
    json["reads_too_much_l"] = l.count.mean * 1e3;
    json["gauge_error_l"] = l.gauge_error * 1e3;
  }
  return json;
}

}  // namespace

namespace {

/// Of what is told: where no fuel is enough, why none is clean.
std::vector<const Derivation*> workings_of(const solve::SessionResult& r) {
  if (!r.possible()) return {&r.lap->clean_working, &r.lap->reserve_working};
  return {&r.working, &r.plan.bring_back_working, &r.plan.mass_working, &r.lap->reserve_working};
}

}  // namespace

Json session_json(const solve::SessionResult& r) {
  const starvation::CleanLevel& clean = r.lap->clean;
  Json events = Json::array();
  for (const auto& e : clean.below.events) events.push_back(event_json(e));
  Json workings = Json::array();
  for (const Derivation* d : workings_of(r)) workings.push_back(derivation_json(*d));
  // Where no fuel is enough, there is none to start with.
  const auto some = [&](double figure) { return r.possible() ? Json(figure) : Json(); };
  return {
      {"setup", r.setup},
      {"session", r.session},
      {"lap", r.lap->lap_name},
      {"lap_time_s", r.lap->lap->value.duration()},
      {"laps", r.plan.laps},
      {"stint_laps", r.plan.stint_laps},
      {"consumption_l_per_lap", r.plan.consumption * 1e3},
      {"least_end_l", some(r.end.end * 1e3)},
      {"least_end_held_up", r.end.held_up},
      {"possible", r.possible()},
      {"stint_starves_with_an_end_of_l", r.end.starves * 1e3},
      {"clean_level_l", clean.exists ? Json(clean.level * 1e3) : Json()},
      {"clean_level_exists", clean.exists},
      {"never_drawn_l", r.lap->car->never_drawn.total() * 1e3},
      {"start_l", some(r.plan.start * 1e3)},
      {"start_kg", some(r.plan.start_mass)},
      {"start_percent_of_tank", some(r.plan.start_share * 100)},
      {"bring_back_l", some(r.plan.bring_back * 1e3)},
      {"bring_back_kg", some(r.plan.bring_back_mass)},
      {"bring_back_percent_of_tank", some(r.plan.bring_back_share * 100)},
      {"fits_in_tank", r.possible() && r.plan.fits},
      {"tank_l", r.lap->car->tank->volume() * 1e3},
      {"usable_l", r.lap->usable_volume * 1e3},
      {"learnt", r.learnt ? learnt_json(*r.learnt) : Json()},
      {"filled", r.filled && r.possible() ? Json{{"at_c", r.filled->temperature - 273.15},
                                                 {"start_l", r.filled->start * 1e3},
                                                 {"limit_l", r.filled->limit * 1e3}}
                                          : Json()},
      {"tightest",
       {{"corner", clean.at.tightest_place},
        {"distance_m", r.lap->course.lap->distance[clean.at.tightest]},
        {"pickups_not_covered", clean.at.tightest_side},
        {"least_reserve_l", clean.at.least_reserve * 1e3},
        {"least_reserve_s", finite(clean.at.least_seconds)},
        {"least_rail_margin_kpa", finite(clean.at.least_margin / 1e3)}}},
      {"circuit_faults", faults_json(r.lap->course)},
      {"laps_until_it_repeats", clean.at.laps},
      {"at_risk", r.possible() ? risk_json(r) : Json()},
      {"events_just_below_clean_level", events},
      {"working", workings},
  };
}

std::string session_text(const solve::SessionResult& r, bool working, const UnitSystem& units) {
  const starvation::CleanLevel& clean = r.lap->clean;
  const auto volume = [&](double v) { return format(v, Quantity::volume, units); };
  // A label, then a column as wide as "1234.5 L" or "123.45 US gal" wants.
  const auto row = [wide = units.volume == VolumeUnit::litre ? 9 : 14](const std::string& label,
                                                                       const auto& figure) {
    return fmt::format("  {:<18}{:>{}}", label, figure, wide);
  };
  std::string out = fmt::format("{} | {}\n", r.setup, r.session);
  if (r.possible()) {
    out += fmt::format(
        "{}  {:>9}  {:.0f} % of the tank{}\n",
        row("least start fuel", volume(session::rounded_up(r.plan.start, units))),
        format(r.plan.start_mass, Quantity::mass, units), r.plan.start_share * 100,
        r.plan.fits ? "" : fmt::format("  MORE THAN MAY BE FILLED ({})", volume(r.lap->usable_volume)));
    out += fmt::format("{}  {:>9}  {:.0f} % of the tank\n",
                       row("bring back", volume(session::rounded_up(r.plan.bring_back, units))),
                       format(r.plan.bring_back_mass, Quantity::mass, units), r.plan.bring_back_share * 100);
    out += fmt::format("{}  {:>9}  bring back {}{}\n",
                       row(fmt::format("at {:g} % risk", r.risk.risk * 100),
                           volume(session::rounded_up(r.risk.start, units))),
                       format(r.risk.start * r.lap->car->fuel_density, Quantity::mass, units),
                       volume(session::rounded_up(r.risk.bring_back, units)),
                       r.risk.with_band ? "" : "  (without the model's band)");
    out += row("least end", volume(session::rounded_up(r.end.end, units))) +
           (r.end.held_up ? "  what never comes out\n" : "  the stint marched down\n");
  } else {
    out += "  NO FUEL IS ENOUGH: " +
           (clean.exists && r.end.below.event ? r.end.below.on + ", " + r.end.below.event->cause.in(units)
                                              : std::string("not even a full tank is clean")) +
           "\n";
  }
  if (r.lap->car->calibration)
    out += fmt::format("  the model is {} ({})\n", starvation::calibrated_words(r.lap->car->calibration),
                       r.lap->car->calibration->date);
  if (r.filled && r.possible())
    out += fmt::format("{}  at most {}, or it runs over when it is warm\n",
                       row("put in at " + format(r.filled->temperature, Quantity::temperature, units, 0),
                           volume(session::rounded_up(r.filled->start, units))),
                       volume(r.filled->limit));
  out += clean.exists ? row("clean, held steady", volume(session::rounded_up(clean.level, units))) + "\n"
                      : row("clean, held steady", "none") + "\n";
  out += fmt::format("{}  of {} each{}\n", row("laps", r.plan.stint_laps),
                     format(r.plan.consumption, Quantity::volume, units, 2),
                     r.plan.laps == r.plan.stint_laps
                         ? ""
                         : fmt::format(", the longest stint of {} laps in all", r.plan.laps));
  out += fmt::format("  tightest          {}{}, reserve {} = {}\n", clean.at.tightest_place,
                     clean.at.tightest_side.empty() ? "" : " (" + clean.at.tightest_side + ")",
                     format(clean.at.least_reserve, Quantity::volume, units, 2),
                     format(clean.at.least_seconds, Quantity::duration, units));
  if (const auto& never = r.lap->car->never_drawn; clean.exists && holds_up(never, clean.level)) {
    // Less than the tank's figures tell is no level. Rounded as the level is that stands on it.
    out += row("never comes out", volume(session::rounded_up(never.total(), units))) +
           "  which decides: with no more in the tank the lap is clean\n";
  } else {
    constexpr size_t shown = 3;
    for (size_t i = 0; i < std::min(shown, clean.below.events.size()); ++i)
      out += fmt::format("  {:<17} {}: {}\n", clean.exists ? "below that" : "with a full tank",
                         clean.below.events[i].place, clean.below.events[i].cause.in(units));
    if (clean.below.events.size() > shown)
      out += fmt::format("                    and {}\n",
                         counted(clean.below.events.size() - shown, "more place"));
  }
  if (const auto& l = r.learnt) {
    out += fmt::format("{}  a lap instead of {}, scatter {}, by {}",
                       row("as driven", format(l->consumption.mean, Quantity::volume, units, 2)),
                       format(l->before.mean, Quantity::volume, units, 2),
                       format(l->scatter(), Quantity::fraction, units),
                       counted(l->per_lap.size(), name_of(l->kind) + std::string(" session")));
    out += l->reads_over.empty()
               ? "\n"
               : fmt::format("; gauge error {}\n", format(l->gauge_error, Quantity::volume, units, 2));
  }
  out += faults_text(r.lap->course, units);
  if (working) {
    out += "\n";
    for (const Derivation* d : workings_of(r)) out += render_text(*d, units, 2);
  }
  return out;
}

std::string risk_text(const solve::SessionResult& s, const UnitSystem& units) {
  std::string out;
  if (!s.possible()) return out;
  // By the draws' chance one that hardly counts may go a little against the others: no "-0 %".
  for (const auto& c : s.risk.causes)
    out += fmt::format("  {:3.0f} % of margin   {}\n", std::max(0.0, c.share) * 100, c.name);
  out += fmt::format("  seed {}, {} draws, ", s.risk.seed, s.risk.draws);
  return out +
         (s.risk.draws < s.risk.least_draws()
              ? fmt::format("too few for this risk, which asks for {} or more\n", s.risk.least_draws())
              : fmt::format("standard error {}\n", format(s.risk.start_error, Quantity::volume, units, 2)));
}

}  // namespace uadze::report
