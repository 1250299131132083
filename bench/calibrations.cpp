// Whether a calibration finds what was put in: cars with figures drawn from what is known before, driven by
// the simulated logger down to where they starve, and fitted from its log. Prints how often each figure lay
// in its 90 % interval, how often it was told at all, and how well held out laps were predicted.
//
// Run: build/release/bench/calibrations [cases of each car] [v: each case told] [number of the first case]
// [ostrel-tarn: that car alone]
#include <fmt/format.h>

#include <array>
#include <cstdlib>
#include <map>
#include <random>

#include "core/solve/calibrate.h"
#include "core/solve/open.h"
#include "core/starvation/starvation_map.h"
#include "rigs/logger.h"

namespace {

using namespace uadze;
using starvation::Figure;

struct Car {
  const char *project, *setup;
};

double normal(std::mt19937_64& engine) {
  const auto uniform = [&] { return (static_cast<double>(engine() >> 11) + 0.5) * 0x1.0p-53; };
  const double u = uniform(), v = uniform();
  return std::sqrt(-2 * std::log(u)) * std::cos(6.283185307179586 * v);
}

}  // namespace

int main(int argc, char** argv) {
  const int each = argc > 1 ? std::atoi(argv[1]) : 4;
  const bool verbose = argc > 2;
  const int first_case = argc > 3 ? std::atoi(argv[3]) : 0;
  constexpr std::array cars{Car{"ostrel-p4", "P4, surge removed"},
                            Car{"ostrel-tarn", "Tarn, before the surge tank"}, Car{"ostrel-wisp", ""}};
  struct Count {
    int told = 0, inside = 0, all = 0;
    double narrower = 0;
  };
  std::map<std::string, Count> counts;
  solve::Scores before, after;
  for (const Car& car : cars) {
    if (argc > 4 && std::string(argv[4]) != car.project) continue;
    const std::filesystem::path file =
        std::filesystem::path(UADZE_SOURCE_DIR) / "demo" / (std::string(car.project) + ".uadze.json");
    solve::Sources sources(file.parent_path());
    const auto opened = solve::open_project(file, sources);
    for (int k = first_case; k < first_case + each; ++k) {
      std::mt19937_64 engine(static_cast<std::uint64_t>(1000 + k));
      project::Project truth = opened.project;
      const solve::Resolved first = solve::resolve(opened.project, {.setup = car.setup, .alone = true});
      project::Setup& setup = truth.setups[static_cast<size_t>(first.setup - opened.project.setups.data())];
      starvation::Calibration put_in{.date = "put in"};
      for (Figure f : starvation::all_figures)
        if (f != Figure::grip && !starvation::only_resolved_runs_tell(f))
          put_in.figures.push_back(
              {f, std::clamp(1 + normal(engine) * starvation::prior_deviation(f), 0.3, 1.9), 0.0});
      setup.calibration = put_in;
      const solve::Resolved r = solve::resolve(truth, {.setup = setup.name, .alone = true});
      const auto ready = solve::lap_case(truth, r, sources, {.points = 600});
      const double clean = starvation::clean_level(*ready->car, ready->course, {.levels = 20}).level;
      rigs::DriveOptions drive{
          .laps = 8, .end_level = 0.5 * clean, .seed = static_cast<std::uint64_t>(k + 1), .sound = false};
      const log::Log log = rigs::drive(*ready, setup, clean, drive);
      const log::Laps laps = log::split_laps(log);
      diagnosis::FindOptions find{.limit = setup.limits.mixture, .corners = r.lap->corners};
      if (setup.circuit) find.set = setup.circuit->regulator.base;
      const auto found = diagnosis::find_events(log, laps, find, "");
      // What was put in is known to 0.1 L.
      project::Project known = opened.project;
      known.logs = {{.file = "log", .put_in = rigs::put_in(*ready, clean, drive) + 0.1e-3 * normal(engine)}};
      const solve::Resolved mine = solve::resolve(known, {.setup = setup.name, .alone = true});
      const auto fuel = solve::logged_fuel(known, *mine.setup, "log", log, found, sources);
      const auto made =
          solve::logged_case(known, mine, log, laps, found, fuel, sources, {.calibrated = false});
      const auto result = solve::calibrate({{"log", made}}, nullptr, "2026-03-01");
      std::string line;
      for (const auto& f : result.figures) {
        const double was = starvation::factor_of(put_in, f.figure);
        Count& c = counts[name_of(f.figure)];
        ++c.all;
        line += fmt::format("  {} {:.2f}{}", name_of(f.figure), was,
                            f.told ? fmt::format("->{:.2f}+-{:.2f}{}", f.factor, f.deviation,
                                                 was < f.low() || was > f.high() ? "!" : "")
                                   : " -");
        if (!f.told) continue;
        ++c.told, c.inside += was >= f.low() && was <= f.high();
        c.narrower += f.deviation / f.before;
      }
      const auto add = [](solve::Scores& to, const solve::Scores& from) {
        to.hits += from.hits, to.misses += from.misses, to.false_alarms += from.false_alarms,
            to.quiet += from.quiet;
      };
      add(before, result.held_before), add(after, result.held_after);
      if (verbose)
        fmt::print("{} {}:{}  level {:+.2f} L; {} laps, {:.0f} -> {:.1f} of {}, {} runs\n", car.project, k,
                   line, result.level_shifts.empty() ? 0.0 : 1e3 * result.level_shifts[0], result.laps,
                   result.before, result.after, result.residuals, result.runs);
    }
  }
  fmt::print("{:<12} {:>6} {:>6} {:>22} {:>20}\n", "figure", "cases", "told", "in its 90 % interval",
             "deviation left");
  int told = 0, inside = 0;
  for (const auto& [name, c] : counts) {
    fmt::print("{:<12} {:>6} {:>6} {:>22} {:>20}\n", name, c.all, c.told, c.inside,
               c.told ? fmt::format("{:.0f} %", 100 * c.narrower / c.told) : "");
    told += c.told, inside += c.inside;
  }
  fmt::print("told figures in their 90 % interval: {} of {} ({:.1f} %)\n", inside, told,
             told ? 100.0 * inside / told : 0.0);
  const auto show = [](const char* when, const solve::Scores& s) {
    fmt::print("held out laps, {}: {} hits, {} misses, {} false alarms, {} rightly quiet\n", when, s.hits,
               s.misses, s.false_alarms, s.quiet);
  };
  show("before", before), show("after", after);
  return 0;
}
