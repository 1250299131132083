#include "core/report/tank_report.h"

#include <fmt/format.h>

#include <cmath>
#include <numbers>

#include "core/base/counted.h"
#include "core/base/csv.h"

namespace uadze::report {
namespace {

Json vector_json(const Vec3& v, double factor = 1.0) {
  return Json::array({v.x() * factor, v.y() * factor, v.z() * factor});
}

/// Nothing has no sign, however little rounding has left of it.
std::string figure(double value, int decimals) {
  std::string out = fmt::format("{:.{}f}", value, decimals);
  return out.front() == '-' && out.find_first_not_of("-0.") == std::string::npos ? out.substr(1) : out;
}

std::string figures(const Vec3& v, int decimals) {
  return fmt::format("({}, {}, {})", figure(v.x(), decimals), figure(v.y(), decimals),
                     figure(v.z(), decimals));
}

/// The same for JSON, which has all digits.
Vec3 swept(const Vec3& v) {
  return v.unaryExpr([](double x) { return std::abs(x) < 1e-9 ? 0.0 : x; });
}
constexpr double pi = std::numbers::pi;

}  // namespace

Json settled_json(const solve::Settled& s) {
  Json json{{"setup", s.setup},
            {"level_l", s.level * 1e3},
            {"vehicle_acceleration_g", vector_json(s.acceleration, 1 / standard_gravity)},
            {"effective_gravity_m_s2", vector_json(s.force)},
            {"centroid_mm", vector_json(s.centroid, 1e3)}};
  json["spaces"] = Json::array();
  for (const auto& space : s.spaces)
    json["spaces"].push_back({{"name", space.name},
                              {"volume_l", space.volume * 1e3},
                              {"capacity_l", space.capacity * 1e3},
                              {"surface",
                               {{"normal", vector_json(space.surface.normal)},
                                {"offset_mm", space.surface.offset * 1e3},
                                {"area_cm2", space.area * 1e4}}},
                              {"centroid_mm", vector_json(space.centroid, 1e3)}});
  json["pickups"] = Json::array();
  for (const auto& p : s.pickups)
    json["pickups"].push_back(
        {{"name", p.name}, {"feeds", p.feeds}, {"depth_mm", p.depth * 1e3}, {"wet_fraction", p.wet}});
  return json;
}

std::string settled_text(const solve::Settled& s, const UnitSystem& units) {
  const Unit length = shown_unit(Quantity::length, units);
  const auto volume = [&](double v, int decimals = 4) {
    return format(v, Quantity::volume, units, decimals);
  };
  const Vec3 a = s.acceleration / standard_gravity;
  std::string out =
      fmt::format("{} | {} under ({:g},{:g},{:g}) g\n", s.setup, volume(s.level, 3), a.x(), a.y(), a.z());
  for (const auto& space : s.spaces)
    out += fmt::format("  {:<9} {} of {}, surface normal {}, offset {}\n", space.name, volume(space.volume),
                       volume(space.capacity), figures(space.surface.normal, 6),
                       format(space.surface.offset, Quantity::length, units, 3));
  out += "  centroid  " + fmt::format("{} {}\n", figures(s.centroid / length.factor, 3), length.name);
  for (const auto& p : s.pickups)
    out += fmt::format("  pickup    {}: depth {}, {:.1f} % wet\n", p.name,
                       format(p.depth, Quantity::length, units, 2), p.wet * 100);
  return out;
}

std::string motion_csv(const tank::Tank& tank, const std::vector<tank::Pickup>& pickups,
                       const std::vector<slosh::Instant>& motion) {
  const bool many = tank.spaces.size() > 1;
  std::vector<std::string> cells{"time [s]", "centroid x [mm]", "centroid y [mm]", "centroid z [mm]"};
  for (const auto& s : tank.spaces) {
    for (const char* what : {" volume [l]", " normal x [1]", " normal y [1]", " normal z [1]"})
      cells.push_back(s.name + what);
    if (many) cells.push_back(s.name + " gas locked [1]");
  }
  for (const auto& opening : tank.openings) cells.push_back(opening.name + " flow [l/s]");
  for (const auto& p : pickups) {
    cells.push_back(p.name + " depth [mm]");
    cells.push_back(p.name + " wet fraction [1]");
  }
  std::string out = csv_row(cells);
  for (const slosh::Instant& now : motion) {
    const Vec3 c = now.centroid * 1e3;
    cells = {figure(now.time, 4), figure(c.x(), 4), figure(c.y(), 4), figure(c.z(), 4)};
    for (size_t i = 0; i < tank.spaces.size(); ++i) {
      const Vec3& n = now.surface[i].normal;
      cells.push_back(figure(now.volume[i] * 1e3, 12));
      for (int k = 0; k < 3; ++k) cells.push_back(figure(n[k], 8));
      if (many) cells.push_back(fmt::format("{}", static_cast<int>(now.locked[i])));
    }
    for (double q : now.flow) cells.push_back(figure(q * 1e3, 6));
    for (size_t p = 0; p < pickups.size(); ++p) {
      cells.push_back(figure(now.depth[p] * 1e3, 3));
      cells.push_back(figure(now.wet[p], 5));
    }
    out += csv_row(cells);
  }
  return out;
}

Json modes_json(const std::string& setup, double level, const Vec3& force,
                const std::vector<SpaceModes>& spaces) {
  Json json{{"setup", setup}, {"level_l", level * 1e3}, {"effective_gravity_m_s2", vector_json(force)}};
  json["spaces"] = Json::array();
  for (const SpaceModes& s : spaces) {
    Json list = Json::array();
    for (size_t k = 0; k < s.modes.frequency.size(); ++k) {
      const double w = s.modes.frequency[k];
      list.push_back({{"frequency_hz", w / (2 * pi)},
                      {"angular_frequency_rad_s", w},
                      {"period_s", 2 * pi / w},
                      {"direction", vector_json(swept(s.modes.direction[k]))},
                      {"share_of_a_plane_tilt_percent", s.modes.share[k] * 100}});
    }
    json["spaces"].push_back({{"name", s.space},
                              {"volume_l", s.volume * 1e3},
                              {"state", name_of(s.modes.state)},
                              {"change_by_two_degrees_percent", s.modes.change * 100},
                              {"modes", list}});
  }
  return json;
}

std::string modes_text(const std::string& setup, double level, const Vec3& force,
                       const std::vector<SpaceModes>& spaces, const UnitSystem& units) {
  std::string out = fmt::format("{} | {}, effective gravity {:.3f} m/s2\n", setup,
                                format(level, Quantity::volume, units, 3), force.norm());
  for (const SpaceModes& s : spaces) {
    out += fmt::format(
        "  {}: {}{}\n", s.space, format(s.volume, Quantity::volume, units, 4),
        s.modes.state == slosh::ModeState::found ? "" : std::string(", ") + name_of(s.modes.state));
    for (size_t k = 0; k < s.modes.frequency.size(); ++k) {
      const double w = s.modes.frequency[k];
      const Vec3 d = swept(s.modes.direction[k]);
      out += fmt::format("    {}: {:.4f} Hz, period {:.4f} s, {}\n", k + 1, w / (2 * pi), 2 * pi / w,
                         d.norm() > 0 ? fmt::format("along {}, {:.1f} % of a plane tilt that way",
                                                    figures(d, 2), s.modes.share[k] * 100)
                                      : std::string("moves no centroid"));
    }
  }
  return out;
}

std::string dip_csv(const project::Setup& setup, const tank::Tank& tank, const Vec2& place,
                    const tank::Rake& rake, const tank::GaugeTable& table) {
  const bool sender = setup.tank.sender.has_value();
  std::string out =
      fmt::format("# {}, stick at x {:.1f} mm, y {:.1f} mm, nose up {:.4g} deg, left side up {:.4g} deg\n",
                  setup.name, place.x() * 1e3, place.y() * 1e3, rake.pitch * 180 / pi, rake.roll * 180 / pi);
  if (table.unreached > 0)
    out += fmt::format("# the stick meets no fuel under {:.4f} L\n", table.unreached * 1e3);
  for (const auto& limit : fill_limits(setup.tank, tank))
    out += fmt::format("# {}: {:.4f} L\n", limit.name, limit.value * 1e3);
  for (const auto& h : table.hidden)
    out += fmt::format(
        "# {} begins to be bare at {:.4f} L{}\n", h.pickup, h.volume * 1e3,
        sender ? fmt::format(": the gauge reads {:.1f} %, as if {:.4f} L", h.reading * 100, h.believed * 1e3)
               : "");
  std::vector<std::string> cells{"volume [l]", "dip [mm]"};
  if (sender) cells.insert(cells.end(), {"gauge reading [%]", "volume by gauge [l]"});
  out += csv_row(cells);
  for (const auto& row : table.rows) {
    cells = {figure(row.volume * 1e3, 6), figure(row.dip.value_or(0) * 1e3, 4)};
    if (sender) cells.insert(cells.end(), {figure(row.reading * 100, 4), figure(row.believed * 1e3, 6)});
    out += csv_row(cells);
  }
  return out;
}

std::string reach_header() {
  return csv_row({"pickup", "angle [deg]", "longitudinal [g]", "lateral [g]", "least volume [l]"});
}

std::string reach_rows(const std::string& pickup, const slosh::Reach& reach) {
  std::string out;
  for (size_t i = 0; i < reach.angle.size(); ++i)
    out += csv_row({pickup, figure(reach.angle[i] * 180 / pi, 3),
                    figure(reach.strength * std::cos(reach.angle[i]), 5),
                    figure(reach.strength * std::sin(reach.angle[i]), 5),
                    std::isfinite(reach.volume[i]) ? figure(reach.volume[i] * 1e3, 6) : "inf"});
  return out;
}

Json mesh_json(const std::string& file, const tank::MeshFile& mesh, const tank::MeshReport& report) {
  Json json{{"file", file},
            {"format", mesh.format},
            {"vertices", report.vertices},
            {"triangles", report.triangles},
            {"shells", report.shells},
            {"size_mm", vector_json(report.size, 1e3)},
            {"volume_l", report.volume * 1e3},
            {"usable", report.usable()}};
  json["findings"] = Json::array();
  for (const auto& f : report.findings)
    json["findings"].push_back({{"severity", f.severity == Severity::error ? "error" : "warning"},
                                {"text", f.text},
                                {"count", f.count},
                                {"at", vector_json(f.where)},
                                {"mend", f.mend}});
  return json;
}

std::string mesh_text(const std::string& file, const tank::MeshFile& mesh, const tank::MeshReport& report,
                      const UnitSystem& units) {
  const Unit length = shown_unit(Quantity::length, units);
  const Vec3 size = report.size / length.factor;
  std::string out =
      fmt::format("{}: {}, {} vertices, {} triangles, {}, {:.4g} x {:.4g} x {:.4g} {}, {}\n", file,
                  mesh.format, report.vertices, report.triangles, counted(report.shells, "shell"), size.x(),
                  size.y(), size.z(), length.name, format(report.volume, Quantity::volume, units, 6));
  for (const auto& f : report.findings)
    out += fmt::format("  {}: {}{}\n", f.severity == Severity::error ? "error" : "warning", f.text,
                       f.mend.empty() ? "" : fmt::format(" (mend: {})", f.mend));
  return out + (report.usable() ? "  can be a tank\n" : "  can not be a tank as it is\n");
}

}  // namespace uadze::report
