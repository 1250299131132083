#pragma once
// A resolved run in words and as a table.
//
// Example:
//   const tank::Tank tank = plain_tank(make_solid(tank::Box{{0, 0, 0}, {0.4, 0.2, 0.2}}));
//   const auto trace = lap::manoeuvre(lap::Manoeuvre::braking, {.strength = 1.0, .duration = 0.2});
//   const resolved::RunInput input{.tank = tank, .parts = {}, .drive = trace, .volume = 8e-3};
//   const auto ran = resolved::run(input, {.size = 0.05, .sample = 0.5});
//   EXPECT_TRUE(report::resolved_csv(tank, {}, ran).starts_with("time [s],centroid x [mm]"));
#include "core/report/build_report.h"
#include "core/solve/resolved_corners.h"

namespace uadze::report {

std::string resolved_csv(const tank::Tank& tank, const std::vector<tank::Pickup>& pickups,
                         const resolved::RunResult& run);
/// Cells, steps, iterations, how well volume was held; and, with the fast model beside it, how they agree.
std::string resolved_text(const solve::ResolvedJob& job, const resolved::RunResult& run, double seconds,
                          const solve::Agreement* agreement, const UnitSystem& units = {});

/// Corner by corner, level by level: how long bare by each, how far apart, and what that says.
Table corners_table(const std::vector<std::shared_ptr<const solve::CornerRow>>& rows,
                    const UnitSystem& units = {});
std::string corners_text(const std::vector<solve::CornerRow>& rows, const UnitSystem& units = {});
std::string corners_csv(const std::vector<solve::CornerRow>& rows);
/// What is kept, with its size.
Table runs_table(const std::vector<solve::KeptLine>& lines, const UnitSystem& units = {});
std::string runs_text(const std::vector<solve::KeptLine>& lines, const UnitSystem& units = {});

}  // namespace uadze::report
