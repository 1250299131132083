#pragma once
// Runs at a level and stints as tables, JSON and text; and the starvation map as a table.
//
// Example:
//   using namespace uadze;
//   const starvation::Ledger volume{.start = 1e-3, .end = 0.4e-3, .burnt = 0.6e-3};
//   EXPECT_NEAR(report::ledger_json(volume)["error_l"].get<double>(), 0.0, 1e-12);
#include "core/report/session_report.h"
#include "core/solve/run.h"

namespace uadze::report {

Json ledger_json(const starvation::Ledger& ledger);

/// One row a sample.
std::string run_csv(const solve::RunResult& result);
Json run_json(const solve::RunResult& result);
std::string run_text(const solve::RunResult& result, const UnitSystem& units = {});

/// One row a lap.
std::string stint_csv(const solve::StintResult& result);
/// `start`: m3 at the beginning.
Json stint_json(const solve::StintResult& result, double start);
std::string stint_text(const solve::StintResult& result, double start, const UnitSystem& units = {});

/// One row a level and sample.
std::string map_csv(const solve::LapResult& lap);
/// Clean level, band, the level at which each corner hurts, lower levels that were clean.
Json map_summary_json(const solve::LapResult& lap);

}  // namespace uadze::report
