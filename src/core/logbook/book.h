#pragma once
// The book of a project's cars: records that are added and amended, never changed, in one SQLite file beside
// the project.
//
//   number  text of the record                       hash
//   1       {"by":"R. Fell","kind":"fitted",...}     h1 = SHA-256("" + "\n" + text 1)
//   2       {"kind":"test",...}                      h2 = SHA-256(h1 + "\n" + text 2)
//   3       {"amends":2,"kind":"test",...}           h3 = SHA-256(h2 + "\n" + text 3)
//
// Whoever changes a record has to change all behind it: verify() finds it against the copy that the book
// keeps of itself, or against a last hash that was printed. A record is written when append() comes back:
// it is on the disk then, whatever is killed. Two programs on one book wait for each other.
//
// Limits: what was cut off at the end is missed only where a copy or a printed hash has it. The hash proves
// that nothing was changed, not who wrote.
//
// Example:
//   test::TempFolder folder;
//   logbook::Book book = logbook::Book::open(folder / "p4.book");
//   book.append({.kind = logbook::Kind::note, .setup = "P4", .by = "R. Fell", .note = "tank out"});
//   EXPECT_EQ(book.size(), 1);
//   EXPECT_EQ(book.search("tan").size(), 1u);      // words by their beginning
//   EXPECT_TRUE(book.verify().sound());
#include <chrono>
#include <filesystem>
#include <memory>

#include "core/base/message.h"
#include "core/logbook/record.h"

namespace uadze::logbook {

/// A book that can not be read whole: what can be is saved aside by rescue().
class BrokenBook : public InputError {
 public:
  using InputError::InputError;
};

struct Proof {
  std::int64_t records = 0;
  std::string last_hash;  ///< to print or to write down elsewhere
  std::vector<std::string> faults;
  bool against_copy = false;  ///< there was a copy to hold it against
  bool sound() const { return faults.empty(); }
};

struct BookOptions {
  bool make = true;                       ///< where there is none
  bool read_only = false;                 ///< never written, no file beside it
  std::chrono::milliseconds wait{10000};  ///< for another program that writes
};

class Book {
 public:
  /// Checks the file and its chain, brings a book of a former version up to this one: in memory only where it
  /// may not be written, so that what others add meanwhile is seen at the next opening. Throws BrokenBook, or
  /// InputError for one that is not there, of a newer version, or in use for longer than the wait.
  static Book open(const std::filesystem::path& file, const BookOptions& options = {});
  Book(Book&&) noexcept;
  Book& operator=(Book&&) noexcept;
  ~Book();

  const std::filesystem::path& file() const;
  /// Why nothing can be written; empty if it can.
  const std::string& read_only_because() const;
  std::int64_t size() const;
  std::string last_hash() const;

  /// Gives it number, moment and its place in the chain; returns it as it was written. Throws InputError
  /// (full disk, read-only, in use, no name under it) with nothing written.
  Record append(Record record, Moment at = now());
  /// Writes `changed` as what takes the place of record `number`, which stays. Throws InputError if there is
  /// none.
  Record amend(std::int64_t number, Record changed, Moment at = now());

  /// In order of number.
  std::vector<Record> all() const;
  /// From a number on: what another window has written meanwhile.
  std::vector<Record> since(std::int64_t number) const;
  std::optional<Record> find(std::int64_t number) const;
  /// Numbers of the records that have all the words, each by its beginning; latest first.
  std::vector<std::int64_t> search(const std::string& words, int most = 500) const;

  /// All of the chain, each text, the words that are searched, and the copy.
  Proof verify() const;
  /// A whole and sound copy, also while it is written to.
  void back_up(const std::filesystem::path& to) const;
  /// Renews the book's own copy if it lacks records. Nothing if the book can not be written.
  void keep_copy() const;

 private:
  struct Inner;
  explicit Book(std::unique_ptr<Inner> inner);
  std::unique_ptr<Inner> inner_;
};

/// "p4.book" beside "p4.uadze.json".
std::filesystem::path book_of(const std::filesystem::path& project);
/// "p4.book.copy".
std::filesystem::path copy_of(const std::filesystem::path& book);

struct Rescued {
  std::int64_t saved = 0;
  std::vector<std::int64_t> lost;  ///< numbers
  std::string from_copy;           ///< how many of the saved came from the copy, in words; empty: none
};
/// Reads what can be read of a broken book, and what its copy has of the rest, into a new book: texts as
/// they were, hashes too up to the first record that is lost, whose place says so. The broken one is left.
/// Throws InputError if nothing can be read, or if `into` is there already.
Rescued rescue(const std::filesystem::path& broken, const std::filesystem::path& into);

inline constexpr int book_version = 3;
/// The book's tables as version `version` had them: for tests of the way up from each.
void make_tables(const std::filesystem::path& file, int version);

}  // namespace uadze::logbook
