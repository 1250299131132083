#pragma once
// The fields of a setup beside tank and circuit.
//
// Example:
//   EXPECT_EQ(project::written(fluid::Blend{.ethanol = 0.1})["ethanol_percent"], 10);
#include "core/fluid/liquid.h"
#include "core/project/describe_circuit.h"
#include "core/project/describe_tank.h"
#include "core/project/project.h"

namespace uadze::project {

template <class V>
void describe(V& v, fluid::Blend& b) {
  v.number({"ethanol_percent", "Ethanol by volume", "As entered; a measured content takes its place"},
           b.ethanol, in_file::percent, {0, 100});
  v.number({"methanol_percent", "Methanol by volume", "Petrol is what the two alcohols leave"}, b.methanol,
           in_file::percent, {0, 100});
  v.number({"temperature_c", "Fuel temperature", "In the tank; a session may have its own"}, b.temperature,
           in_file::celsius, {-40, 90});
  v.number({"petrol_density_kg_m3", "Petrol at 15 °C", "Density of the petrol in the blend"},
           b.petrol_density, in_file::kilogram_per_cubic_metre, {600, 900});
  v.number({"petrol_heating_mj_kg", "Petrol's heating value", "Lower heating value of the petrol"},
           b.petrol_heating, in_file::megajoule_per_kilogram, {35, 50});
  v.number({"petrol_air_ratio", "Petrol's air ratio", "Stoichiometric, by mass"}, b.petrol_air_ratio,
           in_file::air_ratio, {12, 16});
  v.number({"reid_pressure_kpa", "Reid vapour pressure", "Of the petrol: 45 to 60 kPa in summer"},
           b.reid_pressure, in_file::kilopascal, {20, 120});
}

template <class V>
void describe(V& v, fluid::WaterShift& t) {
  v.number({"water_ml", "Water", "Poured in first", must}, t.water, in_file::millilitre, {0, 10000});
  v.number({"fuel_ml", "Fuel", "Poured on it", must}, t.fuel, in_file::millilitre, {0, 10000});
  v.number({"boundary_ml", "Boundary at", "Its mark after settling, from the bottom", must}, t.boundary,
           in_file::millilitre, {0, 10000});
}

template <class V>
void describe(V& v, starvation::FigureFuel& f) {
  v.number({"ethanol_percent", "Figures: ethanol", "By volume, of the fuel they were measured with"},
           f.ethanol, in_file::percent, {0, 100});
  v.number({"methanol_percent", "Figures: methanol", "By volume, of the fuel they were measured with"},
           f.methanol, in_file::percent, {0, 100});
  v.optional_number({"lambda", "Figures: air ratio", "How lean they were measured", false, "the engine's"},
                    f.lambda, in_file::plain, {0.5, 2});
  v.optional_number(
      {"temperature_c", "Figures: fuel at", "Of the fuel whose volume was measured", false, "the setup's"},
      f.temperature, in_file::celsius, {-40, 90});
}

template <class V>
void describe(V& v, starvation::Engine& e) {
  v.number({"power_kw", "Power", "Brake power at full throttle"}, e.power, in_file::kilowatt, {0, 5000});
  v.number({"consumption_g_kwh", "Consumption", "Brake specific, at full load"}, e.consumption,
           in_file::gram_per_kilowatt_hour, {0, 2000});
  v.number({"idle_flow_l_h", "Idle flow", "At closed throttle"}, e.idle_flow, in_file::litre_per_hour,
           {0, 200});
  v.choice(
      {"demand_from", "Demand from",
       "The lap's fuel_flow times flow_scale (throttle x power x consumption where the lap has none), or "
       "always power"},
      e.demand);
  v.number({"flow_scale", "Logged flow times", "Another engine map; another fuel is figures_of's"},
           e.flow_scale, in_file::plain, {0, 10, true});
  v.number({"lambda", "Air ratio", "At full load, with the setup's fuel; under 1 is rich"}, e.lambda,
           in_file::plain, {0.5, 2});
  v.optional_object(
      {"figures_of", "Figures are of",
       "Fuel and mixture with which consumption, idle flow and the lap's fuel_flow were measured; "
       "absent: the setup's own. The demand follows by the air that both burn"},
      e.figures_of);
}

template <class V>
void describe(V& v, starvation::LearntFigure& f) {
  v.choice({"figure", "Figure", "Of the model"}, f.figure);
  v.number({"factor", "Factor", "On the model's own figure", must}, f.factor, in_file::plain, {0.05, 20});
  v.number({"deviation", "Deviation", "Of the factor: one standard deviation", must}, f.deviation,
           in_file::plain, {0, 5});
}

template <class V>
void describe(V& v, starvation::Together& t) {
  v.choice({"one", "Figure", ""}, t.one);
  v.choice({"other", "and", ""}, t.other);
  v.number({"correlation", "Correlation", "Of their factors", must}, t.correlation, in_file::plain, {-1, 1});
}

template <class V>
void describe(V& v, starvation::Calibration& c) {
  v.text({"date", "Date", "When it was made", must}, c.date);
  v.texts({"logs", "Logs", "Names of the logs' files"}, c.logs);
  v.whole({"laps", "Laps", "That it rests on"}, c.laps, 0, 100000);
  v.list({"figures", "Figures", "Those that were learnt; others stay as they are"}, c.figures);
  v.list({"together", "Together", "How they hang together"}, c.together);
}

template <class V>
void describe(V& v, starvation::LiftPump& p) {
  v.text({"name", "Lift pump", "Pickups and the circuit's lift legs name it", must}, p.name);
  v.number({"flow_l_h", "Flow", "Of fuel, while its pickup is covered; counts only without a circuit", must},
           p.flow, in_file::litre_per_hour, {0, 5000});
}

template <class V>
void describe(V& v, starvation::SurgeTank& s) {
  v.number({"volume_l", "Surge volume", "Inside, of an upright cylinder", must}, s.volume, in_file::litre,
           {0, 100, true});
  v.choice(
      {"engine_return", "Engine return to",
       "To the surge tank the net draw is what the engine burns; to the main tank all of the main pumps' "
       "flow has to be lifted; the tee joins it with the overflow, so to the main tank too"},
      s.engine_return);
  v.number({"height_mm", "Height", "Inside; 0: twice its diameter", false, "twice its diameter"}, s.height,
           in_file::millimetre, {0, 2000});
  v.number({"pickup_forward_mm", "Pickup, forward", "Of the main pump's pickup on its floor, from its axis"},
           s.pickup.x(), in_file::millimetre, {-1000, 1000});
  v.number({"pickup_left_mm", "Pickup, to the left", "Of the main pump's pickup on its floor, from its axis"},
           s.pickup.y(), in_file::millimetre, {-1000, 1000});
  v.number({"pickup_radius_mm", "Pickup's radius", "Decides how deep it must stand for its flow"},
           s.pickup_radius, in_file::millimetre, {0, 100});
}

template <class V>
void describe(V& v, starvation::Limits& l) {
  v.number({"lean_percent", "Leaner than set by",
            "By the injectors' law: 3 % is a pressure difference under 94 % of the set one"},
           l.mixture.lean, in_file::percent, {0.1, 100});
  v.number({"lean_s", "for longer than", "Shorter dips are let pass"}, l.mixture.time, in_file::second,
           {0, 10});
  v.flag({"pressure_corrected", "Controller corrects for rail pressure",
          "It keeps the mixture until the injectors are open all the time or the rail is at its least"},
         l.mixture.corrected, "no", "yes");
  v.number({"least_rail_kpa", "Correction ends at",
            "Pressure difference under which the engine is not mapped; only where the controller corrects"},
           l.mixture.least_rail, in_file::kilopascal, {0, 2000});
  v.number({"gas_percent", "Gas at the main pump over", "Share of gas in what it draws"}, l.gas,
           in_file::percent, {0, 100});
  v.number({"gas_s", "gas for longer than", "Shorter sips are let pass"}, l.gas_time, in_file::second,
           {0, 10});
  v.number({"compliance_ml_bar", "Rail and hoses give", "0: by what line and filter hold"}, l.compliance,
           in_file::millilitre_per_bar, {0, 1000});
  v.number({"bubble_rise_mm_s", "Bubbles rise at", "In the surge tank; half a millimetre across: 0.1 m/s"},
           l.bubble_rise, in_file::millimetre_per_second, {1, 1000});
}

template <class V>
void describe(V& v, build::KeepOut& k) {
  v.text({"name", "Keep clear of", "Exhaust, driveline, what moves, the ground", must}, k.name);
  v.vector({"low_mm", "From", "Its box's lowest corner: forward, left, up", must}, k.low, in_file::millimetre,
           anywhere);
  v.vector({"high_mm", "To", "Its highest corner", must}, k.high, in_file::millimetre, anywhere);
  v.number({"clearance_mm", "By", "What a line's middle keeps from it"}, k.clearance, in_file::millimetre,
           {0, 1000});
}

template <class V>
void describe(V& v, Setup& s) {
  v.text({"name", "Setup", "Its name in tables and on the session card", must}, s.name);
  v.text({"notes", "Notes", "Free text"}, s.notes);
  v.object({"fuel", "Fuel", "Blend of petrol, ethanol, methanol"}, s.fuel);
  v.optional_object({"water_shift", "Water shift",
                     "A tube reading that takes the place of ethanol_percent and moves the demand"},
                    s.tube);
  v.object({"engine", "Engine", "What it burns"}, s.engine);
  v.object({"tank", "Tank", "Its shapes and what is inside it", must}, s.tank);
  v.list({"lift_pumps", "Lift pumps", "What fills the surge tank"}, s.lift_pumps);
  v.optional_object({"surge_tank", "Surge tank", "Absent: pickups feed the engine straight"}, s.surge);
  v.number({"main_pump_flow_l_h", "Main pump flow", "What circulates; counts only without a circuit"},
           s.main_pump_flow, in_file::litre_per_hour, {0, 5000});
  v.number({"line_hold_l", "Line and filter hold",
            "Fuel between the main pump's pickup and the rail: gas takes its time through it"},
           s.line_hold, in_file::litre, {0, 20});
  v.object({"starvation_limits", "What counts as starvation", "Either for longer than its time"}, s.limits);
  v.optional_object({"circuit", "Circuit", "Absent: pump flows as entered"}, s.circuit);
  v.optional_object({"calibration", "Calibration", "What logs have taught of the model's figures"},
                    s.calibration);
  v.list({"keep_outs", "Keep-outs", "Boxes that lines must clear"}, s.keep_outs);
}

}  // namespace uadze::project
