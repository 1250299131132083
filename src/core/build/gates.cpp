#include "core/build/gates.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "core/base/content_key.h"
#include "core/build/bench.h"
#include "core/build/cutting.h"
#include "core/circuit/analysis.h"
#include "core/circuit/build.h"
#include "core/circuit/charging.h"

namespace uadze::build {
namespace {

using circuit::Case;
using circuit::EngineSupply;

constexpr double hour = 3600.0;

/// Typical tolerances.
constexpr double pressure_share = 0.03, least_pressure = 0.1e5, flow_share = 0.10, volts = 0.3;
/// K within which the temperature of a line full of fuel has to hold.
constexpr double fuel_kelvin = 0.5;
/// Share of its absolute pressure that a line may lose in a hold test.
constexpr double hold_fall = 0.02;

const char* const nitrogen = "nitrogen, lines dry";
const char* const fuel = "fuel, primed";

Expected within(std::string what, Quantity q, double value, double tolerance, bool may_lack = false) {
  return {std::move(what), q, value, value - tolerance, value + tolerance, may_lack};
}

class Commissioning {
 public:
  Commissioning(const Case& c, const Garage& g) : c_(c), garage_(g) {}

  std::vector<Gate> run() {
    Case at = c_;
    if (garage_.supply) at.at.supply = garage_.supply;
    tight();
    pressures(at);
    flows(at);
    vent();
    charging(at);
    tables();
    safety();
    hot();
    for (Gate& g : out_) {
      const ContentKey key = content_key(g.content);
      g.content = fmt::format("{:016x}{:016x}", key.high, key.low);
    }
    return std::move(out_);
  }

 private:
  /// Within what a charger or a running engine gives: under it the pumps tell nothing of the circuit.
  Expected battery() const {
    return {battery_reading, Quantity::voltage, {}, 0.75 * c_.circuit.supply, 1.2 * c_.circuit.supply};
  }

  Gate& add(Gate gate) {
    out_.push_back(std::move(gate));
    return out_.back();
  }

  /// All joints and lines: what a leak test stands for.
  std::string joints_content() const {
    std::string out;
    for (const Joint& j : joints(c_))
      out += fmt::format("{}|{}|{}|{}\n", j.from, j.to, j.dash, name_of(j.seal));
    for (const HoseCut& h : cutting_list(c_))
      out += fmt::format("{}|{}|{}|{:.4f}\n", h.label, h.type, h.dash, h.cut);
    return out;
  }

  void tight() {
    const std::string all = joints_content();
    const double working = c_.circuit.engine_supply == EngineSupply::carburettor
                               ? c_.circuit.carburettor.most_pressure
                               : c_.circuit.regulator.base;
    add({.id = "leak",
         .title = "Leak test, brim full",
         .how = {"Fill to the brim, dry everything, paper under every joint.",
                 "Leave it twelve hours, or overnight, vented as it is driven.",
                 "Two people look at every joint, lid and seam, by touch and by paper."},
         .cautions =
             {"A full tank in a closed room: ventilated, nothing that sparks, watched, extinguisher near.",
              "A bladder is filled only to its maker's limit; never put pressure on it."},
         .look = {"lid and seams dry", "every joint dry", "paper dry"},
         .ways = {"rigid tank, brim full", "bladder, to its maker's limit"},
         .limit = "nothing wet, nothing that smells",
         .two_people = true,
         .lasts = 12 * hour,
         .days = 365,
         .content = all});
    add({.id = "hold",
         .title = "Pressure hold of the lines",
         .how = {"Blank the ends; with nitrogen up to the base pressure, or prime with fuel five times.",
                 "Wait ten minutes for the temperature, then read pressure and temperature; again after half "
                 "an hour."},
         .cautions =
             {"Gas under pressure stores energy: goggles, nobody beside it, never over the base pressure.",
              "Never air: with the vapour in a wet line it burns. Nitrogen only.",
              "Let the pressure off before a joint is touched."},
         // Under less a leak does not show; over it the test breaks what it should prove.
         .readings = {{"pressure at start", Quantity::pressure, working, 0.8 * working, 1.1 * working},
                      {"pressure at end", Quantity::pressure},
                      {"temperature at start", Quantity::temperature},
                      {"temperature at end", Quantity::temperature}},
         .ways = {nitrogen, fuel},
         .limit = fmt::format("a fall of {:.0f} % at the most, corrected for temperature", 100 * hold_fall),
         .two_people = true,
         .instrument = true,
         .lasts = 0.5 * hour,
         .days = 365,
         .after = {"leak"},
         .content = all});
    add({.id = "prime",
         .title = "Prime, and run up without the engine",
         .how = {"Pumps on for three seconds, off for ten, five times; look at every joint each time.",
                 "Then let them run for two minutes at base pressure."},
         .cautions = {"Fuel under pressure: goggles, eyes off the joint while it fills, extinguisher manned.",
                      "A drop anywhere: pumps off, pressure let off, then the spanner."},
         .look = {"every joint dry", "no froth in the return", "no pump that runs dry"},
         .readings = {{"times primed", Quantity::count, {}, 5.0, {}}},
         .limit = "five times at the least, nothing wet",
         .two_people = true,
         .after = {"hold"},
         .content = all});
  }

