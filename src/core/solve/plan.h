#pragma once
// The least fuel of a session, and of all.
//
// Example:
//   using namespace uadze;
//   const auto opened = test::demo("ostrel-wisp");
//   solve::PlanOptions options;
//   options.lap.ladder.levels = 6;
//   options.lap.points = 200;
//   options.draws.draws = 500;
//   const auto plans = solve::plan(opened.project, {}, options, *opened.sources);
//   EXPECT_EQ(plans.size(), opened.project.sessions.size());
//   EXPECT_GE(plans[0].risk.start, plans[0].lap->clean.level);
#include "core/session/after.h"
#include "core/solve/lap_result.h"

namespace uadze::solve {

struct SessionResult {
  std::string setup, session;
  session::Session entered;
  LapResultPtr lap;
  session::Plan plan;      ///< the sum, without scatter
  session::RiskPlan risk;  ///< at the session's risk
  session::Readings start_reads, back_reads;
  std::optional<session::Learnt> learnt;  ///< from the records of its kind; in `entered` already
  starvation::LeastEnd end;               ///< of the stint that must leave most
  bool possible() const { return lap->clean.exists && end.exists; }  ///< false: no fuel is enough
  /// What is put in where the fuel is filled at another temperature: as much mass.
  struct Filled {
    double temperature = 0.0;  ///< K
    double start = 0.0;        ///< m3 there, of the fuel to start with
    double limit = 0.0;        ///< m3 there that may be filled, so that it does not run over when it is warm
  };
  std::optional<Filled> filled;
  std::optional<session::RuleCheck> rule;
  std::vector<session::StintPlan> stints;
  Derivation working;  ///< of the least start fuel, with the steps below it
};

struct DrawOptions {
  std::optional<double> risk;  ///< nothing: the session's
  int draws = 20000;
  unsigned long long seed = 1;
};

SessionResult plan_session(const LapResultPtr& lap, const session::Session& session,
                           const DrawOptions& options = {}, Progress* progress = nullptr,
                           const std::optional<session::Learnt>& learnt = {});
/// What the project's records teach of a session on this lap.
std::optional<session::Learnt> learnt_of(const project::Project& project, const LapResult& lap,
                                         const session::Session& session);

/// Sessions, each on its lap, planned on all cores. An InputError stands in its session's place.
struct ToPlan {
  LapResultPtr lap;
  const session::Session* session = nullptr;
};
struct Planned {
  std::optional<SessionResult> result;
  std::optional<InputError> fault;
};
std::vector<Planned> plan_sessions(const project::Project& project, const std::vector<ToPlan>& wanted,
                                   const DrawOptions& options = {}, Progress* progress = nullptr);

/// The least fuel at the end of the session's stints; kept with the lap. Where no level of the lap is clean
/// it is the whole tank.
starvation::LeastEnd least_end_of(const LapResult& lap, const session::Session& session,
                                  Progress* progress = nullptr);
/// The stints of a session as they are driven: the first, and the last where it is another.
std::vector<std::vector<starvation::Pace>> stints_of(const LapResult& lap, const session::Session& session);

struct PlanOptions {
  LapOptions lap;
  DrawOptions draws;
};

/// Of one setup, each session of the project or the one named. Throws InputError where there is no session.
std::vector<SessionResult> plan(const project::Project& project, const Case& wanted,
                                const PlanOptions& options, Sources& sources, Progress* progress = nullptr);

/// The same sessions for every setup, in the setups' order.
std::vector<SessionResult> compare(const project::Project& project, const Case& wanted,
                                   const PlanOptions& options, Sources& sources,
                                   Progress* progress = nullptr);

/// The lap at the level that the session brings back: the reserve that is left where it is tightest.
starvation::LevelRun run_at_back(const SessionResult& session, Progress* progress = nullptr);

}  // namespace uadze::solve
