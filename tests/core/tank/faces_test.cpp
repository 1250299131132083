// Planes cut eight faces at a time, against each triangle clipped by itself; planes through corners and
// edges.
#include "core/tank/faces.h"

#include <gtest/gtest.h>

#include <vector>

#include "core/tank/shape.h"
#include "core/tank/solid.h"
#include "support/random_shapes.h"

namespace uadze::tank {
namespace {

/// By clipping each triangle to a polygon and fanning it: none of the code under test.
struct Clipped {
  double volume = 0.0, area = 0.0;
  Vec3 first = Vec3::Zero(), section = Vec3::Zero();  ///< m4; m3, area times its middle
};
Clipped clipped(const Solid& solid, const Vec3& n, double offset) {
  Clipped out;
  const Vec3 apex = solid.middle() + (offset - n.dot(solid.middle())) * n;
  for (const Triangle& t : solid.triangles()) {
    std::vector<Vec3> kept, edge;
    for (size_t k = 0; k < 3; ++k) {
      const Vec3 a = solid.vertices()[static_cast<size_t>(t[k])] - apex,
                 b = solid.vertices()[static_cast<size_t>(t[(k + 1) % 3])] - apex;
      const double ha = n.dot(a), hb = n.dot(b);
      if (ha < 0) kept.push_back(a);
      if ((ha < 0) != (hb < 0)) kept.push_back(a + ha / (ha - hb) * (b - a)), edge.push_back(kept.back());
      if (ha < 0 && hb >= 0 && edge.size() == 2) std::swap(edge[0], edge[1]);
    }
    for (size_t k = 2; k < kept.size(); ++k) {
      const double v = kept[0].dot(kept[k - 1].cross(kept[k])) / 6;
      out.volume += v;
      out.first += v * ((kept[0] + kept[k - 1] + kept[k]) / 4 + apex);
    }
    if (edge.size() == 2) {
      // From where the triangle comes up to where it goes down again: the cap runs the other way.
      const double piece = n.dot(edge[0].cross(edge[1])) / 2;
      out.area += piece;
      out.section += piece * ((edge[0] + edge[1]) / 3 + apex);
    }
  }
  return out;
}

TEST(Faces, AgreeWithEachTriangleClippedByItself) {
  test::Random random(71);
  for (int n = 0; n < 300; ++n) {
    const Solid solid = make_solid(random.prism());
    const Vec3 normal = random.direction();
    PlaneCutter cutter(solid);
    cutter.aim(normal);
    const double offset = random.uniform(cutter.lowest(), cutter.highest());
    const Clipped by_hand = clipped(solid, normal, offset);
    const PlaneCutter::Cut cut = cutter.cut(offset);
    EXPECT_NEAR(cut.below.volume, by_hand.volume, 1e-14) << n;
    EXPECT_NEAR((cut.below.first - by_hand.first).norm(), 0, 1e-14) << n;
    EXPECT_NEAR(cut.section.area, std::abs(by_hand.area), 1e-13) << n;
    EXPECT_NEAR(
        (cut.section.area * cut.section.centroid - by_hand.section * (by_hand.area < 0 ? -1 : 1)).norm(), 0,
        1e-13)
        << n;
    EXPECT_NEAR(cutter.below(offset).volume, by_hand.volume, 1e-14) << n;
    EXPECT_NEAR(cutter.below(offset).area, cut.section.area, 1e-13) << n;
  }
}

// An octahedron of half a width: planes exactly through corners and edges, closed forms on both sides.
TEST(Faces, PlanesThroughCornersAndEdgesLoseNothing) {
  const std::vector<Vec3> corners{{1, 0, 0}, {-1, 0, 0}, {0, 1, 0}, {0, -1, 0}, {0, 0, 1}, {0, 0, -1}};
  const Solid solid(corners,
                    {{0, 2, 4}, {2, 1, 4}, {1, 3, 4}, {3, 0, 4}, {2, 0, 5}, {1, 2, 5}, {3, 1, 5}, {0, 3, 5}});
  for (const Vec3& n : {Vec3(0, 0, 1), Vec3(1, 0, 0), Vec3(0, -1, 0), Vec3(1, 1, 0).normalized().eval()}) {
    PlaneCutter cutter(solid);
    cutter.aim(n);
    const PlaneCutter::Cut half = cutter.cut(0.0);
    EXPECT_NEAR(half.below.volume, 2.0 / 3, 1e-15) << n.transpose();
    EXPECT_NEAR(cutter.below(0.0).volume, 2.0 / 3, 1e-15) << n.transpose();
    // A square of two by its diagonals, or the rhombus with the diagonals 2 and sqrt 2.
    const double area = n.cwiseAbs().maxCoeff() > 0.9 ? 2.0 : std::sqrt(2.0);
    EXPECT_NEAR(half.section.area, area, 1e-15) << n.transpose();
    EXPECT_NEAR(cutter.below(cutter.highest()).volume, 4.0 / 3, 1e-15);
    EXPECT_EQ(cutter.cut(cutter.lowest()).below.volume, 0.0);
    EXPECT_NEAR(cutter.cut(cutter.highest()).below.volume, 4.0 / 3, 1e-15);
  }
}

// Seven lanes of a block are empty: where they stand is no part of the solid.
TEST(Faces, EmptyLanesDoNotWidenTheRange) {
  const Solid box = make_solid(Box{{5, 5, 5}, {6, 6.5, 7}});  // twelve triangles in two blocks
  ASSERT_EQ(box.blocks().size(), 2u);
  PlaneCutter cutter(box);
  cutter.aim(Vec3::UnitY());
  EXPECT_EQ(cutter.lowest(), 5.0);
  EXPECT_EQ(cutter.highest(), 6.5);
  EXPECT_TRUE(std::isfinite(cutter.cut(5.75).section.second11));
  // A near guess is as good as the whole search.
  for (double volume : {1e-9, 0.4, 2.999999})
    EXPECT_NEAR(cutter.offset_near(volume, 5.4), cutter.offset_for(volume).offset, 1e-12) << volume;
}

}  // namespace
}  // namespace uadze::tank
