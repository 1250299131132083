#include "core/diagnosis/fit.h"

#include <ceres/cost_function.h>
#include <ceres/problem.h>
#include <ceres/solver.h>
#include <tbb/parallel_for.h>

#include <Eigen/Cholesky>
#include <algorithm>
#include <atomic>
#include <cmath>

namespace uadze::diagnosis {
namespace {

/// The model in units of the priors' deviations about their means; only some figures are free.
class Scaled {
 public:
  Scaled(const std::vector<Prior>& priors, const Residuals& residuals, double step, Progress* progress)
      : priors_(priors), residuals_(residuals), step_(step), progress_(progress) {}

  std::vector<double> at(const std::vector<double>& z) const {
    if (progress_) {
      progress_->check();
      progress_->report(runs_ / (runs_ + 40.0));  // how many there will be is not known before
    }
    std::vector<double> x(z.size());
    for (size_t k = 0; k < z.size(); ++k)
      x[k] = std::clamp(priors_[k].mean + z[k] * priors_[k].deviation, priors_[k].least, priors_[k].most);
    ++runs_;
    std::vector<double> r = residuals_(x);
    for (double& one : r) one /= scale_;
    return r;
  }

  /// [residual][figure] by central differences; columns of figures that are not free stay 0.
  Eigen::MatrixXd slopes(const std::vector<double>& z, const std::vector<char>& free, size_t rows) const {
    Eigen::MatrixXd out =
        Eigen::MatrixXd::Zero(static_cast<Eigen::Index>(rows), static_cast<Eigen::Index>(z.size()));
    tbb::parallel_for(size_t{0}, z.size(), [&](size_t k) {
      if (!free[k]) return;
      std::vector<double> up = z, down = z;
      up[k] += step_, down[k] -= step_;
      const std::vector<double> high = at(up), low = at(down);
      for (size_t i = 0; i < rows; ++i)
        out(static_cast<Eigen::Index>(i), static_cast<Eigen::Index>(k)) = (high[i] - low[i]) / (2 * step_);
    });
    return out;
  }
  int runs() const { return runs_; }
  /// What the residuals' deviations are multiplied by.
  void set_scale(double scale) { scale_ = scale; }
  double scale() const { return scale_; }

 private:
  const std::vector<Prior>& priors_;
  const Residuals& residuals_;
  double step_;
  double scale_ = 1.0;
  Progress* progress_;
  mutable std::atomic<int> runs_{0};
};

/// Residuals and priors as one cost. What is thrown on the way is kept: Ceres knows no exceptions.
class Cost : public ceres::CostFunction {
 public:
  Cost(const Scaled& model, std::vector<char> free, size_t rows, std::exception_ptr& thrown)
      : model_(model), free_(std::move(free)), rows_(rows), thrown_(thrown) {
    set_num_residuals(static_cast<int>(rows + free_.size()));
    mutable_parameter_block_sizes()->push_back(static_cast<int>(free_.size()));
  }
  bool Evaluate(double const* const* parameters, double* out, double** jacobians) const override {
    try {
      std::vector<double> z(parameters[0], parameters[0] + free_.size());
      for (size_t k = 0; k < z.size(); ++k)
        if (!free_[k]) z[k] = 0;
      const std::vector<double> r = model_.at(z);
      std::copy(r.begin(), r.end(), out);
      for (size_t k = 0; k < z.size(); ++k) out[rows_ + k] = parameters[0][k];
      if (jacobians && jacobians[0]) {
        using Rows = Eigen::Matrix<double, Eigen::Dynamic, Eigen::Dynamic, Eigen::RowMajor>;
        const auto n = static_cast<Eigen::Index>(z.size()), m = static_cast<Eigen::Index>(rows_);
        Eigen::Map<Rows> j(jacobians[0], m + n, n);
        j.topRows(m) = model_.slopes(z, free_, rows_);
        j.bottomRows(n).setIdentity();
      }
      return true;
    } catch (...) {
      thrown_ = std::current_exception();
      return false;
    }
  }

