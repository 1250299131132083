#pragma once
// A project opened whole: its file read, its meshes, tanks and catalogues looked at.
//
// Example:
//   using namespace uadze;
//   const std::filesystem::path file = std::filesystem::path(UADZE_SOURCE_DIR) / "demo/ostrel-p4.uadze.json";
//   solve::Sources sources(file.parent_path());
//   const project::Opened opened = solve::open_project(file, sources);
//   EXPECT_FALSE(opened.project.setups.empty());
#include "core/project/project_file.h"
#include "core/solve/sources.h"

namespace uadze::solve {

/// Whether files that the project names outside its folder may be read: a project from somewhere else could
/// name any file of the machine.
enum class Outside { refused, agreed };

/// Those that were not read.
class OutsideFiles : public InputError {
 public:
  using InputError::InputError;
};

/// Throws InputError with every fault of the file, its values, and what they name (check); OutsideFiles
/// before any of those is read.
project::Opened open_project(const std::filesystem::path& path, Sources& sources,
                             Outside outside = Outside::refused);

/// What only meshes, assembled tanks and the catalogue can show: shapes that do not meet, openings that lead
/// nowhere, pickups outside the tank, unknown types. Needs values without faults (project::check_values).
/// `file`: for the messages.
Messages check(const project::Project& project, const std::string& file, Sources& sources);

/// Everything that `uadze check` says beside that: each lap's file with its hands, and what no answer can be
/// had from.
Messages check_laps(const project::Project& project, const std::string& file, Sources& sources);

}  // namespace uadze::solve
