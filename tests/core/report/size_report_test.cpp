// Sizes and searches as they are told: each "meets" by its own figures, each row kept for a reason, and a
// sentence that goes with the numbers, at the levels, fuels and volts that a car may meet.
#include "core/report/size_report.h"

#include <gtest/gtest.h>

#include <sstream>

#include "core/report/sound.h"
#include "support/demo.h"

namespace uadze::report {
namespace {

struct Change {
  const char* words;
  std::function<void(project::Setup&)> make;
};

const Change changes[] = {
    {"as it is", [](project::Setup&) {}},
    {"pure ethanol", [](project::Setup& s) { s.fuel.ethanol = 1, s.fuel.methanol = 0; }},
    {"a flat battery", [](project::Setup& s) { s.circuit->supply = 8; }},
    {"hot fuel", [](project::Setup& s) { s.fuel.temperature = 333.15; }},
    {"twice the power", [](project::Setup& s) { s.engine.power *= 2; }},
    {"a tenth of the power", [](project::Setup& s) { s.engine.power /= 10; }},
};

class SizeReport : public testing::TestWithParam<const char*> {};

TEST_P(SizeReport, AgreesWithItselfOnAnyDay) {
  for (const Change& change : changes) {
    test::Demo opened = test::demo(GetParam());
    change.make(opened.project.setups[0]);
    const auto which = &change - changes;
    const double level = which % 2 ? 6e-3 : 1e-3;
    SCOPED_TRACE(fmt::format("{}, {} L", change.words, level * 1e3));
    solve::SizeOptions options;
    options.level = level;
    options.points = 100;
    // The curve takes its time: with little in one tank, with more in the others.
    options.surge_tank = which == (GetParam() == std::string("ostrel-p4") ? 0 : 1);
    const auto sized = solve::size(opened.project, {}, options, *opened.sources);
    const Json json = size_json(*sized);
    // None is enough; no lap starves it; one pump alone; driven by the battery.
    EXPECT_EQ(test::unsound(json, {"needed_l", "by_lap_l", "lift_enough_l_h", "bridge_l", "volume_l",
                                   "staged_beside", "turns_of_the_crankshaft"}),
              "");
    const std::string text = size_text(*sized);
    EXPECT_EQ(test::unsound_words(text), "") << text;
    for (const char* list : {"main_pumps", "lift_pumps"}) {
      if (!json.contains(list)) continue;
      int fitted = 0;
      bool failed = false;
      for (const Json& pump : json[list]) {
        const double flow = pump["flow_l_h"], need = pump["needed_l_h"];
        EXPECT_EQ(pump["meets"].get<bool>(), flow >= need * (1 - 1e-9)) << pump.dump();
        EXPECT_GE(flow, 0) << pump.dump();
        EXPECT_GE(pump["current_a"].get<double>(), 0) << pump.dump();
        EXPECT_GE(pump["count"].get<int>(), 1);
        EXPECT_GT(pump["mass_kg"].get<double>(), 0) << pump.dump();
        fitted += pump["fitted"].get<bool>();
        // Those that meet it stand first.
        failed |= !pump["meets"].get<bool>();
        EXPECT_EQ(pump["meets"].get<bool>(), !failed) << pump.dump();
      }
      EXPECT_LE(fitted, 1) << list << ": one arrangement is in the car";
      // Where nothing gives anything (fuel that boils) only what is fitted is told.
      const bool gives = std::ranges::any_of(json[list], [](const Json& p) { return p["flow_l_h"] > 0; });
      if (list == std::string("main_pumps")) {
        EXPECT_GE(json[list].size(), gives ? 3u : 1u);
      }
    }
    if (!json.contains("surge_tank")) continue;
    const Json& surge = json["surge_tank"];
    if (surge["needed_l"].is_null()) {
      EXPECT_NE(text.find("none is enough"), std::string::npos) << text;
    } else {
      for (const Json& floor : surge["floors"])
        EXPECT_GE(surge["needed_l"].get<double>(), floor["volume_l"].get<double>() - 1e-9);
    }
    for (const Json& curve : surge["curves"]) {
      // More lift may ask for more: it draws the fuel down round the pickups, and a small tank empty.
      double last = 0;
      for (const Json& point : curve["points"]) {
        EXPECT_GT(point["lift_l_h"].get<double>(), last) << curve.dump();
        last = point["lift_l_h"];
        if (point["volume_l"].is_null()) continue;
        EXPECT_GE(point["volume_l"].get<double>(), 0);
        EXPECT_LT(point["volume_l"].get<double>(), 100) << "a surge tank that no car holds: " << curve.dump();
      }
    }
  }
}

/// Columns of a list of pumps stand under each other, whatever the names.
TEST_P(SizeReport, ListsStandInColumns) {
  const test::Demo opened = test::demo(GetParam());
  solve::SizeOptions options;
  options.level = 8e-3;
  options.points = 100;
  options.surge_tank = false;
  std::istringstream lines(size_text(*solve::size(opened.project, {}, options, *opened.sources)));
  std::string line;
  std::set<size_t> columns;
  while (std::getline(lines, line)) {
    const size_t at = line.find(" L/h ");
    if ((line.starts_with("  + ") || line.starts_with("  - ")) && at != std::string::npos) {
      size_t wide = 0;
      for (size_t k = 0; k < at; ++k) wide += (line[k] & 0xC0) != 0x80;
      columns.insert(wide);
    } else {
      EXPECT_LE(columns.size(), 1u) << line;
      columns.clear();
    }
  }
}

INSTANTIATE_TEST_SUITE_P(Demos, SizeReport, testing::Values("ostrel-p4", "ostrel-tarn", "ostrel-wisp"),
                         [](const auto& each) { return std::string(each.param).substr(7); });

TEST(SearchReport, KeepsWhatNothingBeatsAndSaysWhatWasNotRun) {
  const test::Demo opened = test::demo("ostrel-wisp");
  solve::SearchOptions options;
  options.pickup_shifts = {-0.02, 0.03, 9.0};
  options.points = 100;
  const auto found = solve::search(opened.project, {}, options, *opened.sources);
  const Json json = search_json(found, "Wisp", "any");
  EXPECT_EQ(test::unsound(json), "");
  EXPECT_EQ(json["kept"].size(), found.kept.size());
  ASSERT_EQ(json["not_run"].size(), 1u);
  EXPECT_NE(json["not_run"][0]["fault"].get<std::string>().find("outside the tank"), std::string::npos);
  const std::string text = search_text(found);
  EXPECT_EQ(test::unsound_words(text), "") << text;
  EXPECT_TRUE(text.starts_with(fmt::format("{} of 4 combinations", found.kept.size()))) << text;
  for (const Json& a : json["kept"])
    for (const Json& b : json["kept"]) {
      bool better = true;
      for (const char* cost : {"start_l", "mass_kg", "load_a", "cost_points", "starved_s_with_a_tenth_less"})
        better &= a[cost].get<double>() < b[cost].get<double>();
      EXPECT_FALSE(better) << a.dump() << " beats " << b.dump();
    }
}

}  // namespace
}  // namespace uadze::report
