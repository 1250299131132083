#include "core/report/diagnosis_report.h"

#include <fmt/format.h>

namespace uadze::report {

using diagnosis::LoggedEvent;
using diagnosis::Sign;

std::string lost_words(const LoggedEvent& e, const UnitSystem& units) {
  switch (e.sign) {
    case Sign::pressure:
      return format(e.lost, Quantity::pressure, units);
    case Sign::lean:
      return format(e.lost / e.usual, Quantity::fraction, units) + " leaner";
    case Sign::pump:
      return format(e.lost, Quantity::current, units);
    case Sign::level:
      return "";
  }
  return "";
}

std::string where_words(const LoggedEvent& e) {
  std::string out = e.place;
  const auto add = [&](const std::string& words) {
    if (!words.empty()) out += (out.empty() ? "" : ", ") + words;
  };
  add(e.phase);
  if (!e.side.empty()) add("fuel to the " + e.side);
  return out;
}

std::string diagnosis_text(const diagnosis::Found& found, const diagnosis::Diagnosis& said,
                           const UnitSystem& units) {
  std::string out;
  if (found.usual > 0)
    out += fmt::format("Over the injectors {} is the measure.\n",
                       format(found.usual, Quantity::pressure, units));
  if (found.events.empty()) out += "no events\n";
  for (const LoggedEvent& e : found.events)
    out += fmt::format("  lap {:>3}  {:>9}  {:<16} for {:<8} {:<14} {}\n", e.lap,
                       format(e.distance, Quantity::distance, units), name_of(e.sign),
                       format(e.duration(), Quantity::duration, units), lost_words(e, units), where_words(e));
  out += "\n" + said.answer + "\n";
  for (const diagnosis::Suspect& s : said.causes) {
    if (s.probability < 0.01) continue;
    out += fmt::format("  {:>9}  {}\n", diagnosis::sure_words(s.probability), name_of(s.cause));
    for (const std::string& e : s.evidence) out += "         + " + e + "\n";
    for (const std::string& e : s.against) out += "         - " + e + "\n";
  }
  if (!said.next_test.empty()) out += "Next: " + said.next_test + "\n";
  return out;
}

project::Json diagnosis_json(const diagnosis::Found& found, const diagnosis::Diagnosis& said) {
  project::Json out;
  if (found.usual > 0)
    out["usual_bar"] = found.usual * 1e-5;
  else
    out["usual_bar"] = nullptr;
  out["events"] = project::Json::array();
  for (const LoggedEvent& e : found.events) {
    project::Json j{{"what", name_of(e.sign)},
                    {"begin_s", e.begin},
                    {"end_s", e.end},
                    {"lap", e.lap},
                    {"distance_m", e.distance},
                    {"place", e.place},
                    {"phase", e.phase},
                    {"fuel_to", e.side},
                    {"lateral_g", e.lateral / standard_gravity},
                    {"longitudinal_g", e.longitudinal / standard_gravity}};
    if (e.sign == Sign::pressure) j["lost_bar"] = e.lost * 1e-5;
    if (e.sign == Sign::lean) j["leaner_percent"] = 100 * e.lost / e.usual;
    if (e.sign == Sign::pump) j["lost_a"] = e.lost;
    if (e.level) j["level_l"] = *e.level * 1e3;
    out["events"].push_back(std::move(j));
  }
  out["answer"] = said.answer;
  out["causes"] = project::Json::array();
  for (const diagnosis::Suspect& s : said.causes)
    out["causes"].push_back({{"cause", name_of(s.cause)},
                             {"probability", s.probability},
                             {"explained", s.explained},
                             {"amount", s.amount},
                             {"evidence", s.evidence},
                             {"against", s.against}});
  if (said.also) out["also"] = name_of(*said.also);
  if (!said.next_test.empty()) out["next_test"] = said.next_test;
  return out;
}

std::string trend_text(const std::vector<diagnosis::Wear>& logs, const UnitSystem& units) {
  std::string out =
      fmt::format("{:<32} {:>9} {:>9} {:>9} {:>9}\n", "log", "loss", "current", "loaded", "standing");
  const auto show = [&](const std::optional<double>& v, Quantity q) {
    return v ? format(*v, q, units) : std::string("-");
  };
  for (const auto& w : logs)
    out += fmt::format("{:<32} {:>9} {:>9} {:>9} {:>9}\n", w.log, show(w.loss, Quantity::fraction),
                       show(w.current, Quantity::current), show(w.loaded, Quantity::voltage),
                       show(w.standing, Quantity::voltage));
  const auto found = diagnosis::trends(logs);
  if (found.empty()) out += "Three logs or more tell a trend.\n";
  for (const auto& t : found) out += t.sentence + "\n";
  return out;
}

project::Json trend_json(const std::vector<diagnosis::Wear>& logs) {
  using project::Json;
  const auto value = [](const std::optional<double>& v) { return v ? Json(*v) : Json(nullptr); };
  Json rows = Json::array(), lines = Json::array();
  for (const auto& w : logs)
    rows.push_back({{"log", w.log},
                    {"loss_at_full_flow", value(w.loss)},
                    {"pump_current_a", value(w.current)},
                    {"supply_loaded_v", value(w.loaded)},
                    {"supply_standing_v", value(w.standing)}});
  for (const auto& t : diagnosis::trends(logs))
    lines.push_back({{"what", t.what},
                     {"first", t.first},
                     {"last", t.last},
                     {"per_log", t.per_log},
                     {"error", t.error},
                     {"clear", t.clear},
                     {"sentence", t.sentence}});
  return {{"logs", rows}, {"trends", lines}};
}

}  // namespace uadze::report
