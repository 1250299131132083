// Speeds that the issues ask for. Run: build/release/bench/core_bench
#include <benchmark/benchmark.h>

#include <cmath>
#include <cstdlib>
#include <filesystem>
#include <fstream>
#include <numbers>

#include "bench/fine_mesh.h"
#include "core/circuit/analysis.h"
#include "core/log/log.h"
#include "core/sizing/surge_size.h"
#include "core/slosh/modes.h"
#include "core/slosh/motion.h"
#include "core/solve/circuit_point.h"
#include "core/solve/lap_result.h"
#include "core/solve/open.h"
#include "core/solve/plan.h"

namespace uadze {
namespace {

/// A solid of twelve faces: a prism on ten corners.
tank::Solid twelve_faces() {
  tank::Prism prism{tank::Axis::z, {}, 0.0, 0.3};
  for (int i = 0; i < 10; ++i) {
    const double a = 2 * std::numbers::pi * i / 10;
    prism.profile.emplace_back(0.3 * std::cos(a), 0.25 * std::sin(a));
  }
  return tank::make_solid(prism);
}

/// Settled solves, each for another direction, without a start from the last: 1e6 of them have 2 s.
void settled_solve(benchmark::State& state) {
  const tank::Solid solid = twelve_faces();
  tank::PlaneCutter cutter(solid);
  double phase = 0;
  for (auto _ : state) {
    phase += 0.37;
    cutter.aim(Vec3(std::sin(phase), std::cos(1.3 * phase), 1.2).normalized());
    benchmark::DoNotOptimize(cutter.offset_for((0.5 + 0.4 * std::sin(0.71 * phase)) * solid.volume()));
  }
  state.counters["solves/s"] =
      benchmark::Counter(static_cast<double>(state.iterations()), benchmark::Counter::kIsRate);
}
BENCHMARK(settled_solve)->Unit(benchmark::kNanosecond);

/// Each with sources of its own, so that nothing is kept from a case before.
struct Demo {
  const std::filesystem::path file = std::filesystem::path(UADZE_SOURCE_DIR) / "demo/ostrel-p4.uadze.json";
  std::shared_ptr<solve::Sources> sources = std::make_shared<solve::Sources>(file.parent_path());
  project::Project project = solve::open_project(file, *sources).project;
  lap::Lap lap = sources->laps.get(project.laps[0])->value;

