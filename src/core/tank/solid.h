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
//   Solid box = make_prism(...);
//   PlaneCutter cutter(box);
//   cutter.aim(Vec3::UnitZ());
//   const PlaneSolve level = cutter.offset_for(0.010);      // 10 litres
//   const Moments fuel = moments_below(box, {Vec3::UnitZ(), level.offset});
//
// Method: the divergence theorem over the clipped boundary triangles. With F = (n.x - offset) n, div F = 1
// and F.n vanishes on the plane, so the volume needs no cap (Mirtich 1996, Fast and accurate computation of
// polyhedral mass properties, gives the whole-body case).
#include <array>
#include <vector>

#include "core/base/vector.h"

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
  double area = 0.0;             ///< m2
  Vec3 centroid = Vec3::Zero();  ///< m
  Mat3 second = Mat3::Zero();    ///< m4, second-moment tensor about the section's own centroid
};

using Triangle = std::array<int, 3>;

/// Vertices and triangles of a closed surface, each triangle anticlockwise seen from outside.
class Solid {
 public:
  Solid(std::vector<Vec3> vertices, std::vector<Triangle> triangles);

  const std::vector<Vec3>& vertices() const { return vertices_; }
  const std::vector<Triangle>& triangles() const { return triangles_; }
  const std::vector<Vec3>& triangle_areas() const { return areas_; }  ///< outward area vectors, m2
  double volume() const { return whole_.volume; }
  Vec3 centroid() const { return whole_.centroid(); }
  Vec3 lower_corner() const { return lower_; }
  Vec3 upper_corner() const { return upper_; }

  /// Whether the point is inside or on the surface, within rounding (winding number; van Oosterom and
  /// Strackee 1983, The solid angle of a plane triangle).
  bool contains(const Vec3& point) const;

 private:
  std::vector<Vec3> vertices_;
  std::vector<Triangle> triangles_;
  std::vector<Vec3> areas_;
  Moments whole_;
  Vec3 lower_, upper_;
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

  double lowest() const { return lowest_; }
  double highest() const { return highest_; }

 private:
  PlaneSolve search(double volume, double guess) const;

  /// A triangle as the search sees it: its corners' heights in order, and the area vector along the normal.
  struct Face {
    double low, middle, high;
    double per_lower, per_upper;  ///< 1/m2: one over the products of height differences
    double facing;                ///< m2
  };

  const Solid* solid_;
  std::vector<double> heights_;  ///< of the vertices along the normal
  std::vector<Face> faces_;
  double lowest_ = 0.0, highest_ = 0.0;
};

}  // namespace uadze::tank
