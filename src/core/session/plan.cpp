#include "core/session/plan.h"
#include "core/base/counted.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

namespace uadze::session {

namespace {

double share(const Session& s, const std::optional<double>& own) { return own.value_or(s.slow_lap_share); }

}  // namespace

int laps_of(const Session& s, double lap_time) {
  if (s.laps) return *s.laps;
  if (!s.duration) return 1;
  // Neutralised laps are part of the laps, but take their time; stops take theirs.
  const double more = s.neutral_laps * (s.neutral_time - 1) * lap_time;
  const double flying = std::max(*s.duration - more - s.refuel_stops * s.stop_time, lap_time);
  return std::max(1, static_cast<int>(std::ceil(flying / lap_time - 1e-9)));
}

double driving_time(const Session& s, double lap_time) {
  return (laps_of(s, lap_time) + s.neutral_laps * (s.neutral_time - 1)) * lap_time;
}

StintPlace first_stint(const Session& s) { return {true, s.refuel_stops == 0}; }

double laps_worth(const Session& s, int stint_laps, const StintPlace& place) {
  const bool stops = s.refuel_stops > 0;
  double beside = 0.0;
  if (place.first) beside += s.formation_laps * share(s, s.formation_share);
  if (!place.first || !stops || s.formation_laps == 0) beside += s.out_laps * share(s, s.out_share);
  if (place.last) beside += s.cool_laps * share(s, s.cool_share);
  if (!place.last || !stops || s.cool_laps == 0) beside += s.in_laps * share(s, s.in_share);
  const int neutral = s.refuel_stops == 0 ? std::min(s.neutral_laps, stint_laps) : 0;
  return stint_laps - neutral * (1 - share(s, s.neutral_share)) + beside;
}

Faults session_faults(const Session& s) {
  Faults out;
  const auto fail = [&](const auto& member, std::string expected, std::string found) {
    add_fault(out, Severity::error, place_of(member), std::move(expected), std::move(found));
  };
  if (!s.laps && !s.duration) fail(s, "laps or duration_min", "neither");
  if (s.laps && s.duration) fail(s, "either laps or duration_min", "both");
  if (s.lap.empty() && s.kind != Kind::test_bench)
    fail(s.lap, "the name of one of the laps (only a test bench session does without)", "none");
  if (s.laps && s.refuel_stops >= *s.laps)
    fail(s.refuel_stops, "fewer stops than the " + counted(*s.laps, "lap"),
         fmt::format("{}", s.refuel_stops));
  if (s.laps && s.neutral_laps > *s.laps)
    fail(s.neutral_laps, "no more than the " + counted(*s.laps, "lap") + " that they are part of",
         fmt::format("{}", s.neutral_laps));
  if (!(s.risk > 0) || s.risk >= 0.5) fail(s.risk, "above 0 and under 50", fmt::format("{:g}", s.risk * 100));
  return out;
}

Plan make_plan(const Session& s, const PlanInput& in) {
  Plan plan;
  plan.consumption = s.consumption_per_lap.value_or(in.consumption_per_lap);
  plan.laps = laps_of(s, in.lap_time);
  const int stints = s.refuel_stops + 1;
  plan.stint_laps = (plan.laps + stints - 1) / stints;
  plan.neutral_laps = s.refuel_stops == 0 ? std::min(s.neutral_laps, plan.stint_laps) : 0;
  const double worth = laps_worth(s, plan.stint_laps, first_stint(s));
  plan.slow_laps = worth - (plan.stint_laps - plan.neutral_laps);
  plan.bring_back = in.least_end + s.sample + s.gauge_error;
  plan.start = plan.bring_back + worth * plan.consumption;
  plan.start_mass = plan.start * in.density;
  plan.start_share = plan.start / in.tank_volume;
  plan.bring_back_mass = plan.bring_back * in.density;
  plan.bring_back_share = plan.bring_back / in.tank_volume;
  plan.fits = plan.start <= in.usable_volume * (1 + 1e-12);

  const std::string from = s.consumption_per_lap ? "measured, entered" : "the lap's fuel flow";
  const Term clean{"V_end", "least left when the engine stops", in.least_end, Quantity::volume,
                   "the stint marched down"};
  const Term sample{"V_sample", "fuel sample", s.sample, Quantity::volume, "entered"};
  const Term gauge{"V_gauge", "gauge error", s.gauge_error, Quantity::volume, "entered"};
  plan.start_working = {
      .name = "Least start fuel",
      .value = plan.start,
      .quantity = Quantity::volume,
      .formula = "V_start = V_end + (n + m) c + V_sample + V_gauge",
      .inputs = {clean,
                 {"n",
                  stints > 1 ? fmt::format("flying laps of the first of {} stints, the longest", stints)
                             : "flying laps",
                  static_cast<double>(plan.stint_laps - plan.neutral_laps), Quantity::count,
                  s.laps ? "entered" : "time / lap time, rounded up"},
                 {"c", "consumption of a flying lap", plan.consumption, Quantity::volume, from},
                 {"m",
                  stints > 1 ? "formation, out and in laps of that stint, as flying laps"
                             : "formation, out, in, cool-down and neutralised laps, as flying laps",
                  plan.slow_laps, Quantity::plain,
                  "their number times their share of a flying lap's consumption"},
                 sample,
                 gauge},
      .source = "sum of what is burnt and what must be left",
      .note =
          "Fuel in the main tank; surge tank and lines are full besides. Weigh against the series' rules."};
  if (s.duration)
    plan.start_working.steps.push_back(
        {.name = "Flying laps in all",
         .value = static_cast<double>(plan.laps),
         .quantity = Quantity::count,
         .formula = "N = (T - stops t_stop) / t, rounded up: the lap that runs when time is up is finished",
         .inputs = {
             {"T", "session", *s.duration, Quantity::duration, "entered"},
             {"t", "lap time", in.lap_time, Quantity::duration, "lap"},
             {"stops", "refuelling stops", static_cast<double>(s.refuel_stops), Quantity::count, "entered"},
             {"t_stop", "each takes", s.stop_time, Quantity::duration, "entered"}}});
  plan.bring_back_working = {.name = "Least fuel to bring back",
                             .value = plan.bring_back,
                             .quantity = Quantity::volume,
                             .formula = "V_back = V_end + V_sample + V_gauge",
                             .inputs = {clean, sample, gauge},
                             .source = "what must be left when the last lap ends"};
  const auto weighed = [&](const char* name, double mass, const char* symbol, const char* what,
                           double volume) {
    return Derivation{
        .name = name,
        .value = mass,
        .quantity = Quantity::mass,
        .formula = std::string("m = rho ") + symbol,
        .inputs = {{"rho", "density at fuel temperature", in.density, Quantity::density, "computed"},
                   {symbol, what, volume, Quantity::volume, "computed"},
                   {"share", "of the tank's whole volume", volume / in.tank_volume, Quantity::fraction,
                    "computed"}}};
  };
  plan.mass_working =
      weighed("Mass of the start fuel", plan.start_mass, "V_start", "least start fuel", plan.start);
  plan.bring_back_mass_working = weighed("Mass to bring back", plan.bring_back_mass, "V_back",
                                         "least fuel to bring back", plan.bring_back);
  return plan;
}

namespace {

double up_to_step(double si, const Unit& unit, int decimals) {
  const double step = std::pow(10.0, -decimals);
  return unit.to_si(std::ceil(unit.from_si(si) / step - 1e-6) * step);
}

}  // namespace

double rounded_up(double volume, const UnitSystem& units) {
  const Unit unit = shown_unit(Quantity::volume, units);
  return up_to_step(volume, unit, unit.decimals);
}

double dip_rounded_up(double dip, const UnitSystem& units) {
  return up_to_step(dip, shown_unit(Quantity::length, units), dip_decimals(units));
}

int dip_decimals(const UnitSystem& units) { return units.length == LengthUnit::inch ? 1 : 0; }

}  // namespace uadze::session
