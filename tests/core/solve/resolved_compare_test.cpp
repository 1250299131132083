// The fast model beside a resolved run, and what is learnt from one: with runs whose answer is known, since
// the fast model itself made them.
#include <gtest/gtest.h>

#include "core/solve/resolved_calibrate.h"
#include "core/solve/resolved_corners.h"
#include "support/demo.h"
#include "support/random_shapes.h"

namespace uadze::solve {
namespace {

using starvation::Figure;

ResolvedJob job_of(const std::string& demo, double level, lap::Manoeuvre manoeuvre) {
  const auto opened = test::demo(demo);
  return resolved_job(opened.project, {.alone = true},
                      {.level = level, .manoeuvre = manoeuvre, .size = 0.01, .sample = 0.05},
                      *opened.sources);
}

/// What a resolved run would give if the fuel moved as the fast model of `job` has it.
resolved::RunResult as_if_resolved(const ResolvedJob& job) {
  resolved::RunResult out;
  for (double t = job.drive.begin(); t < job.drive.end() + 1e-9; t += job.options.sample)
    out.samples.push_back({.time = t});
  const auto fast = fast_beside(job, out);
  out.samples.resize(std::min(out.samples.size(), fast.size()));
  for (size_t k = 0; k < out.samples.size(); ++k) {
    resolved::Sample& s = out.samples[k];
    s.centroid = fast[k].centroid, s.space = fast[k].volume, s.wet = fast[k].wet, s.volume = fast[k].total;
  }
  return out;
}

TEST(ResolvedBeside, AModelAgreesWithItself) {
  for (const char* demo : {"ostrel-p4", "ostrel-tarn", "ostrel-wisp"}) {
    const ResolvedJob job = job_of(demo, 6e-3, lap::Manoeuvre::braking);
    const auto run = as_if_resolved(job);
    const Agreement a = agreement(run, fast_beside(job, run));
    EXPECT_EQ(a.centroid, 0.0) << demo;
    EXPECT_EQ(a.bare_resolved, a.bare_fast) << demo;
    EXPECT_TRUE(agrees(a)) << demo;
    EXPECT_NE(verdict(a, job.car.pickups).in().find("agrees"), std::string::npos) << demo;
  }
}

// Pickups that are dry in turns leave the engine a pickup all the while: bare is only when all are dry at
// once.
TEST(ResolvedBeside, BareIsWhenAllPickupsAreDryAtOnce) {
  resolved::RunResult run;
  std::vector<slosh::Instant> fast;
  const auto add = [&](std::vector<double> wet, std::vector<double> by_fast) {
    const double t = 0.1 * static_cast<double>(run.samples.size());
    run.samples.push_back({.time = t, .volume = 1e-3, .wet = std::move(wet)});
    fast.push_back({.time = t, .wet = std::move(by_fast)});
  };
  for (int k = 0; k < 10; ++k) add({k % 2 == 0 ? 1.0 : 0.0, k % 2 == 0 ? 0.0 : 1.0}, {1, 1});
  for (int k = 0; k < 3; ++k) add({0.2, 0.4}, {0.6, 0.1});
  for (int k = 0; k < 2; ++k) add({0.9, 0.9}, {0.0, 0.49});
  const Agreement a = agreement(run, fast);
  EXPECT_NEAR(a.bare_resolved, 0.3, 1e-12);
  EXPECT_NEAR(a.bare_fast, 0.2, 1e-12);
  EXPECT_NEAR(a.dry_resolved[0], 0.8, 1e-12);
  EXPECT_NEAR(a.dry_resolved[1], 0.8, 1e-12);
  EXPECT_NEAR(a.dry_fast[0], 0.2, 1e-12);
  EXPECT_NEAR(a.dry_fast[1], 0.5, 1e-12);
  EXPECT_EQ(a.centroid, 0.0);
}

// Figures put into the runs are found again, on top of those that the setup had, and no surer than the prior.
TEST(ResolvedCalibration, FindsWhatWasPutIn) {
  test::Random random(71);
  for (int trial = 0; trial < 2; ++trial) {
    const double inertia = random.uniform(0.85, 1.2), damping = random.uniform(0.75, 1.35),
                 discharge = random.uniform(0.94, 1.06);
    std::vector<ResolvedJob> jobs;
    std::vector<resolved::RunResult> runs;
    for (const auto& [m, level] :
         {std::pair{lap::Manoeuvre::braking, 9e-3}, {lap::Manoeuvre::turn_left, 20e-3}})
      jobs.push_back(job_of("ostrel-tarn", level, m));
    for (const ResolvedJob& job : jobs) {
      ResolvedJob truth = job;
      truth.fast.tank.planar.inertia *= inertia;
      truth.fast.tank.planar.violent_damping *= damping;
      truth.fast.tank.flow.discharge_scale *= discharge;
      runs.push_back(as_if_resolved(truth));
    }
    std::vector<ResolvedPair> pairs;
    for (size_t k = 0; k < jobs.size(); ++k) pairs.push_back({&jobs[k], &runs[k]});
    starvation::Calibration had{.date = "2026-03-01"};
    had.figures = {{Figure::hold, 1.1, 0.05}, {Figure::inertia, 1.04, 0.05}};
    const ResolvedLearnt learnt = calibrate_resolved(pairs, had, "2026-11-28");
    EXPECT_LT(learnt.after, 0.3 * learnt.before) << trial;
    EXPECT_NEAR(starvation::factor_of(learnt.value, Figure::inertia), 1.04 * inertia, 0.03) << trial;
    EXPECT_NEAR(starvation::factor_of(learnt.value, Figure::damping), damping, 0.12) << trial;
    EXPECT_NEAR(starvation::factor_of(learnt.value, Figure::discharge), discharge, 0.05) << trial;
    EXPECT_EQ(starvation::factor_of(learnt.value, Figure::hold), 1.1);
    for (const auto f : {Figure::inertia, Figure::damping, Figure::discharge}) {
      const double sure = starvation::deviation_of(learnt.value, f), prior = starvation::prior_deviation(f);
      EXPECT_GE(sure, prior / 3 - 1e-12);
      EXPECT_LE(sure, prior);
    }
    EXPECT_EQ(learnt.value.logs.size(), jobs.size());
  }
}

// Only a tank with foam is asked for its drag; and a run that no figure explains takes none beyond what can
// be.
TEST(ResolvedCalibration, FoamsDragIsFoundAndNothingGoesBeyondWhatCanBe) {
  std::vector<ResolvedJob> jobs;
  std::vector<resolved::RunResult> runs;
  for (const auto& [m, level] :
       {std::pair{lap::Manoeuvre::braking, 10e-3}, {lap::Manoeuvre::slalom, 25e-3}}) {
    jobs.push_back(job_of("ostrel-p4", level, m));
    ResolvedJob truth = jobs.back();
    truth.fast.tank.planar.foam = 0.6;
    runs.push_back(as_if_resolved(truth));
  }
  std::vector<ResolvedPair> pairs;
  for (size_t k = 0; k < jobs.size(); ++k) pairs.push_back({&jobs[k], &runs[k]});
  const auto learnt = calibrate_resolved(pairs, {}, "2026-11-28");
  EXPECT_NEAR(starvation::factor_of(learnt.value, Figure::foam), 0.6, 0.12);
  EXPECT_NEAR(starvation::factor_of(learnt.value, Figure::inertia), 1, 0.12);
  EXPECT_LT(learnt.after, 0.4 * learnt.before);
  const ResolvedJob& job = jobs.front();
  auto absurd = runs.front();
  for (auto& s : absurd.samples) s.centroid = -s.centroid;
  for (const auto& f : calibrate_resolved({{&job, &absurd}}, {}, "2026-11-28").value.figures)
    EXPECT_LE(std::abs(f.factor - 1), 3 * starvation::prior_deviation(f.figure)) << name_of(f.figure);
  const ResolvedJob tarn = job_of("ostrel-tarn", 14e-3, lap::Manoeuvre::braking);
  const auto own = as_if_resolved(tarn);
  for (const auto& f : calibrate_resolved({{&tarn, &own}}, {}, "2026-11-28").value.figures) {
    EXPECT_NE(f.figure, Figure::foam);
    EXPECT_NEAR(f.factor, 1, 0.02) << name_of(f.figure);
  }
}

TEST(ResolvedCalibration, LogsTakeOverWhatTheyCanNotTell) {
  starvation::Calibration had{.date = "2026-03-01"};
  had.figures = {{Figure::inertia, 1.08, 0.04}, {Figure::damping, 1.3, 0.05}, {Figure::foam, 0.7, 0.1}};
  starvation::Calibration logs{.date = "2026-04-01", .laps = 9};
  logs.figures = {{Figure::damping, 0.9, 0.06}};
  const auto both = starvation::with_what_logs_do_not_tell(logs, had);
  EXPECT_EQ(starvation::factor_of(both, Figure::inertia), 1.08);
  EXPECT_EQ(starvation::factor_of(both, Figure::damping), 0.9);
  EXPECT_EQ(starvation::factor_of(both, Figure::foam), 0.7);
  EXPECT_EQ(both.laps, 9);
  EXPECT_EQ(starvation::with_what_logs_do_not_tell(logs, {}), logs);
}

}  // namespace
}  // namespace uadze::solve
