#include "core/project/project.h"

#include <fmt/format.h>

#include <cmath>
#include <set>

#include "core/base/files.h"
#include "core/base/units.h"
#include "core/project/catalogue_file.h"
#include "core/project/circuit_json.h"
#include "core/project/json_patch.h"
#include "core/project/json_reader.h"
#include "core/project/session_json.h"
#include "core/project/tank_json.h"
#include "core/project/tank_store.h"
#include "core/starvation/surge.h"

namespace uadze::project {
namespace {

namespace fs = std::filesystem;

constexpr int format_version = 1;
constexpr double litre = 1e-3, millimetre = 1e-3, litre_per_hour = 1e-3 / 3600, gram_per_kwh = 1e-3 / 3.6e6;

const std::vector<std::string> return_names{"surge tank", "main tank", "overflow tee"};
const std::vector<std::string> demand_names{"logged flow", "power"};
const std::vector<std::string> hand_names{"left", "right", "none"};
const std::vector<std::string> zero_names{"accelerometer", "gravity removed"};

// ---- reading
// -------------------------------------------------------------------------------------------------

fluid::Blend read_fuel(JsonReader in) {
  const fluid::Blend usual;
  fluid::Blend out;
  out.ethanol =
      in.number("ethanol_percent", {.factor = 0.01, .low = 0, .high = 100, .missing = usual.ethanol});
  out.temperature =
      in.number("temperature_c", {.offset = 273.15, .low = -40, .high = 90, .missing = usual.temperature});
  out.petrol_density =
      in.number("petrol_density_kg_m3", {.low = 600, .high = 900, .missing = usual.petrol_density});
  out.petrol_heating = in.number("petrol_heating_mj_kg",
                                 {.factor = 1e6, .low = 35, .high = 50, .missing = usual.petrol_heating});
  out.petrol_air_ratio =
      in.number("petrol_air_ratio", {.low = 12, .high = 16, .missing = usual.petrol_air_ratio});
  out.reid_pressure =
      in.number("reid_pressure_kpa", {.factor = 1e3, .low = 20, .high = 120, .missing = usual.reid_pressure});
  in.warn_unknown();
  return out;
}

fluid::WaterShift read_tube(JsonReader in) {
  const NumberRule millilitre{.factor = 1e-6, .low = 0, .high = 10000};
  fluid::WaterShift out{in.number("water_ml", millilitre), in.number("fuel_ml", millilitre),
                        in.number("boundary_ml", millilitre)};
  in.warn_unknown();
  try {
    fluid::water_shift_content(out);
  } catch (const InputError& error) {
    const Message& m = error.messages().front();
    in.fail(m.place + "_ml", m.expected, m.found);
  }
  return out;
}

starvation::Engine read_engine(JsonReader in) {
  starvation::Engine out;
  out.power = in.number("power_kw", {.factor = 1000, .low = 0, .high = 5000, .missing = 0.0});
  out.consumption =
      in.number("consumption_g_kwh", {.factor = gram_per_kwh, .low = 0, .high = 2000, .missing = 0.0});
  out.idle_flow =
      in.number("idle_flow_l_h", {.factor = litre_per_hour, .low = 0, .high = 200, .missing = 0.0});
  out.demand = static_cast<starvation::DemandFrom>(in.choice("demand_from", demand_names, 0));
  out.flow_scale = in.number("flow_scale", {.low = 0, .high = 10, .missing = 1.0, .above_low = true});
  in.warn_unknown();
  return out;
}

starvation::Limits read_limits(JsonReader in) {
  starvation::Limits out;
  out.pressure =
      in.number("pressure_percent", {.factor = 0.01, .low = 0, .high = 100, .missing = out.pressure});
  out.pressure_time = in.number("pressure_s", {.low = 0, .high = 10, .missing = out.pressure_time});
  out.gas = in.number("gas_percent", {.factor = 0.01, .low = 0, .high = 100, .missing = out.gas});
  out.gas_time = in.number("gas_s", {.low = 0, .high = 10, .missing = out.gas_time});
  out.compliance = in.number("compliance_ml_bar", {.factor = 1e-11, .low = 0, .high = 1000, .missing = 0.0});
  out.bubble_rise = in.number("bubble_rise_mm_s",
                              {.factor = millimetre, .low = 1, .high = 1000, .missing = out.bubble_rise});
  in.warn_unknown();
  return out;
}

Setup read_setup(JsonReader in) {
  Setup out;
  out.name = in.text("name");
  out.notes = in.text("notes", "");
  if (auto fuel = in.object("fuel")) out.fuel = read_fuel(*fuel);
  if (auto tube = in.object("water_shift")) out.tube = read_tube(*tube);
  if (auto engine = in.object("engine")) out.engine = read_engine(*engine);
  if (auto tank = in.object("tank", true)) out.tank = read_tank(*tank);
  for (JsonReader& pump : in.list("lift_pumps")) {
    out.lift_pumps.push_back(
        {pump.text("name"), pump.number("flow_l_h", {.factor = litre_per_hour, .low = 0, .high = 5000})});
    pump.warn_unknown();
  }
  if (auto surge = in.object("surge_tank")) {
    starvation::SurgeTank s;
    s.volume =
        surge->number("volume_l", {.factor = litre, .low = 0, .high = 100, .missing = {}, .above_low = true});
    s.engine_return = static_cast<starvation::Return>(surge->choice("engine_return", return_names, 0));
    s.height = surge->number("height_mm", {.factor = millimetre, .low = 0, .high = 2000, .missing = 0.0});
    s.pickup.x() = surge->number("pickup_forward_mm",
                                 {.factor = millimetre, .low = -1000, .high = 1000, .missing = 0.0});
    s.pickup.y() =
        surge->number("pickup_left_mm", {.factor = millimetre, .low = -1000, .high = 1000, .missing = 0.0});
    s.pickup_radius = surge->number(
        "pickup_radius_mm", {.factor = millimetre, .low = 0, .high = 100, .missing = s.pickup_radius});
    if (s.pickup.norm() > starvation::surge_radius(s))
      surge->fail("pickup_forward_mm",
                  fmt::format("a place inside the surge tank, within {:.0f} mm of its axis",
                              starvation::surge_radius(s) / millimetre),
                  fmt::format("{:.0f} mm from it", s.pickup.norm() / millimetre));
    surge->warn_unknown();
    out.surge = s;
  }
  out.main_pump_flow =
      in.number("main_pump_flow_l_h", {.factor = litre_per_hour, .low = 0, .high = 5000, .missing = 0.0});
  out.line_hold = in.number("line_hold_l", {.factor = litre, .low = 0, .high = 20, .missing = 0.0});
  if (auto limits = in.object("starvation_limits")) out.limits = read_limits(*limits);
  if (auto circuit = in.object("circuit")) out.circuit = read_circuit(*circuit);
  in.warn_unknown();
  return out;
}

LapReference read_lap_reference(JsonReader in) {
  LapReference out;
  out.name = in.text("name");
  out.file = in.text("file");
  out.repeated = in.choice("start", {"flying", "standing"}, 0) == 0;
  out.vertical_zero = static_cast<lap::VerticalZero>(in.choice("vertical_zero", zero_names, 0));
  for (JsonReader& corner : in.list("corners")) {
    lap::Corner c;
    c.name = corner.text("name");
    c.from = corner.number("from_m", {.low = 0, .high = 1e6});
    c.to = corner.number("to_m", {.low = 0, .high = 1e6});
    c.hand = static_cast<lap::Hand>(corner.choice("hand", hand_names, 2));
    if (c.to <= c.from)
      corner.fail("to_m", fmt::format("more than from_m, {:.6g}", c.from), fmt::format("{:.6g}", c.to));
    corner.warn_unknown();
    out.corners.push_back(std::move(c));
  }
  in.warn_unknown();
  return out;
}

// ---- what only the whole can show
// ------------------------------------------------------------------------------

class Checker {
 public:
  Checker(const Project& project, const std::string& file, Messages& messages, TankStore* tanks)
      : project_(project), file_(file), messages_(messages), tanks_(tanks) {}

