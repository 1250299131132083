#include "core/solve/study.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <map>
#include <set>

#include "core/base/csv.h"
#include "core/base/files.h"
#include "core/base/json.h"
#include "core/base/names.h"
#include "core/project/json_reader.h"
#include "core/solve/open.h"
#include "core/solve/settle.h"

namespace uadze::solve {
namespace {

using nlohmann::ordered_json;

/// Fields of the study's file, with places for its faults.
class StudyReader {
 public:
  explicit StudyReader(std::string file) : file_(std::move(file)) {}

  [[noreturn]] void fail(const std::string& place, const std::string& expected,
                         const std::string& found) const {
    throw InputError(Message{.file = file_, .place = "/" + place, .expected = expected, .found = found});
  }
  void only(const ordered_json& object, const std::string& place,
            const std::vector<std::string>& fields) const {
    if (!object.is_object()) fail(place, "an object", object.dump());
    for (const auto& [key, value] : object.items())
      if (std::find(fields.begin(), fields.end(), key) == fields.end())
        fail(place.empty() ? key : place + "/" + key, fmt::format("one of {}", fmt::join(fields, ", ")), key);
  }
  std::string text(const ordered_json& object, const std::string& field, const std::string& place,
                   bool needed) const {
    if (!object.contains(field)) {
      if (needed) fail(place + field, "text", "nothing");
      return {};
    }
    if (!object[field].is_string()) fail(place + field, "text", object[field].dump());
    return object[field].get<std::string>();
  }
  double number(const ordered_json& value, const std::string& place, double low, double high) const {
    if (!value.is_number() || !std::isfinite(value.get<double>()) || value.get<double>() < low ||
        value.get<double>() > high)
      fail(place, fmt::format("a number between {:g} and {:g}", low, high), value.dump());
    return value.get<double>();
  }
  std::vector<double> numbers(const ordered_json& object, const std::string& field, double low, double high,
                              std::vector<double> otherwise) const {
    if (!object.contains(field)) return otherwise;
    const ordered_json& list = object[field];
    if (!list.is_array() || list.empty()) fail(field, "a list of numbers", list.dump());
    std::vector<double> out;
    for (size_t k = 0; k < list.size(); ++k)
      out.push_back(number(list[k], fmt::format("{}/{}", field, k), low, high));
    return out;
  }

