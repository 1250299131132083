#include "core/resolved/cast.h"

#include <algorithm>

namespace uadze::resolved {
namespace {

struct Crossing {
  double at;
  int turn;  ///< +1 in, -1 out
};

constexpr double aside_p = 3.1e-10, aside_q = 1.7e-10;  // m

}  // namespace

std::vector<std::vector<Stretch>> cast(const tank::Tank& tank, int a, const std::vector<double>& p,
                                       const std::vector<double>& q) {
  const int b = (a + 1) % 3, c = (a + 2) % 3;
  std::vector<std::vector<Stretch>> out(p.size() * q.size());
  std::vector<std::vector<Crossing>> crossings(out.size());
  for (size_t s = 0; s < tank.spaces.size(); ++s) {
    const tank::Solid& body = tank.spaces[s].body;
    for (auto& list : crossings) list.clear();
    for (const tank::Triangle& t : body.triangles()) {
      const Vec3& v0 = body.vertices()[static_cast<size_t>(t[0])];
      const Vec3& v1 = body.vertices()[static_cast<size_t>(t[1])];
      const Vec3& v2 = body.vertices()[static_cast<size_t>(t[2])];
      // Twice its area as the line sees it: negative where it faces against the line.
      const double seen = (v1[b] - v0[b]) * (v2[c] - v0[c]) - (v1[c] - v0[c]) * (v2[b] - v0[b]);
      if (seen == 0) continue;
      const auto range = [](const std::vector<double>& all, double low, double high) {
        return std::pair{std::lower_bound(all.begin(), all.end(), low - 1e-9) - all.begin(),
                         std::upper_bound(all.begin(), all.end(), high + 1e-9) - all.begin()};
      };
      const auto [m0, m1] = range(p, std::min({v0[b], v1[b], v2[b]}), std::max({v0[b], v1[b], v2[b]}));
      const auto [n0, n1] = range(q, std::min({v0[c], v1[c], v2[c]}), std::max({v0[c], v1[c], v2[c]}));
      for (auto m = m0; m < m1; ++m)
        for (auto n = n0; n < n1; ++n) {
          const double x = p[static_cast<size_t>(m)] + aside_p, y = q[static_cast<size_t>(n)] + aside_q;
          const double w0 = ((v1[b] - x) * (v2[c] - y) - (v1[c] - y) * (v2[b] - x)) / seen;
          const double w1 = ((v2[b] - x) * (v0[c] - y) - (v2[c] - y) * (v0[b] - x)) / seen;
          const double w2 = 1 - w0 - w1;
          if (w0 < 0 || w1 < 0 || w2 < 0) continue;
          crossings[static_cast<size_t>(m) * q.size() + static_cast<size_t>(n)].push_back(
              {w0 * v0[a] + w1 * v1[a] + w2 * v2[a], seen < 0 ? 1 : -1});
        }
    }
    for (size_t line = 0; line < out.size(); ++line) {
      auto& list = crossings[line];
      std::sort(list.begin(), list.end(), [](const Crossing& x, const Crossing& y) {
        return x.at < y.at || (x.at == y.at && x.turn > y.turn);
      });
      int winding = 0;
      double from = 0;
      for (const Crossing& x : list) {
        const int before = winding;
        winding += x.turn;
        if (before <= 0 && winding > 0) from = x.at;
        if (before > 0 && winding <= 0 && x.at > from) out[line].push_back({static_cast<int>(s), from, x.at});
      }
    }
  }
  for (auto& list : out)
    std::sort(list.begin(), list.end(), [](const Stretch& x, const Stretch& y) { return x.from < y.from; });
  return out;
}

}  // namespace uadze::resolved
