#pragma once
// A closed solid, and what of it lies below a plane: volume, centroid, wetted section, all exact.
//
//              z (n = up)
//              |     ________            The plane is  n.x = offset,  |n| = 1.
//              |    /        |           "Below" is    n.x <= offset: where the fuel is.
//        - - - | - /- - - - -|- - -      The section is what the plane cuts out: the free surface.
//              |  /__________|
//              +-------------- x
//
// Method: the divergence theorem over the clipped boundary triangles. With F = (n.x - offset) n, div F = 1
// and F.n vanishes on the plane, so the volume needs no cap (Mirtich 1996, Fast and accurate computation of
// polyhedral mass properties, gives the whole-body case). Solids of many triangles keep them in a tree of
// groups with their sums, so that a cut costs what it meets.
//
// Example:
//   const tank::Solid box = make_solid(tank::Box{{0, 0, 0}, {0.5, 0.4, 0.3}});
//   tank::PlaneCutter cutter(box);
//   cutter.aim(Vec3::UnitZ());
//   const tank::PlaneSolve level = cutter.offset_for(0.010);      // 10 litres
//   EXPECT_NEAR(level.offset, 0.05, 1e-12);
//   EXPECT_NEAR(moments_below(box, {Vec3::UnitZ(), level.offset}).volume, 0.010, 1e-15);
#include <array>
#include <vector>

#include "core/tank/faces.h"

namespace uadze::tank {

struct Plane {
  Vec3 normal = Vec3::UnitZ();  ///< unit vector out of the fuel, against the effective gravity
  double offset = 0.0;          ///< m
};

struct Moments {
  double volume = 0.0;        ///< m3
  Vec3 first = Vec3::Zero();  ///< m4: volume times centroid
  Vec3 centroid() const { return volume > 0 ? Vec3(first / volume) : Vec3(Vec3::Zero()); }
};

struct Section {
  double area = 0.0;                                      ///< m2
  Vec3 centroid = Vec3::Zero();                           ///< m
  Vec3 e1 = Vec3::Zero(), e2 = Vec3::Zero();              ///< across each other in the plane
  double second11 = 0.0, second12 = 0.0, second22 = 0.0;  ///< m4, about the section's own centroid
  Mat3 second() const {                                   ///< m4, the same as a tensor
    return second11 * e1 * e1.transpose() + second22 * e2 * e2.transpose() +
           second12 * (e1 * e2.transpose() + e2 * e1.transpose());
  }
};

using Triangle = std::array<int, 3>;

/// A closed surface: vertices and triangles, each triangle anticlockwise seen from outside. Everything
/// computed from it is a sum over triangles, so surfaces may be laid over each other: a body cut out of
/// another is the same body turned inside out, and faces that coincide the other way round cancel. A weight
/// on a triangle scales what it counts for (fuel in foam counts by the foam's porosity).
class Solid {
 public:
  Solid() = default;
  /// `grouped`: many triangles are put into groups at once (see below); not worth it for a passing solid.
  Solid(std::vector<Vec3> vertices, std::vector<Triangle> triangles, std::vector<double> weights = {},
        bool grouped = true);
  /// The same with its groups.
  Solid grouped() const { return {vertices_, triangles_, weights_}; }

  const std::vector<Vec3>& vertices() const { return vertices_; }
  const std::vector<Triangle>& triangles() const { return triangles_; }
  /// Outward area vectors times weight, m2.
  const std::vector<Vec3>& triangle_areas() const { return areas_; }
  double weight(size_t triangle) const { return weights_.empty() ? 1.0 : weights_[triangle]; }
  double volume() const { return whole_.volume; }
  Vec3 centroid() const { return whole_.centroid(); }
  Vec3 lower_corner() const { return lower_; }
  Vec3 upper_corner() const { return upper_; }
  Vec3 middle() const { return (lower_ + upper_) / 2; }
  double size() const { return (upper_ - lower_).norm(); }  ///< m, the diagonal of its bounding box

  /// Whether the point is inside or on the surface, within rounding (winding number; van Oosterom and
  /// Strackee 1983, The solid angle of a plane triangle).
  bool contains(const Vec3& point) const;

