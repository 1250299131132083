#pragma once
// The cells of an opening, eight at a time: how they stand between two spaces, and what goes through them at
// a difference of gas pressure. The law is flow.h's.
//
// Example:
//   const slosh::OpeningCells cells({{Vec3(0, 0, 0.1), 1e-4}});
//   std::vector<slosh::StandBlock> stands(cells.blocks.size());
//   const slosh::SideView full{.plane = {Vec3::UnitZ(), 0.3}, .half = 0.01, .pull = 9.81, .wet = true}, dry;
//   EXPECT_EQ(survey(cells, full, dry, stands.data()), 0.0);                     // m2 dry on both sides
//   const slosh::Passed out = pass(cells, stands.data(), {});
//   EXPECT_NEAR(out.fuel, 1e-4 * std::sqrt(2 * 9.81 * 0.2), 1e-7);               // Torricelli
#include <vector>

#include "core/base/lanes.h"
#include "core/tank/tank.h"

namespace uadze::slosh {

struct CellBlock {
  Lane x{}, y{}, z{};  ///< m
  Lane area{};         ///< m2; 0 of an empty lane
};

struct OpeningCells {
  explicit OpeningCells(const std::vector<tank::Cell>& cells);
  std::vector<CellBlock> blocks;
};

/// A space seen from one opening.
struct SideView {
  tank::Plane plane;              ///< its surface
  double half = 1e-6;             ///< m of a cell along the surface's normal
  double pull = 0.0;              ///< m/s2 along it
  double per_depth = 0.0;         ///< 1/m: one over the mean depth
  Vec3 lateral = Vec3::Zero();    ///< m/s2
  Vec3 reference = Vec3::Zero();  ///< m, from where the lateral push counts
  bool wet = false;               ///< there is fuel in it
};

/// Eight cells as they stand: wet shares of their two sides, and the heads of their wet parts.
struct StandBlock {
  Lane wet_a, wet_b, head_a, head_b;  ///< 0..1; m2/s2
  Lane spread_a, spread_b;            ///< m2/s2: from the head's mean to its ends within the wet part
};

/// Returns the area that is dry on both sides, m2.
double survey(const OpeningCells& cells, const SideView& a, const SideView& b, StandBlock* out);

struct PassOptions {
  double gas_drive = 0.0;  ///< m2/s2: difference of gas pressure over the fuel's density
  bool forward = true, backward = true;
  bool with_place = true;  ///< without, `place` stays nothing
};

/// Of all wet parts of the cells; without the coefficient of discharge. From a to b.
struct Passed {
  double fuel = 0.0;                         ///< m3/s
  double gas_forward = 0.0, gas_back = 0.0;  ///< m3/s, at the fuel's speed, where a side with gas presses
  double all = 0.0, weighted = 0.0;          ///< m3/s of fuel either way; times its drive
  double met = 0.0;                          ///< m3/s that meet fuel on the far side
  Vec3 place = Vec3::Zero();                 ///< m4/s: flow times place
};
Passed pass(const OpeningCells& cells, const StandBlock* stands, const PassOptions& options);

}  // namespace uadze::slosh
