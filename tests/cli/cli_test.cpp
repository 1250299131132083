// Drives the command as a user does: arguments in, stdout, stderr and exit code out.
#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include <cmath>
#include <fstream>
#include <sstream>

#include "cli/run.h"
#include "core/base/csv.h"
#include "core/base/json.h"
#include "core/lap/lap.h"
#include "support/temp_folder.h"

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

TEST(Cli, HelpAndVersion) {
  const Outcome help = run("--help");
  EXPECT_EQ(help.code, 0);
  for (const char* name : {"check", "solve", "settle", "lap", "map", "run", "size", "plan", "card"})
    EXPECT_THAT(help.out, HasSubstr(name));
  EXPECT_THAT(run("--version").out, HasSubstr("uadze "));
}

TEST(Cli, WrongUseIsTwo) {
  for (const char* arguments : {"", "nonsense", "solve", "settle x.json", "solve --what x", "map"}) {
    const Outcome o = run(arguments);
    EXPECT_EQ(o.code, 2) << arguments;
    EXPECT_EQ(o.out, "") << arguments;
    EXPECT_NE(o.err, "") << arguments;
  }
  EXPECT_EQ(run("settle " + p4 + " --setup nobody --level-l 5 --accel-g 0,0,0").code, 2);
  EXPECT_THAT(run("settle " + p4 + " --setup nobody --level-l 5 --accel-g 0,0,0").err,
              HasSubstr("no setup \"nobody\"; there is \"P4, surge fitted\""));
  for (const char* accel : {"1,2", "1,2,3,4", "a,b,c", "1;2;3", "nan,0,0"})
    EXPECT_EQ(run("settle " + p4 + " --level-l 5 --accel-g '" + accel + "'").code, 2) << accel;
  EXPECT_THAT(run("settle " + p4 + " --level-l 500 --accel-g 0,0,0").err, HasSubstr("what the tank holds"));
  EXPECT_THAT(run("settle " + p4 + " --level-l 5 --accel-g 0,0,-1").err, HasSubstr("weightless"));
  EXPECT_EQ(run("map " + p4 + " --levels 1").code, 2);
}

TEST(Cli, FaultyInputIsOneAndNamed) {
  TempFolder folder;
  const auto broken = folder.write("p.json", "{\"undertow_adze_project\": 1, \"setups\": 3}");
  for (const std::string command : {"check ", "solve ", "map "}) {
    const Outcome o = run(command + broken.string());
    EXPECT_EQ(o.code, 1) << command;
    EXPECT_THAT(o.err, HasSubstr("p.json: /setups: expected a list, found the number 3"));
    EXPECT_EQ(o.out, "");
  }
  const Outcome none = run("check /nowhere.json");
  EXPECT_EQ(none.code, 1);
  EXPECT_THAT(none.err, HasSubstr("/nowhere.json: can not be read"));
  copy_demo(folder);
  std::filesystem::remove(folder / "laps/brackenholt-p4.csv");
  const Outcome lap = run("check " + (folder / "ostrel-p4.uadze.json").string());
  EXPECT_EQ(lap.code, 1);
  EXPECT_THAT(lap.err, HasSubstr("/laps/0/file"));
}

TEST(Cli, CheckOfTheDemosIsClean) {
  for (const std::string& file : {p4, wisp}) {
    const Outcome o = run("check " + file);
    EXPECT_EQ(o.code, 0);
    EXPECT_THAT(o.out, HasSubstr("0 errors, 0 warnings"));
  }
}

TEST(Cli, SolveAsJsonAddsUp) {
  const Outcome o = run("solve " + wisp + " --json");
  ASSERT_EQ(o.code, 0) << o.err;
  const json result = uadze::json_of<json>(o.out);
  ASSERT_EQ(result["results"].size(), 6u);
  for (const auto& r : result["results"]) {
    const double burnt = r["start_l"].get<double>() - r["bring_back_l"].get<double>();
    EXPECT_GT(burnt, r["stint_laps"].get<double>() * r["consumption_l_per_lap"].get<double>() - 1e-9);
    EXPECT_NEAR(r["start_percent_of_tank"].get<double>(),
                100 * r["start_l"].get<double>() / r["tank_l"].get<double>(), 1e-9);
    EXPECT_GE(r["working"].size(), 4u);
    EXPECT_FALSE(r["events_just_below_clean_level"].empty());
  }
}

TEST(Cli, SolveForOneSetupAndSession) {
  const Outcome o = run("solve " + p4 + " --setup 'P4, surge removed' --session 'Race, 3 h'");
  EXPECT_EQ(o.code, 0);
  EXPECT_THAT(o.out, HasSubstr("P4, surge removed | Race, 3 h"));
  EXPECT_THAT(o.out, Not(HasSubstr("Practice")));
  EXPECT_THAT(o.out, HasSubstr("MORE THAN MAY BE FILLED"));
  EXPECT_THAT(run("solve " + wisp + " --session 'Practice run' --working").out, HasSubstr("V_start = V_end"));
  EXPECT_EQ(run("solve " + p4 + " --session none").code, 2);
}

