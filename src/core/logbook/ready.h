#pragma once
// Whether a setup is ready: each gate of its commissioning with the records that speak of it.
//
//   open      never passed
//   running   begun, its hours not over
//   waiting   its hours are over: look, and write the verdict
//   passed
//   failed    the last test failed
//   again     passed, but the circuit has changed since, or something happened to the car
//   overdue   passed too long ago
//
// Example:
//   const auto gates = build::commissioning(test::plain_case(), {.idle = 1e-6, .full = 33e-6});
//   const auto states = logbook::gate_states(gates, "P4", {}, 0);
//   EXPECT_EQ(states[0].state, logbook::GateState::open);
//   EXPECT_FALSE(logbook::readiness(states, {}).ready);
#include "core/build/gates.h"
#include "core/logbook/record.h"
#include "core/logbook/service.h"

namespace uadze::logbook {

enum class GateState { open, running, waiting, passed, failed, again, overdue };
constexpr const char* name_of(GateState value) {
  switch (value) {
    case GateState::open:
      return "open";
    case GateState::running:
      return "running";
    case GateState::waiting:
      return "to be looked at";
    case GateState::passed:
      return "passed";
    case GateState::failed:
      return "failed";
    case GateState::again:
      return "to be done again";
    case GateState::overdue:
      return "overdue";
  }
  return nullptr;
}

struct GateStatus {
  build::Gate gate;
  GateState state = GateState::open;
  std::optional<Record> last;          ///< its last test
  std::optional<Record> begun;         ///< of the test that runs now
  Moment over_at = 0;                  ///< when its hours are over, while it runs
  std::string due;                     ///< day by which it is due again, if it is passed and ages
  std::string why;                     ///< of `again`: what has happened
  std::vector<std::string> waits_for;  ///< ids of gates before it that are not passed
};
/// `records`: of the book, in order of number. By the gates' order.
std::vector<GateStatus> gate_states(const std::vector<build::Gate>& gates, const std::string& setup,
                                    const std::vector<Record>& records, Moment at);

/// What is missing or wrong in a record of a gate's test, so that it can not be written: no name, the second
/// person missing or the same, no instrument or one whose check is past, a reading, a look. Empty: it can.
/// A test that failed may be written with less.
std::vector<std::string> record_faults(const Record& record, const build::Gate& gate, Moment at);

/// The verdict of a record's readings by the gate; `lasted` by the record that began it.
build::Judgement judged(const Record& record, const GateStatus& status, Moment at);

struct Readiness {
  bool ready = false;
  std::vector<std::string> open;  ///< a line each: "Leak test, brim full: open"
  std::string words() const;      ///< "ready", or "not ready: 3 open"
};
/// Gates passed, and nothing of the due list overdue.
Readiness readiness(const std::vector<GateStatus>& gates, const std::vector<Due>& due);

}  // namespace uadze::logbook
