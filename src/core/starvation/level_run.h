#pragma once
// One lap at one steady level: is every pickup covered, does the reserve last, and if not, where and why.
//
// "Level" is the fuel in the main tank, held steady over the lap (what is burnt is thought replaced), with
// the reserve full at first. With a surge tank the real tank holds more than the level whenever the surge
// tank is part empty, so the steady level errs on the safe side.
//
// With a surge tank:    supply = sum over lift pumps of flow x mean wet fraction of its pickups (gas rises
// out
//                       in the surge tank);  draw = the engine's demand, or all of the main pump's flow when
//                       the engine's return goes to the main tank.
// Without one:          the main pump draws at the pickup and circulates its whole flow Q (what the engine
// does not
//                       burn returns to the tank), so gas reaches the engine V/Q seconds after the pickup is
//                       bare, V being what line and filter hold: draw = Q, supply = wet fraction x Q. Once
//                       the whole sock is covered the line is filled again at Q. Gas that is drawn for a
//                       shorter time is taken as held back by the filter: enter a small V if it is not.
#include "core/lap/corner.h"
#include "core/starvation/fuel_system.h"
#include "core/starvation/reserve.h"

namespace uadze::starvation {

struct Event {
  double start = 0.0, end = 0.0;                    ///< s on the lap
  double start_distance = 0.0, end_distance = 0.0;  ///< m
  double missing = 0.0;                             ///< m3 wanted and not delivered
  std::string place;                                ///< corner, or where between corners
  std::string side;                                 ///< names of the bare pickups
  std::string cause;                                ///< a sentence
};

/// What the pickups see.
struct Coverage {
  /// [pickup][sample], 0..1: share of fuel in what it draws (tank/pickup.h: wet, and deep enough for its
  /// flow)
  std::vector<std::vector<double>> wet;
  std::vector<double> covered_least;  ///< [sample], the least of all pickups
  std::vector<double> covered_mean;   ///< [sample], their mean: 0 all bare, 1 all covered
};

struct LevelRun {
  double level = 0.0;  ///< m3
  Coverage coverage;
  std::vector<double> supply;  ///< m3/s, at each sample
  std::vector<double> draw;    ///< m3/s
  ReserveCycle cycle;
  std::vector<Event> events;

  double least_reserve = 0.0;  ///< m3
  double least_seconds =
      0.0;              ///< s: reserve over net draw, its least; infinite if the reserve is never drawn on
  size_t tightest = 0;  ///< sample at which the reserve is least in seconds
  std::string tightest_place;
  std::string tightest_side;           ///< the pickups bare before it, or ""
  std::vector<slosh::Instant> motion;  ///< the fuel at each sample; empty unless it was asked for
  bool clean() const { return events.empty(); }
};

/// The lap with what the runs need besides its channels.
struct Course {
  const lap::Lap* lap = nullptr;
  std::vector<lap::Corner> corners;
  bool repeated = true;        ///< a circuit; false: one run from rest
  std::vector<double> demand;  ///< m3/s, the engine's, at each sample
};

/// The fuel moves by the car's model. A repeated lap is entered from its own last seconds, so that the fuel
/// comes to its start as it does on the next lap; a run from rest begins with the fuel level.
Coverage coverage(const FuelSystem& car, const lap::Lap& lap, double level, bool repeated,
                  std::vector<slosh::Instant>* motion = nullptr);

/// The whole run with its events.
LevelRun run_level(const FuelSystem& car, const Course& course, double level, bool with_motion = false);

/// Only whether the lap is clean at the level: what the search for the minimum asks again and again.
bool is_clean(const FuelSystem& car, const Course& course, double level);

}  // namespace uadze::starvation
