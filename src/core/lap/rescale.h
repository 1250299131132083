#pragma once
// A logged lap as it would be with more grip or power, on the same line: a first answer where there is no
// track and car to simulate.
//
//   v' = v g(s)^(1/2),    g(s) = grip^w power^(2/3 (1 - w))
//
// w goes from 0 where the engine alone limits (throttle open, little cornering) to 1 where the tyres do,
// blended over 30 m to both sides. On a line of curvature k the lateral acceleration v2 k goes with g, and so
// does v dv/ds; at full power against drag the speed goes with the cube root of the power (P = c v^3).
//
// Limits: no downforce's own share; brakes and traction go with the grip; between the two the blend is a
// guess. Fuel flow goes with the power where that limits, and with the speed elsewhere.
//
// Example:
//   const lap::Lap lap = test::corner_lap(5.0, 10);
//   const lap::Lap harder = lap::rescaled(lap, 1.21, 1.0);
//   EXPECT_NEAR(harder.duration(), lap.duration() / 1.1, 1e-3);
//   EXPECT_NEAR(harder.length(), lap.length(), 1e-9);
#include "core/lap/lap.h"

namespace uadze::lap {

/// `grip`, `power`: over those of the lap, 0.2 to 5. Throws InputError where they are not, or the lap has no
/// speed. Sampled as often as the lap is.
Lap rescaled(const Lap& lap, double grip, double power);

}  // namespace uadze::lap
