#include "core/tank/solid.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <numbers>
#include <numeric>

namespace uadze::tank {
namespace {

// Adds the tetrahedra (apex, a, b, c): the apex lies on the plane, so that the cap would add nothing.
void add_tetrahedron(Moments& sum, const Vec3& apex, const Vec3& a, const Vec3& b, const Vec3& c,
                     double weight) {
  const double v = weight * (a - apex).dot((b - apex).cross(c - apex)) / 6.0;
  sum.volume += v;
  sum.first += v * (apex + a + b + c) / 4.0;
}

/// Turns the triangle so that the vertex that is alone on its side of the plane comes first.
/// Returns how many of its vertices are below.
int turned(const std::array<double, 3>& depth, std::array<int, 3>& order) {
  const bool below[3] = {depth[0] < 0, depth[1] < 0, depth[2] < 0};
  const int count = below[0] + below[1] + below[2];
  int alone = 0;
  if (count == 1 || count == 2)
    while (below[alone] != (count == 1)) ++alone;
  order = {alone, (alone + 1) % 3, (alone + 2) % 3};
  return count;
}

/// The point where the edge from a (depth da) to b (depth db) meets the plane. Taken from the end with the
/// lower index, so that both triangles of an edge find the very same point.
Vec3 crossing(const Vec3& a, double da, int ia, const Vec3& b, double db, int ib) {
  if (ia > ib) return crossing(b, db, ib, a, da, ia);
  return a + (b - a) * (da / (da - db));
}

struct CutEdge {
  Vec3 from, to;  // along the section's outline, anticlockwise seen from above
  std::pair<int, int> from_edge, to_edge;
};

/// Calls back for every piece of the section's outline.
template <class Visit>
void for_each_cut(const Solid& solid, const Plane& plane, Visit&& visit) {
  const auto& v = solid.vertices();
  for (const Triangle& t : solid.triangles()) {
    std::array<double, 3> d;
    std::array<int, 3> o;
    for (int k = 0; k < 3; ++k) d[k] = plane.normal.dot(v[t[k]]) - plane.offset;
    const int count = turned(d, o);
    if (count == 0 || count == 3) continue;
    const int a = t[o[0]], b = t[o[1]], c = t[o[2]];
    const Vec3 p = crossing(v[a], d[o[0]], a, v[b], d[o[1]], b);
    const Vec3 q = crossing(v[a], d[o[0]], a, v[c], d[o[2]], c);
    const auto ab = std::minmax(a, b), ac = std::minmax(a, c);
    // The clipped body's cap runs against the edge that the clipped triangle leaves on it.
    if (count == 1)
      visit(CutEdge{q, p, ac, ab});
    else
      visit(CutEdge{p, q, ab, ac});
  }
}

}  // namespace

Solid::Solid(std::vector<Vec3> vertices, std::vector<Triangle> triangles, std::vector<double> weights,
             bool grouped)
    : vertices_(std::move(vertices)), triangles_(std::move(triangles)), weights_(std::move(weights)) {
  lower_ = upper_ = vertices_.empty() ? Vec3(Vec3::Zero()) : vertices_.front();
  for (const Vec3& v : vertices_) {
    lower_ = lower_.cwiseMin(v);
    upper_ = upper_.cwiseMax(v);
  }
  areas_.reserve(triangles_.size());
  const Vec3 apex = (lower_ + upper_) / 2;  // near the body: less cancellation
  for (size_t i = 0; i < triangles_.size(); ++i) {
    const Triangle& t = triangles_[i];
    const Vec3 &a = vertices_[t[0]], &b = vertices_[t[1]], &c = vertices_[t[2]];
    areas_.push_back(weight(i) * (b - a).cross(c - a) / 2.0);
    add_tetrahedron(whole_, apex, a, b, c, weight(i));
  }
  constexpr size_t few = 160;
  if (grouped && triangles_.size() > few) {
    order_.resize(triangles_.size());
    std::iota(order_.begin(), order_.end(), 0);
    build_groups(0, static_cast<int>(order_.size()));
  }
}

// Depth first, so that a group's contents are the groups up to `next`. Volumes are kept from the box's middle
// of the whole, which stands for the origin here.
void Solid::build_groups(int begin, int end) {
  const size_t self = groups_.size();
  groups_.emplace_back();
  Group g;
  g.begin = begin, g.end = end;
  const Vec3 origin = middle();
  Vec3 low = Vec3::Constant(1e300), high = Vec3::Constant(-1e300);
  for (int k = begin; k < end; ++k) {
    const auto i = static_cast<size_t>(order_[static_cast<size_t>(k)]);
    Vec3 sum = Vec3::Zero();
    for (int corner : triangles_[i]) {
      const Vec3 v = vertices_[static_cast<size_t>(corner)];
      low = low.cwiseMin(v), high = high.cwiseMax(v);
      sum += v - origin;
    }
    const double volume = (vertices_[static_cast<size_t>(triangles_[i][0])] - origin).dot(areas_[i]) / 3;
    g.area += areas_[i];
    g.volume += volume;
    g.first += volume * sum;
    g.reach += sum * areas_[i].transpose();
  }
  g.middle = (low + high) / 2, g.half = (high - low) / 2;
  constexpr int leaf_size = 12;
  g.leaf = end - begin <= leaf_size;
  if (!g.leaf) {
    int axis = 0;
    g.half.maxCoeff(&axis);
    const int half = begin + (end - begin) / 2;
    const auto place = [&](int i) {
      double sum = 0;
      for (int corner : triangles_[static_cast<size_t>(i)])
        sum += vertices_[static_cast<size_t>(corner)][axis];
      return sum;
    };
    std::nth_element(order_.begin() + begin, order_.begin() + half, order_.begin() + end, [&](int a, int b) {
      const double pa = place(a), pb = place(b);
      return pa != pb ? pa < pb : a < b;
    });
    build_groups(begin, half);
    build_groups(half, end);
  }
  g.next = static_cast<int>(groups_.size());
  groups_[self] = g;
}

bool Solid::contains(const Vec3& point) const {
  double angle = 0.0;
  const double touching = 1e-9 * (upper_ - lower_).norm();
  for (size_t i = 0; i < triangles_.size(); ++i) {
    const Triangle& t = triangles_[i];
    const Vec3 a = vertices_[t[0]] - point, b = vertices_[t[1]] - point, c = vertices_[t[2]] - point;
    const double la = a.norm(), lb = b.norm(), lc = c.norm();
    if (la < touching || lb < touching || lc < touching) return true;
    angle += 2 * weight(i) *
             std::atan2(a.dot(b.cross(c)), la * lb * lc + a.dot(b) * lc + b.dot(c) * la + c.dot(a) * lb);
  }
  // On a face half of the sphere is covered, on an edge or in a corner less.
  if (angle > 2 * std::numbers::pi - 1e-6) return true;
  for (size_t i = 0; i < triangles_.size(); ++i) {
    const Triangle& t = triangles_[i];
    const Vec3 &a = vertices_[t[0]], &b = vertices_[t[1]], &c = vertices_[t[2]];
    const Vec3 n = areas_[i].normalized();
    if (!(n.squaredNorm() > 0.5)) continue;  // a triangle without area covers nothing
    if (std::abs(n.dot(point - a)) > touching) continue;
    if (n.dot((b - a).cross(point - a)) >= -touching && n.dot((c - b).cross(point - b)) >= -touching &&
        n.dot((a - c).cross(point - c)) >= -touching)
      return true;
  }
  return false;
}

Moments moments_below(const Solid& solid, const Plane& plane) {
  PlaneCutter cutter(solid);
  cutter.aim(plane.normal);
  return cutter.cut(plane.offset).below;
}

Section section(const Solid& solid, const Plane& plane) {
  PlaneCutter cutter(solid);
  cutter.aim(plane.normal);
  return cutter.cut(plane.offset).section;
}

std::vector<std::vector<Vec3>> section_outlines(const Solid& solid, const Plane& plane) {
  std::map<std::pair<int, int>, CutEdge> by_start;
  for_each_cut(solid, plane, [&](const CutEdge& cut) { by_start.emplace(cut.from_edge, cut); });
  std::vector<std::vector<Vec3>> outlines;
  while (!by_start.empty()) {
    std::vector<Vec3> outline;
    for (auto next = by_start.begin(); next != by_start.end();) {
      outline.push_back(next->second.from);
      const auto edge = next->second.to_edge;
      by_start.erase(next);
      next = by_start.find(edge);
    }
    if (outline.size() >= 3) outlines.push_back(std::move(outline));
  }
  return outlines;
}

PlaneCutter::PlaneCutter(const Solid& solid) : solid_(&solid) {
  if (solid.groups().empty()) {
    heights_.resize(solid.vertices().size());
    faces_.resize(solid.triangles().size());
  }
  aim(Vec3::UnitZ());
}

void PlaneCutter::aim(const Vec3& normal) {
  normal_ = normal;
  const auto& vertices = solid_->vertices();
  if (const auto& groups = solid_->groups(); !groups.empty()) {
    // The box gives the range to begin with: wide enough, and quick.
    const double middle = normal.dot(groups[0].middle), half = normal.cwiseAbs().dot(groups[0].half);
    lowest_ = middle - half, highest_ = middle + half;
    return;
  }
  double lowest = 1e300, highest = -1e300;
  const double nx = normal.x(), ny = normal.y(), nz = normal.z();
  for (size_t i = 0; i < vertices.size(); ++i) {
    const double h = nx * vertices[i].x() + ny * vertices[i].y() + nz * vertices[i].z();
    heights_[i] = h;
    lowest = std::min(lowest, h);
    highest = std::max(highest, h);
  }
  lowest_ = lowest, highest_ = highest;
  for (size_t i = 0; i < faces_.size(); ++i) faces_[i] = face(i);
}

PlaneCutter::Face PlaneCutter::face(size_t triangle) const {
  const Triangle& t = solid_->triangles()[triangle];
  const Vec3& area = solid_->triangle_areas()[triangle];
  double a, b, c;
  if (heights_.empty()) {
    const auto& v = solid_->vertices();
    a = normal_.dot(v[static_cast<size_t>(t[0])]), b = normal_.dot(v[static_cast<size_t>(t[1])]),
    c = normal_.dot(v[static_cast<size_t>(t[2])]);
  } else {
    a = heights_[static_cast<size_t>(t[0])], b = heights_[static_cast<size_t>(t[1])],
    c = heights_[static_cast<size_t>(t[2])];
  }
  const double ab_low = std::min(a, b), ab_high = std::max(a, b);
  const double low = std::min(ab_low, c), high = std::max(ab_high, c);
  const double middle = std::max(ab_low, std::min(ab_high, c));
  // Where two heights coincide the part between them is empty and its factor is never used: any will do.
  const auto above_zero = [](double d) { return d > 0 ? d : 1.0; };
  const double lower = above_zero(middle - low), upper = above_zero(high - middle),
               whole = above_zero(high - low);
  const double per = 1 / (lower * upper * whole);
  return {low,         middle,      high,
          per * upper, per * lower, normal_.x() * area.x() + normal_.y() * area.y() + normal_.z() * area.z()};
}

/// Calls back for groups that are wholly below, and for the triangles of those that the plane meets.
template <class OnGroup, class OnTriangle>
void PlaneCutter::visit(double offset, OnGroup&& on_group, OnTriangle&& on_triangle) const {
  const auto& groups = solid_->groups();
  // Boxes and corners round differently: what only touches the plane is looked at corner by corner.
  const double slack = 1e-12 * (solid_->size() + std::abs(offset));
  for (size_t g = 0; g < groups.size();) {
    const Solid::Group& group = groups[g];
    const double middle = normal_.dot(group.middle) - offset,
                 half = normal_.cwiseAbs().dot(group.half) + slack;
    if (middle - half >= 0) {
      g = static_cast<size_t>(group.next);
    } else if (middle + half < 0) {
      on_group(group);
      g = static_cast<size_t>(group.next);
    } else if (group.leaf) {
      for (int k = group.begin; k < group.end; ++k)
        on_triangle(solid_->group_order()[static_cast<size_t>(k)]);
      g = static_cast<size_t>(group.next);
    } else {
      ++g;
    }
  }
}

// With p the plane's height over a triangle's lowest corner and q its depth under the highest, the share of
// the triangle below is p2/((middle - low)(high - low)) up to the middle corner and 1 - q2/((high -
// middle)(high - low)) from there on; the tip that it names has its mean depth at a third of its height.
PlaneCutter::Below PlaneCutter::below(double offset) const {
  double volume = 0.0, area = 0.0, slope = 0.0;
  const auto add = [&](const Face& f) {
    const double p = std::max(offset - f.low, 0.0), q = std::max(f.high - offset, 0.0);
    const double lower_rate = p * f.per_lower, upper_rate = q * f.per_upper;
    const double lower_tip = p * lower_rate, upper_tip = q * upper_rate;
    const bool beyond = offset >= f.middle;
    const double share = beyond ? 1 - upper_tip : lower_tip;
    const double depths =
        beyond ? (f.low - offset) + (f.middle - offset) + (f.high - offset) - upper_tip * q : -lower_tip * p;
    volume += f.facing * depths;
    area -= f.facing * share;
    slope -= f.facing * (beyond ? upper_rate : lower_rate);
  };
  for (const Face& f : faces_) add(f);
  if (faces_.empty()) {
    const double origin = normal_.dot(solid_->middle());
    visit(
        offset,
        [&](const Solid::Group& g) {
          volume += normal_.dot(g.reach * normal_) - 3 * (offset - origin) * normal_.dot(g.area);
          area -= normal_.dot(g.area);
        },
        [&](int triangle) { add(face(static_cast<size_t>(triangle))); });
  }
  return {volume / 3, area, 2 * slope};
}

// The section's outline falls out of the same corners as the clipped triangles, so one pass serves both.
PlaneCutter::Cut PlaneCutter::cut(double offset) const {
  Cut out;
  const auto& v = solid_->vertices();
  const Vec3 middle = solid_->middle();
  const Vec3 apex = middle - normal_ * (normal_.dot(middle) - offset);
  // In the plane's own directions the section's sums are of plain numbers.
  const Vec3 e1 = normal_.unitOrthogonal(), e2 = normal_.cross(e1);
  double volume = 0, fx = 0, fy = 0, fz = 0;
  double area = 0, s1 = 0, s2 = 0, s11 = 0, s12 = 0, s22 = 0;
  const auto on_triangle = [&](size_t i) {
    const Triangle& t = solid_->triangles()[i];
    const auto i0 = static_cast<size_t>(t[0]), i1 = static_cast<size_t>(t[1]), i2 = static_cast<size_t>(t[2]);
    double h0, h1, h2;
    if (heights_.empty())
      h0 = normal_.dot(v[i0]) - offset, h1 = normal_.dot(v[i1]) - offset, h2 = normal_.dot(v[i2]) - offset;
    else
      h0 = heights_[i0] - offset, h1 = heights_[i1] - offset, h2 = heights_[i2] - offset;
    const bool b0 = h0 < 0, b1 = h1 < 0, b2 = h2 < 0;
    const int count = b0 + b1 + b2;
    if (count == 0) return;
    const Vec3& a_vector = solid_->triangle_areas()[i];
    const double ax = v[i0].x() - apex.x(), ay = v[i0].y() - apex.y(), az = v[i0].z() - apex.z();
    const double bx = v[i1].x() - apex.x(), by = v[i1].y() - apex.y(), bz = v[i1].z() - apex.z();
    const double cx = v[i2].x() - apex.x(), cy = v[i2].y() - apex.y(), cz = v[i2].z() - apex.z();
    // Of the tetrahedron from the apex on all of the triangle.
    const double whole = (a_vector.x() * ax + a_vector.y() * ay + a_vector.z() * az) / 3;
    if (count == 3) {
      volume += whole;
      fx += whole * (ax + bx + cx), fy += whole * (ay + by + cy), fz += whole * (az + bz + cz);
      return;
    }
    // The corner that is alone on its side comes first.
    const bool alone = count == 1;
    double px, py, pz, qx, qy, qz, ox, oy, oz, tp, tq;
    const auto cross = [&](double x0, double y0, double z0, double k0, double x1, double y1, double z1,
                           double k1, double x2, double y2, double z2, double k2) {
      tp = k0 / (k0 - k1), tq = k0 / (k0 - k2);
      ox = x0, oy = y0, oz = z0;
      px = x0 + tp * (x1 - x0), py = y0 + tp * (y1 - y0), pz = z0 + tp * (z1 - z0);
      qx = x0 + tq * (x2 - x0), qy = y0 + tq * (y2 - y0), qz = z0 + tq * (z2 - z0);
    };
    if (b0 == alone && b1 != alone && b2 != alone)
      cross(ax, ay, az, h0, bx, by, bz, h1, cx, cy, cz, h2);
    else if (b1 == alone && b2 != alone)
      cross(bx, by, bz, h1, cx, cy, cz, h2, ax, ay, az, h0);
    else
      cross(cx, cy, cz, h2, ax, ay, az, h0, bx, by, bz, h1);
    const double tip = whole * tp * tq;
    if (alone) {
      volume += tip;
      fx += tip * (ox + px + qx), fy += tip * (oy + py + qy), fz += tip * (oz + pz + qz);
    } else {
      volume += whole - tip;
      fx += whole * (ax + bx + cx) - tip * (ox + px + qx);
      fy += whole * (ay + by + cy) - tip * (oy + py + qy);
      fz += whole * (az + bz + cz) - tip * (oz + pz + qz);
    }
    // Against the clipped triangle's own edge, seen from above: q to p below the tip, p to q otherwise.
    const double p1 = e1.x() * px + e1.y() * py + e1.z() * pz, p2 = e2.x() * px + e2.y() * py + e2.z() * pz;
    const double q1 = e1.x() * qx + e1.y() * qy + e1.z() * qz, q2 = e2.x() * qx + e2.y() * qy + e2.z() * qz;
    const double piece = (alone ? -0.5 : 0.5) * solid_->weight(i) * (p1 * q2 - p2 * q1);
    const double m1 = p1 + q1, m2 = p2 + q2;
    area += piece;
    s1 += piece * m1, s2 += piece * m2;
    s11 += piece * (p1 * p1 + q1 * q1 + m1 * m1);
    s12 += piece * (p1 * p2 + q1 * q2 + m1 * m2);
    s22 += piece * (p2 * p2 + q2 * q2 + m2 * m2);
  };
  if (solid_->groups().empty()) {
    for (size_t i = 0; i < solid_->triangles().size(); ++i) on_triangle(i);
  } else {
    const Vec3 shift = middle - apex;  // groups are summed about the middle, this about the apex
    visit(
        offset,
        [&](const Solid::Group& g) {
          // Each tetrahedron from the apex: its volume plus what the moved origin adds, shift.A/3.
          const double part = g.volume + shift.dot(g.area) / 3;
          out.below.volume += part;
          out.below.first += (g.first + g.reach * shift / 3) / 4 + part * 3 / 4 * shift;
        },
        [&](int triangle) { on_triangle(static_cast<size_t>(triangle)); });
  }
  out.below.volume += volume;
  out.below.first += Vec3(fx, fy, fz) / 4 + out.below.volume * apex;
  if (!(area > 0)) return out;
  const double mean1 = s1 / (3 * area), mean2 = s2 / (3 * area);
  const double j11 = s11 / 12 - area * mean1 * mean1, j12 = s12 / 12 - area * mean1 * mean2,
               j22 = s22 / 12 - area * mean2 * mean2;
  out.section.area = area;
  out.section.centroid = apex + mean1 * e1 + mean2 * e2;
  out.section.second = j11 * e1 * e1.transpose() + j22 * e2 * e2.transpose() +
                       j12 * (e1 * e2.transpose() + e2 * e1.transpose());
  return out;
}

PlaneSolve PlaneCutter::offset_for(double volume) const {
  // A body seen corner first has no section at either end: its volume begins much like 3 t2 - 2 t3.
  const double fill = std::clamp(volume / solid_->volume(), 0.0, 1.0);
  const double t = 0.5 - std::sin(std::asin(1 - 2 * fill) / 3);
  return search(volume, lowest_ + t * (highest_ - lowest_));
}

PlaneSolve PlaneCutter::offset_for(double volume, double guess) const { return search(volume, guess); }

PlaneSolve PlaneCutter::search(double volume, double guess) const {
  using Stop = PlaneSolve::Stop;
  const double whole = solid_->volume();
  if (!(volume > 0)) return {lowest_, 0, 0 - volume, 0, Stop::clamped_empty};
  if (volume >= whole) return {highest_, 0, whole - volume, 0, Stop::clamped_full};
  const double tolerance = 1e-13 * whole;
  double low = lowest_, high = highest_;
  double offset = guess > low && guess < high ? guess : (low + high) / 2;
  PlaneSolve out;
  for (out.iterations = 1; out.iterations <= 200; ++out.iterations) {
    const Below now = below(offset);
    out.offset = offset;
    out.area = now.area;
    out.residual = now.volume - volume;
    if (std::abs(out.residual) <= tolerance) return out;
    (out.residual > 0 ? high : low) = offset;
    // Halley's step: volume is a cubic between two corners' heights, and its curvature comes for little.
    const double newton = now.area > 0 ? out.residual / now.area : 0;
    const double bend = now.area > 0 ? 1 - newton * now.slope / (2 * now.area) : 0;
    double next = bend > 0.5 ? offset - newton / bend : now.area > 0 ? offset - newton : low;
    if (!(next > low && next < high)) next = low + (high - low) / 2;
    if (next == offset || next == low || next == high) {
      out.stop = Stop::bracket_closed;
      return out;
    }
    offset = next;
  }
  out.stop = Stop::bracket_closed;
  return out;
}

}  // namespace uadze::tank
