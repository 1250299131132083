#include "core/project/track_file.h"

#include <fmt/format.h>

#include <cmath>

#include "core/project/described_file.h"
#include "core/project/places.h"

namespace uadze::project {
Read<lap::Track> read_track(const std::filesystem::path& path) {
  return read_described<
      lap::Track>(path, track_key, [](const lap::Track& track, const std::string& file, Messages& messages) {
    Faults faults;
    if (track.segments.empty())
      faults.push_back({Severity::error, place_of(track.segments), "one segment or more", "an empty list"});
    for (const lap::Segment& s : track.segments)
      if (s.radius != 0 && std::abs(s.radius) < 3)
        faults.push_back({Severity::error, place_of(s.radius), "0 for a straight, or 3 m and more either way",
                          fmt::format("{:.6g}", s.radius)});
    for (Message& m : places_in(track).messages(faults, file)) messages.push_back(std::move(m));
  });
}

Read<CarFile> read_car(const std::filesystem::path& path) {
  return read_described<CarFile>(path, car_key, [](const CarFile&, const std::string&, Messages&) {});
}

std::string track_text(const lap::Track& track) { return described_text(track, track_key); }
std::string car_text(const CarFile& car) { return described_text(car, car_key); }

}  // namespace uadze::project