TEST(Cli, SettleTiltsByAccelerationOverGravity) {
  const Outcome o =
      run("settle " + p4 + " --setup 'P4, surge fitted' --level-l 30 --accel-g 0.1,-0.2,0 --json");
  ASSERT_EQ(o.code, 0) << o.err;
  const json r = uadze::json_of<json>(o.out);
  const auto n = r["spaces"][0]["surface"]["normal"].get<std::vector<double>>();
  EXPECT_NEAR(n[0] / n[2], 0.1, 1e-12);
  EXPECT_NEAR(n[1] / n[2], -0.2, 1e-12);
  double all = 0;
  for (const auto& space : r["spaces"]) all += space["volume_l"].get<double>();
  EXPECT_NEAR(all, 30, 1e-9);
  EXPECT_EQ(r["pickups"].size(), 2u);
  EXPECT_THAT(run("settle " + p4 + " --level-l 30 --accel-g -1,0,0").out, HasSubstr("% wet"))
      << "a leading minus is a number";
}

TEST(Cli, AProjectOfATankAloneSettles) {
  TempFolder folder;
  const auto file = folder.write("t.json", R"({"undertow_adze_project": 1, "setups": [{"name": "t", "tank":
      {"axis": "z", "profile_mm": [[0,0],[400,0],[400,300],[0,300]], "from_mm": 0, "to_mm": 200}}]})");
  const json r = uadze::json_of<json>(
      run("settle " + file.string() + " --setup t --level-l 12 --accel-g 0,0,0 --json").out);
  EXPECT_NEAR(r["spaces"][0]["surface"]["offset_mm"].get<double>(), 100, 1e-9);
  const auto c = r["spaces"][0]["centroid_mm"].get<std::vector<double>>();
  EXPECT_NEAR(c[0], 200, 1e-9);
  EXPECT_NEAR(c[2], 50, 1e-9);
  EXPECT_EQ(run("check " + file.string()).code, 0);
  EXPECT_THAT(run("solve " + file.string()).err,
              HasSubstr("/sessions: expected a session to plan, found none"));
}

TEST(Cli, SimulatesALapThatReadsBack) {
  TempFolder folder;
  const auto out = folder / "lap.csv";
  const std::string command = "lap simulate " + source("demo/tracks/vey-hill.json").string() + " " +
                              source("demo/cars/ostrel-wisp.json").string();
  const Outcome o = run(command + " -o " + out.string());
  EXPECT_EQ(o.code, 0);
  EXPECT_THAT(o.err, HasSubstr("noise seed 1903"));
  EXPECT_EQ(slurp(out), slurp(source("demo/laps/vey-hill-wisp.csv"))) << "the demo's lap, byte for byte";
  EXPECT_EQ(run(command).out, slurp(out)) << "to stdout without -o";
  EXPECT_NE(run(command + " --seed 2").out, slurp(out));
  EXPECT_EQ(run(command + " -o /nowhere/x.csv").code, 1);
}

TEST(Cli, SloshFollowsALapOrARecordedAcceleration) {
  TempFolder folder;
  const auto accel = folder.write("a.csv", "time [s],ax [g],ay [g],az [g]\n0,0,1,0\n2,0,1,0\n");
  const std::string command = "slosh " + p4 + " --level-l 20 --accel " + accel.string();
  const Outcome planar = run(command + " --step-ms 100");
  ASSERT_EQ(planar.code, 0) << planar.err;
  EXPECT_THAT(planar.out,
              HasSubstr("time [s],centroid x [mm],centroid y [mm],centroid z [mm],tank volume [l]"));
  EXPECT_THAT(planar.out, HasSubstr("rear left depth [mm],rear left wet fraction [1]"));
  EXPECT_EQ(std::count(planar.out.begin(), planar.out.end(), '\n'), 22);
  EXPECT_NE(run(command + " --model settled --step-ms 100").out, planar.out);
  EXPECT_EQ(
      run("slosh " + p4 + " --level-l 20 --lap 'Brackenholt, dry' -o " + (folder / "o.csv").string()).code,
      0);
  EXPECT_GT(slurp(folder / "o.csv").size(), 100000u);
  EXPECT_EQ(run("slosh " + p4 + " --level-l 20").code, 2) << "neither lap nor acceleration";
  EXPECT_EQ(run(command + " --model foam").code, 2);
  EXPECT_EQ(run(command + " --step-ms 0").code, 2);
  EXPECT_EQ(run("slosh " + p4 + " --level-l 0 --accel " + accel.string()).code, 0)
      << "nothing moves, and says so";
  EXPECT_EQ(run("slosh " + p4 + " --level-l 90 --accel " + accel.string()).code, 2);
  EXPECT_EQ(run("slosh " + p4 + " --level-l 20 --manoeuvre braking --strength-g 1.5 --step-ms 100").code, 0);
  EXPECT_THAT(run("slosh " + p4 + " --level-l 20 --manoeuvre flying").err,
              HasSubstr("expected one of \"steady turn, left\""));
  EXPECT_EQ(run("slosh " + p4 + " --level-l 20 --accel /nowhere.csv").code, 1);
}

