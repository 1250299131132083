#pragma once
// The search for a better setup: options chosen by the user, every combination run, those kept that no other
// beats in least fuel, mass, electrical load, cost and risk at once. Each is a setup of its own.
//
//   SearchOptions options;
//   options.surge_volumes = {1e-3, 1.5e-3, 2.5e-3};
//   const SearchResult found = search(project, setup, lap, session, options, laps, tanks, &progress);
//   found.kept[0].setup
#include "core/project/solve.h"
#include "core/sizing/choice.h"

namespace uadze::project {

/// Each list: values to try beside the setup's own; empty: only its own.
struct SearchOptions {
  std::vector<double> surge_volumes;  ///< m3
  std::vector<starvation::Return> returns;
  std::vector<std::string> lift_types, main_types;  ///< of the catalogue; a main type stands for one pump
  std::vector<double> pickup_shifts;                ///< m forward, all pickups together
  std::vector<double> opening_scales;               ///< of width and height (diameter) of all openings
  std::vector<double> collector_scales;  ///< of the floor's sides of box collectors about their middle
  int most = 200;                        ///< combinations; more are refused
};

struct Alternative {
  Setup setup;
  std::string changes;  ///< "surge 2.5 L, lift pump 200 l/h class"; empty: as it is
  sizing::Cost cost{};
  double clean_level = 0.0;
  bool exists = true;  ///< false: starves even when full
  std::string tightest;
  std::string fault;  ///< why it could not be run; empty: it was
};

struct SearchResult {
  std::vector<Alternative> all;  ///< in the order of the combinations, the present setup first
  std::vector<size_t> kept;      ///< non-dominated, by least fuel
};

/// Throws InputError if there are more combinations than `most`, or nothing to vary.
SearchResult search(const Project& project, const Setup& setup, const LapReference& lap,
                    const session::Session& session, const SearchOptions& options, LapStore& laps,
                    TankStore& tanks, Progress* progress = nullptr);

/// kg of the circuit's parts, the lift and main pumps among them, and of a surge tank of 2 mm aluminium.
double parts_mass(const Setup& setup, const circuit::Catalogue& catalogue);
/// One point for a part of the low class, three for the middle, ten for the high one.
double parts_cost(const Setup& setup, const circuit::Catalogue& catalogue);

}  // namespace uadze::project
