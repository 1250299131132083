#pragma once
// Walks over a lattice's cells and faces, a layer of x a thread: all of them, or those that lie near the
// fuel.
//
// Example:
//   resolved::Lattice lattice = resolved::make_lattice(plain_tank(make_solid(tank::Box{{0, 0, 0}, {0.4, 0.2, 0.2}})), {}, {.size = 0.1});
//   std::array<std::atomic<int>, 3> open{};
//   resolved::each_face(lattice, [&](int a, size_t c, size_t, const int*) { open[a] += lattice.area[a][c] > 0; });
//   EXPECT_EQ(open[0], 3 * 2 * 2);                       // between four cells in a row, two by two rows
//   std::vector<resolved::Column> fuel(6 * 4);           // a lattice has one cell more at each end
//   fuel[1 * 4 + 1] = {1, 2};                            // in the lowest cell of one corner
//   std::atomic<int> near{0};
//   resolved::each_cell(lattice, resolved::widened(lattice, fuel, 1), [&](size_t, const int*) { ++near; });
//   EXPECT_EQ(near, 2 * 2 * 2);
#include <tbb/parallel_for.h>

#include <algorithm>

#include "core/resolved/lattice.h"

namespace uadze::resolved {

/// Columns, of all x and y, widened by some cells to all sides, within what `each_cell` walks over.
inline std::vector<Column> widened(const Lattice& g, std::vector<Column> columns, int by) {
  const int nx = g.axis[0].count(), ny = g.axis[1].count(), top = g.axis[2].cells + 2;
  std::vector<Column> out(columns.size());
  const auto widen = [&](int step, int place, int count, size_t c) {
    Column both;
    for (int d = std::max(-by, -place); d <= std::min(by, count - 1 - place); ++d) {
      const Column& other = columns[c + static_cast<size_t>(d * step)];
      if (other.low == other.high) continue;
      if (both.low == both.high) both = other;
      both.low = std::min(both.low, other.low), both.high = std::max(both.high, other.high);
    }
    return both;
  };
  const auto at = [&](int i, int j) { return static_cast<size_t>(i * ny + j); };
  for (int i = 0; i < nx; ++i)
    for (int j = 0; j < ny; ++j) out[at(i, j)] = widen(1, j, ny, at(i, j));
  columns = out;
  for (int i = 0; i < nx; ++i)
    for (int j = 0; j < ny; ++j) {
      const Column c = widen(ny, i, nx, at(i, j));
      if (c.low == c.high) continue;
      out[at(i, j)] = {std::max(c.low - by, 1), std::min(c.high + by, top)};
    }
  return out;
}

/// Columns that hold those of both.
inline std::vector<Column> either(std::vector<Column> one, const std::vector<Column>& other) {
  for (size_t n = 0; n < one.size(); ++n) {
    if (one[n].low == one[n].high)
      one[n] = other[n];
    else if (other[n].low < other[n].high)
      one[n] = {std::min(one[n].low, other[n].low), std::max(one[n].high, other[n].high)};
  }
  return one;
}

/// Calls f(cell, its place along each axis) for every cell of the columns that has a lower face within the
/// tank, or on it.
template <class F>
void each_cell(const Lattice& g, const std::vector<Column>& columns, F&& f) {
  tbb::parallel_for(1, g.axis[0].cells + 2, [&](int i) {
    for (int j = 1; j <= g.axis[1].cells + 1; ++j) {
      const Column column = columns[static_cast<size_t>(i * g.axis[1].count() + j)];
      for (int k = column.low; k < column.high; ++k) {
        const int at[3]{i, j, k};
        f(static_cast<size_t>(g.index(i, j, k)), at);
      }
    }
  });
}

inline std::vector<Column> whole_columns(const Lattice& g) {
  return std::vector<Column>(static_cast<size_t>(g.axis[0].count() * g.axis[1].count()),
                             {1, g.axis[2].cells + 2});
}

template <class F>
void each_cell(const Lattice& g, F&& f) {
  each_cell(g, whole_columns(g), f);
}

/// Calls f(axis, cell above the face, cell below it, the upper cell's place) for each of those faces.
template <class F>
void each_face(const Lattice& g, const std::vector<Column>& columns, F&& f) {
  each_cell(g, columns, [&](size_t c, const int at[3]) {
    for (int a = 0; a < 3; ++a) f(a, c, c - static_cast<size_t>(g.step(a)), at);
  });
}

template <class F>
void each_face(const Lattice& g, F&& f) {
  each_face(g, whole_columns(g), f);
}

}  // namespace uadze::resolved
