#include "core/logbook/book.h"

#include <SQLiteCpp/Backup.h>
#include <SQLiteCpp/SQLiteCpp.h>
#include <fmt/format.h>
#include <sqlite3.h>
#include <unistd.h>

#include <map>
#include <set>

#include "core/logbook/sha256.h"

namespace uadze::logbook {
namespace {

/// From each version to the next. A version's steps are never changed once a book was written with them.
constexpr const char* steps_up[book_version]{
    // 1: the records; the file itself holds that they are not changed.
    R"(CREATE TABLE records (
         number INTEGER PRIMARY KEY,
         text TEXT NOT NULL,
         hash TEXT NOT NULL);
       CREATE TRIGGER records_stay BEFORE UPDATE ON records
         BEGIN SELECT RAISE(ABORT, 'records are amended, not changed'); END;
       CREATE TRIGGER records_remain BEFORE DELETE ON records
         BEGIN SELECT RAISE(ABORT, 'records are amended, not deleted'); END;)",
    // 2: words that are searched.
    R"(CREATE VIRTUAL TABLE words USING fts5(text, tokenize = "unicode61 remove_diacritics 2");)",
    // 3: words by the beginning at once.
    R"(DROP TABLE words;
       CREATE VIRTUAL TABLE words USING fts5(text, tokenize = "unicode61 remove_diacritics 2", prefix = '2 3 4');)"};

constexpr int application = 0x75615a42;  // "uaZB": no other program's file is taken for a book

InputError failure(const std::filesystem::path& file, const std::string& expected, const std::string& found) {
  return InputError(Message{.file = file.string(), .expected = expected, .found = found});
}

/// Throws SQLite's reason as what a person can do something about.
[[noreturn]] void tell(const std::filesystem::path& file, const SQLite::Exception& error, const char* doing) {
  switch (error.getErrorCode()) {
    case SQLITE_FULL:
      throw failure(file, "room on the disk", fmt::format("a full disk: nothing was {}", doing));
    case SQLITE_IOERR:
      throw failure(file, "a disk that takes it",
                    fmt::format("an error of the disk ({}): nothing was {}", error.what(), doing));
    case SQLITE_READONLY:
    case SQLITE_PERM:
      throw failure(file, "a book that may be written", fmt::format("it may not: nothing was {}", doing));
    case SQLITE_BUSY:
    case SQLITE_LOCKED:
      throw failure(file, "a book that nobody else writes to",
                    fmt::format("another program holds it: nothing was {}", doing));
    case SQLITE_CORRUPT:
    case SQLITE_NOTADB:
      throw BrokenBook(Message{.file = file.string(),
                               .expected = "a whole book",
                               .found = fmt::format("a broken one ({})", error.what())});
    case SQLITE_CANTOPEN:
      throw failure(file, "a book that can be opened", "it can not be opened");
    default:
      throw failure(file, "", fmt::format("the book: {}", error.what()));
  }
}

/// What of a record is searched: all that a person wrote or reads.
std::string words_of(const Record& r) {
  std::string out =
      fmt::format("{} {} {} {} {} {} {} {} {} {} {} {} {}", name_of(r.kind), r.setup, r.subject, r.by,
                  r.second, r.instrument, r.way, r.limit, r.reason, r.session, r.cause, r.done, r.note);
  if (r.verdict != Verdict::none) out += std::string(" ") + name_of(r.verdict);
  for (const auto& list : {r.seen, r.links})
    for (const std::string& s : list) out += " " + s;
  for (const Reading& one : r.readings) out += " " + one.what;
  for (const Photo& p : r.photos) out += " " + p.name;
  return out;
}

/// The words as FTS5 takes them: each in quotes, by its beginning, all of them.
std::string query_of(const std::string& words) {
  std::string out, word;
  const auto end_word = [&] {
    if (!word.empty()) out += (out.empty() ? "\"" : " AND \"") + word + "\"*";
    word.clear();
  };
  for (const char c : words) {
    const auto u = static_cast<unsigned char>(c);
    if (u >= 0x80 || std::isalnum(u))
      word += c;
    else
      end_word();
  }
  end_word();
  return out;
}

std::string chained(const std::string& before, const std::string& text) {
  return sha256(before + "\n" + text);
}

struct Row {
  std::int64_t number = 0;
  std::string text, hash;
};

