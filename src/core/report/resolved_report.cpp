#include "core/report/resolved_report.h"

#include <fmt/format.h>

#include <algorithm>

#include "core/base/counted.h"
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
                          const solve::Agreement* agreement, const UnitSystem& units) {
  const double driven = run.samples.empty() ? 0.0 : run.samples.back().time;
  std::string out = fmt::format("{}, {}: {}, {:.1f} s resolved at {} in {:.1f} s{}\n", job.setup, job.driven,
                                format(job.ask.level, Quantity::volume, units), driven,
                                format(run.size, Quantity::length, units), seconds,
                                run.resumed ? ", gone on from a checkpoint" : "");
  out += fmt::format(
      "{} cells, {} particles, {} steps, {:.1f} iterations a step for pressure, {:.1f} for volume\n",
      run.cells, run.particles, run.steps.steps,
      static_cast<double>(run.steps.iterations) / static_cast<double>(std::max(run.steps.steps, 1L)),
      static_cast<double>(run.steps.spreading) / static_cast<double>(std::max(run.steps.steps, 1L)));
  out += fmt::format(
      "volume: kept by count; the space that it fills within {:.2f} %; a step leaves {:.1e} of a cell\n",
      100 * run.worst_filled, run.steps.left);
  for (const Phrase& s : run.said) out += "! " + s.in(units) + "\n";
  if (agreement) out += verdict(*agreement, job.car.pickups).in(units) + "\n";
  return out;
}

Table corners_table(const std::vector<std::shared_ptr<const solve::CornerRow>>& rows,
                    const UnitSystem& units) {
  Table out{.columns = {"corner", "level", "bare, resolved", "bare, fast", "middles apart", "says"},
            .rows = {}};
  for (const auto& r : rows) {
    out.rows.push_back({r->corner.place, format(r->job->ask.level, Quantity::volume, units),
                        format(r->agreement.bare_resolved, Quantity::duration, units),
                        format(r->agreement.bare_fast, Quantity::duration, units),
                        format(r->agreement.centroid, Quantity::length, units),
                        verdict(r->agreement, r->job->car.pickups).in(units)});
  }
  return out;
}

std::string corners_text(const std::vector<solve::CornerRow>& rows, const UnitSystem& units) {
  if (rows.empty())
    return "Nowhere on the lap are the pickups bare at any level of the map: there is nothing to resolve.\n";
  std::vector<std::shared_ptr<const solve::CornerRow>> seen;
  for (const solve::CornerRow& r : rows) seen.emplace_back(std::shared_ptr<void>(), &r);
  std::string out = text_of(corners_table(seen, units)) + verdict(seen).in(units) + "\n";
  const auto kept = std::count_if(rows.begin(), rows.end(), [](const auto& r) { return r.kept.was_there; });
  double seconds = 0;
  for (const solve::CornerRow& r : rows)
    if (!r.kept.was_there) seconds += r.kept.seconds;
  out += fmt::format("{} at {}, {} of them kept from before; {:.1f} s\n", counted(rows.size(), "run"),
                     format(rows.front().job->options.size, Quantity::length, units), kept, seconds);
  std::vector<std::string> said;
  for (const solve::CornerRow& r : rows) {
    for (const Phrase& p : r.kept.run.said)
      if (const std::string s = p.in(units); std::find(said.begin(), said.end(), s) == said.end())
        said.push_back(s);
    if (!r.kept.not_kept.empty() && std::find(said.begin(), said.end(), r.kept.not_kept) == said.end())
      said.push_back("Not kept: " + r.kept.not_kept);
  }
  for (const std::string& s : said) out += "! " + s + "\n";
  return out;
}

std::string corners_csv(const std::vector<solve::CornerRow>& rows) {
  std::string out = csv_row({"corner", "starves [1]", "hurts under [l]", "level [l]", "from [s]", "to [s]",
                             "bare, resolved [s]", "bare, fast [s]", "centroid apart, rms [mm]", "most [mm]",
                             "alike [1]", "verdict"});
  for (const solve::CornerRow& r : rows) {
    const double alike =
        r.agreement.wet.empty() ? 1.0 : *std::min_element(r.agreement.wet.begin(), r.agreement.wet.end());
    out += csv_row({r.corner.place, r.corner.starves ? "1" : "0", digits(r.corner.hurts_under * 1e3, 6),
                    digits(r.job->ask.level * 1e3, 6), digits(r.corner.from, 6), digits(r.corner.to, 6),
                    digits(r.agreement.bare_resolved, 4), digits(r.agreement.bare_fast, 4),
                    digits(r.agreement.centroid * 1e3, 4), digits(r.agreement.most * 1e3, 4),
                    digits(alike, 4), verdict(r.agreement, r.job->car.pickups).in()});
  }
  return out;
}

Table runs_table(const std::vector<solve::KeptLine>& lines, const UnitSystem& units) {
  Table out{.columns = {"name", "size", "setup", "driven", "from", "to", "level", "cells"}, .rows = {}};
  for (const solve::KeptLine& l : lines) {
    std::vector<std::string> row{l.file.stem().string().substr(0, 12),
                                 fmt::format("{:.2f} MB", 1e-6 * static_cast<double>(l.bytes))};
    if (l.setup.empty()) {
      const bool torn = l.file.extension().string().starts_with(".part-");
      row.insert(row.end(), {l.stopped ? "stopped: goes on from there"
                             : torn    ? "left by a save that was killed"
                                       : "can not be read",
                             "", "", "", "", ""});
    } else
      row.insert(row.end(),
                 {l.setup, l.driven, format(l.from, Quantity::duration, units),
                  format(l.to, Quantity::duration, units), format(l.level, Quantity::volume, units),
                  format(l.size, Quantity::length, units)});
    out.rows.push_back(std::move(row));
  }
  return out;
}

std::string runs_text(const std::vector<solve::KeptLine>& lines, const UnitSystem& units) {
  if (lines.empty()) return "No resolved runs are kept.\n";
  double all = 0;
  for (const solve::KeptLine& l : lines) all += 1e-6 * static_cast<double>(l.bytes);
  return text_of(runs_table(lines, units)) +
         fmt::format("{}, {:.1f} MB\n", counted(lines.size(), "run"), all);
}

}  // namespace uadze::report
