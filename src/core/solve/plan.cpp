#include "core/solve/plan.h"

namespace uadze::solve {

SessionResult plan_session(const LapResultPtr& lap, const session::Session& session,
                           const DrawOptions& options) {
  SessionResult out;
  out.setup = lap->setup;
  out.session = session.name;
  out.lap = lap;
  session::Session s = session;
  if (options.risk) s.risk = *options.risk;
  out.entered = s;
  // On the test bench the minute that was run stands for any time.
  const session::PlanInput in =
      plan_input(*lap->car, lap->lap->value, lap->clean.level, lap->consumption, lap->usable_volume);
  const session::Draws draws{options.draws, options.seed};
  const starvation::ModelBand* band = lap->band ? &*lap->band : nullptr;
  out.plan = session::make_plan(s, in);
  out.risk = session::plan_at_risk(s, in, band, draws);
  out.stints = session::stint_plans(s, in, band, draws);
  out.start_reads = session::readings(lap->parts, *lap->car->tank, out.risk.start);
  out.back_reads = session::readings(lap->parts, *lap->car->tank, out.risk.bring_back);
  if (s.rule) out.rule = session::check_rule(*s.rule, s, in, out.risk.start, lap->map);
  out.working = session::risk_working(out.risk, in, out.plan);
  out.working.steps.push_back(lap->clean_working);
  if (!session.consumption_per_lap) out.working.steps.push_back(lap->consumption_working);
  for (Derivation* mass : {&out.plan.mass_working, &out.plan.bring_back_mass_working})
    mass->steps.push_back(lap->density);
  return out;
}

std::vector<SessionResult> plan(const project::Project& project, const Case& wanted,
                                const PlanOptions& options, Sources& sources, Progress* progress) {
  if (project.sessions.empty())
    throw InputError(
        Message{.file = {}, .place = "/sessions", .expected = "a session to plan", .found = "none"});
  if (!wanted.session.empty()) resolve(project, wanted);  // says what names there are
  std::vector<SessionResult> out;
  for (const session::Session& s : project.sessions) {
    if (!wanted.session.empty() && s.name != wanted.session) continue;
    const Resolved r = resolve(project, {.setup = wanted.setup, .session = s.name});
    out.push_back(plan_session(lap_result(project, r, sources, options.lap, progress), s, options.draws));
  }
  return out;
}

std::vector<SessionResult> compare(const project::Project& project, const Case& wanted,
                                   const PlanOptions& options, Sources& sources, Progress* progress) {
  std::vector<SessionResult> out;
  for (const project::Setup& setup : project.setups)
    for (SessionResult& one :
         plan(project, {.setup = setup.name, .session = wanted.session}, options, sources, progress))
      out.push_back(std::move(one));
  return out;
}

starvation::LevelRun run_at_back(const SessionResult& session, Progress* progress) {
  const LapResult& lap = *session.lap;
  return run_level(*lap.car, lap.course, std::min(session.risk.bring_back, lap.car->tank->volume()),
                   {.progress = progress});
}

}  // namespace uadze::solve
