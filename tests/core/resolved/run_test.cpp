// A whole resolved run: stopped and gone on with, cancelled, refused; and a study's tasks.
#include <gtest/gtest.h>

#include <fstream>

#include "core/base/files.h"
#include "core/resolved/run.h"
#include "core/solve/study.h"
#include "core/tank/shape.h"
#include "support/demo.h"
#include "support/refusal.h"
#include "support/temp_folder.h"

namespace uadze::resolved {
namespace {

struct Braked {
  tank::TankParts parts;
  tank::Tank tank = tank::plain_tank(make_solid(tank::Box{{0, 0, 0}, {0.4, 0.2, 0.2}}));
  RunInput input{.tank = tank,
                 .parts = parts,
                 .drive = lap::manoeuvre(lap::Manoeuvre::braking, {.strength = 1.0, .duration = 0.4}),
                 .volume = 6e-3,
                 .volumes = {},
                 .surfaces = {},
                 .pickups = {{"rear", {0.05, 0.1, 0.01}, 0.02, "engine"}},
                 .draws = {10e-6},
                 .back = {0.3, 0.1, 0.15},
                 .fuel = {},
                 .meshes = {}};
};

TEST(ResolvedRun, GoesOnFromItsCheckpointWithTheSameDigits) {
  const Braked b;
  test::TempFolder folder;
  RunOptions options{.size = 0.04, .sample = 0.1};
  const RunResult whole = run(b.input, options);
  EXPECT_LT(whole.samples[13].wet[0], 0.5) << "braking leaves the rear bare";
  options.checkpoint = folder / "run.checkpoint", options.every = 0.3;
  // Stopped once a while, at whatever it has come to.
  for (int stop = 1; stop < 8; ++stop) {
    Progress progress;
    auto stopping = options;
    stopping.seen = [&, n = 0](const Fuel&, size_t) mutable {
      if (++n == stop) progress.cancel();
    };
    try {
      run(b.input, stopping, &progress);
    } catch (const Cancelled&) {
    }
    EXPECT_TRUE(std::filesystem::exists(options.checkpoint) || stop < 3);
  }
  const RunResult again = run(b.input, options);
  EXPECT_TRUE(again.resumed);
  ASSERT_EQ(again.samples.size(), whole.samples.size());
  for (size_t k = 0; k < whole.samples.size(); ++k) {
    EXPECT_EQ(again.samples[k].centroid, whole.samples[k].centroid) << k;
    EXPECT_EQ(again.samples[k].volume, whole.samples[k].volume) << k;
    EXPECT_EQ(again.samples[k].share, whole.samples[k].share) << k;
  }
  EXPECT_EQ(again.steps.iterations, whole.steps.iterations);
  ASSERT_EQ(again.said.size(), 1u) << "75 mm are less than two and a half cells of 40";
  EXPECT_NE(again.said[0].in().find("75.0 mm deep"), std::string::npos) << again.said[0].in();
  EXPECT_NE(again.said[0].in(UnitSystem::us()).find("2.95 in deep"), std::string::npos)
      << "kept with its values: " << again.said[0].in(UnitSystem::us());
  EXPECT_FALSE(std::filesystem::exists(options.checkpoint)) << "it has served";
}

TEST(ResolvedRun, RefusesWhatCanNotBe) {
  Braked b;
  test::TempFolder folder;
  const auto said = [&](const RunOptions& options) { return test::refusal([&] { run(b.input, options); }); };
  std::ofstream(folder / "other") << "not a checkpoint";
  EXPECT_NE(said({.size = 0.04, .checkpoint = folder / "other"}).find("a checkpoint of this run"),
            std::string::npos);
  // A checkpoint of another run is left alone.
  RunOptions options{.size = 0.04, .sample = 0.1, .checkpoint = folder / "c", .every = 0.1};
  Progress progress;
  options.seen = [&](const Fuel&, size_t n) {
    if (n == 3) progress.cancel();
  };
  EXPECT_THROW(run(b.input, options, &progress), Cancelled);
  const std::string kept = test::slurp(folder / "c");
  options.seen = nullptr, options.size = 0.05;
  EXPECT_NE(said(options).find("another run"), std::string::npos);
  EXPECT_EQ(test::slurp(folder / "c"), kept);
  // Cut short.
  write_file_atomically(folder / "c", kept.substr(0, kept.size() / 2));
  options.size = 0.04;
  EXPECT_NE(said(options).find("it ends too early"), std::string::npos);
  for (const double volume : {-1.0, 1.0, double(NAN)}) {
    b.input.volume = volume;
    EXPECT_NE(said({.size = 0.04}).find("expected between 0 and 16 L"), std::string::npos) << volume;
  }
  b.input.volume = 0;
  EXPECT_EQ(run(b.input, {.size = 0.04, .sample = 0.5}).samples.back().volume, 0)
      << "an empty tank stays empty";
  b.input.volume = b.tank.volume();
  const auto full = run(b.input, {.size = 0.04, .sample = 0.5});
  EXPECT_NEAR(full.samples.back().centroid.x(), 0.2, 3e-3) << "a full one has nowhere to go";
}

TEST(ResolvedRun, ADiskOrAMemoryThatIsFullIsSaidAndCostsNoAnswer) {
  const Braked b;
  test::TempFolder folder;
  RunOptions options{.size = 0.05, .sample = 0.1};
  const RunResult whole = run(b.input, options);
  options.checkpoint = folder / "no such folder" / "c", options.every = 0.2;
  const RunResult without = run(b.input, options);
  EXPECT_EQ(without.samples.back().centroid, whole.samples.back().centroid);
  ASSERT_EQ(without.said.size(), whole.said.size() + 1);
  EXPECT_NE(without.said.front().in().find("checkpoint could not be written"), std::string::npos);
  EXPECT_NE(without.said.front().in().find("no such folder"), std::string::npos) << without.said.front().in();
  const std::string told = test::refusal([&] { run(b.input, {.size = 5e-5}); });
  EXPECT_NE(told.find("GB of memory that are free"), std::string::npos) << told;
  EXPECT_NE(told.find("choose larger ones"), std::string::npos) << told;
  // What is asked for grows as the fuel and as the cells do.
  EXPECT_NEAR(memory_needed(b.input, {.size = 0.005}) / memory_needed(b.input, {.size = 0.01}), 8, 1.5);
}

TEST(ResolvedRun, ALapTurnsItsTankToo) {
  const auto lap = lap::read_lap(test::source("demo/laps/brackenholt-p4.csv")).value;
  const lap::ForceTrace drive = lap::force_trace(lap);
  ASSERT_EQ(drive.yaw.size(), lap.time.size());
  // By hand: yaw = lateral over speed, positive to the left.
  const size_t k = lap.time.size() / 3;
  EXPECT_NEAR(drive.push(lap.time[k]).yaw, lap.lateral[k] / lap.speed[k], 1e-9);
  const lap::ForceTrace part = drive.part(lap.time[k] + 0.003, lap.time[k] + 2);
  EXPECT_NEAR(part.push(lap.time[k] + 1).yaw, drive.push(lap.time[k] + 1).yaw, 1e-12);
  EXPECT_EQ(part.begin(), lap.time[k] + 0.003);
}

}  // namespace
}  // namespace uadze::resolved