 private:
  std::string file_;
};

StudyCase read_case(const StudyReader& in, const ordered_json& c, const std::string& place) {
  in.only(c, place, {"name", "lap", "manoeuvre", "strength_g", "from_s", "to_s"});
  StudyCase out;
  out.lap = in.text(c, "lap", place + "/", false);
  const std::string manoeuvre = in.text(c, "manoeuvre", place + "/", false);
  if (out.lap.empty() == manoeuvre.empty()) in.fail(place, "either a lap or a manoeuvre", c.dump());
  if (!manoeuvre.empty()) {
    out.manoeuvre = value_named<lap::Manoeuvre>(manoeuvre);
    if (!out.manoeuvre)
      in.fail(place + "/manoeuvre", fmt::format("one of {}", fmt::join(names_of<lap::Manoeuvre>(), ", ")),
              manoeuvre);
  }
  if (c.contains("strength_g")) out.strength = in.number(c["strength_g"], place + "/strength_g", 0, 20);
  if (c.contains("from_s")) out.from = in.number(c["from_s"], place + "/from_s", 0, 1e5);
  if (c.contains("to_s")) out.to = in.number(c["to_s"], place + "/to_s", 0, 1e5);
  out.name = in.text(c, "name", place + "/", false);
  if (out.name.empty()) {
    out.name = out.lap.empty() ? fmt::format("{} {:g} g", manoeuvre, out.strength) : out.lap;
    if (out.from || out.to)
      out.name += fmt::format(", {:g} to {:g} s", out.from.value_or(0), out.to.value_or(0));
  }
  return out;
}

ordered_json changed_project(const Study& study, const StudyTask& task) {
  ordered_json project = json_of<ordered_json>(study.project_text);
  ordered_json* setup = nullptr;
  for (ordered_json& s : project["setups"])
    if (study.setup.empty() || s.value("name", "") == study.setup) {
      setup = &s;
      break;
    }
  if (!setup)
    throw InputError(Message{.file = study.file.string(),
                             .place = "/setup",
                             .expected = "a setup of " + study.project.filename().string(),
                             .found = study.setup});
  for (size_t o = 0; o < study.vary.size(); ++o) {
    const StudyValue& value = study.vary[o].values[task.values[o]];
    if (value.set.is_null()) continue;
    for (const auto& [place, to] : value.set.items()) {
      try {
        const ordered_json::json_pointer pointer("/" + place);
        // A parent that is not there is a slip of the pen, not a new branch.
        if (!setup->contains(pointer.parent_pointer()))
          throw std::runtime_error("no such place in the setup");
        (*setup)[pointer] = to;
      } catch (const std::exception& error) {
        throw InputError(Message{.file = study.file.string(),
                                 .place = fmt::format("/vary/{}/{}", study.vary[o].name, value.name),
                                 .expected = "a place in the setup, as its file has it",
                                 .found = place + ": " + error.what()});
      }
    }
  }
  return project;
}

struct Opening {
  project::Project project;
  std::unique_ptr<Sources> sources;
  ResolvedJob job;
};

Opening open_task(const Study& study, const StudyTask& task) {
  Opening out;
  const std::string text = changed_project(study, task).dump(1);
  // Faults are told with the project's name: places are the same, changed or not.
  out.project = project::parse_project(text, study.project.string()).value;
  out.sources = std::make_unique<Sources>(study.project.parent_path());
  if (const Messages faults = check(out.project, study.project.string(), *out.sources); has_errors(faults))
    throw InputError(faults);
  const StudyCase& c = study.cases[task.case_];
  out.job = resolved_job(out.project,
                         {.setup = study.setup, .lap = c.lap, .session = {}, .grip = {}, .alone = true},
                         {.level = task.level,
                          .manoeuvre = c.manoeuvre,
                          .strength = c.strength,
                          .grip = task.grip,
                          .from = c.from,
                          .to = c.to,
                          .size = study.size,
                          .draw = study.draw},
                         *out.sources);
  return out;
}

/// Keys of a study's tasks: of the setup as it is changed, the lap's entry, the bytes of every file that
/// either names, case, conditions and model. What many tasks share is read once.
class TaskKeys {
 public:
  explicit TaskKeys(const Study& study) : study_(study) {}

  std::string of(const StudyTask& task) {
    auto& setup = setups_[task.values];
    if (!setup) {
      KeyMaker key;
      const ordered_json project = changed_project(study_, task);
      for (const ordered_json& s : project["setups"])
        if (study_.setup.empty() || s.value("name", "") == study_.setup) {
          add(key, s);
          break;
        }
      setup = key.key();
    }
    const StudyCase& c = study_.cases[task.case_];
    auto& lap = laps_[c.lap];
    if (!lap) {
      KeyMaker key;
      if (!c.lap.empty())
        for (const ordered_json& l :
             json_of<ordered_json>(study_.project_text).value("laps", ordered_json::array()))
          if (l.value("name", "") == c.lap) add(key, l);
      lap = key.key();
    }
    KeyMaker key;
    key.add("study task 7").add(*setup).add(*lap).add(task.model).add(task.level).add(task.grip);
    key.add(c.manoeuvre ? name_of(*c.manoeuvre) : "").add(c.strength);
    key.add(c.from.value_or(-1)).add(c.to.value_or(-1));
    key.add(study_.draw).add(task.model == "resolved" ? study_.size : 0.0);
    const ContentKey k = key.key();
    return fmt::format("{:016x}{:016x}", k.high, k.low);
  }

