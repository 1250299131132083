#include "core/tank/cells.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace uadze::tank {

Plate::Plate(const Vec3& normal, double offset) : plane{normal, offset} {
  const Vec3 side = Vec3::UnitZ().cross(normal);
  level = side.norm() > 1e-6 ? Vec3(side.normalized()) : Vec3(Vec3::UnitY());
  up = normal.cross(level);
  if (up.z() < 0) up = -up;
}

bool within(const std::vector<Vec2>& polygon, const Vec2& p) {
  bool inside = false;
  for (size_t i = 0, j = polygon.size() - 1; i < polygon.size(); j = i++) {
    const Vec2 &a = polygon[i], &b = polygon[j];
    if ((a.y() > p.y()) != (b.y() > p.y()) &&
        p.x() < (b.x() - a.x()) * (p.y() - a.y()) / (b.y() - a.y()) + a.x())
      inside = !inside;
  }
  return inside;
}

Cells cells_of(const OpeningPart& part, const Plate& plate) {
  Cells out;
  const Vec3 middle = plate.onto(part.at);
  if (part.form == OpeningForm::round) {
    // One in the middle, six around it, all of the same area; each stands at its part's middle.
    const double a = part.diameter / 2, area = std::numbers::pi * a * a / 7;
    const double ring = a * 0.756;  // between the radii of 1/7 and of the whole area
    out.half_level = out.half_up = std::sqrt(area) / 2;
    out.list.push_back({middle, area});
    for (int k = 0; k < 6; ++k) {
      const double angle = k * std::numbers::pi / 3;
      out.list.push_back(
          {middle + ring * (std::cos(angle) * plate.level + std::sin(angle) * plate.up), area});
    }
    return out;
  }
  const Vec3 centre = part.form == OpeningForm::notch ? Vec3(middle + part.height / 2 * plate.up) : middle;
  const double aspect = part.width / part.height;
  const int across = std::clamp(static_cast<int>(std::lround(std::sqrt(6 * aspect))), 2, 8);
  const int upward = std::clamp(static_cast<int>(std::lround(6.0 / across)), 2, 8);
  out.half_level = part.width / across / 2, out.half_up = part.height / upward / 2;
  for (int i = 0; i < across; ++i)
    for (int j = 0; j < upward; ++j)
      out.list.push_back({centre + part.width * ((i + 0.5) / across - 0.5) * plate.level +
                              part.height * ((j + 0.5) / upward - 0.5) * plate.up,
                          part.width * part.height / across / upward});
  return out;
}

Cells grid_cells(const Plate& plate, const Solid& body, double area,
                 const std::function<bool(const Vec3&)>& open) {
  double low_u = 1e300, high_u = -1e300, low_v = 1e300, high_v = -1e300;
  for (const Vec3& v : body.vertices()) {
    low_u = std::min(low_u, plate.level.dot(v)), high_u = std::max(high_u, plate.level.dot(v));
    low_v = std::min(low_v, plate.up.dot(v)), high_v = std::max(high_v, plate.up.dot(v));
  }
  const double side = std::sqrt(std::max(area, 1e-6) / 20);
  const int across = std::clamp(static_cast<int>(std::ceil((high_u - low_u) / side)), 2, 60);
  const int upward = std::clamp(static_cast<int>(std::ceil((high_v - low_v) / side)), 2, 60);
  const double du = (high_u - low_u) / across, dv = (high_v - low_v) / upward;
  Cells out{{}, du / 2, dv / 2};
  for (int i = 0; i < across; ++i)
    for (int j = 0; j < upward; ++j) {
      const Vec3 at = plate.plane.offset * plate.plane.normal + (low_u + (i + 0.5) * du) * plate.level +
                      (low_v + (j + 0.5) * dv) * plate.up;
      if (open(at)) out.list.push_back({at, du * dv});
    }
  return out;
}

void scale_to(Cells& cells, double area) {
  double sum = 0;
  for (const Cell& c : cells.list) sum += c.area;
  if (sum > 0)
    for (Cell& c : cells.list) c.area *= area / sum;
}

}  // namespace uadze::tank
