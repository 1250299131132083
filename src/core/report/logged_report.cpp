#include "core/report/logged_report.h"

#include <fmt/format.h>

#include <cmath>

#include "core/base/counted.h"

namespace uadze::report {

using project::Json;

namespace {

Json litres(const std::optional<double>& volume) { return volume ? Json(*volume * 1e3) : Json(nullptr); }

double at(const log::Log& log, const std::vector<double>& values, double t) {
  return values.empty() ? 0.0 : values[log.index_at(t)];
}

Json summary(const solve::Scores& s) {
  return {
      {"hits", s.hits}, {"misses", s.misses}, {"false_alarms", s.false_alarms}, {"rightly_quiet", s.quiet}};
}

std::string summary_words(const solve::Scores& s) {
  return fmt::format("hits {}, misses {}, false alarms {}, rightly quiet {}", s.hits, s.misses,
                     s.false_alarms, s.quiet);
}

}  // namespace

std::string fuel_text(const log::Log& log, const log::Laps& laps, const solve::LoggedFuel& fuel,
                      const UnitSystem& units) {
  const auto show = [&](double volume) { return format(volume, Quantity::volume, units); };
  std::string out = fmt::format("Flow: {}.\n", name_of(fuel.flow.from));
  if (!fuel.flow.absolute) out += "It has no scale: what was burnt is not known.\n";
  out += fmt::format("Level: {}.\n", fuel.level.from);
  const auto burnt = log::laps_burnt(log, laps, fuel.flow, fuel.level.scale);
  for (size_t k = 0; k < laps.all.size(); ++k) {
    const log::LoggedLap& lap = laps.all[k];
    out += fmt::format("  lap {:>3}  {:<8}", lap.number, name_of(lap.kind));
    if (fuel.flow.absolute) out += fmt::format(" burnt {:<10}", show(burnt.each[k]));
    if (fuel.level.known())
      out += fmt::format(" begins with {} +- {}", show(at(log, fuel.level.values, lap.begin)),
                         format(at(log, fuel.level.deviation, lap.begin), Quantity::volume, units, 2));
    out += "\n";
  }
  if (fuel.flow.absolute && burnt.flying > 0)
    out += fmt::format("A flying lap burns {}, scatter {:.1f} % ({} of them).\n",
                       format(burnt.mean, Quantity::volume, units, 3), 100 * burnt.deviation / burnt.mean,
                       burnt.flying);
  if (const auto& check = fuel.level.check)
    out += fmt::format("Put in less drained {}, counted {}: residual {}, scale of the flow {:.3f}.\n",
                       show(check->burnt), show(check->counted), show(check->residual()), check->scale());
  if (const auto gauge = log::gauge_check(log, fuel.level))
    out += fmt::format("The gauge reads {} {} than that, scatter {}.\n", show(std::abs(gauge->mean)),
                       gauge->mean < 0 ? "less" : "more", show(gauge->deviation));
  return out;
}

Json fuel_json(const log::Log& log, const log::Laps& laps, const solve::LoggedFuel& fuel) {
  const auto burnt = log::laps_burnt(log, laps, fuel.flow, fuel.level.scale);
  Json rows = Json::array();
  for (size_t k = 0; k < laps.all.size(); ++k) {
    const log::LoggedLap& lap = laps.all[k];
    Json row{{"lap", lap.number}, {"kind", name_of(lap.kind)}};
    row["burnt_l"] = fuel.flow.absolute ? Json(burnt.each[k] * 1e3) : Json(nullptr);
    row["level_l"] = fuel.level.known() ? Json(at(log, fuel.level.values, lap.begin) * 1e3) : Json(nullptr);
    row["level_error_l"] =
        fuel.level.known() ? Json(at(log, fuel.level.deviation, lap.begin) * 1e3) : Json(nullptr);
    rows.push_back(std::move(row));
  }
  Json out{{"flow_from", name_of(fuel.flow.from)}, {"level_from", fuel.level.from}, {"laps", rows}};
  out["per_lap_l"] = fuel.flow.absolute && burnt.flying ? Json(burnt.mean * 1e3) : Json(nullptr);
  out["per_lap_scatter_l"] =
      fuel.flow.absolute && burnt.flying > 1 ? Json(burnt.deviation * 1e3) : Json(nullptr);
  if (const auto& check = fuel.level.check)
    out["check"] = {{"counted_l", check->counted * 1e3},
                    {"burnt_l", check->burnt * 1e3},
                    {"residual_l", check->residual() * 1e3},
                    {"scale", check->scale()}};
  if (const auto gauge = log::gauge_check(log, fuel.level))
    out["gauge"] = {{"over_l", gauge->mean * 1e3}, {"scatter_l", gauge->deviation * 1e3}};
  return out;
}

std::string bracket_words(const solve::PlaceScore& place, const UnitSystem& units) {
  const auto show = [&](double volume) { return format(volume, Quantity::volume, units); };
  std::string out;
  if (place.highest_starved) out = "fell at " + show(*place.highest_starved);
  if (place.lowest_clean) out += (out.empty() ? "held at " : ", held at ") + show(*place.lowest_clean);
  return out;
}

std::string scores_text(const solve::Scores& scores, const UnitSystem& units) {
  std::string out = fmt::format("{:<28} {:>5} {:>5} {:>7} {:>13}  {}\n", "Place", "laps", "hits", "misses",
                                "false alarms", "logged pressure");
  for (const solve::PlaceScore& p : scores.places)
    out += fmt::format("{:<28} {:>5} {:>5} {:>7} {:>13}  {}\n", p.name, p.laps, p.hits, p.misses,
                       p.false_alarms, bracket_words(p, units));
  return out + summary_words(scores) + "\n";
}

Json scores_json(const solve::Scores& scores) {
  Json places = Json::array();
  for (const solve::PlaceScore& p : scores.places)
    places.push_back({{"place", p.name},
                      {"laps", p.laps},
                      {"hits", p.hits},
                      {"misses", p.misses},
                      {"false_alarms", p.false_alarms},
                      {"highest_starved_l", litres(p.highest_starved)},
                      {"lowest_clean_l", litres(p.lowest_clean)}});
  Json out = summary(scores);
  out["places"] = places;
  return out;
}

std::string calibration_text(const solve::CalibrationResult& r, const UnitSystem& units) {
  std::string out =
      fmt::format("Calibrated on {}, {} of them held out.\n", counted(r.laps, "lap"), r.held_out);
  for (const std::string& s : r.sentences) out += "  " + s + "\n";
  out += fmt::format("  {} places of laps: squared residuals {:.1f} before, {:.1f} after ({} runs).\n",
                     r.residuals, r.before, r.after, r.runs);
  out += "  fitted laps    before: " + summary_words(r.fitted_before) + "\n";
  out += "                 after:  " + summary_words(r.fitted_after) + "\n";
  out += "  held out laps  before: " + summary_words(r.held_before) + "\n";
  out += "                 after:  " + summary_words(r.held_after) + "\n";
  for (size_t k = 0; k < r.level_shifts.size(); ++k) {
    const double shift = r.level_shifts[k];
    out +=
        fmt::format("  log {}: in the tank was {}\n", k + 1,
                    std::abs(shift) < 5e-6 ? std::string("what is noted")
                                           : fmt::format("{} {} than is noted",
                                                         format(std::abs(shift), Quantity::volume, units, 2),
                                                         shift < 0 ? "less" : "more"));
  }
  return out;
}

Json calibration_json(const solve::CalibrationResult& r) {
  Json figures = Json::array();
  for (const auto& f : r.figures)
    figures.push_back({{"figure", name_of(f.figure)},
                       {"told", f.told},
                       {"factor", f.factor},
                       {"low_90", f.low()},
                       {"high_90", f.high()},
                       {"deviation", f.deviation},
                       {"deviation_before", f.before}});
  Json shifts = Json::array();
  for (double s : r.level_shifts) shifts.push_back(s * 1e3);
  return {{"laps", r.laps},
          {"held_out", r.held_out},
          {"logs", r.value.logs},
          {"figures", figures},
          {"level_shifts_l", shifts},
          {"residuals", r.residuals},
          {"squares_before", r.before},
          {"squares_after", r.after},
          {"fitted_before", summary(r.fitted_before)},
          {"fitted_after", summary(r.fitted_after)},
          {"held_out_before", summary(r.held_before)},
          {"held_out_after", summary(r.held_after)}};
}

}  // namespace uadze::report