 private:
  void add(KeyMaker& key, const ordered_json& json) {
    key.add(json.dump());
    files(key, json);
  }
  void files(KeyMaker& key, const ordered_json& json) {
    if (json.is_object() || json.is_array())
      for (const auto& [name, value] : json.items()) {
        std::error_code ignored;
        const auto path = name == "file" && value.is_string()
                              ? study_.project.parent_path() / value.get<std::string>()
                              : std::filesystem::path();
        if (!path.empty() && std::filesystem::is_regular_file(path, ignored))
          key.add(content_key(read_file(path)));
        files(key, value);
      }
  }

  const Study& study_;
  std::map<std::vector<size_t>, std::optional<ContentKey>> setups_;
  std::map<std::string, std::optional<ContentKey>> laps_;
};

/// What of a run a choice is judged by, from the wet shares of its instants.
void judge(TaskResult& out, double step, const std::vector<std::vector<double>>& wet) {
  double now = 0;
  for (size_t k = 1; k < wet.size(); ++k) {
    const double most = wet[k].empty() ? 0.0 : *std::max_element(wet[k].begin(), wet[k].end());
    out.wet += most / static_cast<double>(wet.size() - 1);
    now = most < 0.5 ? now + step : 0.0;
    if (most < 0.5) out.bare += step;
    out.longest = std::max(out.longest, now);
  }
}

}  // namespace

int Study::choices() const {
  double out = static_cast<double>(levels.size() * grips.size());
  for (const StudyOption& o : vary) out *= static_cast<double>(o.values.size());
  return static_cast<int>(std::min(out, 1e9));
}

Study read_study(const std::filesystem::path& file) {
  const StudyReader in(file.string());
  const ordered_json json = project::parse_json(read_file(file), file.string());
  in.only(json, "",
          {"undertow_adze_study", "project", "setup", "vary", "level_l", "grip", "cases", "models", "cell_mm",
           "draw"});
  if (json.value("undertow_adze_study", ordered_json()) != 1)
    in.fail("undertow_adze_study", "1",
            json.contains("undertow_adze_study") ? json["undertow_adze_study"].dump() : "nothing");
  Study out;
  out.file = file;
  out.project = std::filesystem::path(in.text(json, "project", "", true));
  if (out.project.is_relative()) out.project = file.parent_path() / out.project;
  out.project_text = read_file(out.project);
  out.setup = in.text(json, "setup", "", false);
  const auto vary = json.value("vary", ordered_json::array());
  if (!vary.is_array()) in.fail("vary", "a list", vary.dump());
  for (size_t o = 0; o < vary.size(); ++o) {
    const std::string place = fmt::format("vary/{}", o);
    in.only(vary[o], place, {"name", "values"});
    StudyOption option{in.text(vary[o], "name", place + "/", true), {}};
    if (!vary[o].contains("values") || !vary[o]["values"].is_array() || vary[o]["values"].empty())
      in.fail(place + "/values", "a list of values", "none");
    for (size_t v = 0; v < vary[o]["values"].size(); ++v) {
      const ordered_json& value = vary[o]["values"][v];
      const std::string here = fmt::format("{}/values/{}", place, v);
      in.only(value, here, {"name", "set"});
      StudyValue made{in.text(value, "name", here + "/", true), value.value("set", ordered_json())};
      if (!made.set.is_null() && !made.set.is_object())
        in.fail(here + "/set", "an object: place and value", made.set.dump());
      option.values.push_back(std::move(made));
    }
    out.vary.push_back(std::move(option));
  }
  for (const double l : in.numbers(json, "level_l", 0.01, 2000, {})) out.levels.push_back(l * 1e-3);
  if (out.levels.empty()) in.fail("level_l", "a list of levels in litres", "none");
  out.grips = in.numbers(json, "grip", 0.05, 5, {1.0});
  if (!json.contains("cases") || !json["cases"].is_array() || json["cases"].empty())
    in.fail("cases", "a list of cases", "none");
  for (size_t c = 0; c < json["cases"].size(); ++c)
    out.cases.push_back(read_case(in, json["cases"][c], fmt::format("cases/{}", c)));
  const auto models = json.value("models", ordered_json::array({"fast"}));
  if (!models.is_array() || models.empty()) in.fail("models", "a list of fast and resolved", models.dump());
  for (const auto& m : models) {
    if (m != "fast" && m != "resolved") in.fail("models", "fast or resolved", m.dump());
    out.models.push_back(m.get<std::string>());
  }
  if (json.contains("cell_mm")) out.size = in.number(json["cell_mm"], "cell_mm", 1, 200) * 1e-3;
  if (json.contains("draw")) {
    if (!json["draw"].is_boolean()) in.fail("draw", "true or false", json["draw"].dump());
    out.draw = json["draw"].get<bool>();
  }
  if (static_cast<double>(out.choices()) * static_cast<double>(out.cases.size() * out.models.size()) >
      most_tasks)
    in.fail("vary", fmt::format("at most {} tasks", most_tasks),
            fmt::format("{} choices of {} cases and {} models", out.choices(), out.cases.size(),
                        out.models.size()));
  return out;
}

void check_study(const Study& study) {
  const StudyReader in(study.file.string());
  const auto unknown_keys = [&](const std::string& text) {
    std::set<std::string> out;
    for (const Message& m : project::parse_project(text, study.project.string()).notes)
      if (m.severity == Severity::warning && m.found.starts_with("unknown key")) out.insert(m.place);
    return out;
  };
  const project::Project plain = project::parse_project(study.project_text, study.project.string()).value;
  const auto named = [&](const auto& list, const std::string& name, const std::string& place) {
    if (name.empty()) return;
    std::vector<std::string> names;
    for (const auto& one : list) names.push_back(one.name);
    if (std::find(names.begin(), names.end(), name) == names.end())
      in.fail(place, fmt::format("one of \"{}\"", fmt::join(names, "\", \"")), name);
  };
  named(plain.setups, study.setup, "setup");
  for (size_t c = 0; c < study.cases.size(); ++c)
    named(plain.laps, study.cases[c].lap, fmt::format("cases/{}/lap", c));
  std::optional<std::set<std::string>> known;  ///< as unknown before anything was changed
  for (size_t o = 0; o < study.vary.size(); ++o)
    for (size_t v = 0; v < study.vary[o].values.size(); ++v) {
      if (study.vary[o].values[v].set.is_null()) continue;
      Study alone = study;
      alone.vary = {study.vary[o]};
      StudyTask task;
      task.values = {v};
      const std::string place = fmt::format("vary/{}/values/{}/set", o, v);
      std::set<std::string> unknown;
      try {
        if (!known) known = unknown_keys(study.project_text);
        unknown = unknown_keys(changed_project(alone, task).dump(1));
      } catch (const InputError& error) {
        const Message& m = error.messages().front();
        in.fail(place, "what a setup can have there", m.file == study.file.string() ? m.found : error.what());
      }
      for (const std::string& key : unknown)
        if (!known->contains(key)) in.fail(place, "keys that a setup has", "the unknown key " + key);
    }
}

StudyTask task_of(const Study& study, int number) {
  if (number < 1 || number > study.tasks())
    throw InputError(Message{.file = study.file.string(),
                             .place = "task",
                             .expected = fmt::format("a number from 1 to {}", study.tasks()),
                             .found = std::to_string(number)});
  StudyTask out;
  out.number = number;
  auto left = static_cast<size_t>(number - 1);
  const auto next = [&](size_t count) {
    const size_t k = left % count;
    left /= count;
    return k;
  };
  out.case_ = next(study.cases.size());
  out.model = study.models[next(study.models.size())];
  out.choice = static_cast<int>(left);
  out.grip = study.grips[next(study.grips.size())];
  out.level = study.levels[next(study.levels.size())];
  out.values.resize(study.vary.size());
  for (size_t o = study.vary.size(); o-- > 0;) out.values[o] = next(study.vary[o].values.size());
  return out;
}

std::string choice_name(const Study& study, const StudyTask& task) {
  std::string out;
  for (size_t o = 0; o < study.vary.size(); ++o)
    out += study.vary[o].name + " " + study.vary[o].values[task.values[o]].name + ", ";
  out += fmt::format("{:g} L", task.level * 1e3);
  if (study.grips.size() > 1) out += fmt::format(", grip {:g}", task.grip);
  return out;
}

project::Setup setup_of(const Study& study, const StudyTask& task) {
  const project::Project project =
      project::parse_project(changed_project(study, task).dump(1), study.project.string()).value;
  for (project::Setup setup : project.setups)
    if (study.setup.empty() || setup.name == study.setup) {
      setup.name = setup.name + ", " + choice_name(study, task);
      return setup;
    }
  throw InputError(
      Message{.file = study.project.string(), .place = "setups", .expected = "a setup", .found = "none"});
}

TaskResult run_task(const Study& study, int number, Progress* progress) {
  const StudyTask task = task_of(study, number);
  const Opening open = open_task(study, task);
  const ResolvedJob& job = open.job;
  TaskResult out{.number = number,
                 .key = TaskKeys(study).of(task),
                 .choice = choice_name(study, task),
                 .of_case = study.cases[task.case_].name,
                 .model = task.model,
                 .level = task.level,
                 .driven = job.drive.end() - job.drive.begin()};
  std::vector<std::vector<double>> wet;
  std::vector<Vec3> middles;
  if (task.model == "resolved") {
    const auto run = resolved::run(job.input(), job.options, progress);
    for (const auto& s : run.samples) wet.push_back(s.wet), middles.push_back(s.centroid);
  } else {
    resolved::RunResult instants;
    const auto count = static_cast<size_t>(std::llround(out.driven / job.options.sample));
    for (size_t k = 0; k <= count; ++k)
      instants.samples.push_back({.time = static_cast<double>(k) * job.options.sample});
    for (const auto& i : fast_beside(job, instants)) wet.push_back(i.wet), middles.push_back(i.centroid);
  }
  judge(out, job.options.sample, wet);
  for (const Vec3& m : middles) out.centroid += m / static_cast<double>(middles.size());
  return out;
}

std::string task_key(const Study& study, int number) { return TaskKeys(study).of(task_of(study, number)); }

double task_seconds(const Study& study, int number) {
  const StudyTask task = task_of(study, number);
  const Opening open = open_task(study, task);
  if (task.model == "resolved") return resolved::estimated_seconds(open.job.input(), open.job.options);
  // The fast model runs some 1500 times faster than the car.
  return 0.05 + (open.job.drive.end() - open.job.drive.begin()) / 1500;
}

std::filesystem::path result_file(const std::filesystem::path& folder, int number) {
  return folder / fmt::format("task-{:06}.json", number);
}

std::string result_text(const TaskResult& r) {
  ordered_json out;
  out["undertow_adze_study_result"] = 1;
  out["task"] = r.number, out["key"] = r.key;
  out["choice"] = r.choice, out["case"] = r.of_case, out["model"] = r.model;
  out["level_l"] = r.level * 1e3;
  out["bare_s"] = r.bare, out["longest_bare_s"] = r.longest, out["driven_s"] = r.driven;
  out["wet_percent"] = r.wet * 100;
  out["centroid_mm"] = {r.centroid.x() * 1e3, r.centroid.y() * 1e3, r.centroid.z() * 1e3};
  return out.dump(1) + "\n";
}

TaskResult parse_result(const std::string& text, const std::string& file) {
  try {
    const auto json = json_of<nlohmann::json>(text);
    if (json.at("undertow_adze_study_result") != 1) throw std::runtime_error("another version");
    TaskResult r;
    r.number = json.at("task").get<int>(), r.key = json.at("key").get<std::string>();
    r.choice = json.at("choice").get<std::string>(), r.of_case = json.at("case").get<std::string>();
    r.model = json.at("model").get<std::string>();
    r.level = json.at("level_l").get<double>() / 1e3;
    r.bare = json.at("bare_s").get<double>(), r.longest = json.at("longest_bare_s").get<double>();
    r.driven = json.at("driven_s").get<double>(), r.wet = json.at("wet_percent").get<double>() / 100;
    for (size_t a = 0; a < 3; ++a)
      r.centroid[static_cast<Eigen::Index>(a)] = json.at("centroid_mm").at(a).get<double>() / 1e3;
    return r;
  } catch (const std::exception& error) {
    throw InputError(Message{.file = file, .expected = "a study's result", .found = error.what()});
  }
}

Gathered gather(const Study& study, const std::filesystem::path& folder, bool check_keys) {
  Gathered out;
  TaskKeys keys(study);
  for (int c = 0; c < study.choices(); ++c) {
    const StudyTask first =
        task_of(study, c * static_cast<int>(study.cases.size() * study.models.size()) + 1);
    out.choices.push_back({.name = choice_name(study, first),
                           .first_task = first.number,
                           .level = first.level,
                           .worst_case = {}});
  }
  for (int n = 1; n <= study.tasks(); ++n) {
    const auto file = result_file(folder, n);
    std::error_code ignored;
    if (!std::filesystem::exists(file, ignored)) {
      out.missing.push_back(n);
      continue;
    }
    try {
      TaskResult r = parse_result(read_file(file), file.string());
      const StudyTask task = task_of(study, n);
      if (r.number != n || r.choice != choice_name(study, task) ||
          r.of_case != study.cases[task.case_].name || r.model != task.model)
        throw std::runtime_error("of another study");
      if (check_keys && r.key != keys.of(task)) throw std::runtime_error("of a former state of the project");
      Choice& choice = out.choices[static_cast<size_t>(task.choice)];
      ++choice.done;
      if (r.longest > choice.longest || choice.worst_case.empty()) choice.worst_case = r.of_case;
      choice.longest = std::max(choice.longest, r.longest), choice.bare = std::max(choice.bare, r.bare);
      out.results.push_back(std::move(r));
    } catch (const std::exception& error) {
      out.passed_over.push_back(file.filename().string() + ": " + error.what());
      out.missing.push_back(n);
    }
  }
  const int all = static_cast<int>(study.cases.size() * study.models.size());
  for (Choice& c : out.choices) {
    if (c.done < all) continue;
    c.best = std::none_of(out.choices.begin(), out.choices.end(), [&](const Choice& o) {
      return o.done == all && o.level <= c.level && o.longest <= c.longest &&
             (o.level < c.level || o.longest < c.longest);
    });
  }
  return out;
}

std::string choices_csv(const Gathered& gathered) {
  std::string out =
      csv_row({"choice", "fuel [l]", "longest bare [s]", "bare [s]", "worst case", "tasks done", "best"});
  for (const Choice& c : gathered.choices)
    out +=
        csv_row({c.name, fmt::format("{:g}", c.level * 1e3), fmt::format("{:.3f}", c.longest),
                 fmt::format("{:.3f}", c.bare), c.worst_case, std::to_string(c.done), c.best ? "yes" : ""});
  return out;
}

std::string results_csv(const Gathered& gathered) {
  std::string out =
      csv_row({"task", "choice", "case", "model", "fuel [l]", "bare [s]", "longest bare [s]", "driven [s]",
               "wet [%]", "centroid x [mm]", "centroid y [mm]", "centroid z [mm]"});
  for (const TaskResult& r : gathered.results)
    out += csv_row(
        {std::to_string(r.number), r.choice, r.of_case, r.model, fmt::format("{:g}", r.level * 1e3),
         fmt::format("{:.3f}", r.bare), fmt::format("{:.3f}", r.longest), fmt::format("{:.2f}", r.driven),
         fmt::format("{:.2f}", r.wet * 100), fmt::format("{:.3f}", r.centroid.x() * 1e3),
         fmt::format("{:.3f}", r.centroid.y() * 1e3), fmt::format("{:.3f}", r.centroid.z() * 1e3)});
  return out;
}

}  // namespace uadze::solve
