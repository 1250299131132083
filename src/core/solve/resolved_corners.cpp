#include "core/solve/resolved_corners.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

namespace uadze::solve {
namespace {

/// s before a corner's trouble from which it is resolved, and after its end.
constexpr double corner_lead = 3.0, corner_tail = 1.5;
/// Mean share of the pickups under which they are mostly bare, and for how long that counts, s.
constexpr float mostly_bare = 0.5f;
constexpr double bare_long = 0.2;

}  // namespace

std::vector<WorstCorner> worst_corners(const starvation::StarvationMap& map, const lap::Lap& lap,
                                       const std::vector<lap::Corner>& corners, size_t most) {
  std::vector<WorstCorner> out;
  const auto add = [&](const std::string& place, double level, double from, double to, bool starves) {
    const bool known =
        std::any_of(out.begin(), out.end(), [&](const WorstCorner& c) { return c.place == place; });
    if (!known && out.size() < most)
      out.push_back({.place = place,
                     .hurts_under = level,
                     .from = std::max(lap.time.front(), from - corner_lead),
                     .to = std::min(lap.time.back(), to + corner_tail),
                     .starves = starves});
  };
  for (const auto& corner : starvation::corner_levels(map))
    add(corner.place, corner.level, corner.event.start, corner.event.end, true);
  for (auto row = map.rows.rbegin(); row != map.rows.rend() && out.size() < most; ++row) {
    const size_t n = std::min(row->wet.size(), lap.time.size());
    for (size_t i = 0; i < n; ++i) {
      const size_t begin = i;
      while (i < n && row->wet[i] < mostly_bare) ++i;
      if (i > begin && lap.time[i - 1] - lap.time[begin] >= bare_long)
        add(lap::place_at(corners, lap, lap.time[begin]), row->level, lap.time[begin], lap.time[i - 1],
            false);
    }
  }
  return out;
}

std::vector<PlannedCheck> planned_checks(const std::vector<WorstCorner>& corners, const CornersAsk& ask,
                                         double tank_volume) {
  std::vector<PlannedCheck> out;
  for (const WorstCorner& corner : corners) {
    std::vector<double> levels = ask.levels;
    if (levels.empty())
      for (const double share : round_the_level)
        levels.push_back(std::min(share * corner.hurts_under, tank_volume));
    std::sort(levels.begin(), levels.end());
    for (const double level : levels)
      out.push_back({corner,
                     {.level = level,
                      .from = corner.from,
                      .to = corner.to,
                      .size = ask.size,
                      .sample = ask.sample,
                      .draw = ask.draw}});
  }
  return out;
}

std::vector<CornerRow> check_all(const project::Project& project, const Case& wanted,
                                 const std::vector<PlannedCheck>& planned, Sources& sources,
                                 const KeepOptions& keep, Progress* progress) {
  std::vector<CornerRow> out;
  const double share = 1 / static_cast<double>(std::max<size_t>(planned.size(), 1));
  for (const PlannedCheck& check : planned) {
    if (progress) progress->part(share * static_cast<double>(out.size()), share);
    CornerRow row;
    row.corner = check.corner;
    const auto job = std::make_shared<const ResolvedJob>(resolved_job(project, wanted, check.ask, sources));
    row.job = job;
    row.kept = resolve_kept(*job, keep, progress);
    row.fast = fast_beside(*job, row.kept.run);
    row.agreement = agreement(row.kept.run, row.fast);
    out.push_back(std::move(row));
  }
  if (progress) progress->part(0, 1);
  return out;
}

Phrase verdict(const std::vector<std::shared_ptr<const CornerRow>>& rows) {
  const auto off = [](const CornerRow& r) {
    return std::pair(std::abs(r.agreement.bare_resolved - r.agreement.bare_fast), r.agreement.centroid);
  };
  const CornerRow* worst = rows.front().get();
  size_t alike = 0;
  for (const auto& row : rows) {
    alike += agrees(row->agreement);
    if (off(*row) > off(*worst)) worst = row.get();
  }
  const Agreement& a = worst->agreement;
  return {fmt::format("The fast model agrees in {} of {}; furthest off it is at \"{}\"", alike, rows.size(),
                      worst->corner.place) +
              " with {}: bare for {} resolved, for {} by it, the middles {} apart.",
          {{worst->job->ask.level, Quantity::volume},
           {a.bare_resolved, Quantity::duration},
           {a.bare_fast, Quantity::duration},
           {a.centroid, Quantity::length}}};
}

std::vector<CornerRow> check_corners(const project::Project& project, const Case& wanted,
                                     const CornersAsk& ask, Sources& sources, const KeepOptions& keep,
                                     Progress* progress) {
  const auto result = lap_result(project, resolve(project, wanted), sources, {}, progress);
  return check_all(project, wanted,
                   planned_checks(worst_corners(map_of(*result, progress), result->lap->value,
                                                result->course.corners, ask.corners),
                                  ask, result->car->tank->volume()),
                   sources, keep, progress);
}

}  // namespace uadze::solve