  /// Whole groups of triangles that lie close together, so that a cut looks only at those that it meets.
  /// Empty for solids of few triangles, where looking at all is quicker.
  struct Group {
    Vec3 middle = Vec3::Zero(), half = Vec3::Zero();  ///< bounding box
    Vec3 area = Vec3::Zero();                         ///< sum of area vectors
    double volume = 0.0;                              ///< of the tetrahedra from the origin
    Vec3 first = Vec3::Zero();                        ///< sum of those volumes times their corners' sum
    Mat3 reach = Mat3::Zero();                        ///< sum of corners' sum times area vector
    int block = -1;                                   ///< its faces, if it is a leaf
    int next = 0;                                     ///< the group after this one and all within it
    bool leaf = true;
  };
  const std::vector<Group>& groups() const { return groups_; }
  /// All faces, from the middle: as they come, or a block for each leaf of the groups.
  const std::vector<FaceBlock>& blocks() const { return blocks_; }

 private:
  void build_groups(std::vector<int>& order, int begin, int end);
  void put_face(FaceBlock& block, size_t lane, size_t triangle) const;

  std::vector<Vec3> vertices_;
  std::vector<Triangle> triangles_;
  std::vector<double> weights_;
  std::vector<Vec3> areas_;
  std::vector<Group> groups_;
  std::vector<FaceBlock> blocks_;
  Moments whole_;
  Vec3 lower_ = Vec3::Zero(), upper_ = Vec3::Zero();
};

/// Volume and first moment of the part below the plane.
Moments moments_below(const Solid& solid, const Plane& plane);

/// The wetted section: area, centroid and second moments of the cut.
Section section(const Solid& solid, const Plane& plane);

/// The closed outlines of the cut, in order, for drawing.
std::vector<std::vector<Vec3>> section_outlines(const Solid& solid, const Plane& plane);

struct PlaneSolve {
  double offset = 0.0;    ///< m
  double area = 0.0;      ///< m2, of the section there
  double residual = 0.0;  ///< m3, volume found less volume asked
  int iterations = 0;
  enum class Stop { converged, clamped_empty, clamped_full, bracket_closed } stop = Stop::converged;
};

/// Finds the plane of a given direction that cuts off a given volume. Holds the working space of the search,
/// so keep one per thread and aim it again and again.
class PlaneCutter {
 public:
  explicit PlaneCutter(const Solid& solid);

  /// Sets the direction; `normal` is a unit vector.
  void aim(const Vec3& normal);

  struct Below {
    double volume;  ///< m3
    double area;    ///< m2: the derivative of volume by offset
    double slope;   ///< m: the derivative of area by offset
  };
  Below below(double offset) const;

  /// Safeguarded Newton search, its steps bettered by the second derivative (Halley): the derivative is the
  /// section's area; a step that leaves the bracket is replaced by its middle. `volume` in m3, clamped to
  /// 0..whole. Relative error of volume about 1e-13.
  PlaneSolve offset_for(double volume) const;
  /// The same, started from a guess (the last instant's offset).
  PlaneSolve offset_for(double volume, double guess) const;
  /// The offset alone, from a guess that is near: no step is looked at again once `enough` of the fuel, or of
  /// the gas, is missing. By a millionth the next step is at rounding, by a ten-thousandth off by some 1e-8.
  double offset_near(double volume, double guess, double enough = 1e-6) const;

  /// Moments and section in one pass, at the direction aimed at.
  struct Cut {
    Moments below;
    Section section;
  };
  Cut cut(double offset) const;

  double lowest() const { return lowest_; }
  double highest() const { return highest_; }

 private:
  PlaneSolve search(double volume, double guess, double enough) const;
  template <class OnGroup, class OnLeaf>
  void visit(double offset, OnGroup&& on_group, OnLeaf&& on_leaf) const;

  const Solid* solid_;
  Vec3 normal_ = Vec3::UnitZ();
  double origin_ = 0.0;              ///< m: offset of the solid's middle
  std::vector<TurnedBlock> turned_;  ///< of all faces; of large solids none are kept
  double lowest_ = 0.0, highest_ = 0.0;
};

}  // namespace uadze::tank
