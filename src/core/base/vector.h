#pragma once
// Vectors in vehicle axes: x forward, y left, z up; SI units.
//
// Example:
//   EXPECT_EQ(Vec3(0, 1, 0), Vec3::UnitY()) << "to the left";
#include <Eigen/Core>
#include <Eigen/Geometry>

namespace uadze {

using Vec2 = Eigen::Vector2d;
using Vec3 = Eigen::Vector3d;
using Mat3 = Eigen::Matrix3d;

/// Standard gravity, m/s2 (ISO 80000-3).
inline constexpr double standard_gravity = 9.80665;

}  // namespace uadze
