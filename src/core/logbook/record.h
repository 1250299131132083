#pragma once
// One record of a car's book: what was done, seen or measured, when and by whom. What kind it is says which
// members count; all others stay empty.
//
// Example:
//   using namespace uadze;
//   logbook::Record r{.kind = logbook::Kind::run, .setup = "P4", .by = "R. Fell", .seconds = 5400};
//   EXPECT_EQ(logbook::parse_record(logbook::text_of(r)), r);
#include <optional>
#include <string>
#include <vector>

#include "core/base/units.h"
#include "core/base/when.h"

namespace uadze::logbook {

enum class Kind {
  begun,     ///< a gate's test that runs for hours has begun
  test,      ///< a gate's test, with its verdict
  fitted,    ///< a part went in new: its life begins
  run,       ///< the car ran
  service,   ///< a task of the due list was done
  event,     ///< what a car is looked through after: a kerb, a crash, a line opened
  incident,  ///< what was seen, its cause, what was done
  part,      ///< a step of the build was done
  note
};
constexpr const char* name_of(Kind value) {
  switch (value) {
    case Kind::begun:
      return "begun";
    case Kind::test:
      return "test";
    case Kind::fitted:
      return "fitted";
    case Kind::run:
      return "run";
    case Kind::service:
      return "service";
    case Kind::event:
      return "event";
    case Kind::incident:
      return "incident";
    case Kind::part:
      return "step";
    case Kind::note:
      return "note";
  }
  return nullptr;
}

enum class Verdict { none, passed, failed };
constexpr const char* name_of(Verdict value) {
  switch (value) {
    case Verdict::none:
      return "none";
    case Verdict::passed:
      return "passed";
    case Verdict::failed:
      return "failed";
  }
  return nullptr;
}

/// A figure that was read, in SI, beside what the circuit let expect.
struct Reading {
  std::string what;
  Quantity quantity = Quantity::plain;
  double value = 0.0;
  std::optional<double> expected;
  bool operator==(const Reading&) const = default;
};

/// Kept beside the book by the content of its file.
struct Photo {
  std::string content;  ///< SHA-256 of its bytes, in hexadecimal
  std::string name;     ///< as the file was called
  bool operator==(const Photo&) const = default;
};

struct Record {
  std::int64_t number = 0;  ///< in the book, from 1; given when it is written
  Moment at = 0;            ///< when it was written
  std::int64_t amends = 0;  ///< number of the record whose place it takes; 0: none
  bool withdrawn = false;   ///< an amendment: the record should never have been
  bool clock_back = false;  ///< the clock stood before that of the record before it

  Kind kind = Kind::note;
  std::string setup;
  std::string subject;            ///< the gate, part, task or event
  std::string by, second;         ///< who; who looked too
  std::string instrument;         ///< that was read
  std::string checked_until;      ///< the day up to which its check is good
  std::string way;                ///< how, where there are several: "nitrogen"
  std::vector<std::string> seen;  ///< what was looked at and found good
  std::vector<Reading> readings;
  std::string limit;  ///< that the verdict was found by
  Verdict verdict = Verdict::none;
  std::string reason;              ///< of the verdict
  std::string content;             ///< of the gate or step as it was then
  double seconds = 0.0;            ///< s that the car ran
  std::string session;             ///< that it ran
  std::string cause, done;         ///< of an incident
  std::vector<std::string> links;  ///< parts, logs and their moments
  std::string torque;              ///< as it was reached, with its unit
  std::string note;
  std::vector<Photo> photos;
  bool operator==(const Record&) const = default;
};

/// The quantities that a reading can be of, by the name they have in a book.
const char* quantity_name(Quantity quantity);

/// The record's text as a book keeps it: JSON, its keys in order, what is empty left out.
std::string text_of(const Record& record);
/// Throws InputError that names what of it can not be read.
Record parse_record(const std::string& text, const std::string& where = "record");

/// Of records in order of number, those that stand: each amended one in its latest form, under the number
/// and at the moment of the first, without those withdrawn. `amends` is then the number of the amendment.
std::vector<Record> standing(const std::vector<Record>& all);

}  // namespace uadze::logbook
