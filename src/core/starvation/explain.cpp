// What led to a stretch under a limit, in a sentence.
#include <algorithm>
#include <cmath>

#include "core/starvation/level_run.h"

namespace uadze::starvation {
namespace {

class Explainer {
 public:
  Explainer(const FuelSystem& car, const Course& course, const LevelRun& run)
      : car_(car), course_(course), run_(run), lap_(*course.lap) {}

  Event event(const LeanStretch& stretch) const {
    const double start = std::max(stretch.start, lap_.time.front());
    Event e{.kind = stretch.kind,
            .start = start,
            .end = stretch.end,
            .missing = stretch.missing,
            .lowest = stretch.lowest};
    e.start_distance = lap_.distance_at(e.start);
    e.end_distance = lap_.distance_at(e.end);
    const size_t at = lap_.index_at(start);
    e.place = lap::place_at(course_.corners, lap_, e.start);
    e.phase = lap::driving_phase(course_.corners, lap_, at);
    const auto gas = gas_before(at, stretch);
    if (!gas) {
      e.cause = circuit_cause(at);
      return e;
    }
    const auto bare = bare_before(run_.coverage, course_, *gas);
    if (bare) e.side = bare_pickups(car_, run_.coverage, bare->worst);
    e.cause = gas_cause(*gas, bare);
    return e;
  }

 private:
  /// The sample at which most gas was drawn of what can be at the rail during the stretch (or at the pump,
  /// for a gas event); nothing if there was none.
  std::optional<size_t> gas_before(size_t i, const LeanStretch& stretch) const {
    const size_t n = lap_.size(),
                 end = std::min(lap_.index_at(std::max(stretch.end, lap_.time.front())), n - 1);
    std::optional<size_t> found;
    const auto offer = [&](size_t k) {
      if (run_.gas[k] > 0.02 && (!found || run_.gas[k] > run_.gas[*found])) found = k;
    };
    for (size_t k = i; k <= end; ++k) offer(k);
    if (stretch.kind == Trouble::gas) return found;
    // As far back as the line's volume reaches, and what the filter still gives off.
    double passed = 0;
    for (size_t back = 0; back < n && passed <= 1.2 * car_.line_hold + 2 * car_.filter_hold; ++back) {
      if (back > i && !course_.repeated) break;
      const size_t k = (i + n - back) % n, next = std::min(k + 1, n - 1);
      offer(k);
      passed += course_.delivery->main[k] * (lap_.time[next] - lap_.time[k]);
    }
    return found;
  }

  Phrase circuit_cause(size_t at) const {
    size_t worst = at;
    for (size_t k = at; k < lap_.size() && run_.rail[k] < course_.limit[k]; ++k)
      if (run_.rail[k] < run_.rail[worst]) worst = k;
    return {
        "the circuit holds only {} of {} across the injectors at {}, with no gas in it: see what limits it "
        "at the Circuit station",
        {{run_.rail[worst], Quantity::pressure},
         {course_.delivery->set[worst], Quantity::pressure},
         {course_.demand[worst], Quantity::flow}}};
  }

  std::string manner(size_t worst) const {
    const std::string turn = lap::turning(lap_.lateral[worst]);
    const std::string phase = lap::driving_phase(course_.corners, lap_, worst);
    return phase + (turn.empty() ? "" : ", " + turn);
  }

  /// Figures that would read alike are told by their share.
  struct Balance {
    double brings, drawn;
  };
  static Phrase brings_less(const std::string& who, const std::string& figure, const Balance& b,
                            Quantity quantity, const std::string& so) {
    if (b.brings < 0.98 * b.drawn)
      return {who + " " + figure + " where " + figure + " are drawn" + so,
              {{b.brings, quantity}, {b.drawn, quantity}}};
    return {who + " {1} of the " + figure + " drawn" + so,
            {{b.brings / b.drawn, Quantity::fraction}, {b.drawn, quantity}}};
  }

  /// Where the lift pumps bring what is drawn just then, and every pickup is covered.
  Phrase emptied_before(const std::string& empty) const {
    double lifted = 0, drawn = 0;
    for (size_t k = 0; k + 1 < lap_.size(); ++k) {
      const double dt = lap_.time[k + 1] - lap_.time[k];
      for (const auto& lift : course_.delivery->lift) lifted += lift[k] * dt;
      drawn += run_.draw[k] * dt;
    }
    if (lifted < drawn)
      return brings_less("over the lap the lift pumps bring", "{2}", {lifted, drawn}, Quantity::volume,
                         ", so " + empty);
    return {empty + ": what was drawn before is not made good yet", {}};
  }

