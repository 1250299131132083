#include "core/resolved/lattice.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <map>

#include "core/base/message.h"
#include "core/resolved/cast.h"
#include "core/resolved/parting.h"
#include "core/tank/shape.h"

namespace uadze::resolved {
namespace {

/// Lines per cell across each axis at which it is measured.
constexpr int across = 4;
/// A cell or face with less than this share is none.
constexpr double least_share = 1e-3;
/// m that a face is looked at off its plane, to either side.
constexpr double aside = 1e-7;

double overlap(double a0, double a1, double b0, double b1) {
  return std::max(0.0, std::min(a1, b1) - std::max(a0, b0));
}

class Maker {
 public:
  Maker(const tank::Tank& tank, const tank::TankParts& parts, const LatticeOptions& options,
        const tank::MeshSource& meshes)
      : tank_(tank), parts_(parts), size_(options.size), meshes_(meshes) {}

  Lattice run() {
    if (!std::isfinite(size_) || size_ < 1e-4 || size_ > 1)
      throw InputError(Message{.place = "cells",
                               .expected = "a size between 0.1 mm and 1 m",
                               .found = fmt::format("{:g} m", size_)});
    if (!(tank_.volume() > 0))
      throw InputError(Message{.place = "tank", .expected = "a tank with a volume", .found = "none"});
    for (int a = 0; a < 3; ++a) lay_lines(a);
    const double wanted = static_cast<double>(g_.axis[0].count()) * g_.axis[1].count() * g_.axis[2].count();
    if (wanted > most_cells)
      throw InputError(
          Message{.place = "cells",
                  .expected = fmt::format("at most {} of them", most_cells),
                  .found = fmt::format("{:.3g} at {:g} mm: choose larger ones", wanted, size_ * 1e3)});
    const auto n = static_cast<size_t>(g_.count());
    g_.capacity.assign(n, 0.0), g_.spread.assign(n, 0.0);
    g_.space.assign(n, -1);
    g_.shut.assign(n, 0), g_.apart.assign(n, 0);
    for (int a = 0; a < 3; ++a) {
      g_.area[a].assign(n, 0.0), g_.resistance[a].assign(n, 0.0);
      g_.opening[a].assign(n, -1);
    }
    measure_cells();
    for (int a = 0; a < 3; ++a) measure_faces(a);
    for (size_t o = 0; o < tank_.openings.size(); ++o) open(o);
    for (int a = 0; a < 3; ++a) plates(a);
    mark_sides();
    mark_rims();
    foam();
    spread();
    measure_inside();
    look();
    return std::move(g_);
  }

 private:
  template <class F>
  void each_cell(F&& f) const {
    for (int i = 1; i <= g_.axis[0].cells; ++i)
      for (int j = 1; j <= g_.axis[1].cells; ++j)
        for (int k = 1; k <= g_.axis[2].cells; ++k)
          f(std::array{i, j, k}, static_cast<size_t>(g_.index(i, j, k)));
  }

