#pragma once
// Low-pass filtering without phase, and values at even steps.
//
// A Butterworth filter of second order run forward and backward over the values, its ends mirrored; the
// cut-off of one pass is raised so that both together let half of the power through at the frequency asked
// (Winter 2009, Biomechanics and Motor Control of Human Movement, 3.4.4.2). Nothing is shifted in time.
//
// Example:
//   const std::vector<double> still(200, 3.0);
//   EXPECT_NEAR(log::low_pass(still, 100.0, 5.0)[50], 3.0, 1e-12);
#include <span>
#include <vector>

#include "core/log/log.h"

namespace uadze::log {

/// `rate` values a second, cut off at `frequency` (Hz). At half of the rate or more nothing is filtered.
std::vector<double> low_pass(std::span<const double> values, double rate, double frequency);

/// A channel at even steps of `step` (s) from `begin` to `end` (s of the log), straight between its samples
/// or held; what lies finer than the step is taken in by its mean.
std::vector<double> resampled(const Log& log, std::span<const float> values, Between between, double begin,
                              double end, double step);

/// Amplitude of the values at each frequency, their mean taken out (Welch 1967): of where a cut-off lies in a
/// spectrum.
std::vector<double> amplitude(std::span<const double> values, double rate,
                              std::span<const double> frequencies);

}  // namespace uadze::log