 private:
  const Scaled& model_;
  std::vector<char> free_;
  size_t rows_;
  std::exception_ptr& thrown_;
};

double squares(const std::vector<double>& r) {
  double out = 0;
  for (double x : r) out += x * x;
  return out;
}

/// The least near z.
std::vector<double> least(const Scaled& model, const std::vector<char>& free, size_t rows,
                          const FitOptions& options, std::vector<double> z = {}) {
  z.resize(free.size(), 0.0);
  for (size_t k = 0; k < z.size(); ++k)
    if (!free[k]) z[k] = 0;
  std::exception_ptr thrown;
  ceres::Problem problem;
  problem.AddResidualBlock(new Cost(model, free, rows, thrown), nullptr, z.data());
  ceres::Solver::Options how;
  how.linear_solver_type = ceres::DENSE_QR;
  how.max_num_iterations = options.most_steps;
  how.num_threads = 1;
  how.logging_type = ceres::SILENT;
  how.minimizer_progress_to_stdout = false;
  // Derivatives over a finite step see no finer than this.
  how.function_tolerance = 1e-4;
  how.parameter_tolerance = 1e-3;
  how.initial_trust_region_radius = 4.0;
  how.max_num_consecutive_invalid_steps = 0;
  ceres::Solver::Summary summary;
  ceres::Solve(how, &problem, &summary);
  if (thrown) std::rethrow_exception(thrown);
  for (size_t k = 0; k < z.size(); ++k)
    if (!free[k]) z[k] = 0;
  return z;
}

}  // namespace

double Fit::correlation(size_t i, size_t j) const {
  const auto a = static_cast<Eigen::Index>(i), b = static_cast<Eigen::Index>(j);
  const double both = covariance(a, a) * covariance(b, b);
  return both > 0 ? covariance(a, b) / std::sqrt(both) : 0.0;
}

Fit fit(const std::vector<Prior>& priors, const Residuals& residuals, const FitOptions& options,
        Progress* progress) {
  Fit out;
  Scaled model(priors, residuals, options.step, progress);
  const size_t n = priors.size();
  const std::vector<double> first = model.at(std::vector<double>(n, 0.0));
  out.residuals = first.size();
  out.before = out.after = squares(first);
  const std::vector<char> all(n, 1);
  Eigen::MatrixXd slopes;
  Eigen::MatrixXd covariance =
      Eigen::MatrixXd::Identity(static_cast<Eigen::Index>(n), static_cast<Eigen::Index>(n));
  /// Covariance about z; gives the root of the reduced chi squared.
  const auto spread = [&](const std::vector<double>& z) {
    slopes = model.slopes(z, all, first.size());
    const std::vector<double> r = model.at(z);
    const double sum = squares(r);
    out.after = sum * model.scale() * model.scale();
    const Eigen::MatrixXd told = slopes.transpose() * slopes;
    covariance = (told + Eigen::MatrixXd::Identity(told.rows(), told.cols()))
                     .llt()
                     .solve(Eigen::MatrixXd::Identity(told.rows(), told.cols()));
    // Only residuals that some figure moves say how large they are; figures take as many of them as they use.
    double moved = 0;
    for (Eigen::Index i = 0; i < slopes.rows(); ++i) moved += slopes.row(i).squaredNorm() > 1e-12;
    const double used = (told * covariance).trace();
    if (moved - used < 3) return 1.0;
    double both = 0, ends = 0;
    for (const auto& [i, j] : options.neighbours)
      both += r[i] * r[j], ends += (r[i] * r[i] + r[j] * r[j]) / 2;
    const double alike = ends > 0 ? std::clamp(both / ends, 0.0, 0.9) : 0.0;
    return std::sqrt(sum / (moved - used) * (1 + alike) / (1 - alike));
  };
  std::vector<char> free = all;
  std::vector<double> z(n, 0.0);
  if (!first.empty()) {
    z = least(model, free, first.size(), options);
    double scale = spread(z);
    if (options.held_out) {
      std::vector<double> x(n);
      for (size_t k = 0; k < n; ++k)
        x[k] = std::clamp(priors[k].mean + z[k] * priors[k].deviation, priors[k].least, priors[k].most);
      double sum = 0, count = 0;
      for (double r : options.held_out(x)) sum += r * r, count += r != 0;
      if (count >= 3) scale = std::max(scale, std::sqrt(sum / count));
    }
    model.set_scale(std::max(scale, options.surest));
    z = least(model, free, first.size(), options, z);
    spread(z);
    for (size_t k = 0; k < n; ++k)
      free[k] =
          std::sqrt(covariance(static_cast<Eigen::Index>(k), static_cast<Eigen::Index>(k))) < options.told;
    if (std::find(free.begin(), free.end(), 0) != free.end()) {
      const bool any = std::find(free.begin(), free.end(), 1) != free.end();
      z = any ? least(model, free, first.size(), options, z) : std::vector<double>(n, 0.0);
      spread(z);
    }
  } else {
    free.assign(n, 0);
  }
  covariance *= options.widened * options.widened;
  for (Eigen::Index k = 0; k < covariance.rows(); ++k)
    covariance(k, k) = std::min(covariance(k, k) + options.floor * options.floor, 1.0);
  out.covariance = covariance;
  for (size_t k = 0; k < n; ++k) {
    const auto at = static_cast<Eigen::Index>(k);
    out.figures.push_back(
        {.name = priors[k].name,
         .value = std::clamp(priors[k].mean + z[k] * priors[k].deviation, priors[k].least, priors[k].most),
         .deviation = priors[k].deviation * (free[k] ? std::sqrt(covariance(at, at)) : 1.0),
         .told = free[k] != 0});
    for (size_t j = 0; j < n; ++j)
      out.covariance(at, static_cast<Eigen::Index>(j)) *= priors[k].deviation * priors[j].deviation;
  }
  out.runs = model.runs();
  return out;
}

}  // namespace uadze::diagnosis
