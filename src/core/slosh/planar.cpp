#include "core/slosh/planar.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace uadze::slosh {
namespace {

constexpr double pi = std::numbers::pi;
// Of fuel or gas, before a cut's last step to its volume.
constexpr double near_enough = 1e-4, to_rounding = 1e-6;
constexpr double quickest_turn = 15.0;  // rad/s of a surface through what comes and goes at places

}  // namespace

double InertiaTable::factor(double fill, const Vec3& direction) const {
  if (rows.empty()) return 1.0;
  const auto of = [&](const Row& r) {
    const double level = direction.head<2>().squaredNorm();
    if (level < 1e-9) return (r.along + r.across) / 2;
    const double along = r.axis.head<2>().dot(direction.head<2>()), part = along * along / level;
    return r.along * part + r.across * (1 - part);
  };
  size_t i = 0;
  while (i < rows.size() && rows[i].fill < fill) ++i;
  if (i == 0) return of(rows.front());
  if (i == rows.size()) return of(rows.back());
  const double part = (fill - rows[i - 1].fill) / (rows[i].fill - rows[i - 1].fill);
  return of(rows[i - 1]) * (1 - part) + of(rows[i]) * part;
}

PlanarSpace::PlanarSpace(const tank::Solid& solid, double volume, const PlanarOptions& options,
                         const SpaceDrag& drag, const InertiaTable* table)
    : solid_(&solid),
      table_(table),
      volume_(std::clamp(volume, 0.0, solid.volume())),
      size_(solid.size()),
      drag_(drag),
      options_(options),
      cutter_(solid),
      offset_(solid.centroid().z()) {
  locate(to_rounding);
}

// `enough` as PlaneCutter::offset_near has it.
void PlanarSpace::locate(double enough) {
  exact_ = enough <= to_rounding;
  cut_normal_ = normal_, cut_volume_ = volume_;
  cutter_.aim(normal_);
  // At the same volume a plane turns about its section's middle.
  offset_ =
      cutter_.offset_near(volume_, section_.area > 0 ? normal_.dot(section_.centroid) : offset_, enough);
  const tank::PlaneCutter::Cut cut = cutter_.cut(offset_);
  section_ = cut.section;
  centroid_ = cut.below.volume > 0 ? cut.below.centroid() : Vec3(solid_->centroid());
  modes_ = section_modes(section_, volume_, normal_, size_);
  for (int i = 0; i < 2; ++i) {
    if (table_) modes_.inertia[i] *= table_->factor(volume_ / capacity(), modes_.axis[i]);
    modes_.inertia[i] *= options_.inertia;
  }
  if (is_foamed()) find_foam();
  figure();
}

/// Whether what the last cut said still stands.
bool PlanarSpace::is_near() const {
  const double turned2 = (normal_ - cut_normal_).squaredNorm();
  if (!(section_.area > 0) || turned2 > options_.stray * options_.stray) return false;
  const double least = std::min(volume_, capacity() - volume_);
  const double rise = std::sqrt(turned2) * std::max(modes_.length[0], modes_.length[1]) / 2;
  return rise * section_.area < 0.1 * least && std::abs(volume_ - cut_volume_) < 0.02 * least;
}

/// The surface turns about its section's middle, by a turn (rad) along its own directions, which go along.
/// The turn is Rodrigues' with t = tan(angle/2), its series to the fourth power: a whole turn whatever it is.
void PlanarSpace::lean(const std::array<double, 2>& turn) {
  for (size_t i = 0; i < 2; ++i) {
    const double shift = turn[i] / figures_[i].per_turn;
    centroid_ += shift * (turn[i] / 2 * normal_ - modes_.axis[i]);
  }
  const double angle2 = turn[0] * turn[0] + turn[1] * turn[1];
  const double half = 0.5 * (1 + angle2 / 12 * (1 + angle2 / 10));
  const double t[2] = {half * turn[0], half * turn[1]}, t2 = t[0] * t[0] + t[1] * t[1], part = 2 / (1 + t2);
  const Vec3 way = t[0] * modes_.axis[0] + t[1] * modes_.axis[1], with_normal = way + normal_;
  for (size_t i = 0; i < 2; ++i) modes_.axis[i] -= part * t[i] * with_normal;
  normal_ += part * (way - t2 * normal_);
  normal_ *= 1.5 - 0.5 * normal_.squaredNorm();  // rounding
  offset_ = normal_.dot(section_.centroid);
  exact_ = false;
}

