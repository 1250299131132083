#include "core/slosh/motion.h"

#include <algorithm>
#include <cmath>

namespace uadze::slosh {

FuelMotion::FuelMotion(const tank::Tank& tank, const std::vector<tank::Pickup>& pickups, double volume,
                       const MotionOptions& options)
    : tank_(&tank),
      pickups_(&pickups),
      options_(options),
      fill_(level_fill(tank, volume)),
      // It goes with the flow to the power 2/5.
      submergence_flow_(std::pow(options.circulation.submergence_scale, 2.5)) {
  begin(effective_gravity(Vec3::Zero()));
}

void FuelMotion::begin(const Vec3& first) {
  const Vec3 standing = effective_gravity(Vec3::Zero());
  const bool settle = options_.start == Start::settled;
  settled_.emplace(*tank_, fill_);
  settled_->update(standing);
  if (settle) settled_->update(first);
  pull_ = settle ? first.norm() : standing.norm();
  if (options_.model == Model::settled) return;
  // Spaces that communicate are even at rest, those that do not keep what they hold.
  std::vector<double> volumes;
  for (size_t i = 0; i < tank_->spaces.size(); ++i) volumes.push_back(settled_->volume(i));
  planar_.emplace(*tank_, volumes, options_.tank, options_.inertia);
  planar_->settle(settle ? first : standing);
}

void FuelMotion::stand() {
  const Vec3 standing = effective_gravity(Vec3::Zero());
  pull_ = standing.norm();
  if (planar_) {
    planar_->settle(standing);
    return;
  }
  fill_ = level_fill(*tank_, std::clamp(total(), 0.0, tank_->volume()));
  settled_drawn_ = 0;
  settled_.emplace(*tank_, fill_);
  settled_->update(standing);
}

void FuelMotion::circulate(const Vec3& f, double dt) {
  pull_ = f.norm();
  if (!planar_ || options_.circulation.flow.empty() || tank_->spaces.size() < 2) return;
  const auto back = static_cast<size_t>(std::max(options_.circulation.return_space, 0));
  double taken = 0;
  for (size_t p = 0; p < pickups_->size(); ++p)
    if (inside(p)) taken += planar_->draw(space_of(p), options_.circulation.flow[p] * drawn(p) * dt);
  double left = taken + planar_->draw(back, -taken);
  // A full space takes no more: the rest stays where it was.
  for (size_t p = 0; p < pickups_->size() && left > 0; ++p)
    if (inside(p)) left += planar_->draw(space_of(p), -left);
}

void FuelMotion::move(const lap::Push& push, double dt) {
  if (planar_) {
    planar_->step(push, dt);
    circulate(push.gravity, dt);
  } else {
    settled_->update(push.gravity);
    pull_ = push.gravity.norm();
  }
}

void FuelMotion::move(const lap::ForceTrace& trace, double from, double to) {
  if (!planar_) {
    settled_->update(trace.at(to));
    pull_ = trace.at(to).norm();
    return;
  }
  // The force follows the trace in parts: rows are not stepped over.
  constexpr double finest = 0.02;
  const int parts = std::max(1, static_cast<int>(std::ceil((to - from) / finest - 1e-9)));
  const double part = (to - from) / parts;
  for (int i = 0; i < parts; ++i) {
    move(trace.push(from + (i + 0.5) * part), part);
  }
}

void FuelMotion::refresh() {
  if (planar_) planar_->refresh();
}

tank::Plane FuelMotion::surface(size_t space) const {
  return planar_ ? planar_->space(space).surface() : settled_->surface(space);
}
double FuelMotion::volume(size_t space) const {
  return planar_ ? planar_->space(space).volume() : settled_->volume(space);
}
double FuelMotion::flow(size_t opening) const { return planar_ ? planar_->flows().fuel()[opening] : 0.0; }
bool FuelMotion::locked(size_t space) const { return planar_ && planar_->flows().locked()[space]; }

Vec3 FuelMotion::centroid() const {
  if (planar_) return planar_->centroid();
  Vec3 first = Vec3::Zero();
  double all = 0;
  for (size_t i = 0; i < tank_->spaces.size(); ++i) {
    first += settled_->volume(i) * settled_->centroid(i);
    all += settled_->volume(i);
  }
  return all > 0 ? Vec3(first / all) : Vec3(tank_->whole.centroid());
}

double FuelMotion::depth(size_t p) const { return tank::depth((*pickups_)[p], surface(space_of(p))); }

double FuelMotion::wet(size_t p) const {
  return volume(space_of(p)) > 0 ? tank::wet_fraction((*pickups_)[p], surface(space_of(p))) : 0.0;
}

double FuelMotion::drawn(size_t p) const {
  return drawn(p, p < options_.circulation.flow.size() ? options_.circulation.flow[p] : 0.0);
}

double FuelMotion::drawn(size_t p, double flow) const {
  if (!(volume(space_of(p)) > 0)) return 0.0;
  return tank::drawn_fuel((*pickups_)[p], surface(space_of(p)), flow * submergence_flow_, pull_);
}

double FuelMotion::draw(size_t p, double volume_wanted) {
  if (!inside(p)) return 0.0;
  if (planar_) return planar_->draw(space_of(p), volume_wanted);
  settled_drawn_ += volume_wanted;
  return volume_wanted;
}

double FuelMotion::put(size_t space, double added) {
  if (!planar_) {
    settled_drawn_ -= added;
    return added;
  }
  double left = added + planar_->draw(space, -added);
  for (size_t i = 0; i < planar_->size() && left > 0; ++i) left += planar_->draw(i, -left);
  return added - left;
}

double FuelMotion::take(size_t space, double wanted) { return planar_ ? planar_->draw(space, wanted) : 0.0; }

double FuelMotion::total() const {
  double sum = -settled_drawn_;
  for (size_t i = 0; i < tank_->spaces.size(); ++i) sum += volume(i);
  return sum;
}

void FuelMotion::tell_state(std::vector<double>& out) const {
  if (planar_) {
    planar_->tell_state(out);
    return;
  }
  for (size_t i = 0; i < tank_->spaces.size(); ++i) out.push_back(10 * volume(i) / tank_->spaces[i].volume());
}

Instant instant_of(const FuelMotion& moving, double time, size_t pickups) {
  // Of its own: that somebody looks must not change how it goes on.
  FuelMotion fuel = moving;
  fuel.refresh();
  Instant now;
  now.time = time;
  now.centroid = fuel.centroid();
  for (size_t i = 0; i < fuel.tank().spaces.size(); ++i) {
    now.surface.push_back(fuel.surface(i));
    now.volume.push_back(fuel.volume(i));
    now.total += now.volume.back();
    now.locked.push_back(fuel.locked(i));
  }
  for (size_t k = 0; k < fuel.tank().openings.size(); ++k) now.flow.push_back(fuel.flow(k));
  for (size_t p = 0; p < pickups; ++p) {
    now.depth.push_back(fuel.depth(p));
    now.wet.push_back(fuel.wet(p));
  }
  return now;
}

std::vector<Instant> slosh_motion(const tank::Tank& tank, const std::vector<tank::Pickup>& pickups,
                                  double volume, const lap::ForceTrace& trace, const MotionOptions& options) {
  FuelMotion fuel(tank, pickups, volume, options);
  fuel.begin(trace.force.front());
  const auto steps = static_cast<size_t>(std::floor((trace.end() - trace.begin()) / options.step + 1e-9));
  std::vector<Instant> out;
  out.reserve(steps + 1);
  for (size_t k = 0; k <= steps; ++k) {
    const double t = trace.begin() + static_cast<double>(k) * options.step;
    if (k > 0)
      fuel.move(trace, t - options.step, t);
    else if (options.model == Model::settled)
      fuel.move(trace, t, t);
    out.push_back(instant_of(fuel, t, pickups.size()));
  }
  return out;
}

}  // namespace uadze::slosh
