#include "cli/commands.h"

#include <fmt/format.h>
#include <unistd.h>

#include <algorithm>
#include <cstdio>

#include "cli/report.h"
#include "core/base/files.h"
#include "core/base/units.h"
#include "core/project/track_file.h"
#include "core/slosh/motion.h"

namespace uadze::cli {
namespace {

using namespace project;

void say(const Messages& messages) {
  for (const Message& m : messages) fmt::print(stderr, "{}\n", m.text());
}

/// Result text to stdout; a full disk or closed pipe there is a failure, not silence.
void put(const std::string& text) {
  if (std::fwrite(text.data(), 1, text.size(), stdout) != text.size() || std::fflush(stdout) != 0)
    throw InputError(Message{.file = "stdout", .found = "can not be written"});
}

template <class List>
auto& named(const List& list, const std::string& name, const char* what) {
  std::string names;
  for (const auto& item : list) {
    if (item.name == name) return item;
    names += (names.empty() ? "\"" : ", \"") + item.name + "\"";
  }
  throw UsageError(fmt::format("no {} \"{}\"; there is {}", what, name, names.empty() ? "none" : names));
}

const Setup& chosen_setup(const Project& project, const std::string& name) {
  if (name.empty() && !project.setups.empty()) return project.setups.front();
  return named(project.setups, name, "setup");
}

Vec3 parse_acceleration(const std::string& text) {
  std::vector<double> parts;
  size_t from = 0;
  while (from <= text.size()) {
    const size_t comma = std::min(text.find(',', from), text.size());
    const auto number = parse_number(text.substr(from, comma - from));
    if (!number || std::abs(*number) > 100) break;
    parts.push_back(*number);
    from = comma + 1;
  }
  if (parts.size() != 3 || from <= text.size())
    throw UsageError("--accel-g: expected ax,ay,az: three numbers in g, found \"" + text + "\"");
  return Vec3(parts[0], parts[1], parts[2]) * standard_gravity;
}

Json vector_json(const Vec3& v, double factor = 1.0) {
  return Json::array({v.x() * factor, v.y() * factor, v.z() * factor});
}

/// m3; throws UsageError unless the tank holds it.
double level_volume(double litres, const starvation::FuelSystem& car) {
  const double volume = litres * 1e-3;
  if (!(volume >= 0) || volume > car.tank.volume() * (1 + 1e-9))
    throw UsageError(fmt::format("--level-l: expected 0 to {:.4g} L, what the tank holds, found {:.6g}",
                                 car.tank.volume() * 1e3, litres));
  return volume;
}

void write_or_put(const std::string& output, const std::string& text) {
  if (output.empty() || output == "-")
    put(text);
  else
    write_file_atomically(output, text);
}

}  // namespace

int check(const std::string& file) {
  const Opened opened = open_project(file);
  const Messages messages = check_project(opened);
  say(messages);
  const auto count = [&](Severity s) {
    return std::count_if(messages.begin(), messages.end(), [s](const Message& m) { return m.severity == s; });
  };
  put(fmt::format("{}: {} setups, {} laps, {} sessions; {} errors, {} warnings\n", file,
                  opened.project.setups.size(), opened.project.laps.size(), opened.project.sessions.size(),
                  count(Severity::error), count(Severity::warning)));
  return has_errors(messages) ? 1 : 0;
}

void solve(const SolveOptions& options) {
  const Opened opened = open_project(options.file);
  say(opened.notes);
  const Project& project = opened.project;
  if (project.sessions.empty())
    throw InputError(Message{
        .file = options.file, .place = "/sessions", .expected = "a session to solve for", .found = "none"});
  if (!options.setup.empty()) named(project.setups, options.setup, "setup");
  if (!options.session.empty()) named(project.sessions, options.session, "session");
  LapStore laps(opened.file.path.parent_path());
  std::map<std::pair<std::string, std::string>, LapResultPtr> done;
  Json json = Json::array();
  std::string text;
  for (const Setup& setup : project.setups) {
    if (!options.setup.empty() && setup.name != options.setup) continue;
    for (const session::Session& s : project.sessions) {
      if (!options.session.empty() && s.name != options.session) continue;
      LapResultPtr& lap = done[{setup.name, s.lap}];
      if (!lap) {
        lap = solve_lap(setup, *project.find_lap(s.lap), laps);
        Messages notes = lap->lap->notes;
        std::erase_if(notes, [](const Message& m) { return m.severity == Severity::note; });
        say(notes);
      }
      const SessionResult result = plan_session(lap, s);
      if (options.json)
        json.push_back(session_json(result));
      else
        text += (text.empty() ? "" : "\n") + session_text(result, options.working);
    }
  }
  put(options.json ? Json{{"project", project.name}, {"results", json}}.dump(2) + "\n" : text);
}

void settle(const SettleOptions& options) {
  const Vec3 acceleration = parse_acceleration(options.accel_g);
  const Opened opened = open_project(options.file);
  say(opened.notes);
  const Setup& setup = chosen_setup(opened.project, options.setup);
  const starvation::FuelSystem car = compile(setup);
  const double volume = level_volume(options.level_l, car);
  const Vec3 f = slosh::effective_gravity(acceleration);
  if (f.norm() < slosh::weightless)
    throw UsageError("--accel-g: the fuel would be weightless there and has no settled surface");
  slosh::SettledTank settled(car.tank);
  const tank::Plane surface = settled.surface(f, volume);
  const tank::Moments fuel = moments_below(car.tank, surface);
  const tank::Section cut = section(car.tank, surface);
  Json json{{"setup", setup.name},
            {"level_l", options.level_l},
            {"vehicle_acceleration_g", vector_json(acceleration, 1 / standard_gravity)},
            {"effective_gravity_m_s2", vector_json(f)}};
  json["spaces"] = Json::array({{{"name", "tank"},
                                 {"volume_l", fuel.volume * 1e3},
                                 {"capacity_l", car.tank.volume() * 1e3},
                                 {"surface",
                                  {{"normal", vector_json(surface.normal)},
                                   {"offset_mm", surface.offset * 1e3},
                                   {"area_cm2", cut.area * 1e4}}},
                                 {"centroid_mm", vector_json(fuel.centroid(), 1e3)}}});
  json["pickups"] = Json::array();
  for (const auto& p : car.pickups)
    json["pickups"].push_back({{"name", p.name},
                               {"feeds", p.feeds},
                               {"depth_mm", depth(p, surface) * 1e3},
                               {"wet_fraction", wet_fraction(p, surface)}});
  if (options.json) return put(json.dump(2) + "\n");
  const Vec3 c = fuel.centroid() * 1e3;
  std::string text =
      fmt::format("{} | {:.3f} L under ({}) g\n", setup.name, options.level_l, options.accel_g);
  text += fmt::format("  tank      {:.4f} L, surface normal ({:.6f}, {:.6f}, {:.6f}), offset {:.3f} mm\n",
                      fuel.volume * 1e3, surface.normal.x(), surface.normal.y(), surface.normal.z(),
                      surface.offset * 1e3);
  text += fmt::format("  centroid  ({:.3f}, {:.3f}, {:.3f}) mm\n", c.x(), c.y(), c.z());
  for (const auto& p : car.pickups)
    text += fmt::format("  pickup    {}: depth {:.2f} mm, {:.1f} % wet\n", p.name, depth(p, surface) * 1e3,
                        wet_fraction(p, surface) * 100);
  put(text);
}

void simulate_lap(const SimulateOptions& options) {
  const auto track = read_track(options.track);
  const auto car = read_car(options.car);
  say(track.notes);
  say(car.notes);
  lap::Noise noise = car.value.noise;
  if (options.seed) noise.seed = *options.seed;
  const lap::Lap lap = lap::simulate(track.value, car.value.car, noise, options.rate_hz.value_or(50.0));
  write_or_put(options.output, write_lap(lap));
  fmt::print(stderr, "{} on {}: {:.2f} s, {:.0f} m, noise seed {}\n", car.value.car.name, track.value.name,
             lap.duration(), lap.length(), noise.seed);
}

void map(const MapCommandOptions& options) {
  const Opened opened = open_project(options.file);
  say(opened.notes);
  const Setup& setup = chosen_setup(opened.project, options.setup);
  if (options.lap.empty() && opened.project.laps.empty())
    throw InputError(Message{.file = options.file, .place = "/laps", .expected = "a lap", .found = "none"});
  const LapReference& reference =
      options.lap.empty() ? opened.project.laps.front() : named(opened.project.laps, options.lap, "lap");
  LapStore laps(opened.file.path.parent_path());
  const auto entry = laps.get(reference);
  const starvation::FuelSystem car = compile(setup);
  const starvation::Course course = make_course(car, reference, entry->value);
  const starvation::StarvationMap result = starvation_map(car, course, {.levels = options.levels});
  std::string text =
      "level [l],time [s],distance [m],mean wet fraction [1],least wet fraction [1],reserve [1],starving "
      "[1]\n";
  for (const auto& row : result.rows)
    for (size_t i = 0; i < entry->value.size(); ++i) {
      const double t = entry->value.time[i];
      const bool starving = std::any_of(row.events.begin(), row.events.end(),
                                        [t](const auto& e) { return t >= e.start && t <= e.end; });
      text += fmt::format("{:.4f},{:.3f},{:.2f},{:.4f},{:.4f},{:.4f},{}\n", row.level * 1e3, t,
                          entry->value.distance[i], row.wet[i], row.least_wet[i], row.reserve[i],
                          starving ? 1 : 0);
    }
  write_or_put(options.output, text);
}

void slosh(const SloshOptions& options) {
  if (options.lap.empty() == options.accel.empty())
    throw UsageError("slosh: expected either --lap or --accel");
  const Opened opened = open_project(options.file);
  say(opened.notes);
  const Setup& setup = chosen_setup(opened.project, options.setup);
  const starvation::FuelSystem car = compile(setup);
  const double volume = level_volume(options.level_l, car);
  if (!(volume > 0) || volume >= car.tank.volume())
    throw UsageError("--level-l: expected a tank that is neither empty nor full: its fuel does not move");
  slosh::MotionOptions how;
  how.model = options.model == "settled" ? slosh::Model::settled : slosh::Model::planar;
  how.step = options.step_ms * 1e-3;
  lap::ForceTrace trace;
  if (!options.accel.empty()) {
    trace = lap::read_acceleration(options.accel).value;
  } else {
    const LapReference& reference = named(opened.project.laps, options.lap, "lap");
    LapStore laps(opened.file.path.parent_path());
    trace = lap::force_trace(laps.get(reference)->value);
    how.start = reference.repeated ? slosh::Start::settled : slosh::Start::level;
  }
  std::string text =
      "time [s],centroid x [mm],centroid y [mm],centroid z [mm],tank volume [l],tank normal x [1],tank "
      "normal y [1],"
      "tank normal z [1]";
  for (const auto& p : car.pickups) text += fmt::format(",{0} depth [mm],{0} wet fraction [1]", p.name);
  text += "\n";
  for (const slosh::Instant& now : slosh_motion(car.tank, car.pickups, volume, trace, how)) {
    // Rounding's own dust would print as a negative zero.
    const auto swept = [](Vec3 v) {
      return Vec3(v.unaryExpr([](double x) { return std::abs(x) < 1e-9 ? 0.0 : x; }));
    };
    const Vec3 c = swept(now.centroid) * 1e3, n = swept(now.surface.normal);
    text += fmt::format("{:.4f},{:.4f},{:.4f},{:.4f},{:.9f},{:.8f},{:.8f},{:.8f}", now.time, c.x(), c.y(),
                        c.z(), now.volume * 1e3, n.x(), n.y(), n.z());
    for (size_t p = 0; p < car.pickups.size(); ++p)
      text += fmt::format(",{:.3f},{:.5f}", now.depth[p] * 1e3, now.wet[p]);
    text += "\n";
  }
  write_or_put(options.output, text);
}

}  // namespace uadze::cli
