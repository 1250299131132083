#pragma once
// The picture of a cause's evidence: what was seen over what the cause goes by, and what the cause would make
// of it. Each cause has the axis that a mechanic would look along: flow for a pump at its end, time for a
// filter, volts for wiring, the place on the lap for fuel that is away.
//
//   seen            .  .            over the lap: dips at the same places lap after lap
//   0 % --.:.:.---.:.:.:--.:.:-
//            :       '.  :          expected: what the cause alone would do, with the figures fitted
//  -20 %     .          .
//
// Example:
//   diagnosis::Instants at;
//   at.time = {0.0, 0.1}, at.deviation = {0.0, -0.3}, at.flow = {0.2, 1.0};
//   const auto p = diagnosis::picture_of(diagnosis::Cause::capacity, at, std::vector{0.0, -0.29});
//   EXPECT_EQ(p.x, Quantity::fraction);
//   EXPECT_EQ(p.seen.y[1], -0.3);
//   EXPECT_EQ(p.expected.y[1], -0.29);
#include <span>
#include <string>
#include <vector>

#include "core/base/units.h"
#include "core/diagnosis/instants.h"

namespace uadze::diagnosis {

enum class Cause;

struct Picture {
  std::string title;  ///< what to look for, a sentence
  std::string x_title, y_title;
  Quantity x = Quantity::plain, y = Quantity::fraction;
  struct Points {
    std::vector<double> x, y;  ///< SI
  };
  Points seen,
      expected;       ///< both thinned alike; the second empty where the cause has no model of each moment
  bool line = false;  ///< whether the expected is a curve (over time) and not points
  bool empty() const { return seen.x.empty(); }
};

/// `model`: the deviation that the cause would have made at each instant; may be empty.
Picture picture_of(Cause cause, const Instants& at, std::span<const double> model);

}  // namespace uadze::diagnosis
