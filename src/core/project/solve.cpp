#include "core/project/solve.h"

#include <fmt/format.h>

#include <cmath>
#include <numbers>

#include "core/project/catalogue_file.h"
#include "core/project/circuit_case.h"

namespace uadze::project {

namespace {

/// What of the entered line and filter is filter: all that the circuit's lines do not hold, and a quarter at
/// least; without a circuit's lines half.
double filter_hold(const Setup& setup) {
  double lines = 0;
  if (setup.circuit) {
    const auto shipped = shipped_catalogue();
    const auto add = [&](const circuit::Leg& leg) {
      for (size_t i = 0; i < leg.size(); ++i)
        if (leg[i].kind == circuit::PartKind::line)
          lines += std::numbers::pi / 4 * std::pow(circuit::bore_of(leg, i, *shipped), 2) * leg[i].length;
    };
    if (!setup.circuit->mains.empty()) add(setup.circuit->mains.front().parts);
    add(setup.circuit->feed);
  }
  if (lines <= 0) return setup.line_hold / 2;
  return std::max(setup.line_hold - lines, setup.line_hold / 4);
}

}  // namespace

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
          .filter_hold = filter_hold(setup),
          .engine = engine,
          .limits = setup.limits,
          .fuel_density = density};
}

namespace {

/// A minute at full load, standing level.
LapStore::Entry bench_lap() {
  lap::Lap lap;
  for (int i = 0; i <= 240; ++i) {
    lap.time.push_back(i * 0.25);
    lap.distance.push_back(i * 0.25);
    lap.lateral.push_back(0.0);
    lap.longitudinal.push_back(0.0);
    lap.vertical.push_back(standard_gravity);
    lap.speed.push_back(0.0);
    lap.throttle.push_back(1.0);
  }
  return std::make_shared<const Read<lap::Lap>>(Read<lap::Lap>{std::move(lap), {}});
}

}  // namespace

LapStore::Entry LapStore::get(const LapReference& reference, double grip) {
  const bool bench = reference == bench_reference();
  const std::filesystem::path path = folder_ / reference.file;
  const std::lock_guard lock(mutex_);
  std::error_code ignored;
  const auto written = std::filesystem::last_write_time(path, ignored);
  const auto kept = [&](double at) -> Kept& {
    return kept_[{reference.file, static_cast<int>(reference.vertical_zero), at}];
  };
  Kept& whole = kept(1.0);
  if (!whole.entry || (!bench && (whole.written != written || ignored))) {
    whole.entry = nullptr;
    whole.entry = bench
                      ? bench_lap()
                      : std::make_shared<const Read<lap::Lap>>(lap::read_lap(path, reference.vertical_zero));
    whole.written = written;
  }
  if (grip == 1.0) return whole.entry;
  Kept& scaled = kept(grip);
  if (!scaled.entry || scaled.of != whole.entry) {
    scaled.of = whole.entry;
    scaled.entry = std::make_shared<const Read<lap::Lap>>(
        Read<lap::Lap>{starvation::with_grip(whole.entry->value, grip), whole.entry->notes});
  }
  return scaled.entry;
}

starvation::Course make_course(const starvation::FuelSystem& car, const LapReference& reference,
                               const lap::Lap& lap) {
  starvation::Course course;
  course.lap = &lap;
  course.corners = reference.corners;
  course.repeated = reference.repeated;
  course.demand = starvation::engine_demand(car, lap);
  return completed(std::move(course), car);
}

Conditions conditions_of(const session::Session& session) { return {session.grip, session.temperature}; }

const LapReference& bench_reference() {
  static const LapReference bench{
      .name = "test bench", .file = "", .repeated = false, .corners = {{"full load", 0, 1000}}};
  return bench;
}

const LapReference* reference_of(const Project& project, const session::Session& session) {
  if (session.lap.empty() && session.kind == session::Kind::test_bench) return &bench_reference();
  return project.find_lap(session.lap);
}

