#pragma once
// The planar model: the surface stays a plane but has inertia, so the fuel arrives late, overshoots and comes
// back.
//
//        n            State: the surface's normal n and the velocity of the fuel's centroid c.
//        |   ____     For a fixed volume V the centroid moves on the surface of centres, whose tangent plane
//        is
//    ----+--/----     the water plane's (Dupin; ship hydrostatics): dc = -(J/V) dn, J the second moments of
//    the
//      c o            section about its own centroid.
//
// The centroid is a particle of mass mu rho V that slides there under the effective gravity f. Along the
// section's principal axis i, with u = sqrt(mu) dc/dt:
//   du_i/dt = f.d_i / sqrt(mu_i) - 2 zeta w_i u_i,     dn_i/dt = -V u_i / (J_i sqrt(mu_i)),
//   w_i^2 = (-f.n) V / (mu_i J_i)
// so that energy u2/2 - f.c(n) is kept but for damping, at any tilt and however mu varies. mu makes w the
// first sloshing mode of the box that has the section's second moment and the mean depth (Lamb,
// Hydrodynamics):
//   L_i = sqrt(12 J_i / A),  h = V/A,  mu_i = 12 h / (pi L_i tanh(pi h / L_i)):   exact for a level box.
// Damping grows with amplitude a (tilt from rest, and tilt rate over frequency, together):
//   zeta = zeta_wall + violent a^2 / (a^2 + a0^2)
// zeta_wall by the laminar boundary layer (Mikishev and Dorozhkin, as given in Abramson 1966, NASA SP-106,
// with half of L as the radius).
//
//   PlanarTank tank(solid, 0.020);
//   tank.settle(Vec3(0, 0, -9.81));
//   for (...) tank.step(f, 0.01);           // any step: cut up inside as frequency and turn rate ask
//   tank.surface(), tank.centroid();
//
// Limits: one space; no breaking waves or splashes, which the damping stands for; where the section is very
// small its frequency is held to `fastest`, which slows only what hardly moves.
#include <array>

#include "core/tank/solid.h"

namespace uadze::slosh {

struct PlanarOptions {
  double violent_damping = 0.15;  ///< ratio, that large amplitudes tend to
  double violent_tilt = 0.5;      ///< rad, the amplitude at half of it
  double viscosity = 6e-7;        ///< m2/s, kinematic, of petrol (0.45 mPa s over 745 kg/m3)
  double fastest = 60.0;          ///< rad/s
};

/// Frequency and effective mass of the two first modes of a plane surface, along the section's principal
/// axes.
struct PlanarModes {
  std::array<Vec3, 2> axis;
  std::array<double, 2> frequency{};  ///< rad/s
  std::array<double, 2> mass{};       ///< mu
  std::array<double, 2> second{};     ///< m4
  std::array<double, 2> length{};     ///< m, of the box with the same second moment
};

PlanarModes planar_modes(const tank::Section& section, double volume, const Vec3& normal, const Vec3& f,
                         double solid_size, const PlanarOptions& options = {});

class PlanarTank {
 public:
  /// `volume` in m3, above 0 and below the solid's. The solid must outlive this.
  PlanarTank(const tank::Solid& solid, double volume, const PlanarOptions& options = {});

  /// At rest under f (m/s2).
  void settle(const Vec3& f);
  /// Moves on by dt (s) under a constant f.
  void step(const Vec3& f, double dt);

  tank::Plane surface() const { return {normal_, offset_}; }
  const Vec3& centroid() const { return moments_centroid_; }
  double volume() const { return volume_; }
  /// J/kg: kinetic and potential energy under f. Never grows while f stays the same.
  double energy(const Vec3& f) const;
  int substeps() const { return substeps_; }  ///< taken since the beginning

 private:
  void locate();
  double substep(const Vec3& f, double left);

  const tank::Solid* solid_;
  double volume_, size_;
  PlanarOptions options_;
  tank::PlaneCutter cutter_;
  Vec3 normal_ = Vec3::UnitZ();
  Vec3 speed_ = Vec3::Zero();  ///< u, in the water plane, m/s
  double offset_ = 0.0;
  tank::Section section_;
  Vec3 moments_centroid_ = Vec3::Zero();
  int substeps_ = 0;
};

}  // namespace uadze::slosh
