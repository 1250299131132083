#include "core/solve/garage.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "core/build/checks.h"
#include "core/solve/circuit_point.h"

namespace uadze::solve {
namespace {

const logbook::Reading* reading(const std::vector<logbook::Reading>& all, const std::string& what) {
  const auto at = std::find_if(all.begin(), all.end(), [&](const auto& r) { return r.what == what; });
  return at == all.end() ? nullptr : &*at;
}

/// "main 1" of "flow of main 1"; empty for other gates.
std::string pump_of(const std::string& gate) {
  const std::string begin = "flow of ";
  return gate.starts_with(begin) ? gate.substr(begin.size()) : std::string();
}

circuit::Part& part_at(circuit::Circuit& circuit, const circuit::LegPlace& leg, int part) {
  return circuit::leg_at(circuit, leg)->at(static_cast<size_t>(part));
}

circuit::Case at_volts(const circuit::Case& c, const std::vector<logbook::Reading>& readings) {
  circuit::Case out = c;
  if (const auto* volts = reading(readings, build::battery_reading);
      volts && volts->value > 1 && volts->value < 60)
    out.at.supply = volts->value;
  return out;
}

}  // namespace

InGarage in_garage(const project::Project& project, const project::Setup& setup,
                   std::shared_ptr<const circuit::Catalogue> catalogue,
                   const std::vector<logbook::Record>& records, Moment at) {
  InGarage out;
  out.at = circuit_case(setup, std::move(catalogue));
  out.garage = {.idle = setup.engine.idle_flow, .full = out.at.at.demand};
  auto order =
      build::work_order(out.at, setup.name, {project.own_steps, project.step_changes, project.scheme});
  out.steps = std::move(order.steps);
  out.refused = std::move(order.refused);
  out.items = build::order_list(out.at, out.steps, project.stock);
  out.findings = build::check(out.at, setup.keep_outs);
  out.gates = logbook::gate_states(build::commissioning(out.at, out.garage), setup.name, records, at);
  out.due = logbook::due_list(out.at, setup.name, records, at);
  out.readiness = logbook::readiness(out.gates, out.due);
  return out;
}

ReadyBySetup ready_by_setup(const project::Project& project,
                            std::shared_ptr<const circuit::Catalogue> catalogue,
                            const std::vector<logbook::Record>& records, Moment at) {
  ReadyBySetup out;
  for (const project::Setup& setup : project.setups)
    if (setup.circuit) out[setup.name] = in_garage(project, setup, catalogue, records, at).readiness;
  return out;
}

build::Gate gate_at_volts(const InGarage& in, const build::Gate& gate,
                          const std::vector<logbook::Reading>& readings) {
  const auto* volts = reading(readings, build::battery_reading);
  if (!volts) return gate;
  build::Garage garage = in.garage;
  garage.supply = at_volts(in.at, readings).at.supply;
  const auto gates = build::commissioning(in.at, garage);
  const build::Gate* out = build::find_gate(gates, gate.id);
  return out ? *out : gate;
}

logbook::Record with_verdict(const InGarage& in, const logbook::GateStatus& status, logbook::Record record,
                             Moment at) {
  logbook::GateStatus here = status;
  here.gate = gate_at_volts(in, status.gate, record.readings);
  for (logbook::Reading& r : record.readings)
    for (const build::Expected& e : here.gate.readings)
      if (e.what == r.what) r.expected = e.value, r.quantity = e.quantity;
  const build::Judgement judgement = logbook::judged(record, here, at);
  record.subject = here.gate.id;
  record.limit = here.gate.limit;
  record.content = status.gate.content;
  record.verdict = !judgement.complete ? logbook::Verdict::none
                   : judgement.passed  ? logbook::Verdict::passed
                                       : logbook::Verdict::failed;
  record.reason = judgement.reason.in();
  return record;
}

std::vector<std::string> missing(const logbook::GateStatus& status, const logbook::Record& record,
                                 Moment at) {
  std::vector<std::string> out;
  const bool failed = record.verdict == logbook::Verdict::failed;
  if (record.verdict == logbook::Verdict::none) out.push_back(record.reason);
  for (const std::string& f : logbook::record_faults(record, status.gate, at))
    if (!failed || record.by.empty()) out.push_back("Needs " + f + ".");
  if (!failed)
    for (const std::string& before : status.waits_for) out.push_back("First: " + before + ".");
  return out;
}

std::vector<build::Explanation> explained(const InGarage& in, const logbook::Record& record) {
  build::Puzzle puzzle{.idle = in.garage.idle, .full = in.garage.full, .flow_of = pump_of(record.subject)};
  if (puzzle.flow_of.empty() && record.subject != "base pressure") return {};
  for (const logbook::Reading& r : record.readings)
    if (r.what != build::battery_reading) puzzle.measured.emplace_back(r.what, r.value);
  return build::explanations(at_volts(in.at, record.readings), puzzle);
}

std::optional<project::Setup> corrected(const project::Setup& setup, const InGarage& in,
                                        const logbook::Record& record) {
  const std::string pump = pump_of(record.subject);
  const auto* flow = reading(record.readings, build::flow_reading);
  if (pump.empty() || !flow || !(flow->value > 0) || !setup.circuit) return std::nullopt;
  circuit::Case c = at_volts(in.at, record.readings);
  const auto now = [&]() -> std::optional<build::FlowReading> {
    for (const auto& r : build::flow_readings(c))
      if (r.pump == pump) return r;
    return std::nullopt;
  };
  auto is = now();
  if (!is || is->flow <= 0) return std::nullopt;
  const auto part = [&](circuit::Circuit& circuit) -> circuit::Part& {
    return part_at(circuit, is->leg, is->part);
  };
  // The wires first: they decide at which volts the pump gave what it gave.
  const auto* terminals = reading(record.readings, build::volts_reading);
  std::optional<double> extra;
  if (terminals) extra = build::extra_resistance(c, *is, terminals->value);
  if (extra) part(c.circuit).wiring.extra = std::max(part(c.circuit).wiring.extra + *extra, 0.0);
  // Flow follows its share closely, so this ends in a few steps.
  for (int k = 0; k < 12; ++k) {
    is = now();
    const double ratio = flow->value / std::max(is->flow, 1e-9);
    part(c.circuit).measured = std::clamp(part(c.circuit).measured * ratio, 0.05, 2.0);
    double off = std::abs(ratio - 1);
    for (const build::FilterReading& f : is->filters)
      if (const auto* loss = reading(record.readings, f.what); loss && loss->value > 0 && f.loss > 0) {
        circuit::Part& filter = part_at(c.circuit, f.leg, f.part);
        filter.measured = std::clamp(filter.measured * loss->value / f.loss, 0.05, 20.0);
        off = std::max(off, std::abs(loss->value / f.loss - 1));
      }
    if (off < 1e-4) break;
  }
  project::Setup out = setup;
  circuit::Part& corrected = part(*out.circuit);
  corrected.measured = part(c.circuit).measured;
  corrected.wiring.extra = part(c.circuit).wiring.extra;
  corrected.measured_by = fmt::format("record {}, {}", record.number, day_of(record.at));
  for (const build::FilterReading& f : is->filters)
    if (const auto* loss = reading(record.readings, f.what); loss && loss->value > 0) {
      circuit::Part& filter = part_at(*out.circuit, f.leg, f.part);
      filter.measured = part_at(c.circuit, f.leg, f.part).measured;
      filter.measured_by = corrected.measured_by;
    }
  return out;
}

double planned_running(const session::Session& session, double lap_time) {
  if (session.duration) return *session.duration;
  const int laps = session.laps.value_or(0) + session.formation_laps + session.out_laps + session.in_laps +
                   session.cool_laps;
  return laps * lap_time;
}

std::vector<logbook::Record> records_beside(const std::filesystem::path& project) {
  const auto file = logbook::book_of(project);
  std::error_code ignored;
  if (!std::filesystem::exists(file, ignored)) return {};
  return logbook::Book::open(file, {.make = false, .read_only = true}).all();
}

}  // namespace uadze::solve
