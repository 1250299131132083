#pragma once
// What size: surge tank, lift and main pumps, lines and wiring of a setup, for the fuel that a session brings
// back.
//
// Example:
//   using namespace uadze;
//   const auto opened = test::demo("ostrel-tarn");
//   solve::SizeOptions options;
//   options.level = 10e-3;
//   options.points = 200;
//   options.surge_tank = false;
//   const auto sizes = solve::size(opened.project, {}, options, *opened.sources);
//   EXPECT_FALSE(sizes->mains.empty());
#include "core/sizing/pump_size.h"
#include "core/sizing/surge_size.h"
#include "core/solve/circuit_point.h"
#include "core/solve/plan.h"

namespace uadze::solve {

struct SizeOptions {
  std::optional<double> level;  ///< m3 in the main tank; nothing: what the session brings back at its risk
  sizing::PumpSizeOptions pumps;
  PlanOptions plan{.lap = {.detail = Detail::band}};  ///< how the bring-back fuel is found
  size_t points = 2400;                               ///< of the circuit along the lap
  bool surge_tank = true;                             ///< false: pumps and lines only
};

struct SizeResult {
  std::string setup, lap_name, session;
  double level = 0.0;                        ///< m3 in the main tank that it is sized for
  std::optional<sizing::SurgeSizing> surge;  ///< nothing without lift pumps
  std::vector<sizing::PumpChoice> mains, lifts;
  std::optional<sizing::Staging> staging;
  std::string staged_type;  ///< of the pair
  circuit::Case full;       ///< at full load; without parts if there is no circuit
  std::optional<circuit::State> state;
  std::vector<circuit::LineChoice> lines;
};
using SizeResultPtr = std::shared_ptr<const SizeResult>;

/// The surge tank must serve every lap of the project, unless the case names one: another lap under the
/// conditions of the first session that drives it, or those of the case where none does. Kept by content.
SizeResultPtr size(const project::Project& project, const Case& wanted, const SizeOptions& options,
                   Sources& sources, Progress* progress = nullptr);

}  // namespace uadze::solve
