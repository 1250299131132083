// Circuits in the project file, and catalogues.
#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include <fstream>

#include "core/project/catalogue_file.h"
#include "core/project/field_reader.h"
#include "core/project/field_writer.h"
#include "core/project/project_file.h"
#include "support/box_project.h"
#include "support/circuits.h"
#include "support/demo.h"
#include "support/refusal.h"

namespace uadze::project {
namespace {

using test::box_project;
using test::least_circuit;
using test::refusal;
using test::slurp;
using test::source;
using ::testing::HasSubstr;

TEST(CircuitFile, ARandomCircuitSurvivesTheFile) {
  test::Random random(3);
  for (int k = 0; k < 50; ++k) {
    circuit::Circuit c = test::random_case(random).circuit;
    const Json once = written(c);
    Messages messages;
    circuit::Circuit read;
    FieldReader reader(JsonReader(once, "x", messages));
    describe(reader, read);
    ASSERT_TRUE(messages.empty()) << text_of(messages);
    EXPECT_EQ(written(read).dump(), once.dump());
  }
}

TEST(CircuitFile, FaultsNameTheirPlaceInTheProject) {
  const std::string good = slurp(source("demo/ostrel-wisp.uadze.json"));
  const auto with = [&](const std::string& from, const std::string& to) {
    std::string text = good;
    const size_t at = text.find(from);
    EXPECT_NE(at, std::string::npos) << from;
    text.replace(at, from.size(), to);
    return refusal([&] { test::opened_text(text, "wisp.json"); });
  };
  EXPECT_THAT(with("\"fine filter, 10 micron\"", "\"coffee filter\""),
              HasSubstr("wisp.json: /setups/0/circuit/feed/2/type"));
  EXPECT_THAT(with("\"feed\": \"AWG 16\"", "\"feed\": \"thick\""), HasSubstr("wiring/feed"));
  EXPECT_THAT(with("\"form\": \"90\"", "\"form\": \"91\""), HasSubstr("/form"));
  EXPECT_THAT(with("\"length_mm\": 320", "\"length_mm\": 0"), HasSubstr("length_mm"));
  std::string text = good;
  text.replace(text.find("\"pickup\": \"front\""), 17, "\"pickup\": \"nowhere\"");
  EXPECT_THAT(text_of(test::opened_text(text, "wisp.json").notes), HasSubstr("/circuit/suctions/0/pickup"));
}

TEST(Catalogue, TheShippedOneIsSound) {
  const auto& c = *shipped_catalogue();
  EXPECT_GE(c.pumps.size(), 8u);
  for (const auto& p : c.pumps) {
    EXPECT_TRUE(circuit::curve_faults(p.curves).empty()) << p.name;
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
  const circuit::Catalogue c = load_catalogue({"mine.json"}, folder / "", notes).value;
  EXPECT_NEAR(operate(find(c.pumps, "ours")->curves, 5e5, 13.5).flow, 200e-3 / 3600, 1e-12);
  EXPECT_TRUE(find(c.pumps, "by one point")->curves.estimated);
  EXPECT_EQ(find(c.filters, "fine filter, 10 micron")->loaded, 2e3);
  EXPECT_EQ(c.filters.size(), shipped_catalogue()->filters.size());
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

TEST(CircuitFile, WhatIsMissingIsNamed) {
  const auto fault = [](const std::string& circuit) {
    return refusal([&] { test::opened_text(box_project(circuit), "box.json"); });
  };
  EXPECT_THAT(fault("{}"), HasSubstr("/setups/0/circuit/mains: expected one to four main pumps"));
  EXPECT_THAT(fault("{}"), HasSubstr("/setups/0/circuit/rail/injector"));
  EXPECT_THAT(fault("{}"), HasSubstr("/setups/0/circuit/regulator/type"));
  EXPECT_THAT(fault("7"), HasSubstr("/setups/0/circuit"));
  std::string bad = least_circuit;
  bad.replace(bad.find("\"pump\""), 6, "\"wheel\"");
  const std::string said = fault(bad);
  EXPECT_THAT(said, HasSubstr("parts/0/kind: expected one of \"line\""));
  EXPECT_EQ(said.find("length_mm"), std::string::npos) << "nothing is asked of a part of no known kind";
}

// Each new field's bad values are refused at their place, with what was expected there.
TEST(CircuitFile, BadSpeedsWaysRailsAndBatteriesAreNamedAtTheirPlace) {
  const auto fault = [](const char* within, const std::string& put) {
    std::string text = least_circuit;
    text.insert(text.find(within) + std::string(within).size(), put);
    return refusal([&] { test::opened_text(box_project(text), "box.json"); });
  };
  const char* const pump = R"("kind": "pump", )";
  EXPECT_THAT(fault(pump, R"("turns": -1, )"), HasSubstr("parts/0/turns"));
  const auto speed = [&](const char* points) {
    return fault(pump, R"("speed": {"control": "pulses", "points": )" + std::string(points) + "}, ");
  };
  EXPECT_THAT(speed("[]"), HasSubstr("speed/points: expected at least one demand"));
  EXPECT_THAT(speed(R"([{"l_h": 20, "percent": 50}, {"l_h": 20, "percent": 60}])"),
              HasSubstr("speed/points/1/l_h: expected a demand above the one before it"));
  EXPECT_THAT(speed(R"([{"l_h": 20, "percent": 0}])"), HasSubstr("speed/points/0/percent"));
  EXPECT_THAT(speed(R"([{"l_h": -1, "percent": 10}])"), HasSubstr("speed/points/0/l_h"));
  const char* const rail = R"("rail": {)";
  EXPECT_THAT(fault(rail, R"("rails": "three", )"), HasSubstr("rail/rails: expected one of \"one\""));
  EXPECT_THAT(fault(rail, R"("rails": "two in series", )"),
              HasSubstr("rail/crossover_mm: expected a bore above 0"));
  EXPECT_THAT(fault(rail, R"("rails": "two side by side", "crossover_mm": 8, "feed": "both ends", )"),
              HasSubstr("rail/feed: expected \"through\" or \"dead end\""));
  EXPECT_THAT(fault("{", R"("return_fall_mm": -5, )"), HasSubstr("circuit/return_fall_mm"));
  EXPECT_THAT(fault("{", R"("charging": {"battery_mohm": -1}, )"), HasSubstr("charging/battery_mohm"));
}

TEST(CircuitFile, AWaterShiftReadingIsKeptAndChecked) {
  const auto with = [](const std::string& tube) {
    std::string text = box_project(least_circuit);
    text.insert(text.find("\"engine\""), "\"water_shift\": " + tube + ", ");
    return text;
  };
  const std::string good = with(R"({"water_ml": 10, "fuel_ml": 90, "boundary_ml": 28})");
  const Project p = parse_project(good, "box.json").value;
  EXPECT_NEAR(p.setups[0].tube->boundary, 28e-6, 1e-18);
  EXPECT_EQ(project_text(p, good), good);
  EXPECT_THAT(refusal([&] {
                parse_project(with(R"({"water_ml": 10, "fuel_ml": 90, "boundary_ml": 5})"), "box.json");
              }),
              HasSubstr("/setups/0/water_shift/boundary_ml"));
}

TEST(CircuitFile, AnEditOfOnePartChangesItsBytesOnly) {
  const std::string before = slurp(source("demo/ostrel-tarn.uadze.json"));
  Project changed = parse_project(before, "tarn.json").value;
  changed.setups[0].circuit->feed[0].length = 3.1;
  const std::string text = project_text(changed, before);
  EXPECT_NE(text, before);
  EXPECT_EQ(text.size(), before.size()) << "2600 became 3100";
  EXPECT_EQ(parse_project(text, "tarn.json").value.setups[0].circuit->feed[0].length, 3.1);
}

}  // namespace
}  // namespace uadze::project
