#include "rigs/garage_commands.h"

#include <fmt/format.h>

#include "core/base/csv.h"
#include "core/base/files.h"
#include "core/base/local_socket.h"
#include "core/base/names.h"
#include "core/solve/open.h"
#include "core/solve/settle.h"
#include "rigs/bench.h"
#include "rigs/season.h"

namespace uadze::rigs {
namespace {

struct Asked {
  std::string file, setup, gate, fault = "none", output, socket, left_open;
  BenchOptions how;
  int questions = 0;
};
Asked asked;

struct Opened {
  std::unique_ptr<solve::Sources> sources;
  project::Opened opened;
  const project::Setup* setup = nullptr;
};
Opened open() {
  Opened out;
  out.sources = std::make_unique<solve::Sources>(std::filesystem::path(asked.file).parent_path());
  out.opened = solve::open_project(asked.file, *out.sources);
  out.setup = &solve::chosen_setup(out.opened.project, asked.setup);
  return out;
}

/// "volume,dip,gauge" with units in the header.
std::string steps_csv(const std::vector<tank::FilledStep>& steps) {
  std::string out = "volume [L],dip [mm],gauge [%]\n";
  for (const auto& s : steps)
    out += csv_row({fmt::format("{:.3f}", 1e3 * s.volume), s.dip ? fmt::format("{:.1f}", 1e3 * *s.dip) : "",
                    s.gauge ? fmt::format("{:.1f}", 100 * *s.gauge) : ""});
  return out;
}

}  // namespace

CLI::App* add_bench(CLI::App& app) {
  auto* bench = app.add_subcommand("bench", "What a garage's gauge, can and voltmeter would read of a setup");
  bench->add_option("PROJECT", asked.file, "project")->required();
  bench->add_option("--setup", asked.setup, "setup (default: the first)");
  bench->add_option("--gate", asked.gate,
                    "as `uadze book gates` names it; \"fill\": the tank filled in steps");
  bench->add_option("--fault", asked.fault, "a part that fails")
      ->check(CLI::IsMember(names_of<BenchFault>()));
  bench->add_option("--strength", asked.how.strength, "of the fault, 0 to 1 (default 0.5)")
      ->check(CLI::Range(0.0, 1.0));
  bench->add_option("--supply", asked.how.supply, "V at the battery (default 13.2)")
      ->check(CLI::Range(6.0, 30.0));
  bench->add_option("--noise", asked.how.noise, "of the sensors, times the usual")
      ->check(CLI::Range(0.0, 20.0));
  bench->add_option("--seed", asked.how.seed, "of all noise (default 1)");
  bench->add_option("--socket", asked.socket, "answer at this local socket: a gate's id a line");
  bench->add_option("--questions", asked.questions, "of the socket, then end (default: for ever)")
      ->check(CLI::Range(0, 1000000));
  bench->add_option("-o,--output", asked.output, "file to write");
  return bench;
}

int run_bench() {
  const Opened job = open();
  const auto in =
      solve::in_garage(job.opened.project, *job.setup, job.sources->catalogue(job.opened.project), {}, now());
  asked.how.fault = *value_named<BenchFault>(asked.fault);
  const auto answer = [&](const std::string& gate) {
    if (gate == "fill") {
      const auto tank = job.sources->tanks.assembled(job.setup->tank);
      return steps_csv(filled_in_steps(job.setup->tank, tank->tank, 10, asked.how));
    }
    return bench_csv(bench_readings(in.at, in.garage, gate, asked.how));
  };
  if (!asked.socket.empty()) {
    LocalServer server(asked.socket);
    fmt::print(stderr, "bench at {}, fault {}, strength {:.2f}, seed {}\n", asked.socket, asked.fault,
               asked.how.strength, asked.how.seed);
    server.serve(
        [&](const std::string& gate) {
          try {
            return answer(gate);
          } catch (const InputError& error) {
            return text_of(error.messages()) + "\n";
          }
        },
        asked.questions);
    return 0;
  }
  if (asked.gate.empty() || asked.output.empty())
    throw InputError(Message{.expected = "--gate and -o, or --socket", .found = "neither"});
  write_file_atomically(asked.output, answer(asked.gate));
  return 0;
}

CLI::App* add_season(CLI::App& app) {
  auto* season =
      app.add_subcommand("season", "The book of a season, its commissioning done but for one gate");
  season->add_option("PROJECT", asked.file, "project")->required();
  season->add_option("--setup", asked.setup, "setup (default: the first)");
  season->add_option("--left-open", asked.left_open, "the gate that is not passed")->required();
  season->add_option("-o,--output", asked.output, "the book to write, a new one")->required();
  return season;
}

int run_season() {
  if (std::filesystem::exists(asked.output))
    throw InputError(
        Message{.file = asked.output, .expected = "a new book", .found = "one that is there already"});
  const Opened job = open();
  write_season(job.opened.project, *job.setup, job.sources->catalogue(job.opened.project), asked.output,
               asked.left_open);
  return 0;
}

}  // namespace uadze::rigs