/// The numbers under a heading of a CSV.
std::vector<double> column(const std::string& csv, const std::string& heading) {
  const CsvTable table = parse_csv(csv, "output");
  const auto at = std::find(table.header.begin(), table.header.end(), heading) - table.header.begin();
  std::vector<double> out;
  if (at == static_cast<std::ptrdiff_t>(table.header.size())) return out;
  for (const auto& row : table.rows) out.push_back(std::stod(row[static_cast<size_t>(at)]));
  return out;
}

TEST(Cli, SpacesAndOpeningsOfATankAloneAreFollowed) {
  TempFolder folder;
  const auto file = folder.write("t.json", R"({"undertow_adze_project": 1, "setups": [{"name": "t", "tank": {
      "shapes": [{"kind": "box", "from_mm": [-500, -300, 0], "to_mm": [500, 300, 600]}],
      "baffles": [{"name": "wall", "point_mm": [0, 0, 0], "normal": [0, 1, 0], "top_mm": 550,
        "openings": [{"name": "slot", "kind": "notch", "at_mm": [0, 0, 0], "width_mm": 999, "height_mm": 20}]}]}}]})");
  const auto accel = folder.write("a.csv", "time [s],ax [g],ay [g],az [g]\n0,0,1,0\n2,0,1,0\n");
  const Outcome o =
      run("slosh " + file.string() + " --level-l 60 --accel " + accel.string() + " --step-ms 50");
  ASSERT_EQ(o.code, 0) << o.err;
  const auto right = column(o.out, "right volume [l]"), left = column(o.out, "left volume [l]"),
             flow = column(o.out, "slot flow [l/s]");
  ASSERT_EQ(right.size(), 41u);
  for (size_t i = 0; i < right.size(); ++i) EXPECT_NEAR(right[i] + left[i], 60, 6e-11);
  EXPECT_NEAR(right.back() - right.front(), 27, 4);
  EXPECT_LT(flow[20], -5) << "against the wall's normal";
  const json modes = uadze::json_of<json>(run("modes " + file.string() + " --level-l 120 --json").out);
  ASSERT_EQ(modes["spaces"].size(), 2u);
  // 1 m long, 0.2 m deep: w2 = g k tanh(kh).
  const double k = M_PI / 1.0;
  EXPECT_NEAR(modes["spaces"][0]["modes"][0]["angular_frequency_rad_s"].get<double>(),
              std::sqrt(9.80665 * k * std::tanh(0.2 * k)), 1e-3);
}

TEST(Cli, DipReachAndMeshCheckSayWhatTheyFind) {
  const Outcome dip = run("dip " + p4 + " --at-mm 0,0 --steps 10");
  ASSERT_EQ(dip.code, 0) << dip.err;
  EXPECT_THAT(dip.out, HasSubstr("rear left begins to be bare at"));
  EXPECT_THAT(dip.out, HasSubstr("# Brimful: 63.09"));
  const auto mm = column(dip.out, "dip [mm]"), volume = column(dip.out, "volume [l]");
  ASSERT_EQ(mm.size(), 11u);
  EXPECT_TRUE(std::is_sorted(mm.begin(), mm.end()));
  EXPECT_NEAR(volume.back(), 63.09, 0.01);
  EXPECT_EQ(run("dip " + p4 + " --at-mm 5000,0").code, 2);
  const auto least =
      column(run("reach " + p4 + " --pickup 'rear left' --directions 8").out, "least volume [l]");
  ASSERT_EQ(least.size(), 8u);
  EXPECT_GT(least[2], least[6] + 5) << "a left-hand corner asks more of the left pickup";
  EXPECT_EQ(run("reach " + p4 + " --pickup nobody").code, 2);
  TempFolder folder;
  const auto mesh =
      folder.write("m.obj", "v 0 0 0\nv 400 0 0\nv 0 300 0\nv 0 0 200\nf 1 3 2\nf 1 2 4\nf 2 3 4\n");
  const Outcome open = run("mesh check " + mesh.string());
  EXPECT_EQ(open.code, 1);
  EXPECT_THAT(open.out, HasSubstr("the surface is open"));
  const json mended = uadze::json_of<json>(run("mesh check " + mesh.string() + " --mend fill --json").out);
  EXPECT_TRUE(mended["usable"].get<bool>());
  EXPECT_NEAR(mended["volume_l"].get<double>(), 4, 1e-9);
  EXPECT_EQ(run("mesh check " + mesh.string() + " --mend paint").code, 2);
  EXPECT_EQ(run("mesh check /nowhere.stl").code, 1);
}

