// uadze: the computation of Undertow Adze without a window.
#include <fmt/format.h>

#include <CLI/CLI.hpp>

#include "cli/commands.h"
#include "core/base/message.h"
#include "core/base/version.h"

int main(int argc, char** argv) {
  using namespace uadze;
  CLI::App app{
      "Undertow Adze: where the fuel goes, whether the pumps keep up, and the least fuel for a session."};
  app.set_version_flag("--version", std::string("uadze ") + version());
  app.require_subcommand(1);
  app.footer("Exit: 0 done, 1 the input is at fault, 2 wrong use. Results go to stdout, messages to stderr.");

  std::string check_file;
  auto* check = app.add_subcommand("check", "Check a project and its laps; says every fault with its place");
  check->add_option("FILE", check_file, "project")->required();

  cli::SolveOptions solve_options;
  auto* solve = app.add_subcommand("solve", "Least fuel for each session");
  solve->add_option("FILE", solve_options.file, "project")->required();
  solve->add_option("--setup", solve_options.setup, "only this setup");
  solve->add_option("--session", solve_options.session, "only this session");
  solve->add_flag("--json", solve_options.json, "as JSON, with the working");
  solve->add_flag("--working", solve_options.working, "show the working of every number");

  cli::SettleOptions settle_options;
  auto* settle = app.add_subcommand("settle", "Where the fuel lies under a steady acceleration");
  settle->add_option("FILE", settle_options.file, "project")->required();
  settle->add_option("--setup", settle_options.setup, "setup (default: the first)");
  settle->add_option("--level-l", settle_options.level_l, "fuel in the tank, litres")->required();
  settle
      ->add_option("--accel-g", settle_options.accel_g,
                   "vehicle acceleration ax,ay,az in g (x forward, y left, z up)")
      ->required();
  settle->add_flag("--json", settle_options.json, "as JSON");

  auto* lap = app.add_subcommand("lap", "Laps");
  lap->require_subcommand(1);
  cli::SimulateOptions simulate_options;
  auto* simulate = lap->add_subcommand("simulate", "Simulate a lap from a track and a car");
  simulate->add_option("TRACK", simulate_options.track, "track file")->required();
  simulate->add_option("CAR", simulate_options.car, "car file")->required();
  simulate->add_option("-o,--output", simulate_options.output, "CSV file (default: stdout)");
  simulate->add_option("--rate-hz", simulate_options.rate_hz, "samples a second (default 50)")
      ->check(CLI::Range(1.0, 1000.0));
  simulate->add_option("--seed", simulate_options.seed,
                       "seed of the measurement noise (default: the car file's)");

  cli::MapCommandOptions map_options;
  auto* map = app.add_subcommand("map", "Starvation map: level against distance");
  map->add_option("FILE", map_options.file, "project")->required();
  map->add_option("--setup", map_options.setup, "setup (default: the first)");
  map->add_option("--lap", map_options.lap, "lap (default: the first)");
  map->add_option("--levels", map_options.levels, "levels of the ladder")->check(CLI::Range(2, 1000));
  map->add_option("-o,--output", map_options.output, "CSV file (default: stdout)");

  cli::SloshOptions slosh_options;
  auto* slosh = app.add_subcommand("slosh", "The fuel's motion along a lap or a recorded acceleration");
  slosh->add_option("FILE", slosh_options.file, "project")->required();
  slosh->add_option("--setup", slosh_options.setup, "setup (default: the first)");
  slosh->add_option("--level-l", slosh_options.level_l, "fuel in the tank, litres")->required();
  slosh->add_option("--lap", slosh_options.lap, "lap of the project");
  slosh->add_option("--accel", slosh_options.accel,
                    "CSV with time [s], ax [g], ay [g], az [g]: vehicle acceleration; the fuel starts level");
  slosh->add_option("--model", slosh_options.model, "settled or planar (default)")
      ->check(CLI::IsMember({"settled", "planar"}));
  slosh->add_option("--step-ms", slosh_options.step_ms, "time between rows, ms (default 10)")
      ->check(CLI::Range(0.05, 10000.0));
  slosh->add_option("-o,--output", slosh_options.output, "CSV file (default: stdout)");

  try {
    app.parse(argc, argv);
  } catch (const CLI::ParseError& error) {
    return app.exit(error) == 0 ? 0 : 2;
  }
  try {
    if (*check) return cli::check(check_file);
    if (*solve) cli::solve(solve_options);
    if (*settle) cli::settle(settle_options);
    if (*simulate) cli::simulate_lap(simulate_options);
    if (*map) cli::map(map_options);
    if (*slosh) cli::slosh(slosh_options);
    return 0;
  } catch (const cli::UsageError& error) {
    fmt::print(stderr, "uadze: {}\n", error.what());
    return 2;
  } catch (const std::exception& error) {
    fmt::print(stderr, "{}\n", error.what());
    return 1;
  }
}
