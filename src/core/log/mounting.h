#pragma once
// Where an accelerometer sits and how it is turned, and what the fuel feels at the tank instead.
//
//      z ^   sensor's own axes, turned        car's axes: x forward, y left, z up
//        |  /
//        | /        r                          a_tank = a + dw/dt x r + w x (w x r),  w = (0, 0, yaw rate)
//        +-------------> tank
//
// The turn is found in two steps: standing still on level ground the sensor reads 1 g upward (roll and
// pitch); braking and speeding up straight ahead it reads along x (yaw), by the speed's own change.
// Limits: the ground's slope where the car stood is taken for level; roll and pitch rates are left out.
//
// Example:
//   EXPECT_NEAR(log::at_place(Vec3(0, 5, 9.81), 1.0, 0.5, Vec3(-1, 0, 0)).x(), 1.0, 1e-12);   // + w^2 r
//   EXPECT_NEAR(log::at_place(Vec3(0, 5, 9.81), 1.0, 0.5, Vec3(-1, 0, 0)).y(), 4.5, 1e-12);   // - dw/dt r
#include <optional>

#include "core/base/derivation.h"
#include "core/base/vector.h"
#include "core/log/log.h"

namespace uadze::log {

struct Mounting {
  Eigen::Matrix3d turn = Eigen::Matrix3d::Identity();  ///< car = turn * sensor
  double standing = 0;  ///< s of standing that it was found from; 0: roll and pitch taken as right
  double straight = 0;  ///< s of straight braking and speeding up; 0: yaw taken as right
  double pitch = 0, roll = 0, yaw = 0;  ///< rad, of the sensor in the car
};

/// From the log's own standing and straight stretches; what they do not show is taken as right. Needs
/// lateral, longitudinal and, for roll and pitch, vertical acceleration, and a speed.
Mounting find_mounting(const Log& log);

/// What an accelerometer would read at `r` (m, from the sensor) in the car's axes, with the yaw rate `w`
/// (rad/s) and its change (rad/s2).
Vec3 at_place(const Vec3& reading, double w, double change, const Vec3& r);

Derivation mounting_working(const Mounting& mounting);

}  // namespace uadze::log
