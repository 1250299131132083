#include "core/diagnosis/cause.h"

#include <fmt/format.h>

#include <Eigen/LU>
#include <algorithm>
#include <cmath>
#include <map>

#include "core/diagnosis/falls.h"
#include "core/diagnosis/ways.h"

namespace uadze::diagnosis {
namespace {

constexpr double independent = 0.5;    ///< s between instants that know nothing of each other
constexpr double floor_noise = 0.008;  ///< of the usual difference: no log is better than that
constexpr double least_amount = 0.03;  ///< of the usual difference, at the greatest: less is no fault

struct Fit {
  double amplitude = 0, rss = 0, base = 0;
};

class Judge {
 public:
  Judge(const Instants& at, const Found& found) : at_(at), found_(found), n_(at.size()) {}

  Diagnosis run(const log::Log& log) {
    Diagnosis out;
    out.enough = n_ >= 100;
    if (!out.enough) {
      out.answer = "There is not enough in the log to say.";
      return out;
    }
    // Held against what it mostly is: a setting that is off is told by the events.
    middle_ = median(at_.deviation);
    for (double d : at_.deviation) y_.push_back(d - middle_);
    // Where two sensors of different haste see a leap, they are believed less: three times the error.
    double counted = 0;
    for (size_t i = 0; i < n_; ++i) {
      w_.push_back(at_.transient[i] ? 1.0 / 9 : 1.0);
      counted += w_.back(), rss_none_ += w_.back() * y_[i] * y_[i];
    }
    counted_ = counted;
    ways_ = ways_of(at_, found_.usual, y_);

    // The best way of each cause.
    std::map<Cause, std::pair<Fit, const Way*>> best;
    for (const Way& f : ways_) {
      const Fit fit = fitted(f);
      const auto known = best.find(f.cause);
      if (known == best.end() || fit.rss < known->second.first.rss) best[f.cause] = {fit, &f};
    }
    double least = rss_none_;
    for (const auto& [cause, b] : best) least = std::min(least, b.first.rss);
    variance_ = std::max(least / counted_, floor_noise * floor_noise);
    const double weight = at_.step / independent / (2 * variance_);

    const double mixture = mixture_evidence();
    falls_ = falls_of(at_, found_, y_, mixture);
    const double gas = falls_.gas;
    std::map<Cause, double> score{{Cause::none, 0.0}};
    const double penalty = 0.5 * std::log(static_cast<double>(n_) * at_.step / independent);
    for (const auto& [cause, b] : best) {
      const auto& [fit, way] = b;
      const double greatest = std::abs(fit.amplitude) * *std::max_element(way->x.begin(), way->x.end());
      if (greatest < least_amount) continue;
      // Chosen among many ways: as many nats as their number's logarithm.
      const auto tried =
          std::count_if(ways_.begin(), ways_.end(), [&](const Way& f) { return f.cause == cause; });
      score[cause] = weight * (rss_none_ - fit.rss) - penalty * (1 + way->fitted) -
                     std::log(static_cast<double>(tried)) - 3 +
                     (way->sign < 0 ? std::max(mixture, -40.0) : 0.0);
    }
    // Dips that nothing but their shortness tells of: bursts of gas.
    const double deepest = -*std::min_element(y_.begin(), y_.end());
    if (deepest > least_amount && at_.dips >= 5) {
      const double share = at_.short_dips * short_share();
      const double gain = weight * share * rss_none_ - 3 * penalty - 3 + (shaken() > 0.15 ? 6.0 : -6.0);
      if (share > 0.3)
        score[Cause::aeration] =
            std::max(gain, score.contains(Cause::aeration) ? score[Cause::aeration] : -1e9);
    }
    // A reading alone can do anything; it is known by what does not follow it.
    if (deepest > least_amount && at_.dips > 0 && mixture < -4)
      score[Cause::sensor] = weight * 0.7 * rss_none_ - 4 * penalty - mixture;
    // A pump that does not run light speaks against gas, but it may be another pump's current.
    for (Cause cause : {Cause::slosh, Cause::aeration})
      if (score.contains(cause)) score[cause] += std::max(gas, cause == Cause::slosh ? -8.0 : 0.0);
    // Falls too few and too short to be weighed against the noise of all instants: each for itself.
    if (falls_.by_fuel) {
      const double alone = *falls_.by_fuel - penalty;
      const auto known = score.find(Cause::slosh);
      if (known == score.end())
        score[Cause::slosh] = alone;
      else
        known->second = std::max(known->second, alone);
    }
    if (at_.fall_time && *at_.fall_time < 45)
      score[Cause::check_valve] =
          std::min(60.0, std::pow(std::log(70 / *at_.fall_time) / 0.22, 2) / 2) - penalty;

    double highest = -1e300, sum = 0;
    for (const auto& [cause, s] : score) highest = std::max(highest, s);
    // Models are not the car: what they say is believed a quarter as surely as it is counted.
    for (const auto& [cause, s] : score) sum += std::exp((s - highest) / 4);
    for (const auto& [cause, s] : score) {
      Suspect suspect{.cause = cause, .probability = std::exp((s - highest) / 4) / sum};
      if (const auto b = best.find(cause); b != best.end() && cause != Cause::sensor)
        tell(suspect, b->second.first, *b->second.second, log);
      more_evidence(suspect, mixture, gas);
      if (suspect.probability > 0.01) draw(suspect, best);
      out.causes.push_back(std::move(suspect));
    }
    std::stable_sort(out.causes.begin(), out.causes.end(),
                     [](const Suspect& a, const Suspect& b) { return a.probability > b.probability; });
    second_cause(out, best, weight, penalty);
    conclude(out);
    out.deviation.assign(log.size(), std::numeric_limits<double>::quiet_NaN());
    for (size_t i = 0; i < found_.difference.size(); ++i)
      if (found_.usual > 0) out.deviation[i] = found_.difference[i] / found_.usual - 1;
    return out;
  }

