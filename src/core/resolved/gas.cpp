// The gas over the fuel: what is open to the air, what is shut in.
#include <algorithm>
#include <cmath>

#include "core/resolved/fuel.h"

namespace uadze::resolved {
namespace {

/// Cells of gas under which a pocket is none.
constexpr size_t least_pocket = 8;
constexpr double settling = 0.2;  // s
/// Times what it holds at the air's pressure, from which on a pocket presses on nothing: what is counted of
/// its cells is known no better.
constexpr double swollen = 1.05;
/// Share of a pocket's sides that has to give way to its pressure.
constexpr double least_answer = 1e-4;
constexpr std::int8_t is_fuel = 0, is_open = 1, is_pocket = 2;

}  // namespace

/// Which gas is joined to which, over faces that pass; a pocket takes over what the pockets in its place
/// held.
void Fuel::find_gas() {
  std::fill(gas_.begin(), gas_.end(), 0.0);
  if (!gas_moves()) return;
  const Lattice& g = *lattice_;
  const auto n = static_cast<size_t>(g.count());
  const auto dry = [&](size_t c) { return g.capacity[c] > 0 && depth_[c] <= 0; };
  std::vector<int> label(n, -1), before(n, -1);
  for (size_t k = 0; k < pockets_.size(); ++k)
    for (const int c : pockets_[k].cells) before[static_cast<size_t>(c)] = static_cast<int>(k);
  std::vector<Pocket> regions;
  std::vector<char> vented;
  std::vector<int> open;
  const auto flood = [&](size_t from, bool is_vented) {
    const int k = static_cast<int>(regions.size());
    regions.emplace_back();
    vented.push_back(is_vented);
    open.assign(1, static_cast<int>(from));
    label[from] = k;
    while (!open.empty()) {
      const auto c = static_cast<size_t>(open.back());
      open.pop_back();
      regions.back().cells.push_back(static_cast<int>(c));
      for (int a = 0; a < 3; ++a)
        for (int up = 0; up < 2; ++up) {
          const size_t f = up ? c + static_cast<size_t>(g.step(a)) : c;
          const size_t other = up ? f : c - static_cast<size_t>(g.step(a));
          // Gas passes a one-way door either way in no time: a flap does not seal.
          if (g.area[a][f] <= 0 || label[other] >= 0 || !dry(other)) continue;
          label[other] = k;
          open.push_back(static_cast<int>(other));
        }
    }
  };
  for (const Vec3& v : options_.vents) {
    const auto c = static_cast<size_t>(
        g.index(g.axis[0].cell_of(v.x()), g.axis[1].cell_of(v.y()), g.axis[2].cell_of(v.z())));
    if (dry(c) && label[c] < 0) flood(c, true);
  }
  for (size_t c = 0; c < n; ++c)
    if (dry(c) && label[c] < 0) flood(c, false);
  // While the vent is under fuel nothing tells what the gas's pressure is; all is then reckoned from that of
  // the most of it.
  if (std::find(vented.begin(), vented.end(), 1) == vented.end()) {
    size_t most = 0;
    for (size_t k = 1; k < regions.size(); ++k)
      if (regions[k].cells.size() > regions[most].cells.size()) most = k;
    if (!regions.empty()) vented[most] = 1;
  }
  // What each former pocket leaves to those that now lie in its place, by the room that they share.
  std::vector<double> shared(pockets_.size(), 0.0);
  const auto room = [&](size_t c) { return g.capacity[c] * std::clamp(1 - share_[c], 0.0, 1.0); };
  const auto is = [&](size_t k) { return !vented[k] && regions[k].cells.size() >= least_pocket; };
  for (const Pocket& p : regions)
    for (const int c : p.cells)
      if (before[static_cast<size_t>(c)] >= 0)
        shared[static_cast<size_t>(before[static_cast<size_t>(c)])] += room(static_cast<size_t>(c));
  std::vector<Pocket> found;
  std::vector<char> counted(n, 0);
  for (size_t k = 0; k < regions.size(); ++k) {
    if (!is(k)) continue;
    Pocket& p = regions[k];
    bool any = false;
    double from_pockets = 0;
    for (const int cell : p.cells) {
      const auto c = static_cast<size_t>(cell);
      p.volume += room(c);
      if (before[c] >= 0) {
        const auto o = static_cast<size_t>(before[c]);
        if (shared[o] > 0) {
          p.amount += pockets_[o].amount * room(c) / shared[o];
          p.over += pockets_[o].over * room(c);
          from_pockets += room(c);
        }
        any = true;
      } else if (gas_was_[c] == is_open) {
        p.amount += options_.ambient * room(c);
        any = true;
      }
      // What is left in the cells of the surface belongs to it too.
      for (int a = 0; a < 3; ++a)
        for (const int side : {-1, 1}) {
          const size_t other = c + static_cast<size_t>(side * g.step(a));
          if (counted[other] || g.capacity[other] <= 0 || depth_[other] <= 0) continue;
          if (g.area[a][side > 0 ? other : c] <= 0) continue;
          counted[other] = 1;
          p.volume += room(other);
          if (gas_was_[c] == is_open && before[c] < 0) p.amount += options_.ambient * room(other);
        }
    }
    if (from_pockets > 0) p.over /= from_pockets;
    if (!any) p.amount = options_.ambient * p.volume;
    found.push_back(std::move(p));
  }
  pockets_ = std::move(found);
  std::fill(gas_was_.begin(), gas_was_.end(), is_fuel);
  for (size_t c = 0; c < n; ++c)
    if (dry(c)) gas_was_[c] = is_open;
  for (const Pocket& p : pockets_)
    for (const int c : p.cells)
      gas_was_[static_cast<size_t>(c)] = is_pocket, gas_[static_cast<size_t>(c)] = p.over;
}

/// The pockets' pressures at the step's end, together with the fuel that they let in. Gas gives way by a
/// percent for a kilopascal, and what is counted of a pocket's cells is not known that well: so its pressure
/// is the one under which no more fuel goes in than comes out, but for what brings it, over `settling`, to
/// the volume at which p V is what it holds.
int Fuel::hold_pockets(const SolveOptions& options) {
  int iterations = 0;
  const std::vector<double> base_right = system_.right;
  for (Pocket& pocket : pockets_) {
    const std::vector<PocketSide> sides = sides_of(pocket);
    if (sides.empty()) continue;
    const std::vector<double> solved = system_.x;
    double in = 0, all = 0, unit = 0;  // m3/s of fuel into the pocket; and what a unit of pressure holds back
    std::fill(system_.right.begin(), system_.right.end(), 0.0);
    std::fill(system_.x.begin(), system_.x.end(), 0.0);
    for (const PocketSide& s : sides) in += s.in, all += s.k, system_.right[s.row] += s.k;
    // A unit is a metre of fuel's head and more; the answer need be no finer than the flow it makes.
    iterations += system_.solve({.enough = 1e-3 * options.enough, .most = options.most}).iterations;
    // A film to which it would give a quarter of a cell in a step breaks, and as much of its gas passes.
    const double fastest = 0.25 * std::cbrt(cell_) / kick_;
    double film = 1e300;
    for (const PocketSide& s : sides) {
      const double holds = s.k * (1 - system_.x[s.row]);
      unit += holds;
      if (holds > 0) film = std::min(film, fastest * s.area / holds);
    }
    const double pressure = std::max(options_.ambient + options_.density * pocket.over, 1.0);
    const double off =
        std::clamp(pocket.volume - pocket.amount / pressure, -0.2 * pocket.volume, 0.2 * pocket.volume);
    // Where all the fuel touches this gas alone, its pressure moves nothing.
    double more = unit > least_answer * all ? (in - off / settling) / unit : 0.0;
    // Never under no pressure at all; nor over what the fuel's whole height presses, as where a pocket hardly
    // touches any fuel; nor over the air's where it has grown, as bubbles do that spray adds its gaps to: it
    // would drive the fuel apart by an energy that it does not have.
    const double most = pull_.norm() * tank_->whole.size();
    const bool grown = pocket.volume > swollen * pocket.amount / options_.ambient;
    more = std::clamp(pocket.over + more, std::max(-options_.ambient / options_.density, -most),
                      grown ? 0.0 : most) -
           pocket.over;
    const bool breaks = std::abs(more) > film;
    pocket.over += std::clamp(more, -film, film);
    more = std::clamp(more, -film, film);
    // Gas passes to where it presses less.
    if (breaks) {
      const double level = (options_.ambient + options_.density * pocket.over) * pocket.volume;
      pocket.amount = pocket.over > 0 ? std::min(pocket.amount, level) : std::max(pocket.amount, level);
    }
    for (size_t r = 0; r < solved.size(); ++r) system_.x[r] = solved[r] + more * system_.x[r];
    for (const int c : pocket.cells) gas_[static_cast<size_t>(c)] += more;
  }
  system_.right = base_right;
  return iterations;
}

/// Where fuel under the surface touches a pocket.
std::vector<Fuel::PocketSide> Fuel::sides_of(const Pocket& pocket) const {
  const Lattice& g = *lattice_;
  std::vector<char> mine(static_cast<size_t>(g.count()), 0);
  for (const int c : pocket.cells) mine[static_cast<size_t>(c)] = 1;
  std::vector<PocketSide> out;
  for (size_t r = 0; r < cell_of_row_.size(); ++r) {
    const auto c = static_cast<size_t>(cell_of_row_[r]);
    for (int side = 0; side < 6; ++side) {
      const double k = wall_[r].k[side];
      if (k <= 0) continue;
      const int a = side / 2;
      const auto step = static_cast<size_t>(g.step(a));
      const size_t face = side % 2 ? c + step : c, other = side % 2 ? face : c - step;
      if (!mine[other]) continue;
      const double way = side % 2 ? 1.0 : -1.0, area = g.area[a][face];
      out.push_back(
          {r, k, area,
           way * area * static_cast<double>(flow_[a][face].first) + k * (system_.x[r] - gas_[other])});
    }
  }
  return out;
}

}  // namespace uadze::resolved
