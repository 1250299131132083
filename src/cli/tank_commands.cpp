// The commands about the tank alone: settle, slosh, modes, dip, reach, mesh check.
#include <algorithm>
#include <cmath>
#include <numbers>

#include "cli/common.h"
#include "cli/report.h"
#include "core/lap/manoeuvre.h"
#include "core/slosh/modes.h"
#include "core/slosh/motion.h"
#include "core/slosh/reach.h"
#include "core/tank/gauge.h"
#include "core/tank/mesh_check.h"

namespace uadze::cli {
namespace {

using namespace project;

struct OpenedTank {
  Opened opened;
  Setup setup;
  TankStore tanks;
  starvation::FuelSystem car;
};

std::unique_ptr<OpenedTank> open_tank(const std::string& file, const std::string& setup) {
  auto out = std::make_unique<OpenedTank>();
  out->opened = open_project(file, &out->tanks);
  say(out->opened.notes);
  out->setup = chosen_setup(out->opened.project, setup);
  out->car = compile(out->setup, out->tanks);
  return out;
}

Json vector_json(const Vec3& v, double factor = 1.0) {
  return Json::array({v.x() * factor, v.y() * factor, v.z() * factor});
}

/// Rounding's own dust would print as a negative zero.
Vec3 swept(Vec3 v) {
  return v.unaryExpr([](double x) { return std::abs(x) < 1e-9 ? 0.0 : x; });
}

double degrees(double radians) { return radians * 180 / std::numbers::pi; }

}  // namespace

void settle(const SettleOptions& options) {
  const Vec3 acceleration = parse_acceleration(options.accel_g);
  const auto o = open_tank(options.file, options.setup);
  const tank::Tank& tank = *o->car.tank;
  const double volume = level_volume(options.level_l, o->car);
  const Vec3 f = slosh::effective_gravity(acceleration);
  if (f.norm() < slosh::weightless)
    throw UsageError("--accel-g: the fuel would be weightless there and has no settled surface");
  slosh::FuelMotion fuel(tank, o->car.pickups, volume, {.model = slosh::Model::settled});
  fuel.move(f, 0.0);
  Json json{{"setup", o->setup.name},
            {"level_l", options.level_l},
            {"vehicle_acceleration_g", vector_json(acceleration, 1 / standard_gravity)},
            {"effective_gravity_m_s2", vector_json(f)},
            {"centroid_mm", vector_json(fuel.centroid(), 1e3)}};
  std::string text =
      fmt::format("{} | {:.3f} L under ({}) g\n", o->setup.name, options.level_l, options.accel_g);
  json["spaces"] = Json::array();
  for (size_t i = 0; i < tank.spaces.size(); ++i) {
    const tank::Plane surface = fuel.surface(i);
    const tank::Moments held = moments_below(tank.spaces[i].solid, surface);
    json["spaces"].push_back({{"name", tank.spaces[i].name},
                              {"volume_l", fuel.volume(i) * 1e3},
                              {"capacity_l", tank.spaces[i].volume() * 1e3},
                              {"surface",
                               {{"normal", vector_json(surface.normal)},
                                {"offset_mm", surface.offset * 1e3},
                                {"area_cm2", section(tank.spaces[i].solid, surface).area * 1e4}}},
                              {"centroid_mm", vector_json(held.centroid(), 1e3)}});
    text +=
        fmt::format("  {:<9} {:.4f} L of {:.4f}, surface normal ({:.6f}, {:.6f}, {:.6f}), offset {:.3f} mm\n",
                    tank.spaces[i].name, fuel.volume(i) * 1e3, tank.spaces[i].volume() * 1e3,
                    surface.normal.x(), surface.normal.y(), surface.normal.z(), surface.offset * 1e3);
  }
  const Vec3 c = fuel.centroid() * 1e3;
  text += fmt::format("  centroid  ({:.3f}, {:.3f}, {:.3f}) mm\n", c.x(), c.y(), c.z());
  json["pickups"] = Json::array();
  for (size_t p = 0; p < o->car.pickups.size(); ++p) {
    const auto& pickup = o->car.pickups[p];
    json["pickups"].push_back({{"name", pickup.name},
                               {"feeds", pickup.feeds},
                               {"depth_mm", fuel.depth(p) * 1e3},
                               {"wet_fraction", fuel.wet(p)}});
    text += fmt::format("  pickup    {}: depth {:.2f} mm, {:.1f} % wet\n", pickup.name, fuel.depth(p) * 1e3,
                        fuel.wet(p) * 100);
  }
  put(options.json ? json.dump(2) + "\n" : text);
}

void slosh(const SloshOptions& options) {
  if (!options.lap.empty() + !options.accel.empty() + !options.manoeuvre.empty() != 1)
    throw UsageError("slosh: expected one of --lap, --accel and --manoeuvre");
  const auto o = open_tank(options.file, options.setup);
  const tank::Tank& tank = *o->car.tank;
  const double volume = level_volume(options.level_l, o->car);
  slosh::MotionOptions how = starvation::motion_options(o->car, false);
  if (!options.draw) how.circulation = {};
  how.model = options.model == "settled" ? slosh::Model::settled : slosh::Model::planar;
  how.step = options.step_ms * 1e-3;
  lap::ForceTrace trace;
  if (!options.accel.empty()) {
    trace = lap::read_acceleration(options.accel).value;
  } else if (!options.manoeuvre.empty()) {
    const auto& names = lap::manoeuvre_names();
    const auto found = std::find(names.begin(), names.end(), options.manoeuvre);
    if (found == names.end())
      throw UsageError(fmt::format("--manoeuvre: expected one of \"{}\", found \"{}\"",
                                   fmt::join(names, "\", \""), options.manoeuvre));
    trace =
        lap::manoeuvre(static_cast<lap::Manoeuvre>(found - names.begin()), {.strength = options.strength_g});
  } else {
    const LapReference& reference = named(o->opened.project.laps, options.lap, "lap");
    LapStore laps(o->opened.file.path.parent_path());
    trace = lap::force_trace(laps.get(reference)->value);
    how.start = reference.repeated ? slosh::Start::settled : slosh::Start::level;
  }
  std::string text = "time [s],centroid x [mm],centroid y [mm],centroid z [mm]";
  for (const auto& s : tank.spaces) {
    text += fmt::format(",{0} volume [l],{0} normal x [1],{0} normal y [1],{0} normal z [1]", s.name);
    if (tank.spaces.size() > 1) text += fmt::format(",{} gas locked [1]", s.name);
  }
  const auto plain = [](std::string name) {
    std::replace(name.begin(), name.end(), ',', ';');
    return name;
  };
  for (const auto& opening : tank.openings) text += fmt::format(",{} flow [l/s]", plain(opening.name));
  for (const auto& p : o->car.pickups)
    text += fmt::format(",{0} depth [mm],{0} wet fraction [1]", plain(p.name));
  text += "\n";
  for (const slosh::Instant& now : slosh_motion(tank, o->car.pickups, volume, trace, how)) {
    const Vec3 c = swept(now.centroid) * 1e3;
    text += fmt::format("{:.4f},{:.4f},{:.4f},{:.4f}", now.time, c.x(), c.y(), c.z());
    for (size_t i = 0; i < tank.spaces.size(); ++i) {
      const Vec3 n = swept(now.surface[i].normal);
      text += fmt::format(",{:.12f},{:.8f},{:.8f},{:.8f}", now.volume[i] * 1e3, n.x(), n.y(), n.z());
      if (tank.spaces.size() > 1) text += fmt::format(",{}", static_cast<int>(now.locked[i]));
    }
    for (double q : now.flow) text += fmt::format(",{:.6f}", q == 0 ? 0.0 : q * 1e3);
    for (size_t p = 0; p < o->car.pickups.size(); ++p)
      text += fmt::format(",{:.3f},{:.5f}", now.depth[p] * 1e3, now.wet[p]);
    text += "\n";
  }
  write_or_put(options.output, text);
}

void modes(const ModesOptions& options) {
  const Vec3 acceleration =
      options.accel_g.empty() ? Vec3(Vec3::Zero()) : parse_acceleration(options.accel_g);
  const auto o = open_tank(options.file, options.setup);
  const tank::Tank& tank = *o->car.tank;
  const double volume = level_volume(options.level_l, o->car);
  const Vec3 f = slosh::effective_gravity(acceleration);
  if (f.norm() < slosh::weightless) throw UsageError("--accel-g: fuel without weight has no sloshing modes");
  slosh::SettledTank settled(tank, slosh::level_fill(tank, volume));
  settled.update(f);
  Json json{
      {"setup", o->setup.name}, {"level_l", options.level_l}, {"effective_gravity_m_s2", vector_json(f)}};
  json["spaces"] = Json::array();
  std::string text =
      fmt::format("{} | {:.3f} L, effective gravity {:.3f} m/s2\n", o->setup.name, options.level_l, f.norm());
  for (size_t i = 0; i < tank.spaces.size(); ++i) {
    const tank::Space& space = tank.spaces[i];
    const slosh::Modes found =
        slosh::first_modes(space.body, settled.volume(i) / space.volume() * space.body.volume(), f,
                           {.degree = 9, .count = options.count});
    Json list = Json::array();
    text += fmt::format("  {}: {:.4f} L{}\n", space.name, settled.volume(i) * 1e3,
                        found.frequency.empty() ? ", no free surface" : "");
    for (size_t k = 0; k < found.frequency.size(); ++k) {
      const double w = found.frequency[k];
      const Vec3 d = swept(found.direction[k]);
      list.push_back({{"frequency_hz", w / (2 * std::numbers::pi)},
                      {"angular_frequency_rad_s", w},
                      {"period_s", 2 * std::numbers::pi / w},
                      {"direction", vector_json(d)}});
      text += fmt::format("    {}: {:.4f} Hz, period {:.4f} s, {}\n", k + 1, w / (2 * std::numbers::pi),
                          2 * std::numbers::pi / w,
                          d.norm() > 0 ? fmt::format("along ({:.2f}, {:.2f}, {:.2f})", d.x(), d.y(), d.z())
                                       : "moves no centroid");
    }
    json["spaces"].push_back({{"name", space.name}, {"volume_l", settled.volume(i) * 1e3}, {"modes", list}});
  }
  put(options.json ? json.dump(2) + "\n" : text);
}

void dip(const DipOptions& options) {
  const auto o = open_tank(options.file, options.setup);
  const tank::Tank& tank = *o->car.tank;
  Vec2 place = tank.whole.centroid().head<2>();
  if (!options.at_mm.empty()) {
    const auto at = parse_numbers(options.at_mm, 2, 20000, "--at-mm: expected x,y: two numbers in mm");
    place = Vec2(at[0], at[1]) * 1e-3;
  }
  if (!tank::floor_under(tank, place))
    throw UsageError(fmt::format("--at-mm: expected a place over the tank, found ({:.6g}, {:.6g}) mm",
                                 place.x() * 1e3, place.y() * 1e3));
  const tank::Rake rake{options.pitch_deg * std::numbers::pi / 180,
                        options.roll_deg * std::numbers::pi / 180};
  const tank::GaugeTable table = gauge_table(o->setup.tank, tank, place, rake, options.steps);
  const bool sender = o->setup.tank.sender.has_value();
  std::string text =
      fmt::format("# {}, stick at x {:.1f} mm, y {:.1f} mm, nose up {:.4g} deg, left side up {:.4g} deg\n",
                  o->setup.name, place.x() * 1e3, place.y() * 1e3, options.pitch_deg, options.roll_deg);
  for (const auto& limit : fill_limits(o->setup.tank, tank))
    text += fmt::format("# {}: {:.4f} L\n", limit.name, limit.value * 1e3);
  for (const auto& h : table.hidden)
    text += fmt::format(
        "# {} begins to be bare at {:.4f} L{}\n", h.pickup, h.volume * 1e3,
        sender ? fmt::format(": the gauge reads {:.1f} %, as if {:.4f} L", h.reading * 100, h.believed * 1e3)
               : "");
  text += sender ? "volume [l],dip [mm],gauge reading [%],volume by gauge [l]\n" : "volume [l],dip [mm]\n";
  for (const auto& row : table.rows) {
    text += fmt::format("{:.6f},{:.4f}", row.volume * 1e3, row.dip.value_or(0) * 1e3);
    if (sender) text += fmt::format(",{:.4f},{:.6f}", row.reading * 100, row.believed * 1e3);
    text += "\n";
  }
  write_or_put(options.output, text);
}

void reach(const ReachOptions& options) {
  const auto o = open_tank(options.file, options.setup);
  const tank::Tank& tank = *o->car.tank;
  if (o->car.pickups.empty())
    throw InputError(
        Message{.file = options.file, .place = "tank/pickups", .expected = "a pickup", .found = "none"});
  std::string text = "pickup,angle [deg],longitudinal [g],lateral [g],least volume [l]\n";
  for (size_t p = 0; p < o->car.pickups.size(); ++p) {
    const auto& pickup = o->car.pickups[p];
    if (!options.pickup.empty() && pickup.name != options.pickup) continue;
    const slosh::Reach result = slosh::pickup_reach(tank, pickup, static_cast<size_t>(tank.pickup_space[p]),
                                                    options.strength_g, options.directions);
    for (size_t i = 0; i < result.angle.size(); ++i)
      text += fmt::format(
          "{},{:.3f},{:.5f},{:.5f},{}\n", pickup.name, degrees(result.angle[i]),
          options.strength_g * std::cos(result.angle[i]), options.strength_g * std::sin(result.angle[i]),
          std::isfinite(result.volume[i]) ? fmt::format("{:.6f}", result.volume[i] * 1e3) : "inf");
  }
  if (!options.pickup.empty()) named(o->car.pickups, options.pickup, "pickup");
  write_or_put(options.output, text);
}

int mesh_check(const MeshCheckOptions& options) {
  const double unit = options.unit == "cm"     ? 0.01
                      : options.unit == "m"    ? 1.0
                      : options.unit == "inch" ? 0.0254
                                               : 1e-3;
  for (const std::string& mend : options.mends) {
    const auto& known = tank::mesh_mends();
    if (std::find(known.begin(), known.end(), mend) == known.end())
      throw UsageError(fmt::format("--mend: expected one of {}, found \"{}\"", fmt::join(known, ", "), mend));
  }
  const tank::MeshFile mesh = tank::mended(tank::read_mesh(options.file), options.mends);
  const tank::MeshReport report = check_mesh(mesh, unit);
  Json json{{"file", options.file},
            {"format", mesh.format},
            {"vertices", report.vertices},
            {"triangles", report.triangles},
            {"shells", report.shells},
            {"size_mm", vector_json(report.size, 1e3)},
            {"volume_l", report.volume * 1e3},
            {"usable", report.usable()}};
  std::string text = fmt::format(
      "{}: {}, {} vertices, {} triangles, {} shell{}, {:.4g} x {:.4g} x {:.4g} mm, {:.6f} L\n", options.file,
      mesh.format, report.vertices, report.triangles, report.shells, report.shells == 1 ? "" : "s",
      report.size.x() * 1e3, report.size.y() * 1e3, report.size.z() * 1e3, report.volume * 1e3);
  json["findings"] = Json::array();
  for (const auto& f : report.findings) {
    const bool error = f.severity == Severity::error;
    json["findings"].push_back({{"severity", error ? "error" : "warning"},
                                {"text", f.text},
                                {"count", f.count},
                                {"at", vector_json(f.where)},
                                {"mend", f.mend}});
    text += fmt::format("  {}: {}{}\n", error ? "error" : "warning", f.text,
                        f.mend.empty() ? "" : fmt::format(" (mend: {})", f.mend));
  }
  text += report.usable() ? "  can be a tank\n" : "  can not be a tank as it is\n";
  put(options.json ? json.dump(2) + "\n" : text);
  return report.usable() ? 0 : 1;
}

}  // namespace uadze::cli
