#include "core/starvation/reserve.h"

#include <algorithm>
#include <cmath>
#include <limits>

namespace uadze::starvation {
namespace {

/// Part of a step (0..1) in which the net flow is n0 + (n1 - n0) u, u from a to b: its volume over the step.
double swept(double n0, double n1, double a, double b, double dt) {
  return dt * ((b - a) * n0 + (n1 - n0) * (b * b - a * a) / 2);
}

/// First u in (a, b] at which the volume v + swept(a, u) reaches `target`, or b if it does not.
double reaches(double v, double n0, double n1, double a, double b, double dt, double target) {
  // dt (s/2 u^2 + n0 u - s/2 a^2 - n0 a) + v - target = 0, with s = n1 - n0
  const double s = n1 - n0;
  const double c = (v - target) / dt - n0 * a - s * a * a / 2;
  double best = b;
  const auto offer = [&](double u) {
    if (u > a && u < best) best = u;
  };
  if (std::abs(s) < 1e-12 * (std::abs(n0) + std::abs(n1))) {
    if (n0 != 0) offer(-c / n0);
  } else if (const double disc = n0 * n0 - 2 * s * c; disc >= 0) {
    // The two roots without cancellation.
    const double q = -(n0 + std::copysign(std::sqrt(disc), n0));
    offer(q / s);
    if (q != 0) offer(2 * c / q);
  }
  return best;
}

struct Marcher {
  ReserveRun& run;
  double capacity;
  double v;
  bool open = false;  // a shortage is going on

  // A stretch of one step in which the net flow keeps its sign.
  void stretch(double t0, double dt, double n0, double n1, double a, double b) {
    const double change = swept(n0, n1, a, b, dt);
    if (change < 0) {
      if (v + change >= 0) {
        v += change;
        close(t0 + a * dt);
      } else {
        const double u = v > 0 ? std::min(reaches(v, n0, n1, a, b, dt, 0.0), b) : a;
        const double short_of = -(v + change);
        if (!open || v > 0) run.shortages.push_back({t0 + u * dt, t0 + b * dt, 0.0});
        open = true;
        run.shortages.back().end = t0 + b * dt;
        run.shortages.back().volume += short_of;
        run.missing += short_of;
        v = 0;
      }
    } else {
      close(t0 + a * dt);
      const double spill = std::max(0.0, v + change - capacity);
      run.overflow += spill;
      v = spill > 0 ? capacity : v + change;
    }
    run.lowest = std::min(run.lowest, v);
  }
  void close(double) { open = false; }
};

}  // namespace

ReserveRun run_reserve(const ReserveInput& in) {
  ReserveRun run;
  const size_t n = in.time.size();
  run.volume.resize(n);
  Marcher m{run, in.capacity, std::clamp(in.start, 0.0, in.capacity)};
  const double begun = m.v;
  run.lowest = m.v;
  if (n > 0) run.volume[0] = m.v;
  double wanted = 0;
  for (size_t i = 0; i + 1 < n; ++i) {
    const double dt = in.time[i + 1] - in.time[i];
    const double n0 = in.supply[i] - in.draw[i], n1 = in.supply[i + 1] - in.draw[i + 1];
    run.supplied += (in.supply[i] + in.supply[i + 1]) / 2 * dt;
    wanted += (in.draw[i] + in.draw[i + 1]) / 2 * dt;
    if ((n0 < 0) != (n1 < 0) && n0 != 0 && n1 != 0) {
      const double zero = n0 / (n0 - n1);
      m.stretch(in.time[i], dt, n0, n1, 0, zero);
      m.stretch(in.time[i], dt, n0, n1, zero, 1);
    } else {
      m.stretch(in.time[i], dt, n0, n1, 0, 1);
    }
    run.volume[i + 1] = m.v;
  }
  run.delivered = wanted - run.missing;
  run.balance_error = begun + run.supplied - run.delivered - run.overflow - m.v;
  return run;
}

ReserveCycle repeat_reserve(const ReserveInput& input, int most_laps) {
  ReserveCycle cycle;
  ReserveInput in = input;
  const double tolerance = 1e-9 * std::max(input.capacity, 1e-6);
  int lap = 0;
  while (lap < most_laps) {
    cycle.last = run_reserve(in);
    ++lap;
    if (!cycle.last.shortages.empty() && cycle.first_short_lap == 0) cycle.first_short_lap = lap;
    const double end = cycle.last.volume.empty() ? in.start : cycle.last.volume.back();
    const double change = end - std::clamp(in.start, 0.0, in.capacity);
    cycle.settled = std::abs(change) <= tolerance;
    if (cycle.settled) break;
    in.start = end;
    // No clamp touched: the next laps are the same, shifted. Stop short of the first that empties or fills.
    if (change < 0 && cycle.last.overflow == 0 && cycle.last.missing == 0) {
      const double stride = std::floor(cycle.last.lowest / -change) - 1;
      if (stride >= 1) {
        const int laps = static_cast<int>(std::min(stride, static_cast<double>(most_laps)));
        in.start += laps * change;
        lap += laps;
      }
    }
  }
  cycle.laps = lap;
  return cycle;
}

double needed_capacity(const ReserveInput& in) {
  const size_t n = in.time.size();
  double largest = 0, deficit = 0, after_first = 0;
  for (int round = 0; round < 2; ++round) {
    for (size_t i = 0; i + 1 < n; ++i) {
      const double dt = in.time[i + 1] - in.time[i];
      const double n0 = in.draw[i] - in.supply[i], n1 = in.draw[i + 1] - in.supply[i + 1];
      const bool turns = (n0 < 0) != (n1 < 0) && n0 != 0 && n1 != 0;
      const double zero = turns ? n0 / (n0 - n1) : 1.0;
      deficit = std::max(0.0, deficit + swept(n0, n1, 0, zero, dt));
      largest = std::max(largest, deficit);
      if (turns) {
        deficit = std::max(0.0, deficit + swept(n0, n1, zero, 1, dt));
        largest = std::max(largest, deficit);
      }
    }
    if (round == 0) after_first = deficit;
  }
  if (deficit > after_first + 1e-12) return std::numeric_limits<double>::infinity();
  return largest;
}

}  // namespace uadze::starvation
