#include "core/slosh/planar_tank.h"

#include <algorithm>
#include <cmath>
#include <limits>

namespace uadze::slosh {

std::vector<double> level_fill(const tank::Tank& tank, double volume, const Vec3& normal) {
  if (tank.spaces.size() == 1) return {volume};
  tank::PlaneCutter whole(tank.whole);
  whole.aim(normal);
  const tank::Plane plane{normal, whole.offset_for(volume).offset};
  std::vector<double> out;
  double sum = 0;
  for (const tank::Space& s : tank.spaces) {
    out.push_back(std::clamp(moments_below(s.solid, plane).volume, 0.0, s.volume()));
    sum += out.back();
  }
  // The solver's last digit, into whichever space has room for it.
  for (size_t i = 0; i < out.size(); ++i) {
    const double fitted = std::clamp(out[i] + volume - sum, 0.0, tank.spaces[i].volume());
    sum += fitted - out[i];
    out[i] = fitted;
  }
  return out;
}

TankOptions quickly(TankOptions options, double longest_step) {
  options.longest_step = longest_step;
  options.planar.phase_step = 1.0;
  options.planar.stray = 0.06;
  return options;
}

namespace {

/// Share of a space's roof that is a wall: through an open top gas comes to any place, and no bubble has to
/// run there.
double roofed(const tank::Tank& tank, size_t space) {
  double top = -std::numeric_limits<double>::infinity(), bottom = -top;
  for (const Vec3& v : tank.spaces[space].solid.vertices())
    top = std::max(top, v.z()), bottom = std::min(bottom, v.z());
  double open = 0;
  for (const tank::Opening& o : tank.openings)
    if (o.passes == tank::Passes::both &&
        (o.from == static_cast<int>(space) || o.to == static_cast<int>(space)))
      for (const tank::Cell& c : o.cells)
        if (top - c.at.z() < 0.02 * (top - bottom)) open += c.area;
  const double roof = tank.spaces[space].volume() / std::max(top - bottom, 1e-6);
  return std::clamp(1 - open / std::max(roof, 1e-9), 0.0, 1.0);
}

}  // namespace

PlanarTank::PlanarTank(const tank::Tank& tank, const std::vector<double>& volumes, const TankOptions& options,
                       const TankInertia* inertia)
    : tank_(&tank),
      longest_(options.longest_step),
      flows_(tank,
             [&] {
               FlowOptions flow = options.flow;
               flow.foam = options.planar.foam;
               return flow;
             }()),
      sides_(tank.spaces.size()) {
  for (size_t i = 0; i < tank.spaces.size(); ++i) {
    const tank::Space& s = tank.spaces[i];
    PlanarOptions own = options.planar;
    own.bubble_drag *= roofed(tank, i);
    spaces_.emplace_back(s.solid, volumes[i], own,
                         SpaceDrag{s.darcy, s.inertial, s.crowded, &s.obstacles, &s.foamed},
                         inertia && i < inertia->size() ? &(*inertia)[i] : nullptr);
    sides_[i].capacity = s.volume();
    sides_[i].vented = s.vented;
  }
}

void PlanarTank::settle(const Vec3& f) {
  for (PlanarSpace& s : spaces_) s.settle(f);
}

void PlanarTank::step_by(const TankOptions& steps) {
  longest_ = steps.longest_step;
  for (PlanarSpace& s : spaces_) s.step_by(steps.planar);
}

namespace {

// A tilt dn of the surface takes the work of the turning's push, w2 y, by the integral of y2 dn y over the
// section: of its middle's distance, not of the fuel's.
Vec3 felt_by(const PlanarSpace& s, const lap::Push& push) {
  return push.felt_at(s.section().area > 0 ? s.section().centroid : s.centroid());
}

}  // namespace

// What stands still, full or empty, lies since the half before as it would now, unless something was drawn.
void PlanarTank::swing(const lap::Push& push, double dt, Half half) {
  for (PlanarSpace& s : spaces_)
    if (half != Half::first || s.moves() || !s.is_exact()) s.step(felt_by(s, push), dt);
}

void PlanarTank::flow(const lap::Push& push, double dt) {
  for (size_t i = 0; i < spaces_.size(); ++i) {
    const PlanarSpace& s = spaces_[i];
    SpaceSide& side = sides_[i];
    side.volume = s.volume();
    side.surface = s.surface();
    side.area = s.section().area;
    side.reference = s.section().centroid;
    side.pressing = s.pressing(felt_by(s, push));
    side.through = {};
  }
  flows_.advance(sides_, dt);
  exchanged_ = 0;
  for (size_t i = 0; i < spaces_.size(); ++i) {
    spaces_[i].set_volume(sides_[i].volume, sides_[i].through, dt);
    exchanged_ = std::max(exchanged_, sides_[i].through.gross / (sides_[i].capacity * dt));
  }
}

// Half of the swing before the flow and half after (Strang 1968): a flap or an open top lets out in a moment
// what the swing brings to it, and a surface looked at between the two would lean by half a step's turn too
// much or too little. Where much goes through the steps are halved.
void PlanarTank::step(const lap::Push& push, double dt) {
  if (tank_->openings.empty()) {
    swing(push, dt, Half::last);
    return;
  }
  const double longest = exchanged_ > quick_exchange ? longest_ / 2 : longest_;
  const int parts = std::max(1, static_cast<int>(std::ceil(dt / longest - 1e-9)));
  const double part = dt / parts;
  swing(push, part / 2, Half::first);
  for (int k = 0; k < parts; ++k) {
    flow(push, part);
    swing(push, k + 1 < parts ? part : part / 2, Half::last);
  }
}

double PlanarTank::draw(size_t space, double volume) {
  PlanarSpace& s = spaces_[space];
  const double before = s.volume();
  s.set_volume(std::clamp(before - volume, 0.0, s.capacity()));
  return before - s.volume();
}

void PlanarTank::refresh() {
  for (PlanarSpace& s : spaces_) s.refresh();
}

double PlanarTank::volume() const {
  double sum = 0;
  for (const PlanarSpace& s : spaces_) sum += s.volume();
  return sum;
}

Vec3 PlanarTank::centroid() const {
  Vec3 first = Vec3::Zero();
  for (const PlanarSpace& s : spaces_) first += s.volume() * s.centroid();
  const double all = volume();
  return all > 0 ? Vec3(first / all) : Vec3(tank_->whole.centroid());
}

void PlanarTank::tell_state(std::vector<double>& out) const {
  for (const PlanarSpace& s : spaces_) s.tell_state(out);
  for (size_t i = 0; i < flows_.gas().size(); ++i)
    out.push_back(flows_.gas()[i] / (1e5 * sides_[i].capacity));
}

double PlanarTank::energy(const Vec3& f) const {
  double sum = 0;
  for (const PlanarSpace& s : spaces_) sum += s.volume() * s.energy(f);
  return sum;
}

}  // namespace uadze::slosh