  void lay_lines(int a) {
    const double low = tank_.lower_corner()[a], high = tank_.upper_corner()[a];
    // By place, how much wall lies exactly there.
    std::map<double, double> walls;
    for (const tank::Space& s : tank_.spaces)
      for (size_t t = 0; t < s.body.triangles().size(); ++t) {
        const Vec3& area = s.body.triangle_areas()[t];
        if (std::abs(area[a]) < 0.999999 * area.norm()) continue;
        const double at = s.body.vertices()[static_cast<size_t>(s.body.triangles()[t][0])][a];
        const auto near = walls.lower_bound(at - 1e-6);
        (near != walls.end() && near->first < at + 1e-6 ? near->second : walls[at]) += std::abs(area[a]);
      }
    std::vector<std::pair<double, double>> by_area;
    for (const auto& [at, area] : walls)
      if (area > size_ * size_) by_area.emplace_back(-area, at);
    std::sort(by_area.begin(), by_area.end());
    std::vector<double> fixed{low, high};
    for (const auto& [area, at] : by_area)
      if (std::all_of(fixed.begin(), fixed.end(),
                      [&, x = at](double f) { return std::abs(f - x) > 0.5 * size_; }))
        fixed.push_back(at);
    std::sort(fixed.begin(), fixed.end());
    Axis& axis = g_.axis[a];
    axis.line = {low};
    for (size_t k = 1; k < fixed.size(); ++k) {
      const double wide = fixed[k] - fixed[k - 1];
      const int parts = std::max(1, static_cast<int>(std::lround(wide / size_)));
      if (static_cast<double>(axis.line.size()) + parts > most_cells)
        throw InputError(Message{.place = "cells",
                                 .expected = fmt::format("at most {} of them", most_cells),
                                 .found = fmt::format("{:g} mm: choose larger ones", size_ * 1e3)});
      for (int m = 1; m < parts; ++m) axis.line.push_back(fixed[k - 1] + wide * m / parts);
      axis.line.push_back(fixed[k]);
    }
    axis.cells = static_cast<int>(axis.line.size()) - 1;
    axis.line.insert(axis.line.begin(), 2 * axis.line[0] - axis.line[1]);
    axis.line.push_back(2 * axis.line.back() - axis.line[axis.line.size() - 2]);
    double least = 1e300;
    for (size_t i = 0; i + 1 < axis.line.size(); ++i) {
      axis.width.push_back(axis.line[i + 1] - axis.line[i]);
      axis.per_width.push_back(1 / axis.width.back());
      axis.apart.push_back((axis.width.back() + (i > 0 ? axis.width[i - 1] : axis.width.back())) / 2);
      least = std::min(least, axis.width.back());
    }
    axis.per_step = 4 / least;
    const double all = axis.line.back() - axis.line.front();
    for (int m = 0, i = 0; m <= static_cast<int>(all * axis.per_step); ++m) {
      while (i + 1 < axis.count() &&
             axis.line.front() + m / axis.per_step >= axis.line[static_cast<size_t>(i) + 1])
        ++i;
      axis.place.push_back(i);
    }
  }

  /// Four places across each cell, the outermost ones too.
  std::vector<double> places(int a) const {
    std::vector<double> out;
    const Axis& axis = g_.axis[a];
    for (int i = 0; i < axis.count(); ++i)
      for (int m = 0; m < across; ++m)
        out.push_back(axis.line[static_cast<size_t>(i)] +
                      axis.width[static_cast<size_t>(i)] * (m + 0.5) / across);
    return out;
  }

  void measure_cells() {
    upright_ = cast(tank_, 2, places(0), places(1));
    const size_t row = static_cast<size_t>(g_.axis[1].count()) * across;
    const double share = 1.0 / (across * across);
    std::vector<double> of(tank_.spaces.size());
    cut_.assign(g_.capacity.size(), 0);
    double whole = 0, cut = 0;
    each_cell([&](const std::array<int, 3>& at, size_t c) {
      std::fill(of.begin(), of.end(), 0.0);
      const auto& z = g_.axis[2];
      const double z0 = z.line[static_cast<size_t>(at[2])], z1 = z.line[static_cast<size_t>(at[2]) + 1];
      const double section = width(0, at[0]) * width(1, at[1]);
      for (int m = 0; m < across; ++m)
        for (int n = 0; n < across; ++n)
          for (const Stretch& s : upright_[static_cast<size_t>(at[0] * across + m) * row +
                                           static_cast<size_t>(at[1] * across + n)])
            of[static_cast<size_t>(s.space)] += overlap(s.from, s.to, z0, z1) * section * share;
      double all = 0;
      size_t most = 0;
      for (size_t s = 0; s < of.size(); ++s) {
        all += of[s];
        if (of[s] > of[most]) most = s;
      }
      const double box = section * (z1 - z0);
      if (all < least_share * box) return;
      g_.capacity[c] = std::min(all, box);
      g_.space[c] = static_cast<std::int16_t>(most);
      cut_[c] = all < (1 - 1e-6) * box;
      (cut_[c] ? cut : whole) += g_.capacity[c];
    });
    double volume = 0;
    for (const tank::Space& s : tank_.spaces) volume += s.body.volume();
    if (cut > 0) {
      const double scale = std::clamp((volume - whole) / cut, 0.5, 2.0);
      for (size_t c = 0; c < cut_.size(); ++c)
        if (cut_[c]) g_.capacity[c] *= scale;
    }
  }

