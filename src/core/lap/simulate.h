#pragma once
// A lap from a track and a car, by the usual quasi-steady pass forward and backward.
//
// The car is a point of mass m on a grid along the track. In car axes (left, up), with curvature k (+ left),
// banking b (+ leaning into the corner), slope s:
//   normal load a mass      N/m = g cos s cos b + v2 |k| sin b + rho A_down v2 / (2 m)
//   tyre force a mass, side F/m = v2 |k| cos b - g cos s sin b
//   grip circle             (F_side/m)^2 + (F_long/m)^2 <= (mu N/m)^2
//   drag                    rho A_drag v2 / (2 m), slope g sin s, rolling c g
// 1. speed limit of every point from the grip circle with no longitudinal force;
// 2. forward pass: traction (driven share of the grip left over) and power;
// 3. backward pass: grip left over and the brakes' limit;
// 4. time by the trapezoidal rule, sampled evenly.
// Source: Milliken and Milliken 1995, Race Car Vehicle Dynamics (quasi-steady grip circle); Brayshaw and
// Harrison 2005, A quasi steady state approach to race car lap simulation.
// Limits: no tyre temperature, no weight transfer, no gear change time; curvature is blended over
// `blend_length` where segments meet, as a driver would.
//
// Example:
//   const lap::Track track{.name = "bowl", .closed = true, .segments = {{.length = 400, .radius = 60}}};
//   EXPECT_EQ(track.segments.size(), 1u);
#include <cstdint>

#include "core/lap/corner.h"
#include "core/lap/lap.h"

namespace uadze::lap {

struct Segment {
  std::string name;      ///< corners have names; straights need none
  double length = 0.0;   ///< m
  double radius = 0.0;   ///< m; + left, - right, 0 straight
  double banking = 0.0;  ///< rad, + leaning into the corner
  double grade = 0.0;    ///< rise over run, + uphill
};

struct Track {
  std::string name;
  bool closed = true;
  std::vector<Segment> segments;
  double blend_length = 15.0;  ///< m
  double length() const;
  /// The named segments as corners.
  std::vector<Corner> corners() const;
};

struct Car {
  std::string name;
  double mass = 1000.0;                                     ///< kg, with driver and fuel
  double power = 200e3;                                     ///< W at the wheels
  double grip = 1.3;                                        ///< tyre grip, force over load
  double drag_area = 0.8;                                   ///< m2, drag coefficient times area
  double downforce_area = 0.0;                              ///< m2
  double rolling = 0.012;                                   ///< rolling resistance, force over load
  double brake_limit = 20.0;                                ///< m/s2, most the brakes can do
  double traction_share = 0.6;                              ///< share of the grip that the driven wheels have
  double air_density = 1.2;                                 ///< kg/m3
  double consumption = 8e-8;                                ///< kg/J, brake specific
  double fuel_density = 750.0;                              ///< kg/m3
  double idle_flow = 5e-7;                                  ///< m3/s, fuel at closed throttle
  double idle_rotation = 20.0;                              ///< 1/s
  double top_rotation = 130.0;                              ///< 1/s, where gears are changed
  std::vector<double> gear_speeds{20, 30, 41, 53, 66, 80};  ///< m/s at top rotation, each gear
};

struct Noise {
  std::uint64_t seed = 1;
  double acceleration = 0.0;  ///< m/s2, standard deviation
  double flow = 0.0;          ///< relative standard deviation
};

/// The lap, sampled at `rate` (1/s). A track that is not closed starts from rest. Throws InputError if the
/// car can not make the track (no grip, stands still).
Lap simulate(const Track& track, const Car& car, const Noise& noise = {}, double rate = 50.0);

}  // namespace uadze::lap