// Anew where the fuel lies otherwise by a few degrees, or a twentieth of it came or went.
void PlanarSpace::find_foam() {
  if (!drag_.foamed || drag_.foamed->empty()) {
    foam_.fill({drag_.darcy, drag_.inertial});
    return;
  }
  constexpr double same = 0.995;
  if (normal_.dot(foam_normal_) > same && std::abs(modes_.axis[0].dot(foam_axis_)) > same &&
      std::abs(volume_ - foam_volume_) < 0.05 * volume_)
    return;
  foam_normal_ = normal_, foam_axis_ = modes_.axis[0], foam_volume_ = volume_;
  foam_ = foam_drag(*drag_.foamed, surface(), section_.centroid, modes_);
}

double blockage_loss(double blocked) {
  const double s = std::clamp(blocked, 0.0, 0.8);
  const double contraction = 0.405 * std::exp(-pi * s) + 0.595;
  const double root = 1 / (contraction * (1 - s)) - 1;
  return root * root;
}

// The loss of all that stands across axis i, weighted by the flow at its place.
double PlanarSpace::blockage(size_t i) const {
  double out = drag_.crowded > 0 ? blockage_loss(drag_.crowded) : 0.0;
  if (!drag_.obstacles) return out;
  const Vec3& along = modes_.axis[i];
  const double length = modes_.length[i];
  for (const tank::Obstacle& o : *drag_.obstacles) {
    const double reach = normal_.cwiseAbs().dot(o.half);
    const double wet = std::min((offset_ - normal_.dot(o.middle) + reach) / (2 * reach), 1.0);
    if (wet <= 0) continue;
    const double place = 2 * (o.middle - section_.centroid).dot(along) / length;
    const double flow = 1 - place * place;
    if (flow <= 0) continue;
    const Vec3 faces(o.half.y() * o.half.z(), o.half.z() * o.half.x(), o.half.x() * o.half.y());
    const double blocked = 4 * along.cwiseAbs().dot(faces) * wet * length / volume_;
    out += blockage_loss(blocked) * flow * flow * flow;
  }
  return out;
}

void PlanarSpace::settle(const Vec3& f) {
  if (f.norm() > 0) normal_ = -f.normalized();
  speed_ = Vec3::Zero();
  locate(to_rounding);
}

// Up to a hundredth of fuel and of gas the plane shifts by what came over its area, and the centroid goes
// along: the next step finds both anew. In a full space, whose gas comes and goes by as much as there is of
// it, that is early enough.
void PlanarSpace::set_volume(double volume) {
  volume = std::clamp(volume, 0.0, capacity());
  const double came = volume - volume_;
  if (came == 0) return;
  // Little beside the gas too: under a full roof the section is next to nothing, and the plane would fly off.
  const double least = std::min({volume_, capacity() - volume_, capacity() - volume});
  const bool little = std::abs(volume - cut_volume_) < 0.02 * least && section_.area > 0;
  if (came > 0) speed_ *= volume_ / volume;  // what comes has to be set moving
  if (little) {
    offset_ += came / section_.area;
    section_.centroid += came / section_.area * normal_;
    centroid_ += came / volume * (section_.centroid - centroid_);
  }
  volume_ = volume;
  exact_ = false;
  if (!little && !is_full()) locate(near_enough);
}

void PlanarSpace::set_volume(double volume, const Exchange& through, double dt) {
  if (moves() && section_.area > 0 && through.gross > 0) {
    const double depth = volume_ / section_.area;
    const Vec3 place = through.place / through.gross;
    const double under = std::clamp(offset_ - normal_.dot(place), 0.0, depth);
    std::array<double, 2> turn;
    for (size_t i = 0; i < 2; ++i) {
      // cosh(k (h - d)) / cosh(k h), by what does not overflow.
      const double here = std::exp(-pi / modes_.length[i] * under), floor = modes_.floor[i];
      const double weaker = here > 1e-100 ? (here + floor / here) / (1 + floor) : 0.0;
      const double arm = (through.moment - through.came * section_.centroid).dot(modes_.axis[i]);
      turn[i] = -weaker * arm / modes_.second[i];
    }
    if (const double angle = std::sqrt(turn[0] * turn[0] + turn[1] * turn[1]); angle > 0) {
      if (angle > quickest_turn * dt)
        for (double& part : turn) part *= quickest_turn * dt / angle;
      lean(turn);
      speed_ -= speed_.dot(normal_) * normal_;
    }
  }
  set_volume(volume);
}

