#include "core/project/circuit_json.h"

#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include <fstream>

#include "core/project/catalogue_file.h"
#include "core/project/circuit_case.h"
#include "core/project/project.h"
#include "support/circuits.h"
#include "support/temp_folder.h"

namespace uadze::project {
namespace {

using test::slurp;
using test::source;
using ::testing::HasSubstr;

std::string refusal(const std::function<void()>& doing) {
  try {
    doing();
  } catch (const InputError& error) {
    return text_of(error.messages());
  }
  return "accepted";
}

TEST(CircuitJson, ARandomCircuitSurvivesTheFile) {
  test::Random random(3);
  for (int k = 0; k < 50; ++k) {
    circuit::Circuit c = test::random_case(random).circuit;
    const Json once = circuit_json(c);
    Messages messages;
    const circuit::Circuit read = read_circuit(JsonReader(once, "x", messages));
    ASSERT_TRUE(messages.empty()) << text_of(messages);
    EXPECT_EQ(circuit_json(read).dump(), once.dump());
  }
}

TEST(CircuitJson, DemoProjectsKeepEveryByteWhenNothingChanges) {
  for (const char* name :
       {"demo/ostrel-p4.uadze.json", "demo/ostrel-tarn.uadze.json", "demo/ostrel-wisp.uadze.json"}) {
    const Opened opened = open_project(source(name));
    EXPECT_EQ(project_text(opened.project, opened.file.text), opened.file.text) << name;
    for (const project::Setup& s : opened.project.setups) {
      ASSERT_TRUE(s.circuit) << s.name;
      const circuit::State state = run(circuit_case(opened.project, s));
      EXPECT_TRUE(state.solution.converged) << s.name;
      for (const auto& f : state.findings) EXPECT_NE(f.severity, Severity::error) << f.text.in();
    }
  }
}

TEST(CircuitJson, FaultsNameTheirPlaceInTheProject) {
  const std::string good = slurp(source("demo/ostrel-wisp.uadze.json"));
  const auto with = [&](const std::string& from, const std::string& to) {
    std::string text = good;
    const size_t at = text.find(from);
    EXPECT_NE(at, std::string::npos) << from;
    text.replace(at, from.size(), to);
    return refusal([&] { parse_project(text, "wisp.json"); });
  };
  EXPECT_THAT(with("\"fine filter, 10 micron\"", "\"coffee filter\""),
              HasSubstr("wisp.json: /setups/0/circuit/feed/parts/2/type"));
  EXPECT_THAT(with("\"feed\": \"AWG 16\"", "\"feed\": \"thick\""), HasSubstr("wiring/feed"));
  EXPECT_THAT(with("\"form\": \"90\"", "\"form\": \"91\""), HasSubstr("/form"));
  EXPECT_THAT(with("\"length_mm\": 320", "\"length_mm\": 0"), HasSubstr("length_mm"));
  std::string text = good;
  text.replace(text.find("\"pickup\": \"front\""), 17, "\"pickup\": \"nowhere\"");
  EXPECT_THAT(text_of(parse_project(text, "wisp.json").notes), HasSubstr("/circuit/suctions/0/pickup"));
}

TEST(CircuitJson, AMeasuredContentMovesFuelAndDemand) {
  project::Setup s;
  s.fuel.ethanol = 0.85;
  s.engine.power = 200e3;
  s.engine.consumption = 430e-3 / 3.6e6;
  const double before = demand_at(s, s.engine.power);
  s.tube = fluid::WaterShift{10e-6, 90e-6, 10e-6 + 0.58 * 90e-6};
  EXPECT_NEAR(fuel_of(s).ethanol, 0.60, 1e-12);
  EXPECT_LT(demand_at(s, s.engine.power), before) << "less ethanol needs less volume";
  EXPECT_NEAR(demand_at(s, s.engine.power) / before, demand_factor(s), 1e-12);
  EXPECT_NEAR(power_at(s, demand_at(s, 123e3)), 123e3, 1e-6);
}

TEST(CircuitCase, DepthOverThePickupsCountsAndASetupWithoutCircuitIsSaid) {
  TankStore tanks;
  const Opened opened = open_project(source("demo/ostrel-p4.uadze.json"), &tanks);
  const project::Setup& s = opened.project.setups[0];
  circuit::Case c = circuit_case(opened.project, s);
  place_level(c, s, tanks, 20e-3);
  ASSERT_EQ(c.at.pickup_depth.size(), 2u);
  EXPECT_GT(c.at.pickup_depth[0], 0.01);
  const double low = run(c).pumps[0].inlet;
  place_level(c, s, tanks, 40e-3);
  EXPECT_GT(run(c).pumps[0].inlet, low);
  project::Setup bare = s;
  bare.circuit.reset();
  EXPECT_THAT(refusal([&] { circuit_case(opened.project, bare); }), HasSubstr("a circuit in this setup"));
}

TEST(Catalogue, TheShippedOneIsSound) {
  const auto& c = *shipped_catalogue();
  EXPECT_GE(c.pumps.size(), 8u);
  for (const auto& p : c.pumps) {
    EXPECT_TRUE(circuit::curve_faults(p.curves, p.name).empty()) << p.name;
    if (p.curves.engine_driven) continue;
    // More voltage never gives less.
    for (double v = 7; v < 15.5; v += 0.25)
      EXPECT_LE(operate(p.curves, 1e5, v).flow, operate(p.curves, 1e5, v + 0.25).flow + 1e-12) << p.name << v;
  }
}

TEST(Catalogue, AUsersFileAddsAndReplaces) {
  test::TempFolder folder;
  std::ofstream(folder / "bench.csv") << "voltage [V],pressure [bar],flow [l/h]\n13.5,0,300\n13.5,5,200\n";
  std::ofstream(folder / "mine.json") << R"({"undertow_adze_catalogue": 1, "pumps": [
    {"name": "ours", "bench_file": "bench.csv"},
    {"name": "by one point", "point": {"l_h": 255, "bar": 3, "v": 13.5}}],
    "filters": [{"name": "fine filter, 10 micron", "flow_l_h": 100, "clean_kpa": 1, "loaded_kpa": 2}]})";
  Messages notes;
  const auto c = load_catalogue({"mine.json"}, folder / "", notes);
  EXPECT_NEAR(operate(find(c->pumps, "ours")->curves, 5e5, 13.5).flow, 200e-3 / 3600, 1e-12);
  EXPECT_TRUE(find(c->pumps, "by one point")->curves.estimated);
  EXPECT_EQ(find(c->filters, "fine filter, 10 micron")->loaded, 2e3);
  EXPECT_EQ(c->filters.size(), shipped_catalogue()->filters.size());
}

