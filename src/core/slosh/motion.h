#pragma once
// The fuel's way through a trace of forces, by the settled or the planar model, sampled evenly.
//
//   const auto motion = slosh_motion(solid, pickups, 0.012, trace, {.model = Model::planar, .step = 0.01});
//   motion[k].centroid, motion[k].surface, motion[k].wet ...
#include <vector>

#include "core/lap/force_trace.h"
#include "core/slosh/planar.h"
#include "core/tank/pickup.h"

namespace uadze::slosh {

enum class Model { settled, planar };

/// How the fuel lies at the first instant.
enum class Start {
  level,    ///< at rest in a car that stands still
  settled,  ///< at rest under the first force
};

struct MotionOptions {
  Model model = Model::planar;
  Start start = Start::level;
  double step = 0.01;  ///< s, between the instants given back; the planar model cuts it up as it needs
  PlanarOptions planar;
};

struct Instant {
  double time = 0.0;
  tank::Plane surface;
  double volume = 0.0;  ///< m3, as integrated under the surface
  Vec3 centroid = Vec3::Zero();
  std::vector<double> depth, wet;  ///< of each pickup: m; 0..1
};

/// Needs 0 < volume < the solid's and a step above zero.
std::vector<Instant> slosh_motion(const tank::Solid& solid, const std::vector<tank::Pickup>& pickups,
                                  double volume, const lap::ForceTrace& trace,
                                  const MotionOptions& options = {});

}  // namespace uadze::slosh
