#pragma once
// The book of a demo car, as a season would have written it: parts fitted, sessions run, service, a kerb, an
// incident, and a commissioning that is done but for one gate. All names are made up.
//
// Example:
//   const auto opened = test::demo("ostrel-wisp");
//   test::TempFolder folder;
//   const auto& setup = opened.project.setups[0];
//   rigs::write_season(opened.project, setup, opened.sources->catalogue(opened.project), folder / "wisp.book", "dip table");
//   EXPECT_GT(logbook::Book::open(folder / "wisp.book").size(), 50);
#include "core/solve/garage.h"

namespace uadze::rigs {

/// The day on which it ends: what looks at it as it was then sets its clock to it.
inline constexpr const char* season_end = "2026-11-20T18:00:00Z";

/// `left_open`: the gate that is not passed.
void write_season(const project::Project& project, const project::Setup& setup,
                  std::shared_ptr<const circuit::Catalogue> catalogue, const std::filesystem::path& book,
                  const std::string& left_open);

}  // namespace uadze::rigs
