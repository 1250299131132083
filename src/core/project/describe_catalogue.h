#pragma once
// The fields of a catalogue file, of the simulator's tracks and of its cars.
//
// Example:
//   EXPECT_NE(project::json_schema(project::FileKind::catalogue).dump().find("pumps"), std::string::npos);
#include "core/circuit/catalogue.h"
#include "core/lap/simulate.h"
#include "core/project/field.h"

namespace uadze::project {

/// A pump gives its curves, or a bench file beside the catalogue, or a single point to estimate from.
struct PumpEntry {
  circuit::PumpType type;
  std::string bench_file;
  std::optional<circuit::SinglePoint> point;
};

struct CatalogueFile {
  std::string notes;
  std::vector<PumpEntry> pumps;
  circuit::Catalogue others;  ///< all but pumps
};

struct CarFile {
  lap::Car car;
  lap::Noise noise;
};

inline constexpr Range flow_range{0, 20000, true}, drop_range{0, 1e5};

template <class V>
void describe(V& v, circuit::Ratings& r) {
  constexpr FileUnit hour{"h", 3600, 0, Quantity::duration};
  v.number({"most_bar", "Most pressure", "Over air; 0: not known"}, r.pressure, in_file::bar, {0, 5000});
  v.number({"least_c", "Coldest", "-273.15: not known"}, r.coldest, in_file::celsius, {-273.15, 100});
  v.number({"most_c", "Hottest", "-273.15: not known"}, r.hottest, in_file::celsius, {-273.15, 1000});
  v.optional_number({"most_ethanol_percent", "Most ethanol", "Of the blend; absent: not known"}, r.ethanol,
                    in_file::percent, {0, 100});
  v.flag({"methanol", "Methanol", "Stands it"}, r.methanol, "no", "yes");
  v.flag({"in_fuel", "In fuel", "Its outside may lie in fuel or its vapour"}, r.in_fuel, "no", "yes");
  v.flag({"engine_bay", "Engine bay", "It may be there"}, r.engine_bay, "no", "yes");
  v.choice({"seal", "Sealed by", "Its ports"}, r.seal);
  v.choice({"material", "Made of", "What touches the next part"}, r.material);
  v.text({"marking", "Marking", "What is printed on the right one"}, r.marking);
  v.text({"supplier", "Supplier", "Of an order"}, r.supplier);
  v.number({"seasons", "Lasts", "Seasons; 0: not limited"}, r.seasons, in_file::plain, {0, 100});
  v.number({"hours", "Runs", "Hours that it lasts; 0: not limited"}, r.hours, hour, {0, 1e5});
}

template <class V>
void describe_entry(V& v, circuit::Entry& e, const char* mass_key = "mass_kg") {
  v.text({"name", "Name", "Circuits name the type by it; one that is there already is replaced", must},
         e.name);
  v.text({"note", "Note", "Free text"}, e.note);
  v.number({mass_key, "Mass", "Of hoses a metre at -8, of foam a litre"}, e.mass, in_file::kilogram,
           {0, 1000});
  v.choice({"cost", "Cost", "Class of price"}, e.cost);
  v.optional_object({"ratings", "Ratings", "What it stands, where it may be, how it is joined"}, e.ratings);
}

template <class V>
void describe(V& v, circuit::SinglePoint& p) {
  v.number({"l_h", "Flow", "At that pressure", must}, p.flow, in_file::litre_per_hour, flow_range);
  v.number({"bar", "Pressure", "Rise from inlet to outlet", must}, p.pressure, in_file::bar, {0, 300, true});
  v.number({"v", "Voltage", "At the pump", must}, p.voltage, in_file::volt, {0, 100, true});
  v.number({"a", "Current", "0: estimated"}, p.current, in_file::ampere, {0, 500});
}

template <class V>
void describe(V& v, circuit::CurvePoint& p) {
  v.number({"bar", "Pressure", "Rise from inlet to outlet", must}, p.pressure, in_file::bar, {0, 300});
  v.number({"l_h", "Flow", "Falls as pressure rises", must}, p.flow, in_file::litre_per_hour, {0, 20000});
  v.number({"a", "Current", "Of an electric pump"}, p.current, in_file::ampere, {0, 500});
}

template <class V>
void describe(V& v, PumpEntry& p) {
  describe_entry(v, p.type);
  v.choice({"role", "Made for", "What it is offered for"}, p.type.role);
  v.flag({"driven_by", "Driven by", "Of an engine-driven pump the curves are by its shaft's speed"},
         p.type.curves.engine_driven, "electricity", "engine");
  v.number({"turns", "Turns", "Of an engine-driven pump: its shaft's usual speed over the crankshaft's"},
           p.type.turns, in_file::plain, {0.01, 20});
  v.list_by(
      {"curves", "Curves", "Or bench_file, or point"}, p.type.curves.curves,
      [&](auto& w, circuit::PumpCurve& c) {
        w.flag_cases(
            p.type.curves.engine_driven,
            [&](auto& u) {
              u.number({"rotation_rpm", "Shaft", "Its speed", must}, c.drive, in_file::rotation, {0, 30000});
            },
            [&](auto& u) {
              u.number({"voltage_v", "Voltage", "At the pump", must}, c.drive, in_file::volt, {0, 60});
            });
        w.list({"points", "Points", "By rising pressure", must}, c.points);
      });
  v.text({"bench_file", "Bench file",
          "CSV beside the catalogue: voltage [V], pressure [bar], flow [l/h], current [A]"},
         p.bench_file);
  v.optional_object({"point", "Point", "One point of a data sheet: the curve is estimated"}, p.point);
  v.number({"inlet_margin_kpa", "Inlet margin", "Over vapour pressure, for full flow"},
           p.type.curves.inlet_margin, in_file::kilopascal, {0, 200});
  v.number({"idle_leak_l_h", "Idle leak", "Back through the standing pump at 1 bar"}, p.type.curves.idle_leak,
           in_file::litre_per_hour, {0, 5000});
  v.number({"relief_bar", "Relief", "Rise that opens the relief valve in the pump; 0: it has none"},
           p.type.curves.relief, in_file::bar, {0, 300});
  v.number({"locked_a", "Rotor held", "Current at the highest voltage of its curves; 0: estimated"},
           p.type.curves.locked, in_file::ampere, {0, 1000});
  v.number({"peak_over_mean", "Peak flow", "Of what the inlet draws in jerks, over its mean; 1: smooth"},
           p.type.curves.peak_flow, in_file::plain, {1, 10});
  v.number({"strokes", "Strokes", "Of one turn of its shaft"}, p.type.curves.strokes, in_file::plain,
           {0, 20, true});
  v.number({"inlet_ml_bar", "Inlet gives", "Compliance of dome, diaphragm or hose at the inlet"},
           p.type.curves.compliance, in_file::millilitre_per_bar, {0, 1000});
  v.flag({"check_valve", "Check valve", "Whether it has one"}, p.type.built_in_check, "none", "built in");
  v.flag({"alcohol", "Alcohol", "Stands high-ethanol blends"}, p.type.alcohol, "no", "yes");
}

template <class V>
void describe(V& v, circuit::FilterType& t) {
  describe_entry(v, t);
  v.number({"flow_l_h", "Flow", "Of its ratings", must}, t.flow, in_file::litre_per_hour, flow_range);
  v.number({"clean_kpa", "Clean", "Loss when new", must}, t.clean, in_file::kilopascal, drop_range);
  v.number({"loaded_kpa", "Loaded", "Loss when it is due", must}, t.loaded, in_file::kilopascal, drop_range);
  v.number({"viscous_percent", "Viscous", "Share of the loss that follows viscosity"}, t.viscous,
           in_file::percent, {0, 100});
  v.number({"mesh_micron", "Mesh", "What it holds back"}, t.mesh, in_file::micron, {0, 1e4});
  v.flag({"paper", "Paper", "Swells with alcohol"}, t.paper, "no", "yes");
}

template <class V>
void describe(V& v, circuit::CheckValveType& t) {
  describe_entry(v, t);
  v.number({"cracking_kpa", "Cracking", "Opens it", must}, t.cracking, in_file::kilopascal, drop_range);
  v.number({"flow_l_h", "Flow", "Of its rating", must}, t.flow, in_file::litre_per_hour, flow_range);
  v.number({"drop_kpa", "Loss", "There, over the cracking pressure", must}, t.drop, in_file::kilopascal,
           drop_range);
}

template <class V>
void describe(V& v, circuit::RestrictionType& t) {
  describe_entry(v, t);
  v.number({"flow_l_h", "Flow", "Of its rating", must}, t.flow, in_file::litre_per_hour, flow_range);
  v.number({"drop_kpa", "Loss", "There", must}, t.drop, in_file::kilopascal, drop_range);
}

template <class V>
void describe(V& v, circuit::RegulatorType& t) {
  constexpr FileUnit slope{"kPa per 100 L/h", 1e3 / (100 * (1e-3 / 3600)), 0, Quantity::plain};
  describe_entry(v, t);
  v.number({"slope_kpa_per_100_l_h", "Slope", "By which it holds more as it passes more"}, t.slope, slope,
           {0, 1e4});
  v.number({"open_flow_l_h", "Open flow", "Wide open", must}, t.open_flow, in_file::litre_per_hour,
           flow_range);
  v.number({"open_drop_kpa", "Open loss", "Wide open at that flow", must}, t.open_drop, in_file::kilopascal,
           drop_range);
}

template <class V>
void describe(V& v, circuit::InjectorType& t) {
  describe_entry(v, t);
  v.number({"flow_l_h", "Flow", "Held open", must}, t.flow, in_file::litre_per_hour, flow_range);
  v.number({"at_kpa", "At", "Difference at which it was measured"}, t.difference, in_file::kilopascal,
           {0, 1e5, true});
}

template <class V>
void describe(V& v, circuit::HoseType& t) {
  describe_entry(v, t, "mass_kg_m");
  v.number({"roughness_um", "Roughness", "Of the bore"}, t.roughness, in_file::micron, {0, 5000});
  v.flag({"lies_in_fuel", "Lies in fuel", "Rated to"}, t.lies_in_fuel, "no", "yes");
  v.flag({"alcohol", "Alcohol", "Stands high-ethanol blends"}, t.alcohol, "no", "yes");
  v.sizes({"mass_by_size_kg_m", "Mass by size", "By dash size; else that of -8 by the dash number"},
          t.mass_by_size, in_file::kilogram, {0, 100, true}, 48);
  v.sizes({"bore_mm", "Bores", "True bore by dash size", must}, t.bore, in_file::millimetre, {0, 200, true},
          48);
}

template <class V>
void describe(V& v, circuit::RelayType& t) {
  describe_entry(v, t);
  v.number({"rating_a", "Rating", "", must}, t.rating, in_file::ampere, {0, 1000, true});
  v.number({"resistance_mohm", "Resistance", "Of its contact"}, t.resistance, in_file::milliohm, {0, 1000});
}

template <class V>
void describe(V& v, circuit::FuseType& t) {
  describe_entry(v, t);
  v.number({"rating_a", "Rating", "", must}, t.rating, in_file::ampere, {0, 1000, true});
  v.number({"resistance_mohm", "Resistance", "With its holder"}, t.resistance, in_file::milliohm, {0, 1000});
}

template <class V>
void describe(V& v, circuit::AlternatorType& t) {
  describe_entry(v, t);
  v.number({"voltage_v", "Voltage", "That it holds"}, t.voltage, in_file::volt, {5, 60});
  v.list_by(
      {"output", "Output", "By its shaft's speed, rising", must}, t.output,
      [](auto& w, std::pair<double, double>& p) {
        w.number({"rotation_rpm", "Shaft", "Its own speed", must}, p.first, in_file::rotation, {0, 50000});
        w.number({"a", "Current", "That it gives", must}, p.second, in_file::ampere, {0, 1000});
      });
}

template <class V>
void describe(V& v, circuit::FoamType& f) {
  describe_entry(v, f, "mass_kg_l");
  v.number({"porosity_percent", "Porosity", "Share of the foam's volume that fuel can take", must},
           f.porosity, in_file::percent, {60, 100});
  v.number({"permeability_m2", "Permeability, m2", "Darcy permeability", must}, f.permeability,
           in_file::square_metre, {1e-12, 1e-3});
  v.number({"keeps_percent", "Keeps back", "Share of its volume whose fuel never comes out", must}, f.keeps,
           in_file::percent, {0, 20});
}

template <class V>
void describe(V& v, CatalogueFile& c) {
  v.text({"notes", "Notes", "Free text"}, c.notes);
  v.list({"pumps", "Pumps", "Electric or engine-driven"}, c.pumps);
  v.list({"filters", "Filters", "Socks, screens, fine filters"}, c.others.filters);
  v.list({"check_valves", "Check valves", ""}, c.others.check_valves);
  v.list({"sensors", "Sensors", "Known by their loss at one flow"}, c.others.sensors);
  v.list({"diffusers", "Diffusers", "Known by their loss at one flow"}, c.others.diffusers);
  v.list({"regulators", "Regulators", ""}, c.others.regulators);
  v.list({"injectors", "Injectors", ""}, c.others.injectors);
  v.list({"hoses", "Hoses", "And rigid tube"}, c.others.hoses);
  v.list({"relays", "Relays", ""}, c.others.relays);
  v.list({"fuses", "Fuses", ""}, c.others.fuses);
  v.list({"alternators", "Alternators", ""}, c.others.alternators);
  v.list({"foams", "Foams", "Whose figures a tank's foam may take over"}, c.others.foams);
}

template <class V>
void describe(V& v, lap::Segment& s) {
  v.text({"name", "Name", "Of a corner"}, s.name);
  v.number({"length_m", "Length", "Along the middle", must}, s.length, in_file::metre, {0, 20000, true});
  v.number({"radius_m", "Radius", "+ left, - right, 0 straight"}, s.radius, in_file::metre, {-20000, 20000});
  v.number({"banking_deg", "Banking", "+ leaning into the corner"}, s.banking, in_file::degree, {-30, 45});
  v.number({"grade_percent", "Grade", "+ uphill"}, s.grade, in_file::percent, {-40, 40});
}

template <class V>
void describe(V& v, lap::Track& t) {
  v.text({"name", "Track", "Its name", must}, t.name);
  v.flag({"start", "Start", "Flying: a closed circuit"}, t.closed, "standing", "flying");
  v.number({"blend_length_m", "Blend", "Over which one curvature becomes the next"}, t.blend_length,
           in_file::metre, {0, 200});
  v.list({"segments", "Segments", "In order", must}, t.segments);
}

template <class V>
void describe(V& v, lap::Noise& n) {
  v.whole({"seed", "Seed", "Of the noise"}, n.seed, 0, 2000000000);
  v.number({"acceleration_g", "Acceleration", "Standard deviation"}, n.acceleration, in_file::gravity,
           {0, 1});
  v.number({"flow_percent", "Flow", "Standard deviation"}, n.flow, in_file::percent, {0, 50});
}

template <class V>
void describe(V& v, CarFile& f) {
  lap::Car& c = f.car;
  v.text({"name", "Car", "Its name", must}, c.name);
  v.number({"mass_kg", "Mass", "With driver and fuel", must}, c.mass, in_file::kilogram, {50, 10000});
  v.number({"power_kw", "Power", "At the wheels", must}, c.power, in_file::kilowatt, {1, 5000});
  v.number({"grip", "Grip", "Of the tyres, as a friction coefficient", must}, c.grip, in_file::plain,
           {0.05, 4});
  v.number({"drag_area_m2", "Drag area", "Coefficient times area", must}, c.drag_area, in_file::square_metre,
           {0, 10});
  v.number({"downforce_area_m2", "Downforce area", "Coefficient times area"}, c.downforce_area,
           in_file::square_metre, {-2, 20});
  v.number({"rolling_resistance", "Rolling resistance", "Of the weight"}, c.rolling, in_file::plain,
           {0, 0.2});
  v.number({"brake_limit_g", "Brakes", "Most that they give", must}, c.brake_limit, in_file::gravity,
           {0.1, 8});
  v.number({"traction_share", "Traction", "Share of the grip that drives"}, c.traction_share, in_file::plain,
           {0.1, 1});
  v.number({"air_density_kg_m3", "Air", "Its density"}, c.air_density, in_file::kilogram_per_cubic_metre,
           {0.5, 2});
  v.number({"consumption_g_kwh", "Consumption", "Brake specific", must}, c.consumption,
           in_file::gram_per_kilowatt_hour, {50, 2000});
  v.number({"fuel_density_kg_m3", "Fuel", "Its density"}, c.fuel_density, in_file::kilogram_per_cubic_metre,
           {500, 1000});
  v.number({"idle_flow_l_h", "Idle flow", "At closed throttle"}, c.idle_flow, in_file::litre_per_hour,
           {0, 100});
  v.number({"idle_rpm", "Idle", "Crankshaft"}, c.idle_rotation, in_file::rotation, {100, 5000});
  v.number({"top_rpm", "Top", "Crankshaft"}, c.top_rotation, in_file::rotation, {1000, 25000});
  v.numbers({"gear_top_speeds_km_h", "Gears", "Top speed of each"}, c.gear_speeds,
            in_file::kilometre_per_hour, {5, 500});
  v.object({"noise", "Noise", "Of the simulated logger"}, f.noise);
}

}  // namespace uadze::project
