#include "core/diagnosis/ways.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <map>

namespace uadze::diagnosis {
namespace {

class Builder {
 public:
  Builder(const Instants& at, double usual, std::span<const double> y)
      : at_(at), usual_(usual), y_(y), n_(at.size()) {}

  std::vector<Way> run() {
    build();
    return std::move(ways_);
  }

 private:
  template <class Value>
  void add(Cause cause, std::string words, int sign, int chosen, Value&& value) {
    Way f{.cause = cause,
          .words = std::move(words),
          .x = std::vector<double>(n_),
          .sign = sign,
          .fitted = chosen};
    for (size_t i = 0; i < n_; ++i) f.x[i] = value(i);
    ways_.push_back(std::move(f));
  }

  void build() {
    const bool throttle =
        std::any_of(at_.throttle.begin(), at_.throttle.end(), [](double u) { return u > 0.1; });
    const auto q = [&](size_t i) { return at_.flow[i]; };
    // Flow over what can be brought loses the pressure that this takes, and, by an error of the flow, a
    // little more: a pump's own curve makes it less.
    constexpr double whole = 1.2;
    for (double knee : {0.55, 0.65, 0.75, 0.85, 0.92})
      add(Cause::capacity, fmt::format("flow over {:.0f} % of the greatest", 100 * knee), -1, 1,
          [&](size_t i) {
            // What is left over the injectors once they want more than can be brought: (knee / q)^2.
            return q(i) > knee ? 1 - std::pow(knee / q(i), 2) : 0.0;
          }),
          ways_.back().most = whole;
    if (throttle)
      for (double late : {0.3, 0.5, 0.7, 1.0})
        for (double knee : {0.5, 0.65, 0.8})
          add(Cause::staged_late, fmt::format("the first {:.1f} s of full throttle", late), -1, 2,
              [&](size_t i) {
                return at_.since_opened[i] < late && q(i) > knee ? 1 - std::pow(knee / q(i), 2) : 0.0;
              }),
              ways_.back().most = whole;
    if (!at_.lack.empty() && *std::max_element(at_.lack.begin(), at_.lack.end()) > 0.6) {
      for (double power : {0.0, 1.0, 2.0})
        add(Cause::wiring, "volts that the supply lacks", -1, 1,
            [&](size_t i) { return std::max(at_.lack[i] - 0.3, 0.0) * std::pow(q(i), power); });
      // A pump brings less with less voltage: flow over that.
      for (double knee = 0.85; knee < 1.16; knee += 0.025)
        add(Cause::wiring, "flow over what the pump brings at that voltage", -1, 1,
            [&](size_t i) {
              const double can = knee * std::pow(std::max(1 - at_.lack[i] / at_.supply, 0.1), 1.5);
              return q(i) > can ? 1 - std::pow(can / q(i), 2) : 0.0;
            }),
            ways_.back().most = whole;
    }
    for (double power : {1.0, 2.0, 3.0})
      add(Cause::filter, "flow squared, growing over the log", -1, 1,
          [&](size_t i) { return at_.along[i] * std::pow(q(i), power); });
    if (!at_.warm.empty()) {
      const double hottest = *std::max_element(at_.warm.begin(), at_.warm.end());
      if (hottest > 8)
        for (double from : {0.3, 0.5, 0.7})
          for (double knee : {0.0, 0.6, 0.8})
            add(Cause::vapour, fmt::format("fuel {:.0f} K over its coldest", from * hottest), -1, 2,
                [&](size_t i) {
                  return std::max(at_.warm[i] - from * hottest, 0.0) / hottest * std::max(q(i) - knee, 0.0);
                });
    }
    add(Cause::vent, "what has been drawn", -1, 0, [&](size_t i) { return at_.drawn[i]; });
    // A line's loss goes with flow between its first power (laminar) and its square (turbulent).
    for (double power : {1.0, 1.5, 2.0})
      add(Cause::small_return, "flow that the engine does not take", 1, 1,
          [&](size_t i) { return std::pow(std::max(1 - q(i), 0.0), power); });
    if (!at_.vacuum.empty()) {
      add(Cause::reference_lost, "the manifold's vacuum", 1, 0,
          [&](size_t i) { return at_.vacuum[i] / usual_; });
      ways_.back().most = 1.1;  // a hose that is off loses the vacuum once
    }
    slosh();
  }

