#include "core/tank/hollows.h"

#include <algorithm>
#include <cmath>
#include <numeric>

namespace uadze::tank {
namespace {

constexpr int most_lines = 64;
constexpr double least_share = 0.01;    // of the solid's volume
constexpr double least_depth = 2e-3;    // m
constexpr double least_passage = 1e-4;  // m, that two lines' insides share

/// Where a line goes through a face: upward out of the solid is +1, into it -1.
struct WallCrossing {
  double z;
  double out;
};

/// A stretch of a line that is inside.
struct Inside {
  int line;
  double floor, roof;
};

/// At the middles of equal cells of the bounding box.
struct UprightLines {
  Vec3 low, step;
  int nx, ny;
  std::vector<std::vector<WallCrossing>> crossings;

  explicit UprightLines(const Solid& solid) : low(solid.lower_corner()) {
    const Vec3 size = solid.upper_corner() - low;
    const double wide = std::max(size.x(), size.y()) / most_lines;
    nx = std::max(1, static_cast<int>(std::lround(size.x() / wide)));
    ny = std::max(1, static_cast<int>(std::lround(size.y() / wide)));
    step = {size.x() / nx, size.y() / ny, 0};
    crossings.resize(static_cast<size_t>(nx * ny));
  }

  /// A hair beside the middles, so that no line meets an edge of a tank drawn in round figures.
  double x(int i) const { return low.x() + (i + 0.5003) * step.x(); }
  double y(int j) const { return low.y() + (j + 0.5007) * step.y(); }
  Vec3 place(int line, double z) const { return {x(line / ny), y(line % ny), z}; }

  void cross(const Solid& solid) {
    for (size_t t = 0; t < solid.triangles().size(); ++t) {
      const Triangle& corners = solid.triangles()[t];
      const Vec3 &a = solid.vertices()[static_cast<size_t>(corners[0])],
                 &b = solid.vertices()[static_cast<size_t>(corners[1])],
                 &c = solid.vertices()[static_cast<size_t>(corners[2])];
      const Vec3 n = (b - a).cross(c - a);
      if (std::abs(n.z()) < 1e-18) continue;
      const auto span = [&](int axis, int count) {
        const double from = std::min({a[axis], b[axis], c[axis]}), to = std::max({a[axis], b[axis], c[axis]});
        return std::pair{
            std::clamp(static_cast<int>(std::floor((from - low[axis]) / step[axis] - 1)), 0, count),
            std::clamp(static_cast<int>(std::ceil((to - low[axis]) / step[axis] + 1)), 0, count)};
      };
      const auto [i0, i1] = span(0, nx);
      const auto [j0, j1] = span(1, ny);
      for (int i = i0; i < i1; ++i)
        for (int j = j0; j < j1; ++j) {
          const double px = x(i), py = y(j);
          const auto side = [&](const Vec3& p, const Vec3& q) {
            return (q.x() - p.x()) * (py - p.y()) - (q.y() - p.y()) * (px - p.x());
          };
          const double ab = side(a, b), bc = side(b, c), ca = side(c, a);
          if (!((ab >= 0 && bc >= 0 && ca >= 0) || (ab <= 0 && bc <= 0 && ca <= 0))) continue;
          const double z = a.z() - (n.x() * (px - a.x()) + n.y() * (py - a.y())) / n.z();
          crossings[static_cast<size_t>(i * ny + j)].push_back({z, n.z() > 0 ? 1.0 : -1.0});
        }
    }
  }

  /// What is inside, line by line.
  std::vector<Inside> insides() {
    std::vector<Inside> out;
    for (size_t k = 0; k < crossings.size(); ++k) {
      auto& list = crossings[k];
      std::sort(list.begin(), list.end(),
                [](const WallCrossing& a, const WallCrossing& b) { return a.z < b.z; });
      double around = 0;
      for (size_t n = 0; n < list.size(); ++n) {
        const bool was = around > 0.5;
        around -= list[n].out;
        const bool is = around > 0.5;
        if (is && !was) {
          // Two solids that touch are one.
          if (!out.empty() && out.back().line == static_cast<int>(k) &&
              list[n].z - out.back().roof < least_passage)
            continue;
          out.push_back({static_cast<int>(k), list[n].z, list[n].z});
        }
        if (was && !is) out.back().roof = list[n].z;
      }
    }
    return out;
  }
};

/// Hollows as they grow.
struct HollowForest {
  struct Hollow {
    double area, moment;  ///< m2 of floors; m3, each times its z
    double below(double z) const { return area * z - moment; }
  };
  std::vector<int> parent;
  std::vector<Hollow> of;

