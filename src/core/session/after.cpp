#include "core/session/after.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

namespace uadze::session {

Normal updated(const Normal& before, std::span<const double> measured, double one, double four) {
  if (measured.empty()) return before;
  const double n = static_cast<double>(measured.size());
  double mean = 0;
  for (double x : measured) mean += x / n;
  double spread = four * before.deviation * before.deviation;
  for (double x : measured) spread += (x - mean) * (x - mean);
  spread += one * n / (one + n) * (mean - before.mean) * (mean - before.mean);
  return {(one * before.mean + n * mean) / (one + n), std::sqrt(spread / (four + n))};
}

Faults record_faults(const Record& r) {
  Faults out;
  if (r.session.empty())
    add_fault(out, Severity::error, place_of(r.session), "the name of the session that was driven", "none");
  if (!(r.put_in > r.drained))
    add_fault(out, Severity::error, place_of(r.drained), "less than was put in",
              fmt::format("{:g} L of {:g} L", r.drained * 1e3, r.put_in * 1e3));
  return out;
}

std::optional<Learnt> learnt(const Session& s, const std::vector<Session>& all,
                             const std::vector<Record>& records, double consumption, double lap_time) {
  Learnt out{.kind = s.kind};
  for (const Record& r : records) {
    const auto driven =
        std::find_if(all.begin(), all.end(), [&](const Session& x) { return x.name == r.session; });
    if (driven == all.end() || driven->kind != s.kind || driven->lap != s.lap) continue;
    const int stints = driven->refuel_stops + 1;
    const int laps = r.laps > 0 ? r.laps : (laps_of(*driven, lap_time) + stints - 1) / stints;
    const double worth = laps_worth(*driven, laps, first_stint(*driven)), burnt = r.put_in - r.drained;
    if (!(worth > 0)) continue;
    out.per_lap.push_back(burnt / worth);
    if (r.counted) out.reads_over.push_back(burnt - *r.counted);
  }
  if (out.per_lap.empty()) return std::nullopt;
  const double entered = s.consumption_per_lap.value_or(consumption);
  out.before = {entered, s.scatter.consumption * entered};
  out.consumption = updated(out.before, out.per_lap);
  // The gauge's error stands for two deviations about nothing.
  out.count_before = {0.0, s.gauge_error / 2};
  out.count = updated(out.count_before, out.reads_over);
  out.gauge_error = std::max(out.count.mean, 0.0) + 2 * out.count.deviation;
  out.working = {
      .name = "Consumption of a flying lap, as driven",
      .value = out.consumption.mean,
      .quantity = Quantity::volume,
      .formula =
          "c = (c_0 + sum c_k) / (1 + n); s^2 = (4 s_0^2 + sum (c_k - mean)^2 + n/(1 + n) (mean - c_0)^2) / "
          "(4 + n)",
      .inputs = {{"c_0", "before", out.before.mean, Quantity::volume,
                  s.consumption_per_lap ? "entered" : "the lap's fuel flow"},
                 {"s_0", "its scatter before, a session's", out.before.deviation, Quantity::volume,
                  "entered"},
                 {"n", std::string("sessions of this kind: ") + name_of(s.kind),
                  static_cast<double>(out.per_lap.size()), Quantity::count, "records"},
                 {"s", "its scatter now", out.consumption.deviation, Quantity::volume, "computed"}},
      .source = "normal, mean and scatter unknown: conjugate update (Gelman et al. 2013, section 3.3)",
      .note = "What was entered weighs as one session for the mean and four for the scatter."};
  for (double c : out.per_lap)
    out.working.inputs.push_back(
        {"c_k", "put in less drained, over the laps' worth", c, Quantity::volume, "record"});
  if (!out.reads_over.empty())
    out.working.steps.push_back(
        {.name = "Gauge error, as counted",
         .value = out.gauge_error,
         .quantity = Quantity::volume,
         .formula = "e = max(mean, 0) + 2 s, the same update of burnt - counted about 0",
         .inputs = {{"mean", "that the car reads too much", out.count.mean, Quantity::volume, "computed"},
                    {"s", "its scatter", out.count.deviation, Quantity::volume, "computed"},
                    {"n", "sessions counted", static_cast<double>(out.reads_over.size()), Quantity::count,
                     "records"}},
         .source = "as above"});
  return out;
}

Session with_learnt(Session s, const Learnt& l) {
  s.consumption_per_lap = l.consumption.mean;
  s.scatter.consumption = l.scatter();
  if (!l.reads_over.empty()) s.gauge_error = l.gauge_error;
  return s;
}

}  // namespace uadze::session
