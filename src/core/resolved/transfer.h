#pragma once
// How a particle sees the lattice round it: linear in the cells, and never beyond a wall.
//
//     +-----+-----+      Along its own axis a velocity stands on faces: a particle at t (0..1) of its cell
//     |  .  u  .  u      takes 1 - t of the lower, t of the upper. Across, it stands at the cells' middles:
//     +-----+-----+      it takes from the neighbour beyond the nearer side, unless that side is a wall; then
//       c-1    c         its own cell has all of it, as if the wall were a mirror.
//
// Example:
//   resolved::Lattice lattice = resolved::make_lattice(plain_tank(make_solid(tank::Box{{0, 0, 0}, {0.4, 0.2, 0.2}})), {}, {.size = 0.1});
//   const double x[3]{0.05, 0.175, 0.05};
//   const resolved::Stencil s(lattice, x, resolved::cell_at(lattice, {0.05, 0.175, 0.05}).data());
//   EXPECT_NEAR(s.face[0][1], 0.5, 1e-12);            // half way between two faces
//   EXPECT_NEAR(s.centre[1][1], 0.0, 1e-12);          // nothing of what lies in the wall
#include "core/resolved/lattice.h"

namespace uadze::resolved {

/// The cell that holds a point, along each axis.
inline std::array<std::uint16_t, 3> cell_at(const Lattice& g, const Vec3& p) {
  std::array<std::uint16_t, 3> out;
  for (size_t a = 0; a < 3; ++a)
    out[a] = static_cast<std::uint16_t>(g.axis[a].cell_of(p[static_cast<Eigen::Index>(a)]));
  return out;
}

struct Stencil {
  int cell = 0;
  int at[3];                      ///< its cell along each axis
  double face[3][2];              ///< weights of the cell's lower and upper face along each axis
  double centre[3][2];            ///< of the lower and the upper of two cells
  int first[3];                   ///< the lower of those, from the cell: -1 or 0
  double part[3];                 ///< 0..1 through the cell
  double width[3], per_width[3];  ///< m, 1/m

  Stencil(const Lattice& g, const double x[3], const std::uint16_t where[3]) {
    for (int a = 0; a < 3; ++a) at[a] = where[a];
    cell = g.index(at[0], at[1], at[2]);
    const std::uint8_t apart = g.apart.data()[cell];
    for (int a = 0; a < 3; ++a) {
      const auto i = static_cast<size_t>(at[a]);
      width[a] = g.axis[a].width.data()[i], per_width[a] = g.axis[a].per_width.data()[i];
      const double t = (x[a] - g.axis[a].line.data()[i]) * per_width[a];
      part[a] = t;
      face[a][0] = 1 - t, face[a][1] = t;
      // Of the cell itself, without branches: half and more; the rest beyond the nearer side.
      const int high = t >= 0.5;
      first[a] = high - 1;
      const int wall = apart >> (2 * a + high) & 1;
      const double over = wall ? 0.0 : high ? t - 0.5 : 0.5 - t;
      centre[a][high] = over, centre[a][1 - high] = 1 - over;
    }
  }
};

/// The stencil of a component in a cell at an opening's rim: what flows through the opening is not slowed by
/// the plate beside it.
inline Stencil at_rim(Stencil s, std::uint16_t rim, int component) {
  for (int d = 0; d < 2; ++d) {
    const int axis = (component + 1 + d) % 3, high = s.first[axis] + 1;
    if (rim >> (4 * component + 2 * d + high) & 1) s.centre[axis][high] = 0, s.centre[axis][1 - high] = 1;
  }
  return s;
}

/// The lowest of the eight faces of a component.
inline int first_face(const Lattice& g, const Stencil& s, int component) {
  return s.cell + (component == 0 ? 0 : s.first[0]) * g.step(0) +
         (component == 1 ? 0 : s.first[1]) * g.step(1) + (component == 2 ? 0 : s.first[2]);
}

/// Their weights along each axis.
inline std::array<const double*, 3> weights(const Stencil& s, int component) {
  return {component == 0 ? s.face[0] : s.centre[0], component == 1 ? s.face[1] : s.centre[1],
          component == 2 ? s.face[2] : s.centre[2]};
}

/// Calls f(cell, weight) for each of them.
template <class F>
inline void each_face(const Lattice& g, const Stencil& s, int component, F&& f) {
  const int base = first_face(g, s, component);
  const auto w = weights(s, component);
  for (int x = 0; x < 2; ++x)
    for (int y = 0; y < 2; ++y) {
      const int c = base + x * g.step(0) + y * g.step(1);
      f(c, w[0][x] * w[1][y] * w[2][0]);
      f(c + 1, w[0][x] * w[1][y] * w[2][1]);
    }
}

/// The same for the eight cells.
template <class F>
inline void each_cell(const Lattice& g, const Stencil& s, F&& f) {
  const int base = s.cell + s.first[0] * g.step(0) + s.first[1] * g.step(1) + s.first[2];
  for (int x = 0; x < 2; ++x)
    for (int y = 0; y < 2; ++y) {
      const double w = s.centre[0][x] * s.centre[1][y];
      const int c = base + x * g.step(0) + y * g.step(1);
      f(c, w * s.centre[2][0]);
      f(c + 1, w * s.centre[2][1]);
    }
}

/// m from the particle's place to the two places of a component along an axis.
inline double reach(const Stencil& s, int component, int axis, int which) {
  return component == axis ? (which - s.part[axis]) * s.width[axis]
                           : (s.first[axis] + which + 0.5 - s.part[axis]) * s.width[axis];
}

}  // namespace uadze::resolved
