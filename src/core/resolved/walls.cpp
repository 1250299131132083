// Where the pressure says nothing: velocities beyond the surface, and along walls that are not along the
// axes.
#include <cmath>

#include "core/resolved/fuel.h"
#include "core/resolved/walks.h"

namespace uadze::resolved {

/// Velocities where there are none: two cells out from where there are.
void Fuel::extend() {
  const Lattice& g = *lattice_;
  for (int sweep = 0; sweep < 2; ++sweep) {
    known_next_ = known_;
    each_cell(g, near_, [&](size_t c, const int*) {
      // Cells of this walk are inside the lattice but for the last of a row, whose next is another row's
      // first.
      const std::uint8_t* known = known_.data() + c;
      const int sx = g.step(0), sy = g.step(1);
      int near = known[-sx] | known[-sy] | known[-1];
      if (static_cast<long>(c) + sx < g.count()) near |= known[sx] | known[sy] | known[1];
      const int unknown = near & ~known[0] & 7;
      if (!unknown) return;
      for (int a = 0; a < 3; ++a) {
        const auto bit = static_cast<std::uint8_t>(1 << a);
        if (!(unknown & bit)) continue;
        float sum = 0;
        int count = 0;
        for (int d = 0; d < 3; ++d)
          for (const int side : {-1, 1}) {
            const long n = static_cast<long>(c) + side * g.step(d);
            if (n < 0 || n >= g.count() || !(known_[static_cast<size_t>(n)] & bit)) continue;
            sum += flow_[a][static_cast<size_t>(n)].first, ++count;
          }
        if (count == 0) continue;
        flow_[a][c].first = sum / static_cast<float>(count);
        known_next_[c] |= bit;
      }
    });
    known_.swap(known_next_);
  }
  if (!g.inside.empty()) slip();
}

/// What would go through an oblique wall is taken off.
void Fuel::slip() {
  const Lattice& g = *lattice_;
  const auto along_wall = [&](int a, size_t c, size_t low) {
    return g.area[a][c] <= 0 && g.open(static_cast<int>(c)) != g.open(static_cast<int>(low));
  };
  each_face(g, near_, [&](int a, size_t c, size_t low, const int at[3]) {
    if (!along_wall(a, c, low)) return;
    Vec3 p, v;
    for (int d = 0; d < 3; ++d)
      p[d] = d == a ? g.axis[d].line[static_cast<size_t>(at[d])] : g.axis[d].middle(at[d]);
    const Vec3 n = inward_at(p);
    float& slipped = slip_[c][static_cast<size_t>(a)];
    slipped = 0;
    if (n.isZero()) return;
    for (int d = 0; d < 3; ++d) {
      const auto up = static_cast<size_t>(g.step(d));
      const auto& u = flow_[static_cast<size_t>(d)];
      const float mean =
          d == a ? u[c].first : (u[c].first + u[c + up].first + u[low].first + u[low + up].first) / 4;
      v[d] = static_cast<double>(mean);
    }
    slipped = static_cast<float>(v[a] - v.dot(n) * n[a]);
  });
  each_face(g, near_, [&](int a, size_t c, size_t low, const int*) {
    if (along_wall(a, c, low)) flow_[a][c].first = slip_[c][static_cast<size_t>(a)];
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

}  // namespace uadze::resolved
