#pragma once
// After a session: what was put in, what was drained, what the car counted; and what that teaches of the
// consumption, its scatter and the car's own count, for sessions of that kind.
//
//   burnt = put in - drained,   c_k = burnt / laps worth,   e_k = burnt - counted (above 0: the car reads too much)
//
// Normal with unknown mean and scatter (conjugate update, Gelman et al. 2013, Bayesian Data Analysis, 3.3):
//   mean_n     = (k0 m0 + sum x) / (k0 + n)
//   nu_n s_n^2 = nu0 s0^2 + sum (x - mean)^2 + k0 n / (k0 + n) (mean - m0)^2,   nu_n = nu0 + n
// What is known before weighs as much as `one` session of the mean and `four` of the scatter: entered figures
// yield to measured ones, and one odd session does not make the scatter.
//
// Example:
//   const session::Normal before{2.5e-3, 0.05e-3};
//   const session::Normal after = session::updated(before, std::vector<double>{2.7e-3, 2.7e-3, 2.7e-3});
//   EXPECT_NEAR(after.mean, (2.5e-3 + 3 * 2.7e-3) / 4, 1e-15);
//   EXPECT_GT(after.deviation, before.deviation);    // it lay four deviations off
#include <span>

#include "core/session/plan.h"

namespace uadze::session {

struct Normal {
  double mean = 0.0, deviation = 0.0;
};

/// With nothing measured it stays as it is. `one`, `four`: how many measurements the first is worth.
Normal updated(const Normal& before, std::span<const double> measured, double one = 1.0, double four = 4.0);

/// Faults of a record alone: more drained than put in, nothing burnt.
Faults record_faults(const Record& record);

struct Learnt {
  Kind kind = Kind::practice;
  std::vector<double> per_lap;     ///< m3 a flying lap, of each record of this kind
  std::vector<double> reads_over;  ///< m3 that the car read too much, of those with a count
  Normal before, consumption;      ///< m3 a flying lap; the deviation is a whole session's
  Normal count_before, count;      ///< m3
  double gauge_error = 0.0;  ///< m3, mean and two deviations of the count: what the gauge may read too much
  Derivation working;
  /// Share of a session's consumption, as it is entered.
  double scatter() const { return consumption.mean > 0 ? consumption.deviation / consumption.mean : 0.0; }
};

/// What the records of sessions of the same kind, on the same lap, say for `session`; nothing without one.
/// `all`: the project's sessions, which the records name. `consumption`: m3, of the lap; `lap_time`: s.
std::optional<Learnt> learnt(const Session& session, const std::vector<Session>& all,
                             const std::vector<Record>& records, double consumption, double lap_time);

/// The session with what was learnt: consumption, its scatter, and the gauge's error if it was counted.
Session with_learnt(Session session, const Learnt& learnt);

}  // namespace uadze::session
