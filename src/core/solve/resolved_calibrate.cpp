#include "core/solve/resolved_calibrate.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

namespace uadze::solve {
namespace {

using starvation::Figure;

constexpr double together_for = 0.25;  // s
/// Factors that are looked at, either side of what is.
constexpr double least_factor = 0.3, most_factor = 3.0;

struct Misfit {
  double middle = 0.0;   ///< m2, mean square of the middles' distance
  double spaces = 0.0;   ///< m2: of the spaces' levels, by their mean section
  double chances = 0.0;  ///< samples that count
};

Misfit misfit(const std::vector<ResolvedPair>& runs, double damping, double discharge) {
  Misfit out;
  double n = 0;
  for (const ResolvedPair& pair : runs) {
    ResolvedJob job = *pair.job;
    job.fast.tank.planar.violent_damping *= damping;
    job.fast.tank.flow.discharge_scale *= discharge;
    const auto fast = fast_beside(job, *pair.run);
    const auto& spaces = job.car.tank->spaces;
    for (size_t k = 1; k < fast.size(); ++k) {
      const resolved::Sample& s = pair.run->samples[k];
      out.middle += (fast[k].centroid - s.centroid).squaredNorm();
      for (size_t i = 0; i < spaces.size(); ++i) {
        const double tall = (spaces[i].body.upper_corner() - spaces[i].body.lower_corner()).z();
        const double level =
            (fast[k].volume[i] - s.space[i]) / (spaces[i].body.volume() / std::max(tall, 1e-3));
        out.spaces += level * level;
      }
      ++n;
    }
    out.chances += (pair.run->samples.back().time - pair.run->samples.front().time) / together_for;
  }
  out.middle /= n, out.spaces /= n;
  return out;
}

}  // namespace

ResolvedLearnt calibrate_resolved(const std::vector<ResolvedPair>& runs,
                                  const std::optional<starvation::Calibration>& had, const std::string& date,
                                  Progress* progress) {
  const bool openings = !runs.front().job->car.tank->openings.empty();
  const Misfit before = misfit(runs, 1, 1);
  double cell = runs.front().job->options.size / 4;
  const double scale = std::max(std::sqrt(before.middle), cell);
  const auto chi2 = [&](double damping, double discharge, double s) {
    if (progress) progress->check();
    const Misfit m = misfit(runs, damping, discharge);
    const double a = (damping - 1) / starvation::prior_deviation(Figure::damping),
                 b = (discharge - 1) / starvation::prior_deviation(Figure::discharge);
    return m.chances * (m.middle + (openings ? m.spaces : 0.0)) / (s * s) + a * a + b * b;
  };
  // One figure after the other, in golden sections, until neither moves.
  double damping = 1, discharge = 1;
  const auto best = [&](const std::function<double(double)>& of, double at) {
    constexpr double golden = 0.6180339887498949;
    double low = std::max(least_factor, at / 2), high = std::min(most_factor, at * 2);
    double x = high - golden * (high - low), y = low + golden * (high - low), fx = of(x), fy = of(y);
    for (int k = 0; k < 14; ++k) {
      if (fx < fy) {
        high = y, y = x, fy = fx;
        x = high - golden * (high - low), fx = of(x);
      } else {
        low = x, x = y, fx = fy;
        y = low + golden * (high - low), fy = of(y);
      }
    }
    return (low + high) / 2;
  };
  for (int round = 0; round < (openings ? 2 : 1); ++round) {
    damping = best([&](double k) { return chi2(k, discharge, scale); }, damping);
    if (progress) progress->report(0.5 * (round + 0.5));
    if (openings) discharge = best([&](double k) { return chi2(damping, k, scale); }, discharge);
    if (progress) progress->report(0.5 * (round + 1));
  }
  const Misfit after = misfit(runs, damping, discharge);
  const double left = std::max(std::sqrt(after.middle), cell);
  const auto deviation = [&](Figure figure, const std::function<double(double)>& of, double at) {
    const double h = 0.1 * at, curved = (of(at + h) + of(at - h) - 2 * of(at)) / (h * h);
    const double prior = starvation::prior_deviation(figure);
    return std::clamp(curved > 0 ? std::sqrt(2 / curved) : prior, prior / 3, prior);
  };
  ResolvedLearnt out;
  out.before = std::sqrt(before.middle), out.after = std::sqrt(after.middle);
  out.value = had.value_or(starvation::Calibration{});
  out.value.date = date;
  const auto learn = [&](Figure figure, double factor, double sure) {
    std::erase_if(out.value.figures, [&](const auto& f) { return f.figure == figure; });
    std::erase_if(out.value.together, [&](const auto& t) { return t.one == figure || t.other == figure; });
    out.value.figures.push_back({figure, factor * starvation::factor_of(had, figure), sure});
  };
  learn(Figure::damping, damping,
        deviation(
            Figure::damping, [&](double k) { return chi2(k, discharge, left); }, damping));
  if (openings)
    learn(Figure::discharge, discharge,
          deviation(
              Figure::discharge, [&](double k) { return chi2(damping, k, left); }, discharge));
  for (const ResolvedPair& pair : runs)
    out.value.logs.push_back(fmt::format("resolved: {}, {:.1f} L, {:g} mm", pair.job->driven,
                                         pair.job->ask.level * 1e3, pair.job->options.size * 1e3));
  return out;
}

}  // namespace uadze::solve
