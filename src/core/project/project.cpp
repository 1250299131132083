#include "core/project/project.h"

namespace uadze::project {
namespace {

template <class List>
auto* named(const List& list, const std::string& wanted) {
  for (const auto& item : list)
    if (item.name == wanted) return &item;
  return static_cast<decltype(&list.front())>(nullptr);
}

}  // namespace

const Setup* Project::find_setup(const std::string& wanted) const { return named(setups, wanted); }
const LapReference* Project::find_lap(const std::string& wanted) const { return named(laps, wanted); }
const session::Session* Project::find_session(const std::string& wanted) const {
  return named(sessions, wanted);
}
const LogNote* Project::find_log(const std::string& file) const {
  for (const LogNote& log : logs)
    if (log.file == file) return &log;
  return nullptr;
}

void follow_renames(const Project& before, Project& after) {
  if (before.setups.size() != after.setups.size()) return;
  for (size_t i = 0; i < after.setups.size(); ++i) {
    const std::string &was = before.setups[i].name, &is = after.setups[i].name;
    if (was == is || after.find_setup(was)) continue;
    for (build::Done& d : after.done)
      if (d.setup == was) d.setup = is;
    for (build::OwnStep& s : after.own_steps)
      if (s.setup == was) s.setup = is;
    for (build::StepChange& s : after.step_changes)
      if (s.setup == was) s.setup = is;
  }
}

}  // namespace uadze::project
