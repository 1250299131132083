#include "core/slosh/foam_drag.h"

#include <algorithm>

namespace uadze::slosh {

std::array<FoamDrag, 2> foam_drag(const std::vector<tank::FoamPoint>& points, const tank::Plane& surface,
                                  const Vec3& middle, const SectionModes& modes) {
  std::array<FoamDrag, 2> out{};
  std::array<double, 2> squares{}, cubes{};
  for (const tank::FoamPoint& p : points) {
    if (surface.normal.dot(p.at) > surface.offset) continue;
    for (size_t i = 0; i < 2; ++i) {
      const double x = 2 * (p.at - middle).dot(modes.axis[i]) / modes.length[i];
      const double flow = std::max(1 - x * x, 0.01), square = flow * flow, cube = flow * square;
      squares[i] += square, cubes[i] += cube;
      out[i].darcy += square * p.darcy, out[i].inertial += cube * p.inertial;
    }
  }
  for (size_t i = 0; i < 2; ++i)
    if (cubes[i] > 0) out[i].darcy /= squares[i], out[i].inertial /= cubes[i];
  return out;
}

}  // namespace uadze::slosh
