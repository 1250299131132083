#include "core/slosh/flow.h"

#include <algorithm>
#include <cmath>
#include <numeric>

#include "core/base/root.h"

namespace uadze::slosh {
namespace {

constexpr double least_gas_path = 1e-6;  // m2 of dry opening that lets gas pass at once
constexpr double least_bubble = 1e-6;    // of a space's volume: gas that is left when it is full

double room(const SpaceSide& side) {
  return std::max(side.capacity - side.volume, least_bubble * side.capacity);
}

}  // namespace

OpeningFlows::OpeningFlows(const tank::Tank& tank, const FlowOptions& options)
    : tank_(&tank), options_(options) {
  first_.push_back(0);
  for (const tank::Opening& o : tank.openings) first_.push_back(first_.back() + o.cells.size());
  stands_.resize(first_.back());
  dry_.resize(tank.openings.size());
  fuel_.resize(tank.openings.size());
  pressure_.assign(tank.spaces.size(), options.ambient);
  group_.resize(tank.spaces.size());
  busy_.resize(tank.spaces.size());
  locked_.assign(tank.spaces.size(), 0);
}

void OpeningFlows::survey(const std::vector<SpaceSide>& sides) {
  struct View {
    double pull, per_depth;
    Vec3 lateral;
  };
  std::vector<View> views;
  for (const SpaceSide& s : sides) {
    const double pull = std::max(-s.pressing.dot(s.surface.normal), 0.0);
    views.push_back({pull, s.volume > 0 ? s.area / s.volume : 0.0, s.pressing + pull * s.surface.normal});
  }
  for (size_t k = 0; k < tank_->openings.size(); ++k) {
    const tank::Opening& o = tank_->openings[k];
    const auto a = static_cast<size_t>(o.from), b = static_cast<size_t>(o.to);
    dry_[k] = 0;
    const auto look = [](const SpaceSide& side, const View& view, const tank::Cell& cell, double half,
                         double& wet, double& head, double& spread) {
      const double depth = side.surface.offset - side.surface.normal.dot(cell.at);
      wet = head = spread = 0.0;
      if (depth <= -half || !(side.volume > 0)) return;
      wet = depth >= half ? 1.0 : 0.5 + depth / (2 * half);
      const double below = depth >= half ? depth : std::max(0.0, (depth + half) / 2);
      // The push of fuel that is being moved along grows from nothing at the surface to all at mean depth.
      const double aside = view.lateral.dot(cell.at - side.reference) * std::min(1.0, below * view.per_depth);
      head = std::max(0.0, view.pull * below + aside);
      spread = view.pull * half * wet;
    };
    const double half_a = std::max(o.half_along(sides[a].surface.normal), 1e-6),
                 half_b = std::max(o.half_along(sides[b].surface.normal), 1e-6);
    for (size_t c = 0; c < o.cells.size(); ++c) {
      Stand& s = stands_[first_[k] + c];
      look(sides[a], views[a], o.cells[c], half_a, s.wet_a, s.head_a, s.spread_a);
      look(sides[b], views[b], o.cells[c], half_b, s.wet_b, s.head_b, s.spread_b);
      dry_[k] += (1 - std::max(s.wet_a, s.wet_b)) * o.cells[c].area;
    }
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

OpeningFlows::Through OpeningFlows::through(size_t k, double pressure_a, double pressure_b) const {
  const tank::Opening& o = tank_->openings[k];
  const double gas_drive = (pressure_a - pressure_b) / options_.density;  // m2/s2, as if of fuel
  const double gas_speed = std::sqrt(options_.density / options_.gas_density);
  const bool forward = o.passes != tank::Passes::against, backward = o.passes != tank::Passes::along;
  Through out;
  double all = 0, weighted = 0, met = 0;
  Vec3 places = Vec3::Zero();
  size_t cell = 0;
  const auto pass = [&](double area, double drive, bool wet_a, bool wet_b, double spread = 0.0) {
    if (area <= 0 || drive == 0) return;
    if (drive > 0 ? !forward : !backward) return;
    double flow = area * std::sqrt(2 * std::abs(drive));
    // The mean of the root over a part in which the drive varies, to second order: for the law of a weir.
    if (spread > 0) {
      const double relative = std::min(1.0, spread / std::abs(drive));
      flow *= 1 - relative * relative / 24;
    }
    if (drive > 0 ? wet_a : wet_b) {
      out.fuel += drive > 0 ? flow : -flow;
      all += flow;
      weighted += flow * std::abs(drive);
      places += flow * o.cells[cell].at;
      if (wet_a && wet_b) met += flow;
    } else {
      out.gas += drive > 0 ? flow * gas_speed * pressure_a : -flow * gas_speed * pressure_b;
    }
  };
  for (size_t c = 0; c < o.cells.size(); ++c) {
    const Stand& s = stands_[first_[k] + c];
    cell = c;
    const double both = std::min(s.wet_a, s.wet_b), any = std::max(s.wet_a, s.wet_b), area = o.cells[c].area;
    if (any <= 0) {
      if (gas_drive != 0) pass(area, gas_drive, false, false);
      continue;
    }
    pass(both * area, gas_drive + s.head_a - s.head_b, true, true);
    if (any > both) {
      const bool on_a = s.wet_a > s.wet_b;
      pass((any - both) * area, on_a ? gas_drive + s.head_a : gas_drive - s.head_b, on_a, !on_a,
           on_a ? s.spread_a : s.spread_b);
    }
    if (any < 1) pass((1 - any) * area, gas_drive, false, false);
  }
  const double discharge = o.discharge * options_.discharge_scale;
  out.fuel *= discharge;
  out.gas *= discharge;
  if (all > 0) out.drive = weighted / all, out.both = met / all, out.place = places / all;
  return out;
}

// The square-root law evens out in a finite time; within the step its mean flow is exact for one opening.
double OpeningFlows::moved(size_t k, const Through& t, const std::vector<SpaceSide>& sides, double dt) const {
  if (t.fuel == 0 || t.drive <= 0) return 0.0;
  const tank::Opening& o = tank_->openings[k];
  const auto from = static_cast<size_t>(t.fuel > 0 ? o.from : o.to),
             to = static_cast<size_t>(t.fuel > 0 ? o.to : o.from);
  const SpaceSide &source = sides[from], &target = sides[to];
  const double falls = busy_[from] / std::max(source.area, 1e-6),
               rises = busy_[to] / std::max(target.area, 1e-6);
  const double pull = std::max(-source.pressing.dot(source.surface.normal), 0.0);
  const double flow = std::abs(t.fuel);
  const double part = flow * pull * (falls + t.both * rises) * dt / (2 * t.drive);
  double out = part < 1 ? flow * dt * (1 - part / 2) : flow * dt / (2 * part);
  out = std::min(
      {out, source.volume / busy_[from], std::max(target.capacity - target.volume, 0.0) / busy_[to]});
  return t.fuel > 0 ? out : -out;
}

// Each locked group's pressure makes its gas fit its room at the end of the step: the residual rises with the
// pressure, so a bracket always closes. Groups that touch each other take turns.
void OpeningFlows::solve_locked(const std::vector<SpaceSide>& sides, double dt) {
  std::vector<int> groups;
  for (size_t i = 0; i < sides.size(); ++i)
    if (locked_[i] && std::find(groups.begin(), groups.end(), group_[i]) == groups.end())
      groups.push_back(group_[i]);
  constexpr double close = 0.5;  // Pa
  for (int turn = 0; turn < 16; ++turn) {
    double change = 0;
    for (int g : groups) {
      double gas = 0, space = 0;
      for (size_t i = 0; i < sides.size(); ++i)
        if (group_[i] == g) gas += gas_[i], space += room(sides[i]);
      const auto residual = [&](double p) {
        double came = 0, bubbles = 0;
        for (size_t k = 0; k < tank_->openings.size(); ++k) {
          const auto a = static_cast<size_t>(tank_->openings[k].from),
                     b = static_cast<size_t>(tank_->openings[k].to);
          const bool in_a = group_[a] == g, in_b = group_[b] == g;
          if (in_a == in_b) continue;
          const Through t = through(k, in_a ? p : pressure_[a], in_b ? p : pressure_[b]);
          const double x = moved(k, t, sides, dt);
          came += in_b ? x : -x;
          bubbles += (in_b ? t.gas : -t.gas) * dt;
        }
        return p * std::max(space - came, least_bubble * space) - gas - bubbles;
      };
      size_t any = 0;
      while (group_[any] != g) ++any;
      const double start = pressure_[any];
      double low = start, high = start, r_low = residual(start), r_high = r_low;
      for (double reach = 200; r_low > 0 && low > 1; reach *= 4)
        low = std::max(1.0, start - reach), r_low = residual(low);
      for (double reach = 200; r_high < 0 && reach < 1e9; reach *= 4)
        high = start + reach, r_high = residual(high);
      double p = start;
      if (r_low < 0 && r_high > 0) {
        p = root_between(residual, low, high, r_low, r_high, close, 60).value;
      } else if (r_low >= 0) {
        p = low;
      } else {
        p = high;
      }
      for (size_t i = 0; i < sides.size(); ++i)
        if (group_[i] == g) change = std::max(change, std::abs(pressure_[i] - p)), pressure_[i] = p;
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

  std::vector<double> change(sides.size(), 0.0), gas_change(sides.size(), 0.0);
  for (size_t k = 0; k < tank_->openings.size(); ++k) {
    const auto a = static_cast<size_t>(tank_->openings[k].from),
               b = static_cast<size_t>(tank_->openings[k].to);
    fuel_[k] = 0;
    if (dry_[k] >= tank_->openings[k].area * (1 - 1e-9) && pressure_[a] == pressure_[b]) continue;
    const Through t = through(k, pressure_[a], pressure_[b]);
    const double x = moved(k, t, sides, dt);
    change[a] -= x, change[b] += x;
    sides[a].through.add(-x, t.place), sides[b].through.add(x, t.place);
    gas_change[a] -= t.gas * dt, gas_change[b] += t.gas * dt;
    fuel_[k] = x / dt;
  }
  for (size_t i = 0; i < sides.size(); ++i)
    sides[i].volume = std::clamp(sides[i].volume + change[i], 0.0, sides[i].capacity);
  for (size_t i = 0; i < sides.size(); ++i)
    gas_[i] =
        locked_[i] ? std::max(gas_[i] + gas_change[i], 1.0 * room(sides[i])) : pressure_[i] * room(sides[i]);
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
