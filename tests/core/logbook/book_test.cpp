// The book under what happens to files: kills, full disks, two writers, changed bytes, former versions.
#include <gtest/gtest.h>
#include <sqlite3.h>
#include <sys/resource.h>
#include <sys/wait.h>
#include <unistd.h>

#include <csignal>
#include <thread>

#include "core/logbook/book.h"
#include "core/logbook/sha256.h"
#include "support/random_shapes.h"
#include "support/refusal.h"
#include "support/temp_folder.h"

namespace uadze::logbook {
namespace {

Record note(const std::string& text, const std::string& by = "R. Fell") {
  return {.kind = Kind::note, .setup = "P4", .by = by, .note = text};
}

/// SQL straight into the file, as somebody with a tool would.
void sql(const std::filesystem::path& file, const std::string& text) {
  sqlite3* db = nullptr;
  ASSERT_EQ(sqlite3_open(file.c_str(), &db), SQLITE_OK);
  char* said = nullptr;
  EXPECT_EQ(sqlite3_exec(db, text.c_str(), nullptr, nullptr, &said), SQLITE_OK) << (said ? said : "");
  sqlite3_free(said);
  sqlite3_close(db);
}

TEST(Book, ARecordComesBackAsItWasWrittenAndIsNeverChanged) {
  test::TempFolder folder;
  Book book = Book::open(folder / "p4.book");
  Record draft{
      .kind = Kind::test,
      .setup = "P4, surge fitted",
      .subject = "leak",
      .by = "R. Fell",
      .second = "M. Dunn",
      .instrument = "gauge 2",
      .checked_until = "2027-01-31",
      .way = "rigid tank",
      .seen = {"every joint dry"},
      .readings = {{"pressure", Quantity::pressure, 3.1e5, 3e5}, {"time", Quantity::duration, 43200, {}}},
      .limit = "nothing wet",
      .verdict = Verdict::passed,
      .reason = "dry \"everywhere\", ü",
      .links = {"feed line"},
      .note = "line 1\nline 2",
      .photos = {{sha256("x"), "joint.jpg"}}};
  const Record written = book.append(draft, 1000);
  draft.number = 1, draft.at = 1000;
  EXPECT_EQ(written, draft);
  EXPECT_EQ(*book.find(1), draft);

  Record better = draft;
  better.note = "the other joint";
  EXPECT_EQ(book.amend(1, better, 2000).amends, 1);
  better.withdrawn = true;
  EXPECT_EQ(book.amend(2, better, 3000).amends, 1) << "of the first, though the second was named";
  EXPECT_EQ(*book.find(1), draft) << "the former stays";
  EXPECT_TRUE(standing(book.all()).empty());
  auto two = book.all();
  two.pop_back();
  ASSERT_EQ(standing(two).size(), 1u);
  EXPECT_EQ(standing(two)[0].note, "the other joint");
  EXPECT_EQ(standing(two)[0].at, 1000);
  EXPECT_NE(test::refusal([&] { book.amend(9, better); }).find("a record 9 to amend"), std::string::npos);
  EXPECT_NE(test::refusal([&] { book.append(note("x", " ")); }).find("a name under the record"),
            std::string::npos);

  // The file itself holds them.
  sqlite3* db = nullptr;
  sqlite3_open((folder / "p4.book").c_str(), &db);
  EXPECT_NE(sqlite3_exec(db, "UPDATE records SET text = '{}'", nullptr, nullptr, nullptr), SQLITE_OK);
  EXPECT_NE(sqlite3_exec(db, "DELETE FROM records", nullptr, nullptr, nullptr), SQLITE_OK);
  sqlite3_close(db);
  EXPECT_EQ(book.size(), 3);
  EXPECT_TRUE(book.verify().sound());
}

TEST(Book, TheHashIsWhatAnyProgramComputes) {
  // printf '\n%s' TEXT | sha256sum of the first; its hash, a line end and TEXT of the second.
  test::TempFolder folder;
  Book book = Book::open(folder / "p4.book");
  book.append(note("tank out"), 0);
  book.append(note("tank in"), 60);
  const std::string one =
      R"({"at":"1970-01-01T00:00:00Z","by":"R. Fell","kind":"note","note":"tank out","number":1,"setup":"P4"})";
  const std::string two =
      R"({"at":"1970-01-01T00:01:00Z","by":"R. Fell","kind":"note","note":"tank in","number":2,"setup":"P4"})";
  const auto tool = [&](const std::string& text) {
    folder.write("t", text);
    FILE* pipe = ::popen(("sha256sum < " + (folder / "t").string()).c_str(), "r");
    char digits[65] = {};
    EXPECT_EQ(std::fread(digits, 1, 64, pipe), 64u);
    ::pclose(pipe);
    return std::string(digits);
  };
  EXPECT_EQ(book.last_hash(), tool(tool("\n" + one) + "\n" + two));
}

TEST(Book, WhatIsChangedCutOutOrCutOffIsFound) {
  for (const auto& [change, told] : std::vector<std::pair<std::string, std::string>>{
           {"UPDATE records SET text = replace(text, 'note 3', 'note 7') WHERE number = 3", "record 3"},
           {"UPDATE records SET hash = '" + sha256("no") + "' WHERE number = 2", "record 2"},
           {"DELETE FROM records WHERE number = 4", "records are missing"}}) {
    test::TempFolder folder;
    {
      Book book = Book::open(folder / "a.book");
      for (int i = 1; i <= 6; ++i) book.append(note("note " + std::to_string(i)));
    }
    sql(folder / "a.book", "DROP TRIGGER records_stay; DROP TRIGGER records_remain; " + change);
    const std::string said = test::refusal([&] { Book::open(folder / "a.book"); });
    EXPECT_NE(said.find(told), std::string::npos) << said;
  }
  test::TempFolder folder;
  Book book = Book::open(folder / "a.book");
  for (int i = 1; i <= 6; ++i) book.append(note("note"));
  book.keep_copy();
  sql(folder / "a.book",
      "DROP TRIGGER records_remain; DELETE FROM records WHERE number > 4; DELETE FROM words WHERE rowid > 4");
  const Proof proof = Book::open(folder / "a.book").verify();
  EXPECT_TRUE(proof.against_copy);
  ASSERT_EQ(proof.faults.size(), 2u) << "records 5 and 6, by the copy";
  EXPECT_EQ(proof.faults[1], "record 6: the copy has it, the book has not");
  // A copy that knows more is not written over.
  book.keep_copy();
  EXPECT_FALSE(book.verify().sound());
}

TEST(Book, SearchesWordsByTheirBeginningWithAnySignsAmongThem) {
  test::TempFolder folder;
  Book book = Book::open(folder / "a.book");
  book.append(note("Olive of the feed line weeping"));
  book.append(note("Öl am Schlauch; 10 µm filter"));
  book.append({.kind = Kind::incident, .setup = "Tarn", .by = "M. Dunn", .cause = "olive ruined"});
  using Found = std::vector<std::int64_t>;
  EXPECT_EQ(book.search("oliv"), (Found{3, 1}));
  EXPECT_EQ(book.search("olive feed"), (Found{1}));
  EXPECT_EQ(book.search("incident dunn"), (Found{3}));
  EXPECT_EQ(book.search("schlauch ol"), (Found{2}));
  for (const char* odd : {"", "\"", "*", "AND", "a OR", "\"; DROP TABLE records", "feed:", "(", "-", "NEAR("})
    EXPECT_NO_THROW(book.search(odd)) << odd;
  EXPECT_EQ(book.size(), 3);
}

TEST(Book, EachFormerVersionComesUpWithItsRecords) {
  for (int version = 1; version < book_version; ++version) {
    test::TempFolder folder;
    make_tables(folder / "old.book", version);
    const std::string text = text_of([] {
      Record r = note("old olive");
      r.number = 1;
      return r;
    }());
    sql(folder / "old.book", "INSERT INTO records VALUES (1, '" + text + "', '" + sha256("\n" + text) + "')");
    if (version > 1) sql(folder / "old.book", "INSERT INTO words(rowid, text) VALUES (1, 'old olive')");
    {
      // Read as it is, by this version's means, and left as it was.
      const std::string before = test::slurp(folder / "old.book");
      Book read = Book::open(folder / "old.book", {.read_only = true});
      EXPECT_EQ(read.all().at(0).note, "old olive");
      EXPECT_EQ(read.search("oli"), std::vector<std::int64_t>{1}) << version;
      EXPECT_TRUE(read.verify().sound()) << version;
      EXPECT_THROW(read.append(note("new")), InputError);
      EXPECT_EQ(test::slurp(folder / "old.book"), before);
    }
    Book book = Book::open(folder / "old.book");
    EXPECT_EQ(book.search("olive"), std::vector<std::int64_t>{1}) << version;
    book.append(note("new"));
    EXPECT_TRUE(book.verify().sound()) << version;
  }
}

TEST(Book, OfANewerVersionOrAnotherProgramIsLeftAlone) {
  test::TempFolder folder;
  { Book::open(folder / "a.book").append(note("x")); }
  sql(folder / "a.book", "PRAGMA user_version = 9");
  const std::string before = test::slurp(folder / "a.book");
  EXPECT_NE(test::refusal([&] { Book::open(folder / "a.book"); }).find("version 9"), std::string::npos);
  EXPECT_EQ(test::slurp(folder / "a.book"), before);
  sql(folder / "b.book", "CREATE TABLE mine(x)");
  EXPECT_NE(test::refusal([&] { Book::open(folder / "b.book"); }).find("another program"), std::string::npos);
  folder.write("c.book",
               "# not a book at all, though it is long enough to be looked at as one by its first page");
  EXPECT_THROW(Book::open(folder / "c.book"), BrokenBook);
  EXPECT_NE(test::refusal([&] { Book::open(folder.path()); }).find("no regular file"), std::string::npos);
  EXPECT_NE(test::refusal([&] { Book::open(folder / "none.book", {.make = false}); }).find("none there"),
            std::string::npos);
  EXPECT_FALSE(std::filesystem::exists(folder / "none.book"));
}

TEST(Book, TwoWritersWaitForEachOther) {
  test::TempFolder folder;
  { Book::open(folder / "a.book"); }
  std::vector<std::thread> writers;
  for (int w = 0; w < 3; ++w)
    writers.emplace_back([&, w] {
      Book mine = Book::open(folder / "a.book");
      for (int i = 0; i < 20; ++i) mine.append(note("by writer", "writer " + std::to_string(w)));
    });
  for (auto& t : writers) t.join();
  Book book = Book::open(folder / "a.book");
  EXPECT_EQ(book.size(), 60);
  EXPECT_TRUE(book.verify().sound());

  // One that never lets go is told after the wait, and nothing is written.
  sqlite3* db = nullptr;
  sqlite3_open((folder / "a.book").c_str(), &db);
  sqlite3_exec(db, "BEGIN EXCLUSIVE", nullptr, nullptr, nullptr);
  Book hasty = [&] {
    sqlite3_exec(db, "COMMIT", nullptr, nullptr, nullptr);
    Book out = Book::open(folder / "a.book", {.wait = std::chrono::milliseconds(50)});
    sqlite3_exec(db, "BEGIN EXCLUSIVE", nullptr, nullptr, nullptr);
    return out;
  }();
  EXPECT_NE(test::refusal([&] { hasty.append(note("x")); }).find("another program holds it"),
            std::string::npos);
  sqlite3_exec(db, "COMMIT", nullptr, nullptr, nullptr);
  sqlite3_close(db);
  EXPECT_EQ(hasty.size(), 60);
}

TEST(Book, AFullDiskOrAReadOnlyBookSaysSoAndLosesNothing) {
  test::TempFolder folder;
  Book book = Book::open(folder / "a.book");
  for (int i = 0; i < 5; ++i) book.append(note("kept"));
  // In a child: the file may not grow any more.
  const pid_t child = ::fork();
  if (child == 0) {
    std::signal(SIGXFSZ, SIG_IGN);
    const rlimit full{std::filesystem::file_size(folder / "a.book"), RLIM_INFINITY};
    ::setrlimit(RLIMIT_FSIZE, &full);
    Book mine = Book::open(folder / "a.book");
    const std::string said = test::refusal([&] {
      for (int i = 0; i < 200; ++i) mine.append(note(std::string(2000, 'x')));
    });
    ::_exit(said.find("nothing was written") != std::string::npos ? 0 : 1);
  }
  int status = 0;
  ::waitpid(child, &status, 0);
  EXPECT_EQ(WEXITSTATUS(status), 0);
  EXPECT_TRUE(book.verify().sound());
  EXPECT_GE(book.size(), 5);

  Book reader = Book::open(folder / "a.book", {.read_only = true});
  EXPECT_NE(test::refusal([&] { reader.append(note("x")); }).find("opened to be read"), std::string::npos);
}

TEST(Book, AClockSetBackIsMarkedAndTheOrderStays) {
  test::TempFolder folder;
  Book book = Book::open(folder / "a.book");
  book.append(note("first"), 5000);
  EXPECT_TRUE(book.append(note("second"), 4000).clock_back);
  EXPECT_FALSE(book.append(note("third"), 4500).clock_back);
  EXPECT_TRUE(book.verify().sound());
  EXPECT_EQ(book.all()[1].note, "second");
}

TEST(Book, OfABrokenOneWhatCanBeReadIsSavedAside) {
  test::TempFolder folder;
  const auto file = folder / "a.book";
  {
    Book book = Book::open(file);
    for (int i = 1; i <= 300; ++i)
      book.append(note("record " + std::to_string(i) + " " + std::string(300, 'a')));
  }
  // Some pages in the middle are overwritten.
  std::string bytes = test::slurp(file);
  test::Random r(7);
  const size_t pages = bytes.size() / 4096;
  ASSERT_GT(pages, 30u);
  for (size_t p = pages / 2; p < pages / 2 + 3; ++p)
    for (size_t i = 0; i < 4096; ++i) bytes[p * 4096 + i] = static_cast<char>(r.whole(0, 255));
  folder.write("a.book", bytes);
  EXPECT_THROW(Book::open(file), BrokenBook);
  const Rescued saved = rescue(file, folder / "saved.book");
  EXPECT_GT(saved.saved, 200);
  EXPECT_EQ(saved.saved + static_cast<std::int64_t>(saved.lost.size()), 300);
  EXPECT_EQ(test::slurp(file), bytes) << "the broken one is left";
  Book book = Book::open(folder / "saved.book");
  EXPECT_TRUE(book.verify().sound());
  for (const Record& record : book.all())
    if (std::find(saved.lost.begin(), saved.lost.end(), record.number) == saved.lost.end()) {
      EXPECT_TRUE(record.note.starts_with("record " + std::to_string(record.number) + " ")) << record.note;
    } else {
      EXPECT_EQ(record.by, "rescue");
    }
  EXPECT_NE(test::refusal([&] { rescue(file, folder / "saved.book"); }).find("there already"),
            std::string::npos);
  // Its copy has the rest.
  {
    folder.write("b.book", "");
    std::filesystem::remove(folder / "b.book");
    Book whole = Book::open(folder / "b.book");
    for (int i = 1; i <= 20; ++i) whole.append(note("record " + std::to_string(i)));
    whole.keep_copy();
  }
  folder.write("b.book", "gone");
  EXPECT_EQ(rescue(folder / "b.book", folder / "b2.book").saved, 20);
  EXPECT_EQ(Book::open(folder / "b2.book").verify().last_hash,
            Book::open(copy_of(folder / "b.book")).last_hash());
}

// What append() confirmed is there after a kill at any moment, and the chain holds.
TEST(Book, ThreeHundredKillsLoseNothingThatWasConfirmed) {
  test::TempFolder folder;
  const auto file = folder / "a.book";
  { Book::open(file); }
  test::Random r(300);
  std::int64_t confirmed = 0;
  for (int kill = 0; kill < 300; ++kill) {
    int told[2];
    ASSERT_EQ(::pipe(told), 0);
    const pid_t child = ::fork();
    if (child == 0) {
      Book mine = Book::open(file);
      for (;;) {
        const std::int64_t number = mine.append(note("n")).number;
        if (::write(told[1], &number, sizeof number) != sizeof number) ::_exit(1);
      }
    }
    ::close(told[1]);
    std::int64_t number = 0;
    // Every third gets as far as one record, however busy the machine; the others are killed wherever they
    // are.
    if (kill % 3 == 0 && ::read(told[0], &number, sizeof number) == sizeof number) confirmed = number;
    ::usleep(static_cast<useconds_t>(r.whole(500, 12000)));
    ::kill(child, SIGKILL);
    ::waitpid(child, nullptr, 0);
    while (::read(told[0], &number, sizeof number) == sizeof number) confirmed = number;
    ::close(told[0]);
    if (kill % 20 == 19) {
      ASSERT_GE(Book::open(file).size(), confirmed);
    }
  }
  EXPECT_GE(confirmed, 100);
  Book book = Book::open(file);
  EXPECT_GE(book.size(), confirmed);
  const Proof proof = book.verify();
  EXPECT_TRUE(proof.sound()) << (proof.faults.empty() ? "" : proof.faults[0]);
}

TEST(Record, AnyTextReadsBackAndAnyFaultIsNamed) {
  test::Random r(11);
  const auto any = [&] {
    std::string out;
    for (int i = r.whole(0, 12); i > 0; --i) out += "aé\"\\\n{}[]:,\t€"[static_cast<size_t>(r.whole(0, 15))];
    return out;
  };
  for (int round = 0; round < 200; ++round) {
    Record one{.number = round + 1,
               .at = r.whole(0, 2000000000),
               .kind = static_cast<Kind>(r.whole(0, 8)),
               .setup = any(),
               .subject = any(),
               .by = any(),
               .seen = {any(), any()},
               .readings = {{any(), Quantity::pressure, r.uniform(-1e7, 1e7), r.uniform(0, 1)}},
               .note = any()};
    // Bytes that are no UTF-8 come back as the sign for it; what was read once stays as it is.
    const Record once = parse_record(text_of(one));
    EXPECT_EQ(parse_record(text_of(once)), once);
    EXPECT_EQ(once.readings[0].value, one.readings[0].value);
  }
  for (const auto& [text, told] : std::vector<std::pair<std::string, std::string>>{
           {"[]", "a record as JSON"},
           {"", "a record as JSON"},
           {R"({"kind":"dance"})", "/kind: expected one of"},
           {R"({"at":"yesterday"})", "/at: expected a moment"},
           {R"({"number":1.5})", "/number: expected a whole number"},
           {R"({"seconds":-1})", "/seconds: expected 0 or more"},
           {R"({"readings":[{"what":"p","quantity":"miles","value":1}]})", "/quantity: expected a quantity"},
           {R"({"readings":[{"what":"p","quantity":"pressure_pa","value":"1"}]})",
            "/value: expected a number"},
           {R"({"seen":[1]})", "/seen: expected a list of texts"}}) {
    const std::string said = test::refusal([&, t = text] { parse_record(t); });
    EXPECT_NE(said.find(told), std::string::npos) << said;
  }
}

}  // namespace
}  // namespace uadze::logbook
