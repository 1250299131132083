#include "core/slosh/motion.h"

#include <algorithm>
#include <cmath>

#include "core/slosh/settled.h"

namespace uadze::slosh {

std::vector<Instant> slosh_motion(const tank::Solid& solid, const std::vector<tank::Pickup>& pickups,
                                  double volume, const lap::ForceTrace& trace, const MotionOptions& options) {
  SettledTank settled(solid);
  PlanarTank planar(solid, volume, options.planar);
  planar.settle(options.start == Start::level ? effective_gravity(Vec3::Zero()) : trace.force.front());
  const auto steps = static_cast<size_t>(std::floor((trace.end() - trace.begin()) / options.step + 1e-9));
  std::vector<Instant> out;
  out.reserve(steps + 1);
  for (size_t k = 0; k <= steps; ++k) {
    const double t = trace.begin() + static_cast<double>(k) * options.step;
    Instant now;
    now.time = t;
    if (options.model == Model::settled) {
      now.surface = settled.surface(trace.at(t), volume);
    } else {
      // The force between two instants follows the trace: rows are not stepped over.
      if (k > 0) {
        constexpr double finest = 0.005;
        const int parts = std::max(1, static_cast<int>(std::ceil(options.step / finest - 1e-9)));
        const double part = options.step / parts;
        for (int i = 0; i < parts; ++i) planar.step(trace.at(t - options.step + (i + 0.5) * part), part);
      }
      now.surface = planar.surface();
    }
    const tank::Moments fuel = moments_below(solid, now.surface);
    now.volume = fuel.volume;
    now.centroid = fuel.centroid();
    for (const tank::Pickup& p : pickups) {
      now.depth.push_back(depth(p, now.surface));
      now.wet.push_back(wet_fraction(p, now.surface));
    }
    out.push_back(std::move(now));
  }
  return out;
}

}  // namespace uadze::slosh