  double width(int a, int i) const { return g_.axis[a].width[static_cast<size_t>(i)]; }
  double face(int a, const std::array<int, 3>& at) const {
    return width((a + 1) % 3, at[(a + 1) % 3]) * width((a + 2) % 3, at[(a + 2) % 3]);
  }

  /// What of each face lies in one space on both its sides. Lines run along the second axis after a.
  void measure_faces(int a) {
    const int b = (a + 1) % 3, c = (a + 2) % 3;
    // Along c, at places on a (the lines, to either side) and b; cast() wants the axes after c: a, then b.
    std::vector<double> sides;
    for (const double x : g_.axis[a].line) sides.push_back(x - aside), sides.push_back(x + aside);
    const auto rows = places(b);
    const auto through = cast(tank_, c, sides, rows);
    each_cell([&](const std::array<int, 3>& at, size_t cell) {
      const size_t below = cell - static_cast<size_t>(g_.step(a));
      if (!g_.open(static_cast<int>(cell)) || !g_.open(static_cast<int>(below)) ||
          g_.space[cell] != g_.space[below])
        return;
      const auto& along = g_.axis[c];
      const double c0 = along.line[static_cast<size_t>(at[c])],
                   c1 = along.line[static_cast<size_t>(at[c]) + 1];
      double open = 0;
      for (int n = 0; n < across; ++n) {
        const size_t row = static_cast<size_t>(at[b] * across + n);
        const auto& lower = through[static_cast<size_t>(2 * at[a]) * rows.size() + row];
        const auto& upper = through[static_cast<size_t>(2 * at[a] + 1) * rows.size() + row];
        for (const Stretch& s : lower)
          for (const Stretch& t : upper)
            open += overlap(std::max(s.from, t.from), std::min(s.to, t.to), c0, c1);
      }
      open *= width(b, at[b]) / across;
      const double all = face(a, at);
      if (open > least_share * all) g_.area[a][cell] = open > (1 - 1e-6) * all ? all : open;
    });
  }

  /// An opening's area goes to the nearest face between cells of its two spaces, in small pieces.
  void open(size_t o) {
    const tank::Opening& opening = tank_.openings[o];
    const Vec3 facing = opening.normal.cwiseAbs();
    const int a = facing.x() >= facing.y() && facing.x() >= facing.z() ? 0 : facing.y() >= facing.z() ? 1 : 2;
    std::map<size_t, double> found;
    double placed = 0;
    for (const tank::Cell& cell : opening.cells) {
      constexpr int fine = 6;
      for (int m = 0; m < fine; ++m)
        for (int n = 0; n < fine; ++n) {
          const double u = (2 * m + 1.0) / fine - 1, v = (2 * n + 1.0) / fine - 1;
          const Vec3 at = cell.at + u * opening.half_level + v * opening.half_up;
          const auto f = face_near(at, a, opening);
          if (!f) continue;
          found[*f] += cell.area / (fine * fine);
          placed += cell.area / (fine * fine);
        }
    }
    if (placed < 0.2 * opening.area || found.empty()) {
      g_.said.push_back(fmt::format(
          "The opening \"{}\" has no face between these cells: choose smaller ones.", opening.name));
      return;
    }
    for (const auto& [f, area] : found) {
      g_.opening[a][f] = static_cast<std::int16_t>(o);
      g_.area[a][f] += area * opening.area / placed;
    }
  }

  std::optional<size_t> face_near(const Vec3& p, int a, const tank::Opening& o) const {
    std::array<int, 3> at{};
    for (int d = 0; d < 3; ++d) {
      at[d] = g_.axis[d].cell_of(p[d]);
      if (d != a) at[d] = std::clamp(at[d], 1, g_.axis[d].cells);
    }
    std::optional<size_t> best;
    double least_off = 1e300;
    for (int by = -2; by <= 2; ++by) {
      auto here = at;
      here[a] += by;
      if (here[a] < 2 || here[a] > g_.axis[a].cells) continue;
      const auto c = static_cast<size_t>(g_.index(here[0], here[1], here[2]));
      const size_t below = c - static_cast<size_t>(g_.step(a));
      const bool joins = (g_.space[below] == o.from && g_.space[c] == o.to) ||
                         (g_.space[below] == o.to && g_.space[c] == o.from);
      const double off = std::abs(g_.axis[a].line[static_cast<size_t>(here[a])] - p[a]);
      if (joins && off < least_off) least_off = off, best = c;
    }
    return best;
  }

