#include "core/resolved/parting.h"

#include <algorithm>

#include "core/resolved/cast.h"

namespace uadze::resolved {
namespace {

constexpr int lines_across = 2;  // lines through a cell, along each axis

std::vector<double> places(const Axis& axis) {
  std::vector<double> out;
  for (int i = 0; i < axis.count(); ++i)
    for (int m = 0; m < lines_across; ++m)
      out.push_back(axis.line[static_cast<size_t>(i)] +
                    axis.width[static_cast<size_t>(i)] * (m + 0.5) / lines_across);
  return out;
}

/// m of each space on the lines through each cell.
class Shares {
 public:
  Shares(const Lattice& g, const tank::Tank& tank)
      : g_(g), lines_(cast(tank, 2, places(g.axis[0]), places(g.axis[1]))), of_(tank.spaces.size()) {}

  const std::vector<double>& in(size_t cell) {
    std::fill(of_.begin(), of_.end(), 0.0);
    const std::array<int, 3> at = g_.place(static_cast<int>(cell));
    const double z0 = g_.axis[2].line[static_cast<size_t>(at[2])],
                 z1 = g_.axis[2].line[static_cast<size_t>(at[2]) + 1];
    const size_t row = static_cast<size_t>(g_.axis[1].count()) * lines_across;
    for (int m = 0; m < lines_across; ++m)
      for (int n = 0; n < lines_across; ++n)
        for (const Stretch& s : lines_[static_cast<size_t>(at[0] * lines_across + m) * row +
                                       static_cast<size_t>(at[1] * lines_across + n)])
          of_[static_cast<size_t>(s.space)] += std::max(std::min(s.to, z1) - std::max(s.from, z0), 0.0);
    return of_;
  }

 private:
  const Lattice& g_;
  std::vector<std::vector<Stretch>> lines_;
  std::vector<double> of_;
};

bool joins(const tank::Opening& o, int a, int b) {
  return (o.from == a && o.to == b) || (o.from == b && o.to == a);
}

}  // namespace

void part_at_foam(Lattice& g, const tank::Tank& whole, const tank::Tank& parted) {
  Shares shares(g, parted);
  const size_t n = g.space.size(), spaces = parted.spaces.size();
  // Which of the whole's spaces each parted one lies in.
  std::vector<std::vector<double>> seen(spaces, std::vector<double>(whole.spaces.size(), 0.0));
  for (size_t c = 0; c < n; ++c)
    if (g.space[c] >= 0) {
      const auto& of = shares.in(c);
      for (size_t s = 0; s < spaces; ++s) seen[s][static_cast<size_t>(g.space[c])] += of[s];
    }
  std::vector<int> home;
  for (const auto& s : seen)
    home.push_back(static_cast<int>(std::max_element(s.begin(), s.end()) - s.begin()));
  for (size_t c = 0; c < n; ++c) {
    if (g.space[c] < 0) continue;
    const auto& of = shares.in(c);
    int best = -1;
    for (size_t s = 0; s < spaces; ++s)
      if (home[s] == g.space[c] && (best < 0 || of[s] > of[static_cast<size_t>(best)]))
        best = static_cast<int>(s);
    g.space[c] = static_cast<std::int16_t>(best);
  }
  for (int a = 0; a < 3; ++a)
    for (size_t c = static_cast<size_t>(g.step(a)); c < n; ++c) {
      const int here = g.space[c], below = g.space[c - static_cast<size_t>(g.step(a))];
      std::int16_t& opening = g.opening[a][c];
      if (here < 0 || below < 0 || (opening < 0 && here == below)) continue;
      const tank::Opening* was = opening < 0 ? nullptr : &whole.openings[static_cast<size_t>(opening)];
      int best = -1;
      for (size_t o = 0; o < parted.openings.size(); ++o) {
        const tank::Opening& other = parted.openings[o];
        // One through which foam's edge runs has become two.
        const bool same = was ? !other.edge && other.part == was->part && other.name.starts_with(was->name)
                              : other.edge && g.area[a][c] > 0;
        if (!same) continue;
        const bool fits = joins(other, here, below);
        if (fits || (was && best < 0)) best = static_cast<int>(o);
        if (fits) break;
      }
      opening = static_cast<std::int16_t>(best);
    }
}

}  // namespace uadze::resolved
