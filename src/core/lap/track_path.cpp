#include "core/lap/track_path.h"

#include <algorithm>
#include <cmath>

namespace uadze::lap {

TrackPath track_path(const Track& track, double step) {
  TrackPath out;
  Vec2 at(0, 0);
  double heading = 0;
  out.points.push_back(at);
  for (const Segment& s : track.segments) {
    out.first.push_back(out.points.size() - 1);
    if (!(s.length > 0)) continue;
    const double bend = s.radius != 0 ? 1 / s.radius : 0.0;
    const int n = std::max(1, static_cast<int>(std::ceil(s.length / step)));
    const double ds = s.length / n;
    for (int k = 0; k < n; ++k) {
      // The chord of the arc: exact whatever the step.
      const double turn = bend * ds, half = turn / 2;
      const double chord = std::abs(half) > 1e-9 ? ds * std::sin(half) / half : ds;
      at += chord * Vec2(std::cos(heading + half), std::sin(heading + half));
      heading += turn;
      out.points.push_back(at);
    }
  }
  out.turned = heading;
  out.gap = at.norm();
  return out;
}

}  // namespace uadze::lap
