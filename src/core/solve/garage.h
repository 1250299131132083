#pragma once
// A setup in the garage: what is built, in which order, what it must pass, and what its book says of it. One
// answer for window, command line and card.
//
// Example:
//   using namespace uadze;
//   const auto opened = test::demo("ostrel-p4");
//   const auto in = solve::in_garage(opened.project, opened.project.setups[0], opened.sources->catalogue(opened.project), {}, 0);
//   EXPECT_GT(in.steps.size(), 12u);
//   EXPECT_FALSE(in.readiness.ready);                 // an empty book proves nothing
//   EXPECT_EQ(in.readiness.open.size(), in.gates.size());
#include <map>

#include "core/build/bench.h"
#include "core/build/own_steps.h"
#include "core/logbook/book.h"
#include "core/logbook/ready.h"
#include "core/solve/case.h"

namespace uadze::solve {

struct InGarage {
  circuit::Case at;
  build::Garage garage;
  std::vector<build::Step> steps;
  std::vector<Phrase> refused;  ///< of own steps and changes
  std::vector<build::OrderItem> items;
  std::vector<circuit::Finding> findings;
  std::vector<logbook::GateStatus> gates;
  std::vector<logbook::Due> due;
  logbook::Readiness readiness;
};

/// Throws InputError if the setup has no circuit.
InGarage in_garage(const project::Project& project, const project::Setup& setup,
                   std::shared_ptr<const circuit::Catalogue> catalogue,
                   const std::vector<logbook::Record>& records, Moment at);

/// By the setup's name, of all that have a circuit.
using ReadyBySetup = std::map<std::string, logbook::Readiness>;
ReadyBySetup ready_by_setup(const project::Project& project,
                            std::shared_ptr<const circuit::Catalogue> catalogue,
                            const std::vector<logbook::Record>& records, Moment at);

/// A gate as it is expected at the volts of a record that was read, or is being entered.
build::Gate gate_at_volts(const InGarage& in, const build::Gate& gate,
                          const std::vector<logbook::Reading>& readings);

/// A record of a gate's test made whole: what was expected beside what was read, limit, verdict and reason,
/// and the content that it proves.
logbook::Record with_verdict(const InGarage& in, const logbook::GateStatus& status, logbook::Record record,
                             Moment at);

/// What a record's verdict still needs, a line each: readings, looks, people, an instrument, the gates before
/// it. A test that has failed needs no more than a name.
std::vector<std::string> missing(const logbook::GateStatus& status, const logbook::Record& record, Moment at);

/// Which faults of the circuit would make the record's readings what they are; none for gates without.
std::vector<build::Explanation> explained(const InGarage& in, const logbook::Record& record);

/// The setup with what a test found: a pump's measured flow over its curve's, its wires' resistance by the
/// volts at its terminals, the loss of filters that were read, with the record named as origin. Nothing where the record measures neither.
std::optional<project::Setup> corrected(const project::Setup& setup, const InGarage& in,
                                        const logbook::Record& record);

/// s of running that a session plans, of all its laps; 0 if its lap's time is not known.
double planned_running(const session::Session& session, double lap_time);

/// Of a project beside which a book lies: its records, or none where there is no book. Throws as
/// logbook::Book::open() does.
std::vector<logbook::Record> records_beside(const std::filesystem::path& project);

}  // namespace uadze::solve
