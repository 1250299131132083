#pragma once
// Straight lines through the spaces of a tank: where each goes in and comes out.
//
// Example:
//   const tank::Tank tank = plain_tank(make_solid(tank::Box{{0, 0, 0}, {0.3, 0.2, 0.1}}));
//   const auto through = resolved::cast(tank, 2, {0.1, 0.5}, {0.1});    // two upright lines: at (0.1, 0.1), (0.5, 0.1)
//   ASSERT_EQ(through[0].size(), 1u);
//   EXPECT_NEAR(through[0][0].to - through[0][0].from, 0.1, 1e-12);
//   EXPECT_TRUE(through[1].empty());
#include "core/tank/tank.h"

namespace uadze::resolved {

struct Stretch {
  int space = 0;
  double from = 0.0, to = 0.0;  ///< m along the line
};

/// Lines along an axis a (0..2) at all pairs of places on the two axes after it, in their order (y, z for x;
/// z, x for y; x, y for z); both lists rise. The line of p[m], q[n] stands at m * q.size() + n. Each line is
/// moved by less than a millionth of a millimetre, off edges that lie exactly on it.
std::vector<std::vector<Stretch>> cast(const tank::Tank& tank, int a, const std::vector<double>& p,
                                       const std::vector<double>& q);

}  // namespace uadze::resolved
