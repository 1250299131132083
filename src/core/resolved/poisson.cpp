#include "core/resolved/poisson.h"

#include <tbb/parallel_for.h>

#include <algorithm>
#include <cmath>

namespace uadze::resolved {
namespace {

constexpr int most_blocks = 8, least_rows = 1200;
/// Share of what the incomplete factor drops that goes to the diagonal, and the least pivot.
constexpr double modified = 0.97, least_pivot = 0.25;

}  // namespace

void Poisson::begin(int rows) {
  const auto n = static_cast<size_t>(rows);
  diagonal.assign(n, 0.0), right.assign(n, 0.0), x.assign(n, 0.0);
  links_.resize(n);
  for (int i = 0; i < rows; ++i) links_[static_cast<size_t>(i)] = {{{i, i, i}, {i, i, i}}, {}};
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
  factor_.resize(diagonal.size());
  sum([&](const Range& rows) {
    for (int i = rows.begin; i < rows.end; ++i) {
      const auto r = static_cast<size_t>(i);
      const Links& own = links_[r];
      Factor& f = factor_[r];
      double e = diagonal[r];
      for (int a = 0; a < 3; ++a) {
        const int j = own.to[0][a];
        f.k[0][a] = 0, f.to[0][a] = i;
        if (j < rows.begin || j == i) continue;
        f.to[0][a] = j;
        const auto q = static_cast<size_t>(j);
        const double k = own.k[0][a] * factor_[q].pivot;
        f.k[0][a] = k;
        double others = 0;
        for (int d = 0; d < 3; ++d)
          if (d != a && links_[q].to[1][d] < rows.end) others += links_[q].k[1][d];
        e -= k * k + modified * k * factor_[q].pivot * others;
      }
      if (e < least_pivot * diagonal[r]) e = diagonal[r];
      f.pivot = e > 0 ? 1 / std::sqrt(e) : 0.0;
      for (int a = 0; a < 3; ++a) {
        f.k[0][a] *= f.pivot;
        const bool within = own.to[1][a] < rows.end;
        f.k[1][a] = within ? own.k[1][a] * f.pivot * f.pivot : 0.0;
        f.to[1][a] = within ? own.to[1][a] : i;
      }
    }
    return 0.0;
  });
  factored_ = true;
}

double Poisson::product(const Range& rows, const std::vector<double>& v, std::vector<double>& out) const {
  // By plain pointers: this and the factor below are where the time goes.
  const double *in = v.data(), *d = diagonal.data();
  const Links* links = links_.data();
  double* y = out.data();
  double sum = 0;
  for (int i = rows.begin; i < rows.end; ++i) {
    const Links& l = links[i];
    const double low = l.k[0][0] * in[l.to[0][0]] + l.k[0][1] * in[l.to[0][1]] + l.k[0][2] * in[l.to[0][2]];
    const double up = l.k[1][0] * in[l.to[1][0]] + l.k[1][1] * in[l.to[1][1]] + l.k[1][2] * in[l.to[1][2]];
    y[i] = d[i] * in[i] - (low + up);
    sum += y[i] * in[i];
  }
  return sum;
}

/// step_ = the factor's inverse of residual_; their product.
double Poisson::precondition(const Range& rows) {
  const double* r = residual_.data();
  const Factor* factor = factor_.data();
  double* z = step_.data();
  // The neighbour along z is the row before as a rule: what waits for it comes last.
  for (int i = rows.begin; i < rows.end; ++i) {
    const Factor& f = factor[i];
    const int* to = f.to[0];
    z[i] = r[i] * f.pivot + f.k[0][0] * z[to[0]] + f.k[0][1] * z[to[1]] + f.k[0][2] * z[to[2]];
  }
  double sum = 0;
  for (int i = rows.end - 1; i >= rows.begin; --i) {
    const Factor& f = factor[i];
    const int* to = f.to[1];
    z[i] = z[i] * f.pivot + f.k[1][0] * z[to[0]] + f.k[1][1] * z[to[1]] + f.k[1][2] * z[to[2]];
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
