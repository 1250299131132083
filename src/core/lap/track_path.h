#pragma once
// A track's middle line from its segments, to be looked at while it is typed: arcs and straights end to end.
//
// Example:
//   const lap::Track oval{.name = "oval", .closed = true,
//                         .segments = {{.length = 200}, {.length = 157.0796, .radius = 50}, {.length = 200}, {.length = 157.0796, .radius = 50}}};
//   const lap::TrackPath path = lap::track_path(oval);
//   EXPECT_LT(path.gap, 0.01);                         // m: it comes back to its start
//   EXPECT_NEAR(path.turned, 2 * 3.14159265, 1e-5);    // rad, to the left
#include "core/base/vector.h"
#include "core/lap/simulate.h"

namespace uadze::lap {

struct TrackPath {
  std::vector<Vec2> points;   ///< m, every `step` along it; the first at the origin, heading along x
  std::vector<size_t> first;  ///< of each segment's points
  double gap = 0.0;           ///< m, from its end to its start
  double turned = 0.0;        ///< rad, the whole of its turns, + left
};

/// Curvature as it is entered, not blended. Segments of no length are passed over.
TrackPath track_path(const Track& track, double step = 5.0);

}  // namespace uadze::lap
