#pragma once
// How strongly a lap shakes the fuel at each frequency.
//
// Amplitudes by the discrete Fourier sum over Hann-windowed, overlapping pieces of 20 s (Welch 1967, The use
// of fast Fourier transform for the estimation of power spectra), the mean taken out of each.
//
// Example:
//   const auto s = lap::excitation(lap::force_trace(test::corner_lap(5.0, 8)), 2.0, 40);
//   EXPECT_EQ(s.lateral.size(), s.frequency.size());      // m/s2, amplitude of the sine at each frequency
#include <vector>

#include "core/lap/force_trace.h"

namespace uadze::lap {

struct Spectrum {
  std::vector<double> frequency;     ///< Hz, rising
  std::vector<double> longitudinal;  ///< m/s2
  std::vector<double> lateral;       ///< m/s2
};

/// `count` frequencies up to `highest` (Hz).
Spectrum excitation(const ForceTrace& trace, double highest = 4.0, int count = 160);

}  // namespace uadze::lap