namespace uadze::solve {
namespace {

std::filesystem::path study_file(const test::TempFolder& folder, const std::string& more = {}) {
  const auto file = folder / "study.json";
  std::ofstream(file) << R"({"undertow_adze_study": 1, "project": ")"
                      << test::source("demo/ostrel-p4.uadze.json").string()
                      << R"(", "setup": "P4, surge fitted", "level_l": [3, 6], "vary": [
      {"name": "pickups", "values": [{"name": "as they are"}, {"name": "forward", "set": {"tank/pickups/0/position_mm": [100, 60, 6], "tank/pickups/1/position_mm": [100, -60, 6]}}]}],
      "cases": [{"manoeuvre": "braking", "strength_g": 1.2}, {"manoeuvre": "launch", "strength_g": 0.9}])"
                      << more << "}";
  return file;
}

TEST(Study, EveryTaskOnceAndTheBestChoices) {
  test::TempFolder folder;
  const Study study = read_study(study_file(folder));
  ASSERT_EQ(study.tasks(), 8);
  std::set<std::string> keys;
  for (int n = 1; n <= study.tasks(); ++n) {
    const TaskResult r = run_task(study, n);
    EXPECT_EQ(parse_result(result_text(r), "r").longest, r.longest);
    EXPECT_EQ(r.key, task_key(study, n));
    keys.insert(r.key);
    if (n != 5) write_file_atomically(result_file(folder.path(), n), result_text(r));
  }
  EXPECT_EQ(keys.size(), 8u) << "no two tasks are the same";
  Gathered got = gather(study, folder.path());
  EXPECT_EQ(got.missing, std::vector<int>{5});
  write_file_atomically(result_file(folder.path(), 5), result_text(run_task(study, 5)));
  got = gather(study, folder.path());
  EXPECT_TRUE(got.missing.empty() && got.passed_over.empty());
  // Which is best, by hand: nothing is better in both.
  for (const Choice& c : got.choices) {
    bool beaten = false;
    for (const Choice& o : got.choices)
      beaten = beaten ||
               (o.level <= c.level && o.longest <= c.longest && (o.level < c.level || o.longest < c.longest));
    EXPECT_EQ(c.best, !beaten) << c.name;
  }
  // A broken result, one of another task and one of a former state are passed over, and told.
  write_file_atomically(result_file(folder.path(), 1), "{");
  write_file_atomically(result_file(folder.path(), 2), test::slurp(result_file(folder.path(), 3)));
  TaskResult old = got.results[3];
  old.key = "another";
  write_file_atomically(result_file(folder.path(), 4), result_text(old));
  got = gather(study, folder.path());
  EXPECT_EQ(got.missing, (std::vector<int>{1, 2, 4}));
  EXPECT_EQ(got.passed_over.size(), 3u);
}

