#pragma once
// The corners that hurt most, resolved at levels round the one under which they do, corner by corner beside
// the fast model.
//
// Example:
//   using namespace uadze;
//   const auto opened = test::demo("ostrel-p4");
//   const solve::CornersAsk ask{.levels = {5e-3}, .size = 0.05, .sample = 0.1};
//   const auto planned = solve::planned_checks({{"Lodge", 5e-3, 20.0, 21.0}}, ask, 60e-3);  // worst_corners finds them
//   const auto rows = solve::check_all(opened.project, {.alone = true}, planned, *opened.sources, {});
//   ASSERT_EQ(rows.size(), 1u);
//   EXPECT_FALSE(rows[0].corner.place.empty());
//   EXPECT_EQ(rows[0].fast.size(), rows[0].kept.run.samples.size());
//   EXPECT_NE(solve::verdict({std::make_shared<solve::CornerRow>(rows[0])}).in().find(rows[0].corner.place), std::string::npos);
#include "core/solve/lap_result.h"
#include "core/solve/resolved_store.h"

namespace uadze::solve {

/// A corner that hurts, with the seconds that decide it.
struct WorstCorner {
  std::string place;
  double hurts_under = 0.0;     ///< m3
  double from = 0.0, to = 0.0;  ///< s of the lap
  bool starves = true;          ///< false: only its pickups are bare there; what is in reserve bears it
};
/// Where the engine starves, the highest level first; then, as a reserve may bear all of it, where the
/// pickups are mostly bare for a fifth of a second, the highest level first. At most `most`.
std::vector<WorstCorner> worst_corners(const starvation::StarvationMap& map, const lap::Lap& lap,
                                       const std::vector<lap::Corner>& corners, size_t most);

/// Shares of the level under which a corner hurts at which it is resolved.
inline constexpr double round_the_level[] = {0.9, 1.0, 1.1};

struct CornersAsk {
  size_t corners = 3;
  std::vector<double> levels;  ///< m3; empty: round the level under which each hurts
  double size = 0.015;         ///< m
  double sample = 0.02;        ///< s
  bool draw = true;
};

struct CornerRow {
  WorstCorner corner;
  std::shared_ptr<const ResolvedJob> job;
  KeptRun kept;
  std::vector<slosh::Instant> fast;
  Agreement agreement;
};

/// What is to be run: a corner's seconds, or a manoeuvre, whose place is its name.
struct PlannedCheck {
  WorstCorner corner;
  ResolvedAsk ask;
};
/// Corners, and of each the levels from the lowest; none over what the tank holds.
std::vector<PlannedCheck> planned_checks(const std::vector<WorstCorner>& corners, const CornersAsk& ask,
                                         double tank_volume);

/// In order; progress counts all of them.
std::vector<CornerRow> check_all(const project::Project& project, const Case& wanted,
                                 const std::vector<PlannedCheck>& planned, Sources& sources,
                                 const KeepOptions& keep, Progress* progress = nullptr);
/// The lap's worst corners, found first.
std::vector<CornerRow> check_corners(const project::Project& project, const Case& wanted,
                                     const CornersAsk& ask, Sources& sources, const KeepOptions& keep,
                                     Progress* progress = nullptr);

/// In how many the fast model agrees, and where it is furthest off, in a sentence. Needs one row or more.
Phrase verdict(const std::vector<std::shared_ptr<const CornerRow>>& rows);

}  // namespace uadze::solve
