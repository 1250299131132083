#pragma once
// The ways in which each cause would show in a log: what the deviation of pressure would go by, at each
// instant. The laws stand in cause.h; here they are tried with the figures that a log does not say (a knee, a
// delay, a hand), each try one way.
//
// Example:
//   diagnosis::Instants at;
//   at.time = {0.0, 0.1}, at.flow = {0.2, 1.0}, at.throttle = {0, 0}, at.along = {0, 1}, at.drawn = {0, 1};
//   at.lateral = at.longitudinal = {0, 0}, at.place = {-1, -1}, at.lap = {0, 0};
//   const std::vector<double> deviation{0.0, -0.2};
//   for (const auto& way : diagnosis::ways_of(at, 3e5, deviation))      // 3 bar over the injectors
//     EXPECT_TRUE(way.cause != diagnosis::Cause::vent || way.x[1] == 1.0) << way.words;
#include <span>

#include "core/diagnosis/cause.h"
#include "core/diagnosis/instants.h"

namespace uadze::diagnosis {

struct Way {
  Cause cause = Cause::none;
  std::string words;                                      ///< "left-hand corners, 0.4 s before"
  std::vector<double> x;                                  ///< what the deviation goes by, at each instant
  int sign = -1;                                          ///< of the deviation
  int fitted = 1;                                         ///< figures that were chosen besides
  double most = std::numeric_limits<double>::infinity();  ///< of the amplitude: more can not be
};

/// `usual`: Pa over the injectors; `deviation`: at each instant, over its middle.
std::vector<Way> ways_of(const Instants& at, double usual, std::span<const double> deviation);

}  // namespace uadze::diagnosis