  /// Faces of openings let through over their whole width, with what a plate of that openness takes.
  void plates(int a) {
    each_cell([&](const std::array<int, 3>& at, size_t c) {
      if (g_.opening[a][c] < 0) return;
      const size_t below = c - static_cast<size_t>(g_.step(a));
      const double all = face(a, at);
      double share = g_.area[a][c] / all;
      if (share < least_share) {
        g_.area[a][c] = 0, g_.opening[a][c] = -1;
        return;
      }
      // Cut cells have no whole face; those whose edges only touch the opening's are open altogether.
      if (share > 0.97) share = 1;
      const tank::Opening& o = tank_.openings[static_cast<size_t>(g_.opening[a][c])];
      const double contraction = o.discharge + (1 - o.discharge) * share * share * share;
      const double resolved = 1 / (share * contraction) - 1, jet = share * o.discharge;
      const double wide = std::sqrt(o.area / all);
      const double small = std::clamp((4 - wide) / 2.5, 0.0, 1.0);
      g_.resistance[a][c] = std::max(std::lerp(resolved * resolved, 1 / (jet * jet) - 1, small), 0.0);
      const double room = std::min(g_.capacity[c], g_.capacity[below]) /
                          (all * std::min(width(a, at[a]), width(a, at[a] - 1)));
      g_.area[a][c] = all * std::clamp(room, 0.1, 1.0);
      openness_[a][c] = share;
    });
  }

  void mark_sides() {
    for (int a = 0; a < 3; ++a)
      each_cell([&](const std::array<int, 3>&, size_t c) {
        const auto mark = [&](size_t f, std::uint8_t side) {
          if (g_.area[a][f] <= 0) g_.shut[c] |= side;
          const auto open = openness_[a].find(f);
          if (g_.area[a][f] <= 0 || (open != openness_[a].end() && open->second < 0.5)) g_.apart[c] |= side;
        };
        mark(c, lower_side(a));
        mark(c + static_cast<size_t>(g_.step(a)), upper_side(a));
      });
  }

  void mark_rims() {
    if (tank_.openings.empty()) return;
    g_.rim.assign(g_.capacity.size(), 0);
    for (int a = 0; a < 3; ++a)
      each_cell([&](const std::array<int, 3>&, size_t c) {
        for (int up = 0; up < 2; ++up) {
          const size_t f = up ? c + static_cast<size_t>(g_.step(a)) : c;
          if (g_.opening[a][f] < 0 || g_.area[a][f] <= 0) continue;
          for (int d = 0; d < 2; ++d)
            for (int s = 0; s < 2; ++s) {
              const auto by = static_cast<size_t>(g_.step((a + 1 + d) % 3));
              if (g_.area[a][s ? f + by : f - by] <= 0)
                g_.rim[c] |= static_cast<std::uint16_t>(1 << (4 * a + 2 * d + s));
            }
        }
      });
  }

  void foam() {
    if (parts_.foam.empty()) return;
    std::vector<double> porosity(g_.capacity.size(), 1.0);
    g_.darcy.assign(g_.capacity.size(), 0.0), g_.inertial.assign(g_.capacity.size(), 0.0);
    for (const tank::Foam& f : parts_.foam) {
      const tank::Solid shape = f.shape ? tank::make_solid(*f.shape, meshes_) : tank::Solid();
      each_cell([&](const std::array<int, 3>& at, size_t c) {
        if (!g_.open(static_cast<int>(c))) return;
        const Vec3 p(g_.axis[0].middle(at[0]), g_.axis[1].middle(at[1]), g_.axis[2].middle(at[2]));
        if (f.shape && !shape.contains(p)) return;
        if (f.permeability <= 0 || f.porosity <= 0) return;
        porosity[c] = f.porosity;
        g_.darcy[c] = f.darcy(), g_.inertial[c] = f.inertial();
      });
    }
    for (int a = 0; a < 3; ++a)
      each_cell([&](const std::array<int, 3>&, size_t c) {
        g_.area[a][c] *= std::min(porosity[c], porosity[c - static_cast<size_t>(g_.step(a))]);
      });
    for (size_t c = 0; c < porosity.size(); ++c) g_.capacity[c] *= porosity[c];
  }

