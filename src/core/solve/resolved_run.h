#pragma once
// The fuel of a setup resolved in three dimensions: on a lap or a part of it, a manoeuvre, or a recorded
// acceleration. And the fast model on the same seconds, laid beside it.
//
// Example:
//   using namespace uadze;
//   const auto opened = test::demo("ostrel-p4");
//   const auto job = solve::resolved_job(opened.project, {.alone = true},
//                                        {.level = 12e-3, .manoeuvre = lap::Manoeuvre::braking, .size = 0.04}, *opened.sources);
//   EXPECT_EQ(job.input().pickups.size(), 2u);
//   EXPECT_NEAR(job.input().volume, 12e-3, 1e-15);
#include "core/lap/manoeuvre.h"
#include "core/resolved/run.h"
#include "core/slosh/motion.h"
#include "core/solve/case.h"

namespace uadze::solve {

struct ResolvedAsk {
  double level = 0.0;  ///< m3
  std::optional<lap::Manoeuvre> manoeuvre = {};
  double strength = 1.2;               ///< g
  double grip = 1.0;                   ///< on lateral and longitudinal acceleration
  std::filesystem::path acceleration;  ///< a recorded one, in place of lap and manoeuvre
  std::optional<double> from, to;      ///< s of it; nothing: all
  double size = 0.015;                 ///< m
  double sample = 0.02;                ///< s
  bool draw = false;                   ///< pickups draw, and it comes back
};

/// All that a run needs, kept together.
struct ResolvedJob {
  std::string setup, driven;  ///< "Brackenholt, dry", "braking"
  std::shared_ptr<const tank::Assembly> assembled;
  starvation::FuelSystem car;
  lap::ForceTrace whole;      ///< the drive from its begin
  double from = 0.0;          ///< s of it where the run begins
  lap::ForceTrace drive;      ///< what is run
  slosh::MotionOptions fast;  ///< of the fast model on the same
  resolved::RunOptions options;
  ResolvedAsk ask;
  std::vector<double> draws;
  Vec3 back = Vec3::Zero();
  tank::MeshSource meshes;
  /// Where it begins in a drive that went on before: each space as the fast model has it there.
  std::vector<double> volumes;
  std::vector<tank::Plane> surfaces;
  resolved::RunInput input() const;
};

/// Throws InputError and UnknownName as resolve() and run() do.
ResolvedJob resolved_job(const project::Project& project, const Case& wanted, const ResolvedAsk& ask,
                         Sources& sources);

/// The fast model at the samples' instants.
std::vector<slosh::Instant> fast_beside(const ResolvedJob& job, const resolved::RunResult& run);

/// How far the two are apart.
struct Agreement {
  double centroid = 0.0;    ///< m, root mean square of their distance
  double most = 0.0;        ///< m
  std::vector<double> wet;  ///< of each pickup: share of instants in which both say wet, or both dry
  std::vector<double> dry_resolved, dry_fast;   ///< s that each pickup was less than half wet
  double bare_resolved = 0.0, bare_fast = 0.0;  ///< s that all were so at once
};
Agreement agreement(const resolved::RunResult& run, const std::vector<slosh::Instant>& fast);
/// Pickups wet and dry alike in nine of ten instants, and the middles as near as two grids of one solver.
bool agrees(const Agreement& a);
/// "The two agree within ..." or which pickup they part over, in a sentence.
Phrase verdict(const Agreement& a, const std::vector<tank::Pickup>& pickups);

}  // namespace uadze::solve