 private:
  static double median(std::vector<double> v) {
    const auto at = v.begin() + static_cast<std::ptrdiff_t>(v.size() / 2);
    std::nth_element(v.begin(), at, v.end());
    return *at;
  }

  /// Least squares with an own mean, the amplitude of the sign that the cause can have.
  Fit fitted(const Way& f) const {
    double mx = 0, my = 0, xx = 0, xy = 0;
    for (size_t i = 0; i < n_; ++i) mx += w_[i] * f.x[i] / counted_, my += w_[i] * y_[i] / counted_;
    for (size_t i = 0; i < n_; ++i)
      xx += w_[i] * (f.x[i] - mx) * (f.x[i] - mx), xy += w_[i] * (f.x[i] - mx) * (y_[i] - my);
    Fit out{0, rss_none_};
    if (xx < 1e-12) return out;
    const double a = f.sign * std::min(f.sign * xy / xx, f.most);
    if (a * f.sign <= 0) return out;
    out.amplitude = a;
    // What is mostly there is taken for the usual, so a fault that mostly acts has moved it, to its own side
    // and by no more than itself.
    out.rss = 0;
    const auto [low, high] = std::minmax_element(f.x.begin(), f.x.end());
    const double most = a * (*high - *low);
    const double base =
        std::clamp(my - a * (mx - *low), -0.02 - std::max(most, 0.0), 0.02 - std::min(most, 0.0));
    for (size_t i = 0; i < n_; ++i) out.rss += w_[i] * std::pow(y_[i] - base - a * (f.x[i] - *low), 2);
    out.base = base - a * *low;
    out.rss = std::min(out.rss, rss_none_);
    return out;
  }

