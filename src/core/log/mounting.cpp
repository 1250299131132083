#include "core/log/mounting.h"

#include <Eigen/Geometry>
#include <cmath>

#include "core/log/filter.h"

namespace uadze::log {
namespace {

/// The shortest turn that brings a direction upright; a half one about x from straight down. (Eigen's own, between
/// any two vectors, decomposes a matrix for that last case, and is a third of what compiling this folder takes.)
Mat3 upright(const Vec3& direction) {
  const Vec3 axis = direction.cross(Vec3::UnitZ());
  const double sine = axis.norm();
  return Eigen::AngleAxisd(std::atan2(sine, direction.z()), sine > 1e-12 ? Vec3(axis / sine) : Vec3::UnitX())
      .toRotationMatrix();
}

}  // namespace

Mounting find_mounting(const Log& log) {
  Mounting out;
  const auto lat = log.values(Role::lat_acc), lon = log.values(Role::long_acc),
             up = log.values(Role::vert_acc), v = log.values(Role::speed);
  if (lat.empty() || lon.empty() || v.empty()) return out;
  // Standing: no speed, and no change of what is read.
  Vec3 sum = Vec3::Zero();
  for (size_t i = 1; i < log.size() && !up.empty(); ++i) {
    const double dt = log.time[i] - log.time[i - 1];
    if (std::abs(v[i]) > 0.3 || std::abs(v[i - 1]) > 0.3 || dt > 1) continue;
    sum += dt * Vec3(lon[i], lat[i], up[i]);
    out.standing += dt;
  }
  if (out.standing >= 1.0 && sum.norm() > 0.5 * standard_gravity * out.standing) {
    const Vec3 down = sum.normalized();
    out.turn = upright(down);
    out.pitch = std::asin(std::clamp(down.x(), -1.0, 1.0));
    out.roll = -std::atan2(down.y(), down.z());
  } else {
    out.standing = 0;
  }
  // Straight: how what is read along and across goes with the speed's change.
  const double step = std::max(log.step(), 0.02);
  double along = 0, across = 0;
  for (size_t p = 0; p < log.parts.size(); ++p) {
    const double begin = log.time[log.parts[p]],
                 end = log.time[p + 1 < log.parts.size() ? log.parts[p + 1] - 1 : log.size() - 1];
    if (end - begin < 5) continue;
    const auto even = [&](std::span<const float> values) {
      return low_pass(resampled(log, values, Between::straight, begin, end, step), 1 / step, 2.0);
    };
    const auto speed = even(v), x = even(lon), y = even(lat);
    const auto z = up.empty() ? std::vector<double>(x.size(), standard_gravity) : even(up);
    const auto yaw = log.values(Role::yaw_rate);
    const auto w = yaw.empty() ? std::vector<double>() : even(yaw);
    for (size_t i = 1; i + 1 < speed.size(); ++i) {
      const double change = (speed[i + 1] - speed[i - 1]) / (2 * step);
      const Vec3 a = out.turn * Vec3(x[i], y[i], z[i]);
      // Without a yaw rate, hard braking is straight enough.
      const bool straight = w.empty() ? change < -3 || std::hypot(a.x(), a.y()) < 1.3 * std::abs(change)
                                      : std::abs(w[i]) < 0.03;
      if (std::abs(change) < 1.5 || speed[i] < 5 || !straight) continue;
      along += a.x() * change * step, across += a.y() * change * step;
      out.straight += step;
    }
  }
  if (out.straight >= 2.0 && std::hypot(along, across) > 0) {
    out.yaw = -std::atan2(across, along);
    out.turn = Eigen::AngleAxisd(out.yaw, Vec3::UnitZ()).toRotationMatrix() * out.turn;
  } else {
    out.straight = 0;
  }
  return out;
}

Vec3 at_place(const Vec3& reading, double w, double change, const Vec3& r) {
  const Vec3 turn(0, 0, w), spin(0, 0, change);
  return reading + spin.cross(r) + turn.cross(turn.cross(r));
}

Derivation mounting_working(const Mounting& mounting) {
  return {.name = "How the sensor is turned",
          .value = mounting.yaw,
          .quantity = Quantity::angle,
          .formula = "standing: R a = (0, 0, g); straight: yaw = -atan2(sum a_y dv/dt, sum a_x dv/dt)",
          .inputs = {{"pitch", "nose of the sensor up", mounting.pitch, Quantity::angle, "standing"},
                     {"roll", "its left side up", mounting.roll, Quantity::angle, "standing"},
                     {"t_standing", "stood still for", mounting.standing, Quantity::duration, "log"},
                     {"t_straight", "braked and sped up straight for", mounting.straight, Quantity::duration,
                      "log"}},
          .source = "an accelerometer at rest reads 1 g upward, one that is braked straight reads along x",
          .note = "The ground where the car stood is taken for level.",
          .steps = {}};
}

}  // namespace uadze::log
