#include "core/tank/clip.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <optional>

#include "core/tank/prism.h"

namespace uadze::tank {
namespace {

/// Whether an outline turns one way only; corners on a straight side turn either way by rounding.
bool is_convex(const std::vector<Vec2>& flat) {
  const double way = polygon_area(flat) > 0 ? 1 : -1;
  for (size_t i = 0; i < flat.size(); ++i) {
    const Vec2 p = flat[(i + 1) % flat.size()] - flat[i],
               q = flat[(i + 2) % flat.size()] - flat[(i + 1) % flat.size()];
    if ((p.x() * q.y() - p.y() * q.x()) * way < -1e-9 * (p.squaredNorm() + q.squaredNorm())) return false;
  }
  return true;
}

/// Triangles of a flat outline, facing the normal if it runs anticlockwise; a fan where ears can not be
/// found, whose signed areas add up all the same.
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
  for (size_t i = 2; i < flat.size(); ++i) fan.push_back({0, static_cast<int>(i) - 1, static_cast<int>(i)});
  return fan;
}

/// A closed surface of convex polygons: cut again and again it does not fall into ever more triangles.
class Faces {
 public:
  explicit Faces(const Solid& solid) : vertices_(solid.vertices()), size_(solid.size()) {
    for (size_t i = 0; i < solid.triangles().size(); ++i) {
      const Triangle& t = solid.triangles()[i];
      faces_.push_back({{t[0], t[1], t[2]}, solid.weight(i)});
    }
  }
  bool empty() const { return faces_.empty(); }
  void clip(const Plane& plane);
  Solid solid() const;

 private:
  struct Face {
    std::vector<int> loop;
    double weight;
  };
  void add_caps(std::multimap<int, std::pair<int, double>>& edges, const Plane& plane);

  std::vector<Vec3> vertices_;
  std::vector<Face> faces_;
  double size_;
};

void Faces::clip(const Plane& plane) {
  // Corners on the plane but for rounding are on it: they are not cut off as slivers.
  const double on_plane = 1e-13 * (1 + std::abs(plane.offset) + size_);
  std::vector<double> depth(vertices_.size());
  bool any_above = false;
  for (size_t i = 0; i < vertices_.size(); ++i) {
    depth[i] = plane.normal.dot(vertices_[i]) - plane.offset;
    if (std::abs(depth[i]) < on_plane) depth[i] = 0;
    any_above = any_above || depth[i] > 0;
  }
  if (!any_above) return;
  std::vector<Vec3> vertices;
  std::vector<int> kept(vertices_.size(), -1);
  const auto keep = [&](int i) {
    int& to = kept[static_cast<size_t>(i)];
    if (to < 0) to = static_cast<int>(vertices.size()), vertices.push_back(vertices_[static_cast<size_t>(i)]);
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
      vertices.push_back(vertices_[i] + (vertices_[j] - vertices_[i]) * (depth[i] / (depth[i] - depth[j])));
    }
    return found->second;
  };
  std::vector<Face> faces;
  std::multimap<int, std::pair<int, double>> caps;  // where a piece of a cap's outline begins: end, weight
  for (const Face& face : faces_) {
    Face out{{}, face.weight};
    const auto push = [&](int v) {
      if (out.loop.empty() || (out.loop.back() != v && out.loop.front() != v)) out.loop.push_back(v);
    };
    int leaves = -1, enters = -1;
    for (size_t i = 0; i < face.loop.size(); ++i) {
      const int a = face.loop[i], b = face.loop[(i + 1) % face.loop.size()];
      const bool below_a = depth[static_cast<size_t>(a)] < 0, below_b = depth[static_cast<size_t>(b)] < 0;
      if (below_a) push(keep(a));
      if (below_a == below_b) continue;
      const int at = cross(a, b);
      push(at);
      (below_a ? leaves : enters) = at;
    }
    if (out.loop.size() >= 3) faces.push_back(std::move(out));
    if (leaves != enters) caps.emplace(enters, std::pair{leaves, face.weight});
  }
  vertices_ = std::move(vertices);
  faces_ = std::move(faces);
  add_caps(caps, plane);
}

