#include "core/slosh/planar.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace uadze::slosh {
namespace {

constexpr double pi = std::numbers::pi;
constexpr double quickest_turn = 15.0;  // rad/s of a surface through what comes and goes at places

/// The part of f in the water plane. Fuel that hangs exactly upside down starts to fall along the first axis.
Vec3 sideways(const Vec3& f, const Vec3& normal, const Vec3& axis) {
  const double along = f.dot(normal);
  const Vec3 p = f - along * normal;
  if (along > 0 && p.squaredNorm() < 1e-6 * f.squaredNorm()) return p + 1e-3 * f.norm() * axis;
  return p;
}

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
  locate();
}

/// Whether there is fuel to move and room to move in.
bool PlanarSpace::moves() const { return volume_ > 1e-7 * capacity() && !is_full(); }

void PlanarSpace::locate() {
  exact_ = true;
  cut_normal_ = normal_, cut_volume_ = volume_;
  cutter_.aim(normal_);
  // At the same volume a plane turns about its section's middle.
  offset_ = cutter_.offset_near(volume_, section_.area > 0 ? normal_.dot(section_.centroid) : offset_);
  const tank::PlaneCutter::Cut cut = cutter_.cut(offset_);
  section_ = cut.section;
  centroid_ = cut.below.volume > 0 ? cut.below.centroid() : Vec3(solid_->centroid());
  modes_ = section_modes(section_, volume_, normal_, size_);
  for (int i = 0; i < 2; ++i) {
    if (table_) modes_.inertia[i] *= table_->factor(volume_ / capacity(), modes_.axis[i]);
    modes_.inertia[i] *= options_.inertia;
  }
  if (is_foamed()) find_foam();
}

/// Whether what the last cut said still stands.
bool PlanarSpace::is_near() const {
  const double turned = (normal_ - cut_normal_).norm();
  if (!(section_.area > 0) || turned > options_.stray) return false;
  const double least = std::min(volume_, capacity() - volume_);
  const double rise = turned * std::max(modes_.length[0], modes_.length[1]) / 2;
  return rise < 0.1 * least / section_.area && std::abs(volume_ - cut_volume_) < 0.02 * least;
}

