#pragma once
// Questions put to a circuit: what can it carry, what limits it, where does the pressure go, what should the
// gauge read, which size of line.
//
// Example:
//   const circuit::Case c = test::plain_case();
//   const circuit::Capacity can = capacity(c);
//   ASSERT_FALSE(can.limits.empty());
//   EXPECT_FALSE(can.limits.front().text.in().empty());     // what runs out first
//   EXPECT_FALSE(budget(c, run(c)).empty());                 // pickup to injector, part by part
#include <optional>

#include "core/base/derivation.h"
#include "core/circuit/circuit.h"

namespace uadze::circuit {

enum class LimitKind { supply, injectors, lift };

struct Limit {
  LimitKind kind = LimitKind::supply;
  double demand = 0.0;  ///< m3/s of the engine at which it is reached
  Phrase text;
};

/// What the circuit would give more if one part cost nothing.
struct PartCost {
  LegPlace leg;
  int part = 0;
  bool wiring = false;  ///< of a pump
  std::string label;
  double flow = 0.0;  ///< m3/s
};

struct Capacity {
  double available = 0.0;       ///< m3/s at set pressure
  std::vector<Limit> limits;    ///< the nearest first
  std::vector<PartCost> costs;  ///< dearest first; only with `costs`
};

Capacity capacity(const Case& c, bool costs = true);

struct SweepPoint {
  double power = 0.0, demand = 0.0;  ///< W, m3/s
  double available = 0.0;            ///< m3/s at set pressure
  double difference = 0.0;           ///< Pa across the injectors, least
  double rail = 0.0;                 ///< Pa over air, before the regulator (or at pump or needle)
  double duty = 0.0;
  double lift = 0.0, draining = 0.0;  ///< m3/s
  RegulatorMode mode = RegulatorMode::none;
};

struct SweepLoad {
  double demand = 0.0;                       ///< m3/s
  std::optional<double> manifold, throttle;  ///< Pa absolute, 0..1; nothing: the case's
};

/// Along loads; powers go along for the record.
std::vector<SweepPoint> sweep(const Case& c, const std::vector<double>& powers,
                              const std::vector<SweepLoad>& loads);

struct BudgetItem {
  LegPlace leg;
  int part = -1;
  std::string label;
  double change = 0.0;  ///< Pa, by friction or pump
  double head = 0.0;    ///< Pa, by height and acceleration
  double after = 0.0;   ///< Pa, absolute
};

/// From where the main pumps draw to the leanest injector, through the main pump that delivers most.
std::vector<BudgetItem> budget(const Case& c, const State& state);

struct GaugeRow {
  std::string condition;
  double manifold = 0.0;  ///< Pa, absolute
  double demand = 0.0;    ///< m3/s
  double wished = 0.0;    ///< Pa over air that the gauge should read
  double reads = 0.0;     ///< Pa over air that it will, in this circuit
  /// Pa over air that the regulator holds there with nothing going back; none where it holds nothing.
  std::optional<double> shut;
  double difference = 0.0;  ///< Pa across the injectors; 0 where the manifold stands over the rail
  RegulatorMode mode = RegulatorMode::none;
  bool met = true;  ///< false: not all of the demand comes, and it reads what is there at what does
};

/// Pump on and engine off, reference open; idle; full load unboosted; full load boosted (if it is).
std::vector<GaugeRow> gauge_card(const Case& c, double idle_demand, double full_demand);

/// What a line should keep to, typical.
struct LineLimits {
  double velocity = 3.0;  ///< m/s
  double loss = 20e3;     ///< Pa for lines and fittings of the leg
};
LineLimits line_limits(LegKind kind);

struct LineSize {
  int dash = 0;
  double bore = 0.0, velocity = 0.0, loss = 0.0;
  bool meets = false;
  bool fitted = false;
};

struct LineChoice {
  LegPlace leg;
  std::string hose;
  double flow = 0.0;
  LineLimits limits;
  std::vector<LineSize> sizes;
  int advised = 0;           ///< dash of the smallest that meets the limits; 0: none does
  double bought = 0.0;       ///< Pa that one size over the advised one saves
  double larger_gain = 0.0;  ///< m3/s more available with one size over the fitted one
};

/// For each leg that has lines of one hose by dash size: at the state's flow; overflow and tee at their
/// worst, with the engine off. `gains`: with larger_gain, which takes longer.
std::vector<LineChoice> line_choices(const Case& c, const State& state, bool gains = true);

/// Working of the rail's pressure difference and of a pump's voltage.
std::vector<Derivation> workings(const Case& c, const State& state);

/// Flow against pressure for a picture: the pump on its curve, and what the circuit asks for.
struct CurvePair {
  std::vector<double> rise;    ///< Pa
  std::vector<double> flow;    ///< m3/s, by the pump at its present wires
  std::vector<double> system;  ///< Pa of rise that the circuit needs to pass `flow`
};
CurvePair curves_of(const Case& c, const State& state, size_t pump);

}  // namespace uadze::circuit