  void run() {
    names(project_.setups, "/setups");
    names(project_.laps, "/laps");
    names(project_.sessions, "/sessions");
    for (size_t i = 0; i < project_.setups.size(); ++i)
      setup(project_.setups[i], fmt::format("/setups/{}", i));
    for (size_t i = 0; i < project_.sessions.size(); ++i) {
      const auto& s = project_.sessions[i];
      for (Message m : session::session_faults(s, fmt::format("/sessions/{}", i))) {
        m.file = file_;
        // A project that is being put together may have a session before it has a lap.
        if (s.lap.empty() && m.place.ends_with("/lap")) m.severity = Severity::warning;
        messages_.push_back(std::move(m));
      }
      if (!s.lap.empty() && !project_.find_lap(s.lap))
        fail(fmt::format("/sessions/{}/lap", i), "the name of one of the laps", "\"" + s.lap + "\"");
    }
  }

 private:
  void say(Severity severity, std::string place, std::string expected, std::string found) {
    messages_.push_back({severity, file_, std::move(place), std::move(expected), std::move(found)});
  }
  void fail(std::string place, std::string expected, std::string found) {
    say(Severity::error, std::move(place), std::move(expected), std::move(found));
  }

  template <class List>
  void names(const List& list, const std::string& place) {
    std::set<std::string> seen;
    for (size_t i = 0; i < list.size(); ++i)
      if (!list[i].name.empty() && !seen.insert(list[i].name).second)
        fail(fmt::format("{}/{}/name", place, i), "a name of its own",
             "\"" + list[i].name + "\" a second time");
  }