  /// ln of how much better the mixture is explained by dips that are real than by a reading that lies; 0
  /// where the log has no lambda or no dips. What the mixture usually is, at each throttle, is asked under
  /// each of the two: a loss that grows slowly moves it.
  double mixture_evidence() const {
    if (at_.lean.empty()) return 0;
    constexpr double scatter = 0.012;
    const auto bin = [&](size_t i) {
      return static_cast<size_t>(std::clamp(10 * at_.throttle[i], 0.0, 10.0));
    };
    double best = -1e300;
    // The sensor sits behind the engine and takes its time; how long is not known.
    for (double late : {0.05, 0.15, 0.3, 0.6}) {
      std::vector<double> there(n_);
      std::vector<std::vector<double>> if_real(11), if_not(11);
      double held = 0;
      for (size_t i = 0; i < n_; ++i) {
        const double real = 1 / std::sqrt(std::clamp(1 + at_.deviation[i], 0.1, 1.1)) - 1;
        if (i == 0 || at_.time[i] - at_.time[i - 1] > 1) held = real;
        held += (real - held) * (1 - std::exp(-at_.step / late));
        there[i] = held;
        if (std::isnan(at_.lean[i])) continue;
        if_real[bin(i)].push_back(at_.lean[i] - held), if_not[bin(i)].push_back(at_.lean[i]);
      }
      std::vector<double> usual_if_real(11), usual_if_not(11);
      for (size_t k = 0; k < 11; ++k)
        if (if_real[k].size() >= 10)
          usual_if_real[k] = median(std::move(if_real[k])), usual_if_not[k] = median(std::move(if_not[k]));
      double sum = 0;
      size_t n = 0;
      for (size_t i = 0; i < n_; ++i) {
        if (std::isnan(at_.lean[i]) || there[i] < 0.02) continue;
        const double lying = at_.lean[i] - usual_if_not[bin(i)],
                     real = at_.lean[i] - there[i] - usual_if_real[bin(i)];
        sum += std::clamp((lying * lying - real * real) / (2 * scatter * scatter), -6.0, 6.0);
        ++n;
      }
      if (n >= 5) best = std::max(best, sum);
    }
    return best < -1e299 ? 0.0 : std::clamp(best * at_.step / independent, -80.0, 80.0);
  }

  /// How many of the instants' squares lie in single instants.
  double short_share() const {
    double all = 0, single = 0;
    for (size_t i = 2; i + 2 < n_; ++i) {
      if (y_[i] > -0.02) continue;
      all += y_[i] * y_[i];
      if (at_.transient[i]) continue;
      if (y_[i - 2] > 0.4 * y_[i] && y_[i + 2] > 0.4 * y_[i]) single += y_[i] * y_[i];
    }
    return all > 0 ? single / all : 0.0;
  }

  /// How the dips go with the car's shaking, second by second.
  double shaken() const {
    std::vector<double> a, b;
    for (size_t i = 0; i + 20 <= n_; i += 20) {
      double dip = 0, shake = 0;
      for (size_t k = i; k < i + 20; ++k) dip += std::max(-y_[k] - 0.02, 0.0), shake += at_.shaking[k];
      a.push_back(dip), b.push_back(shake);
    }
    const double n = static_cast<double>(a.size());
    if (n < 10) return 0;
    double ma = 0, mb = 0, aa = 0, bb = 0, ab = 0;
    for (size_t i = 0; i < a.size(); ++i) ma += a[i] / n, mb += b[i] / n;
    for (size_t i = 0; i < a.size(); ++i)
      aa += (a[i] - ma) * (a[i] - ma), bb += (b[i] - mb) * (b[i] - mb), ab += (a[i] - ma) * (b[i] - mb);
    return aa > 0 && bb > 0 ? ab / std::sqrt(aa * bb) : 0.0;
  }

  void tell(Suspect& suspect, const Fit& fit, const Way& f, const log::Log& log) const {
    const double greatest = *std::max_element(f.x.begin(), f.x.end());
    suspect.explained = std::clamp(1 - fit.rss / std::max(rss_none_, 1e-300), 0.0, 1.0);
    suspect.amount = fit.amplitude * greatest;
    // Less is no fault, and what is said of it then rests on something else.
    if (std::abs(suspect.amount) < least_amount) return;
    suspect.evidence.push_back(
        fmt::format("The deviation goes with {}: {:+.0f} % of the usual difference at most, which explains "
                    "{:.0f} % of it.",
                    f.words, 100 * suspect.amount, 100 * suspect.explained));
    suspect.model.assign(log.size(), std::numeric_limits<double>::quiet_NaN());
    for (size_t i = 0; i < n_; ++i) {
      const size_t from = i == 0 || at_.time[i] - at_.time[i - 1] > 1 ? log.index_at(at_.time[i])
                                                                      : log.index_at(at_.time[i - 1]) + 1;
      for (size_t k = from; k <= log.index_at(at_.time[i]); ++k)
        suspect.model[k] = middle_ + fit.base + fit.amplitude * f.x[i];
    }
  }

