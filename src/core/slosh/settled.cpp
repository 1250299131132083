#include "core/slosh/settled.h"

#include <algorithm>
#include <cmath>

#include "core/base/root.h"

namespace uadze::slosh {
namespace {

/// Height of the lowest edge of an opening along the normal.
double lip(const tank::Opening& o, const Vec3& normal) {
  double low = 1e300;
  for (const tank::Cell& c : o.cells) low = std::min(low, normal.dot(c.at));
  return low - o.half_along(normal);
}

}  // namespace

SettledTank::SettledTank(const tank::Tank& tank, std::vector<double> volumes)
    : tank_(&tank), volume_(std::move(volumes)), offset_(volume_.size(), 0.0) {
  for (const tank::Space& s : tank.spaces) cutter_.emplace_back(s.solid);
  for (size_t i = 0; i < cutter_.size(); ++i) offset_[i] = cutter_[i].offset_for(volume_[i]).offset;
}

void SettledTank::update(const Vec3& f) {
  const double strength = f.norm();
  if (strength > weightless) normal_ = -f / strength;
  for (size_t i = 0; i < cutter_.size(); ++i) {
    cutter_[i].aim(normal_);
    offset_[i] = cutter_[i].offset_for(volume_[i], offset_[i]).offset;
  }
  if (!tank_->openings.empty() && !even_out()) exchange();
}

// The usual case at once: every space joined to the others by an opening that is wet at the common surface.
bool SettledTank::even_out() {
  const size_t n = cutter_.size();
  double total = 0, low = 1e300, high = -1e300, capacity = 0;
  for (size_t i = 0; i < n; ++i) {
    total += volume_[i];
    capacity += tank_->spaces[i].volume();
    low = std::min(low, cutter_[i].lowest()), high = std::max(high, cutter_[i].highest());
  }
  if (!(total > 0) || total >= capacity) return false;
  double offset = std::clamp(offset_[0], low, high);
  for (int k = 0; k < 100 && high - low > 1e-15; ++k) {
    double volume = 0, area = 0;
    for (const auto& c : cutter_) {
      const auto below = c.below(std::clamp(offset, c.lowest(), c.highest()));
      volume += below.volume, area += offset > c.lowest() && offset < c.highest() ? below.area : 0.0;
    }
    const double over = volume - total;
    if (std::abs(over) <= 1e-14 * capacity) break;
    (over > 0 ? high : low) = offset;
    const double next = area > 0 ? offset - over / area : (low + high) / 2;
    offset = next > low && next < high ? next : (low + high) / 2;
  }
  std::vector<int> group(n);
  for (size_t i = 0; i < n; ++i) group[i] = static_cast<int>(i);
  for (bool changed = true; changed;) {
    changed = false;
    for (const tank::Opening& o : tank_->openings) {
      int &a = group[static_cast<size_t>(o.from)], &b = group[static_cast<size_t>(o.to)];
      if (o.passes == tank::Passes::both && a != b && lip(o, normal_) < offset)
        a = b = std::min(a, b), changed = true;
    }
  }
  // A space that holds nothing at the common surface need not be reached, if it holds nothing now.
  for (size_t i = 0; i < n; ++i)
    if (group[i] != group[0]) return false;
  double sum = 0;
  for (size_t i = 0; i < n; ++i) {
    offset_[i] = std::clamp(offset, cutter_[i].lowest(), cutter_[i].highest());
    volume_[i] = std::clamp(cutter_[i].below(offset_[i]).volume, 0.0, tank_->spaces[i].volume());
    sum += volume_[i];
  }
  for (size_t i = 0; i < n; ++i) {
    const double fitted = std::clamp(volume_[i] + total - sum, 0.0, tank_->spaces[i].volume());
    sum += fitted - volume_[i], volume_[i] = fitted;
  }
  return true;
}

// Opening by opening, fuel runs from the higher surface until both are even, the source is down to the edge,
// or the target is full; again until nothing moves.
void SettledTank::exchange() {
  double capacity = 0;
  for (const auto& s : tank_->spaces) capacity += s.volume();
  std::vector<double> lips;
  for (const auto& o : tank_->openings) lips.push_back(lip(o, normal_));
  for (int sweep = 0; sweep < 400; ++sweep) {
    double moved = 0;
    for (size_t k = 0; k < tank_->openings.size(); ++k) {
      const tank::Opening& o = tank_->openings[k];
      auto a = static_cast<size_t>(o.from), b = static_cast<size_t>(o.to);
      if (offset_[a] < offset_[b]) std::swap(a, b);
      const bool along = a == static_cast<size_t>(o.from);
      if (o.passes != tank::Passes::both && (o.passes == tank::Passes::along) != along) continue;
      if (offset_[a] <= lips[k] || !(volume_[a] > 0)) continue;
      const double space = tank_->spaces[b].volume() - volume_[b];
      const double most = std::min(volume_[a] - cutter_[a].below(lips[k]).volume, space);
      if (!(most > 1e-15 * capacity)) continue;
      const auto gap = [&](double x, double& oa, double& ob) {
        oa = cutter_[a].offset_for(volume_[a] - x, offset_[a]).offset;
        ob = cutter_[b].offset_for(volume_[b] + x, std::max(offset_[b], cutter_[b].lowest())).offset;
        return oa - ob;
      };
      double oa = offset_[a], ob = offset_[b], x = most;
      if (const double over = gap(most, oa, ob); over < 0) {
        const double before = offset_[a] - offset_[b];
        x = root_between([&](double share) { return gap(share, oa, ob); }, 0.0, most, before, over,
                         1e-15 * capacity)
                .low;
        gap(x, oa, ob);
      }
      volume_[a] -= x, volume_[b] += x;
      offset_[a] = oa, offset_[b] = ob;
      moved += x;
    }
    if (moved <= 1e-12 * capacity) return;
  }
}

}  // namespace uadze::slosh