  void setup(const Setup& s, const std::string& at) {
    names(s.tank.pickups, at + "/tank/pickups");
    names(s.lift_pumps, at + "/lift_pumps");
    tank(s, at + "/tank");
    if (s.circuit && project_.catalogue)
      for (Message m :
           circuit::circuit_faults(*s.circuit, surroundings_of(s), *project_.catalogue, at + "/circuit")) {
        m.file = file_;
        messages_.push_back(std::move(m));
      }
    if (s.surge && s.lift_pumps.empty())
      say(Severity::warning, at + "/lift_pumps", "a lift pump that fills the surge tank", "none");
    if (s.surge && s.surge->engine_return != starvation::Return::surge_tank && !(s.main_pump_flow > 0))
      fail(at + "/main_pump_flow_l_h", "above 0, as the engine's return goes to the main tank", "0");
    for (size_t i = 0; i < s.lift_pumps.size(); ++i) {
      bool fed = false;
      for (const auto& p : s.tank.pickups) fed = fed || p.feeds == s.lift_pumps[i].name;
      if (!fed)
        say(Severity::warning, fmt::format("{}/lift_pumps/{}", at, i), "a pickup that feeds it",
            "none: it lifts nothing");
    }
  }

  void tank(const Setup& s, const std::string& at) {
    bool sound = true;
    const auto check = [&](const tank::Shape& shape, const std::string& place) {
      for (const auto& fault : tank::shape_faults(shape))
        fail(place + "/" + fault.key, fault.expected, fault.found), sound = false;
    };
    const auto named_at = [&](const char* list, size_t i) { return fmt::format("{}/{}/{}", at, list, i); };
    for (size_t i = 0; i < s.tank.shapes.size(); ++i)
      check(s.tank.shapes[i], s.tank.short_form ? at : named_at("shapes", i));
    for (size_t i = 0; i < s.tank.collectors.size(); ++i)
      check(s.tank.collectors[i].shape, named_at("collectors", i) + "/shape");
    for (size_t i = 0; i < s.tank.bodies.size(); ++i)
      check(s.tank.bodies[i].shape, named_at("bodies", i) + "/shape");
    for (size_t i = 0; i < s.tank.foam.size(); ++i)
      if (s.tank.foam[i].shape) check(*s.tank.foam[i].shape, named_at("foam", i) + "/shape");
    names(s.tank.baffles, at + "/baffles");
    names(s.tank.collectors, at + "/collectors");
    if (!sound || !tanks_) return;
    const auto assembly = tanks_->assembled(s.tank);
    for (Message m : assembly->messages) {
      m.file = file_;
      m.place = at + m.place;
      messages_.push_back(std::move(m));
    }
    const double volume = assembly->tank.volume();
    if (volume > 0 && (volume < 0.2e-3 || volume > 2.0))
      say(Severity::warning, at, "a tank of 0.2 to 2000 L",
          fmt::format("{:.4g} L: are the dimensions in mm?", volume / litre));
    for (size_t i = 0; i < s.tank.pickups.size(); ++i) pickup(s, i, assembly->tank, named_at("pickups", i));
  }