  HollowForest(const std::vector<Inside>& runs, double cell) : parent(runs.size()) {
    std::iota(parent.begin(), parent.end(), 0);
    for (const Inside& r : runs) of.push_back({cell, cell * r.floor});
  }
  int root(int r) {
    while (parent[static_cast<size_t>(r)] != r)
      r = parent[static_cast<size_t>(r)] = parent[static_cast<size_t>(parent[static_cast<size_t>(r)])];
    return r;
  }
  void join(int into, int from) {
    Hollow& a = of[static_cast<size_t>(into)];
    const Hollow& b = of[static_cast<size_t>(from)];
    a.area += b.area, a.moment += b.moment;
    parent[static_cast<size_t>(from)] = into;
  }
};

}  // namespace

std::vector<Hump> humps_of(const Solid& solid, const std::vector<Solid>& filled) {
  std::vector<Hump> out;
  if (!(solid.volume() > 0)) return out;
  UprightLines lines(solid);
  lines.cross(solid);
  for (const Solid& f : filled) lines.cross(f);
  const std::vector<Inside> runs = lines.insides();
  std::vector<std::vector<int>> on(lines.crossings.size());
  for (size_t r = 0; r < runs.size(); ++r)
    on[static_cast<size_t>(runs[r].line)].push_back(static_cast<int>(r));
  std::vector<int> order(runs.size());
  std::iota(order.begin(), order.end(), 0);
  std::sort(order.begin(), order.end(), [&](int a, int b) {
    const Inside &p = runs[static_cast<size_t>(a)], &q = runs[static_cast<size_t>(b)];
    return p.floor != q.floor ? p.floor < q.floor : a < b;
  });
  const double cell = lines.step.x() * lines.step.y();
  HollowForest hollows(runs, cell);
  std::vector<char> met(runs.size(), 0);
  const double least = least_share * solid.volume();
  for (const int r : order) {
    met[static_cast<size_t>(r)] = 1;
    const Inside& here = runs[static_cast<size_t>(r)];
    const int i = here.line / lines.ny, j = here.line % lines.ny;
    for (const auto& [di, dj] : {std::pair{-1, 0}, {1, 0}, {0, -1}, {0, 1}}) {
      if (i + di < 0 || i + di >= lines.nx || j + dj < 0 || j + dj >= lines.ny) continue;
      for (const int other : on[static_cast<size_t>((i + di) * lines.ny + j + dj)]) {
        const Inside& there = runs[static_cast<size_t>(other)];
        if (!met[static_cast<size_t>(other)] ||
            std::min(here.roof, there.roof) - std::max(here.floor, there.floor) < least_passage)
          continue;
        int a = hollows.root(r), b = hollows.root(other);
        if (a == b) continue;
        const double top = here.floor;
        const auto below = [&](int root) { return hollows.of[static_cast<size_t>(root)].below(top); };
        if (below(a) < below(b)) std::swap(a, b);
        if (below(b) > least) {
          // Exactly: what has its roof below the top holds no more than itself.
          Moments large, small;
          double deepest = top;
          for (const int q : order) {
            const Inside& run = runs[static_cast<size_t>(q)];
            if (run.floor >= top) break;
            const int root = hollows.root(q);
            if (root != a && root != b) continue;
            const double roof = std::min(run.roof, top), volume = cell * (roof - run.floor);
            Moments& into = root == a ? large : small;
            into.volume += volume, into.first += volume * lines.place(run.line, (roof + run.floor) / 2);
            if (root == b) deepest = std::min(deepest, run.floor);
          }
          if (small.volume > least && top - deepest > least_depth)
            out.push_back({top, small.volume, large.centroid(), small.centroid()});
        }
        hollows.join(a, b);
      }
    }
  }
  return out;
}

}  // namespace uadze::tank