namespace {

/// What the circuit's jet or balance line moves, from the largest other space to the first pickup's, at the
/// lap's mean demand.
void join_sides(starvation::FuelSystem& car, circuit::Case c, const std::vector<double>& demand) {
  const tank::Tank& tank = *car.tank;
  if (c.circuit.transfer.kind == circuit::TransferKind::none || tank.spaces.size() < 2 ||
      tank.pickup_space.empty() || tank.pickup_space.front() < 0)
    return;
  c.at.demand = 0;
  for (double d : demand) c.at.demand += d / static_cast<double>(demand.size());
  car.transfer_flow = std::max(circuit::run(c).transfer, 0.0);
  car.transfer_to = tank.pickup_space.front();
  for (int i = 0; i < static_cast<int>(tank.spaces.size()); ++i)
    if (i != car.transfer_to &&
        (car.transfer_from < 0 || tank.spaces[static_cast<size_t>(i)].volume() >
                                      tank.spaces[static_cast<size_t>(car.transfer_from)].volume()))
      car.transfer_from = i;
}

}  // namespace

LapCase lap_case(const Project& project, const Setup& given, const LapReference& reference, LapStore& laps,
                 TankStore& tanks, const CaseOptions& options, Progress* progress) {
  LapCase out;
  out.lap = options.given ? options.given : laps.get(reference, options.conditions.grip);
  Setup setup = given;
  if (options.conditions.temperature) setup.fuel.temperature = *options.conditions.temperature;
  starvation::FuelSystem car = compile(setup, tanks, options.wait);
  try {
    const lap::Lap& lap = out.lap->value;
    out.course.lap = &lap;
    out.course.corners = reference.corners;
    out.course.repeated = reference.repeated;
    out.course.demand = starvation::engine_demand(car, lap);
    if (setup.circuit && project.catalogue) {
      const circuit::Case c = circuit_case(project, setup);
      out.course.feed = std::make_shared<const starvation::Feed>(
          starvation::circuit_feed(c, car, lap, out.course.demand, options.points));
      if (progress) progress->check();
      car = starvation::with_feed(std::move(car), *out.course.feed);
      join_sides(car, c, out.course.demand);
    }
    out.course = completed(std::move(out.course), car);
  } catch (const InputError& error) {
    Messages messages = error.messages();
    for (Message& m : messages) m.file = setup.name + ", " + reference.name;
    throw InputError(std::move(messages));
  }
  out.car = std::make_shared<const starvation::FuelSystem>(std::move(car));
  return out;
}

LapResultPtr solve_lap(const Project& project, const Setup& setup, const LapReference& reference,
                       LapStore& laps, TankStore& tanks, const SolveSettings& settings, Progress* progress) {
  auto out = std::make_shared<LapResult>();
  const bool coarse = settings.detail == Detail::coarse;
  out->setup = setup.name;
  out->lap_name = reference.name;
  out->detail = settings.detail;
  out->parts = setup.tank;
  out->fuel_temperature = settings.conditions.temperature.value_or(setup.fuel.temperature);
  LapCase made = lap_case(
      project, setup, reference, laps, tanks,
      {.conditions = settings.conditions, .wait = !coarse, .points = coarse ? 150u : settings.points},
      progress);
  out->lap = made.lap;
  out->course = std::move(made.course);
  out->car = made.car;
  const starvation::MapOptions options = settings.ladder.value_or(starvation::MapOptions{});
  out->consumption = starvation::consumption_per_lap(out->course.demand, out->lap->value);
  out->usable_volume = setup.tank.usable_share * out->car->tank->volume();
  if (coarse) {
    out->clean = starvation::coarse_clean_level(*out->car, out->course, progress);
  } else {
    out->map = starvation::starvation_map(*out->car, out->course, options, progress);
    out->clean = starvation::clean_level(*out->car, out->course, options, progress, &out->map);
  }
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
  if (settings.detail == Detail::band) return with_band(out, progress);
  return out;
}

LapResultPtr with_band(const LapResultPtr& lap, Progress* progress) {
  auto out = std::make_shared<LapResult>(*lap);
  out->band = starvation::model_band(*lap->car, lap->course, lap->clean.level, 0.1e-3, progress);
  out->detail = Detail::band;
  out->clean_working.steps.push_back(starvation::band_working(*out->band));
  return out;
}

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
  double lap_time = lap->lap->value.duration(), consumption = lap->consumption;
  const session::PlanInput in{.clean_level = lap->clean.level,
                              .consumption_per_lap = consumption,
                              .lap_time = lap_time,
                              .density = lap->car->fuel_density,
                              .tank_volume = lap->car->tank->volume(),
                              .usable_volume = lap->usable_volume};
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

starvation::LevelRun run_at_back(const SessionResult& session) {
  const LapResult& lap = *session.lap;
  return run_level(*lap.car, lap.course, std::min(session.risk.bring_back, lap.car->tank->volume()));
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