void PlanarSpace::refresh() {
  if (!exact_) locate(to_rounding);
}

double PlanarSpace::mass(int i, double pull) const {
  return std::max(modes_.inertia[i],
                  pull * volume_ / (modes_.second[i] * options_.fastest * options_.fastest));
}

Vec3 PlanarSpace::pressing(const Vec3& f) const {
  const double pull = std::max(-f.dot(normal_), 0.0);
  Vec3 out = -pull * normal_;
  if (!moves()) return f;
  for (int i = 0; i < 2; ++i)
    out += f.dot(modes_.axis[i]) * (1 - std::min(1.0, 1 / mass(i, pull))) * modes_.axis[i];
  return out;
}

void PlanarSpace::tell_state(std::vector<double>& out) const {
  out.insert(out.end(), {normal_.x(), normal_.y(), normal_.z(), speed_.x(), speed_.y(), speed_.z(),
                         10 * volume_ / capacity()});
}

void PlanarSpace::step(const Vec3& f, double dt) {
  if (!moves()) {
    settle(f);
    return;
  }
  while (dt > 1e-12) dt -= substep(f, dt);
}

PlanarSpace::Pulled::Pulled(const Vec3& f, const PlanarSpace& s) : upright(-f.dot(s.normal_)) {
  const double root_pull = std::sqrt(std::max(upright, 0.0));
  for (size_t i = 0; i < 2; ++i) {
    const Figures& figures = s.figures_[i];
    aside[i] = f.dot(s.modes_.axis[i]);
    root[i] = std::max(figures.root, root_pull * figures.slowed_root);
    frequency[i] = std::min(root_pull * figures.frequency, s.options_.fastest);
    per_speed[i] = figures.per_turn / root[i];
  }
  // Fuel that hangs exactly upside down starts to fall along the first axis.
  pushed = aside;
  const double hanging = upright < 0 ? f.squaredNorm() : 0.0;
  if (aside[0] * aside[0] + aside[1] * aside[1] < 1e-6 * hanging) pushed[0] += 1e-3 * std::sqrt(hanging);
}

void PlanarSpace::figure() {
  // Of an empty or a full space nothing is asked before its next cut, but for one at the very limit.
  const double fuel = std::max(volume_, 1e-9 * capacity());
  const double gas = std::max(capacity() - volume_, 0.5 * full_gas * capacity());
  const double crowded = gas / (0.2 * capacity()), squared = crowded * crowded;
  const double bubble = options_.bubble_drag / 2 * fuel * fuel / (gas * gas * gas) / (1 + squared * squared);
  for (size_t i = 0; i < 2; ++i) {
    const double length = modes_.length[i], radius = length / 2;
    Figures& out = figures_[i];
    out.per_turn = fuel / modes_.second[i];
    out.root = std::sqrt(modes_.inertia[i]);
    const double root_per_turn = std::sqrt(out.per_turn);
    out.frequency = root_per_turn / out.root;
    out.slowed_root = root_per_turn / options_.fastest;
    out.wall = 0.79 * std::sqrt(options_.viscosity / (radius * std::sqrt(radius)));
    out.square =
        bubble * std::sqrt(modes_.length[1 - i] * gas) + 27.0 / 16 * options_.blockage * blockage(i) / length;
  }
}

