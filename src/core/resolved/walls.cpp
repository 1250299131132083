// Where the pressure says nothing: velocities beyond the surface, and along walls that are not along the
// axes.
#include <tbb/blocked_range.h>
#include <tbb/parallel_for.h>

#include <algorithm>
#include <cmath>
#include <cstring>

#include "core/resolved/fuel.h"
#include "core/resolved/walks.h"

namespace uadze::resolved {
namespace {

/// Cells that are looked at together.
constexpr size_t at_once = sizeof(std::uint64_t);

}  // namespace

/// Velocities where there are none: two cells out from where there are.
void Fuel::extend() {
  const Lattice& g = *lattice_;
  const auto find = [&](size_t c, int unknown) {
    for (int a = 0; a < 3; ++a) {
      const auto bit = static_cast<std::uint8_t>(1 << a);
      if (!(unknown & bit)) continue;
      float sum = 0;
      int count = 0;
      for (int d = 0; d < 3; ++d)
        for (const int side : {-1, 1}) {
          const size_t n = c + static_cast<size_t>(side * g.step(d));
          if (known_[n] & bit) sum += flow_[a][n].first, ++count;
        }
      flow_[a][c].first = sum / static_cast<float>(count);
      known_next_[c] |= bit;
    }
  };
  // Bits that a neighbour has and the cell has not, of as many cells as a number has bytes.
  const auto unknown_at = [&](size_t c, auto of) {
    const auto at = [&](size_t from) {
      auto out = of;
      std::memcpy(&out, known_.data() + from, sizeof out);
      return out;
    };
    const auto sx = static_cast<size_t>(g.step(0)), sy = static_cast<size_t>(g.step(1));
    const auto beside = at(c - sx) | at(c + sx) | at(c - sy) | at(c + sy) | at(c - 1) | at(c + 1);
    return beside & ~at(c);
  };
  const auto ny = static_cast<size_t>(g.axis[1].count());
  for (int sweep = 0; sweep < 2; ++sweep) {
    known_next_ = known_;
    tbb::parallel_for(size_t{1}, static_cast<size_t>(g.axis[0].cells) + 2, [&](size_t i) {
      for (size_t n = i * ny + 1; n < (i + 1) * ny; ++n) {
        const size_t column = n * static_cast<size_t>(g.step(1));
        const size_t past = column + static_cast<size_t>(near_[n].high);
        for (size_t c = column + static_cast<size_t>(near_[n].low); c < past; c += at_once) {
          if (!unknown_at(c, std::uint64_t{})) continue;
          for (size_t k = c; k < std::min(c + at_once, past); ++k)
            if (const int unknown = unknown_at(k, std::uint8_t{})) find(k, unknown);
        }
      }
    });
    known_.swap(known_next_);
  }
  if (!oblique_.empty()) slip();
}

/// The faces of oblique walls with the way off them, and the cells that such a wall cuts.
void Fuel::find_oblique() {
  const Lattice& g = *lattice_;
  if (g.inside.empty()) return;
  each_cell(g, [&](size_t c, const int at[3]) {
    bool cut = false;
    for (int m = 0; m < 8; ++m) {
      size_t corner = c;
      for (int a = 0; a < 3; ++a)
        if ((m >> a & 1) && at[a] + 1 < g.axis[a].count()) corner += static_cast<size_t>(g.step(a));
      cut = cut || g.inside[corner] < 0;
    }
    cut_[c] = cut;
  });
  for (int i = 1; i <= g.axis[0].cells + 1; ++i)
    for (int j = 1; j <= g.axis[1].cells + 1; ++j)
      for (int k = 1; k <= g.axis[2].cells + 1; ++k)
        for (int a = 0; a < 3; ++a) {
          const int at[3]{i, j, k};
          const auto c = static_cast<size_t>(g.index(i, j, k)), low = c - static_cast<size_t>(g.step(a));
          if (g.area[a][c] > 0 || g.open(static_cast<int>(c)) == g.open(static_cast<int>(low))) continue;
          Vec3 p;
          for (int d = 0; d < 3; ++d)
            p[d] = d == a ? g.axis[d].line[static_cast<size_t>(at[d])] : g.axis[d].middle(at[d]);
          oblique_.push_back({c, a, k, static_cast<size_t>(i * g.axis[1].count() + j), inward_at(p)});
        }
}

/// What would go through an oblique wall is taken off.
void Fuel::slip() {
  const Lattice& g = *lattice_;
  slipped_.resize(oblique_.size());
  const auto near = [&](const Oblique& o) {
    return o.height >= near_[o.column].low && o.height < near_[o.column].high;
  };
  tbb::parallel_for(tbb::blocked_range<size_t>(0, oblique_.size(), 256), [&](const auto& range) {
    for (size_t n = range.begin(); n < range.end(); ++n) {
      const Oblique& o = oblique_[n];
      slipped_[n] = 0;
      if (!near(o) || o.inward.isZero()) continue;
      const size_t low = o.cell - static_cast<size_t>(g.step(o.axis));
      Vec3 v;
      for (int d = 0; d < 3; ++d) {
        const auto up = static_cast<size_t>(g.step(d));
        const auto& u = flow_[static_cast<size_t>(d)];
        const float mean =
            d == o.axis ? u[o.cell].first
                        : (u[o.cell].first + u[o.cell + up].first + u[low].first + u[low + up].first) / 4;
        v[d] = static_cast<double>(mean);
      }
      slipped_[n] = static_cast<float>(v[o.axis] - v.dot(o.inward) * o.inward[o.axis]);
    }
  });
  for (size_t n = 0; n < oblique_.size(); ++n)
    if (near(oblique_[n])) flow_[oblique_[n].axis][oblique_[n].cell].first = slipped_[n];
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

}  // namespace uadze::resolved
