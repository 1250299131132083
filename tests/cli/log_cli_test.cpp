// Logs on the command line: arguments in, stdout, stderr and exit code out.
#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include "cli/run.h"
#include "core/base/json.h"
#include "core/lap/lap.h"

namespace uadze {
namespace {

using nlohmann::json;
using test::Outcome;
using test::p4;
using test::run;
using test::slurp;
using test::source;
using test::TempFolder;
using test::wisp;
using ::testing::HasSubstr;

const std::string heats = source("demo/logs/wisp-heats.csv.gz").string();

TEST(LogCli, ALogBecomesALapOfTheProject) {
  TempFolder folder;
  const std::string log = source("demo/logs/p4-practice.csv.gz").string();
  const Outcome check = run("log check " + log);
  ASSERT_EQ(check.code, 0) << check.err;
  EXPECT_THAT(
      check.out,
      HasSubstr("gzip, UTF-8, parted by semicolon, decimal comma, header in line 1, units in line 2"));
  EXPECT_THAT(check.out, HasSubstr("fuel pressure, over air"));
  EXPECT_EQ(check.err, "") << "nothing to doubt";
  const json about = uadze::json_of<json>(run("log check --json " + log).out);
  EXPECT_EQ(about["laps_by"], "lap counter");
  EXPECT_EQ(about["laps"].size(), 5u);
  const auto lap = (folder / "lap.csv").string();
  const Outcome made = run("log lap " + log + " -o " + lap);
  ASSERT_EQ(made.code, 0) << made.err;
  EXPECT_THAT(made.err, HasSubstr("(flying): 1:35.060"));
  const auto read = lap::read_lap(lap).value;
  EXPECT_NEAR(read.duration(), 95.06, 0.03);
  EXPECT_NEAR(read.length(), 4600, 10);
  EXPECT_TRUE(read.has_flow());
  // The lap that it was driven from, within the sensors' noise.
  const auto driven = lap::read_lap(source("demo/laps/brackenholt-p4.csv")).value;
  double off = 0;
  for (size_t i = 0; i < read.size(); ++i) {
    const size_t k = static_cast<size_t>(std::lower_bound(driven.distance.begin(), driven.distance.end(),
                                                          read.distance[i] - read.distance[0]) -
                                         driven.distance.begin());
    off += std::abs(read.lateral[i] - driven.lateral[std::min(k, driven.size() - 1)]) /
           static_cast<double>(read.size());
  }
  EXPECT_LT(off, 0.6);
}

TEST(LogCli, AMappingIsWrittenChangedAndObeyed) {
  TempFolder folder;
  const auto log = folder.write("a.csv", "t,a,b\n0,1,5\n1,2,5\n2,3,6\n").string();
  json mapping = uadze::json_of<json>(run("log mapping " + log).out);
  for (auto& c : mapping["columns"])
    if (c["column"] == "a") c["channel"] = "speed", c["unit"] = "m/s";
  const auto file = folder.write("m.json", mapping.dump()).string();
  const json about = uadze::json_of<json>(run("log check --json --mapping " + file + " " + log).out);
  EXPECT_EQ(about["columns"][1]["channel"], "speed");
  const Outcome wrong =
      run("log check --mapping " +
          folder
              .write("n.json",
                     R"({"undertow_adze_log_mapping": 1, "columns": [{"column": "z", "channel": "speed"}]})")
              .string() +
          " " + log);
  EXPECT_EQ(wrong.code, 1);
  EXPECT_THAT(wrong.err, HasSubstr("expected a column of the log: \"t\", \"a\", \"b\", found \"z\""));
}

TEST(LogCli, WhatWentWrongInALogAndWhy) {
  const Outcome late =
      run("log find --project " + p4 + " " + source("demo/logs/p4-practice.csv.gz").string());
  ASSERT_EQ(late.code, 0) << late.err;
  EXPECT_THAT(late.out, HasSubstr("Most likely staged pump late"));
  EXPECT_THAT(late.out, HasSubstr("pressure low"));
  const json vent =
      uadze::json_of<json>(run("log find --json " + source("demo/logs/wisp-late-vent.csv.gz").string()).out);
  EXPECT_EQ(vent["causes"][0]["cause"], "vent blocked");
  EXPECT_THAT(vent["next_test"].get<std::string>(), HasSubstr("Open the filler cap"));
  const json sound =
      uadze::json_of<json>(run("log find --json " + source("demo/logs/wisp-heats.csv.gz").string()).out);
  EXPECT_EQ(sound["causes"][0]["cause"], "nothing is wrong");
}

TEST(LogCli, LogFaultsAreNamed) {
  TempFolder folder;
  EXPECT_EQ(run("log check " + folder.write("e.csv", "").string()).code, 1);
  EXPECT_THAT(run("log check " + folder.write("e.csv", "").string()).err,
              HasSubstr("e.csv: expected a table of channels, found an empty file"));
  EXPECT_THAT(
      run("log check " + folder.write("c.log", "(1.0) can0 1A0#00\n(2.0) can0 1A0#01\n").string()).err,
      HasSubstr("expected a table of signals for its frames"));
  const auto one = folder.write("one.csv", "Time [s],Speed [km/h]\n0,30\n1,31\n2,32\n").string();
  EXPECT_THAT(run("log lap --lap 7 " + one).err, HasSubstr("--lap: expected 1 to 1, found 7"));
  EXPECT_THAT(run("log lap " + one).err, HasSubstr("expected a lateral acceleration"));
  EXPECT_EQ(run("log check --line x " + one).code, 2);
}

TEST(LogCli, WhatWasBurntAndWhatWasInTheTank) {
  const Outcome text = run("log fuel " + heats + " --project " + wisp);
  EXPECT_EQ(text.code, 0) << text.err;
  EXPECT_THAT(text.out, HasSubstr("Level: put in less burnt"));
  const json fuel =
      uadze::json_of<json>(run("log fuel --json --drained-l 8 " + heats + " --project " + wisp).out);
  EXPECT_EQ(fuel["flow_from"], "fuel flow");
  EXPECT_NEAR(fuel["laps"][0]["level_l"].get<double>(), 11.9, 0.01) << "the demo's note of this log";
  EXPECT_NEAR(fuel["check"]["burnt_l"].get<double>(), 3.9, 1e-9);
  EXPECT_NEAR(fuel["check"]["residual_l"].get<double>(),
              fuel["check"]["counted_l"].get<double>() - fuel["check"]["burnt_l"].get<double>(), 1e-9);
  EXPECT_EQ(run("log fuel " + heats + " --project " + wisp + " --put-in-l -1").code, 2);
}

TEST(LogCli, APumpsRunUpThatIsLoggedIsComputedToo) {
  // The healthy P4's staged pump comes late at full throttle, by little more than the limit of 3 %: the
  // model's laps go past it at some of the places where the log does, and nowhere else.
  const json scores =
      uadze::json_of<json>(run("log compare --json " + source("demo/logs/p4-practice.csv.gz").string() +
                               " --project " + source("demo/ostrel-p4.uadze.json").string())
                               .out);
  EXPECT_EQ(scores["false_alarms"], 0);
  EXPECT_GE(scores["hits"], 7);
  EXPECT_LE(scores["misses"], 11);
}

TEST(LogCli, ComparedWithTheModelAndCalibratedOnWhatItCanTell) {
  const json scores = uadze::json_of<json>(run("log compare --json " + heats + " --project " + wisp).out);
  EXPECT_EQ(scores["hits"], 0);
  EXPECT_EQ(scores["false_alarms"], 0) << "a healthy day over the clean level";
  EXPECT_EQ(scores["places"].size(), 6u);
  EXPECT_TRUE(scores["places"][0]["highest_starved_l"].is_null());
  TempFolder folder;
  const std::string out = (folder / "learnt.uadze.json").string();
  const Outcome learnt =
      run("log calibrate " + heats + " --project " + wisp + " --date 2026-03-01 -o " + out);
  EXPECT_EQ(learnt.code, 0) << learnt.err;
  EXPECT_THAT(learnt.out, HasSubstr("of the fuel's motion they tell nothing"));
  const json project = uadze::json_of<json>(slurp(out));
  EXPECT_EQ(project["setups"][0]["calibration"]["date"], "2026-03-01");
  EXPECT_EQ(project["setups"][0]["calibration"]["logs"][0], "wisp-heats.csv.gz");
  // The same but for what was learnt: the file keeps its other keys.
  EXPECT_EQ(project["laps"], uadze::json_of<json>(slurp(wisp))["laps"]);
  const Outcome none =
      run("log compare " + source("demo/laps/vey-hill-wisp.csv").string() + " --project " + wisp);
  EXPECT_EQ(none.code, 1);
  EXPECT_THAT(none.err, HasSubstr("expected"));
}

TEST(LogCli, FormulasAndTrends) {
  const Outcome with = run("log check --formula 'over=(rail_pressure - manifold_pressure)/bar' " + heats);
  EXPECT_EQ(with.code, 0) << with.err;
  EXPECT_THAT(with.out, HasSubstr("(rail_pressure - manifold_pressure)/bar"));
  EXPECT_EQ(run("log check --formula nonsense " + heats).code, 2);
  EXPECT_THAT(run("log check --formula 'x=no_such + 1' " + heats).err, HasSubstr("formula x"));
  const json trend = uadze::json_of<json>(run("log trend --json " + heats + " " + heats + " " + heats).out);
  EXPECT_EQ(trend["logs"].size(), 3u);
  for (const json& line : trend["trends"]) EXPECT_EQ(line["clear"], false) << "thrice the same";
}

}  // namespace
}  // namespace uadze
