// uadze build: lists of the demo cars, their exit codes, and what a project keeps of stock and steps.
#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include "cli/run.h"
#include "core/base/json.h"

namespace uadze {
namespace {

using test::Outcome;
using test::p4;
using test::run;
using test::slurp;
using test::source;
using test::TempFolder;
using ::testing::HasSubstr;

TEST(BuildCli, EveryDemoCarHasItsLists) {
  for (const char* car : {"p4", "tarn", "wisp"}) {
    const std::string file = source(std::string("demo/ostrel-") + car + ".uadze.json").string();
    for (const char* what : {"cut", "joints", "wires", "order"}) {
      const Outcome o = run(std::string("build ") + what + " " + file);
      EXPECT_EQ(o.code, 0) << car << " " << what << o.err;
      EXPECT_GT(std::count(o.out.begin(), o.out.end(), '\n'), 3) << car << " " << what;
    }
    EXPECT_EQ(run("build check " + file).code, 0) << car << ": nothing of a demo car stands under its worst";
    EXPECT_THAT(run("build steps " + file).out, HasSubstr("Make the place safe"));
  }
  EXPECT_THAT(run("build cut --csv " + p4).out,
              HasSubstr("feed line 1,\"PTFE, smooth bore\",-8,1100 mm,1018 mm,"));
  EXPECT_EQ(run("build all " + p4).code, 2);
  EXPECT_EQ(run("build cut " + p4 + " --setup nobody").code, 2);
}

TEST(BuildCli, StockOfTheProjectIsTakenOffAndAFaultIsOne) {
  TempFolder folder;
  auto project = uadze::json_of<nlohmann::json>(slurp(p4));
  project["stock"] = {{{"what", "blend sensor"}, {"have", 1}},
                      {{"what", "hose clamp"}, {"size", "-6"}, {"ordered", 8}}};
  project["setups"][0]["circuit"]["lifts"][1]["parts"][0]["type"] = "paper filter, 10 micron";
  project["laps"] = nlohmann::json::array(), project["sessions"] = nlohmann::json::array();
  const auto file = folder.write("p.json", project.dump());
  const Outcome order = run("build order --csv " + file.string());
  EXPECT_THAT(order.out, HasSubstr("blend sensor,,1,0,1,0,0,,\n"));
  EXPECT_THAT(order.out, HasSubstr("hose clamp,-6,4,4,0,8,0,lift left: parts and lines,\n"));
  const Outcome check = run("build check " + file.string());
  EXPECT_EQ(check.code, 1);
  EXPECT_THAT(check.out, HasSubstr("stands before the pump (lift right)"));
  project["stock"].push_back({{"what", "blend sensor"}, {"have", 2}});
  EXPECT_THAT(run("build order " + folder.write("twice.json", project.dump()).string()).err,
              HasSubstr("expected each part once, found \"blend sensor\" a second time"));
  project["setups"][0].erase("circuit"), project["stock"].clear();
  const Outcome none = run("build cut " + folder.write("none.json", project.dump()).string());
  EXPECT_EQ(none.code, 1);
  EXPECT_THAT(none.err, HasSubstr("expected a circuit in this setup"));
}

}  // namespace
}  // namespace uadze