std::vector<Row> rows(SQLite::Database& db, std::int64_t from = 0) {
  SQLite::Statement select(db, "SELECT number, text, hash FROM records WHERE number >= ? ORDER BY number");
  select.bind(1, from);
  std::vector<Row> out;
  while (select.executeStep())
    out.push_back(
        {select.getColumn(0).getInt64(), select.getColumn(1).getString(), select.getColumn(2).getString()});
  return out;
}

/// Where the chain breaks; nothing where it holds.
std::vector<std::string> chain_faults(const std::vector<Row>& all) {
  std::vector<std::string> out;
  std::string before;
  std::int64_t number = 0;
  for (const Row& r : all) {
    if (r.number != ++number) {
      out.push_back(fmt::format("record {}: expected number {} here: records are missing", r.number, number));
      number = r.number;
    }
    if (chained(before, r.text) != r.hash)
      out.push_back(fmt::format("record {}: it, or its hash, was changed after it was written", r.number));
    before = r.hash;
  }
  return out;
}

int version_of(SQLite::Database& db) { return db.execAndGet("PRAGMA user_version").getInt(); }

void step_up(SQLite::Database& db, int from, int to) {
  for (int v = from; v < to; ++v) db.exec(steps_up[v]);
  if (from < 3 && to >= 2)
    for (const Row& r : rows(db)) {
      SQLite::Statement insert(db, "INSERT INTO words(rowid, text) VALUES (?, ?)");
      insert.bind(1, r.number), insert.bind(2, words_of(parse_record(r.text)));
      insert.exec();
    }
  db.exec(fmt::format("PRAGMA application_id = {}; PRAGMA user_version = {}", application, to));
}

/// A writing transaction: waits for whoever writes, and takes all back if it is not committed.
SQLite::Transaction begin(SQLite::Database& db) {
  return SQLite::Transaction(db, SQLite::TransactionBehavior::IMMEDIATE);
}

}  // namespace

struct Book::Inner {
  std::filesystem::path file;
  std::string read_only;
  mutable SQLite::Database db;

  Inner(const std::filesystem::path& f, int flags, int wait_ms) : file(f), db(f.string(), flags, wait_ms) {
    db.exec("PRAGMA synchronous = EXTRA");
  }
  /// Of a book that may not be written: as this version has it, in memory.
  Inner(const Inner& former, int version)
      : file(former.file), read_only(former.read_only), db(":memory:", SQLite::OPEN_READWRITE) {
    SQLite::Backup(db, former.db).executeStep();
    step_up(db, version, book_version);
  }
  Row last() const {
    SQLite::Statement s(db, "SELECT number, text, hash FROM records ORDER BY number DESC LIMIT 1");
    return s.executeStep()
               ? Row{s.getColumn(0).getInt64(), s.getColumn(1).getString(), s.getColumn(2).getString()}
               : Row{};
  }
};

Book::Book(std::unique_ptr<Inner> inner) : inner_(std::move(inner)) {}
Book::Book(Book&&) noexcept = default;
Book& Book::operator=(Book&&) noexcept = default;
Book::~Book() = default;

