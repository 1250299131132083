#include "core/tank/shape.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <numbers>

namespace uadze::tank {
namespace {

constexpr double pi = std::numbers::pi;
constexpr int facets = 32;

/// Radius of the corners of a regular polygon that has the circle's area.
double corner_radius(double radius) {
  return radius * std::sqrt(2 * pi / facets / std::sin(2 * pi / facets));
}

template <class... F>
struct Choose : F... {
  using F::operator()...;
};

Vec3 lower(const Vec3& a, const Vec3& b) { return a.cwiseMin(b); }
Vec3 upper(const Vec3& a, const Vec3& b) { return a.cwiseMax(b); }

Prism box_prism(const Box& box) {
  const Vec3 a = lower(box.from, box.to), b = upper(box.from, box.to);
  return {Axis::x, {{a.y(), a.z()}, {b.y(), a.z()}, {b.y(), b.z()}, {a.y(), b.z()}}, a.x(), b.x()};
}

Revolved cylinder_profile(const Cylinder& c) {
  const double length = (c.end - c.start).norm();
  return {c.start, (c.end - c.start) / length, {{0, c.radius}, {length, c.radius}}};
}

// Rings at even angles, then all radii scaled so that the stack of frustums has the sphere's volume.
Revolved sphere_profile(const Sphere& s) {
  constexpr int rings = 18;
  Revolved out{s.centre, Vec3::UnitZ(), {}};
  double volume = 0;
  for (int i = 0; i <= rings; ++i) {
    const double angle = pi * i / rings;
    out.profile.emplace_back(-std::cos(angle), i == 0 || i == rings ? 0.0 : std::sin(angle));
    if (i == 0) continue;
    const Vec2 &a = out.profile[out.profile.size() - 2], &b = out.profile.back();
    volume += pi / 3 * (b.x() - a.x()) * (a.y() * a.y() + a.y() * b.y() + b.y() * b.y());
  }
  const double scale = s.radius * std::cbrt(4 * pi / 3 / volume);
  for (Vec2& p : out.profile) p *= scale;
  return out;
}

struct AxisFrame {
  Vec3 along, first, second;
};

// The first facet's middle faces down (or forward for an upright axis), so that a mirrored shape is a mirror.
AxisFrame frame_of(const Vec3& direction) {
  AxisFrame f;
  f.along = direction.normalized();
  Vec3 aside = std::abs(f.along.z()) < 0.9 ? Vec3(Vec3::UnitZ()) : Vec3(Vec3::UnitX());
  f.first = (aside - aside.dot(f.along) * f.along).normalized();
  f.second = f.along.cross(f.first);
  return f;
}

Vec3 on_ring(const Revolved& shape, const AxisFrame& f, const Vec2& point, int k) {
  const double angle = 2 * pi * (k + 0.5) / facets, r = corner_radius(point.y());
  return shape.start + point.x() * f.along + r * (std::cos(angle) * f.first + std::sin(angle) * f.second);
}

Solid revolved_solid(const Revolved& shape) {
  const AxisFrame f = frame_of(shape.direction);
  std::vector<Vec3> vertices;
  std::vector<Triangle> triangles;
  // A ring of a radius above zero is `facets` vertices, a point on the axis is one.
  struct Ring {
    int first;
    bool point;
  };
  std::vector<Ring> rings;
  const auto add_ring = [&](const Vec2& p) {
    rings.push_back({static_cast<int>(vertices.size()), p.y() <= 0});
    for (int k = 0; k < (p.y() <= 0 ? 1 : facets); ++k) vertices.push_back(on_ring(shape, f, p, k));
  };
  if (shape.profile.front().y() > 0) add_ring({shape.profile.front().x(), 0});
  for (const Vec2& p : shape.profile) add_ring(p);
  if (shape.profile.back().y() > 0) add_ring({shape.profile.back().x(), 0});
  for (size_t i = 0; i + 1 < rings.size(); ++i) {
    const auto corner = [&](size_t ring, int k) {
      return rings[ring].first + (rings[ring].point ? 0 : k % facets);
    };
    if (rings[i].point && rings[i + 1].point) continue;
    for (int k = 0; k < facets; ++k) {
      const int a = corner(i, k), b = corner(i, k + 1), c = corner(i + 1, k + 1), d = corner(i + 1, k);
      if (a != b) triangles.push_back({a, b, c});
      if (c != d) triangles.push_back({a, c, d});
    }
  }
  return {std::move(vertices), std::move(triangles)};
}

/// Planes through the faces of a convex solid, each once.
ConvexPiece faces_of(const Solid& solid) {
  ConvexPiece out;
  for (size_t i = 0; i < solid.triangles().size(); ++i) {
    const double area = solid.triangle_areas()[i].norm();
    if (area < 1e-14) continue;
    const Vec3 n = solid.triangle_areas()[i] / area;
    const double offset = n.dot(solid.vertices()[static_cast<size_t>(solid.triangles()[i][0])]);
    if (std::none_of(out.begin(), out.end(), [&](const Plane& p) {
          return (p.normal - n).norm() < 1e-9 && std::abs(p.offset - offset) < 1e-9;
        }))
      out.push_back({n, offset});
  }
  return out;
}

std::vector<ConvexPiece> prism_pieces(const Prism& prism) {
  const auto piece = [&](std::vector<Vec2> profile) {
    return faces_of(make_solid(Prism{prism.axis, std::move(profile), prism.from, prism.to}));
  };
  std::vector<Vec2> outline = prism.profile;
  if (polygon_area(outline) < 0) std::reverse(outline.begin(), outline.end());
  bool convex = true;
  for (size_t i = 0; i < outline.size(); ++i) {
    const Vec2 &a = outline[i], &b = outline[(i + 1) % outline.size()],
               &c = outline[(i + 2) % outline.size()];
    convex = convex && (b - a).x() * (c - b).y() - (b - a).y() * (c - b).x() >= 0;
  }
  if (convex) return {piece(outline)};
  std::vector<ConvexPiece> out;
  for (const Triangle& t : triangulate(outline))
    out.push_back(piece({outline[static_cast<size_t>(t[0])], outline[static_cast<size_t>(t[1])],
                         outline[static_cast<size_t>(t[2])]}));
  return out;
}

std::vector<ConvexPiece> revolved_pieces(const Revolved& shape) {
  std::vector<ConvexPiece> out;
  for (size_t i = 0; i + 1 < shape.profile.size(); ++i) {
    const Vec2 &a = shape.profile[i], &b = shape.profile[i + 1];
    if (b.x() - a.x() < 1e-9 || (a.y() <= 0 && b.y() <= 0)) continue;
    ConvexPiece piece = faces_of(revolved_solid({shape.start, shape.direction, {a, b}}));
    // The two ends first: they cut away most of what has to be gone through.
    const Vec3 along = shape.direction.normalized();
    std::stable_partition(piece.begin(), piece.end(),
                          [&](const Plane& p) { return std::abs(p.normal.dot(along)) > 1 - 1e-9; });
    out.push_back(std::move(piece));
  }
  return out;
}

std::string metres(double v) { return fmt::format("{:.6g} mm", v * 1e3); }

void corner_faults(Faults& out, const Vec3& from, const Vec3& to) {
  for (int k = 0; k < 3; ++k)
    if (std::abs(to[k] - from[k]) < 1e-3)
      out.push_back({Severity::error, place_of(to),
                     fmt::format("a corner 1 mm or more from from_mm along {}", "xyz"[k]),
                     metres(std::abs(to[k] - from[k]))});
}

}  // namespace

const std::vector<std::string>& shape_kinds() {
  static const std::vector<std::string> names{"box",    "prism",  "cylinder", "revolved",
                                              "sphere", "saddle", "mesh"};
  return names;
}

Prism saddle_prism(const Saddle& s) {
  const Vec3 a = lower(s.from, s.to), b = upper(s.from, s.to);
  const double t0 = std::min(s.tunnel_from, s.tunnel_to), t1 = std::max(s.tunnel_from, s.tunnel_to);
  return {Axis::x,
          {{a.y(), a.z()},
           {t0, a.z()},
           {t0, s.tunnel_top},
           {t1, s.tunnel_top},
           {t1, a.z()},
           {b.y(), a.z()},
           {b.y(), b.z()},
           {a.y(), b.z()}},
          a.x(),
          b.x()};
}

Faults shape_faults(const Shape& shape) {
  Faults out;
  const auto fail = [&](const auto& member, std::string expected, std::string found) {
    add_fault(out, Severity::error, place_of(member), std::move(expected), std::move(found));
  };
  const auto radius = [&](const double& r) {
    if (!(r >= 1e-3)) fail(r, "1 mm or more", metres(r));
  };
  std::visit(
      Choose{
          [&](const Box& s) { corner_faults(out, s.from, s.to); },
          [&](const Prism& s) {
            for (const auto& fault : profile_faults(s.profile)) {
              if (fault.point < 0)
                fail(s.profile, fault.expected, fault.found);
              else
                fail(s.profile[static_cast<size_t>(fault.point)], fault.expected, fault.found);
            }
            if (!(s.to - s.from >= 1e-3))
              fail(s.to, fmt::format("1 mm or more above from_mm, {:.6g}", s.from * 1e3),
                   fmt::format("{:.6g}", s.to * 1e3));
          },
          [&](const Cylinder& s) {
            radius(s.radius);
            if ((s.end - s.start).norm() < 1e-3)
              fail(s.end, "a point 1 mm or more from start_mm", "the same point");
          },
          [&](const Revolved& s) {
            if (!(s.direction.norm() > 1e-6)) fail(s.direction, "a direction that is not zero", "(0, 0, 0)");
            if (s.profile.size() < 2)
              fail(s.profile, "at least 2 points", fmt::format("{}", s.profile.size()));
            for (size_t i = 0; i < s.profile.size(); ++i) {
              if (s.profile[i].y() < 0) fail(s.profile[i], "a radius of 0 or more", metres(s.profile[i].y()));
              if (i > 0 && s.profile[i].x() < s.profile[i - 1].x())
                fail(s.profile[i], fmt::format("{} or more along the axis", metres(s.profile[i - 1].x())),
                     metres(s.profile[i].x()));
            }
            double bulk = 0;
            for (size_t i = 1; i < s.profile.size(); ++i)
              bulk += (s.profile[i].x() - s.profile[i - 1].x()) * (s.profile[i].y() + s.profile[i - 1].y());
            if (out.empty() && !(bulk > 1e-7)) fail(s.profile, "a profile that encloses a volume", "none");
          },
          [&](const Sphere& s) { radius(s.radius); },
          [&](const Saddle& s) {
            corner_faults(out, s.from, s.to);
            const Vec3 a = lower(s.from, s.to), b = upper(s.from, s.to);
            const double t0 = std::min(s.tunnel_from, s.tunnel_to), t1 = std::max(s.tunnel_from, s.tunnel_to);
            if (!(t0 > a.y() && t1 < b.y() && t1 - t0 >= 1e-3))
              fail(s.tunnel_from,
                   fmt::format("two places at least 1 mm apart between {:.6g} and {:.6g}", a.y() * 1e3,
                               b.y() * 1e3),
                   fmt::format("{:.6g} and {:.6g}", t0 * 1e3, t1 * 1e3));
            if (!(s.tunnel_top > a.z() && s.tunnel_top < b.z()))
              fail(s.tunnel_top, fmt::format("a height between {:.6g} and {:.6g}", a.z() * 1e3, b.z() * 1e3),
                   fmt::format("{:.6g}", s.tunnel_top * 1e3));
          },
          [&](const MeshShape& s) {
            if (!(s.unit >= 1e-6 && s.unit <= 10))
              fail(s.unit, "0.000001 to 10 m", fmt::format("{:.6g}", s.unit));
          }},
      shape);
  return out;
}

Solid make_solid(const Shape& shape, const MeshSource& meshes) {
  return std::visit(Choose{[](const Box& s) { return make_solid(box_prism(s)); },
                           [](const Prism& s) { return make_solid(s); },
                           [](const Cylinder& s) { return revolved_solid(cylinder_profile(s)); },
                           [](const Revolved& s) { return revolved_solid(s); },
                           [](const Sphere& s) { return revolved_solid(sphere_profile(s)); },
                           [](const Saddle& s) { return make_solid(saddle_prism(s)); },
                           [&](const MeshShape& s) {
                             const auto mesh = meshes ? meshes(s) : nullptr;
                             return mesh ? *mesh : Solid();
                           }},
                    shape);
}

std::vector<ConvexPiece> convex_pieces(const Shape& shape) {
  using Pieces = std::vector<ConvexPiece>;
  return std::visit(Choose{[](const Box& s) { return prism_pieces(box_prism(s)); },
                           [](const Prism& s) { return prism_pieces(s); },
                           [](const Cylinder& s) { return revolved_pieces(cylinder_profile(s)); },
                           [](const Revolved& s) { return revolved_pieces(s); },
                           [](const Sphere& s) { return revolved_pieces(sphere_profile(s)); },
                           [](const Saddle& s) { return prism_pieces(saddle_prism(s)); },
                           [](const MeshShape&) { return Pieces{}; }},
                    shape);
}

Shape moved(Shape shape, const Vec3& by) {
  std::visit(Choose{[&](Box& s) { s.from += by, s.to += by; },
                    [&](Prism& s) {
                      const auto [first, second] = profile_axes(s.axis);
                      for (Vec2& p : s.profile) p += Vec2(by[first], by[second]);
                      s.from += by[static_cast<int>(s.axis)], s.to += by[static_cast<int>(s.axis)];
                    },
                    [&](Cylinder& s) { s.start += by, s.end += by; }, [&](Revolved& s) { s.start += by; },
                    [&](Sphere& s) { s.centre += by; },
                    [&](Saddle& s) {
                      s.from += by, s.to += by;
                      s.tunnel_from += by.y(), s.tunnel_to += by.y(), s.tunnel_top += by.z();
                    },
                    [&](MeshShape& s) { s.move += by; }},
             shape);
  return shape;
}

}  // namespace uadze::tank
