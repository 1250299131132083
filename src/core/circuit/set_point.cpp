#include <algorithm>
#include <cmath>

#include "core/circuit/build.h"

namespace uadze::circuit {
namespace {

constexpr double air_density = 1.2;
constexpr double idle_rotation = 1000.0 / 60;  // 1/s, at which a pump on the engine is when base is set

/// Sets what hangs on the operating point.
class Setter {
 public:
  Setter(Built& b, const Case& c, const BuildOptions& options) : b_(b), c_(c), options_(options) {}

  void run() {
    const Circuit& k = c_.circuit;
    b_.liquid = fluid::liquid(c_.fuel, c_.at.temperature);
    b_.ambient = ambient_pressure(c_.at.altitude);
    b_.tank = tank_pressure(c_, b_.liquid);
    const double reference = k.regulator.referenced ? c_.at.manifold : b_.ambient;
    b_.set = reference + k.regulator.base;
    b_.spring = options_.garage || k.regulator.type.empty()
                    ? b_.set
                    : reference + (c_.at.spring ? *c_.at.spring : regulator_spring(c_));
    ends();
    heads();
    const std::vector<char> mains_on = mains_running(c_);
    for (const Built::PumpAt& at : b_.pumps) pump(at, mains_on);
    if (b_.relief >= 0) law<Relief>(b_.relief).set = b_.spring;
    if (b_.reducer >= 0) law<Reducer>(b_.reducer).set = options_.relief ? b_.spring : 1e12;
  }

 private:
  Node& node(int i) { return b_.network.nodes[static_cast<size_t>(i)]; }
  template <class Law>
  Law& law(int branch) {
    return std::get<Law>(b_.network.branches[static_cast<size_t>(branch)].law);
  }

  void ends() {
    node(b_.main_tank).pressure = b_.tank;
    if (b_.air >= 0) node(b_.air).pressure = b_.ambient;
    const auto& depth = c_.at.pickup_depth;
    for (const auto& [at, index] : b_.pickups) {
      const double over = index < depth.size() ? std::max(depth[index], 0.0) : 0.0;
      node(at).pressure = b_.tank + b_.liquid.density * c_.at.force.norm() * over;
    }
    // Without injectors, a needle or a high-pressure pump draws where the feed line ends.
    for (int i : b_.injectors) node(i).withdrawal = c_.at.demand / static_cast<double>(b_.injectors.size());
    if (b_.injectors.empty()) node(b_.entry).withdrawal = c_.at.demand;
  }

  void heads() {
    for (const Built::Piece& piece : b_.pieces)
      b_.network.branches[static_cast<size_t>(piece.branch)].head = 0.0;
    for (Built::Piece& piece : b_.pieces) {
      const Part& part = part_of(piece);
      if (part.kind != PartKind::line) continue;
      piece.head = b_.liquid.density * c_.at.force.dot(part.run);
      b_.network.branches[static_cast<size_t>(piece.branch)].head += piece.head;
    }
  }

  const Part& part_of(const Built::Piece& piece) const {
    return (*leg_at(c_.circuit, piece.leg))[static_cast<size_t>(piece.part)];
  }

  void pump(const Built::PumpAt& at, const std::vector<char>& mains_on) {
    const Part& part = (*leg_at(c_.circuit, at.leg))[static_cast<size_t>(at.part)];
    const bool lifts = at.leg.kind == LegKind::lift, feeds = at.leg.kind == LegKind::main;
    const auto index = static_cast<size_t>(at.leg.index);
    const auto is = [index](const std::vector<char>& flags) { return index < flags.size() && flags[index]; };
    Pump& pump = law<Pump>(at.branch);
    if (at.type->curves.engine_driven) {
      pump.drive.supply = c_.at.rotation * part.turns;
    } else {
      pump.drive.supply = c_.at.supply.value_or(c_.circuit.supply);
      pump.drive.share = part.speed.share(c_.at.demand);
    }
    pump.running = lifts ? !c_.at.is_lift_dead(index) : !feeds || is(mains_on);
    const Surroundings& around = c_.surroundings;
    const bool to_surge = around.surge && around.return_to == ReturnTo::surge_tank;
    const LegKind drawing = around.surge && !to_surge ? LegKind::lift : LegKind::main;
    const bool dry = lifts ? is(c_.at.lifts_dry) : feeds && c_.at.mains_dry;
    pump.gas = dry ? 1.0 : at.leg.kind == drawing ? c_.at.gas : 0.0;
    pump.swing = swing_of(at, pump.drive.supply);
  }

