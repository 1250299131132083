#include "core/starvation/stint.h"

#include <fmt/format.h>

#include <algorithm>

namespace uadze::starvation {

StintRun run_stint(const FuelSystem& car, const Course& course, const StintOptions& options,
                   Progress* progress) {
  const double whole = car.tank->volume();
  if (!(options.start > 0) || options.start > whole * (1 + 1e-9))
    throw InputError(
        Message{.file = {},
                .place = "start fuel",
                .expected = fmt::format("above 0 and at most {:.4g} L, what the tank holds", whole * 1e3),
                .found = fmt::format("{:.4g} L", options.start * 1e3)});
  StintRun out;
  Marcher march(car, course, std::min(options.start, whole),
                {.hold = false, .heat = course.delivery->by_circuit, .temperature = options.temperature});
  const lap::Lap& lap = *course.lap;
  LevelRun run;
  for (int k = 1; k <= std::min(options.laps, options.laps_at_most); ++k) {
    if (progress) {
      progress->check();
      progress->report(static_cast<double>(k - 1) / options.laps);
    }
    LapTrace trace;
    const double burnt = march.chain().burnt();
    march.lap(trace);
    StintLap now;
    now.level = march.fuel().total();
    now.burnt = march.chain().burnt() - burnt;
    now.least_reserve = *std::min_element(trace.reserve.begin(), trace.reserve.end());
    now.least_rail = 1e9;
    for (size_t i = 0; i < lap.size(); ++i)
      now.least_rail = std::min(now.least_rail, trace.rail[i] / course.delivery->set[i]);
    if (!trace.tank_heat.empty())
      now.tank_heat = trace.tank_heat.back(), now.surge_heat = trace.surge_heat.back();
    const std::vector<LeanStretch> stretches = march.stretches();
    if (!stretches.empty()) {
      adopt(run, std::move(trace));
      now.events = explain(car, course, run, stretches);
      if (!out.first_event && !now.events.empty())
        out.first_event = now.events.front(), out.first_event_lap = k;
    }
    out.laps.push_back(std::move(now));
    if (out.first_event && options.stop_at_event) break;
    if (out.laps.back().level + march.chain().held() < 1e-6) break;
  }
  out.ledger = march.ledger();
  return out;
}

}  // namespace uadze::starvation
