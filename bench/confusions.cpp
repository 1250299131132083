// How often causes are named rightly: simulated logs of three cars with each fault, seeded, at strengths from
// just visible to plain, and what the diagnosis says of them. Prints the table of docs/theory.md.
//
// Run: build/dev/bench/confusions [logs of each cause and car] [logs of healthy cars each]
#include <fmt/format.h>
#include <tbb/parallel_for.h>

#include <array>
#include <cstdlib>
#include <map>
#include <mutex>

#include "core/diagnosis/cause.h"
#include "core/log/log.h"
#include "core/solve/open.h"
#include "core/starvation/starvation_map.h"
#include "rigs/logger.h"

namespace {

using namespace uadze;
using diagnosis::Cause;
using rigs::CarFault;

Cause cause_of(CarFault fault) { return static_cast<Cause>(static_cast<int>(fault)); }

struct Car {
  const char *project, *setup;
};

}  // namespace

int main(int argc, char** argv) {
  const int each = argc > 1 ? std::atoi(argv[1]) : 4, healthy = argc > 2 ? std::atoi(argv[2]) : 8;
  const bool verbose = argc > 3;
  constexpr std::array cars{Car{"ostrel-p4", "P4, surge removed"},
                            Car{"ostrel-tarn", "Tarn, before the surge tank"}, Car{"ostrel-wisp", ""}};
  constexpr int kinds = 13;
  std::array<std::array<int, kinds>, kinds> table{};
  int first = 0, among_two = 0, all = 0, named = 0, sound = 0;
  std::mutex lock;
  for (const Car& car : cars) {
    const std::filesystem::path file =
        std::filesystem::path(UADZE_SOURCE_DIR) / "demo" / (std::string(car.project) + ".uadze.json");
    solve::Sources sources(file.parent_path());
    const auto opened = solve::open_project(file, sources);
    const auto chosen = solve::resolve(opened.project, {.setup = car.setup, .lap = {}, .session = {}});
    const auto ready = solve::lap_case(opened.project, chosen, sources);
    const double clean = starvation::clean_level(*ready->car, ready->course, {.levels = 20}).level;
    struct Job {
      CarFault fault;
      std::uint64_t seed;
    };
    std::vector<Job> jobs;
    for (int f = 1; f < kinds; ++f)
      for (int k = 0; k < each; ++k)
        jobs.push_back({static_cast<CarFault>(f), static_cast<std::uint64_t>(100 * f + k)});
    for (int k = 0; k < healthy; ++k) jobs.push_back({CarFault::none, static_cast<std::uint64_t>(k)});
    tbb::parallel_for(size_t{0}, jobs.size(), [&](size_t j) {
      const auto [fault, seed] = jobs[j];
      rigs::DriveOptions how{.laps = 4,
                             .fault = fault,
                             .strength = 0.5 + 0.5 * static_cast<double>(seed % 100) / std::max(each - 1, 1),
                             .seed = seed,
                             .noise = seed % 3 == 2 ? 2.0 : 1.0,
                             .sound = true};
      // What not every car has; lambda is what tells a sensor that lies.
      how.laps = 4 + static_cast<int>(seed % 2);
      how.current = seed % 4 != 3, how.temperature = fault == CarFault::vapour || seed % 7 != 5;
      how.lambda = fault == CarFault::sensor || seed % 5 != 4;
      const log::Log log = rigs::drive(*ready, *chosen.setup, clean, how);
      const auto laps = log::split_laps(log);
      const auto found = diagnosis::find_events(log, laps, {}, "");
      const auto said = diagnosis::diagnose(log, laps, found);
      const std::lock_guard guard(lock);
      const Cause is = cause_of(fault);
      const Cause top = said.causes.empty() ? Cause::none : said.causes[0].cause;
      ++table[static_cast<size_t>(is)][static_cast<size_t>(top)];
      if (fault == CarFault::none) {
        ++sound, named += top != Cause::none;
      } else {
        ++all, first += top == is,
            among_two += top == is || (said.causes.size() > 1 && said.causes[1].cause == is);
      }
      if (verbose && top != is)
        fmt::print("{} {} seed {} strength {:.2f}: {} | {}\n", car.project, name_of(fault), seed,
                   how.strength, said.answer,
                   said.causes.empty() || said.causes[0].evidence.empty() ? "" : said.causes[0].evidence[0]);
    });
  }
  fmt::print("| what was wrong |");
  for (int k = 0; k < kinds; ++k) fmt::print(" {} |", name_of(static_cast<CarFault>(k)));
  fmt::print("\n|---|");
  for (int k = 0; k < kinds; ++k) fmt::print("---|");
  for (int k = 0; k < kinds; ++k) {
    fmt::print("\n| {} |", name_of(static_cast<CarFault>(k)));
    for (int j = 0; j < kinds; ++j) {
      const int n = table[static_cast<size_t>(k)][static_cast<size_t>(j)];
      fmt::print(" {} |", n ? std::to_string(n) : "");
    }
  }
  fmt::print(
      "\n\nThe true cause first in {:.1f} %, among the first two in {:.1f} % of {} logs; of {} healthy ones "
      "{} named a cause.\n",
      100.0 * first / std::max(all, 1), 100.0 * among_two / std::max(all, 1), all, sound, named);
}
