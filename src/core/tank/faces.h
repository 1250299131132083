#pragma once
// Triangles eight at a time, as wide registers take them: heights, volume below a plane and section in plain
// loops over lanes, the same operations in the same order on every machine, so the digits do not depend on
// its registers.
//
// A triangle's corners are put in order of height once for a direction. Below the plane's offset lies
//   nothing | a tip at the lowest corner T | all but the tip at the highest corner T | all
// and the tip's two edges end at P (towards the middle corner M) and Q (towards the other). With the
// tetrahedra from a point of the plane (tank/solid.h) a tip is the whole times its shares of both edges, and
// its edge of the section runs from P to Q, or back where the order of heights is against the triangle's.
//
// Example:
//   tank::FaceBlock faces;
//   faces.put(0, {0, 0, 0}, {1, 0, 0}, {0, 0, 1}, {0, -0.5, 0}, 1.0);    // one triangle, seven empty lanes
//   tank::TurnedBlock turned;
//   tank::turn(&faces, 1, Vec3::UnitZ(), &turned);
//   EXPECT_EQ(turned.high[0], 1.0);
#include "core/base/lanes.h"
#include "core/base/vector.h"

namespace uadze::tank {

/// Eight triangles as they are, from the solid's middle. Empty lanes add nothing.
struct FaceBlock {
  std::array<Lane, 3> a{}, b{}, c{};  ///< m, corners
  std::array<Lane, 3> area{};         ///< m2, outward area vectors times weight
  Lane weight{};
  /// An empty lane with the corners of the first, so that it stands nowhere else.
  void repeat(size_t lane);
  void put(size_t lane, const Vec3& a, const Vec3& b, const Vec3& c, const Vec3& area, double weight);
};

/// The same for one direction: corners in order of height.
struct TurnedBlock {
  Lane low, middle, high;                        ///< m, heights from the solid's middle
  Lane per_lower, per_upper;                     ///< 1/m2: one over the products of height differences
  Lane facing;                                   ///< m2, area vector along the normal
  std::array<Lane, 3> lowest, between, highest;  ///< m, the corners
  std::array<Lane, 3> area;                      ///< m2
  Lane signed_weight;                            ///< negative where the order is against the triangle's
};

struct HeightRange {
  double lowest = 0.0, highest = 0.0;
};
HeightRange turn(const FaceBlock* blocks, size_t count, const Vec3& normal, TurnedBlock* out);

/// Volume below times three, area, and half the area's slope.
struct BelowSums {
  double volume = 0.0, area = 0.0, slope = 0.0;
};
BelowSums sum_below(const TurnedBlock* blocks, size_t count, double offset);

/// Sums for volume, first moment and section; places in the plane's own directions e1, e2.
struct CutSums {
  double volume = 0.0;
  Vec3 first = Vec3::Zero();  ///< of volume times the corners' sum, from the apex
  double area = 0.0, s1 = 0.0, s2 = 0.0, s11 = 0.0, s12 = 0.0, s22 = 0.0;
};
struct CutFrame {
  double offset;      ///< m, from the solid's middle
  Vec3 apex, e1, e2;  ///< a point of the plane, from the solid's middle; directions in it
};
void sum_cut(const TurnedBlock* blocks, size_t count, const CutFrame& frame, CutSums& sums);

}  // namespace uadze::tank
