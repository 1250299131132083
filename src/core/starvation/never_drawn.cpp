#include "core/starvation/never_drawn.h"

#include <algorithm>
#include <cmath>
#include <limits>

namespace uadze::starvation {
namespace {

constexpr double inf = std::numeric_limits<double>::infinity();

/// m, height over the tank's origin down to which each space drains at rest; infinite: not at all.
std::vector<double> drained_to(const FuelSystem& car) {
  const tank::Tank& tank = *car.tank;
  std::vector<double> out(tank.spaces.size(), inf);
  for (size_t p = 0; p < car.pickups.size() && p < tank.pickup_space.size(); ++p)
    if (const int space = tank.pickup_space[p]; space >= 0) {
      double& to = out[static_cast<size_t>(space)];
      to = std::min(to, car.pickups[p].position.z());
    }
  if (car.transfer_from >= 0 && car.transfer_flow > 0) out[static_cast<size_t>(car.transfer_from)] = -inf;
  // A way through n spaces is known after n rounds.
  for (size_t round = 0; round < tank.spaces.size(); ++round)
    for (const tank::Opening& o : tank.openings) {
      double sill = inf;
      for (const tank::Cell& c : o.cells) sill = std::min(sill, c.at.z() - o.half_along(Vec3::UnitZ()));
      const auto drain = [&](int from, int to) {
        double& left = out[static_cast<size_t>(from)];
        left = std::min(left, std::max(sill, out[static_cast<size_t>(to)]));
      };
      if (o.passes != tank::Passes::against) drain(o.from, o.to);
      if (o.passes != tank::Passes::along) drain(o.to, o.from);
    }
  return out;
}

double wall_area(const tank::Tank& tank) {
  double out = 0;
  for (const tank::Solid& wall : tank.walls)
    for (const tank::Triangle& t : wall.triangles()) {
      const Vec3 &a = wall.vertices()[static_cast<size_t>(t[0])],
                 &b = wall.vertices()[static_cast<size_t>(t[1])],
                 &c = wall.vertices()[static_cast<size_t>(t[2])];
      out += 0.5 * (b - a).cross(c - a).norm();
    }
  return out;
}

}  // namespace

NeverDrawn never_drawn(const FuelSystem& car) {
  NeverDrawn out;
  const tank::Tank& tank = *car.tank;
  const std::vector<double> to = drained_to(car);
  for (size_t i = 0; i < tank.spaces.size(); ++i) {
    const tank::Space& space = tank.spaces[i];
    const double volume = space.volume();
    if (!(volume > 0)) continue;
    const double under =
        to[i] == inf    ? volume
        : to[i] == -inf ? 0.0
                        : std::clamp(moments_below(space.solid, {Vec3::UnitZ(), to[i]}).volume, 0.0, volume);
    out.under += under;
    out.foam += space.foam_keeps * (1 - under / volume);
  }
  constexpr double viscosity = 0.6e-6, drained_for = 60.0;  // m2/s, s
  const double height = tank.walls.empty() ? 0.0 : (tank.upper_corner() - tank.lower_corner()).z();
  out.film = wall_area(tank) * 2.0 / 3 * std::sqrt(viscosity * height / (standard_gravity * drained_for));
  // An odd shape with walls without end keeps no more than it holds.
  out.film = std::min(out.film, std::max(tank.volume() - out.under - out.foam, 0.0));
  return out;
}

Derivation never_drawn_working(const NeverDrawn& left) {
  return {.name = "Never drawn",
          .value = left.total(),
          .quantity = Quantity::volume,
          .formula = "V_never = V_under + V_foam + V_film",
          .inputs = {{"V_under", "below every way to a pickup, at rest on the level", left.under,
                      Quantity::volume, "computed, exact"},
                     {"V_foam", "kept in foam's cells", left.foam, Quantity::volume, "entered share"},
                     {"V_film", "film on the walls a minute after", left.film, Quantity::volume,
                      "Jeffreys 1930"}},
          .source = "geometry; MIL-DTL-83054 (foam); Jeffreys 1930 (film)",
          .note = "A run-out test on stands measures it."};
}

}  // namespace uadze::starvation