void Faces::add_caps(std::multimap<int, std::pair<int, double>>& edges, const Plane& plane) {
  const Vec3 first = plane.normal.unitOrthogonal(), second = plane.normal.cross(first);
  while (!edges.empty()) {
    std::vector<int> outline;
    const double weight = edges.begin()->second.second;
    for (auto next = edges.begin(); next != edges.end();) {
      outline.push_back(next->first);
      const int to = next->second.first;
      edges.erase(next);
      next = edges.find(to);
    }
    if (outline.size() < 3) continue;
    std::vector<Vec2> flat;
    for (int i : outline) {
      const Vec3& p = vertices_[static_cast<size_t>(i)];
      flat.emplace_back(first.dot(p), second.dot(p));
    }
    if (is_convex(flat)) {
      faces_.push_back({std::move(outline), weight});
      continue;
    }
    for (const Triangle& t : cap_triangles(flat))
      faces_.push_back({{outline[static_cast<size_t>(t[0])], outline[static_cast<size_t>(t[1])],
                         outline[static_cast<size_t>(t[2])]},
                        weight});
  }
}

Solid Faces::solid() const {
  std::vector<Triangle> triangles;
  std::vector<double> weights;
  bool weighted = false;
  for (const Face& f : faces_)
    for (size_t i = 2; i < f.loop.size(); ++i) {
      triangles.push_back({f.loop[0], f.loop[i - 1], f.loop[i]});
      weights.push_back(f.weight);
      weighted = weighted || f.weight != 1.0;
    }
  return {vertices_, std::move(triangles), weighted ? std::move(weights) : std::vector<double>{}, false};
}

}  // namespace

Solid clipped(const Solid& solid, const Plane& plane) {
  Faces faces(solid);
  faces.clip(plane);
  return faces.solid();
}

