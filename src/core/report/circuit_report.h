#pragma once
// A circuit's operating point and a sweep of power as JSON, text and table.
//
// Example:
//   using namespace uadze;
//   EXPECT_EQ(report::sweep_csv({}).substr(0, 10), "power [kW]");
#include "core/report/session_report.h"
#include "core/solve/circuit_point.h"

namespace uadze::report {

/// `what_ifs`: the names of those that are on.
Json point_json(const solve::CircuitPoint& point, const project::Setup& setup,
                const std::vector<std::string>& what_ifs);
std::string point_text(const solve::CircuitPoint& point, const project::Setup& setup,
                       const UnitSystem& units = {});

Json sweep_json(const project::Setup& setup, const std::vector<circuit::SweepPoint>& points);
std::string sweep_csv(const std::vector<circuit::SweepPoint>& points);

}  // namespace uadze::report
