#include "core/circuit/reading.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <limits>

#include "core/base/root.h"
#include "core/circuit/findings.h"
#include "core/circuit/jet_pump.h"
#include "core/circuit/wiring.h"

namespace uadze::circuit {
namespace {

std::string plain_label(const Part& p) {
  if (!p.name.empty()) return p.name;
  switch (p.kind) {
    case PartKind::line:
      return p.dash > 0 ? fmt::format("line -{}", p.dash) : "line";
    case PartKind::fitting:
      return (p.count > 1 ? fmt::format("{} x ", p.count) : "") + words_of(p.form);
    case PartKind::restriction:
      return "restriction";
    default:
      return p.type;
  }
}

/// Of parts side by side with the number of their way.
std::string label_of(const Part& p) {
  return p.way > 0 ? fmt::format("{}, way {}", plain_label(p), p.way) : plain_label(p);
}

class Reader {
 public:
  Reader(const Case& c, const Built& built, Solution solution, Tell tell)
      : c_(c), b_(built), all_(tell == Tell::all) {
    out_.solution = std::move(solution);
    out_.liquid = b_.liquid;
    out_.ambient = b_.ambient;
    out_.manifold = c.at.manifold;
    out_.tank = b_.tank;
  }

  State run() {
    if (all_) parts();
    pumps();
    regulator();
    engine();
    surge();
    if (!all_) return std::move(out_);
    transfer();
    out_.network = b_.network;
    out_.findings = find_trouble(c_, out_);
    return std::move(out_);
  }

 private:
  /// Where more is asked for than can flow the equations end below no pressure at all.
  double p(int node) const { return std::max(out_.solution.pressure[static_cast<size_t>(node)], 0.0); }
  double q(int branch) const { return branch < 0 ? 0.0 : out_.solution.flow[static_cast<size_t>(branch)]; }
  const Branch& branch(int k) const { return b_.network.branches[static_cast<size_t>(k)]; }

  void parts() {
    int last = -1;
    double here = 0;
    for (const Built::Piece& piece : b_.pieces) {
      if (piece.branch != last) here = p(branch(piece.branch).from);
      last = piece.branch;
      const Leg& leg = *leg_at(c_.circuit, piece.leg);
      PartState s{.leg = piece.leg, .part = piece.part};
      s.label = label_of(leg[static_cast<size_t>(piece.part)]);
      s.flow = q(piece.branch);
      s.inlet = here;
      if (piece.elements.empty()) {
        here = p(branch(piece.branch).to);
        s.loss = s.inlet - here;
      } else {
        s.loss = drop(piece.elements, s.flow, b_.liquid).value;
        const Branch& b = branch(piece.branch);
        // Open, it takes its spring's pressure; shut, all that stands across it.
        if (piece.cracking > 0 || leg[static_cast<size_t>(piece.part)].kind == PartKind::check_valve)
          s.loss += s.flow > 1e-9 ? piece.cracking : p(b.from) + b.head - p(b.to);
        here += piece.head - s.loss;
      }
      s.outlet = here;
      s.rated = rated_flow(leg[static_cast<size_t>(piece.part)], *c_.catalogue);
      s.measured = s.rated <= 0 || std::abs(s.flow) <= 1.1 * s.rated;
      s.bore = piece.bore;
      if (s.bore > 0) {
        s.velocity = velocity(s.flow, s.bore);
        s.reynolds = reynolds(s.flow, s.bore, b_.liquid);
      }
      out_.parts.push_back(std::move(s));
    }
  }

  void pumps() {
    for (const Built::PumpAt& at : b_.pumps) {
      const Branch& b = branch(at.branch);
      const Pump& pump = std::get<Pump>(b.law);
      PumpState s{.leg = at.leg, .part = at.part};
      s.on = pump.running && pump.drive.supply > 0;
      s.dry = s.on && pump.gas >= 1;
      s.engine_driven = at.type->curves.engine_driven;
      s.flow = q(at.branch);
      s.inlet = p(b.from);
      s.rise = p(b.to) - s.inlet;
      s.inlet_margin = s.inlet - b_.liquid.vapour_pressure;
      s.margin_needed = at.type->curves.inlet_margin;
      s.supply = pump.drive.supply;
      s.share = pump.drive.share;
      s.swing = pump.swing * std::max(s.flow, 0.0);
      s.inlet_margin -= s.swing;
      s.voltage = s.on ? s.share * s.supply : 0.0;
      const Operation now = s.on ? wired(*pump.curves, s.rise, pump.drive) : Operation{};
      if (s.on) {
        s.current = s.engine_driven ? 0.0 : std::max(now.current, 0.0);
        s.battery = pump.drive.battery_current(s.current);
        s.voltage = now.voltage;
        s.power = s.engine_driven ? 0.0 : s.current * s.voltage;
      }
      s.hydraulic = s.on ? std::max(s.flow * s.rise, 0.0) : 0.0;
      if (all_) tell_pump(at, pump, now, s);
      out_.pumps.push_back(std::move(s));
    }
    for (int end : b_.main_ends) out_.delivered += q(end);
  }

