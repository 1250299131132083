#pragma once
// The planar model of one space: the surface stays a plane but has inertia, so the fuel arrives late,
// overshoots and comes back.
//
//        n            State: the surface's normal n and the velocity of the fuel's centroid c.
//        |   ____     For a fixed volume V the centroid moves on the surface of centres, whose tangent plane
//    ----+--/----     is the water plane's (Dupin; ship hydrostatics): dc = -(J/V) dn, J the second moments
//      c o            of the section about its own centroid.
//
// The centroid is a particle of mass mu rho V that slides there under the effective gravity f. Along the
// section's principal axis i, with u = sqrt(mu) dc/dt:
//   du_i/dt = f.d_i / sqrt(mu_i) - (2 zeta w_i + nu D) u_i,     dn_i/dt = -V u_i / (J_i sqrt(mu_i)),
//   w_i^2 = (-f.n) V / (mu_i J_i)
// so that energy u2/2 - f.c(n) is kept but for damping, at any tilt and however mu varies. mu makes w the
// first sloshing mode of the box that has the section's second moment and the mean depth (Lamb,
// Hydrodynamics):
//   L_i = sqrt(12 J_i / A),  h = V/A,  mu_i = 12 h / (pi L_i tanh(pi h / L_i)):   exact for a level box;
// other shapes multiply it by an InertiaTable from their numerical modes (modes.h). nu D is the drag of foam
// by Darcy, D its porosity over its permeability; by Forchheimer it takes another
//   du_i/dt = -<U^3>/<U^2>^1.5 F_i |u| u_i = -1.17 F_i |u| u_i,   F = 0.1 porosity^2/sqrt(permeability),
// the means over the box's flow U ~ 1 - (2x/L)^2 ((16/35)/(8/15)^1.5). At 1 g this one is what counts: the
// cells' Reynolds number is 50 to 200. Foam in a part of the space: D and F as foam_drag.h has them.
// Damping grows with amplitude a (tilt from rest, and tilt rate over frequency, together):
//   zeta = zeta_wall + violent a^2 / (a^2 + a0^2)
// zeta_wall by the laminar boundary layer (Mikishev and Dorozhkin, as given in Abramson 1966, NASA SP-106,
// with half of L as the radius).
//
// What stands in the fuel breaks its swing. A wall across the flow that blocks the share S of the section
// loses
//   dp = C rho U^2/2,  C = (1/(Cc (1 - S)) - 1)^2,  Cc = 0.405 exp(-pi S) + 0.595
// (Baines and Peterson 1951, as used for screens in sloshing tanks by Tait 2008, Eng. Struct. 30; S 0.2..0.7,
// cut at 0.8). In a box the flow is U = 3/2 dc/dt in the middle and falls as 1 - (2x/L)^2, so with the
// mode's energy mu rho V (dc/dt)^2/2
//   du_i/dt = -(27/16) b C (1 - (2x/L)^2)^3 / (mu_i^1.5 L_i) |u_i| u_i.
// b is 1 for a steady stream that fills the section. In a swing the fuel climbs over and round what stands in
// it: 0.3 fits two-phase calculations of two pots in a box best together (one alone likes 0.15 to 0.3, the
// other more); to be set by logs or a resolved calculation.
//
// With little gas there is no room for the wave. Where the roof is wet nothing bares it but the gas that
// comes along it, a bubble that has to push the fuel aside, while a plane that passes through level has next
// to nothing to move: left to itself it takes the gas from end to end in a tenth of a second and on down the
// wall to the floor. The bubble, of volume G = d^2 W and as broad as the section across its way (W), runs at
// v = |dc/dt| V/G and has the drag of a body, C_D rho W d v^2/2, so
//   du_i/dt = -C_D/2 sqrt(W G) V^2 / (mu_i^1.5 G^3) |u_i| u_i / (1 + (G / (0.2 (V + G)))^4)
// with C_D = 2, a flat body's across the flow. The last factor ends it where the wave has room, from a fifth
// of gas on; it and C_D fit resolved runs of three tanks at eight fills (decision 54). Small waves do not
// feel it.
//
// Fuel that comes or goes at a place s off the section's middle tilts the surface by dv s/J, weakened with
// the depth d of the place as the mode is, cosh(k (h - d))/cosh(k h), k = pi/L: so what runs out at the high
// side takes the swing with it. No quicker than 15 rad/s: what pours into a puddle is spray, and turns no
// plane.
//
// A cut costs more than all else of a step, and in between two the surface goes on by what the last one said:
// a turn t about the section's middle leaves the volume as it is, and takes the centroid along -(J/V) t, up
// by (J/V) t2/2. It is cut anew where it lies further than `stray` from the last cut, or by more than a tenth
// of the depth or of the gas at the section's ends, or a fiftieth of either came or went. By what the new cut
// finds the centroid to lie otherwise the velocity is set right, so that energy stays as it is. A steeper
// step ends with a cut of its own. What a cut decides (periods, damping by the walls, drag) stands until the
// next; its volume is right to some 1e-8 of fuel or gas, where it is told of to rounding.
//
// Limits: no breaking waves or splashes, which the damping stands for; where the section is very small its
// frequency is held to `fastest`, which slows only what hardly moves. With less gas than a thousandth
// (full_gas) a space is full: its fuel stands still, as the gas could move its centroid by no more than a
// thousandth of the space, and the gas lies where it would at rest.
//
// Example:
//   const tank::Solid solid = make_solid(tank::Box{{0, 0, 0}, {0.6, 0.4, 0.3}});
//   slosh::PlanarSpace space(solid, 0.020);
//   space.settle(Vec3(0, 0, -9.81));
//   space.step(Vec3(-5, 0, -9.81), 0.1);          // any step: cut up inside as frequency and turn rate ask
//   EXPECT_NE(space.surface().normal.x(), 0.0);
//   EXPECT_NEAR(space.volume(), 0.020, 1e-15);
#include <array>
#include <cmath>
#include <vector>

