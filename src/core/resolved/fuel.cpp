#include "core/resolved/fuel.h"

#include <fmt/format.h>
#include <tbb/blocked_range.h>
#include <tbb/parallel_for.h>

#include <algorithm>
#include <cmath>
#include <cstring>

#include "core/base/message.h"
#include "core/resolved/transfer.h"

namespace uadze::resolved {
namespace {

/// Columns of cells on a side of what one task carries, and pieces into which particles are counted.
constexpr int columns = 4;
constexpr size_t pieces = 16;
/// The surface is not nearer to a cell's middle than this share of the way to the next.
constexpr double nearest = 0.05;
/// Share of a cell's volume that a step's flow may leave over.
constexpr double enough_flow = 1e-4, enough_spread = 2e-3;
/// Most of a cell's volume that is put right in one step.
constexpr double most_spread = 0.25;

/// From a cell's share of fuel to how deep its middle lies under a flat surface, in cells, -1..1: the inverse
/// of a linear weight's sum over a half space.
double depth_of(double share) {
  const double s = std::clamp(share, 0.0, 1.0);
  return s >= 0.5 ? 1 - std::sqrt(2 - 2 * s) : std::sqrt(2 * s) - 1;
}

struct Blocks {
  int x, y;
  explicit Blocks(const Lattice& g)
      : x((g.axis[0].count() + columns - 1) / columns), y((g.axis[1].count() + columns - 1) / columns) {}
  int count() const { return x * y; }
};

/// Over all cells but the outermost, a column at a time, in any order.
template <class F>
void each_column(const Lattice& g, F&& f) {
  tbb::parallel_for(1, g.axis[0].cells + 1, [&](int i) {
    for (int j = 1; j <= g.axis[1].cells; ++j) f(i, j, static_cast<size_t>(g.index(i, j, 1)));
  });
}

}  // namespace

Fuel::Fuel(const tank::Tank& tank, std::shared_ptr<const Lattice> lattice, const FuelOptions& options)
    : tank_(&tank), lattice_(std::move(lattice)), options_(options) {
  const auto n = static_cast<size_t>(lattice_->count());
  nodes_.resize(n), velocity_.resize(n);
  share_.assign(n, 0.0), depth_.assign(n, -1.0), pressure_.assign(n, 0.0), gas_.assign(n, 0.0);
  factor_.assign(3 * n, 1.0);
  known_.assign(n, 0);
  row_.assign(n, -1);
  gas_was_.assign(n, 1);
  before_.assign(options.own > 0 ? n : 0, {});
  slip_.assign(lattice_->inside.empty() ? 0 : n, {});
  const Lattice& g = *lattice_;
  cell_ = g.axis[0].width[static_cast<size_t>(g.axis[0].count() / 2)] *
          g.axis[1].width[static_cast<size_t>(g.axis[1].count() / 2)] *
          g.axis[2].width[static_cast<size_t>(g.axis[2].count() / 2)];
  std::vector<double> area(tank.openings.size(), 0.0);
  for (int a = 0; a < 3; ++a)
    for (size_t c = 0; c < n; ++c) {
      const int o = g.opening[a][c];
      if (o < 0) continue;
      const size_t low = c - static_cast<size_t>(g.step(a));
      const int i = a == 0   ? static_cast<int>(c) / g.step(0)
                    : a == 1 ? static_cast<int>(c) % g.step(0) / g.step(1)
                             : static_cast<int>(c) % g.step(1);
      open_faces_.push_back(
          {c, a, o, g.space[low] == tank.openings[static_cast<size_t>(o)].from ? 1.0 : -1.0,
           (g.axis[a].width[static_cast<size_t>(i)] + g.axis[a].width[static_cast<size_t>(i) - 1]) / 2,
           g.area[a][c]});
      area[static_cast<size_t>(o)] += g.area[a][c];
    }
  face_sign_.assign(tank.openings.size(), 1.0);
  for (const OpenFace& f : open_faces_) face_sign_[static_cast<size_t>(f.opening)] = f.sign;
  for (OpenFace& f : open_faces_) f.share /= area[static_cast<size_t>(f.opening)];
  door_open_.assign(tank.openings.size(), 1);
  through_.assign(tank.openings.size(), 0.0);
}

void Fuel::fill(const std::vector<tank::Plane>& surfaces, const std::vector<double>& volumes) {
  const Lattice& g = *lattice_;
  particles_.clear();
  for (size_t s = 0; s < tank_->spaces.size(); ++s) {
    const double volume = volumes.at(s);
    double room = 0;
    for (int c = 0; c < g.count(); ++c)
      if (g.space[static_cast<size_t>(c)] == static_cast<int>(s)) room += g.capacity[static_cast<size_t>(c)];
    if (!std::isfinite(volume) || volume < 0 || volume > room * (1 + 1e-6))
      throw InputError(Message{.place = tank_->spaces[s].name,
                               .expected = fmt::format("between 0 and {:.4g} L", room * 1e3),
                               .found = fmt::format("{:.4g} L", volume * 1e3)});
    if (volume <= 0) continue;
    const Vec3 n = surfaces.at(s).normal;
    const size_t begin = particles_.size();
    double placed = 0;
    for (int i = 1; i <= g.axis[0].cells; ++i)
      for (int j = 1; j <= g.axis[1].cells; ++j)
        for (int k = 1; k <= g.axis[2].cells; ++k) {
          const int c = g.index(i, j, k);
          if (g.space[static_cast<size_t>(c)] != static_cast<int>(s)) continue;
          const int at[3]{i, j, k};
          Vec3 inside[8];
          int count = 0;
          for (int m = 0; m < 8; ++m) {
            Vec3 p;
            for (int a = 0; a < 3; ++a)
              p[a] = g.axis[a].line[static_cast<size_t>(at[a])] +
                     g.axis[a].width[static_cast<size_t>(at[a])] * ((m >> a & 1) ? 0.75 : 0.25);
            if (inside_at(p) > 0) inside[count++] = p;
          }
          if (count == 0) continue;
          for (int m = 0; m < count; ++m) {
            Vec3 p = inside[m];
            double half = 0;
            for (int a = 0; a < 3; ++a)
              half += std::abs(n[a]) * g.axis[a].width[static_cast<size_t>(at[a])] / 4;
            const double under = std::clamp((surfaces[s].offset - n.dot(p)) / half, -1.0, 1.0);
            const double filled = (under + 1) / 2;
            if (filled < 0.02) continue;
            p -= n * half * (1 - filled);
            particles_.push_back(
                {{p.x(), p.y(), p.z()}, g.capacity[static_cast<size_t>(c)] / count * filled, {}, {}, {}});
            for (int a = 0; a < 3; ++a)
              particles_.back().at[a] = static_cast<std::uint16_t>(g.axis[a].cell_of(p[a]));
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
  std::fill(through_.begin(), through_.end(), 0.0);
  steps_ = {};
  sort();
  to_faces();
  find_surface();
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
    sort();
    to_faces();
    find_surface();
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
  sort();
  to_faces();
  find_surface();
}

void Fuel::sort() {
  const Lattice& g = *lattice_;
  const Blocks blocks(g);
  const auto count = static_cast<size_t>(blocks.count());
  const size_t n = particles_.size();
  key_.resize(n);
  std::vector<int> counts(pieces * count, 0);
  tbb::parallel_for(size_t{0}, pieces, [&](size_t piece) {
    int* mine = counts.data() + piece * count;
    for (size_t p = n * piece / pieces; p < n * (piece + 1) / pieces; ++p) {
      const int bx = particles_[p].at[0] / columns, by = particles_[p].at[1] / columns;
      key_[p] = bx * blocks.y + by;
      ++mine[key_[p]];
    }
  });
  block_begin_.assign(count + 1, 0);
  int sum = 0;
  for (size_t b = 0; b < count; ++b) {
    block_begin_[b] = sum;
    for (size_t piece = 0; piece < pieces; ++piece) {
      const int here = counts[piece * count + b];
      counts[piece * count + b] = sum;
      sum += here;
    }
  }
  block_begin_[count] = sum;
  sorted_.resize(n);
  tbb::parallel_for(size_t{0}, pieces, [&](size_t piece) {
    int* mine = counts.data() + piece * count;
    for (size_t p = n * piece / pieces; p < n * (piece + 1) / pieces; ++p)
      sorted_[static_cast<size_t>(mine[key_[p]]++)] = particles_[p];
  });
  particles_.swap(sorted_);
}

void Fuel::to_faces() {
  const Lattice& g = *lattice_;
  tbb::parallel_for(0, g.axis[0].count(), [&](int i) {
    std::memset(static_cast<void*>(nodes_.data() + g.index(i, 0, 0)), 0,
                sizeof(Node) * static_cast<size_t>(g.step(0)));
  });
  const Blocks blocks(g);
  const int sx = g.step(0), sy = g.step(1);
  // Blocks of one colour are a block apart: none of their particles meet at a face.
  for (int colour = 0; colour < 4; ++colour) {
    const int nx = (blocks.x + 1 - colour / 2) / 2, ny = (blocks.y + 1 - colour % 2) / 2;
    tbb::parallel_for(0, nx * ny, [&](int m) {
      const int block = (2 * (m / ny) + colour / 2) * blocks.y + 2 * (m % ny) + colour % 2;
      const auto b = static_cast<size_t>(block);
      for (int q = block_begin_[b]; q < block_begin_[b + 1]; ++q) {
        const Particle& p = particles_[static_cast<size_t>(q)];
        const Stencil whole(g, p.x, p.at);
        const std::uint16_t rim = g.rim.empty() ? std::uint16_t{0} : g.rim[static_cast<size_t>(whole.cell)];
        for (int a = 0; a < 3; ++a) {
          const Stencil s = rim ? at_rim(whole, rim, a) : whole;
          double by[3][2];
          for (int d = 0; d < 3; ++d)
            for (int w = 0; w < 2; ++w)
              by[d][w] = static_cast<double>(p.change[3 * a + d]) * reach(s, a, d, w);
          const auto w = weights(s, a);
          Node* corner = nodes_.data() + first_face(g, s, a);
          for (int x = 0; x < 2; ++x)
            for (int y = 0; y < 2; ++y) {
              Node* pair = corner + x * sx + y * sy;
              const double mass = p.volume * w[0][x] * w[1][y];
              const double low = mass * w[2][0], high = mass * w[2][1];
              const double u = static_cast<double>(p.u[a]) + by[0][x] + by[1][y];
              pair[0].face[a] += Pair{low * (u + by[2][0]), low};
              pair[1].face[a] += Pair{high * (u + by[2][1]), high};
            }
        }
        each_cell(g, whole, [&](int c, double w) { nodes_[static_cast<size_t>(c)].volume += w * p.volume; });
      }
    });
  }
}

void Fuel::find_surface() {
  const Lattice& g = *lattice_;
  const int nz = g.axis[2].cells;
  each_column(g, [&](int, int, size_t c0) {
    for (size_t c = c0; c < c0 + static_cast<size_t>(nz); ++c) {
      share_[c] = g.spread[c] > 0 ? nodes_[c].volume / g.spread[c] : 0.0;
      depth_[c] = g.capacity[c] > 0 ? depth_of(share_[c]) : -1.0;
    }
  });
}

/// Velocities of the particles and what acts on them, before pressure.
void Fuel::push_faces(double dt, const Push& push) {
  const Lattice& g = *lattice_;
  const double r = push.yaw, change = push.yaw_change;
  tbb::parallel_for(0, g.axis[0].count(), [&](int i) {
    for (int j = 0; j < g.axis[1].count(); ++j)
      for (int k = 0; k < g.axis[2].count(); ++k) {
        const auto c = static_cast<size_t>(g.index(i, j, k));
        const int at[3]{i, j, k};
        Velocity& v = velocity_[c];
        v = {};
        known_[c] = 0;
        if (!before_.empty()) before_[c] = {};
        for (int a = 0; a < 3; ++a) {
          double& factor = factor_[3 * c + static_cast<size_t>(a)];
          factor = 1;
          if (nodes_[c].face[a][1] <= 0) continue;
          double u = nodes_[c].face[a][0] / nodes_[c].face[a][1];
          if (!before_.empty()) before_[c][static_cast<size_t>(a)] = u;
          double pull = push.gravity[a];
          if (a < 2 && (r != 0 || change != 0)) {
            const double x = a == 0 ? g.axis[0].line[static_cast<size_t>(i)] : g.axis[0].middle(i);
            const double y = a == 1 ? g.axis[1].line[static_cast<size_t>(j)] : g.axis[1].middle(j);
            pull += a == 0 ? r * r * x + change * y : r * r * y - change * x;
          }
          u += dt * pull;
          known_[c] |= static_cast<std::uint8_t>(1 << a);
          // Drag, taken at the step's end: it can slow but never turn the fuel.
          double drag = 0;
          if (!g.darcy.empty() && at[a] > 0) {
            const size_t below = c - static_cast<size_t>(g.step(a));
            drag += 0.5 * (g.darcy[c] + g.darcy[below]) * options_.viscosity +
                    0.5 * (g.inertial[c] + g.inertial[below]) * std::abs(u);
          }
          if (g.resistance[a][c] > 0)
            drag += g.resistance[a][c] * std::abs(u) /
                    (g.axis[a].width[static_cast<size_t>(at[a])] +
                     g.axis[a].width[static_cast<size_t>(at[a]) - 1]);
          factor = 1 / (1 + dt * drag);
          v.face[a][0] = u * factor;
        }
      }
  });
}

bool Fuel::passes(int a, size_t face) const {
  if (lattice_->area[a][face] <= 0) return false;
  const int o = lattice_->opening[a][face];
  return o < 0 || door_open_[static_cast<size_t>(o)];
}

/// The rows: cells under the surface; where it lies between a cell and the next, the gas presses.
void Fuel::build(double dt) {
  const Lattice& g = *lattice_;
  int rows = 0;
  cell_of_row_.clear();
  for (int i = 0; i < g.axis[0].count(); ++i)
    for (size_t c = static_cast<size_t>(g.index(i, 0, 0));
         c < static_cast<size_t>(g.index(i, 0, 0) + g.step(0)); ++c) {
      row_[c] = depth_[c] > 0 ? rows++ : -1;
      if (row_[c] >= 0) cell_of_row_.push_back(static_cast<int>(c));
    }
  system_.begin(rows);
  wall_.assign(static_cast<size_t>(rows), {});
  // Each row writes only what is its own.
  tbb::parallel_for(tbb::blocked_range<int>(0, rows, 512), [&](const tbb::blocked_range<int>& range) {
    for (int row = range.begin(); row < range.end(); ++row) {
      const auto r = static_cast<size_t>(row);
      const auto c = static_cast<size_t>(cell_of_row_[r]);
      const int i = static_cast<int>(c) / g.step(0), j = static_cast<int>(c) % g.step(0) / g.step(1),
                k = static_cast<int>(c) % g.step(1);
      const int at[3]{i, j, k};
      double diagonal = 1e-12, out = 0;
      for (int a = 0; a < 3; ++a) {
        const auto step = static_cast<size_t>(g.step(a));
        for (int up = 0; up < 2; ++up) {
          const size_t f = up ? c + step : c, other = up ? c + step : c - step;
          if (!passes(a, f)) continue;
          const double apart = (g.axis[a].width[static_cast<size_t>(at[a])] +
                                g.axis[a].width[static_cast<size_t>(at[a] + (up ? 1 : -1))]) /
                               2;
          const double area = g.area[a][f];
          double k0 = area * factor_[3 * f + static_cast<size_t>(a)] * dt / apart;
          out += (up ? area : -area) * velocity_[f].face[a][0];
          if (row_[other] >= 0) {
            diagonal += k0;
            system_.couple(a, row, row_[other], up != 0, k0);
          } else {
            k0 /= std::max(depth_[c] / (depth_[c] - depth_[other]), nearest);
            diagonal += k0;
            wall_[r].k[2 * a + up] = k0;
          }
        }
      }
      system_.diagonal[r] = diagonal;
      wall_[r].out = out;
      system_.x[r] = pressure_[c];
    }
  });
  system_.factor();
}

void Fuel::find_pressure(double dt) {
  const Lattice& g = *lattice_;
  const auto rows = static_cast<size_t>(system_.rows());
  const auto over = [&](size_t r, int side) {
    const auto c = static_cast<size_t>(cell_of_row_[r]);
    const auto step = static_cast<size_t>(g.step(side / 2));
    return side % 2 ? c + step : c - step;
  };
  // Where fuel runs further in a step than a part of a cell, a blow leaves cells too full before any pressure
  // could hold it: half of that drives their neighbours away, the other half is only moved. Calm fuel, whose
  // particles are as uneven as ever, gets no energy so.
  const double blow = 0.5 * std::clamp((rate_ * dt - 0.3) / 0.4, 0.0, 1.0);
  for (size_t r = 0; r < rows; ++r) {
    double right = -wall_[r].out;
    const auto own = static_cast<size_t>(cell_of_row_[r]);
    right += blow * std::clamp(share_[own] - 1, 0.0, 1.0) * g.capacity[own] / dt;
    for (int side = 0; side < 6; ++side)
      if (wall_[r].k[side] > 0) right += wall_[r].k[side] * gas_[over(r, side)];
    system_.right[r] = right;
  }
  const SolveOptions options{.enough = enough_flow * cell_ / dt, .most = 300};
  Solved solved = system_.solve(options);
  if (!pockets_.empty()) solved.iterations += hold_pockets(options);
  steps_.iterations += solved.iterations;
  steps_.left = std::max(steps_.left, solved.left * dt / cell_);
  tbb::parallel_for(0, g.axis[0].count(), [&](int i) {
    for (size_t c = static_cast<size_t>(g.index(i, 0, 0));
         c < static_cast<size_t>(g.index(i, 0, 0) + g.step(0)); ++c)
      pressure_[c] = row_[c] >= 0 ? system_.x[static_cast<size_t>(row_[c])] : gas_[c];
  });
  const auto gradient = [&](size_t f, int a, const int at[3]) {
    const size_t low = f - static_cast<size_t>(g.step(a));
    double apart =
        (g.axis[a].width[static_cast<size_t>(at[a])] + g.axis[a].width[static_cast<size_t>(at[a]) - 1]) / 2;
    if ((row_[f] >= 0) != (row_[low] >= 0)) {
      const size_t wet = row_[f] >= 0 ? f : low, dry = row_[f] >= 0 ? low : f;
      apart *= std::max(depth_[wet] / (depth_[wet] - depth_[dry]), nearest);
    }
    return (pressure_[f] - pressure_[low]) / apart;
  };
  tbb::parallel_for(1, g.axis[0].cells + 2, [&](int i) {
    for (int j = 1; j <= g.axis[1].cells + 1; ++j)
      for (int k = 1; k <= g.axis[2].cells + 1; ++k) {
        const auto c = static_cast<size_t>(g.index(i, j, k));
        const int at[3]{i, j, k};
        for (int a = 0; a < 3; ++a) {
          const size_t low = c - static_cast<size_t>(g.step(a));
          if (!passes(a, c)) {
            velocity_[c].face[a][0] = 0;
            if (g.inside.empty() || (g.open(static_cast<int>(c)) && g.open(static_cast<int>(low))))
              known_[c] |= static_cast<std::uint8_t>(1 << a);
            else
              known_[c] &= static_cast<std::uint8_t>(~(1 << a));
            continue;
          }
          if (row_[c] < 0 && row_[low] < 0) continue;
          velocity_[c].face[a][0] -= kick_ * factor_[3 * c + static_cast<size_t>(a)] * gradient(c, a, at);
          known_[c] |= static_cast<std::uint8_t>(1 << a);
        }
      }
  });
  move_doors();
}

/// A door that would let fuel back shuts; one that is pressed open opens. Both from the next step on.
void Fuel::move_doors() {
  const Lattice& g = *lattice_;
  std::vector<double> flow(door_open_.size(), 0.0), drive(door_open_.size(), 0.0);
  for (const OpenFace& f : open_faces_) {
    const auto o = static_cast<size_t>(f.opening);
    const size_t low = f.cell - static_cast<size_t>(g.step(f.axis));
    flow[o] += f.sign * velocity_[f.cell].face[f.axis][0] * g.area[f.axis][f.cell];
    const bool wet = row_[f.cell] >= 0 || row_[low] >= 0;
    if (wet) drive[o] += f.sign * (pressure_[low] - pressure_[f.cell] + pull_[f.axis] * f.apart) * f.share;
  }
  for (size_t o = 0; o < door_open_.size(); ++o) {
    const tank::Passes passes = tank_->openings[o].passes;
    if (passes == tank::Passes::both) continue;
    const double way = passes == tank::Passes::along ? 1.0 : -1.0;
    if (door_open_[o] ? way * flow[o] < 0 : way * drive[o] <= 0)
      door_open_[o] = 0;
    else
      door_open_[o] = 1;
  }
}

/// Velocities and shifts where there are none: two cells out from where there are.
void Fuel::extend() {
  const Lattice& g = *lattice_;
  for (int sweep = 0; sweep < 2; ++sweep) {
    known_next_ = known_;
    tbb::parallel_for(1, g.axis[0].cells + 2, [&](int i) {
      for (int j = 1; j <= g.axis[1].cells + 1; ++j)
        for (int k = 1; k <= g.axis[2].cells + 1; ++k) {
          const auto c = static_cast<size_t>(g.index(i, j, k));
          const auto unknown = static_cast<std::uint8_t>(~known_[c] & 7);
          if (!unknown) continue;
          for (int a = 0; a < 3; ++a) {
            const auto bit = static_cast<std::uint8_t>(1 << a);
            if (!(unknown & bit)) continue;
            double sum = 0;
            int count = 0;
            for (int d = 0; d < 3; ++d)
              for (const int side : {-1, 1}) {
                const long n = static_cast<long>(c) + side * g.step(d);
                if (n < 0 || n >= g.count() || !(known_[static_cast<size_t>(n)] & bit)) continue;
                sum += velocity_[static_cast<size_t>(n)].face[a][0], ++count;
              }
            if (count == 0) continue;
            velocity_[c].face[a][0] = sum / count;
            known_next_[c] |= bit;
          }
        }
    });
    known_.swap(known_next_);
  }
  if (!g.inside.empty()) slip();
}

/// Along walls that are not along the axes: what would go through them is taken off.
void Fuel::slip() {
  const Lattice& g = *lattice_;
  tbb::parallel_for(1, g.axis[0].cells + 2, [&](int i) {
    for (int j = 1; j <= g.axis[1].cells + 1; ++j)
      for (int k = 1; k <= g.axis[2].cells + 1; ++k) {
        const auto c = static_cast<size_t>(g.index(i, j, k));
        const int at[3]{i, j, k};
        for (int a = 0; a < 3; ++a) {
          const size_t low = c - static_cast<size_t>(g.step(a));
          if (g.area[a][c] > 0 || g.open(static_cast<int>(c)) == g.open(static_cast<int>(low))) continue;
          Vec3 p, v;
          for (int d = 0; d < 3; ++d)
            p[d] = d == a ? g.axis[d].line[static_cast<size_t>(at[d])] : g.axis[d].middle(at[d]);
          const Vec3 n = inward_at(p);
          if (n.isZero()) {
            slip_[c][static_cast<size_t>(a)] = 0;
            continue;
          }
          for (int d = 0; d < 3; ++d) {
            if (d == a) {
              v[d] = velocity_[c].face[d][0];
              continue;
            }
            const auto up = static_cast<size_t>(g.step(d));
            v[d] = (velocity_[c].face[d][0] + velocity_[c + up].face[d][0] + velocity_[low].face[d][0] +
                    velocity_[low + up].face[d][0]) /
                   4;
          }
          slip_[c][static_cast<size_t>(a)] = v[a] - v.dot(n) * n[a];
        }
      }
  });
  tbb::parallel_for(1, g.axis[0].cells + 2, [&](int i) {
    for (int j = 1; j <= g.axis[1].cells + 1; ++j)
      for (int k = 1; k <= g.axis[2].cells + 1; ++k) {
        const auto c = static_cast<size_t>(g.index(i, j, k));
        for (int a = 0; a < 3; ++a) {
          const size_t low = c - static_cast<size_t>(g.step(a));
          if (g.area[a][c] <= 0 && g.open(static_cast<int>(c)) != g.open(static_cast<int>(low)))
            velocity_[c].face[a][0] = slip_[c][static_cast<size_t>(a)];
        }
      }
  });
}

double Fuel::inside_at(const Vec3& p) const {
  const Lattice& g = *lattice_;
  if (g.inside.empty()) return 1.0;
  double t[3];
  int at[3];
  for (int a = 0; a < 3; ++a) {
    at[a] = std::min(g.axis[a].cell_of(p[a]), g.axis[a].count() - 2);
    t[a] = std::clamp(
        (p[a] - g.axis[a].line[static_cast<size_t>(at[a])]) / g.axis[a].width[static_cast<size_t>(at[a])],
        0.0, 1.0);
  }
  double out = 0;
  for (int m = 0; m < 8; ++m) {
    double w = 1;
    int c = g.index(at[0], at[1], at[2]);
    for (int a = 0; a < 3; ++a) {
      w *= (m >> a & 1) ? t[a] : 1 - t[a];
      if (m >> a & 1) c += g.step(a);
    }
    out += w * g.inside[static_cast<size_t>(c)];
  }
  return out;
}

/// Unit vector from the wall into the tank; zero where there is no saying.
Vec3 Fuel::inward_at(const Vec3& p) const {
  const Lattice& g = *lattice_;
  Vec3 out;
  for (int a = 0; a < 3; ++a) {
    const double h = 0.5 * g.axis[a].width[static_cast<size_t>(g.axis[a].cell_of(p[a]))];
    out[a] = (inside_at(p + h * Vec3::Unit(a)) - inside_at(p - h * Vec3::Unit(a))) / (2 * h);
  }
  const double size = out.norm();
  return size > 1e-3 ? Vec3(out / size) : Vec3(Vec3::Zero());
}

/// Shifts that bring every cell under the surface to what it can hold, by the same matrix as the pressure.
void Fuel::find_spreading() {
  const Lattice& g = *lattice_;
  const auto rows = static_cast<size_t>(system_.rows());
  std::vector<double>& x = system_.x;
  tbb::parallel_for(tbb::blocked_range<size_t>(0, rows, 512), [&](const tbb::blocked_range<size_t>& range) {
    for (size_t r = range.begin(); r < range.end(); ++r) {
      const auto c = static_cast<size_t>(cell_of_row_[r]);
      double off = std::clamp(share_[c] - 1, -most_spread, 4 * most_spread);
      if (off < 0) {
        // Only well under the surface is a lack a lack.
        bool deep = true;
        for (int i = -1; i <= 1 && deep; ++i)
          for (int j = -1; j <= 1 && deep; ++j)
            for (int k = -1; k <= 1 && deep; ++k) {
              const size_t n = c + static_cast<size_t>(i * g.step(0) + j * g.step(1) + k);
              deep = row_[n] >= 0 || !g.open(static_cast<int>(n));
            }
        if (!deep) off = 0;
      }
      system_.right[r] = off * g.capacity[c];
      x[r] = 0;
    }
  });
  const Solved solved = system_.solve({.enough = enough_spread * cell_, .most = 60});
  steps_.spreading += solved.iterations;
  tbb::parallel_for(1, g.axis[0].cells + 2, [&](int i) {
    for (int j = 1; j <= g.axis[1].cells + 1; ++j)
      for (int k = 1; k <= g.axis[2].cells + 1; ++k) {
        const auto c = static_cast<size_t>(g.index(i, j, k));
        const int at[3]{i, j, k};
        for (int a = 0; a < 3; ++a) {
          velocity_[c].face[a][1] = 0;
          const size_t low = c - static_cast<size_t>(g.step(a));
          if ((row_[c] < 0 && row_[low] < 0) || !passes(a, c)) continue;
          const double above = row_[c] >= 0 ? x[static_cast<size_t>(row_[c])] : 0.0;
          const double below = row_[low] >= 0 ? x[static_cast<size_t>(row_[low])] : 0.0;
          double apart = (g.axis[a].width[static_cast<size_t>(at[a])] +
                          g.axis[a].width[static_cast<size_t>(at[a]) - 1]) /
                         2;
          if ((row_[c] >= 0) != (row_[low] >= 0)) {
            const size_t wet = row_[c] >= 0 ? c : low, dry = row_[c] >= 0 ? low : c;
            apart *= std::max(depth_[wet] / (depth_[wet] - depth_[dry]), nearest);
          }
          // By the pressure's matrix, dt and all: the shift is what a velocity would do in one step.
          velocity_[c].face[a][1] = kick_ * factor_[3 * c + static_cast<size_t>(a)] * (below - above) / apart;
        }
      }
  });
}

void Fuel::to_particles(double dt, const Push& push) {
  const Lattice& g = *lattice_;
  const size_t blocks = block_begin_.size() - 1;
  std::vector<double> rates(blocks, 0.0);
  const size_t openings = through_.size();
  std::vector<double> gone(blocks * openings, 0.0);
  const double turn = 2 * push.yaw * kick_;
  const bool own = !before_.empty();
  const int sx = g.step(0), sy = g.step(1);
  tbb::parallel_for(size_t{0}, blocks, [&](size_t b) {
    double rate = 0;
    for (int q = block_begin_[b]; q < block_begin_[b + 1]; ++q) {
      Particle& p = particles_[static_cast<size_t>(q)];
      const Stencil whole(g, p.x, p.at);
      const std::uint16_t rim = g.rim.empty() ? std::uint16_t{0} : g.rim[static_cast<size_t>(whole.cell)];
      double u[3], shift[3], was[3]{}, change[9];
      for (int a = 0; a < 3; ++a) {
        const Stencil s = rim ? at_rim(whole, rim, a) : whole;
        const auto w = weights(s, a);
        const Velocity* corner = velocity_.data() + first_face(g, s, a);
        // Along z, then y, then x, each with its slope.
        Pair along_y[2], along_x[2][2];
        double slope_z[2], slope_y[2];
        for (int x = 0; x < 2; ++x) {
          double rise[2];
          for (int y = 0; y < 2; ++y) {
            const Velocity* v = corner + x * sx + y * sy;
            along_x[x][y] = w[2][0] * v[0].face[a] + w[2][1] * v[1].face[a];
            rise[y] = v[1].face[a][0] - v[0].face[a][0];
          }
          along_y[x] = w[1][0] * along_x[x][0] + w[1][1] * along_x[x][1];
          slope_y[x] = along_x[x][1][0] - along_x[x][0][0];
          slope_z[x] = w[1][0] * rise[0] + w[1][1] * rise[1];
        }
        const Pair value = w[0][0] * along_y[0] + w[0][1] * along_y[1];
        const double slope[3]{along_y[1][0] - along_y[0][0], w[0][0] * slope_y[0] + w[0][1] * slope_y[1],
                              w[0][0] * slope_z[0] + w[0][1] * slope_z[1]};
        u[a] = value[0], shift[a] = value[1];
        if (own)
          each_face(g, s, a, [&](int c, double weight) {
            was[a] += weight * before_[static_cast<size_t>(c)][static_cast<size_t>(a)];
          });
        for (int d = 0; d < 3; ++d) {
          // Where a wall holds all of the weight there is no slope across it.
          const bool mirrored = d != a && (s.centre[d][0] == 0 || s.centre[d][1] == 0);
          change[3 * a + d] = mirrored ? 0.0 : slope[d] * s.per_width[d];
        }
      }
      double to[3];
      for (int a = 0; a < 3; ++a) {
        double half = 0;
        for (int d = 0; d < 3; ++d) half += change[3 * a + d] * u[d];
        const double mean = u[a] + 0.5 * dt * half;
        to[a] = p.x[a] + dt * mean + shift[a];
        rate = std::max(rate, std::abs(u[a]) * whole.per_width[a]);
      }
      for (int a = 0; a < 3; ++a) {
        const double kept = static_cast<double>(p.u[a]) + u[a] - was[a];
        p.u[a] = static_cast<float>(own ? options_.own * kept + (1 - options_.own) * u[a] : u[a]);
      }
      for (int m = 0; m < 9; ++m) p.change[m] = static_cast<float>(change[m]);
      if (turn != 0) {
        const double c = std::cos(turn), d = std::sin(turn), x = p.u[0], y = p.u[1];
        p.u[0] = static_cast<float>(c * x + d * y), p.u[1] = static_cast<float>(c * y - d * x);
      }
      walk(p, whole, to, gone.empty() ? nullptr : gone.data() + b * openings);
    }
    rates[b] = rate;
  });
  rate_ = 0;
  for (size_t b = 0; b < blocks; ++b)
    for (size_t o = 0; o < openings; ++o) through_[o] += gone[b * openings + o];
  for (const double r : rates) rate_ = std::max(rate_, r);
}

/// To where it goes, cell by cell, never through a shut side.
void Fuel::walk(Particle& p, const Stencil& from, const double to[3], double* gone) const {
  const Lattice& g = *lattice_;
  // What goes through an opening is counted by it.
  const auto count = [&](int a, size_t face, double way) {
    const int o = g.opening[a][face];
    if (o >= 0 && gone) gone[o] += way * face_sign_[static_cast<size_t>(o)] * p.volume;
  };
  int at[3]{from.at[0], from.at[1], from.at[2]};
  for (int a = 0; a < 3; ++a) {
    const Axis& axis = g.axis[a];
    double x = std::isfinite(to[a]) ? to[a] : p.x[a];
    for (;;) {
      const auto i = static_cast<size_t>(at[a]);
      const auto c = static_cast<size_t>(g.index(at[0], at[1], at[2]));
      if (x < axis.line[i]) {
        if (!passes(a, c)) {
          x = axis.line[i] + 1e-3 * axis.width[i];
          break;
        }
        count(a, c, -1);
        --at[a];
      } else if (x >= axis.line[i + 1]) {
        if (!passes(a, c + static_cast<size_t>(g.step(a)))) {
          x = axis.line[i + 1] - 1e-3 * axis.width[i];
          break;
        }
        count(a, c + static_cast<size_t>(g.step(a)), 1);
        ++at[a];
      } else {
        break;
      }
    }
    p.x[a] = x;
  }
  for (int a = 0; a < 3; ++a) p.at[a] = static_cast<std::uint16_t>(at[a]);
  if (g.inside.empty()) return;
  const Vec3 here(p.x[0], p.x[1], p.x[2]);
  const double deep = inside_at(here);
  if (deep >= 0) return;
  const Vec3 back = here - deep * inward_at(here);
  for (int a = 0; a < 3; ++a) {
    // Not out of its cell's open sides by the back door: a wall's push stays on this side of plates.
    const auto c = static_cast<size_t>(g.index(at[0], at[1], at[2]));
    const auto i = static_cast<size_t>(at[a]);
    double x = back[a];
    if (x < g.axis[a].line[i] && !passes(a, c)) x = g.axis[a].line[i] + 1e-3 * g.axis[a].width[i];
    if (x >= g.axis[a].line[i + 1] && !passes(a, c + static_cast<size_t>(g.step(a))))
      x = g.axis[a].line[i + 1] - 1e-3 * g.axis[a].width[i];
    p.x[a] =
        std::clamp(x, g.axis[a].line[i] - g.axis[a].width[i], g.axis[a].line[i + 1] + g.axis[a].width[i]);
    p.at[a] = static_cast<std::uint16_t>(g.axis[a].cell_of(p.x[a]));
  }
}

}  // namespace uadze::resolved
