#include "core/solve/lap_result.h"

#include <tbb/parallel_for.h>
#include <tbb/task_arena.h>

#include <algorithm>
#include <atomic>
#include <map>

#include "core/lap/manoeuvre.h"
#include "core/session/after.h"
#include "core/solve/circuit_point.h"
#include "core/solve/setup.h"

namespace uadze::solve {
namespace {

size_t bytes_of(const LapResult& r) {
  const auto of_run = [](const starvation::LevelRun& run) {
    return run.reserve.size() * sizeof(double) * (8 + 2 * run.coverage.wet.size());
  };
  size_t out = 65536 + of_run(r.clean.at) + of_run(r.clean.below);
  // The map too, which may be made later.
  for (const auto& rung : r.ladder->rungs)
    out += 512 + (rung.clean ? 2 : 1) * r.lap->value.size() * sizeof(float) * (4 + r.car->pickups.size()) +
           (rung.clean ? 0 : 20) * (sizeof(starvation::Event) + 256);
  return out;
}

/// Full load from rest, as hard as the lap's hardest push forward.
std::shared_ptr<const starvation::Launch> launch_of(const project::Setup& setup, const LapCase& made,
                                                    const project::Project& project, Sources& sources,
                                                    Progress* progress) {
  const lap::Lap& lap = made.lap->value;
  const double push = *std::max_element(lap.longitudinal.begin(), lap.longitudinal.end()) / standard_gravity;
  const double demand = *std::max_element(made.course.demand.begin(), made.course.demand.end());
  if (!(push > 0.05)) return nullptr;
  auto out = std::make_shared<starvation::Launch>();
  out->car = made.car;
  out->lap = lap::as_lap(lap::manoeuvre(lap::Manoeuvre::launch, {.strength = push}));
  out->lap.throttle.assign(out->lap.size(), 1.0);
  starvation::Course course{.lap = &out->lap, .corners = {}, .repeated = false};
  course.demand.assign(out->lap.size(), demand);
  if (setup.circuit) {
    circuit::Case c = circuit_case(setup, sources.catalogue(project));
    c.at.charge = made.course.delivery->charge;
    course.delivery = std::make_shared<const starvation::Delivery>(
        starvation::circuit_delivery(c, *out->car, out->lap, course.demand, 200, progress));
  }
  out->course = completed(std::move(course), *out->car);
  return out;
}

LapResultPtr with_band(const LapResultPtr& lap, Progress* progress) {
  auto out = std::make_shared<LapResult>(*lap);
  const starvation::LevelRun& below = lap->clean.below;
  std::optional<double> suspect;
  if (!below.clean()) suspect = lap->lap->value.time[below.tightest];
  out->band = starvation::model_band(*lap->car, lap->course, lap->clean.level, 0.1e-3, progress, suspect);
  out->clean_working.steps.push_back(starvation::band_working(*out->band));
  return out;
}

LapResultPtr fine_result(const project::Project& project, const Resolved& r, Sources& sources,
                         const LapOptions& options, Progress* progress) {
  const LapCasePtr made = lap_case(project, r, sources, {.points = options.points}, progress);
  auto out = std::make_shared<LapResult>();
  const project::Setup setup = conditioned(*r.setup, r.conditions);
  out->setup = setup.name;
  out->lap_name = r.lap->name;
  out->parts = setup.tank;
  out->fuel_temperature = setup.fuel.temperature;
  out->lap = made->lap;
  out->course = made->course;
  out->car = made->car;
  out->consumption = starvation::consumption_per_lap(out->course.demand, out->lap->value);
  out->usable_volume = setup.tank.usable_share * out->car->tank->volume();
  out->ladder = std::make_shared<const starvation::Ladder>(
      starvation::ladder(*out->car, out->course, options.ladder, progress));
  out->map = std::make_shared<Once<starvation::StarvationMap>>();
  out->clean = starvation::clean_level(*out->car, out->course, options.ladder, progress, out->ladder.get());
  out->end_resolution = 2 * options.ladder.resolution;
  out->fuel = fuel_of(setup);
  out->launch = launch_of(setup, *made, project, sources, progress);
  out->marched = std::make_shared<Kept<starvation::Marched>>(4u << 20);
  out->density = fluid::density_working(fuel_of(setup));
  out->clean_working = starvation::clean_level_working(*out->car, out->clean, options.ladder);
  out->reserve_working = starvation::reserve_working(*out->car, out->course, out->clean.at);
  out->consumption_working = {
      .name = "Consumption of a flying lap",
      .value = out->consumption,
      .quantity = Quantity::volume,
      .formula = "c = integral of the engine's demand over the lap (trapezoidal rule)",
      .inputs = {{"t", "lap time", out->lap->value.duration(), Quantity::duration, "lap"},
                 {"Q_mean", "mean demand", out->consumption / std::max(out->lap->value.duration(), 1e-9),
                  Quantity::flow,
                  setup.engine.demand == starvation::DemandFrom::logged_flow && out->lap->value.has_flow()
                      ? "logged flow"
                      : "throttle x power x consumption / density"}},
      .source = "volume balance"};
  return out;
}

ContentKey key_of_result(const project::Project& project, const Resolved& r, Sources& sources,
                         const LapOptions& options, Detail detail) {
  return KeyMaker()
      .add("lap result")
      .add(key_of_case(project, r, sources, {.points = options.points}))
      .add(options.ladder.levels)
      .add(options.ladder.resolution)
      .add(static_cast<int>(detail))
      .key();
}

}  // namespace

session::PlanInput plan_input(const starvation::FuelSystem& car, const lap::Lap& lap, double least_end,
                              double consumption, double usable_volume) {
  return {.least_end = least_end,
          .consumption_per_lap = consumption,
          .lap_time = lap.duration(),
          .density = car.fuel_density,
          .tank_volume = car.tank->volume(),
          .usable_volume = usable_volume};
}

LapResultPtr lap_result(const project::Project& project, const Resolved& r, Sources& sources,
                        const LapOptions& options, Progress* progress) {
  const auto key = [&](Detail detail) { return key_of_result(project, r, sources, options, detail); };
  if (auto kept = sources.lap_results.find(key(Detail::band))) return kept;
  LapResultPtr fine = sources.lap_results.find(key(Detail::fine));
  if (!fine) {
    fine = fine_result(project, r, sources, options, progress);
    sources.lap_results.keep(key(Detail::fine), fine, bytes_of(*fine));
  }
  if (options.detail == Detail::fine) return fine;
  LapResultPtr out = with_band(fine, progress);
  sources.lap_results.keep(key(Detail::band), out, bytes_of(*out));
  return out;
}

const starvation::StarvationMap& map_of(const LapResult& lap, Progress* progress) {
  return lap.map->get([&] {
    starvation::StarvationMap map;
    // While it waits for its rows it must not take up other work that asks for the same map.
    tbb::this_task_arena::isolate(
        [&] { map = starvation::starvation_map(*lap.car, lap.course, {}, progress, lap.ladder.get()); });
    return map;
  });
}

std::vector<LapOrFault> lap_results(const project::Project& project, const std::vector<Resolved>& wanted,
                                    Sources& sources, const LapOptions& options, Progress* progress) {
  std::vector<LapOrFault> out(wanted.size());
  std::map<ContentKey, std::vector<size_t>> same;
  for (size_t i = 0; i < wanted.size(); ++i) try {
      same[key_of_result(project, wanted[i], sources, options, options.detail)].push_back(i);
    } catch (const InputError& error) {
      out[i].fault = error;
    }
  std::vector<const std::vector<size_t>*> once;
  for (const auto& [key, places] : same) once.push_back(&places);
  // In the order in which they are asked for.
  std::sort(once.begin(), once.end(), [](const auto* a, const auto* b) { return a->front() < b->front(); });
  std::atomic<size_t> done{0};
  tbb::parallel_for(size_t{0}, once.size(), [&](size_t k) {
    LapOrFault made;
    Progress part(progress);
    try {
      part.check();
      made.lap = lap_result(project, wanted[once[k]->front()], sources, options, &part);
    } catch (const InputError& error) {
      made.fault = error;
    }
    for (size_t i : *once[k]) out[i] = made;
    if (progress) progress->report(static_cast<double>(++done) / static_cast<double>(once.size()));
  });
  return out;
}

FirstAnswer first_answer(const project::Project& project, const Resolved& r, Sources& sources,
                         const session::Draws& draws, Progress* progress) {
  UADZE_REQUIRE(r.session != nullptr, "a first answer is of a session");
  const LapCasePtr made = lap_case(project, r, sources, {.wait = false, .points = 150}, progress);
  const starvation::FuelSystem& car = *made->car;
  FirstAnswer out{.setup = r.setup->name, .session = r.session->name, .lap_name = r.lap->name};
  out.tank_volume = car.tank->volume();
  out.usable_volume = r.setup->tank.usable_share * out.tank_volume;
  out.density = car.fuel_density;
  out.surge = car.surge.has_value();
  out.by_circuit = made->course.delivery->by_circuit;
  const double consumption = starvation::consumption_per_lap(made->course.demand, made->lap->value);
  session::Session s = *r.session;
  if (const auto known =
          session::learnt(s, project.sessions, project.records, consumption, made->lap->value.duration()))
    s = session::with_learnt(s, *known);
  // The clean level stands for the least end, which is at most a lap's fuel lower: to the safe side.
  const auto at_risk = [&](double level) {
    return session::plan_at_risk(s, plan_input(car, made->lap->value, level, consumption, out.usable_volume),
                                 nullptr, draws);
  };
  const starvation::QuickLap quick(car, made->course);
  out.clean = starvation::first_answer(
      quick, [&](double level) { return at_risk(level).bring_back; }, progress);
  out.risk = at_risk(out.clean.level);
  return out;
}

}  // namespace uadze::solve
