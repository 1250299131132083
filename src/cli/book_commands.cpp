// uadze book: what was tested, fitted, run, seen and done, and what of it is still open.
#include "cli/common.h"
#include "core/base/counted.h"
#include "core/base/files.h"
#include "core/base/local_socket.h"
#include "core/base/names.h"
#include "core/logbook/photos.h"
#include "core/report/book_report.h"

namespace uadze::cli {
namespace {

using logbook::Book;
using logbook::Kind;
using logbook::Record;

bool is_book(const std::string& file) { return file.ends_with(".book"); }

std::filesystem::path book_file(const BookOptions& o) {
  return is_book(o.file) ? std::filesystem::path(o.file) : logbook::book_of(o.file);
}

std::vector<Record> records_of(const BookOptions& o) {
  const auto file = book_file(o);
  if (is_book(o.file)) return Book::open(file, {.make = false, .read_only = true}).all();
  return solve::records_beside(o.file);
}

/// A setup of a project with its book. The project stays with it: the setup is of it.
struct Shop {
  Job job;
  const project::Setup* setup;
  std::vector<Record> records;
  solve::InGarage in;
};
Shop shop_of(const BookOptions& o, Moment at) {
  if (is_book(o.file)) throw UsageError("this needs the project, not its book alone");
  Shop out{open_job(o.file), nullptr, records_of(o), {}};
  out.setup = &solve::chosen_setup(out.job.project(), o.setup);
  out.in = solve::in_garage(out.job.project(), *out.setup, out.job.sources->catalogue(out.job.project()),
                            out.records, at);
  return out;
}

const logbook::GateStatus& gate_of(const Shop& shop, const std::string& id) {
  std::string known;
  for (const auto& s : shop.in.gates) {
    if (s.gate.id == id) return s;
    known += (known.empty() ? "" : ", ") + s.gate.id;
  }
  throw UsageError("no gate \"" + id + "\"; this setup has " + known);
}

void show(const BookOptions& o, const report::Table& table) {
  write_or_put(o.output, o.format == "csv" ? report::csv_of(table) : report::text_of(table));
}

/// What all records that are written have.
Record drafted(const BookOptions& o, Kind kind, const std::string& setup) {
  Record out{.kind = kind, .setup = setup, .by = o.by};
  out.links = o.links, out.note = o.note;
  for (const std::string& p : o.photos) out.photos.push_back(logbook::keep_photo(book_file(o), p));
  return out;
}

Record wrote(const BookOptions& o, Record record, Moment at) {
  Book book = Book::open(book_file(o));
  Record out = book.append(std::move(record), at);
  book.keep_copy();
  put(report::record_text(out, units));
  return out;
}

int gates(const BookOptions& o) {
  const Moment at = now();
  const Shop shop = shop_of(o, at);
  const auto table = report::gates_table(shop.in.gates, at, units);
  if (o.format == "csv")
    show(o, table);
  else
    write_or_put(o.output,
                 shop.setup->name + ": " + shop.in.readiness.words() + "\n" + report::text_of(table));
  return shop.in.readiness.ready ? 0 : 1;
}

void readings(const BookOptions& o) {
  const Shop shop = shop_of(o, now());
  const build::Gate& gate = gate_of(shop, o.gate).gate;
  std::string out = gate.title + "\n";
  for (const auto& c : gate.cautions) out += "  ! " + c + "\n";
  for (const auto& h : gate.how) out += "  - " + h + "\n";
  for (const auto& l : gate.look) out += "  [ ] " + l + "\n";
  for (const auto& w : gate.ways) out += "  way: " + w + "\n";
  if (!gate.readings.empty()) out += report::text_of(report::readings_table(gate, units));
  out += "limit: " + gate.limit + (gate.two_people ? "; two people" : "") + "\n";
  write_or_put(o.output, out);
}

int due(const BookOptions& o) {
  const Moment at = now();
  const Shop shop = shop_of(o, at);
  if (o.format == "ics")
    write_or_put(o.output, logbook::calendar(shop.setup->name, shop.in.due, at));
  else
    show(o, report::due_table(shop.in.due));
  for (const auto& d : shop.in.due)
    if (d.state == logbook::DueState::overdue) return 1;
  return 0;
}

void list(const BookOptions& o) {
  std::vector<Record> found;
  if (o.words.empty()) {
    found = records_of(o);
  } else {
    const Book book = Book::open(book_file(o), {.make = false, .read_only = true});
    for (const auto number : book.search(o.words)) found.push_back(*book.find(number));
    std::reverse(found.begin(), found.end());
  }
  std::erase_if(found, [&](const Record& r) {
    return (!o.setup.empty() && r.setup != o.setup) || (!o.kind.empty() && name_of(r.kind) != o.kind);
  });
  if (o.format == "json")
    write_or_put(o.output, report::records_json(found));
  else if (o.format == "csv")
    write_or_put(o.output, report::records_csv(found));
  else
    show(o, report::records_table(found, units));
}

void show_one(const BookOptions& o) {
  const auto all = records_of(o);
  std::string out;
  for (const Record& r : all)
    if (r.number == o.number || r.amends == o.number) {
      Record as_written = r;
      as_written.amends = 0;
      out += report::record_text(as_written, units);
      if (r.amends) out += fmt::format("  {} record {}\n", r.withdrawn ? "withdraws" : "amends", r.amends);
    }
  if (out.empty())
    throw InputError(Message{.file = book_file(o).string(),
                             .expected = fmt::format("a record {}", o.number),
                             .found = counted(all.size(), "record")});
  write_or_put(o.output, out);
}

void add(const BookOptions& o) {
  const Job job = open_job(o.file);
  const project::Setup& setup = solve::chosen_setup(job.project(), o.setup);
  const Kind kind = *value_named<Kind>(o.kind);
  if (kind == Kind::run && !o.hours) throw UsageError("a run needs --hours");
  if ((kind == Kind::fitted || kind == Kind::service || kind == Kind::event) && o.subject.empty())
    throw UsageError("this needs its subject: the part, task or event");
  if (kind == Kind::event) {
    const auto known = logbook::event_subjects();
    if (std::find(known.begin(), known.end(), o.subject) == known.end())
      throw UsageError(fmt::format("an event is one of: {}", fmt::join(known, ", ")));
  }
  Record record = drafted(o, kind, setup.name);
  record.subject = o.subject, record.cause = o.cause, record.done = o.done;
  record.session = o.session, record.torque = o.torque;
  if (o.hours) record.seconds = 3600 * *o.hours;
  wrote(o, std::move(record), now());
}

void begin(const BookOptions& o) {
  const Moment at = now();
  const Shop shop = shop_of(o, at);
  const auto& status = gate_of(shop, o.gate);
  if (status.gate.lasts <= 0) throw UsageError("\"" + o.gate + "\" does not run for hours: write its test");
  Record record = drafted(o, Kind::begun, shop.setup->name);
  record.subject = status.gate.id;
  record.content = status.gate.content;
  wrote(o, std::move(record), at);
}

int test(const BookOptions& o) {
  const Moment at = now();
  const Shop shop = shop_of(o, at);
  const auto& status = gate_of(shop, o.gate);
  Record record{.kind = Kind::test, .setup = shop.setup->name, .by = o.by, .second = o.second};
  record.instrument = o.instrument, record.checked_until = o.checked_until, record.way = o.way;
  record.seen = o.all_seen ? status.gate.look : o.seen;
  if (!o.from.empty()) {
    const std::string begin = "socket:";
    const std::string text =
        o.from.starts_with(begin) ? ask(o.from.substr(begin.size()), status.gate.id) : read_file(o.from);
    record.readings = report::parse_bench(text, o.from, status.gate);
  }
  for (const std::string& typed : o.readings) {
    const auto cut = typed.find('=');
    if (cut == std::string::npos) throw UsageError("--reading needs \"what=value\", found \"" + typed + "\"");
    record.readings.push_back(
        report::typed_reading(status.gate, typed.substr(0, cut), typed.substr(cut + 1), units));
  }
  record = solve::with_verdict(shop.in, status, std::move(record), at);
  if (o.failed)
    record.verdict = logbook::Verdict::failed, record.reason = o.note.empty() ? "failed by eye" : o.note;
  const bool passed = record.verdict == logbook::Verdict::passed;
  if (const auto missing = solve::missing(status, record, at); !missing.empty())
    throw InputError(Message{.place = status.gate.id,
                             .expected = "what its verdict needs",
                             .found = fmt::format("{}", fmt::join(missing, " "))});
  const Record kept = drafted(o, Kind::test, shop.setup->name);
  record.links = kept.links, record.note = kept.note, record.photos = kept.photos;
  wrote(o, record, at);
  for (const auto& e : solve::explained(shop.in, record))
    put(fmt::format("  {} {}\n", e.misfit < 1 ? "fits:" : "partly:", e.text.in(units)));
  return passed ? 0 : 1;
}

void amend(const BookOptions& o) {
  Book book = Book::open(book_file(o), {.make = false});
  const auto former = book.find(o.number);
  if (!former)
    throw InputError(Message{.file = book.file().string(),
                             .expected = fmt::format("a record {} to amend", o.number),
                             .found = "none"});
  if (!o.withdraw && o.note.empty() && o.cause.empty() && o.done.empty())
    throw UsageError("nothing to amend: --note, --cause, --done or --withdraw");
  Record changed = *former;
  changed.withdrawn = o.withdraw;
  if (!o.note.empty()) changed.note = o.note;
  if (!o.cause.empty()) changed.cause = o.cause;
  if (!o.done.empty()) changed.done = o.done;
  // Who did the work stays; who amends is said beside it.
  if (o.by != former->by) changed.links.push_back("amended by " + o.by);
  put(report::record_text(book.amend(o.number, std::move(changed)), units));
  book.keep_copy();
}

int verify(const BookOptions& o) {
  const Book book = Book::open(book_file(o), {.make = false, .read_only = true});
  const logbook::Proof proof = book.verify();
  std::string out = fmt::format("{}, last hash {}\n", counted(proof.records, "record"), proof.last_hash);
  out += proof.sound() ? "Each record is as it was written.\n" : "";
  out += proof.against_copy ? "Held against the book's copy.\n"
                            : "No copy to hold it against: what was cut off at the end would not show.\n";
  for (const auto& f : proof.faults) out += "FAULT: " + f + "\n";
  for (const auto& p : logbook::missing_photos(book.file(), book.all()))
    out += "photo missing or changed: " + p.name + ", " + p.content.substr(0, 12) + "\n";
  write_or_put(o.output, out);
  return proof.sound() ? 0 : 1;
}

void import(const BookOptions& o) {
  const std::string text = read_file(o.from);
  const auto read = o.from.ends_with(".json") ? report::parse_records_json(text, o.from)
                                              : report::parse_records_csv(text, o.from);
  Book book = Book::open(book_file(o));
  const std::string name = std::filesystem::path(o.from).filename().string();
  for (Record r : read.value) {
    // Its own number, moment and amendments were another book's.
    r.links.push_back(
        r.number ? fmt::format("from {}, record {} of {}, by {}", name, r.number, utc_text(r.at), o.by)
                 : fmt::format("from {}, by {}", name, o.by));
    r.amends = 0, r.withdrawn = false;
    book.append(std::move(r));
  }
  book.keep_copy();
  put(counted(read.value.size(), "record") + " added.\n");
}

}  // namespace

int book(const BookOptions& o) {
  if (o.what == "gates") return gates(o);
  if (o.what == "readings") readings(o);
  if (o.what == "due") return due(o);
  if (o.what == "list") list(o);
  if (o.what == "show") show_one(o);
  if (o.what == "handover") {
    const Shop shop = shop_of(o, now());
    write_or_put(o.output, report::handover_text(shop.setup->name, shop.in, shop.records, units));
  }
  if (o.what == "add") add(o);
  if (o.what == "begin") begin(o);
  if (o.what == "test") return test(o);
  if (o.what == "amend") amend(o);
  if (o.what == "verify") return verify(o);
  if (o.what == "backup") {
    Book::open(book_file(o), {.make = false, .read_only = true}).back_up(o.output);
    put("copied\n");
  }
  if (o.what == "rescue") {
    const logbook::Rescued saved = logbook::rescue(book_file(o), o.output);
    put(fmt::format("{} saved{}; {} lost{}\n", counted(saved.saved, "record"),
                    saved.from_copy.empty() ? "" : ", " + saved.from_copy, saved.lost.size(),
                    saved.lost.empty() ? "" : fmt::format(": {}", fmt::join(saved.lost, ", "))));
  }
  if (o.what == "import") import(o);
  return 0;
}

}  // namespace uadze::cli