  Phrase gas_cause(size_t at, const std::optional<BareStretch>& bare) const {
    const std::string empty = car_.surge ? "the surge tank runs empty" : "gas reaches the engine";
    if (car_.surge && run_.reserve[at] > 1.2 * course_.reach[at].covered + 1e-6)
      return {
          "the fuel in the surge tank sinks faster than bubbles rise ({} against {}): it carries gas down",
          {{course_.delivery->main[at] / (car_.surge->volume / surge_height(*car_.surge)),
            Quantity::velocity},
           {car_.limits.bubble_rise, Quantity::velocity}}};
    if (car_.surge && run_.reserve[at] > 0.5 * car_.surge->volume)
      return {
          "the surge tank's own pickup is bare with {2} in it: its surface stands too steep for its height",
          {{run_.reserve[at], Quantity::volume}}};
    double lifted = 0;
    for (const auto& lift : course_.delivery->lift) lifted += lift[at];
    const bool covered = !bare || run_.coverage.covered_least[at] >= 1;
    if (car_.surge && (!bare || covered) && lifted < run_.draw[at])
      return brings_less("the lift pumps bring", "{}", {lifted, run_.draw[at]}, Quantity::flow,
                         ", so " + empty);
    if (car_.surge && !bare) return emptied_before(empty);
    if (!bare) return {empty + ": no pickup feeds the engine", {}};
    double supplied = 0, wanted = 0;
    for (size_t k = 0; k + 1 < lap_.size(); ++k) {
      const double dt = lap_.time[k + 1] - lap_.time[k];
      supplied += run_.supply[k] * dt;
      wanted += run_.draw[k] * dt;
    }
    if (car_.surge && course_.repeated && supplied < wanted * (1 - 1e-3))
      return brings_less(
          "over the lap the pickups bring", "{2}", {supplied, wanted}, Quantity::volume,
          " (" + bare_pickups(car_, run_.coverage, bare->worst) + " not covered at times), so " + empty);
    const std::string names = bare_pickups(car_, run_.coverage, bare->worst);
    if (bare->seconds > 0.98 * lap_.duration())
      return {names + " never wholly covered on the lap; " + empty, {}};
    std::string tail;
    if (car_.surge && run_.reserve[bare->start] < 0.97 * car_.surge->volume) {
      // The stretch before this one had not been made good.
      const size_t n = lap_.size();
      const auto earlier = bare_before(run_.coverage, course_, (bare->start + n - 1) % n);
      if (earlier && earlier->start != bare->start)
        tail = "; the lift pumps had not made good the stretch " +
               lap::at_place(course_.corners, lap_, lap_.time[earlier->worst]);
    }
    return {names + " " + uncovered_word(bare->least) + " for {} " +
                lap::at_place(course_.corners, lap_, lap_.time[bare->worst]) + " (" + manner(bare->worst) +
                "), " + empty + tail,
            {{bare->seconds, Quantity::duration}}};
  }

  const FuelSystem& car_;
  const Course& course_;
  const LevelRun& run_;
  const lap::Lap& lap_;
};

}  // namespace

Phrase Event::seen() const {
  if (kind == Trouble::gas) return {"gas at the main pump, up to {}", {{lowest, Quantity::fraction}}};
  return {"down to {} across the injectors", {{lowest, Quantity::pressure}}};
}

std::string worst_place(const Course& course, const circuit::LapFault& fault) {
  const lap::Lap& lap = *course.lap;
  const size_t at = lap.index_at(std::max(fault.start, lap.time.front()));
  return lap::at_place(course.corners, lap, lap.time[at]) + " (" +
         lap::driving_phase(course.corners, lap, at) + ")";
}

std::string uncovered_word(double share) { return share < 0.02 ? "bare" : "part covered"; }

std::string bare_pickups(const FuelSystem& car, const Coverage& cover, size_t i, double below) {
  std::string names;
  for (size_t p = 0; p < car.pickups.size(); ++p)
    if (cover.wet[p][i] < below) names += (names.empty() ? "" : ", ") + car.pickups[p].name;
  return names;
}

std::optional<BareStretch> bare_before(const Coverage& cover, const Course& course, size_t i) {
  const size_t n = cover.covered_least.size();
  const auto& least = cover.covered_least;
  const auto& time = course.lap->time;
  for (size_t back = 0; back < n; ++back) {
    if (back > i && !course.repeated) break;
    const size_t k = (i + n - back) % n;
    if (least[k] >= 1) continue;
    // From k both ways, on a repeated lap over the start line, at most once round. Worst where it is first
    // as bare as it gets: of one stretch the same, whoever asks.
    BareStretch out{k, k, k, 0.0};
    size_t length = 1;
    const auto may_pass = [&](size_t line) { return course.repeated || line > 0; };
    while (length < n && may_pass(out.start) && least[(out.start + n - 1) % n] < 1)
      out.start = (out.start + n - 1) % n, ++length;
    while (length < n && may_pass((out.end + 1) % n) && least[(out.end + 1) % n] < 1)
      out.end = (out.end + 1) % n, ++length;
    out.worst = out.start;
    for (size_t j = 0; j < length; ++j)
      if (const size_t at = (out.start + j) % n; least[at] < least[out.worst]) out.worst = at;
    out.least = least[out.worst];
    // The last sample and the first are the same moment.
    out.seconds = out.start <= out.end ? time[out.end] - time[out.start]
                                       : time.back() - time[out.start] + time[out.end] - time.front();
    return out;
  }
  return std::nullopt;
}

std::vector<Event> explain(const FuelSystem& car, const Course& course, const LevelRun& run,
                           const std::vector<LeanStretch>& stretches) {
  std::vector<Event> out;
  const Explainer explainer(car, course, run);
  // What comes back within a moment is one event.
  constexpr double moment = 0.5;  // s
  std::vector<LeanStretch> joined;
  for (const LeanStretch& s : stretches) {
    if (s.end <= course.lap->time.front()) continue;
    const auto before =
        std::find_if(joined.rbegin(), joined.rend(), [&](const LeanStretch& j) { return j.kind == s.kind; });
    if (before == joined.rend() || s.start - before->end > moment) {
      joined.push_back(s);
      continue;
    }
    before->end = std::max(before->end, s.end);
    before->missing += s.missing;
    before->lowest =
        s.kind == Trouble::gas ? std::max(before->lowest, s.lowest) : std::min(before->lowest, s.lowest);
  }
  for (const LeanStretch& s : joined) out.push_back(explainer.event(s));
  return out;
}

}  // namespace uadze::starvation
