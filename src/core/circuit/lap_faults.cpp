#include "core/circuit/lap_faults.h"

#include "core/circuit/charging.h"
#include "core/circuit/shortfall.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <limits>

namespace uadze::circuit {
namespace {

enum class Wrong { lean, rich, open };

struct Stretch {
  Wrong what = Wrong::lean;
  double start = 0.0, end = 0.0;
  size_t first = 0, worst = 0, last = 0;  // points
};

class Seeker {
 public:
  Seeker(const Case& c, const LoadRun& run, const LeanLimit& limit) : c_(c), run_(run), limit_(limit) {}

  std::vector<LapFault> seek() {
    if (run_.points.size() < 2) return {};
    const EngineSupply supply = c_.circuit.engine_supply;
    // A needle's bowl and a high-pressure pump do not meter by this pressure.
    const bool metered = supply == EngineSupply::returned || supply == EngineSupply::returnless;
    if (supply != EngineSupply::carburettor) stretches(Wrong::lean);
    if (metered) stretches(Wrong::rich), stretches(Wrong::open);
    for (const Stretch& s : found_) add(s);
    for (LapFault& f : out_) f.text = words(f);
    lift();
    battery();
    std::stable_sort(out_.begin(), out_.end(), [](const LapFault& a, const LapFault& b) {
      return std::pair(a.severity, std::abs(a.leaner())) > std::pair(b.severity, std::abs(b.leaner()));
    });
    return std::move(out_);
  }

 private:
  bool pressure_holds(const LoadPoint& p) const { return p.difference >= p.set * limit_.share(); }

  /// Over what it may be (or under), of the pressure set or of the time: above zero is wrong.
  double wrong(const LoadPoint& p, Wrong what) const {
    const double set = std::max(p.set, 1.0);
    if (what == Wrong::rich) return (p.difference - limit_.most(p.set)) / set;
    if (what == Wrong::lean) return (limit_.least(p.set, p.difference, p.duty) - p.difference) / set;
    if (!pressure_holds(p)) return -1.0;
    const double lacks = p.duty >= 1 - 1e-6 ? std::min(p.short_by, 1e3) : 0.0;
    return p.duty + lacks - c_.circuit.rail.duty_limit;
  }

  void stretches(Wrong what) {
    const auto& points = run_.points;
    std::optional<Stretch> open;
    const auto crossing = [&](size_t i) {
      const double a = wrong(points[i - 1], what), b = wrong(points[i], what);
      const double u = a != b ? std::clamp(a / (a - b), 0.0, 1.0) : 0.0;
      return std::lerp(points[i - 1].time, points[i].time, u);
    };
    const auto close = [&](double end) {
      open->end = end;
      if (end - open->start > limit_.time) found_.push_back(*open);
      open.reset();
    };
    for (size_t i = 0; i < points.size(); ++i) {
      const double over = wrong(points[i], what);
      if (over > 0) {
        if (!open) open = Stretch{what, i > 0 ? crossing(i) : points[i].time, 0.0, i, i, i};
        open->last = i;
        if (over > wrong(points[open->worst], what)) open->worst = i;
      } else if (open) {
        close(crossing(i));
      }
    }
    if (open) close(points.back().time);
  }

  std::pair<LapFaultKind, int> cause(const Stretch& s) const {
    const LoadPoint& worst = run_.points[s.worst];
    if (s.what == Wrong::rich)
      return {worst.overwhelmed ? LapFaultKind::overwhelmed : LapFaultKind::too_high, -1};
    if (s.what == Wrong::open) return {LapFaultKind::injectors, -1};
    // First: where the fuel boils, pumps are switched on all the time and come late besides.
    if (worst.inlet_margin < 0) return {LapFaultKind::boiling, -1};
    for (size_t i = s.first; i <= s.last; ++i)
      if (run_.points[i].spinning >= 0) return {LapFaultKind::spin_up, run_.points[i].spinning};
    const auto& mains = c_.circuit.mains;
    for (size_t k = 0; k < mains.size(); ++k)
      if (!(worst.on >> k & 1u) && !c_.at.is_main_dead(k))
        return {LapFaultKind::staged_off, static_cast<int>(k)};
    return {LapFaultKind::at_its_end, -1};
  }

