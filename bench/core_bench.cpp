// Speeds that the issues ask for. Run: build/release/bench/core_bench
#include <benchmark/benchmark.h>

#include <cmath>
#include <numbers>

#include "bench/fine_mesh.h"
#include "core/circuit/analysis.h"
#include "core/project/circuit_case.h"
#include "core/sizing/surge_size.h"
#include "core/slosh/modes.h"
#include "core/slosh/motion.h"

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

struct Demo {
  project::TankStore tanks;
  project::Opened opened =
      project::open_project(std::string(UADZE_SOURCE_DIR) + "/demo/ostrel-p4.uadze.json", &tanks);
  project::LapStore laps{opened.file.path.parent_path()};
  project::LapStore::Entry lap = laps.get(opened.project.laps[0]);
  project::LapCase ready(size_t setup = 0) {
    return project::lap_case(opened.project, opened.project.setups[setup], opened.project.laps[0], laps,
                             tanks);
  }
};

/// 40 levels of the demo's 95 s lap at 50 Hz by the planar model, coupled to circuit, surge tank, line and
/// rail, on two cores: 3 s.
void map_of_forty_levels(benchmark::State& state) {
  Demo demo;
  const project::LapCase c = demo.ready();
  for (auto _ : state) benchmark::DoNotOptimize(starvation::starvation_map(*c.car, c.course, {.levels = 40}));
  state.counters["lap_s"] = demo.lap->value.duration();
  state.counters["samples"] = static_cast<double>(demo.lap->value.size());
}
BENCHMARK(map_of_forty_levels)->Unit(benchmark::kMillisecond)->UseRealTime();

/// Clean level of one setup on one lap: what an edit waits for.
void clean_level(benchmark::State& state) {
  Demo demo;
  for (auto _ : state)
    benchmark::DoNotOptimize(project::solve_lap(demo.opened.project, demo.opened.project.setups[0],
                                                demo.opened.project.laps[0], demo.laps, demo.tanks));
}
BENCHMARK(clean_level)->Unit(benchmark::kMillisecond)->UseRealTime();

/// What an edit of the setup shows first: 150 ms. The tank is as it was; its argument is the setup.
void coarse_answer(benchmark::State& state) {
  Demo demo;
  const auto& setup = demo.opened.project.setups[static_cast<size_t>(state.range(0))];
  for (auto _ : state) {
    const auto lap = project::solve_lap(demo.opened.project, setup, demo.opened.project.laps[0], demo.laps,
                                        demo.tanks, {.detail = project::Detail::coarse});
    benchmark::DoNotOptimize(
        project::plan_session(lap, demo.opened.project.sessions[0], {.risk = {}, .draws = 2000}));
  }
}
BENCHMARK(coarse_answer)->Arg(0)->Arg(1)->Unit(benchmark::kMillisecond)->UseRealTime();

/// The clean level's band by the model's own ranges.
void model_band(benchmark::State& state) {
  Demo demo;
  const project::LapCase c = demo.ready();
  const double clean = starvation::clean_level(*c.car, c.course).level;
  for (auto _ : state) benchmark::DoNotOptimize(starvation::model_band(*c.car, c.course, clean));
}
BENCHMARK(model_band)->Unit(benchmark::kMillisecond)->UseRealTime();

/// The plan of eight sessions with 20,000 draws each, stints and readings with them, once the map is there: 1
/// s.
void plan_of_eight_sessions(benchmark::State& state) {
  Demo demo;
  const auto lap =
      project::solve_lap(demo.opened.project, demo.opened.project.setups[0], demo.opened.project.laps[0],
                         demo.laps, demo.tanks, {.detail = project::Detail::band});
  for (auto _ : state)
    for (size_t k = 0; k < 8; ++k)
      benchmark::DoNotOptimize(project::plan_session(lap, demo.opened.project.sessions[k % 4]));
}
BENCHMARK(plan_of_eight_sessions)->Unit(benchmark::kMillisecond)->UseRealTime();

/// The surge tank's curve: nine lift flows, two returns.
void surge_curve(benchmark::State& state) {
  Demo demo;
  const project::LapCase c = demo.ready();
  for (auto _ : state) benchmark::DoNotOptimize(sizing::size_surge(*c.car, {&c.course}, 2.7e-3));
}
BENCHMARK(surge_curve)->Unit(benchmark::kMillisecond)->UseRealTime();

