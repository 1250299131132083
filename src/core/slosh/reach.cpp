#include "core/slosh/reach.h"

#include <tbb/parallel_for.h>

#include <cmath>
#include <limits>
#include <numbers>

#include "core/base/root.h"
#include "core/slosh/planar_tank.h"

namespace uadze::slosh {

double reach_volume(const tank::Tank& tank, const tank::Pickup& pickup, size_t space, const Vec3& f) {
  const Vec3 n = -f.normalized();
  const double reach = pickup.sock_radius * std::hypot(n.x(), n.y());
  const double wanted = n.dot(pickup.position) + reach;
  if (tank.spaces.size() == 1) {
    const double below = moments_below(tank.whole, {n, wanted}).volume;
    return below >= tank.volume() * (1 - 1e-12) ? std::numeric_limits<double>::infinity() : below;
  }
  const auto covered = [&](double volume) {
    SettledTank settled(tank, level_fill(tank, volume));
    settled.update(Vec3(0, 0, -standard_gravity));
    settled.update(f);
    return settled.surface(space).offset >= wanted - 1e-12;
  };
  const double whole = tank.volume();
  if (!covered(whole * (1 - 1e-9))) return std::numeric_limits<double>::infinity();
  constexpr int ladder = 20;
  int first = ladder;
  while (first > 1 && covered(whole * (first - 1) / ladder)) --first;
  const double high = first == ladder ? whole * (1 - 1e-9) : whole * first / ladder,
               low = whole * (first - 1) / ladder;
  return turn_between(covered, low, high, 1e-5 * whole).yes;
}

Reach pickup_reach(const tank::Tank& tank, const tank::Pickup& pickup, size_t space, double strength,
                   int directions, Progress* progress) {
  Reach out;
  out.strength = strength;
  out.angle.resize(static_cast<size_t>(directions));
  out.volume.resize(static_cast<size_t>(directions));
  tbb::parallel_for(0, directions, [&](int i) {
    if (progress && progress->cancelled()) return;
    const double angle = 2 * std::numbers::pi * i / directions;
    const Vec3 a = strength * standard_gravity * Vec3(std::cos(angle), std::sin(angle), 0);
    out.angle[static_cast<size_t>(i)] = angle;
    out.volume[static_cast<size_t>(i)] = reach_volume(tank, pickup, space, effective_gravity(a));
  });
  if (progress) progress->check();
  return out;
}

}  // namespace uadze::slosh
