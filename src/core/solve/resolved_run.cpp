#include "core/solve/resolved_run.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "core/solve/run.h"
#include "core/solve/settle.h"

namespace uadze::solve {
namespace {

/// s before a part of a drive from which the fast model is let run, to know how the fuel lies at its begin.
constexpr double lead_in = 8.0;

/// cm apart that is still as good as two grids of one solver; share of instants that agree.
constexpr double as_good = 0.02, mostly = 0.9;

/// The fast model's fuel where the job begins: as it lies after the seconds before.
slosh::FuelMotion fast_at_begin(const ResolvedJob& job) {
  slosh::FuelMotion fuel(*job.car.tank, job.car.pickups, job.ask.level, job.fast);
  const double start = std::max(job.whole.begin(), job.from - lead_in);
  fuel.begin(job.whole.at(start));
  for (double t = start; t < job.from - 1e-9; t += job.options.sample)
    fuel.move(job.whole, t, std::min(t + job.options.sample, job.from));
  fuel.refresh();
  return fuel;
}

}  // namespace

resolved::RunInput ResolvedJob::input() const {
  resolved::RunInput out{.tank = assembled->tank,
                         .parts = *assembled->parts,
                         .drive = drive,
                         .volume = ask.level,
                         .volumes = volumes,
                         .surfaces = surfaces,
                         .pickups = car.pickups,
                         .draws = draws,
                         .back = back,
                         .fuel = {.density = car.fuel_density},
                         .meshes = meshes};
  if (assembled->parts->vent)
    out.fuel.vents = {assembled->parts->vent->position};
  else
    // Without a place the vented spaces' middles stand for it, under their roofs.
    for (const tank::Space& s : assembled->tank.spaces)
      if (s.vented) {
        Vec3 p = s.body.centroid();
        p.z() = s.body.upper_corner().z() - 1e-3;
        out.fuel.vents.push_back(p);
      }
  out.fuel.sealed = out.fuel.vents.empty();
  return out;
}

ResolvedJob resolved_job(const project::Project& project, const Case& wanted, const ResolvedAsk& ask,
                         Sources& sources) {
  ResolvedJob out;
  out.ask = ask;
  const project::Setup& setup = chosen_setup(project, wanted.setup);
  out.setup = setup.name;
  out.car = compile(setup, sources);
  out.assembled = sources.tanks.assembled(setup.tank);
  out.meshes = sources.tanks.meshes();
  out.fast = starvation::motion_options(out.car, false);
  out.fast.step = ask.sample;
  bool repeated = false;
  if (!ask.acceleration.empty()) {
    out.drive = lap::read_acceleration(ask.acceleration).value;
    out.driven = ask.acceleration.filename().string();
  } else if (ask.manoeuvre) {
    out.drive = lap::manoeuvre(*ask.manoeuvre, {.strength = ask.strength * ask.grip});
    out.driven = name_of(*ask.manoeuvre);
  } else {
    const Resolved r = resolve(project, wanted);
    out.drive = lap::force_trace(sources.laps.get(*r.lap, ask.grip)->value);
    out.driven = r.lap->name;
    repeated = r.lap->repeated;
  }
  held_level(ask.level, out.assembled->tank);
  if (!ask.draw)
    out.fast.circulation = {};
  else
    out.draws = out.fast.circulation.flow;
  if (!out.assembled->parts->returns.empty())
    out.back = out.assembled->parts->returns.front().position;
  else
    out.back = out.assembled->tank.spaces[static_cast<size_t>(out.car.return_space)].body.centroid();
  out.fast.start = repeated ? slosh::Start::settled : slosh::Start::level;
  out.options.size = ask.size;
  out.options.sample = ask.sample;
  const double begin = out.drive.begin(), end = out.drive.end();
  const double from = ask.from.value_or(begin), to = ask.to.value_or(end);
  if (!(from >= begin - 1e-9) || !(to <= end + 1e-9) || !(to - from >= ask.sample))
    throw InputError(Message{.place = out.driven,
                             .expected = fmt::format("seconds between {:.2f} and {:.2f}", begin, end),
                             .found = fmt::format("{:.2f} to {:.2f}", from, to)});
  out.whole = out.drive;
  out.from = from;
  if (repeated || from > begin) {
    const slosh::FuelMotion fuel = fast_at_begin(out);
    for (size_t s = 0; s < out.car.tank->spaces.size(); ++s)
      out.volumes.push_back(fuel.volume(s)), out.surfaces.push_back(fuel.surface(s));
  }
  if (from > begin || to < end) out.drive = out.drive.part(from, to);
  return out;
}

std::vector<slosh::Instant> fast_beside(const ResolvedJob& job, const resolved::RunResult& run) {
  std::vector<slosh::Instant> out;
  slosh::FuelMotion fuel = fast_at_begin(job);
  const double begin = job.drive.begin();
  for (size_t k = 0; k < run.samples.size(); ++k) {
    if (k > 0) {
      const double from = begin + static_cast<double>(k - 1) * job.options.sample;
      fuel.move(job.whole, from, from + job.options.sample);
    }
    out.push_back(instant_of(fuel, run.samples[k].time, job.car.pickups.size()));
  }
  return out;
}

Agreement agreement(const resolved::RunResult& run, const std::vector<slosh::Instant>& fast) {
  Agreement out;
  const size_t n = std::min(run.samples.size(), fast.size());
  if (n < 2) return out;
  const size_t pickups = run.samples.front().wet.size();
  out.wet.assign(pickups, 0.0), out.dry_resolved.assign(pickups, 0.0), out.dry_fast.assign(pickups, 0.0);
  double sum = 0;
  const double step = run.samples[1].time - run.samples[0].time;
  for (size_t k = 0; k < n; ++k) {
    // An empty tank's fuel lies nowhere.
    const double apart =
        run.samples[k].volume > 0 ? (run.samples[k].centroid - fast[k].centroid).norm() : 0.0;
    sum += apart * apart;
    out.most = std::max(out.most, apart);
    bool bare = pickups > 0, fast_bare = bare;
    for (size_t p = 0; p < pickups; ++p) {
      const bool wet = run.samples[k].wet[p] >= 0.5, fast_wet = fast[k].wet[p] >= 0.5;
      out.wet[p] += wet == fast_wet;
      if (!wet) out.dry_resolved[p] += step;
      if (!fast_wet) out.dry_fast[p] += step;
      bare = bare && !wet, fast_bare = fast_bare && !fast_wet;
    }
    if (bare) out.bare_resolved += step;
    if (fast_bare) out.bare_fast += step;
  }
  out.centroid = std::sqrt(sum / static_cast<double>(n));
  for (double& w : out.wet) w /= static_cast<double>(n);
  return out;
}

bool agrees(const Agreement& a) {
  return a.centroid <= as_good &&
         std::all_of(a.wet.begin(), a.wet.end(), [](double alike) { return alike >= mostly; });
}

Phrase verdict(const Agreement& a, const std::vector<tank::Pickup>& pickups) {
  std::optional<size_t> worst;
  for (size_t p = 0; p < a.wet.size(); ++p)
    if (a.wet[p] < mostly && (!worst || a.wet[p] < a.wet[*worst])) worst = p;
  if (worst)
    return {
        "The two part over \"" + pickups[*worst].name + "\": dry for {} resolved, for {} by the fast model.",
        {{a.dry_resolved[*worst], Quantity::duration}, {a.dry_fast[*worst], Quantity::duration}}};
  if (a.centroid > as_good)
    return {
        "Pickups agree, but the fuel lies {} apart in the mean: the fast model's damping or inertia is not "
        "this tank's.",
        {{a.centroid, Quantity::length}}};
  return {
      "The fast model agrees: the fuel's middle within {} in the mean, pickups wet and dry alike in {} of "
      "instants.",
      {{a.centroid, Quantity::length},
       {a.wet.empty() ? 1.0 : *std::min_element(a.wet.begin(), a.wet.end()), Quantity::fraction}}};
}

}  // namespace uadze::solve
