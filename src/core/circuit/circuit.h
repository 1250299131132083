#pragma once
// The whole fuel circuit, steady at one moment: every pressure and flow, each pump on its curve, the
// regulator's state, the injectors, the wires, and what is wrong, said in a sentence.
//
// Pressures are absolute. Heights and accelerations act through each line's run (rho f.dx); the level over a
// pickup through its depth.
//
// Example:
//   circuit::Case c = test::plain_case();
//   c.at.demand = 30e-6;
//   const circuit::State s = run(c);
//   EXPECT_TRUE(s.solution.converged);
//   EXPECT_EQ(s.regulator.mode, circuit::RegulatorMode::regulating);
//   EXPECT_NEAR(s.rail_difference, 3e5, 0.3e5);
#include <memory>
#include <optional>
#include <string>
#include <vector>

#include "core/base/fault.h"
#include "core/base/phrase.h"
#include "core/circuit/aeration.h"
#include "core/circuit/catalogue.h"
#include "core/circuit/network.h"
#include "core/circuit/parts.h"

namespace uadze::circuit {

/// What stands round the circuit.
struct Surroundings {
  bool surge = false;
  double surge_volume = 0.0;  ///< m3
  ReturnTo return_to = ReturnTo::main_tank;
  struct Pickup {
    std::string name, feeds;
    std::optional<Vec3> place = {};  ///< m in the car
  };
  std::vector<Pickup> pickups;
  double tank_volume = 50e-3;  ///< m3
  std::vector<Vec3> returns;   ///< m, the main tank's return outlets
  double surge_area = 0.0;     ///< m2 across the surge tank; 0: by its volume
  bool foam = false;           ///< in the main tank
  double bubble_rise = 0.1;    ///< m/s
};

struct OperatingPoint {
  double demand = 0.0;                        ///< m3/s of the engine
  double manifold = 101325.0;                 ///< Pa, absolute
  std::optional<double> supply;               ///< V; nothing: the circuit's own
  double temperature = 293.15;                ///< K, of the fuel
  double altitude = 0.0;                      ///< m
  Vec3 force{0, 0, -standard_gravity};        ///< m/s2, effective gravity
  double filter_load = 0.0;                   ///< 0 clean .. 1 due
  double throttle = 1.0;                      ///< 0..1
  double rotation = 100.0;                    ///< 1/s, crankshaft
  std::optional<std::vector<char>> mains_on;  ///< nothing: by their stages
  std::vector<char> lifts_dead, mains_dead;   ///< what-if: no current
  std::vector<char> lifts_dry;                ///< their pickups are bare: they run and bring gas
  bool mains_dry = false;                     ///< the same of what feeds the engine
  std::vector<double> pickup_depth;           ///< m of fuel over each pickup; empty: none
  double level = 0.5;                         ///< share of the tank that is full, for a blocked vent
  double vent_blocked_for = 0.0;              ///< s of this demand since the tank's vent was blocked
  std::optional<double> spring;               ///< Pa, of the regulator, if known (see regulator_spring)
  double charge = 1.0;                        ///< 0..1 of the battery's, along a lap
  double gas = 0.0;                           ///< share of gas in what is drawn where the return ends

