// What there is to see of the fuel, what comes and goes, and the whole of it as bytes.
#include <algorithm>
#include <cmath>

#include "core/resolved/bytes.h"
#include "core/resolved/fuel.h"
#include "core/resolved/transfer.h"

namespace uadze::resolved {
namespace {

/// Points of a disc: a middle and three rings, of equal areas.
std::vector<Vec3> disc(const Vec3& middle, double radius) {
  std::vector<Vec3> out{middle};
  for (int ring = 0; ring < 3; ++ring) {
    const double r = radius * std::sqrt((ring + 0.5) / 3);
    for (int k = 0; k < 8; ++k)
      out.push_back(
          middle + r * Vec3(std::cos(M_PI * (k + 0.5 * ring) / 4), std::sin(M_PI * (k + 0.5 * ring) / 4), 0));
  }
  return out;
}

constexpr std::uint64_t mark = 0x31466572505a4155;  // of this layout

}  // namespace

State Fuel::state() const {
  const Lattice& g = *lattice_;
  State out;
  out.time = time_;
  out.space.assign(tank_->spaces.size(), 0.0);
  Vec3 first = Vec3::Zero(), moving = Vec3::Zero();
  double energy = 0, fastest = 0;
  for (const Particle& p : particles_) {
    const Vec3 x(p.x[0], p.x[1], p.x[2]), u(p.u[0], p.u[1], p.u[2]);
    out.volume += p.volume;
    first += p.volume * x, moving += p.volume * u;
    energy += 0.5 * p.volume * u.squaredNorm();
    fastest = std::max(fastest, u.squaredNorm());
    const int s = g.space[static_cast<size_t>(g.index(p.at[0], p.at[1], p.at[2]))];
    if (s >= 0) out.space[static_cast<size_t>(s)] += p.volume;
  }
  if (out.volume > 0) out.centroid = first / out.volume;
  out.momentum = options_.density * moving, out.energy = options_.density * energy;
  out.fastest = std::sqrt(fastest);
  out.through = through_;
  out.door_open = door_open_;
  for (int i = 1; i <= g.axis[0].cells; ++i)
    for (int j = 1; j <= g.axis[1].cells; ++j)
      for (int k = 1; k <= g.axis[2].cells; ++k) {
        const auto c = static_cast<size_t>(g.index(i, j, k));
        if (g.capacity[c] <= 0) continue;
        bool deep = depth_[c] > 0;
        for (int x = -1; x <= 1 && deep; ++x)
          for (int y = -1; y <= 1 && deep; ++y)
            for (int z = -1; z <= 1 && deep; ++z) {
              const size_t n = c + static_cast<size_t>(x * g.step(0) + y * g.step(1) + z);
              deep = g.capacity[n] <= 0 || depth_[n] > 0;
            }
        out.filled += deep ? g.capacity[c] : std::min(share_[c], 1.0) * g.capacity[c];
        if (depth_[c] <= 0) continue;
        const int at[3]{i, j, k};
        for (int a = 0; a < 3; ++a) {
          const double low = g.area[a][c], high = g.area[a][c + static_cast<size_t>(g.step(a))];
          double face = 1;
          for (int d = 0; d < 3; ++d)
            if (d != a) face *= g.axis[d].width[static_cast<size_t>(at[d])];
          // From the cell's middle to its wall the pressure rises by the push alone.
          const double to_wall = pull_[a] * g.axis[a].width[static_cast<size_t>(at[a])] / 2;
          out.force[a] += options_.density * ((face - high) * (pressure_[c] + to_wall) -
                                              (face - low) * (pressure_[c] - to_wall));
        }
      }
  return out;
}

double Fuel::wet(const Vec3& middle, double radius) const {
  const Lattice& g = *lattice_;
  const auto points = disc(middle, radius);
  double out = 0;
  for (const Vec3& p : points) {
    const double x[3]{p.x(), p.y(), p.z()};
    const Stencil s(g, x, cell_at(g, p).data());
    const auto w = weights(s, 3);
    double deep = 0;
    for (int m = 0; m < 8; ++m) {
      const int i = m >> 2, j = m >> 1 & 1, k = m & 1;
      const int c = lowest(g, s, 3) + i * g.step(0) + j * g.step(1) + k;
      deep += static_cast<double>(w[0][i] * w[1][j] * w[2][k]) * depth_[static_cast<size_t>(c)];
    }
    out += deep > 0 ? 1.0 : 0.0;
  }
  return out / static_cast<double>(points.size());
}

double Fuel::draw(const Vec3& from, double radius, double volume, double& owed) {
  owed += volume;
  // The nearest first, while a whole particle is owed.
  std::vector<std::pair<double, size_t>> near;
  for (size_t p = 0; p < particles_.size(); ++p) {
    const Vec3 x(particles_[p].x[0], particles_[p].x[1], particles_[p].x[2]);
    const double d = (x - from).squaredNorm();
    if (d < radius * radius) near.emplace_back(d, p);
  }
  std::sort(near.begin(), near.end());
  double taken = 0;
  std::vector<size_t> gone;
  for (const auto& [d, p] : near) {
    if (particles_[p].volume > owed) break;
    owed -= particles_[p].volume, taken += particles_[p].volume;
    gone.push_back(p);
  }
  std::sort(gone.rbegin(), gone.rend());
  for (const size_t p : gone) particles_.erase(particles_.begin() + static_cast<std::ptrdiff_t>(p));
  // What was not there is not owed for ever: that was gas.
  if (near.size() == gone.size()) owed = std::min(owed, grain());
  stale_ = stale_ || !gone.empty();
  return taken;
}

void Fuel::pour(const Vec3& at, double volume, double& owed) {
  const Lattice& g = *lattice_;
  owed += volume;
  const double each = grain();
  bool any = false;
  for (int k = 0; owed >= each; ++k, owed -= each, any = true) {
    // On a small spiral, so that no two lie in one place.
    const double angle = 2.399963 * k, r = 0.2 * std::cbrt(cell_) * std::sqrt(0.1 + k % 8);
    const Vec3 x = at + r * Vec3(std::cos(angle), std::sin(angle), 0);
    particles_.push_back({{x.x(), x.y(), x.z()}, each, {}, {}, {}});
    std::copy_n(cell_at(g, x).data(), 3, particles_.back().at);
  }
  stale_ = stale_ || any;
}

std::string Fuel::frozen() const {
  std::string out;
  put(out, mark);
  put(out, static_cast<std::uint64_t>(lattice_->count()));
  put(out, static_cast<std::uint64_t>(door_open_.size()));
  put(out, time_), put(out, rate_), put(out, last_step_), put(out, last_push_), put(out, steps_);
  put(out, particles_), put(out, pressure_), put(out, door_open_), put(out, through_), put(out, gas_was_);
  put(out, static_cast<std::uint64_t>(pockets_.size()));
  for (const Pocket& p : pockets_)
    put(out, p.amount), put(out, p.volume), put(out, p.over), put(out, p.cells);
  return out;
}

void Fuel::thaw(std::string_view bytes) {
  Reader in{bytes};
  std::uint64_t is = 0, cells = 0, doors = 0, pockets = 0;
  in.get(is), in.get(cells), in.get(doors);
  if (is != mark) throw std::runtime_error("another layout");
  if (cells != static_cast<std::uint64_t>(lattice_->count()) || doors != door_open_.size())
    throw std::runtime_error("another tank or other cells");
  // All of it, or nothing.
  Fuel next = *this;
  in.get(next.time_), in.get(next.rate_), in.get(next.last_step_), in.get(next.last_push_),
      in.get(next.steps_);
  in.get(next.particles_), in.get(next.pressure_), in.get(next.door_open_), in.get(next.through_),
      in.get(next.gas_was_);
  in.get(pockets);
  if (pockets > cells) throw std::runtime_error("it ends too early");
  next.pockets_.resize(static_cast<size_t>(pockets));
  for (Pocket& p : next.pockets_) {
    in.get(p.amount), in.get(p.volume), in.get(p.over), in.get(p.cells);
    for (const int c : p.cells)
      if (c < 0 || c >= lattice_->count()) throw std::runtime_error("a cell that is not there");
  }
  if (!in.bytes.empty() || next.pressure_.size() != pressure_.size() ||
      next.gas_was_.size() != gas_was_.size() || next.door_open_.size() != door_open_.size() ||
      next.through_.size() != through_.size())
    throw std::runtime_error("another length");
  next.shut_doors();
  next.look();
  *this = std::move(next);
}

}  // namespace uadze::resolved
