#pragma once
// The model's figures fitted to logs: what starved where on the laps as they were driven.
//
// What is held against each other: y = ln(1 + E / 0.2 s) by lap and place, E the lack of pressure summed up
// over the place (logged.h), to a quarter or what the laps' own scatter shows. Fitted beside the figures
// of calibration.h: the level at each log's begin, within what put in and flow leave open. Grip is found
// apart, as it is seen straight: the flying laps' accelerations over the project's lap's, to a hundredth (the
// sensor's own scale) or what the laps scatter.
//
//   a figure is told    its deviation falls under 95 % of what it was before; else it stays as it was
//   a third of the laps is held out, and predicted with the figures before and after
//
// Limits: a log without a lack of pressure anywhere, and a model that has none either, tells nothing. Laps
// far over any trouble are passed over. What else made the pressure fall must be mended first: a blocked
// filter would be taken for little discharge.
//
// Example:
//   EXPECT_THROW(solve::calibrate({}, {}, "2026-03-01"), InputError);    // no log
#include "core/diagnosis/fit.h"
#include "core/solve/logged.h"

namespace uadze::solve {

/// A log made ready without any calibration, and the project's lap to hold its grip against.
struct CalibrationLog {
  std::string file;
  LoggedCase made;  ///< by LoggedOptions::calibrated = false
};

struct CalibrationFigure {
  starvation::Figure figure = starvation::Figure::damping;
  double before = 0.0;  ///< deviation of the factor before
  double factor = 1.0, deviation = 0.0;
  bool told = false;
  double low() const { return factor - 1.6449 * deviation; }
  double high() const { return factor + 1.6449 * deviation; }
};

struct CalibrationResult {
  starvation::Calibration value;           ///< what a setup carries
  std::vector<CalibrationFigure> figures;  ///< all that were tried
  std::vector<double> level_shifts;        ///< m3, of each log's level
  double before = 0.0, after = 0.0;        ///< sum of the squared residuals
  size_t residuals = 0;                    ///< places of laps that were looked at
  int laps = 0, held_out = 0;
  Scores fitted_before, fitted_after, held_before, held_after;
  int runs = 0;
  std::vector<std::string> sentences;  ///< what was learnt, what could not be told
};

/// `reference`: the project's lap that the logs were driven on, nothing: grip is not looked at. Throws
/// InputError where there is no log, or none with pressure; Cancelled.
CalibrationResult calibrate(const std::vector<CalibrationLog>& logs, const LapPtr& reference,
                            const std::string& date, Progress* progress = nullptr);

/// Accelerations of a driven lap over those of the reference: root of their mean squares along the way,
/// lateral and longitudinal together; nothing where the two are not as long to 3 %.
std::optional<double> grip_of(const lap::Lap& driven, const lap::Lap& reference);

}  // namespace uadze::solve