void one_lap_at_one_level(benchmark::State& state) {
  Demo demo;
  const project::LapCase c = demo.ready();
  for (auto _ : state) benchmark::DoNotOptimize(starvation::run_level(*c.car, c.course, 0.02));
}
BENCHMARK(one_lap_at_one_level)->Unit(benchmark::kMillisecond);

/// The planar model along the demo's lap, as it is (tank and collector): the design asks for 1500 times
/// faster than real time.
void planar_lap(benchmark::State& state) {
  Demo demo;
  const auto car = project::compile(demo.opened.project.setups[0], demo.tanks);
  const auto trace = lap::force_trace(demo.lap->value);
  for (auto _ : state) {
    slosh::FuelMotion fuel(*car.tank, car.pickups, 0.02, starvation::motion_options(car, true));
    fuel.begin(trace.force.front());
    for (size_t i = 1; i < trace.time.size(); ++i) fuel.move(trace, trace.time[i - 1], trace.time[i]);
    benchmark::DoNotOptimize(fuel.volume(0));
  }
  state.counters["times_real"] = benchmark::Counter(
      demo.lap->value.duration() * static_cast<double>(state.iterations()), benchmark::Counter::kIsRate);
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
                            .form = tank::Form::round,
                            .at = k ? Vec3(side, 0, 0.03) : Vec3(0, side, 0.03),
                            .diameter = 0.04});
    parts.baffles.push_back(b);
  }
  parts.vent = tank::Vent{{0.1, 0.1, 0.239}};
  const tank::Tank tank = tank::assemble(parts).tank;
  const std::vector<tank::Pickup> none;
  const auto trace = lap::force_trace(demo.lap->value);
  for (auto _ : state) {
    slosh::FuelMotion fuel(tank, none, 0.02, {.start = slosh::Start::settled});
    fuel.begin(trace.force.front());
    for (size_t i = 1; i < trace.time.size(); ++i) fuel.move(trace, trace.time[i - 1], trace.time[i]);
    benchmark::DoNotOptimize(fuel.volume(0));
  }
  state.counters["spaces"] = static_cast<double>(tank.spaces.size());
  state.counters["times_real"] = benchmark::Counter(
      demo.lap->value.duration() * static_cast<double>(state.iterations()), benchmark::Counter::kIsRate);
}
BENCHMARK(planar_lap_of_four_spaces)->Unit(benchmark::kMillisecond);

/// Import (read, check, place) and compile of a mesh of 100,000 triangles, with its modes: 3 s.
void import_of_a_fine_mesh(benchmark::State& state) {
  const auto folder = std::filesystem::temp_directory_path();
  bench::fine_mesh(folder / "uadze-bench.stl", 320, 157);
  for (auto _ : state) {
    project::TankStore tanks;
    tank::TankParts parts;
    tank::MeshShape mesh;
    mesh.file = "uadze-bench.stl";
    mesh.mends = {"orient"};
    parts.shapes = {mesh};
    tanks.read_meshes(parts, folder);
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
  const auto made = demo.tanks.assembled(demo.opened.project.setups[0].tank);
  for (auto _ : state) benchmark::DoNotOptimize(slosh::tank_inertia(made->tank));
}
BENCHMARK(tank_inertia)->Unit(benchmark::kMillisecond);

void read_a_lap(benchmark::State& state) {
  const std::string file = std::string(UADZE_SOURCE_DIR) + "/demo/laps/brackenholt-p4.csv";
  for (auto _ : state) benchmark::DoNotOptimize(lap::read_lap(file));
}
BENCHMARK(read_a_lap)->Unit(benchmark::kMillisecond);

circuit::Case demo_circuit() {
  const auto opened = project::open_project(std::string(UADZE_SOURCE_DIR) + "/demo/ostrel-p4.uadze.json");
  return project::circuit_case(opened.project, opened.project.setups[0]);
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
  std::vector<double> demands;
  for (int k = 0; k < 2000; ++k) demands.push_back(60e-6 * k / 2000);
  for (auto _ : state) benchmark::DoNotOptimize(circuit::sweep(c, {}, demands));
}
BENCHMARK(circuit_sweep)->Unit(benchmark::kMillisecond);

/// What limits the circuit, with the cost of every part.
void circuit_capacity(benchmark::State& state) {
  const circuit::Case c = demo_circuit();
  for (auto _ : state) benchmark::DoNotOptimize(circuit::capacity(c));
}
BENCHMARK(circuit_capacity)->Unit(benchmark::kMillisecond);

}  // namespace
}  // namespace uadze

BENCHMARK_MAIN();
