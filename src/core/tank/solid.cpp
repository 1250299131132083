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
    std::vector<int> order(triangles_.size());
    std::iota(order.begin(), order.end(), 0);
    build_groups(order, 0, static_cast<int>(order.size()));
  } else {
    blocks_.resize(lane_blocks(triangles_.size()));
    for (size_t i = 0; i < triangles_.size(); ++i) put_face(blocks_[i / lanes], i % lanes, i);
    // Empty lanes have no area, and their heights are those of a face that is there.
    for (size_t i = triangles_.size(); i > 0 && i < lanes * blocks_.size(); ++i)
      blocks_.back().repeat(i % lanes);
  }
}

void Solid::put_face(FaceBlock& block, size_t lane, size_t i) const {
  const Triangle& t = triangles_[i];
  const Vec3 origin = middle();
  block.put(lane, vertices_[static_cast<size_t>(t[0])] - origin,
            vertices_[static_cast<size_t>(t[1])] - origin, vertices_[static_cast<size_t>(t[2])] - origin,
            areas_[i], weight(i));
}

// Depth first, so that a group's contents are the groups up to `next`. Volumes are kept from the box's middle
// of the whole, which stands for the origin here.
void Solid::build_groups(std::vector<int>& order, int begin, int end) {
  const size_t self = groups_.size();
  groups_.emplace_back();
  Group g;
  const Vec3 origin = middle();
  Vec3 low = Vec3::Constant(1e300), high = Vec3::Constant(-1e300);
  for (int k = begin; k < end; ++k) {
    const auto i = static_cast<size_t>(order[static_cast<size_t>(k)]);
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
  g.leaf = end - begin <= static_cast<int>(lanes);
  if (g.leaf) {
    g.block = static_cast<int>(blocks_.size());
    FaceBlock& block = blocks_.emplace_back();
    for (size_t k = 0; k < lanes; ++k) {
      const int at = begin + static_cast<int>(k);
      if (at < end)
        put_face(block, k, static_cast<size_t>(order[static_cast<size_t>(at)]));
      else
        block.repeat(k);
    }
  } else {
    int axis = 0;
    g.half.maxCoeff(&axis);
    const int half = begin + (end - begin) / 2;
    const auto place = [&](int i) {
      double sum = 0;
      for (int corner : triangles_[static_cast<size_t>(i)])
        sum += vertices_[static_cast<size_t>(corner)][axis];
      return sum;
    };
    std::nth_element(order.begin() + begin, order.begin() + half, order.begin() + end, [&](int a, int b) {
      const double pa = place(a), pb = place(b);
      return pa != pb ? pa < pb : a < b;
    });
    build_groups(order, begin, half);
    build_groups(order, half, end);
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
  if (solid.groups().empty()) turned_.resize(solid.blocks().size());
  aim(Vec3::UnitZ());
}

void PlaneCutter::aim(const Vec3& normal) {
  normal_ = normal;
  origin_ = normal.dot(solid_->middle());
  if (const auto& groups = solid_->groups(); !groups.empty()) {
    // The box gives the range to begin with: wide enough, and quick.
    const double middle = normal.dot(groups[0].middle), half = normal.cwiseAbs().dot(groups[0].half);
    lowest_ = middle - half, highest_ = middle + half;
    return;
  }
  const HeightRange range = turn(solid_->blocks().data(), turned_.size(), normal, turned_.data());
  lowest_ = origin_ + range.lowest, highest_ = origin_ + range.highest;
}

/// Calls back for groups that are wholly below, and for the faces of those that the plane meets.
template <class OnGroup, class OnLeaf>
void PlaneCutter::visit(double offset, OnGroup&& on_group, OnLeaf&& on_leaf) const {
  const auto& groups = solid_->groups();
  // Boxes and corners round differently: what only touches the plane is looked at corner by corner.
  const double slack = 1e-12 * (solid_->size() + std::abs(offset));
  TurnedBlock leaf;
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
      turn(&solid_->blocks()[static_cast<size_t>(group.block)], 1, normal_, &leaf);
      on_leaf(leaf);
      g = static_cast<size_t>(group.next);
    } else {
      ++g;
    }
  }
}

