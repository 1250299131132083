#pragma once
// How a particle sees the lattice round it: linear in the cells, and never beyond a wall.
//
//     +-----+-----+      Along its own axis a velocity stands on faces: a particle at t (0..1) of its cell
//     |  .  u  .  u      takes 1 - t of the lower, t of the upper. Across, it stands at the cells' middles:
//     +-----+-----+      it takes from the neighbour beyond the nearer side, unless that side is a wall; then
//       c-1    c         its own cell has all of it, as if the wall were a mirror.
//
// Weights are single numbers, four of which a machine multiplies at once: a ten-millionth of a cell.
//
// Example:
//   resolved::Lattice lattice = resolved::make_lattice(plain_tank(make_solid(tank::Box{{0, 0, 0}, {0.4, 0.2, 0.2}})), {}, {.size = 0.1});
//   const double x[3]{0.05, 0.175, 0.05};
//   const resolved::Stencil s(lattice, x, resolved::cell_at(lattice, {0.05, 0.175, 0.05}).data());
//   EXPECT_NEAR(s.face[0][1], 0.5, 1e-6);             // half way between two faces
//   EXPECT_NEAR(s.centre[1][1], 0.0, 1e-6);           // nothing of what lies in the wall
#include <cstring>

#include "core/resolved/lattice.h"

namespace uadze::resolved {

/// Two that stand at one place and go the same way through every sum.
struct Two {
  float first = 0, second = 0;
};
/// Those of two neighbours along z: {first, second} of the lower, then of the upper.
typedef float FourLanes __attribute__((vector_size(16)));
typedef float TwoLanes __attribute__((vector_size(8)));
struct Four {
  FourLanes lanes{};
};
inline FourLanes four(const Two* low) {
  FourLanes out;
  std::memcpy(&out, low, sizeof out);
  return out;
}

/// Weights along x and along y of the four columns round a particle: the lower along x first, of these the
/// lower along y.
inline FourLanes of_x(const float w[2]) { return FourLanes{w[0], w[0], w[1], w[1]}; }
inline FourLanes of_y(const float w[2]) { return FourLanes{w[0], w[1], w[0], w[1]}; }

/// Four by four, rows to columns.
inline void turn_over(FourLanes& a, FourLanes& b, FourLanes& c, FourLanes& d) {
  const FourLanes ab = __builtin_shufflevector(a, b, 0, 4, 1, 5),
                  ba = __builtin_shufflevector(a, b, 2, 6, 3, 7);
  const FourLanes cd = __builtin_shufflevector(c, d, 0, 4, 1, 5),
                  dc = __builtin_shufflevector(c, d, 2, 6, 3, 7);
  a = __builtin_shufflevector(ab, cd, 0, 1, 4, 5), b = __builtin_shufflevector(ab, cd, 2, 3, 6, 7);
  c = __builtin_shufflevector(ba, dc, 0, 1, 4, 5), d = __builtin_shufflevector(ba, dc, 2, 3, 6, 7);
}
/// The sum of each.
inline FourLanes totals(FourLanes a, FourLanes b, FourLanes c, FourLanes d) {
  turn_over(a, b, c, d);
  return (a + b) + (c + d);
}

/// The cell that holds a point, along each axis.
inline std::array<std::uint16_t, 3> cell_at(const Lattice& g, const Vec3& p) {
  std::array<std::uint16_t, 3> out;
  for (size_t a = 0; a < 3; ++a)
    out[a] = static_cast<std::uint16_t>(g.axis[a].cell_of(p[static_cast<Eigen::Index>(a)]));
  return out;
}

struct Stencil {
  int cell = 0;
  int at[3];                     ///< its cell along each axis
  int first[3];                  ///< the lower of two cells, from it: -1 or 0
  float face[3][2];              ///< weights of the cell's lower and upper face along each axis
  float centre[3][2];            ///< of the lower and the upper of two cells
  float part[3];                 ///< 0..1 through the cell
  float width[3], per_width[3];  ///< m, 1/m

  Stencil(const Lattice& g, const double x[3], const std::uint16_t where[3]) {
#pragma GCC unroll 3
    for (int a = 0; a < 3; ++a) at[a] = where[a];
    cell = g.index(at[0], at[1], at[2]);
    const std::uint8_t apart = g.apart.data()[cell];
#pragma GCC unroll 3
    for (int a = 0; a < 3; ++a) {
      const auto i = static_cast<size_t>(at[a]);
      width[a] = static_cast<float>(g.axis[a].width.data()[i]);
      per_width[a] = static_cast<float>(g.axis[a].per_width.data()[i]);
      const float t = static_cast<float>(x[a] - g.axis[a].line.data()[i]) * per_width[a];
      part[a] = t;
      face[a][0] = 1 - t, face[a][1] = t;
      // The cell itself has half and more, the rest lies beyond the nearer side: without branches, and never
      // by way of the memory.
      const int high = t >= 0.5f;
      first[a] = high - 1;
      const auto open = static_cast<float>(~apart >> (2 * a + high) & 1);
      const float upper = static_cast<float>(1 - high) + open * (t - 0.5f);
      centre[a][0] = 1 - upper, centre[a][1] = upper;
    }
  }
};

/// The stencil of a component in a cell at an opening's rim: what flows through the opening is not slowed by
/// the plate beside it.
[[gnu::noinline, gnu::cold]] inline Stencil at_rim(Stencil s, std::uint16_t rim, int component) {
  for (int d = 0; d < 2; ++d) {
    const int axis = (component + 1 + d) % 3, high = s.first[axis] + 1;
    if (rim >> (4 * component + 2 * d + high) & 1) s.centre[axis][high] = 0, s.centre[axis][1 - high] = 1;
  }
  return s;
}

/// Calls f(component, stencil) for the three, each known when it is compiled, with each one's own stencil at
/// a rim.
template <class F>
[[gnu::always_inline]] inline void each_component(const Stencil& whole, std::uint16_t rim, F&& f) {
  if (rim) [[unlikely]] {
    f(std::integral_constant<int, 0>(), at_rim(whole, rim, 0));
    f(std::integral_constant<int, 1>(), at_rim(whole, rim, 1));
    f(std::integral_constant<int, 2>(), at_rim(whole, rim, 2));
  } else {
    f(std::integral_constant<int, 0>(), whole);
    f(std::integral_constant<int, 1>(), whole);
    f(std::integral_constant<int, 2>(), whole);
  }
}

/// The lowest of the eight faces of a component; of the eight cells, for component 3.
inline int lowest(const Lattice& g, const Stencil& s, int component) {
  return s.cell + (component == 0 ? 0 : s.first[0]) * g.step(0) +
         (component == 1 ? 0 : s.first[1]) * g.step(1) + (component == 2 ? 0 : s.first[2]);
}

/// Their weights along each axis.
inline std::array<const float*, 3> weights(const Stencil& s, int component) {
  return {component == 0 ? s.face[0] : s.centre[0], component == 1 ? s.face[1] : s.centre[1],
          component == 2 ? s.face[2] : s.centre[2]};
}

/// m from the particle's place to the two places of a component along an axis.
inline float reach(const Stencil& s, int component, int axis, int which) {
  const float to = static_cast<float>(which) - s.part[axis];
  return (component == axis ? to : to + static_cast<float>(s.first[axis]) + 0.5f) * s.width[axis];
}

}  // namespace uadze::resolved
