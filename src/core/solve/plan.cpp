#include "core/solve/plan.h"

#include <tbb/parallel_for.h>

#include <algorithm>

#include "core/session/schedule.h"

namespace uadze::solve {

std::vector<std::vector<starvation::Pace>> stints_of(const LapResult& lap, const session::Session& s) {
  const double time = lap.lap->value.duration();
  std::vector<std::vector<starvation::Pace>> out{session::longest_stint(s, time)};
  if (s.refuel_stops > 0)
    out.push_back(session::schedule(s, session::laps_of(s, time) / (s.refuel_stops + 1), {false, true}));
  return out;
}

starvation::LeastEnd least_end_of(const LapResult& lap, const session::Session& s, Progress* progress) {
  starvation::LeastEnd out;
  if (!lap.clean.exists) {
    out.end = out.starves = lap.clean.level;
    out.exists = false;
    return out;
  }
  const size_t worst = lap.clean.below.clean() ? lap.clean.at.tightest : lap.clean.below.tightest;
  const double factor = s.consumption_per_lap ? *s.consumption_per_lap / lap.consumption : 1.0;
  for (const auto& stint : stints_of(lap, s)) {
    starvation::Course course = lap.course;
    for (double& q : course.demand) q *= factor;
    const starvation::LeastEnd found = starvation::least_end(
        *lap.car, course, stint, lap.clean.level,
        {.launch = lap.launch.get(),
         .hint = starvation::end_hint(course, stint, lap.clean.level, lap.lap->value.time[worst]),
         .reserve = lap.clean.at.reserve.front(),
         .kept = lap.marched.get(),
         .progress = progress},
        lap.end_resolution);
    if (found.end >= out.end || !found.exists) out = found;
    if (!out.exists) break;
  }
  return out;
}

std::optional<session::Learnt> learnt_of(const project::Project& project, const LapResult& lap,
                                         const session::Session& session) {
  return session::learnt(session, project.sessions, project.records, lap.consumption,
                         lap.lap->value.duration());
}

namespace {

/// Where the lap starves first at a level, or at the next of the ladder under it that starves; "": nowhere.
std::string starves_first_at(const LapResult& lap, double level) {
  const auto place = [&](double at) -> std::optional<std::string> {
    const auto trouble = starvation::first_trouble(*lap.car, lap.course, at);
    if (!trouble) return std::nullopt;
    return lap::place_at(lap.course.corners, lap.lap->value,
                         std::max(trouble->time, lap.lap->value.time.front()));
  };
  if (const auto there = place(std::min(level, lap.car->tank->volume()))) return *there;
  const auto& rungs = lap.ladder->rungs;
  for (auto rung = rungs.rbegin(); rung != rungs.rend(); ++rung)
    if (rung->level < level && !rung->clean)
      if (const auto under = place(rung->level)) return *under;
  return {};
}

/// As far as its stints.
SessionResult driven(const LapResultPtr& lap, const session::Session& session, const DrawOptions& options,
                     Progress* progress, const std::optional<session::Learnt>& learnt) {
  SessionResult out;
  out.setup = lap->setup;
  out.session = session.name;
  out.lap = lap;
  session::Session s = learnt ? session::with_learnt(session, *learnt) : session;
  out.learnt = learnt;
  if (options.risk) s.risk = *options.risk;
  out.entered = s;
  out.end = least_end_of(*lap, s, progress);
  return out;
}

/// From there on.
void plan_driven(SessionResult& out, const session::Session& session, const DrawOptions& options) {
  const LapResultPtr& lap = out.lap;
  const session::Session& s = out.entered;
  // On the test bench the minute that was run stands for any time.
  const session::PlanInput in =
      plan_input(*lap->car, lap->lap->value, out.end.end, lap->consumption, lap->usable_volume);
  const session::Draws draws{options.draws, options.seed};
  const starvation::ModelBand* band = lap->band ? &*lap->band : nullptr;
  out.plan = session::make_plan(s, in);
  out.risk = session::plan_at_risk(s, in, band, draws);
  out.stints = session::stint_plans(s, in, band, draws);
  out.start_reads = session::readings(lap->parts, *lap->car->tank, out.risk.start);
  out.back_reads = session::readings(lap->parts, *lap->car->tank, out.risk.bring_back);
  if (s.rule) {
    out.rule = session::check_rule(*s.rule, s, in, out.risk.start);
    if (out.rule->starves) out.rule->place = starves_first_at(*lap, *s.rule * in.tank_volume);
  }
  out.working = session::risk_working(out.risk, in, out.plan);
  if (lap->clean.exists)
    out.working.steps.push_back(starvation::least_end_working(*lap->car, out.end, lap->clean.level));
  out.working.steps.push_back(lap->clean_working);
  if (s.fill_temperature) {
    const double cold = fluid::liquid(lap->fuel, *s.fill_temperature).density, warm = lap->car->fuel_density;
    out.filled = {*s.fill_temperature, out.risk.start * warm / cold, lap->usable_volume * warm / cold};
    out.working.steps.push_back(
        {.name = "Put in, as warm as it is then",
         .value = out.filled->start,
         .quantity = Quantity::volume,
         .formula = "V_fill = V_start rho_run / rho_fill; at most V_usable rho_run / rho_fill",
         .inputs = {{"V_start", "least start fuel at the risk", out.risk.start, Quantity::volume, "computed"},
                    {"V_usable", "may be filled", lap->usable_volume, Quantity::volume, "entered"},
                    {"rho_run", "density as it runs", warm, Quantity::density, "computed"},
                    {"rho_fill", "density as it is put in", cold, Quantity::density, "computed"}},
         .source = "as much mass; the fuel expands from one temperature to the other"});
  }
  if (out.learnt) out.working.steps.push_back(out.learnt->working);
  if (!session.consumption_per_lap) out.working.steps.push_back(lap->consumption_working);
  for (Derivation* mass : {&out.plan.mass_working, &out.plan.bring_back_mass_working})
    mass->steps.push_back(lap->density);
}

}  // namespace

SessionResult plan_session(const LapResultPtr& lap, const session::Session& session,
                           const DrawOptions& options, Progress* progress,
                           const std::optional<session::Learnt>& learnt) {
  SessionResult out = driven(lap, session, options, progress, learnt);
  plan_driven(out, session, options);
  return out;
}

// Sessions of one lap share most of their stints, which are marched once: one session after the other.
std::vector<Planned> plan_sessions(const project::Project& project, const std::vector<ToPlan>& wanted,
                                   const DrawOptions& options, Progress* progress) {
  std::vector<Planned> out(wanted.size());
  const auto guarded = [&](size_t i, auto&& work) {
    try {
      work(wanted[i]);
    } catch (const InputError& error) {
      out[i].fault = error;
    }
  };
  std::vector<std::vector<size_t>> of_lap;
  for (size_t i = 0; i < wanted.size(); ++i) {
    const auto known = std::find_if(of_lap.begin(), of_lap.end(), [&](const auto& group) {
      return wanted[group.front()].lap->marched == wanted[i].lap->marched;
    });
    known == of_lap.end() ? of_lap.push_back({i}) : known->push_back(i);
  }
  tbb::parallel_for(size_t{0}, of_lap.size(), [&](size_t k) {
    for (const size_t i : of_lap[k])
      guarded(i, [&](const ToPlan& one) {
        out[i].result =
            driven(one.lap, *one.session, options, progress, learnt_of(project, *one.lap, *one.session));
      });
  });
  tbb::parallel_for(size_t{0}, wanted.size(), [&](size_t i) {
    if (out[i].result)
      guarded(i, [&](const ToPlan& one) { plan_driven(*out[i].result, *one.session, options); });
  });
  return out;
}

std::vector<SessionResult> plan(const project::Project& project, const Case& wanted,
                                const PlanOptions& options, Sources& sources, Progress* progress) {
  if (project.sessions.empty())
    throw InputError(
        Message{.file = {}, .place = "/sessions", .expected = "a session to plan", .found = "none"});
  if (!wanted.session.empty()) resolve(project, wanted);  // says what names there are
  std::vector<Resolved> cases;
  for (const session::Session& s : project.sessions)
    if (wanted.session.empty() || s.name == wanted.session)
      cases.push_back(resolve(project, {.setup = wanted.setup, .session = s.name}));
  std::vector<ToPlan> all;
  for (LapOrFault& one : lap_results(project, cases, sources, options.lap, progress)) {
    if (one.fault) throw *one.fault;
    all.push_back({std::move(one.lap), cases[all.size()].session});
  }
  std::vector<SessionResult> out;
  for (Planned& one : plan_sessions(project, all, options.draws, progress)) {
    if (one.fault) throw *one.fault;
    out.push_back(std::move(*one.result));
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
  // The last lap only ends with what is brought back: held steady, no less than the clean level.
  return run_level(*lap.car, lap.course,
                   std::min(std::max(session.risk.bring_back, lap.clean.level), lap.car->tank->volume()),
                   {.progress = progress});
}

}  // namespace uadze::solve
