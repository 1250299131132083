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
  bool operator==(const PumpCurves&) const = default;
};

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
};

/// The fixed point of voltage and current through the wires: V = supply - resistance x current(rise, V).
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
