#include "core/starvation/band.h"

#include <tbb/parallel_for.h>

#include <Eigen/Cholesky>
#include <algorithm>
#include <array>
#include <atomic>
#include <cmath>

#include "core/base/root.h"
#include "core/starvation/quick_lap.h"

namespace uadze::starvation {
namespace {

/// From `start` in steps that grow threefold until the answer turns, then by halving. Nothing is searched
/// under `least`.
template <class Clean>
double turn_near(Clean&& clean, double start, double step, double least, double whole, double resolution) {
  double high = std::min(start, whole), low = 0;
  high = std::max(high, least);
  if (clean(high)) {
    if (high <= least) return least;
    low = high - step;
    while (low > least && clean(low)) high = low, step *= 3, low = high - step;
    low = std::max(low, least);
    if (least > 0 && low == least && clean(low)) return least;
  } else {
    low = high;
    for (;;) {
      high = std::min(low + step, whole);
      if (clean(high)) break;
      if (high >= whole) return whole;
      low = high, step *= 3;
    }
  }
  return turn_between(clean, low, high, resolution).yes;
}

}  // namespace

double clean_level_near(const FuelSystem& car, const Course& course, double start, double resolution,
                        Progress* progress, std::optional<double> suspect) {
  const double whole = car.tank->volume(), least = std::min(car.never_drawn.total(), whole);
  // Where what never comes out decides, nothing turns on how clean the lap is there.
  if (start <= least && QuickLap(car, course).clean_by_far(least, progress)) return least;
  LevelSearch search(car, course, {.progress = progress});
  if (suspect) search.suspect(*suspect);
  for (double from = start;;) {
    if (progress) progress->check();
    const double level =
        turn_near([&](double at) { return search.ask(at); }, from, 2 * resolution, least, whole, resolution);
    const size_t known = search.places();
    if (search.clean(level, level < whole) || level >= whole) return level;
    // At a place that was known it turns close above; another is looked for from the start again.
    from = search.places() == known || level >= start ? level + resolution : start;
  }
}

lap::Lap with_grip(lap::Lap lap, double grip) {
  for (auto* channel : {&lap.lateral, &lap.longitudinal})
    for (double& a : *channel) a *= grip;
  return lap;
}

double ModelBand::level(const std::vector<double>& z) const {
  double out = nominal;
  for (size_t k = 0; k < terms.size() && k < z.size(); ++k) {
    double x = z[k];
    if (!mix.empty()) {
      x = 0;
      for (size_t j = 0; j <= k; ++j) x += mix[k * terms.size() + j] * z[j];
    }
    const double at_low = terms[k].at_low - nominal, at_high = terms[k].at_high - nominal;
    // Lower whichever way the figure goes: where clean and starving levels take turns the nominal stands on
    // an island that others do not have. That is no reason to start with less than the nominal asks for.
    if (at_low < 0 && at_high < 0) continue;
    out += x < 0 ? -x * at_low : x * at_high;
  }
  return std::max(out, least);
}

ModelBand model_band(const FuelSystem& car, const Course& course, double nominal, double resolution,
                     Progress* progress, std::optional<double> suspect) {
  ModelBand out;
  out.nominal = nominal;
  out.least = std::min(car.never_drawn.total(), car.tank->volume());
  constexpr std::array figures{Figure::grip, Figure::damping, Figure::discharge, Figure::submergence};
  for (const Figure f : figures) {
    // Of the figure as it is used, which a calibration may have moved.
    const double two = f == Figure::grip
                           ? 2 * prior_deviation(f)
                           : 2 * deviation_of(car.calibration, f) / factor_of(car.calibration, f);
    out.terms.push_back({name_of(f), std::max(1 - two, 0.05), 1 + two});
  }
  out.calibrated = calibrated_words(car.calibration);
  Eigen::Matrix4d correlation = Eigen::Matrix4d::Identity();
  if (car.calibration) {
    for (size_t i = 1; i < figures.size(); ++i)
      for (size_t j = 1; j < figures.size(); ++j)
        correlation(i, j) = correlation_of(car.calibration, figures[i], figures[j]);
    const Eigen::LLT<Eigen::Matrix4d> root(correlation);
    // What is no correlation (written by hand) is passed over.
    if (root.info() == Eigen::Success && !correlation.isIdentity()) {
      const Eigen::Matrix4d lower = root.matrixL();
      for (int i = 0; i < 4; ++i)
        for (int j = 0; j < 4; ++j) out.mix.push_back(lower(i, j));
    } else {
      correlation.setIdentity();
    }
  }
  std::atomic<size_t> done{0};
  const size_t runs = 2 * out.terms.size();
  tbb::parallel_for(size_t{0}, runs, [&](size_t r) {
    if (progress && progress->cancelled()) return;
    BandTerm& term = out.terms[r / 2];
    const double factor = r % 2 ? term.high_factor : term.low_factor;
    FuelSystem other = car;
    Course changed = course;
    lap::Lap gripped;
    switch (r / 2) {
      case 0:
        gripped = with_grip(*course.lap, factor);
        changed.lap = &gripped;
        changed.reach = course_reach(other, changed);
        break;
      case 1:
        other.motion.planar.violent_damping *= factor;
        break;
      case 2:
        other.motion.flow.discharge_scale *= factor;
        break;
      default:
        other.submergence_scale *= factor;
        break;
    }
    try {
      (r % 2 ? term.at_high : term.at_low) =
          clean_level_near(other, changed, nominal, resolution, progress, suspect);
    } catch (const Cancelled&) {
      return;
    }
    if (progress) progress->report(static_cast<double>(++done) / static_cast<double>(runs));
  });
  if (progress) progress->check();
  double up = 0, down = 0;
  for (const BandTerm& t : out.terms)
    for (double level : {t.at_low, t.at_high}) {
      const double by = level - nominal;
      (by > 0 ? up : down) += by * by;
      out.capped = out.capped || level >= car.tank->volume();
    }
  // What hangs together adds up otherwise: by the same share on both sides.
  double share = 1.0;
  if (!out.mix.empty()) {
    Eigen::Vector4d half;
    for (int k = 0; k < 4; ++k) half[k] = (out.terms[k].at_high - out.terms[k].at_low) / 2;
    const double apart = half.squaredNorm();
    if (apart > 0) share = std::sqrt(std::max(half.dot(correlation * half), 0.0) / apart);
  }
  out.low = std::max(nominal - share * std::sqrt(down), out.least);
  out.high = std::min(nominal + share * std::sqrt(up), car.tank->volume());
  return out;
}

Derivation band_working(const ModelBand& band) {
  Derivation d{.name = "Upper end of the model's band",
               .value = band.high,
               .quantity = Quantity::volume,
               .formula = "V_high = V_clean + sqrt(sum of (V_k - V_clean)^2), over the ends above V_clean",
               .inputs = {{"V_clean", "clean level", band.nominal, Quantity::volume, "starvation map"},
                          {"V_low", "lower end", band.low, Quantity::volume, "the same with the ends below"}},
               .source = "each range moved alone, independent of the others",
               .note =
                   "The ranges are about two standard deviations. What the model can not show (splashes, "
                   "breaking waves) is in the damping's range only."};
  for (const BandTerm& t : band.terms) {
    d.inputs.push_back({"V_" + t.name + " -", t.name + " at the lower end of its range", t.at_low,
                        Quantity::volume, "clean level found again"});
    d.inputs.push_back({"V_" + t.name + " +", t.name + " at the upper end", t.at_high, Quantity::volume,
                        "clean level found again"});
  }
  if (!band.calibrated.empty())
    d.note += " The ranges are what a calibration left open (" + band.calibrated + ").";
  if (band.capped) d.note += " At one end even a full tank starves: the band is cut off there.";
  return d;
}

}  // namespace uadze::starvation
