#include "core/diagnosis/picture.h"

#include <algorithm>
#include <cmath>
#include <functional>

#include "core/diagnosis/cause.h"

namespace uadze::diagnosis {
namespace {

constexpr size_t most_points = 1500;

struct Axis {
  std::string look, title;
  Quantity quantity = Quantity::fraction;
  std::function<double(size_t)> x;                                  ///< not finite: left out
  std::function<bool(size_t)> shown = [](size_t) { return true; };  ///< instants that speak of it
};

const double none = std::numeric_limits<double>::quiet_NaN();

Axis axis_of(Cause cause, const Instants& at) {
  const auto flow = [&at](size_t i) { return at.flow[i]; };
  switch (cause) {
    case Cause::slosh:
      return {"Dips at the same places lap after lap, behind a push, deeper as the level falls.",
              "along the lap", Quantity::fraction,
              [&at](size_t i) { return at.place[i] < 0 ? none : at.place[i]; }};
    case Cause::capacity:
      return {"Nothing is lost up to some flow, and more and more above it.", "flow, of the greatest",
              Quantity::fraction, flow};
    case Cause::staged_late:
      return {"Lost in the first moments of full throttle, and then there again.",
              "since the throttle was opened", Quantity::duration,
              [&at](size_t i) { return at.since_opened[i] < 3 ? at.since_opened[i] : none; }};
    case Cause::wiring:
      return {"The more volts the supply lacks, the more is lost.", "volts that the supply lacks",
              Quantity::voltage, [&at](size_t i) { return at.lack.empty() ? none : at.lack[i]; }};
    case Cause::filter:
      return {"At high flow, the loss grows from the begin of the log to its end.", "time, at high flow",
              Quantity::duration, [&at](size_t i) { return at.time[i] - at.time.front(); },
              [&at](size_t i) { return at.flow[i] > 0.75; }};
    case Cause::vapour:
      return {"Nothing is lost while the fuel is cold, and more and more as it warms.", "fuel's temperature",
              Quantity::temperature,
              [&at](size_t i) { return at.warm.empty() ? none : at.coldest + at.warm[i]; },
              [&at](size_t i) { return at.flow[i] > 0.5; }};
    case Cause::vent:
      return {"A slow decline with what has been drawn, at any flow.", "drawn, of all that the log draws",
              Quantity::fraction, [&at](size_t i) { return at.drawn[i]; }};
    case Cause::small_return:
      return {"Too high where the engine takes little, right at full load.", "flow, of the greatest",
              Quantity::fraction, flow};
    case Cause::reference_lost:
      return {"Too high by the manifold's vacuum.", "manifold under the air's pressure", Quantity::pressure,
              [&at](size_t i) { return at.vacuum.empty() ? none : at.vacuum[i]; }};
    case Cause::aeration:
      return {"Short dips wherever the car shakes.", "shaking", Quantity::acceleration,
              [&at](size_t i) { return at.shaking[i]; }};
    default:
      return {"The deviation over the log.", "time", Quantity::duration,
              [&at](size_t i) { return at.time[i] - at.time.front(); }};
  }
}

Picture of_standing(const Instants& at) {
  Picture out{.title = "With the engine stopped the pressure falls away, where a tight valve would hold it.",
              .x_title = "since the engine stopped",
              .y_title = "pressure over the injectors",
              .x = Quantity::duration,
              .y = Quantity::pressure,
              .seen = {at.fall.time, at.fall.difference},
              .line = true};
  if (at.fall_time && !at.fall.time.empty())
    for (double t : at.fall.time)
      out.expected.x.push_back(t),
          out.expected.y.push_back(at.fall.difference.front() *
                                   std::exp(-(t - at.fall.time.front()) / *at.fall_time));
  return out;
}

Picture of_mixture(const Instants& at) {
  Picture out{
      .title = "If the dips were real the mixture would lean with them: along the rising line.",
      .x_title = "leaner by the pressure that is read",
      .y_title = "leaner by lambda",
      .x = Quantity::fraction,
      .line = true,
  };
  if (at.lean.empty()) return out;
  double most = 0;
  for (size_t i = 0; i < at.size(); ++i) {
    if (std::isnan(at.lean[i]) || at.transient[i]) continue;
    const double real = 1 / std::sqrt(std::clamp(1 + at.deviation[i], 0.1, 4.0)) - 1;
    out.seen.x.push_back(real), out.seen.y.push_back(at.lean[i]);
    most = std::max(most, real);
  }
  out.expected = {{0.0, most}, {0.0, most}};
  return out;
}

/// All that stands out, and of the rest as much as can be seen.
void thin(Picture& picture) {
  Picture::Points &seen = picture.seen, &expected = picture.expected;
  const size_t n = seen.x.size();
  if (n <= most_points) return;
  std::vector<size_t> order(n);
  for (size_t i = 0; i < n; ++i) order[i] = i;
  // A third by how far they are out, the others evenly.
  const auto from = [&](size_t i) { return std::abs(seen.y[i]); };
  std::nth_element(order.begin(), order.begin() + most_points / 3, order.end(),
                   [&](size_t a, size_t b) { return from(a) != from(b) ? from(a) > from(b) : a < b; });
  std::vector<char> keep(n, 0);
  for (size_t i = 0; i < most_points / 3; ++i) keep[order[i]] = 1;
  const size_t every = n / (2 * most_points / 3) + 1;
  for (size_t i = 0; i < n; i += every) keep[i] = 1;
  const bool both = expected.x.size() == n;
  Picture::Points less, model;
  for (size_t i = 0; i < n; ++i) {
    if (!keep[i]) continue;
    less.x.push_back(seen.x[i]), less.y.push_back(seen.y[i]);
    if (both) model.x.push_back(expected.x[i]), model.y.push_back(expected.y[i]);
  }
  seen = std::move(less);
  if (both) expected = std::move(model);
}

}  // namespace

Picture picture_of(Cause cause, const Instants& at, std::span<const double> model) {
  Picture out;
  if (at.size() == 0) return out;
  if (cause == Cause::check_valve) {
    out = of_standing(at);
  } else if (cause == Cause::sensor && !at.lean.empty()) {
    out = of_mixture(at);
  } else {
    const Axis axis = axis_of(cause, at);
    out.title = axis.look, out.x_title = axis.title, out.x = axis.quantity;
    out.y_title = "pressure over the injectors, off the usual";
    for (size_t i = 0; i < at.size(); ++i) {
      const double x = axis.x(i);
      if (!std::isfinite(x) || !axis.shown(i)) continue;
      out.seen.x.push_back(x), out.seen.y.push_back(at.deviation[i]);
      if (!model.empty()) out.expected.x.push_back(x), out.expected.y.push_back(model[i]);
    }
  }
  thin(out);
  return out;
}

}  // namespace uadze::diagnosis
