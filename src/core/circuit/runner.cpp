#include "core/circuit/runner.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <limits>

#include "core/base/root.h"

namespace uadze::circuit {
namespace {

/// "feed line, part 2" for a member of one of the circuit's parts; "circuit" for others.
std::string words_for(const ValuePlace& at, const Case& c) {
  for (const LegPlace& place : legs_of(c.circuit, c.surroundings))
    if (const Leg* leg = leg_at(c.circuit, place))
      for (size_t i = 0; i < leg->size(); ++i) {
        const auto* begin = reinterpret_cast<const char*>(&(*leg)[i]);
        const auto* address = static_cast<const char*>(at.address);
        if (address >= begin && address < begin + sizeof(Part))
          return fmt::format("{}, part {}", place.title(c.circuit), i + 1);
      }
  return "circuit";
}

AerationInput falling_return(const Case& c, const State& s) {
  AerationInput out{.flow = s.regulator.flow, .fall = c.circuit.return_fall, .foam = c.surroundings.foam};
  const Leg& back = c.circuit.back;
  for (size_t i = 0; i < back.size(); ++i) {
    if (const double bore = bore_of(back, i, *c.catalogue); bore > 0) out.bore = bore;
    out.diffuser = out.diffuser || back[i].kind == PartKind::diffuser;
  }
  const Surroundings& around = c.surroundings;
  const bool to_surge = around.surge && around.return_to == ReturnTo::surge_tank;
  if (to_surge) out.foam = false;
  const double by_volume = std::pow(to_surge ? around.surge_volume : around.tank_volume, 2.0 / 3);
  out.surface = to_surge && around.surge_area > 0 ? around.surge_area : by_volume;
  out.drawn = around.surge && !to_surge ? s.surge.lift : s.delivered;
  out.bubble_rise = around.bubble_rise;
  out.gravity = std::max(c.at.force.norm(), 1.0);
  return out;
}

}  // namespace

Runner::Runner(Case c) : case_(std::move(c)) {
  // A circuit that came from a project was checked there, with its place in the file; here words must do.
  Messages messages;
  for (const Fault& f : circuit_faults(case_.circuit, case_.surroundings, *case_.catalogue))
    messages.push_back({f.severity, "", words_for(f.at, case_), f.expected, f.found});
  if (has_errors(messages)) throw InputError(std::move(messages));
  spring_ = case_.at.spring.value_or(regulator_spring(case_));
}

const Built& Runner::ready(std::optional<Built>& built, const BuildOptions& options) {
  if (!case_.at.spring) case_.at.spring = spring_;
  if (case_.at.filter_load != filter_load_) open_.reset(), shut_.reset();
  filter_load_ = case_.at.filter_load;
  if (built)
    set_point(*built, case_, options);
  else
    built = build(case_, options);
  return *built;
}

State Runner::run(const State* start, Tell tell) {
  const auto solved = [&](const Solution* from) {
    const Built& built = ready(open_, {});
    return reading(case_, built, solve(built.network, built.liquid, from), tell);
  };
  State out = solved(start ? &start->solution : nullptr);
  if (!case_.circuit.return_above_fuel || case_.circuit.return_fall <= 0) return out;
  // The return's gas lets the pumps bring less, and so less come back: twice is near enough for an estimate.
  const PointKept kept(*this);
  for (int k = 0; k < 2 && out.solution.converged; ++k) {
    const AerationInput falls = falling_return(case_, out);
    const Aeration now = aeration(falls);
    case_.at.gas = now.share;
    if (now.share > 1e-6) out = solved(&out.solution);
    out.falls = falls;
    out.aeration = now;
  }
  if (tell == Tell::all && out.aeration.share > 0.005) {
    Finding f{.severity = Severity::warning, .leg = {LegKind::back, 0}, .part = -1, .text = {}};
    f.text = {
        "The return falls {} and draws gas down: an estimated {} of what is pumped from there is gas. "
        "Lead it under the level, or through a diffuser.",
        {{case_.circuit.return_fall, Quantity::length}, {out.aeration.share, Quantity::fraction}}};
    out.findings.push_back(std::move(f));
  }
  return out;
}

double Runner::spare(double demand, Solution& last) {
  case_.at.demand = demand;
  const Built& b = ready(shut_, {.relief = false});
  Solution now = solve(b.network, b.liquid, last.pressure.empty() ? nullptr : &last);
  if (!now.converged) return -1e9;
  const auto at = [&](int node) { return now.pressure[static_cast<size_t>(node)]; };
  // Without a regulator nothing holds the pressure down.
  double out = 0,
         held = case_.circuit.regulator.type.empty() ? std::numeric_limits<double>::infinity() : b.spring;
  if (b.reducer >= 0)
    held -= std::get<Reducer>(b.network.branches[static_cast<size_t>(b.reducer)].law).slope * demand;
  switch (case_.circuit.engine_supply) {
    case EngineSupply::returned:
      out = at(b.sense) - held;
      break;
    case EngineSupply::returnless:
      // The regulator sits before the line: what counts is what arrives behind it.
      out = at(b.entry) - held;
      break;
    case EngineSupply::high_pressure:
      out = std::min(at(b.entry), held) - b.ambient - case_.circuit.high_pressure.least_inlet;
      break;
    case EngineSupply::carburettor:
      out = std::min(at(b.entry), held) - b.ambient -
            drop(Element{orifice(0.61, case_.circuit.carburettor.seat)}, demand, b.liquid).value;
      break;
  }
  last = std::move(now);
  return out;
}

double Runner::available() {
  const PointKept kept(*this);
  case_.at.mains_on = mains_running(case_);
  Solution last;
  double low = 0, high = 20e-6;
  double at_low = spare(low, last), at_high = 0;
  if (at_low < 0) return 0.0;
  while ((at_high = spare(high, last)) >= 0) {
    low = high, at_low = at_high;
    high *= 2;
    if (high > 0.05) return high;
  }
  // Within a pascal is as good as on it.
  const auto pressed = [&](double demand) {
    const double value = spare(demand, last);
    return std::abs(value) < 1.0 ? 0.0 : value;
  };
  return root_between(pressed, low, high, at_low, at_high, 1e-12, 100).value;
}

State run(const Case& c, const State* start) { return Runner(c).run(start); }

double available_flow(const Case& c) { return Runner(c).available(); }

}  // namespace uadze::circuit