TEST(Study, FaultsAreNamedByPlace) {
  test::TempFolder folder;
  const auto said = [&](const std::string& text) {
    std::ofstream(folder / "s.json") << text;
    return test::refusal([&] { check_study(read_study(folder / "s.json")); });
  };
  const std::string begin = R"({"undertow_adze_study": 1, "project": ")" +
                            test::source("demo/ostrel-p4.uadze.json").string() + "\"";
  EXPECT_NE(said("{").find("line 1"), std::string::npos) << said("{");
  EXPECT_NE(said("{}").find("undertow_adze_study"), std::string::npos);
  EXPECT_NE(said(begin + "}").find("level_l"), std::string::npos);
  EXPECT_NE(said(begin + R"(, "level_l": [5, -1], "cases": [{"lap": "x"}]})").find("level_l/1"),
            std::string::npos);
  EXPECT_NE(said(begin + R"(, "level_l": [5], "cases": [{}]})").find("cases/0"), std::string::npos);
  EXPECT_NE(said(begin + R"(, "level_l": [5], "cases": [{"manoeuvre": "loop"}]})").find("cases/0/manoeuvre"),
            std::string::npos);
  EXPECT_NE(said(begin + R"(, "level_l": [5], "cases": [{"lap": "x"}], "model": ["fast"]})").find("model"),
            std::string::npos);
  EXPECT_NE(
      said(R"({"undertow_adze_study": 1, "project": "gone.json", "level_l": [5], "cases": [{"lap": "x"}]})")
          .find("gone.json"),
      std::string::npos);
  // What the project can not have is said before any task runs.
  const auto vary = [&](const char* set) {
    return said(
        begin +
        R"(, "level_l": [5], "cases": [{"manoeuvre": "braking"}], "vary": [{"name": "pickups", "values": [
        {"name": "as they are"}, {"name": "wrong", "set": )" +
        set + "}]}]}");
  };
  EXPECT_EQ(vary(R"({"tank/pickups/0/position_mm": [100, 60, 6]})"), "accepted");
  for (const char* set :
       {R"({"tank/pickups/0/position_mm": ["far", 60, 6]})", R"({"tank/pickups/0/positon_mm": [1, 2, 3]})",
        R"({"tank/pickups/9/position_mm": [1, 2, 3]})", R"({"tonk/pickups": []})"})
    EXPECT_NE(vary(set).find("/vary/0/values/1/set"), std::string::npos) << set << ": " << vary(set);
  EXPECT_NE(said(begin + R"(, "level_l": [5], "cases": [{"lap": "no such"}]})")
                .find("/cases/0/lap: expected one of \"Brackenholt, dry\""),
            std::string::npos);
  EXPECT_NE(said(begin + R"(, "setup": "nobody's", "level_l": [5], "cases": [{"manoeuvre": "braking"}]})")
                .find("/setup: expected one of"),
            std::string::npos);
  const Study study = read_study(study_file(folder));
  EXPECT_THROW(task_of(study, 0), InputError);
  EXPECT_THROW(task_of(study, 9), InputError);
  Study wrong = study;
  wrong.vary[0].values[0].set = {{"tank/pockets/0/position_mm", 3}};
  EXPECT_NE(test::refusal([&] { run_task(wrong, 1); }).find("tank/pockets/0/position_mm"), std::string::npos);
  wrong.vary[0].values[0].set = {{"tank/pickups/0/position_mm", "there"}};
  EXPECT_NE(test::refusal([&] { run_task(wrong, 1); }).find("position_mm"), std::string::npos);
}

}  // namespace
}  // namespace uadze::solve
