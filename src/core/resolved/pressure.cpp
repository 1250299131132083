// The pressure under which what flows into a cell flows out; and the shifts that bring each to its volume.
#include <tbb/blocked_range.h>
#include <tbb/parallel_for.h>

#include <algorithm>
#include <cmath>

#include "core/resolved/fuel.h"
#include "core/resolved/walks.h"

namespace uadze::resolved {
namespace {

/// The surface is not nearer to a cell's middle than this share of the way to the next.
constexpr double nearest = 0.05;
/// Share of a cell's volume that a step's flow may leave over.
constexpr double enough_flow = 3e-4, enough_spread = 5e-3;
constexpr float shut_face = -1;
/// Share of what a cell can hold by which particles are uneven where nothing crowds them.
constexpr double uneven = 0.05;
/// Rows from which on ranges of them are worth their own tasks.
constexpr int least_apart = 2000;
/// Most of a cell's volume that is put right in one step.
constexpr double most_spread = 0.25;

template <class F>
void each_row(size_t rows, F&& f) {
  tbb::parallel_for(tbb::blocked_range<size_t>(0, rows, 512), [&](const tbb::blocked_range<size_t>& range) {
    for (size_t r = range.begin(); r < range.end(); ++r) f(r);
  });
}

}  // namespace

/// m across a face between the two places where the pressure is known: the cells' middles, or the surface.
double Fuel::to_pressure(int a, size_t face, int place) const {
  const Lattice& g = *lattice_;
  const size_t low = face - static_cast<size_t>(g.step(a));
  const double apart = g.axis[a].apart.data()[place];
  const int* row = row_.data();
  if ((row[face] >= 0) == (row[low] >= 0)) return apart;
  const bool up = row[face] >= 0;
  const double wet = depth_.data()[up ? face : low], dry = depth_.data()[up ? low : face];
  return apart * std::max(wet / (wet - dry), nearest);
}

/// Numbers the cells under the surface, those of large bodies from four corners towards the middle of the
/// fuel along x and y; then the two layers in the middle, towards where they cross. Where the four ranges
/// end.
std::vector<int> Fuel::number() {
  const Lattice& g = *lattice_;
  const int nx = g.axis[0].count(), ny = g.axis[1].count();
  std::fill(row_.begin(), row_.end(), -1);
  cell_of_row_.clear();
  std::vector<int> along_x(static_cast<size_t>(nx), 0), along_y(static_cast<size_t>(ny), 0);
  const auto each_in = [&](int i, int j, auto&& f) {
    const Column column = near_[static_cast<size_t>(i * ny + j)];
    for (int c = g.index(i, j, column.low); c < g.index(i, j, column.high); ++c)
      if (depth_[static_cast<size_t>(c)] > 0) f(c);
  };
  int rows = 0;
  for (int i = 0; i < nx; ++i)
    for (int j = 0; j < ny; ++j)
      each_in(i, j,
              [&](int) { ++along_x[static_cast<size_t>(i)], ++along_y[static_cast<size_t>(j)], ++rows; });
  const auto append = [&](int i, int j) {
    each_in(i, j, [&](int c) {
      row_[static_cast<size_t>(c)] = static_cast<int>(cell_of_row_.size());
      cell_of_row_.push_back(c);
    });
  };
  // From x to before past_x, upwards or downwards; along y the same.
  const auto rectangle = [&](int x, int past_x, int y, int past_y) {
    for (int i = x; i != past_x; i += x < past_x ? 1 : -1)
      for (int j = y; j != past_y; j += y < past_y ? 1 : -1) append(i, j);
  };
  std::vector<int> apart;
  if (rows < least_apart) {
    rectangle(0, nx, 0, ny);
    return apart;
  }
  const auto middle_of = [&](const std::vector<int>& along) {
    int i = 0;
    for (int sum = 0; 2 * (sum + along[static_cast<size_t>(i)]) < rows; ++i)
      sum += along[static_cast<size_t>(i)];
    return i;
  };
  const int x = middle_of(along_x), y = middle_of(along_y);
  for (const int begin_x : {0, nx - 1})
    for (const int begin_y : {0, ny - 1}) {
      rectangle(begin_x, x, begin_y, y);
      apart.push_back(static_cast<int>(cell_of_row_.size()));
    }
  for (const int begin : {0, nx - 1}) rectangle(begin, x, y, y + 1);
  for (const int begin : {0, ny - 1}) rectangle(x, x + 1, begin, y);
  append(x, y);
  return apart;
}

/// The rows: cells under the surface; where it lies between a cell and the next, the gas presses.
void Fuel::build(double dt) {
  const Lattice& g = *lattice_;
  const std::vector<int> apart = number();
  const size_t rows = cell_of_row_.size();
  system_.begin(static_cast<int>(rows), apart);
  wall_.assign(rows, {});
  touches_.assign(rows, 0);
  each_face(g, near_, [&](int a, size_t c, size_t low, const int at[3]) {
    float& ease = ease_[c][static_cast<size_t>(a)];
    ease = 0;
    if (!passes(a, c))
      ease = shut_face;
    else if (row_[c] >= 0 || row_[low] >= 0)
      ease = factor_[a][c] / static_cast<float>(to_pressure(a, c, at[a]));
  });
  // Each row writes only what is its own.
  each_row(rows, [&](size_t r) {
    const auto c = static_cast<size_t>(cell_of_row_[r]);
    double diagonal = 1e-12, out = 0;
    for (int a = 0; a < 3; ++a)
      for (int up = 0; up < 2; ++up) {
        const auto step = static_cast<size_t>(g.step(a));
        const size_t f = up ? c + step : c, other = up ? f : c - step;
        const float ease = ease_[f][static_cast<size_t>(a)];
        if (ease < 0) continue;
        const double area = g.area[a][f];
        // As the matrix keeps it, so that a body without gas is balanced to the last digit.
        const auto k = static_cast<double>(static_cast<float>(area * static_cast<double>(ease) * dt));
        diagonal += k;
        out += (up ? area : -area) * static_cast<double>(flow_[a][f].first);
        if (row_[other] >= 0)
          system_.couple(a, static_cast<int>(r), row_[other], up != 0, k);
        else
          wall_[r].k[2 * a + up] = k, touches_[r] = touches_[r] || k > 0;
      }
    system_.diagonal[r] = diagonal;
    wall_[r].out = out;
    system_.x[r] = pressure_[c];
  });
  system_.factor();
  find_closed();
}

/// Bodies of fuel that touch no gas at all, as in a full collector whose doors are shut: their pressure is
/// known but for a constant, and what flows in must flow out.
void Fuel::find_closed() {
  const Lattice& g = *lattice_;
  closed_.clear();
  // Most have gas beside them, or fuel above them that has.
  std::vector<char> seen(touches_);
  tbb::parallel_for(size_t{0}, near_.size(), [&](size_t n) {
    const size_t column = n * static_cast<size_t>(g.step(1));
    bool over = false;
    for (int k = near_[n].high - 1; k >= near_[n].low; --k) {
      const size_t c = column + static_cast<size_t>(k);
      const int row = row_[c];
      over = row >= 0 && (seen[static_cast<size_t>(row)] || (over && passes(2, c + 1)));
      if (over) seen[static_cast<size_t>(row)] = 1;
    }
  });
  const std::vector<char> open_from_above = seen;
  std::vector<int> body;
  for (size_t begin = 0; begin < seen.size(); ++begin) {
    if (seen[begin]) continue;
    seen[begin] = 1;
    body.assign(1, static_cast<int>(begin));
    bool open = false;
    for (size_t n = 0; n < body.size(); ++n) {
      const auto r = static_cast<size_t>(body[n]);
      const auto c = static_cast<size_t>(cell_of_row_[r]);
      for (int side = 0; side < 6; ++side) {
        const auto step = static_cast<size_t>(g.step(side / 2));
        const size_t face = side % 2 ? c + step : c;
        const int next = row_[side % 2 ? face : c - step];
        if (next < 0 || !passes(side / 2, face)) continue;
        open = open || open_from_above[static_cast<size_t>(next)];
        if (seen[static_cast<size_t>(next)]) continue;
        seen[static_cast<size_t>(next)] = 1;
        body.push_back(next);
      }
    }
    if (!open) closed_.push_back(body);
  }
}

/// Takes off the right side what a closed body can not answer.
void Fuel::balance() {
  for (const auto& body : closed_) {
    double sum = 0, room = 0;
    const auto capacity = [&](int r) {
      return lattice_->capacity[static_cast<size_t>(cell_of_row_[static_cast<size_t>(r)])];
    };
    for (const int r : body) sum += system_.right[static_cast<size_t>(r)], room += capacity(r);
    for (const int r : body) system_.right[static_cast<size_t>(r)] -= sum * capacity(r) / room;
  }
}

/// m/s at a shut face: none, but that fuel without pressure, which flies free, may leave a wall.
float Fuel::from_wall(int a, size_t c, size_t low) const {
  const bool above = lattice_->open(static_cast<int>(c)), below = lattice_->open(static_cast<int>(low));
  const float u = flow_[a][c].first;
  if (above && !below && row_[c] < 0) return std::max(u, 0.0f);
  if (below && !above && row_[low] < 0) return std::min(u, 0.0f);
  return 0;
}

void Fuel::find_pressure(double dt) {
  const Lattice& g = *lattice_;
  // Where fuel runs further in a step than a part of a cell, a blow leaves cells too full before any pressure
  // could hold it: three quarters of what they hold beyond what particles are uneven by drive their
  // neighbours away, the rest is only moved. Moved all of it, a jet that meets a wall would lose its head's
  // energy. Calm fuel gets no energy so.
  const double blow = 0.75 * std::clamp((rate_ * dt - 0.3) / 0.4, 0.0, 1.0);
  each_row(cell_of_row_.size(), [&](size_t r) {
    const auto c = static_cast<size_t>(cell_of_row_[r]);
    double right = -wall_[r].out + blow * std::clamp(share_[c] - 1 - uneven, 0.0, 1.0) * g.capacity[c] / dt;
    for (int side = 0; side < 6; ++side) {
      const auto step = static_cast<size_t>(g.step(side / 2));
      if (wall_[r].k[side] > 0) right += wall_[r].k[side] * gas_[side % 2 ? c + step : c - step];
    }
    system_.right[r] = right;
  });
  balance();
  const SolveOptions options{.enough = enough_flow * cell_ / dt, .most = 300};
  Solved solved = system_.solve(options);
  if (!pockets_.empty()) solved.iterations += hold_pockets(options);
  steps_.iterations += solved.iterations;
  steps_.left = std::max(steps_.left, solved.left * dt / cell_);
  each_cell(g, [&](size_t c, const int*) {
    pressure_[c] = row_[c] >= 0 ? system_.x[static_cast<size_t>(row_[c])] : gas_[c];
  });
  each_face(g, near_, [&](int a, size_t c, size_t low, const int*) {
    const auto bit = static_cast<std::uint8_t>(1 << a);
    const float ease = ease_[c][static_cast<size_t>(a)];
    if (ease < 0) {
      flow_[a][c].first = from_wall(a, c, low);
      if (g.inside.empty() || (g.open(static_cast<int>(c)) && g.open(static_cast<int>(low))))
        known_[c] |= bit;
      else
        known_[c] &= static_cast<std::uint8_t>(~bit);
      return;
    }
    if (ease == 0) return;
    flow_[a][c].first -=
        static_cast<float>(kick_ * static_cast<double>(ease) * (pressure_[c] - pressure_[low]));
    known_[c] |= bit;
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
    flow[o] += f.sign * static_cast<double>(flow_[f.axis][f.cell].first) * g.area[f.axis][f.cell];
    const bool wet = row_[f.cell] >= 0 || row_[low] >= 0;
    if (wet) drive[o] += f.sign * (pressure_[low] - pressure_[f.cell] + pull_[f.axis] * f.apart) * f.share;
  }
  for (size_t o = 0; o < door_open_.size(); ++o) {
    const tank::Passes passes = tank_->openings[o].passes;
    if (passes == tank::Passes::both) continue;
    const double way = passes == tank::Passes::along ? 1.0 : -1.0;
    const bool shuts = door_open_[o] ? way * flow[o] < 0 : way * drive[o] <= 0;
    door_open_[o] = shuts ? 0 : 1;
  }
  shut_doors();
}

/// Marks the faces of doors by whether they are open.
void Fuel::shut_doors() {
  for (const OpenFace& f : open_faces_) {
    const auto bit = static_cast<std::uint8_t>(1 << f.axis);
    if (lattice_->area[f.axis][f.cell] > 0 && door_open_[static_cast<size_t>(f.opening)])
      shut_[f.cell] &= static_cast<std::uint8_t>(~bit);
    else
      shut_[f.cell] |= bit;
  }
}

/// Shifts that bring every cell under the surface to what it can hold, by the same matrix as the pressure.
void Fuel::find_spreading() {
  const Lattice& g = *lattice_;
  std::vector<double>& x = system_.x;
  each_row(cell_of_row_.size(), [&](size_t r) {
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
  });
  balance();
  steps_.spreading += system_.solve({.enough = enough_spread * cell_, .most = 60}).iterations;
  const auto shift_of = [&](size_t c) { return row_[c] >= 0 ? x[static_cast<size_t>(row_[c])] : 0.0; };
  each_face(g, near_, [&](int a, size_t c, size_t low, const int*) {
    const float ease = std::max(ease_[c][static_cast<size_t>(a)], 0.0f);
    // By the pressure's matrix, dt and all: the shift is what a velocity would do in one step.
    flow_[a][c].second =
        ease > 0 ? static_cast<float>(kick_ * static_cast<double>(ease) * (shift_of(low) - shift_of(c)))
                 : 0.0f;
  });
}

}  // namespace uadze::resolved