TEST(Cli, MapHasARowForEveryLevelAndSample) {
  TempFolder folder;
  const auto out = folder / "map.csv";
  ASSERT_EQ(
      run("map " + wisp + " --setup 'Wisp, pickup in front' --lap 'Vey Hill, standing start' --levels 5 -o " +
          out.string())
          .code,
      0);
  const std::string text = slurp(out);
  const auto samples = lap::read_lap(source("demo/laps/vey-hill-wisp.csv")).value.size();
  EXPECT_EQ(std::count(text.begin(), text.end(), '\n'), static_cast<std::ptrdiff_t>(5 * samples + 1));
  EXPECT_THAT(text, HasSubstr("level [l],time [s],distance [m],mean wet fraction [1]"));
}

const std::string tarn = source("demo/ostrel-tarn.uadze.json").string();

TEST(Cli, CircuitAtAPointGivesEverythingAsJson) {
  const Outcome o = run("circuit " + p4 + " --power-kw 300 --manifold-kpa 150 --json");
  ASSERT_EQ(o.code, 0) << o.err;
  const json j = uadze::json_of<json>(o.out);
  EXPECT_NEAR(j["conditions"]["power_kw"].get<double>(), 300, 1e-9);
  EXPECT_TRUE(j["solution"]["converged"].get<bool>());
  EXPECT_EQ(j["regulator"]["state"], "regulating");
  EXPECT_EQ(j["rail"]["injectors"].size(), 6u);
  for (const char* key : {"nodes", "branches", "parts", "pumps", "budget", "gauge_card", "line_choice"})
    EXPECT_FALSE(j[key].empty()) << key;
  EXPECT_FALSE(j["capacity"]["limits"].empty());
  // Out of the main pumps comes what the engine burns and what the regulator sends back.
  EXPECT_NEAR(j["surge_tank"]["drawn_l_h"].get<double>(),
              j["conditions"]["demand_l_h"].get<double>() + j["regulator"]["flow_l_h"].get<double>(), 1e-3);
  for (const auto& pump : j["pumps"])
    EXPECT_NEAR(pump["voltage_v"].get<double>() + pump["wire_drop_v"].get<double>(), 13.8, 1e-6);
}

TEST(Cli, CircuitConditionsMoveTheAnswer) {
  const auto available = [](const std::string& more) {
    return uadze::json_of<json>(run("circuit " + p4 + " --json " + more).out)["capacity"]["available_l_h"]
        .get<double>();
  };
  const double usual = available("");
  EXPECT_LT(available("--supply-v 11.5"), usual);
  EXPECT_LT(available("--what-if loaded-filter"), usual);
  EXPECT_LT(available("--what-if main-dead --what-if loaded-filter"), available("--what-if main-dead"));
  EXPECT_LT(available("--manifold-kpa 250"), usual);
  EXPECT_LT(available("--fuel-c 58"), usual);
}

TEST(Cli, EachDemoCarHasAWhatIfWithAPlainVerdict) {
  EXPECT_THAT(run("circuit " + p4 + " --what-if main-dead").out,
              ::testing::AllOf(HasSubstr("The rail is starved: 2.9"), HasSubstr("main 2: dead,"),
                               HasSubstr("main 1: on,")));
  EXPECT_THAT(run("circuit " + p4 + " --power-kw 100").out,
              ::testing::AllOf(HasSubstr("main 2: off,"), HasSubstr("at the set pressure, without main 2.")))
      << "not wanted yet";
  // At what the other lift pump brings, to the litre.
  EXPECT_THAT(run("circuit " + p4 + " --what-if lift-dead --power-kw 300").out,
              testing::Not(HasSubstr("empties")));
  EXPECT_THAT(run("circuit " + wisp + " --what-if hot-fuel").out,
              HasSubstr("The fuel boils in the tank at 60.0 °C"));
  EXPECT_THAT(run("circuit " + tarn + " --what-if small-return --power-kw 0").out,
              HasSubstr("The return line overwhelms the regulator"));
}

TEST(Cli, ARunUnderWhatNeverComesOutSaysSo) {
  EXPECT_NE(run("run " + tarn + " --level-l 0.2").out.find("under what never comes out (0.96 L)"),
            std::string::npos);
  // Whether it starves at that level or not, the sentence says so.
  const char* held = "it holds only because what is burnt is thought replaced";
  EXPECT_NE(run("run " + p4 + " --level-l 2.5").out.find(held), std::string::npos);
  EXPECT_EQ(run("run " + p4 + " --setup 'P4, surge removed' --level-l 0.2").out.find(held),
            std::string::npos);
  EXPECT_EQ(run("run " + tarn + " --level-l 10").out.find("never comes out"), std::string::npos);
}

