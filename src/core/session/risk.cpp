#include "core/session/risk.h"

#include <fmt/format.h>
#include <tbb/parallel_for.h>

#include <algorithm>
#include <array>
#include <cmath>

#include "core/session/random.h"

namespace uadze::session {
namespace {

enum Stream : std::uint64_t { consumption, laps_scatter, lap_time, gauge, grip, others };

constexpr std::array names{"consumption", "lap to lap", "number of laps",
                           "gauge",       "grip",       "the model's ranges"};

/// One session as it might go: the parts of what is needed, m3.
struct Outcome {
  int laps = 0;
  std::array<double, 6> part{};  // by cause; the fixed rest is in `fixed`
  double fixed = 0.0;
  double need() const {
    double sum = fixed;
    for (double p : part) sum += p;
    return sum;
  }
  double back(double burnt_fixed) const {
    return fixed - burnt_fixed + part[gauge] + part[grip] + part[others];
  }
};

class Sampler {
 public:
  Sampler(const Session& s, const PlanInput& in, const starvation::ModelBand* band, const Draws& draws)
      : s_(s),
        in_(in),
        band_(band),
        draws_(draws),
        c_(s.consumption_per_lap.value_or(in.consumption_per_lap)) {
    const size_t streams = others + (band ? band->terms.size() : 0);
    for (size_t stream = 0; stream < streams; ++stream)
      normals_.push_back(normal_draws(draws.seed, stream, static_cast<size_t>(draws.count)));
  }

  /// `laps`: of the stint; nothing: as the session gives them.
  Outcome draw(int index, std::optional<int> laps, const StintPlace& place) const {
    const auto z = [&](std::uint64_t stream) {
      return (*normals_[static_cast<size_t>(stream)])[static_cast<size_t>(index)];
    };
    Outcome out;
    const int stints = s_.refuel_stops + 1;
    const auto stint_of = [&](double time) { return (laps_of(s_, time) + stints - 1) / stints; };
    const int usual = laps.value_or(stint_of(in_.lap_time));
    out.laps = usual;
    if (!laps && !s_.laps)
      out.laps = stint_of(in_.lap_time * std::max(1 + s_.scatter.lap_time * z(lap_time), 0.5));
    const double worth = laps_worth(s_, out.laps, place), usual_worth = laps_worth(s_, usual, place);
    out.fixed = in_.least_end + s_.sample + usual_worth * c_;
    out.part[lap_time] = (worth - usual_worth) * c_;
    out.part[consumption] = worth * c_ * s_.scatter.consumption * z(consumption);
    out.part[laps_scatter] =
        std::sqrt(std::max(worth, 0.0)) * c_ * s_.scatter.lap_consumption * z(laps_scatter);
    out.part[gauge] = s_.gauge_error / 2 * z(gauge);
    if (band_) {
      // Ends of the ranges stand for two standard deviations; the grip's range is 5 %.
      thread_local std::vector<double> only, rest;
      only.assign(band_->terms.size(), 0.0), rest.assign(band_->terms.size(), 0.0);
      for (size_t k = 0; k < band_->terms.size(); ++k)
        if (band_->terms[k].name == "grip")
          only[k] = z(grip) * s_.scatter.grip / (band_->terms[k].high_factor - 1);
        else
          rest[k] = z(others + k) / 2;
      out.part[grip] = band_->level(only) - band_->nominal;
      out.part[others] = band_->level(rest) - band_->nominal;
    }
    return out;
  }
  double burnt_fixed(const Outcome& o) const { return o.fixed - in_.least_end - s_.sample; }

  std::vector<Outcome> all(std::optional<int> laps, const StintPlace& place) const {
    std::vector<Outcome> out(static_cast<size_t>(draws_.count));
    tbb::parallel_for(size_t{0}, out.size(),
                      [&](size_t i) { out[i] = draw(static_cast<int>(i), laps, place); });
    return out;
  }

