#pragma once
// The fuel between the tank's pickups and the engine: a surge tank, or only what line and filter hold.
//
//   supply (lift pumps x wet fraction) --> [ reserve, capacity C ] --> draw (engine's demand)
//                                              | overflow to the tank when full
//
// Volume balance dV/dt = supply - draw between 0 and C: what does not fit overflows, what is not there is a
// shortage. Flows are linear between samples, so the volume is quadratic; the instants at which the reserve
// empties or fills are found inside the step.
// It is the storage of the cumulative-deficit method (Rippl 1883; sequent peak, Thomas and Burden 1963): the
// reserve just stays clean when C equals the largest running deficit.
#include <span>
#include <vector>

namespace uadze::starvation {

struct ReserveInput {
  std::span<const double> time;    ///< s, strictly increasing
  std::span<const double> supply;  ///< m3/s
  std::span<const double> draw;    ///< m3/s
  double capacity = 0.0;           ///< m3
  double start = 0.0;              ///< m3
};

/// A stretch in which the reserve is empty while the engine wants more than comes in.
struct Shortage {
  double start = 0.0;   ///< s
  double end = 0.0;     ///< s
  double volume = 0.0;  ///< m3, wanted and not delivered
};

struct ReserveRun {
  std::vector<double> volume;  ///< m3, at each sample
  std::vector<Shortage> shortages;
  double supplied = 0.0;   ///< m3 over the run
  double delivered = 0.0;  ///< m3 to the engine
  double overflow = 0.0;   ///< m3 back to the tank
  double missing = 0.0;    ///< m3, the sum of the shortages
  double lowest = 0.0;     ///< m3
  /// start + supplied - delivered - overflow - end: zero but for rounding, m3.
  double balance_error = 0.0;
};

/// One pass over the samples.
ReserveRun run_reserve(const ReserveInput& input);

struct ReserveCycle {
  ReserveRun last;          ///< the lap that repeats itself (or the first, if it is not repeated)
  int laps = 1;             ///< laps driven until then
  int first_short_lap = 0;  ///< the first lap with a shortage, from 1; 0 if none
  bool settled = true;      ///< whether the last lap ended as it began
};

/// Repeats the lap from `input.start` until it ends with what it began with. Laps in which the reserve
/// neither fills nor empties only shift it by the lap's own balance, so runs of such laps are taken in one
/// stride.
ReserveCycle repeat_reserve(const ReserveInput& input, int most_laps = 1000000000);

/// Largest running deficit of supply against draw over the lap run twice (sequent peak), m3: the capacity
/// with which a full reserve just never empties. Infinite if the lap draws more than it is supplied.
double needed_capacity(const ReserveInput& input);

}  // namespace uadze::starvation