  void pressures(const Case& at) {
    Gate& gate =
        add({.id = "base pressure",
             .title = "Base pressure by the gauge card",
             .how = {"Set it with pump on, engine off, reference open: never at idle.",
                     "Lock the screw, then read the other rows; full load on the bench or the road.",
                     "A charger holds the battery's volts while the rows are read: they are entered too."},
             .cautions =
                 {"Let the pressure off before the gauge is fitted or taken off.",
                  "A gauge on a hose in front of the screen sprays fuel where it bursts: mount it outside."},
             .limit = "3 %, as each reading says",
             .instrument = true,
             .days = 180,
             .after = {"prime"}});
    const circuit::Circuit& k = c_.circuit;
    if (k.engine_supply == EngineSupply::carburettor) {
      gate.title = "Pressure at the needles";
      gate.how = {"Read at the bowls' inlet, engine idling, then at full load."};
    }
    for (const PressureReading& r : gauge_readings(at, garage_.idle, garage_.full))
      gate.readings.push_back(within(r.what, Quantity::pressure, r.value,
                                     std::max(pressure_share * std::abs(r.value), least_pressure),
                                     !r.garage));
    // What returns through the regulator hangs on the volts, and its pressure on what returns.
    gate.readings.push_back(battery());
    // Read as the circuit brings it, a rail that is not held would pass in silence.
    std::string not_held;
    if (k.engine_supply != EngineSupply::carburettor)
      for (const circuit::GaugeRow& row : circuit::gauge_card(at, garage_.idle, garage_.full))
        if (!row.met ||
            std::abs(row.reads - row.wished) > std::max(pressure_share * row.wished, least_pressure))
          not_held += (not_held.empty() ? "\"" : ", \"") + row.condition + "\"";
    if (!not_held.empty())
      gate.cautions.push_back(
          "This circuit itself does not hold what is wished, or not bring all that is asked for, at " +
          not_held +
          ": what is expected there is what it brings. The Circuit station says why: mend "
          "that before the engine runs so.");
    gate.content = fmt::format("{}|{}|{:.0f}|{}", name_of(k.engine_supply), k.regulator.type,
                               k.regulator.base, k.regulator.referenced);
  }

