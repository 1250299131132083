#pragma once
// What gauge, can and voltmeter should read in the garage, by the circuit; and, where they read otherwise,
// which faults would make them read so.
//
// Example:
//   const circuit::Case c = test::plain_case();
//   const auto flows = build::flow_readings(c);
//   ASSERT_EQ(flows.size(), 2u);                       // one lift pump, one main pump
//   EXPECT_EQ(flows[1].pump, "main");
//   EXPECT_GT(flows[1].flow, c.at.demand);              // m3/s into the can
#include "core/base/phrase.h"
#include "core/circuit/circuit.h"

namespace uadze::build {

/// Names of a flow test's readings; those of its filters stand in FilterReading.
inline constexpr const char* flow_reading = "flow";
inline constexpr const char* volts_reading = "volts at the pump";
/// Pa by which two usual gauges are off each other.
inline constexpr double gauges_apart = 3e3;

struct PressureReading {
  std::string what;    ///< "Idle"
  double value = 0.0;  ///< Pa over air
  bool garage = true;  ///< can be read without load
};
/// Of the gauge card (circuit/analysis.h); of a carburettor its inlet.
std::vector<PressureReading> gauge_readings(const circuit::Case& c, double idle, double full);

/// One pump alone into a can: a lift pump from its line's end, a main pump by the return at base pressure,
/// or, where nothing returns, from the feed's end through a tap set to the base.
struct FilterReading {
  circuit::LegPlace leg;
  int part = 0;
  std::string what;     ///< "loss of the fine filter, 10 micron"
  double loss = 0.0;    ///< Pa
  double loaded = 0.0;  ///< Pa, of one that is due
};
struct FlowReading {
  circuit::LegPlace leg;
  int part = 0;
  std::string pump;
  std::string how;
  double flow = 0.0;                   ///< m3/s
  double voltage = 0.0;                ///< V at its terminals; 0: no electric pump
  std::vector<FilterReading> filters;  ///< that all of it goes through, by two gauges
  std::string content;                 ///< of what decides it
};
std::vector<FlowReading> flow_readings(const circuit::Case& c);

/// A fault that would explain readings, at the strength that does so best.
struct Explanation {
  Phrase text;
  double misfit = 0.0;  ///< root mean square of what is left, over the tolerance: under 1 it fits
};
/// Of readings by the names of gauge_readings() (`flow_of` empty) or of one flow test: those that fit best
/// first, at most five; none where they are as expected.
struct Puzzle {
  double idle = 0.0, full = 0.0;                         ///< m3/s
  std::string flow_of;                                   ///< the pump whose flow was measured
  std::vector<std::pair<std::string, double>> measured;  ///< what and SI
};
std::vector<Explanation> explanations(const circuit::Case& c, const Puzzle& puzzle);

/// ohm beside the entered wiring that would explain the volts at a pump's terminals; nothing where the part
/// is no electric pump or the volts can not be.
std::optional<double> extra_resistance(const circuit::Case& c, const FlowReading& of, double terminals);

}  // namespace uadze::build
