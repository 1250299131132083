#include "cli/common.h"

#include <cstdio>

#include "core/base/files.h"
#include "core/base/names.h"
#include "core/base/units.h"
#include "core/lap/manoeuvre.h"

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

Job open_job(const std::string& file) {
  Job out;
  out.sources = std::make_unique<solve::Sources>(std::filesystem::path(file).parent_path());
  out.opened = solve::open_project(file, *out.sources, outside_files);
  say(out.opened.notes);
  return out;
}

lap::Manoeuvre named_manoeuvre(const std::string& name) {
  if (const auto found = value_named<lap::Manoeuvre>(name)) return *found;
  throw UsageError(fmt::format("--manoeuvre: expected one of \"{}\", found \"{}\"",
                               fmt::join(names_of<lap::Manoeuvre>(), "\", \""), name));
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

double level_volume(double litres, const tank::Tank& tank) {
  const double volume = litres * 1e-3, whole = tank.volume();
  if (!(volume >= 0) || volume > whole * (1 + 1e-9))
    throw UsageError(fmt::format("--level-l: expected 0 to {:.4g} L, what the tank holds, found {:.6g}",
                                 whole * 1e3, litres));
  return std::min(volume, whole);
}

}  // namespace uadze::cli