TEST(Catalogue, FaultsNameTheirPlace) {
  const auto fault = [](const std::string& body) {
    return refusal([&] {
      Messages notes;
      with_entries({}, R"({"undertow_adze_catalogue": 1, )" + body + "}", "mine.json", {}, notes);
    });
  };
  EXPECT_THAT(
      fault(
          R"("pumps": [{"name": "p", "curves": [{"voltage_v": 12, "points": [{"bar": 0, "l_h": 10}, {"bar": 1, "l_h": 20}]}]}])"),
      HasSubstr("mine.json: /pumps/0/curves/0/points/1"));
  EXPECT_THAT(fault(R"("pumps": [{"name": "p"}])"), HasSubstr("one of curves, bench_file and point"));
  EXPECT_THAT(fault(R"("pumps": [{"name": "p", "bench_file": "gone.csv"}])"), HasSubstr("gone.csv"));
  EXPECT_THAT(fault(R"("filters": [{"name": "f", "flow_l_h": 0, "clean_kpa": 1, "loaded_kpa": 2}])"),
              HasSubstr("/filters/0/flow_l_h"));
  EXPECT_THAT(fault(R"("filters": [{"name": "f", "flow_l_h": 9, "clean_kpa": 3, "loaded_kpa": 2}])"),
              HasSubstr("not below clean_kpa"));
  EXPECT_THAT(fault(R"("hoses": [{"name": "h", "bore_mm": {"6": -1}}])"), HasSubstr("/hoses/0/bore_mm/6"));
  EXPECT_THAT(refusal([] {
                Messages n;
                with_entries({}, "{}", "x.json", {}, n);
              }),
              HasSubstr("undertow_adze_catalogue"));
}

/// A project that holds nothing but a box with a pump and what the body adds.
std::string box_project(const std::string& circuit, const std::string& more = "") {
  return R"({ "undertow_adze_project": 1, )" + more +
         R"( "setups": [ { "name": "box", "engine": {"power_kw": 200, "consumption_g_kwh": 300},
      "tank": { "axis": "y", "profile_mm": [[-250, 0], [250, 0], [250, 200], [-250, 200]], "from_mm": -300, "to_mm": 300 },
      "circuit": )" +
         circuit + "} ] }";
}

const char* const least_circuit =
    R"({ "mains": [{"parts": [{"kind": "pump", "type": "main pump, 255 l/h class"}]}],
    "rail": {"injector": "injector, 40 l/h class"}, "regulator": {"type": "regulator, small"} })";

TEST(CircuitJson, TheLeastCircuitRuns) {
  const Project p = parse_project(box_project(least_circuit), "box.json").value;
  const circuit::State s = run(circuit_case(p, p.setups[0]));
  EXPECT_TRUE(s.solution.converged);
  EXPECT_EQ(s.regulator.mode, circuit::RegulatorMode::regulating);
  EXPECT_NEAR(s.rail_difference, 3e5, 0.3e5);
}