TEST(Cli, CircuitSweepIsATable) {
  const Outcome o = run("circuit " + tarn + " --what-if small-return --sweep power:0:400:50");
  ASSERT_EQ(o.code, 0) << o.err;
  std::istringstream in(o.out);
  std::string row;
  std::getline(in, row);
  EXPECT_EQ(row.rfind("power [kW],demand [l/h],available [l/h],rail [bar]", 0), 0u);
  double before = 1e9;
  int rows = 0;
  while (std::getline(in, row)) {
    ++rows;
    std::vector<double> cells;
    std::istringstream cell_stream(row);
    for (std::string cell; std::getline(cell_stream, cell, ',');) cells.push_back(std::atof(cell.c_str()));
    EXPECT_LT(cells[4], before) << "the difference falls to its setting as demand grows";
    before = cells[4];
  }
  EXPECT_EQ(rows, 9);
}

TEST(Cli, CircuitMisuseIsSaid) {
  for (const char* more :
       {"--sweep power:0:100", "--sweep boost:0:1:1", "--sweep power:0:100:-5", "--what-if rain",
        "--power-kw 1 --demand-l-h 1", "--supply-v nan", "--accel-g 1,2", "--power-kw -5"})
    EXPECT_EQ(run("circuit " + p4 + " " + more).code, 2) << more;
  const Outcome o = run("circuit " + wisp + " --what-if lift-dead");
  EXPECT_EQ(o.code, 0);
  EXPECT_THAT(o.err, HasSubstr("nothing here that it changes"));
}

TEST(Cli, CircuitAsTextNamesEverythingThatMatters) {
  const Outcome o = run("circuit " + tarn + " --setup 'Tarn, before the surge tank'");
  ASSERT_EQ(o.code, 0) << o.err;
  for (const char* part :
       {"250 kW", "regulator regulating", "injectors", "pump      main", "limit", "costs", "budget",
        "gauge card", "Idle, reference hose off", "coarse filter, 100 micron, large"})
    EXPECT_THAT(o.out, HasSubstr(part));
}

TEST(Cli, CircuitTakesAccelerationLevelStageAndWear) {
  const auto point = [](const std::string& more) {
    return uadze::json_of<json>(run("circuit " + p4 + " --json " + more).out);
  };
  const auto pump = [](const json& j, const std::string& name) {
    for (const auto& p : j["pumps"])
      if (p["name"] == name) return p;
    return json();
  };
  const json usual = point("");
  EXPECT_TRUE(pump(usual, "main 2")["on"].get<bool>());
  EXPECT_FALSE(pump(point("--throttle-percent 20"), "main 2")["on"].get<bool>());
  EXPECT_GT(pump(point("--level-l 60"), "lift left")["inlet_kpa"],
            pump(point("--level-l 5"), "lift left")["inlet_kpa"]);
  // The feed line runs forward to the engine: speeding up presses against it.
  const auto head = [](const json& j) {
    double sum = 0;
    for (const auto& b : j["budget"]) sum += b["head_kpa"].get<double>();
    return sum;
  };
  EXPECT_GT(head(point("--accel-g 2,0,0")), head(usual) + 5);
  EXPECT_LT(head(point("--accel-g=-2,0,0")), head(usual) - 5);
  EXPECT_LT(point("--filter-load-percent 100")["capacity"]["available_l_h"],
            usual["capacity"]["available_l_h"]);
  EXPECT_LT(point("--altitude-m 3000")["conditions"]["ambient_kpa"].get<double>(), 72);
}

TEST(Cli, CircuitSaysWhenNothingCanFlow) {
  const json j = uadze::json_of<json>(run("circuit " + wisp + " --json --demand-l-h 4000").out);
  EXPECT_FALSE(j["solution"]["demand_can_flow"].get<bool>());
  EXPECT_THAT(j["verdict"].get<std::string>(), HasSubstr("can not bring 4000 L/h"));
  // What stands then is a state that can be: the injectors open all the time, the mixture lean.
  EXPECT_NEAR(j["rail"]["duty_percent"].get<double>(), 100, 1e-3);
  EXPECT_GT(j["rail"]["difference_kpa"].get<double>(), 0);
  const double burnt = j["shortfall"]["burnt_l_h"];
  EXPECT_GT(burnt, 1);
  EXPECT_NEAR(j["shortfall"]["leaner_percent"].get<double>(), (4000 / burnt - 1) * 100, 1e-6);
  const double safe = j["shortfall"]["safe_power_kw"];
  const json met =
      uadze::json_of<json>(run("circuit " + wisp + " --json --power-kw " + std::to_string(0.99 * safe)).out);
  EXPECT_TRUE(met["shortfall"].is_null()) << "what is called safe is carried";
}

