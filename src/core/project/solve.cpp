#include "core/project/solve.h"

#include <fmt/format.h>

namespace uadze::project {

starvation::FuelSystem compile(const Setup& setup, TankStore& tanks, bool wait) {
  const auto assembly = tanks.assembled(setup.tank);
  const std::shared_ptr<const tank::Tank> tank(assembly, &assembly->tank);
  int back = 0;
  if (!tank->return_space.empty()) {
    back = tank->return_space.front();
  } else {
    for (size_t i = 0; i < tank->spaces.size(); ++i)
      if (tank->spaces[i].volume() > tank->spaces[static_cast<size_t>(back)].volume())
        back = static_cast<int>(i);
  }
  const fluid::Blend fuel = fuel_of(setup);
  const double density = fluid::density(fuel), factor = demand_factor(setup);
  starvation::Engine engine = setup.engine;
  engine.flow_scale *= factor;
  engine.idle_flow *= factor;
  engine.consumption *= factor * density / fluid::density(setup.fuel);
  return {.tank = tank,
          .inertia = tanks.inertia(*tank, wait),
          .pickups = setup.tank.pickups,
          .return_space = std::max(back, 0),
          .lift_pumps = setup.lift_pumps,
          .surge = setup.surge,
          .main_pump_flow = setup.main_pump_flow,
          .line_hold = setup.line_hold,
          .engine = engine,
          .fuel_density = density};
}

LapStore::Entry LapStore::get(const LapReference& reference) {
  const std::filesystem::path path = folder_ / reference.file;
  const std::lock_guard lock(mutex_);
  std::error_code ignored;
  const auto written = std::filesystem::last_write_time(path, ignored);
  Kept& kept = kept_[{reference.file, static_cast<int>(reference.vertical_zero)}];
  if (!kept.entry || kept.written != written || ignored) {
    kept.entry = nullptr;
    kept.entry = std::make_shared<const Read<lap::Lap>>(lap::read_lap(path, reference.vertical_zero));
    kept.written = written;
  }
  return kept.entry;
}

starvation::Course make_course(const starvation::FuelSystem& car, const LapReference& reference,
                               const lap::Lap& lap) {
  return {&lap, reference.corners, reference.repeated, starvation::engine_demand(car, lap)};
}

LapResultPtr solve_lap(const Setup& setup, const LapReference& reference, LapStore& laps, TankStore& tanks,
                       const starvation::MapOptions& options, Progress* progress) {
  auto out = std::make_shared<LapResult>();
  out->setup = setup.name;
  out->lap_name = reference.name;
  out->lap = laps.get(reference);
  out->car = std::make_shared<const starvation::FuelSystem>(compile(setup, tanks));
  try {
    out->course = make_course(*out->car, reference, out->lap->value);
  } catch (const InputError& error) {
    Messages messages = error.messages();
    for (Message& m : messages) m.file = setup.name + ", " + reference.name;
    throw InputError(std::move(messages));
  }
  out->consumption = starvation::consumption_per_lap(out->course.demand, out->lap->value);
  out->usable_volume = setup.tank.usable_share * out->car->tank->volume();
  out->map = starvation::starvation_map(*out->car, out->course, options, progress);
  out->clean = starvation::clean_level(*out->car, out->course, options, progress, &out->map);
  out->density = fluid::density_working(fuel_of(setup));
  out->clean_working = starvation::clean_level_working(*out->car, out->clean, options);
  out->reserve_working = starvation::reserve_working(*out->car, out->course, out->clean.at);
  out->consumption_working = {
      .name = "Consumption of a flying lap",
      .value = out->consumption,
      .quantity = Quantity::volume,
      .formula = "c = integral of the engine's demand over the lap (trapezoidal rule)",
      .inputs = {{"t", "lap time", out->lap->value.duration(), Quantity::duration, "lap"},
                 {"Q_mean", "mean demand", out->consumption / std::max(out->lap->value.duration(), 1e-9),
                  Quantity::flow,
                  setup.engine.demand == starvation::DemandFrom::logged_flow &&
                          !out->lap->value.fuel_flow.empty()
                      ? "logged flow"
                      : "throttle x power x consumption / density"}},
      .source = "volume balance"};
  return out;
}

SessionResult plan_session(const LapResultPtr& lap, const session::Session& session) {
  SessionResult out{lap->setup, session.name, lap, {}, {}};
  out.plan = session::make_plan(session, {.clean_level = lap->clean.level,
                                          .consumption_per_lap = lap->consumption,
                                          .lap_time = lap->lap->value.duration(),
                                          .density = lap->car->fuel_density,
                                          .tank_volume = lap->car->tank->volume(),
                                          .usable_volume = lap->usable_volume});
  out.working = out.plan.start_working;
  out.working.steps.push_back(lap->clean_working);
  if (!session.consumption_per_lap) out.working.steps.push_back(lap->consumption_working);
  for (Derivation* mass : {&out.plan.mass_working, &out.plan.bring_back_mass_working})
    mass->steps.push_back(lap->density);
  return out;
}

Messages check_project(const Opened& opened) {
  Messages out = opened.notes;
  LapStore store(opened.file.path.parent_path());
  for (size_t i = 0; i < opened.project.laps.size(); ++i) {
    const LapReference& reference = opened.project.laps[i];
    try {
      const auto entry = store.get(reference);
      out.insert(out.end(), entry->notes.begin(), entry->notes.end());
      const Messages hands =
          lap::check_hands(entry->value, reference.corners, (store.folder() / reference.file).string());
      out.insert(out.end(), hands.begin(), hands.end());
      const double length = entry->value.distance.back();
      for (size_t c = 0; c < reference.corners.size(); ++c)
        if (reference.corners[c].to > length + 1)
          out.push_back({Severity::warning, opened.file.path.string(),
                         fmt::format("/laps/{}/corners/{}/to_m", i, c),
                         fmt::format("a distance within the lap's {:.0f} m", length),
                         fmt::format("{:.6g}", reference.corners[c].to)});
    } catch (const InputError& error) {
      Message where{Severity::error, opened.file.path.string(), fmt::format("/laps/{}/file", i),
                    "a lap file that can be read", "\"" + reference.file + "\""};
      out.push_back(where);
      out.insert(out.end(), error.messages().begin(), error.messages().end());
    }
  }
  return out;
}

}  // namespace uadze::project
