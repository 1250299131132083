#pragma once
// A lap as it enters a project: under a name that is free, with corners.
//
// Example:
//   const project::Project p = test::demo("ostrel-p4").project;
//   const lap::Lap lap = lap::read_lap(test::source("demo/laps/brackenholt-p4.csv")).value;
//   const project::LapReference added = solve::lap_reference(p, lap, p.laps[0].name, "laps/practice-7.csv");
//   EXPECT_EQ(added.name, p.laps[0].name + " (2)");
//   EXPECT_EQ(added.corners, p.laps[0].corners);       // the same track
#include "core/project/project.h"

namespace uadze::solve {

/// Corners of the project's first lap whose corners are this lap's: within its length, and to the same hands;
/// else those that the lap itself shows.
project::LapReference lap_reference(const project::Project& project, const lap::Lap& lap,
                                    const std::string& name, const std::string& file);

/// Corners that the lap shows and the list does not have, put in their order along the lap.
void add_proposed_corners(std::vector<lap::Corner>& corners, const lap::Lap& lap);

}  // namespace uadze::solve