TEST(Cli, CircuitOfASetupWithoutOneIsSaid) {
  TempFolder folder;
  std::string text = slurp(source("demo/ostrel-wisp.uadze.json"));
  json j = uadze::json_of<json>(text);
  for (auto& s : j["setups"]) s.erase("circuit");
  std::ofstream(folder / "bare.json") << j.dump();
  const Outcome o = run("circuit " + (folder / "bare.json").string());
  EXPECT_EQ(o.code, 1);
  EXPECT_THAT(o.err, HasSubstr("expected a circuit in this setup, found none"));
}

TEST(Cli, RunGivesSeriesEventsAndAClosedBalance) {
  TempFolder folder;
  const std::string csv = (folder / "run.csv").string(), events = (folder / "events.json").string();
  const Outcome o = run("run " + wisp + " --level-l 2 -o " + csv + " --events " + events + " --json");
  ASSERT_EQ(o.code, 0) << o.err;
  const json j = uadze::json_of<json>(o.out);
  EXPECT_FALSE(j["clean"].get<bool>());
  EXPECT_LT(std::abs(j["volume"]["error_l"].get<double>()), 1e-9 * j["volume"]["start_l"].get<double>());
  EXPECT_EQ(uadze::json_of<json>(slurp(folder / "events.json")), j);
  for (const auto& e : j["events"]) {
    EXPECT_FALSE(e["cause"].get<std::string>().empty());
    EXPECT_FALSE(e["phase"].get<std::string>().empty());
    EXPECT_GT(e["end_s"], e["start_s"]);
  }
  EXPECT_EQ(j["events"][0]["phase"], "launch");
  const std::string series = slurp(folder / "run.csv");
  EXPECT_THAT(series, HasSubstr("difference [kPa]"));
  EXPECT_EQ(std::count(series.begin(), series.end(), '\n'), 1922);
  EXPECT_THAT(run("run " + wisp + " --level-l 11").out, HasSubstr("clean"));
}

TEST(Cli, RunTakesManoeuvresStintsAndSaysWhatIsWrong) {
  const json brake = uadze::json_of<json>(
      run("run " + wisp + " --manoeuvre launch --strength-g 1.5 --level-l 2 --json").out);
  EXPECT_FALSE(brake["clean"].get<bool>());
  const json stint = uadze::json_of<json>(run("run " + wisp + " --level-l 8 --stint 30 --json").out);
  EXPECT_GT(stint["first_event_lap"], 0);
  EXPECT_LT(std::abs(stint["volume"]["error_l"].get<double>()), 1e-8);
  EXPECT_EQ(stint["laps_driven"], stint["first_event_lap"]);
  EXPECT_EQ(run("run " + wisp + " --level-l 800").code, 2);
  EXPECT_THAT(run("run " + wisp + " --level-l 2 --manoeuvre hop").err, HasSubstr("expected one of"));
  EXPECT_EQ(run("run " + wisp + " --level-l 2 --manoeuvre braking --lap x").code, 2);
}

TEST(Cli, MapAsJsonNamesTheLevelOfEachCorner) {
  const json j = uadze::json_of<json>(run("map " + wisp + " --levels 12 --json --band").out);
  ASSERT_GT(j["corners"].size(), 3u);
  for (size_t k = 1; k < j["corners"].size(); ++k)
    EXPECT_LE(j["corners"][k]["hurts_at_l"], j["corners"][k - 1]["hurts_at_l"]);
  EXPECT_LE(j["band"]["low_l"], j["clean_level_l"]);
  EXPECT_GE(j["band"]["high_l"], j["clean_level_l"]);
  EXPECT_EQ(j["band"]["terms"].size(), 4u);
  const json wet = uadze::json_of<json>(run("map " + wisp + " --levels 12 --json --grip-percent 60").out);
  EXPECT_LT(wet["clean_level_l"], j["clean_level_l"]);
}

TEST(Cli, SizeGivesCurvePumpsAndStaging) {
  const Outcome o = run("size " + p4 + " --json");
  ASSERT_EQ(o.code, 0) << o.err;
  const json j = uadze::json_of<json>(o.out);
  EXPECT_GT(j["surge_tank"]["needed_l"], 0);
  EXPECT_LT(j["surge_tank"]["needed_l"], j["surge_tank"]["present_l"]);
  EXPECT_EQ(j["surge_tank"]["curves"].size(), 2u);
  EXPECT_GT(j["main_pumps"].size(), 8u);
  EXPECT_TRUE(j["main_pumps"][0]["meets"].get<bool>());
  EXPECT_TRUE(j.contains("staging"));
  const json bare = uadze::json_of<json>(run("size " + wisp + " --json").out);
  EXPECT_FALSE(bare.contains("surge_tank"));
}

TEST(Cli, SizeSearchesTheSameWayEveryTime) {
  const std::string command = "size " + wisp + " --session 'Timed run' --pickup-shift-mm=-20,20 --json";
  const Outcome one = run(command), two = run(command);
  ASSERT_EQ(one.code, 0) << one.err;
  EXPECT_EQ(one.out, two.out);
  EXPECT_GE(uadze::json_of<json>(one.out)["kept"].size(), 1u);
  EXPECT_THAT(run("size " + wisp + " --return nowhere").err, HasSubstr("expected surge tank"));
}

