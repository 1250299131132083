#pragma once
// From the pickups to the injectors, step by step: surge tank, main pump, line, rail. All fuel is accounted
// for.
//
//   lifted --> [ surge tank C ] --main Q--> [ line, V_line: gas travels with Q ] --> rail --> burnt
//                 |       ^                                                        |
//                 v       +------------------- engine return ----------------------+
//              overflow --> tank        (or to the tank)
//
// Surge tank: dV/dt = lifted + return - drawn, overflow above C. The share of fuel in what the main pump
// draws falls from 1 to 0 between the volumes at which its pickup is covered and bare (surge.h). Gas that the
// lift pumps bring rises out, unless the fuel goes down faster than bubbles rise (Q/A over u): then the share
// 1 - u/(Q/A) of it comes along, delayed by the time V/Q that the surge tank's fuel takes.
// Filter: gas and fuel mix in its volume (a canister stirs a short sip of gas into foam that the rail bears).
// Line: plug flow: what enters arrives when the line's volume has passed.
// Rail: with fuel enough the pressure difference is the circuit's, p_fed. Otherwise the injectors empty the
// compliance K:   K dp/dt = Q_fuel - Q_engine sqrt(p/p_fed),   implicit in time, exact in volume.
//
// Limits: no gas that dissolves under pressure, which would be milder; a pump that draws gas is taken
// to move it on at the same flow, as long as it does.
//
// Example:
//   const starvation::FuelSystem car = test::surge_car(1e-3, 4e-5);
//   starvation::SupplyChain chain(chain_options(car), 3e5);
//   EXPECT_NEAR(chain.surge(), 1e-3, 1e-15) << "full";
//   EXPECT_NEAR(chain.difference(), 3e5, 1e-6);
#include <vector>

#include "core/starvation/surge.h"

namespace uadze::starvation {

struct ChainOptions {
  bool surge = false;
  double capacity = 0.0;  ///< m3, of the surge tank
  double area = 0.0;      ///< m2, of its floor
  circuit::ReturnTo back = circuit::ReturnTo::surge_tank;
  double line = 0.0;        ///< m3, without the filter
  double filter = 0.0;      ///< m3
  double compliance = 0.0;  ///< m3/Pa
  double bubble_rise = 0.1;
  bool bottomless = false;  ///< a surge tank that may be overdrawn: to see how deep the deficit goes
};

ChainOptions chain_options(const FuelSystem& car);

/// What holds during one step.
struct ChainStep {
  double time = 0.0;    ///< s, its length
  double fuel = 0.0;    ///< m3 that came from the pickups in the step
  double gas = 0.0;     ///< m3 of gas that came with it
  double main = 0.0;    ///< m3/s through the main pumps, not less than the demand
  double demand = 0.0;  ///< m3/s of the engine
  double fed = 3e5;     ///< Pa across the injectors with fuel only
  SurgeReach reach;
};

class SupplyChain {
 public:
  /// Full of fuel, with the rail at `fed` (Pa).
  SupplyChain(const ChainOptions& options, double fed);

  /// Moves on; the volume (m3) that goes back to the tank.
  double step(const ChainStep& step);

  double surge() const { return surge_; }                         ///< m3
  double line_fuel() const { return line_fuel_ + filter_fuel_; }  ///< m3
  double difference() const { return difference_; }               ///< Pa across the injectors
  double gas_drawn() const { return gas_drawn_; }  ///< share of gas at the main pump in the last step
  double burnt() const { return burnt_; }          ///< m3 since the beginning
  double missing() const { return missing_; }      ///< m3 wanted by the engine and not given
  double drawn() const { return drawn_; }          ///< m3 of fuel that the main pump drew in the last step
  double returned() const { return returned_; }    ///< m3 that came back from the rail in the last step
  double overflow() const { return overflow_; }    ///< m3 in the last step
  /// Fuel in surge tank, line and rail, m3.
  double held() const { return surge_ + line_fuel() + options_.compliance * difference_; }
  /// Appends what decides how it goes on, each in a measure of which 1e-4 is nothing.
  void tell_state(std::vector<double>& out) const;
  /// Sets the surge tank's volume and returns what that takes out of it.
  double shift_surge(double volume);

 private:
  /// Pushes a volume with some fuel in it through the filter; the fuel that it pushes out.
  double through_filter(double volume, double fuel);
  /// The same for the line.
  double through_line(double volume, double fuel);

  struct Slug {
    double volume, fuel;  // m3 in all; m3 of fuel
  };
  ChainOptions options_;
  double surge_ = 0.0, line_fuel_ = 0.0, filter_fuel_ = 0.0, difference_ = 0.0, carried_ = 0.0;
  double gas_drawn_ = 0.0, burnt_ = 0.0, missing_ = 0.0, drawn_ = 0.0, returned_ = 0.0, overflow_ = 0.0;
  std::vector<Slug> slugs_;
  size_t first_ = 0;  // slug next to the rail
};

}  // namespace uadze::starvation
