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

}  // namespace uadze::project
