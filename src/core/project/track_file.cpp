#include "core/project/track_file.h"

#include <fmt/format.h>

#include <cmath>

#include "core/base/files.h"
#include "core/project/field_reader.h"
#include "core/project/places.h"

namespace uadze::project {
namespace {

template <class T, class Check>
Read<T> read_described(const std::filesystem::path& path, const char* version_key, Check&& check) {
  const std::string file = path.string();
  const Json json = parse_json(read_file(path), file);
  Messages messages;
  FieldReader reader(JsonReader(json, file, messages));
  reader.in().whole(version_key, 1, 1, std::nullopt);
  T out;
  describe(reader, out);
  reader.done();
  if (!has_errors(messages)) check(out, file, messages);
  if (has_errors(messages)) throw InputError(std::move(messages));
  return {std::move(out), std::move(messages)};
}

}  // namespace

Read<lap::Track> read_track(const std::filesystem::path& path) {
  return read_described<lap::Track>(
      path, "undertow_adze_track", [](const lap::Track& track, const std::string& file, Messages& messages) {
        Faults faults;
        if (track.segments.empty())
          faults.push_back(
              {Severity::error, place_of(track.segments), "one segment or more", "an empty list"});
        for (const lap::Segment& s : track.segments)
          if (s.radius != 0 && std::abs(s.radius) < 3)
            faults.push_back({Severity::error, place_of(s.radius),
                              "0 for a straight, or 3 m and more either way",
                              fmt::format("{:.6g}", s.radius)});
        for (Message& m : places_in(track).messages(faults, file)) messages.push_back(std::move(m));
      });
}

Read<CarFile> read_car(const std::filesystem::path& path) {
  return read_described<CarFile>(path, "undertow_adze_car",
                                 [](const CarFile&, const std::string&, Messages&) {});
}

}  // namespace uadze::project
