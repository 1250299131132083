#include "core/solve/resolved_calibrate.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>
#include <functional>

namespace uadze::solve {
namespace {

using starvation::Figure;

constexpr double together_for = 0.25;  // s
/// Factors that are looked at, either side of what is.
constexpr double least_factor = 0.3, most_factor = 3.0;

/// In the order in which they are looked for; the last only where a tank has openings.
constexpr std::array taught{Figure::inertia, Figure::damping, Figure::discharge};
using Factors = std::array<double, taught.size()>;

struct Misfit {
  double middle = 0.0;   ///< m2, mean square of the middles' distance
  double spaces = 0.0;   ///< m2: of the spaces' levels, by their mean section
  double chances = 0.0;  ///< samples that count
};

Misfit misfit(const std::vector<ResolvedPair>& runs, const Factors& factors) {
  Misfit out;
  double n = 0;
  for (const ResolvedPair& pair : runs) {
    ResolvedJob job = *pair.job;
    job.fast.tank.planar.inertia *= factors[0];
    job.fast.tank.planar.violent_damping *= factors[1];
    job.fast.tank.flow.discharge_scale *= factors[2];
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

/// Where `of` is least between half and double of `at`, by golden sections.
double least_of(const std::function<double(double)>& of, double at) {
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
}

}  // namespace

ResolvedLearnt calibrate_resolved(const std::vector<ResolvedPair>& runs,
                                  const std::optional<starvation::Calibration>& had, const std::string& date,
                                  Progress* progress) {
  const bool openings = !runs.front().job->car.tank->openings.empty();
  const size_t count = openings ? taught.size() : taught.size() - 1;
  Factors factors;
  factors.fill(1.0);
  const Misfit before = misfit(runs, factors);
  const double cell = runs.front().job->options.size / 4;
  const double scale = std::max(std::sqrt(before.middle), cell);
  const auto chi2 = [&](const Factors& at, double s) {
    if (progress) progress->check();
    const Misfit m = misfit(runs, at);
    double out = m.chances * (m.middle + (openings ? m.spaces : 0.0)) / (s * s);
    for (size_t i = 0; i < count; ++i)
      out += std::pow((at[i] - 1) / starvation::prior_deviation(taught[i]), 2);
    return out;
  };
  const auto along = [&](size_t i, double s) {
    return [&chi2, factors, i, s](double k) {
      Factors at = factors;
      at[i] = k;
      return chi2(at, s);
    };
  };
  // One figure after the other, twice.
  constexpr size_t rounds = 2;
  for (size_t step = 0; step < rounds * count; ++step) {
    const size_t i = step % count;
    factors[i] = least_of(along(i, scale), factors[i]);
    if (progress) progress->report(static_cast<double>(step + 1) / static_cast<double>(rounds * count));
  }
  const Misfit after = misfit(runs, factors);
  const double left = std::max(std::sqrt(after.middle), cell);
  ResolvedLearnt out;
  out.before = std::sqrt(before.middle), out.after = std::sqrt(after.middle);
  out.value = had.value_or(starvation::Calibration{});
  out.value.date = date;
  for (size_t i = 0; i < count; ++i) {
    const Figure figure = taught[i];
    const auto of = along(i, left);
    const double at = factors[i], h = 0.1 * at, curved = (of(at + h) + of(at - h) - 2 * of(at)) / (h * h);
    const double prior = starvation::prior_deviation(figure);
    const double sure = std::clamp(curved > 0 ? std::sqrt(2 / curved) : prior, prior / 3, prior);
    std::erase_if(out.value.figures, [&](const auto& f) { return f.figure == figure; });
    std::erase_if(out.value.together, [&](const auto& t) { return t.one == figure || t.other == figure; });
    out.value.figures.push_back({figure, at * starvation::factor_of(had, figure), sure});
  }
  for (const ResolvedPair& pair : runs)
    out.value.logs.push_back(fmt::format("resolved: {}, {:.1f} L, {:g} mm", pair.job->driven,
                                         pair.job->ask.level * 1e3, pair.job->options.size * 1e3));
  return out;
}

}  // namespace uadze::solve
