// uadze circuit: the fuel circuit at an operating point or over a sweep.
#include <algorithm>
#include <cmath>

#include "cli/common.h"
#include "core/report/circuit_report.h"

namespace uadze::cli {
namespace {

/// Powers of a sweep, W.
std::vector<double> parse_sweep(const std::string& text) {
  const char* what = "--sweep: expected power:FROM:TO:STEP in kW, such as power:0:400:50";
  if (text.rfind("power:", 0) != 0) throw UsageError(what);
  std::string rest = text.substr(6);
  std::replace(rest.begin(), rest.end(), ':', ',');
  const auto n = parse_numbers(rest, 3, 1e5, what);
  if (!(n[2] > 0) || n[0] < 0 || n[1] < n[0] || (n[1] - n[0]) / n[2] > 1e5) throw UsageError(what);
  std::vector<double> out;
  for (int k = 0; n[0] + k * n[2] <= n[1] + 1e-9; ++k) out.push_back((n[0] + k * n[2]) * 1e3);
  return out;
}

std::optional<double> scaled(const std::optional<double>& value, double factor, double offset = 0.0) {
  return value ? std::optional(*value * factor + offset) : std::nullopt;
}

}  // namespace

void circuit_point(const CircuitOptions& options) {
  for (const auto& value : {options.power_kw, options.demand_l_h, options.manifold_kpa, options.supply_v,
                            options.fuel_c, options.altitude_m, options.level_l, options.throttle_percent,
                            options.rotation_rpm, options.filter_load_percent})
    if (value && !std::isfinite(*value))
      throw UsageError("circuit: expected numbers, found one that is none");
  if (options.power_kw && options.demand_l_h)
    throw UsageError("circuit: expected --power-kw or --demand-l-h, not both");
  const Job job = open_job(options.file);
  const project::Setup& setup = solve::chosen_setup(job.project(), options.setup);
  solve::PointOptions how{.power = scaled(options.power_kw, 1e3),
                          .demand = scaled(options.demand_l_h, 1e-3 / 3600),
                          .manifold = scaled(options.manifold_kpa, 1e3),
                          .supply = options.supply_v,
                          .temperature = scaled(options.fuel_c, 1, 273.15),
                          .altitude = options.altitude_m,
                          .throttle = scaled(options.throttle_percent, 0.01),
                          .rotation = scaled(options.rotation_rpm, 1.0 / 60),
                          .filter_load = scaled(options.filter_load_percent, 0.01),
                          .level = scaled(options.level_l, 1e-3)};
  if (!options.accel_g.empty()) how.acceleration = parse_acceleration(options.accel_g);
  for (const std::string& name : options.what_ifs) {
    const auto what = circuit::find_what_if(name);
    if (!what) {
      std::vector<std::string> names;
      for (const auto& w : circuit::what_ifs()) names.emplace_back(w.name);
      throw UsageError(
          fmt::format("--what-if: expected one of {}, found \"{}\"", fmt::join(names, ", "), name));
    }
    how.what_ifs.push_back(*what);
  }
  const solve::Case wanted{.setup = setup.name};
  const solve::CircuitPoint at = options.sweep.empty()
                                     ? solve::circuit_point(job.project(), wanted, how, *job.sources)
                                     : solve::circuit_point_case(job.project(), wanted, how, *job.sources);
  for (circuit::WhatIf what : at.without_effect)
    say({{Severity::warning, options.file,
          std::string("--what-if ") + circuit::what_ifs()[static_cast<size_t>(what)].name, "",
          "there is nothing here that it changes"}});
  if (!options.sweep.empty()) {
    const auto points = solve::power_sweep(setup, at.at, parse_sweep(options.sweep), at.manifold_follows);
    put(options.json ? report::sweep_json(setup, points).dump(2) + "\n" : report::sweep_csv(points));
    return;
  }
  if (!at.state.solution.converged)
    say({{Severity::warning, options.file, "circuit", "a steady state",
          "none found: " + at.state.solution.reason + "; what follows is not one"}});
  put(options.json ? report::point_json(at, setup, options.what_ifs).dump(2) + "\n"
                   : report::point_text(at, setup, units));
}

}  // namespace uadze::cli