#include "core/slosh/foam_drag.h"
#include "core/tank/solid.h"

namespace uadze::slosh {

/// Share of a space; with less gas it is full.
inline constexpr double full_gas = 1e-3;

struct PlanarOptions {
  double violent_damping = 0.15;  ///< ratio, that large amplitudes tend to
  double violent_tilt = 0.5;      ///< rad, the amplitude at half of it
  double inertia = 1.0;           ///< on mu: to calibrate
  double foam = 1.0;              ///< on its drag: to calibrate
  double blockage = 0.3;          ///< on C of what stands in the fuel: fitted, see above
  double viscosity = 6e-7;        ///< m2/s, kinematic, of petrol (0.45 mPa s over 745 kg/m3)
  double bubble_drag = 2.0;       ///< C_D of the gas where there is little, see above
  double fastest = 40.0;          ///< rad/s
  double phase_step = 0.35;       ///< rad of the fastest mode a substep: period error phase_step2/24
  double stray = 0.02;            ///< rad that a surface turns before it is cut anew, see above
};

/// What slows a space's fuel beside its walls.
struct SpaceDrag {
  double darcy = 0.0, inertial = 0.0;                      ///< 1/m2 and 1/m: foam's mean, see tank::Foam
  double crowded = 0.0;                                    ///< 0..1 of the section
  const std::vector<tank::Obstacle>* obstacles = nullptr;  ///< must outlive what it slows
  const std::vector<tank::FoamPoint>* foamed = nullptr;    ///< likewise; none: foam is all over it
};
/// C above, of a blocked share.
double blockage_loss(double blocked);

/// How much heavier the first modes of a space are than those of the box-equivalent, by fill.
struct InertiaTable {
  struct Row {
    double fill;                ///< share of the whole volume
    Vec3 axis = Vec3::UnitX();  ///< level, of the first factor; the second is across it
    double along = 1.0, across = 1.0;
  };
  std::vector<Row> rows;  ///< fills rising; empty: the box-equivalent
  double factor(double fill, const Vec3& direction) const;
};

/// Of each space of a tank, from its numerical modes (modes.h); empty: the box-equivalent throughout.
using TankInertia = std::vector<InertiaTable>;

/// What came into a space (+) and went (-) through its openings in a step.
struct Exchange {
  double came = 0.0, gross = 0.0;  ///< m3: the sum, and the sum of sizes
  Vec3 moment = Vec3::Zero();      ///< m4: sum of volume times place
  Vec3 place = Vec3::Zero();       ///< m4: sum of size times place
  void add(double volume, const Vec3& at) {
    came += volume, gross += std::abs(volume);
    moment += volume * at, place += std::abs(volume) * at;
  }
};

class PlanarSpace {
 public:
  /// `volume` in m3, from 0 to the solid's. Solid and table must outlive this.
  PlanarSpace(const tank::Solid& solid, double volume, const PlanarOptions& options = {},
              const SpaceDrag& drag = {}, const InertiaTable* table = nullptr);