PlaneCutter::Below PlaneCutter::below(double offset) const {
  if (solid_->groups().empty()) {
    const BelowSums s = sum_below(turned_.data(), turned_.size(), offset - origin_);
    return {s.volume / 3, s.area, 2 * s.slope};
  }
  BelowSums sum;
  visit(
      offset,
      [&](const Solid::Group& g) {
        sum.volume += normal_.dot(g.reach * normal_) - 3 * (offset - origin_) * normal_.dot(g.area);
        sum.area -= normal_.dot(g.area);
      },
      [&](const TurnedBlock& leaf) {
        const BelowSums s = sum_below(&leaf, 1, offset - origin_);
        sum.volume += s.volume, sum.area += s.area, sum.slope += s.slope;
      });
  return {sum.volume / 3, sum.area, 2 * sum.slope};
}

// The section's outline falls out of the same corners as the clipped triangles, so one pass serves both.
PlaneCutter::Cut PlaneCutter::cut(double offset) const {
  Cut out;
  // In the plane's own directions the section's sums are of plain numbers.
  const Vec3 e1 = normal_.unitOrthogonal(), e2 = normal_.cross(e1);
  const Vec3 from_middle = (offset - origin_) * normal_, apex = solid_->middle() + from_middle;
  const CutFrame frame{offset - origin_, from_middle, e1, e2};
  CutSums s;
  if (solid_->groups().empty()) {
    sum_cut(turned_.data(), turned_.size(), frame, s);
  } else {
    const Vec3 shift = -from_middle;  // groups are summed about the middle, this about the apex
    visit(
        offset,
        [&](const Solid::Group& g) {
          // Each tetrahedron from the apex: its volume plus what the moved origin adds, shift.A/3.
          const double part = g.volume + shift.dot(g.area) / 3;
          out.below.volume += part;
          out.below.first += (g.first + g.reach * shift / 3) / 4 + part * 3 / 4 * shift;
        },
        [&](const TurnedBlock& leaf) { sum_cut(&leaf, 1, frame, s); });
  }
  out.below.volume += s.volume;
  out.below.first += s.first / 4 + out.below.volume * apex;
  if (!(s.area > 0)) return out;
  const double mean1 = s.s1 / (3 * s.area), mean2 = s.s2 / (3 * s.area);
  const double j11 = s.s11 / 12 - s.area * mean1 * mean1, j12 = s.s12 / 12 - s.area * mean1 * mean2,
               j22 = s.s22 / 12 - s.area * mean2 * mean2;
  out.section.area = s.area;
  out.section.centroid = apex + mean1 * e1 + mean2 * e2;
  out.section.e1 = e1, out.section.e2 = e2;
  out.section.second11 = j11, out.section.second12 = j12, out.section.second22 = j22;
  return out;
}

PlaneSolve PlaneCutter::offset_for(double volume) const {
  // A body seen corner first has no section at either end: its volume begins much like 3 t2 - 2 t3.
  const double fill = std::clamp(volume / solid_->volume(), 0.0, 1.0);
  const double t = 0.5 - std::sin(std::asin(1 - 2 * fill) / 3);
  return search(volume, lowest_ + t * (highest_ - lowest_), 0.0);
}

PlaneSolve PlaneCutter::offset_for(double volume, double guess) const { return search(volume, guess, 0.0); }

double PlaneCutter::offset_near(double volume, double guess, double enough) const {
  return search(volume, guess, enough).offset;
}

/// `enough`: share of the whole by which the volume may be off before the last step.
PlaneSolve PlaneCutter::search(double volume, double guess, double enough) const {
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
    if (std::abs(out.residual) <= enough * std::min(volume, whole - volume)) {
      out.offset = next;
      return out;
    }
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
