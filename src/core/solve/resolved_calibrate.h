#pragma once
// The fast model's figures set by resolved runs of the same tank: inertia of the swing, damping of large
// waves, drag of its foam and discharge of its openings, each as a factor with how sure it is, in the record
// that logs make too (starvation/calibration.h). None goes beyond three of the prior's deviations: what would
// ask for more is wrong with something else.
//
// Least squares of the fuel's middle, and of what each space holds, at the runs' samples, with the figures'
// priors: chi2 = sum |c_fast - c_resolved|2/s2 + sum (V_fast - V_resolved)2/(s A)2 + sum ((k - 1)/prior)2. s
// is what is left at the best, at least a quarter of a cell; samples count once in `together_for` seconds, as
// what is wrong at one instant is wrong at the next. The deviation is chi2's curvature at the best, and no
// less than a third of the prior: the resolved run has errors of its own.
//
// Example:
//   using namespace uadze;
//   const auto opened = test::demo("ostrel-p4");
//   const auto job = solve::resolved_job(opened.project, {.alone = true},
//       {.level = 12e-3, .manoeuvre = lap::Manoeuvre::braking, .size = 0.05, .sample = 0.1}, *opened.sources);
//   const auto run = resolved::run(job.input(), job.options);
//   const auto learnt = solve::calibrate_resolved({{&job, &run}}, {}, "2026-11-28");
//   EXPECT_FALSE(learnt.value.figures.empty());
//   EXPECT_LE(learnt.after, learnt.before + 1e-9);
#include "core/solve/resolved_run.h"

namespace uadze::solve {

struct ResolvedPair {
  const ResolvedJob* job = nullptr;
  const resolved::RunResult* run = nullptr;
};

struct ResolvedLearnt {
  starvation::Calibration value;     ///< with what the setup had before; its origin names the runs
  double before = 0.0, after = 0.0;  ///< m, root mean square of the middle's distance
};

/// `had`: the setup's calibration, whose factors are in the jobs' fast model. Needs one run or more, of one
/// tank.
ResolvedLearnt calibrate_resolved(const std::vector<ResolvedPair>& runs,
                                  const std::optional<starvation::Calibration>& had, const std::string& date,
                                  Progress* progress = nullptr);

}  // namespace uadze::solve
