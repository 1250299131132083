#include "core/report/circuit_report.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <limits>

#include "core/base/csv.h"
#include "core/circuit/findings.h"
#include "core/circuit/wiring.h"
#include "core/project/places.h"

namespace uadze::report {
namespace {

using circuit::Case;
using circuit::State;

constexpr double litre_per_hour = 1e-3 / 3600;

/// Without current by a what-if: the others that stand still are not wanted yet.
bool is_dead(const circuit::OperatingPoint& at, const circuit::LegPlace& leg) {
  const auto k = static_cast<size_t>(leg.index);
  if (leg.kind == circuit::LegKind::main) return at.is_main_dead(k);
  return leg.kind == circuit::LegKind::lift && at.is_lift_dead(k);
}

/// Below the circuit in the file; a part that a what-if has put in has none.
std::string place_of_part(const project::Setup& setup, const project::Places& places,
                          const circuit::LegPlace& leg, int part) {
  if (leg.kind == circuit::LegKind::rail) return places.pointer(place_of(setup.circuit->rail));
  const circuit::Leg* at = leg_at(*setup.circuit, leg);
  if (!at) return {};
  if (part >= 0 && part < static_cast<int>(at->size()))
    return places.pointer(place_of((*at)[static_cast<size_t>(part)]));
  return places.pointer(place_of(*at));
}

double kpa(double pascal) { return pascal / 1e3; }
double lh(double flow) { return flow / litre_per_hour; }

/// False where more is asked for than can come at any pressure: pressures then say nothing.
bool can_flow(const State& s) {
  return s.solution.converged && (s.injectors.empty() ? s.rail > 0 : s.rail_difference > 0);
}

/// How lean it is: under a hundredth of what is asked for that is arithmetic.
bool is_figure(const circuit::Shortfall& lack) { return lack.burnt >= 0.01 * lack.asked; }

/// W that the circuit feeds at its set pressure and the injectors pass within their duty limit.
double safe_power(const solve::CircuitPoint& point, const project::Setup& setup) {
  if (point.gas_to_engine) return 0.0;
  const Case& c = point.at;
  double flow = std::numeric_limits<double>::infinity();
  for (const auto& l : capacity(c, false).limits)
    if (l.kind != circuit::LimitKind::lift) flow = std::min(flow, l.demand);
  return std::isfinite(flow) ? solve::power_at(setup, flow, c.at.temperature) : 0.0;
}

Json conditions_json(const Case& c, const project::Setup& setup, const State& s,
                     const std::vector<std::string>& what_ifs) {
  Json what_if = Json::array();
  for (const auto& name : what_ifs) what_if.push_back(name);
  return {{"demand_l_h", lh(c.at.demand)},
          {"power_kw", solve::power_at(setup, c.at.demand, c.at.temperature) / 1e3},
          {"manifold_kpa", kpa(c.at.manifold)},
          {"supply_v", c.at.supply.value_or(c.circuit.supply)},
          {"fuel_c", c.at.temperature - 273.15},
          {"altitude_m", c.at.altitude},
          {"ambient_kpa", kpa(s.ambient)},
          {"tank_kpa", kpa(s.tank)},
          {"ethanol_percent", c.fuel.ethanol * 100},
          {"methanol_percent", c.fuel.methanol * 100},
          {"density_kg_m3", s.liquid.density},
          {"viscosity_mpa_s", s.liquid.viscosity * 1e3},
          {"vapour_pressure_kpa", kpa(s.liquid.vapour_pressure)},
          {"what_if", what_if}};
}

/// Why a field of the point has no value, by its place.
Json reasons(const solve::CircuitPoint& point) {
  const State& s = point.state;
  Json out = Json::object();
  for (size_t i = 0; i < s.pumps.size(); ++i) {
    const auto at = [i](const char* key) { return fmt::format("/pumps/{}/{}", i, key); };
    const auto& p = s.pumps[i];
    if (p.engine_driven) {
      out[at("voltage_v")] = out[at("rotor_held_a")] = out[at("advised_gauge")] = "the engine drives it";
      continue;
    }
    if (s.wires[i].advised) continue;
    const circuit::Leg& leg = *leg_at(point.at.circuit, p.leg);
    out[at("advised_gauge")] = !p.on ? "it does not run"
                               : leg[static_cast<size_t>(p.part)].wiring.feed_length <= 0
                                   ? "no length is entered"
                               : s.wires[i].beside >= point.at.circuit.wished_drop
                                   ? "contacts, relay and fuse alone take more than is wished"
                                   : "no usual gauge keeps the wished drop at this length";
  }
  if (!can_flow(s))
    out["/rail/duty_percent"] =
        s.injectors.empty() ? "no injectors are metered by this pressure" : "nothing can flow to the rail";
  if (!point.shortfall)
    out["/shortfall"] = "the engine gets what it asks for";
  else if (!is_figure(*point.shortfall))
    out["/shortfall/leaner_percent"] = "hardly anything is burnt";
  return out;
}

}  // namespace

Json point_json(const solve::CircuitPoint& point, const project::Setup& setup,
                const std::vector<std::string>& what_ifs) {
  const Case& c = point.at;
  const State& s = point.state;
  Json out{{"setup", setup.name}, {"conditions", conditions_json(c, setup, s, what_ifs)}};
  out["solution"] = {{"converged", s.solution.converged},
                     {"way", name_of(s.solution.way)},
                     {"steps", s.solution.iterations},
                     {"evaluations", s.solution.evaluations},
                     {"pressure_residual_pa", s.solution.pressure_residual},
                     {"flow_residual_l_h", lh(s.solution.flow_residual)},
                     {"mass_balance_l_h", lh(s.solution.balance)},
                     {"demand_can_flow", point.shortfall ? point.shortfall->at_any_pressure : can_flow(s)},
                     {"reason", s.solution.reason}};
  const project::Places places = project::places_in(*setup.circuit);
  out["verdict"] = verdict_of(s).in();
  out["nodes"] = Json::array();
  for (size_t i = 0; i < s.network.nodes.size(); ++i)
    out["nodes"].push_back({{"name", s.network.nodes[i].name},
                            {"pressure_kpa", kpa(s.solution.pressure[i])},
                            {"gauge_kpa", kpa(s.solution.pressure[i] - s.ambient)}});
  out["branches"] = Json::array();
  for (size_t i = 0; i < s.network.branches.size(); ++i) {
    const auto& b = s.network.branches[i];
    const auto name = [&](int node) { return s.network.nodes[static_cast<size_t>(node)].name; };
    out["branches"].push_back(
        {{"name", b.name}, {"from", name(b.from)}, {"to", name(b.to)}, {"flow_l_h", lh(s.solution.flow[i])}});
  }
  out["parts"] = Json::array();
  for (const auto& p : s.parts)
    out["parts"].push_back({{"leg", p.leg.title(c.circuit)},
                            {"part", p.label},
                            {"place", place_of_part(setup, places, p.leg, p.part)},
                            {"flow_l_h", lh(p.flow)},
                            {"loss_kpa", kpa(p.loss)},
                            {"inlet_kpa", kpa(p.inlet)},
                            {"outlet_kpa", kpa(p.outlet)},
                            {"bore_mm", p.bore * 1e3},
                            {"velocity_m_s", p.velocity},
                            {"reynolds", p.reynolds},
                            {"measured", p.measured}});
  out["pumps"] = Json::array();
  for (size_t i = 0; i < s.pumps.size(); ++i) {
    const auto& p = s.pumps[i];
    const auto& w = s.wires[i];
    out["pumps"].push_back({{"name", p.name},
                            {"on", p.on},
                            {"draws_gas", p.dry},
                            {"flow_l_h", lh(p.flow)},
                            {"rise_kpa", kpa(p.rise)},
                            {"inlet_kpa", kpa(p.inlet)},
                            {"inlet_margin_kpa", kpa(p.inlet_margin)},
                            {"margin_needed_kpa", kpa(p.margin_needed)},
                            {"voltage_v", p.engine_driven ? Json() : Json(p.voltage)},
                            {"current_a", p.current},
                            {"from_the_supply_a", p.battery},
                            {"rotor_held_a", p.engine_driven ? Json() : Json(p.locked)},
                            {"supply_percent", p.share * 100},
                            {"through_its_relief_l_h", lh(p.relieved)},
                            {"inlet_swing_kpa", kpa(p.swing)},
                            {"measured", p.measured},
                            {"electric_w", p.power},
                            {"hydraulic_w", p.hydraulic},
                            {"wire_resistance_mohm", w.resistance * 1e3},
                            {"wire_drop_v", w.drop},
                            {"wire_heat_w_m", w.heat},
                            {"flow_lost_to_wire_l_h", lh(p.lost_to_wires)},
                            {"advised_gauge", w.advised ? Json(*w.advised) : Json()}});
  }
  if (s.falls)
    out["aeration"] = {{"return_falls_mm", s.falls->fall * 1e3},
                       {"gas_carried_down_l_h", lh(s.aeration.entrained)},
                       {"gas_share_percent", s.aeration.share * 100},
                       {"in_the_laws_range", s.aeration.in_range}};
  out["regulator"] = {{"state", name_of(s.regulator.mode)},
                      {"set_gauge_kpa", kpa(s.regulator.wished - s.ambient)},
                      {"without_flow_gauge_kpa", kpa(s.regulator.set - s.ambient)},
                      {"pressure_gauge_kpa", kpa(s.regulator.pressure - s.ambient)},
                      {"flow_l_h", lh(s.regulator.flow)},
                      {"floor_gauge_kpa", kpa(s.regulator.floor - s.ambient)}};
  out["rail"] = {{"gauge_kpa", kpa(s.rail - s.ambient)},
                 {"difference_kpa", kpa(s.rail_difference)},
                 {"difference_set_kpa", kpa(s.difference_set)},
                 {"duty_percent", can_flow(s) ? Json(s.duty * 100) : Json()},
                 {"leanest_injector", s.leanest + 1},
                 {"injectors", Json::array()}};
  for (const auto& i : s.injectors)
    out["rail"]["injectors"].push_back({{"difference_kpa", kpa(i.difference)}, {"flow_l_h", lh(i.flow)}});
  // Null where the engine gets what it asks for.
  out["shortfall"] = Json();
  if (const auto& lack = point.shortfall)
    out["shortfall"] = {{"asked_l_h", lh(lack->asked)},
                        {"burnt_l_h", lh(lack->burnt)},
                        {"leaner_percent", is_figure(*lack) ? Json((lack->leaner() - 1) * 100) : Json()},
                        {"safe_power_kw", safe_power(point, setup) / 1e3},
                        {"at_air_ratio", setup.engine.lambda}};
  if (c.surroundings.surge)
    out["surge_tank"] = {{"gauge_kpa", kpa(s.surge.pressure - s.ambient)},
                         {"lift_l_h", lh(s.surge.lift)},
                         {"return_l_h", lh(s.surge.back)},
                         {"drawn_l_h", lh(s.surge.drawn)},
                         {"overflow_l_h", lh(s.surge.overflow)},
                         {"draining_l_h", lh(s.surge.draining)},
                         {"lasts_s", finite(s.surge.lasts)}};
  if (c.circuit.transfer.kind != circuit::TransferKind::none) out["transfer_l_h"] = lh(s.transfer);
  out["budget"] = Json::array();
  for (const auto& b : budget(c, s))
    out["budget"].push_back({{"leg", b.leg.title(c.circuit)},
                             {"part", b.label},
                             {"change_kpa", kpa(b.change)},
                             {"head_kpa", kpa(b.head)},
                             {"after_kpa", kpa(b.after)}});
  const circuit::Capacity can = capacity(c);
  Json limits = Json::array(), costs = Json::array();
  for (const auto& l : can.limits)
    limits.push_back({{"demand_l_h", lh(l.demand)},
                      {"power_kw", solve::power_at(setup, l.demand, c.at.temperature) / 1e3},
                      {"text", l.text.in()}});
  for (const auto& p : can.costs)
    costs.push_back({{"leg", p.leg.title(c.circuit)}, {"part", p.label}, {"costs_l_h", lh(p.flow)}});
  out["capacity"] = {{"available_l_h", lh(can.available)},
                     {"power_kw", solve::power_at(setup, can.available, c.at.temperature) / 1e3},
                     {"limits", limits},
                     {"costs", costs}};
  out["gauge_card"] = Json::array();
  for (const auto& g :
       gauge_card(c, setup.engine.idle_flow, solve::demand_at(setup, setup.engine.power, c.at.temperature)))
    out["gauge_card"].push_back({{"condition", g.condition},
                                 {"manifold_kpa", kpa(g.manifold)},
                                 {"wished_gauge_kpa", kpa(g.wished)},
                                 {"reads_gauge_kpa", kpa(g.reads)},
                                 {"without_flow_gauge_kpa", g.shut ? Json(kpa(*g.shut)) : Json()},
                                 {"difference_kpa", kpa(g.difference)},
                                 {"state", name_of(g.mode)}});
  out["line_choice"] = Json::array();
  for (const auto& choice : line_choices(c, s)) {
    Json sizes = Json::array();
    for (const auto& z : choice.sizes)
      sizes.push_back({{"dash", z.dash},
                       {"bore_mm", z.bore * 1e3},
                       {"velocity_m_s", z.velocity},
                       {"loss_kpa", kpa(z.loss)},
                       {"meets", z.meets},
                       {"fitted", z.fitted}});
    out["line_choice"].push_back({{"leg", choice.leg.title(c.circuit)},
                                  {"hose", choice.hose},
                                  {"flow_l_h", lh(choice.flow)},
                                  {"velocity_limit_m_s", choice.limits.velocity},
                                  {"loss_limit_kpa", kpa(choice.limits.loss)},
                                  {"advised_dash", choice.advised},
                                  {"one_size_up_saves_kpa", kpa(choice.bought)},
                                  {"larger_gain_l_h", lh(choice.larger_gain)},
                                  {"sizes", sizes}});
  }
  out["findings"] = Json::array();
  for (const auto& f : s.findings)
    out["findings"].push_back({{"severity", f.severity == Severity::error ? "error" : "warning"},
                               {"place", place_of_part(setup, places, f.leg, f.part)},
                               {"text", f.text.in()}});
  out["cautions"] = Json::array();
  for (const auto& f : find_cautions(c)) out["cautions"].push_back(f.text.in());
  out["null_because"] = reasons(point);
  return out;
}

std::string point_text(const solve::CircuitPoint& point, const project::Setup& setup,
                       const UnitSystem& units) {
  const Case& c = point.at;
  const State& s = point.state;
  const auto p = [&](double value) { return format(value, Quantity::pressure, units); };
  const auto q = [&](double value) { return format(value, Quantity::flow, units); };
  std::string out = fmt::format(
      "{} | {} kW, {}, manifold {} absolute, {:.1f} V, fuel {}, {}\n", setup.name,
      format_figure(solve::power_at(setup, c.at.demand, c.at.temperature), Quantity::power, units),
      q(c.at.demand), p(c.at.manifold), c.at.supply.value_or(c.circuit.supply),
      format(c.at.temperature, Quantity::temperature, units),
      format(c.at.altitude, Quantity::distance, units));
  out += "  " + verdict_of(s).in(units) + "\n";
  if (const auto& lack = point.shortfall)
    out += fmt::format("  burnt     {} of {}; {} of power are safe at an air ratio of {:.2f}\n",
                       q(lack->burnt), q(lack->asked),
                       format(safe_power(point, setup), Quantity::power, units), setup.engine.lambda);
  out += fmt::format("  regulator {}: {} over air, set {}, sends back {}\n", name_of(s.regulator.mode),
                     p(s.regulator.pressure - s.ambient), p(s.regulator.wished - s.ambient),
                     q(s.regulator.flow));
  if (!s.injectors.empty() && can_flow(s))
    out += fmt::format("  injectors {} across, duty {:.1f} %, leanest {}\n", p(s.rail_difference),
                       s.duty * 100, s.leanest + 1);
  if (c.surroundings.surge) {
    out += fmt::format("  surge     lift {}, drawn {}, back {}, overflow {}", q(s.surge.lift),
                       q(s.surge.drawn), q(s.surge.back), q(s.surge.overflow));
    if (surge_empties(s)) {
      const bool long_way = s.surge.lasts > circuit::seconds_told;
      out += fmt::format(", empties at {} in {}", q(s.surge.draining),
                         long_way ? "over ten minutes" : fmt::format("{:.1f} s", s.surge.lasts));
    }
    out += "\n";
  }
  if (c.circuit.transfer.kind != circuit::TransferKind::none)
    out += fmt::format("  transfer  {} across the tank\n", q(s.transfer));
  for (size_t i = 0; i < s.pumps.size(); ++i) {
    const auto& pump = s.pumps[i];
    out += fmt::format("  pump      {}: {}, {} over {}, inlet {} over vapour", pump.name,
                       is_dead(c.at, pump.leg) ? "dead"
                       : !pump.on              ? "off"
                       : pump.dry              ? "on, draws gas"
                                               : "on",
                       q(pump.flow), p(pump.rise), p(pump.inlet_margin));
    if (!pump.engine_driven)
      out += fmt::format(", {:.2f} V, {:.1f} A, wires take {:.2f} V and {}", pump.voltage, pump.current,
                         s.wires[i].drop, q(pump.lost_to_wires));
    out += pump.on && !pump.measured ? ", outside its measured curves\n" : "\n";
  }
  const circuit::Capacity can = capacity(c);
  for (const auto& l : can.limits)
    out +=
        fmt::format("  limit     {} kW: {}\n",
                    format_figure(solve::power_at(setup, l.demand, c.at.temperature), Quantity::power, units),
                    l.text.in(units));
  // The dearest, as far as they cost anything that one sees.
  for (size_t i = 0; i < std::min<size_t>(can.costs.size(), 5) && can.costs[i].flow > 0.14e-6; ++i)
    out += fmt::format("  costs     {} {}: {}\n", can.costs[i].leg.title(c.circuit), can.costs[i].label,
                       q(can.costs[i].flow));
  out += "  budget\n";
  for (const auto& b : budget(c, s))
    out += fmt::format("    {:>9}  {:>8}  {}\n", b.part < 0 && b.change == 0 ? "" : p(b.change),
                       p(b.after - s.ambient), b.label);
  out += "  gauge card (over air)\n";
  for (const auto& g :
       gauge_card(c, setup.engine.idle_flow, solve::demand_at(setup, setup.engine.power, c.at.temperature)))
    out += fmt::format("    {}: should read {}, reads {}{}\n", g.condition, p(g.wished), p(g.reads),
                       g.shut ? fmt::format(", {} with nothing going back, {} across the injectors",
                                            p(*g.shut), p(g.difference))
                              : ": nothing is held");
  if (s.falls) out += render_text(circuit::aeration_working(*s.falls), units, 2);
  for (const auto& f : s.findings)
    out += fmt::format("  {}: {}\n",
                       f.severity == Severity::error     ? "error"
                       : f.severity == Severity::warning ? "warning"
                                                         : "note",
                       f.text.in(units));
  for (const auto& f : find_cautions(c)) out += fmt::format("  caution: {}\n", f.text.in(units));
  return out;
}

Json sweep_json(const project::Setup& setup, const std::vector<circuit::SweepPoint>& points) {
  Json list = Json::array();
  for (const auto& p : points)
    list.push_back({{"power_kw", p.power / 1e3},
                    {"demand_l_h", lh(p.demand)},
                    {"available_l_h", lh(p.available)},
                    {"rail_gauge_kpa", kpa(p.rail)},
                    {"difference_kpa", kpa(p.difference)},
                    {"duty_percent", p.duty * 100},
                    {"lift_l_h", lh(p.lift)},
                    {"draining_l_h", lh(p.draining)},
                    {"regulator", name_of(p.mode)}});
  return {{"setup", setup.name}, {"sweep", list}};
}

std::string sweep_csv(const std::vector<circuit::SweepPoint>& points) {
  std::string out = csv_row({"power [kW]", "demand [l/h]", "available [l/h]", "rail [bar]",
                             "difference [bar]", "duty [%]", "lift [l/h]", "draining [l/h]", "regulator"});
  for (const auto& p : points)
    out +=
        csv_row({fmt::format("{:.3f}", p.power / 1e3), fmt::format("{:.4f}", lh(p.demand)),
                 fmt::format("{:.4f}", lh(p.available)), fmt::format("{:.5f}", p.rail / 1e5),
                 fmt::format("{:.5f}", p.difference / 1e5), fmt::format("{:.3f}", p.duty * 100),
                 fmt::format("{:.4f}", lh(p.lift)), fmt::format("{:.4f}", lh(p.draining)), name_of(p.mode)});
  return out;
}

}  // namespace uadze::report
