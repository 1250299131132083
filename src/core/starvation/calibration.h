#pragma once
// What logs have taught of the model's own figures: a factor on each with how sure it is, and how the figures
// hang together. A setup carries it; the runs take the factors, the model's band takes what is left of the
// doubt.
//
// The figures, and what is known of them before any log (one standard deviation of the factor; decision 0018
// has the ranges, which stand for two):
//   damping      1/6    large waves' damping tends to 0.15 times the factor
//   inertia      0.1    of the swing: its period goes with the root of the factor; resolved runs tell it
//   foam         0.25   its drag on fuel that runs through it; resolved runs tell it
//   discharge    0.05   of openings between spaces, 0.65 times the factor
//   submergence  0.25   critical depth over a pickup
//   lift         0.05   what the lift pumps bring against what circuit or entry says
//   hold         0.10   fuel in line and filter: the delay from the pickup to the rail
//   grip         0.025  the lap's accelerations against those that are driven
//
// Example:
//   starvation::Calibration learnt{.date = "2026-03-01", .laps = 34};
//   learnt.figures = {{starvation::Figure::damping, 1.2, 0.05}};
//   const auto car = starvation::calibrated(test::simple_car({0, 0, 0}), learnt);
//   EXPECT_NEAR(car.motion.planar.violent_damping, 1.2 * test::simple_car({0, 0, 0}).motion.planar.violent_damping, 1e-12);
//   EXPECT_EQ(starvation::factor_of(learnt, starvation::Figure::discharge), 1.0);
#include <optional>
#include <string>
#include <vector>

namespace uadze::starvation {

struct FuelSystem;

enum class Figure { damping, discharge, submergence, lift, hold, grip, inertia, foam };
inline constexpr Figure all_figures[] = {Figure::damping, Figure::discharge, Figure::submergence,
                                         Figure::lift,    Figure::hold,      Figure::grip,
                                         Figure::inertia, Figure::foam};
constexpr const char* name_of(Figure figure) {
  switch (figure) {
    case Figure::damping:
      return "damping";
    case Figure::discharge:
      return "discharge";
    case Figure::submergence:
      return "submergence";
    case Figure::lift:
      return "lift";
    case Figure::hold:
      return "hold";
    case Figure::grip:
      return "grip";
    case Figure::inertia:
      return "inertia";
    case Figure::foam:
      return "foam";
  }
  return nullptr;
}

/// One standard deviation of the factor before any log.
double prior_deviation(Figure figure);

struct LearntFigure {
  Figure figure = Figure::damping;
  double factor = 1.0;
  double deviation = 0.0;
  bool operator==(const LearntFigure&) const = default;
};

/// How two figures that were learnt together hang together.
struct Together {
  Figure one = Figure::damping, other = Figure::discharge;
  double correlation = 0.0;  ///< -1..1
  bool operator==(const Together&) const = default;
};

struct Calibration {
  std::string date;               ///< when it was made, "2026-03-01"
  std::vector<std::string> logs;  ///< names of their files
  int laps = 0;                   ///< that it rests on
  std::vector<LearntFigure> figures;
  std::vector<Together> together;
  bool operator==(const Calibration&) const = default;
};

/// 1 and the prior's deviation where nothing was learnt.
double factor_of(const std::optional<Calibration>& learnt, Figure figure);
double deviation_of(const std::optional<Calibration>& learnt, Figure figure);
double correlation_of(const std::optional<Calibration>& learnt, Figure one, Figure other);

bool only_resolved_runs_tell(Figure figure);
/// What a calibration from logs takes over of the one before it: the figures that only resolved runs tell (inertia,
/// foam).
Calibration with_what_logs_do_not_tell(Calibration from_logs, const std::optional<Calibration>& had);

/// The car with all but the grip as learnt; it keeps the calibration. The grip belongs to the lap.
FuelSystem calibrated(FuelSystem car, const Calibration& learnt);

/// "calibrated on 34 laps"; empty without one.
std::string calibrated_words(const std::optional<Calibration>& learnt);

}  // namespace uadze::starvation
