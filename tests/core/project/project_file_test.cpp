#include "core/project/project_file.h"
#include "core/base/json.h"

#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include <random>

#include "core/project/json_reader.h"
#include "core/solve/open.h"
#include "support/demo.h"
#include "support/refusal.h"

namespace uadze::project {
namespace {

using test::slurp;
using test::source;
using test::TempFolder;
using ::testing::HasSubstr;

const std::string demo = slurp(source("demo/ostrel-p4.uadze.json"));

std::string failure_of(const std::string& text) {
  try {
    test::opened_text(text, "p.json");
  } catch (const InputError& error) {
    return error.what();
  }
  return "no failure";
}

/// The demo with one value changed by its pointer.
std::string with(const std::string& pointer, const Json& value) {
  Json json = json_of<Json>(demo);
  json[Json::json_pointer(pointer)] = value;
  return json.dump();
}

std::string without(const std::string& parent, const std::string& key) {
  Json json = json_of<Json>(demo);
  json[Json::json_pointer(parent)].erase(key);
  return json.dump();
}

TEST(Project, ReadsTheDemoIntoSi) {
  const Project p = parse_project(demo, "demo").value;
  ASSERT_EQ(p.setups.size(), 2u);
  const auto& s = p.setups[0];
  EXPECT_DOUBLE_EQ(s.fuel.ethanol, 0.2);
  EXPECT_DOUBLE_EQ(s.fuel.temperature, 305.15);
  EXPECT_DOUBLE_EQ(std::get<tank::Prism>(s.tank.shapes[0]).profile[1].x(), 0.23);
  EXPECT_NEAR(s.lift_pumps[0].flow, 130e-3 / 3600, 1e-18);
  ASSERT_TRUE(s.surge);
  EXPECT_DOUBLE_EQ(s.surge->volume, 1.5e-3);
  EXPECT_FALSE(p.setups[1].surge);
  EXPECT_EQ(p.laps[0].corners.size(), 14u);
  EXPECT_EQ(p.sessions[2].duration, 10800.0);
  EXPECT_EQ(p.sessions[2].refuel_stops, 7);
}

TEST(Project, LoadAndSaveChangeNoByte) {
  for (const char* name :
       {"demo/ostrel-p4.uadze.json", "demo/ostrel-wisp.uadze.json", "demo/ostrel-tarn.uadze.json"}) {
    const std::string text = slurp(source(name));
    EXPECT_EQ(project_text(parse_project(text, name).value, text), text);
  }
}

TEST(Project, AnEditChangesOnlyItsLine) {
  Project p = parse_project(demo, "x").value;
  p.setups[0].tank.pickups[1].position.y() = -0.1005;
  const std::string text = project_text(p, demo);
  EXPECT_EQ(parse_project(text, "x").value, p);
  std::istringstream one(demo), other(text);
  int differ = 0;
  for (std::string a, b; std::getline(one, a) && std::getline(other, b);) differ += a != b;
  EXPECT_EQ(differ, 1);
  EXPECT_THAT(text, HasSubstr("[-150, -100.5, 6]"));
}

TEST(Project, EverythingSurvivesBeingWrittenAfresh) {
  for (const char* name :
       {"demo/ostrel-p4.uadze.json", "demo/ostrel-wisp.uadze.json", "demo/ostrel-tarn.uadze.json"}) {
    const Project p = parse_project(slurp(source(name)), name).value;
    const std::string fresh = project_text(p, "");
    const Project again = parse_project(fresh, "x").value;
    EXPECT_EQ(project_text(again, ""), fresh) << "stable from the first writing on";
    EXPECT_EQ(again.setups[0].name, p.setups[0].name);
    EXPECT_NEAR(again.setups[0].tank.pickups[0].position.x(), p.setups[0].tank.pickups[0].position.x(),
                1e-12);
  }
}

TEST(Project, EveryPartOfATankSurvivesTheFile) {
  Project p = parse_project(demo, "x").value;
  tank::TankParts& t = p.setups[0].tank;
  t.short_form = false;
  t.shapes = {tank::Box{{0, 0, 0}, {1, 1, 1}},
              tank::Cylinder{{0, 0, 0}, {0, 0, 1}, 0.5},
              tank::Revolved{{0, 0, 0}, {0, 1, 0}, {{0, 0.1}, {0.2, 0.3}}},
              tank::Sphere{{0, 0, 0}, 0.25},
              tank::Saddle{{0, -1, 0}, {1, 1, 1}, -0.25, 0.25, 0.5},
              tank::MeshShape{"m.stl", 0.0254, "-y x z", {0.5, 0, 0}, {"weld", "fill"}}};
  tank::OpeningPart round{.name = "r",
                          .form = tank::OpeningForm::round,
                          .at = {0, 0.5, 0},
                          .diameter = 0.03125,
                          .discharge = 0.75,
                          .passes = tank::Passes::along,
                          .door = tank::Door::ball};
  t.baffles = {{"b", {0.5, 0, 0}, {1, 0, 0}, 0.75, {{0.5, 0, 0}, {0.5, 1, 0}, {0.5, 0, 1}}, {round}}};
  t.foam.push_back({"all", std::nullopt, 0.9375, 1e-7});
  t.bodies = {{"pump", tank::Cylinder{{0, 0, 0}, {0, 0, 0.5}, 0.125}}};
  t.sender->bent = 0;
  const std::string fresh = project_text(p, "");
  EXPECT_EQ(parse_project(fresh, "x").value, p);
  EXPECT_EQ(parse_project(project_text(p, demo), "x").value, p)
      << "over the demo's own text, its short form gone";
}

TEST(Project, UnknownKeysAreKeptAndWarnedOf) {
  const std::string text = with("/setups/0/tank/colour", "red");
  const auto read = parse_project(text, "p.json");
  EXPECT_THAT(text_of(read.notes), HasSubstr("warning: p.json: /setups/0/tank/colour: unknown key, kept"));
  Project p = read.value;
  p.name = "renamed";
  EXPECT_THAT(project_text(p, text), HasSubstr(R"("colour":"red")"));
}

TEST(Project, FaultsAreNamedAtTheirPlace) {
  const struct {
    std::string text, said;
  } cases[] = {
      {"", "p.json: line 1: expected a JSON object, found an empty file"},
      {" \n", "found an empty file"},
      {"[1]", "p.json: /: expected an object, found a list of 1"},
      {"{\"a\":1,\"a\":2}", "\"a\" twice in one object"},
      {"{\"a\":1,}", "line 1, column 8: expected well-formed JSON"},
      {without("", "undertow_adze_project"),
       "/undertow_adze_project: expected a whole number, found nothing"},
      {with("/undertow_adze_project", 99), "written by a newer Undertow Adze"},
      {without("", "setups"), "/setups: expected a list, found nothing"},
      {without("/setups/0", "tank"), "/setups/0/tank: expected an object, found nothing"},
      {with("/setups/0/name", 3), "/setups/0/name: expected a text, found the number 3"},
      {with("/setups/0/name", ""), "/setups/0/name: expected a text that is not empty"},
      {with("/setups/1/name", "P4, surge fitted"), "/setups/1/name: expected a name of its own"},
      {with("/setups/0/tank/axis", "w"),
       "/setups/0/tank/axis: expected one of \"x\", \"y\", \"z\", found the text \"w\""},
      {with("/setups/0/tank/from_mm", "-325"),
       "/setups/0/tank/from_mm: expected a number from -20000 to 20000, found the text \"-325\""},
      {with("/setups/0/tank/to_mm", -400), "/setups/0/tank/to_mm: expected 1 mm or more above from_mm"},
      {with("/setups/0/tank/to_mm", 1e300), "/setups/0/tank/to_mm: expected a number from -20000 to 20000"},
      {with("/setups/0/tank/profile_mm", Json::array({{0, 0}, {1, 1}})),
       "/setups/0/tank/profile_mm: expected at least 3 points"},
      {with("/setups/0/tank/profile_mm", Json::array({{0, 0}, {300, 300}, {300, 0}, {0, 300}})),
       "/setups/0/tank/profile_mm/2: expected an outline that does not cross"},
      {with("/setups/0/tank/profile_mm/1", Json::array({1})),
       "/setups/0/tank/profile_mm/1: expected a point [a, b], found a list of 1"},
      {with("/setups/0/tank/profile_mm/1/0", nullptr), "/setups/0/tank/profile_mm/1/0: expected a number"},
      {with("/setups/0/tank/usable_percent", 0),
       "/setups/0/tank/usable_percent: expected a number above 0 and at most 100"},
      {with("/setups/0/tank/pickups/0/position_mm", Json::array({0, 0, 900})),
       "/setups/0/tank/pickups/0/position_mm: expected a point inside the tank (within x -230 to 230"},
      {with("/setups/0/tank/pickups/0/position_mm", Json::array({0, 0})), "three numbers: x, y, z"},
      {with("/setups/0/tank/pickups/0/sock_radius_mm", -3),
       "/setups/0/tank/pickups/0/sock_radius_mm: expected a number from 0 to 500, found the number -3"},
      {with("/setups/0/tank/pickups/0/feeds", "nobody"),
       "/setups/0/tank/pickups/0/feeds: expected one of \"engine\", \"lift left\", \"lift right\""},
      {with("/setups/0/tank/pickups/1/name", "rear left"),
       "/setups/0/tank/pickups/1/name: expected a name of its own"},
      {with("/setups/0/tank/collectors/0/shape/kind", "egg"),
       "/setups/0/tank/collectors/0/shape/kind: expected one of \"box\", \"prism\""},
      {with("/setups/0/tank/collectors/0/shape/to_mm", Json::array({-230, 110, 150})),
       "/setups/0/tank/collectors/0/shape/to_mm: expected a corner 1 mm or more from from_mm along x"},
      {with("/setups/0/tank/collectors/0/shape/from_mm", Json::array({2000, 2000, 2000})),
       "/setups/0/tank/collectors/0"},
      {with("/setups/0/tank/collectors/0/openings/0/passes", "both"),
       "/setups/0/tank/collectors/0/openings/0/passes: expected \"out\" or \"in\", as it has a door"},
      {with("/setups/0/tank/collectors/0/openings/0/width_mm", 2000),
       "/setups/0/tank/collectors/0/openings/0: expected an opening smaller than its collector's wall"},
      {with("/setups/0/tank/collectors/0/openings/0/width_mm", 0),
       "/setups/0/tank/collectors/0/openings/0/width_mm: expected a number above 0"},
      {with("/setups/0/tank/foam/0/porosity_percent", 20),
       "/setups/0/tank/foam/0/porosity_percent: expected a number from 60 to 100"},
      {with("/setups/0/tank/sender/arm_mm", 0), "/setups/0/tank/sender/arm_mm: expected a number above 0"},
      {with("/setups/0/tank/shapes", Json::array({{{"kind", "mesh"}, {"file", "nowhere.stl"}}})),
       "nowhere.stl"},
      {with("/setups/0/tank/shapes", Json::array()), "/setups/0/tank/shapes: expected at least one shape"},
      {with("/setups/0/lift_pumps/0/flow_l_h", -1),
       "/setups/0/lift_pumps/0/flow_l_h: expected a number from 0 to 5000"},
      {with("/setups/0/surge_tank/volume_l", 0), "/setups/0/surge_tank/volume_l: expected a number above 0"},
      {with("/setups/0/main_pump_flow_l_h", Json::object()),
       "/setups/0/main_pump_flow_l_h: expected a number from 0 to 5000, found an object"},
      {with("/setups/0/fuel/ethanol_percent", 101),
       "/setups/0/fuel/ethanol_percent: expected a number from 0 to 100"},
      {with("/setups/0/fuel", 3), "/setups/0/fuel: expected an object, found the number 3"},
      {with("/laps/0/corners/0/to_m", 1), "/laps/0/corners/0/to_m: expected more than from_m"},
      {with("/sessions/0/lap", "nowhere"),
       "/sessions/0/lap: expected the name of one of the laps, found \"nowhere\""},
      {with("/sessions/0/laps", 2.5), "/sessions/0/laps: expected a whole number from 1 to 2000"},
      {with("/sessions/0/laps", 0), "/sessions/0/laps: expected a whole number from 1 to 2000"},
      {without("/sessions/0", "laps"), "/sessions/0: expected laps or duration_min, found neither"},
      {with("/sessions/0/duration_min", 10), "/sessions/0: expected either laps or duration_min, found both"},
      {with("/sessions/0/kind", "holiday"), "/sessions/0/kind: expected one of"},
  };
  for (const auto& c : cases) EXPECT_THAT(failure_of(c.text), HasSubstr(c.said));
}

TEST(Project, AllFaultsAreToldAtOnce) {
  Json json = json_of<Json>(demo);
  json["setups"][0]["tank"]["from_mm"] = "x";
  json["sessions"][1]["kind"] = 7;
  const std::string said = failure_of(json.dump());
  EXPECT_THAT(said, HasSubstr("/setups/0/tank/from_mm"));
  EXPECT_THAT(said, HasSubstr("/sessions/1/kind"));
}

TEST(Project, ATruncatedFileIsAlwaysAMessageNeverACrash) {
  for (size_t n = 0; n < demo.size() - 3; n += 13)
    EXPECT_NE(failure_of(demo.substr(0, n)), "no failure") << n;
  EXPECT_THAT(failure_of(demo.substr(0, demo.size() / 2)), HasSubstr("cut short"));
}

TEST(Project, ChangedBytesAreAMessageOrAProject) {
  std::mt19937 engine(5);
  for (int n = 0; n < 400; ++n) {
    std::string text = demo;
    for (int k = 0; k < 3; ++k) text[engine() % text.size()] = static_cast<char>(engine() % 96 + 32);
    try {
      const Project p = parse_project(text, "x").value;
      EXPECT_FALSE(project_text(p, text).empty());
    } catch (const InputError& error) {
      EXPECT_NE(std::string(error.what()), "");
    }
  }
}

TEST(Project, SaveIsAtomicAndNamesTheFile) {
  TempFolder folder;
  copy_demo(folder);
  const auto path = folder / "ostrel-p4.uadze.json";
  solve::Sources sources(folder.path());
  Opened opened = solve::open_project(path, sources);
  opened.project.name = "renamed";
  const ProjectFile saved = save_project(path, opened.project, opened.file.text);
  EXPECT_EQ(slurp(path), saved.text);
  EXPECT_EQ(solve::open_project(path, sources).project.name, "renamed");
  try {
    save_project(folder / "missing/x.json", opened.project, "");
    FAIL();
  } catch (const InputError& error) {
    EXPECT_THAT(error.what(), HasSubstr("missing/x.json: can not be saved"));
  }
}

TEST(Project, LapFilesFollowAMoveOfTheProject) {
  Project p = parse_project(demo, "x").value;
  EXPECT_EQ(moved(p, "/a/b", "/a/c").laps[0].file, "../b/laps/brackenholt-p4.csv");
  EXPECT_EQ(moved(p, "/a/b", "/a/b"), p);
  EXPECT_EQ(moved(p, "", "/a"), p);
}

TEST(ProjectFile, ANumberBeyondAllBoundsIsNamedAtItsLine) {
  const std::string said =
      test::refusal([] { parse_project("{\n  \"undertow_adze_project\": 1e999\n}\n", "a.json"); });
  EXPECT_THAT(said, ::testing::HasSubstr("a.json: line 2: expected a number below 1.8e308, found 1e999"));
}

}  // namespace
}  // namespace uadze::project