Book Book::open(const std::filesystem::path& file, const BookOptions& options) {
  std::error_code ignored;
  const bool there = std::filesystem::exists(file, ignored);
  if (!there && !options.make) throw failure(file, "a book", "none there");
  if (there && !std::filesystem::is_regular_file(file, ignored))
    throw failure(file, "a book", "no regular file");
  if (there && std::filesystem::file_size(file, ignored) == 0 && options.read_only)
    throw failure(file, "a book", "an empty file");
  try {
    const bool may_write = !options.read_only && (!there || ::access(file.c_str(), W_OK) == 0);
    const int flags = may_write ? SQLite::OPEN_READWRITE | SQLite::OPEN_CREATE : SQLite::OPEN_READONLY;
    auto inner = std::make_unique<Inner>(file, flags, static_cast<int>(options.wait.count()));
    if (options.read_only)
      inner->read_only = "it was opened to be read";
    else if (!may_write || sqlite3_db_readonly(inner->db.getHandle(), "main") == 1)
      inner->read_only = "the file may not be written";
    const int version = version_of(inner->db);
    const int owner = inner->db.execAndGet("PRAGMA application_id").getInt();
    if (owner != application &&
        (version != 0 || inner->db.execAndGet("SELECT count(*) FROM sqlite_master").getInt() > 0))
      throw failure(file, "a book", "a database of another program");
    if (version > book_version)
      throw failure(
          file, fmt::format("a book of version {} at the most", book_version),
          fmt::format("version {}: a newer Undertow Adze wrote it; nothing of it was touched", version));
    if (version < book_version && !inner->read_only.empty()) {
      if (version == 0) throw failure(file, "a book", "one without any table");
      inner = std::make_unique<Inner>(*inner, version);
    } else if (version < book_version) {
      auto transaction = begin(inner->db);
      // Another window may have done it while this one waited.
      if (const int still = version_of(inner->db); still < book_version)
        step_up(inner->db, still, book_version);
      transaction.commit();
    }
    SQLite::Database& db = inner->db;
    const auto quick = db.execAndGet("PRAGMA quick_check(1)").getString();
    if (quick != "ok")
      throw BrokenBook(
          Message{.file = file.string(), .expected = "a whole book", .found = "a broken one: " + quick});
    if (const auto faults = chain_faults(rows(db)); !faults.empty())
      throw BrokenBook(Message{.file = file.string(),
                               .expected = "a book whose records are as they were written",
                               .found = faults.front()});
    return Book(std::move(inner));
  } catch (const SQLite::Exception& error) {
    tell(file, error, "opened");
  }
}

const std::filesystem::path& Book::file() const { return inner_->file; }
const std::string& Book::read_only_because() const { return inner_->read_only; }
std::int64_t Book::size() const { return inner_->last().number; }
std::string Book::last_hash() const { return inner_->last().hash; }

Record Book::append(Record record, Moment at) {
  if (!inner_->read_only.empty())
    throw failure(inner_->file, "a book that may be written", inner_->read_only);
  if (record.by.find_first_not_of(" \t\n") == std::string::npos)
    throw failure(inner_->file, "a name under the record", "none");
  try {
    auto transaction = begin(inner_->db);
    const Row last = inner_->last();
    record.number = last.number + 1;
    record.at = at;
    record.clock_back = last.number > 0 && at < parse_record(last.text).at;
    const std::string text = text_of(record);
    SQLite::Statement insert(inner_->db, "INSERT INTO records(number, text, hash) VALUES (?, ?, ?)");
    insert.bind(1, record.number), insert.bind(2, text), insert.bind(3, chained(last.hash, text));
    insert.exec();
    SQLite::Statement words(inner_->db, "INSERT INTO words(rowid, text) VALUES (?, ?)");
    words.bind(1, record.number), words.bind(2, words_of(record));
    words.exec();
    transaction.commit();
    return record;
  } catch (const SQLite::Exception& error) {
    tell(inner_->file, error, "written");
  }
}

Record Book::amend(std::int64_t number, Record changed, Moment at) {
  const auto former = find(number);
  if (!former) throw failure(inner_->file, fmt::format("a record {} to amend", number), "none");
  // The first of a chain of amendments is what they all are of.
  changed.amends = former->amends ? former->amends : number;
  return append(std::move(changed), at);
}

std::vector<Record> Book::all() const { return since(1); }

std::vector<Record> Book::since(std::int64_t number) const {
  try {
    std::vector<Record> out;
    for (const Row& r : rows(inner_->db, number))
      out.push_back(parse_record(r.text, fmt::format("{}: record {}", inner_->file.string(), r.number)));
    return out;
  } catch (const SQLite::Exception& error) {
    tell(inner_->file, error, "read");
  }
}

std::optional<Record> Book::find(std::int64_t number) const {
  try {
    SQLite::Statement s(inner_->db, "SELECT text FROM records WHERE number = ?");
    s.bind(1, number);
    if (!s.executeStep()) return std::nullopt;
    return parse_record(s.getColumn(0).getString());
  } catch (const SQLite::Exception& error) {
    tell(inner_->file, error, "read");
  }
}

std::vector<std::int64_t> Book::search(const std::string& words, int most) const {
  std::vector<std::int64_t> out;
  const std::string query = query_of(words);
  if (query.empty()) return out;
  try {
    SQLite::Statement s(inner_->db,
                        "SELECT rowid FROM words WHERE words MATCH ? ORDER BY rowid DESC LIMIT ?");
    s.bind(1, query), s.bind(2, most);
    while (s.executeStep()) out.push_back(s.getColumn(0).getInt64());
  } catch (const SQLite::Exception& error) {
    tell(inner_->file, error, "searched");
  }
  return out;
}