  void pickup(const Setup& s, size_t i, const tank::Tank& tank, const std::string& at) {
    const tank::Pickup& p = s.tank.pickups[i];
    if (tank.space_at(p.position) < 0) {
      const Vec3 a = tank.lower_corner() / millimetre, b = tank.upper_corner() / millimetre;
      fail(at + "/position_mm",
           fmt::format(
               "a point inside the tank (within x {:.0f} to {:.0f}, y {:.0f} to {:.0f}, z {:.0f} to {:.0f})",
               a.x(), b.x(), a.y(), b.y(), a.z(), b.z()),
           fmt::format("({:.6g}, {:.6g}, {:.6g}), outside", p.position.x() / millimetre,
                       p.position.y() / millimetre, p.position.z() / millimetre));
    }
    std::string choices = "\"engine\"";
    bool known = p.feeds == "engine";
    for (const auto& pump : s.lift_pumps)
      choices += ", \"" + pump.name + "\"", known = known || pump.name == p.feeds;
    if (!known) fail(at + "/feeds", "one of " + choices, "\"" + p.feeds + "\"");
    if (known && (p.feeds == "engine") == s.surge.has_value())
      say(Severity::warning, at + "/feeds",
          s.surge ? "a lift pump, as there is a surge tank" : "\"engine\", as there is no surge tank",
          "\"" + p.feeds + "\": this pickup is not used");
  }