  void add(const Stretch& s) {
    const LoadPoint& p = run_.points[s.worst];
    // Lean at full pressure under a controller that corrects: told of the injectors.
    if (s.what == Wrong::lean && limit_.corrected && pressure_holds(p) && p.difference >= limit_.least_rail)
      return;
    const auto [kind, main] = cause(s);
    auto known = std::find_if(out_.begin(), out_.end(),
                              [&](const LapFault& f) { return f.kind == kind && f.main == main; });
    const bool only_warned = s.what == Wrong::rich || (s.what == Wrong::open && !(p.short_by > limit_.lean));
    const Severity severity = only_warned ? Severity::warning : Severity::error;
    if (known == out_.end())
      known = out_.insert(out_.end(), LapFault{.kind = kind, .main = main, .severity = severity});
    known->severity = std::max(known->severity, severity);
    const double seconds = s.end - s.start;
    ++known->count;
    known->total += seconds;
    known->longest = std::max(known->longest, seconds);
    const LapFault now{
        .kind = kind, .difference = p.difference, .set = p.set, .open = p.duty, .short_by = p.short_by};
    const auto as_bad = [](const LapFault& f) { return std::pair(std::abs(f.leaner()), f.open); };
    if (known->count > 1 && as_bad(now) <= as_bad(*known)) return;
    known->open = now.open, known->short_by = now.short_by;
    known->start = s.start, known->end = s.end;
    known->difference = p.difference, known->set = p.set, known->demand = p.demand;
  }

  std::string name_of_main(int k) const {
    const auto& mains = c_.circuit.mains;
    const std::string& name = mains[static_cast<size_t>(k)].name;
    return name.empty() ? fmt::format("main pump {}", k + 1) : "\"" + name + "\"";
  }

  Phrase words(const LapFault& f) const {
    const std::string times = f.count > 1 ? fmt::format(", {} times a lap", f.count) : "";
    const bool lights = f.leaner() <= most_lean;
    const std::string lean = limit_.corrected ? ""
                             : lights         ? ": the mixture {} leaner than set"
                                              : ": no mixture that lights";
    Phrase out;
    out.values = {{f.difference, Quantity::pressure}, {f.set, Quantity::pressure}};
    if (lights && !limit_.corrected) out.values.emplace_back(f.leaner(), Quantity::fraction);
    out.values.emplace_back(f.longest, Quantity::duration);
    const std::string stands = "{} of {} across the injectors" + lean + " for up to {}" + times;
    switch (f.kind) {
      case LapFaultKind::spin_up:
        out.text = name_of_main(f.main) + " comes late when it is switched on: " + stands +
                   ". Switch it on earlier, keep it turning slowly, or run all main pumps all the time.";
        break;
      case LapFaultKind::staged_off:
        out.text = name_of_main(f.main) + " stands still while the others do not suffice: " + stands +
                   ". Let it switch on earlier.";
        break;
      case LapFaultKind::boiling:
        out.text = "The fuel boils at a main pump's inlet: " + stands +
                   ". Cooler fuel, a wider and shorter suction line, or the pump below the fuel.";
        break;
      case LapFaultKind::at_its_end:
        out.text =
            "The main pumps give no more: " + stands + ". The Circuit station says which part costs most.";
        break;
      case LapFaultKind::injectors: {
        const bool lacks = f.short_by > limit_.lean;
        out.text = "The injectors are too small: open {} of the time, where {} is their limit" +
                   std::string(!lacks   ? ""
                               : lights ? ": the mixture {} leaner than set"
                                        : lean) +
                   ", for up to {}" + times + ". Larger ones, or a higher base pressure.";
        out.values = {{std::min(f.open, 1.0), Quantity::fraction},
                      {c_.circuit.rail.duty_limit, Quantity::fraction}};
        if (lacks && lights) out.values.emplace_back(f.short_by, Quantity::fraction);
        out.values.emplace_back(f.longest, Quantity::duration);
        break;
      }
      case LapFaultKind::overwhelmed:
      case LapFaultKind::too_high: {
        const double share = f.total / std::max(run_.points.back().time - run_.points.front().time, 1e-9);
        out.text = "{} across the injectors where {} are set, and too high for {} of the lap: " +
                   std::string(f.kind == LapFaultKind::overwhelmed
                                   ? "the return can not take what comes back. A wider return line, smaller "
                                     "or staged pumps."
                                   : "see the regulator and its reference at the Circuit station.");
        out.values = {
            {f.difference, Quantity::pressure}, {f.set, Quantity::pressure}, {share, Quantity::fraction}};
        break;
      }
      case LapFaultKind::lift_short:
      case LapFaultKind::discharging:
        break;
    }
    return out;
  }