  /// What particles of even density would leave at each cell, by the way in which they are spread.
  void spread() {
    const size_t row = static_cast<size_t>(g_.axis[1].count()) * across;
    each_cell([&](const std::array<int, 3>& at, size_t c) {
      if (!g_.open(static_cast<int>(c))) return;
      const double z0 = g_.axis[2].line[static_cast<size_t>(at[2])], dz = width(2, at[2]);
      double inside = 0;
      std::array<double, across * across * across> piece{};
      for (int m = 0; m < across; ++m)
        for (int n = 0; n < across; ++n)
          for (int l = 0; l < across; ++l) {
            double length = 0;
            for (const Stretch& s : upright_[static_cast<size_t>(at[0] * across + m) * row +
                                             static_cast<size_t>(at[1] * across + n)])
              length += overlap(s.from, s.to, z0 + dz * l / across, z0 + dz * (l + 1) / across);
            piece[static_cast<size_t>((m * across + n) * across + l)] = length;
            inside += length;
          }
      if (inside <= 0) return;
      for (int m = 0; m < across; ++m)
        for (int n = 0; n < across; ++n)
          for (int l = 0; l < across; ++l) {
            const double volume =
                g_.capacity[c] * piece[static_cast<size_t>((m * across + n) * across + l)] / inside;
            if (volume <= 0) continue;
            const double t[3]{(m + 0.5) / across, (n + 0.5) / across, (l + 0.5) / across};
            double w[3][2];
            int first[3];
            for (int a = 0; a < 3; ++a) {
              const bool low = t[a] < 0.5;
              const std::uint8_t side = low ? lower_side(a) : upper_side(a);
              const double over = (g_.apart[c] & side) ? 0.0 : std::abs(t[a] - 0.5);
              first[a] = low ? -1 : 0;
              w[a][low ? 0 : 1] = over, w[a][low ? 1 : 0] = 1 - over;
            }
            for (int x = 0; x < 2; ++x)
              for (int y = 0; y < 2; ++y)
                for (int z = 0; z < 2; ++z) {
                  const int to = static_cast<int>(c) + (first[0] + x) * g_.step(0) +
                                 (first[1] + y) * g_.step(1) + (first[2] + z);
                  g_.spread[static_cast<size_t>(to)] += volume * w[0][x] * w[1][y] * w[2][z];
                }
          }
    });
    // What falls on cells that hold nothing is lost to them: particles there count for their neighbours.
    for (size_t c = 0; c < g_.spread.size(); ++c)
      g_.spread[c] = g_.open(static_cast<int>(c)) ? std::max(g_.spread[c], 0.05 * g_.capacity[c]) : 0.0;
  }

  static double distance(const Vec3& p, const Vec3& a, const Vec3& b, const Vec3& c) {
    // Ericson 2005, Real-time collision detection: the nearest point of a triangle.
    const Vec3 ab = b - a, ac = c - a, ap = p - a;
    const double d1 = ab.dot(ap), d2 = ac.dot(ap);
    if (d1 <= 0 && d2 <= 0) return ap.norm();
    const Vec3 bp = p - b;
    const double d3 = ab.dot(bp), d4 = ac.dot(bp);
    if (d3 >= 0 && d4 <= d3) return bp.norm();
    const double vc = d1 * d4 - d3 * d2;
    if (vc <= 0 && d1 >= 0 && d3 <= 0) return (ap - d1 / (d1 - d3) * ab).norm();
    const Vec3 cp = p - c;
    const double d5 = ab.dot(cp), d6 = ac.dot(cp);
    if (d6 >= 0 && d5 <= d6) return cp.norm();
    const double vb = d5 * d2 - d1 * d6;
    if (vb <= 0 && d2 >= 0 && d6 <= 0) return (ap - d2 / (d2 - d6) * ac).norm();
    const double va = d3 * d6 - d5 * d4;
    if (va <= 0 && d4 - d3 >= 0 && d5 - d6 >= 0)
      return (bp - (d4 - d3) / ((d4 - d3) + (d5 - d6)) * (c - b)).norm();
    return std::abs(ap.dot(ab.cross(ac).normalized()));
  }

