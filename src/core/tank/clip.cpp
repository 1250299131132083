#include "core/tank/clip.h"

#include <cmath>
#include <map>
#include <optional>

#include "core/tank/prism.h"

namespace uadze::tank {
namespace {

/// Triangles of a flat outline, facing the normal if it runs anticlockwise; a fan where ears can not be found,
/// whose signed areas add up all the same.
std::vector<Triangle> cap_triangles(const std::vector<Vec2>& flat) {
  const double area = polygon_area(flat);
  constexpr size_t many = 300;
  if (flat.size() <= many) {
    std::vector<Triangle> ears = triangulate(flat);
    double sum = 0;
    for (const Triangle& t : ears) {
      const Vec2 a = flat[static_cast<size_t>(t[0])], b = flat[static_cast<size_t>(t[1])] - a,
                 c = flat[static_cast<size_t>(t[2])] - a;
      sum += std::abs(b.x() * c.y() - b.y() * c.x()) / 2;
    }
    if (std::abs(sum - std::abs(area)) <= 1e-12 * std::abs(area)) {
      if (area < 0)
        for (Triangle& t : ears) std::swap(t[1], t[2]);
      return ears;
    }
  }
  std::vector<Triangle> fan;
  for (size_t i = 2; i < flat.size(); ++i)
    fan.push_back({0, static_cast<int>(i) - 1, static_cast<int>(i)});
  return fan;
}

}  // namespace

Solid clipped(const Solid& solid, const Plane& plane) {
  const auto& v = solid.vertices();
  std::vector<double> depth(v.size());
  // Corners on the plane but for rounding are on it: they are not cut off as slivers.
  const double on_plane = 1e-13 * (1 + std::abs(plane.offset) + solid.size());
  for (size_t i = 0; i < v.size(); ++i) {
    depth[i] = plane.normal.dot(v[i]) - plane.offset;
    if (std::abs(depth[i]) < on_plane) depth[i] = 0;
  }
  std::vector<Vec3> vertices;
  std::vector<Triangle> triangles;
  std::vector<double> weights;
  bool weighted = false;
  std::vector<int> kept(v.size(), -1);
  const auto keep = [&](int i) {
    int& to = kept[static_cast<size_t>(i)];
    if (to < 0) to = static_cast<int>(vertices.size()), vertices.push_back(v[static_cast<size_t>(i)]);
    return to;
  };
  std::map<std::pair<int, int>, int> on_edge;
  const auto cross = [&](int a, int b) {
    if (depth[static_cast<size_t>(a)] == 0) return keep(a);
    if (depth[static_cast<size_t>(b)] == 0) return keep(b);
    const auto edge = std::minmax(a, b);
    const auto [found, fresh] = on_edge.try_emplace(edge, static_cast<int>(vertices.size()));
    if (fresh) {
      const auto i = static_cast<size_t>(edge.first), j = static_cast<size_t>(edge.second);
      vertices.push_back(v[i] + (v[j] - v[i]) * (depth[i] / (depth[i] - depth[j])));
    }
    return found->second;
  };
  double weight = 1.0;
  const auto add = [&](int a, int b, int c) {
    if (a == b || b == c || c == a) return;
    triangles.push_back({a, b, c});
    weights.push_back(weight);
  };
  std::multimap<int, std::pair<int, double>> caps;  // where a piece of the cap's outline begins: end, weight
  for (size_t i = 0; i < solid.triangles().size(); ++i) {
    const Triangle& t = solid.triangles()[i];
    weight = solid.weight(i);
    weighted = weighted || weight != 1.0;
    const auto below = [&](int k) { return depth[static_cast<size_t>(t[static_cast<size_t>(k)])] < 0; };
    const int count = below(0) + below(1) + below(2);
    if (count == 0) continue;
    if (count == 3) {
      add(keep(t[0]), keep(t[1]), keep(t[2]));
      continue;
    }
    int alone = 0;
    while (below(alone) != (count == 1)) ++alone;
    const int a = t[static_cast<size_t>(alone)], b = t[static_cast<size_t>((alone + 1) % 3)],
              c = t[static_cast<size_t>((alone + 2) % 3)];
    const int p = cross(a, b), q = cross(a, c);
    if (count == 1) {
      add(keep(a), p, q);
      if (p != q) caps.emplace(q, std::pair{p, weight});
    } else {
      add(p, keep(b), keep(c));
      add(p, keep(c), q);
      if (p != q) caps.emplace(p, std::pair{q, weight});
    }
  }
  const Vec3 first = plane.normal.unitOrthogonal(), second = plane.normal.cross(first);
  while (!caps.empty()) {
    std::vector<int> outline;
    weight = caps.begin()->second.second;
    for (auto next = caps.begin(); next != caps.end();) {
      outline.push_back(next->first);
      const int to = next->second.first;
      caps.erase(next);
      next = caps.find(to);
    }
    if (outline.size() < 3) continue;
    std::vector<Vec2> flat;
    for (int i : outline) {
      const Vec3& p = vertices[static_cast<size_t>(i)];
      flat.emplace_back(first.dot(p), second.dot(p));
    }
    for (const Triangle& t : cap_triangles(flat))
      add(outline[static_cast<size_t>(t[0])], outline[static_cast<size_t>(t[1])],
          outline[static_cast<size_t>(t[2])]);
  }
  return {std::move(vertices), std::move(triangles), weighted ? std::move(weights) : std::vector<double>{}};
}

Solid clipped(const Solid& solid, const std::vector<ConvexPiece>& pieces) {
  std::vector<Solid> parts;
  for (const ConvexPiece& piece : pieces) {
    Solid part = solid;
    for (const Plane& plane : piece) {
      part = clipped(part, plane);
      if (part.triangles().empty()) break;
    }
    if (!part.triangles().empty()) parts.push_back(std::move(part));
  }
  std::vector<std::pair<const Solid*, double>> all;
  for (const Solid& part : parts) all.emplace_back(&part, 1.0);
  return together(all);
}

Solid together(const std::vector<std::pair<const Solid*, double>>& parts) {
  std::vector<Vec3> vertices;
  std::vector<Triangle> triangles;
  std::vector<double> weights;
  bool weighted = false;
  for (const auto& [solid, weight] : parts) {
    const int base = static_cast<int>(vertices.size());
    vertices.insert(vertices.end(), solid->vertices().begin(), solid->vertices().end());
    for (size_t i = 0; i < solid->triangles().size(); ++i) {
      const Triangle& t = solid->triangles()[i];
      // Taken away is turned inside out: weights stay positive, and so do drawn faces look outward.
      triangles.push_back(weight < 0 ? Triangle{t[0] + base, t[2] + base, t[1] + base}
                                     : Triangle{t[0] + base, t[1] + base, t[2] + base});
      weights.push_back(std::abs(weight) * solid->weight(i));
      weighted = weighted || weights.back() != 1.0;
    }
  }
  return {std::move(vertices), std::move(triangles), weighted ? std::move(weights) : std::vector<double>{}};
}

}  // namespace uadze::tank
