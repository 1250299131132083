#include "core/solve/size.h"

#include <algorithm>
#include <cmath>

#include "core/circuit/shortfall.h"
#include "core/solve/run.h"

namespace uadze::solve {
namespace {

/// The case and the other laps that decide its surge tank.
std::vector<Resolved> served(const project::Project& project, const Case& wanted, const Resolved& chosen) {
  std::vector<Resolved> out{chosen};
  if (!wanted.lap.empty()) return out;
  for (const project::LapReference& lap : project.laps) {
    if (lap.name == chosen.lap->name) continue;
    Resolved other = chosen;
    other.lap = &lap;
    for (const session::Session& s : project.sessions)
      if (s.lap == lap.name) {
        other.session = &s;
        other.conditions = conditions_of(*chosen.setup, s);
        break;
      }
    out.push_back(other);
  }
  return out;
}

ContentKey key_of(const project::Project& project, const std::vector<Resolved>& laps, double level,
                  const SizeOptions& o, Sources& sources) {
  KeyMaker maker;
  maker.add("size").add(level).add(o.pumps.margin).add(o.pumps.low_supply).add(o.pumps.hot).add(o.pumps.most);
  maker.add(o.surge_tank);
  for (const Resolved& r : laps) maker.add(key_of_case(project, r, sources, {.points = o.points}));
  return maker.key();
}

}  // namespace

SizeResultPtr size(const project::Project& project, const Case& wanted, const SizeOptions& options,
                   Sources& sources, Progress* progress) {
  const Resolved chosen = resolve(project, wanted);
  const std::vector<Resolved> laps = served(project, wanted, chosen);
  const LapCasePtr first = lap_case(project, chosen, sources, {.points = options.points}, progress);
  const tank::Tank& tank = *first->car->tank;
  double level = 0;
  if (options.level) {
    level = held_level(*options.level, tank);
  } else {
    // At the clean level itself the present surge tank is just enough, whatever it is: what is brought back
    // counts.
    LapOptions how = options.plan.lap;
    how.points = options.points;
    const LapResultPtr lap = lap_result(project, chosen, sources, how, progress);
    level = lap->clean.level;
    // Held steady, the level is never under the lap's clean one: the last lap only ends there.
    if (chosen.session)
      level = std::max(level, plan_session(lap, *chosen.session, options.plan.draws, progress,
                                           learnt_of(project, *lap, *chosen.session))
                                  .risk.bring_back);
    level = std::min(level, tank.volume());
  }
  const ContentKey key = key_of(project, laps, level, options, sources);
  if (auto kept = sources.sizes.find(key)) return kept;

  auto out = std::make_shared<SizeResult>();
  out->setup = chosen.setup->name;
  out->lap_name = chosen.lap->name;
  out->session = chosen.session ? chosen.session->name : "";
  out->level = level;
  double lift = 0;
  for (double d : first->course.demand) lift += d / static_cast<double>(first->course.demand.size());
  if (options.surge_tank && !first->car->lift_pumps.empty()) {
    std::vector<LapCasePtr> others;
    std::vector<const starvation::Course*> courses;
    for (const Resolved& r : laps) {
      others.push_back(lap_case(project, r, sources, {.points = options.points}, progress));
      courses.push_back(&others.back()->course);
    }
    out->surge = sizing::size_surge(*first->car, courses, level, {}, progress);
    if (std::isfinite(out->surge->lift_enough)) lift = std::max(lift, out->surge->lift_enough);
  }
  if (chosen.setup->circuit) {
    out->full = circuit_case(conditioned(*chosen.setup, chosen.conditions), sources.catalogue(project));
    const double demand = out->full.at.demand;
    // As fast as the engine turns where the lap asks for most.
    const std::vector<double>& rotation = first->lap->value.rotation;
    if (!rotation.empty())
      out->full.at.rotation = rotation[static_cast<size_t>(std::ranges::max_element(first->course.demand) -
                                                           first->course.demand.begin())];
    out->mains = sizing::main_pump_choices(out->full, demand, options.pumps, progress);
    out->lifts = sizing::lift_pump_choices(out->full, lift, options.pumps, progress);
    if (const sizing::PumpChoice* pair = sizing::pair_to_stage(out->mains)) {
      out->staging = sizing::propose_staging(out->full, *pair, demand, options.pumps);
      out->staged_type = pair->name();
    }
    out->state = circuit::run_met(out->full).state;
    out->lines = circuit::line_choices(out->full, *out->state, false);
  }
  sources.sizes.keep(key, out, 65536);
  return out;
}

}  // namespace uadze::solve
