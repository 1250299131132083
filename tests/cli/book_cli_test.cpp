// uadze book: the P4's story from the first record to "ready", what can not be written, proof and rescue; and
// the simulated bench over a file and a socket.
#include <gmock/gmock.h>
#include <gtest/gtest.h>
#include <sys/wait.h>
#include <unistd.h>

#include <csignal>
#include <thread>

#include "cli/run.h"

namespace uadze {
namespace {

using test::Outcome;
using test::run;
using ::testing::HasSubstr;
using ::testing::Not;

/// A copy of the demo, and the clock at the end of its season.
class BookCli : public ::testing::Test {
 protected:
  void SetUp() override {
    test::copy_demo(folder);
    clock("2026-11-20T18:00:00Z");
    ::setenv("TZ", "UTC", 1);
  }
  void TearDown() override { ::unsetenv("UADZE_CLOCK"); }
  static void clock(const char* at) { ::setenv("UADZE_CLOCK", at, 1); }
  std::string car(const std::string& name) const {
    return (folder / ("ostrel-" + name + ".uadze.json")).string();
  }
  Outcome rig(const std::string& arguments) const {
    const int status = std::system(
        (std::string(UADZE_RIG) + " " + arguments + " >/dev/null 2>" + (folder / "rig").string()).c_str());
    return {WEXITSTATUS(status), "", test::slurp(folder / "rig")};
  }
  test::TempFolder folder;
};

TEST_F(BookCli, EachDemoCarHasASeasonBehindItAndOneGateOpen) {
  for (const auto& [name, open] : std::vector<std::pair<std::string, std::string>>{
           {"p4", "hot check"}, {"tarn", "run-out"}, {"wisp", "dip table"}}) {
    const Outcome gates = run("book gates --format csv " + car(name));
    EXPECT_EQ(gates.code, 1) << "not ready";
    EXPECT_THAT(gates.out, HasSubstr("\n" + open + ","));
    const std::string rows = gates.out;
    size_t passed = 0;
    for (size_t at = rows.find(",passed,"); at != std::string::npos; at = rows.find(",passed,", at + 1))
      ++passed;
    EXPECT_EQ(passed, static_cast<size_t>(std::count(rows.begin(), rows.end(), '\n')) - 2) << name << rows;
    EXPECT_EQ(run("book due " + car(name)).code, 0) << "nothing overdue";
    EXPECT_THAT(run("book list " + car(name) + " --kind incident").out, HasSubstr("incident"));
    EXPECT_THAT(run("book verify " + car(name)).out, HasSubstr("Each record is as it was written."));
    EXPECT_THAT(run("book due --format ics " + car(name)).out, HasSubstr("BEGIN:VEVENT"));
    EXPECT_THAT(run("book handover " + car(name)).out, HasSubstr("not ready: 1 open"));
  }
}

TEST_F(BookCli, TheLastGateMakesTheP4ReadyAndALineOpenedUndoesIt) {
  const std::string car_file = car("p4");
  const Outcome alone =
      run("book test " + car_file + " 'hot check' --by 'R. Fell' --second 'r fell' --all-seen");
  EXPECT_EQ(alone.code, 1);
  EXPECT_THAT(alone.err, HasSubstr("not the same one twice"));
  const Outcome short_of =
      run("book test " + car_file +
          " 'hot check' --by 'R. Fell' --second 'M. Dunn' --seen 'every joint dry, hot'");
  EXPECT_EQ(short_of.code, 1);
  EXPECT_THAT(short_of.err, HasSubstr("Still to be looked at"));
  EXPECT_THAT(run("book gates " + car_file).out, HasSubstr("1 open")) << "nothing of it was written";
  EXPECT_EQ(run("book test " + car_file + " 'hot check' --by 'R. Fell' --second 'M. Dunn' --all-seen").code,
            0);
  const Outcome ready = run("book gates " + car_file);
  EXPECT_EQ(ready.code, 0);
  EXPECT_THAT(ready.out, HasSubstr("P4, surge fitted: ready"));
#ifdef UADZE_CARD
  EXPECT_EQ(run("card " + car_file + " --session 'Practice, 10 laps' --setup 'P4, surge fitted' -o " +
                (folder / "c.pdf").string())
                .code,
            0);
#endif
  // Someone opens a line; someone else withdraws that.
  EXPECT_EQ(run("book add " + car_file + " event 'line opened' --by 'R. Fell' --link 'feed line'").code, 0);
  EXPECT_THAT(run("book gates " + car_file).out, HasSubstr("not ready: 4 open"))
      << "leak, hold, prime, and the seals of an opened line";
  const std::string last = run("book list " + car_file + " 'line opened feed'").out;
  const std::string number = std::to_string(std::atoi(last.c_str() + last.rfind('\n', last.size() - 2) + 1));
  EXPECT_EQ(run("book amend " + car_file + " " + number + " --withdraw --by 'M. Dunn'").code, 0) << last;
  EXPECT_EQ(run("book gates " + car_file).code, 0);
  EXPECT_THAT(run("book show " + car_file + " " + number).out, HasSubstr("withdraws record " + number));
  // It grows old.
  clock("2027-03-20T08:00:00Z");
  const Outcome later = run("book gates " + car_file);
  EXPECT_EQ(later.code, 1);
  EXPECT_THAT(later.out, HasSubstr("overdue"));
}

TEST_F(BookCli, ALeakTestRunsTwelveHoursOverARestart) {
  const std::string car_file = car("p4");
  std::filesystem::remove(folder / "ostrel-p4.book");
  const std::string sign = " --by 'R. Fell' --second 'M. Dunn' --way 'rigid tank, brim full' --all-seen";
  EXPECT_THAT(run("book test " + car_file + " leak" + sign).err,
              HasSubstr("It lasts 12 h and has run for 0 min"));
  EXPECT_EQ(run("book begin " + car_file + " leak --by 'R. Fell'").code, 0);
  clock("2026-11-21T02:00:00Z");
  EXPECT_THAT(run("book gates " + car_file).out, HasSubstr("4 h 0 min left"));
  EXPECT_EQ(run("book test " + car_file + " leak" + sign).code, 1) << "eight hours are not twelve";
  clock("2026-11-21T06:30:00Z");
  EXPECT_THAT(run("book gates " + car_file).out, HasSubstr("to be looked at"));
  EXPECT_EQ(run("book test " + car_file + " leak" + sign).code, 0);
  EXPECT_THAT(run("book test " + car_file +
                  " prime --by 'R. Fell' --second 'M. Dunn' --all-seen --reading 'times primed=5'")
                  .err,
              HasSubstr("First: hold"));
  EXPECT_EQ(run("book begin " + car_file + " prime --by x").code, 2) << "it does not run for hours";
  EXPECT_EQ(run("book test " + car_file + " dance --by x").code, 2);
}

TEST_F(BookCli, ABenchIsReadByFileAndBySocketAndAFailingPartIsNamed) {
  const std::string car_file = car("p4");
  const std::string sign = " --by 'R. Fell' --instrument 'can 5 L' --checked-until 2027-03-31";
  const std::string csv = (folder / "bench.csv").string();
  ASSERT_EQ(rig("bench " + car_file + " --gate 'flow of main 1' -o " + csv).code, 0);
  EXPECT_EQ(run("book test " + car_file + " 'flow of main 1'" + sign + " --from " + csv).code, 0);
  for (const auto& [fault, gate, told] : std::vector<std::array<std::string, 3>>{
           {"worn-pump", "flow of main 1", "fits: The pump gives"},
           {"bad-ground", "flow of main 1", "fits: Its wires take more"},
           {"regulator-off", "base pressure", "fits: The regulator is set"},
           {"reference-off", "base pressure", "fits: The reference does not reach"},
           {"leak", "hold", "failed"}}) {
    ASSERT_EQ(
        rig("bench " + car_file + " --gate '" + gate + "' --fault " + fault + " --strength 0.6 -o " + csv)
            .code,
        0);
    const std::string more = gate == "hold" ? " --second 'M. Dunn' --way 'nitrogen, lines dry'" : "";
    if (gate == "hold") {
      run("book begin " + car_file + " hold --by 'R. Fell'");
      clock("2026-11-20T19:00:00Z");
    }
    const Outcome test = run("book test " + car_file + " '" + gate + "'" + sign + more + " --from " + csv);
    EXPECT_EQ(test.code, 1) << fault;
    EXPECT_THAT(test.out, HasSubstr(told)) << fault << test.err;
  }
  // Over a socket, while a bench answers there.
  const std::string at = (folder / "bench").string();
  const pid_t bench = ::fork();
  if (bench == 0) {
    ::execl(UADZE_RIG, UADZE_RIG, "bench", car_file.c_str(), "--socket", at.c_str(), nullptr);
    ::_exit(9);
  }
  for (int k = 0; k < 600 && !std::filesystem::exists(at); ++k)
    std::this_thread::sleep_for(std::chrono::milliseconds(50));
  EXPECT_EQ(run("book test " + car_file + " 'flow of lift left'" + sign + " --from socket:" + at).code, 0);
  ::kill(bench, SIGKILL);
  ::waitpid(bench, nullptr, 0);
  const Outcome gone = run("book test " + car_file + " 'flow of lift left'" + sign + " --from socket:" + at);
  EXPECT_EQ(gone.code, 1);
  EXPECT_THAT(gone.err, HasSubstr("a bench that answers"));
  EXPECT_THAT(run("book test " + car_file + " 'flow of main 1'" + sign + " --reading 'flow=many'").err,
              HasSubstr("a flow, or litres / seconds"));
  EXPECT_THAT(run("book test " + car_file + " 'flow of main 1'" + sign + " --reading 'dance=1'").err,
              HasSubstr("expected one of: volts at the battery, flow"));
}

TEST_F(BookCli, ExportImportBackupAndRescue) {
  const std::string car_file = car("p4"), book = (folder / "ostrel-p4.book").string();
  const std::string before = test::slurp(book);
  EXPECT_EQ(run("book list " + car_file).code, 0);
  EXPECT_EQ(test::slurp(book), before) << "reading writes nothing";
  for (const char* kind : {"csv", "json"}) {
    const std::string file = (folder / ("out." + std::string(kind))).string();
    EXPECT_EQ(run("book list " + car_file + " --format " + kind + " -o " + file).code, 0);
    const std::string into = (folder / ("in-" + std::string(kind) + ".book")).string();
    EXPECT_THAT(run("book import " + into + " " + file + " --by 'T. Arkle'").out,
                HasSubstr(" records added"));
    EXPECT_THAT(run("book list " + into).out, HasSubstr("leak"));
    EXPECT_EQ(run("book verify " + into).code, 0);
  }
  EXPECT_EQ(run("book backup " + car_file + " -o " + (folder / "copy.book").string()).code, 0);
  std::string bytes = before;
  for (size_t i = bytes.size() / 2; i < bytes.size() / 2 + 9000; ++i) bytes[i] = 'x';
  folder.write("ostrel-p4.book", bytes);
  const Outcome broken = run("book gates " + car_file);
  EXPECT_EQ(broken.code, 1);
  EXPECT_THAT(broken.err, HasSubstr("a whole book"));
  const Outcome saved = run("book rescue " + car_file + " -o " + (folder / "saved.book").string());
  EXPECT_EQ(saved.code, 0) << saved.err;
  EXPECT_EQ(run("book verify " + (folder / "saved.book").string()).code, 0);
  EXPECT_EQ(run("book add " + car_file + " run --by x").code, 2) << "a run needs its hours";
  EXPECT_EQ(run("book add " + car_file + " event dance --by x").code, 2);
  EXPECT_EQ(run("book add " + car_file + " note --note x").code, 2) << "a name stands under it";
}

}  // namespace
}  // namespace uadze
