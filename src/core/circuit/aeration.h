#pragma once
// Gas that a return above the fuel carries down, and the share of it that the pumps draw. An estimate.
//
// A jet of speed u and bore d that falls L meets the surface at u_i = sqrt(u^2 + 2 g L), d_i = d sqrt(u/u_i).
// It takes gas down (A. Bin, Gas entrainment by plunging liquid jets, Chem. Eng. Sci. 48 (1993) 3585):
//   Q_g/Q = 0.04 Fr^0.28 (L/d_i)^0.4,  Fr = u_i^2/(g d_i);  for L/d_i <= 100, Fr^0.28 (L/d_i)^0.4 >= 10
// and none where u_i is under 0.8 m/s (Ervine, McKeogh and Elsawy 1980: 0.8 to 1.1 m/s). Measured with water;
// petrol's finer bubbles are in the rise speed. Under its range the law gives too much: to the safe side.
//
// The gas mixes into the space and leaves by its surface A at the bubbles' rise w, or by the pickups that
// draw Q_d from it: their share is Q_g/(w A + Q_d). Bubbles that do not reach the pickup's depth are counted
// all the same. A diffuser spreads the jet over four times its bore's area (typical); under the fuel there is
// no jet, and foam at the outlet lets the fuel run down its cells: taken as a fifth.
//
// Example:
//   const circuit::AerationInput falls{.flow = 60e-6, .bore = 8e-3, .fall = 0.1, .surface = 0.01, .drawn = 80e-6};
//   const circuit::Aeration now = circuit::aeration(falls);
//   EXPECT_GT(now.share, 0.0);
//   EXPECT_LT(circuit::aeration({.flow = 60e-6, .bore = 8e-3, .fall = 0.1, .diffuser = true, .surface = 0.01, .drawn = 80e-6}).share, now.share);
#include "core/base/derivation.h"

namespace uadze::circuit {

struct AerationInput {
  double flow = 0.0;  ///< m3/s of the return
  double bore = 0.0;  ///< m, of its last line
  double fall = 0.0;  ///< m over the fuel; 0 or less: it ends in the fuel
  bool diffuser = false;
  bool foam = false;         ///< at the outlet
  double surface = 0.0;      ///< m2 of the fuel that it falls into
  double drawn = 0.0;        ///< m3/s out of that space
  double bubble_rise = 0.1;  ///< m/s
  double gravity = 9.80665;  ///< m/s2
};

struct Aeration {
  double entrained = 0.0;  ///< m3/s of gas
  double share = 0.0;      ///< of what the pumps draw
  double speed = 0.0;      ///< m/s, at the surface
  bool in_range = true;    ///< of the law
};
Aeration aeration(const AerationInput& in);
Derivation aeration_working(const AerationInput& in);

}  // namespace uadze::circuit
