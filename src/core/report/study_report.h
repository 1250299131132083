#pragma once
// A gathered study as a table, a row a choice.
//
// Example:
//   solve::Gathered gathered;
//   gathered.choices = {{.name = "pickup 20 mm back, 8 L", .level = 8e-3, .longest = 0.4, .worst_case = "braking", .done = 2, .best = true}};
//   const report::Table table = report::choices_table(gathered, 2);
//   EXPECT_EQ(table.rows[0][1], "8.0 L");
//   EXPECT_EQ(table.rows[0][3], "● best");
#include "core/report/build_report.h"
#include "core/solve/study.h"

namespace uadze::report {

/// `tasks`: of a choice; one that has fewer is not judged yet. "○": another is better in both.
Table choices_table(const solve::Gathered& gathered, int tasks, const UnitSystem& units = {});

}  // namespace uadze::report
