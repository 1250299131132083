#pragma once
// A study's tasks run into its folder of results: each at most once, whoever else is at it, and those that
// are there are left alone. Killed or stopped, the next run goes on with what is missing.
//
// Example:
//   using namespace uadze;
//   test::TempFolder folder;
//   std::ofstream(folder / "s.json") << R"({"undertow_adze_study": 1, "project": ")" << test::source("demo/ostrel-p4.uadze.json").string()
//       << R"(", "level_l": [6, 9], "cases": [{"manoeuvre": "braking", "strength_g": 1.2}]})";
//   const auto study = solve::read_study(folder / "s.json");
//   const auto into = solve::results_folder(folder / "s.json");
//   EXPECT_EQ(solve::run_missing(study, into).done, 2);
//   EXPECT_EQ(solve::run_missing(study, into).there, 2);
#include "core/solve/study.h"

namespace uadze::solve {

/// "p4.results" beside "p4.json".
std::filesystem::path results_folder(const std::filesystem::path& study);

enum class TaskRan { done, was_there, busy };
/// Runs a task unless its result is there, or another process or thread is at it. Throws as run_task, and
/// std::runtime_error where the result can not be written.
TaskRan run_into(const Study& study, const std::filesystem::path& folder, int number,
                 Progress* progress = nullptr);

struct StudyRan {
  int done = 0, there = 0, busy = 0;
  std::vector<std::pair<int, std::string>> failed;  ///< task and why; the others went on
};
/// All tasks, on all cores. Throws InputError where the folder can not be; Cancelled.
StudyRan run_missing(const Study& study, const std::filesystem::path& folder, Progress* progress = nullptr);

}  // namespace uadze::solve