TEST(CircuitJson, WhatIsMissingIsNamed) {
  const auto fault = [](const std::string& circuit) {
    return refusal([&] { parse_project(box_project(circuit), "box.json"); });
  };
  EXPECT_THAT(fault("{}"), HasSubstr("/setups/0/circuit/mains: expected one to three main pumps"));
  EXPECT_THAT(fault("{}"), HasSubstr("/setups/0/circuit/rail/injector"));
  EXPECT_THAT(fault("{}"), HasSubstr("/setups/0/circuit/regulator/type"));
  EXPECT_THAT(fault("7"), HasSubstr("/setups/0/circuit"));
  std::string bad = least_circuit;
  bad.replace(bad.find("\"pump\""), 6, "\"wheel\"");
  const std::string said = fault(bad);
  EXPECT_THAT(said, HasSubstr("parts/0/kind: expected one of \"line\""));
  EXPECT_EQ(said.find("length_mm"), std::string::npos) << "nothing is asked of a part of no known kind";
}

TEST(CircuitJson, ProjectsBringTheirOwnCatalogues) {
  test::TempFolder folder;
  std::ofstream(folder / "mine.json") << R"({"undertow_adze_catalogue": 1,
    "pumps": [{"name": "ours", "point": {"l_h": 300, "bar": 3, "v": 13.5}}]})";
  std::string circuit = least_circuit;
  circuit.replace(circuit.find("main pump, 255 l/h class"), 24, "ours");
  std::ofstream(folder / "box.json") << box_project(circuit, R"("catalogues": ["mine.json"],)");
  const Opened opened = open_project(folder / "box.json");
  EXPECT_TRUE(find(opened.project.catalogue->pumps, "ours")->curves.estimated);
  EXPECT_EQ(project_text(opened.project, opened.file.text), opened.file.text);
  EXPECT_EQ(moved(opened.project, folder / "", folder / "deeper").catalogue_files[0], "../mine.json");
  std::ofstream(folder / "box.json") << box_project(circuit, R"("catalogues": ["gone.json"],)");
  EXPECT_THAT(refusal([&] { open_project(folder / "box.json"); }), HasSubstr("gone.json"));
  std::ofstream(folder / "box.json") << box_project(circuit, R"("catalogues": [7],)");
  EXPECT_THAT(refusal([&] { open_project(folder / "box.json"); }), HasSubstr("/catalogues/0"));
}

TEST(CircuitJson, AWaterShiftReadingIsKeptAndChecked) {
  const auto with = [](const std::string& tube) {
    std::string text = box_project(least_circuit);
    text.insert(text.find("\"engine\""), "\"water_shift\": " + tube + ", ");
    return text;
  };
  const std::string good = with(R"({"water_ml": 10, "fuel_ml": 90, "boundary_ml": 28})");
  const Project p = parse_project(good, "box.json").value;
  EXPECT_NEAR(fuel_of(p.setups[0]).ethanol, 0.22, 1e-12);
  EXPECT_EQ(project_text(p, good), good);
  EXPECT_THAT(refusal([&] {
                parse_project(with(R"({"water_ml": 10, "fuel_ml": 90, "boundary_ml": 5})"), "box.json");
              }),
              HasSubstr("/setups/0/water_shift/boundary_ml"));
}

TEST(CircuitJson, AnEditOfOnePartChangesItsBytesOnly) {
  const Opened opened = open_project(source("demo/ostrel-tarn.uadze.json"));
  Project changed = opened.project;
  changed.setups[0].circuit->feed[0].length = 3.1;
  const std::string text = project_text(changed, opened.file.text);
  EXPECT_NE(text, opened.file.text);
  EXPECT_EQ(text.size(), opened.file.text.size()) << "2600 became 3100";
  EXPECT_EQ(parse_project(text, "tarn.json").value.setups[0].circuit->feed[0].length, 3.1);
}

TEST(CircuitCase, TheLapsCourseFollowsItsChannels) {
  TankStore tanks;
  const Opened opened = open_project(source("demo/ostrel-wisp.uadze.json"), &tanks);
  const starvation::FuelSystem car = compile(opened.project.setups[0], tanks, false);
  lap::Lap lap;
  for (int i = 0; i < 5; ++i) {
    lap.time.push_back(i * 0.1);
    lap.distance.push_back(i);
    lap.lateral.push_back(i), lap.longitudinal.push_back(2 * i), lap.vertical.push_back(9.8);
    lap.fuel_flow.push_back(i * 1e-5);
  }
  const circuit::Course course = circuit_course(car, lap);
  EXPECT_EQ(course.force[3], Vec3(-6, -3, -9.8));
  ASSERT_EQ(course.throttle.size(), 5u) << "without a throttle channel it follows the demand";
  EXPECT_NEAR(course.throttle[4], 1.0, 1e-12);
  EXPECT_LT(course.throttle[1], 0.3);
}

}  // namespace
}  // namespace uadze::project
