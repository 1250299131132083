// uadze resolve and uadze study on the command line.
#include <gmock/gmock.h>
#include <gtest/gtest.h>
#include <signal.h>
#include <sys/wait.h>
#include <unistd.h>

#include <fstream>
#include <thread>

#include "cli/run.h"

namespace uadze {
namespace {

using test::Outcome;
using test::run;
using ::testing::HasSubstr;

class ResolveCli : public ::testing::Test {
 protected:
  void SetUp() override { test::copy_short_demo(folder, 30); }
  std::string file(const std::string& name) const { return (folder / name).string(); }
  std::string p4() const { return file("ostrel-p4.uadze.json"); }
  /// Begun and killed some times, a little later each time.
  static void kill_often(const std::string& words, int times, int first_ms, int later_ms) {
    for (int k = 0; k < times; ++k) {
      const pid_t child = ::fork();
      if (child == 0) {
        ::execl("/bin/sh", "sh", "-c",
                ("exec " + test::uadze_binary() + " " + words + " >/dev/null 2>&1").c_str(), nullptr);
        ::_exit(9);
      }
      std::this_thread::sleep_for(std::chrono::milliseconds(first_ms + later_ms * k));
      ::kill(child, SIGKILL);
      ::waitpid(child, nullptr, 0);
    }
  }
  test::TempFolder folder;
};

TEST_F(ResolveCli, ACornerOfALapWithItsTableAndSurface) {
  const std::string ask =
      "resolve " + p4() + " --level-l 12 --lap 'Brackenholt, dry' --from 20 --to 21 --cell-mm 45 ";
  const Outcome o = run(ask + "--draw --surface " + file("seen") + " --frames 10 -o " + file("rows.csv"));
  EXPECT_EQ(o.code, 0) << o.err;
  EXPECT_THAT(o.out, HasSubstr("P4, surge fitted, Brackenholt, dry: 12.0 L, 1.0 s resolved at 45.0 mm"));
  EXPECT_THAT(o.out, HasSubstr("volume: kept by count"));
  const std::string rows = test::slurp(folder / "rows.csv");
  EXPECT_EQ(std::count(rows.begin(), rows.end(), '\n'), 52) << "a head, the begin, and fifty";
  EXPECT_TRUE(std::filesystem::exists(folder / "seen/surface-000010.vtu"));
  EXPECT_THAT(test::slurp(folder / "seen/surface-000010.obj"), HasSubstr("\nf "));
  EXPECT_THAT(run(ask + "--estimate").out, HasSubstr("on one core"));
  // The same digits again.
  run(ask + "--draw --alone -o " + file("again.csv"));
  EXPECT_EQ(test::slurp(folder / "again.csv"), rows);
  for (const auto& [bad, told] : std::vector<std::pair<std::string, std::string>>{
           {"--level-l 12", "expected one of --lap"},
           {"--level-l 900 --manoeuvre braking", "L"},
           {"--level-l 12 --manoeuvre loop", "expected one of"},
           {"--level-l 12 --lap 'Brackenholt, dry' --from 20 --to 9999", "seconds between"},
           {"--level-l 12 --manoeuvre braking --cell-mm 0.1", "--cell-mm"}}) {
    const Outcome wrong = run("resolve " + p4() + " " + bad);
    EXPECT_NE(wrong.code, 0) << bad;
    EXPECT_THAT(wrong.err, HasSubstr(told)) << bad;
  }
}

TEST_F(ResolveCli, TheWorstCornersAreTabledAndKept) {
  const std::string ask =
      "resolve " + p4() + " --corners 2 --level-l 5 --level-l 9 --cell-mm 60 --sample-ms 50 ";
  const Outcome first = run(ask + "-o " + file("corners.csv"));
  ASSERT_EQ(first.code, 0) << first.err;
  EXPECT_THAT(first.out, HasSubstr("4 runs at 60.0 mm, 0 of them kept from before"));
  EXPECT_THAT(first.out, HasSubstr("of 4; furthest off it is at"));
  const std::string csv = test::slurp(folder / "corners.csv");
  EXPECT_EQ(std::count(csv.begin(), csv.end(), '\n'), 5);
  EXPECT_THAT(csv, HasSubstr("corner,starves [1],hurts under [l],level [l]"));
  EXPECT_THAT(run(ask + "-o " + file("again.csv")).out, HasSubstr("4 of them kept"));
  EXPECT_EQ(test::slurp(folder / "again.csv"), csv) << "the same answer, from what is kept";
  // Listed with their sizes, thrown away one by one and all.
  const Outcome list = run("runs " + p4());
  EXPECT_THAT(list.out, HasSubstr("4 runs, "));
  EXPECT_THAT(list.out, HasSubstr("Brackenholt, dry"));
  const std::string name = std::filesystem::directory_iterator(folder / "ostrel-p4.runs")->path().filename();
  EXPECT_THAT(run("runs " + p4() + " --throw-away " + name).out, HasSubstr("1 thrown away"));
  EXPECT_EQ(run("runs " + p4() + " --throw-away nothing").code, 2);
  EXPECT_THAT(run(ask).out, HasSubstr("3 of them kept"));
  EXPECT_THAT(run("runs " + p4() + " --throw-all-away").out, HasSubstr("4 thrown away"));
  EXPECT_THAT(run("runs " + p4()).out, HasSubstr("No resolved runs"));
  // What is damaged is run anew, and a place that can not be written costs no answer.
  const std::string one = "resolve " + p4() + " --level-l 9 --manoeuvre braking --cell-mm 60 ";
  ASSERT_EQ(run(one).code, 0);
  const auto kept = std::filesystem::directory_iterator(folder / "ostrel-p4.runs")->path();
  const std::string whole = test::slurp(kept);
  std::ofstream(kept) << whole.substr(0, whole.size() - 30);
  EXPECT_THAT(run(one).out, ::testing::Not(HasSubstr("kept from before")));
  EXPECT_THAT(run(one).out, HasSubstr("kept from before"));
  // A checkpoint that is damaged is begun anew.
  std::filesystem::path part = kept;
  std::filesystem::rename(kept, part.replace_extension(".part"));
  EXPECT_THAT(run("runs " + p4()).out, HasSubstr("stopped: goes on from there"));
  EXPECT_EQ(run(one).code, 0);
  EXPECT_FALSE(std::filesystem::exists(part));
  std::filesystem::remove_all(folder / "ostrel-p4.runs");
  std::ofstream(folder / "ostrel-p4.runs") << "a file where the folder would be";
  const Outcome unkept = run(one);
  EXPECT_EQ(unkept.code, 0) << unkept.err;
  EXPECT_THAT(unkept.out, HasSubstr("Not kept: "));
  // The extremes: an empty tank's fuel lies nowhere, a full one's has nowhere to go.
  EXPECT_THAT(run("resolve " + p4() + " --no-keep --level-l 0 --manoeuvre braking --cell-mm 60").out,
              ::testing::Not(HasSubstr(" apart")));
  const Outcome full = run("resolve " + p4() + " --no-keep --level-l 63.09 --manoeuvre braking --cell-mm 60");
  EXPECT_EQ(full.code, 0) << full.err;
  EXPECT_THAT(full.out, HasSubstr("The fast model agrees"));
  EXPECT_EQ(run("resolve " + p4() + " --corners 2 --manoeuvre braking").code, 2);
  EXPECT_EQ(run("resolve " + p4() + " --lap 'Brackenholt, dry'").code, 2) << "without a level";
}

TEST_F(ResolveCli, AKeptRunThatWasKilledGoesOnWithItsPictures) {
  const std::string ask =
      "resolve " + p4() + " --level-l 12 --manoeuvre braking --cell-mm 40 --alone --every-s 0.2";
  ASSERT_EQ(run(ask).code, 0);
  const auto runs = folder / "ostrel-p4.runs";
  const auto kept = std::filesystem::directory_iterator(runs)->path();
  // But for the seconds that it took.
  const auto content = [&] {
    const std::string all = test::slurp(kept);
    return all.substr(all.find('\n', all.find('\n') + 1));
  };
  const std::string whole = content();
  std::filesystem::remove(kept);
  kill_often(ask, 5, 150, 100);
  const Outcome last = run(ask);
  EXPECT_EQ(last.code, 0) << last.err;
  EXPECT_EQ(content(), whole) << "samples and pictures to the byte";
  for (const auto& entry : std::filesystem::directory_iterator(runs))
    EXPECT_NE(entry.path().extension(), ".part") << "it has served";
  // What a save left that was killed is listed, and goes with the rest.
  std::ofstream(runs / "0123.part.part-1-abcdef") << "half";
  EXPECT_THAT(run("runs " + p4()).out, HasSubstr("left by a save that was killed"));
  EXPECT_EQ(run("runs " + p4() + " --throw-all-away").code, 0);
  EXPECT_TRUE(std::filesystem::is_empty(runs));
}

TEST_F(ResolveCli, KilledAtAnyMomentItGoesOnFromItsCheckpoint) {
  const std::string ask = "resolve " + p4() + " --level-l 12 --manoeuvre braking --cell-mm 45 --alone ";
  ASSERT_EQ(run(ask + "-o " + file("whole.csv")).code, 0);
  std::string words = ask + "--every-s 0.2 --checkpoint " + file("c") + " -o " + file("killed.csv");
  kill_often(words, 6, 60, 90);
  const Outcome last = run(words);
  EXPECT_EQ(last.code, 0) << last.err;
  EXPECT_EQ(test::slurp(folder / "killed.csv"), test::slurp(folder / "whole.csv"));
}

TEST_F(ResolveCli, AStudyIsPlannedRunOnceAndGathered) {
  const std::string study = file("studies/p4-pickups.json");
  std::string words = test::slurp(study);
  const std::string levels = "\"level_l\": [2, 4, 6, 8, 12]";
  ASSERT_NE(words.find(levels), std::string::npos);
  std::ofstream(study) << words.replace(words.find(levels), levels.size(), "\"level_l\": [4, 12]");
  EXPECT_THAT(run("study plan " + study).out, HasSubstr("8 choices, 2 cases, 1 model: 16 tasks"));
  const std::string into = " --into " + file("out");
  EXPECT_EQ(run("study run " + study + into + " --task 7").code, 0);
  EXPECT_EQ(run("study gather " + study + into).code, 1) << "15 are missing";
  EXPECT_EQ(run("study run " + study + into).code, 0);
  const Outcome table = run("study gather " + study + into);
  EXPECT_EQ(table.code, 0) << table.err;
  EXPECT_EQ(std::count(table.out.begin(), table.out.end(), '\n'), 9);
  EXPECT_THAT(table.out, HasSubstr(",yes"));
  // None twice: what is there is left as it is.
  const auto first = folder / "out/task-000001.json";
  const auto written = std::filesystem::last_write_time(first);
  EXPECT_EQ(run("study run " + study + into).code, 0);
  EXPECT_EQ(std::filesystem::last_write_time(first), written);
  // A killed task's half is no result; it is run again, to the same bytes.
  const std::string whole = test::slurp(first);
  std::ofstream(first) << whole.substr(0, 20);
  EXPECT_EQ(run("study run " + study + into + " --task 1").code, 0);
  EXPECT_EQ(test::slurp(first), whole);
  // After an edit of the project nothing of before counts.
  std::string project = test::slurp(p4());
  const std::string from = "\"permeability_m2\": 2e-7";
  ASSERT_NE(project.find(from), std::string::npos);
  project.replace(project.find(from), from.size(), "\"permeability_m2\": 3e-7");
  std::ofstream(p4()) << project;
  EXPECT_THAT(run("study gather " + study + into).err, HasSubstr("16 of 16 tasks are missing"));
  EXPECT_THAT(run("study submit --print " + study + into).out, HasSubstr("#SBATCH --array=1-16"));
  EXPECT_NE(run("study run " + study + into + " --task 17").code, 0);
}

}  // namespace
}  // namespace uadze
