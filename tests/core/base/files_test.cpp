#include "core/base/files.h"

#include <fcntl.h>
#include <gmock/gmock.h>
#include <gtest/gtest.h>
#include <signal.h>
#include <sys/resource.h>
#include <sys/stat.h>
#include <unistd.h>
#include <thread>

#include "core/base/csv.h"
#include "core/base/message.h"
#include "core/base/progress.h"
#include "support/temp_folder.h"

namespace uadze {
namespace {

using test::slurp;
using test::TempFolder;
using ::testing::HasSubstr;

std::string failure_of(const std::function<void()>& action) {
  try {
    action();
  } catch (const InputError& error) {
    return error.what();
  }
  return "no failure";
}

size_t files_in(const std::filesystem::path& folder) {
  size_t n = 0;
  for ([[maybe_unused]] const auto& entry : std::filesystem::directory_iterator(folder)) ++n;
  return n;
}

TEST(Files, WritesWholeAndReadsBack) {
  TempFolder folder;
  const std::string content(100000, 'x');
  write_file_atomically(folder / "a.json", content);
  write_file_atomically(folder / "a.json", content + "y");
  EXPECT_EQ(read_file(folder / "a.json"), content + "y");
  EXPECT_EQ(files_in(folder.path()), 1u) << "no temporary file is left";
}

TEST(Files, KeepsPermissionsAndFollowsLinks) {
  TempFolder folder;
  const auto target = folder.write("target", "old");
  std::filesystem::permissions(target,
                               std::filesystem::perms::owner_read | std::filesystem::perms::owner_write);
  std::filesystem::create_symlink(target, folder / "link");
  write_file_atomically(folder / "link", "new");
  EXPECT_TRUE(std::filesystem::is_symlink(folder / "link"));
  EXPECT_EQ(slurp(target), "new");
  EXPECT_EQ(std::filesystem::status(target).permissions(),
            std::filesystem::perms::owner_read | std::filesystem::perms::owner_write);
}

// Root may write anywhere, so the test steps down to nobody for the attempt.
class AsNobody {
 public:
  AsNobody() : down_(::geteuid() == 0 && ::seteuid(65534) == 0) {}
  ~AsNobody() {
    if (down_ && ::seteuid(0) != 0) std::abort();
  }

