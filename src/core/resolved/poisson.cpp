#include "core/resolved/poisson.h"

#include <tbb/parallel_for.h>

#include <algorithm>
#include <cmath>

#include "core/base/require.h"

namespace uadze::resolved {
namespace {

/// Share of what the incomplete factor drops that goes to the diagonal, and the least pivot.
constexpr double modified = 0.97, least_pivot = 0.25;

}  // namespace

void Poisson::begin(int rows, const std::vector<int>& apart) {
  const auto n = static_cast<size_t>(rows);
  diagonal.assign(n, 0.0), right.assign(n, 0.0), x.assign(n, 0.0);
  links_.resize(n);
  for (int i = 0; i < rows; ++i) links_[static_cast<size_t>(i)] = {{{i, i, i}, {i, i, i}}, {}};
  apart_.clear();
  int begin = 0;
  for (const int end : apart) apart_.push_back({begin, end}), begin = end;
  last_ = {begin, rows};
  factored_ = false;
}

/// Calls each(range, its number) for the ranges that may be done side by side.
template <class F>
void Poisson::apart(F&& each) const {
  if (apart_.size() < 2)
    for (size_t b = 0; b < apart_.size(); ++b) each(apart_[b], b);
  else
    tbb::parallel_for(size_t{0}, apart_.size(), [&](size_t b) { each(apart_[b], b); });
}

/// Of what `of` gives for every range, all of them side by side.
template <class F>
double Poisson::sum(F&& of) const {
  std::vector<double> part(apart_.size());
  apart([&](const Range& rows, size_t b) { part[b] = of(rows); });
  double out = 0;
  for (const double p : part) out += p;
  return out + of(last_);
}

void Poisson::factor() {
  before_.resize(diagonal.size()), after_.resize(diagonal.size());
  tbb::parallel_for(size_t{0}, apart_.size(), [&](size_t b) { factor(apart_[b]); });
  factor(last_);
  factored_ = true;
}

void Poisson::factor(Range& rows) {
  const auto pivot_of = [&](int i) { return static_cast<double>(before_[static_cast<size_t>(i)].pivot); };
  for (int i = rows.begin; i < rows.end; ++i) {
    const auto r = static_cast<size_t>(i);
    const Links& own = links_[r];
    Half &before = before_[r], &after = after_[r];
    before = after = {{i, i, i}, 0, {}};
    int befores = 0, afters = 0;
    double e = diagonal[r];
    // Along z last: that neighbour is the row before as a rule, for which the next has to wait.
    for (int a = 0; a < 3; ++a)
      for (int side = 0; side < 2; ++side) {
        const int j = own.to[side][a];
        if (j > i) {
          UADZE_REQUIRE(afters < 3, "rows are numbered towards the middle");
          after.to[afters] = j, after.k[afters++] = own.k[side][a];
        }
        if (j >= i || pivot_of(j) <= 0) continue;
        const double k = static_cast<double>(own.k[side][a]) * pivot_of(j);
        // What the elimination of j would join to this row besides.
        const Half& others = after_[static_cast<size_t>(j)];
        double rest = 0;
        for (int d = 0; d < 3; ++d)
          if (others.to[d] != i) rest += static_cast<double>(others.k[d]);
        e -= k * k + modified * k * rest / pivot_of(j);
        if (befores < 3) before.to[befores] = j, before.k[befores] = static_cast<float>(k);
        ++befores;
      }
    rows.few = rows.few && befores <= 3;
    if (e < least_pivot * diagonal[r]) e = diagonal[r];
    const double pivot = e > 0 ? 1 / std::sqrt(e) : 0.0;
    before.pivot = after.pivot = static_cast<float>(pivot);
    for (int d = 0; d < 3; ++d) {
      before.k[d] = static_cast<float>(static_cast<double>(before.k[d]) * pivot);
      after.k[d] = static_cast<float>(static_cast<double>(after.k[d]) * pivot * pivot);
    }
  }
}

/// Calls use(row, the matrix's row times v).
template <class In, class Use>
void Poisson::product(const Range& rows, const std::vector<In>& v, Use&& use) const {
  // By plain pointers: this and the factor below are where the time goes.
  const In* in = v.data();
  const double* d = diagonal.data();
  const Links* links = links_.data();
  const auto part = [&](const Links& l, int side, int a) {
    return static_cast<double>(l.k[side][a]) * static_cast<double>(in[l.to[side][a]]);
  };
  for (int i = rows.begin; i < rows.end; ++i) {
    const Links& l = links[i];
    const double low = part(l, 0, 0) + part(l, 0, 1) + part(l, 0, 2);
    const double up = part(l, 1, 0) + part(l, 1, 1) + part(l, 1, 2);
    use(i, d[i] * static_cast<double>(in[i]) - (low + up));
  }
}

/// The factor's lower half against residual_, into step_.
void Poisson::forward(const Range& rows) {
  const double* r = residual_.data();
  const Half* before = before_.data();
  float* z = step_.data();
  if (rows.few) {
    for (int i = rows.begin; i < rows.end; ++i) {
      const Half& f = before[i];
      z[i] = static_cast<float>(r[i]) * f.pivot + f.k[0] * z[f.to[0]] + f.k[1] * z[f.to[1]] +
             f.k[2] * z[f.to[2]];
    }
    return;
  }
  for (int i = rows.begin; i < rows.end; ++i) {
    const Links& l = links_[static_cast<size_t>(i)];
    float sum = static_cast<float>(r[i]);
    for (int side = 0; side < 2; ++side)
      for (int a = 0; a < 3; ++a)
        if (const int j = l.to[side][a]; j < i) sum += l.k[side][a] * before[j].pivot * z[j];
    z[i] = sum * before[i].pivot;
  }
}

/// Its upper half, in step_; and the product of that with residual_.
double Poisson::back(const Range& rows) {
  const double* r = residual_.data();
  const Half* after = after_.data();
  float* z = step_.data();
  double sum = 0;
  for (int i = rows.end - 1; i >= rows.begin; --i) {
    const Half& f = after[i];
    z[i] = z[i] * f.pivot + f.k[0] * z[f.to[0]] + f.k[1] * z[f.to[1]] + f.k[2] * z[f.to[2]];
    sum += static_cast<double>(z[i]) * r[i];
  }
  return sum;
}

/// step_ = the factor's inverse of residual_, which `before` makes, range by range; their product.
template <class Before>
double Poisson::precondition(Before&& before) {
  apart([&](const Range& rows, size_t b) { before(rows, b), forward(rows); });
  before(last_, apart_.size()), forward(last_);
  const double last = back(last_);
  std::vector<double> part(apart_.size());
  apart([&](const Range& rows, size_t b) { part[b] = back(rows); });
  double out = 0;
  for (const double p : part) out += p;
  return out + last;
}

Solved Poisson::solve(const SolveOptions& options) {
  Solved out;
  if (rows() == 0) return out;
  if (!factored_) factor();
  residual_.resize(diagonal.size()), direction_.assign(diagonal.size(), 0.0f);
  image_.resize(diagonal.size()), step_.resize(diagonal.size());
  std::vector<double> most(apart_.size() + 1);
  double rz = precondition([&](const Range& rows, size_t b) {
    double m = 0;
    product(rows, x, [&](int i, double y) {
      const auto r = static_cast<size_t>(i);
      residual_[r] = right[r] - y;
      m = std::max(m, std::abs(residual_[r]));
    });
    most[b] = m;
  });
  double beta = 0;
  while ((out.left = *std::max_element(most.begin(), most.end())) > options.enough &&
         out.iterations < options.most && rz > 0) {
    ++out.iterations;
    sum([&](const Range& rows) {
      for (int i = rows.begin; i < rows.end; ++i) {
        const auto r = static_cast<size_t>(i);
        direction_[r] = step_[r] + static_cast<float>(beta) * direction_[r];
      }
      return 0.0;
    });
    const double curved = sum([&](const Range& rows) {
      double all = 0;
      product(rows, direction_, [&](int i, double y) {
        const auto r = static_cast<size_t>(i);
        image_[r] = static_cast<float>(y);
        all += y * static_cast<double>(direction_[r]);
      });
      return all;
    });
    if (!(curved > 0)) break;
    const double alpha = rz / curved;
    const double next = precondition([&](const Range& rows, size_t b) {
      double m = 0;
      for (int i = rows.begin; i < rows.end; ++i) {
        const auto r = static_cast<size_t>(i);
        x[r] += alpha * static_cast<double>(direction_[r]);
        residual_[r] -= alpha * static_cast<double>(image_[r]);
        m = std::max(m, std::abs(residual_[r]));
      }
      most[b] = m;
    });
    beta = next / rz;
    rz = next;
  }
  return out;
}

}  // namespace uadze::resolved
