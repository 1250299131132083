// A circuit's report under conditions that no day on the dyno has: what it says must agree with itself.
#include "core/report/circuit_report.h"

#include <gtest/gtest.h>

#include <map>

#include "core/report/sound.h"
#include "support/demo.h"
#include "support/figures.h"
#include "support/random_shapes.h"

namespace uadze::report {
namespace {

using circuit::WhatIf;

struct Day {
  std::string words;
  solve::PointOptions options;
};

Day random_day(test::Random& r, const project::Setup& setup) {
  Day day;
  auto& o = day.options;
  static constexpr double share[] = {0.0, 0.02, 0.3, 0.8, 1.0, 1.3, 3.0};
  const double power = share[r.whole(0, 6)] * setup.engine.power;
  o.power = power;
  day.words = setup.name + fmt::format(", {:.0f} kW", power / 1e3);
  const auto set = [&](std::optional<double>& to, const char* name, std::initializer_list<double> values) {
    if (r.whole(0, 2) > 0) return;
    to = *(values.begin() + r.whole(0, static_cast<int>(values.size()) - 1));
    day.words += fmt::format(", {} {:g}", name, *to);
  };
  set(o.manifold, "manifold", {25e3, 101e3, 250e3});
  set(o.supply, "supply", {6.0, 9.0, 12.0, 16.0});
  set(o.temperature, "temperature", {253.15, 293.15, 333.15});
  set(o.altitude, "altitude", {0.0, 1500.0, 4000.0});
  set(o.filter_load, "filter load", {0.0, 0.5, 1.0});
  set(o.level, "level", {0.0, 0.2e-3, 3e-3, 7e-3});
  if (r.whole(0, 3) == 0) {
    o.acceleration = 20 * r.direction();
    day.words += fmt::format(", pushed {:.1f} {:.1f} {:.1f}", o.acceleration->x(), o.acceleration->y(),
                             o.acceleration->z());
  }
  for (int k = r.whole(0, 2); k > 0; --k) {
    const auto what = static_cast<WhatIf>(r.whole(0, static_cast<int>(circuit::what_ifs().size()) - 1));
    o.what_ifs.push_back(what);
    day.words += std::string(", ") + circuit::what_ifs()[static_cast<size_t>(what)].name;
  }
  return day;
}

/// What comes in goes out, at each node that is no reservoir, by the report's own figures.
void expect_balance(const Json& json) {
  std::map<std::string, double> in, most;
  for (const Json& b : json["branches"]) {
    const double flow = b["flow_l_h"];
    in[b["to"]] += flow, in[b["from"]] -= flow;
    for (const char* end : {"to", "from"}) most[b[end]] = std::max(most[b[end]], std::abs(flow));
  }
  double all = 0;
  for (const auto& [node, sum] : in) all += sum;
  EXPECT_NEAR(all, 0, 1e-6) << "each flow leaves one node and enters another";
}

class CircuitReport : public testing::TestWithParam<const char*> {};

TEST_P(CircuitReport, AgreesWithItselfOnAnyDay) {
  test::Demo opened = test::demo(GetParam());
  test::Random r(11);
  for (int k = 0; k < 60; ++k) {
    auto& setups = opened.project.setups;
    for (project::Setup& each : setups) each.limits.mixture.corrected = k % 4 == 3;
    const project::Setup& setup =
        setups[static_cast<size_t>(r.whole(0, static_cast<int>(setups.size()) - 1))];
    if (!setup.circuit) continue;
    const Day day = random_day(r, setup);
    SCOPED_TRACE(day.words);
    solve::CircuitPoint point;
    try {
      point = solve::circuit_point(opened.project, {.setup = setup.name, .lap = {}, .session = {}},
                                   day.options, *opened.sources);
    } catch (const InputError& refused) {
      ADD_FAILURE() << refused.what();
      continue;
    }
    const Json json = point_json(point, setup, {});
    std::set<std::string> nulls;
    for (const auto& [place, why] : json["null_because"].items()) {
      nulls.insert(place.substr(place.rfind('/') + 1));
      EXPECT_TRUE(json[Json::json_pointer(place)].is_null())
          << place << " has a value, and a reason for none";
    }
    nulls.insert({"without_flow_gauge_kpa", "lasts_s"});  // nothing is held; it does not drain
    EXPECT_EQ(test::unsound(json, nulls), "");
    const std::string text = point_text(point, setup);
    EXPECT_EQ(test::unsound_words(text), "") << text;
    EXPECT_EQ(text.find("empties at 0 L/h"), std::string::npos) << text;
    EXPECT_EQ(text.find("nothing is held,"), std::string::npos)
        << "no pressure across injectors without fuel";
    // What all else comes of leads.
    if (point.bare.empty() && point.state.liquid.vapour_pressure > point.state.ambient) {
      EXPECT_EQ(json["verdict"].get<std::string>().rfind("The fuel boils in the tank", 0), 0u) << text;
    }

    const double asked = json["conditions"]["demand_l_h"], available = json["capacity"]["available_l_h"];
    if (json["shortfall"].is_null()) {
      // More than can be had at the set pressure: by less pressure, or from a surge tank for a time.
      if (available < 0.995 * asked) {
        const std::string verdict = json["verdict"];
        const bool starved = verdict.find("starved") != std::string::npos || verdict.starts_with("No fuel") ||
                             verdict.starts_with("The fuel boils");
        const bool drains = json.contains("surge_tank") && json["surge_tank"]["lasts_s"].is_number();
        EXPECT_TRUE(starved || drains) << available << " of " << asked << " L/h can be had: " << verdict;
      }
    } else {
      const double burnt = json["shortfall"]["burnt_l_h"];
      EXPECT_GE(burnt, 0);
      EXPECT_LT(burnt, asked);
      // The same power is told wherever it is told, of the day's fuel.
      double safe = std::numeric_limits<double>::infinity();
      for (const Json& limit : json["capacity"]["limits"])
        if (!limit["text"].get<std::string>().starts_with("The lift pumps"))
          safe = std::min(safe, limit["power_kw"].get<double>());
      if (!point.gas_to_engine) {
        EXPECT_NEAR(json["shortfall"]["safe_power_kw"].get<double>(), safe, 1e-6 * (1 + safe));
      }
      EXPECT_NEAR(json["shortfall"]["asked_l_h"].get<double>(), asked, 1e-6 * asked);
    }
    // What is said of the rail is said of the state that is shown.
    const std::string starved = "The rail is starved: ";
    for (const circuit::Finding& f : point.state.findings)
      if (f.text.text.starts_with(starved)) {
        EXPECT_EQ(f.text.values[0].first, point.state.rail_difference) << text;
      }
    for (const circuit::PumpState& pump : point.state.pumps)
      if (pump.dry) {
        EXPECT_NEAR(pump.flow, 0, 1e-10) << pump.name << " draws gas";
        EXPECT_GT(pump.current, 0) << pump.name << " is not switched off";
      }
    for (const Json& node : json["nodes"])
      EXPECT_GE(node["pressure_kpa"].get<double>(), -1e-6) << node["name"] << ": under a vacuum";
    for (const Json& pump : json["pumps"]) {
      const std::string name = pump["name"];
      EXPECT_GE(pump["electric_w"].get<double>(), pump["hydraulic_w"].get<double>() - 1e-6) << name;
      const bool shuts = std::find(day.options.what_ifs.begin(), day.options.what_ifs.end(),
                                   WhatIf::no_check_valve) == day.options.what_ifs.end();
      if (shuts) {
        EXPECT_GE(pump["flow_l_h"].get<double>(), -0.01) << name << ": back through its check valve";
      }
      EXPECT_GE(pump["current_a"].get<double>(), 0) << name;
      if (!pump["on"]) {
        EXPECT_EQ(pump["current_a"].get<double>(), 0) << name;
      }
      if (!pump["voltage_v"].is_null()) {
        EXPECT_LE(pump["voltage_v"].get<double>(),
                  point.at.at.supply.value_or(point.at.circuit.supply) + 1e-9)
            << name;
      }
      EXPECT_GE(pump["flow_lost_to_wire_l_h"].get<double>(), -0.01) << name;
    }
    for (const Json& row : json["gauge_card"])
      EXPECT_GE(row["difference_kpa"].get<double>(), 0) << row["condition"];
    for (const Json& limit : json["capacity"]["limits"]) {
      EXPECT_GE(limit["demand_l_h"].get<double>(), -1e-9) << limit["text"];
      EXPECT_EQ(test::unsound_words(limit["text"]), "");
    }
    for (const Json& cost : json["capacity"]["costs"])
      EXPECT_GE(cost["costs_l_h"].get<double>(), -0.05) << cost["part"];
    for (const char* list : {"findings", "cautions"})
      for (const Json& f : json[list])
        EXPECT_EQ(test::unsound_words(f.is_string() ? f.get<std::string>() : f["text"].get<std::string>()),
                  "");
    EXPECT_EQ(test::unsound_words(json["verdict"]), "");
    expect_balance(json);
  }
}

INSTANTIATE_TEST_SUITE_P(Demos, CircuitReport, testing::Values("ostrel-p4", "ostrel-tarn", "ostrel-wisp"));

}  // namespace
}  // namespace uadze::report
