// uadze: the computation of Undertow Adze without a window.
#include <fmt/format.h>

#include <CLI/CLI.hpp>
#include <cmath>

#include "cli/book_options.h"
#include "cli/common.h"
#include "core/base/message.h"
#include "core/base/units.h"
#include "core/base/version.h"
#include "core/solve/case.h"

namespace {

/// Every number of every option, whatever else is asked of it: the ranges alone let "nan" pass.
void take_numbers_only(CLI::App& app) {
  for (CLI::Option* option : app.get_options())
    if (option->get_type_name().starts_with("FLOAT"))
      option->check([](const std::string& text) {
        const auto number = uadze::parse_number(text);
        return number && std::abs(*number) < 1e12 ? std::string()
                                                  : "expected a number, found \"" + text + "\"";
      });
  for (CLI::App* sub : app.get_subcommands({})) take_numbers_only(*sub);
}

}  // namespace

int main(int argc, char** argv) {
  using namespace uadze;
  CLI::App app{
      "Undertow Adze: where the fuel goes, whether the pumps keep up, and the least fuel for a session."};
  app.set_version_flag("--version", std::string("uadze ") + version());
  app.require_subcommand(1);
  app.add_flag_callback(
      "--outside", [] { cli::outside_files = solve::Outside::agreed; },
      "read files that the project names outside its folder; before the command");
  app.add_option_function<std::string>(
         "--units",
         [](const std::string& name) {
           if (name == "us") cli::units = UnitSystem::us();
         },
         "units of text and cards, before the command: metric, or us for US gal, psi, deg F, in; CSV and "
         "JSON keep "
         "the units that they name")
      ->check(CLI::IsMember({"metric", "us"}))
      ->type_name("NAME");
  app.footer("Exit: 0 done, 1 the input is at fault, 2 wrong use. Results go to stdout, messages to stderr.");

  std::string check_file;
  auto* check = app.add_subcommand("check", "Check a project and its laps; says every fault with its place");
  check->add_option("FILE", check_file, "project")->required();

  std::string schema_kind;
  bool schema_tables = false;
  auto* schema = app.add_subcommand("schema", "JSON Schema of a kind of file");
  schema->add_option("KIND", schema_kind, "project, catalogue, track, car, log_mapping or can_signals")
      ->required();
  schema->add_flag("--tables", schema_tables, "the fields as Markdown tables instead");

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

  cli::CornersOptions corners_options;
  auto* corners =
      lap->add_subcommand("corners", "Propose corners from a lap's curves, as a project lists them");
  corners->add_option("LAP", corners_options.file, "lap file")->required();
  corners->add_option("-o,--output", corners_options.output, "JSON file (default: stdout)");

  cli::MapCommandOptions map_options;
  auto* map = app.add_subcommand("map", "Starvation map: level against distance");
  map->add_option("FILE", map_options.file, "project")->required();
  map->add_option("--setup", map_options.setup, "setup (default: the first)");
  map->add_option("--lap", map_options.lap, "lap (default: the first)");
  map->add_option("--levels", map_options.levels, "levels of the ladder")->check(CLI::Range(2, 1000));
  map->add_option("--grip-percent", map_options.grip_percent, "of the lap's accelerations (default 100)")
      ->check(CLI::Range(10.0, 200.0));
  map->add_flag("--band", map_options.band, "with the band of the clean level from the model's own ranges");
  map->add_flag("--json", map_options.json, "clean level and the level at which each corner hurts, as JSON");
  map->add_option("-o,--output", map_options.output, "CSV file (default: stdout)");

  cli::RunCommandOptions run_options;
  auto* run = app.add_subcommand("run", "One run at one level: fuel, surge tank, rail pressure and events");
  run->add_option("FILE", run_options.file, "project")->required();
  run->add_option("--setup", run_options.setup, "setup (default: the first)");
  run->add_option("--lap", run_options.lap, "lap (default: the first)");
  run->add_option("--manoeuvre", run_options.manoeuvre, "a standard manoeuvre at full load instead of a lap");
  run->add_option("--strength-g", run_options.strength_g, "of the manoeuvre, g (default 1.2)")
      ->check(CLI::Range(0.0, 20.0));
  run->add_option("--level-l", run_options.level_l, "fuel in the main tank, litres")->required();
  run->add_option("--grip-percent", run_options.grip_percent, "of the lap's accelerations (default 100)")
      ->check(CLI::Range(10.0, 200.0));
  run->add_option("--stint", run_options.stint_laps,
                  "laps with the fuel burning down from that level, to the first event")
      ->check(CLI::Range(1, 2000));
  run->add_option("-o,--output", run_options.output, "time series as CSV ('-': stdout)");
  run->add_option("--events", run_options.events, "events as JSON ('-': stdout)");
  run->add_flag("--json", run_options.json, "summary and events as JSON on stdout");

  cli::SizeOptions size_options;
  auto* size = app.add_subcommand("size", "Surge tank, lift and main pumps; with options to vary, a search");
  size->add_option("FILE", size_options.file, "project")->required();
  size->add_option("--setup", size_options.setup, "setup (default: the first)");
  size->add_option("--lap", size_options.lap, "lap (default: the session's)");
  size->add_option("--level-l", size_options.level_l,
                   "fuel in the main tank (default: what the session brings back)");
  size->add_option("--margin-percent", size_options.margin_percent,
                   "of the pumps over the demand (default 10)")
      ->check(CLI::Range(0.0, 500.0));
  size->add_option("--low-supply-v", size_options.low_supply_v,
                   "volts less than the circuit's supply (default 0.5)")
      ->check(CLI::Range(0.0, 20.0));
  size->add_option("--hot-k", size_options.hot_k, "kelvin hotter than the setup's fuel (default 10)")
      ->check(CLI::Range(0.0, 80.0));
  size->add_option("--session", size_options.session,
                   "whose fuel and conditions it is sized for (default: the first, or the first on the lap)");
  size->add_option("--surge-l", size_options.surge_l, "search: surge volumes")->delimiter(',');
  size->add_option("--return", size_options.returns, "search: surge tank, main tank, overflow tee")
      ->delimiter(',');
  size->add_option("--lift-type", size_options.lift_types,
                   "search: a lift pump of the catalogue; again for more");
  size->add_option("--main-type", size_options.main_types,
                   "search: a main pump of the catalogue; again for more");
  size->add_option("--pickup-shift-mm", size_options.pickup_shift_mm, "search: pickups moved forward")
      ->delimiter(',');
  size->add_option("--opening-scale", size_options.opening_scale, "search: openings' sides times this")
      ->delimiter(',')
      ->check(CLI::Range(0.1, 10.0));
  size->add_option("--collector-scale", size_options.collector_scale, "search: collectors' sides times this")
      ->delimiter(',')
      ->check(CLI::Range(0.1, 10.0));
  size->add_flag("--json", size_options.json, "as JSON");
  size->add_option("-o,--output", size_options.output, "file (default: stdout)");

  cli::PlanOptions plan_options;
  const auto plan_arguments = [&](CLI::App* command) {
    command->add_option("FILE", plan_options.file, "project")->required();
    command->add_option("--setup", plan_options.setup, "setup (default: the first)");
    command->add_option("--session", plan_options.session, "only this session");
    command
        ->add_option("--risk", plan_options.risk_percent, "accepted risk, per cent (default: the session's)")
        ->check(CLI::Range(0.001, 49.9));
    command->add_option("--draws", plan_options.draws, "Monte Carlo draws (default 20000)")
        ->check(CLI::Range(100, 10000000));
    command->add_option("--seed", plan_options.seed, "of the random numbers (default 1)");
    command->add_flag("--no-band", plan_options.no_band, "takes the clean level as certain");
  };
  auto* plan = app.add_subcommand("plan", "Least start and bring-back fuel of each session at a stated risk");
  plan_arguments(plan);
  plan->add_flag("--json", plan_options.json, "as JSON");
  plan->add_flag("--csv", plan_options.csv, "as a CSV table");
  plan->add_option("-o,--output", plan_options.output, "file (default: stdout)");
  auto* card = app.add_subcommand("card", "Session cards for the pit wall: one page a session, PDF");
  plan_arguments(card);
  card->add_option("-o,--output", plan_options.output, "PDF file ('-': stdout)")->required();
  card->add_option("--paper", plan_options.paper, "A4 (default) or letter");

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

  slosh->add_option("--manoeuvre", slosh_options.manoeuvre,
                    "a standard manoeuvre, such as \"braking\"; the fuel starts level");
  slosh->add_option("--strength-g", slosh_options.strength_g, "of the manoeuvre, g (default 1.2)")
      ->check(CLI::Range(0.0, 20.0));
  slosh->add_flag("--draw", slosh_options.draw,
                  "pickups draw their pumps' flow, which comes back at the return");

  cli::ModesOptions modes_options;
  auto* modes = app.add_subcommand("modes", "First sloshing modes of each space");
  modes->add_option("FILE", modes_options.file, "project")->required();
  modes->add_option("--setup", modes_options.setup, "setup (default: the first)");
  modes->add_option("--level-l", modes_options.level_l, "fuel in the tank, litres")->required();
  modes->add_option("--accel-g", modes_options.accel_g, "vehicle acceleration ax,ay,az in g (default 0,0,0)");
  modes->add_option("--count", modes_options.count, "modes of each space (default 4)")
      ->check(CLI::Range(1, 20));
  modes->add_flag("--json", modes_options.json, "as JSON");

  cli::ResolveOptions resolve_options;
  auto* resolve =
      app.add_subcommand("resolve", "The fuel's splash in three dimensions, and how the fast model agrees");
  resolve->add_option("FILE", resolve_options.file, "project")->required();
  resolve->add_option("--setup", resolve_options.setup, "setup (default: the first)");
  resolve->add_option("--level-l", resolve_options.level_l,
                      "fuel in the tank, litres; with --corners several, or none: round where each hurts");
  resolve
      ->add_option("--corners", resolve_options.corners,
                   "the lap's worst corners, this many, each at several levels")
      ->check(CLI::Range(1, 50));
  resolve->add_flag("--no-keep", resolve_options.no_keep, "neither take nor keep the run beside the project");
  resolve->add_option("--lap", resolve_options.lap, "lap of the project");
  resolve->add_option("--accel", resolve_options.accel, "CSV with time [s], ax [g], ay [g], az [g]");
  resolve->add_option("--manoeuvre", resolve_options.manoeuvre, "a standard manoeuvre, as slosh has them");
  resolve->add_option("--strength-g", resolve_options.strength_g, "of the manoeuvre, g (default 1.2)")
      ->check(CLI::Range(0.0, 20.0));
  resolve->add_option("--from", resolve_options.from,
                      "s of it from which on (the fast model runs up to there)");
  resolve->add_option("--to", resolve_options.to, "s of it at which it ends");
  resolve->add_option("--cell-mm", resolve_options.cell_mm, "size of a cell, mm (default 15)")
      ->check(CLI::Range(1.0, 200.0));
  resolve->add_option("--sample-ms", resolve_options.sample_ms, "time between rows, ms (default 20)")
      ->check(CLI::Range(1.0, 1000.0));
  resolve->add_flag("--draw", resolve_options.draw, "pickups draw what circulates, and it comes back");
  resolve->add_flag("--alone", resolve_options.alone, "without the fast model beside it");
  resolve->add_option("--checkpoint", resolve_options.checkpoint, "file to go on from if it is stopped");
  resolve->add_option("--every-s", resolve_options.every_s, "s of the drive between checkpoints (default 5)")
      ->check(CLI::Range(0.01, 1e4));
  resolve->add_option("--surface", resolve_options.surface, "folder for the surface: VTU and OBJ, numbered");
  resolve->add_option("--frames", resolve_options.frames, "surfaces a second (default: one a sample)")
      ->check(CLI::Range(0.01, 1000.0));
  resolve->add_flag("--estimate", resolve_options.estimate, "only say how long it would take on one core");
  resolve->add_option("-o,--output", resolve_options.output, "CSV file (default: none)");

  cli::RunsOptions runs_options;
  auto* runs =
      app.add_subcommand("runs", "Resolved runs that are kept beside a project: listed, thrown away");
  runs->add_option("FILE", runs_options.file, "project")->required();
  runs->add_option("--throw-away", runs_options.throw_away, "those whose names begin so");
  runs->add_flag("--throw-all-away", runs_options.all, "all of them");

  cli::StudyOptions study_options;
  auto* study =
      app.add_subcommand("study", "Options against cases, task by task, here or in a cluster's queue");
  study->add_option("WHAT", study_options.what, "plan, run, gather, submit or status")
      ->required()
      ->check(CLI::IsMember({"plan", "run", "gather", "submit", "status"}));
  study->add_option("FILE", study_options.file, "study (JSON)")->required();
  study->add_option("--into", study_options.into, "folder of results (default: beside the study, its name)");
  study->add_option("--task", study_options.task, "run: this one alone (default: all that are missing)");
  study->add_option("-o,--output", study_options.output, "CSV file (default: stdout)");
  study->add_flag("--tasks", study_options.tasks, "gather: one row a task, not a choice");
  study->add_flag("--no-keys", study_options.no_keys,
                  "gather: trust results without looking at the project again");
  study->add_option("--hours", study_options.hours, "submit: most time of a task")
      ->check(CLI::Range(0.01, 1000.0));
  study->add_option("--memory-gb", study_options.memory_gb, "submit: most memory of a task")
      ->check(CLI::Range(0.1, 1000.0));
  study->add_option("--partition", study_options.partition, "submit: where to");
  study->add_flag("--print", study_options.print, "submit: only print the script");

  cli::DipOptions dip_options;
  auto* dip =
      app.add_subcommand("dip", "Dip stick and level sender against volume, and what the gauge hides");
  dip->add_option("FILE", dip_options.file, "project")->required();
  dip->add_option("--setup", dip_options.setup, "setup (default: the first)");
  dip->add_option("--at-mm", dip_options.at_mm,
                  "x,y of the stick, mm (default: over the deepest place of the floor)");
  dip->add_option("--pitch-deg", dip_options.pitch_deg, "nose up, degrees")->check(CLI::Range(-45.0, 45.0));
  dip->add_option("--roll-deg", dip_options.roll_deg, "left side up, degrees")
      ->check(CLI::Range(-45.0, 45.0));
  dip->add_option("--steps", dip_options.steps, "rows (default 40)")->check(CLI::Range(1, 10000));
  dip->add_option("-o,--output", dip_options.output, "CSV file (default: stdout)");

  cli::ReachOptions reach_options;
  auto* reach =
      app.add_subcommand("reach", "Least fuel that keeps a pickup covered, by direction of a steady push");
  reach->add_option("FILE", reach_options.file, "project")->required();
  reach->add_option("--setup", reach_options.setup, "setup (default: the first)");
  reach->add_option("--pickup", reach_options.pickup, "only this pickup");
  reach->add_option("--strength-g", reach_options.strength_g, "of the push, g (default 1.2)")
      ->check(CLI::Range(0.0, 20.0));
  reach->add_option("--directions", reach_options.directions, "directions round the car (default 72)")
      ->check(CLI::Range(4, 3600));
  reach->add_option("-o,--output", reach_options.output, "CSV file (default: stdout)");

  cli::CircuitOptions circuit_options;
  auto* circuit =
      app.add_subcommand("circuit", "The fuel circuit at an operating point, or over a sweep of power");
  circuit->add_option("FILE", circuit_options.file, "project")->required();
  circuit->add_option("--setup", circuit_options.setup, "setup (default: the first)");
  circuit
      ->add_option("--power-kw", circuit_options.power_kw, "brake power (default: the engine's full power)")
      ->check(CLI::Range(0.0, 10000.0));
  circuit->add_option("--demand-l-h", circuit_options.demand_l_h, "engine's demand, in place of a power")
      ->check(CLI::Range(0.0, 20000.0));
  circuit
      ->add_option("--manifold-kpa", circuit_options.manifold_kpa,
                   "manifold pressure, absolute (default: full load's)")
      ->check(CLI::Range(1.0, 2000.0));
  circuit->add_option("--supply-v", circuit_options.supply_v, "supply voltage (default: the circuit's)")
      ->check(CLI::Range(0.0, 60.0));
  circuit->add_option("--fuel-c", circuit_options.fuel_c, "fuel temperature (default: the setup's)")
      ->check(CLI::Range(-40.0, 120.0));
  circuit->add_option("--altitude-m", circuit_options.altitude_m, "altitude (default 0)")
      ->check(CLI::Range(-500.0, 9000.0));
  circuit->add_option("--accel-g", circuit_options.accel_g,
                      "vehicle acceleration ax,ay,az in g (default 0,0,0)");
  circuit->add_option("--level-l", circuit_options.level_l, "fuel in the tank, litres (default: half full)")
      ->check(CLI::Range(0.0, 10000.0));
  circuit->add_option("--throttle-percent", circuit_options.throttle_percent, "for stages (default 100)")
      ->check(CLI::Range(0.0, 100.0));
  circuit
      ->add_option("--rotation-rpm", circuit_options.rotation_rpm,
                   "crankshaft, for stages and engine-driven pumps (default 6000)")
      ->check(CLI::Range(0.0, 30000.0));
  circuit->add_option("--filter-load-percent", circuit_options.filter_load_percent, "0 clean, 100 due")
      ->check(CLI::Range(0.0, 100.0));
  circuit->add_option("--what-if", circuit_options.what_ifs,
                      "loaded-filter, low-voltage, hot-fuel, high-altitude, main-dead, lift-dead, "
                      "no-check-valve, small-return, vent-blocked; may be given again");
  circuit->add_option("--sweep", circuit_options.sweep,
                      "power:FROM:TO:STEP in kW: a table instead of a point");
  circuit->add_flag("--json", circuit_options.json, "as JSON");

  auto* log = app.add_subcommand("log", "Logs as they come from the car: channels, laps");
  log->require_subcommand(1);
  cli::LogOptions log_options;
  const auto log_command = [&](const char* name, const char* what) {
    auto* command = log->add_subcommand(name, what);
    command->add_option("FILE", log_options.file, "text table or CAN frames as text; gzip too")->required();
    command->add_option("--mapping", log_options.mapping,
                        "which column is what (uadze log mapping writes one)");
    command->add_option("--signals", log_options.signal_table, "table of signals of a CAN log");
    command->add_option(
        "--formula", log_options.formulas,
        "NAME=FORMULA, a channel made of others: \"dp=(rail_pressure - manifold_pressure)/bar\"");
    command->add_option("--rate-hz", log_options.rate_hz, "rows a second, of a log without times")
        ->check(CLI::Range(0.001, 100000.0));
    command->add_option("--by", log_options.by, "laps by counter, beacon, distance, line or whole")
        ->check(CLI::IsMember({"counter", "beacon", "distance", "line", "whole"}));
    command->add_option("--line", log_options.line,
                        "a place on the start line: latitude,longitude in degrees, or x,y in m");
    return command;
  };
  auto* log_check = log_command("check", "What is in a log, and what of it can not be right");
  log_check->add_flag("--json", log_options.json, "as JSON");
  auto* log_mapping =
      log_command("mapping", "Write which column is taken for what, to be changed and given back");
  auto* log_laps = log_command("laps", "Its laps as CSV");
  auto* log_lap =
      log_command("lap", "One lap as a lap file, filtered, in the car's axes at the tank's place");
  auto* log_find = log_command("find", "What went wrong in it, where, and why");
  log_find->add_option("--project", log_options.project, "for its corners, limits and base pressure");
  log_find->add_option("--setup", log_options.setup, "of the project (default: the first)");
  log_find->add_option("--lap-name", log_options.lap_name,
                       "the project's lap whose corners these are (default: the first)");
  log_find->add_flag("--json", log_options.json, "as JSON");
  auto* log_fuel = log_command("fuel", "What was burnt by lap, what was in the tank, how sure that is");
  auto* log_compare =
      log_command("compare", "Where it starved, and where the model says that it should have");
  auto* log_calibrate = log_command("calibrate", "The model's figures fitted to what the log shows");
  auto* log_trend = log_command("trend", "What changes from log to log: filter, pump, battery");
  log_trend->add_option("MORE", log_options.more, "the later logs, in their order")->required();
  log_trend->add_flag("--json", log_options.json, "as JSON");
  for (CLI::App* command : {log_fuel, log_compare, log_calibrate}) {
    command->add_option("--project", log_options.project, "the car and its laps")->required();
    command->add_option("--setup", log_options.setup, "of the project (default: the first)");
    command->add_option("--lap-name", log_options.lap_name,
                        "the project's lap that was driven (default: the first)");
    command
        ->add_option("--put-in-l", log_options.put_in_l,
                     "in the tank as the log begins (default: the project's note)")
        ->check(CLI::Range(0.0, 500.0));
    command->add_option("--drained-l", log_options.drained_l, "in it as the log ends")
        ->check(CLI::Range(0.0, 500.0));
    command->add_flag("--json", log_options.json, "as JSON");
    command->add_flag("--mount", log_options.mount,
                      "turn the sensor's axes by the log's standing and straight stretches");
    command->add_option("--from-sensor-mm", log_options.from_sensor_mm, "x,y,z from the sensor to the tank");
  }
  log_calibrate->add_option("--with", log_options.more, "a further log of the same car; again for more");
  log_calibrate->add_option("--date", log_options.date, "of the calibration (default: today)");
  log_calibrate->add_option("-o,--output", log_options.output,
                            "the project with the calibration (default: none)");
  for (CLI::App* command : {log_mapping, log_laps, log_lap})
    command->add_option("-o,--output", log_options.output, "file to write (default: stdout)");
  log_lap->add_option("--lap", log_options.lap, "its number (default: the quickest flying one)")
      ->check(CLI::Range(1, 100000));
  log_lap->add_option("--cut-off-hz", log_options.cut_off_hz, "low-pass without phase (default 5; 0: none)")
      ->check(CLI::Range(0.0, 1000.0));
  log_lap->add_flag("--mount", log_options.mount,
                    "turn the sensor's axes by the log's standing and straight stretches");
  log_lap->add_option("--from-sensor-mm", log_options.from_sensor_mm, "x,y,z from the sensor to the tank");

  auto* mesh = app.add_subcommand("mesh", "Tank meshes");
  mesh->require_subcommand(1);
  cli::MeshCheckOptions mesh_options;
  auto* mesh_check =
      mesh->add_subcommand("check", "Whether a mesh (STL, OBJ, PLY) can be a tank, and what helps");
  mesh_check->add_option("FILE", mesh_options.file, "mesh")->required();
  mesh_check->add_option("--unit", mesh_options.unit, "mm (default), cm, m or inch")
      ->check(CLI::IsMember({"mm", "cm", "m", "inch"}));
  mesh_check->add_option("--mend", mesh_options.mends, "weld, drop, fill, orient; may be given again")
      ->delimiter(',');
  mesh_check->add_flag("--json", mesh_options.json, "as JSON");

  cli::BuildOptions build_options;
  auto* build = app.add_subcommand("build", "What is cut, joined, wired and bought, and in which order");
  build
      ->add_option("WHAT", build_options.what,
                   "check, cut, joints, ports, wires, fuses, labels, order or steps")
      ->required()
      ->check(
          CLI::IsMember({"check", "cut", "joints", "ports", "wires", "fuses", "labels", "order", "steps"}));
  build->add_option("FILE", build_options.file, "project")->required();
  build->add_option("--setup", build_options.setup, "setup (default: the first)");
  build->add_option("-o,--output", build_options.output, "file to write (default: stdout)");
  build->add_flag("--csv", build_options.csv, "tables as CSV");
  build->add_option("--hours", build_options.hours, "hours of work in a day: steps by days")
      ->check(CLI::Range(1.0, 24.0));

  cli::BookOptions book_options;
  const CLI::App* book = cli::add_book(app, book_options);

  take_numbers_only(app);
  try {
    app.parse(argc, argv);
  } catch (const CLI::ParseError& error) {
    return app.exit(error) == 0 ? 0 : 2;
  }
  try {
    if (*check) return cli::check(check_file);
    if (*schema) cli::schema(schema_kind, schema_tables);
    if (*solve) cli::solve(solve_options);
    if (*settle) cli::settle(settle_options);
    if (*simulate) cli::simulate_lap(simulate_options);
    if (*corners) cli::propose_corners(corners_options);
    if (*map) cli::map(map_options);
    if (*run) cli::run(run_options);
    if (*size) cli::size(size_options);
    if (*plan) cli::plan(plan_options);
    if (*card) cli::card(plan_options);
    if (*slosh) cli::slosh(slosh_options);
    if (*resolve) cli::resolve_fuel(resolve_options);
    if (*runs) cli::runs(runs_options);
    if (*modes) cli::modes(modes_options);
    if (*dip) cli::dip(dip_options);
    if (*reach) cli::reach(reach_options);
    if (*circuit) cli::circuit_point(circuit_options);
    if (*log_check) cli::log_check(log_options);
    if (*log_mapping) cli::log_mapping(log_options);
    if (*log_laps) cli::log_laps(log_options);
    if (*log_lap) cli::log_lap(log_options);
    if (*log_find) cli::log_find(log_options);
    if (*log_fuel) cli::log_fuel(log_options);
    if (*log_compare) cli::log_compare(log_options);
    if (*log_calibrate) cli::log_calibrate(log_options);
    if (*log_trend) cli::log_trend(log_options);
    if (*build) return cli::build(build_options);
    if (*study) return cli::study(study_options);
    if (*book) return cli::book(book_options);
    if (*mesh_check) return cli::mesh_check(mesh_options);
    return 0;
  } catch (const cli::UsageError& error) {
    fmt::print(stderr, "uadze: {}\n", error.what());
    return 2;
  } catch (const solve::UnknownName& error) {
    fmt::print(stderr, "uadze: {}\n", error.what());
    return 2;
  } catch (const InputError& error) {
    // What was asked of the project as a whole is said of its file.
    Messages messages = error.messages();
    for (Message& m : messages)
      if (m.file.empty())
        for (const std::string* file :
             {&check_file, &solve_options.file, &settle_options.file, &map_options.file, &run_options.file,
              &size_options.file, &plan_options.file, &slosh_options.file, &resolve_options.file,
              &runs_options.file, &study_options.file, &modes_options.file, &dip_options.file,
              &reach_options.file, &circuit_options.file, &log_options.file, &build_options.file,
              &book_options.file})
          if (!file->empty()) m.file = *file;
    fmt::print(stderr, "{}\n", text_of(messages));
    return 1;
  } catch (const std::exception& error) {
    fmt::print(stderr, "{}\n", error.what());
    return 1;
  }
}
