#pragma once
// The tank as the resolved solver sees it: a rectilinear grid of cells, how much of each can hold fuel, and
// how much of each face lets it through.
//
//        line[i]      line[i+1]         Lines are laid through flat walls, plates and the sides of collectors
//      ----+-------------+----          that lie along the axes, so that these are exact; between two such
//          |  capacity   |              lines cells are equally wide, as near as can be to the size asked for.
//     area |   (m3)      | area         A face's area is what of it is open on both sides in one space; a
//     (m2) |             | of the next  plate thinner than any cell is a face without area.
//      ----+-------------+----
//
// Capacity and areas are measured by straight lines through the spaces' closed surfaces, exact along the line
// and at four by four places across a cell; capacities that are cut are scaled so that all of them are the
// tank's volume. A cell belongs to the space that has most of it; between cells of two spaces only openings
// pass.
//
// An opening smaller than a face makes it a porous plate: with the share a of it open and v the flow over the
// whole face,  dp = rho v2/2 k.  A jet through a hole of one cell loses k = 1/(a Cd)2 - 1, so that it
// discharges by Torricelli with the Cd that was entered; a hole of four cells and more contracts by itself
// and loses, at its rim alone, k = (1/(a Cc) - 1)2,  Cc = Cd + (1 - Cd) a3  (Idelchik, Handbook of hydraulic
// resistance, thin plate); between, in proportion.
//
// Limits: a plate or collector's side that is oblique, or nearer than half a cell to another line, follows
// the faces in steps; what is smaller than a cell and no opening is not seen.
//
// Example:
//   const tank::Tank tank = plain_tank(make_solid(tank::Box{{0, 0, 0}, {0.31, 0.2, 0.1}}));
//   const resolved::Lattice lattice = resolved::make_lattice(tank, {}, {.size = 0.02});
//   EXPECT_EQ(lattice.axis[0].cells, 16);                  // of 19.4 mm, so that both walls are lines
//   EXPECT_NEAR(lattice.volume(), tank.volume(), 1e-12);
#include <cstdint>

#include "core/tank/tank.h"

namespace uadze::resolved {

/// Lines across one axis, with one cell more at either end that holds nothing.
struct Axis {
  std::vector<double> line;              ///< m, cells + 3 of them, rising
  std::vector<double> width, per_width;  ///< m and 1/m, of the cells + 2 between
  std::vector<double> apart;             ///< m from the middle of the cell before to this one's
  int cells = 0;                         ///< without the two at the ends
  double per_step = 0.0;                 ///< 1/m, of `place`
  std::vector<int> place;                ///< first guess of the cell, by equal steps
  int count() const { return cells + 2; }
  double middle(int i) const { return (line[static_cast<size_t>(i)] + line[static_cast<size_t>(i) + 1]) / 2; }
  /// The cell that holds x; the first or last where it lies beyond.
  int cell_of(double x) const {
    const double step = (x - line.front()) * per_step;
    const int last = count() - 1;
    int i = step <= 0                                   ? 0
            : step >= static_cast<double>(place.size()) ? last
                                                        : place[static_cast<size_t>(step)];
    while (i < last && x >= line[static_cast<size_t>(i) + 1]) ++i;
    while (i > 0 && x < line[static_cast<size_t>(i)]) --i;
    return i;
  }
};

struct LatticeOptions {
  double size = 0.015;  ///< m, of a cell, as near as the walls let it be
};

/// Bits of a cell's sides: lower and upper along x, y, z.
inline constexpr std::uint8_t lower_side(int axis) { return static_cast<std::uint8_t>(1 << (2 * axis)); }
inline constexpr std::uint8_t upper_side(int axis) { return static_cast<std::uint8_t>(2 << (2 * axis)); }

/// Cells are numbered with z running fastest, then y, then x. What belongs to a face stands at the cell above
/// it: area[0][c] is of the face between c - step(0) and c.
struct Lattice {
  std::array<Axis, 3> axis;
  std::vector<double> capacity;                      ///< m3 of fuel that a cell can hold
  std::vector<double> spread;                        ///< m3: the same as particles spread over cells see it
  std::vector<std::int16_t> space;                   ///< of each cell; -1: none
  std::array<std::vector<double>, 3> area;           ///< m2 of each face that fuel can pass, foam taken off
  std::array<std::vector<double>, 3> resistance;     ///< of a porous plate: dp / (rho v2/2)
  std::array<std::vector<std::int16_t>, 3> opening;  ///< that the face is part of; -1: none
  std::vector<std::uint8_t> shut;                    ///< sides through which nothing passes
  std::vector<std::uint8_t> apart;  ///< sides beyond which the fuel moves by itself: mostly shut
  /// At an opening's rim: bit 4 a + 2 d + s, where beyond side s of axis d the face of component a is shut
  /// though the cell's own lets through (d: 0, 1, the axes after a). Empty without openings.
  std::vector<std::uint16_t> rim;
  std::vector<double> darcy;     ///< 1/m2: porosity over permeability; empty: no foam
  std::vector<double> inertial;  ///< 1/m: Forchheimer's, of |u| u
  /// m at a cell's lowest corner, positive inside; empty where all walls are along the axes.
  std::vector<double> inside;
  std::vector<std::string> said;  ///< what of the tank is too small for these cells, a sentence each

  int step(int a) const { return a == 0 ? axis[1].count() * axis[2].count() : a == 1 ? axis[2].count() : 1; }
  int count() const { return axis[0].count() * step(0); }
  int index(int i, int j, int k) const { return (i * axis[1].count() + j) * axis[2].count() + k; }
  std::array<int, 3> place(int c) const { return {c / step(0), c % step(0) / step(1), c % step(1)}; }
  double volume() const;  ///< m3, of all cells
  bool open(int c) const { return capacity[static_cast<size_t>(c)] > 0; }
};

/// Cells of a column along z, from `low` up to before `high`; none where they are the same.
struct Column {
  int low = 0, high = 0;
};

/// More cells than a machine's memory and an afternoon hold.
inline constexpr int most_cells = 20'000'000;

/// `parts` names the foam, whose shapes the tank itself does not keep. Throws InputError for a size that is
/// none, a tank without volume, or more than `most_cells`.
Lattice make_lattice(const tank::Tank& tank, const tank::TankParts& parts, const LatticeOptions& options = {},
                     const tank::MeshSource& meshes = {});

}  // namespace uadze::resolved
