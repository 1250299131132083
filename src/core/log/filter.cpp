#include "core/log/filter.h"

#include <algorithm>
#include <cmath>
#include <numbers>

#include "core/base/require.h"

namespace uadze::log {
namespace {

/// One pass of the second-order section, from a steady start.
void pass(std::vector<double>& x, double b0, double a1, double a2) {
  const double first = x.front();
  double x1 = first, x2 = first, y1 = first, y2 = first;
  for (double& value : x) {
    const double now = value;
    const double y = b0 * (now + 2 * x1 + x2) - a1 * y1 - a2 * y2;
    x2 = x1, x1 = now, y2 = y1, y1 = y;
    value = y;
  }
}

}  // namespace

std::vector<double> low_pass(std::span<const double> values, double rate, double frequency) {
  UADZE_REQUIRE(rate > 0 && frequency > 0, "a filter has a rate and a cut-off");
  std::vector<double> out(values.begin(), values.end());
  // Two passes of second order: each at (2^(1/2) - 1)^(-1/4) of the cut-off.
  const double once = frequency * std::pow(std::numbers::sqrt2 - 1, -0.25);
  if (out.size() < 3 || once >= 0.5 * rate) return out;
  const double c = std::tan(std::numbers::pi * once / rate), q = std::numbers::sqrt2 * c;
  const double norm = 1 / (1 + q + c * c), b0 = c * c * norm;
  const double a1 = 2 * (c * c - 1) * norm, a2 = (1 - q + c * c) * norm;
  // Mirrored about the ends' own values, for as long as the filter remembers.
  const size_t n = out.size(), pad = std::min(n - 1, static_cast<size_t>(3 * rate / frequency) + 1);
  std::vector<double> x;
  x.reserve(n + 2 * pad);
  for (size_t i = pad; i > 0; --i) x.push_back(2 * out[0] - out[i]);
  x.insert(x.end(), out.begin(), out.end());
  for (size_t i = 1; i <= pad; ++i) x.push_back(2 * out[n - 1] - out[n - 1 - i]);
  pass(x, b0, a1, a2);
  std::reverse(x.begin(), x.end());
  pass(x, b0, a1, a2);
  std::reverse(x.begin(), x.end());
  std::copy_n(x.begin() + static_cast<std::ptrdiff_t>(pad), n, out.begin());
  return out;
}

std::vector<double> resampled(const Log& log, std::span<const float> values, Between between, double begin,
                              double end, double step) {
  UADZE_REQUIRE(values.size() == log.size() && step > 0, "a channel of the log at even steps");
  std::vector<double> out;
  const size_t n = static_cast<size_t>(std::floor((end - begin) / step + 1e-9)) + 1;
  out.reserve(n);
  size_t k = log.index_at(begin);
  for (size_t i = 0; i < n; ++i) {
    const double t = begin + step * static_cast<double>(i);
    while (k + 1 < log.size() && log.time[k + 1] <= t) ++k;
    if (k + 1 >= log.size() || between == Between::held || t < log.time[k]) {
      out.push_back(values[k]);
      continue;
    }
    // Several samples to a step: their mean about it.
    if (log.time[k + 1] - log.time[k] < 0.6 * step) {
      double sum = 0, count = 0;
      for (size_t j = log.index_at(t - step / 2); j < log.size() && log.time[j] < t + step / 2; ++j)
        if (log.time[j] >= t - step / 2) sum += values[j], count += 1;
      if (count > 0) {
        out.push_back(sum / count);
        continue;
      }
    }
    const double share = (t - log.time[k]) / (log.time[k + 1] - log.time[k]);
    out.push_back(values[k] + share * (static_cast<double>(values[k + 1]) - values[k]));
  }
  return out;
}

std::vector<double> amplitude(std::span<const double> values, double rate,
                              std::span<const double> frequencies) {
  std::vector<double> out;
  const size_t piece = std::min(values.size(), static_cast<size_t>(20 * rate));
  for (double f : frequencies) {
    double sum = 0;
    int pieces = 0;
    for (size_t begin = 0; piece > 3 && begin + piece <= values.size(); begin += piece / 2, ++pieces) {
      double mean = 0, weight = 0, re = 0, im = 0;
      for (size_t i = 0; i < piece; ++i) mean += values[begin + i] / static_cast<double>(piece);
      for (size_t i = 0; i < piece; ++i) {
        const double hann = 0.5 - 0.5 * std::cos(2 * std::numbers::pi * static_cast<double>(i) /
                                                 static_cast<double>(piece - 1));
        const double angle = 2 * std::numbers::pi * f * static_cast<double>(i) / rate;
        re += hann * (values[begin + i] - mean) * std::cos(angle);
        im += hann * (values[begin + i] - mean) * std::sin(angle);
        weight += hann;
      }
      sum += 4 * (re * re + im * im) / (weight * weight);
    }
    out.push_back(pieces ? std::sqrt(sum / pieces) : 0.0);
  }
  return out;
}

}  // namespace uadze::log
