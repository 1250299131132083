#pragma once
// What flowed to the engine along a log, from the best that the log has:
//
//   logged flow         by volume, or by mass over the fuel's density. Most are the controller's reckoning for
//                       the set pressure: what was burnt is Q sqrt(dp / dp_set) where the pressure lacked
//   injector time       Q = N n/2 (t - t_dead(V)) q0 sqrt(dp / dp0)       four strokes: each injector opens
//   injector duty       Q = N d q0 sqrt(dp / dp0)                          once in two turns
//   lambda and air      Q = m_air / (lambda L) / rho                       L: stoichiometric air ratio
//   throttle and speed  a measure only, of no scale of its own
//
// N injectors, n the crankshaft's rotation (1/s), t the time that they are told to be open, q0 the flow of
// one held open at dp0 (injectors' law: orifice, Bernoulli). The dead time falls with the supply's voltage:
// t_dead(V) = t_dead(14 V) (14 V / V)^1.5, a judgement (about 1 ms at 14 V, 2 ms at 9 V); an injector's own
// table is better, and the litres put in are the check of all of it.
//
// Example:
//   const log::Log log = log::parse_log("Time [s],RPM,Inj Time [ms]\n0,6000,11\n1,6000,11\n", "a.csv").value;
//   const log::InjectorLaw law{.count = 4, .flow = 10e-6, .difference = 3e5, .dead_time = 1e-3};
//   EXPECT_NEAR(log::flow_along(log, {.injectors = law}).values[0], 4 * 50 * 10e-3 * 10e-6, 1e-12);   // m3/s
#include "core/base/derivation.h"
#include "core/log/laps.h"

namespace uadze::log {

struct InjectorLaw {
  int count = 4;
  double flow = 0.0;          ///< m3/s, of one held open
  double difference = 3e5;    ///< Pa at which that was measured
  double dead_time = 1.0e-3;  ///< s, at 14 V
};

/// s, at a supply's voltage.
double dead_time_at(const InjectorLaw& law, double volts);

enum class FlowFrom { nothing, meter, mass_meter, injector_time, injector_duty, air, measure };
constexpr const char* name_of(FlowFrom from) {
  switch (from) {
    case FlowFrom::nothing:
      return "nothing in the log";
    case FlowFrom::meter:
      return "fuel flow";
    case FlowFrom::mass_meter:
      return "fuel flow by mass";
    case FlowFrom::injector_time:
      return "injector time and engine speed";
    case FlowFrom::injector_duty:
      return "injector duty";
    case FlowFrom::air:
      return "air flow and lambda";
    case FlowFrom::measure:
      return "throttle and engine speed";
  }
  return nullptr;
}

struct FlowOptions {
  std::optional<InjectorLaw> injectors;  ///< nothing: injector channels give a measure only
  std::span<const double> difference;    ///< Pa across them at each moment; empty: `set` throughout
  double set = 0.0;                      ///< Pa, as it should be; 0: as where q0 was measured
  double density = 745.0;                ///< kg/m3
  double air_ratio = 14.7;               ///< kg/kg, stoichiometric
  std::optional<FlowFrom> from;          ///< the first that the log has, in the order of the names
};

struct FlowAlong {
  FlowFrom from = FlowFrom::nothing;
  bool absolute = false;       ///< m3/s; false: only how it goes up and down
  std::vector<double> values;  ///< at each moment, not under 0; 0 where the channel never spoke
};

FlowAlong flow_along(const Log& log, const FlowOptions& options = {});

/// Between two times (s of the log), m3 or the measure's own: the sum by trapezia, nothing over the gaps
/// between parts.
double flowed(const Log& log, const FlowAlong& flow, double begin, double end);

/// What each lap burnt, and how flying laps scatter.
struct LapsBurnt {
  std::vector<double> each;            ///< m3, of each lap of `laps.all`
  size_t flying = 0;                   ///< laps that mean and scatter are of
  double mean = 0.0, deviation = 0.0;  ///< m3 of a flying lap
};
LapsBurnt laps_burnt(const Log& log, const Laps& laps, const FlowAlong& flow, double scale = 1.0);

/// Litres put in less those drained against what the flow sums up to: the scale that makes them agree.
struct FlowCheck {
  double counted = 0.0, burnt = 0.0;  ///< m3
  double residual() const { return counted - burnt; }
  double scale() const { return counted > 0 ? burnt / counted : 1.0; }
};
Derivation flow_check_working(const FlowCheck& check, FlowFrom from);

}  // namespace uadze::log