  /// Of what the pump draws its fuel through, back to where fuel stands free: inertance and loss.
  double swing_of(const Built::PumpAt& at, double rotation) const {
    if (at.type->curves.peak_flow <= 1) return 0.0;
    const bool behind_suction =
        at.leg.kind == LegKind::main && !c_.surroundings.surge && c_.circuit.suctions.size() == 1;
    double inertance = 0, resistance = 0;
    for (const Built::Piece& piece : b_.pieces) {
      const bool own = piece.leg == at.leg && piece.part < at.part;
      if (!own && !(behind_suction && piece.leg.kind == LegKind::suction)) continue;
      const Part& part = part_of(piece);
      if (part.kind == PartKind::line) inertance += b_.liquid.density * part.length / area(piece.bore);
      if (part.kind != PartKind::pump) resistance += drop(piece.elements, c_.at.demand, b_.liquid).slope;
    }
    return inlet_swing(at.type->curves, rotation, inertance, resistance);
  }

  Built& b_;
  const Case& c_;
  const BuildOptions& options_;
};

}  // namespace

double ambient_pressure(double altitude) {
  return 101325.0 * std::pow(std::max(1 - 2.25577e-5 * altitude, 0.05), 5.25588);
}

double tank_pressure(const Case& c, const fluid::Liquid& liquid) {
  const double ambient = ambient_pressure(c.at.altitude), demand = c.at.demand;
  const double blocked = c.at.vent_blocked_for > 0  ? c.at.vent_blocked_for
                         : c.circuit.tank_vent <= 0 ? shut_vent_time
                                                    : 0.0;
  if (blocked > 0) {
    // Vapour makes itself anew as fuel leaves; the air that is in there only thins.
    const double vapour = std::min(liquid.vapour_pressure, 0.95 * ambient);
    const double gas = std::max(c.surroundings.tank_volume * (1 - c.at.level), 1e-4);
    return vapour + (ambient - vapour) * gas / (gas + demand * blocked);
  }
  const double speed = demand / (0.61 * area(c.circuit.tank_vent));
  return ambient - std::min(air_density / 2 * speed * speed, 0.9 * ambient);
}

bool stage_wants(const Stage& stage, const OperatingPoint& at, bool now) {
  const double value = stage.by == StageBy::throttle   ? at.throttle
                       : stage.by == StageBy::manifold ? at.manifold
                       : stage.by == StageBy::demand   ? at.demand
                                                       : at.rotation;
  return stage.by == StageBy::always || value > (now ? stage.off : stage.on);
}

std::vector<char> mains_running(const Case& c) {
  const auto& mains = c.circuit.mains;
  std::vector<char> on(mains.size(), 0);
  for (size_t i = 0; i < mains.size(); ++i) {
    on[i] = c.at.mains_on && i < c.at.mains_on->size() ? (*c.at.mains_on)[i]
                                                       : stage_wants(mains[i].stage, c.at, false);
    if (c.at.is_main_dead(i)) on[i] = 0;
  }
  return on;
}

double PumpSpeed::share(double demand) const {
  if (control == SpeedControl::none || points.empty()) return 1.0;
  const auto above = std::ranges::find_if(points, [&](const Point& p) { return p.demand > demand; });
  if (above == points.begin()) return above->share;
  const Point& below = *std::prev(above);
  if (control == SpeedControl::stepped || above == points.end()) return below.share;
  return std::lerp(below.share, above->share, (demand - below.demand) / (above->demand - below.demand));
}

double regulator_spring(const Case& given) {
  const Regulator& r = given.circuit.regulator;
  const RegulatorType* type = find(given.catalogue->regulators, r.type);
  // Nothing flows through one that shuts against the standing engine.
  if (!type || type->slope <= 0 || r.kind == RegulatorKind::dead_head) return r.base;
  Case c = given;
  c.at = {};
  c.at.throttle = 0.0;
  c.at.rotation = idle_rotation;
  c.at.mains_on = std::nullopt;
  c.circuit.regulator.referenced = false;
  const Built b = build(c, {.garage = true});
  const Solution s = solve(b.network, b.liquid);
  if (!s.converged || b.relief < 0) return r.base;
  const Branch& relief = b.network.branches[static_cast<size_t>(b.relief)];
  const double flow = s.flow[static_cast<size_t>(b.relief)];
  const bool holds = std::abs(s.pressure[static_cast<size_t>(relief.from)] - b.set) < 500.0;
  return holds && flow > 0 ? std::max(r.base - type->slope * flow, 0.0) : r.base;
}

void set_point(Built& built, const Case& c, const BuildOptions& options) { Setter(built, c, options).run(); }

}  // namespace uadze::circuit
