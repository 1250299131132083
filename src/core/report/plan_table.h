#pragma once
// The plan of the sessions as a table: one row a session, in the user's units; the header names them.
//
// Example:
//   using namespace uadze;
//   EXPECT_EQ(report::plan_csv({}, {}).substr(0, 18), "setup,session,kind");
#include "core/solve/plan.h"

namespace uadze::report {

std::string plan_csv(const std::vector<solve::SessionResult>& sessions, const UnitSystem& units);

}  // namespace uadze::report
