#pragma once
// The first sloshing modes of a space at a fill, by the linear eigenvalue problem of potential flow.
//
//        S: d(phi)/dn = (w2/g) phi        Find phi with  laplace(phi) = 0 in the fuel,
//     ___________________                 d(phi)/dn = 0 on the wetted walls W,
//     \      fuel       / W               d(phi)/dn = (w2/g) phi on the free surface S  (Lamb, Hydrodynamics;
//      \_______________/                  Abramson 1966, NASA SP-106).
//
// Rayleigh-Ritz: w2/g = min over phi of  integral |grad phi|2 dV / integral_S phi2 dS,  phi a sum of harmonic
// polynomials (regular solid harmonics up to a degree), so that the volume integral becomes one over the
// fuel's whole surface:  integral |grad phi|2 dV = closed integral phi d(phi)/dn dA. The values come from
// above and fall with the degree; walls need no condition of their own.
//
// Limits: small waves of a fuel without friction. Re-entrant corners (a box standing in the space) cost some
// accuracy: compare with a degree two higher.
//
// Example:
//   const tank::Solid box = make_solid(tank::Box{{0, 0, 0}, {0.6, 0.4, 0.3}});
//   const auto modes = slosh::first_modes(box, 0.6 * 0.4 * 0.1, Vec3(0, 0, -9.81));
//   EXPECT_EQ(modes.state, slosh::ModeState::found);
//   const double k = M_PI / 0.6;             // rad/s, lowest first: along the box
//   EXPECT_NEAR(modes.frequency[0], std::sqrt(9.81 * k * std::tanh(k * 0.1)), 1e-4);
//   EXPECT_NEAR(modes.share[0], 96 / std::pow(M_PI, 4), 1e-3) << "of a plane tilt: the rest is the third mode's";
#include <array>
#include <vector>

#include "core/slosh/planar.h"
#include "core/slosh/section_modes.h"
#include "core/tank/tank.h"

namespace uadze::slosh {

struct ModeOptions {
  int degree = 8;                ///< of the harmonic polynomials
  int count = 3;                 ///< modes wanted
  bool estimate_change = false;  ///< also with two degrees more, to see what they change
};

enum class ModeState { found, no_fuel, no_surface, failed };
constexpr const char* name_of(ModeState state) {
  switch (state) {
    case ModeState::found:
      return "found";
    case ModeState::no_fuel:
      return "no fuel";
    case ModeState::no_surface:
      return "no free surface";
    case ModeState::failed:
      return "failed: the eigenvalue problem has no solution to be trusted";
  }
  return nullptr;
}

struct Modes {
  ModeState state = ModeState::found;
  std::vector<double> frequency;  ///< rad/s, rising; fewer than wanted if the fuel does not allow them
  /// The way in which each mode moves the fuel's centroid, unit vectors in the surface; zero if it does not
  /// (modes that no steady push can raise).
  std::vector<Vec3> direction;
  /// 0..1: how much of a plane tilt of the surface that way is the mode's; those of all modes of a direction
  /// sum to 1. A box's first has 96/pi^4 = 0.986 of it, a ripple over a shelf that is just covered little.
  std::vector<double> share;
  int functions = 0;    ///< harmonic polynomials that were used
  int points = 0;       ///< at which the integrals were taken
  double change = 0.0;  ///< of the lowest frequency, as a share, by two degrees more; 0 unless asked for
};

/// The fuel of `volume` (m3) at rest under f (m/s2). Without frequencies `state` says why.
Modes first_modes(const tank::Solid& solid, double volume, const Vec3& f, const ModeOptions& options = {});

/// rad/s at which level fuel with a surface that is held plane swings along each of its section's two axes; 0
/// where no mode does. Of a tilt the modes have shares p, and its energies are theirs, so that 1/w2 = sum
/// p/w_k2 / sum p (Rayleigh). Where one mode has nearly all of it, as in a box, it is that mode's; where a
/// box that stands in the fuel parts a tilt into two or three, none of them alone swings the fuel. Shares
/// under 3 % are not the plane's.
struct PlaneSwing {
  SectionModes section;
  std::array<double, 2> frequency{};
};
PlaneSwing plane_swing(const tank::Solid& solid, double volume,
                       const ModeOptions& options = {.degree = 6, .count = 10});

/// The factor on the planar model's inertia by fill, for level fuel, so that it swings at those.
InertiaTable inertia_table(const tank::Solid& solid);
TankInertia tank_inertia(const tank::Tank& tank);

}  // namespace uadze::slosh
