#pragma once
// What a setup says of its fuel supply beside tank and circuit, as plain values: lift pumps, surge tank,
// engine, and when it counts as starvation.
//
// Example:
//   using namespace uadze;
//   starvation::SurgeTank surge{.volume = 1.5e-3, .engine_return = circuit::ReturnTo::main_tank};
//   EXPECT_STREQ(name_of(surge.engine_return), "main tank");
#include <optional>
#include <string>

#include "core/base/vector.h"
#include "core/circuit/lap_faults.h"

namespace uadze::starvation {

struct LiftPump {
  std::string name;
  double flow = 0.0;  ///< m3/s, of fuel; where there is a circuit its mean by that (delivery.h)
  bool operator==(const LiftPump&) const = default;
};

/// An upright cylinder with the main pump's pickup on its floor.
struct SurgeTank {
  double volume = 0.0;  ///< m3, inside
  circuit::ReturnTo engine_return = circuit::ReturnTo::surge_tank;
  double height = 0.0;          ///< m, inside; 0: twice its diameter
  Vec2 pickup = Vec2::Zero();   ///< m, from its axis, forward and left
  double pickup_radius = 8e-3;  ///< m
  bool operator==(const SurgeTank&) const = default;
};

enum class DemandFrom { logged_flow, power };
constexpr const char* name_of(DemandFrom value) {
  switch (value) {
    case DemandFrom::logged_flow:
      return "logged flow";
    case DemandFrom::power:
      return "power";
  }
  return nullptr;
}

/// Fuel and mixture with which consumption, idle flow and logged flow were measured.
struct FigureFuel {
  double ethanol = 0.0, methanol = 0.0;  ///< fraction by volume
  std::optional<double> lambda;          ///< nothing: as the engine's
  std::optional<double> temperature;     ///< K; nothing: as the setup's fuel
  bool operator==(const FigureFuel&) const = default;
};

struct Engine {
  double power = 0.0;        ///< W, at full throttle
  double consumption = 0.0;  ///< kg/J, brake specific, at full load
  double idle_flow = 0.0;    ///< m3/s, at closed throttle
  DemandFrom demand = DemandFrom::logged_flow;
  double flow_scale = 1.0;               ///< on the logged flow: another map
  double lambda = 0.9;                   ///< air ratio at full load, with the setup's fuel
  std::optional<FigureFuel> figures_of;  ///< nothing: the setup's own fuel and mixture
  bool operator==(const Engine&) const = default;
};

/// m3 that stay in the tank whatever is done (never_drawn.h).
struct NeverDrawn {
  double under = 0.0;  ///< below every way to a pickup, at rest on the level
  double foam = 0.0;   ///< in foam's cells
  double film = 0.0;   ///< on the walls
  double total() const { return under + foam + film; }
};

/// When it counts as starvation: either for longer than its time.
struct Limits {
  circuit::LeanLimit mixture;  ///< of what low fuel makes lean (Course::limit)
  double gas = 0.5;            ///< share of gas at the main pump
  double gas_time = 0.5;       ///< s
  double compliance = 0.0;     ///< m3/Pa of rail and hoses; 0: by what line and filter hold
  double bubble_rise = 0.1;    ///< m/s, of bubbles half a millimetre across in petrol
  bool operator==(const Limits&) const = default;
};

}  // namespace uadze::starvation
