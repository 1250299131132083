#include "core/resolved/poisson.h"

#include <tbb/parallel_for.h>

#include <algorithm>
#include <cmath>

namespace uadze::resolved {
namespace {

constexpr int most_blocks = 8, least_rows = 400;
/// Share of what the incomplete factor drops that goes to the diagonal, and the least pivot.
constexpr double modified = 0.97, least_pivot = 0.25;

/// The three axes' lists by plain pointers.
template <class T>
struct Links {
  const T* of[3];
  explicit Links(const std::array<std::vector<T>, 3>& lists)
      : of{lists[0].data(), lists[1].data(), lists[2].data()} {}
  const T* operator[](int axis) const { return of[axis]; }
};

}  // namespace

void Poisson::begin(int rows) {
  const auto n = static_cast<size_t>(rows);
  diagonal.assign(n, 0.0), right.assign(n, 0.0), x.assign(n, 0.0);
  for (int a = 0; a < 3; ++a) {
    lower_[a].assign(n, -1), upper_[a].assign(n, -1);
    lower_k_[a].assign(n, 0.0), upper_k_[a].assign(n, 0.0);
  }
  const int blocks = std::clamp(rows / least_rows, 1, most_blocks);
  blocks_.clear();
  for (int b = 0; b < blocks; ++b)
    blocks_.push_back({static_cast<int>(static_cast<long>(rows) * b / blocks),
                       static_cast<int>(static_cast<long>(rows) * (b + 1) / blocks)});
  factored_ = false;
}

template <class F>
double Poisson::sum(F&& of) const {
  std::array<double, most_blocks> part{};
  if (blocks_.size() == 1)
    part[0] = of(blocks_[0]);
  else
    tbb::parallel_for(size_t{0}, blocks_.size(), [&](size_t b) { part[b] = of(blocks_[b]); });
  double out = 0;
  for (size_t b = 0; b < blocks_.size(); ++b) out += part[b];
  return out;
}

void Poisson::factor() {
  pivot_.assign(diagonal.size(), 0.0);
  sum([&](const Range& rows) {
    for (int i = rows.begin; i < rows.end; ++i) {
      const auto r = static_cast<size_t>(i);
      double e = diagonal[r];
      for (int a = 0; a < 3; ++a) {
        const int j = lower_[a][r];
        if (j < rows.begin) continue;
        const auto q = static_cast<size_t>(j);
        const double k = lower_k_[a][r] * pivot_[q];
        double others = 0;
        for (int d = 0; d < 3; ++d)
          if (d != a && upper_[d][q] >= 0 && upper_[d][q] < rows.end) others += upper_k_[d][q];
        e -= k * k + modified * k * pivot_[q] * others;
      }
      if (e < least_pivot * diagonal[r]) e = diagonal[r];
      pivot_[r] = e > 0 ? 1 / std::sqrt(e) : 0.0;
    }
    return 0.0;
  });
  factored_ = true;
}

double Poisson::product(const Range& rows, const std::vector<double>& v, std::vector<double>& out) const {
  // By plain pointers: this and the factor below are where the time goes.
  const double *in = v.data(), *d = diagonal.data();
  double* y = out.data();
  double sum = 0;
  const Links<int> low(lower_), up(upper_);
  const Links<double> low_k(lower_k_), up_k(upper_k_);
  for (int i = rows.begin; i < rows.end; ++i) {
    double value = d[i] * in[i];
    for (int a = 0; a < 3; ++a) {
      const int l = low[a][i], u = up[a][i];
      if (l >= 0) value -= low_k[a][i] * in[l];
      if (u >= 0) value -= up_k[a][i] * in[u];
    }
    y[i] = value;
    sum += value * in[i];
  }
  return sum;
}

/// step_ = the factor's inverse of residual_; their product.
double Poisson::precondition(const Range& rows) {
  const double *r = residual_.data(), *pivot = pivot_.data();
  double* z = step_.data();
  const Links<int> low(lower_), up(upper_);
  const Links<double> low_k(lower_k_), up_k(upper_k_);
  for (int i = rows.begin; i < rows.end; ++i) {
    double t = r[i];
    for (int a = 0; a < 3; ++a) {
      const int j = low[a][i];
      if (j >= rows.begin) t += low_k[a][i] * pivot[j] * z[j];
    }
    z[i] = t * pivot[i];
  }
  double sum = 0;
  for (int i = rows.end - 1; i >= rows.begin; --i) {
    double t = z[i];
    for (int a = 0; a < 3; ++a) {
      const int j = up[a][i];
      if (j >= 0 && j < rows.end) t += up_k[a][i] * pivot[i] * z[j];
    }
    z[i] = t * pivot[i];
    sum += z[i] * r[i];
  }
  return sum;
}

Solved Poisson::solve(const SolveOptions& options) {
  Solved out;
  if (rows() == 0) return out;
  if (!factored_) factor();
  residual_.resize(diagonal.size()), direction_.assign(diagonal.size(), 0.0);
  image_.resize(diagonal.size()), step_.resize(diagonal.size());
  std::array<double, most_blocks> most{};
  const auto block_of = [&](const Range& rows) { return static_cast<size_t>(&rows - blocks_.data()); };
  const auto left = [&] {
    double m = 0;
    for (size_t b = 0; b < blocks_.size(); ++b) m = std::max(m, most[b]);
    return m;
  };
  double rz = sum([&](const Range& rows) {
    product(rows, x, image_);
    double m = 0;
    for (int i = rows.begin; i < rows.end; ++i) {
      const auto r = static_cast<size_t>(i);
      residual_[r] = right[r] - image_[r];
      m = std::max(m, std::abs(residual_[r]));
    }
    most[block_of(rows)] = m;
    return precondition(rows);
  });
  double beta = 0;
  while ((out.left = left()) > options.enough && out.iterations < options.most && rz > 0) {
    ++out.iterations;
    sum([&](const Range& rows) {
      for (int i = rows.begin; i < rows.end; ++i) {
        const auto r = static_cast<size_t>(i);
        direction_[r] = step_[r] + beta * direction_[r];
      }
      return 0.0;
    });
    const double curved = sum([&](const Range& rows) { return product(rows, direction_, image_); });
    if (!(curved > 0)) break;
    const double alpha = rz / curved;
    const double next = sum([&](const Range& rows) {
      double m = 0;
      for (int i = rows.begin; i < rows.end; ++i) {
        const auto r = static_cast<size_t>(i);
        x[r] += alpha * direction_[r];
        residual_[r] -= alpha * image_[r];
        m = std::max(m, std::abs(residual_[r]));
      }
      most[block_of(rows)] = m;
      return precondition(rows);
    });
    beta = next / rz;
    rz = next;
  }
  return out;
}

}  // namespace uadze::resolved
