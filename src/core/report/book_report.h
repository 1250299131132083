#pragma once
// The book, its gates and its due list as tables, text, JSON; and back from JSON and CSV.
//
// Example:
//   const logbook::Record r{.number = 3, .at = 0, .kind = logbook::Kind::run, .setup = "P4", .by = "R. Fell", .seconds = 5400};
//   EXPECT_EQ(report::summary(r), "ran 1.5 h");
//   EXPECT_EQ(report::parse_records_json(report::records_json({r}), "book.json").value, std::vector{r});
#include "core/report/build_report.h"
#include "core/solve/garage.h"

namespace uadze::report {

/// What a record says in a line.
std::string summary(const logbook::Record& record, const UnitSystem& units = {});
/// Readings beside what was expected: "flow 131 L/h (expected 130 L/h)".
std::string reading_words(const logbook::Reading& reading, const UnitSystem& units = {});
/// All of it, a line each.
std::string record_text(const logbook::Record& record, const UnitSystem& units = {});

Table records_table(const std::vector<logbook::Record>& records, const UnitSystem& units = {});
Table gates_table(const std::vector<logbook::GateStatus>& gates, Moment at, const UnitSystem& units = {});
/// What a gate should read: what, expected, least, most.
Table readings_table(const build::Gate& gate, const UnitSystem& units = {});
Table due_table(const std::vector<logbook::Due>& due);
/// "h" of running with one decimal.
std::string running_hours(double seconds);
/// How long a test still runs, or since when it waits: "4 h 12 min left".
std::string time_left(const logbook::GateStatus& status, Moment at);

/// The hand-over of a car: whether it is ready, its gates with their proofs, what is due, incidents, and
/// what was changed.
std::string handover_text(const std::string& car, const solve::InGarage& in,
                          const std::vector<logbook::Record>& records, const UnitSystem& units = {});

std::string records_json(const std::vector<logbook::Record>& records);
Read<std::vector<logbook::Record>> parse_records_json(const std::string& text, const std::string& file);
/// Columns kind, setup, subject, by, second, verdict, hours, session, cause, done, note; those that are
/// missing are empty; a line end within a text is a blank (JSON keeps it, and the readings). Throws
/// InputError with the line.
std::string records_csv(const std::vector<logbook::Record>& records);
Read<std::vector<logbook::Record>> parse_records_csv(const std::string& text, const std::string& file);

/// What a bench wrote: "reading,value" rows under such a header, each value with its unit. For a gate: what
/// is not asked for is an error.
std::vector<logbook::Reading> parse_bench(const std::string& text, const std::string& file,
                                          const build::Gate& gate);
/// One reading as it is typed, by the gate's quantity; a flow also as "1.35 L / 30 s". Throws InputError.
logbook::Reading typed_reading(const build::Gate& gate, const std::string& what, const std::string& text,
                               const UnitSystem& units = {});

}  // namespace uadze::report
