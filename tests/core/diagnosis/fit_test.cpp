// Fits against closed forms, and intervals against how often they hold.
#include "core/diagnosis/fit.h"

#include <gtest/gtest.h>

#include <Eigen/LU>
#include <atomic>
#include <cmath>
#include <random>

namespace uadze::diagnosis {
namespace {

class Normal {
 public:
  explicit Normal(std::uint64_t seed) : engine_(seed) {}
  double operator()() {
    const double u = (static_cast<double>(engine_() >> 11) + 0.5) * 0x1.0p-53,
                 v = (static_cast<double>(engine_() >> 11) + 0.5) * 0x1.0p-53;
    return std::sqrt(-2 * std::log(u)) * std::cos(6.283185307179586 * v);
  }

 private:
  std::mt19937_64 engine_;
};

TEST(Fit, AStraightModelIsTheConjugatePosterior) {
  // One figure seen n times to 1: mean (m/s2 + sum y) / (1/s2 + n), variance 1 / (1/s2 + n).
  const std::vector<double> seen{2.1, 1.7, 2.4, 1.9, 2.2, 2.0, 1.6, 2.5};
  FitOptions options;
  options.floor = 0;
  options.surest = 1;
  const Fit f = fit(
      {{"x", 1.0, 0.5}},
      [&](const std::vector<double>& x) {
        std::vector<double> r;
        for (double y : seen) r.push_back(y - x[0]);
        return r;
      },
      options);
  double sum = 0;
  for (double y : seen) sum += y;
  EXPECT_NEAR(f.figures[0].value, (1.0 / 0.25 + sum) / (1 / 0.25 + 8), 1e-3);
  EXPECT_NEAR(f.figures[0].deviation, 1 / std::sqrt(1 / 0.25 + 8), 1e-6);
  EXPECT_LT(f.after, f.before);
}

TEST(Fit, FiguresThatOnlyActTogetherAreSaidToHangTogether) {
  const Fit f = fit({{"a", 0, 1}, {"b", 0, 1}, {"idle", 3, 1}},
                    [](const std::vector<double>& x) {
                      return std::vector<double>{(1.0 - x[0] - x[1]) / 0.01, (1.0 - x[0] - x[1]) / 0.01};
                    },
                    {.told = 0.95, .floor = 0});
  EXPECT_NEAR(f.figures[0].value, 0.5, 1e-3);
  EXPECT_NEAR(f.figures[1].value, 0.5, 1e-3);
  EXPECT_LT(f.correlation(0, 1), -0.99);
  EXPECT_NEAR(f.figures[0].deviation, std::sqrt(0.5), 0.01);
  EXPECT_FALSE(f.figures[2].told);
  EXPECT_EQ(f.figures[2].value, 3.0);
  EXPECT_EQ(f.figures[2].deviation, 1.0);
}

TEST(Fit, IntervalsHoldAsOftenAsTheySay) {
  int inside = 0, all = 0;
  for (std::uint64_t seed = 1; seed <= 200; ++seed) {
    Normal normal(seed);
    // Three figures drawn from their priors, ten straight sights of them with noise of 0.4 told as 0.4.
    double truth[3], rows[10][3], seen[10];
    for (double& x : truth) x = normal();
    for (int i = 0; i < 10; ++i) {
      seen[i] = 0.4 * normal();
      for (int k = 0; k < 3; ++k) rows[i][k] = normal(), seen[i] += rows[i][k] * truth[k];
    }
    const Fit f =
        fit({{"a", 0, 1}, {"b", 0, 1}, {"c", 0, 1}},
            [&](const std::vector<double>& x) {
              std::vector<double> r;
              for (int i = 0; i < 10; ++i)
                r.push_back((seen[i] - rows[i][0] * x[0] - rows[i][1] * x[1] - rows[i][2] * x[2]) / 0.4);
              return r;
            },
            {.floor = 0});
    for (size_t k = 0; k < 3; ++k)
      ++all, inside += truth[k] >= f.figures[k].low() && truth[k] <= f.figures[k].high();
  }
  EXPECT_GT(inside, 0.85 * all) << inside << " of " << all;
  EXPECT_LT(inside, 0.95 * all) << inside << " of " << all;
}

TEST(Fit, NothingSeenLeavesEverythingAsItWas) {
  const Fit f = fit({{"a", 2, 0.5}}, [](const std::vector<double>&) { return std::vector<double>(); });
  EXPECT_FALSE(f.figures[0].told);
  EXPECT_EQ(f.figures[0].value, 2.0);
  EXPECT_EQ(f.residuals, 0u);
}

TEST(Fit, HeldOutResidualsMakeItLessSure) {
  const Residuals close = [](const std::vector<double>& x) {
    return std::vector<double>(6, (1 - x[0]) / 0.1);
  };
  FitOptions options{.floor = 0};
  const double alone = fit({{"a", 0, 1}}, close, options).figures[0].deviation;
  options.held_out = [](const std::vector<double>&) { return std::vector<double>{5, -5, 5, -5}; };
  EXPECT_GT(fit({{"a", 0, 1}}, close, options).figures[0].deviation, 3 * alone);
}

TEST(Fit, CancelAndFaultsComeThrough) {
  Progress progress;
  std::atomic<int> runs{0};
  const Residuals slow = [&](const std::vector<double>& x) {
    if (++runs == 3) progress.cancel();
    return std::vector<double>{x[0] - 1};
  };
  EXPECT_THROW(fit({{"a", 0, 1}}, slow, {}, &progress), Cancelled);
  EXPECT_LT(runs, 10);
  EXPECT_THROW(
      fit({{"a", 0, 1}},
          [](const std::vector<double>&) -> std::vector<double> { throw std::runtime_error("no tank"); }),
      std::runtime_error);
}

}  // namespace
}  // namespace uadze::diagnosis
