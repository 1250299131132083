#pragma once
// Commissioning: the tests that a circuit passes before it runs, in order, each with what it should read by
// this circuit, its tolerance, and who looks.
//
//   leak, brim full -> hold -> prime -> run-up -> base pressure -> flow of each pump -> terminals' volts
//                                                  vent, charging, dip table, run-out, safety -> hot check
//
// Tolerances are typical: base pressure 3 %, 0.1 bar at the least; flow 10 %; volts 0.3 V; an own limit takes
// their place in the record. A hold test with nitrogen is corrected by the gas law, p/T constant; one with
// fuel can not be (a kelvin changes the pressure of a full line by a bar and more: 1.2e-3/K over the
// compressibility of fuel in hose), so it counts only where the temperature held within 0.5 K.
//
// Series' regulations, local codes and licensed practice stand above; a passed gate does not make a car safe.
//
// Example:
//   const circuit::Case c = test::plain_case();
//   const auto gates = build::commissioning(c, {.idle = 1e-6, .full = 33e-6});
//   const build::Gate& base = *build::find_gate(gates, "base pressure");
//   EXPECT_NEAR(*base.readings[0].value, 3e5, 0.1e5);      // Pa over air, by the gauge
//   const auto said = build::judge(base, {{{base.readings[0].what, 2.4e5}}});
//   EXPECT_FALSE(said.passed);
#include "core/base/phrase.h"
#include "core/circuit/circuit.h"

namespace uadze::build {

/// A figure to be read, and where it may lie.
struct Expected {
  std::string what;
  Quantity quantity = Quantity::plain;
  std::optional<double> value;      ///< SI, by the circuit; nothing: as it is found
  std::optional<double> low, high;  ///< SI; nothing: no limit there
  bool may_lack = false;            ///< the gate can be passed without it
};

struct Gate {
  std::string id;  ///< as records name it: "leak", "flow of main 1"
  std::string title;
  std::vector<std::string> how, cautions;
  std::vector<std::string> look;  ///< each is looked at and found good
  std::vector<Expected> readings;
  std::vector<std::string> ways;  ///< of doing it, where there are several
  std::string limit;
  bool two_people = false;         ///< another person looks and signs too
  bool instrument = false;         ///< one with a date of check is read
  double lasts = 0.0;              ///< s between its begin and its end, at the least
  int days = 0;                    ///< after so many it is due again; 0: never by itself
  std::vector<std::string> after;  ///< ids of gates that come first
  std::string content;             ///< of what it proves: where that changes it is open again
};

/// What the engine burns, and the conditions of the garage.
struct Garage {
  double idle = 0.0, full = 0.0;      ///< m3/s
  std::optional<double> supply;       ///< V at the battery; nothing: the circuit's
  std::optional<double> never_drawn;  ///< m3 that stay in the tank, by the model
};

std::vector<Gate> commissioning(const circuit::Case& c, const Garage& garage);
const Gate* find_gate(const std::vector<Gate>& gates, const std::string& id);

struct Measured {
  std::string what;
  double value = 0.0;  ///< SI
};

struct GateTest {
  std::vector<Measured> measured;
  std::vector<std::string> seen;  ///< of the gate's `look`
  std::string way;
  double lasted = 0.0;  ///< s since it was begun
};

struct Judgement {
  bool complete = false;  ///< all is there that a verdict needs
  bool passed = false;
  Phrase reason;
};
Judgement judge(const Gate& gate, const GateTest& test);

/// Name of the reading by which the expected flows are corrected: commissioning() is asked again with it.
inline constexpr const char* battery_reading = "volts at the battery";

/// "1.35 L / 30 s" or a flow with its unit: m3/s. Nothing if it can not be read.
std::optional<double> can_and_watch(std::string_view text, const UnitSystem& units = {});

}  // namespace uadze::build
