#include "core/slosh/flow.h"

#include <algorithm>
#include <cmath>
#include <numeric>

#include "core/base/root.h"
#include "core/tank/foam.h"

namespace uadze::slosh {
namespace {

constexpr double least_gas_path = 1e-6;  // m2 of dry opening that lets gas pass at once
constexpr double least_bubble = 1e-6;    // of a space's volume: gas that is left when it is full

/// m2, the mean of the surface's area while it falls by `height`. Under a nearly full roof it is a strip that
/// widens as the fuel goes: a wedge's area grows with the root of its gas G, so that the fall takes
/// A z + (A z)^2/(4 G), and out of a full space b z^2 in a rectangular corner of breadth b. Not beyond a
/// quarter of a side of the cube that holds as much: wider surfaces have walls beside them. By the strip
/// alone a full space would let go by as much as there is of it, a step. `edge`: m, of that cube.
double falling_area(const SpaceSide& side, double edge, double height) {
  const double area = std::max(side.area, 1e-6), gas = std::max(side.capacity - side.volume, 1e-9);
  double mean = area * (1 + area * height / (4 * gas));
  if (gas < full_gas * side.capacity) mean = std::max(mean, edge * height);
  return std::min(mean, std::max(area, edge * edge / 4));
}

double room(const SpaceSide& side) {
  return std::max(side.capacity - side.volume, least_bubble * side.capacity);
}

}  // namespace

OpeningFlows::OpeningFlows(const tank::Tank& tank, const FlowOptions& options)
    : tank_(&tank), options_(options) {
  for (const tank::Opening& o : tank.openings) {
    discharge_.push_back(o.edge ? tank::edge_discharge(o, options.foam)
                                : o.discharge * options.discharge_scale);
    cells_.emplace_back(o.cells);
    stands_.emplace_back(cells_.back().blocks.size());
  }
  for (const tank::Space& space : tank.spaces) edge_.push_back(std::cbrt(space.volume()));
  dry_.resize(tank.openings.size());
  fuel_.resize(tank.openings.size());
  moved_.resize(tank.openings.size());
  place_.resize(tank.openings.size(), Vec3::Zero());
  pressure_.assign(tank.spaces.size(), options.ambient);
  group_.resize(tank.spaces.size());
  busy_.resize(tank.spaces.size());
  locked_.assign(tank.spaces.size(), 0);
  slope_.assign(tank.spaces.size(), 0.0);
}

void OpeningFlows::survey(const std::vector<SpaceSide>& sides) {
  views_.resize(sides.size());
  for (size_t i = 0; i < sides.size(); ++i) {
    const SpaceSide& s = sides[i];
    SideView& view = views_[i];
    view.plane = s.surface;
    view.pull = std::max(-s.pressing.dot(s.surface.normal), 0.0);
    view.per_depth = s.volume > 0 ? s.area / s.volume : 0.0;
    view.lateral = s.pressing + view.pull * s.surface.normal;
    view.reference = s.reference;
    view.wet = s.volume > 0;
  }
  for (size_t k = 0; k < tank_->openings.size(); ++k) {
    const tank::Opening& o = tank_->openings[k];
    SideView &a = views_[static_cast<size_t>(o.from)], &b = views_[static_cast<size_t>(o.to)];
    for (SideView* view : {&a, &b}) view->half = std::max(o.half_along(view->plane.normal), 1e-6);
    dry_[k] = slosh::survey(cells_[k], a, b, stands_[k].data());
  }
}

void OpeningFlows::find_groups(const std::vector<SpaceSide>& sides) {
  std::iota(group_.begin(), group_.end(), 0);
  for (bool changed = true; changed;) {
    changed = false;
    for (size_t k = 0; k < tank_->openings.size(); ++k) {
      const tank::Opening& o = tank_->openings[k];
      if (o.passes != tank::Passes::both || dry_[k] < std::min(least_gas_path, o.area / 2)) continue;
      int &a = group_[static_cast<size_t>(o.from)], &b = group_[static_cast<size_t>(o.to)];
      if (a != b) a = b = std::min(a, b), changed = true;
    }
  }
  const bool whole = std::all_of(group_.begin(), group_.end(), [](int g) { return g == 0; });
  for (size_t i = 0; i < sides.size(); ++i) {
    locked_[i] = !whole;
    for (size_t j = 0; j < sides.size(); ++j)
      if (group_[j] == group_[i] && sides[j].vented) locked_[i] = 0;
  }
}

OpeningFlows::Through OpeningFlows::through(size_t k, double pressure_a, double pressure_b,
                                            bool with_place) const {
  const tank::Opening& o = tank_->openings[k];
  const double gas_drive = (pressure_a - pressure_b) / options_.density;  // m2/s2, as if of fuel
  const double gas_speed = std::sqrt(options_.density / options_.gas_density);
  const bool forward = o.passes != tank::Passes::against, backward = o.passes != tank::Passes::along;
  const Passed wet = pass(cells_[k], stands_[k].data(), {gas_drive, forward, backward, with_place});
  double gas_forward = wet.gas_forward, gas_back = wet.gas_back;
  if (gas_drive > 0 ? forward : backward)
    (gas_drive > 0 ? gas_forward : gas_back) += dry_[k] * std::sqrt(2 * std::abs(gas_drive));
  Through out;
  out.fuel = discharge_[k] * wet.fuel;
  out.gas = discharge_[k] * gas_speed * (gas_forward * pressure_a - gas_back * pressure_b);
  if (wet.all > 0)
    out.drive = wet.weighted / wet.all, out.both = wet.met / wet.all, out.place = wet.place / wet.all;
  return out;
}

// The square-root law evens out in a finite time; within the step its mean flow is exact for one opening.
double OpeningFlows::moved(size_t k, const Through& t, const std::vector<SpaceSide>& sides, double dt) const {
  if (t.fuel == 0 || t.drive <= 0) return 0.0;
  const tank::Opening& o = tank_->openings[k];
  const auto from = static_cast<size_t>(t.fuel > 0 ? o.from : o.to),
             to = static_cast<size_t>(t.fuel > 0 ? o.to : o.from);
  const SpaceSide& source = sides[from];
  const double pull = std::max(-source.pressing.dot(source.surface.normal), 0.0);
  const double height = pull > 0 ? t.drive / pull : 0.0;
  const double falls = busy_[from] / falling_area(source, edge_[from], height),
               rises = busy_[to] / std::max(sides[to].area, 1e-6);
  const double flow = std::abs(t.fuel);
  const double part = flow * pull * (falls + t.both * rises) * dt / (2 * t.drive);
  double out = part < 1 ? flow * dt * (1 - part / 2) : flow * dt / (2 * part);
  out = std::min(out, source.volume / busy_[from]);
  return t.fuel > 0 ? out : -out;
}

// No space takes in more than it has room for, what leaves it meanwhile counted. Each round takes from flows
// only; the last one does without what leaves.
void OpeningFlows::fit(const std::vector<SpaceSide>& sides) {
  for (size_t round = 0; round <= sides.size(); ++round) {
    in_.assign(sides.size(), 0.0), out_.assign(sides.size(), 0.0);
    for (size_t k = 0; k < moved_.size(); ++k) {
      const tank::Opening& o = tank_->openings[k];
      const double x = std::abs(moved_[k]);
      in_[static_cast<size_t>(moved_[k] > 0 ? o.to : o.from)] += x;
      out_[static_cast<size_t>(moved_[k] > 0 ? o.from : o.to)] += x;
    }
    bool fits = true;
    for (size_t i = 0; i < sides.size(); ++i) {
      const double free =
          std::max(sides[i].capacity - sides[i].volume, 0.0) + (round < sides.size() ? out_[i] : 0.0);
      const bool here = in_[i] <= free * (1 + 1e-12);
      in_[i] = here ? 1.0 : free / in_[i];
      fits = fits && here;
    }
    if (fits) return;
    for (size_t k = 0; k < moved_.size(); ++k)
      moved_[k] *= in_[static_cast<size_t>(moved_[k] > 0 ? tank_->openings[k].to : tank_->openings[k].from)];
  }
}

// Each locked group's pressure makes its gas fit its room at the end of the step: the residual rises with the
// pressure, so a bracket always closes. Groups that touch each other take turns.
void OpeningFlows::solve_locked(const std::vector<SpaceSide>& sides, double dt) {
  std::vector<int> groups;
  for (size_t i = 0; i < sides.size(); ++i)
    if (locked_[i] && std::find(groups.begin(), groups.end(), group_[i]) == groups.end())
      groups.push_back(group_[i]);
  constexpr double close = 1e-3;   // Pa
  constexpr double enough = 5e-6;  // of its group's spaces, by which the gas may miss its room
  for (size_t i = 0; i < sides.size(); ++i) {
    if (!locked_[i]) continue;
    const double last = before_[static_cast<size_t>(group_[i])], ambient = options_.ambient;
    pressure_[i] = std::abs(last - ambient) < 0.05 * ambient ? last : ambient;
  }
  for (int turn = 0; turn < 16; ++turn) {
    double change = 0;
    for (int g : groups) {
      double gas = 0, space = 0, holds = 0;
      for (size_t i = 0; i < sides.size(); ++i)
        if (group_[i] == g) gas += gas_[i], space += room(sides[i]), holds += sides[i].capacity;
      const auto set = [&](double p) {
        for (size_t i = 0; i < sides.size(); ++i)
          if (group_[i] == g) change = std::max(change, std::abs(pressure_[i] - p)), pressure_[i] = p;
      };
      double came = 0, bubbles = 0;
      const auto residual = [&](double p) {
        came = bubbles = 0;
        for (size_t k = 0; k < tank_->openings.size(); ++k) {
          const auto a = static_cast<size_t>(tank_->openings[k].from),
                     b = static_cast<size_t>(tank_->openings[k].to);
          const bool in_a = group_[a] == g, in_b = group_[b] == g;
          if (in_a == in_b) continue;
          const Through t = through(k, in_a ? p : pressure_[a], in_b ? p : pressure_[b], false);
          const double x = moved(k, t, sides, dt);
          came += in_b ? x : -x;
          bubbles += (in_b ? t.gas : -t.gas) * dt;
        }
        const double left = p * (space - came) - gas - bubbles;
        return std::abs(left) < enough * holds * p ? 0.0 : left;
      };
      size_t any = 0;
      while (group_[any] != g) ++any;
      const double start = pressure_[any];
      // From where it was towards the root, by the residual's slope of the last time; from there on a little
      // beyond it by its own.
      double& slope = slope_[any];
      double near = start, at_near = residual(start);
      const double down = at_near > 0 ? -1.0 : 1.0;
      // Full, with nothing on its way out: nothing moves, whatever the last bubble's pressure would be.
      const bool shut = at_near > 0 && came == 0 && bubbles == 0 && space <= 2 * least_bubble * holds;
      if (at_near == 0 || shut) {
        set(start);
        continue;
      }
      double reach = slope > 0 ? std::clamp(std::abs(at_near) / slope, 0.5, 200.0) : 200.0;
      double other = std::max(start + down * reach, 1.0), at_other = residual(other);
      slope = (at_other - at_near) / (other - near);
      for (int tries = 0; at_near * at_other > 0 && other > 1 && reach < 1e9; ++tries) {
        reach = slope > 0 && tries < 4 ? std::clamp(1.2 * std::abs(at_other) / slope, 0.05 * reach, 8 * reach)
                                       : 8 * reach;
        near = other, at_near = at_other;
        other = std::max(near + down * reach, 1.0), at_other = residual(other);
        slope = (at_other - at_near) / (other - near);
      }
      double p = other;  // where it never turns
      if (at_near * at_other < 0) {
        const bool rising = other > near;
        p = root_between(residual, std::min(near, other), std::max(near, other), rising ? at_near : at_other,
                         rising ? at_other : at_near, close, 60)
                .value;
      }
      set(p);
    }
    if (groups.size() < 2 || change < 1.0) return;
  }
}

void OpeningFlows::advance(std::vector<SpaceSide>& sides, double dt) {
  if (tank_->openings.empty() || !(dt > 0)) return;
  survey(sides);
  find_groups(sides);
  if (gas_.empty()) {
    for (const SpaceSide& s : sides) gas_.push_back(options_.ambient * room(s));
  }
  std::fill(busy_.begin(), busy_.end(), 0);
  for (size_t k = 0; k < tank_->openings.size(); ++k)
    if (dry_[k] < tank_->openings[k].area * (1 - 1e-9))
      ++busy_[static_cast<size_t>(tank_->openings[k].from)],
          ++busy_[static_cast<size_t>(tank_->openings[k].to)];

  // Groups that breathe have their common pressure; the locked ones' is solved for.
  before_ = pressure_;
  bool any_locked = false;
  for (size_t i = 0; i < sides.size(); ++i) {
    any_locked = any_locked || locked_[i];
    double gas = 0, space = 0;
    bool vented = false;
    for (size_t j = 0; j < sides.size(); ++j)
      if (group_[j] == group_[i]) gas += gas_[j], space += room(sides[j]), vented = vented || sides[j].vented;
    pressure_[i] = vented ? options_.ambient : gas / space;
  }
  if (any_locked) solve_locked(sides, dt);

  change_.assign(sides.size(), 0.0), gas_change_.assign(sides.size(), 0.0);
  for (size_t k = 0; k < tank_->openings.size(); ++k) {
    const auto a = static_cast<size_t>(tank_->openings[k].from),
               b = static_cast<size_t>(tank_->openings[k].to);
    moved_[k] = 0;
    if (dry_[k] >= tank_->openings[k].area * (1 - 1e-9) && pressure_[a] == pressure_[b]) continue;
    const Through t = through(k, pressure_[a], pressure_[b], true);
    moved_[k] = moved(k, t, sides, dt), place_[k] = t.place;
    gas_change_[a] -= t.gas * dt, gas_change_[b] += t.gas * dt;
  }
  fit(sides);
  for (size_t k = 0; k < tank_->openings.size(); ++k) {
    const auto a = static_cast<size_t>(tank_->openings[k].from),
               b = static_cast<size_t>(tank_->openings[k].to);
    const double x = moved_[k];
    fuel_[k] = x / dt;
    if (x == 0) continue;
    change_[a] -= x, change_[b] += x;
    sides[a].through.add(-x, place_[k]), sides[b].through.add(x, place_[k]);
  }
  for (size_t i = 0; i < sides.size(); ++i)
    sides[i].volume = std::clamp(sides[i].volume + change_[i], 0.0, sides[i].capacity);
  for (size_t i = 0; i < sides.size(); ++i)
    gas_[i] =
        locked_[i] ? std::max(gas_[i] + gas_change_[i], 1.0 * room(sides[i])) : pressure_[i] * room(sides[i]);
  // Within a locked group gas spreads at once.
  for (size_t i = 0; i < sides.size(); ++i) {
    if (!locked_[i] || group_[i] != static_cast<int>(i)) continue;
    double gas = 0, space = 0;
    for (size_t j = i; j < sides.size(); ++j)
      if (group_[j] == group_[i]) gas += gas_[j], space += room(sides[j]);
    for (size_t j = i; j < sides.size(); ++j)
      if (group_[j] == group_[i]) gas_[j] = gas * room(sides[j]) / space;
  }
}

}  // namespace uadze::slosh