Solid clipped(const Solid& solid, const std::vector<ConvexPiece>& pieces) {
  std::vector<Solid> parts;
  for (const ConvexPiece& piece : pieces) {
    Faces faces(solid);
    for (const Plane& plane : piece) {
      faces.clip(plane);
      if (faces.empty()) break;
    }
    if (!faces.empty()) parts.push_back(faces.solid());
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
  return {std::move(vertices), std::move(triangles), weighted ? std::move(weights) : std::vector<double>{},
          false};
}

namespace {

struct Facet {  // all triangles in one plane, either way round
  Vec3 normal;
  double offset;
  std::map<std::pair<int, int>, double> edges;  // net weight from the lower corner to the higher
};

/// Whether the middle of three points lies on the straight line between the others.
bool straight(const Vec3& a, const Vec3& b, const Vec3& c) {
  const Vec3 d = c - a;
  return (b - a).cross(d).norm() <= 1e-12 * std::max(d.squaredNorm(), 1e-12) && (b - a).dot(d) > 0 &&
         (c - b).dot(d) > 0;
}

/// Corners between two edges of the same weight on one line go.
void straighten(std::map<std::pair<int, int>, double>& edges, const std::vector<Vec3>& place) {
  for (bool changed = true; changed;) {
    changed = false;
    std::map<int, std::vector<std::pair<int, double>>> at;  // other end, weight away from here
    for (const auto& [e, w] : edges) {
      at[e.first].emplace_back(e.second, w);
      at[e.second].emplace_back(e.first, -w);
    }
    for (const auto& [middle, ends] : at) {
      if (ends.size() != 2 || ends[0].second != -ends[1].second) continue;
      const int a = ends[0].first, c = ends[1].first;
      if (a == c || !straight(place[static_cast<size_t>(a)], place[static_cast<size_t>(middle)],
                              place[static_cast<size_t>(c)]))
        continue;
      edges.erase(std::minmax(a, middle));
      edges.erase(std::minmax(middle, c));
      double& joined = edges[std::minmax(a, c)];
      joined += a < c ? ends[1].second : -ends[1].second;  // from a through the middle to c
      if (joined == 0) edges.erase(std::minmax(a, c));
      changed = true;
      break;
    }
  }
}

}  // namespace

Solid compacted(const Solid& solid) {
  constexpr size_t many = 1500;
  if (solid.triangles().size() > many || solid.triangles().size() < 13) return solid.grouped();
  const double near = 1e-10 * (1 + solid.size());
  // Corners by place.
  std::vector<Vec3> place;
  std::vector<int> at(solid.vertices().size());
  for (size_t i = 0; i < at.size(); ++i) {
    const Vec3& p = solid.vertices()[i];
    size_t k = 0;
    while (k < place.size() && (place[k] - p).cwiseAbs().maxCoeff() > near) ++k;
    if (k == place.size()) place.push_back(p);
    at[i] = static_cast<int>(k);
  }
  std::vector<Facet> facets;
  for (size_t i = 0; i < solid.triangles().size(); ++i) {
    const Triangle& t = solid.triangles()[i];
    const Vec3 &a = place[static_cast<size_t>(at[static_cast<size_t>(t[0])])],
               &b = place[static_cast<size_t>(at[static_cast<size_t>(t[1])])],
               &c = place[static_cast<size_t>(at[static_cast<size_t>(t[2])])];
    const Vec3 n = (b - a).cross(c - a);
    if (n.norm() < 1e-14) continue;
    Vec3 unit = n.normalized();
    int main = 0;
    unit.cwiseAbs().maxCoeff(&main);
    if (unit[main] < 0) unit = -unit;
    const double offset = unit.dot(a);
    size_t k = 0;
    while (k < facets.size() &&
           ((facets[k].normal - unit).norm() > 1e-7 || std::abs(facets[k].offset - offset) > 1e-8))
      ++k;
    if (k == facets.size()) facets.push_back({unit, offset, {}});
    for (size_t e = 0; e < 3; ++e) {
      const int from = at[static_cast<size_t>(t[e])], to = at[static_cast<size_t>(t[(e + 1) % 3])];
      if (from == to) continue;
      facets[k].edges[std::minmax(from, to)] += from < to ? solid.weight(i) : -solid.weight(i);
    }
  }
  std::vector<Triangle> triangles;
  std::vector<double> weights;
  bool weighted = false;
  for (Facet& f : facets) {
    std::erase_if(f.edges, [](const auto& e) { return std::abs(e.second) < 1e-12; });
    straighten(f.edges, place);
    // A fan from the busiest corner: signed triangles that add up to what the edges enclose.
    std::map<int, int> busy;
    for (const auto& [e, w] : f.edges) ++busy[e.first], ++busy[e.second];
    int apex = -1, most = 0;
    for (const auto& [v, count] : busy)
      if (count > most) apex = v, most = count;
    for (const auto& [e, w] : f.edges) {
      if (e.first == apex || e.second == apex) continue;
      const Vec3 &o = place[static_cast<size_t>(apex)], &a = place[static_cast<size_t>(e.first)],
                 &b = place[static_cast<size_t>(e.second)];
      if ((a - o).cross(b - o).norm() < 1e-14) continue;
      triangles.push_back(w > 0 ? Triangle{apex, e.first, e.second} : Triangle{apex, e.second, e.first});
      weights.push_back(std::abs(w));
      weighted = weighted || weights.back() != 1.0;
    }
  }
  Solid out(place, std::move(triangles), weighted ? std::move(weights) : std::vector<double>{});
  // Never at the cost of the volume.
  const bool same = std::abs(out.volume() - solid.volume()) <= 1e-12 * std::abs(solid.volume()) + 1e-18;
  return same && out.triangles().size() < solid.triangles().size() ? out : solid.grouped();
}

}  // namespace uadze::tank
