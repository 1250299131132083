// uadze-rig: simulated stand-ins for what is outside the computer.
#include <fmt/format.h>

#include <CLI/CLI.hpp>

#include "core/base/files.h"
#include "core/project/log_files.h"
#include "core/solve/open.h"
#include "core/starvation/starvation_map.h"
#include "rigs/garage_commands.h"
#include "rigs/logger.h"

int main(int argc, char** argv) {
  using namespace uadze;
  CLI::App app{"Simulated stand-ins for devices outside the computer."};
  app.require_subcommand(1);
  const CLI::App* bench = rigs::add_bench(app);
  const CLI::App* season = rigs::add_season(app);
  auto* logger = app.add_subcommand("logger", "Drive a setup and write the log that the car would have made");
  std::string file, setup, lap, fault = "none", shape = "plain", output, signal_file;
  rigs::DriveOptions how;
  bool can = false;
  double end_l = 0;
  logger->add_option("PROJECT", file, "project")->required();
  logger->add_option("--setup", setup, "setup (default: the first)");
  logger->add_option("--lap", lap, "lap (default: the first session's)");
  logger->add_option("--laps", how.laps, "flying laps (default 6)")->check(CLI::Range(1, 200));
  logger->add_option("--end-l", end_l, "litres in the tank at the end (default: half over the clean level)")
      ->check(CLI::Range(0.0, 1000.0));
  logger->add_option("--fault", fault, "what is wrong with the car")
      ->check(CLI::IsMember(names_of<rigs::CarFault>()));
  logger->add_option("--strength", how.strength, "of the fault, 0 to 1 (default 0.7)")
      ->check(CLI::Range(0.0, 1.0));
  logger->add_flag("--sound", how.sound, "leave out what the setup's own circuit lacks on the lap");
  logger->add_option("--seed", how.seed, "of all noise (default 1)");
  logger->add_option("--noise", how.noise, "of the sensors, times the usual")->check(CLI::Range(0.0, 20.0));
  logger->add_option("--shape", shape, "of the text")->check(CLI::IsMember(names_of<rigs::Shape>()));
  logger->add_flag("--can", can, "as CAN frames; needs --signals");
  logger->add_option("--signals", signal_file, "where the table of signals goes");
  logger->add_option("-o,--output", output, "file to write")->required();
  try {
    app.parse(argc, argv);
    if (can && signal_file.empty()) throw CLI::ValidationError("--can needs --signals FILE");
  } catch (const CLI::ParseError& error) {
    return app.exit(error) == 0 ? 0 : 2;
  }
  try {
    if (*bench) return rigs::run_bench();
    if (*season) return rigs::run_season();
    solve::Sources sources(std::filesystem::path(file).parent_path());
    const auto opened = solve::open_project(file, sources);
    const auto chosen = solve::resolve(opened.project, {.setup = setup, .lap = lap, .session = {}});
    const auto ready = solve::lap_case(opened.project, chosen, sources);
    how.fault = *value_named<rigs::CarFault>(fault);
    how.end_level = end_l * 1e-3;
    const double clean = starvation::clean_level(*ready->car, ready->course, {.levels = 20}).level;
    const log::Log log = rigs::drive(*ready, *chosen.setup, clean, how);
    if (can) {
      std::vector<log::Signal> table;
      write_file_atomically(output, rigs::written_as_can(log, table));
      write_file_atomically(signal_file, project::signals_text(table));
    } else {
      write_file_atomically(output, rigs::written(log, *value_named<rigs::Shape>(shape)));
    }
    fmt::print(stderr, "{}: {:.0f} s, put in {:.2f} L, fault {}, strength {:.2f}, seed {}\n", output,
               log.duration(), 1e3 * rigs::put_in(*ready, clean, how), fault, how.strength, how.seed);
    return 0;
  } catch (const InputError& error) {
    fmt::print(stderr, "{}\n", text_of(error.messages()));
    return 1;
  } catch (const std::exception& error) {
    fmt::print(stderr, "uadze-rig: {}\n", error.what());
    return 1;
  }
}