 private:
  bool down_;
};

TEST(Files, ReadOnlyFolderIsNamedAndNothingIsLost) {
  TempFolder folder;
  const auto file = folder.write("sub/a.json", "old");
  std::filesystem::permissions(folder.path(), std::filesystem::perms(0755));
  std::filesystem::permissions(folder / "sub", std::filesystem::perms(0555));
  {
    const AsNobody nobody;
    EXPECT_THAT(failure_of([&] { write_file_atomically(file, "new"); }),
                HasSubstr("a.json: can not be saved"));
  }
  EXPECT_EQ(slurp(file), "old");
  std::filesystem::permissions(folder / "sub", std::filesystem::perms(0755));
}

TEST(Files, FullDiskLeavesTheOldFile) {
  TempFolder folder;
  const auto file = folder.write("a.json", "old");
  // A limit on file size stands for the full disk: the write stops half way.
  struct rlimit old {};
  ASSERT_EQ(::getrlimit(RLIMIT_FSIZE, &old), 0);
  struct rlimit small = old;
  small.rlim_cur = 1000;
  ::signal(SIGXFSZ, SIG_IGN);
  ASSERT_EQ(::setrlimit(RLIMIT_FSIZE, &small), 0);
  const std::string said = failure_of([&] { write_file_atomically(file, std::string(100000, 'x')); });
  ASSERT_EQ(::setrlimit(RLIMIT_FSIZE, &old), 0);
  EXPECT_THAT(said, HasSubstr("the file on disk is unchanged"));
  EXPECT_EQ(slurp(file), "old");
  EXPECT_EQ(files_in(folder.path()), 1u);
}

TEST(Files, MissingFilesAndFoldersAreNamed) {
  EXPECT_THAT(failure_of([] { read_file("/nowhere/at/all.csv"); }),
              HasSubstr("/nowhere/at/all.csv: can not be read"));
  EXPECT_THAT(failure_of([] { read_file("/tmp"); }), HasSubstr("a regular file, found a folder"));
  EXPECT_THAT(failure_of([] { write_file_atomically("/nowhere/x.json", "a"); }),
              HasSubstr("can not be saved"));
}

TEST(Csv, ReadsAnySeparatorLineEndAndByteOrderMark) {
  for (const std::string text : {"a,b\n1,2\n3,4\n", "a;b\r\n1;2\r\n3;4",
                                 "\xEF\xBB\xBF"
                                 "a\tb\n1\t2\n\n3\t4\n",
                                 "a,b\r1,2\r3,4\r", "# note\na , b\n 1 ,2\n3, \"4\"\n"}) {
    const CsvTable table = parse_csv(text, "x.csv");
    EXPECT_EQ(table.header, (std::vector<std::string>{"a", "b"})) << text;
    ASSERT_EQ(table.rows.size(), 2u) << text;
    EXPECT_EQ(table.rows[1], (std::vector<std::string>{"3", "4"})) << text;
  }
}

TEST(Csv, QuotedFieldsMayHoldTheSeparator) {
  EXPECT_EQ(parse_csv("a,b\n\"1,5\",2\n", "x").rows[0][0], "1,5");
}

TEST(Csv, WrongLengthsNameTheirLine) {
  EXPECT_THAT(failure_of([] { parse_csv("a,b\n1,2\n3\n", "x.csv"); }),
              HasSubstr("x.csv: line 3: expected 2 fields"));
  EXPECT_THAT(failure_of([] { parse_csv("a,b\n0,5,1,5\n", "x.csv"); }), HasSubstr("decimal comma"));
  EXPECT_THAT(failure_of([] { parse_csv("", "x.csv"); }), HasSubstr("an empty file"));
  EXPECT_THAT(failure_of([] { parse_csv("\xEF\xBB\xBF\r\n\r\n", "x.csv"); }), HasSubstr("an empty file"));
}

TEST(Message, SaysFilePlaceExpectedAndFound) {
  const Message m{Severity::error, "p.json", "/setups/0", "a text", "3"};
  EXPECT_EQ(m.text(), "error: p.json: /setups/0: expected a text, found 3");
  EXPECT_EQ((Message{Severity::note, "", "", "", "all well"}).text(), "note: all well");
  EXPECT_TRUE(has_errors({m}));
  EXPECT_FALSE(has_errors({Message{.severity = Severity::warning}}));
}

TEST(Progress, CancelStopsTheWorkerAtItsNextCheck) {
  Progress progress;
  progress.check();
  progress.report(0.5);
  EXPECT_EQ(progress.fraction(), 0.5);
  progress.cancel();
  EXPECT_THROW(progress.check(), Cancelled);
}

TEST(Files, OnlyRegularFilesAreReadAndToTheirEnd) {
  TempFolder folder;
  const auto pipe = folder / "pipe";
  ASSERT_EQ(::mkfifo(pipe.c_str(), 0600), 0);
  EXPECT_THAT(failure_of([&] { read_file(pipe); }), HasSubstr("expected a regular file, found a pipe"));
  EXPECT_THAT(failure_of([&] { read_file("/dev/zero"); }), HasSubstr("found a device"));
  EXPECT_THAT(failure_of([&] { read_file(folder.path()); }), HasSubstr("found a folder"));
  // A regular file whose first block can not be read.
  EXPECT_THAT(failure_of([] { read_file("/proc/self/mem"); }), HasSubstr("can not be read to its end"));
  folder.write("eleven", "eleven char");
  EXPECT_EQ(read_file(folder / "eleven", 11), "eleven char");
  EXPECT_THAT(failure_of([&] { read_file(folder / "eleven", 10); }), HasSubstr("expected a file of"));
}

TEST(Files, IntoWhatIsNoRegularFileIsWrittenStraight) {
  TempFolder folder;
  const auto pipe = folder / "pipe";
  ASSERT_EQ(::mkfifo(pipe.c_str(), 0600), 0);
  std::filesystem::create_symlink("pipe", folder / "link");
  std::string got;
  std::thread reader([&] { got = slurp(pipe); });
  write_file_atomically(folder / "link", "through");
  reader.join();
  EXPECT_EQ(got, "through");
  EXPECT_TRUE(std::filesystem::is_fifo(pipe));
  write_file_atomically("/dev/null", "gone");
  EXPECT_TRUE(std::filesystem::is_character_file("/dev/null"));
  EXPECT_THAT(failure_of([] { write_file_atomically("/dev/full", "more"); }), HasSubstr("No space left"));
  // What a shell has opened for adding, as by ">> log".
  const auto log = folder.write("log", "old ");
  const int handle = ::open(log.c_str(), O_WRONLY | O_APPEND);
  write_file_atomically("/proc/self/fd/" + std::to_string(handle), "new");
  ::close(handle);
  EXPECT_EQ(slurp(log), "old new");
}

TEST(Files, WhatKilledSavesLeftIsRemovedByTheNext) {
  TempFolder folder;
  const auto old = folder.write("a.json.part-999999999-abcdef", "half"),
             fresh = folder.write("a.json.part-999999998-abcdef", "half"),
             other = folder.write("b.json.part-999999999-abcdef", "half");
  std::filesystem::last_write_time(old,
                                   std::filesystem::file_time_type::clock::now() - std::chrono::hours(1));
  write_file_atomically(folder / "a.json", "whole");
  EXPECT_FALSE(std::filesystem::exists(old));
  EXPECT_TRUE(std::filesystem::exists(fresh)) << "perhaps of another machine, still at it";
  EXPECT_TRUE(std::filesystem::exists(other)) << "of another file";
}

TEST(Files, InsideAFolderIsTold) {
  TempFolder folder;
  folder.write("project/laps/a.csv", "");
  folder.write("project-2/a.csv", "");
  const auto project = folder / "project";
  EXPECT_TRUE(lies_inside(project / "laps/a.csv", project));
  EXPECT_TRUE(lies_inside(project / "laps/../b.csv", project / ""));
  EXPECT_FALSE(lies_inside(project / "../project-2/a.csv", project)) << "a name that begins alike";
  EXPECT_FALSE(lies_inside("/etc/passwd", project));
  std::filesystem::create_symlink("/etc", project / "link");
  EXPECT_FALSE(lies_inside(project / "link/passwd", project)) << "by a link";
}

}  // namespace
}  // namespace uadze
