#include "core/circuit/shortfall.h"

#include <algorithm>
#include <cmath>

#include "core/base/root.h"
#include "core/circuit/build.h"

namespace uadze::circuit {
namespace {

/// m3/s through an open needle.
double needle_passes(const Case& c, const State& s) {
  return s.solution.converged && s.rail_difference > 0
             ? 0.61 * area(c.circuit.carburettor.seat) * std::sqrt(2 * s.rail_difference / s.liquid.density)
             : 0.0;
}

Finding bowl_finding(const Case& c, const Shortfall& s) {
  Finding out;
  out.severity = Severity::error;
  out.leg = {LegKind::feed, 0};
  out.text = {s.burnt > 0 ? "The needle passes {} of the {} that are burnt: the bowl lasts {}."
                          : "Nothing passes the needle ({} of {}): the bowl lasts {}.",
              {{s.burnt, Quantity::flow},
               {s.asked, Quantity::flow},
               {c.circuit.carburettor.bowl / (s.asked - s.burnt), Quantity::duration}}};
  return out;
}

/// What the circuit can give of the demand, and the state at that.
Met with_what_comes(Runner& runner, bool at_any_pressure, Tell tell) {
  const double demand = runner.at().demand;
  Met out;
  out.shortfall = Shortfall{
      .asked = demand, .burnt = std::min(runner.available(), demand), .at_any_pressure = at_any_pressure};
  const PointKept kept(runner);
  runner.at().mains_on = mains_running(runner.c());
  runner.at().demand = out.shortfall->burnt;
  out.state = runner.run(nullptr, tell);
  return out;
}

/// A bowl fills by what the needle passes: as much as the pump can bring through it.
Met needle_met(Runner& runner, State asked, Tell tell) {
  const Case& c = runner.c();
  if (needle_passes(c, asked) >= c.at.demand * (1 - 1e-9)) return {std::move(asked), {}};
  Met out = with_what_comes(runner, asked.solution.converged, tell);
  if (!(out.shortfall->burnt < c.at.demand * (1 - 1e-9))) return {std::move(asked), {}};
  if (tell == Tell::all)
    out.state.findings.insert(out.state.findings.begin(), bowl_finding(c, *out.shortfall));
  return out;
}

/// A high-pressure pump draws no more than comes to it at the pressure that it needs.
Met pump_fed(Runner& runner, State asked, Tell tell) {
  if (asked.solution.converged) return {std::move(asked), {}};
  Met out = with_what_comes(runner, false, tell);
  if (tell != Tell::all) return out;
  Finding f;
  f.severity = Severity::error;
  f.leg = {LegKind::feed, 0};
  f.text = {"Of {} that the engine asks for {} reach the high-pressure pump at the pressure that it needs.",
            {{out.shortfall->asked, Quantity::flow}, {out.shortfall->burnt, Quantity::flow}}};
  out.state.findings.insert(out.state.findings.begin(), std::move(f));
  return out;
}

bool is_met(const Case& c, const State& s) {
  const bool holds = c.pressure_corrected || s.regulator.mode != RegulatorMode::starved;
  return s.solution.converged && s.rail_difference > 0 && s.duty <= 1.0 + 1e-9 && holds;
}

/// m3/s through all injectors held open, at the difference that is set.
double open_at_set(const Case& c, const State& s) {
  const InjectorType& type = *find(c.catalogue->injectors, c.circuit.rail.injector);
  return static_cast<double>(s.injectors.size()) * type.flow *
         std::sqrt(std::max(s.difference_set, 0.0) / type.difference);
}

/// `open`: the share of the time that the injectors are.
Finding finding_of(const Shortfall& s, double open) {
  constexpr double little = 0.03;  // leaner: a usual limit, as the rich side's in findings.cpp
  Finding out;
  out.severity = s.lights() && s.leaner() - 1 <= little ? Severity::warning : Severity::error;
  out.leg = {LegKind::rail, 0};
  if (s.lights()) {
    out.text = {
        "Of {} that the engine asks for the injectors pass {}, open {} of the time at the pressure that "
        "is left: the mixture is {} leaner than set.",
        {{s.asked, Quantity::flow},
         {s.burnt, Quantity::flow},
         {open, Quantity::fraction},
         {s.leaner() - 1, Quantity::fraction}}};
    if (out.severity == Severity::error) out.text += " Less power, not this mixture, is safe.";
  } else if (s.burnt > 1e-3 * s.asked)
    out.text = {"The engine asks for {} and gets {}: no mixture that lights, it does not run.",
                {{s.asked, Quantity::flow}, {s.burnt, Quantity::flow}}};
  else
    out.text = {"The engine asks for {} and gets nothing: it does not run.", {{s.asked, Quantity::flow}}};
  return out;
}

}  // namespace

Met run_met(const Case& c, const State* start) {
  Runner runner(c);
  return run_met(runner, start);
}

Met run_met(Runner& runner, const State* start, Tell tell) {
  State asked = runner.run(start, tell);
  const Case& c = runner.c();
  const double demand = c.at.demand;
  if (c.circuit.engine_supply == EngineSupply::carburettor && demand > 0)
    return needle_met(runner, std::move(asked), tell);
  if (c.circuit.engine_supply == EngineSupply::high_pressure && demand > 0)
    return pump_fed(runner, std::move(asked), tell);
  if (asked.injectors.empty() || !(demand > 0) || is_met(c, asked)) return {std::move(asked), {}};
  const double at_set = open_at_set(c, asked);
  const double open = c.pressure_corrected || at_set <= 0 ? 1.0 : std::min(1.0, demand / at_set);
  const PointKept kept(runner);
  runner.at().mains_on = mains_running(c);
  State last;
  const State* from = nullptr;
  // m3/s that the injectors pass more than comes to them.
  const auto spare = [&](double q) {
    runner.at().demand = q;
    last = runner.run(from, Tell::figures);
    from = &last;
    return last.solution.converged && last.rail_difference > 0 ? open * q / last.duty - q : -q;
  };
  Met out;
  out.shortfall = Shortfall{.asked = demand,
                            .burnt = 0.0,
                            .at_any_pressure = asked.solution.converged && asked.rail_difference > 0};
  const double least = 1e-6 * demand, at_least = spare(least);
  if (at_least > 0) {
    const double at_most = spare(demand);
    out.shortfall->burnt =
        at_most >= 0 ? demand : root_between(spare, least, demand, at_least, at_most, 1e-13).value;
  }
  if (out.shortfall->burnt >= demand * (1 - 1e-9)) return {std::move(asked), {}};
  runner.at().demand = out.shortfall->burnt;
  out.state = runner.run(nullptr, tell);
  if (tell != Tell::all) return out;
  std::vector<Finding> said;
  // What can not flow at any pressure is told of the demand. All else is told of the state that is shown:
  // first what lacks, then what the engine has of it.
  if (!out.shortfall->at_any_pressure)
    for (const Finding& f : asked.findings)
      if (f.severity == Severity::error && said.empty()) said.push_back(f);
  if (said.empty() && out.state.regulator.mode == RegulatorMode::starved)
    for (const Finding& f : out.state.findings)
      if (f.severity == Severity::error && said.empty()) said.push_back(f);
  said.push_back(finding_of(*out.shortfall, open));
  const auto known = [&](const Finding& f) {
    return std::ranges::any_of(said, [&](const Finding& s) { return s.text.text == f.text.text; });
  };
  for (Finding& f : out.state.findings)
    if (!known(f)) said.push_back(std::move(f));
  out.state.findings = std::move(said);
  return out;
}

}  // namespace uadze::circuit
