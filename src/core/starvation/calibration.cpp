#include "core/starvation/calibration.h"

#include <fmt/format.h>

#include "core/base/counted.h"
#include "core/starvation/fuel_system.h"

namespace uadze::starvation {

double prior_deviation(Figure figure) {
  switch (figure) {
    case Figure::damping:
      return 1.0 / 6;
    case Figure::discharge:
    case Figure::lift:
      return 0.05;
    case Figure::submergence:
    case Figure::foam:
      return 0.25;
    case Figure::hold:
    case Figure::inertia:
      return 0.1;
    case Figure::grip:
      return 0.025;
  }
  return 0.0;
}

double factor_of(const std::optional<Calibration>& learnt, Figure figure) {
  if (learnt)
    for (const LearntFigure& f : learnt->figures)
      if (f.figure == figure) return f.factor;
  return 1.0;
}

double deviation_of(const std::optional<Calibration>& learnt, Figure figure) {
  if (learnt)
    for (const LearntFigure& f : learnt->figures)
      if (f.figure == figure) return f.deviation;
  return prior_deviation(figure);
}

double correlation_of(const std::optional<Calibration>& learnt, Figure one, Figure other) {
  if (one == other) return 1.0;
  if (learnt)
    for (const Together& t : learnt->together)
      if ((t.one == one && t.other == other) || (t.one == other && t.other == one)) return t.correlation;
  return 0.0;
}

bool only_resolved_runs_tell(Figure figure) { return figure == Figure::inertia || figure == Figure::foam; }

Calibration with_what_logs_do_not_tell(Calibration from_logs, const std::optional<Calibration>& had) {
  if (had)
    for (const LearntFigure& f : had->figures)
      if (only_resolved_runs_tell(f.figure)) from_logs.figures.push_back(f);
  return from_logs;
}

FuelSystem calibrated(FuelSystem car, const Calibration& learnt) {
  const std::optional<Calibration> given = learnt;
  car.motion.planar.violent_damping *= factor_of(given, Figure::damping);
  car.motion.planar.inertia *= factor_of(given, Figure::inertia);
  car.motion.planar.foam *= factor_of(given, Figure::foam);
  car.motion.flow.discharge_scale *= factor_of(given, Figure::discharge);
  car.submergence_scale *= factor_of(given, Figure::submergence);
  const double hold = factor_of(given, Figure::hold);
  car.line_hold *= hold, car.filter_hold *= hold;
  // By a circuit the lift pumps' flow is its delivery's (delivery.h), with the same factor.
  for (LiftPump& pump : car.lift_pumps) pump.flow *= factor_of(given, Figure::lift);
  car.calibration = given;
  return car;
}

std::string calibrated_words(const std::optional<Calibration>& learnt) {
  if (!learnt) return {};
  if (learnt->laps == 0) return "calibrated on resolved runs";
  return "calibrated on " + counted(learnt->laps, "lap");
}

}  // namespace uadze::starvation