  void lift() {
    if (!c_.surroundings.surge) return;
    double lifted = 0, drawn = 0, span = 0;
    const auto draws = [&](const LoadPoint& p) {
      return c_.surroundings.return_to == ReturnTo::surge_tank ? p.demand : p.delivered;
    };
    for (size_t i = 1; i < run_.points.size(); ++i) {
      const LoadPoint &a = run_.points[i - 1], &b = run_.points[i];
      const double dt = b.time - a.time;
      lifted += (a.lift + b.lift) / 2 * dt;
      drawn += (draws(a) + draws(b)) / 2 * dt;
      span += dt;
    }
    if (!(span > 0) || lifted >= drawn * (1 - 1e-3)) return;
    const double lasts = c_.surroundings.surge_volume / ((drawn - lifted) / span);
    LapFault f{.kind = LapFaultKind::lift_short, .count = 1, .total = span, .longest = span};
    f.start = run_.points.front().time, f.end = run_.points.back().time;
    f.demand = drawn / span;
    f.text = {
        "The lift pumps bring {} and {} are drawn on the mean, whatever is in the tank: the surge tank, "
        "full at the start, lasts {}. More lift, or less that circulates.",
        {{lifted / span, Quantity::flow}, {drawn / span, Quantity::flow}, {lasts, Quantity::duration}}};
    out_.push_back(std::move(f));
  }

  /// Of a car with an alternator: one without is built to live from its battery.
  void battery() {
    const Circuit& k = c_.circuit;
    if (k.charging.alternator.empty() || !has_battery(k) || run_.points.front().rotation <= 0) return;
    const ChargeBalance now = charge_balance(c_, run_);
    if (now.drain <= 0.1) return;
    LapFault f{.kind = LapFaultKind::discharging, .severity = Severity::warning, .count = 1};
    f.start = run_.points.front().time, f.end = run_.points.back().time;
    f.total = f.longest = f.end - f.start;
    f.text = {
        "The car takes {} on the mean, the alternator can give {} by its speed: the battery loses {} and "
        "lasts "
        "{}; the pumps slow down with it. A larger alternator, a faster pulley, or fewer loads.",
        {{now.load, Quantity::current},
         {now.output, Quantity::current},
         {now.drain, Quantity::current},
         {k.charging.battery / now.drain, Quantity::duration}}};
    if (c_.at.charge < 1) {
      f.text.text += " This lap is the session's last: {} of its charge are left.";
      f.text.values.emplace_back(c_.at.charge, Quantity::fraction);
    }
    out_.push_back(std::move(f));
  }

  const Case& c_;
  const LoadRun& run_;
  const LeanLimit& limit_;
  std::vector<Stretch> found_;
  std::vector<LapFault> out_;
};

}  // namespace

double LeanLimit::least(double set, double now, double duty) const {
  if (!corrected) return set * share();
  return std::max(now > 0 ? now * duty * duty * share() : 0.0, least_rail);
}

double LapFault::leaner() const {
  if (kind == LapFaultKind::injectors) return short_by;
  if (!(set > 0)) return 0.0;
  return difference > 0 ? std::sqrt(set / difference) - 1 : std::numeric_limits<double>::infinity();
}

std::vector<LapFault> lap_faults(const Case& c, const LoadRun& run, const LeanLimit& limit) {
  return Seeker(c, run, limit).seek();
}

}  // namespace uadze::circuit
