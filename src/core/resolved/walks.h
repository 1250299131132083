#pragma once
// Walks over a lattice's cells and faces, a layer of x a thread.
//
// Example:
//   resolved::Lattice lattice = resolved::make_lattice(plain_tank(make_solid(tank::Box{{0, 0, 0}, {0.4, 0.2, 0.2}})), {}, {.size = 0.1});
//   std::array<std::atomic<int>, 3> open{};
//   resolved::each_face(lattice, [&](int a, size_t c, size_t, const int*) { open[a] += lattice.area[a][c] > 0; });
//   EXPECT_EQ(open[0], 3 * 2 * 2);                       // between four cells in a row, two by two rows
#include <tbb/parallel_for.h>

#include "core/resolved/lattice.h"

namespace uadze::resolved {

/// Calls f(cell, its place along each axis) for every cell that has a lower face within the tank, or on it.
template <class F>
void each_cell(const Lattice& g, F&& f) {
  tbb::parallel_for(1, g.axis[0].cells + 2, [&](int i) {
    for (int j = 1; j <= g.axis[1].cells + 1; ++j)
      for (int k = 1; k <= g.axis[2].cells + 1; ++k) {
        const int at[3]{i, j, k};
        f(static_cast<size_t>(g.index(i, j, k)), at);
      }
  });
}

/// Calls f(axis, cell above the face, cell below it, the upper cell's place) for each of those faces.
template <class F>
void each_face(const Lattice& g, F&& f) {
  each_cell(g, [&](size_t c, const int at[3]) {
    for (int a = 0; a < 3; ++a) f(a, c, c - static_cast<size_t>(g.step(a)), at);
  });
}

}  // namespace uadze::resolved
