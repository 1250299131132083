#pragma once
// A pump as measured curves: flow and current against pressure rise, at several voltages (electric) or shaft
// speeds (engine-driven).
//
//        flow
//         |----.___   13.5 V
//         |---.    `--.
//         |    `-. 12 V`.           flow never rises with pressure
//         +---------------- rise
//
// Between two voltages flow and current are linear in voltage at the same rise; outside them the nearest
// curve is scaled by the affinity laws (flow ~ n, pressure ~ n2, n ~ voltage; current by torque, ~ n2).
//
// A relief valve in the pump lets fuel back to its inlet above its opening pressure: all that the pump moves
// a tenth above it, as spring valves of this size do. So the pressure at a blocked outlet has an end.
//
// A pump of few strokes draws in jerks. With the mean flow q its inlet sees q (1 + (k - 1) cos wt), w by
// strokes a second and k the peak over the mean. The column in the suction has the inertance
// I = sum rho L/A and the loss's slope R, the inlet (dome, hose) the compliance C. Forced motion of the one
// mass: the inlet's pressure swings by (k - 1) q |Z|, Z = (R + iwI) / (1 - w^2 I C + iwRC). Linear; higher
// harmonics are left out, so it is the least that a real stroke does.
//
// Example:
//   const circuit::PumpCurves pump = circuit::estimated_curves({.flow = 71e-6, .pressure = 3e5, .voltage = 13.5});
//   EXPECT_NEAR(operate(pump, 3e5, 13.5).flow, 71e-6, 1e-12);   // m3/s at that rise and voltage at the pump
//   EXPECT_LT(wired(pump, 3e5, {.supply = 13.5, .resistance = 0.05}).flow, 71e-6);   // the same through its wires
#include <filesystem>
#include <string>
#include <vector>

#include "core/base/fault.h"

namespace uadze::circuit {

struct CurvePoint {
  double pressure = 0.0;  ///< Pa, rise from inlet to outlet
  double flow = 0.0;      ///< m3/s
  double current = 0.0;   ///< A
  bool operator==(const CurvePoint&) const = default;
};

struct PumpCurve {
  double drive = 13.5;             ///< V, or 1/s of the pump's shaft
  std::vector<CurvePoint> points;  ///< by rising pressure
  bool operator==(const PumpCurve&) const = default;
};

struct PumpCurves {
  std::vector<PumpCurve> curves;  ///< by rising drive
  bool engine_driven = false;
  bool estimated = false;     ///< from a single point
  double inlet_margin = 8e3;  ///< Pa over vapour pressure that the inlet needs for full flow
  double idle_leak = 10e-6;   ///< m3/s back through the standing pump at 1 bar
  double relief = 0.0;        ///< Pa of rise that open its relief valve; 0: none
  double locked = 0.0;        ///< A with the rotor held, at the highest curve's voltage; 0: estimated
  double peak_flow = 1.0;     ///< peak over mean of what the inlet draws; 1: smooth
  double strokes = 1.0;       ///< of a shaft's turn
  double compliance = 0.0;    ///< m3/Pa of the inlet
  bool operator==(const PumpCurves&) const = default;
};

/// A with the rotor held, at `voltage` at the terminals: by its figure, or four times the greatest current
/// of its curves (brushed motors of this size: 3 to 5 times, typical); proportional to the voltage.
double locked_current(const PumpCurves& pump, double voltage);

/// Whether a rise and drive lie in what was measured: within the curves' voltages (a tenth of a volt, or
/// speed, let pass) and pressures.
bool measured(const PumpCurves& pump, double rise, double drive);

/// Pa s/m3: swing of the inlet's pressure for each m3/s of mean flow, see above. `rotation`: 1/s of the
/// shaft; `inertance`: Pa s2/m3; `resistance`: Pa s/m3. 0 for smooth pumps.
double inlet_swing(const PumpCurves& pump, double rotation, double inertance, double resistance);

/// What is wrong with the curves: empty, falling pressure, rising flow, and the like.
Faults curve_faults(const PumpCurves& pump);

struct Operation {
  double flow = 0.0, current = 0.0;
  double flow_by_rise = 0.0;  ///< d flow / d rise, not above 0
  double voltage = 0.0;       ///< at the pump; or its shaft speed
  double current_by_rise = 0.0, flow_by_drive = 0.0, current_by_drive = 0.0;
};

/// With the given voltage at the pump's own terminals.
Operation operate(const PumpCurves& pump, double rise, double drive);

struct PumpDrive {
  double supply = 13.5;     ///< V, or 1/s
  double resistance = 0.0;  ///< ohm, there and back
  double share = 1.0;       ///< 0..1 of the voltage that a speed control lets through
  bool modulated = false;  ///< by pulses: the battery's current is that share of the motor's; else a resistor
  double yield = 1.0;      ///< measured flow over the curves', worn or better than its class
  double battery_current(double motor) const { return modulated ? share * motor : motor; }
};

/// The fixed point of voltage and current through the wires: V = share supply - resistance x current(rise,
/// V); pulses meet the wires' resistance for their share of the time only.
Operation wired(const PumpCurves& pump, double rise, const PumpDrive& drive);

/// One point of a data sheet.
struct SinglePoint {
  double flow = 0.0;      ///< m3/s
  double pressure = 3e5;  ///< Pa
  double voltage = 13.5;
  double current = 0.0;  ///< A; 0: estimated
};

/// A curve through one point, as turbine pumps have it: Q = Q0 (1 - (p/p0)^2) with Q0 15 % over the point's
/// flow, so p0 = 2.77 times its pressure; current rising evenly with pressure, from a third of the point's.
/// Without a current it is 30 % hydraulic efficiency at the point. An estimate, and marked so.
PumpCurves estimated_curves(const SinglePoint& point);

/// A curve measured on a bench: CSV with voltage [V], pressure [bar], flow [l/h], current [A]; rows in any
/// order; units by the header. Throws InputError naming file, line and column.
PumpCurves read_bench_curve(const std::filesystem::path& path);
PumpCurves parse_bench_curve(std::string_view text, const std::string& file);

}  // namespace uadze::circuit
