#pragma once
// The sequent-peak deficit: the storage with which a full reserve just never empties (Rippl 1883; Thomas and
// Burden 1963).
//
// Example:
//   using namespace uadze;
//   // A litre a minute is drawn, two come in every other half minute: half a litre must be stored.
//   const std::vector<double> time{0, 30, 30.001, 60}, supply{0, 0, 2.1e-3 / 60, 2.1e-3 / 60}, draw(4, 1e-3 / 60);
//   EXPECT_NEAR(sizing::needed_capacity({time, supply, draw}), 0.5e-3, 1e-7);
#include <span>

namespace uadze::sizing {

/// Flows at samples, straight between them.
struct Flows {
  std::span<const double> time;    ///< s, strictly increasing
  std::span<const double> supply;  ///< m3/s
  std::span<const double> draw;    ///< m3/s
};

/// Largest running deficit of supply against draw over the lap run twice, m3. Infinite if the lap draws more
/// than it is supplied.
double needed_capacity(const Flows& flows);

}  // namespace uadze::sizing