  void draw(Suspect& s, const std::map<Cause, std::pair<Fit, const Way*>>& best) const {
    std::vector<double> model;
    if (const auto b = best.find(s.cause); b != best.end() && b->second.first.amplitude != 0)
      for (double x : b->second.second->x)
        model.push_back(middle_ + b->second.first.base + b->second.first.amplitude * x);
    s.picture = picture_of(s.cause, at_, model);
  }

  void more_evidence(Suspect& s, double mixture, double gas) const {
    const bool lowers = s.cause != Cause::none && s.cause != Cause::small_return &&
                        s.cause != Cause::reference_lost && s.cause != Cause::check_valve &&
                        s.cause != Cause::sensor;
    if (s.cause == Cause::sensor)
      s.evidence.push_back("The mixture does not follow the dips of the pressure.");
    if (lowers && mixture > 4)
      s.evidence.push_back("The mixture leans after the dips, as it would if they are real.");
    if (lowers && mixture < -4) s.against.push_back("The mixture does not follow the dips.");
    if (s.cause == Cause::aeration)
      s.evidence.push_back(fmt::format("{} dips, {:.0f} % of their square in dips of under 0.3 s.", at_.dips,
                                       100 * at_.short_dips));
    const bool gassy = s.cause == Cause::slosh || s.cause == Cause::aeration;
    if (gassy && gas > 2)
      s.evidence.push_back(
          fmt::format("The pump ran light within {:.0f} s before {} of {} falls of pressure: it drew gas.",
                      Falls::gas_way, falls_.light, falls_.all));
    if (lowers && !gassy && s.cause != Cause::vapour && gas > 4)
      s.against.push_back("The pump ran light before the pressure fell, as where it draws gas.");
    if (s.cause == Cause::slosh && falls_.pushed > 0)
      s.evidence.push_back(fmt::format(
          "Of {} falls of pressure that stand apart {} came behind a strong push of the car{}.", falls_.apart,
          falls_.pushed,
          falls_.again > 0 ? fmt::format(", and {} where another lap had one too", falls_.again) : ""));
    if (s.cause == Cause::check_valve)
      s.evidence.push_back(fmt::format(
          "With the engine stopped the pressure falls to a third within {:.0f} s.", *at_.fall_time));
    if (s.cause == Cause::none) {
      const double deepest = -*std::min_element(y_.begin(), y_.end());
      s.evidence.push_back(fmt::format("The pressure stays within {:.0f} % of the usual.", 100 * deepest));
    }
    const bool more_than_noise = rss_none_ > counted_ * floor_noise * floor_noise;
    if (lowers && s.explained < 0.3 && more_than_noise && s.cause != Cause::aeration)
      s.against.push_back(
          fmt::format("{:.0f} % of the deviation stays unexplained.", 100 * (1 - s.explained)));
    if (s.cause == Cause::capacity && !at_.flow_from.starts_with("fuel flow"))
      s.against.push_back("The flow is taken from " + at_.flow_from + ", not measured.");
  }

  /// A second cause beside the first, where both together explain far more.
  void second_cause(Diagnosis& out, const std::map<Cause, std::pair<Fit, const Way*>>& best, double weight,
                    double penalty) const {
    const auto first = best.find(out.causes.front().cause);
    if (first == best.end()) return;
    const Way& a = *first->second.second;
    double gain = 0;
    for (const auto& [cause, b] : best) {
      if (cause == first->first || b.first.amplitude == 0) continue;
      Eigen::Matrix3d m = Eigen::Matrix3d::Zero();
      Eigen::Vector3d v = Eigen::Vector3d::Zero();
      for (size_t i = 0; i < n_; ++i) {
        const Eigen::Vector3d x(1, a.x[i], b.second->x[i]);
        m += w_[i] * x * x.transpose(), v += w_[i] * x * y_[i];
      }
      const Eigen::Vector3d c = m.inverse() * v;
      if (!(c[1] * a.sign > 0 && c[2] * b.second->sign > 0)) continue;
      const double greatest = std::abs(c[2]) * *std::max_element(b.second->x.begin(), b.second->x.end());
      const double moved = std::abs(c[1]) * *std::max_element(a.x.begin(), a.x.end()) + greatest;
      if (greatest < 1.5 * least_amount || std::abs(c[0]) > 0.03 + moved) continue;
      double rss = 0;
      for (size_t i = 0; i < n_; ++i)
        rss += w_[i] * std::pow(y_[i] - c[0] - c[1] * a.x[i] - c[2] * b.second->x[i], 2);
      const double more = weight * (first->second.first.rss - rss) - penalty * (2 + b.second->fitted) - 10;
      if (more > gain && first->second.first.rss - rss > 0.3 * first->second.first.rss)
        gain = more, out.also = cause;
    }
  }

