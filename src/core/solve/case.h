#pragma once
// What a question is asked of: a setup on a lap under conditions; and that case made ready to be run.
//
// Example:
//   using namespace uadze;
//   const auto opened = test::demo("ostrel-p4");
//   const solve::Resolved r = solve::resolve(opened.project, {.session = "Race, 3 h"});
//   EXPECT_EQ(r.lap->name, "Brackenholt, dry");        // the session's
//   const auto ready = solve::lap_case(opened.project, r, *opened.sources, {.points = 200});
//   EXPECT_EQ(ready->course.demand.size(), ready->lap->value.size());
#include <stdexcept>

#include "core/base/progress.h"
#include "core/solve/setup.h"
#include "core/starvation/march.h"

namespace uadze::solve {

/// By names. Without a setup the first; without a session the first that drives the named lap, or the first
/// of all where no lap is named; without a lap the session's, or the first.
struct Case {
  std::string setup, lap, session;
  std::optional<double> grip = {};  ///< in place of the session's
  bool alone = false;               ///< no session is thought in: the lap as it was logged, the setup's fuel
};

/// A name that the project does not have: said with those that it has.
struct UnknownName : std::runtime_error {
  using std::runtime_error::runtime_error;
};

struct Resolved {
  const project::Setup* setup = nullptr;
  const project::LapReference* lap = nullptr;
  const session::Session* session = nullptr;  ///< nothing: the project has none for it
  Conditions conditions;
};

/// The pointers are into the project. Throws UnknownName, and InputError (places in the project) where there
/// is no setup, or no lap to be had.
Resolved resolve(const project::Project& project, const Case& wanted);

/// The session's lap, or the bench's for a test bench session without one; nothing if there is none.
const project::LapReference* reference_of(const project::Project& project, const session::Session& session);

/// A setup on a lap, ready to be run: the tank compiled, the circuit solved along the lap.
struct LapCase {
  LapPtr lap;  ///< under the conditions' grip
  std::shared_ptr<const starvation::FuelSystem> car;
  starvation::Course course;
};
using LapCasePtr = std::shared_ptr<const LapCase>;

struct CaseOptions {
  bool wait = true;      ///< for the tank's inertia
  size_t points = 2400;  ///< of the circuit along the lap
  LapPtr given = {};     ///< in place of the reference's file
};

/// Of all that decides a case: setup, meshes, lap, catalogue, conditions, options.
ContentKey key_of_case(const project::Project& project, const Resolved& resolved, Sources& sources,
                       const CaseOptions& options = {});

/// Throws InputError, named by setup and lap. Kept by content.
LapCasePtr lap_case(const project::Project& project, const Resolved& resolved, Sources& sources,
                    const CaseOptions& options = {}, Progress* progress = nullptr);

}  // namespace uadze::solve
