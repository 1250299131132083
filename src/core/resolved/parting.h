#pragma once
// Foam parts a space in two where its side stands upright (tank/foam.h): that is how the fast model knows it.
// To the resolved fuel foam is drag and no wall. Its cells are laid over the tank as it is without that
// parting; here they learn to which of the parted spaces each belongs, so that both tell of the same ones.
//
// Example:
//   tank::TankParts parts;
//   parts.shapes = {tank::Box{{0, 0, 0}, {0.6, 0.4, 0.3}}};
//   parts.foam = {{.name = "front", .shape = tank::Box{{0.25, 0, 0}, {0.6, 0.4, 0.3}}}};
//   const tank::Tank tank = assemble(parts).tank;
//   const resolved::Lattice lattice = resolved::make_lattice(tank, parts, {.size = 0.1});
//   EXPECT_EQ(lattice.axis[0].cells, 6) << "no wall is where the foam ends";
//   EXPECT_NE(lattice.space[static_cast<size_t>(lattice.index(1, 1, 1))],
//             lattice.space[static_cast<size_t>(lattice.index(6, 1, 1))]);
#include "core/resolved/lattice.h"

namespace uadze::resolved {

/// Cells and faces of `lattice`, laid over `whole`, become those of `parted`, the same tank with its foam.
void part_at_foam(Lattice& lattice, const tank::Tank& whole, const tank::Tank& parted);

}  // namespace uadze::resolved