  void flows(const Case& at) {
    for (const FlowReading& r : flow_readings(at)) {
      Gate gate{
          .id = "flow of " + r.pump,
          .title = "Flow of " + r.pump,
          .how = {r.how, "Litres and seconds; a fast pump for half a minute at the least.",
                  "Volts at the battery and at the pump's terminals while it runs."},
          .cautions = {"The can earthed to the car, far from anything hot, two people, extinguisher manned.",
                       "A battery charger is joined before the fuel flows and taken off after."},
          .readings = {battery(), within(flow_reading, Quantity::flow, r.flow, flow_share * r.flow)},
          .limit = "10 % at the volts that were read",
          .instrument = true,
          .days = 365,
          .after = {"prime"},
          .content = r.content};
      if (r.voltage > 0) gate.readings.push_back(within(volts_reading, Quantity::voltage, r.voltage, volts));
      // From half of what it should be to what says that it is due: by two gauges, where there are ports.
      for (const FilterReading& f : r.filters) {
        const double low = 0.5 * f.loss - gauges_apart;
        gate.readings.push_back({.what = f.what,
                                 .quantity = Quantity::pressure,
                                 .value = f.loss,
                                 .low = low > 0 ? std::optional(low) : std::nullopt,
                                 .high = std::max(f.loaded, 1.2 * f.loss) + gauges_apart,
                                 .may_lack = true});
      }
      add(std::move(gate));
    }
  }

  void vent() {
    if (c_.circuit.tank_vent <= 0) return;
    Case full = c_;
    full.at.demand = garage_.full;
    const circuit::State s = circuit::run(full);
    const double under = s.ambient - circuit::tank_pressure(full, s.liquid);
    add({.id = "vent",
         .title = "Flow of the vent",
         .how = {"With the filler shut pump fuel out at what the engine burns at full load, into a can.",
                 "Read the tank's pressure under the air; then pass air through the vent gently by a hand "
                 "pump, with its roll-over valve upright and upside down."},
         .cautions = {"The vent's end and the can far from each other and from anything hot.",
                      "Never by mouth, and never a pressure into a tank that its maker does not allow."},
         .look = {"vent passes upright", "roll-over valve shuts upside down", "its end drips on nothing hot"},
         .readings = {{"tank under the air", Quantity::pressure, under, {}, std::max(2 * under, 3e3)}},
         .limit = "twice what is computed, as the reading says",
         .days = 365,
         .after = {"leak"},
         .content = fmt::format("{:.5f}|{}", c_.circuit.tank_vent, name_of(c_.circuit.roll_over))});
  }

  void charging(const Case& at) {
    if (c_.circuit.charging.alternator.empty()) return;
    Case idle = at;
    idle.at.demand = garage_.idle;
    add({.id = "charging",
         .title = "Charging balance",
         .how = {"Engine at a fast idle, all pumps and loads on, for five minutes; read the battery's volts.",
                 "It must not fall from the first minute to the fifth."},
         .cautions = {"Hands and sleeves off what turns; exhaust led out of the room."},
         .readings = {{"volts after a minute", Quantity::voltage, {}, c_.circuit.charging.full_voltage, {}},
                      {"volts after five", Quantity::voltage, c_.circuit.supply,
                       c_.circuit.charging.full_voltage, 15.0}},
         .limit = "over the resting battery's volts, and not falling",
         .instrument = true,
         .days = 365,
         .after = {"base pressure"},
         .content = c_.circuit.charging.alternator});
  }

  void tables() {
    add({.id = "dip table",
         .title = "Filling in steps: dip and gauge",
         .how = {"Fill in steps of a tenth with a can that was checked; note dip and gauge at each.",
                 "Level the car first, and shake out the air."},
         .cautions = {"Fill earthed, slowly, two people, fire cover."},
         .readings = {{"steps filled", Quantity::count, {}, 8.0, {}}, {"volume filled", Quantity::volume}},
         .limit = "eight steps at the least",
         .content = "tank"});
    Gate& gate = add(
        {.id = "run-out",
         .title = "Run-out on stands",
         .how = {"Car level on stands, a known fill; pump out through the engine's own pickups until they "
                 "draw gas.",
                 "Drain the rest and measure it: that never comes out."},
         .cautions = {"Stop at the first gas: a dry pump is ruined in seconds.",
                      "Drained fuel into closed cans, labelled, out of the room."},
         .readings = {{"left in the tank", Quantity::volume}},
         .limit = "as it is found",
         .after = {"leak"},
         .content = "tank"});
    if (garage_.never_drawn) {
      gate.readings[0].value = *garage_.never_drawn;
      gate.readings[0].high = *garage_.never_drawn + 1e-3;
    }
  }