  void conclude(Diagnosis& out) const {
    const Suspect& first = out.causes.front();
    const double second = out.causes.size() > 1 ? out.causes[1].probability : 0.0;
    const double deepest = -*std::min_element(y_.begin(), y_.end());
    const bool dips = std::any_of(found_.events.begin(), found_.events.end(),
                                  [](const LoggedEvent& e) { return e.sign == Sign::pressure; });
    if (first.cause == Cause::none && dips)
      out.answer = fmt::format(
          "Not enough to say: the pressure falls by up to {:.0f} %, and no cause that was tried explains it.",
          100 * deepest);
    else if (first.cause == Cause::none)
      out.answer = "Nothing is wrong with the fuel pressure, as far as this log shows.";
    else if (first.probability < 0.5)
      out.answer =
          fmt::format("Not enough to say: {} ({}) or {} ({}).", name_of(first.cause),
                      sure_words(first.probability), name_of(out.causes[1].cause), sure_words(second));
    else
      out.answer = fmt::format("Most likely {} ({}){}.", name_of(first.cause), sure_words(first.probability),
                               out.also ? fmt::format(", and {} beside it", name_of(*out.also)) : "");
    if (first.cause != Cause::none && out.causes.size() > 1)
      out.next_test = test_between(first.cause, second > 0.05 ? out.causes[1].cause : first.cause);
  }

  /// The cheapest test that tells a cause from others, in the order of their trouble.
  static std::string test_between(Cause a, Cause b) {
    struct Test {
      Cause cause;
      const char* what;
    };
    static constexpr Test tests[] = {
        {Cause::vent, "Open the filler cap and drive two laps: a blocked vent no longer shows."},
        {Cause::sensor, "Read a second gauge on the rail beside the sensor while the engine runs."},
        {Cause::reference_lost, "Blow into the regulator's reference hose at idle: the rail must follow."},
        {Cause::check_valve, "Prime, stop the pump, and watch the gauge for a minute."},
        {Cause::small_return, "At idle, take the return into a can: the pressure must fall to its setting."},
        {Cause::wiring, "Measure the voltage at the pump's terminals at full flow, against the battery's."},
        {Cause::slosh,
         "Put in ten litres and drive the same laps: fuel away from the pickup no longer shows."},
        {Cause::filter, "Change the filter, or measure the loss over it at full flow."},
        {Cause::staged_late, "Switch the second pump on all the time for one lap."},
        {Cause::vapour, "Drive the first laps with cold fuel and compare."},
        {Cause::aeration,
         "Look at the return and the surge tank through clear hose with the engine running."},
        {Cause::capacity, "Measure the flow into a can at running pressure and voltage."}};
    for (const Test& t : tests)
      if (t.cause == a || t.cause == b)
        return std::string(t.what) + " Mind the fuel: ventilate, no sparks, an extinguisher manned.";
    return "";
  }

  const Instants& at_;
  const Found& found_;
  size_t n_;
  double middle_ = 0, rss_none_ = 0, variance_ = 1;
  double counted_ = 0;  // sum of the weights
  Falls falls_;
  std::vector<double> y_, w_;  // deviation over its middle; weight
  std::vector<Way> ways_;
};

}  // namespace

std::string sure_words(double probability) {
  return probability > 0.99 ? "over 99 %" : fmt::format("{:.0f} %", 100 * probability);
}

Diagnosis diagnose(const log::Log& log, const log::Laps& laps, const Found& found) {
  const Instants instants = instants_of(log, laps, found);
  return Judge(instants, found).run(log);
}

}  // namespace uadze::diagnosis
