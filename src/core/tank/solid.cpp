#include "core/tank/solid.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <numbers>

namespace uadze::tank {
namespace {

// Adds the tetrahedra (apex, a, b, c): the apex lies on the plane, so that the cap would add nothing.
void add_tetrahedron(Moments& sum, const Vec3& apex, const Vec3& a, const Vec3& b, const Vec3& c) {
  const double v = (a - apex).dot((b - apex).cross(c - apex)) / 6.0;
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

/// The same for a triangle of a solid; `depth` is over the plane, negative below it.
int crossed(const Solid& solid, const Triangle& t, const Plane& plane, std::array<double, 3>& depth,
            std::array<int, 3>& order) {
  for (int k = 0; k < 3; ++k) depth[k] = plane.normal.dot(solid.vertices()[t[k]]) - plane.offset;
  return turned(depth, order);
}

struct Cut {
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
    const int count = crossed(solid, t, plane, d, o);
    if (count == 0 || count == 3) continue;
    const int a = t[o[0]], b = t[o[1]], c = t[o[2]];
    const Vec3 p = crossing(v[a], d[o[0]], a, v[b], d[o[1]], b);
    const Vec3 q = crossing(v[a], d[o[0]], a, v[c], d[o[2]], c);
    const auto ab = std::minmax(a, b), ac = std::minmax(a, c);
    // The clipped body's cap runs against the edge that the clipped triangle leaves on it.
    if (count == 1)
      visit(Cut{q, p, ac, ab});
    else
      visit(Cut{p, q, ab, ac});
  }
}

}  // namespace

Solid::Solid(std::vector<Vec3> vertices, std::vector<Triangle> triangles)
    : vertices_(std::move(vertices)), triangles_(std::move(triangles)) {
  lower_ = upper_ = vertices_.empty() ? Vec3(Vec3::Zero()) : vertices_.front();
  for (const Vec3& v : vertices_) {
    lower_ = lower_.cwiseMin(v);
    upper_ = upper_.cwiseMax(v);
  }
  areas_.reserve(triangles_.size());
  const Vec3 apex = (lower_ + upper_) / 2;  // near the body: less cancellation
  for (const Triangle& t : triangles_) {
    const Vec3 &a = vertices_[t[0]], &b = vertices_[t[1]], &c = vertices_[t[2]];
    areas_.push_back((b - a).cross(c - a) / 2.0);
    add_tetrahedron(whole_, apex, a, b, c);
  }
}

bool Solid::contains(const Vec3& point) const {
  double angle = 0.0;
  const double touching = 1e-9 * (upper_ - lower_).norm();
  for (const Triangle& t : triangles_) {
    const Vec3 a = vertices_[t[0]] - point, b = vertices_[t[1]] - point, c = vertices_[t[2]] - point;
    const double la = a.norm(), lb = b.norm(), lc = c.norm();
    if (la < touching || lb < touching || lc < touching) return true;
    angle += 2 * std::atan2(a.dot(b.cross(c)), la * lb * lc + a.dot(b) * lc + b.dot(c) * la + c.dot(a) * lb);
  }
  // On a face half of the sphere is covered, on an edge or in a corner less.
  if (angle > 2 * std::numbers::pi - 1e-6) return true;
  for (size_t i = 0; i < triangles_.size(); ++i) {
    const Triangle& t = triangles_[i];
    const Vec3 &a = vertices_[t[0]], &b = vertices_[t[1]], &c = vertices_[t[2]];
    const Vec3 n = areas_[i].normalized();
    if (std::abs(n.dot(point - a)) > touching) continue;
    if (n.dot((b - a).cross(point - a)) >= -touching && n.dot((c - b).cross(point - b)) >= -touching &&
        n.dot((a - c).cross(point - c)) >= -touching)
      return true;
  }
  return false;
}

Moments moments_below(const Solid& solid, const Plane& plane) {
  Moments sum;
  const auto& v = solid.vertices();
  // Any point on the plane serves as the apex; one near the body keeps the rounding small.
  const Vec3 middle = (solid.lower_corner() + solid.upper_corner()) / 2;
  const Vec3 apex = middle - plane.normal * (plane.normal.dot(middle) - plane.offset);
  for (const Triangle& t : solid.triangles()) {
    std::array<double, 3> d;
    std::array<int, 3> o;
    const int count = crossed(solid, t, plane, d, o);
    if (count == 0) continue;
    const Vec3 &a = v[t[o[0]]], &b = v[t[o[1]]], &c = v[t[o[2]]];
    if (count == 3) {
      add_tetrahedron(sum, apex, a, b, c);
      continue;
    }
    const Vec3 p = crossing(a, d[o[0]], t[o[0]], b, d[o[1]], t[o[1]]);
    const Vec3 q = crossing(a, d[o[0]], t[o[0]], c, d[o[2]], t[o[2]]);
    if (count == 1) {
      add_tetrahedron(sum, apex, a, p, q);
    } else {
      add_tetrahedron(sum, apex, p, b, c);
      add_tetrahedron(sum, apex, p, c, q);
    }
  }
  return sum;
}

Section section(const Solid& solid, const Plane& plane) {
  Section out;
  const Vec3 middle = (solid.lower_corner() + solid.upper_corner()) / 2;
  const Vec3 apex = middle - plane.normal * (plane.normal.dot(middle) - plane.offset);
  Vec3 first = Vec3::Zero();
  Mat3 second = Mat3::Zero();
  for_each_cut(solid, plane, [&](const Cut& cut) {
    const Vec3 p = cut.from - apex, q = cut.to - apex;
    const double area = plane.normal.dot(p.cross(q)) / 2;
    out.area += area;
    first += area * (p + q) / 3;
    second += area / 12 * (p * p.transpose() + q * q.transpose() + (p + q) * (p + q).transpose());
  });
  if (out.area <= 0) return {};
  const Vec3 mean = first / out.area;
  out.centroid = apex + mean;
  out.second = second - out.area * mean * mean.transpose();
  return out;
}

std::vector<std::vector<Vec3>> section_outlines(const Solid& solid, const Plane& plane) {
  std::map<std::pair<int, int>, Cut> by_start;
  for_each_cut(solid, plane, [&](const Cut& cut) { by_start.emplace(cut.from_edge, cut); });
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

PlaneCutter::PlaneCutter(const Solid& solid)
    : solid_(&solid), heights_(solid.vertices().size()), faces_(solid.triangles().size()) {
  aim(Vec3::UnitZ());
}

void PlaneCutter::aim(const Vec3& normal) {
  const auto& vertices = solid_->vertices();
  lowest_ = highest_ = normal.dot(vertices.front());
  for (size_t i = 0; i < vertices.size(); ++i) {
    const double h = normal.dot(vertices[i]);
    heights_[i] = h;
    lowest_ = std::min(lowest_, h);
    highest_ = std::max(highest_, h);
  }
  const auto& areas = solid_->triangle_areas();
  const auto& triangles = solid_->triangles();
  for (size_t i = 0; i < areas.size(); ++i) {
    const Triangle& t = triangles[i];
    const double a = heights_[t[0]], b = heights_[t[1]], c = heights_[t[2]];
    const double ab_low = std::min(a, b), ab_high = std::max(a, b);
    const double low = std::min(ab_low, c), high = std::max(ab_high, c);
    const double middle = std::max(ab_low, std::min(ab_high, c));
    // Where two heights coincide the part between them is empty and its factor is never used: any will do.
    const auto above_zero = [](double d) { return d > 0 ? d : 1.0; };
    const double lower = above_zero(middle - low), upper = above_zero(high - middle),
                 whole = above_zero(high - low);
    const double per = 1 / (lower * upper * whole);
    faces_[i] = {low, middle, high, per * upper, per * lower, normal.dot(areas[i])};
  }
}

// With p the plane's height over a triangle's lowest corner and q its depth under the highest, the share of
// the triangle below is p2/((middle - low)(high - low)) up to the middle corner and 1 - q2/((high -
// middle)(high - low)) from there on; the tip that it names has its mean depth at a third of its height.
PlaneCutter::Below PlaneCutter::below(double offset) const {
  double volume = 0.0, area = 0.0, slope = 0.0;
  for (const Face& f : faces_) {
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
  }
  return {volume / 3, area, 2 * slope};
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
