#pragma once
// The march of a run: the moving fuel, the pickups' draw, the lift pumps, the surge tank, the line and the
// rail, step by step along a lap, with every drop accounted for.
//
// Several pickups of one pump share its flow as their mixtures' densities let them under the same suction:
// q ~ 1/sqrt(rho_m), rho_m = w rho + (1 - w) rho_gas. A bare pickup beside a covered one takes nearly all of
// it.
//
// Example:
//   const starvation::FuelSystem car = test::simple_car({0, 0, 0});
//   const lap::Lap lap = test::corner_lap(0.5 * standard_gravity, 8);
//   const starvation::Course course = test::course_of(car, lap);
//   starvation::Marcher march(car, course, 40e-3);
//   march.enter();               // the fuel comes to the lap's start as it does on a flying lap
//   starvation::LapTrace trace;
//   march.lap(trace);            // again for the next lap
//   EXPECT_TRUE(march.stretches().empty());
//   EXPECT_NEAR(march.ledger().error(), 0, 1e-12);
#include <array>
#include <optional>

#include "core/lap/corner.h"
#include "core/lap/force_trace.h"
#include "core/starvation/delivery.h"
#include "core/starvation/supply_chain.h"

namespace uadze::starvation {

/// The lap with what the runs need besides its channels.
struct Course {
  const lap::Lap* lap = nullptr;
  std::vector<lap::Corner> corners;
  bool repeated = true;                      ///< a circuit; false: one run from rest
  std::vector<double> demand;                ///< m3/s, the engine's, at each sample
  std::shared_ptr<const Delivery> delivery;  ///< nothing: the constants entered
  std::vector<SurgeReach> reach;             ///< of the surge tank, at each sample; empty: found by the run
  /// Pa across the injectors, at each sample, under which low fuel makes it too lean. Where the circuit with
  /// every pickup covered is under its limit already, that is a fault of the circuit (circuit/lap_faults.h)
  /// and only what is worse by a hundredth counts.
  std::vector<double> limit;
};

/// What the surge tank's pickup can not reach, at each sample; empty without a surge tank.
std::vector<SurgeReach> course_reach(const FuelSystem& car, const Course& course);

/// The limit of a course with delivery and reach in place.
std::vector<double> course_limit(const FuelSystem& car, const Course& course);
/// Whether at sample i the limit is what the circuit gives, not what the mixture asks for.
bool circuit_limits(const FuelSystem& car, const Course& course, size_t i);

/// Course with delivery, reach and limit in place. Throws InputError for a lap without demand, and for a
/// repeated lap that is over before the fuel has swung (`shortest_lap`).
Course completed(Course course, const FuelSystem& car);
inline constexpr double shortest_lap = 5.0;  ///< s

enum class Trouble { pressure, gas };

/// A stretch under a limit.
struct LeanStretch {
  Trouble kind = Trouble::pressure;
  double start = 0.0, end = 0.0;  ///< s on the lap; begun on the lap before: under its beginning
  double missing = 0.0;           ///< m3 that the engine wanted and did not get
  double lowest = 0.0;            ///< Pa, or the largest share of gas
};

/// Finds the stretches that last longer than their limit.
class LimitMonitor {
 public:
  explicit LimitMonitor(const Limits& limits) : limits_(limits) {}
  /// From `from` to `to` (s): the difference came to `difference`, the limit to `limit` (Pa), the main pump
  /// drew `gas`.
  void see(double from, double to, double difference, double limit, double gas, double missing);
  /// A new lap begins: times go back by `duration`, what is open goes on.
  void next_lap(double duration);
  /// Those of this lap, the open ones as far as they have gone.
  std::vector<LeanStretch> stretches() const;
  bool quiet() const { return found_.empty() && !counts(0) && !counts(1); }
  bool open() const { return is_open_[0] || is_open_[1]; }  ///< something is under its limit now