  void safety() {
    std::string content;
    for (const auto& p : circuit::legs_of(c_.circuit, c_.surroundings))
      if (const auto* leg = circuit::leg_at(c_.circuit, p))
        for (const auto& part : *leg)
          if (part.kind == circuit::PartKind::pump)
            content += part.type + "|" + part.wiring.relay + "|" + part.wiring.fuse + "\n";
    add({.id = "safety",
         .title = "What stops the pumps",
         .how = {"Engine stopped by its key, by stalling, by the inertia switch (struck), by the kill switch "
                 "inside "
                 "and the one outside: each time all pumps stand within two seconds."},
         .cautions = {"The series' regulations say which switches there are, and how they are marked.",
                      "Nobody in front of or behind the car."},
         .look = {"pumps stop when the engine stops", "inertia switch stops them",
                  "kill switch inside stops them", "kill switch outside stops them"},
         .limit = "each time, all pumps",
         .two_people = true,
         .days = 90,
         .after = {"prime"},
         .content = content});
  }

  void hot() {
    std::vector<std::string> before;
    for (const Gate& g : out_)
      if (g.id != "dip table" && g.id != "run-out") before.push_back(g.id);
    add({.id = "hot check",
         .title = "Hot check after the first run",
         .how = {"Run up warm, look at every joint; stop, wait ten minutes for the heat to soak, look again.",
                 "Look for what chafes, what has moved, what is hotter than a hand bears."},
         .cautions = {"Extinguisher manned. Hands off what is hot or turns; exhaust led out.",
                      "Nothing here says that the car is safe: scrutineers and licensed practice do."},
         .look = {"every joint dry, hot", "no line moved or chafed", "no smell in the cabin"},
         .limit = "nothing wet",
         .two_people = true,
         .days = 180,
         .after = std::move(before),
         .content = joints_content()});
  }

