#pragma once
// Which pump class, and how many: every class of the catalogue put in the place of the fitted one, at the
// real pressure, voltage, temperature and wires. Main pumps as one to four alike, as a small one that always
// runs and another that is staged, with their speed brought down by pulses or a resistor where little is
// burnt, and driven by the engine.
//
// Example:
//   const circuit::Case c = test::plain_case();
//   const auto mains = sizing::main_pump_choices(c, c.at.demand, {.margin = 0.1});
//   ASSERT_FALSE(mains.empty());
//   EXPECT_TRUE(mains[0].meets);
//   EXPECT_GE(mains[0].flow, 1.1 * c.at.demand);
#include "core/base/progress.h"
#include "core/circuit/circuit.h"

namespace uadze::sizing {

struct PumpChoice {
  std::string type;
  int count = 1;
  std::string second;  ///< type of a staged pump beside; empty: none
  double slow = 1.0;   ///< share of the supply at a third of the demand; 1: not held back
  circuit::SpeedControl control = circuit::SpeedControl::none;  ///< by which it is held back
  double turns = 0.0;        ///< driven by the engine: its shaft's speed over the crankshaft's; 0: electric
  std::string name() const;  ///< "2 x main pump, 190 l/h class"
  double flow = 0.0;         ///< m3/s that it gives where it is needed
  double need = 0.0;         ///< m3/s, margin in it
  double current = 0.0;      ///< A, all of them, at full load
  double electric = 0.0;     ///< W, what runs of them at a third of the demand: what heats the fuel. Of an
                             ///< engine-driven one what it gives to the fuel, as fast as at full load
  double mass = 0.0;         ///< kg
  circuit::CostClass cost = circuit::CostClass::middle;
  bool meets = false;
  bool fitted = false;
  bool alcohol = true;  ///< stands the fuel's alcohol
};

/// Harder than the case by default: what is chosen has to do on a bad day.
struct PumpSizeOptions {
  double margin = 0.1;      ///< more than the demand, as a share
  double low_supply = 0.5;  ///< V less than the circuit's supply: a tired alternator
  double hot = 10.0;        ///< K more than the fuel's temperature
  int most = 4;             ///< pumps side by side
  size_t mixed = 4;         ///< of pairs of unlike pumps, and of speed-controlled ones, the best so many
  double plenty = 3.0;      ///< times the need: what gives more is not offered, it only heats the fuel
  double hopeless = 0.5;    ///< times the need: what gives less is not offered either
};

/// Of full demand, up to which two speeds hold the slow one: a third lies clear of the switch.
inline constexpr double slow_until = 0.4;

/// By their role in the catalogue; one without a role is offered for both. Lift pumps are electric.
bool offered_for_main(const circuit::PumpType& type);
bool offered_for_lift(const circuit::PumpType& type);

/// Main pumps at the case's point (full load, and its rotation); first those that meet the need and stand the
/// fuel, by electrical load, engine-driven ones behind the electric: they want a drive, and another pump to
/// start with. What gives plenty or is hopeless is there if it is fitted, or among the nearest where under
/// three serve.
std::vector<PumpChoice> main_pump_choices(const circuit::Case& c, double demand,
                                          const PumpSizeOptions& options = {}, Progress* progress = nullptr);

/// "what gives over 3 times the need, or under 50 % of it, is left out"
std::string left_out(const PumpSizeOptions& options = {});

/// Lift pumps, one for each lift leg. `need`: m3/s of all together, margin not in it.
std::vector<PumpChoice> lift_pump_choices(const circuit::Case& c, double need,
                                          const PumpSizeOptions& options = {}, Progress* progress = nullptr);

/// When a second pump (or all but the first) should come in, so that the first alone does for the rest.
struct Staging {
  bool worth_it = false;
  double alone = 0.0;  ///< m3/s that one pump gives at the set pressure, margin taken off
  double on = 0.0;     ///< of full demand, at which the second should run
  double off = 0.0;    ///< of full demand, at which it may stop
  double saved = 0.0;  ///< W of mean electrical load at a third of the demand
  Phrase text;
};
Staging propose_staging(const circuit::Case& c, const PumpChoice& pair, double demand,
                        const PumpSizeOptions& options = {});
/// The pair to stage: what is fitted if it is one, else the first of the choices whose first pump does not do
/// alone; null: none.
const PumpChoice* pair_to_stage(const std::vector<PumpChoice>& choices);

/// The case with its main pumps replaced (always running), or its lift pumps. A leg for each, as the first
/// is.
circuit::Case with_main_pumps(circuit::Case c, const std::string& type, int count);
/// As chosen: with the staged pump running, and speed control from full at full demand.
circuit::Case with_main_pumps(circuit::Case c, const PumpChoice& choice);
circuit::Case with_lift_pumps(circuit::Case c, const std::string& type);

}  // namespace uadze::sizing
