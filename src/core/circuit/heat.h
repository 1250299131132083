#pragma once
// The heat balance of the fuel: lumps of main tank and surge tank, each at one temperature, and the rail's
// loop, which warms what goes round and has no storage of its own.
//
//   C_surge dT_s/dt = rho c [q_lifted (T_t - T_s) + q_back dT_loop] + P_lift - k_s (T_s - T_around)
//   C_tank  dT_t/dt = rho c  q_overflow (T_s - T_t) - k_t (T_t - T_air)
//   dT_loop = P_loop / (rho c q_main)
//
// what comes back from the rail goes to the surge tank, or to the main tank at T_s + dT_loop; a surge tank
// inside the main tank has that around it, otherwise the air. Implicit Euler: stable at any step, and energy
// is kept to rounding.
//
// Example:
//   const circuit::HeatBalance heat{.loop = 100, .heat_capacity = 1.5e6};
//   const circuit::Temperatures before{293.15, 293.15};
//   const circuit::HeatMoves moves{.time = 60, .tank_volume = 40e-3, .back = 1e-3, .main = 2e-3};
//   const circuit::Temperatures after = warmed(before, heat, moves);   // no surge tank: half the heat stays
//   EXPECT_NEAR(after.tank - before.tank, 0.5 * 100 * 60 / (1.5e6 * 40e-3), 1e-9);

namespace uadze::circuit {

struct HeatBalance {
  double loop = 0.0;   ///< W, mean, into the fuel that circulates: pumps, engine bay
  double burnt = 0.0;  ///< W, mean, into fuel that does not come back: the bay round a line without return
  double lift = 0.0;   ///< W, mean, of the lift pumps
  double tank_loss = 0.0;    ///< W/K
  double surge_loss = 0.0;   ///< W/K
  double ambient = 298.15;   ///< K
  double heat_capacity = 0;  ///< J/(m3 K)
  bool surge_inside = true;
};

struct Temperatures {
  double tank = 0.0, surge = 0.0;  ///< K; without a surge tank the same
};

/// What moves in a step, m3.
struct HeatMoves {
  double time = 0.0;          ///< s
  double tank_volume = 0.0;   ///< of the lump, above 0
  double surge_volume = 0.0;  ///< 0: no surge tank
  double lifted = 0.0;        ///< from the main tank into the surge tank
  double overflow = 0.0;      ///< from the surge tank to the main tank
  double back = 0.0;          ///< from the rail
  double main = 0.0;          ///< through the main pumps
  bool back_to_surge = true;
};

/// K by which the loop warms what goes through it.
double loop_rise(const HeatBalance& heat, const HeatMoves& moves);

Temperatures warmed(const Temperatures& before, const HeatBalance& heat, const HeatMoves& moves);

}  // namespace uadze::circuit
