#include "core/tank/prism.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <numeric>

namespace uadze::tank {
namespace {

double cross(const Vec2& a, const Vec2& b) { return a.x() * b.y() - a.y() * b.x(); }
double turn(const Vec2& a, const Vec2& b, const Vec2& c) { return cross(b - a, c - a); }

bool on_segment(const Vec2& a, const Vec2& b, const Vec2& p) {
  return p.x() >= std::min(a.x(), b.x()) && p.x() <= std::max(a.x(), b.x()) &&
         p.y() >= std::min(a.y(), b.y()) && p.y() <= std::max(a.y(), b.y());
}

bool meet(const Vec2& a, const Vec2& b, const Vec2& c, const Vec2& d) {
  const double t1 = turn(a, b, c), t2 = turn(a, b, d), t3 = turn(c, d, a), t4 = turn(c, d, b);
  if (((t1 > 0) != (t2 > 0)) && ((t3 > 0) != (t4 > 0)) && t1 != 0 && t2 != 0 && t3 != 0 && t4 != 0)
    return true;
  return (t1 == 0 && on_segment(a, b, c)) || (t2 == 0 && on_segment(a, b, d)) ||
         (t3 == 0 && on_segment(c, d, a)) || (t4 == 0 && on_segment(c, d, b));
}

std::string shown(const Vec2& p) { return fmt::format("({:.6g}, {:.6g}) mm", p.x() * 1e3, p.y() * 1e3); }

}  // namespace

std::array<int, 2> profile_axes(Axis axis) {
  switch (axis) {
    case Axis::x:
      return {1, 2};
    case Axis::y:
      return {0, 2};
    case Axis::z:
      return {0, 1};
  }
  return {0, 2};
}

double polygon_area(const std::vector<Vec2>& polygon) {
  double sum = 0;
  for (size_t i = 0; i < polygon.size(); ++i) sum += cross(polygon[i], polygon[(i + 1) % polygon.size()]);
  return sum / 2;
}

std::vector<ProfileFault> profile_faults(const std::vector<Vec2>& profile) {
  std::vector<ProfileFault> faults;
  const int n = static_cast<int>(profile.size());
  if (n < 3) {
    faults.push_back({-1, "at least 3 points, so that the outline closes", fmt::format("{} points", n)});
    return faults;
  }
  // Sides are held against each other: the time grows with a power of their number.
  if (n > most_profile_points) {
    faults.push_back({-1, fmt::format("{} points at most", most_profile_points), fmt::format("{}", n)});
    return faults;
  }
  const auto at = [&](int i) -> const Vec2& { return profile[static_cast<size_t>(i % n)]; };
  for (int i = 0; i < n; ++i)
    if ((at(i) - at(i + 1)).norm() < 1e-9)
      faults.push_back({(i + 1) % n, fmt::format("a point apart from point {}", i),
                        "the same point again, " + shown(at(i + 1))});
  if (!faults.empty()) return faults;
  for (int i = 0; i < n; ++i)
    for (int j = i + 2; j < n; ++j) {
      if (i == 0 && j == n - 1) continue;  // neighbours, across the end
      if (meet(at(i), at(i + 1), at(j), at(j + 1)))
        faults.push_back({j, "an outline that does not cross or touch itself",
                          fmt::format("the side from point {} to point {} meets the side from point {} to "
                                      "point {}",
                                      i, (i + 1) % n, j, (j + 1) % n)});
    }
  if (faults.empty() && std::abs(polygon_area(profile)) < 1e-8)
    faults.push_back({-1, "an outline that encloses an area", "all points on one line"});
  return faults;
}

std::vector<Triangle> triangulate(const std::vector<Vec2>& polygon) {
  std::vector<int> left(polygon.size());
  std::iota(left.begin(), left.end(), 0);
  if (polygon_area(polygon) < 0) std::reverse(left.begin(), left.end());
  std::vector<Triangle> out;
  while (left.size() > 3) {
    const size_t n = left.size();
    size_t ear = n;
    double best = -1;
    for (size_t i = 0; i < n; ++i) {
      const int a = left[(i + n - 1) % n], b = left[i], c = left[(i + 1) % n];
      const double area = turn(polygon[a], polygon[b], polygon[c]);
      if (area < 0) continue;
      const bool empty = std::none_of(left.begin(), left.end(), [&](int k) {
        if (k == a || k == b || k == c) return false;
        const Vec2& p = polygon[k];
        return turn(polygon[a], polygon[b], p) >= 0 && turn(polygon[b], polygon[c], p) >= 0 &&
               turn(polygon[c], polygon[a], p) >= 0;
      });
      if (empty && area > best) best = area, ear = i;
    }
    if (ear == n) ear = 0;  // only for a polygon that is not simple: signed areas still add up
    out.push_back({left[(ear + n - 1) % n], left[ear], left[(ear + 1) % n]});
    left.erase(left.begin() + static_cast<std::ptrdiff_t>(ear));
  }
  if (left.size() == 3) out.push_back({left[0], left[1], left[2]});
  return out;
}

Solid make_solid(const Prism& prism) {
  std::vector<Vec2> profile = prism.profile;
  if (polygon_area(profile) < 0) std::reverse(profile.begin(), profile.end());
  const int n = static_cast<int>(profile.size());
  const auto [first, second] = profile_axes(prism.axis);
  const int along = static_cast<int>(prism.axis);
  std::vector<Vec3> vertices;
  for (const double end : {prism.from, prism.to})
    for (const Vec2& p : profile) {
      Vec3 v;
      v[first] = p.x(), v[second] = p.y(), v[along] = end;
      vertices.push_back(v);
    }
  // Seen from +axis the profile runs anticlockwise for x and z; for y its axes (x, z) make it clockwise.
  const bool flip = prism.axis == Axis::y;
  std::vector<Triangle> triangles;
  const auto add = [&](int a, int b, int c) {
    triangles.push_back(flip ? Triangle{a, c, b} : Triangle{a, b, c});
  };
  for (const Triangle& t : triangulate(profile)) {
    add(t[0] + n, t[1] + n, t[2] + n);
    add(t[2], t[1], t[0]);
  }
  for (int i = 0; i < n; ++i) {
    const int j = (i + 1) % n;
    add(i, j, j + n);
    add(i, j + n, i + n);
  }
  return {std::move(vertices), std::move(triangles)};
}

}  // namespace uadze::tank
