// The commands about the tank alone: settle, slosh, modes, dip, reach, mesh check.
#include <algorithm>
#include <cmath>
#include <numbers>

#include "cli/common.h"
#include "core/report/tank_report.h"
#include "core/slosh/settled.h"

namespace uadze::cli {
namespace {

struct TankJob {
  Job job;
  const project::Setup* setup = nullptr;
  starvation::FuelSystem car;
};

TankJob open_tank(const std::string& file, const std::string& setup) {
  TankJob out{.job = open_job(file)};
  out.setup = &solve::chosen_setup(out.job.project(), setup);
  out.car = solve::compile(*out.setup, *out.job.sources);
  return out;
}

}  // namespace

void settle(const SettleOptions& options) {
  const Vec3 acceleration = parse_acceleration(options.accel_g);
  if (slosh::effective_gravity(acceleration).norm() < slosh::weightless)
    throw UsageError("--accel-g: the fuel would be weightless there and has no settled surface");
  const Job job = open_job(options.file);
  const auto assembly = job.sources->tanks.assembled(solve::chosen_setup(job.project(), options.setup).tank);
  const auto lies = solve::settle(
      job.project(), {.setup = options.setup},
      {.level = level_volume(options.level_l, assembly->tank), .acceleration = acceleration}, *job.sources);
  put(options.json ? report::settled_json(lies).dump(2) + "\n" : report::settled_text(lies, units));
}

void slosh(const SloshOptions& options) {
  if (!options.lap.empty() + !options.accel.empty() + !options.manoeuvre.empty() != 1)
    throw UsageError("slosh: expected one of --lap, --accel and --manoeuvre");
  const TankJob o = open_tank(options.file, options.setup);
  const tank::Tank& tank = *o.car.tank;
  const double volume = level_volume(options.level_l, tank);
  slosh::MotionOptions how = starvation::motion_options(o.car, false);
  if (!options.draw) how.circulation = {};
  how.model = options.model == "settled" ? slosh::Model::settled : slosh::Model::planar;
  how.step = options.step_ms * 1e-3;
  lap::ForceTrace trace;
  if (!options.accel.empty()) {
    trace = lap::read_acceleration(options.accel).value;
  } else if (!options.manoeuvre.empty()) {
    trace = lap::manoeuvre(named_manoeuvre(options.manoeuvre), {.strength = options.strength_g});
  } else {
    const auto r = solve::resolve(
        o.job.project(),
        {.setup = options.setup, .lap = options.lap, .session = {}, .grip = {}, .alone = true});
    trace = lap::force_trace(o.job.sources->laps.get(*r.lap)->value);
    how.start = r.lap->repeated ? slosh::Start::settled : slosh::Start::level;
  }
  write_or_put(options.output, report::motion_csv(tank, o.car.pickups,
                                                  slosh_motion(tank, o.car.pickups, volume, trace, how)));
}

void modes(const ModesOptions& options) {
  const Vec3 acceleration =
      options.accel_g.empty() ? Vec3(Vec3::Zero()) : parse_acceleration(options.accel_g);
  const TankJob o = open_tank(options.file, options.setup);
  const tank::Tank& tank = *o.car.tank;
  const double volume = level_volume(options.level_l, tank);
  const Vec3 f = slosh::effective_gravity(acceleration);
  if (f.norm() < slosh::weightless) throw UsageError("--accel-g: fuel without weight has no sloshing modes");
  slosh::SettledTank settled(tank, slosh::level_fill(tank, volume));
  settled.update(f);
  std::vector<report::SpaceModes> spaces;
  for (size_t i = 0; i < tank.spaces.size(); ++i) {
    const tank::Space& space = tank.spaces[i];
    spaces.push_back({space.name, settled.volume(i),
                      slosh::first_modes(space.body, settled.volume(i) / space.volume() * space.body.volume(),
                                         f, {.degree = 9, .count = options.count, .estimate_change = true})});
  }
  put(options.json ? report::modes_json(o.setup->name, volume, f, spaces).dump(2) + "\n"
                   : report::modes_text(o.setup->name, volume, f, spaces, units));
}

void dip(const DipOptions& options) {
  const TankJob o = open_tank(options.file, options.setup);
  const tank::Tank& tank = *o.car.tank;
  Vec2 place = tank::deepest_place(tank);
  if (!options.at_mm.empty()) {
    const auto at = parse_numbers(options.at_mm, 2, 20000, "--at-mm: expected x,y: two numbers in mm");
    place = Vec2(at[0], at[1]) * 1e-3;
  }
  if (!tank::floor_under(tank, place))
    throw UsageError(fmt::format("--at-mm: expected a place over the tank, found ({:.6g}, {:.6g}) mm",
                                 place.x() * 1e3, place.y() * 1e3));
  const tank::Rake rake{options.pitch_deg * std::numbers::pi / 180,
                        options.roll_deg * std::numbers::pi / 180};
  const tank::GaugeTable table = gauge_table(o.setup->tank, tank, place, rake, options.steps);
  write_or_put(options.output, report::dip_csv(*o.setup, tank, place, rake, table));
}

void reach(const ReachOptions& options) {
  const TankJob o = open_tank(options.file, options.setup);
  const tank::Tank& tank = *o.car.tank;
  if (o.car.pickups.empty())
    throw InputError(
        Message{.file = options.file, .place = "tank/pickups", .expected = "a pickup", .found = "none"});
  std::string text = report::reach_header(), names;
  bool any = false;
  for (size_t p = 0; p < o.car.pickups.size(); ++p) {
    const auto& pickup = o.car.pickups[p];
    names += (names.empty() ? "\"" : ", \"") + pickup.name + "\"";
    if (!options.pickup.empty() && pickup.name != options.pickup) continue;
    any = true;
    text += report::reach_rows(pickup.name,
                               slosh::pickup_reach(tank, pickup, static_cast<size_t>(tank.pickup_space[p]),
                                                   options.strength_g, options.directions));
  }
  if (!any) throw UsageError(fmt::format("no pickup \"{}\"; there is {}", options.pickup, names));
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
  const tank::MeshReport found = check_mesh(mesh, unit);
  put(options.json ? report::mesh_json(options.file, mesh, found).dump(2) + "\n"
                   : report::mesh_text(options.file, mesh, found, units));
  return found.usable() ? 0 : 1;
}

}  // namespace uadze::cli
