#pragma once
// What `uadze` does, one function a command. Results go to stdout, messages to stderr; faults of the input
// are thrown as InputError, wrong use as UsageError.
#include <optional>
#include <stdexcept>
#include <string>
#include <vector>

namespace uadze::cli {

struct UsageError : std::runtime_error {
  using std::runtime_error::runtime_error;
};

struct SolveOptions {
  std::string file, setup, session;
  bool json = false;
  bool working = false;
};

struct SettleOptions {
  std::string file, setup;
  double level_l = 0.0;
  std::string accel_g;
  bool json = false;
};

struct SimulateOptions {
  std::string track, car, output;
  std::optional<double> rate_hz;
  std::optional<unsigned> seed;
};

struct MapCommandOptions {
  std::string file, setup, lap, output;
  int levels = 40;
  double grip_percent = 100;
  bool band = false, json = false;
};

struct RunCommandOptions {
  std::string file, setup, lap, manoeuvre, output, events;
  double level_l = 0.0, strength_g = 1.2, grip_percent = 100;
  int stint_laps = 0;
  bool json = false;
};

struct SizeOptions {
  std::string file, setup, lap, session, output;
  std::optional<double> level_l;
  std::optional<double> margin_percent, low_supply_v, hot_k;
  bool json = false;
  std::vector<double> surge_l, pickup_shift_mm, opening_scale, collector_scale;
  std::vector<std::string> returns, lift_types, main_types;
};

struct PlanOptions {
  std::string file, setup, session, output;
  std::optional<double> risk_percent;
  int draws = 20000;
  unsigned long long seed = 1;
  std::string paper = "A4";
  bool no_band = false, json = false, csv = false;
};

struct SloshOptions {
  std::string file, setup, lap, accel, manoeuvre, output;
  double level_l = 0.0, strength_g = 1.2;
  std::string model = "planar";
  double step_ms = 10.0;
  bool draw = false;
};

struct ResolveOptions {
  std::string file, setup, lap, accel, manoeuvre, output, surface, checkpoint;
  std::vector<double> level_l;
  double strength_g = 1.2, cell_mm = 15.0, sample_ms = 20.0, every_s = 5.0, frames = 0.0;
  int corners = 0;
  std::optional<double> from, to;
  bool draw = false, alone = false, estimate = false, no_keep = false;
};

struct RunsOptions {
  std::string file;
  std::vector<std::string> throw_away;
  bool all = false;
};

struct StudyOptions {
  std::string what;  ///< plan, run, gather, submit or status
  std::string file, into, output, partition;
  std::optional<int> task;
  double hours = 2.0, memory_gb = 2.0;
  bool tasks = false, no_keys = false, print = false;
};

struct ModesOptions {
  std::string file, setup, accel_g;
  double level_l = 0.0;
  int count = 4;
  bool json = false;
};

struct DipOptions {
  std::string file, setup, at_mm, output;
  double pitch_deg = 0.0, roll_deg = 0.0;
  int steps = 40;
};

struct ReachOptions {
  std::string file, setup, pickup, output;
  double strength_g = 1.2;
  int directions = 72;
};

struct MeshCheckOptions {
  std::string file, unit = "mm";
  std::vector<std::string> mends;
  bool json = false;
};

struct CircuitOptions {
  std::string file, setup, accel_g, sweep;
  std::optional<double> power_kw, demand_l_h, manifold_kpa, supply_v, fuel_c, altitude_m, level_l,
      throttle_percent, rotation_rpm, filter_load_percent;
  std::vector<std::string> what_ifs;
  bool json = false;
};

struct BuildOptions {
  std::string what;  ///< check, cut, joints, ports, wires, fuses, labels, order or steps
  std::string file, setup, output;
  bool csv = false;
  std::optional<double> hours;  ///< of work in a day: steps by days
};

struct BookOptions {
  std::string what;  ///< the subcommand
  std::string file, setup, output, from, format = "text";
  std::string gate, kind, words;
  std::int64_t number = 0;
  std::string by, second, instrument, checked_until, way, note, subject, cause, done, session, torque;
  std::vector<std::string> readings, seen, links, photos;
  std::optional<double> hours;
  bool withdraw = false, all_seen = false, failed = false;
};

struct LogOptions {
  std::string file, mapping, signal_table, output, by, line, from_sensor_mm, project, setup, lap_name;
  std::optional<double> rate_hz;
  double cut_off_hz = 5.0;
  int lap = 0;  ///< 0: the quickest flying one
  std::vector<std::string> formulas;
  std::vector<std::string> more;  ///< further logs of a calibration
  std::optional<double> put_in_l, drained_l;
  std::string date;
  bool mount = false, json = false;
};

/// Returns the exit code: 1 if there are errors.
int check(const std::string& file);
/// JSON Schema of a kind of file, or the tables of its fields as Markdown.
void schema(const std::string& kind, bool tables);
void solve(const SolveOptions& options);
void settle(const SettleOptions& options);
void simulate_lap(const SimulateOptions& options);

struct CornersOptions {
  std::string file;
  std::string output;
};
/// Corners proposed from a lap's curves, as the list that a project holds.
void propose_corners(const CornersOptions& options);
void map(const MapCommandOptions& options);
void slosh(const SloshOptions& options);
/// The fuel resolved in three dimensions; the fast model on the same seconds beside it.
void resolve_fuel(const ResolveOptions& options);
void runs(const RunsOptions& options);
void modes(const ModesOptions& options);
void dip(const DipOptions& options);
void reach(const ReachOptions& options);
void run(const RunCommandOptions& options);
void size(const SizeOptions& options);
void plan(const PlanOptions& options);
void card(const PlanOptions& options);
void circuit_point(const CircuitOptions& options);
/// Lists of the build. Returns the exit code: 1 if a check finds an error.
int build(const BuildOptions& options);
/// The book. Returns the exit code: 1 where a setup is not ready, a proof fails or a test has failed.
int book(const BookOptions& options);
/// A study's tasks. Returns the exit code: 1 where a task has failed or is missing.
int study(const StudyOptions& options);
/// What was found in a log: layout, channels, laps, and what can not be right.
void log_check(const LogOptions& options);
/// The mapping that is proposed, as a file to change.
void log_mapping(const LogOptions& options);
void log_laps(const LogOptions& options);
/// One lap of the log as a lap file.
void log_lap(const LogOptions& options);
/// What went wrong in a log, where, and why.
/// What was burnt by lap and what was in the tank.
void log_fuel(const LogOptions& options);
/// Where it starved against where it should have.
void log_compare(const LogOptions& options);
/// What changes over several logs in their order.
void log_trend(const LogOptions& options);
/// The model's figures from logs; -o writes the project with them.
void log_calibrate(const LogOptions& options);
void log_find(const LogOptions& options);
/// Returns the exit code: 1 if the mesh can not be a tank.
int mesh_check(const MeshCheckOptions& options);

}  // namespace uadze::cli