  /// At rest under f (m/s2).
  void settle(const Vec3& f);
  /// Moves on by dt (s) under a constant f.
  void step(const Vec3& f, double dt);
  /// Takes another phase_step and stray from now on.
  void step_by(const PlanarOptions& steps) {
    options_.phase_step = steps.phase_step, options_.stray = steps.stray;
  }
  /// Fuel came (at rest) or went: the plane shifts along its normal.
  void set_volume(double volume);
  /// The same where the fuel came and went at places, within dt (s).
  void set_volume(double volume, const Exchange& through, double dt);
  /// Makes surface, section and centroid those of the present volume to rounding.
  void refresh();

  tank::Plane surface() const { return {normal_, offset_}; }
  const tank::Section& section() const { return section_; }
  const Vec3& centroid() const { return centroid_; }
  /// Whether there is fuel to move and room to move in.
  bool moves() const { return volume_ > 1e-7 * capacity() && !is_full(); }
  /// Whether surface, section and centroid are those of the present volume to rounding.
  bool is_exact() const { return exact_; }
  double volume() const { return volume_; }
  double capacity() const { return solid_->volume(); }
  /// J/kg: kinetic and potential energy under f. Never grows while f stays the same.
  double energy(const Vec3& f) const { return speed_.squaredNorm() / 2 - f.dot(centroid_); }
  /// Pull that makes pressure in the fuel: f less the fuel's own acceleration, m/s2.
  Vec3 pressing(const Vec3& f) const;
  /// Appends what decides how it goes on, each in a measure of which 1e-4 is nothing.
  void tell_state(std::vector<double>& out) const;
  int substeps() const { return substeps_; }                ///< taken since the beginning
  double largest_correction() const { return corrected_; }  ///< J/kg taken out as a step's error, the most

 private:
  /// Along each axis, of the last cut.
  struct Figures {
    double per_turn = 0.0;     ///< 1/m: V/J
    double root = 0.0;         ///< of mu
    double frequency = 0.0;    ///< over the pull's root
    double slowed_root = 0.0;  ///< of mu over the pull's root, where `fastest` holds
    double wall = 0.0;         ///< damping ratio times the pull^0.25
    double square = 0.0;       ///< 1/m times mu^1.5: drag by |u| u of bubble and what stands in the fuel
  };
  /// Along each axis, under a push.
  struct Pulled {
    Pulled(const Vec3& f, const PlanarSpace& space);
    double upright;  ///< m/s2: -f.n
    std::array<double, 2> aside{}, pushed{}, root{}, frequency{};
    std::array<double, 2> per_speed{};  ///< 1/m, turn rate over u
  };
  void figure();
  bool is_near() const;
  void lean(const std::array<double, 2>& turn);
  bool is_full() const { return volume_ >= (1 - full_gas) * capacity(); }
  void locate(double enough);
  double substep(const Vec3& f, double left);
  double mass(int axis, double pull) const;
  double blockage(size_t axis) const;
  bool is_foamed() const { return drag_.inertial > 0 || drag_.darcy > 0; }
  void find_foam();

  const tank::Solid* solid_;
  const InertiaTable* table_;
  double volume_, size_;
  SpaceDrag drag_;
  PlanarOptions options_;
  tank::PlaneCutter cutter_;
  Vec3 normal_ = Vec3::UnitZ();
  Vec3 speed_ = Vec3::Zero();  ///< u, in the water plane, m/s
  double offset_ = 0.0;
  tank::Section section_;
  SectionModes modes_;
  std::array<Figures, 2> figures_{};
  std::array<FoamDrag, 2> foam_{};
  Vec3 foam_normal_ = Vec3::Zero(), foam_axis_ = Vec3::Zero();  ///< that it was found at
  double foam_volume_ = 0.0;
  Vec3 centroid_ = Vec3::Zero();
  bool exact_ = false;
  Vec3 cut_normal_ = Vec3::UnitZ();  ///< at the last cut
  double cut_volume_ = 0.0;          ///< likewise
  int substeps_ = 0;
  double corrected_ = 0.0;
};

}  // namespace uadze::slosh
