#pragma once
// The falls of pressure of a log, each for itself. A fall of a quarter of a second is nothing against the
// noise of half an hour of instants, and yet no engineer passes it over: he asks whether the pump ran light
// before it, whether it came behind a push of the car, where another lap had one too, and late, when the fuel
// was low.
//
//   push       __/~~\______/~~\______/~~\__
//   current    ----._.-----._.------._.----    light behind the push: gas at the pickup
//   pressure   ----------------v---------v-    falls: late, behind a light pump, at one place
//
// Example:
//   const diagnosis::Falls none = diagnosis::falls_of({}, {}, {}, 0.0);
//   EXPECT_EQ(none.all, 0);
//   EXPECT_EQ(none.gas, 0.0);
#include <span>

#include "core/diagnosis/events.h"
#include "core/diagnosis/instants.h"

namespace uadze::diagnosis {

struct Falls {
  static constexpr double gas_way = 4.0;  ///< s, the longest way of gas from pickup to injectors

  int all = 0;
  int light = 0;   ///< behind a pump that ran light, within the way of gas
  int apart = 0;   ///< more than five seconds after the one before: told of by what follows
  int pushed = 0;  ///< of those apart, behind a strong push
  int again = 0;   ///< of those apart, where another lap has one too
  /// ln of how much better the pump's current is explained by gas at the pump, which makes it turn easily,
  /// than by a pump that is as it always is: before the falls alone; and also by whether gas comes behind
  /// pushes. 0 where the log has no current or no falls. Within +-40.
  double gas_before = 0, gas = 0;
  /// ln of how much better the falls, taken for real and for no fit of all instants, are explained by fuel
  /// away from the pickup than by chance. Nothing where nothing speaks for it but that they are there, and
  /// where the mixture does not follow them or the pump never ran light.
  std::optional<double> by_fuel;
};

/// `deviation`: at each instant, over its middle; `mixture`: ln of how much better the mixture is explained
/// by dips that are real (0: not known).
Falls falls_of(const Instants& at, const Found& found, std::span<const double> deviation, double mixture);

}  // namespace uadze::diagnosis
