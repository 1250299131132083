// What the resolved solver costs, and how near it comes to a general two-phase solver's references.
//   build/dev/bench/resolved box        the box that is thrown, at 15 and 10 mm, one core and two
//   build/dev/bench/resolved lap        the P4's lap at 12 L and 15 mm, two cores
//   build/dev/bench/resolved gather     a study's table from 10,000 made-up results
//   build/dev/bench/resolved reference  against tests/data/two-phase/*.csv
//   build/dev/bench/resolved thin       a slice of it at several cells against a reference of 5 mm
#include <fmt/format.h>
#include <sys/resource.h>
#include <tbb/global_control.h>
#include <unistd.h>

#include <chrono>
#include <cmath>
#include <fstream>
#include <sstream>

#include "core/base/files.h"
#include "core/resolved/fuel.h"
#include "core/solve/open.h"
#include "core/solve/resolved_run.h"
#include "core/solve/study.h"
#include "core/tank/shape.h"

using namespace uadze;

namespace {

constexpr double g = standard_gravity;

double now() {
  return std::chrono::duration<double>(std::chrono::steady_clock::now().time_since_epoch()).count();
}

double core_seconds() {
  rusage used{};
  getrusage(RUSAGE_SELF, &used);
  return static_cast<double>(used.ru_utime.tv_sec + used.ru_stime.tv_sec) +
         1e-6 * static_cast<double>(used.ru_utime.tv_usec + used.ru_stime.tv_usec);
}

/// A box with fuel up to a level, at rest.
struct Thrown {
  tank::Tank tank;
  resolved::Fuel fuel;
  Thrown(const Vec3& size, double level, double cell, const resolved::FuelOptions& options = {})
      : tank(tank::plain_tank(make_solid(tank::Box{{0, 0, 0}, size}))),
        fuel(tank,
             std::make_shared<const resolved::Lattice>(resolved::make_lattice(tank, {}, {.size = cell})),
             options) {
    fuel.fill({{Vec3::UnitZ(), level}}, {size.x() * size.y() * level});
  }
  Thrown(const Thrown&) = delete;
};

void box() {
  for (const double cell : {0.015, 0.010}) {
    double one = 0;
    for (const size_t threads : {size_t{1}, size_t{2}}) {
      const tbb::global_control limit(tbb::global_control::max_allowed_parallelism, threads);
      Thrown t({0.50, 0.56, 0.22}, 0.27 * 0.22, cell);
      const double begin = now(), cores = core_seconds();
      for (int k = 0; k < 100; ++k)
        t.fuel.advance(0.02, {.gravity = k < 50 ? Vec3(0, -1.5 * g, -g) : Vec3(1.5 * g, 0, -g)});
      const double took = now() - begin;
      if (threads == 1) one = took;
      fmt::print("{:.0f} mm, {} thread(s): {:.2f} core seconds a second, {:.2f} s of the clock{}\n",
                 cell * 1e3, threads, (core_seconds() - cores) / 2, took / 2,
                 threads == 2 ? fmt::format(", {:.2f} times one", one / took) : std::string());
      std::fflush(stdout);
    }
  }
}

void whole_lap() {
  solve::Sources sources(std::string(UADZE_SOURCE_DIR) + "/demo");
  const auto opened =
      solve::open_project(std::string(UADZE_SOURCE_DIR) + "/demo/ostrel-p4.uadze.json", sources);
  const auto job = solve::resolved_job(opened.project, {.alone = true}, {.level = 12e-3}, sources);
  const auto input = job.input();
  const double begin = now(), cores = core_seconds();
  const auto ran = resolved::run(input, job.options);
  const double took = now() - begin;
  rusage used{};
  getrusage(RUSAGE_SELF, &used);
  const auto agree = solve::agreement(ran, solve::fast_beside(job, ran));
  fmt::print("{}: {:.1f} s in {:.1f} s ({:.1f} core seconds), {} steps, filled within {:.2f} %, {} MB\n{}\n",
             job.driven, ran.samples.back().time, took, core_seconds() - cores, ran.steps.steps,
             100 * ran.worst_filled, used.ru_maxrss / 1024, verdict(agree, job.car.pickups).in());
}

/// Rows of a two-phase solver's run: time [s], centroid x y z [m], corners of the floor (x low y low, x high
/// y low, x low y high, x high y high) as shares of fuel; and what it was driven by.
struct Reference {
  std::string name;
  Vec3 size;
  double level = 0.0;
  std::vector<std::pair<double, Vec3>> push;   ///< until a time: m/s2
  std::vector<std::array<double, 8>> rows[2];  ///< its coarse grid, its fine one
  double cost[2]{};                            ///< core seconds a second
};

std::vector<std::array<double, 8>> rows_of(const std::string& file) {
  std::vector<std::array<double, 8>> out;
  std::istringstream in(read_file(std::string(UADZE_SOURCE_DIR) + "/tests/data/two-phase/" + file));
  std::string line;
  while (std::getline(in, line)) {
    if (line.empty() || !std::isdigit(static_cast<unsigned char>(line[0]))) continue;
    std::array<double, 8> row{};
    std::replace(line.begin(), line.end(), ',', ' ');
    std::istringstream cells(line);
    cells.imbue(std::locale::classic());
    for (double& v : row) cells >> v;
    out.push_back(row);
  }
  return out;
}

void apart(const std::string& what, const std::vector<std::array<double, 8>>& a,
           const std::vector<std::array<double, 8>>& b) {
  double sum = 0, early = 0, most = 0, alike = 0, all = 0;
  size_t n = 0, of_early = 0;
  for (const auto& x : a)
    for (const auto& y : b) {
      if (std::abs(x[0] - y[0]) > 1e-6 || x[0] < 1e-6) continue;
      double d = 0;
      for (size_t k = 1; k < 4; ++k) d += (x[k] - y[k]) * (x[k] - y[k]);
      sum += d, most = std::max(most, std::sqrt(d)), ++n;
      if (x[0] < 0.41) early += d, ++of_early;
      for (size_t k = 4; k < 8; ++k) alike += (x[k] > 0.5) == (y[k] > 0.5), ++all;
    }
  fmt::print(
      "  {:<34} centroid {:.1f} mm rms, {:.1f} until 0.4 s, {:.1f} at the most; corners alike in {:.1f} %\n",
      what, 1e3 * std::sqrt(sum / static_cast<double>(n)),
      1e3 * std::sqrt(early / static_cast<double>(of_early)), 1e3 * most, 100 * alike / all);
}

/// A slice of the thrown box at several cells, against a two-phase calculation at 5 mm: how far the middle
/// is, over four starts, and the energy that is lost.
void thin() {
  std::vector<std::array<double, 3>> rows;
  for (const auto& row : rows_of("thrown-thin-5mm.csv")) rows.push_back({row[0], row[1], row[2]});
  const Vec3 push(0, -1.5 * g, -g);
  const double level = 0.27 * 0.22;
  for (const double cell : {0.020, 0.015, 0.010, 0.005}) {
    const int starts = 4;
    std::vector<std::array<double, 3>> mean(rows.size(), std::array<double, 3>{});
    for (int start = 0; start < starts; ++start) {
      Thrown t({2 * cell, 0.56, 0.22}, level * (1 + 1e-5 * start), cell, {.sealed = true});
      const Vec3 begin = t.fuel.state().centroid;
      for (auto& m : mean) {
        t.fuel.advance(0.05, {.gravity = push});
        const auto s = t.fuel.state();
        const double energy = s.energy / (745 * s.volume) - push.dot(s.centroid - begin);
        m[0] += s.centroid.y() / starts, m[1] += s.centroid.z() / starts, m[2] += energy / starts;
      }
    }
    fmt::print("{:.0f} mm:", 1e3 * cell);
    for (size_t k = 3; k < mean.size(); ++k)
      fmt::print("  {:.2f} s {:+.0f} {:+.0f} mm {:+.2f} J/kg", rows[k][0], 1e3 * (mean[k][0] - rows[k][1]),
                 1e3 * (mean[k][1] - rows[k][2]), mean[k][2]);
    fmt::print("\n");
    std::fflush(stdout);
  }
}

void reference() {
  std::vector<Reference> all;
  all.push_back({"thrown",
                 {0.50, 0.56, 0.22},
                 0.27 * 0.22,
                 {{1.0, Vec3(0, -1.5 * g, -g)}, {2.0, Vec3(1.5 * g, 0, -g)}},
                 {},
                 {}});
  Reference drive{"driven", {0.50, 0.56, 0.30}, 0.06, {}, {}, {}};
  for (const auto& [t, x, y] : std::vector<std::tuple<double, double, double>>{{.05, .125, 0},
                                                                               {.1, .375, 0},
                                                                               {.15, .625, 0},
                                                                               {.2, .875, 0},
                                                                               {.8, 1, 0},
                                                                               {.85, .875, -.15},
                                                                               {.9, .625, -.45},
                                                                               {.95, .375, -.75},
                                                                               {1, .125, -1.05},
                                                                               {1.8, 0, -1.2},
                                                                               {1.85, -.0625, -1.05},
                                                                               {1.9, -.1875, -.75},
                                                                               {1.95, -.3125, -.45},
                                                                               {2, -.4375, -.15},
                                                                               {2.4, -.5, 0}})
    drive.push.emplace_back(t, Vec3(x * g, y * g, -g));
  all.push_back(drive);
  for (Reference& r : all) {
    r.rows[0] = rows_of(r.name + "-15mm.csv"), r.rows[1] = rows_of(r.name + "-10mm.csv");
    fmt::print("{}\n", r.name);
    apart("its grids of 15 and 10 mm", r.rows[0], r.rows[1]);
    for (const double cell : {0.015, 0.010}) {
      Thrown t(r.size, r.level, cell, {.sealed = true});
      const double cores = core_seconds();
      std::vector<std::array<double, 8>> ours;
      size_t k = 0;
      for (int step = 0; k < r.push.size(); ++step) {
        const double time = 0.05 * step;
        const auto s = t.fuel.state();
        const auto& lattice = t.fuel.lattice();
        const int a = lattice.axis[0].cells, b = lattice.axis[1].cells;
        const auto corner = [&](int i, int j) {
          return t.fuel.share()[static_cast<size_t>(lattice.index(i, j, 1))];
        };
        ours.push_back({time, s.centroid.x(), s.centroid.y(), s.centroid.z(), corner(1, 1), corner(a, 1),
                        corner(1, b), corner(a, b)});
        t.fuel.advance(0.05, {.gravity = r.push[k].second});
        if (time + 0.05 > r.push[k].first - 1e-6) ++k;
      }
      fmt::print("  at {:.0f} mm: {:.2f} core seconds a second\n", cell * 1e3,
                 (core_seconds() - cores) / ours.back()[0]);
      apart("    against its 15 mm", ours, r.rows[0]);
      apart("    against its 10 mm", ours, r.rows[1]);
      std::fflush(stdout);
    }
  }
}

void gather() {
  const auto folder = std::filesystem::temp_directory_path() / fmt::format("uadze-gather-{}", ::getpid());
  std::filesystem::create_directories(folder);
  nlohmann::ordered_json json;
  json["undertow_adze_study"] = 1;
  json["project"] = std::string(UADZE_SOURCE_DIR) + "/demo/ostrel-p4.uadze.json";
  json["vary"] = {{{"name", "pickup"}, {"values", nlohmann::ordered_json::array()}}};
  for (int k = 0; k < 20; ++k)
    json["vary"][0]["values"].push_back({{"name", fmt::format("{} mm back", k)},
                                         {"set", {{"tank/pickups/0/position_mm", {-150 - k, 60, 6}}}}});
  for (int k = 0; k < 50; ++k) json["level_l"].push_back(2 + 0.5 * k);
  for (int k = 0; k < 5; ++k) json["grip"].push_back(0.9 + 0.05 * k);
  json["cases"] = {{{"manoeuvre", "braking"}}, {{"manoeuvre", "launch"}}};
  write_file_atomically(folder / "s.json", json.dump(1));
  const auto study = solve::read_study(folder / "s.json");
  for (int n = 1; n <= study.tasks(); ++n) {
    const auto task = solve::task_of(study, n);
    std::ofstream(solve::result_file(folder, n))
        << solve::result_text({.number = n,
                               .key = "made up",
                               .choice = choice_name(study, task),
                               .of_case = study.cases[task.case_].name,
                               .model = task.model,
                               .level = task.level,
                               .bare = 0.001 * n,
                               .longest = 0.0005 * n});
  }
  const double begin = now();
  const auto trusted = solve::gather(study, folder, false);
  const double middle = now();
  const auto looked_at = solve::gather(study, folder);
  fmt::print("{} results: {:.2f} s; with every key looked at {:.2f} s ({} passed over)\n",
             trusted.results.size(), middle - begin, now() - middle, looked_at.passed_over.size());
  std::filesystem::remove_all(folder);
}

}  // namespace

int main(int count, char** args) {
  const std::string what = count > 1 ? args[1] : "box";
  if (what == "box") box();
  if (what == "lap") whole_lap();
  if (what == "reference") reference();
  if (what == "thin") thin();
  if (what == "gather") gather();
  return 0;
}