TEST(Cli, PlanIsSeededAndStatesItsRisk) {
  const std::string command = "plan " + wisp + " --no-band --json --draws 5000";
  const Outcome one = run(command), two = run(command + " --seed 1"), other = run(command + " --seed 2");
  ASSERT_EQ(one.code, 0) << one.err;
  EXPECT_EQ(one.out, two.out);
  EXPECT_NE(one.out, other.out);
  const json j = uadze::json_of<json>(one.out);
  ASSERT_EQ(j["sessions"].size(), 3u);
  for (const auto& s : j["sessions"]) {
    EXPECT_GE(s["at_risk"]["start"]["rounded_up_l"], s["at_risk"]["start"]["l"]);
    EXPECT_GT(s["at_risk"]["start"]["l"], s["at_risk"]["mean_l"]);
    EXPECT_EQ(s["at_risk"]["seed"], 1);
    EXPECT_TRUE(s["at_risk"].contains("rule_of_thumb"));
    EXPECT_TRUE(s["at_risk"]["start"].contains("dip_mm"));
  }
  const json safer = uadze::json_of<json>(run(command + " --risk 0.1").out);
  EXPECT_GT(safer["sessions"][0]["at_risk"]["start"]["l"], j["sessions"][0]["at_risk"]["start"]["l"]);
  const std::string csv = run("plan " + wisp + " --no-band --csv").out;
  EXPECT_EQ(std::count(csv.begin(), csv.end(), '\n'), 4);
  EXPECT_EQ(run("plan " + wisp + " --risk 80").code, 2);
}

TEST(Cli, ASessionWithoutALapIsSaidAtItsPlace) {
  TempFolder folder;
  json j = uadze::json_of<json>(slurp(source("demo/ostrel-wisp.uadze.json")));
  j["sessions"][1]["lap"] = "";
  std::ofstream(folder / "bare.json") << j.dump();
  const Outcome o = run("plan " + (folder / "bare.json").string() + " --session 'Timed run'");
  EXPECT_EQ(o.code, 1);
  EXPECT_THAT(o.err, HasSubstr("/sessions/1/lap"));
}

#ifdef UADZE_CARD
TEST(Cli, CardIsAPdfOfOnePageASession) {
  TempFolder folder;
  const Outcome o = run("card " + wisp + " --no-band -o " + (folder / "card.pdf").string());
  ASSERT_EQ(o.code, 0) << o.err;
  EXPECT_EQ(o.err, "");
  const std::string pdf = slurp(folder / "card.pdf");
  EXPECT_EQ(pdf.substr(0, 5), "%PDF-");
  size_t pages = 0;
  for (size_t at = 0; (at = pdf.find("/Type /Page\n", at)) != std::string::npos; ++at) ++pages;
  EXPECT_EQ(pages, 3u);
  EXPECT_EQ(run("card " + wisp + " -o " + (folder / "no/such/card.pdf").string()).code, 1);
}
#endif

TEST(Cli, ACommaInAPickupsNameKeepsTheTablesWhole) {
  TempFolder folder;
  copy_demo(folder);
  const auto file = folder / "ostrel-wisp.uadze.json";
  auto project = uadze::json_of<json>(test::slurp(file));
  auto& name = project["setups"][0]["tank"]["pickups"][0]["name"];
  const std::string before = name;
  name = "front, the \"red\" one";
  std::string text = project.dump();
  // Suctions name their pickup.
  for (size_t at; (at = text.find("\"pickup\":\"" + before + "\"")) != std::string::npos;)
    text.replace(at, before.size() + 11, "\"pickup\":" + name.dump());
  folder.write("ostrel-wisp.uadze.json", text);
  for (const char* command : {"map FILE --levels 3", "run FILE --level-l 6 -o -", "reach FILE --strength-g 1",
                              "slosh FILE --level-l 6 --manoeuvre braking"}) {
    std::string words = command;
    words.replace(words.find("FILE"), 4, file.string());
    const Outcome o = run(words);
    ASSERT_EQ(o.code, 0) << command << o.err;
    const CsvTable table = parse_csv(o.out, command);
    const bool in_header = std::any_of(table.header.begin(), table.header.end(), [](const std::string& cell) {
      return cell.starts_with("front, the \"red\" one");
    });
    EXPECT_TRUE(in_header || table.rows[0][0] == "front, the \"red\" one") << command;
  }
}

TEST(Cli, PrintsTheSchemaItReadsBy) {
  const Outcome o = run("schema project");
  ASSERT_EQ(o.code, 0) << o.err;
  EXPECT_TRUE(uadze::json_of<json>(o.out)["properties"].contains("setups"));
  EXPECT_THAT(run("schema car --tables").out, HasSubstr("| key | range | default | meaning |"));
  EXPECT_EQ(run("schema house").code, 2);
}

