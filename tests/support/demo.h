#pragma once
// The demo projects as a user opens them.
//
// Example:
//   const auto opened = test::demo("ostrel-p4");           // opened.project, opened.sources
//   const auto ready = test::demo_case("ostrel-p4", 300);   // its first setup on its first lap
#include "core/project/project_file.h"
#include "core/solve/case.h"
#include "core/solve/open.h"
#include "support/temp_folder.h"

namespace uadze::test {

struct Demo {
  std::filesystem::path file;
  std::shared_ptr<solve::Sources> sources;
  project::Project project;
};

inline Demo demo(const std::string& name) {
  Demo made{source("demo/" + name + ".uadze.json"), nullptr, {}};
  made.sources = std::make_shared<solve::Sources>(made.file.parent_path());
  made.project = solve::open_project(made.file, *made.sources).project;
  return made;
}

/// A text as a project with all that opening it would say; throws InputError with its faults.
inline Read<project::Project> opened_text(const std::string& text, const std::string& file) {
  Read<project::Project> read = project::parse_project(text, file);
  solve::Sources sources;
  Messages said = solve::check(read.value, file, sources);
  if (has_errors(said)) throw InputError(said);
  read.notes.insert(read.notes.end(), said.begin(), said.end());
  return read;
}

/// `points`: of the circuit along the lap.
inline solve::LapCasePtr demo_case(const std::string& name, size_t points) {
  const Demo opened = demo(name);
  return solve::lap_case(opened.project, solve::resolve(opened.project, {.alone = true}), *opened.sources,
                         {.points = points});
}

}  // namespace uadze::test
