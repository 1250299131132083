#include "core/starvation/march.h"

#include <algorithm>
#include <cmath>
#include <utility>

namespace uadze::starvation {
namespace {

constexpr double entering = 15.0;       // s
constexpr double entering_step = 0.08;  // s at most: some seconds later little is left of how it came
constexpr double between_marks = 0.5;   // s

/// The chain's step with all that lies straight between two samples at the share u.
ChainStep step_at(const Course& course, size_t i, double u, double dt) {
  const Delivery& delivery = *course.delivery;
  const auto at = [&](const std::vector<double>& v) { return v[i] + (v[i + 1] - v[i]) * u; };
  ChainStep s{.time = dt, .main = at(delivery.main), .demand = at(course.demand), .fed = at(delivery.fed)};
  if (!course.reach.empty()) {
    const SurgeReach &a = course.reach[i], &b = course.reach[i + 1];
    s.reach = {a.bare + (b.bare - a.bare) * u, a.covered + (b.covered - a.covered) * u};
  }
  return s;
}

/// The samples of a lap after one of them, and what happens from it on, as they were on another.
void go_on_as(LapTrace& trace, const LapTrace& other, size_t from) {
  const auto take = [](std::vector<double>& to, const std::vector<double>& source, size_t first) {
    std::copy(source.begin() + static_cast<std::ptrdiff_t>(first), source.end(),
              to.begin() + static_cast<std::ptrdiff_t>(first));
  };
  for (size_t p = 0; p < trace.wet.size(); ++p) take(trace.wet[p], other.wet[p], from + 1);
  for (auto samples : {&LapTrace::supply, &LapTrace::draw, &LapTrace::reserve, &LapTrace::rail,
                       &LapTrace::gas, &LapTrace::level})
    take(trace.*samples, other.*samples, from + 1);
  for (auto amounts : {&LapTrace::fuel, &LapTrace::vapour}) take(trace.*amounts, other.*amounts, from);
  if (trace.motion && other.motion)
    trace.motion->insert(trace.motion->end(), other.motion->begin() + static_cast<std::ptrdiff_t>(from) + 1,
                         other.motion->end());
}

int parts_of(double step, double longest) {
  return std::max(1, static_cast<int>(std::ceil(step / longest - 1e-6)));
}

/// Pa across the injectors that the mixture asks for.
double wished(const FuelSystem& car, const Delivery& delivery, size_t i) {
  return car.limits.mixture.least(delivery.set[i], delivery.fed[i],
                                  delivery.duty.empty() ? 0.0 : delivery.duty[i]);
}

/// m3/s that leave the reserve while there is fuel.
double wanted_from(const FuelSystem& car, const Course& course, size_t i) {
  const double main = std::max(course.delivery->main[i], course.demand[i]);
  return car.surge && car.surge->engine_return == circuit::ReturnTo::surge_tank ? course.demand[i] : main;
}

}  // namespace

std::vector<SurgeReach> course_reach(const FuelSystem& car, const Course& course) {
  std::vector<SurgeReach> out;
  if (!car.surge) return out;
  out.reserve(course.lap->size());
  for (size_t i = 0; i < course.lap->size(); ++i) {
    const double flow = course.delivery ? course.delivery->main[i] : car.main_pump_flow;
    out.push_back(
        surge_reach(*car.surge, course.lap->effective_gravity(i), std::max(flow, course.demand[i])));
  }
  return out;
}

std::vector<double> course_limit(const FuelSystem& car, const Course& course) {
  const lap::Lap& lap = *course.lap;
  const Delivery& delivery = *course.delivery;
  // With every pickup covered: gas nowhere, the surge tank never empty.
  ChainOptions options = chain_options(car);
  options.bottomless = true;
  SupplyChain chain(options, delivery.fed.front());
  std::vector<double> covered(lap.size(), delivery.fed.front());
  for (size_t i = 0; i + 1 < lap.size(); ++i) {
    const double step = lap.time[i + 1] - lap.time[i];
    const int parts = parts_of(step, MarchOptions{}.longest_part);
    for (int k = 0; k < parts; ++k) {
      ChainStep s = step_at(course, i, (k + 0.5) / parts, step / parts);
      s.fuel = std::max(s.main, s.demand) * s.time;
      chain.step(s);
      covered[i] = std::min(covered[i], chain.difference());
      covered[i + 1] = k == 0 ? chain.difference() : std::min(covered[i + 1], chain.difference());
    }
  }
  std::vector<double> out(lap.size());
  for (size_t i = 0; i < out.size(); ++i) out[i] = std::min(wished(car, delivery, i), 0.99 * covered[i]);
  return out;
}

bool circuit_limits(const FuelSystem& car, const Course& course, size_t i) {
  return course.limit[i] < wished(car, *course.delivery, i);
}

Course completed(Course course, const FuelSystem& car) {
  const lap::Lap& lap = *course.lap;
  if (course.repeated && lap.duration() < shortest_lap)
    throw InputError(Message{
        .file = {},
        .place = "lap",
        .expected = "a lap of 5 s or more, if it is driven again and again: the fuel swings for seconds",
        .found = std::to_string(lap.duration()) + " s"});
  double most = 0;
  for (double d : course.demand) most = std::max(most, d);
  if (!(most > 0))
    throw InputError(Message{.file = {},
                             .place = "lap",
                             .expected = "an engine that burns fuel somewhere on the lap",
                             .found = "no demand throughout: check fuel_flow, flow_scale, power"});
  if (!course.delivery)
    course.delivery = std::make_shared<const Delivery>(constant_delivery(car, course.demand));
  if (course.reach.empty()) course.reach = course_reach(car, course);
  if (course.limit.empty()) course.limit = course_limit(car, course);
  return course;
}

// ---- monitor

bool LimitMonitor::counts(int kind) const {
  const double length = open_[static_cast<size_t>(kind)].end - open_[static_cast<size_t>(kind)].start;
  return is_open_[static_cast<size_t>(kind)] &&
         length > (kind == 0 ? limits_.mixture.time : limits_.gas_time);
}

void LimitMonitor::see(double from, double to, double difference, double limit, double gas, double missing) {
  const double after = difference - limit;
  // Where the limit is crossed within the step, the pressure taken as straight.
  const double cross = before_ != after ? std::clamp(before_ / (before_ - after), 0.0, 1.0) : 0.0;
  const double crossing = from + cross * (to - from);
  const auto end = [&](int kind) {
    if (counts(kind)) found_.push_back(open_[static_cast<size_t>(kind)]);
    is_open_[static_cast<size_t>(kind)] = false;
  };
  const auto grow = [&](int kind, double start, double lowest) {
    LeanStretch& s = open_[static_cast<size_t>(kind)];
    if (!is_open_[static_cast<size_t>(kind)]) {
      s = {kind == 0 ? Trouble::pressure : Trouble::gas, start, start, 0.0, lowest};
      is_open_[static_cast<size_t>(kind)] = true;
    }
    s.end = to;
    s.missing += missing;
    s.lowest = kind == 0 ? std::min(s.lowest, lowest) : std::max(s.lowest, lowest);
  };
  if (after < 0) {
    grow(0, before_ < 0 ? from : crossing, difference);
  } else if (is_open_[0]) {
    open_[0].end = crossing;
    open_[0].missing += missing;
    end(0);
  }
  if (gas > limits_.gas)
    grow(1, from, gas);
  else if (is_open_[1])
    end(1);
  before_ = after;
}

void LimitMonitor::next_lap(double duration) {
  found_.clear();
  for (LeanStretch& s : open_) s.start -= duration, s.end -= duration;
}

std::vector<LeanStretch> LimitMonitor::stretches() const {
  std::vector<LeanStretch> out = found_;
  for (int kind : {0, 1})
    if (counts(kind)) out.push_back(open_[static_cast<size_t>(kind)]);
  std::sort(out.begin(), out.end(), [](const LeanStretch& a, const LeanStretch& b) {
    return std::tie(a.start, a.kind) < std::tie(b.start, b.kind);
  });
  return out;
}

// ---- march

bool Mark::same_as(const Mark& other) const {
  constexpr double nothing = 1e-4;
  if (sample != other.sample || !quiet || !other.quiet || state.size() != other.state.size()) return false;
  for (size_t i = 0; i < state.size(); ++i)
    if (!(std::abs(state[i] - other.state[i]) < nothing)) return false;
  return true;
}

Marcher::Marcher(const FuelSystem& car, const Course& course, double level, const MarchOptions& options)
    : car_(&car),
      course_(&course),
      options_(options),
      forces_(lap::force_trace(*course.lap)),
      fuel_(*car.tank, car.pickups, level,
            [&] {
              slosh::MotionOptions motion = motion_options(car, course.repeated);
              motion.circulation.flow.clear();
              return motion;
            }()),
      chain_(
          [&] {
            ChainOptions chain = chain_options(car);
            chain.bottomless = options.bottomless;
            return chain;
          }(),
          course.delivery->fed.front()),
      monitor_(car.limits),
      wet_(car.pickups.size(), 1.0),
      temperatures_{options.temperature, options.temperature} {
  for (const LiftPump& pump : car.lift_pumps) {
    lift_pickups_.emplace_back();
    for (size_t p = 0; p < car.pickups.size(); ++p)
      if (car.pickups[p].feeds == pump.name) lift_pickups_.back().push_back(p);
  }
  for (size_t p = 0; p < car.pickups.size(); ++p)
    if (car.pickups[p].feeds == "engine") engine_pickups_.push_back(p);
  fuel_.begin(forces_.at(course.lap->time.front()));
  start_ = fuel_.total() + chain_.held();
}

Marcher::Intake Marcher::draw(const std::vector<size_t>& pickups, double flow, double dt) {
  Intake out;
  if (pickups.empty()) return out;
  const double each = flow / static_cast<double>(pickups.size());
  constexpr double gas_density = 1.3;
  double sum = 0;
  std::array<double, 16> ease{};
  const size_t n = std::min(pickups.size(), ease.size());
  for (size_t k = 0; k < n; ++k) {
    const double w = wet_[pickups[k]] = fuel_.drawn(pickups[k], each);
    ease[k] = 1 / std::sqrt(w * car_->fuel_density + (1 - w) * gas_density);
    sum += ease[k];
  }
  for (size_t k = 0; k < n; ++k) {
    const double volume = flow * dt * ease[k] / sum;
    const double moved = fuel_.draw(pickups[k], volume * wet_[pickups[k]]);
    out.fuel += moved;
    out.gas += volume - moved;
  }
  return out;
}

void Marcher::give_back(double volume) {
  spill_ += volume;
  if (spill_ > 0) spill_ -= fuel_.put(static_cast<size_t>(std::max(car_->return_space, 0)), spill_);
}

void Marcher::move_across(double dt) {
  if (car_->transfer_flow <= 0 || car_->transfer_from < 0) return;
  const double moved = fuel_.take(static_cast<size_t>(car_->transfer_from), car_->transfer_flow * dt);
  const double put = fuel_.put(static_cast<size_t>(car_->transfer_to), moved);
  give_back(moved - put);
}

void Marcher::enter(size_t sample) {
  if (!course_->repeated) return;
  const lap::Lap& lap = *course_->lap;
  const bool at_start = sample == 0;
  double before = (at_start ? lap.time.back() : lap.time[sample]) - entering;
  // Over the start line, where it comes to that.
  const bool over = !at_start && before < lap.time.front();
  if (over) before += lap.duration();
  before = std::max(before, lap.time.front());
  fuel_.begin(forces_.at(before));
  come(lap.index_at(before), at_start || over ? lap.size() - 1 : sample);
  if (over) come(0, sample);
}

void Marcher::come(size_t from, size_t to) {
  const lap::Lap& lap = *course_->lap;
  const double coming = std::max(options_.longest_part, std::min(4 * options_.longest_part, entering_step));
  fuel_.step_by(slosh::quickly(car_->motion, coming));
  for (size_t i = from, next = from; i < to; i = next) {
    do ++next;
    while (next < to && lap.time[next + 1] - lap.time[i] < coming * (1 + 1e-6));
    const double step = lap.time[next] - lap.time[i];
    const int parts = parts_of(step, coming);
    for (int k = 0; k < parts; ++k) {
      const double u = (k + 0.5) / parts, dt = step / parts;
      fuel_.move(forces_.push(lap.time[i] + u * step), dt);
      double taken = 0;
      for (size_t l = 0; l < lift_pickups_.size(); ++l)
        taken += draw(lift_pickups_[l], course_->delivery->lift[l][i], dt).fuel;
      if (!car_->surge) taken += draw(engine_pickups_, course_->delivery->main[i], dt).fuel;
      move_across(dt);
      give_back(taken);
    }
  }
  fuel_.step_by(car_->motion);
}

void Marcher::go_on(const Course& course) {
  if (&course != course_) {
    course_ = &course;
    forces_ = lap::force_trace(*course.lap);
  }
  if (!course.repeated) fuel_.stand();
}

void Marcher::set_surge(double volume) {
  double out = chain_.shift_surge(volume);
  if (out < 0) out += fuel_.take(static_cast<size_t>(std::max(car_->return_space, 0)), -out);
  // What the tank could not give is not taken.
  if (out < 0) chain_.shift_surge(chain_.surge() + out);
  if (out > 0) give_back(out);
}

void Marcher::warm(const ChainStep& s, double back) {
  const circuit::HeatBalance& heat = course_->delivery->heat;
  const double main = std::max(s.main, s.demand);
  if (heat.heat_capacity <= 0 || main <= 0) return;
  // Lumps that run dry keep a little, so that they do not boil on paper.
  temperatures_ =
      warmed(temperatures_, heat,
             {.time = s.time,
              .tank_volume = std::max(fuel_.total(), 0.2e-3),
              .surge_volume = car_->surge ? std::max(chain_.surge(), 0.05e-3) : 0.0,
              .lifted = s.fuel,
              .overflow = chain_.overflow(),
              .back = car_->surge ? chain_.returned() : back,
              .main = main * s.time,
              .back_to_surge = car_->surge && car_->surge->engine_return == circuit::ReturnTo::surge_tank});
}

void Marcher::note(LapTrace& trace, size_t i, double supply) {
  for (size_t p = 0; p < wet_.size(); ++p) trace.wet[p][i] = wet_[p];
  trace.supply[i] = supply;
  trace.draw[i] = wanted_from(*car_, *course_, i);
  trace.reserve[i] = car_->surge ? chain_.surge() : chain_.line_fuel();
  trace.rail[i] = chain_.difference();
  trace.gas[i] = chain_.gas_drawn();
  trace.level[i] = fuel_.total();
  if (options_.heat) trace.tank_heat[i] = temperatures_.tank, trace.surge_heat[i] = temperatures_.surge;
  if (trace.motion)
    trace.motion->push_back(slosh::instant_of(fuel_, course_->lap->time[i], car_->pickups.size()));
}

bool Marcher::lap(LapTrace& trace, const LapOptions& how) {
  const lap::Lap& lap = *course_->lap;
  const Delivery& delivery = *course_->delivery;
  const size_t n = lap.size();
  trace.wet.resize(car_->pickups.size());
  for (auto& w : trace.wet) w.resize(n);
  for (auto* v : {&trace.supply, &trace.draw, &trace.reserve, &trace.rail, &trace.gas, &trace.level,
                  &trace.fuel, &trace.vapour})
    v->resize(n);
  if (options_.heat)
    for (auto* v : {&trace.tank_heat, &trace.surge_heat}) v->resize(n);
  if (trace.motion) trace.motion->clear();
  trace.marks.clear(), trace.taken_over.reset();
  double next_mark = lap.time.front() + between_marks;
  monitor_.next_lap(std::exchange(lap_before_, lap.duration()));
  if (car_->model == slosh::Model::settled) {
    fuel_.stand();
    fuel_.move(forces_.push(lap.time[how.first]), 0.0);
  }
  // The first sample's coverage, without a step.
  double supply = 0;
  const auto look = [&](const std::vector<size_t>& pickups, double flow) {
    const double each = flow / static_cast<double>(std::max<size_t>(pickups.size(), 1));
    double mean = 0;
    for (size_t p : pickups) mean += wet_[p] = fuel_.drawn(p, each);
    supply += flow * mean / static_cast<double>(std::max<size_t>(pickups.size(), 1));
  };
  for (size_t l = 0; l < lift_pickups_.size(); ++l) look(lift_pickups_[l], delivery.lift[l][how.first]);
  if (!car_->surge) look(engine_pickups_, delivery.main[how.first]);
  note(trace, how.first, supply);
  for (size_t i = how.first; i < std::min(n - 1, how.last); ++i) {
    const double step = lap.time[i + 1] - lap.time[i];
    const int parts = parts_of(step, options_.longest_part);
    trace.fuel[i] = trace.vapour[i] = 0;
    Intake in;
    for (int k = 0; k < parts; ++k) {
      const double u = (k + 0.5) / parts, dt = step / parts, from = lap.time[i] + k * dt;
      fuel_.move(forces_.push(from + 0.5 * dt), dt);
      ChainStep s = step_at(*course_, i, u, dt);
      in = {};
      const auto add = [&](const Intake& more) { in.fuel += more.fuel, in.gas += more.gas; };
      for (size_t l = 0; l < lift_pickups_.size(); ++l)
        add(draw(lift_pickups_[l], delivery.lift[l][i] + (delivery.lift[l][i + 1] - delivery.lift[l][i]) * u,
                 dt));
      if (!car_->surge) add(draw(engine_pickups_, std::max(s.main, s.demand), dt));
      s.fuel = in.fuel;
      s.gas = in.gas;
      const double burnt = chain_.burnt(), missing = chain_.missing();
      const double back = chain_.step(s);
      const double used = chain_.burnt() - burnt;
      if (options_.heat) warm(s, back);
      move_across(dt);
      give_back(back + (options_.hold ? used : 0.0));
      if (options_.hold) replaced_ += used;
      monitor_.see(from, from + dt, chain_.difference(),
                   std::lerp(course_->limit[i], course_->limit[i + 1], u), chain_.gas_drawn(),
                   chain_.missing() - missing);
      trace.fuel[i] += in.fuel;
      trace.vapour[i] += in.gas;
      in.fuel /= dt;
    }
    note(trace, i + 1, in.fuel);
    if (how.stop_at_trouble && !monitor_.quiet()) return false;
    if (!(how.mark || how.before) || lap.time[i + 1] < next_mark) continue;
    next_mark += between_marks;
    trace.marks.push_back(mark(i + 1));
    const size_t k = trace.marks.size() - 1;
    if (how.before && k < how.before->marks.size() && trace.marks[k].same_as(how.before->marks[k])) {
      trace.taken_over = k;
      go_on_as(trace, *how.before, i + 1);
      return true;
    }
  }
  trace.fuel[n - 1] = trace.vapour[n - 1] = 0;
  return true;
}

Mark Marcher::mark(size_t sample) const {
  Mark out{sample, {}, !monitor_.open(), ledger()};
  fuel_.tell_state(out.state);
  chain_.tell_state(out.state);
  return out;
}

Ledger Marcher::ledger() const {
  return {.start = start_,
          .end = fuel_.total() + chain_.held() + spill_,
          .burnt = chain_.burnt(),
          .replaced = replaced_};
}

bool replay_is_clean(const FuelSystem& car, const Course& course, const LapTrace& trace, double lacking,
                     int laps) {
  const lap::Lap& lap = *course.lap;
  SupplyChain chain(chain_options(car), course.delivery->fed.front());
  if (lacking > 0 && car.surge) {
    if (lacking >= car.surge->volume) return false;
    chain.shift_surge(car.surge->volume - lacking);
  }
  LimitMonitor monitor(car.limits);
  for (int round = 0; round < laps; ++round) {
    monitor.next_lap(lap.duration());
    for (size_t i = 0; i + 1 < lap.size(); ++i) {
      const double step = lap.time[i + 1] - lap.time[i];
      const int parts = parts_of(step, MarchOptions{}.longest_part);
      for (int k = 0; k < parts; ++k) {
        const double u = (k + 0.5) / parts, dt = step / parts, from = lap.time[i] + k * dt;
        ChainStep s = step_at(course, i, u, dt);
        s.fuel = trace.fuel[i] / parts;
        s.gas = trace.vapour[i] / parts;
        chain.step(s);
        monitor.see(from, from + dt, chain.difference(), std::lerp(course.limit[i], course.limit[i + 1], u),
                    chain.gas_drawn(), 0.0);
      }
      if (!monitor.quiet()) return false;
    }
  }
  return true;
}

}  // namespace uadze::starvation
