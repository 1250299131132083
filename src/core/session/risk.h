#pragma once
// The least fuel for a session at a stated risk: what scatters is drawn many times, and the fuel is read
// where only the stated share of the draws needs more.
//
//   need = least end(g, damping, discharge, submergence) + laps worth x consumption + sample + gauge error
//
// Drawn, all normal and independent: consumption of the session and of each lap, mean lap time of a timed
// session (and with it the number of laps), grip, the model's other ranges (band.h; their ends stand for two
// standard deviations), gauge (its error stands for two). One draw of each per session; setups share draws,
// so that alternatives differ by what they are, not by luck.
//
// Example:
//   session::Session s{.lap = "dry", .laps = 10};
//   const session::PlanInput in{.least_end = 4e-3, .consumption_per_lap = 2.5e-3, .lap_time = 95, .density = 740,
//                               .tank_volume = 60e-3, .usable_volume = 57e-3};
//   const auto plan = plan_at_risk(s, in, nullptr, {.count = 2000, .seed = 1});
//   EXPECT_GT(plan.start, 29e-3);                                // m3
//   EXPECT_EQ(plan.causes[0].name, "consumption");     // of the scatter: covariance of the cause with the whole
#include <cmath>
#include <cstdint>

#include "core/session/plan.h"
#include "core/starvation/band.h"
#include "core/tank/gauge.h"

namespace uadze::session {

struct Draws {
  int count = 20000;
  std::uint64_t seed = 1;
};

struct Cause {
  std::string name;
  double deviation = 0.0;  ///< m3, standard deviation of its part
  double share = 0.0;      ///< of the variance of the whole, 0..1; all shares make 1
  double margin = 0.0;     ///< m3, its share of the margin
};

struct RiskPlan {
  double risk = 0.01;
  int draws = 0;
  std::uint64_t seed = 0;
  double start = 0.0, bring_back = 0.0;  ///< m3 in the main tank
  double start_mean = 0.0;               ///< m3, mean of what is needed
  double margin = 0.0;                   ///< m3: start - start_mean
  double start_error = 0.0;              ///< m3, standard error of `start` from the number of draws
  std::vector<Cause> causes;             ///< the largest first
  int least_laps = 0, most_laps = 0;     ///< of the longest stint, over the draws
  bool with_band = false;                ///< whether the model's band was in it
  bool fits = true;                      ///< false: more than may be filled
  /// Draws that this risk asks for: ten beyond it, or what is told is one draw's chance.
  int least_draws() const { return risk > 0 ? static_cast<int>(std::ceil(10 / risk - 1e-6)) : 0; }
};

/// Needs a session without faults. `band`: nothing while it is not known; the clean level is then taken as
/// certain.
RiskPlan plan_at_risk(const Session& session, const PlanInput& input, const starvation::ModelBand* band,
                      const Draws& draws = {});

/// Share of the draws in which a stint of so many laps needs more than `start` (m3).
double risk_of(const Session& session, const PlanInput& input, const starvation::ModelBand* band,
               const Draws& draws, int laps, const StintPlace& place, double start);

struct StintPlan {
  int laps = 0;
  double need = 0.0;         ///< m3 in the tank at its start, at the risk
  double add = 0.0;          ///< m3 to put in if the stint before left what it should bring back
  int latest_lap = 0;        ///< with all that may be filled in, the last lap of the stint at this risk
  double one_more = 0.0;     ///< m3 missing if one lap more is asked for
  double one_more_risk = 0;  ///< of starving on that lap
};

/// One for each stint of a session with stops; one for a session without.
std::vector<StintPlan> stint_plans(const Session& session, const PlanInput& input,
                                   const starvation::ModelBand* band, const Draws& draws = {});

/// What gauge and dip stick say at a volume, rounded up the safe way where they are printed.
struct Readings {
  std::optional<double> gauge;  ///< 0..1; nothing without a sender
  std::optional<double> dip;    ///< m, at `place`
  Vec2 place = Vec2::Zero();    ///< m
};
Readings readings(const tank::TankParts& parts, const tank::Tank& tank, double volume);

/// The team's rule of thumb ("never under a quarter") beside the computed plan.
struct RuleCheck {
  double share = 0.0;    ///< of the tank
  double start = 0.0;    ///< m3, by the rule
  double saved = 0.0;    ///< kg that the plan carries less (negative: more)
  bool starves = false;  ///< the rule's level is under the clean level
  std::string place;     ///< where it would starve first
};
/// All but the place.
RuleCheck check_rule(double rule, const Session& session, const PlanInput& input, double start);

Derivation risk_working(const RiskPlan& plan, const PlanInput& input, const Plan& sum);

}  // namespace uadze::session