Proof Book::verify() const {
  Proof out;
  try {
    SQLite::Statement check(inner_->db, "PRAGMA integrity_check(5)");
    while (check.executeStep())
      if (const auto said = check.getColumn(0).getString(); said != "ok") out.faults.push_back(said);
    const std::vector<Row> all = rows(inner_->db);
    out.records = static_cast<std::int64_t>(all.size());
    out.last_hash = all.empty() ? std::string() : all.back().hash;
    for (auto& f : chain_faults(all)) out.faults.push_back(std::move(f));
    Moment before = 0;
    for (const Row& r : all) {
      try {
        const Record record = parse_record(r.text, fmt::format("record {}", r.number));
        if (record.number != r.number)
          out.faults.push_back(fmt::format("record {}: its text says {}", r.number, record.number));
        if (record.amends >= r.number)
          out.faults.push_back(
              fmt::format("record {}: amends {}, which is not before it", r.number, record.amends));
        if (record.at < before && !record.clock_back)
          out.faults.push_back(
              fmt::format("record {}: before the one before it, and does not say so", r.number));
        before = record.at;
      } catch (const InputError& error) {
        out.faults.push_back(text_of(error.messages()));
      }
    }
    if (const auto searched = inner_->db.execAndGet("SELECT count(*) FROM words").getInt64();
        searched != out.records)
      out.faults.push_back(fmt::format("{} of {} records can be searched", searched, out.records));
    const auto copy = copy_of(inner_->file);
    if (std::filesystem::exists(copy)) {
      SQLite::Database other(copy.string(), SQLite::OPEN_READONLY);
      out.against_copy = true;
      const std::vector<Row> kept = rows(other);
      for (size_t i = 0; i < kept.size(); ++i)
        if (i >= all.size())
          out.faults.push_back(fmt::format("record {}: the copy has it, the book has not", kept[i].number));
        else if (kept[i].hash != all[i].hash)
          out.faults.push_back(fmt::format("record {}: not as the copy has it", kept[i].number));
    }
  } catch (const SQLite::Exception& error) {
    out.faults.push_back(error.what());
  }
  return out;
}

void Book::back_up(const std::filesystem::path& to) const {
  // Beside it first: a copy that is cut short must not take the place of a whole one.
  const std::filesystem::path draft = to.string() + ".part";
  std::error_code ignored;
  std::filesystem::remove(draft, ignored);
  try {
    {
      SQLite::Database other(draft.string(), SQLite::OPEN_READWRITE | SQLite::OPEN_CREATE);
      SQLite::Backup backup(other, inner_->db);
      backup.executeStep();
    }
    std::filesystem::rename(draft, to);
  } catch (const SQLite::Exception& error) {
    std::filesystem::remove(draft, ignored);
    tell(to, error, "copied");
  } catch (const std::filesystem::filesystem_error& error) {
    std::filesystem::remove(draft, ignored);
    throw failure(to, "a place for the copy", error.code().message());
  }
}

void Book::keep_copy() const {
  if (!inner_->read_only.empty()) return;
  const auto copy = copy_of(inner_->file);
  const auto have = [&]() -> std::int64_t {
    if (!std::filesystem::exists(copy)) return -1;
    try {
      SQLite::Database other(copy.string(), SQLite::OPEN_READONLY);
      return other.execAndGet("SELECT coalesce(max(number), 0) FROM records").getInt64();
    } catch (const SQLite::Exception&) {
      return -1;
    }
  }();
  // A copy that knows more is evidence: it stays.
  if (have < size()) back_up(copy);
}

std::filesystem::path book_of(const std::filesystem::path& project) {
  std::string name = project.filename().string();
  for (const char* end : {".json", ".uadze"})
    if (name.ends_with(end)) name.resize(name.size() - std::char_traits<char>::length(end));
  return project.parent_path() / (name + ".book");
}

std::filesystem::path copy_of(const std::filesystem::path& book) { return book.string() + ".copy"; }

