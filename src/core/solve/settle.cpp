#include "core/solve/settle.h"

#include "core/slosh/motion.h"
#include "core/solve/run.h"

namespace uadze::solve {

const project::Setup& chosen_setup(const project::Project& project, const std::string& name) {
  if (name.empty() && !project.setups.empty()) return project.setups.front();
  if (const auto* setup = project.find_setup(name)) return *setup;
  return *resolve(project, {.setup = name}).setup;  // says which there are
}

Settled settle(const project::Project& project, const Case& wanted, const SettleOptions& options,
               Sources& sources) {
  const project::Setup& setup = chosen_setup(project, wanted.setup);
  const auto assembly = sources.tanks.assembled(setup.tank);
  const tank::Tank& tank = assembly->tank;
  Settled out{.setup = setup.name,
              .level = held_level(options.level, tank),
              .acceleration = options.acceleration,
              .force = slosh::effective_gravity(options.acceleration)};
  if (out.force.norm() < slosh::weightless)
    throw InputError(Message{.file = {},
                             .place = "acceleration",
                             .expected = "fuel with weight",
                             .found = "weightless fuel, which has no settled surface"});
  slosh::FuelMotion fuel(tank, setup.tank.pickups, out.level, {.model = slosh::Model::settled});
  fuel.move(out.force, 0.0);
  out.centroid = fuel.centroid();
  for (size_t i = 0; i < tank.spaces.size(); ++i) {
    const tank::Plane surface = fuel.surface(i);
    out.spaces.push_back({tank.spaces[i].name, fuel.volume(i), tank.spaces[i].volume(), surface,
                          section(tank.spaces[i].solid, surface).area,
                          moments_below(tank.spaces[i].solid, surface).centroid()});
  }
  for (size_t p = 0; p < setup.tank.pickups.size(); ++p)
    out.pickups.push_back(
        {setup.tank.pickups[p].name, setup.tank.pickups[p].feeds, fuel.depth(p), fuel.wet(p)});
  return out;
}

}  // namespace uadze::solve
