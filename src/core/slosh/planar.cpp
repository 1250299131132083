#include "core/slosh/planar.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace uadze::slosh {
namespace {

constexpr double pi = std::numbers::pi;

/// The part of f in the water plane. Fuel that hangs exactly upside down starts to fall along the first axis.
Vec3 sideways(const Vec3& f, const Vec3& normal, const Vec3& axis) {
  const Vec3 p = f - f.dot(normal) * normal;
  if (f.dot(normal) > 0 && p.norm() < 1e-3 * f.norm()) return p + 1e-3 * f.norm() * axis;
  return p;
}

}  // namespace

PlanarModes planar_modes(const tank::Section& section, double volume, const Vec3& normal, const Vec3& f,
                         double size, const PlanarOptions& options) {
  PlanarModes out;
  const Vec3 e1 = normal.unitOrthogonal(), e2 = normal.cross(e1);
  const double a = e1.dot(section.second * e1), b = e1.dot(section.second * e2),
               c = e2.dot(section.second * e2);
  const double turn = 0.5 * std::atan2(2 * b, a - c), spread = std::hypot((a - c) / 2, b);
  out.axis[0] = std::cos(turn) * e1 + std::sin(turn) * e2;
  out.axis[1] = normal.cross(out.axis[0]);
  // A section this small moves the centroid by less than a ten-thousandth of the tank a radian.
  const double least = 1e-4 * volume * size;
  const double pull = std::max(-f.dot(normal), 0.0);
  for (int i = 0; i < 2; ++i) {
    out.second[i] = std::max((a + c) / 2 + (i == 0 ? spread : -spread), least);
    const double area = std::max(section.area, 1e-9);
    const double length = std::sqrt(12 * out.second[i] / area), depth = volume / area;
    out.length[i] = length;
    out.mass[i] = std::max(12 * depth / (pi * length * std::tanh(pi * depth / length)),
                           pull * volume / (out.second[i] * options.fastest * options.fastest));
    out.frequency[i] = std::sqrt(pull * volume / (out.mass[i] * out.second[i]));
  }
  return out;
}

PlanarTank::PlanarTank(const tank::Solid& solid, double volume, const PlanarOptions& options)
    : solid_(&solid),
      volume_(volume),
      size_((solid.upper_corner() - solid.lower_corner()).norm()),
      options_(options),
      cutter_(solid),
      offset_(solid.centroid().z()) {
  locate();
}

void PlanarTank::locate() {
  cutter_.aim(normal_);
  offset_ = cutter_.offset_for(volume_, offset_).offset;
  section_ = section(*solid_, {normal_, offset_});
  moments_centroid_ = moments_below(*solid_, {normal_, offset_}).centroid();
}

void PlanarTank::settle(const Vec3& f) {
  if (f.norm() > 0) normal_ = -f.normalized();
  speed_ = Vec3::Zero();
  locate();
}

double PlanarTank::energy(const Vec3& f) const { return speed_.squaredNorm() / 2 - f.dot(moments_centroid_); }

void PlanarTank::step(const Vec3& f, double dt) {
  while (dt > 1e-12) dt -= substep(f, dt);
}

// Kick, damp and drift, kick: second order, and the drift turns normal and velocity together.
double PlanarTank::substep(const Vec3& f, double left) {
  const double before = energy(f);
  PlanarModes modes = planar_modes(section_, volume_, normal_, f, size_, options_);
  const auto kick = [&](double time) {
    const Vec3 p = sideways(f, normal_, modes.axis[0]);
    for (int i = 0; i < 2; ++i)
      speed_ += time * p.dot(modes.axis[i]) / std::sqrt(modes.mass[i]) * modes.axis[i];
  };
  const auto turning = [&] {  // dn/dt
    Vec3 rate = Vec3::Zero();
    for (int i = 0; i < 2; ++i)
      rate -=
          volume_ * speed_.dot(modes.axis[i]) / (modes.second[i] * std::sqrt(modes.mass[i])) * modes.axis[i];
    return rate;
  };
  double h = left;
  const double quick = std::max(modes.frequency[0], modes.frequency[1]);
  if (quick > 0) h = std::min(h, 0.2 / quick);
  // The turn of this step, from the velocity it begins with and what the kick adds.
  const double drift = turning().norm();
  if (drift > 0) h = std::min(h, 0.1 / drift);
  for (int i = 0; i < 2; ++i) {
    const double push = std::abs(f.dot(modes.axis[i])) * volume_ / (modes.second[i] * modes.mass[i]);
    if (push > 0) h = std::min(h, std::sqrt(0.1 / push));
  }

  kick(h / 2);
  const double strength = f.norm();
  if (strength > 0) {
    const double tilt = std::atan2((f - f.dot(normal_) * normal_).norm(), -f.dot(normal_));
    const Vec3 rate = turning();
    double amplitude = tilt * tilt;
    for (int i = 0; i < 2; ++i)
      if (modes.frequency[i] > 0) amplitude += std::pow(rate.dot(modes.axis[i]) / modes.frequency[i], 2);
    const double violent =
        options_.violent_damping * amplitude / (amplitude + options_.violent_tilt * options_.violent_tilt);
    for (int i = 0; i < 2; ++i) {
      const double wall = 0.79 * std::sqrt(options_.viscosity / (std::pow(modes.length[i] / 2, 1.5) *
                                                                 std::sqrt(std::max(strength, 1e-3))));
      const double along = speed_.dot(modes.axis[i]);
      speed_ += along * (std::exp(-2 * (wall + violent) * modes.frequency[i] * h) - 1) * modes.axis[i];
    }
  }
  const Vec3 rate = turning();
  const double angle = rate.norm() * h;
  if (angle > 0) {
    const Eigen::AngleAxisd rotation(angle, normal_.cross(rate).normalized());
    normal_ = (rotation * normal_).normalized();
    speed_ = rotation * speed_;
  }
  locate();
  modes = planar_modes(section_, volume_, normal_, f, size_, options_);
  kick(h / 2);
  speed_ -= speed_.dot(normal_) * normal_;

  // What rounding and the finite step added goes out of the velocity.
  if (const double gained = energy(f) - before; gained > 0) {
    const double kinetic = speed_.squaredNorm() / 2;
    speed_ *= kinetic > gained ? std::sqrt(1 - gained / kinetic) : 0.0;
  }
  ++substeps_;
  return h;
}

}  // namespace uadze::slosh
