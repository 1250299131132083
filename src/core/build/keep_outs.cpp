#include "core/build/keep_outs.h"

#include <boost/math/tools/minima.hpp>
#include <optional>

namespace uadze::build {

using circuit::Leg;
using circuit::LegKind;
using circuit::LegPlace;
using circuit::Part;
using circuit::PartKind;

std::vector<Route> routes_in_car(const circuit::Case& c) {
  std::vector<Route> out;
  // Walks a leg from where it starts; where it ends, or nothing if nothing is known of its way.
  const auto walk = [&](const LegPlace& place, std::optional<Vec3> at) -> std::optional<Vec3> {
    const Leg* leg = circuit::leg_at(c.circuit, place);
    if (!leg || !at) return std::nullopt;
    bool known = false;
    for (size_t i = 0; i < leg->size(); ++i) {
      const Part& p = (*leg)[i];
      if (p.kind != PartKind::line || p.run.isZero()) continue;
      // Of ways side by side the first leads on.
      if (p.way > 1) continue;
      out.push_back({place, static_cast<int>(i), *at, *at + p.run});
      *at += p.run, known = true;
    }
    return known ? at : std::nullopt;
  };
  const auto pickup_of = [&](const std::string& name, bool by_feed) -> std::optional<Vec3> {
    for (const auto& p : c.surroundings.pickups)
      if ((by_feed ? p.feeds : p.name) == name) return p.place;
    return std::nullopt;
  };
  std::optional<Vec3> source;
  if (c.surroundings.surge) {
    for (size_t k = 0; k < c.circuit.lifts.size(); ++k) {
      const auto end = walk({LegKind::lift, static_cast<int>(k)}, pickup_of(c.circuit.lifts[k].pump, true));
      if (!source) source = end;
    }
    if (source && !c.circuit.overflow.empty()) walk({LegKind::overflow, 0}, source);
  } else {
    for (size_t k = 0; k < c.circuit.suctions.size(); ++k) {
      const auto end =
          walk({LegKind::suction, static_cast<int>(k)}, pickup_of(c.circuit.suctions[k].pickup, false));
      if (!source) source = end;
    }
    if (!source && !c.surroundings.pickups.empty()) source = c.surroundings.pickups.front().place;
  }
  std::optional<Vec3> merge;
  for (size_t k = 0; k < c.circuit.mains.size(); ++k) {
    const auto end = walk({LegKind::main, static_cast<int>(k)}, source);
    if (!merge) merge = end;
  }
  if (!merge) merge = source;
  const auto rail = walk({LegKind::feed, 0}, merge);
  if (rail) walk({LegKind::back, 0}, rail);
  return out;
}

double distance_to_box(const Vec3& from, const Vec3& to, const Vec3& low, const Vec3& high) {
  const auto at = [&](double s) {
    const Vec3 p = from + s * (to - from);
    return (p - p.cwiseMax(low).cwiseMin(high)).norm();
  };
  // A convex function of the place along the straight.
  const double inside = boost::math::tools::brent_find_minima(at, 0.0, 1.0, 40).second;
  return std::min({inside, at(0.0), at(1.0)});
}

std::vector<Crossing> crossings(const circuit::Case& c, const std::vector<KeepOut>& keep_outs) {
  std::vector<Crossing> out;
  if (keep_outs.empty()) return out;
  for (const Route& r : routes_in_car(c))
    for (size_t k = 0; k < keep_outs.size(); ++k) {
      const double d = distance_to_box(r.from, r.to, keep_outs[k].low, keep_outs[k].high);
      if (d < keep_outs[k].clearance) out.push_back({r.leg, r.part, k, d});
    }
  return out;
}

}  // namespace uadze::build
