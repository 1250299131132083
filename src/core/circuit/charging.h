#pragma once
// The car's voltage: alternator, battery, loads, and the battery's charge over a session.
//
//   alternator --+---- loads, pumps          enough:     V = supply (what its regulator holds)
//   battery -----+                           not enough: V = rest(charge) - R (load - output), at most supply
//
// The resting voltage falls straight from full to flat with the charge. Surface charge, which holds a battery
// up for seconds after it was charged, is left out: to the safe side. What is charged counts for 85 % (lead
// acid, typical); a battery is never over full.
//
// Example:
//   circuit::Circuit k;
//   k.charging = {.battery = 20 * 3600.0, .full_voltage = 12.8, .resistance = 10e-3};
//   const circuit::Bus bus = circuit::bus_at(k, *project::shipped_catalogue(), 100.0, 30.0, 1.0);
//   EXPECT_NEAR(bus.voltage, 12.8 - 30 * 10e-3, 1e-12);   // no alternator: the battery carries all
#include "core/circuit/load_trace.h"

namespace uadze::circuit {

struct Bus {
  double voltage = 0.0;   ///< V
  double output = 0.0;    ///< A that the alternator can give
  double charging = 0.0;  ///< A into the battery's charge, efficiency in it; negative: out of it
};

/// Whether the circuit says enough of its battery for a voltage of its own; else it has its supply.
bool has_battery(const Circuit& circuit);

/// `rotation`: 1/s of the crankshaft; `load`: A of all; `charge`: 0..1 of the battery's.
Bus bus_at(const Circuit& circuit, const Catalogue& catalogue, double rotation, double load, double charge);
/// A of all loads but the pumps.
double other_loads(const Circuit& circuit);

/// Whether the voltage follows from battery, loads and speed at the case's moment: there is a battery, and
/// the speed of an alternator is known.
bool has_own_voltage(const Circuit& circuit, bool rotation_known);
/// V at the case's rotation and charge, with the pumps at what they take then.
double own_voltage(const Case& c);

/// Of one lap, by its points: A of loads and output on the mean, and A that leave the battery's charge.
struct ChargeBalance {
  double load = 0.0, output = 0.0, drain = 0.0;
};
ChargeBalance charge_balance(const Case& c, const LoadRun& lap);

/// Whether the battery would lose over laps at these speeds (1/s) with all at what it takes at the case's
/// point: at full load, more than along any lap.
bool may_discharge(const Case& full, const std::vector<double>& time, const std::vector<double>& rotation);

struct ChargeRun {
  std::vector<double> time, charge;           ///< s, C left in the battery
  std::vector<double> voltage;                ///< V, the least of the lap that begins then
  double mean_load = 0.0, mean_output = 0.0;  ///< A, of the first lap
  double least = 0.0;                         ///< C
  double empty_after = 0.0;                   ///< s; infinite if it lasts
  double least_voltage = 0.0;                 ///< V
  LoadRun last;                               ///< the session's last lap at its voltage
};
/// The lap repeated over a session, the pumps at the voltage that is left; needs rotation for an alternator,
/// which otherwise gives nothing. `lap`: with a full battery.
ChargeRun run_charge(const Case& c, const LoadTrace& trace, const LoadRun& lap, double duration,
                     Progress* progress = nullptr);

}  // namespace uadze::circuit
