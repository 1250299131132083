#include "core/diagnosis/trend.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

namespace uadze::diagnosis {
namespace {

std::optional<double> median(std::vector<double> values, size_t least = 20) {
  if (values.size() < least) return std::nullopt;
  const auto at = values.begin() + static_cast<std::ptrdiff_t>(values.size() / 2);
  std::nth_element(values.begin(), at, values.end());
  return *at;
}

struct Line {
  double begin = 0.0, slope = 0.0, error = 0.0;
};

Line line_of(const std::vector<double>& x, const std::vector<double>& y) {
  const double n = static_cast<double>(x.size());
  double mx = 0, my = 0, xx = 0, xy = 0, rest = 0;
  for (size_t i = 0; i < x.size(); ++i) mx += x[i] / n, my += y[i] / n;
  for (size_t i = 0; i < x.size(); ++i) xx += (x[i] - mx) * (x[i] - mx), xy += (x[i] - mx) * (y[i] - my);
  Line out;
  out.slope = xx > 0 ? xy / xx : 0;
  out.begin = my - out.slope * mx;
  for (size_t i = 0; i < x.size(); ++i) rest += std::pow(y[i] - out.begin - out.slope * x[i], 2);
  out.error = n > 2 && xx > 0 ? std::sqrt(rest / (n - 2) / xx) : 0;
  return out;
}

struct Kind {
  const char* what;
  Quantity quantity;
  std::optional<double> Wear::*figure;
  double noticeable;  ///< from first to last
  bool relative;      ///< to the first
  const char *rises, *falls;
};

constexpr Kind kinds[] = {
    {"loss at full flow", Quantity::fraction, &Wear::loss, 0.01, false,
     "a filter that loads, or a line that closes: change the filter, and look again",
     "it has been cleaned or changed"},
    {"pump current", Quantity::current, &Wear::current, 0.03, true,
     "a pump that turns harder: bearings, dirt, or a higher pressure",
     "a pump that turns lighter: worn, or a lower pressure"},
    {"supply under load", Quantity::voltage, &Wear::loaded, 0.1, false, "charging has been mended",
     "alternator, belt or earth: measure the drop along the pump's wires"},
    {"supply standing", Quantity::voltage, &Wear::standing, 0.1, false, "the battery is fuller",
     "the battery ages, or is not charged between sessions"}};

}  // namespace

Wear wear_of(const std::string& name, const log::Log& log, const log::Laps& laps, const Found& found) {
  Wear out{.log = name, .begin = log.begin};
  const Instants at = instants_of(log, laps, found);
  std::vector<double> q2, d, amps, volts, standing;
  for (size_t i = 0; i < at.size(); ++i) {
    // What starves or leaps is none of the wear's.
    if (at.transient[i] || std::abs(at.deviation[i]) > 0.5) continue;
    q2.push_back(at.flow[i] * at.flow[i]);
    d.push_back(at.deviation[i]);
    if (!at.lack.empty() && at.flow[i] > 0.7) volts.push_back(at.supply - at.lack[i]);
  }
  if (d.size() >= 100) {
    // Short dips of another cause are left out: far from the first line.
    const Line rough = line_of(q2, d);
    std::vector<double> off;
    for (size_t i = 0; i < d.size(); ++i) off.push_back(std::abs(d[i] - rough.begin - rough.slope * q2[i]));
    const double limit = std::max(4 * median(off).value_or(0.0), 0.005);
    std::vector<double> x, y;
    for (size_t i = 0; i < d.size(); ++i)
      if (off[i] <= limit) x.push_back(q2[i]), y.push_back(d[i]);
    const auto [low, high] = std::minmax_element(x.begin(), x.end());
    if (!x.empty() && *high - *low > 0.3) out.loss = -line_of(x, y).slope;
  }
  const auto current = log.values(log::Role::pump_current), supply = log.values(log::Role::battery),
             rpm = log.values(log::Role::rpm);
  for (size_t i = 0; i < log.size(); i += 5) {
    const bool runs = rpm.empty() || rpm[i] > 15;
    if (!current.empty() && runs && current[i] > 0.5f) amps.push_back(current[i]);
    if (!supply.empty() && !rpm.empty() && rpm[i] < 1) standing.push_back(supply[i]);
  }
  out.current = median(std::move(amps));
  out.loaded = median(std::move(volts));
  out.standing = median(std::move(standing));
  return out;
}

std::vector<Trend> trends(const std::vector<Wear>& logs) {
  std::vector<Trend> out;
  for (const Kind& kind : kinds) {
    std::vector<double> x, y;
    for (size_t k = 0; k < logs.size(); ++k)
      if (const auto& value = logs[k].*kind.figure) x.push_back(static_cast<double>(k)), y.push_back(*value);
    if (x.size() < 3) continue;
    const Line line = line_of(x, y);
    Trend t{.what = kind.what, .quantity = kind.quantity, .logs = x.size()};
    t.first = line.begin + line.slope * x.front(), t.last = line.begin + line.slope * x.back();
    t.per_log = line.slope, t.error = line.error;
    const double change =
        std::abs(t.last - t.first) / (kind.relative ? std::max(std::abs(t.first), 1e-9) : 1.0);
    t.clear = change >= kind.noticeable && std::abs(t.per_log) > 3 * t.error;
    const auto show = [&](double v) { return format(v, kind.quantity); };
    t.sentence = t.clear ? fmt::format("{}: from {} to {} over {} logs: {}", t.what, show(t.first),
                                       show(t.last), t.logs, t.per_log > 0 ? kind.rises : kind.falls)
                         : fmt::format("{}: {} on {} logs, no clear change", t.what,
                                       show((t.first + t.last) / 2), t.logs);
    out.push_back(std::move(t));
  }
  return out;
}

}  // namespace uadze::diagnosis
