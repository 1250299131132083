#include "core/diagnosis/falls.h"

#include <algorithm>
#include <cmath>

namespace uadze::diagnosis {
namespace {

constexpr double same_place = 0.01;  ///< of a lap
constexpr double own = 5.0;          ///< s between falls that know nothing of each other

/// ln of how much better `yes` of `all` are explained by a share of `if_so` than by that of chance.
double better(double yes, double all, double if_so, double by_chance) {
  if_so = std::max(if_so, by_chance);
  return yes * std::log(if_so / by_chance) +
         (all - yes) * std::log((1 - if_so + 1e-3) / (1 - by_chance + 1e-3));
}

class Reader {
 public:
  Reader(const Instants& at, const Found& found, std::span<const double> y) : at_(at), y_(y), n_(at.size()) {
    for (size_t i = 0; i < n_; ++i) push_.push_back(std::hypot(at.lateral[i], at.longitudinal[i]));
    strong_ = n_ == 0 ? 0.0 : 0.6 * *std::max_element(push_.begin(), push_.end());
    for (const LoggedEvent& e : found.events) {
      if (e.sign != Sign::pressure) continue;
      const auto after = std::upper_bound(at.time.begin(), at.time.end(), e.begin + 0.1);
      if (after != at.time.begin()) falls_.push_back(static_cast<size_t>(after - at.time.begin()) - 1);
    }
  }

  Falls run(double mixture) {
    Falls out;
    out.all = static_cast<int>(falls_.size());
    if (falls_.empty()) return out;
    current(out);
    by_fuel(out, mixture);
    return out;
  }

 private:
  /// Whether it was so at some instant of the seconds before, this one counted.
  template <class Is>
  bool lately(size_t i, double seconds, Is&& is) const {
    for (size_t k = i + 1; k-- > 0 && at_.time[i] - at_.time[k] < seconds;)
      if (is(k)) return true;
    return false;
  }
  bool pushed(size_t i) const { return push_[i] > strong_; }

  /// Gas that does no harm must not count, so all is held against how often it is so by chance.
  void current(Falls& out) const {
    if (at_.current.empty()) return;
    // Against less pressure the pump takes less by itself.
    const auto light = [&](size_t k) { return at_.current[k] - 0.6 * std::min(y_[k], 0.0) < -0.15; };
    double fine = 0, fine_light = 0, often_pushed = 0, stretches = 0, behind_push = 0, last = -1e9;
    for (size_t i = 0; i < n_; ++i) {
      const double is_pushed = lately(i, 1.0, [&](size_t k) { return pushed(k); });
      if (y_[i] > -0.03) ++fine, fine_light += lately(i, Falls::gas_way, light);
      often_pushed += is_pushed / static_cast<double>(n_);
      if (!light(i)) continue;
      if (at_.time[i] - last > 1.0) ++stretches, behind_push += is_pushed;
      last = at_.time[i];
    }
    for (size_t i : falls_) out.light += lately(i, Falls::gas_way + 0.1, light);
    const double by_gas = better(out.light, out.all, 0.9, (fine_light + 1) / (fine + 20));
    out.gas_before = std::clamp(by_gas, -40.0, 40.0);
    // And whether the gas itself comes behind the pushes.
    out.gas =
        by_gas <= 0
            ? out.gas_before
            : std::min(by_gas + std::clamp(better(behind_push, stretches, 0.95, often_pushed), -20.0, 20.0),
                       40.0);
  }

  void by_fuel(Falls& out, double mixture) const {
    std::vector<size_t> apart;
    for (size_t i : falls_)
      if (at_.place[i] >= 0 && (apart.empty() || at_.time[i] - at_.time[apart.back()] > own))
        apart.push_back(i);
    out.apart = static_cast<int>(apart.size());
    if (apart.empty()) return;
    // Behind pushes, and of all pushes behind the later ones: the level falls.
    const auto behind = [&](size_t i) {
      return at_.place[i] >= 0 && lately(i, Falls::gas_way, [&](size_t k) { return pushed(k); });
    };
    double flying = 0, all_behind = 0;
    std::vector<double> so_far(n_);
    for (size_t i = 0; i < n_; ++i) {
      flying += at_.place[i] >= 0, all_behind += behind(i);
      so_far[i] = all_behind;
    }
    double late = 0, places = 0;
    for (size_t i : apart) {
      if (behind(i)) {
        ++out.pushed;
        // Five times as often at the end as on the whole, and never at the beginning.
        late += std::log(5 * std::pow(so_far[i] / all_behind, 4) + 0.05);
      }
      double chance = 0;
      bool is_again = false;
      for (size_t other : apart) {
        if (at_.lap[other] == at_.lap[i]) continue;
        chance += 2 * same_place;
        is_again |= std::abs(at_.place[other] - at_.place[i]) < same_place;
      }
      out.again += is_again;
      // As seldom as it is by chance that one of them lies so near; half of them do where the fuel is low.
      if (is_again) places += std::log(0.5 / std::min(chance, 0.5));
    }
    const double push = better(out.pushed, out.apart, 0.95, std::clamp(all_behind / flying, 0.05, 0.95));
    const bool supported = mixture > 4 || out.gas_before > 2 || places > 2,
               contradicted = mixture < -2 || out.gas_before < -2;
    if (!supported || contradicted) return;
    // That there are falls which no fit explains stands for a few nats, however deep they are: what they are
    // must be said by the rest.
    constexpr double there = 4;
    out.by_fuel = there + std::min(mixture, 6.0) + std::max(out.gas_before, out.gas) +
                  std::clamp(push + late, -10.0, 6.0) + std::min(places, 10.0);
  }

  const Instants& at_;
  std::span<const double> y_;
  size_t n_;
  std::vector<double> push_;
  double strong_ = 0;
  std::vector<size_t> falls_;  ///< instants at which they begin
};

}  // namespace

Falls falls_of(const Instants& at, const Found& found, std::span<const double> deviation, double mixture) {
  return Reader(at, found, deviation).run(mixture);
}

}  // namespace uadze::diagnosis