  void measure_inside() {
    if (std::none_of(cut_.begin(), cut_.end(), [](char x) { return x != 0; })) return;
    const double far = 3 * size_;
    g_.inside.assign(g_.capacity.size(), far);
    for (const tank::Space& s : tank_.spaces)
      for (const tank::Triangle& t : s.body.triangles()) {
        const Vec3& a = s.body.vertices()[static_cast<size_t>(t[0])];
        const Vec3& b = s.body.vertices()[static_cast<size_t>(t[1])];
        const Vec3& c = s.body.vertices()[static_cast<size_t>(t[2])];
        const Vec3 low = a.cwiseMin(b).cwiseMin(c), high = a.cwiseMax(b).cwiseMax(c);
        int first[3], last[3];
        for (int d = 0; d < 3; ++d) {
          first[d] = std::max(g_.axis[d].cell_of(low[d]) - 1, 0);
          last[d] = std::min(g_.axis[d].cell_of(high[d]) + 2, g_.axis[d].count() - 1);
        }
        for (int i = first[0]; i <= last[0]; ++i)
          for (int j = first[1]; j <= last[1]; ++j)
            for (int k = first[2]; k <= last[2]; ++k) {
              const Vec3 p(g_.axis[0].line[static_cast<size_t>(i)], g_.axis[1].line[static_cast<size_t>(j)],
                           g_.axis[2].line[static_cast<size_t>(k)]);
              double& at = g_.inside[static_cast<size_t>(g_.index(i, j, k))];
              at = std::min(at, distance(p, a, b, c));
            }
      }
    const auto through = cast(tank_, 2, g_.axis[0].line, g_.axis[1].line);
    const size_t row = g_.axis[1].line.size();
    for (int i = 0; i < g_.axis[0].count(); ++i)
      for (int j = 0; j < g_.axis[1].count(); ++j) {
        const auto& line = through[static_cast<size_t>(i) * row + static_cast<size_t>(j)];
        for (int k = 0; k < g_.axis[2].count(); ++k) {
          const double z = g_.axis[2].line[static_cast<size_t>(k)];
          if (std::none_of(line.begin(), line.end(),
                           [&](const Stretch& s) { return z > s.from && z < s.to; }))
            g_.inside[static_cast<size_t>(g_.index(i, j, k))] *= -1;
        }
      }
  }

  void look() {
    std::vector<int> cells(tank_.spaces.size(), 0);
    for (const auto s : g_.space)
      if (s >= 0) ++cells[static_cast<size_t>(s)];
    for (size_t s = 0; s < cells.size(); ++s)
      if (cells[s] < 8)
        g_.said.push_back(fmt::format("\"{}\" has {} cells: too few to know how the fuel lies in it.",
                                      tank_.spaces[s].name, cells[s]));
  }

  const tank::Tank& tank_;
  const tank::TankParts& parts_;
  double size_;
  const tank::MeshSource& meshes_;
  Lattice g_;
  std::vector<std::vector<Stretch>> upright_;
  std::vector<char> cut_;
  std::array<std::map<size_t, double>, 3> openness_;
};

}  // namespace

double Lattice::volume() const {
  double out = 0;
  for (const double v : capacity) out += v;
  return out;
}

Lattice make_lattice(const tank::Tank& tank, const tank::TankParts& parts, const LatticeOptions& options,
                     const tank::MeshSource& meshes) {
  if (std::none_of(tank.openings.begin(), tank.openings.end(), [](const tank::Opening& o) { return o.edge; }))
    return Maker(tank, parts, options, meshes).run();
  // Foam's edges are no walls: the cells are those of the tank without them.
  tank::TankParts solid = parts;
  solid.foam.clear();
  const tank::Tank whole = tank::assemble(solid, meshes).tank;
  Lattice out = Maker(whole, parts, options, meshes).run();
  part_at_foam(out, whole, tank);
  return out;
}

}  // namespace uadze::resolved
