#pragma once
// Sizes and searched alternatives as JSON and text.
//
// Example:
//   using namespace uadze;
//   EXPECT_EQ(report::search_json({}, "P4", "Race")["kept"].size(), 0u);
#include "core/report/session_report.h"
#include "core/solve/search.h"
#include "core/solve/size.h"

namespace uadze::report {

Json size_json(const solve::SizeResult& result);
std::string size_text(const solve::SizeResult& result, const UnitSystem& units = {});

Json search_json(const solve::SearchResult& result, const std::string& setup, const std::string& session);
std::string search_text(const solve::SearchResult& result, const UnitSystem& units = {});

}  // namespace uadze::report
