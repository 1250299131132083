#include "core/solve/case.h"
#include "core/starvation/never_drawn.h"

#include <fmt/format.h>

#include "core/circuit/charging.h"
#include "core/project/keys.h"
#include "core/session/plan.h"
#include "core/solve/circuit_point.h"
#include "core/tank/foam.h"

namespace uadze::solve {
namespace {

template <class List>
auto& named(const List& list, const std::string& name, const char* what) {
  std::string names;
  for (const auto& item : list) {
    if (item.name == name) return item;
    names += (names.empty() ? "\"" : ", \"") + item.name + "\"";
  }
  throw UnknownName(fmt::format("no {} \"{}\"; there is {}", what, name, names.empty() ? "none" : names));
}

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
  // Foam beside the pickup is no other side.
  const std::vector<int> body = tank::bodies_of(tank);
  for (int i = 0; i < static_cast<int>(tank.spaces.size()); ++i)
    if (body[static_cast<size_t>(i)] != body[static_cast<size_t>(car.transfer_to)] &&
        (car.transfer_from < 0 || tank.spaces[static_cast<size_t>(i)].volume() >
                                      tank.spaces[static_cast<size_t>(car.transfer_from)].volume()))
      car.transfer_from = i;
}

/// s driven in the session, where the battery's charge at its last lap hangs on it; else 0, so that sessions
/// on the same lap share their answers.
double time_that_counts(const project::Project& project, const Resolved& r, const KeptLap& lap,
                        Sources& sources) {
  if (!r.session || !r.setup->circuit || !circuit::has_battery(*r.setup->circuit)) return 0.0;
  KeyMaker maker;
  maker.add("discharging").add(project::key_of(*r.setup)).add(lap.key);
  maker.add(sources.catalogues.get(project.catalogue_files)->key);
  maker.add(r.conditions.temperature.value_or(0.0));
  const ContentKey key = maker.key();
  auto counts = sources.discharging.find(key);
  if (!counts) {
    const circuit::Case full = circuit_case(conditioned(*r.setup, r.conditions), sources.catalogue(project));
    counts = std::make_shared<const bool>(circuit::may_discharge(full, lap.value.time, lap.value.rotation));
    sources.discharging.keep(key, counts, sizeof(bool));
  }
  return *counts ? session::driving_time(*r.session, lap.value.duration()) : 0.0;
}

size_t bytes_of(const LapCase& c) {
  return 4096 + c.course.demand.size() * sizeof(double) * (8 + c.course.delivery->lift.size());
}

}  // namespace

const project::LapReference* reference_of(const project::Project& project, const session::Session& session) {
  if (session.lap.empty() && session.kind == session::Kind::test_bench) return &bench_reference();
  return project.find_lap(session.lap);
}

Resolved resolve(const project::Project& project, const Case& wanted) {
  Resolved out;
  const auto missing = [](std::string place, std::string expected, std::string found) {
    throw InputError(Message{
        .file = {}, .place = std::move(place), .expected = std::move(expected), .found = std::move(found)});
  };
  if (!wanted.setup.empty())
    out.setup = &named(project.setups, wanted.setup, "setup");
  else if (!project.setups.empty())
    out.setup = &project.setups.front();
  else
    missing("/setups", "a setup", "none");
  if (!wanted.lap.empty()) out.lap = &named(project.laps, wanted.lap, "lap");
  if (!wanted.session.empty()) {
    out.session = &named(project.sessions, wanted.session, "session");
  } else if (!wanted.alone) {
    for (const session::Session& s : project.sessions)
      if (!out.session && (wanted.lap.empty() || s.lap == wanted.lap)) out.session = &s;
  }
  if (!out.lap && out.session) {
    out.lap = reference_of(project, *out.session);
    if (!out.lap)
      missing(fmt::format("/sessions/{}/lap", out.session - project.sessions.data()),
              "the name of one of the laps (only a test bench session does without)",
              out.session->lap.empty() ? "none" : "\"" + out.session->lap + "\"");
  }
  if (!out.lap && !project.laps.empty()) out.lap = &project.laps.front();
  if (!out.lap) missing("/laps", "a lap", "none");
  if (out.session) out.conditions = conditions_of(*out.setup, *out.session);
  if (wanted.grip) out.conditions.grip = *wanted.grip;
  return out;
}

ContentKey key_of_case(const project::Project& project, const Resolved& r, Sources& sources,
                       const CaseOptions& options) {
  const LapPtr lap = options.given ? options.given : sources.laps.get(*r.lap, r.conditions.grip);
  KeyMaker maker;
  maker.add("case").add(project::key_of(*r.setup)).add(sources.tanks.key_of(r.setup->tank));
  maker.add(project::key_of(*r.lap)).add(lap->key);
  maker.add(time_that_counts(project, r, *lap, sources));
  if (r.setup->circuit) maker.add(sources.catalogues.get(project.catalogue_files)->key);
  maker.add(r.conditions.grip).add(r.conditions.temperature.has_value());
  maker.add(r.conditions.temperature.value_or(0.0));
  maker.add(options.wait).add(static_cast<std::int64_t>(options.points));
  return maker.key();
}

LapCasePtr lap_case(const project::Project& project, const Resolved& r, Sources& sources,
                    const CaseOptions& options, Progress* progress) {
  const ContentKey key = key_of_case(project, r, sources, options);
  // What did not wait for the inertia depends on what was known then, and is not kept.
  if (options.wait)
    if (auto kept = sources.cases.find(key)) return kept;
  auto out = std::make_shared<LapCase>();
  out->lap = options.given ? options.given : sources.laps.get(*r.lap, r.conditions.grip);
  const project::Setup setup = conditioned(*r.setup, r.conditions);
  const auto catalogue = setup.circuit ? sources.catalogue(project) : nullptr;
  starvation::FuelSystem car = compile(setup, sources, catalogue.get(), options.wait);
  try {
    const lap::Lap& lap = out->lap->value;
    out->course.lap = &lap;
    out->course.corners = sources.laps.corners(*r.lap);
    out->course.repeated = r.lap->repeated;
    out->course.demand = starvation::engine_demand(car, lap);
    if (setup.circuit) {
      const circuit::Case c = circuit_case(setup, catalogue);
      out->course.delivery = std::make_shared<const starvation::Delivery>(
          starvation::circuit_delivery(c, car, lap, out->course.demand, options.points, progress,
                                       time_that_counts(project, r, *out->lap, sources)));
      if (progress) progress->check();
      car = starvation::with_delivery(std::move(car), *out->course.delivery);
      join_sides(car, c, out->course.demand);
    }
    car.never_drawn = starvation::never_drawn(car);
    out->course = completed(std::move(out->course), car);
  } catch (const InputError& error) {
    Messages messages = error.messages();
    for (Message& m : messages) m.file = setup.name + ", " + r.lap->name;
    throw InputError(std::move(messages));
  }
  out->car = std::make_shared<const starvation::FuelSystem>(std::move(car));
  if (options.wait) sources.cases.keep(key, out, bytes_of(*out));
  return out;
}

}  // namespace uadze::solve
