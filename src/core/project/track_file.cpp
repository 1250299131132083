#include "core/project/track_file.h"

#include <cmath>
#include <numbers>

#include "core/base/files.h"
#include "core/project/json_reader.h"

namespace uadze::project {

Read<lap::Track> read_track(const std::filesystem::path& path) {
  const std::string file = path.string();
  const Json json = parse_json(read_file(path), file);
  Messages messages;
  JsonReader root(json, file, messages);
  lap::Track track;
  root.whole("undertow_adze_track", 1, 1, std::nullopt);
  track.name = root.text("name");
  track.closed = root.choice("start", {"flying", "standing"}, 0) == 0;
  track.blend_length = root.number("blend_length_m", {.low = 0, .high = 200, .missing = track.blend_length});
  for (JsonReader& s : root.list("segments", true)) {
    lap::Segment segment;
    segment.name = s.text("name", "");
    segment.length = s.number("length_m", {.low = 0, .high = 20000, .missing = {}, .above_low = true});
    segment.radius = s.number("radius_m", {.low = -20000, .high = 20000, .missing = 0.0});
    if (segment.radius != 0 && std::abs(segment.radius) < 3)
      s.fail("radius_m", "0 for a straight, or 3 m and more either way", std::to_string(segment.radius));
    segment.banking =
        s.number("banking_deg", {.factor = std::numbers::pi / 180, .low = -30, .high = 45, .missing = 0.0});
    segment.grade = s.number("grade_percent", {.factor = 0.01, .low = -40, .high = 40, .missing = 0.0});
    s.warn_unknown();
    track.segments.push_back(segment);
  }
  root.warn_unknown();
  if (track.segments.empty() && !has_errors(messages))
    root.fail("segments", "one segment or more", "an empty list");
  if (has_errors(messages)) throw InputError(std::move(messages));
  return {std::move(track), std::move(messages)};
}

Read<CarFile> read_car(const std::filesystem::path& path) {
  const std::string file = path.string();
  const Json json = parse_json(read_file(path), file);
  Messages messages;
  JsonReader root(json, file, messages);
  CarFile out;
  lap::Car& car = out.car;
  root.whole("undertow_adze_car", 1, 1, std::nullopt);
  car.name = root.text("name");
  car.mass = root.number("mass_kg", {.low = 50, .high = 10000});
  car.power = root.number("power_kw", {.factor = 1000, .low = 1, .high = 5000});
  car.grip = root.number("grip", {.low = 0.05, .high = 4});
  car.drag_area = root.number("drag_area_m2", {.low = 0, .high = 10});
  car.downforce_area = root.number("downforce_area_m2", {.low = -2, .high = 20, .missing = 0.0});
  car.rolling = root.number("rolling_resistance", {.low = 0, .high = 0.2, .missing = car.rolling});
  car.brake_limit = root.number("brake_limit_g", {.factor = standard_gravity, .low = 0.1, .high = 8});
  car.traction_share = root.number("traction_share", {.low = 0.1, .high = 1, .missing = car.traction_share});
  car.air_density = root.number("air_density_kg_m3", {.low = 0.5, .high = 2, .missing = car.air_density});
  car.consumption = root.number("consumption_g_kwh", {.factor = 1e-3 / 3.6e6, .low = 50, .high = 2000});
  car.fuel_density =
      root.number("fuel_density_kg_m3", {.low = 500, .high = 1000, .missing = car.fuel_density});
  car.idle_flow =
      root.number("idle_flow_l_h", {.factor = 1e-3 / 3600, .low = 0, .high = 100, .missing = car.idle_flow});
  car.idle_rotation =
      root.number("idle_rpm", {.factor = 1.0 / 60, .low = 100, .high = 5000, .missing = car.idle_rotation});
  car.top_rotation =
      root.number("top_rpm", {.factor = 1.0 / 60, .low = 1000, .high = 25000, .missing = car.top_rotation});
  if (root.has("gear_top_speeds_km_h"))
    car.gear_speeds = root.numbers("gear_top_speeds_km_h", {.factor = 1 / 3.6, .low = 5, .high = 500});
  if (auto noise = root.object("noise")) {
    out.noise.seed = static_cast<std::uint64_t>(noise->whole("seed", 0, 2000000000, 1));
    out.noise.acceleration =
        noise->number("acceleration_g", {.factor = standard_gravity, .low = 0, .high = 1, .missing = 0.0});
    out.noise.flow = noise->number("flow_percent", {.factor = 0.01, .low = 0, .high = 50, .missing = 0.0});
    noise->warn_unknown();
  }
  root.warn_unknown();
  if (has_errors(messages)) throw InputError(std::move(messages));
  return {std::move(out), std::move(messages)};
}

}  // namespace uadze::project
