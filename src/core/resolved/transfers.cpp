// Between particles and faces: there, back, and along.
#include <tbb/parallel_for.h>

#include <algorithm>
#include <cmath>

#include "core/base/lanes.h"
#include "core/resolved/fuel.h"

namespace uadze::resolved {
namespace {

/// Columns of cells on a side of what one task carries, and pieces into which particles are counted.
constexpr int columns = 4;
constexpr size_t pieces = 16;

struct Blocks {
  int x, y;
  explicit Blocks(const Lattice& g)
      : x((g.axis[0].count() + columns - 1) / columns), y((g.axis[1].count() + columns - 1) / columns) {}
  int count() const { return x * y; }
};

/// Of what flies free, steps take this share of the speed for their length: there is no pressure to find.
constexpr float aloft = 0.5f;
constexpr float bend_at_most = 0.7f;
constexpr FourLanes upper_x{0, 0, 1, 1}, upper_y{0, 1, 0, 1};  // of the four columns

}  // namespace

void Fuel::sort() {
  const Lattice& g = *lattice_;
  const Blocks blocks(g);
  const auto count = static_cast<size_t>(blocks.count());
  const size_t n = particles_.size();
  key_.resize(n);
  std::vector<int> counts(pieces * count, 0);
  tbb::parallel_for(size_t{0}, pieces, [&](size_t piece) {
    int* mine = counts.data() + piece * count;
    int* key = key_.data();
    const Particle* from = particles_.data();
    for (size_t p = n * piece / pieces; p < n * (piece + 1) / pieces; ++p) {
      key[p] = from[p].at[0] / columns * blocks.y + from[p].at[1] / columns;
      ++mine[key[p]];
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
    const int* key = key_.data();
    const Particle* from = particles_.data();
    Particle* to = sorted_.data();
    for (size_t p = n * piece / pieces; p < n * (piece + 1) / pieces; ++p) to[mine[key[p]]++] = from[p];
  });
  particles_.swap(sorted_);
}

/// What these particles leave at faces and cells.
UADZE_WIDE void Fuel::leave(int begin, int end) {
  const Lattice& g = *lattice_;
  const int step[2]{g.step(0), g.step(1)};
  const std::uint16_t* rims = g.rim.empty() ? nullptr : g.rim.data();
  for (int q = begin; q < end; ++q) {
    const Particle& p = particles_.data()[q];
    const Stencil whole(g, p.x, p.at);
    const std::uint16_t rim = rims ? rims[whole.cell] : std::uint16_t{0};
    const auto volume = static_cast<float>(p.volume);
    each_component(whole, rim, [&](auto component, const Stencil& s) {
      constexpr int a = component;
      const auto w = weights(s, a);
      const float* change = p.change + 3 * a;
      const float lowest_u = p.u[a] + change[0] * reach(s, a, 0, 0) + change[1] * reach(s, a, 1, 0) +
                             change[2] * reach(s, a, 2, 0);
      const FourLanes low = lowest_u + change[0] * s.width[0] * upper_x + change[1] * s.width[1] * upper_y;
      const FourLanes high = low + change[2] * s.width[2];
      const FourLanes mass = volume * of_x(w[0]) * of_y(w[1]);
      FourLanes mass_low = mass * w[2][0], mass_high = mass * w[2][1];
      FourLanes push_low = mass_low * low, push_high = mass_high * high;
      // From one number of four columns to four numbers of one.
      turn_over(push_low, mass_low, push_high, mass_high);
      Four* corner = left_[a].data() + lowest(g, s, a);
      corner[0].lanes += push_low, corner[step[1]].lanes += mass_low;
      corner[step[0]].lanes += push_high, corner[step[0] + step[1]].lanes += mass_high;
    });
    const auto w = weights(whole, 3);
    const FourLanes mass = volume * of_x(w[0]) * of_y(w[1]), low = mass * w[2][0], high = mass * w[2][1];
    Two* corner = lies_.data() + lowest(g, whole, 3);
    const auto add = [](Two& to, TwoLanes more) {
      TwoLanes sum;
      std::memcpy(&sum, &to, sizeof sum);
      sum += more;
      std::memcpy(static_cast<void*>(&to), &sum, sizeof sum);
    };
    add(corner[0], __builtin_shufflevector(low, high, 0, 4));
    add(corner[step[1]], __builtin_shufflevector(low, high, 1, 5));
    add(corner[step[0]], __builtin_shufflevector(low, high, 2, 6));
    add(corner[step[0] + step[1]], __builtin_shufflevector(low, high, 3, 7));
  }
}

void Fuel::to_faces() {
  const Lattice& g = *lattice_;
  // Near the fuel as it was: particles left nothing beyond.
  const auto rows = static_cast<size_t>(g.axis[0].count()), row = static_cast<size_t>(g.axis[1].count());
  tbb::parallel_for(size_t{0}, rows, [&](size_t i) {
    for (size_t n = i * row; n < (i + 1) * row; ++n) {
      if (near_[n].low == near_[n].high) continue;
      // What is left at a cell and the one above it stands at the lower.
      const size_t begin = n * static_cast<size_t>(g.step(1)) + static_cast<size_t>(near_[n].low - 1);
      const auto many = static_cast<size_t>(near_[n].high - near_[n].low + 1);
      for (auto& list : left_) std::fill_n(list.data() + begin, many, Four{});
      std::fill_n(lies_.data() + begin, many, Two{});
    }
  });
  const Blocks blocks(g);
  // Blocks of one colour are a block apart: none of their particles meet at a face.
  for (int colour = 0; colour < 4; ++colour) {
    const int nx = (blocks.x + 1 - colour / 2) / 2, ny = (blocks.y + 1 - colour % 2) / 2;
    tbb::parallel_for(0, nx * ny, [&](int m) {
      const int block = (2 * (m / ny) + colour / 2) * blocks.y + 2 * (m % ny) + colour % 2;
      leave(block_begin_[static_cast<size_t>(block)], block_begin_[static_cast<size_t>(block) + 1]);
    });
  }
}

/// Calls move(block, its first particle, past its last, m3 through each opening) for all; what went through
/// openings is added up.
template <class F>
void Fuel::each_block(F&& move) {
  const size_t blocks = block_begin_.size() - 1, openings = through_.size();
  std::vector<double> gone(blocks * openings, 0.0);
  tbb::parallel_for(size_t{0}, blocks, [&](size_t b) {
    move(b, block_begin_[b], block_begin_[b + 1], openings ? gone.data() + b * openings : nullptr);
  });
  for (size_t b = 0; b < blocks; ++b)
    for (size_t o = 0; o < openings; ++o) through_[o] += gone[b * openings + o];
}

/// Gives these particles the velocities where they are and moves them for dt; the fastest of them, in cells
/// a second.
UADZE_WIDE double Fuel::take(int begin, int end, double dt, const Turn& turn, double* through) {
  const Lattice& g = *lattice_;
  const int step[2]{g.step(0), g.step(1)};
  const std::uint16_t* rims = g.rim.empty() ? nullptr : g.rim.data();
  const auto half = static_cast<float>(dt / 2);
  float fastest = 0;
  for (int q = begin; q < end; ++q) {
    Particle& p = particles_.data()[q];
    const Stencil whole(g, p.x, p.at);
    const std::uint16_t rim = rims ? rims[whole.cell] : std::uint16_t{0};
    float u[3], shift[3];
    each_component(whole, rim, [&](auto component, const Stencil& s) {
      constexpr int a = component;
      const auto w = weights(s, a);
      const Two* corner = flow_[a].data() + lowest(g, s, a);
      FourLanes low = four(corner), shift_low = four(corner + step[1]), high = four(corner + step[0]),
                shift_high = four(corner + step[0] + step[1]);
      // From four numbers of one column to one number of four.
      turn_over(low, shift_low, high, shift_high);
      const FourLanes of_u = low * w[2][0] + high * w[2][1],
                      of_shift = shift_low * w[2][0] + shift_high * w[2][1];
      const FourLanes wx = of_x(w[0]), wy = of_y(w[1]), both = wx * wy;
      const FourLanes sums = totals(both * of_u, wy * of_u * (2 * upper_x - 1), wx * of_u * (2 * upper_y - 1),
                                    both * (high - low));
      const FourLanes shifts = both * of_shift;
      u[a] = sums[0];
      shift[a] = (shifts[0] + shifts[1]) + (shifts[2] + shifts[3]);
      const float slope[3]{sums[1], sums[2], sums[3]};
      for (int d = 0; d < 3; ++d) {
        // Where a wall holds all of the weight there is no slope across it.
        const bool mirrored = d != a && (s.centre[d][0] == 0 || s.centre[d][1] == 0);
        p.change[3 * a + d] = mirrored ? 0.0f : slope[d] * s.per_width[d];
      }
    });
    // Second order: half a step's change along the way, as long as that bends it and does not turn it round.
    const float most = bend_at_most * std::max({std::abs(u[0]), std::abs(u[1]), std::abs(u[2])});
    double to[3];
    float rate = 0;
    for (int a = 0; a < 3; ++a) {
      const float* change = p.change + 3 * a;
      const float bend = half * (change[0] * u[0] + change[1] * u[1] + change[2] * u[2]);
      const float mean = u[a] + std::clamp(bend, -most, most);
      to[a] = p.x[a] + dt * static_cast<double>(mean) + static_cast<double>(shift[a]);
      rate = std::max(rate, std::abs(u[a]) * whole.per_width[a]);
      p.u[a] = u[a];
    }
    if (turn.y != 0) p.u[0] = turn.x * u[0] + turn.y * u[1], p.u[1] = turn.x * u[1] - turn.y * u[0];
    walk(p, to, through);
    fastest = std::max(fastest, row_.data()[whole.cell] >= 0 ? rate : rate * aloft);
  }
  return static_cast<double>(fastest);
}

void Fuel::to_particles(double dt, const Push& push) {
  std::vector<double> rates(block_begin_.size() - 1, 0.0);
  const double angle = 2 * push.yaw * kick_;
  const Turn turn{static_cast<float>(std::cos(angle)), static_cast<float>(std::sin(angle))};
  each_block(
      [&](size_t b, int begin, int end, double* through) { rates[b] = take(begin, end, dt, turn, through); });
  rate_ = 0;
  for (const double r : rates) rate_ = std::max(rate_, r);
}

/// Particles by the shifts alone, without a step's time.
void Fuel::shift_particles() {
  const Lattice& g = *lattice_;
  const int step[2]{g.step(0), g.step(1)};
  const std::uint16_t* rims = g.rim.empty() ? nullptr : g.rim.data();
  const auto move = [&](Particle& p, double* through) {
    const Stencil whole(g, p.x, p.at);
    double to[3]{};
    each_component(whole, rims ? rims[whole.cell] : std::uint16_t{0}, [&](auto component, const Stencil& s) {
      constexpr int a = component;
      const auto w = weights(s, a);
      const Two* corner = flow_[a].data() + lowest(g, s, a);
      float shift = 0;
      for (int x = 0; x < 2; ++x)
        for (int y = 0; y < 2; ++y)
          for (int z = 0; z < 2; ++z)
            shift += w[0][x] * w[1][y] * w[2][z] * corner[x * step[0] + y * step[1] + z].second;
      to[a] = p.x[a] + static_cast<double>(shift);
    });
    walk(p, to, through);
  };
  each_block([&](size_t, int begin, int end, double* through) {
    for (int q = begin; q < end; ++q) move(particles_.data()[q], through);
  });
}

/// To where it goes, cell by cell, never through a shut side.
void Fuel::walk(Particle& p, const double to[3], double* gone) const {
  const Lattice& g = *lattice_;
  // What goes through an opening is counted by it.
  const auto count = [&](int a, size_t face, double way) {
    const int o = g.opening[a][face];
    if (o >= 0 && gone) gone[o] += way * face_sign_[static_cast<size_t>(o)] * p.volume;
  };
  int at[3]{p.at[0], p.at[1], p.at[2]};
  for (int a = 0; a < 3; ++a) {
    const Axis& axis = g.axis[a];
    const double* line = axis.line.data();
    double x = std::isfinite(to[a]) ? to[a] : p.x[a];
    while (x < line[at[a]] || x >= line[at[a] + 1]) {
      const bool up = x >= line[at[a] + 1];
      const auto c = static_cast<size_t>(g.index(at[0], at[1], at[2]));
      const size_t face = up ? c + static_cast<size_t>(g.step(a)) : c;
      if (!passes(a, face)) {
        const double in = 1e-3 * axis.width[static_cast<size_t>(at[a])];
        x = up ? line[at[a] + 1] - in : line[at[a]] + in;
        break;
      }
      count(a, face, up ? 1 : -1);
      at[a] += up ? 1 : -1;
    }
    p.x[a] = x;
  }
  for (int a = 0; a < 3; ++a) p.at[a] = static_cast<std::uint16_t>(at[a]);
  if (cut_.empty() || !cut_[static_cast<size_t>(g.index(at[0], at[1], at[2]))]) return;
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
