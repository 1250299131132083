#pragma once
// Circuits for tests: of shipped types, or at random.
#include "core/circuit/circuit.h"
#include "core/circuit/wiring.h"
#include "core/project/catalogue_file.h"
#include "support/figures.h"
#include "support/random_shapes.h"

namespace uadze::test {

inline circuit::Part line(int dash, double length, Vec3 run = Vec3::Zero()) {
  circuit::Part p{.kind = circuit::PartKind::line, .type = "PTFE, smooth bore"};
  p.dash = dash, p.length = length, p.run = run;
  return p;
}
inline circuit::Part fitting(circuit::FittingForm form, int count = 1) {
  circuit::Part p{.kind = circuit::PartKind::fitting};
  p.form = form, p.count = count;
  return p;
}
inline circuit::Part of_type(circuit::PartKind kind, const char* type) {
  return {.kind = kind, .type = type};
}
inline circuit::Part pump(const char* type) { return of_type(circuit::PartKind::pump, type); }

/// Surge tank with one lift pump, one main pump, four injectors, a return to the surge tank.
inline circuit::Case plain_case() {
  using namespace circuit;
  Case c;
  c.catalogue = project::shipped_catalogue();
  c.surroundings = {.surge = true,
                    .surge_volume = 1e-3,
                    .return_to = ReturnTo::surge_tank,
                    .pickups = {{"pickup", "lift"}}};
  c.circuit.lifts = {{"lift",
                      {of_type(PartKind::filter, "pickup sock, 100 micron"), pump("lift pump, 200 l/h class"),
                       line(6, 0.5), fitting(FittingForm::exit)}}};
  c.circuit.overflow = {fitting(FittingForm::entry), line(8, 0.3), fitting(FittingForm::exit)};
  c.circuit.mains = {{"main", {pump("main pump, 340 l/h class")}, {}}};
  c.circuit.feed = {line(8, 1.5), of_type(PartKind::filter, "fine filter, 10 micron"), line(8, 0.5)};
  c.circuit.rail.injector = "injector, 52 l/h class";
  c.circuit.regulator.type = "regulator, large";
  c.circuit.back = {line(6, 1.5), fitting(FittingForm::exit)};
  c.at.demand = 120 * litre_per_hour;
  return c;
}

/// A circuit that could stand in a car: one to three mains, any return, any feed of the rail.
inline circuit::Case random_case(Random& r) {
  using namespace circuit;
  Case c = plain_case();
  const auto leg = [&](bool end) {
    Leg out{line(4 + 2 * r.whole(0, 3), r.uniform(0.1, 3), 0.05 * r.direction())};
    for (int k = r.whole(0, 3); k > 0; --k)
      out.push_back(fitting(static_cast<FittingForm>(r.whole(0, 4)), r.whole(1, 3)));
    if (r.whole(0, 2) == 0) out.push_back(of_type(PartKind::filter, "fine filter, 10 micron"));
    if (r.whole(0, 3) == 0) out.push_back(of_type(PartKind::check_valve, "check valve, light spring"));
    if (end) out.push_back(fitting(FittingForm::exit));
    return out;
  };
  const auto& pumps = c.catalogue->pumps;
  const auto wired_pump = [&](size_t low, size_t high) {
    Part p = pump(pumps[low + static_cast<size_t>(r.whole(0, static_cast<int>(high - low)))].name.c_str());
    p.check_valve = r.whole(0, 3) > 0;
    p.wiring = {gauge_area(12 + 2 * r.whole(0, 2)),
                r.uniform(0.5, 5),
                gauge_area(14),
                0.5,
                4,
                "relay, 30 A",
                "fuse, 20 A",
                0};
    return p;
  };
  c.surroundings.surge = r.whole(0, 3) > 0;
  c.surroundings.return_to = static_cast<ReturnTo>(r.whole(0, 2));
  c.surroundings.pickups = {{"pickup", c.surroundings.surge ? "lift" : "engine"}};
  c.circuit.lifts[0].parts = leg(true);
  c.circuit.lifts[0].parts.insert(c.circuit.lifts[0].parts.begin(), wired_pump(0, 2));
  c.circuit.overflow = leg(true);
  std::erase_if(c.circuit.overflow, [](const Part& p) { return p.kind == PartKind::check_valve; });
  c.circuit.tee = {line(8, 0.4), fitting(FittingForm::exit)};
  c.circuit.surge_vent = r.whole(0, 1) * 3e-3;
  c.circuit.mains.clear();
  for (int k = r.whole(1, 3); k > 0; --k) {
    Leg parts = leg(false);
    parts.insert(parts.begin() + r.whole(0, 1), wired_pump(3, 8));
    c.circuit.mains.push_back({"main", parts, {}});
  }
  c.circuit.feed = leg(false);
  c.circuit.back = leg(true);
  c.circuit.engine_supply = static_cast<EngineSupply>(r.whole(0, 2));
  c.circuit.rail.entry = static_cast<RailEntry>(r.whole(0, 2));
  c.circuit.rail.injectors = r.whole(1, 8);
  c.circuit.transfer.kind = static_cast<TransferKind>(r.whole(0, 1));
  c.circuit.transfer.by_return = !c.surroundings.surge || c.surroundings.return_to != ReturnTo::surge_tank;
  c.at.demand = r.uniform(0, 250) * litre_per_hour;
  c.at.manifold = r.uniform(30e3, 250e3);
  c.at.supply = r.uniform(10, 14.5);
  c.at.temperature = r.uniform(263, 318);
  c.at.altitude = r.uniform(0, 2500);
  c.at.force = r.uniform(2, 30) * r.direction();
  c.at.filter_load = r.uniform(0, 1);
  c.fuel.ethanol = r.uniform(0, 1);
  Rail& rail = c.circuit.rail;
  if (rail.injectors > 1 && rail.entry != RailEntry::both_ends)
    rail.rails = static_cast<Rails>(r.whole(0, 2));
  rail.crossover_bore = 8e-3, rail.crossover_length = 0.3;
  c.circuit.regulator.kind = r.whole(0, 4) == 0 ? RegulatorKind::dead_head : RegulatorKind::bypass;
  c.circuit.return_above_fuel = r.whole(0, 2) == 0;
  if (r.whole(0, 2) == 0) {
    Part one = line(6, r.uniform(0.2, 1)), other = line(4, r.uniform(0.2, 1));
    one.way = 1, other.way = 2;
    c.circuit.feed.insert(c.circuit.feed.begin(), {one, other});
  }
  for (MainLeg& main : c.circuit.mains)
    for (Part& p : main.parts)
      if (p.kind == PartKind::pump && r.whole(0, 3) == 0)
        p.speed = {static_cast<SpeedControl>(r.whole(1, 2)), {{0, r.uniform(0.5, 1)}, {50e-6, 1.0}}};
  return c;
}

}  // namespace uadze::test
