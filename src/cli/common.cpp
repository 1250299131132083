#include "cli/common.h"

#include <cstdio>

#include "core/base/files.h"
#include "core/base/units.h"

namespace uadze::cli {

void say(const Messages& messages) {
  for (const Message& m : messages) fmt::print(stderr, "{}\n", m.text());
}

void put(const std::string& text) {
  if (std::fwrite(text.data(), 1, text.size(), stdout) != text.size() || std::fflush(stdout) != 0)
    throw InputError(Message{.file = "stdout", .found = "can not be written"});
}

void write_or_put(const std::string& output, const std::string& text) {
  if (output.empty() || output == "-")
    put(text);
  else
    write_file_atomically(output, text);
}

const project::Setup& chosen_setup(const project::Project& project, const std::string& name) {
  if (name.empty() && !project.setups.empty()) return project.setups.front();
  return named(project.setups, name, "setup");
}

const project::LapReference& chosen_lap(const project::Opened& opened, const std::string& name) {
  if (!name.empty()) return named(opened.project.laps, name, "lap");
  if (opened.project.laps.empty())
    throw InputError(
        Message{.file = opened.file.path.string(), .place = "/laps", .expected = "a lap", .found = "none"});
  return opened.project.laps.front();
}

const project::LapReference& session_lap(const project::Project& project, const session::Session& session,
                                         const std::string& file) {
  if (const auto* reference = project::reference_of(project, session)) return *reference;
  size_t index = 0;
  while (index < project.sessions.size() && project.sessions[index].name != session.name) ++index;
  throw InputError(Message{.file = file,
                           .place = fmt::format("/sessions/{}/lap", index),
                           .expected = "the name of one of the laps (only a test bench session does without)",
                           .found = session.lap.empty() ? "none" : "\"" + session.lap + "\""});
}

std::string case_key(const project::Setup& setup, const session::Session& session) {
  return fmt::format("{}\n{}\n{}\n{}", setup.name, session.lap, session.grip,
                     session.temperature.value_or(0.0));
}

std::vector<double> parse_numbers(const std::string& text, size_t count, double most, const char* what) {
  std::vector<double> parts;
  size_t from = 0;
  while (from <= text.size()) {
    const size_t comma = std::min(text.find(',', from), text.size());
    const auto number = parse_number(text.substr(from, comma - from));
    if (!number || !(std::abs(*number) <= most)) break;
    parts.push_back(*number);
    from = comma + 1;
  }
  if (parts.size() != count || from <= text.size())
    throw UsageError(fmt::format("{}, found \"{}\"", what, text));
  return parts;
}

Vec3 parse_acceleration(const std::string& text) {
  const auto parts = parse_numbers(text, 3, 100, "--accel-g: expected ax,ay,az: three numbers in g");
  return Vec3(parts[0], parts[1], parts[2]) * standard_gravity;
}

double level_volume(double litres, const starvation::FuelSystem& car) {
  const double volume = litres * 1e-3, whole = car.tank->volume();
  if (!(volume >= 0) || volume > whole * (1 + 1e-9))
    throw UsageError(fmt::format("--level-l: expected 0 to {:.4g} L, what the tank holds, found {:.6g}",
                                 whole * 1e3, litres));
  return std::min(volume, whole);
}

}  // namespace uadze::cli
