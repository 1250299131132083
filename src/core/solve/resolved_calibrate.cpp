#include "core/solve/resolved_calibrate.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <functional>
#include <limits>
#include <map>

namespace uadze::solve {
namespace {

using starvation::Figure;

constexpr double together_for = 0.25;  // s
/// No factor beyond so many of the prior's deviations: what would ask for more is wrong with something else.
constexpr double furthest = 3.0;
constexpr double infinite = std::numeric_limits<double>::infinity();

/// In the order in which they are looked for: those that this tank has.
std::vector<Figure> taught_by(const tank::Tank& tank) {
  std::vector<Figure> out{Figure::inertia, Figure::damping};
  if (std::any_of(tank.spaces.begin(), tank.spaces.end(),
                  [](const tank::Space& s) { return s.inertial > 0; }))
    out.push_back(Figure::foam);
  if (std::any_of(tank.openings.begin(), tank.openings.end(), [](const tank::Opening& o) { return !o.edge; }))
    out.push_back(Figure::discharge);
  return out;
}

using Factors = std::map<Figure, double>;

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
    const auto factor = [&](Figure f) { return factors.contains(f) ? factors.at(f) : 1.0; };
    job.fast.tank.planar.inertia *= factor(Figure::inertia);
    job.fast.tank.planar.violent_damping *= factor(Figure::damping);
    job.fast.tank.planar.foam *= factor(Figure::foam);
    job.fast.tank.flow.discharge_scale *= factor(Figure::discharge);
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

/// Where `of` is least between two factors, by golden sections.
double least_of(const std::function<double(double)>& of, double low, double high) {
  constexpr double golden = 0.6180339887498949;
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
  const std::vector<Figure> taught = taught_by(*runs.front().job->car.tank);
  Factors factors;
  for (Figure f : taught) factors[f] = 1.0;
  const Misfit before = misfit(runs, factors);
  const double cell = runs.front().job->options.size / 4;
  double scale = std::max(std::sqrt(before.middle), cell);
  const auto chi2 = [&](const Factors& at, double s) {
    if (progress) progress->check();
    const Misfit m = misfit(runs, at);
    double out = m.chances * (m.middle + (openings ? m.spaces : 0.0)) / (s * s);
    for (const auto& [figure, factor] : at)
      out += std::pow((factor - 1) / starvation::prior_deviation(figure), 2);
    return out;
  };
  const auto along = [&](Figure figure, double s) {
    return [&chi2, factors, figure, s](double k) {
      Factors at = factors;
      at[figure] = k;
      return chi2(at, s);
    };
  };
  // One figure after the other, then along all that this changed, for figures that make up for each other; s
  // is what the round before has left.
  constexpr size_t rounds = 5;
  const auto limited = [](Figure figure, double factor) {
    const double wide = furthest * starvation::prior_deviation(figure);
    return std::clamp(factor, 1 - wide, 1 + wide);
  };
  for (size_t round = 0; round < rounds; ++round) {
    const Factors from = factors;
    for (const Figure figure : taught)
      factors[figure] = least_of(along(figure, scale), limited(figure, -infinite), limited(figure, infinite));
    const auto further = [&, to = factors](double t) {
      Factors at = to;
      for (auto& [figure, factor] : at) factor = limited(figure, factor + t * (factor - from.at(figure)));
      return at;
    };
    factors = further(least_of([&](double t) { return chi2(further(t), scale); }, -0.5, 8.0));
    scale = std::max(std::sqrt(misfit(runs, factors).middle), cell);
    if (progress) progress->report(static_cast<double>(round + 1) / static_cast<double>(rounds));
  }
  const Misfit after = misfit(runs, factors);
  const double left = std::max(std::sqrt(after.middle), cell);
  ResolvedLearnt out;
  out.before = std::sqrt(before.middle), out.after = std::sqrt(after.middle);
  out.value = had.value_or(starvation::Calibration{});
  out.value.date = date;
  for (const Figure figure : taught) {
    const auto of = along(figure, left);
    const double at = factors.at(figure), h = 0.1 * at,
                 curved = (of(at + h) + of(at - h) - 2 * of(at)) / (h * h);
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
