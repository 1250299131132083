#pragma once
// The fields of a circuit and its parts.
//
// Example:
//   EXPECT_EQ(project::written(circuit::Wiring{})["feed"].is_string(), true);
#include "core/circuit/parts.h"
#include "core/circuit/wiring.h"
#include "core/project/field.h"

namespace uadze::project {

inline constexpr Range size_or_none{0, 200}, route{-50000, 50000};
inline constexpr Coding wire_gauge{
    [](const std::string& text) { return text.empty() ? std::optional(0.0) : circuit::parse_gauge(text); },
    [](double area) { return area > 0 ? circuit::gauge_text(area) : std::string(); },
    "a gauge such as \"AWG 12\" or \"2.5 mm2\""};

template <class V>
void describe(V& v, circuit::Wiring& w) {
  v.coded({"feed", "Feed", "Gauge of the wire to the pump; empty: without resistance"}, w.feed_area,
          wire_gauge);
  v.number({"feed_mm", "Feed length", "From the battery to the pump"}, w.feed_length, in_file::millimetre,
           {0, 50000});
  v.coded({"ground", "Ground", "Gauge of the wire back; empty: without resistance"}, w.ground_area,
          wire_gauge);
  v.number({"ground_mm", "Ground length", "From the pump to the battery"}, w.ground_length,
           in_file::millimetre, {0, 50000});
  v.whole({"connectors", "Contact pairs", "There and back; typically 3 mΩ each"}, w.connectors, 0, 100);
  v.text({"relay", "Relay", "Type of the catalogue; empty: none"}, w.relay);
  v.text({"fuse", "Fuse", "Type of the catalogue; empty: none"}, w.fuse);
  v.number({"extra_mohm", "Switch and others", "Resistance of what else is in the way"}, w.extra,
           in_file::milliohm, {0, 10000});
}

template <class V>
void describe(V& v, circuit::PumpSpeed::Point& p) {
  v.number({"l_h", "Demand", "Of the engine", must}, p.demand, in_file::litre_per_hour, {0, 20000});
  v.number({"percent", "Share", "Of the supply that the pump gets", must}, p.share, in_file::percent,
           {0, 100, true});
}

template <class V>
void describe(V& v, circuit::PumpSpeed& s) {
  using circuit::SpeedControl;
  v.choice({"control", "Speed", "Held back by steps (two speeds, a resistor) or by pulses"}, s.control);
  v.cases(s.control, [&](auto& w, SpeedControl control) {
    if (control != SpeedControl::none)
      w.list({"points", "By demand", "Steps hold from their demand upward; pulses go straight between", must},
             s.points);
  });
}

template <class V>
void describe(V& v, circuit::Part& p) {
  using circuit::PartKind;
  v.choice({"kind", "Kind", "What part it is", must}, p.kind);
  v.text({"name", "Name", "Empty: named by its type"}, p.name);
  v.cases(p.kind, [&](auto& w, PartKind kind) {
    if (kind == PartKind::line || kind == PartKind::fitting || kind == PartKind::restriction) {
      w.text({"hose", "Hose", "Type of the catalogue"}, p.type);
      w.whole({"dash", "Size",
               "The dash number is the fitting's tube, not the hose: its true bore is the type's"},
              p.dash, 0, 48);
      w.number({"bore_mm", "Bore", "0: by hose and size; of a fitting, that of the line beside it"}, p.bore,
               in_file::millimetre, size_or_none);
    } else {
      w.text({"type", "Type", "Of the catalogue", must}, p.type);
    }
    if (kind != PartKind::pump)
      w.whole(
          {"way", "Way",
           "0: in line. Parts of ways 1 to 3 that follow one another lie side by side, each way in order"},
          p.way, 0, circuit::most_ways);
    switch (kind) {
      case PartKind::line:
        w.number({"length_mm", "Length", "Along its way", must}, p.length, in_file::millimetre,
                 {0, 50000, true});
        w.vector({"run_mm", "Runs", "From its start to its end in the car: acceleration presses along it"},
                 p.run, in_file::millimetre, route);
        w.flag({"in_fuel", "Lies in fuel", "Its outside too is in fuel"}, p.in_fuel, "no", "yes");
        w.flag({"in_cabin", "In the cabin", "Runs where the driver sits"}, p.in_cabin, "no", "yes");
        break;
      case PartKind::fitting:
        w.choice({"form", "Form", "Its loss is an equivalent length", must}, p.form);
        w.whole({"count", "How many", "Of equal fittings one after the other"}, p.count, 1, 100);
        w.number({"bore_after_mm", "Bore after", "Of a reducer; 0: that of the line behind it"}, p.bore_after,
                 in_file::millimetre, size_or_none);
        break;
      case PartKind::restriction:
        w.number({"discharge", "Discharge", "0.61 for a sharp edge"}, p.discharge, in_file::plain,
                 {0, 1, true});
        break;
      case PartKind::pump:
        w.flag({"in_fuel", "Lies in fuel", "Its outside too is in fuel"}, p.in_fuel, "no", "yes");
        w.flag({"check_valve", "Check valve", "Where the type has one"}, p.check_valve, "left out",
               "built in");
        w.number({"turns", "Turns", "Of an engine-driven pump: its speed over the crankshaft's"}, p.turns,
                 in_file::plain, {0, 10, true});
        w.number({"measured_percent", "Measured flow", "Of its curve's: by a flow test of this very pump"},
                 p.measured, in_file::percent, {5, 200});
        w.text({"measured_by", "Measured by", "The record or the day of that test"}, p.measured_by);
        w.object({"speed", "Speed control", "Of an electric pump, by the engine's demand"}, p.speed);
        w.object({"wiring", "Wiring", "Feed and ground of the pump"}, p.wiring);
        break;
      case PartKind::filter:
        w.number({"measured_percent", "Measured drop", "Of its type's at the same flow and load"}, p.measured,
                 in_file::percent, {5, 2000});
        w.text({"measured_by", "Measured by", "The record or the day of that test"}, p.measured_by);
        [[fallthrough]];
      case PartKind::check_valve:
      case PartKind::sensor:
      case PartKind::diffuser:
        if (kind == PartKind::sensor)
          w.flag({"reversed", "Arrow", "Which way the sensor's arrow stands"}, p.reversed, "along the flow",
                 "against the flow");
        w.flag({"doubled", "Parallel branch", "A second way beside it takes half the flow"}, p.doubled, "no",
               "yes");
        break;
    }
  });
}

template <class V>
void describe(V& v, circuit::LiftLeg& l) {
  v.text({"pump", "Lift pump", "Of the setup's lift pumps", must}, l.pump);
  v.list({"parts", "Parts", "In order of flow"}, l.parts);
}

template <class V>
void describe(V& v, circuit::SuctionLeg& s) {
  v.text({"pickup", "Pickup", "Of the tank's pickups", must}, s.pickup);
  v.list({"parts", "Parts", "In order of flow"}, s.parts);
}

template <class V>
void describe(V& v, circuit::Stage& s) {
  using circuit::StageBy;
  v.choice({"by", "Runs by", "What switches it", must}, s.by);
  v.cases(s.by, [&](auto& w, StageBy by) {
    const auto both = [&](const char* on, const char* off, const FileUnit& unit, const Range& range) {
      w.number({on, "On above", "Switched on above it", must}, s.on, unit, range);
      w.number({off, "Off below", "Lower than on, so that it does not switch to and fro", must}, s.off, unit,
               range);
    };
    switch (by) {
      case StageBy::always:
        break;
      case StageBy::throttle:
        both("on_percent", "off_percent", in_file::percent, {0, 100});
        break;
      case StageBy::manifold:
        both("on_kpa", "off_kpa", in_file::kilopascal, {0, 2000});
        break;
      case StageBy::demand:
        both("on_l_h", "off_l_h", in_file::litre_per_hour, {0, 5000});
        break;
      case StageBy::rotation:
        both("on_rpm", "off_rpm", in_file::rotation, {0, 30000});
        break;
    }
  });
  v.number({"spin_up_s", "Spins up in", "Until it delivers"}, s.spin_up, in_file::second, {0, 10});
}

template <class V>
void describe(V& v, circuit::MainLeg& m) {
  v.text({"name", "Name", "Empty: numbered"}, m.name);
  v.list({"parts", "Parts", "In order of flow, a pump among them"}, m.parts);
  v.object({"stage", "Stage", "When it runs"}, m.stage);
}

template <class V>
void describe(V& v, circuit::Rail& r) {
  v.choice({"rails", "Rails", "One, or two with half of the injectors each"}, r.rails);
  v.choice({"feed", "Rail fed", "Through it, at both ends, or as a dead end"}, r.entry);
  v.number({"crossover_mm", "Crossover", "Bore of the line between two rails; 0: none"}, r.crossover_bore,
           in_file::millimetre, {0, 100});
  v.number({"crossover_length_mm", "Crossover's length", "From rail to rail"}, r.crossover_length,
           in_file::millimetre, {0, 5000});
  v.whole({"injectors", "Injectors", "How many"}, r.injectors, 1, 64);
  v.text({"injector", "Injector", "Type of the catalogue"}, r.injector);
  v.number({"bore_mm", "Rail bore", "Inside"}, r.bore, in_file::millimetre, {0, 100});
  v.number({"length_mm", "Rail length", "First injector to last"}, r.length, in_file::millimetre, {0, 5000});
  v.number({"duty_limit_percent", "Duty limit", "Share of the time that an injector may be open"},
           r.duty_limit, in_file::percent, {0, 100, true});
}

template <class V>
void describe(V& v, circuit::Regulator& r) {
  v.text({"type", "Regulator", "Type of the catalogue"}, r.type);
  v.choice(
      {"kind", "It works as",
       "Bypass: lets back what is too much; dead head: shuts at the end of the feed line, nothing returns"},
      r.kind);
  v.number({"base_kpa", "Base pressure",
            "As the gauge reads it: pump on, engine off, reference open, the return flowing"},
           r.base, in_file::kilopascal, {0, 30000});
  v.flag({"reference", "Reference", "Manifold: it holds the difference across the injectors"}, r.referenced,
         "open", "manifold");
}

template <class V>
void describe(V& v, circuit::HighPressurePump& p) {
  v.number({"least_inlet_kpa", "Least inlet", "Over air"}, p.least_inlet, in_file::kilopascal, {0, 5000});
}

template <class V>
void describe(V& v, circuit::Carburettor& c) {
  v.number({"seat_mm", "Needle seats", "Bore of all seats together"}, c.seat, in_file::millimetre,
           {0, 50, true});
  v.number({"bowl_ml", "Bowls hold", "Fuel that they hold"}, c.bowl, in_file::millilitre, {0, 10000});
  v.number({"most_pressure_kpa", "Needle holds", "Over air; above it the bowl floods"}, c.most_pressure,
           in_file::kilopascal, {0, 500});
}

template <class V>
void describe(V& v, circuit::Transfer& t) {
  v.choice({"kind", "Transfer", "From the far side of a two-sided tank to the side of the pump"}, t.kind);
  v.flag({"driven_by", "Driven by", "Of a jet"}, t.by_return, "lift pump", "return");
  v.number({"nozzle_mm", "Nozzle", "Bore"}, t.nozzle, in_file::millimetre, {0, 50});
  v.number({"throat_mm", "Throat", "Bore, wider than the nozzle"}, t.throat, in_file::millimetre, {0, 50});
  v.list({"parts", "Parts", "Of the line across"}, t.parts);
}

template <class V>
void describe(V& v, circuit::Load& l) {
  v.text({"name", "Load", "What takes it", must}, l.name);
  v.number({"a", "Current", "With the engine running", must}, l.current, in_file::ampere, {0, 500});
}

template <class V>
void describe(V& v, circuit::Charging& c) {
  v.text({"alternator", "Alternator", "Type of the catalogue; empty: the battery carries all"}, c.alternator);
  v.number({"ratio", "Alternator turns", "Its speed over the crankshaft's"}, c.ratio, in_file::plain,
           {0, 20, true});
  v.number({"battery_ah", "Battery", "Its charge when full"}, c.battery, in_file::ampere_hour, {0, 1000});
  v.number({"battery_full_v", "Full, it rests at", "Voltage without a load"}, c.full_voltage, in_file::volt,
           {1, 60});
  v.number({"battery_flat_v", "Empty, at", "Voltage without a load"}, c.flat_voltage, in_file::volt, {1, 60});
  v.number({"battery_mohm", "Battery resists", "With its leads"}, c.resistance, in_file::milliohm, {0, 1000});
  v.list({"loads", "Loads", "Beside the pumps"}, c.loads);
}

template <class V>
void describe(V& v, circuit::HeatPlace& h) {
  v.number({"ambient_c", "Air round it", "Of tank and lines"}, h.ambient, in_file::celsius, {-40, 80});
  v.number({"tank_loss_w_k", "Tank loses, W/K", "To the air"}, h.tank_loss, in_file::watt_per_kelvin,
           {0, 1000});
  v.number({"surge_loss_w_k", "Surge tank loses, W/K", "To what stands round it"}, h.surge_loss,
           in_file::watt_per_kelvin, {0, 1000});
  v.number({"engine_bay_w", "From the engine bay", "What rail and lines take up"}, h.engine_bay,
           in_file::watt, {0, 20000});
}

template <class V>
void describe(V& v, circuit::Circuit& c) {
  v.choice({"engine_feed", "Engine feed",
            "Returned: regulator behind the rail; returnless: by the tank; or into a high-pressure pump, or "
            "carburettors"},
           c.engine_supply);
  v.list({"lifts", "Lift legs", "From pickups into the surge tank"}, c.lifts);
  v.flag({"surge_tank_place", "Surge tank stands", "In the main tank or outside it"}, c.surge_inside,
         "outside", "inside");
  v.number({"surge_vent_mm", "Its own vent", "Bore; 0: it breathes through the overflow"}, c.surge_vent,
           in_file::millimetre, {0, 100});
  v.list({"overflow", "Overflow", "Surge tank to main tank"}, c.overflow);
  v.list({"tee", "Tee or manifold", "Where return and overflow meet: from there to the main tank"}, c.tee);
  v.list({"suctions", "Suction legs", "Without a surge tank: from pickups to where the main pumps draw"},
         c.suctions);
  v.list({"mains", "Main legs", "One to four, each with a pump"}, c.mains, circuit::most_mains);
  v.list({"feed", "Feed line", "From where the main pumps meet to the rail"}, c.feed);
  v.object({"rail", "Rail", "Rail and injectors"}, c.rail);
  v.object({"regulator", "Regulator", "What holds the pressure"}, c.regulator);
  v.list({"return", "Return line", "From the regulator back"}, c.back);
  v.flag({"return_ends", "Return ends", "Above the fuel it foams it"}, c.return_above_fuel, "under the fuel",
         "above the fuel");
  v.number({"return_fall_mm", "It falls", "Where it ends above the fuel"}, c.return_fall, in_file::millimetre,
           {0, 2000});
  v.object({"high_pressure_pump", "High-pressure pump", "What it needs"}, c.high_pressure);
  v.object({"carburettor", "Carburettor", "Needle and bowl"}, c.carburettor);
  v.object({"transfer", "Transfer", "Across a two-sided tank"}, c.transfer);
  v.number({"tank_vent_mm", "Tank vent", "Bore"}, c.tank_vent, in_file::millimetre, {0, 200});
  v.choice({"roll_over_valve", "Roll-over valve", "Of the tank's vent: shuts when the car lies on its roof"},
           c.roll_over);
  v.number({"idle_manifold_kpa", "Manifold, idle", "Absolute"}, c.idle_manifold, in_file::kilopascal,
           {5, 1000});
  v.number({"full_manifold_kpa", "Manifold, full load", "Absolute: boost is in it"}, c.full_manifold,
           in_file::kilopascal, {5, 1000});
  v.number({"supply_v", "Supply", "Voltage with the engine running"}, c.supply, in_file::volt, {0, 60});
  v.number({"wished_drop_v", "Wires may take", "Wished at the most, there and back"}, c.wished_drop,
           in_file::volt, {0, 10, true});
  v.number({"wire_temperature_c", "Wires at", "Warm copper resists more"}, c.wire_temperature,
           in_file::celsius, {-40, 200});
  v.object({"charging", "Charging", "Alternator, battery, loads"}, c.charging);
  v.object({"heat", "Heat", "What the heat balance needs beside the circuit"}, c.heat);
}

}  // namespace uadze::project