 private:
  const Session& s_;
  const PlanInput& in_;
  const starvation::ModelBand* band_;
  Draws draws_;
  double c_;
  std::vector<std::shared_ptr<const std::vector<double>>> normals_;  // of each stream
};

/// The value that at most `risk` of the values exceed.
double upper_quantile(std::vector<double> values, double risk) {
  if (values.empty()) return 0.0;
  const double n = static_cast<double>(values.size());
  const auto k = static_cast<size_t>(std::clamp(std::ceil((1 - risk) * n) - 1, 0.0, n - 1));
  std::nth_element(values.begin(), values.begin() + static_cast<std::ptrdiff_t>(k), values.end());
  return values[k];
}

std::vector<double> needs(const std::vector<Outcome>& all) {
  std::vector<double> out;
  for (const Outcome& o : all) out.push_back(o.need());
  return out;
}

}  // namespace

RiskPlan plan_at_risk(const Session& s, const PlanInput& in, const starvation::ModelBand* band,
                      const Draws& draws) {
  RiskPlan plan{.risk = s.risk, .draws = draws.count, .seed = draws.seed};
  plan.with_band = band != nullptr;
  const Sampler sampler(s, in, band, draws);
  const std::vector<Outcome> all = sampler.all({}, first_stint(s));
  const std::vector<double> need = needs(all);
  std::vector<double> back;
  plan.least_laps = all.front().laps;
  for (const Outcome& o : all) {
    back.push_back(std::max(o.back(sampler.burnt_fixed(o)), 0.0));
    plan.least_laps = std::min(plan.least_laps, o.laps);
    plan.most_laps = std::max(plan.most_laps, o.laps);
  }
  plan.start = upper_quantile(need, s.risk);
  plan.bring_back = upper_quantile(back, s.risk);
  const double n = static_cast<double>(need.size());
  for (double v : need) plan.start_mean += v / n;
  plan.margin = plan.start - plan.start_mean;
  plan.fits = plan.start <= in.usable_volume * (1 + 1e-12);
  // Sums in order, so that threads do not matter.
  double variance = 0;
  for (double v : need) variance += (v - plan.start_mean) * (v - plan.start_mean) / n;
  for (size_t k = 0; k < names.size(); ++k) {
    double mean = 0, own = 0, with = 0;
    for (const Outcome& o : all) mean += o.part[k] / n;
    for (size_t i = 0; i < all.size(); ++i) {
      const double d = all[i].part[k] - mean;
      own += d * d / n;
      with += d * (need[i] - plan.start_mean) / n;
    }
    if (own <= 0) continue;
    const double share = variance > 0 ? with / variance : 0.0;
    plan.causes.push_back({names[k], std::sqrt(own), share, share * plan.margin});
  }
  std::sort(plan.causes.begin(), plan.causes.end(),
            [](const Cause& a, const Cause& b) { return a.share > b.share; });
  // Standard error of a quantile from the order statistics a standard deviation to either side.
  const double step = std::sqrt(s.risk * (1 - s.risk) / n);
  plan.start_error = (upper_quantile(need, std::max(s.risk - step, 0.0)) -
                      upper_quantile(need, std::min(s.risk + step, 1.0))) /
                     2;
  return plan;
}

double risk_of(const Session& s, const PlanInput& in, const starvation::ModelBand* band, const Draws& draws,
               int laps, const StintPlace& place, double start) {
  const std::vector<Outcome> all = Sampler(s, in, band, draws).all(laps, place);
  const auto more = std::count_if(all.begin(), all.end(), [&](const Outcome& o) { return o.need() > start; });
  return static_cast<double>(more) / static_cast<double>(all.size());
}

std::vector<StintPlan> stint_plans(const Session& s, const PlanInput& in, const starvation::ModelBand* band,
                                   const Draws& draws) {
  std::vector<StintPlan> out;
  const int stints = s.refuel_stops + 1, laps = laps_of(s, in.lap_time);
  const Sampler sampler(s, in, band, draws);
  const double c = s.consumption_per_lap.value_or(in.consumption_per_lap);
  std::vector<double> back;
  for (const Outcome& o : sampler.all(1, {})) back.push_back(o.back(sampler.burnt_fixed(o)));
  const double left = upper_quantile(back, s.risk);
  int given = 0;
  StintPlace before;
  for (int k = 0; k < stints; ++k) {
    StintPlan now;
    const StintPlace place{k == 0, k == stints - 1};
    // The longer stints first.
    now.laps = (laps - given + stints - k - 1) / (stints - k);
    given += now.laps;
    if (!out.empty() && out.back().laps == now.laps && before == place) {
      now = out.back();
    } else {
      const auto need_of = [&](int n) { return upper_quantile(needs(sampler.all(n, place)), s.risk); };
      now.need = need_of(now.laps);
      const double next = need_of(now.laps + 1);
      // Filled to the limit: the laps that its room is worth, put right by trying.
      int latest =
          now.laps +
          (c > 0 ? static_cast<int>((in.usable_volume - now.need) / (c * (1 + 2 * s.scatter.consumption)))
                 : 0);
      latest = std::max(latest, 0);
      while (latest > 0 && need_of(latest) > in.usable_volume) --latest;
      while (latest < 10000 && c > 0 && need_of(latest + 1) <= in.usable_volume) ++latest;
      now.latest_lap = latest;
      now.one_more = std::max(next - now.need, 0.0);
      now.one_more_risk = risk_of(s, in, band, draws, now.laps + 1, place, now.need);
    }
    // What is left over is what has to be brought back; the rest is put in.
    now.add = k == 0 ? now.need : std::max(now.need - left, 0.0);
    out.push_back(now);
    before = place;
    if (c <= 0) break;
  }
  return out;
}

Readings readings(const tank::TankParts& parts, const tank::Tank& tank, double volume) {
  Readings out;
  if (tank.volume() <= 0) return out;
  const tank::Plane surface = standing_surface(tank, std::clamp(volume, 0.0, tank.volume()));
  if (parts.sender) out.gauge = sender_reading(*parts.sender, surface);
  out.place = tank::deepest_place(tank);
  out.dip = dip_depth(tank, out.place, surface);
  if (const auto dip = tank::filled_dip(parts, volume)) out.dip = dip;
  if (const auto gauge = tank::filled_gauge(parts, volume)) out.gauge = gauge;
  return out;
}

RuleCheck check_rule(double rule, const Session& s, const PlanInput& in, double start) {
  RuleCheck out;
  out.share = rule;
  const double level = rule * in.tank_volume;
  const int stints = s.refuel_stops + 1;
  const int laps = (laps_of(s, in.lap_time) + stints - 1) / stints;
  out.start =
      level + laps_worth(s, laps, first_stint(s)) * s.consumption_per_lap.value_or(in.consumption_per_lap);
  out.saved = (out.start - start) * in.density;
  out.starves = level < in.least_end;
  return out;
}

Derivation risk_working(const RiskPlan& plan, const PlanInput& in, const Plan& sum) {
  Derivation d{.name = "Least start fuel at the stated risk",
               .value = plan.start,
               .quantity = Quantity::volume,
               .formula =
                   "V = least volume that at most the share r of the draws of (V_end + n c + V_sample + "
                   "V_gauge) exceed",
               .inputs = {{"r", "accepted risk", plan.risk, Quantity::fraction, "entered"},
                          {"draws", fmt::format("with the seed {}", plan.seed),
                           static_cast<double>(plan.draws), Quantity::count, "setting"},
                          {"mean", "of what is needed", plan.start_mean, Quantity::volume, "computed"},
                          {"margin", "over the mean", plan.margin, Quantity::volume, "computed"},
                          {"error", "standard error from the number of draws", plan.start_error,
                           Quantity::volume, "order statistics"}},
               .source = "Monte Carlo (Metropolis and Ulam 1949), random numbers by place (SplitMix64)",
               .note = plan.with_band
                           ? "Fuel in the main tank; surge tank and lines are full besides."
                           : "The model's own band is not in it yet: the clean level is taken as certain."};
  for (const Cause& c : plan.causes)
    d.inputs.push_back({fmt::format("{:.0f} %", std::max(0.0, c.share) * 100), "of the margin by " + c.name,
                        c.margin, Quantity::volume, "covariance with the whole"});
  d.steps.push_back(sum.start_working);
  if (plan.draws < plan.least_draws())
    d.note += fmt::format(" Too few draws for this risk: it asks for {} or more.", plan.least_draws());
  if (!plan.fits) d.note += {" More than may be filled: {}.", {{in.usable_volume, Quantity::volume}}};
  return d;
}

}  // namespace uadze::session
