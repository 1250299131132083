#pragma once
// What wears and ages: when each part of a car is due, by the records of when it went in, what was done to
// it, and how long the car ran.
//
//   hours    of running since it went in or was served (records of kind run)
//   days     since then
//   events   a kerb, a crash, a day on methanol since it was looked at
//
// A part's own life stands in the catalogue (circuit/ratings.h: seasons of 365 days, hours); where it has
// none, what is usual: hoses two years, one where alcohol runs through what is not made for it; fine filters
// 20 h, socks 40 h; pumps 100 h with a flow test; a bladder by its maker's date, five years at the most; foam
// two years; fuel four weeks in the tank. A pump is due too when a flow test gives under 90 % of its first.
// Makers and the series' rules stand above.
//
// Example:
//   const circuit::Case c = test::plain_case();
//   using logbook::Kind;
//   const std::vector<logbook::Record> book{
//       {.number = 1, .at = 0, .kind = Kind::fitted, .setup = "P4", .subject = "fine filter, 10 micron", .by = "R. Fell"},
//       {.number = 2, .at = 86400, .kind = Kind::run, .setup = "P4", .by = "R. Fell", .seconds = 50 * 3600}};
//   for (const auto& d : logbook::due_list(c, "P4", book, 2 * 86400))
//     if (d.what == "fine filter, 10 micron") { EXPECT_EQ(d.state, logbook::DueState::overdue); }
#include "core/circuit/circuit.h"
#include "core/logbook/record.h"

namespace uadze::logbook {

/// Subjects of events.
inline constexpr const char* crash_event = "crash";
inline constexpr const char* kerb_event = "kerb";
inline constexpr const char* opened_event = "line opened";
inline constexpr const char* methanol_event = "ran on methanol";
std::vector<std::string> event_subjects();

enum class DueState { good, soon, overdue, not_known };
constexpr const char* name_of(DueState value) {
  switch (value) {
    case DueState::good:
      return "good";
    case DueState::soon:
      return "soon";
    case DueState::overdue:
      return "overdue";
    case DueState::not_known:
      return "not known";
  }
  return nullptr;
}

/// A task on a part, and what of its life is left.
struct Due {
  std::string what;  ///< the part: subject of `fitted` and `service` records
  std::string task;
  std::string why;     ///< where its life comes from
  double hours = 0.0;  ///< s of running between two; 0: not by hours
  int days = 0;        ///< 0: not by date
  std::string event;   ///< after such an event; empty: not by events
  DueState state = DueState::not_known;
  std::optional<Moment> since;  ///< when it went in or was served last
  double used = 0.0;            ///< s that the car has run since
  std::string day;              ///< by which it is due; empty: not by date, or not known since when
};

/// By what is most urgent. A part that never went in by any record is not known: enter when it did.
std::vector<Due> due_list(const circuit::Case& c, const std::string& setup,
                          const std::vector<Record>& records, Moment at);

/// s that the car ran by the book, from a moment on.
double hours_run(const std::string& setup, const std::vector<Record>& records, Moment from = 0);

/// The same after more running, from today on: what will be overdue before a session is over.
std::vector<Due> after_running(std::vector<Due> due, double seconds, const std::string& day);

/// iCalendar (RFC 5545): an all-day event for each task with a day. `stamp`: when it is written.
std::string calendar(const std::string& car, const std::vector<Due>& due, Moment stamp);

}  // namespace uadze::logbook
