#include "core/project/tank_json.h"

#include <fmt/format.h>

#include <cmath>
#include <numbers>

#include "core/base/units.h"

namespace uadze::project {
namespace {

constexpr double millimetre = 1e-3, degree = std::numbers::pi / 180;
const NumberRule place{.factor = millimetre, .low = -20000, .high = 20000};
const NumberRule length{.factor = millimetre, .low = 0, .high = 20000};
const NumberRule direction{.low = -1e6, .high = 1e6};

const std::vector<std::string> axis_names{"x", "y", "z"};
const std::vector<std::string> form_names{"round", "slot", "notch"};
const std::vector<std::string> baffle_ways{"both", "along normal", "against normal"};
const std::vector<std::string> collector_ways{"both", "out", "in"};
const std::vector<std::string> door_names{"none", "flap", "ball"};
const std::vector<std::string> top_names{"open", "closed"};
const std::vector<std::string> unit_names{"mm", "cm", "m", "inch"};
constexpr double unit_sizes[] = {1e-3, 1e-2, 1.0, 0.0254};

// ---- reading
// -------------------------------------------------------------------------------------------------

tank::Prism read_prism(JsonReader& in) {
  tank::Prism p;
  p.axis = static_cast<tank::Axis>(in.choice("axis", axis_names, std::nullopt));
  p.profile = in.points("profile_mm", place);
  p.from = in.number("from_mm", place);
  p.to = in.number("to_mm", place);
  return p;
}

tank::Shape read_shape(JsonReader in) {
  tank::Shape out;
  const std::vector<std::string>& kinds = tank::shape_kinds();
  const int kind = in.choice("kind", kinds, std::nullopt);
  const std::string name = kinds[static_cast<size_t>(kind)];
  if (name == "box") {
    out = tank::Box{in.vector("from_mm", place), in.vector("to_mm", place)};
  } else if (name == "prism") {
    out = read_prism(in);
  } else if (name == "cylinder") {
    out = tank::Cylinder{in.vector("start_mm", place), in.vector("end_mm", place),
                         in.number("radius_mm", length)};
  } else if (name == "revolved") {
    out = tank::Revolved{in.vector("start_mm", place), in.vector("direction", direction),
                         in.points("profile_mm", place)};
  } else if (name == "sphere") {
    out = tank::Sphere{in.vector("centre_mm", place), in.number("radius_mm", length)};
  } else if (name == "saddle") {
    tank::Saddle s{in.vector("from_mm", place), in.vector("to_mm", place), 0, 0, 0};
    const std::vector<double> tunnel = in.numbers("tunnel_mm", place);
    if (tunnel.size() == 2)
      s.tunnel_from = tunnel[0], s.tunnel_to = tunnel[1];
    else
      in.fail("tunnel_mm", "two places in y", fmt::format("{}", tunnel.size()));
    s.tunnel_top = in.number("tunnel_top_mm", place);
    out = s;
  } else {
    tank::MeshShape m;
    m.file = in.text("file");
    m.unit = unit_sizes[in.choice("unit", unit_names, 0)];
    m.axes = in.text("axes", "x y z");
    if (in.has("move_mm")) m.move = in.vector("move_mm", place);
    for (const char* mend : {"weld", "drop", "fill", "orient"})
      if (in.choice(mend, {"no", "yes"}, 0) == 1) m.mends.emplace_back(mend);
    out = m;
  }
  in.warn_unknown();
  return out;
}

tank::OpeningPart read_opening(JsonReader in, const std::vector<std::string>& ways) {
  tank::OpeningPart out;
  out.name = in.text("name");
  out.form = static_cast<tank::Form>(in.choice("kind", form_names, 0));
  out.at = in.vector("at_mm", place);
  const NumberRule size{.factor = millimetre, .low = 0, .high = 20000, .missing = {}, .above_low = true};
  if (out.form == tank::Form::round)
    out.diameter = in.number("diameter_mm", size);
  else
    out.width = in.number("width_mm", size), out.height = in.number("height_mm", size);
  out.discharge = in.number("discharge", {.low = 0, .high = 1, .missing = out.discharge, .above_low = true});
  out.passes = static_cast<tank::Passes>(in.choice("passes", ways, 0));
  out.door = static_cast<tank::Door>(in.choice("door", door_names, 0));
  if (out.door != tank::Door::none && out.passes == tank::Passes::both)
    in.fail("passes", "\"" + ways[1] + "\" or \"" + ways[2] + "\", as it has a door", "\"both\"");
  in.warn_unknown();
  return out;
}

tank::Baffle read_baffle(JsonReader in) {
  tank::Baffle out;
  out.name = in.text("name");
  out.point = in.vector("point_mm", place);
  out.normal = in.vector("normal", direction);
  out.top = in.number_if("top_mm", place);
  for (JsonReader& corner : in.list("outline_mm")) {
    out.outline.push_back(corner.vector("at_mm", place));
    corner.warn_unknown();
  }
  for (JsonReader& o : in.list("openings")) out.openings.push_back(read_opening(o, baffle_ways));
  in.warn_unknown();
  return out;
}

tank::Collector read_collector(JsonReader in) {
  tank::Collector out;
  out.name = in.text("name");
  if (auto shape = in.object("shape", true)) out.shape = read_shape(*shape);
  out.open_top = in.choice("top", top_names, 0) == 0;
  for (JsonReader& o : in.list("openings")) out.openings.push_back(read_opening(o, collector_ways));
  in.warn_unknown();
  return out;
}

tank::Pickup read_pickup(JsonReader in) {
  tank::Pickup out;
  out.name = in.text("name");
  out.position = in.vector("position_mm", place);
  out.sock_radius =
      in.number("sock_radius_mm", {.factor = millimetre, .low = 0, .high = 500, .missing = 0.0});
  out.feeds = in.text("feeds", "engine");
  in.warn_unknown();
  return out;
}

tank::Foam read_foam(JsonReader in) {
  tank::Foam out;
  out.name = in.text("name");
  if (auto shape = in.object("shape")) out.shape = read_shape(*shape);
  out.porosity =
      in.number("porosity_percent", {.factor = 0.01, .low = 60, .high = 100, .missing = out.porosity});
  out.permeability = in.number("permeability_m2", {.low = 1e-12, .high = 1e-3, .missing = out.permeability});
  in.warn_unknown();
  return out;
}

tank::Sender read_sender(JsonReader in) {
  tank::Sender out;
  const auto angle = [](double missing) {
    return NumberRule{.factor = degree, .low = -90, .high = 90, .missing = missing};
  };
  out.pivot = in.vector("pivot_mm", place);
  out.heading = in.number("heading_deg", {.factor = degree, .low = -360, .high = 360, .missing = 0.0});
  out.arm =
      in.number("arm_mm", {.factor = millimetre, .low = 0, .high = 2000, .missing = {}, .above_low = true});
  out.empty = in.number("empty_deg", angle(out.empty));
  out.full = in.number("full_deg", angle(out.full));
  out.bent = in.number("bent_deg", angle(0.0));
  out.raised = in.number("raised_mm", {.factor = millimetre, .low = -500, .high = 500, .missing = 0.0});
  in.warn_unknown();
  return out;
}

// ---- writing
// -------------------------------------------------------------------------------------------------

Json number(double si, double factor = 1.0) { return file_number(si, factor); }
Json vector(const Vec3& v, double factor = millimetre) {
  return Json::array({number(v.x(), factor), number(v.y(), factor), number(v.z(), factor)});
}
Json points(const std::vector<Vec2>& list) {
  Json out = Json::array();
  for (const Vec2& p : list)
    out.push_back(Json::array({number(p.x(), millimetre), number(p.y(), millimetre)}));
  return out;
}

Json shape_json(const tank::Shape& shape) {
  Json out{{"kind", tank::shape_kinds()[shape.index()]}};
  if (const auto* box = std::get_if<tank::Box>(&shape)) {
    out["from_mm"] = vector(box->from), out["to_mm"] = vector(box->to);
  } else if (const auto* prism = std::get_if<tank::Prism>(&shape)) {
    out["axis"] = axis_names[static_cast<size_t>(prism->axis)];
    out["profile_mm"] = points(prism->profile);
    out["from_mm"] = number(prism->from, millimetre), out["to_mm"] = number(prism->to, millimetre);
  } else if (const auto* tube = std::get_if<tank::Cylinder>(&shape)) {
    out["start_mm"] = vector(tube->start), out["end_mm"] = vector(tube->end);
    out["radius_mm"] = number(tube->radius, millimetre);
  } else if (const auto* turned = std::get_if<tank::Revolved>(&shape)) {
    out["start_mm"] = vector(turned->start), out["direction"] = vector(turned->direction, 1.0);
    out["profile_mm"] = points(turned->profile);
  } else if (const auto* ball = std::get_if<tank::Sphere>(&shape)) {
    out["centre_mm"] = vector(ball->centre), out["radius_mm"] = number(ball->radius, millimetre);
  } else if (const auto* saddle = std::get_if<tank::Saddle>(&shape)) {
    out["from_mm"] = vector(saddle->from), out["to_mm"] = vector(saddle->to);
    out["tunnel_mm"] =
        Json::array({number(saddle->tunnel_from, millimetre), number(saddle->tunnel_to, millimetre)});
    out["tunnel_top_mm"] = number(saddle->tunnel_top, millimetre);
  } else if (const auto* mesh = std::get_if<tank::MeshShape>(&shape)) {
    out["file"] = mesh->file;
    size_t unit = 0;
    for (size_t k = 0; k < unit_names.size(); ++k)
      if (mesh->unit == unit_sizes[k]) unit = k;
    out["unit"] = unit_names[unit];
    out["axes"] = mesh->axes;
    out["move_mm"] = vector(mesh->move);
    for (const std::string& mend : mesh->mends) out[mend] = "yes";
  }
  return out;
}

Json openings_json(const std::vector<tank::OpeningPart>& list, const std::vector<std::string>& ways) {
  Json out = Json::array();
  for (const auto& o : list) {
    Json j{{"name", o.name}, {"kind", form_names[static_cast<size_t>(o.form)]}, {"at_mm", vector(o.at)}};
    if (o.form == tank::Form::round)
      j["diameter_mm"] = number(o.diameter, millimetre);
    else
      j["width_mm"] = number(o.width, millimetre), j["height_mm"] = number(o.height, millimetre);
    j["discharge"] = number(o.discharge);
    j["passes"] = ways[static_cast<size_t>(o.passes)];
    j["door"] = door_names[static_cast<size_t>(o.door)];
    out.push_back(std::move(j));
  }
  return out;
}

}  // namespace

Json file_number(double si, double factor, double offset) {
  const double value = (si - offset) / factor;
  const double rounded = value == 0 ? 0.0 : parse_number(fmt::format("{:.12g}", value)).value_or(0);
  if (rounded == std::floor(rounded) && std::abs(rounded) < 1e15) return static_cast<std::int64_t>(rounded);
  return rounded;
}

tank::TankParts read_tank(JsonReader in) {
  tank::TankParts out;
  out.short_form = !in.has("shapes");
  if (out.short_form)
    out.shapes.push_back(read_prism(in));
  else
    for (JsonReader& s : in.list("shapes", true)) out.shapes.push_back(read_shape(s));
  out.usable_share =
      in.number("usable_percent", {.factor = 0.01, .low = 0, .high = 100, .missing = 1.0, .above_low = true});
  for (JsonReader& b : in.list("baffles")) out.baffles.push_back(read_baffle(b));
  for (JsonReader& c : in.list("collectors")) out.collectors.push_back(read_collector(c));
  for (JsonReader& f : in.list("foam")) out.foam.push_back(read_foam(f));
  for (JsonReader& b : in.list("bodies")) {
    tank::Body body{b.text("name"), tank::Box{}};
    if (auto shape = b.object("shape", true)) body.shape = read_shape(*shape);
    b.warn_unknown();
    out.bodies.push_back(std::move(body));
  }
  for (JsonReader& p : in.list("pickups")) out.pickups.push_back(read_pickup(p));
  for (JsonReader& r : in.list("returns")) {
    out.returns.push_back({r.text("name"), r.vector("position_mm", place)});
    r.warn_unknown();
  }
  if (auto vent = in.object("vent")) {
    out.vent = tank::Vent{vent->vector("position_mm", place)};
    vent->warn_unknown();
  }
  if (auto sender = in.object("sender")) out.sender = read_sender(*sender);
  in.warn_unknown();
  return out;
}

Json tank_json(const tank::TankParts& parts) {
  Json json;
  const auto* prism = parts.shapes.size() == 1 ? std::get_if<tank::Prism>(&parts.shapes[0]) : nullptr;
  if (parts.short_form && prism) {
    json = shape_json(*prism);
    json.erase("kind");
  } else {
    json["shapes"] = Json::array();
    for (const auto& s : parts.shapes) json["shapes"].push_back(shape_json(s));
  }
  json["usable_percent"] = number(parts.usable_share, 0.01);
  for (const char* key : {"baffles", "collectors", "foam", "bodies", "pickups", "returns"})
    json[key] = Json::array();
  for (const auto& b : parts.baffles) {
    Json j{{"name", b.name}, {"point_mm", vector(b.point)}, {"normal", vector(b.normal, 1.0)}};
    if (b.top) j["top_mm"] = number(*b.top, millimetre);
    j["outline_mm"] = Json::array();
    for (const Vec3& p : b.outline) j["outline_mm"].push_back({{"at_mm", vector(p)}});
    j["openings"] = openings_json(b.openings, baffle_ways);
    json["baffles"].push_back(std::move(j));
  }
  for (const auto& c : parts.collectors)
    json["collectors"].push_back({{"name", c.name},
                                  {"shape", shape_json(c.shape)},
                                  {"top", top_names[c.open_top ? 0 : 1]},
                                  {"openings", openings_json(c.openings, collector_ways)}});
  for (const auto& f : parts.foam) {
    Json j{{"name", f.name}};
    if (f.shape) j["shape"] = shape_json(*f.shape);
    j["porosity_percent"] = number(f.porosity, 0.01);
    j["permeability_m2"] = number(f.permeability);
    json["foam"].push_back(std::move(j));
  }
  for (const auto& b : parts.bodies)
    json["bodies"].push_back({{"name", b.name}, {"shape", shape_json(b.shape)}});
  for (const auto& p : parts.pickups)
    json["pickups"].push_back({{"name", p.name},
                               {"position_mm", vector(p.position)},
                               {"sock_radius_mm", number(p.sock_radius, millimetre)},
                               {"feeds", p.feeds}});
  for (const auto& r : parts.returns)
    json["returns"].push_back({{"name", r.name}, {"position_mm", vector(r.position)}});
  json["vent"] = parts.vent ? Json{{"position_mm", vector(parts.vent->position)}} : Json();
  json["sender"] = Json();
  if (const auto& s = parts.sender)
    json["sender"] = {{"pivot_mm", vector(s->pivot)},
                      {"heading_deg", number(s->heading, degree)},
                      {"arm_mm", number(s->arm, millimetre)},
                      {"empty_deg", number(s->empty, degree)},
                      {"full_deg", number(s->full, degree)},
                      {"bent_deg", number(s->bent, degree)},
                      {"raised_mm", number(s->raised, millimetre)}};
  return json;
}

}  // namespace uadze::project