  void tell_pump(const Built::PumpAt& at, const Pump& pump, const Operation& now, PumpState& s) {
    const Leg& leg = *leg_at(c_.circuit, at.leg);
    s.name = at.leg.title(c_.circuit);
    if (std::count_if(leg.begin(), leg.end(), [](const Part& x) { return x.kind == PartKind::pump; }) > 1)
      s.name += ", " + label_of(leg[static_cast<size_t>(at.part)]);
    if (s.on) {
      s.flow_unwired =
          s.dry ? 0.0 : pump.drive.yield * operate(*pump.curves, s.rise, s.share * s.supply).flow;
      s.lost_to_wires = s.dry ? 0.0 : std::max(s.flow_unwired - now.flow, 0.0);
      s.measured = measured(*pump.curves, s.rise, s.voltage);
      if (pump.curves->relief > 0 && s.rise > pump.curves->relief) {
        PumpCurves without = *pump.curves;
        without.relief = 0;
        s.relieved = std::max(pump.drive.yield * operate(without, s.rise, now.voltage).flow - now.flow, 0.0);
      }
      if (!s.engine_driven) {
        // The rotor held is a resistance beside the wires'.
        const double motor = s.supply / std::max(locked_current(*pump.curves, s.supply), 1e-9);
        s.locked = s.supply / (motor + pump.drive.resistance);
        s.locked_known = pump.curves->locked > 0;
      }
    }
    out_.wires.push_back(wire_of(at, pump, s.current));
  }

  WireState wire_of(const Built::PumpAt& at, const Pump& pump, double current) const {
    WireState wire{.pump = static_cast<int>(out_.pumps.size())};
    wire.resistance = pump.drive.resistance;
    wire.drop = current * wire.resistance;
    const auto density = [&](double a) { return a > 0 ? current / a : 0.0; };
    wire.feed_density = density(at.wiring->feed_area);
    wire.ground_density = density(at.wiring->ground_area);
    wire.heat = current * current * wire_resistance(at.wiring->feed_area, 1.0, c_.circuit.wire_temperature);
    if (current > 0 && at.wiring->feed_length > 0) {
      // Contacts, relay and fuse take their part of the wished drop before any wire does.
      Wiring without = *at.wiring;
      without.feed_length = without.ground_length = 0;
      wire.beside = current * wiring_resistance(without, *c_.catalogue, c_.circuit.wire_temperature);
      wire.advised = smallest_gauge(current, at.wiring->feed_length, c_.circuit.wished_drop - wire.beside,
                                    c_.circuit.wire_temperature);
    }
    return wire;
  }

  void regulator() {
    RegulatorState& r = out_.regulator;
    r.set = b_.spring;
    r.wished = b_.set;
    if (b_.reducer >= 0) return reducer();
    if (b_.relief < 0) return;
    const Branch& b = branch(b_.relief);
    const Relief& law = std::get<Relief>(b.law);
    r.flow = std::max(q(b_.relief), 0.0);
    r.pressure = p(b.from);
    r.floor = p(b.to) + drop(Element{law.open}, r.flow, b_.liquid).value;
    const double wished = law.set + law.slope * r.flow;
    if (r.flow < 1e-9 && r.pressure < r.set - 10.0)
      r.mode = RegulatorMode::starved;
    else
      r.mode = r.floor > wished + 10.0 ? RegulatorMode::overwhelmed : RegulatorMode::regulating;
  }

