#include "core/tank/foam.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>

#include "core/tank/shape.h"

namespace uadze::tank {
namespace {

constexpr double least_foam = 0.02;  // of a body: too little to be a space

double part(double x) { return x - std::floor(x); }

/// Where an upright line goes into a body and out of it: heights, each with what its face adds, rising.
std::vector<std::pair<double, double>> crossings(const Solid& body, double x, double y) {
  std::vector<std::pair<double, double>> out;
  const auto& vertices = body.vertices();
  for (size_t t = 0; t < body.triangles().size(); ++t) {
    const Triangle& corner = body.triangles()[t];
    const Vec3 &p = vertices[static_cast<size_t>(corner[0])], &q = vertices[static_cast<size_t>(corner[1])],
               &r = vertices[static_cast<size_t>(corner[2])];
    if (std::min({p.x(), q.x(), r.x()}) > x || std::max({p.x(), q.x(), r.x()}) < x) continue;
    const auto side = [&](const Vec3& from, const Vec3& to) {
      return (to.x() - from.x()) * (y - from.y()) - (to.y() - from.y()) * (x - from.x());
    };
    const double a = side(q, r), b = side(r, p), c = side(p, q), all = a + b + c;
    if (all == 0 || a * all < 0 || b * all < 0 || c * all < 0) continue;
    out.emplace_back((a * p.z() + b * q.z() + c * r.z()) / all, all > 0 ? -body.weight(t) : body.weight(t));
  }
  std::sort(out.begin(), out.end());
  return out;
}

/// As Solid::contains, a point on a wall this way or that: many are asked of meshes of many faces here.
bool holds(const Solid& body, const Vec3& point) {
  constexpr double off = 1.3e-7;  // m, past edges that lie along the axes
  double inside = 0;
  for (const auto& [height, adds] : crossings(body, point.x() + off, point.y() + 0.7 * off))
    if (height < point.z()) inside += adds;
  return inside > 0.5;
}

/// Points of even density in a body, on upright lines that are spread evenly themselves (Roberts' sequence:
/// multiples of the powers of 1/1.3247, the root of x^3 = x + 1).
std::vector<FoamPoint> even_points(const Solid& body) {
  std::vector<FoamPoint> out;
  const Vec3 low = body.lower_corner(), size = body.upper_corner() - low;
  constexpr int lines = foam_points / 5;
  constexpr double root = 1.3247179572447460;
  const double apart = body.volume() / (size.x() * size.y()) * lines / foam_points;
  if (!(apart > 0)) return out;
  for (int k = 1; k <= lines; ++k) {
    const double x = low.x() + part(0.5 + k / root) * size.x();
    const double y = low.y() + part(0.5 + k / (root * root)) * size.y();
    const double first = low.z() + part(k * std::numbers::phi) * apart;
    const auto cuts = crossings(body, x, y);
    double inside = 0;
    for (size_t c = 0; c + 1 < cuts.size(); ++c) {
      inside += cuts[c].second;
      if (inside < 0.5) continue;
      for (double n = std::ceil((cuts[c].first - first) / apart); first + n * apart < cuts[c + 1].first; ++n)
        out.push_back({.at = Vec3(x, y, first + n * apart)});
    }
  }
  return out;
}

/// The points' means made those of the whole, which are exact.
void level_out(Space& space) {
  double darcy = 0, inertial = 0;
  for (const FoamPoint& p : space.foamed) darcy += p.darcy, inertial += p.inertial;
  const auto n = static_cast<double>(space.foamed.size());
  if (!(darcy > 0) || !(inertial > 0)) {
    space.foamed.clear();
    return;
  }
  for (FoamPoint& p : space.foamed) {
    p.darcy *= space.darcy * n / darcy;
    p.inertial *= space.inertial * n / inertial;
  }
}

/// Faces of the foam's shape that a body lies on both sides of.
std::vector<FoamEdge> edges_of(const std::vector<ConvexPiece>& pieces, const Solid& inside,
                               const Solid& body) {
  std::vector<FoamEdge> out;
  const auto known = [&](const Plane& p) {
    return std::any_of(out.begin(), out.end(), [&](const FoamEdge& e) {
      return (e.plate.plane.normal - p.normal).norm() < 1e-6 &&
             std::abs(e.plate.plane.offset - p.offset) < 1e-6;
    });
  };
  for (const ConvexPiece& piece : pieces)
    for (const Plane& plane : piece) {
      if (known(plane)) continue;
      const Plate plate(plane.normal, plane.offset);
      const Vec3 by = beside_plate * plane.normal;
      const double area = section(inside, {plane.normal, plane.offset - 1e-6}).area;
      if (!(area > 0.01 * std::pow(body.volume(), 2.0 / 3))) continue;
      const Vec3 extent = body.upper_corner() - body.lower_corner();
      const Vec3 far = 0.1 * plane.normal.cwiseAbs().dot(extent) * plane.normal;
      bool all = true;
      size_t deep = 0;
      Cells cells = grid_cells(plate, inside, area, [&](const Vec3& p) {
        if (!holds(inside, p - by)) return false;
        const bool open = holds(body, p + by) && !holds(inside, p + by);
        all = all && open;
        deep += open && holds(body, p + far) && !holds(inside, p + far);
        return open;
      });
      if (cells.list.empty()) continue;
      if (all) scale_to(cells, area);
      out.push_back({plate, std::move(cells)});
      out.back().deep = out.back().cells.list.front().area * static_cast<double>(deep);
    }
  return out;
}

/// Whether every piece lies at an edge, on that side of it; a sliver that no cell saw goes to the largest
/// piece.
bool all_meet(std::vector<Solid>& pieces, const std::vector<FoamEdge>& edges, double side) {
  if (pieces.empty()) return false;
  const auto smaller = [](const Solid& a, const Solid& b) { return a.volume() < b.volume(); };
  const auto largest = std::max_element(pieces.begin(), pieces.end(), smaller);
  std::vector<Solid> out;
  std::vector<std::pair<const Solid*, double>> joined{{&*largest, 1.0}};
  for (Solid& piece : pieces) {
    const bool meets = std::any_of(edges.begin(), edges.end(), [&](const FoamEdge& e) {
      return std::any_of(e.cells.list.begin(), e.cells.list.end(), [&](const Cell& c) {
        return holds(piece, c.at + side * beside_plate * e.plate.plane.normal);
      });
    });
    if (!meets && piece.volume() < least_foam * largest->volume())
      joined.emplace_back(&piece, 1.0);
    else if (!meets)
      return false;
  }
  if (joined.size() > 1) *largest = together(joined);
  for (Solid& piece : pieces)
    if (std::none_of(joined.begin() + 1, joined.end(), [&](const auto& j) { return j.first == &piece; }))
      out.push_back(std::move(piece));
  pieces = std::move(out);
  return true;
}

}  // namespace

FoamParting parted_by(const Foam& foam, const Solid& body) {
  if (!foam.shape || std::holds_alternative<MeshShape>(*foam.shape)) return {};
  const std::vector<ConvexPiece> pieces = convex_pieces(*foam.shape);
  const Solid inside = clipped(body, pieces);
  const double share = inside.volume() / body.volume();
  if (!(share > least_foam && share < 1 - least_foam)) return {};
  FoamParting out{.foam = {}, .free = {body}, .edges = edges_of(pieces, inside, body)};
  double upright = 0, all = 0;
  for (const FoamEdge& e : out.edges) {
    all += e.deep;
    if (std::abs(e.plate.plane.normal.z()) < 0.5) upright += e.deep;
  }
  if (!(upright > 0.7 * all)) return {};
  // Where the foam fills the whole section it parts what lies before it from what lies behind.
  const double least = 1e-9;
  for (const FoamEdge& e : out.edges) {
    const Plane plane = e.plate.plane;
    if (section(inside, {plane.normal, plane.offset - 1e-6}).area <
        (1 - 1e-3) * section(body, {plane.normal, plane.offset - 1e-6}).area)
      continue;
    std::vector<Solid> next;
    for (Solid& s : out.free) {
      Solid below = clipped(s, plane), above = clipped(s, {-plane.normal, -plane.offset});
      if (below.volume() > least && above.volume() > least)
        next.push_back(std::move(below)), next.push_back(std::move(above));
      else
        next.push_back(std::move(s));
    }
    out.free = std::move(next);
  }
  std::vector<Solid> free;
  for (Solid& s : out.free) {
    Solid within = clipped(s, pieces);
    Solid rest = within.volume() > least ? together({{&s, 1.0}, {&within, -1.0}}) : std::move(s);
    if (within.volume() > least) out.foam.push_back(std::move(within));
    if (rest.volume() > least) free.push_back(std::move(rest));
  }
  out.free = std::move(free);
  if (!all_meet(out.foam, out.edges, -1) || !all_meet(out.free, out.edges, 1)) return {};
  return out;
}

double edge_discharge(double sharp, const std::vector<std::pair<double, double>>& inertial_and_length) {
  double loss = 1 / (sharp * sharp);
  for (const auto& [inertial, length] : inertial_and_length) loss += 2 * inertial * length / 9;
  return 1 / std::sqrt(loss);
}

double edge_discharge(const Opening& edge, double drag) {
  const double sharp = 1 / (Opening{}.discharge * Opening{}.discharge);
  return 1 / std::sqrt(sharp + drag * (1 / (edge.discharge * edge.discharge) - sharp));
}

std::vector<size_t> take_foam(std::vector<Space>& spaces, const std::vector<Foam>& foams) {
  std::vector<size_t> nowhere;
  for (Space& space : spaces) space.solid = space.body;
  for (size_t i = 0; i < foams.size(); ++i) {
    const Foam& foam = foams[i];
    bool any = false;
    for (Space& space : spaces) {
      if (!foam.shape) {
        space.solid = together({{&space.solid, foam.porosity}});
        space.darcy += foam.darcy(), space.inertial += foam.inertial();
        space.foam_keeps += foam.keeps * space.body.volume();
        for (FoamPoint& p : space.foamed) p.darcy += foam.darcy(), p.inertial += foam.inertial();
        any = true;
        continue;
      }
      const double before = space.solid.volume();
      const std::vector<ConvexPiece> pieces = convex_pieces(*foam.shape);
      const Solid inside = clipped(space.body, pieces);
      if (!(inside.volume() > 1e-9)) continue;
      any = true;
      const double share = inside.volume() / before;
      const bool everywhere = inside.volume() > (1 - 1e-6) * space.body.volume();
      if (space.foamed.empty() && !everywhere) {
        space.foamed = even_points(space.body);
        for (FoamPoint& p : space.foamed) p.darcy = space.darcy, p.inertial = space.inertial;
      }
      const Solid shape = make_solid(*foam.shape);
      for (FoamPoint& p : space.foamed)
        if (everywhere || shape.contains(p.at)) p.darcy += foam.darcy(), p.inertial += foam.inertial();
      space.darcy += share * foam.darcy(), space.inertial += share * foam.inertial();
      space.foam_keeps += foam.keeps * inside.volume();
      space.solid = together({{&space.solid, 1.0}, {&inside, -(1 - foam.porosity)}});
    }
    if (!any) nowhere.push_back(i);
  }
  for (Space& space : spaces) {
    space.solid = compacted(space.solid);
    if (!space.foamed.empty()) level_out(space);
  }
  return nowhere;
}

std::vector<int> bodies_of(const Tank& tank) {
  std::vector<int> body(tank.spaces.size());
  for (size_t s = 0; s < body.size(); ++s) body[s] = static_cast<int>(s);
  for (bool more = true; more;) {
    more = false;
    for (const Opening& o : tank.openings) {
      if (!o.edge) continue;
      int &a = body[static_cast<size_t>(o.from)], &b = body[static_cast<size_t>(o.to)];
      more = more || a != b;
      a = b = std::min(a, b);
    }
  }
  return body;
}

}  // namespace uadze::tank
