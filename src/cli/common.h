#pragma once
// What the commands share: opening a project, saying messages, reading accelerations, writing results.
#include <fmt/format.h>

#include <memory>

#include "cli/commands.h"
#include "core/base/units.h"
#include "core/lap/manoeuvre.h"
#include "core/solve/open.h"
#include "core/solve/settle.h"

namespace uadze::cli {

/// Messages to stderr.
void say(const Messages& messages);
/// Result text to stdout; a full disk or closed pipe there is a failure, not silence.
void put(const std::string& text);
/// To the file, or to stdout if the name is empty or "-".
void write_or_put(const std::string& output, const std::string& text);

/// A project with all that it names; what was said on opening it has been said.
struct Job {
  project::Opened opened;
  std::unique_ptr<solve::Sources> sources;
  const project::Project& project() const { return opened.project; }
};
Job open_job(const std::string& file);
/// --outside: whether the files that a project names may stand outside its folder.
inline solve::Outside outside_files = solve::Outside::refused;

/// --units: of all text and cards. JSON and the tables with units in their heads, which programs read, keep
/// those.
inline UnitSystem units;

/// A manoeuvre by its name; throws UsageError.
lap::Manoeuvre named_manoeuvre(const std::string& name);

/// `count` numbers, such as "1,-0.5,0"; `what` for the message.
std::vector<double> parse_numbers(const std::string& text, size_t count, double most, const char* what);
/// ax,ay,az in g, as m/s2.
Vec3 parse_acceleration(const std::string& text);

/// m3; throws UsageError unless the tank holds it.
double level_volume(double litres, const tank::Tank& tank);

}  // namespace uadze::cli
