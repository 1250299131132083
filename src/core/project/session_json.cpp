#include "core/project/session_json.h"

#include "core/project/tank_json.h"

namespace uadze::project {
namespace {

constexpr double litre = 1e-3;

const std::vector<std::string>& kind_names() {
  static const std::vector<std::string> names = [] {
    std::vector<std::string> out;
    for (int k = 0; k <= static_cast<int>(session::Kind::test_bench); ++k)
      out.emplace_back(session::kind_name(static_cast<session::Kind>(k)));
    return out;
  }();
  return names;
}

/// Slow laps with a share of their own: key and member.
struct OwnShare {
  const char* key;
  std::optional<double> session::Session::*at;
};
constexpr OwnShare own_shares[] = {{"formation_percent", &session::Session::formation_share},
                                   {"out_percent", &session::Session::out_share},
                                   {"in_percent", &session::Session::in_share},
                                   {"cool_percent", &session::Session::cool_share},
                                   {"neutral_percent", &session::Session::neutral_share}};

struct ScatterKey {
  const char* key;
  double session::Scatter::*at;
};
constexpr ScatterKey scatter_keys[] = {{"consumption_percent", &session::Scatter::consumption},
                                       {"lap_consumption_percent", &session::Scatter::lap_consumption},
                                       {"lap_time_percent", &session::Scatter::lap_time},
                                       {"grip_percent", &session::Scatter::grip}};

}  // namespace

session::Session read_session(JsonReader in) {
  session::Session out;
  out.name = in.text("name");
  out.kind = static_cast<session::Kind>(in.choice("kind", kind_names(), 0));
  out.lap =
      in.text("lap", out.kind == session::Kind::test_bench ? std::optional<std::string>("") : std::nullopt);
  if (in.has("laps")) out.laps = in.whole("laps", 1, 2000, 1);
  out.duration =
      in.number_if("duration_min", {.factor = 60, .low = 0, .high = 2880, .missing = {}, .above_low = true});
  out.refuel_stops = in.whole("refuel_stops", 0, 200, 0);
  out.formation_laps = in.whole("formation_laps", 0, 20, 0);
  out.out_laps = in.whole("out_laps", 0, 20, 0);
  out.in_laps = in.whole("in_laps", 0, 20, 0);
  out.cool_laps = in.whole("cool_laps", 0, 20, 0);
  out.neutral_laps = in.whole("neutral_laps", 0, 500, 0);
  out.slow_lap_share =
      in.number("slow_lap_percent", {.factor = 0.01, .low = 0, .high = 200, .missing = out.slow_lap_share});
  for (const OwnShare& own : own_shares)
    out.*own.at = in.number_if(own.key, {.factor = 0.01, .low = 0, .high = 200});
  out.neutral_time = in.number("neutral_time_percent",
                               {.factor = 0.01, .low = 100, .high = 1000, .missing = out.neutral_time});
  out.sample = in.number("sample_l", {.factor = litre, .low = 0, .high = 50, .missing = 0.0});
  out.gauge_error = in.number("gauge_error_l", {.factor = litre, .low = 0, .high = 50, .missing = 0.0});
  out.consumption_per_lap = in.number_if(
      "consumption_l_per_lap", {.factor = litre, .low = 0, .high = 500, .missing = {}, .above_low = true});
  out.grip = in.number("grip_percent", {.factor = 0.01, .low = 10, .high = 200, .missing = 1.0});
  out.temperature = in.number_if("fuel_c", {.offset = 273.15, .low = -40, .high = 90});
  out.risk = in.number("risk_percent",
                       {.factor = 0.01, .low = 0, .high = 50, .missing = out.risk, .above_low = true});
  if (auto scatter = in.object("scatter")) {
    for (const ScatterKey& k : scatter_keys)
      out.scatter.*k.at =
          scatter->number(k.key, {.factor = 0.01, .low = 0, .high = 50, .missing = out.scatter.*k.at});
    scatter->warn_unknown();
  }
  out.rule = in.number_if("rule_of_thumb_percent",
                          {.factor = 0.01, .low = 0, .high = 100, .missing = {}, .above_low = true});
  in.warn_unknown();
  return out;
}

nlohmann::ordered_json session_json(const session::Session& s) {
  nlohmann::ordered_json json{{"name", s.name}, {"kind", session::kind_name(s.kind)}, {"lap", s.lap}};
  if (s.laps) json["laps"] = *s.laps;
  if (s.duration) json["duration_min"] = file_number(*s.duration, 60);
  json["refuel_stops"] = s.refuel_stops;
  json["formation_laps"] = s.formation_laps;
  json["out_laps"] = s.out_laps;
  json["in_laps"] = s.in_laps;
  json["cool_laps"] = s.cool_laps;
  json["neutral_laps"] = s.neutral_laps;
  json["slow_lap_percent"] = file_number(s.slow_lap_share, 0.01);
  for (const OwnShare& own : own_shares)
    if (s.*own.at) json[own.key] = file_number(*(s.*own.at), 0.01);
  json["neutral_time_percent"] = file_number(s.neutral_time, 0.01);
  json["sample_l"] = file_number(s.sample, litre);
  json["gauge_error_l"] = file_number(s.gauge_error, litre);
  if (s.consumption_per_lap) json["consumption_l_per_lap"] = file_number(*s.consumption_per_lap, litre);
  json["grip_percent"] = file_number(s.grip, 0.01);
  if (s.temperature) json["fuel_c"] = file_number(*s.temperature, 1, 273.15);
  json["risk_percent"] = file_number(s.risk, 0.01);
  for (const ScatterKey& k : scatter_keys) json["scatter"][k.key] = file_number(s.scatter.*k.at, 0.01);
  if (s.rule) json["rule_of_thumb_percent"] = file_number(*s.rule, 0.01);
  return json;
}

}  // namespace uadze::project