  solve::Resolved resolved(size_t setup = 0) const {
    return solve::resolve(project,
                          {.setup = project.setups[setup].name, .session = project.sessions[0].name});
  }
  solve::LapCasePtr ready() const { return solve::lap_case(project, resolved(), *sources); }
};

/// 40 levels of the demo's 95 s lap at 50 Hz by the planar model, coupled to circuit, surge tank, line and
/// rail, on two cores: 3 s.
void map_of_forty_levels(benchmark::State& state) {
  Demo demo;
  const auto c = demo.ready();
  for (auto _ : state)
    benchmark::DoNotOptimize(starvation::starvation_map(*c->car, c->course, {.levels = 40}));
  state.counters["lap_s"] = demo.lap.duration();
  state.counters["samples"] = static_cast<double>(demo.lap.size());
}
BENCHMARK(map_of_forty_levels)->Unit(benchmark::kMillisecond)->UseRealTime();

/// Clean level of one setup on one lap: what an edit waits for. Its line's volume is another each time, so
/// that nothing is kept of it.
void clean_level(benchmark::State& state) {
  Demo demo;
  for (auto _ : state) {
    demo.project.setups[0].line_hold += 1e-9;
    benchmark::DoNotOptimize(solve::lap_result(demo.project, demo.resolved(), *demo.sources));
  }
}
BENCHMARK(clean_level)->Unit(benchmark::kMillisecond)->UseRealTime();

/// What an edit of the setup shows first: 150 ms. The tank is as it was; its argument is the setup.
void first_answer(benchmark::State& state) {
  Demo demo;
  const auto setup = static_cast<size_t>(state.range(0));
  for (auto _ : state) {
    demo.project.setups[setup].line_hold += 1e-9;
    benchmark::DoNotOptimize(solve::first_answer(demo.project, demo.resolved(setup), *demo.sources));
  }
}
BENCHMARK(first_answer)->Arg(0)->Arg(1)->Unit(benchmark::kMillisecond)->UseRealTime();

/// The clean level's band by the model's own ranges.
void model_band(benchmark::State& state) {
  Demo demo;
  const auto c = demo.ready();
  const double clean = starvation::clean_level(*c->car, c->course).level;
  for (auto _ : state) benchmark::DoNotOptimize(starvation::model_band(*c->car, c->course, clean));
}
BENCHMARK(model_band)->Unit(benchmark::kMillisecond)->UseRealTime();

/// The plan of eight sessions with 20,000 draws each, stints and readings with them, once the map is there: 1
/// s.
void plan_of_eight_sessions(benchmark::State& state) {
  Demo demo;
  const auto lap =
      solve::lap_result(demo.project, demo.resolved(), *demo.sources, {.detail = solve::Detail::band});
  for (auto _ : state)
    for (size_t k = 0; k < 8; ++k)
      benchmark::DoNotOptimize(solve::plan_session(lap, demo.project.sessions[k % 4]));
}
BENCHMARK(plan_of_eight_sessions)->Unit(benchmark::kMillisecond)->UseRealTime();

/// The surge tank's curve: nine lift flows, two returns.
void surge_curve(benchmark::State& state) {
  Demo demo;
  const auto c = demo.ready();
  for (auto _ : state) benchmark::DoNotOptimize(sizing::size_surge(*c->car, {&c->course}, 2.7e-3));
}
BENCHMARK(surge_curve)->Unit(benchmark::kMillisecond)->UseRealTime();

void one_lap_at_one_level(benchmark::State& state) {
  Demo demo;
  const auto c = demo.ready();
  for (auto _ : state) benchmark::DoNotOptimize(starvation::run_level(*c->car, c->course, 0.02));
}
BENCHMARK(one_lap_at_one_level)->Unit(benchmark::kMillisecond);

/// The planar model along the demo's lap, as it is (tank and collector): the design asks for 1500 times
/// faster than real time.
void planar_lap(benchmark::State& state) {
  Demo demo;
  const auto car = solve::compile(demo.project.setups[0], *demo.sources);
  const auto trace = lap::force_trace(demo.lap);
  for (auto _ : state) {
    slosh::FuelMotion fuel(*car.tank, car.pickups, 0.02, starvation::motion_options(car, true));
    fuel.begin(trace.force.front());
    for (size_t i = 1; i < trace.time.size(); ++i) fuel.move(trace, trace.time[i - 1], trace.time[i]);
    benchmark::DoNotOptimize(fuel.volume(0));
  }
  state.counters["times_real"] = benchmark::Counter(
      demo.lap.duration() * static_cast<double>(state.iterations()), benchmark::Counter::kIsRate);
}
BENCHMARK(planar_lap)->Unit(benchmark::kMillisecond);

/// The same lap in a box of four spaces behind two crossing baffles with a hole each way: 60 ms on one core.
void planar_lap_of_four_spaces(benchmark::State& state) {
  Demo demo;
  tank::TankParts parts;
  parts.shapes = {tank::Box{{-0.23, -0.325, 0}, {0.23, 0.325, 0.24}}};
  for (int k = 0; k < 2; ++k) {
    tank::Baffle b{
        .name = k ? "along" : "cross", .normal = k ? Vec3(Vec3::UnitY()) : Vec3(Vec3::UnitX()), .top = 0.2};
    for (double side : {-0.12, 0.12})
      b.openings.push_back({.name = side < 0 ? "hole" : "other hole",
                            .form = tank::OpeningForm::round,
                            .at = k ? Vec3(side, 0, 0.03) : Vec3(0, side, 0.03),
                            .diameter = 0.04});
    parts.baffles.push_back(b);
  }
  parts.vent = tank::Vent{{0.1, 0.1, 0.239}};
  const tank::Tank tank = tank::assemble(parts).tank;
  const std::vector<tank::Pickup> none;
  const auto trace = lap::force_trace(demo.lap);
  for (auto _ : state) {
    slosh::FuelMotion fuel(tank, none, 0.02, {.start = slosh::Start::settled});
    fuel.begin(trace.force.front());
    for (size_t i = 1; i < trace.time.size(); ++i) fuel.move(trace, trace.time[i - 1], trace.time[i]);
    benchmark::DoNotOptimize(fuel.volume(0));
  }
  state.counters["spaces"] = static_cast<double>(tank.spaces.size());
  state.counters["times_real"] = benchmark::Counter(
      demo.lap.duration() * static_cast<double>(state.iterations()), benchmark::Counter::kIsRate);
}
BENCHMARK(planar_lap_of_four_spaces)->Unit(benchmark::kMillisecond);

/// Import (read, check, place) and compile of a mesh of 100,000 triangles, with its modes: 3 s.
void import_of_a_fine_mesh(benchmark::State& state) {
  const auto folder = std::filesystem::temp_directory_path();
  bench::fine_mesh(folder / "uadze-bench.stl", 320, 157);
  for (auto _ : state) {
    solve::TankStore tanks(folder);
    tank::TankParts parts;
    tank::MeshShape mesh;
    mesh.file = "uadze-bench.stl";
    mesh.mends = {"orient"};
    parts.shapes = {mesh};
    const auto made = tanks.assembled(parts);
    benchmark::DoNotOptimize(tanks.inertia(made->tank));
    state.counters["triangles"] = static_cast<double>(made->tank.whole.triangles().size());
  }
  std::filesystem::remove(folder / "uadze-bench.stl");
}
BENCHMARK(import_of_a_fine_mesh)->Unit(benchmark::kMillisecond)->UseRealTime();

/// Modes of the demo's tank for the planar model: what a change of geometry waits for in the background.
void tank_inertia(benchmark::State& state) {
  Demo demo;
  const auto made = demo.sources->tanks.assembled(demo.project.setups[0].tank);
  for (auto _ : state) benchmark::DoNotOptimize(slosh::tank_inertia(made->tank));
}
BENCHMARK(tank_inertia)->Unit(benchmark::kMillisecond);

void read_a_lap(benchmark::State& state) {
  const std::string file = std::string(UADZE_SOURCE_DIR) + "/demo/laps/brackenholt-p4.csv";
  for (auto _ : state) benchmark::DoNotOptimize(lap::read_lap(file));
}
BENCHMARK(read_a_lap)->Unit(benchmark::kMillisecond);

circuit::Case demo_circuit() {
  const Demo demo;
  return solve::circuit_case(demo.project.setups[0], demo.sources->catalogue(demo.project));
}

/// One operating point of the demo's circuit from cold, each at another demand: asked 1 ms.
void circuit_point(benchmark::State& state) {
  circuit::Case c = demo_circuit();
  double demand = 0;
  for (auto _ : state) {
    demand = std::fmod(demand + 37e-6, 60e-6);
    c.at.demand = demand;
    benchmark::DoNotOptimize(circuit::run(c));
  }
}
BENCHMARK(circuit_point)->Unit(benchmark::kMicrosecond);

/// 2,000 points of power with available flow: asked 0.5 s.
void circuit_sweep(benchmark::State& state) {
  const circuit::Case c = demo_circuit();
  std::vector<circuit::SweepLoad> loads;
  for (int k = 0; k < 2000; ++k) loads.push_back({.demand = 60e-6 * k / 2000});
  for (auto _ : state) benchmark::DoNotOptimize(circuit::sweep(c, {}, loads));
}
BENCHMARK(circuit_sweep)->Unit(benchmark::kMillisecond);

/// What limits the circuit, with the cost of every part.
void circuit_capacity(benchmark::State& state) {
  const circuit::Case c = demo_circuit();
  for (auto _ : state) benchmark::DoNotOptimize(circuit::capacity(c));
}
BENCHMARK(circuit_capacity)->Unit(benchmark::kMillisecond);

/// A text table of 20 channels and 256 MB, from the file to channels: 1 GB has 10 s. (A gigabyte by hand: the
/// same file four times over; the time goes with its length.)
void log_of_a_quarter_gigabyte(benchmark::State& state) {
  const auto file = std::filesystem::temp_directory_path() / "uadze-bench-log.csv";
  {
    std::ofstream out(file);
    out << "Time [s],Speed [km/h],Lateral Acc [g],Longitudinal Acc [g],Fuel Pressure [bar]";
    for (int c = 0; c < 15; ++c) out << ",Channel " << c << " [V]";
    out << '\n';
    std::string cells;
    for (int c = 0; c < 19; ++c) cells += "," + std::to_string(10 + c * 1.37).substr(0, 6);
    for (int i = 0; out.tellp() < std::streampos{256} << 20; ++i)
      out << i / 1000 << '.' << i / 100 % 10 << i / 10 % 10 << i % 10 << cells << '\n';
  }
  for (auto _ : state) benchmark::DoNotOptimize(log::read_log(file).value.log.size());
  state.counters["MB/s"] = benchmark::Counter(static_cast<double>(std::filesystem::file_size(file)) * 1e-6,
                                              benchmark::Counter::kIsIterationInvariantRate);
  std::filesystem::remove(file);
}
BENCHMARK(log_of_a_quarter_gigabyte)->Unit(benchmark::kMillisecond)->UseRealTime()->Iterations(3);

}  // namespace
}  // namespace uadze

BENCHMARK_MAIN();