namespace {

/// Row by row: what stands on a broken page is passed over.
void read_what_can_be(const std::filesystem::path& file, std::map<std::int64_t, Row>& into) {
  try {
    SQLite::Database db(file.string(), SQLite::OPEN_READONLY);
    std::int64_t last = 0;
    for (const char* order : {"ASC", "DESC"}) {
      try {
        SQLite::Statement s(db,
                            fmt::format("SELECT number, text, hash FROM records ORDER BY number {}", order));
        while (s.executeStep()) {
          const Row r{s.getColumn(0).getInt64(), s.getColumn(1).getString(), s.getColumn(2).getString()};
          last = std::max(last, r.number);
          into.emplace(r.number, r);
        }
        return;  // all of it
      } catch (const SQLite::Exception&) {
      }
    }
    for (std::int64_t n = 1; n <= last; ++n) {
      if (into.contains(n)) continue;
      try {
        SQLite::Statement s(db, "SELECT text, hash FROM records WHERE number = ?");
        s.bind(1, n);
        if (s.executeStep()) into.emplace(n, Row{n, s.getColumn(0).getString(), s.getColumn(1).getString()});
      } catch (const SQLite::Exception&) {
      }
    }
  } catch (const SQLite::Exception&) {
  }
}

/// Only what its own hash proves, or what the next record's does.
void drop_unproved(std::map<std::int64_t, Row>& found) {
  std::set<std::int64_t> wrong;
  for (const auto& [number, row] : found) {
    const auto before = found.find(number - 1);
    if (number > 1 && before == found.end()) continue;  // its chain can not be asked
    if (chained(number > 1 ? before->second.hash : std::string(), row.text) != row.hash) wrong.insert(number);
  }
  for (const auto number : wrong) found.erase(number);
}

}  // namespace

Rescued rescue(const std::filesystem::path& broken, const std::filesystem::path& into) {
  if (std::filesystem::exists(into)) throw failure(into, "a new file", "one that is there already");
  if (!std::filesystem::exists(broken)) throw failure(broken, "a book", "none there");
  std::map<std::int64_t, Row> found, copied;
  read_what_can_be(broken, found);
  drop_unproved(found);
  const size_t own = found.size();
  read_what_can_be(copy_of(broken), copied);
  drop_unproved(copied);
  found.merge(copied);
  if (found.empty()) throw failure(broken, "a book with a record that can be read", "none");
  Rescued out{.saved = static_cast<std::int64_t>(found.size())};
  for (std::int64_t n = 1; n <= found.rbegin()->first; ++n)
    if (!found.contains(n)) out.lost.push_back(n);
  if (found.size() > own) out.from_copy = fmt::format("{} of them from its copy", found.size() - own);
  try {
    SQLite::Database db(into.string(), SQLite::OPEN_READWRITE | SQLite::OPEN_CREATE);
    auto transaction = begin(db);
    // Numbers without a hole make a book again; where one is missing its place says so.
    step_up(db, 0, book_version);
    std::string before;
    Moment at_before = 0;
    bool as_it_was = true;
    for (std::int64_t n = 1; n <= found.rbegin()->first; ++n) {
      const auto at = found.find(n);
      Row row{n, {}, {}};
      std::string words;
      if (at == found.end()) {
        row.text = text_of(Record{.number = n,
                                  .at = at_before,
                                  .kind = Kind::note,
                                  .by = "rescue",
                                  .note = "This record of the broken book could not be read."});
        as_it_was = false;
      } else {
        row.text = at->second.text;
      }
      row.hash = as_it_was ? at->second.hash : chained(before, row.text);
      before = row.hash;
      const Record record = parse_record(row.text);
      at_before = record.at;
      SQLite::Statement insert(db, "INSERT INTO records(number, text, hash) VALUES (?, ?, ?)");
      insert.bind(1, n), insert.bind(2, row.text), insert.bind(3, row.hash);
      insert.exec();
      SQLite::Statement searched(db, "INSERT INTO words(rowid, text) VALUES (?, ?)");
      searched.bind(1, n), searched.bind(2, words_of(record));
      searched.exec();
    }
    transaction.commit();
  } catch (const SQLite::Exception& error) {
    tell(into, error, "saved");
  }
  return out;
}

void make_tables(const std::filesystem::path& file, int version) {
  SQLite::Database db(file.string(), SQLite::OPEN_READWRITE | SQLite::OPEN_CREATE);
  auto transaction = begin(db);
  step_up(db, 0, version);
  transaction.commit();
}

}  // namespace uadze::logbook
