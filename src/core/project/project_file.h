#pragma once
// The project's file: read, checked, written so that only what changed in meaning changes on the disk.
//
// Example:
//   using namespace uadze;
//   const std::string text = R"({"undertow_adze_project": 1, "setups": [{"name": "box", "tank": {"axis": "y",
//     "profile_mm": [[0, 0], [500, 0], [500, 200], [0, 200]], "from_mm": -300, "to_mm": 300}}]})";
//   auto [changed, notes] = project::parse_project(text, "box.json");
//   changed.setups[0].line_hold = 0.5e-3;
//   EXPECT_NE(project::project_text(changed, text).find("\"line_hold_l\": 0.5"), std::string::npos);
#include <filesystem>

#include "core/base/message.h"
#include "core/project/project.h"

namespace uadze::project {

/// What was on the disk, kept so that saving changes only what changed.
struct ProjectFile {
  std::filesystem::path path;
  std::string text;
};

struct Opened {
  Project project;
  ProjectFile file;
  Messages notes;
};

/// Reads text as a project, and checks what its values alone can show (check_values). Throws InputError with
/// every fault found, each at its JSON pointer; unknown keys are kept in the file and warned of in the notes.
/// Nothing else is read: solve/open.h also looks at meshes and catalogues.
Read<Project> parse_project(const std::string& text, const std::string& file);

/// What is wrong with the values: out of range, names that stand twice or are of nothing, contradictions.
Messages check_values(const Project& project, const std::string& file);

/// The project as text: `before` with only those parts changed whose meaning changed; empty: a new file.
std::string project_text(const Project& project, const std::string& before);

/// Writes atomically and returns what is on the disk now.
ProjectFile save_project(const std::filesystem::path& path, const Project& project,
                         const std::string& before);

/// The project with the files that it names given relative to another folder.
Project moved(Project project, const std::filesystem::path& from_folder,
              const std::filesystem::path& to_folder);

}  // namespace uadze::project
