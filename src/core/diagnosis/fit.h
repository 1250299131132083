#pragma once
// Figures fitted to what was seen, with what was known of them before.
//
//   least of  sum r_i(x)^2 + sum ((x_k - m_k) / s_k)^2        r: residuals over their own deviation
//   C = (J^T J + S^-2)^-1                                     covariance at the least (linearised)
//
// That is the most probable x with normal priors (Gelman et al. 2013, Bayesian Data Analysis, 4.1); by
// Levenberg and Marquardt's method (Ceres), derivatives by differences over a share of the prior's deviation,
// as the models behind it are marches with thresholds. The residuals' own size is found too: after a first
// fit their deviations are scaled by the root of their reduced chi squared (Birge 1932), at least by
// `surest`, and the fit is made again. Residuals that follow one another say the less the more alike they
// are: with a correlation of neighbours rho the chi squared grows by (1 + rho) / (1 - rho) (Bartlett 1946).
// Where residuals are held out, theirs count if they are larger: a model with thresholds can be bent to what
// it is fitted to. And no figure becomes surer than `floor` of its prior: what the model leaves out (a
// sensor's lag, a wave that breaks) is the same on all laps and in no residual.
//
// What the residuals do not tell is not moved: a figure whose deviation stays over `told` of its prior's is
// put back where it was and the others are fitted once more.
//
// Limits: one least is found, the one near the priors' middle; the intervals are those of a straight model.
//
// Example:
//   const std::vector<diagnosis::Prior> priors{{"slope", 1.0, 1.0}, {"idle", 1.0, 0.1}};
//   const auto fit = diagnosis::fit(priors, [](const std::vector<double>& x) {
//     return std::vector<double>{(2.0 - x[0]) / 0.01};             // seen: 2.0, to 0.01
//   });
//   EXPECT_NEAR(fit.figures[0].value, 2.0, 1e-3);
//   EXPECT_FALSE(fit.figures[1].told);
//   EXPECT_EQ(fit.figures[1].value, 1.0);
#include <Eigen/Core>
#include <functional>
#include <string>
#include <vector>

#include "core/base/progress.h"

namespace uadze::diagnosis {

struct Prior {
  std::string name;
  double mean = 0.0, deviation = 1.0;
  double least = -1e300, most = 1e300;  ///< what the model can be asked for
};

/// Residuals over their deviations; the same number each time. Called from several threads at once.
using Residuals = std::function<std::vector<double>(const std::vector<double>&)>;

struct FittedFigure {
  std::string name;
  double value = 0.0;
  double deviation = 0.0;  ///< of the posterior; the prior's where it is not told
  bool told = false;       ///< whether the residuals say something of it
  /// Ends of the interval in which it lies with 90 %.
  double low() const { return value - 1.6449 * deviation; }
  double high() const { return value + 1.6449 * deviation; }
};

struct Fit {
  std::vector<FittedFigure> figures;  ///< in the priors' order
  Eigen::MatrixXd covariance;         ///< of all figures
  double before = 0.0, after = 0.0;   ///< sum of the squared residuals at the priors' means and in the end
  size_t residuals = 0;
  int runs = 0;  ///< of the model
  double correlation(size_t i, size_t j) const;
};

struct FitOptions {
  double step = 0.5;  ///< of differences, of the prior's deviation
  double told = 0.8;
  std::vector<std::pair<size_t, size_t>> neighbours = {};  ///< residuals that follow one another
  Residuals held_out = {};                                 ///< those that nothing is fitted to
  double floor = 0.3;                                      ///< of the prior's deviation
  /// What the deviations are multiplied by, for a model with thresholds, whose residuals are not normal.
  double widened = 1.0;
  double surest = 0.2;  ///< residuals are never taken to be surer than this share of their deviations
  int most_steps = 12;
};

/// Throws Cancelled.
Fit fit(const std::vector<Prior>& priors, const Residuals& residuals, const FitOptions& options = {},
        Progress* progress = nullptr);

}  // namespace uadze::diagnosis
