#pragma once
// What the commands share: finding things by name, reading accelerations, writing results.
#include <fmt/format.h>

#include "cli/commands.h"
#include "core/project/solve.h"

namespace uadze::cli {

/// Messages to stderr.
void say(const Messages& messages);
/// Result text to stdout; a full disk or closed pipe there is a failure, not silence.
void put(const std::string& text);
/// To the file, or to stdout if the name is empty or "-".
void write_or_put(const std::string& output, const std::string& text);

template <class List>
auto& named(const List& list, const std::string& name, const char* what) {
  std::string names;
  for (const auto& item : list) {
    if (item.name == name) return item;
    names += (names.empty() ? "\"" : ", \"") + item.name + "\"";
  }
  throw UsageError(fmt::format("no {} \"{}\"; there is {}", what, name, names.empty() ? "none" : names));
}

/// The named setup, or the first.
const project::Setup& chosen_setup(const project::Project& project, const std::string& name);

/// The named lap, or the first; throws InputError if there is none.
const project::LapReference& chosen_lap(const project::Opened& opened, const std::string& name);
/// The session's lap; throws InputError naming its place if it has none.
const project::LapReference& session_lap(const project::Project& project, const session::Session& session,
                                         const std::string& file);
/// What a session's lap result depends on.
std::string case_key(const project::Setup& setup, const session::Session& session);

/// `count` numbers, such as "1,-0.5,0"; `what` for the message.
std::vector<double> parse_numbers(const std::string& text, size_t count, double most, const char* what);
/// ax,ay,az in g, as m/s2.
Vec3 parse_acceleration(const std::string& text);

/// m3; throws UsageError unless the tank holds it.
double level_volume(double litres, const starvation::FuelSystem& car);

}  // namespace uadze::cli