  const Project& project_;
  const std::string& file_;
  Messages& messages_;
  TankStore* tanks_;
};

// ---- writing
// -------------------------------------------------------------------------------------------------

Json setup_json(const Setup& s) {
  Json pumps = Json::array();
  for (const auto& p : s.lift_pumps)
    pumps.push_back({{"name", p.name}, {"flow_l_h", file_number(p.flow, litre_per_hour)}});
  Json surge;
  if (s.surge)
    surge = {{"volume_l", file_number(s.surge->volume, litre)},
             {"engine_return", return_names[static_cast<size_t>(s.surge->engine_return)]},
             {"height_mm", file_number(s.surge->height, millimetre)},
             {"pickup_forward_mm", file_number(s.surge->pickup.x(), millimetre)},
             {"pickup_left_mm", file_number(s.surge->pickup.y(), millimetre)},
             {"pickup_radius_mm", file_number(s.surge->pickup_radius, millimetre)}};
  Json json;
  json["name"] = s.name;
  json["notes"] = s.notes;
  json["fuel"] = {{"ethanol_percent", file_number(s.fuel.ethanol, 0.01)},
                  {"temperature_c", file_number(s.fuel.temperature, 1, 273.15)},
                  {"petrol_density_kg_m3", file_number(s.fuel.petrol_density)},
                  {"petrol_heating_mj_kg", file_number(s.fuel.petrol_heating, 1e6)},
                  {"petrol_air_ratio", file_number(s.fuel.petrol_air_ratio)},
                  {"reid_pressure_kpa", file_number(s.fuel.reid_pressure, 1e3)}};
  json["water_shift"] = Json();
  if (s.tube)
    json["water_shift"] = {{"water_ml", file_number(s.tube->water, 1e-6)},
                           {"fuel_ml", file_number(s.tube->fuel, 1e-6)},
                           {"boundary_ml", file_number(s.tube->boundary, 1e-6)}};
  json["engine"] = {{"power_kw", file_number(s.engine.power, 1000)},
                    {"consumption_g_kwh", file_number(s.engine.consumption, gram_per_kwh)},
                    {"idle_flow_l_h", file_number(s.engine.idle_flow, litre_per_hour)},
                    {"demand_from", demand_names[static_cast<size_t>(s.engine.demand)]},
                    {"flow_scale", file_number(s.engine.flow_scale)}};
  json["tank"] = tank_json(s.tank);
  json["lift_pumps"] = pumps;
  json["surge_tank"] = surge;
  json["main_pump_flow_l_h"] = file_number(s.main_pump_flow, litre_per_hour);
  json["line_hold_l"] = file_number(s.line_hold, litre);
  json["starvation_limits"] = {{"pressure_percent", file_number(s.limits.pressure, 0.01)},
                               {"pressure_s", file_number(s.limits.pressure_time)},
                               {"gas_percent", file_number(s.limits.gas, 0.01)},
                               {"gas_s", file_number(s.limits.gas_time)},
                               {"compliance_ml_bar", file_number(s.limits.compliance, 1e-11)},
                               {"bubble_rise_mm_s", file_number(s.limits.bubble_rise, millimetre)}};
  json["circuit"] = s.circuit ? circuit_json(*s.circuit) : Json();
  return json;
}

Json lap_json(const LapReference& l) {
  Json corners = Json::array();
  for (const auto& c : l.corners)
    corners.push_back({{"name", c.name},
                       {"from_m", file_number(c.from)},
                       {"to_m", file_number(c.to)},
                       {"hand", hand_names[static_cast<size_t>(c.hand)]}});
  return {{"name", l.name},
          {"file", l.file},
          {"start", l.repeated ? "flying" : "standing"},
          {"vertical_zero", zero_names[static_cast<size_t>(l.vertical_zero)]},
          {"corners", corners}};
}

/// All of the project, every key written out, defaults too: two of these compared show what changed.
Json whole_json(const Project& p) {
  Json json{{"undertow_adze_project", format_version}, {"name", p.name}, {"notes", p.notes}};
  json["catalogues"] = p.catalogue_files;
  json["setups"] = Json::array();
  json["laps"] = Json::array();
  json["sessions"] = Json::array();
  for (const auto& s : p.setups) json["setups"].push_back(setup_json(s));
  for (const auto& l : p.laps) json["laps"].push_back(lap_json(l));
  for (const auto& s : p.sessions) json["sessions"].push_back(session_json(s));
  return json;
}

}  // namespace

fluid::Blend fuel_of(const Setup& setup) {
  fluid::Blend out = setup.fuel;
  if (setup.tube) out.ethanol = fluid::water_shift_content(*setup.tube).middle;
  return out;
}

double demand_factor(const Setup& setup) {
  return fluid::flow_factor(fuel_of(setup)) / fluid::flow_factor(setup.fuel);
}

circuit::Surroundings surroundings_of(const Setup& setup, double tank_volume) {
  circuit::Surroundings out;
  out.surge = setup.surge.has_value();
  if (setup.surge) {
    out.surge_volume = setup.surge->volume;
    out.return_to = static_cast<circuit::ReturnTo>(setup.surge->engine_return);
  }
  for (const auto& p : setup.tank.pickups) out.pickups.push_back({p.name, p.feeds});
  out.tank_volume = tank_volume;
  return out;
}

const Setup* Project::find_setup(const std::string& wanted) const {
  for (const auto& s : setups)
    if (s.name == wanted) return &s;
  return nullptr;
}

const LapReference* Project::find_lap(const std::string& wanted) const {
  for (const auto& l : laps)
    if (l.name == wanted) return &l;
  return nullptr;
}

Read<Project> parse_project(const std::string& text, const std::string& file, TankStore* tanks) {
  const Json json = parse_json(text, file);
  Messages messages;
  JsonReader root(json, file, messages);
  Project project;
  const int version = root.whole("undertow_adze_project", 1, 1000000, std::nullopt);
  if (version > format_version)
    root.fail("undertow_adze_project", fmt::format("version {} or older", format_version),
              fmt::format("version {}: written by a newer Undertow Adze", version));
  project.name = root.text("name", "");
  project.notes = root.text("notes", "");
  project.catalogue_files = root.texts("catalogues");
  // Without a file's name there is no folder to read catalogues from; a project that names some is then not
  // checked for its types.
  if (project.catalogue_files.empty()) project.catalogue = shipped_catalogue();
  if (!file.empty() && !project.catalogue) try {
      project.catalogue = load_catalogue(project.catalogue_files, fs::path(file).parent_path(), messages);
    } catch (const InputError& error) {
      messages.insert(messages.end(), error.messages().begin(), error.messages().end());
    }
  for (JsonReader& s : root.list("setups", true)) project.setups.push_back(read_setup(s));
  for (JsonReader& l : root.list("laps")) project.laps.push_back(read_lap_reference(l));
  for (JsonReader& s : root.list("sessions")) project.sessions.push_back(read_session(s));
  root.warn_unknown();
  for (size_t i = 0; tanks && i < project.setups.size(); ++i) try {
      tanks->read_meshes(project.setups[i].tank, fs::path(file).parent_path());
    } catch (const InputError& error) {
      messages.push_back(
          {Severity::error, file, fmt::format("/setups/{}/tank", i), "a mesh that can be a tank", "this:"});
      messages.insert(messages.end(), error.messages().begin(), error.messages().end());
    }
  if (has_errors(messages)) throw InputError(std::move(messages));
  Checker(project, file, messages, tanks).run();
  if (has_errors(messages)) throw InputError(std::move(messages));
  return {std::move(project), std::move(messages)};
}

Opened open_project(const fs::path& path, TankStore* tanks) {
  TankStore own;
  std::string text = read_file(path);
  auto [project, notes] = parse_project(text, path.string(), tanks ? tanks : &own);
  return {std::move(project), {path, std::move(text)}, std::move(notes)};
}

std::string project_text(const Project& project, const std::string& before) {
  if (before.empty()) return patched_text("", {}, whole_json(project));
  return patched_text(before, whole_json(parse_project(before, "").value), whole_json(project));
}

ProjectFile save_project(const fs::path& path, const Project& project, const std::string& before) {
  std::string text = project_text(project, before);
  write_file_atomically(path, text);
  return {path, std::move(text)};
}

Project moved(Project project, const fs::path& from_folder, const fs::path& to_folder) {
  if (from_folder.empty()) return project;
  const fs::path from = fs::absolute(from_folder).lexically_normal(),
                 to = fs::absolute(to_folder).lexically_normal();
  if (from == to) return project;
  const auto move = [&](std::string& file) {
    if (!fs::path(file).is_absolute())
      file = (from / file).lexically_normal().lexically_relative(to).generic_string();
  };
  for (auto& l : project.laps) move(l.file);
  for (auto& file : project.catalogue_files) move(file);
  for (auto& s : project.setups) {
    for (auto& shape : s.tank.shapes)
      if (auto* mesh = std::get_if<tank::MeshShape>(&shape)) move(mesh->file);
    for (auto& body : s.tank.bodies)
      if (auto* mesh = std::get_if<tank::MeshShape>(&body.shape)) move(mesh->file);
  }
  return project;
}

}  // namespace uadze::project
