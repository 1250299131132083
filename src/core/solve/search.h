#pragma once
// The search for a better setup: options chosen by the user, every combination run, those kept that no other
// beats in least fuel, mass, electrical load, cost and risk at once. Each is a setup of its own.
//
// Example:
//   using namespace uadze;
//   const auto opened = test::demo("ostrel-wisp");
//   solve::SearchOptions options;
//   options.pickup_shifts = {-0.01};
//   options.points = 100;
//   const auto found = solve::search(opened.project, {}, options, *opened.sources);
//   EXPECT_EQ(found.all.size(), 2u);
//   EXPECT_FALSE(found.kept.empty());
#include "core/sizing/choice.h"
#include "core/solve/case.h"

namespace uadze::solve {

/// Each list: values to try beside the setup's own; empty: only its own.
struct SearchOptions {
  std::vector<double> surge_volumes;  ///< m3
  std::vector<circuit::ReturnTo> returns;
  std::vector<std::string> lift_types, main_types;  ///< of the catalogue; a main type stands for one pump
  std::vector<double> pickup_shifts;                ///< m forward, all pickups together
  std::vector<double> opening_scales;               ///< of width and height (diameter) of all openings
  std::vector<double> collector_scales;  ///< of the floor's sides of box collectors about their middle
  int most = 200;                        ///< combinations; more are refused
  size_t points = 600;                   ///< of the circuit along the lap
  UnitSystem units;                      ///< that the alternatives' names speak in
};

struct Alternative {
  project::Setup setup;
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

/// On the case's lap under its session's conditions. Throws InputError if there are more combinations than
/// `most`, nothing to vary, or no session.
SearchResult search(const project::Project& project, const Case& wanted, const SearchOptions& options,
                    Sources& sources, Progress* progress = nullptr);

/// kg of the circuit's parts, the lift and main pumps among them, and of a surge tank of 2 mm aluminium.
double parts_mass(const project::Setup& setup, const circuit::Catalogue& catalogue);
/// One point for a part of the low class, three for the middle, ten for the high one.
double parts_cost(const project::Setup& setup, const circuit::Catalogue& catalogue);

}  // namespace uadze::solve
