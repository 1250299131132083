#include "core/resolved/fuel.h"

#include <fmt/format.h>
#include <tbb/parallel_for.h>

#include <algorithm>
#include <cmath>
#include <limits>
#include <numeric>
#include <utility>

#include "core/base/message.h"
#include "core/resolved/walks.h"
#include "core/tank/foam.h"

namespace uadze::resolved {
namespace {

/// Cells beside the fuel that are walked over: particles see one, whose velocity comes from two further out.
constexpr int beside = 3;

/// Share of the fuel that lies over what its cells can hold, from which on a step shifts again, and how
/// often.
constexpr double crowd = 0.03;
constexpr int most_again = 3;

/// From a cell's share of fuel to how deep its middle lies under a flat surface, in cells, -1..1: the inverse
/// of a linear weight's sum over a half space.
double depth_of(double share) {
  const double s = std::clamp(share, 0.0, 1.0);
  return s >= 0.5 ? 1 - std::sqrt(2 - 2 * s) : std::sqrt(2 * s) - 1;
}

/// Whether a particle is put into an eighth (bits: upper along x, y, z) of a cell: into four of the eight, no
/// two of them side by side, and the other way round beyond the lattice's middle, so that a mirrored tank's
/// fuel is mirrored. Into all eight of the cells in the middle, if there are such.
bool holds_one(const Lattice& g, const int at[3], int eighth) {
  bool odd = (eighth ^ eighth >> 1 ^ eighth >> 2) & 1;
  for (int a = 0; a < 2; ++a) {
    const int over = 2 * at[a] - (g.axis[a].cells + 1);
    if (over == 0) return true;
    odd ^= over > 0;
  }
  return !odd;
}

}  // namespace

Fuel::Fuel(const tank::Tank& tank, std::shared_ptr<const Lattice> lattice, const FuelOptions& options)
    : tank_(&tank), lattice_(std::move(lattice)), options_(options) {
  const auto n = static_cast<size_t>(lattice_->count());
  for (auto& list : left_) list.resize(n);
  for (auto& list : flow_) list.resize(n);
  for (auto& list : factor_) list.assign(n, 1.0f);
  lies_.resize(n);
  share_.assign(n, 0.0), depth_.assign(n, -1.0), pressure_.assign(n, 0.0), gas_.assign(n, 0.0);
  // With as much behind it as a look at eight cells beside the last one reaches beyond.
  known_.assign(n + static_cast<size_t>(lattice_->step(0)) + sizeof(std::uint64_t), 0);
  row_.assign(n, -1);
  near_ = whole_columns(*lattice_);
  gas_was_.assign(n, 1);
  ease_.assign(n, {});
  cut_.assign(lattice_->inside.empty() ? 0 : n, 1);
  find_oblique();
  const Lattice& g = *lattice_;
  const auto slows = [](const std::vector<double>& plate) {
    return std::any_of(plate.begin(), plate.end(), [](double resistance) { return resistance > 0; });
  };
  drags_ = !g.darcy.empty() || std::any_of(g.resistance.begin(), g.resistance.end(), slows);
  cell_ = g.axis[0].width[static_cast<size_t>(g.axis[0].count() / 2)] *
          g.axis[1].width[static_cast<size_t>(g.axis[1].count() / 2)] *
          g.axis[2].width[static_cast<size_t>(g.axis[2].count() / 2)];
  std::vector<double> area(tank.openings.size(), 0.0);
  for (int a = 0; a < 3; ++a)
    for (size_t c = 0; c < n; ++c) {
      const int o = g.opening[a][c];
      if (o < 0) continue;
      const size_t low = c - static_cast<size_t>(g.step(a));
      open_faces_.push_back(
          {c, a, o, g.space[low] == tank.openings[static_cast<size_t>(o)].from ? 1.0 : -1.0,
           g.axis[a].apart[static_cast<size_t>(g.place(static_cast<int>(c))[static_cast<size_t>(a)])],
           g.area[a][c]});
      area[static_cast<size_t>(o)] += g.area[a][c];
    }
  face_sign_.assign(tank.openings.size(), 1.0);
  for (const OpenFace& f : open_faces_) face_sign_[static_cast<size_t>(f.opening)] = f.sign;
  for (OpenFace& f : open_faces_) f.share /= area[static_cast<size_t>(f.opening)];
  door_open_.assign(tank.openings.size(), 1);
  shut_.assign(n, 0);
  for (int a = 0; a < 3; ++a)
    for (size_t c = 0; c < n; ++c) shut_[c] |= static_cast<std::uint8_t>((g.area[a][c] <= 0) << a);
  through_.assign(tank.openings.size(), 0.0);
}

/// Where a cell's particles are put: into four of its eighths, into more where walls leave none of these.
void Fuel::seeds_in(const int at[3], std::vector<Vec3>& seeds) const {
  const Lattice& g = *lattice_;
  seeds.clear();
  for (const bool all : {false, true}) {
    for (int eighth = 0; eighth < 8; ++eighth) {
      if (!all && !holds_one(g, at, eighth)) continue;
      Vec3 p;
      for (int a = 0; a < 3; ++a)
        p[a] = g.axis[a].line[static_cast<size_t>(at[a])] +
               g.axis[a].width[static_cast<size_t>(at[a])] * ((eighth >> a & 1) ? 0.75 : 0.25);
      if (inside_at(p) > 0) seeds.push_back(p);
    }
    if (!seeds.empty()) return;
  }
}

void Fuel::fill(const std::vector<tank::Plane>& surfaces, const std::vector<double>& volumes) {
  const Lattice& g = *lattice_;
  particles_.clear();
  const std::vector<int> body = tank::bodies_of(*tank_);
  for (size_t s = 0; s < tank_->spaces.size(); ++s) {
    if (body[s] != static_cast<int>(s)) continue;
    const auto within = [&](int c) {
      const int space = g.space[static_cast<size_t>(c)];
      return space >= 0 && body[static_cast<size_t>(space)] == static_cast<int>(s);
    };
    double volume = 0, room = 0;
    for (size_t k = s; k < body.size(); ++k)
      if (body[k] == static_cast<int>(s))
        volume += volumes.at(k) >= 0 ? volumes.at(k) : std::numeric_limits<double>::quiet_NaN();
    for (int c = 0; c < g.count(); ++c)
      if (within(c)) room += g.capacity[static_cast<size_t>(c)];
    // A cell that two spaces share is all of one of them: a space that is full may be some cells short of
    // room.
    if (!std::isfinite(volume) || volume < 0 || volume > room * 1.005)
      throw InputError(Message{.place = tank_->spaces[s].name,
                               .expected = fmt::format("between 0 and {:.4g} L", room * 1e3),
                               .found = fmt::format("{:.4g} L", volume * 1e3)});
    if (volume <= 0) continue;
    const size_t begin = particles_.size();
    double placed = 0;
    std::vector<Vec3> seeds;
    for (int i = 1; i <= g.axis[0].cells; ++i)
      for (int j = 1; j <= g.axis[1].cells; ++j)
        for (int k = 1; k <= g.axis[2].cells; ++k) {
          const int c = g.index(i, j, k);
          if (!within(c)) continue;
          const tank::Plane& surface = surfaces.at(static_cast<size_t>(g.space[static_cast<size_t>(c)]));
          const Vec3& n = surface.normal;
          const int at[3]{i, j, k};
          seeds_in(at, seeds);
          for (const Vec3& seed : seeds) {
            Vec3 p = seed;
            double half = 0;
            for (int a = 0; a < 3; ++a)
              half += std::abs(n[a]) * g.axis[a].width[static_cast<size_t>(at[a])] / 4;
            const double under = std::clamp((surface.offset - n.dot(p)) / half, -1.0, 1.0);
            const double filled = (under + 1) / 2;
            if (filled < 0.02) continue;
            p -= n * half * (1 - filled);
            // Where a wall cuts the cell, down may be through it: then it stays where it was seen.
            if (inside_at(p) <= 0) p = seed;
            for (int a = 0; a < 3; ++a) {
              const Axis& axis = g.axis[a];
              const double low = axis.line[static_cast<size_t>(at[a])],
                           wide = axis.width[static_cast<size_t>(at[a])];
              p[a] = std::clamp(p[a], low + 1e-3 * wide, low + 0.999 * wide);
            }
            const double share = filled / static_cast<double>(seeds.size());
            particles_.push_back(
                {{p.x(), p.y(), p.z()}, g.capacity[static_cast<size_t>(c)] * share, {}, {}, {}});
            for (int a = 0; a < 3; ++a) particles_.back().at[a] = static_cast<std::uint16_t>(at[a]);
            placed += particles_.back().volume;
          }
        }
    if (placed <= 0)
      throw InputError(Message{.place = tank_->spaces[s].name,
                               .expected = "fuel that these cells can see",
                               .found = fmt::format("{:.4g} L: choose smaller cells", volume * 1e3)});
    const double scale = volume / placed;
    for (size_t p = begin; p < particles_.size(); ++p) particles_[p].volume *= scale;
  }
  time_ = 0;
  rate_ = 0;
  last_step_ = 0;
  last_push_ = {};
  std::fill(pressure_.begin(), pressure_.end(), 0.0);
  std::fill(gas_was_.begin(), gas_was_.end(), 1);
  pockets_.clear();
  std::fill(door_open_.begin(), door_open_.end(), 1);
  shut_doors();
  std::fill(through_.begin(), through_.end(), 0.0);
  steps_ = {};
  look();
  stale_ = false;
}

void Fuel::advance(double dt, const Push& push) {
  double left = dt;
  while (left > 1e-12) {
    const double longest = next_step(push);
    const double h = left / std::ceil(left / longest - 1e-9);
    step(h, push);
    left -= h;
  }
}

double Fuel::next_step(const Push& push) const {
  double narrow = 1e300;
  for (int a = 0; a < 3; ++a)
    for (int i = 1; i <= lattice_->axis[a].cells; ++i)
      narrow = std::min(narrow, lattice_->axis[a].width[static_cast<size_t>(i)]);
  // What the push adds within the step counts too: rate dt + g dt2 / h = courant.
  const double pull = push.gravity.norm() / narrow;
  const double b = rate_, c = options_.courant;
  const double dt = 2 * c / (b + std::sqrt(b * b + 4 * pull * c));
  return std::clamp(dt, 1e-5, options_.longest_step);
}

void Fuel::step(double dt, const Push& push) {
  if (stale_) {
    look();
    stale_ = false;
  }
  // Velocities belong to the middle between two instants: a kick reaches from the last step's middle to this
  // one's, so that a push that sets in acts neither early nor late.
  kick_ = (last_step_ + dt) / 2;
  pull_ = (last_step_ * last_push_.gravity + dt * push.gravity) / (2 * kick_);
  const Push mean{pull_, (last_step_ * last_push_.yaw + dt * push.yaw) / (2 * kick_),
                  (last_step_ * last_push_.yaw_change + dt * push.yaw_change) / (2 * kick_)};
  find_gas();
  push_faces(kick_, mean);
  build(kick_);
  find_pressure(dt);
  find_spreading();
  extend();
  to_particles(dt, mean);
  last_step_ = dt, last_push_ = push;
  time_ += dt;
  ++steps_.steps;
  look();
  // A blow crowds more than the next step's shifts put right. Drag has no say in a shift.
  for (int again = 0; again < most_again && crowded_ > crowd; ++again) {
    if (drags_) each_face(*lattice_, near_, [&](int a, size_t c, size_t, const int*) { factor_[a][c] = 1; });
    build(kick_);
    find_spreading();
    shift_particles();
    look();
  }
}

/// What the particles say, where they are now.
void Fuel::look() {
  sort();
  to_faces();
  find_surface();
}

void Fuel::find_surface() {
  const Lattice& g = *lattice_;
  std::vector<Column> fuel = whole_columns(g);
  tbb::parallel_for(size_t{0}, fuel.size(), [&](size_t n) {
    const Two* lies = lies_.data() + n * static_cast<size_t>(g.step(1));
    const auto any = [&](int k) { return lies[k].first + lies[k - 1].second > 0; };
    Column& c = fuel[n];
    while (c.low < c.high && !any(c.low)) ++c.low;
    while (c.low < c.high && !any(c.high - 1)) --c.high;
  });
  const std::vector<Column> before = std::exchange(near_, widened(g, std::move(fuel), beside));
  // Where it is, and where it was.
  std::vector<double> over(static_cast<size_t>(g.axis[0].count())), all(over.size());
  each_cell(g, either(before, near_), [&](size_t c, const int at[3]) {
    share_[c] =
        g.spread[c] > 0 ? static_cast<double>(lies_[c].first + lies_[c - 1].second) / g.spread[c] : 0.0;
    depth_[c] = g.capacity[c] > 0 ? depth_of(share_[c]) : -1.0;
    over[static_cast<size_t>(at[0])] += std::max(share_[c] - 1, 0.0) * g.capacity[c];
    all[static_cast<size_t>(at[0])] += share_[c] * g.capacity[c];
  });
  const double held = std::accumulate(all.begin(), all.end(), 0.0);
  crowded_ = held > 0 ? std::accumulate(over.begin(), over.end(), 0.0) / held : 0.0;
}

/// Velocities of the particles and what acts on them, before pressure.
void Fuel::push_faces(double dt, const Push& push) {
  const Lattice& g = *lattice_;
  const double r = push.yaw, change = push.yaw_change;
  std::fill(known_.begin(), known_.end(), std::uint8_t{0});
  each_face(g, near_, [&](int a, size_t c, size_t below, const int at[3]) {
    flow_[a][c] = {};
    if (drags_) factor_[a][c] = 1;
    const FourLanes &here = left_[a][c].lanes, &under = left_[a][c - 1].lanes;
    const float volume = here[1] + under[3];
    if (volume <= 0) return;
    double pull = push.gravity[a];
    if (a < 2 && (r != 0 || change != 0)) {
      const double x = a == 0 ? g.axis[0].line[static_cast<size_t>(at[0])] : g.axis[0].middle(at[0]);
      const double y = a == 1 ? g.axis[1].line[static_cast<size_t>(at[1])] : g.axis[1].middle(at[1]);
      pull += a == 0 ? r * r * x + change * y : r * r * y - change * x;
    }
    const double u = static_cast<double>((here[0] + under[2]) / volume) + dt * pull;
    known_[c] |= static_cast<std::uint8_t>(1 << a);
    flow_[a][c].first = static_cast<float>(u);
    if (!drags_) return;
    // Drag, taken at the step's end: it can slow but never turn the fuel.
    double drag = 0;
    if (!g.darcy.empty())
      drag = 0.5 * (g.darcy[c] + g.darcy[below]) * options_.viscosity +
             0.5 * (g.inertial[c] + g.inertial[below]) * std::abs(u);
    if (g.resistance[a][c] > 0)
      drag += g.resistance[a][c] * std::abs(u) / (2 * g.axis[a].apart[static_cast<size_t>(at[a])]);
    if (!(drag > 0)) return;
    factor_[a][c] = static_cast<float>(1 / (1 + dt * drag));
    flow_[a][c].first *= factor_[a][c];
  });
}

}  // namespace uadze::resolved
