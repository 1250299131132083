#include "core/project/circuit_json.h"

#include "core/circuit/wiring.h"
#include "core/project/tank_json.h"

namespace uadze::project {
namespace {

using namespace circuit;

constexpr double millimetre = 1e-3, litre_per_hour = 1e-3 / 3600, kelvin = 273.15;
const std::vector<std::string> no_yes{"no", "yes"};
const std::vector<std::string> jet_drives{"return", "lift pump"};
const std::vector<std::string> valve_names{"left out", "built in"};
const NumberRule length{.factor = millimetre, .low = 0, .high = 50000, .missing = 0.0};

bool yes(JsonReader& in, const char* key) { return in.choice(key, no_yes, 0) == 1; }

// ---- reading
// -------------------------------------------------------------------------------------------------

double read_gauge(JsonReader& in, const char* key) {
  const std::string text = in.text(key, "");
  if (text.empty()) return 0.0;
  const auto area = parse_gauge(text);
  if (!area) in.fail(key, "a gauge such as \"AWG 12\" or \"2.5 mm2\"", "\"" + text + "\"");
  return area.value_or(0.0);
}

Wiring read_wiring(JsonReader in) {
  Wiring w;
  w.feed_area = read_gauge(in, "feed");
  w.feed_length = in.number("feed_mm", length);
  w.ground_area = read_gauge(in, "ground");
  w.ground_length = in.number("ground_mm", length);
  w.connectors = in.whole("connectors", 0, 100, 0);
  w.relay = in.text("relay", "");
  w.fuse = in.text("fuse", "");
  w.extra = in.number("extra_mohm", {.factor = 1e-3, .low = 0, .high = 10000, .missing = 0.0});
  in.warn_unknown();
  return w;
}

Part read_part(JsonReader& in) {
  Part p;
  p.kind = static_cast<PartKind>(in.choice("kind", part_kinds(), std::nullopt));
  // Of a kind that is not known nothing else can be asked.
  if (in.text("kind", "") != part_kinds()[static_cast<size_t>(p.kind)]) return p;
  p.name = in.text("name", "");
  const bool sized = p.kind == PartKind::line || p.kind == PartKind::fitting;
  if (sized || p.kind == PartKind::restriction) {
    p.type = in.text("hose", "");
    p.dash = in.whole("dash", 0, 48, 0);
    p.bore = in.number("bore_mm", {.factor = millimetre, .low = 0, .high = 200, .missing = 0.0});
  }
  switch (p.kind) {
    case PartKind::line:
      p.length = in.number("length_mm",
                           {.factor = millimetre, .low = 0, .high = 50000, .missing = {}, .above_low = true});
      if (in.has("run_mm")) p.run = in.vector("run_mm", {.factor = millimetre, .low = -50000, .high = 50000});
      p.in_fuel = yes(in, "in_fuel");
      p.in_cabin = yes(in, "in_cabin");
      break;
    case PartKind::fitting:
      p.form = static_cast<Form>(in.choice("form", form_names(), std::nullopt));
      p.count = in.whole("count", 1, 100, 1);
      p.bore_after =
          in.number("bore_after_mm", {.factor = millimetre, .low = 0, .high = 200, .missing = 0.0});
      break;
    case PartKind::restriction:
      p.discharge = in.number("discharge", {.low = 0, .high = 1, .missing = p.discharge, .above_low = true});
      break;
    case PartKind::pump:
      p.type = in.text("type");
      p.in_fuel = yes(in, "in_fuel");
      p.check_valve = in.choice("check_valve", valve_names, 1) == 1;
      if (auto wiring = in.object("wiring")) p.wiring = read_wiring(*wiring);
      break;
    default:
      p.type = in.text("type");
      p.doubled = yes(in, "doubled");
  }
  in.warn_unknown();
  return p;
}

Leg read_leg(JsonReader& in, const char* key) {
  Leg out;
  for (JsonReader& part : in.list(key)) out.push_back(read_part(part));
  return out;
}

Stage read_stage(JsonReader in) {
  Stage s;
  s.by = static_cast<StageBy>(in.choice("by", stage_names(), std::nullopt));
  const auto both = [&](const char* on, const char* off, const NumberRule& rule) {
    s.on = in.number(on, rule);
    s.off = in.number(off, rule);
  };
  switch (s.by) {
    case StageBy::always:
      break;
    case StageBy::throttle:
      both("on_percent", "off_percent", {.factor = 0.01, .low = 0, .high = 100});
      break;
    case StageBy::manifold:
      both("on_kpa", "off_kpa", {.factor = 1e3, .low = 0, .high = 2000});
      break;
    case StageBy::demand:
      both("on_l_h", "off_l_h", {.factor = litre_per_hour, .low = 0, .high = 5000});
      break;
    case StageBy::rotation:
      both("on_rpm", "off_rpm", {.factor = 1.0 / 60, .low = 0, .high = 30000});
      break;
  }
  s.spin_up = in.number("spin_up_s", {.low = 0, .high = 10, .missing = s.spin_up});
  in.warn_unknown();
  return s;
}

Charging read_charging(JsonReader in) {
  Charging c;
  c.alternator = in.text("alternator", "");
  c.ratio = in.number("ratio", {.low = 0, .high = 20, .missing = c.ratio, .above_low = true});
  c.battery = in.number("battery_ah", {.factor = 3600, .low = 0, .high = 1000, .missing = 0.0});
  for (JsonReader& load : in.list("loads")) {
    c.loads.push_back({load.text("name"), load.number("a", {.low = 0, .high = 500})});
    load.warn_unknown();
  }
  in.warn_unknown();
  return c;
}

// ---- writing
// -------------------------------------------------------------------------------------------------

Json number(double si, double factor = 1.0, double offset = 0.0) { return file_number(si, factor, offset); }
Json flag(bool on) { return no_yes[on ? 1 : 0]; }

Json wiring_json(const Wiring& w) {
  return {{"feed", w.feed_area > 0 ? gauge_text(w.feed_area) : ""},
          {"feed_mm", number(w.feed_length, millimetre)},
          {"ground", w.ground_area > 0 ? gauge_text(w.ground_area) : ""},
          {"ground_mm", number(w.ground_length, millimetre)},
          {"connectors", w.connectors},
          {"relay", w.relay},
          {"fuse", w.fuse},
          {"extra_mohm", number(w.extra, 1e-3)}};
}

Json part_json(const Part& p) {
  Json out{{"kind", part_kinds()[static_cast<size_t>(p.kind)]}};
  if (!p.name.empty()) out["name"] = p.name;
  if (p.kind == PartKind::line || p.kind == PartKind::fitting || p.kind == PartKind::restriction) {
    out["hose"] = p.type;
    out["dash"] = p.dash;
    out["bore_mm"] = number(p.bore, millimetre);
  }
  switch (p.kind) {
    case PartKind::line:
      out["length_mm"] = number(p.length, millimetre);
      out["run_mm"] = Json::array(
          {number(p.run.x(), millimetre), number(p.run.y(), millimetre), number(p.run.z(), millimetre)});
      out["in_fuel"] = flag(p.in_fuel);
      out["in_cabin"] = flag(p.in_cabin);
      break;
    case PartKind::fitting:
      out["form"] = form_names()[static_cast<size_t>(p.form)];
      out["count"] = p.count;
      out["bore_after_mm"] = number(p.bore_after, millimetre);
      break;
    case PartKind::restriction:
      out["discharge"] = number(p.discharge);
      break;
    case PartKind::pump:
      out["type"] = p.type;
      out["in_fuel"] = flag(p.in_fuel);
      out["check_valve"] = valve_names[p.check_valve ? 1 : 0];
      out["wiring"] = wiring_json(p.wiring);
      break;
    default:
      out["type"] = p.type;
      out["doubled"] = flag(p.doubled);
  }
  return out;
}

Json leg_json(const Leg& leg) {
  Json out = Json::array();
  for (const Part& p : leg) out.push_back(part_json(p));
  return out;
}

Json stage_json(const Stage& s) {
  Json out{{"by", stage_names()[static_cast<size_t>(s.by)]}};
  const auto both = [&](const char* on, const char* off, double factor) {
    out[on] = number(s.on, factor);
    out[off] = number(s.off, factor);
  };
  switch (s.by) {
    case StageBy::always:
      break;
    case StageBy::throttle:
      both("on_percent", "off_percent", 0.01);
      break;
    case StageBy::manifold:
      both("on_kpa", "off_kpa", 1e3);
      break;
    case StageBy::demand:
      both("on_l_h", "off_l_h", litre_per_hour);
      break;
    case StageBy::rotation:
      both("on_rpm", "off_rpm", 1.0 / 60);
      break;
  }
  out["spin_up_s"] = number(s.spin_up);
  return out;
}

}  // namespace

Circuit read_circuit(JsonReader in) {
  Circuit c;
  c.feed_kind = static_cast<EngineFeed>(in.choice("engine_feed", feed_names(), 0));
  for (JsonReader& l : in.list("lifts")) {
    c.lifts.push_back({l.text("pump"), read_leg(l, "parts")});
    l.warn_unknown();
  }
  c.surge_inside = in.choice("surge_tank_place", {"inside", "outside"}, 0) == 0;
  c.surge_vent = in.number("surge_vent_mm", {.factor = millimetre, .low = 0, .high = 100, .missing = 0.0});
  c.overflow = read_leg(in, "overflow");
  c.tee = read_leg(in, "tee");
  for (JsonReader& s : in.list("suctions")) {
    c.suctions.push_back({s.text("pickup"), read_leg(s, "parts")});
    s.warn_unknown();
  }
  for (JsonReader& m : in.list("mains")) {
    MainLeg leg{m.text("name", ""), read_leg(m, "parts"), {}};
    if (auto stage = m.object("stage")) leg.stage = read_stage(*stage);
    m.warn_unknown();
    c.mains.push_back(std::move(leg));
  }
  c.feed = read_leg(in, "feed");
  if (auto rail = in.object("rail")) {
    c.rail.feed = static_cast<RailFeed>(rail->choice("feed", rail_names(), 0));
    c.rail.injectors = rail->whole("injectors", 1, 64, c.rail.injectors);
    c.rail.injector = rail->text("injector", "");
    c.rail.bore =
        rail->number("bore_mm", {.factor = millimetre, .low = 0, .high = 100, .missing = c.rail.bore});
    c.rail.length =
        rail->number("length_mm", {.factor = millimetre, .low = 0, .high = 5000, .missing = c.rail.length});
    c.rail.duty_limit = rail->number(
        "duty_limit_percent", {.factor = 0.01, .low = 0, .high = 100, .missing = 0.85, .above_low = true});
    rail->warn_unknown();
  }
  if (auto r = in.object("regulator")) {
    c.regulator.type = r->text("type", "");
    c.regulator.base = r->number("base_kpa", {.factor = 1e3, .low = 0, .high = 30000, .missing = 3e5});
    c.regulator.referenced = r->choice("reference", {"open", "manifold"}, 1) == 1;
    r->warn_unknown();
  }
  c.back = read_leg(in, "return");
  c.return_above_fuel = in.choice("return_ends", {"under the fuel", "above the fuel"}, 0) == 1;
  if (auto hp = in.object("high_pressure_pump")) {
    c.high_pressure.least_inlet = hp->number(
        "least_inlet_kpa", {.factor = 1e3, .low = 0, .high = 5000, .missing = c.high_pressure.least_inlet});
    hp->warn_unknown();
  }
  if (auto carb = in.object("carburettor")) {
    c.carburettor.seat = carb->number(
        "seat_mm",
        {.factor = millimetre, .low = 0, .high = 50, .missing = c.carburettor.seat, .above_low = true});
    c.carburettor.bowl =
        carb->number("bowl_ml", {.factor = 1e-6, .low = 0, .high = 10000, .missing = c.carburettor.bowl});
    c.carburettor.most_pressure = carb->number(
        "most_pressure_kpa", {.factor = 1e3, .low = 0, .high = 500, .missing = c.carburettor.most_pressure});
    carb->warn_unknown();
  }
  if (auto t = in.object("transfer")) {
    c.transfer.kind = static_cast<TransferKind>(t->choice("kind", transfer_names(), 0));
    c.transfer.by_return = t->choice("driven_by", jet_drives, 0) == 0;
    c.transfer.nozzle =
        t->number("nozzle_mm", {.factor = millimetre, .low = 0, .high = 50, .missing = c.transfer.nozzle});
    c.transfer.throat =
        t->number("throat_mm", {.factor = millimetre, .low = 0, .high = 50, .missing = c.transfer.throat});
    c.transfer.parts = read_leg(*t, "parts");
    t->warn_unknown();
  }
  c.tank_vent =
      in.number("tank_vent_mm", {.factor = millimetre, .low = 0, .high = 200, .missing = c.tank_vent});
  const auto manifold = [](double missing) {
    return NumberRule{.factor = 1e3, .low = 5, .high = 1000, .missing = missing};
  };
  c.idle_manifold = in.number("idle_manifold_kpa", manifold(c.idle_manifold));
  c.full_manifold = in.number("full_manifold_kpa", manifold(c.full_manifold));
  c.supply = in.number("supply_v", {.low = 0, .high = 60, .missing = c.supply});
  c.wished_drop =
      in.number("wished_drop_v", {.low = 0, .high = 10, .missing = c.wished_drop, .above_low = true});
  c.wire_temperature = in.number("wire_temperature_c",
                                 {.offset = kelvin, .low = -40, .high = 200, .missing = c.wire_temperature});
  if (auto charging = in.object("charging")) c.charging = read_charging(*charging);
  if (auto heat = in.object("heat")) {
    c.heat.ambient =
        heat->number("ambient_c", {.offset = kelvin, .low = -40, .high = 80, .missing = c.heat.ambient});
    c.heat.tank_loss = heat->number("tank_loss_w_k", {.low = 0, .high = 1000, .missing = c.heat.tank_loss});
    c.heat.surge_loss =
        heat->number("surge_loss_w_k", {.low = 0, .high = 1000, .missing = c.heat.surge_loss});
    c.heat.engine_bay = heat->number("engine_bay_w", {.low = 0, .high = 20000, .missing = c.heat.engine_bay});
    heat->warn_unknown();
  }
  in.warn_unknown();
  return c;
}

Json circuit_json(const Circuit& c) {
  Json j;
  j["engine_feed"] = feed_names()[static_cast<size_t>(c.feed_kind)];
  j["lifts"] = Json::array();
  for (const auto& l : c.lifts) j["lifts"].push_back({{"pump", l.pump}, {"parts", leg_json(l.parts)}});
  j["surge_tank_place"] = c.surge_inside ? "inside" : "outside";
  j["surge_vent_mm"] = number(c.surge_vent, millimetre);
  j["overflow"] = leg_json(c.overflow);
  j["tee"] = leg_json(c.tee);
  j["suctions"] = Json::array();
  for (const auto& s : c.suctions)
    j["suctions"].push_back({{"pickup", s.pickup}, {"parts", leg_json(s.parts)}});
  j["mains"] = Json::array();
  for (const auto& m : c.mains)
    j["mains"].push_back({{"name", m.name}, {"parts", leg_json(m.parts)}, {"stage", stage_json(m.stage)}});
  j["feed"] = leg_json(c.feed);
  j["rail"] = {{"feed", rail_names()[static_cast<size_t>(c.rail.feed)]},
               {"injectors", c.rail.injectors},
               {"injector", c.rail.injector},
               {"bore_mm", number(c.rail.bore, millimetre)},
               {"length_mm", number(c.rail.length, millimetre)},
               {"duty_limit_percent", number(c.rail.duty_limit, 0.01)}};
  j["regulator"] = {{"type", c.regulator.type},
                    {"base_kpa", number(c.regulator.base, 1e3)},
                    {"reference", c.regulator.referenced ? "manifold" : "open"}};
  j["return"] = leg_json(c.back);
  j["return_ends"] = c.return_above_fuel ? "above the fuel" : "under the fuel";
  j["high_pressure_pump"] = {{"least_inlet_kpa", number(c.high_pressure.least_inlet, 1e3)}};
  j["carburettor"] = {{"seat_mm", number(c.carburettor.seat, millimetre)},
                      {"bowl_ml", number(c.carburettor.bowl, 1e-6)},
                      {"most_pressure_kpa", number(c.carburettor.most_pressure, 1e3)}};
  j["transfer"] = {{"kind", transfer_names()[static_cast<size_t>(c.transfer.kind)]},
                   {"driven_by", jet_drives[c.transfer.by_return ? 0 : 1]},
                   {"nozzle_mm", number(c.transfer.nozzle, millimetre)},
                   {"throat_mm", number(c.transfer.throat, millimetre)},
                   {"parts", leg_json(c.transfer.parts)}};
  j["tank_vent_mm"] = number(c.tank_vent, millimetre);
  j["idle_manifold_kpa"] = number(c.idle_manifold, 1e3);
  j["full_manifold_kpa"] = number(c.full_manifold, 1e3);
  j["supply_v"] = number(c.supply);
  j["wished_drop_v"] = number(c.wished_drop);
  j["wire_temperature_c"] = number(c.wire_temperature, 1, kelvin);
  Json loads = Json::array();
  for (const auto& l : c.charging.loads) loads.push_back({{"name", l.name}, {"a", number(l.current)}});
  j["charging"] = {{"alternator", c.charging.alternator},
                   {"ratio", number(c.charging.ratio)},
                   {"battery_ah", number(c.charging.battery, 3600)},
                   {"loads", loads}};
  j["heat"] = {{"ambient_c", number(c.heat.ambient, 1, kelvin)},
               {"tank_loss_w_k", number(c.heat.tank_loss)},
               {"surge_loss_w_k", number(c.heat.surge_loss)},
               {"engine_bay_w", number(c.heat.engine_bay)}};
  return j;
}

}  // namespace uadze::project