// Kick, damp and drift, kick: second order, and the drift turns normal and velocity together. All in the
// surface's own directions, where velocity and turn have two numbers each.
double PlanarSpace::substep(const Vec3& f, double left) {
  const double strength = f.norm();
  const double before = energy(f);
  Pulled now(f, *this);
  std::array<double, 2> u{speed_.dot(modes_.axis[0]), speed_.dot(modes_.axis[1])};
  const auto kick = [&](double time) {
    for (size_t i = 0; i < 2; ++i) u[i] += time * now.pushed[i] / now.root[i];
  };
  const auto square = [](const std::array<double, 2>& x) { return x[0] * x[0] + x[1] * x[1]; };
  const auto turning = [&] {  // dn/dt
    return std::array{-now.per_speed[0] * u[0], -now.per_speed[1] * u[1]};
  };
  double h = left;
  const double quick = std::max(now.frequency[0], now.frequency[1]);
  if (quick * h > options_.phase_step) h = options_.phase_step / quick;
  // The turn of this step, from the velocity it begins with and what the kick adds.
  if (const double drift = square(turning()); drift * h * h > 0.01) h = 0.1 / std::sqrt(drift);
  for (size_t i = 0; i < 2; ++i) {
    const double push = std::abs(now.aside[i]) * now.per_speed[i] / now.root[i];
    if (push * h * h > 0.1) h = std::sqrt(0.1 / push);
  }

  // Forchheimer's drag of foam: half of it before the drift and half after, each exact. Under a steady push
  // the step's middle would have the speed that foam allows less a part e^2, e = h sqrt(push foam)/2; so the
  // drag is taken less by x with x (1 + e^2 x) = 1.
  const double along_foam[2] = {1.17 * options_.foam * foam_[0].inertial,
                                1.17 * options_.foam * foam_[1].inertial};
  const double foam = std::max(along_foam[0], along_foam[1]);
  // In foam too dense to move through, what is quicker than 5 ms does not matter.
  if (foam > 0 && strength > 0) h = std::min(h, std::max(1.2 / std::sqrt(foam * strength), 5e-3));
  const auto run_through_foam = [&](double push) {
    const double e2 = std::max(push, 0.0) * foam * h * h / 4;
    const double less = e2 > 1e-6 ? (std::sqrt(1 + 4 * e2) - 1) / (2 * e2) : 1.0;
    const double speed = std::sqrt(square(u));
    for (size_t i = 0; i < 2; ++i) u[i] /= 1 + less * along_foam[i] * speed * h / 2;
  };

  const std::array<double, 2> unpushed = u;
  kick(h / 2);
  double pushed = 0;
  if (foam > 0) {
    if (const double speed = std::sqrt(square(u)); speed > 0)
      pushed = ((u[0] - unpushed[0]) * u[0] + (u[1] - unpushed[1]) * u[1]) / speed / (h / 2);
    run_through_foam(pushed);
  }
  if (strength > 0) {
    // The tilt from rest squared: 2(1 - cos), the square of the chord.
    double amplitude = 2 * (1 - now.upright / strength);
    for (size_t i = 0; i < 2; ++i)
      if (now.frequency[i] > 0) {
        const double swing = now.per_speed[i] * u[i] / now.frequency[i];
        amplitude += swing * swing;
      }
    const double violent =
        options_.violent_damping * amplitude / (amplitude + options_.violent_tilt * options_.violent_tilt);
    const double thinner = 1 / std::sqrt(std::sqrt(std::max(strength, 1e-3)));
    for (size_t i = 0; i < 2; ++i) {
      const double fading = 2 * (figures_[i].wall * thinner + violent) * now.frequency[i] +
                            options_.foam * options_.viscosity * foam_[i].darcy;
      // Linear and square damping one after the other, each exact.
      const double root3 = now.root[i] * now.root[i] * now.root[i];
      u[i] *= std::exp(-fading * h) / (1 + figures_[i].square / root3 * std::abs(u[i]) * h);
    }
  }
  // Normal and velocity turn together: in the surface's directions, which go along, the velocity stays.
  const std::array<double, 2> rate = turning();
  const std::array<double, 2> turn{rate[0] * h, rate[1] * h};
  if (turn[0] != 0 || turn[1] != 0) lean(turn);
  speed_ = u[0] * modes_.axis[0] + u[1] * modes_.axis[1];
  double found = 0;  // J/kg by which a new cut finds the fuel higher than it was taken to be
  const bool steep = !(square(turn) < options_.stray * options_.stray);
  if (steep || !is_near()) {
    const Vec3 taken = centroid_;
    locate(near_enough);
    if (!steep) found = f.dot(taken - centroid_);
    u = {speed_.dot(modes_.axis[0]), speed_.dot(modes_.axis[1])};
  }
  now = Pulled(f, *this);
  if (foam > 0) run_through_foam(pushed);
  kick(h / 2);

  // What rounding and the finite step added goes out of the velocity, and what was found is set right by it.
  const double kinetic = square(u) / 2;
  const double gained = std::max(kinetic - f.dot(centroid_) - found - before, 0.0);
  double kept = 1;
  if (gained + found != 0 && kinetic > 0) kept = std::sqrt(std::max(1 - (gained + found) / kinetic, 0.0));
  speed_ = kept * u[0] * modes_.axis[0] + kept * u[1] * modes_.axis[1];
  corrected_ = std::max(corrected_, gained);
  ++substeps_;
  return h;
}

}  // namespace uadze::slosh
