#pragma once
// The tank and its fuel as tables, JSON and text: settled, moving, its modes, dip and gauge, reach of the
// pickups, what a mesh is like.
//
// Example:
//   using namespace uadze;
//   const auto opened = test::demo("ostrel-p4");
//   const auto lies = solve::settle(opened.project, {}, {.level = 12e-3}, *opened.sources);
//   EXPECT_NEAR(report::settled_json(lies)["level_l"].get<double>(), 12.0, 1e-12);
#include "core/report/session_report.h"
#include "core/slosh/modes.h"
#include "core/slosh/motion.h"
#include "core/slosh/reach.h"
#include "core/solve/settle.h"
#include "core/tank/gauge.h"
#include "core/tank/mesh_check.h"

namespace uadze::report {

Json settled_json(const solve::Settled& settled);
std::string settled_text(const solve::Settled& settled, const UnitSystem& units = {});

/// One row an instant: centroid, spaces, openings, pickups.
std::string motion_csv(const tank::Tank& tank, const std::vector<tank::Pickup>& pickups,
                       const std::vector<slosh::Instant>& motion);

struct SpaceModes {
  std::string space;
  double volume = 0.0;  ///< m3 of fuel in it
  slosh::Modes modes;
};
Json modes_json(const std::string& setup, double level, const Vec3& force,
                const std::vector<SpaceModes>& spaces);
std::string modes_text(const std::string& setup, double level, const Vec3& force,
                       const std::vector<SpaceModes>& spaces, const UnitSystem& units = {});

/// Fill limits and what the gauge hides as comments, then the table.
std::string dip_csv(const project::Setup& setup, const tank::Tank& tank, const Vec2& place,
                    const tank::Rake& rake, const tank::GaugeTable& table);

/// Rows of one pickup; the header is reach_header().
std::string reach_header();
std::string reach_rows(const std::string& pickup, const slosh::Reach& reach);

Json mesh_json(const std::string& file, const tank::MeshFile& mesh, const tank::MeshReport& report);
std::string mesh_text(const std::string& file, const tank::MeshFile& mesh, const tank::MeshReport& report,
                      const UnitSystem& units = {});

}  // namespace uadze::report
