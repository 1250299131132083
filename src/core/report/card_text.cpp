#include "core/report/card_text.h"

#include "core/base/counted.h"
#include "core/circuit/findings.h"
#include "core/circuit/shortfall.h"

#include <fmt/format.h>

#include <cmath>

namespace uadze::report {
namespace {

/// Gauge and dip depth up to the next per cent and millimetre: never too little.
std::string gauge_text(double reading) {
  return fmt::format("{:.0f} %", std::ceil(reading * 100 - 1e-6) + 0.0);  // -0 + 0 is 0
}

std::string up(double volume, const UnitSystem& units) {
  return format(session::rounded_up(volume, units), Quantity::volume, units);
}

/// Stints, and what to add by what is in.
void refuelling(CardText& out, const solve::SessionResult& s, const UnitSystem& units) {
  const auto show = [&](double v, Quantity q, int decimals = -1) { return format(v, q, units, decimals); };
  int number = 0;
  for (const auto& stint : s.stints) {
    ++number;
    if (number > 1 && number < static_cast<int>(s.stints.size()) &&
        stint.laps == s.stints[static_cast<size_t>(number) - 2].laps)
      continue;
    out.refuelling.push_back(
        {s.stints.size() > 1 ? fmt::format("stint {}", number) : "the stint",
         fmt::format("{}, {}{}; one lap more needs {} or risks {}", counted(stint.laps, "lap"),
                     number > 1 ? "add " + up(stint.add, units) + " to reach " : "", up(stint.need, units),
                     show(stint.one_more, Quantity::volume),
                     show(stint.one_more_risk, Quantity::fraction, 0))});
  }
  if (!s.stints.empty())
    out.refuelling.push_back({"filled to the limit", s.stints.front().latest_lap > 0
                                                         ? fmt::format("stop after lap {} at the latest",
                                                                       s.stints.front().latest_lap)
                                                         : std::string("not one lap")});
  // What to add by what is in: from what is brought back up to the start fuel.
  for (int k = 0; k <= 4; ++k) {
    const double in = s.risk.bring_back + (s.risk.start - s.risk.bring_back) * k / 5;
    out.fill.push_back({show(in, Quantity::volume), up(std::max(s.risk.start - in, 0.0), units)});
  }
}

}  // namespace

CardText card_text(const solve::SessionResult& s, const UnitSystem& units, const logbook::Readiness* ready) {
  CardText out;
  const solve::LapResult& lap = *s.lap;
  const double density = lap.car->fuel_density, tank = lap.car->tank->volume();
  const auto show = [&](double v, Quantity q, int decimals = -1) { return format(v, q, units, decimals); };
  out.title = s.session;
  out.subtitle = s.setup + " | " + lap.lap_name;
  out.start = {"start with", s.possible() ? up(s.risk.start, units) : "none"};
  out.back = {"bring back", s.possible() ? up(s.risk.bring_back, units) : "none"};
  const auto amounts = [&](const char* what, double v, const session::Readings& reads) {
    v = session::rounded_up(v, units);
    std::string text =
        show(v * density, Quantity::mass) + ", " + show(v / tank, Quantity::fraction, 0) + " of the tank";
    if (reads.gauge) text += ", gauge " + gauge_text(*reads.gauge);
    if (reads.dip)
      text += ", dip " + show(session::dip_rounded_up(*reads.dip, units), Quantity::length,
                              session::dip_decimals(units));
    out.also.push_back({what, text});
  };
  if (s.possible()) {
    amounts("start", s.risk.start, s.start_reads);
    amounts("bring back", s.risk.bring_back, s.back_reads);
  }
  if (ready && !ready->ready) {
    std::string open;
    const size_t shown = std::min<size_t>(ready->open.size(), 3);
    for (size_t k = 0; k < shown; ++k) open += (k ? "; " : "") + ready->open[k];
    if (ready->open.size() > shown) open += fmt::format("; {} more", ready->open.size() - shown);
    out.also.push_back({"car not ready", open.empty() ? "no gate of its commissioning is passed" : open});
  } else if (ready) {
    out.also.push_back({"car ready", "every gate of its commissioning passed, nothing overdue, by its book"});
  }
  if (!s.possible())
    out.also.push_back({"no fuel is enough", "it starves even with a full tank: not this setup"});
  if (s.filled && s.possible())
    out.also.push_back({"put in at " + show(s.filled->temperature, Quantity::temperature, 0),
                        up(s.filled->start, units) + "; at most " + show(s.filled->limit, Quantity::volume) +
                            ", or it runs over when it is warm"});
  for (const auto& fault : lap.course.delivery->faults)
    if (fault.severity == Severity::error)
      out.also.push_back(
          {"circuit",
           std::string(name_of(fault.kind)) + ", worst " + starvation::worst_place(lap.course, fault) + ": " +
               (fault.kind == circuit::LapFaultKind::lift_short ? std::string("the surge tank empties")
                : fault.leaner() > circuit::most_lean
                    ? std::string("no mixture that lights")
                    : show(fault.leaner(), Quantity::fraction, 0) + " lean") +
               fmt::format(", {} a lap, whatever is in the tank", fault.count)});
  if (!s.risk.fits && s.possible())
    out.also.push_back({"does not fit", "only " + show(lap.usable_volume, Quantity::volume) +
                                            " may be filled: fewer laps a stint, or another setup"});
  // Where no fuel is enough, nothing is said of how much to put in.
  if (s.possible()) refuelling(out, s, units);
  std::vector<starvation::CornerLevel> corners = corner_levels(solve::map_of(lap));
  for (size_t k = 0; k < std::min<size_t>(corners.size(), 5); ++k)
    out.corners.push_back({corners[k].place,
                           (lap.clean.exists ? "under " + show(corners[k].level, Quantity::volume)
                                             : std::string("full tank too")) +
                               (corners[k].event.side.empty() ? "" : ", " + corners[k].event.side),
                           corners[k].event.start_distance});
  const auto& e = s.entered;
  out.assumptions.push_back(
      fmt::format("{}: {} of {} each, {} laps' worth of slow laps, sample {}, gauge error {}",
                  name_of(e.kind), counted(s.plan.stint_laps, "lap"),
                  show(s.plan.consumption, Quantity::volume, 2), fmt::format("{:.2f}", s.plan.slow_laps),
                  show(e.sample, Quantity::volume), show(e.gauge_error, Quantity::volume)));
  if (s.possible())
    out.assumptions.push_back(fmt::format("risk {}, {} draws, seed {}, margin {} over the mean",
                                          show(s.risk.risk, Quantity::fraction, 1), s.risk.draws, s.risk.seed,
                                          show(s.risk.margin, Quantity::volume)));
  out.assumptions.push_back(
      fmt::format("grip {}, fuel at {}, {}", show(e.grip, Quantity::fraction, 0),
                  show(e.temperature.value_or(lap.fuel_temperature), Quantity::temperature, 0),
                  show(density, Quantity::density)));
  out.assumptions.push_back(
      (s.possible() ? "least end " + up(s.end.end, units) : std::string("no least end")) +
      (lap.clean.exists ? ", clean when held steady from " + up(lap.clean.level, units)
                        : ", not even a full tank is clean") +
      (!s.possible() ? std::string()
       : lap.band ? fmt::format(", model band {} to {}", up(lap.band->low, units), up(lap.band->high, units))
                  : ", without the model's band") +
      (lap.car->calibration ? ", " + starvation::calibrated_words(lap.car->calibration) + " (" +
                                  lap.car->calibration->date + ")"
                            : "") +
      "; fuel in the main tank, surge tank and lines full besides");
  out.cautions = {"The series' regulations stand above this page; it does not certify the car as safe.",
                  "Fuel vapour ignites: ventilate, no sparks, fire cover at every filling. A lean engine can "
                  "be destroyed in seconds: check against the log."};
  if (lap.fuel.methanol > 0) out.cautions.emplace_back(circuit::methanol_caution);
  return out;
}

}  // namespace uadze::report
