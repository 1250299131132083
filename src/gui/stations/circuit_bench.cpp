#include "gui/stations/circuit_bench.h"

#include "core/project/circuit_case.h"

namespace uadze::gui {

CircuitBench::CircuitBench(Workspace& workspace, QObject* parent) : QObject(parent), workspace_(workspace) {
  // Several signals of one edit are answered once.
  later_.setSingleShot(true);
  later_.setInterval(0);
  connect(&later_, &QTimer::timeout, this, &CircuitBench::compute);
  connect(&workspace_, &Workspace::changed, this, [this] {
    adopt_setup();
    drop_session();
    later_.start();
  });
  for (auto signal : {&Workspace::cursor_moved, &Workspace::level_changed})
    connect(&workspace_, signal, this, [this] {
      if (follow_) later_.start();
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
    supply_ = s->circuit->supply;
    temperature_ = project::fuel_of(*s).temperature;
  }
  if (compared_ >= static_cast<int>(workspace_.project().setups.size())) compared_ = -1;
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
  later_.start();
}

void CircuitBench::drop_session() {
  session_.reset();
  session_case_.reset();
  session_run_.cancel();
  emit session_changed();
}

void CircuitBench::set_follow(bool on) {
  if (follow_ == on) return;
  follow_ = on;
  later_.start();
}

void CircuitBench::set_what_if(circuit::WhatIf what, bool on) {
  if (on)
    what_ifs_.insert(what);
  else
    what_ifs_.erase(what);
  drop_session();
  later_.start();
}

void CircuitBench::set_compared(int setup) {
  compared_ = setup;
  later_.start();
}

std::optional<circuit::Case> CircuitBench::make_case(const project::Setup& setup) {
  if (!setup.circuit || !workspace_.project().catalogue) return std::nullopt;
  circuit::Case c = project::circuit_case(workspace_.project(), setup);
  c.at.supply = supply_;
  c.at.temperature = temperature_;
  c.at.demand = project::demand_at(setup, power_);
  c.at.manifold = manifold_;
  const auto entry = workspace_.lap();
  if (follow_ && entry && !course_.time.empty()) {
    const size_t i = std::min(workspace_.cursor(), course_.time.size() - 1);
    c.at.demand = course_.demand[i];
    c.at.throttle = course_.throttle[i];
    if (!course_.rotation.empty()) c.at.rotation = course_.rotation[i];
    c.at.manifold = circuit::manifold_at(c.circuit, c.at.throttle);
    c.at.force = course_.force[i];
  }
  project::place_level(c, setup, *workspace_.document.tanks(), workspace_.level());
  for (circuit::WhatIf w : what_ifs_) apply(w, c);
  return c;
}

void CircuitBench::compute() {
  point_.reset(), state_.reset(), other_point_.reset(), other_state_.reset();
  bare_.clear();
  const auto* setup = workspace_.setup();
  if (setup && setup->circuit) try {
      const auto entry = workspace_.lap();
      const auto car = workspace_.car();
      if (entry && car && (car != course_car_ || entry != course_lap_)) {
        course_ = project::circuit_course(*car, entry->value);
        course_car_ = car;
        course_lap_ = entry;
      }
      if (!entry) course_ = {};
      point_ = make_case(*setup);
      session_case_ = point_;
      if (point_ && follow_) {
        // A bare pickup brings its pump gas: it lifts nothing.
        if (const auto fuel = workspace_.fuel_at_cursor()) {
          QStringList names;
          for (size_t p = 0; p < fuel->wet.size() && p < setup->tank.pickups.size(); ++p)
            if (fuel->wet[p] < 0.1) {
              const auto& pickup = setup->tank.pickups[p];
              names << QString::fromStdString(pickup.name);
              auto& dead = point_->at.lifts_dead;
              dead.resize(point_->circuit.lifts.size(), 0);
              for (size_t k = 0; k < dead.size(); ++k)
                if (point_->circuit.lifts[k].pump == pickup.feeds) dead[k] = 1;
            }
          if (!names.isEmpty())
            bare_ = names.size() == 1
                        ? QString("At the cursor the pickup %1 is bare: it draws gas.").arg(names[0])
                        : QString("At the cursor the pickups %1 are bare: they draw gas.")
                              .arg(names.join(" and "));
          if (!names.isEmpty() && !setup->surge)
            bare_ += " What follows holds only while the line still has fuel in it.";
        }
      }
      if (point_) state_ = run(*point_);
      if (compared_ >= 0 && compared_ != workspace_.setup_index()) {
        other_point_ = make_case(workspace_.project().setups[static_cast<size_t>(compared_)]);
        if (other_point_) other_state_ = run(*other_point_);
      }
    } catch (const InputError&) {
      // The document refuses faulty circuits; a lap that can not be used is told of by the evaluator.
    }
  emit changed();
}

void CircuitBench::want_session() {
  if (session_ || session_run_.running() || !session_case_ || course_.time.empty()) return;
  const auto* setup = workspace_.setup();
  const auto* session = workspace_.session();
  const circuit::Case c = *session_case_;
  CircuitSession out;
  out.course = course_;
  const double lap_time = course_.time.back() - course_.time.front();
  out.duration = session && session->duration ? *session->duration
                                              : lap_time * (session && session->laps ? *session->laps : 10);
  const double usable = setup->tank.usable_share * c.surroundings.tank_volume;
  session_run_.start(
      this,
      [c, out, usable](Progress& progress) mutable {
        out.lap = run_course(c, out.course, 600, &progress);
        const circuit::Case always = always_on(c);
        const circuit::CourseRun all = run_course(always, out.course, 200, &progress);
        out.always_electric = all.mean_electric;
        out.charge = run_charge(c, out.course, out.lap, out.duration);
        const circuit::HeatOptions how{.duration = out.duration, .start_volume = usable};
        out.heat = run_heat(c, out.lap, how);
        out.heat_always = run_heat(always, all, how);
        return out;
      },
      [this](CircuitSession s) {
        session_ = std::move(s);
        emit session_changed();
      });
}

}  // namespace uadze::gui