  /// One that shuts passes what is burnt; wide open and still under its setting it is starved.
  void reducer() {
    RegulatorState& r = out_.regulator;
    const Branch& b = branch(b_.reducer);
    const Reducer& law = std::get<Reducer>(b.law);
    r.pressure = p(b.to);
    r.floor = 0.0;
    const double flow = std::max(q(b_.reducer), 0.0);
    r.mode =
        r.pressure < law.set - law.slope * flow - 10.0 ? RegulatorMode::starved : RegulatorMode::regulating;
  }

  void engine() {
    const Circuit& k = c_.circuit;
    if (b_.injectors.empty()) {
      out_.rail = p(b_.entry);
      out_.rail_difference = out_.rail - out_.ambient;
      out_.difference_set =
          k.engine_supply == EngineSupply::high_pressure ? k.high_pressure.least_inlet : 0.0;
      return;
    }
    const InjectorType& type = *find(c_.catalogue->injectors, k.rail.injector);
    double total = 0;
    for (int node : b_.injectors) {
      InjectorState s{.pressure = p(node), .difference = p(node) - c_.at.manifold};
      s.flow = type.flow * std::sqrt(std::max(s.difference, 0.0) / type.difference);  // held open
      total += s.flow;
      out_.injectors.push_back(s);
    }
    const double duty = total > 0 ? c_.at.demand / total : (c_.at.demand > 0 ? 9.99 : 0.0);
    double least = std::numeric_limits<double>::infinity();
    for (size_t i = 0; i < out_.injectors.size(); ++i) {
      InjectorState& s = out_.injectors[i];
      s.duty = std::min(duty, 9.99);
      s.flow *= duty;
      if (s.difference < least) least = s.difference, out_.leanest = static_cast<int>(i);
    }
    out_.duty = std::min(duty, 9.99);
    out_.rail = out_.injectors[out_.injectors.size() / 2].pressure;
    out_.rail_difference = least;
    out_.difference_set = b_.set - c_.at.manifold;
  }

  void surge() {
    if (b_.surge < 0) return;
    SurgeState& s = out_.surge;
    s.pressure = p(b_.surge);
    for (int end : b_.lift_ends) {
      s.lifts.push_back(q(end));
      s.lift += q(end);
    }
    if (c_.surroundings.return_to == ReturnTo::surge_tank) s.back = q(b_.back);
    s.drawn = out_.delivered;
    s.overflow = std::max(q(b_.overflow), 0.0);
    s.draining = std::max(-q(b_.overflow), 0.0) + std::max(q(b_.vent), 0.0);
    if (s.draining < 1e-9) s.draining = 0.0;
    s.lasts =
        s.draining > 0 ? c_.surroundings.surge_volume / s.draining : std::numeric_limits<double>::infinity();
  }

  void transfer() {
    const Transfer& t = c_.circuit.transfer;
    if (t.kind == TransferKind::none) return;
    std::vector<Element> line;
    double head = 0;
    for (size_t i = 0; i < t.parts.size(); ++i) {
      const Part& part = t.parts[i];
      const double bore = bore_of(t.parts, i, *c_.catalogue);
      if (bore <= 0) continue;
      if (part.kind == PartKind::line) {
        line.emplace_back(Line{part.length, bore, 1e-5});
        head += b_.liquid.density * c_.at.force.dot(part.run);
      } else if (part.kind == PartKind::fitting) {
        line.emplace_back(loss(part.count * fitting_loss(part.form, bore, bore), bore));
      }
    }
    if (t.kind == TransferKind::jet) {
      const double motive = q(b_.jet);
      double flow = entrained_flow({t.nozzle, t.throat}, motive, -head, b_.liquid);
      // The suction line's own loss, taken quadratic about the flow it has.
      for (int k = 0; k < 20 && flow > 0 && !line.empty(); ++k) {
        const double loss = drop(line, flow, b_.liquid).value / (flow * flow);
        flow = 0.5 * (flow + entrained_flow({t.nozzle, t.throat}, motive, -head, b_.liquid, loss));
      }
      out_.transfer = flow;
    } else if (!line.empty()) {
      const auto spare = [&](double flow) { return drop(line, flow, b_.liquid).value - std::abs(head); };
      out_.transfer = std::copysign(root_between(spare, 0.0, 1e-3, 1e-16).value, head);
    }
  }

  const Case& c_;
  const Built& b_;
  const bool all_;
  State out_;
};

}  // namespace

State reading(const Case& c, const Built& built, Solution solution, Tell tell) {
  return Reader(c, built, std::move(solution), tell).run();
}

}  // namespace uadze::circuit