TEST(Cli, NotANumberIsNoNumber) {
  for (const char* arguments :
       {"plan %1 --risk nan", "map %1 --grip-percent nan", "size %1 --margin-percent nan",
        "size %1 --surge-l 1,nan", "run %1 --level-l nan", "dip %1 --pitch-deg nan"}) {
    std::string text = arguments;
    text.replace(text.find("%1"), 2, wisp);
    const Outcome o = run(text);
    EXPECT_EQ(o.code, 2) << text;
    EXPECT_EQ(o.out, "") << text;
    EXPECT_THAT(o.err, HasSubstr("expected a number")) << text;
  }
}

TEST(Cli, AlternativesThatCanNotBeAreRefused) {
  for (const char* volumes : {"-1", "1e11", "0"}) {
    const Outcome o = run("size " + p4 + " --surge-l " + volumes);
    EXPECT_EQ(o.code, 1) << volumes;
    EXPECT_THAT(o.err, HasSubstr("surge volumes to try: expected above 0 and at most")) << volumes;
  }
}

TEST(Cli, OutputGoesWhereItIsSent) {
  TempFolder folder;
  const auto log = folder.write("log", "kept\n");
  const std::string command =
      test::uadze_binary() + " dip " + wisp + " --steps 2 -o /dev/stdout >> " + log.string();
  EXPECT_EQ(std::system(command.c_str()), 0);
  EXPECT_THAT(slurp(log), ::testing::StartsWith("kept\n"));
  EXPECT_GT(slurp(log).size(), 20u);
  EXPECT_EQ(run("dip " + wisp + " --steps 2 -o /dev/full").code, 1);
#ifdef UADZE_CARD
  EXPECT_THAT(run("card " + wisp + " --draws 100 --no-band -o -").out, ::testing::StartsWith("%PDF"));
  EXPECT_EQ(run("card " + wisp + " --draws 100 --no-band --paper A5 -o -").code, 2);
#endif
}

TEST(Cli, FilesOutsideTheFolderAreReadWithTheUsersWord) {
  TempFolder folder;
  copy_demo(folder);
  json project = uadze::json_of<json>(slurp(folder / "ostrel-wisp.uadze.json"));
  project["laps"][0]["file"] = "../laps/vey-hill-wisp.csv";
  const std::string file = folder.write("inner/wisp.uadze.json", project.dump()).string();
  EXPECT_EQ(run("check " + file).code, 1);
  EXPECT_THAT(run("check " + file).err, HasSubstr("files in the project's folder"));
  EXPECT_EQ(run("--outside check " + file).code, 0);
}

// A folder's name is bytes: what it is written in is the system's affair.
TEST(Cli, ANameThatIsNoUtf8IsReadWrittenAndNamedAsItIs) {
  TempFolder folder;
  const std::filesystem::path odd = folder /
                                    "b\xff"
                                    "d";
  std::filesystem::create_directory(odd);
  std::filesystem::copy_file(wisp, odd / "p.uadze.json");
  std::filesystem::copy(source("demo/laps"), odd / "laps");
  const std::string project = " '" + (odd / "p.uadze.json").string() + "'";
  const Outcome checked = run("check" + project);
  EXPECT_EQ(checked.code, 0) << checked.err;
  EXPECT_THAT(checked.out, HasSubstr("b\xff"
                                     "d/p.uadze.json"));
  const Outcome ran = run("run" + project + " --level-l 8 --json");
  EXPECT_EQ(ran.code, 0) << ran.err;
  EXPECT_FALSE(uadze::json_or_none<json>(ran.out).is_discarded())
      << "the results are UTF-8 whatever the file is called";
#ifdef UADZE_CARD
  EXPECT_EQ(run("card" + project + " -o '" + (odd / "card.pdf").string() + "'").code, 0);
  EXPECT_THAT(slurp(odd / "card.pdf").substr(0, 5), "%PDF-");
#endif
  std::ofstream(odd / "p.uadze.json") << "{\"format\": 1e999}";
  const Outcome broken = run("check" + project);
  EXPECT_EQ(broken.code, 1);
  EXPECT_THAT(broken.err, HasSubstr("b\xff"
                                    "d/p.uadze.json"));
  EXPECT_THAT(broken.err, HasSubstr("1e999"));
}

TEST(Cli, AMeshWithNothingLeftIsSaidToBeSo) {
  TempFolder folder;
  const auto mesh = folder.write("flat.obj", "v 0 0 0\nv 1 0 0\nv 2 0 0\nf 1 2 3\n");
  const Outcome o = run("mesh check " + mesh.string() + " --mend drop");
  EXPECT_EQ(o.code, 1);
  EXPECT_THAT(o.out + o.err, HasSubstr("no triangle left"));
}

}  // namespace
}  // namespace uadze
