#pragma once
// How sure the clean level is, as far as the model itself goes: what may be off is moved to the ends of its
// range, one at a time, and the clean level is found again.
//
// The ranges stand for about two standard deviations (decision 0018):
//   grip      +-5 %      lateral and longitudinal acceleration: another tyre, track, driver
//   damping   0.10..0.20 that large waves tend to (0.15 fits the two-phase calculation best)
//   discharge +-10 %     of the openings (0.6 to 0.7 about 0.65)
//   submergence 0.5..1.5 of the critical one (Lubin and Springer give the onset only)
//
// A calibration (calibration.h) narrows the ranges of damping, discharge and submergence to what it left
// open, and says how they hang together: what shifts one shifts the other, so that all together may be surer
// than each alone. The grip of another day stays as unsure as it was.
//
// Example:
//   const starvation::FuelSystem car = test::simple_car({0, 0, 0});
//   const lap::Lap lap = test::corner_lap(0.5 * standard_gravity, 8);
//   const starvation::Course course = test::course_of(car, lap);
//   const double clean = clean_level(car, course).level;
//   const starvation::ModelBand band = model_band(car, course, clean);
//   EXPECT_LE(band.low, clean);
//   EXPECT_GE(band.high, clean);      // m3: all together, in quadrature, each side for itself
#include <optional>

#include "core/starvation/starvation_map.h"

namespace uadze::starvation {

struct BandTerm {
  std::string name;
  double low_factor = 1.0, high_factor = 1.0;  ///< ends of the range, of the nominal value
  double at_low = 0.0, at_high = 0.0;          ///< m3, the clean level there
};

struct ModelBand {
  double nominal = 0.0;          ///< m3
  double least = 0.0;            ///< m3, what never comes out: no level of the band lies under it
  double low = 0.0, high = 0.0;  ///< m3
  std::vector<BandTerm> terms;
  /// Lower triangle, row by row, that makes independent draws hang together as a calibration found them to;
  /// empty: they are independent.
  std::vector<double> mix;
  std::string calibrated;  ///< "calibrated on 34 laps", or ""
  bool capped = false;     ///< a term reached the full tank: the band may be wider
  /// The clean level with each term moved to z of its range (-1..1; straight lines), and beyond.
  double level(const std::vector<double>& z) const;
};

/// The clean level looked for near `start` (m3): steps away from it until the lap changes from clean to not,
/// then halves (level_search.h: what is told was driven whole). The tank's volume if not even a full tank is
/// clean. Finds the boundary nearest to the start; one that starts at what never comes out and is clean by
/// far there (quick_lap.h) is not driven whole. `suspect`: s on the lap, where it may starve first.
double clean_level_near(const FuelSystem& car, const Course& course, double start, double resolution,
                        Progress* progress = nullptr, std::optional<double> suspect = {});

/// The lap with its lateral and longitudinal accelerations times `grip`.
lap::Lap with_grip(lap::Lap lap, double grip);

/// `nominal`, `resolution`: m3. `suspect`: s on the lap, where it starves just below the nominal level.
/// Throws Cancelled.
ModelBand model_band(const FuelSystem& car, const Course& course, double nominal, double resolution = 0.1e-3,
                     Progress* progress = nullptr, std::optional<double> suspect = {});

Derivation band_working(const ModelBand& band);

}  // namespace uadze::starvation