/// The surface turns about its section's middle, by a turn in its own plane.
void PlanarSpace::lean(const Vec3& turn) {
  for (size_t i = 0; i < 2; ++i) {
    const double part = turn.dot(modes_.axis[i]), shift = modes_.second[i] / volume_ * part;
    centroid_ += shift * (part / 2 * normal_ - modes_.axis[i]);
  }
  const double angle = turn.norm();
  if (angle > 0) normal_ = (std::cos(angle) * normal_ + std::sin(angle) / angle * turn).normalized();
  offset_ = normal_.dot(section_.centroid);
  modes_.axis[0] = (modes_.axis[0] - modes_.axis[0].dot(normal_) * normal_).normalized();
  modes_.axis[1] = normal_.cross(modes_.axis[0]);
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
double PlanarSpace::blockage(int i) const {
  double out = drag_.crowded > 0 ? blockage_loss(drag_.crowded) : 0.0;
  if (!drag_.obstacles) return out;
  const Vec3& along = modes_.axis[static_cast<size_t>(i)];
  const double length = modes_.length[static_cast<size_t>(i)];
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

// 1/m times mu^1.5: of |u| u, the drag of what gas there is.
double PlanarSpace::bubble(int i) const {
  const double gas = capacity() - volume_, crowded = gas / (0.2 * capacity()), squared = crowded * crowded;
  return options_.bubble_drag / 2 * std::sqrt(modes_.length[static_cast<size_t>(1 - i)] * gas) * volume_ *
         volume_ / (gas * gas * gas) / (1 + squared * squared);
}

void PlanarSpace::settle(const Vec3& f) {
  if (f.norm() > 0) normal_ = -f.normalized();
  speed_ = Vec3::Zero();
  locate();
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
  if (!little && !is_full()) refresh();
}

void PlanarSpace::set_volume(double volume, const Exchange& through, double dt) {
  if (moves() && section_.area > 0 && through.gross > 0) {
    const double depth = volume_ / section_.area;
    const Vec3 place = through.place / through.gross;
    const double under = std::clamp(offset_ - normal_.dot(place), 0.0, depth);
    Vec3 turn = Vec3::Zero();
    for (size_t i = 0; i < 2; ++i) {
      const double k = pi / modes_.length[i];
      const double weaker =
          k * depth < 20 ? std::cosh(k * (depth - under)) / std::cosh(k * depth) : std::exp(-k * under);
      const double arm = (through.moment - through.came * section_.centroid).dot(modes_.axis[i]);
      turn -= weaker * arm / modes_.second[i] * modes_.axis[i];
    }
    if (const double angle = turn.norm(); angle > 0) {
      if (angle > quickest_turn * dt) turn *= quickest_turn * dt / angle;
      lean(turn);
      speed_ -= speed_.dot(normal_) * normal_;
    }
  }
  set_volume(volume);
}

void PlanarSpace::refresh() {
  if (!exact_) locate();
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

// Kick, damp and drift, kick: second order, and the drift turns normal and velocity together.
double PlanarSpace::substep(const Vec3& f, double left) {
  const double before = energy(f);
  const double strength = f.norm();
  std::array<double, 2> root{}, frequency{}, rate_per_speed{};
  const auto prepare = [&] {
    const double pull = std::max(-f.dot(normal_), 0.0);
    for (int i = 0; i < 2; ++i) {
      const double m = mass(i, pull);
      root[i] = std::sqrt(m);
      rate_per_speed[i] = volume_ / (modes_.second[i] * root[i]);
      frequency[i] = std::sqrt(pull * volume_ / (m * modes_.second[i]));
    }
  };
  prepare();
  const auto kick = [&](double time) {
    const Vec3 p = sideways(f, normal_, modes_.axis[0]);
    for (int i = 0; i < 2; ++i) speed_ += time * p.dot(modes_.axis[i]) / root[i] * modes_.axis[i];
  };
  const auto turning = [&] {  // dn/dt
    Vec3 rate = Vec3::Zero();
    for (int i = 0; i < 2; ++i) rate -= rate_per_speed[i] * speed_.dot(modes_.axis[i]) * modes_.axis[i];
    return rate;
  };
  double h = left;
  const double quick = std::max(frequency[0], frequency[1]);
  if (quick > 0) h = std::min(h, options_.phase_step / quick);
  // The turn of this step, from the velocity it begins with and what the kick adds.
  const double drift = turning().norm();
  if (drift > 0) h = std::min(h, 0.1 / drift);
  for (int i = 0; i < 2; ++i) {
    const double push = std::abs(f.dot(modes_.axis[i])) * rate_per_speed[i] / root[i];
    if (push > 0) h = std::min(h, std::sqrt(0.1 / push));
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
    const double speed = speed_.norm();
    for (size_t i = 0; i < 2; ++i) {
      const double slowed = less * along_foam[i] * speed * h / 2;
      speed_ -= slowed / (1 + slowed) * speed_.dot(modes_.axis[i]) * modes_.axis[i];
    }
  };

  const Vec3 unpushed = speed_;
  kick(h / 2);
  const double pushed =
      foam > 0 && speed_.norm() > 0 ? (speed_ - unpushed).dot(speed_.normalized()) / (h / 2) : 0.0;
  if (foam > 0) run_through_foam(pushed);
  Vec3 rate = turning();
  if (strength > 0) {
    // The tilt from rest squared: 2(1 - cos), the square of the chord.
    double amplitude = 2 * (1 + f.dot(normal_) / strength);
    for (int i = 0; i < 2; ++i)
      if (frequency[i] > 0) {
        const double swing = rate.dot(modes_.axis[i]) / frequency[i];
        amplitude += swing * swing;
      }
    const double violent =
        options_.violent_damping * amplitude / (amplitude + options_.violent_tilt * options_.violent_tilt);
    for (int i = 0; i < 2; ++i) {
      const double radius = modes_.length[i] / 2;
      const double wall =
          0.79 *
          std::sqrt(options_.viscosity / (radius * std::sqrt(radius) * std::sqrt(std::max(strength, 1e-3))));
      const double fading =
          2 * (wall + violent) * frequency[i] + options_.foam * options_.viscosity * foam_[i].darcy;
      const double along = speed_.dot(modes_.axis[i]);
      // Linear and square damping one after the other, each exact.
      const double square = bubble(i) + 27.0 / 16 * options_.blockage * blockage(i) / modes_.length[i];
      const double kept =
          std::exp(-fading * h) / (1 + square / (root[i] * root[i] * root[i]) * std::abs(along) * h);
      speed_ += along * (kept - 1) * modes_.axis[i];
    }
    rate = turning();
  }
  const double angle = rate.norm() * h;
  if (angle > 0) {
    // Turn normal and velocity in the plane of the normal and its rate.
    const Vec3 way = rate / rate.norm();
    const double c = std::cos(angle), s = std::sin(angle), along = speed_.dot(way);
    speed_ += along * ((c - 1) * way - s * normal_);
    lean(angle * way);
  }
  double found = 0;  // J/kg by which a new cut finds the fuel higher than it was taken to be
  if (!(angle < options_.stray)) {
    locate();
  } else if (!is_near()) {
    const Vec3 taken = centroid_;
    locate();
    found = f.dot(taken - centroid_);
  }
  prepare();
  if (foam > 0) run_through_foam(pushed);
  kick(h / 2);
  speed_ -= speed_.dot(normal_) * normal_;

  // What rounding and the finite step added goes out of the velocity, and what was found is set right by it.
  const double gained = std::max(energy(f) - found - before, 0.0);
  if (const double kinetic = speed_.squaredNorm() / 2; gained + found != 0 && kinetic > 0)
    speed_ *= std::sqrt(std::max(1 - (gained + found) / kinetic, 0.0));
  corrected_ = std::max(corrected_, gained);
  ++substeps_;
  return h;
}

}  // namespace uadze::slosh
