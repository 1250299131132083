#pragma once
// The circuit as a person builds it: legs, each a list of parts in order of flow. Plain values; what a part's
// type means stands in the catalogue.
//
//   main tank                     surge tank                                   engine
//   pickup--[lift leg]---------->|          |<--[return leg]--regulator---rail---injectors
//   pickup--[lift leg]---------->|          |--[main leg]--\               ^
//           <--[overflow leg]----|__________|--[main leg]---+--[feed leg]--+
//
// Example:
//   circuit::Circuit c;
//   c.mains = {{.name = "main", .parts = {test::pump("main pump, 340 l/h class"), test::line(8, 0.9)}}};
//   EXPECT_EQ(c.mains[0].parts[1].kind, circuit::PartKind::line);
#include <optional>
#include <string>
#include <vector>

#include "core/base/vector.h"

namespace uadze::circuit {

enum class PartKind { line, fitting, filter, check_valve, pump, sensor, diffuser, restriction };
constexpr const char* name_of(PartKind value) {
  switch (value) {
    case PartKind::line:
      return "line";
    case PartKind::fitting:
      return "fitting";
    case PartKind::filter:
      return "filter";
    case PartKind::check_valve:
      return "check valve";
    case PartKind::pump:
      return "pump";
    case PartKind::sensor:
      return "sensor";
    case PartKind::diffuser:
      return "diffuser";
    case PartKind::restriction:
      return "restriction";
  }
  return nullptr;
}

/// Forms of fittings; their losses are equivalent lengths in fitting_loss().
enum class FittingForm {
  straight,
  bend_45,
  bend_90,
  bend_120,
  bend_180,
  smooth_bend,
  reducer,
  tee_through,
  tee_branch,
  quick_connector,
  bulkhead,
  entry,
  exit
};
constexpr const char* name_of(FittingForm value) {
  switch (value) {
    case FittingForm::straight:
      return "straight";
    case FittingForm::bend_45:
      return "45";
    case FittingForm::bend_90:
      return "90";
    case FittingForm::bend_120:
      return "120";
    case FittingForm::bend_180:
      return "180";
    case FittingForm::smooth_bend:
      return "smooth bend";
    case FittingForm::reducer:
      return "reducer";
    case FittingForm::tee_through:
      return "tee through";
    case FittingForm::tee_branch:
      return "tee branch";
    case FittingForm::quick_connector:
      return "quick connector";
    case FittingForm::bulkhead:
      return "bulkhead";
    case FittingForm::entry:
      return "entry";
    case FittingForm::exit:
      return "exit";
  }
  return nullptr;
}
/// As it is said: "90°", where the file has "90".
constexpr const char* words_of(FittingForm value) {
  switch (value) {
    case FittingForm::bend_45:
      return "45°";
    case FittingForm::bend_90:
      return "90°";
    case FittingForm::bend_120:
      return "120°";
    case FittingForm::bend_180:
      return "180°";
    default:
      return name_of(value);
  }
}

/// Feed and ground of one pump.
struct Wiring {
  double feed_area = 0.0;    ///< m2 of copper; 0: without resistance
  double feed_length = 0.0;  ///< m
  double ground_area = 0.0;
  double ground_length = 0.0;
  int connectors = 0;  ///< contact pairs on the way, there and back
  std::string relay;   ///< type; empty: none
  std::string fuse;    ///< type; empty: none
  double extra = 0.0;  ///< ohm, of switches and the like
  bool operator==(const Wiring&) const = default;
};

/// How a pump's speed is brought down where little is asked for.
enum class SpeedControl { none, stepped, modulated };
constexpr const char* name_of(SpeedControl value) {
  switch (value) {
    case SpeedControl::none:
      return "none";
    case SpeedControl::stepped:
      return "steps";
    case SpeedControl::modulated:
      return "pulses";
  }
  return nullptr;
}

/// By the engine's demand: the share of the supply that the pump gets. Steps (a resistor, two speeds) hold
/// from their demand upward; between the points of pulses it is straight. Beyond the ends the nearest holds.
struct PumpSpeed {
  SpeedControl control = SpeedControl::none;
  struct Point {
    double demand = 0.0;  ///< m3/s
    double share = 1.0;   ///< 0..1
    bool operator==(const Point&) const = default;
  };
  std::vector<Point> points;  ///< by rising demand
  double share(double demand) const;
  bool operator==(const PumpSpeed&) const = default;
};

/// One part of a leg. Which members count depends on the kind.
struct Part {
  PartKind kind = PartKind::line;
  std::string name;                         ///< empty: named by its type
  std::string type;                         ///< of the catalogue: a hose for lines, a pump for pumps
  double length = 0.0;                      ///< m, of a line
  Vec3 run = Vec3::Zero();                  ///< m, from its start to its end in the car
  int dash = 0;                             ///< size of a line or fitting; 0: by bore
  double bore = 0.0;                        ///< m, of a line, fitting or restriction; 0: by type and dash
  double bore_after = 0.0;                  ///< m, of a reducer; 0: that of the line behind it
  FittingForm form = FittingForm::bend_90;  ///< of a fitting
  int count = 1;                            ///< of equal fittings one after the other
  double discharge = 0.61;                  ///< of a restriction
  bool doubled = false;     ///< two side by side, each with half the flow: relieves a sensor or filter
  bool check_valve = true;  ///< of a pump that has one built in: false, it was left out
  bool in_fuel = false;     ///< a line or pump that lies in the fuel
  bool in_cabin = false;    ///< a line that runs where the driver sits
  bool reversed = false;    ///< a sensor whose arrow stands against the flow
  /// 0: in line. Parts of ways 1, 2, 3 that follow one another lie side by side: each way's in their order,
  /// from the part before them to the one behind.
  int way = 0;
  double turns = 1.0;  ///< of an engine-driven pump: its shaft's speed over the crankshaft's
  PumpSpeed speed;     ///< of an electric pump
  /// Of a pump its flow, of a filter its drop, over what the catalogue has: by a test of the part itself.
  double measured = 1.0;
  std::string measured_by;  ///< "record 12, 2026-11-28"
  Wiring wiring;            ///< of a pump
  bool operator==(const Part&) const = default;
};
using Leg = std::vector<Part>;
/// Of a leg: more than any car has, few enough to be solved at once.
inline constexpr size_t most_parts = 200;
inline constexpr int most_ways = 3;
inline constexpr size_t most_mains = 4;

/// Where the engine's return goes. `overflow_tee`: the surge tank's overflow and the return meet in a tee or
/// manifold and go on to the main tank by one line.
enum class ReturnTo { surge_tank, main_tank, overflow_tee };
constexpr const char* name_of(ReturnTo value) {
  switch (value) {
    case ReturnTo::surge_tank:
      return "surge tank";
    case ReturnTo::main_tank:
      return "main tank";
    case ReturnTo::overflow_tee:
      return "overflow tee";
  }
  return nullptr;
}

/// From one pickup, by one lift pump of the setup, into the surge tank.
struct LiftLeg {
  std::string pump;  ///< name among the setup's lift pumps
  Leg parts;
  bool operator==(const LiftLeg&) const = default;
};

/// Without a surge tank: from one pickup to where the main pumps draw.
struct SuctionLeg {
  std::string pickup;
  Leg parts;
  bool operator==(const SuctionLeg&) const = default;
};

enum class StageBy { always, throttle, manifold, demand, rotation };
constexpr const char* name_of(StageBy value) {
  switch (value) {
    case StageBy::always:
      return "always";
    case StageBy::throttle:
      return "throttle";
    case StageBy::manifold:
      return "manifold";
    case StageBy::demand:
      return "demand";
    case StageBy::rotation:
      return "rotation";
  }
  return nullptr;
}

/// When a main pump runs: on above one value, off below another.
struct Stage {
  StageBy by = StageBy::always;
  double on = 0.0, off = 0.0;  ///< fraction, Pa absolute, m3/s or 1/s
  double spin_up = 0.2;        ///< s until it delivers
  bool operator==(const Stage&) const = default;
};

struct MainLeg {
  std::string name;
  Leg parts;
  Stage stage;
  bool operator==(const MainLeg&) const = default;
};

/// How fuel reaches the injectors and what holds its pressure.
enum class EngineSupply {
  returned,       ///< regulator behind the rail, return line
  returnless,     ///< regulator at the tank, one line to the rail
  high_pressure,  ///< low-pressure feed to a high-pressure pump
  carburettor     ///< needle and seat
};
constexpr const char* name_of(EngineSupply value) {
  switch (value) {
    case EngineSupply::returned:
      return "returned";
    case EngineSupply::returnless:
      return "returnless";
    case EngineSupply::high_pressure:
      return "high-pressure pump";
    case EngineSupply::carburettor:
      return "carburettor";
  }
  return nullptr;
}

enum class RailEntry { through, both_ends, dead_end };
constexpr const char* name_of(RailEntry value) {
  switch (value) {
    case RailEntry::through:
      return "through";
    case RailEntry::both_ends:
      return "both ends";
    case RailEntry::dead_end:
      return "dead end";
  }
  return nullptr;
}

/// One rail, or two with half of the injectors each. `in_series`: the crossover leads from the end of the
/// first to the start of the second. `side_by_side`: both are fed at their start and the crossover joins
/// their ends, the regulator in its middle unless they are dead ends; a feed leg that ends in ways side by
/// side leads each to its own.
enum class Rails { one, in_series, side_by_side };
constexpr const char* name_of(Rails value) {
  switch (value) {
    case Rails::one:
      return "one";
    case Rails::in_series:
      return "two in series";
    case Rails::side_by_side:
      return "two side by side";
  }
  return nullptr;
}

struct Rail {
  RailEntry entry = RailEntry::through;
  Rails rails = Rails::one;
  double crossover_bore = 0.0;    ///< m; 0: none
  double crossover_length = 0.0;  ///< m
  int injectors = 4;
  double bore = 12e-3;   ///< m
  double length = 0.4;   ///< m, first injector of a rail to its last
  std::string injector;  ///< type
  double duty_limit = 0.85;
  bool operator==(const Rail&) const = default;
};

/// `bypass`: lets go back what is too much. `dead_head`: stands at the end of the feed line, lets through
/// what is burnt and shuts; nothing goes back.
enum class RegulatorKind { bypass, dead_head };
constexpr const char* name_of(RegulatorKind value) {
  switch (value) {
    case RegulatorKind::bypass:
      return "bypass";
    case RegulatorKind::dead_head:
      return "dead head";
  }
  return nullptr;
}

struct Regulator {
  std::string type;
  RegulatorKind kind = RegulatorKind::bypass;
  double base = 3e5;  ///< Pa, as a gauge reads it: pump on, engine off, reference open, the return flowing
  bool referenced = true;  ///< to the manifold
  bool operator==(const Regulator&) const = default;
};

struct HighPressurePump {
  double least_inlet = 3.5e5;  ///< Pa over air
  bool operator==(const HighPressurePump&) const = default;
};

struct Carburettor {
  double seat = 3.5e-3;           ///< m, bore of all needle seats together
  double bowl = 120 * 1e-6;       ///< m3 in the bowls; as it comes from a file in ml
  double most_pressure = 0.35e5;  ///< Pa over air that the needle holds
  bool operator==(const Carburettor&) const = default;
};

enum class TransferKind { none, jet, balance_line };
constexpr const char* name_of(TransferKind value) {
  switch (value) {
    case TransferKind::none:
      return "none";
    case TransferKind::jet:
      return "jet";
    case TransferKind::balance_line:
      return "balance line";
  }
  return nullptr;
}

/// From the far side of a two-sided tank to the side of the pump.
struct Transfer {
  TransferKind kind = TransferKind::none;
  bool by_return = true;   ///< a jet driven by the engine's return; otherwise by a share of the lift flow
  double nozzle = 1.2e-3;  ///< m
  double throat = 3.5e-3;  ///< m
  Leg parts;               ///< of the line across
  bool operator==(const Transfer&) const = default;
};

struct Load {
  std::string name;
  double current = 0.0;  ///< A, with the engine running
  bool operator==(const Load&) const = default;
};

struct Charging {
  std::string alternator;                           ///< type; empty: none, the battery carries all
  double ratio = 2.5;                               ///< alternator's speed over the crankshaft's
  double battery = 0.0;                             ///< C
  double full_voltage = 12.8, flat_voltage = 11.8;  ///< V of the resting battery, full and empty
  double resistance = 8e-3;                         ///< ohm of the battery and its leads
  std::vector<Load> loads;                          ///< beside the pumps
  bool operator==(const Charging&) const = default;
};

/// What the heat balance needs beside the circuit.
struct HeatPlace {
  double ambient = 298.15;    ///< K, round tank and lines
  double tank_loss = 4.0;     ///< W/K, tank to the air
  double surge_loss = 1.0;    ///< W/K
  double engine_bay = 150.0;  ///< W that rail and lines take up from the engine
  bool operator==(const HeatPlace&) const = default;
};

/// Whether the tank's vent has a valve that shuts when the car lies on its roof.
enum class RollOverValve { not_said, fitted, missing };
constexpr const char* name_of(RollOverValve value) {
  switch (value) {
    case RollOverValve::not_said:
      return "not said";
    case RollOverValve::fitted:
      return "fitted";
    case RollOverValve::missing:
      return "missing";
  }
  return nullptr;
}

struct Circuit {
  EngineSupply engine_supply = EngineSupply::returned;
  std::vector<LiftLeg> lifts;
  bool surge_inside = true;  ///< the main tank
  double surge_vent = 0.0;   ///< m, bore of a vent of its own; 0: it breathes through the overflow
  Leg overflow;              ///< surge tank to main tank
  Leg tee;                   ///< where return and overflow are teed: from the tee to the main tank
  std::vector<SuctionLeg> suctions;
  std::vector<MainLeg> mains;
  Leg feed;  ///< merge to rail
  Rail rail;
  Regulator regulator;
  Leg back;  ///< regulator to where the return ends
  bool return_above_fuel = false;
  double return_fall = 0.1;  ///< m that it falls then
  HighPressurePump high_pressure;
  Carburettor carburettor;
  Transfer transfer;
  double tank_vent = 8e-3;  ///< m, bore
  RollOverValve roll_over = RollOverValve::not_said;
  double idle_manifold = 35e3;       ///< Pa, absolute
  double full_manifold = 101325.0;   ///< Pa, absolute, at full load
  double supply = 13.8;              ///< V, with the engine running
  double wished_drop = 0.5;          ///< V that a pump's wires may take
  double wire_temperature = 313.15;  ///< K
  Charging charging;
  HeatPlace heat;
  bool operator==(const Circuit&) const = default;
};

}  // namespace uadze::circuit
