#include "gui/stations/circuit/circuit_bench.h"

#include "core/starvation/delivery.h"

namespace uadze::gui {

CircuitBench::CircuitBench(Workspace& workspace, QObject* parent) : QObject(parent), workspace_(workspace) {
  connect(&workspace_, &Workspace::changed, this, [this] {
    adopt_setup();
    drop_session();
    later_.ask();
  });
  for (auto signal : {&Workspace::cursor_moved, &Workspace::level_changed})
    connect(&workspace_, signal, this, [this] {
      if (follow_) later_.ask();
    });
  adopt_setup();
  compute();
}

double CircuitBench::most_power() const {
  const auto* s = workspace_.setup();
  return s ? std::max(1.3 * s->engine.power, 1e3) : 1e3;
}

void CircuitBench::adopt_setup() {
  const auto* s = workspace_.setup();
  if (!s || !s->circuit) return;
  if (s->name != setup_name_) {
    setup_name_ = s->name;
    power_ = s->engine.power;
    manifold_ = s->circuit->full_manifold;
    manifold_follows_ = true;
    supply_ = s->circuit->supply;
    temperature_ = solve::fuel_of(*s).temperature;
  }
  if (compared_ >= static_cast<int>(workspace_.project().setups.size())) compared_ = -1;
}

bool CircuitBench::supply_by_hand() const {
  const auto* s = workspace_.setup();
  return s && s->circuit && supply_ != s->circuit->supply;
}

double CircuitBench::supply() const {
  return follow_ && !supply_by_hand() && now_.own && now_.own->at.at.supply ? *now_.own->at.at.supply
                                                                            : supply_;
}

void CircuitBench::reset() {
  setup_name_.clear();
  what_ifs_.clear();
  follow_ = false;
  drop_session();
  adopt_setup();
  compute();
}

void CircuitBench::set(double& member, double value) {
  if (member == value) return;
  member = value;
  if (&member == &power_ || &member == &manifold_)
    follow_ = false;
  else
    drop_session();
  later_.ask();
}

void CircuitBench::set_power(double value) {
  const auto* s = workspace_.setup();
  if (manifold_follows_ && s && s->circuit && s->engine.power > 0)
    manifold_ = circuit::manifold_at(*s->circuit, value / s->engine.power);
  set(power_, value);
}

void CircuitBench::set_manifold(double value) {
  if (manifold_ == value) return;
  manifold_follows_ = false;
  set(manifold_, value);
}

void CircuitBench::drop_session() {
  session_.reset();
  session_run_.cancel();
  emit session_changed();
}

void CircuitBench::set_follow(bool on) {
  if (follow_ == on) return;
  follow_ = on;
  later_.ask();
}

void CircuitBench::set_what_if(circuit::WhatIf what, bool on) {
  if (on)
    what_ifs_.insert(what);
  else
    what_ifs_.erase(what);
  drop_session();
  later_.ask();
}

void CircuitBench::set_compared(int setup) {
  compared_ = setup;
  later_.ask();
}

CircuitBench::Point CircuitBench::point_of(const Inputs& in, Point before, const Progress& progress) {
  Point out;
  const project::Setup& setup = in.project.setups[in.setup];
  out.trace_car = in.car, out.trace_lap = in.lap;
  if (in.lap && in.car) {
    if (before.trace_car == in.car && before.trace_lap == in.lap)
      out.trace = std::move(before.trace);
    else
      out.trace = starvation::load_trace(in.lap->value, starvation::engine_demand(*in.car, in.lap->value));
  }
  const auto options_of = [&](const project::Setup& of) {
    solve::PointOptions o{.power = in.power,
                          .manifold = in.manifold_follows ? std::nullopt : std::optional(in.manifold),
                          .supply = in.supply,
                          .temperature = in.temperature,
                          .level = in.level,
                          .what_ifs = in.what_ifs};
    if (!in.follow || out.trace.time.empty()) return o;
    const size_t i = std::min(in.cursor, out.trace.time.size() - 1);
    o.power.reset();
    o.demand = out.trace.demand[i];
    o.throttle = out.trace.throttle[i];
    if (!out.trace.rotation.empty()) o.rotation = out.trace.rotation[i];
    o.own_voltage = !in.supply && has_own_voltage(*of.circuit, !out.trace.rotation.empty());
    o.manifold = circuit::manifold_at(*of.circuit, *o.throttle);
    // At the cursor the pickups are as the moving fuel has them.
    if (!in.wet.empty()) o.wet = in.wet;
    // The effective gravity is gravity less the vehicle's acceleration.
    o.acceleration = Vec3(0, 0, -standard_gravity) - out.trace.force[i];
    return o;
  };
  if (!setup.circuit) return out;
  solve::PointOptions own = options_of(setup);
  out.own = solve::circuit_point_case(in.project, {.setup = setup.name}, own, *in.sources);
  out.without_cursor = out.own->at;
  if (in.follow && !out.own->bare.empty()) {
    own.wet = std::vector<double>(setup.tank.pickups.size(), 1.0);
    out.without_cursor = solve::circuit_point_case(in.project, {.setup = setup.name}, own, *in.sources).at;
  }
  if (in.follow) {
    // The line still has fuel in it: for how long, the map says.
    out.own->gas_to_engine = false;
    QStringList names;
    for (const std::string& name : std::exchange(out.own->bare, {})) names << QString::fromStdString(name);
    if (!names.isEmpty())
      out.bare =
          names.size() == 1
              ? QString("At the cursor the pickup %1 is bare: it draws gas.").arg(names[0])
              : QString("At the cursor the pickups %1 are bare: they draw gas.").arg(names.join(" and "));
    if (!names.isEmpty() && !setup.surge)
      out.bare += " What follows holds only while the line still has fuel in it.";
  }
  solve::solve_point(*out.own);
  progress.check();
  out.capacity = circuit::capacity(out.own->at);
  progress.check();
  out.workings = circuit::workings(out.own->at, out.own->state);
  if (in.other >= 0 && in.other != static_cast<int>(in.setup)) {
    const project::Setup& other = in.project.setups[static_cast<size_t>(in.other)];
    if (other.circuit)
      out.other = solve::circuit_point(in.project, {.setup = other.name}, options_of(other), *in.sources);
  }
  return out;
}

void CircuitBench::compute() {
  const auto* setup = workspace_.setup();
  if (!setup || !setup->circuit) {
    point_run_.cancel();
    now_ = {};
    emit changed();
    return;
  }
  Inputs in{.project = workspace_.project(),
            .sources = workspace_.document.sources(),
            .setup = static_cast<size_t>(workspace_.selection.setup_index()),
            .other = compared_,
            .follow = follow_,
            .power = power_,
            .manifold = manifold_,
            .manifold_follows = manifold_follows_,
            .supply = supply_by_hand() ? std::optional(supply_) : std::nullopt,
            .temperature = temperature_,
            .level = workspace_.runs.level(),
            .what_ifs = {what_ifs_.begin(), what_ifs_.end()},
            .cursor = workspace_.selection.cursor(),
            .wet = {},
            .car = workspace_.runs.car(),
            .lap = workspace_.runs.lap()};
  if (const auto fuel = follow_ ? workspace_.runs.fuel_at_cursor() : std::nullopt) in.wet = fuel->wet;
  Point before;
  before.trace_car = now_.trace_car, before.trace_lap = now_.trace_lap, before.trace = now_.trace;
  point_run_.start(
      this,
      [in = std::move(in), before = std::move(before)](Progress& progress) {
        return point_of(in, before, progress);
      },
      [this](Point point) {
        now_ = std::move(point);
        emit changed();
      },
      [this](const QString&) {
        // The document refuses faulty circuits; a lap that can not be used is told of by the evaluator.
        now_ = {};
        emit changed();
      });
}

void CircuitBench::want_session() {
  if (session_ || session_run_.running() || !now_.own || now_.trace.time.empty()) return;
  const auto* setup = workspace_.setup();
  const auto* session = workspace_.selection.session();
  circuit::Case c = now_.without_cursor;
  // Along the lap the voltage is the car's own, unless it was set by hand or by a what-if.
  if (!supply_by_hand() && !what_ifs_.contains(circuit::WhatIf::low_voltage)) c.at.supply.reset();
  CircuitSession out;
  out.trace = now_.trace;
  const double lap_time = out.trace.time.back() - out.trace.time.front();
  out.duration = session ? session::driving_time(*session, lap_time) : 10 * lap_time;
  const double usable = setup->tank.usable_share * c.surroundings.tank_volume;
  session_run_.start(
      this,
      [c, out, usable](Progress& progress) mutable {
        out.lap = run_along(c, out.trace, 600, &progress);
        const circuit::Case always = always_on(c);
        const circuit::LoadRun all = run_along(always, out.trace, 200, &progress);
        out.always_electric = all.mean_electric;
        out.charge = run_charge(c, out.trace, out.lap, out.duration, &progress);
        const circuit::HeatOptions how{.duration = out.duration, .start_volume = usable};
        out.heat = run_heat(c, out.lap, how);
        out.heat_always = run_heat(always, all, how);
        return out;
      },
      [this](CircuitSession s) {
        session_ = std::move(s);
        emit session_changed();
      },
      [this](const QString& why) { emit workspace_.runs.failed("The session's circuit: " + why); });
}

}  // namespace uadze::gui