  /// Dips that come at the same places lap after lap, behind a push: of each lap by the other laps' mean.
  void same_places() {
    constexpr size_t bins = 240;
    std::map<int, std::vector<double>> by_lap;
    std::map<int, std::vector<int>> counts;
    std::vector<double> pushed(n_, 0.0);
    double lately = 0;
    std::vector<double> sorted;
    for (size_t i = 0; i < n_; ++i) sorted.push_back(std::hypot(at_.lateral[i], at_.longitudinal[i]));
    const double strong = 0.5 * *std::max_element(sorted.begin(), sorted.end());
    for (size_t i = 0; i < n_; ++i) {
      lately = std::max(sorted[i], 0.93 * lately);  // half of it after a second
      pushed[i] = lately > 0.6 * strong ? 1.0 : 0.0;
    }
    const auto bin = [&](size_t i) { return std::min(static_cast<size_t>(at_.place[i] * bins), bins - 1); };
    for (size_t i = 0; i < n_; ++i) {
      if (at_.place[i] < 0) continue;
      auto& sums = by_lap[at_.lap[i]];
      auto& n = counts[at_.lap[i]];
      sums.resize(bins, 0.0), n.resize(bins, 0);
      sums[bin(i)] += std::max(-y_[i], 0.0) * pushed[i], ++n[bin(i)];
    }
    if (by_lap.size() < 3) return;
    for (double falling : {0.0, 1.0, 3.0})
      add(Cause::slosh,
          falling > 0 ? "the same places lap after lap, more as the level falls"
                      : "the same places lap after lap",
          -1, 4, [&](size_t i) {
            if (at_.place[i] < 0) return 0.0;
            double sum = 0, n = 0;
            for (const auto& [lap, sums] : by_lap) {
              if (lap == at_.lap[i]) continue;
              // A dip is not at the same metre each time.
              for (size_t k = bin(i) > 0 ? bin(i) - 1 : 0; k <= std::min(bin(i) + 1, bins - 1); ++k)
                sum += sums[k], n += counts.at(lap)[k];
            }
            return n > 0 ? sum / n * std::pow(at_.along[i], falling) : 0.0;
          });
  }

  void slosh() {
    same_places();
    struct Way {
      const char* words;
      double x, y;
    };
    static constexpr Way ways[] = {{"left-hand corners", 0, 1},     {"right-hand corners", 0, -1},
                                   {"corners to both hands", 0, 2}, {"braking", -1, 0},
                                   {"speeding up", 1, 0},           {"any push", 2, 2}};
    for (const Way& way : ways) {
      std::vector<double> push(n_);
      for (size_t i = 0; i < n_; ++i)
        push[i] = way.x == 2   ? std::hypot(at_.lateral[i], at_.longitudinal[i])
                  : way.y == 2 ? std::abs(at_.lateral[i])
                               : std::max(way.x * at_.longitudinal[i] + way.y * at_.lateral[i], 0.0);
      std::vector<double> sorted = push;
      const auto high = sorted.begin() + static_cast<std::ptrdiff_t>(0.97 * static_cast<double>(n_));
      std::nth_element(sorted.begin(), high, sorted.end());
      const double most = *high;
      if (most < 0.2 * standard_gravity) continue;
      // Long bare: what the engine takes while the push lasts and for some time after.
      for (double hold : {0.5, 1.0, 2.0, 4.0})
        for (double from : {0.5, 0.75})
          for (double falling : {0.0, 2.0}) {
            double until = -1;
            add(Cause::slosh,
                fmt::format("what is burnt within {:.1f} s of {}{}", hold, way.words,
                            falling > 0 ? ", more as the level falls" : ""),
                -1, 3, [&](size_t i) {
                  if (push[i] > from * most) until = at_.time[i] + hold;
                  return at_.time[i] < until ? at_.flow[i] * at_.flow[i] * std::pow(at_.along[i], falling)
                                             : 0.0;
                });
          }
      if (way.x == 2) continue;
      for (int late : {0, 2, 4, 7, 11, 16})
        for (double from : {0.2, 0.5, 0.75})
          for (double falling : {0.0, 1.0, 4.0})
            add(Cause::slosh,
                fmt::format("{}, {:.1f} s before{}", way.words, 0.1 * late,
                            falling > 0 ? ", more as the level falls" : ""),
                -1, 3, [&](size_t i) {
                  if (i < static_cast<size_t>(late)) return 0.0;
                  return std::max(push[i - static_cast<size_t>(late)] - from * most, 0.0) / most *
                         std::pow(at_.along[i], falling);
                });
    }
  }

  const Instants& at_;
  double usual_;
  std::span<const double> y_;
  size_t n_;
  std::vector<Way> ways_;
};

}  // namespace

std::vector<Way> ways_of(const Instants& at, double usual, std::span<const double> deviation) {
  return at.size() == 0 ? std::vector<Way>{} : Builder(at, usual, deviation).run();
}

}  // namespace uadze::diagnosis