  bool is_lift_dead(size_t lift) const { return lift < lifts_dead.size() && lifts_dead[lift]; }
  bool is_main_dead(size_t main) const { return main < mains_dead.size() && mains_dead[main]; }
};

struct Case {
  Circuit circuit;
  Surroundings surroundings;
  fluid::Blend fuel;
  std::shared_ptr<const Catalogue> catalogue;
  OperatingPoint at;
  bool pressure_corrected = false;  ///< injectors are held open longer where the rail lacks pressure
};

/// Faults of the circuit's build, each at its member: unknown types, missing ends, zero bores; warnings where
/// it names a pickup or lift pump that is not there.
Faults circuit_faults(const Circuit& circuit, const Surroundings& around, const Catalogue& catalogue);

enum class LegKind { lift, overflow, tee, suction, main, feed, rail, back, transfer };
struct LegPlace {
  LegKind kind = LegKind::feed;
  int index = 0;
  bool operator==(const LegPlace&) const = default;
  std::string title(const Circuit& circuit) const;  ///< "lift left", "feed line"
};

/// Whether each of two rails side by side has a feed line of its own: the feed leg ends in ways side by side,
/// way 1 to the first rail, the others to the second.
bool two_feeds(const Circuit& circuit);
/// The parts of a leg; nothing for the rail.
const Leg* leg_at(const Circuit& circuit, const LegPlace& place);
Leg* leg_at(Circuit& circuit, const LegPlace& place);
/// Connections of a leg that can weep outside the fuel: between its lines, pumps, filters and valves and at
/// both its ends. Hose ends belong to their line.
int joints_outside(const Leg& leg);
/// All legs there are, in order of flow.
std::vector<LegPlace> legs_of(const Circuit& circuit, const Surroundings& around);

struct PartState {
  LegPlace leg;
  int part = 0;
  std::string label;
  double flow = 0.0;
  double inlet = 0.0, outlet = 0.0;                   ///< Pa
  double loss = 0.0;                                  ///< Pa, friction only; negative for a pump
  double bore = 0.0, velocity = 0.0, reynolds = 0.0;  ///< 0 where there is no one bore
  double rated = 0.0;    ///< m3/s up to which its figures are known; 0: no such part
  bool measured = true;  ///< not more than a tenth over that flows; else its loss is prolonged
};

struct PumpState {
  LegPlace leg;
  int part = 0;
  std::string name;
  bool on = true;
  bool dry = false;  ///< draws gas only
  double flow = 0.0, rise = 0.0;
  double inlet = 0.0;         ///< Pa
  double inlet_margin = 0.0;  ///< Pa over vapour pressure
  double margin_needed = 0.0;
  double supply = 0.0, voltage = 0.0, current = 0.0;
  double flow_unwired = 0.0;            ///< at this rise with the full supply
  double lost_to_wires = 0.0;           ///< m3/s: that less what the curve gives at the voltage there is
  double power = 0.0, hydraulic = 0.0;  ///< W, at its terminals; given to the fuel
  bool engine_driven = false;
  double share = 1.0;         ///< of the supply that its speed control lets through
  double battery = 0.0;       ///< A, from the supply: less than its own with pulses
  double locked = 0.0;        ///< A, with the rotor held, through its wires
  bool locked_known = false;  ///< by its figure, not estimated
  double swing = 0.0;         ///< Pa by which the inlet falls under its mean at each stroke
  double relieved = 0.0;      ///< m3/s back through its own relief valve
  bool measured = true;       ///< the point lies in its curves; else they are prolonged
};

struct WireState {
  int pump = 0;                                     ///< index in State::pumps
  double resistance = 0.0;                          ///< ohm, all
  double drop = 0.0;                                ///< V
  double beside = 0.0;                              ///< V of it in contacts, relay and fuse
  double feed_density = 0.0, ground_density = 0.0;  ///< A/m2
  double heat = 0.0;                                ///< W/m of the feed wire
  std::optional<int> advised;                       ///< gauge for the wished drop and the loom's density
};

enum class RegulatorMode { none, regulating, starved, overwhelmed };
constexpr const char* name_of(RegulatorMode value) {
  switch (value) {
    case RegulatorMode::none:
      return "none";
    case RegulatorMode::regulating:
      return "regulating";
    case RegulatorMode::starved:
      return "starved";
    case RegulatorMode::overwhelmed:
      return "overwhelmed";
  }
  return nullptr;
}

struct RegulatorState {
  RegulatorMode mode = RegulatorMode::none;
  double set = 0.0;       ///< Pa, absolute, that its spring holds at no flow
  double wished = 0.0;    ///< Pa, absolute: as it was set, with the return flowing
  double pressure = 0.0;  ///< Pa, before it
  double flow = 0.0;
  double floor = 0.0;  ///< Pa, absolute: back-pressure and its own loss, wide open at this flow
};

struct InjectorState {
  double pressure = 0.0, difference = 0.0;  ///< Pa
  double flow = 0.0;                        ///< m3/s, by equal pulses
  double duty = 0.0;
};

struct SurgeState {
  double pressure = 0.0;                                       ///< Pa
  std::vector<double> lifts;                                   ///< m3/s, of each lift leg
  double lift = 0.0, back = 0.0, drawn = 0.0, overflow = 0.0;  ///< m3/s
  double draining = 0.0;                                       ///< m3/s by which it empties
  double lasts = 0.0;  ///< s until it is empty; infinite if it does not empty
};

struct Finding {
  Severity severity = Severity::warning;
  LegPlace leg;
  int part = -1;  ///< of the leg; -1: the leg as a whole
  Phrase text;
};

struct State {
  Solution solution;
  Network network;
  fluid::Liquid liquid;
  double ambient = 101325.0, manifold = 101325.0, tank = 101325.0;  ///< Pa
  std::vector<PartState> parts;
  std::vector<PumpState> pumps;
  std::vector<WireState> wires;
  RegulatorState regulator;
  std::vector<InjectorState> injectors;
  SurgeState surge;
  int leanest = -1;                    ///< injector
  double rail = 0.0;                   ///< Pa, at the middle injector, or before pump or needle
  double rail_difference = 0.0;        ///< Pa, least across an injector; over air for other feeds
  double difference_set = 0.0;         ///< Pa that is wished there
  double duty = 0.0;                   ///< largest
  double delivered = 0.0;              ///< m3/s out of the main pumps
  double transfer = 0.0;               ///< m3/s across the tank
  std::optional<AerationInput> falls;  ///< the return, where it ends above the fuel
  Aeration aeration;
  std::vector<Finding> findings;
};

/// Throws InputError for circuits with errors (see circuit_faults). `start`: a state of the same case at a
/// near operating point.
State run(const Case& c, const State* start = nullptr);

/// The engine demand at which the rail just falls to its set pressure: what the circuit can give at this
/// voltage, temperature, manifold pressure and stage. 0 if not even without demand.
double available_flow(const Case& c);

/// ISA: 101325 Pa x (1 - 2.25577e-5 h)^5.25588.
double ambient_pressure(double altitude);

/// K of one fitting in its bore. `bore_after` counts for reducers.
double fitting_loss(FittingForm form, double bore, double bore_after);

/// m3/s for which a filter's, sensor's, valve's or diffuser's figures stand, both of two side by side; 0 for
/// other parts.
double rated_flow(const Part& part, const Catalogue& catalogue);

/// The bore of a part, m: its own, or by hose and dash; fittings take that of the line beside them. 0:
/// unknown.
double bore_of(const Leg& leg, size_t part, const Catalogue& catalogue);

/// Ohm from supply to pump and back.
double wiring_resistance(const Wiring& wiring, const Catalogue& catalogue, double temperature);

/// Whether a main pump's stage wants it on, seen from whether it is on now.
bool stage_wants(const Stage& stage, const OperatingPoint& at, bool now);

}  // namespace uadze::circuit
