#pragma once
// A simulated flow bench, gauge and level sender: reads what a garage would read of a setup, with a part that
// may be failing and sensors that scatter. Seeded.
//
// Example:
//   const circuit::Case c = test::plain_case();
//   const build::Garage garage{.idle = 1e-6, .full = 33e-6};
//   const auto worn = rigs::bench_readings(c, garage, "flow of main", {.fault = rigs::BenchFault::worn_pump});
//   const auto sound = rigs::bench_readings(c, garage, "flow of main", {});
//   EXPECT_LT(worn[1].value, 0.8 * sound[1].value);      // m3/s
#include "core/build/gates.h"
#include "core/logbook/record.h"
#include "core/tank/tank.h"

namespace uadze::rigs {

enum class BenchFault {
  none,
  worn_pump,
  bad_ground,
  narrowed_line,
  loaded_filter,
  regulator_off,
  reference_off,
  leak
};
constexpr const char* name_of(BenchFault value) {
  switch (value) {
    case BenchFault::none:
      return "none";
    case BenchFault::worn_pump:
      return "worn-pump";
    case BenchFault::bad_ground:
      return "bad-ground";
    case BenchFault::narrowed_line:
      return "narrowed-line";
    case BenchFault::loaded_filter:
      return "loaded-filter";
    case BenchFault::regulator_off:
      return "regulator-off";
    case BenchFault::reference_off:
      return "reference-off";
    case BenchFault::leak:
      return "leak";
  }
  return nullptr;
}

struct BenchOptions {
  BenchFault fault = BenchFault::none;
  double strength = 0.5;  ///< 0..1
  double supply = 13.2;   ///< V, of the battery on its charger
  double noise = 1.0;     ///< times the sensors' usual
  std::uint64_t seed = 1;
};

/// Of a gate by its id; throws InputError for one that the setup has not.
std::vector<logbook::Reading> bench_readings(const circuit::Case& c, const build::Garage& garage,
                                             const std::string& gate, const BenchOptions& options);
/// "reading,value" with units, as report::parse_bench() takes it.
std::string bench_csv(const std::vector<logbook::Reading>& readings);

/// The tank filled in steps from empty to full: what stick and gauge say, with their scatter.
std::vector<tank::FilledStep> filled_in_steps(const tank::TankParts& parts, const tank::Tank& tank, int steps,
                                              const BenchOptions& options);

}  // namespace uadze::rigs