 private:
  bool counts(int kind) const;
  Limits limits_;
  std::array<LeanStretch, 2> open_{};
  std::array<char, 2> is_open_{};
  double before_ = 1.0;  // pressure over its limit, at the step's beginning
  std::vector<LeanStretch> found_;
};

/// Volumes of the whole run, m3.
struct Ledger {
  double start = 0.0;  ///< in tank, surge tank, line and rail
  double end = 0.0;    ///< there in the end
  double burnt = 0.0;
  double replaced = 0.0;  ///< put in to hold the level
  double error() const { return start + replaced - burnt - end; }
};

/// A moment on the lap with all that decides how it goes on.
struct Mark {
  size_t sample = 0;
  std::vector<double> state;  ///< of the fuel and the chain, in such measures that 1e-4 of each is nothing
  bool quiet = true;          ///< nothing is under its limit just then
  Ledger ledger;              ///< until then
  bool same_as(const Mark& other) const;
};

/// One lap by its samples. What happens between a sample and the next is kept with the first of them.
struct LapTrace {
  std::vector<std::vector<double>> wet;       ///< [pickup][sample] share of fuel in what it draws
  std::vector<double> supply, draw;           ///< m3/s into and out of the reserve
  std::vector<double> reserve;                ///< m3: surge tank, or fuel in the line
  std::vector<double> rail;                   ///< Pa across the injectors
  std::vector<double> gas;                    ///< share of gas at the main pump
  std::vector<double> level;                  ///< m3 in the main tank
  std::vector<double> fuel, vapour;           ///< m3 of fuel and gas from the pickups until the next sample
  std::vector<double> tank_heat, surge_heat;  ///< K, if there is a heat balance
  std::vector<slosh::Instant>* motion = nullptr;
  std::vector<Mark> marks;                ///< every half second, if asked for
  std::optional<size_t> taken_over = {};  ///< in `marks`: from there the lap is the one before
};

struct LapOptions {
  bool stop_at_trouble = false;
  bool mark = false;
  /// The lap before, with marks: where this one comes to the same state, it goes on as that did and is driven
  /// no further.
  const LapTrace* before = nullptr;
  size_t first = 0, last = static_cast<size_t>(-1);  ///< samples: only what is between them is driven
};

struct MarchOptions {
  bool hold = true;             ///< what is burnt is replaced: a steady level
  bool bottomless = false;      ///< the surge tank may be overdrawn
  bool heat = false;            ///< with temperatures, if the delivery has a heat balance
  double temperature = 293.15;  ///< K, at the start
  double longest_part = 0.02;   ///< s, of a step
};

class Marcher {
 public:
  /// The course must be completed() and outlive this; `level`: m3 in the main tank, surge tank and line full.
  Marcher(const FuelSystem& car, const Course& course, double level, const MarchOptions& options = {});

  /// Comes to a sample of the lap over the seconds before it (to the start over the lap's last), with the
  /// surge tank kept full; from rest: nothing.
  void enter(size_t sample = 0);
  /// The next lap is of another course, which must outlive this; a run from rest begins it standing level.
  void go_on(const Course& course);
  /// One lap. Stops early at the first trouble if so asked; true if it went to the end, if only by the lap
  /// before (then fuel, chain, stretches and ledger are as they were there).
  bool lap(LapTrace& trace, const LapOptions& how = {});
  std::vector<LeanStretch> stretches() const { return monitor_.stretches(); }
  const SupplyChain& chain() const { return chain_; }
  const slosh::FuelMotion& fuel() const { return fuel_; }
  Ledger ledger() const;
  /// m3 of what is drained and refilled: the surge tank, or the line.
  double reserve() const { return car_->surge ? chain_.surge() : chain_.line_fuel(); }
  /// Sets the surge tank's volume; the difference goes to the tank or comes from it.
  void set_surge(double volume);

 private:
  struct Intake {
    double fuel = 0.0, gas = 0.0;
  };
  Intake draw(const std::vector<size_t>& pickups, double flow, double dt);
  void come(size_t from, size_t to);
  void give_back(double volume);
  void move_across(double dt);
  void warm(const ChainStep& step, double back);
  void note(LapTrace& trace, size_t i, double supply);
  Mark mark(size_t sample) const;

  const FuelSystem* car_;
  const Course* course_;
  MarchOptions options_;
  lap::ForceTrace forces_;
  slosh::FuelMotion fuel_;
  SupplyChain chain_;
  LimitMonitor monitor_;
  std::vector<std::vector<size_t>> lift_pickups_;
  std::vector<size_t> engine_pickups_;
  std::vector<double> wet_;
  double spill_ = 0.0, replaced_ = 0.0, start_ = 0.0, lap_before_ = 0.0;
  circuit::Temperatures temperatures_;
};

/// The chain alone along a lap whose pickups' draw is known from a run: what another surge tank would have
/// made of it. `lacking`: m3 under full at the start. `laps`: repeated so often, the surge tank going on as
/// it ended. True if no trouble was found.
bool replay_is_clean(const FuelSystem& car, const Course& course, const LapTrace& trace, double lacking = 0.0,
                     int laps = 2);

}  // namespace uadze::starvation