  const Case& c_;
  const Garage& garage_;
  std::vector<Gate> out_;
};

const Measured* find(const std::vector<Measured>& all, const std::string& what) {
  const auto at = std::find_if(all.begin(), all.end(), [&](const Measured& m) { return m.what == what; });
  return at == all.end() ? nullptr : &*at;
}

/// "12 h", "1 h 30 min".
std::string long_time(double seconds) {
  const int minutes = static_cast<int>(seconds / 60 + 0.5);
  if (minutes < 60) return fmt::format("{} min", minutes);
  return minutes % 60 ? fmt::format("{} h {} min", minutes / 60, minutes % 60)
                      : fmt::format("{} h", minutes / 60);
}

Judgement hold_verdict(const GateTest& test) {
  const auto at = [&](const char* what) { return find(test.measured, what)->value; };
  const double air = 101325.0;
  const double p0 = at("pressure at start") + air, p1 = at("pressure at end") + air;
  const double t0 = at("temperature at start"), t1 = at("temperature at end");
  if (t0 <= 0 || t1 <= 0 || p0 <= air)
    return {true, false, {"The line was not under pressure, or a temperature can not be.", {}}};
  if (test.way == fuel) {
    if (std::abs(t1 - t0) > fuel_kelvin)
      return {true,
              false,
              {"The temperature went from {1} to {1}: a line full of fuel follows it by a bar and more for "
               "a kelvin, so this test says nothing. Do it again where it holds within half a kelvin.",
               {{t0, Quantity::temperature}, {t1, Quantity::temperature}}}};
    const double fall = (p0 - p1) / p0;
    return {true,
            fall <= hold_fall,
            {"From {2} to {2} over air: a fall of {1}.",
             {{p0 - air, Quantity::pressure}, {p1 - air, Quantity::pressure}, {fall, Quantity::fraction}}}};
  }
  // The gas law: what it would read at the temperature of the start.
  const double corrected = p1 * t0 / t1, fall = (p0 - corrected) / p0;
  return {true,
          fall <= hold_fall,
          {"From {2} to {2} over air, {2} at the temperature of the start: a fall of {1}.",
           {{p0 - air, Quantity::pressure},
            {p1 - air, Quantity::pressure},
            {corrected - air, Quantity::pressure},
            {fall, Quantity::fraction}}}};
}

}  // namespace

std::vector<Gate> commissioning(const Case& c, const Garage& garage) {
  return Commissioning(c, garage).run();
}

const Gate* find_gate(const std::vector<Gate>& gates, const std::string& id) {
  const auto at = std::find_if(gates.begin(), gates.end(), [&](const Gate& g) { return g.id == id; });
  return at == gates.end() ? nullptr : &*at;
}

Judgement judge(const Gate& gate, const GateTest& test) {
  // What is out of its limits fails, whatever else is missing.
  for (const Expected& e : gate.readings) {
    const Measured* m = find(test.measured, e.what);
    if (!m) continue;
    if (!std::isfinite(m->value)) return {false, false, {e.what + ": expected a number.", {}}};
    const bool under = e.low && m->value < *e.low - 1e-12, over = e.high && m->value > *e.high + 1e-12;
    if (!under && !over) continue;
    // No fault of what is tested: it has to be read again, at the battery's right volts.
    if (e.what == battery_reading)
      return {false,
              false,
              {e.what + ": {}, expected {} to {}: charge it, and test again.",
               {{m->value, e.quantity}, {*e.low, e.quantity}, {*e.high, e.quantity}}}};
    Phrase why{e.what + ": {}, ", {{m->value, e.quantity}}};
    if (e.value) {
      why.text += "expected {}";
      why.values.push_back({*e.value, e.quantity});
      why.text += under ? ", {} at the least." : ", {} at the most.";
    } else {
      why.text += under ? "expected {} at the least." : "expected {} at the most.";
    }
    why.values.push_back({under ? *e.low : *e.high, e.quantity});
    return {true, false, std::move(why)};
  }
  for (const Expected& e : gate.readings)
    if (!e.may_lack && !find(test.measured, e.what))
      return {false, false, {"Still to be read: " + e.what + ".", {}}};
  if (!gate.ways.empty() && std::find(gate.ways.begin(), gate.ways.end(), test.way) == gate.ways.end())
    return {false, false, {"Still to be said: how it was done.", {}}};
  for (const std::string& l : gate.look)
    if (std::find(test.seen.begin(), test.seen.end(), l) == test.seen.end())
      return {false, false, {"Still to be looked at: " + l + ".", {}}};
  if (test.lasted < gate.lasts - 1)
    return {false,
            false,
            {"It lasts " + long_time(gate.lasts) + " and has run for " + long_time(test.lasted) + ".", {}}};
  if (gate.id == "hold") return hold_verdict(test);
  if (gate.id == "charging") {
    const double first = find(test.measured, "volts after a minute")->value,
                 last = find(test.measured, "volts after five")->value;
    if (last < first - 0.1)
      return {true,
              false,
              {"From {2} to {2} in four minutes: the battery feeds the pumps.",
               {{first, Quantity::voltage}, {last, Quantity::voltage}}}};
  }
  return {true, true, {"Within its limits.", {}}};
}

std::optional<double> can_and_watch(std::string_view text, const UnitSystem& units) {
  const auto cut = text.find('/');
  if (cut != std::string_view::npos) {
    const auto volume = parse_quantity(text.substr(0, cut), Quantity::volume, units);
    const auto time = parse_quantity(text.substr(cut + 1), Quantity::duration, units);
    if (volume && time && *time > 0 && *volume >= 0) return *volume / *time;
  }
  const auto flow = parse_quantity(text, Quantity::flow, units);
  return flow && *flow >= 0 && std::isfinite(*flow) ? flow : std::nullopt;
}

}  // namespace uadze::build
