#pragma once
// A study: options varied against cases, each pair one numbered task that stands alone, so that one machine
// or a cluster's queue runs them in any order, and each at most once.
//
//   study.json --plan--> tasks 1..N --run, anywhere--> task-000001.json ... --gather--> table, best choices
//
// {"undertow_adze_study": 1, "project": "p4.uadze.json", "setup": "P4, surge fitted",
//  "vary": [{"name": "pickup", "values": [{"name": "as it is"},
//                                        {"name": "20 mm back", "set": {"tank/pickups/0/position_mm": [-170, 60, 6]}}]}],
//  "level_l": [8, 12], "grip": [1.0, 1.1],
//  "cases": [{"manoeuvre": "braking", "strength_g": 1.2}, {"lap": "dry", "from_s": 20, "to_s": 30}],
//  "models": ["fast", "resolved"], "cell_mm": 20}
//
// What is set is a place in the setup as its file has it (docs/file-formats.md): anything can be varied.
// A task's key is of its changed project and all else that decides its result, so that a result of another
// study, or of a former state of the files, is run again and never counted.
//
// Example:
//   using namespace uadze;
//   test::TempFolder folder;
//   std::ofstream(folder / "s.json") << R"({"undertow_adze_study": 1, "project": ")" << test::source("demo/ostrel-p4.uadze.json").string()
//       << R"(", "level_l": [6, 9], "cases": [{"manoeuvre": "braking", "strength_g": 1.2}]})";
//   const auto study = solve::read_study(folder / "s.json");
//   EXPECT_EQ(study.tasks(), 2);
//   const auto result = solve::run_task(study, 1);
//   EXPECT_EQ(result.level, 6e-3);
//   EXPECT_EQ(result.model, "fast");
#include <filesystem>
#include <nlohmann/json.hpp>

#include "core/base/progress.h"
#include "core/solve/resolved_run.h"

namespace uadze::solve {

struct StudyValue {
  std::string name;
  nlohmann::ordered_json set;  ///< object: place in the setup -> value; null: as it is
};

struct StudyOption {
  std::string name;
  std::vector<StudyValue> values;
};

struct StudyCase {
  std::string name, lap;
  std::optional<lap::Manoeuvre> manoeuvre;
  double strength = 1.2;  ///< g
  std::optional<double> from, to;
};

struct Study {
  std::filesystem::path file, project;
  std::string project_text;  ///< as the file was
  std::string setup;
  std::vector<StudyOption> vary;
  std::vector<double> levels, grips;  ///< m3; shares
  std::vector<StudyCase> cases;
  std::vector<std::string> models;  ///< "fast", "resolved"
  double size = 0.015;              ///< m
  bool draw = true;

  int choices() const;  ///< values of all options against levels and grips
  int tasks() const { return choices() * static_cast<int>(cases.size() * models.size()); }
};

/// More than a queue takes in one array, and than a folder holds well.
inline constexpr int most_tasks = 100000;

/// Throws InputError with file and place for what can not be a study.
Study read_study(const std::filesystem::path& file);
/// Before tasks run: whether setup and laps are there, and each value, put into the project alone, is one that
/// it can have and under no key that nobody knows. Throws InputError with the place in the study.
void check_study(const Study& study);

/// What a task is: by number from 1, cases running fastest, then models, then grips, levels, and the options.
struct StudyTask {
  int number = 0, choice = 0;
  std::vector<size_t> values;  ///< of each option
  double level = 0.0, grip = 1.0;
  size_t case_ = 0;
  std::string model;
};
StudyTask task_of(const Study& study, int number);
/// "pickup 20 mm back, 8 L, grip 1.1".
std::string choice_name(const Study& study, const StudyTask& task);

/// The setup as a choice has it, by the choice's name. Throws InputError where it can not be.
project::Setup setup_of(const Study& study, const StudyTask& task);

struct TaskResult {
  int number = 0;
  std::string key;  ///< of all that decides it
  std::string choice, of_case, model;
  double level = 0.0;                ///< m3
  double bare = 0.0, longest = 0.0;  ///< s in which no pickup was half wet; the longest stretch of it
  double driven = 0.0;               ///< s
  double wet = 0.0;                  ///< mean of the wettest pickup's share
  Vec3 centroid = Vec3::Zero();      ///< m, mean
  bool operator==(const TaskResult&) const = default;
};

/// Throws InputError and UnknownName where the changed setup or the case can not be; Cancelled.
TaskResult run_task(const Study& study, int number, Progress* progress = nullptr);
/// Key of a task's result without running it.
std::string task_key(const Study& study, int number);
/// Core seconds that it will take, roughly.
double task_seconds(const Study& study, int number);

/// "task-000012.json" in the folder of results.
std::filesystem::path result_file(const std::filesystem::path& folder, int number);
std::string result_text(const TaskResult& result);
TaskResult parse_result(const std::string& text, const std::string& file);

struct Choice {
  std::string name;
  int first_task = 0;  ///< a task of it
  double level = 0.0;
  double bare = 0.0, longest = 0.0;  ///< s, of its worst case and model
  std::string worst_case;
  int done = 0;       ///< tasks
  bool best = false;  ///< no other choice is better in fuel and in longest bare stretch
};
struct Gathered {
  std::vector<TaskResult> results;       ///< by number
  std::vector<Choice> choices;           ///< in the study's order
  std::vector<int> missing;              ///< tasks without a result
  std::vector<std::string> passed_over;  ///< files that are no results of this study as it is now, and why
};
/// Reads what there is; never throws for a bad result, which is missing then. `check_keys`: results of a
/// former state of project or study are missing too (each key costs reading the project once more).
Gathered gather(const Study& study, const std::filesystem::path& folder, bool check_keys = true);

/// One row a choice: fuel, worst case, bare seconds, best or not. CSV.
std::string choices_csv(const Gathered& gathered);
/// One row a task.
std::string results_csv(const Gathered& gathered);

}  // namespace uadze::solve
