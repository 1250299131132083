// What is said when a project is opened and checked.
#include "core/solve/open.h"
#include "core/base/json.h"

#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include "core/project/json_reader.h"
#include "support/refusal.h"
#include "support/temp_folder.h"

namespace uadze::solve {
namespace {

using test::source;
using test::TempFolder;
using ::testing::HasSubstr;

Messages everything_said(const std::filesystem::path& file) {
  Sources sources(file.parent_path());
  const project::Opened opened = open_project(file, sources);
  Messages said = opened.notes;
  for (Message& m : check_laps(opened.project, file.filename().string(), sources))
    said.push_back(std::move(m));
  return said;
}

TEST(Check, NamesTheLapThatIsMissingOrBroken) {
  TempFolder folder;
  copy_demo(folder);
  std::filesystem::remove(folder / "laps/brackenholt-p4.csv");
  const std::string missing = text_of(everything_said(folder / "ostrel-p4.uadze.json"));
  EXPECT_THAT(
      missing,
      HasSubstr("/laps/0/file: expected a lap file that can be read, found \"laps/brackenholt-p4.csv\""));

  folder.write("laps/brackenholt-p4.csv",
               "time [s],distance [m],lat_acc [g],long_acc [g]\n0,0,0,0\n1,5,x,0\n");
  EXPECT_THAT(text_of(everything_said(folder / "ostrel-p4.uadze.json")), HasSubstr("line 3, column lat_acc"));
}

TEST(Check, ATurnedRoundLateralChannelIsNoticed) {
  TempFolder folder;
  copy_demo(folder);
  const auto file = folder / "laps/brackenholt-p4.csv";
  const std::string turned = write_lap(lap::mirrored(lap::read_lap(file).value));
  folder.write("laps/brackenholt-p4.csv", turned);
  EXPECT_THAT(text_of(everything_said(folder / "ostrel-p4.uadze.json")),
              HasSubstr("the sign of the whole channel is turned round"));
}

TEST(Check, SaysWhatSolveWouldRefuse) {
  TempFolder folder;
  copy_demo(folder);
  const auto file = folder / "ostrel-wisp.uadze.json";
  // A lap without throttle and flow.
  lap::Lap bare = lap::read_lap(folder / "laps/vey-hill-wisp.csv").value;
  bare.throttle.clear(), bare.fuel_flow.clear(), bare.fuel_mass_flow.clear();
  folder.write("laps/vey-hill-wisp.csv", write_lap(bare));
  EXPECT_THAT(text_of(everything_said(file)),
              HasSubstr("/laps/0/file: expected a column throttle or fuel_flow"));
  // Throttle alone, and an engine without power or consumption.
  bare.throttle.assign(bare.size(), 1.0);
  folder.write("laps/vey-hill-wisp.csv", write_lap(bare));
  auto json = json_of<project::Json>(test::slurp(file));
  json["setups"][0]["engine"]["consumption_g_kwh"] = 0;
  folder.write("ostrel-wisp.uadze.json", json.dump());
  EXPECT_THAT(text_of(everything_said(file)), HasSubstr("/setups/0/engine/consumption_g_kwh"));
  json["setups"][0].erase("engine");
  folder.write("ostrel-wisp.uadze.json", json.dump());
  const Messages said = everything_said(file);
  EXPECT_TRUE(has_errors(said));
  EXPECT_THAT(text_of(said), HasSubstr("no engine is entered"));
}

TEST(Check, SaysThatALapIsTooShortOrBurnsNothing) {
  TempFolder folder;
  copy_demo(folder);
  const auto file = folder / "ostrel-p4.uadze.json";
  const lap::Lap whole = lap::read_lap(folder / "laps/brackenholt-p4.csv").value;
  const auto first = [&](const std::vector<double>& values, double seconds) {
    return std::vector<double>(values.begin(),
                               values.begin() + static_cast<std::ptrdiff_t>(whole.index_at(seconds)));
  };
  lap::Lap brief;
  brief.time = first(whole.time, 4), brief.distance = first(whole.distance, 4);
  brief.lateral = first(whole.lateral, 4), brief.longitudinal = first(whole.longitudinal, 4);
  brief.vertical = first(whole.vertical, 4), brief.speed = first(whole.speed, 4);
  brief.throttle = first(whole.throttle, 4), brief.fuel_flow = first(whole.fuel_flow, 4);
  folder.write("laps/brackenholt-p4.csv", write_lap(brief));
  EXPECT_THAT(text_of(everything_said(file)), HasSubstr("/laps/0/file: expected a lap of 5 s or more"));
  lap::Lap off = whole;
  off.fuel_flow.assign(off.size(), 0.0);
  folder.write("laps/brackenholt-p4.csv", write_lap(off));
  EXPECT_THAT(text_of(everything_said(file)),
              HasSubstr("/laps/0/file: expected fuel burnt somewhere on the lap, found fuel_flow of 0"));
}

TEST(Check, TheDemosHaveNothingToSay) {
  for (const char* name :
       {"demo/ostrel-p4.uadze.json", "demo/ostrel-wisp.uadze.json", "demo/ostrel-tarn.uadze.json"})
    for (const Message& m : everything_said(source(name))) EXPECT_EQ(m.severity, Severity::note) << m.text();
}

TEST(Open, FilesOutsideTheProjectsFolderNeedTheUsersWord) {
  TempFolder folder;
  copy_demo(folder);
  auto json = json_of<project::Json>(test::slurp(folder / "ostrel-wisp.uadze.json"));
  json["laps"][0]["file"] = "../laps/vey-hill-wisp.csv";
  const auto file = folder.write("inner/wisp.uadze.json", json.dump());
  Sources sources(file.parent_path());
  try {
    open_project(file, sources);
    ADD_FAILURE() << "opened";
  } catch (const OutsideFiles& error) {
    EXPECT_THAT(error.what(), HasSubstr("../laps/vey-hill-wisp.csv"));
  }
  EXPECT_EQ(open_project(file, sources, Outside::agreed).project.laps.size(), 1u);
}

TEST(Check, ASurgeTankIsNotLargerThanTheTank) {
  TempFolder folder;
  copy_demo(folder);
  auto json = json_of<project::Json>(test::slurp(folder / "ostrel-p4.uadze.json"));
  json["setups"][0]["surge_tank"]["volume_l"] = 99;
  const auto file = folder.write("large.uadze.json", json.dump());
  Sources sources(file.parent_path());
  EXPECT_THAT(test::refusal([&] { open_project(file, sources); }),
              HasSubstr("/setups/0/surge_tank/volume_l: expected a surge tank of at most the main tank's"));
}

}  // namespace
}  // namespace uadze::solve
