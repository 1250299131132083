#include "core/report/resolved_report.h"

#include <fmt/format.h>

#include <algorithm>

#include "core/base/csv.h"

namespace uadze::report {
namespace {

std::string digits(double value, int count) {
  return fmt::format("{:.{}g}", value == 0 ? 0.0 : value, count);
}

}  // namespace

std::string resolved_csv(const tank::Tank& tank, const std::vector<tank::Pickup>& pickups,
                         const resolved::RunResult& run) {
  std::vector<std::string> cells{"time [s]",    "centroid x [mm]", "centroid y [mm]",      "centroid z [mm]",
                                 "volume [l]",  "filled [l]",      "energy of motion [J]", "fastest [m/s]",
                                 "force x [N]", "force y [N]",     "force z [N]"};
  for (const auto& s : tank.spaces) cells.push_back(s.name + " volume [l]");
  for (const auto& o : tank.openings) {
    cells.push_back(o.name + " flow [l/s]");
    if (o.passes != tank::Passes::both) cells.push_back(o.name + " open [1]");
  }
  for (const auto& p : pickups) {
    cells.push_back(p.name + " wet fraction [1]");
    cells.push_back(p.name + " drawn fuel [1]");
  }
  std::string out = csv_row(cells);
  for (const resolved::Sample& s : run.samples) {
    cells = {digits(s.time, 6)};
    for (int a = 0; a < 3; ++a) cells.push_back(digits(s.centroid[a] * 1e3, 6));
    cells.push_back(digits(s.volume * 1e3, 12)), cells.push_back(digits(s.filled * 1e3, 6));
    cells.push_back(digits(s.energy, 5)), cells.push_back(digits(s.fastest, 5));
    for (int a = 0; a < 3; ++a) cells.push_back(digits(s.force[a], 5));
    for (const double v : s.space) cells.push_back(digits(v * 1e3, 8));
    for (size_t o = 0; o < s.through.size(); ++o) {
      cells.push_back(digits(s.through[o] * 1e3, 6));
      if (tank.openings[o].passes != tank::Passes::both) cells.push_back(s.open[o] ? "1" : "0");
    }
    for (size_t p = 0; p < s.wet.size(); ++p) {
      cells.push_back(digits(s.wet[p], 4));
      cells.push_back(p < s.share.size() ? digits(s.share[p], 4) : "");
    }
    out += csv_row(cells);
  }
  return out;
}

std::string resolved_text(const solve::ResolvedJob& job, const resolved::RunResult& run, double seconds,
                          const solve::Agreement* agreement) {
  const double driven = run.samples.empty() ? 0.0 : run.samples.back().time;
  std::string out = fmt::format("{}, {}: {:.1f} L, {:.1f} s resolved at {:.3g} mm in {:.1f} s{}\n", job.setup,
                                job.driven, job.ask.level * 1e3, driven, run.size * 1e3, seconds,
                                run.resumed ? ", gone on from a checkpoint" : "");
  out += fmt::format(
      "{} cells, {} particles, {} steps, {:.1f} iterations a step for pressure, {:.1f} for volume\n",
      run.cells, run.particles, run.steps.steps,
      static_cast<double>(run.steps.iterations) / static_cast<double>(std::max(run.steps.steps, 1L)),
      static_cast<double>(run.steps.spreading) / static_cast<double>(std::max(run.steps.steps, 1L)));
  out += fmt::format(
      "volume: kept by count; the space that it fills within {:.2f} %; a step leaves {:.1e} of a cell\n",
      100 * run.worst_filled, run.steps.left);
  for (const std::string& s : run.said) out += "! " + s + "\n";
  if (agreement) out += verdict(*agreement, job.car.pickups).in() + "\n";
  return out;
}

}  // namespace uadze::report
