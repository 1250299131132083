#include "core/tank/gauge.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "core/base/root.h"
#include "core/fluid/blend.h"

namespace uadze::tank {
namespace {

Plane level_surface(const Tank& tank, double volume, const Vec3& up) {
  PlaneCutter cutter(tank.whole);
  cutter.aim(up);
  return {up, cutter.offset_for(std::clamp(volume, 0.0, tank.volume())).offset};
}

/// Where the float's plane of swing lies: pivot, outward and upward parts of the arm.
Vec3 float_at(const Sender& s, double angle) {
  const Vec3 outward(std::cos(s.heading), std::sin(s.heading), 0);
  return s.pivot + Vec3(0, 0, s.raised) +
         s.arm * (std::cos(angle + s.bent) * outward + std::sin(angle + s.bent) * Vec3::UnitZ());
}

/// The whole tank's volume at which the pickup's sock is just covered, standing still.
double covering_volume(const Pickup& pickup, const Tank& tank, const Vec3& up) {
  const double reach = pickup.sock_radius * std::hypot(up.x(), up.y());
  return std::clamp(moments_below(tank.whole, {up, up.dot(pickup.position) + reach}).volume, 0.0,
                    tank.volume());
}

}  // namespace

Vec3 upward(const Rake& rake) {
  // Nose up: the world's upward leans back in the car's axes; left side up: it leans to the right.
  return Vec3(std::sin(rake.pitch), std::sin(rake.roll), std::cos(rake.pitch) * std::cos(rake.roll))
      .normalized();
}

Plane standing_surface(const Tank& tank, double volume, const Rake& rake) {
  return level_surface(tank, volume, upward(rake));
}

std::optional<double> floor_under(const Tank& tank, const Vec2& place) {
  // The lowest crossing of the upright line with the surface that has the tank above it.
  std::vector<double> heights;
  for (const Solid& wall : tank.walls)
    for (const Triangle& t : wall.triangles()) {
      const Vec3 a = wall.vertices()[static_cast<size_t>(t[0])],
                 b = wall.vertices()[static_cast<size_t>(t[1])],
                 c = wall.vertices()[static_cast<size_t>(t[2])];
      const auto cross = [&](const Vec3& p, const Vec3& q) {
        return (q - p).head<2>().x() * (place - p.head<2>()).y() -
               (q - p).head<2>().y() * (place - p.head<2>()).x();
      };
      const double u = cross(b, c), v = cross(c, a), w = cross(a, b), sum = u + v + w;
      if (std::abs(sum) < 1e-14) continue;
      if (u / sum < -1e-12 || v / sum < -1e-12 || w / sum < -1e-12) continue;
      heights.push_back((u * a.z() + v * b.z() + w * c.z()) / sum);
    }
  std::sort(heights.begin(), heights.end());
  for (double z : heights)
    if (tank.contains({place.x(), place.y(), z + 1e-4})) return z;
  return std::nullopt;
}

Vec2 deepest_place(const Tank& tank) {
  const Vec2 middle = tank.whole.centroid().head<2>();
  const double lowest = tank.lower_corner().z(), near = 1e-3;
  const auto deep = [&](const Vec2& place) {
    const auto floor = floor_under(tank, place);
    return floor && *floor <= lowest + near;
  };
  if (deep(middle)) return middle;
  // The middle of the largest level piece of floor down there; where there is none, the lowest corner, a
  // little towards the middle of its space.
  Vec2 best = middle;
  double area = 0, height = 1e300;
  for (const Space& space : tank.spaces) {
    const Solid& body = space.body;
    for (size_t i = 0; i < body.triangles().size(); ++i) {
      Vec3 sum = Vec3::Zero();
      double highest = -1e300;
      for (int corner : body.triangles()[i]) {
        const Vec3& v = body.vertices()[static_cast<size_t>(corner)];
        sum += v / 3;
        highest = std::max(highest, v.z());
      }
      const double size = body.triangle_areas()[i].norm();
      if (highest <= lowest + near && size > area * (1 + 1e-9) && deep(sum.head<2>()))
        area = size, best = sum.head<2>();
    }
    if (area > 0) continue;
    for (const Vec3& v : body.vertices()) {
      const Vec2 inward = v.head<2>() + 0.02 * (body.centroid().head<2>() - v.head<2>());
      if (const auto floor = floor_under(tank, inward); floor && *floor < height - 1e-9)
        height = *floor, best = inward;
    }
  }
  return best;
}

std::optional<double> dip_depth(const Tank& tank, const Vec2& place, const Plane& surface) {
  const auto floor = floor_under(tank, place);
  if (!floor || std::abs(surface.normal.z()) < 1e-6) return std::nullopt;
  const double wet = (surface.offset - surface.normal.head<2>().dot(place)) / surface.normal.z();
  return std::max(0.0, wet - *floor);
}

double sender_reading(const Sender& s, const Plane& surface) {
  // n.(pivot + arm (cos o + sin z)) = offset:  A cos + B sin = C, solved on the arm's rising side.
  const double low = s.empty, high = s.full;
  const auto over = [&](double angle) { return surface.normal.dot(float_at(s, angle)) - surface.offset; };
  double angle = low;
  if (over(low) >= 0) {
    angle = low;
  } else if (over(high) <= 0) {
    angle = high;
  } else {
    angle = root_between(over, low, high, 1e-15).value;
  }
  return (angle - low) / (high - low);
}

double volume_by_gauge(const Sender& sender, const Tank& tank, double reading) {
  Sender plain = sender;
  plain.bent = plain.raised = 0;
  const double angle = sender.empty + reading * (sender.full - sender.empty);
  return std::clamp(moments_below(tank.whole, {Vec3::UnitZ(), float_at(plain, angle).z()}).volume, 0.0,
                    tank.volume());
}

namespace {

std::optional<double> between(const TankParts& parts, double volume,
                              std::optional<double> FilledStep::*what) {
  const FilledStep* below = nullptr;
  for (const FilledStep& s : parts.filled) {
    if (!(s.*what)) continue;
    if (s.volume >= volume) {
      if (s.volume == volume) return s.*what;
      if (!below) return std::nullopt;
      return std::lerp(*(below->*what), *(s.*what), (volume - below->volume) / (s.volume - below->volume));
    }
    below = &s;
  }
  return std::nullopt;
}

}  // namespace

std::optional<double> filled_dip(const TankParts& parts, double volume) {
  return between(parts, volume, &FilledStep::dip);
}
std::optional<double> filled_gauge(const TankParts& parts, double volume) {
  return between(parts, volume, &FilledStep::gauge);
}

GaugeTable gauge_table(const TankParts& parts, const Tank& tank, const Vec2& place, const Rake& rake,
                       int steps) {
  GaugeTable out;
  const Vec3 up = upward(rake);
  if (const auto floor = floor_under(tank, place))
    out.unreached =
        std::clamp(moments_below(tank.whole, {up, up.dot(Vec3(place.x(), place.y(), *floor))}).volume, 0.0,
                   tank.volume());
  const auto gauge = [&](const Plane& surface, double& reading, double& believed) {
    if (!parts.sender) return;
    reading = sender_reading(*parts.sender, surface);
    believed = volume_by_gauge(*parts.sender, tank, reading);
  };
  const bool usual = rake == Rake{} && !parts.filled.empty() && (place - deepest_place(tank)).norm() < 1e-3;
  for (int i = 0; i <= steps; ++i) {
    GaugeRow row;
    row.volume = tank.volume() * i / steps;
    const Plane surface = level_surface(tank, row.volume, up);
    row.dip = dip_depth(tank, place, surface);
    if (i == 0 && row.dip) row.dip = 0.0;
    gauge(surface, row.reading, row.believed);
    if (usual) {
      if (const auto dip = filled_dip(parts, row.volume)) row.dip = dip, row.filled = true;
      if (const auto reading = filled_gauge(parts, row.volume)) {
        row.reading = *reading, row.filled = true;
        if (parts.sender) row.believed = volume_by_gauge(*parts.sender, tank, row.reading);
      }
    }
    out.rows.push_back(row);
  }
  for (const Pickup& p : parts.pickups) {
    Hidden h{p.name, covering_volume(p, tank, up), 0, 0};
    gauge(level_surface(tank, h.volume, up), h.reading, h.believed);
    out.hidden.push_back(h);
  }
  return out;
}

std::vector<Derivation> fill_limits(const TankParts& parts, const Tank& tank) {
  const double whole = tank.volume(), limit = whole * parts.usable_share;
  double shapes = 0;
  for (const Solid& wall : tank.walls) shapes += wall.volume();
  double below = whole;
  for (const Pickup& p : parts.pickups) below = std::min(below, covering_volume(p, tank, Vec3::UnitZ()));
  return {
      {.name = "Brimful",
       .value = whole,
       .quantity = Quantity::volume,
       .formula = "V = shapes - bodies - foam's own volume",
       .inputs = {{"V_shapes", "shapes, each on its own", shapes, Quantity::volume,
                   "divergence theorem, exact"},
                  {"V_taken", "overlap, bodies and foam", shapes - whole, Quantity::volume,
                   "computed, exact"}}},
      {.name = "May be filled",
       .value = limit,
       .quantity = Quantity::volume,
       .formula = "V = share x brimful",
       .inputs = {{"share", "may be filled to", parts.usable_share, Quantity::fraction, "entered"},
                  {"V_room", "room to expand", whole - limit, Quantity::volume, "brimful less that"}},
       .note = fmt::format("Petrol grows by about {:.2g} % for 10 K ({:.2g} 1/K): keep more room than that.",
                           fluid::petrol_expansion * 1000, fluid::petrol_expansion)},
      {.name = "Not reached at rest",
       .value = parts.pickups.empty() ? 0.0 : below,
       .quantity = Quantity::volume,
       .formula = "volume below the lowest pickup's sock, the car level",
       .source = "exact"}};
}

}  // namespace uadze::tank
