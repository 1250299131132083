#pragma once
// Where the fuel lies under a steady acceleration.
//
// Example:
//   using namespace uadze;
//   const auto opened = test::demo("ostrel-p4");
//   const auto lies = solve::settle(opened.project, {}, {.level = 12e-3, .acceleration = {0, 0, 0}}, *opened.sources);
//   double held = 0;
//   for (const auto& space : lies.spaces) held += space.volume;
//   EXPECT_NEAR(held, 12e-3, 1e-12);
#include "core/solve/case.h"

namespace uadze::solve {

struct SettleOptions {
  double level = 0.0;                ///< m3
  Vec3 acceleration = Vec3::Zero();  ///< m/s2, of the vehicle
};

struct SettledSpace {
  std::string name;
  double volume = 0.0, capacity = 0.0;  ///< m3
  tank::Plane surface;
  double area = 0.0;  ///< m2, of the surface
  Vec3 centroid = Vec3::Zero();
};

struct SettledPickup {
  std::string name, feeds;
  double depth = 0.0;  ///< m
  double wet = 0.0;    ///< 0..1
};

struct Settled {
  std::string setup;
  double level = 0.0;
  Vec3 acceleration = Vec3::Zero(), force = Vec3::Zero(), centroid = Vec3::Zero();
  std::vector<SettledSpace> spaces;
  std::vector<SettledPickup> pickups;
};

/// Throws InputError where the fuel would be weightless, or for a level that the tank does not hold.
Settled settle(const project::Project& project, const Case& wanted, const SettleOptions& options,
               Sources& sources);

/// The named setup, or the first.
const project::Setup& chosen_setup(const project::Project& project, const std::string& name);

}  // namespace uadze::solve
