#pragma once
// Flow of fuel and gas through the openings between spaces, over one time step.
//
//      gas p1  |        gas p2        At each small cell of an opening the pressure on either side is the
//      gas's
//   -----------|                      own, plus the fuel's head where the cell is under the surface:
//   fuel   ->  o   -----------          p = p_gas + rho max(0, g_eff.(x - x_surface))
//              |   fuel               What stands on the side of the higher pressure goes through, fuel or
//   -----------+-----------           gas:  Q = Cd A sqrt(2 dp/rho)   (Torricelli; Idelchik for Cd).
//
// Gas is quick: spaces that share a dry part of an opening share their pressure at once. A group of spaces
// that no dry opening joins to the vented ones is locked: its gas follows p V = const (isothermal), found
// together with the step's flows, so that a locked space holds its fuel in or out; bubbles pass where gas
// stands on the side of the higher pressure. A space takes in what it has room for and what leaves it at the
// same time.
//
// Over a step dt a pair of spaces with areas A1, A2 that drain into each other through one opening follows
// d(dh)/dt = -Q (1/A1 + 1/A2), whose solution is exact for the square-root law: no step overshoots.
//
// Limits: quasi-steady, no inertia of the fuel in the opening; no gas and fuel passing each other in the same
// part of an opening without a difference of pressure.
//
// Example:
//   const tank::Tank tank = plain_tank(make_solid(tank::Box{{0, 0, 0}, {0.6, 0.4, 0.3}}));
//   const slosh::OpeningFlows flows(tank, {});
//   EXPECT_TRUE(flows.fuel().empty()) << "one space, no openings";
#include "core/slosh/opening_cells.h"
#include "core/slosh/planar.h"

namespace uadze::slosh {

struct FlowOptions {
  double density = 745.0;        ///< kg/m3, fuel
  double gas_density = 1.3;      ///< kg/m3: air with a little vapour
  double ambient = 101325.0;     ///< Pa
  double discharge_scale = 1.0;  ///< on every opening's coefficient but a foam's edge: to calibrate
  double foam = 1.0;             ///< on what foam takes at its edges, PlanarOptions::foam there
};

/// A space as the openings see it.
struct SpaceSide {
  double volume = 0.0, capacity = 0.0;  ///< m3
  double area = 0.0;                    ///< m2, of the free surface
  tank::Plane surface;
  Vec3 reference = Vec3::Zero();  ///< m, the free surface's middle
  Vec3 pressing = Vec3::Zero();   ///< m/s2
  bool vented = false;
  Exchange through;  ///< of the last step
};

class OpeningFlows {
 public:
  OpeningFlows(const tank::Tank& tank, const FlowOptions& options);

  /// Moves fuel and gas for dt; writes the new volumes into the sides.
  void advance(std::vector<SpaceSide>& sides, double dt);

  /// Mean fuel flow through each opening over the last step, m3/s, from `from` to `to`.
  const std::vector<double>& fuel() const { return fuel_; }
  const std::vector<double>& gas_pressure() const { return pressure_; }  ///< Pa, of each space
  /// Pa m3 of gas in each space; empty before the first step.
  const std::vector<double>& gas() const { return gas_; }
  /// Whether the space's gas had no dry way to the air or to any other space in the last step.
  const std::vector<char>& locked() const { return locked_; }

 private:
  struct Through {
    double fuel = 0.0, gas = 0.0;  ///< m3/s and Pa m3/s, from `from` to `to`
    double drive = 0.0;            ///< m2/s2: mean over the fuel's flow, for how soon it evens out
    double both = 0.0;             ///< share of the flow that meets fuel on the far side
    Vec3 place = Vec3::Zero();     ///< m, the middle of the fuel's flow
  };
  void survey(const std::vector<SpaceSide>& sides);
  void find_groups(const std::vector<SpaceSide>& sides);
  void fit(const std::vector<SpaceSide>& sides);
  void solve_locked(const std::vector<SpaceSide>& sides, double dt);
  Through through(size_t opening, double pressure_a, double pressure_b, bool with_place) const;
  double moved(size_t opening, const Through& t, const std::vector<SpaceSide>& sides, double dt) const;

  const tank::Tank* tank_;
  FlowOptions options_;
  std::vector<double> discharge_;                ///< of each opening
  std::vector<OpeningCells> cells_;              ///< of each opening
  std::vector<std::vector<StandBlock>> stands_;  ///< of each opening, in this step
  std::vector<double> dry_;                      ///< m2 of each opening that is dry on both sides
  std::vector<SideView> views_;                  ///< of each space; a cell's half is the opening's
  std::vector<double> edge_;                     ///< m, of the cube that holds as much as each space
  std::vector<double> change_, gas_change_;
  std::vector<double> moved_;  ///< m3 through each opening in this step
  std::vector<Vec3> place_;    ///< m, the middle of that
  std::vector<double> in_, out_;
  std::vector<double> fuel_, pressure_;
  std::vector<double> before_;  ///< Pa, of the last step
  std::vector<double> gas_;     ///< Pa m3 in each space; empty before the first step
  std::vector<int> group_, busy_;
  std::vector<char> locked_;
  std::vector<double> slope_;  ///< m3: of the last residual by pressure, of each space; 0: none yet
};

}  // namespace uadze::slosh
