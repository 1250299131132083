#include "core/tank/tank.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <map>
#include <memory>
#include <numbers>

#include "core/tank/cells.h"
#include "core/tank/foam.h"
#include "core/tank/space_names.h"
#include "core/tank/tank_check.h"

namespace uadze::tank {
namespace {

constexpr double narrow_tunnel = 0.03;  // m: over one as narrow a saddle is parted in the middle
// m, beside a tunnel's wall: a cut in the wall's own plane would have no section.
constexpr double ledge = 1e-5;

class Assembler {
 public:
  Assembler(const TankParts& parts, const MeshSource& meshes)
      : kept_(std::make_shared<const TankParts>(parts)), parts_(*kept_), meshes_(meshes) {
    out_.parts = kept_;
  }

  Assembly run() {
    const bool few = few_enough(parts_.shapes, "shapes") && few_enough(parts_.baffles, "baffles") &&
                     few_enough(parts_.collectors, "collectors") && few_enough(parts_.bodies, "bodies") &&
                     few_enough(parts_.foam, "foams") && few_enough(parts_.pickups, "pickups") &&
                     few_enough(parts_.returns, "returns");
    if (!few || !unite()) return std::move(out_);
    out_.tank.whole = main_;
    if (!take_bodies() || !take_collectors()) return std::move(out_);
    out_.tank.boxes.insert(out_.tank.boxes.end(), bodies_.begin(), bodies_.end());
    bulk_ = main_;
    out_.tank.plates.resize(parts_.baffles.size());
    part_at_foam();
    part_saddles();
    for (size_t i = 0; i < parts_.baffles.size(); ++i) split(i);
    name_spaces();
    open_baffles();
    open_collectors();
    open_foam();
    place_points();
    check();
    place_foam();
    place_obstacles();
    std::vector<std::pair<const Solid*, double>> all;
    for (const Space& s : out_.tank.spaces) all.emplace_back(&s.solid, 1.0);
    if (out_.tank.spaces.size() == 1)
      out_.tank.whole = out_.tank.spaces[0].solid;
    else
      out_.tank.whole = compacted(together(all));
    return std::move(out_);
  }

 private:
  struct Region {
    Solid solid;
    std::string name;  ///< of a collector; empty: to be named by where it lies
    int foam = -1;     ///< whose it is
    bool is_collector() const { return !name.empty(); }
  };

  template <class Member>
  void say(Severity severity, const Member& member, std::string expected, std::string found) {
    add_fault(out_.faults, severity, place_of(member), std::move(expected), std::move(found));
  }
  template <class Member>
  void fail(const Member& member, std::string expected, std::string found) {
    say(Severity::error, member, std::move(expected), std::move(found));
  }

  template <class Part>
  bool few_enough(const std::vector<Part>& parts, const char* what) {
    if (parts.size() <= most_of_a_kind) return true;
    fail(parts[most_of_a_kind], fmt::format("{} {} at most", most_of_a_kind, what),
         fmt::format("{}", parts.size()));
    return false;
  }

  /// The main body joined with others; false, with a message at the part, where overlaps make it too large.
  template <class Part>
  bool join(const std::vector<std::pair<const Solid*, double>>& with, const Part& at) {
    if (joined_from_ == 0) joined_from_ = main_.triangles().size();
    std::vector<std::pair<const Solid*, double>> all{{&main_, 1.0}};
    all.insert(all.end(), with.begin(), with.end());
    main_ = together(all);
    if (main_.triangles().size() <= joined_from_ + most_joined_triangles) return true;
    fail(at, "fewer parts that overlap here", "more than the tank's own shape can be told from");
    return false;
  }

  bool unite() {
    if (parts_.shapes.empty()) {
      fail(parts_.shapes, "at least one shape", "none");
      return false;
    }
    for (size_t i = 0; i < parts_.shapes.size(); ++i) {
      Solid solid = make_solid(parts_.shapes[i], meshes_);
      out_.tank.walls.push_back(solid);
      const Shape& at = parts_.shapes[i];
      if (i == 0) {
        main_ = std::move(solid);
        if (!(main_.volume() > 0)) {
          fail(at, "a shape that encloses a volume", "none");
          return false;
        }
        continue;
      }
      if (std::holds_alternative<MeshShape>(parts_.shapes[i])) {
        fail(at, "a mesh as the first shape only", "a mesh after other shapes");
        continue;
      }
      const Vec3 gap =
          (solid.lower_corner() - main_.upper_corner()).cwiseMax(main_.lower_corner() - solid.upper_corner());
      if (gap.maxCoeff() > 1e-6) {
        fail(at, "a shape that meets the ones before it",
             fmt::format("a gap of {:.4g} mm", gap.maxCoeff() * 1e3));
        continue;
      }
      const Solid shared = clipped(main_, convex_pieces(parts_.shapes[i]));
      if (!join({{&solid, 1.0}, {&shared, -1.0}}, at)) return false;
    }
    return true;
  }

  /// What the shape takes of the main body; empty with a message if it takes nothing.
  template <class Part>
  Solid shared_with(const Part& at, const char* what) {
    const Shape& shape = at.shape;
    Solid solid;
    if (std::holds_alternative<MeshShape>(shape)) {
      solid = make_solid(shape, meshes_);
      for (const Vec3& v : solid.vertices())
        if (!main_.contains(v)) {
          fail(at, fmt::format("a mesh wholly inside the tank for a {}", what),
               "a corner at " + point_in_mm(v));
          return {};
        }
    } else {
      solid = clipped(main_, convex_pieces(shape));
    }
    if (!(solid.volume() > 1e-9)) {
      fail(at, fmt::format("a {} inside the tank", what), "outside it");
      return {};
    }
    return solid;
  }

  bool take_bodies() {
    for (size_t i = 0; i < parts_.bodies.size(); ++i) {
      const Solid body = shared_with(parts_.bodies[i], "body");
      bodies_.push_back(body);
      if (!body.triangles().empty() && !join({{&body, -1.0}}, parts_.bodies[i])) return false;
    }
    return true;
  }

  bool take_collectors() {
    for (size_t i = 0; i < parts_.collectors.size(); ++i) {
      Solid inside = shared_with(parts_.collectors[i], "collector");
      out_.tank.boxes.push_back(inside);
      collector_region_.push_back(inside.triangles().empty() ? -1 : static_cast<int>(regions_.size()) + 1);
      if (inside.triangles().empty()) continue;
      if (!join({{&inside, -1.0}}, parts_.collectors[i])) return false;
      regions_.push_back({std::move(inside), parts_.collectors[i].name, -1});
    }
    return true;
  }

  /// Cuts every main region that the plane crosses; whether any was.
  bool cut(const Plane& plane) {
    const double least = 1e-9;
    bool any = false;
    std::vector<Region> next;
    for (Region& r : regions_) {
      if (r.is_collector()) {
        next.push_back(std::move(r));
        continue;
      }
      Solid below = clipped(r.solid, plane), above = clipped(r.solid, {-plane.normal, -plane.offset});
      if (below.volume() > least && above.volume() > least) {
        any = true;
        next.push_back({std::move(below), "", r.foam});
        next.push_back({std::move(above), "", r.foam});
      } else {
        next.push_back(std::move(r));
      }
    }
    regions_ = std::move(next);
    return any;
  }

  /// Foam with upright sides parts the main body; the pieces stand before the collectors.
  void part_at_foam() {
    std::vector<Region> main{{main_, "", -1}};
    const bool all_over =
        std::any_of(parts_.foam.begin(), parts_.foam.end(), [](const Foam& f) { return !f.shape; });
    for (size_t i = 0; i < parts_.foam.size() && !all_over; ++i) {
      FoamParting whole = parted_by(parts_.foam[i], main_);
      if (whole.foam.empty()) continue;
      edges_.push_back({static_cast<int>(i), std::move(whole.edges)});
      std::vector<Region> next;
      for (Region& r : main) {
        // What an earlier foam took is its own.
        FoamParting parted = r.foam < 0 ? parted_by(parts_.foam[i], r.solid) : FoamParting{};
        if (parted.foam.empty()) {
          next.push_back(std::move(r));
          continue;
        }
        for (Solid& s : parted.free) next.push_back({std::move(s), "", -1});
        for (Solid& s : parted.foam) next.push_back({std::move(s), "", static_cast<int>(i)});
      }
      main = std::move(next);
    }
    regions_.insert(regions_.begin(), std::make_move_iterator(main.begin()),
                    std::make_move_iterator(main.end()));
  }

  void part_saddles() {
    for (const Shape& shape : parts_.shapes)
      if (const auto* saddle = std::get_if<Saddle>(&shape)) {
        const double from = std::min(saddle->tunnel_from, saddle->tunnel_to),
                     to = std::max(saddle->tunnel_from, saddle->tunnel_to);
        std::vector<double> at{(from + to) / 2};
        if (to - from > narrow_tunnel) at = {from + ledge, to - ledge};
        for (double y : at)
          if (const Plate plate(Vec3::UnitY(), y); cut(plate.plane))
            cuts_.push_back({plate, -1, saddle->tunnel_top});
      }
  }

  void split(size_t i) {
    const Baffle& b = parts_.baffles[i];
    if (!(b.normal.norm() > 1e-6)) return fail(b.normal, "a direction that is not zero", "(0, 0, 0)");
    const Vec3 n = b.normal.normalized();
    const Plate plate(n, n.dot(b.point));
    if (!b.outline.empty()) {
      if (b.outline.size() < 3)
        return fail(b.outline, "at least 3 points", fmt::format("{}", b.outline.size()));
      for (size_t k = 0; k < b.outline.size(); ++k)
        if (std::abs(n.dot(b.outline[k]) - plate.plane.offset) > 1e-3)
          return fail(b.outline[k], "a point in the baffle's plane, within 1 mm",
                      fmt::format("{:.4g} mm off it", (n.dot(b.outline[k]) - plate.plane.offset) * 1e3));
    }
    if (!cut(plate.plane))
      return fail(b, "a plate that crosses the tank",
                  fmt::format("at {}, normal ({:.4g}, {:.4g}, {:.4g}): it does not divide it",
                              point_in_mm(b.point), n.x(), n.y(), n.z()));
    cuts_.push_back({plate, static_cast<int>(i), 0.0});
  }

  void name_spaces() {
    std::vector<Plane> partings;
    for (const Cut& c : cuts_) partings.push_back(c.plate.plane);
    // Foam is told by its own name, and what it parts by where it lies.
    const auto free = std::count_if(regions_.begin(), regions_.end(),
                                    [](const Region& r) { return r.foam < 0 && !r.is_collector(); });
    if (cuts_.empty() && free > 1)
      for (const auto& [foam, edges] : edges_)
        for (const FoamEdge& e : edges) partings.push_back(e.plate.plane);
    std::vector<NamedPlace> places;
    for (const Region& r : regions_)
      places.push_back({r.solid.centroid(), r.name,
                        r.foam >= 0 ? parts_.foam[static_cast<size_t>(r.foam)].name : std::string()});
    const std::vector<std::string> names = space_names(places, partings);
    for (size_t i = 0; i < regions_.size(); ++i) {
      regions_[i].name = names[i];
      out_.tank.spaces.push_back({.name = names[i], .body = regions_[i].solid, .solid = {}, .obstacles = {}});
    }
    for (int& r : collector_region_)
      if (r >= 0) {
        // Regions before the collectors have become more.
        r += static_cast<int>(regions_.size()) - 1 -
             static_cast<int>(std::count_if(collector_region_.begin(), collector_region_.end(),
                                            [](int k) { return k >= 0; }));
      }
  }

  int count_astray(const Cells& cells, const Plate& plate) const {
    int astray = 0;
    for (const Cell& c : cells.list) {
      const int a = out_.tank.space_at(c.at - beside_plate * plate.plane.normal),
                b = out_.tank.space_at(c.at + beside_plate * plate.plane.normal);
      astray += a < 0 || b < 0 || a == b;
    }
    return astray;
  }

  /// Sorts cells by the spaces they join; the number that join none.
  int join(const Cells& cells, const Plate& plate, const std::string& part, const std::string& name,
           const OpeningPart* made) {
    std::map<std::pair<int, int>, std::vector<Cell>> pairs;
    int astray = 0;
    for (const Cell& c : cells.list) {
      const int a = out_.tank.space_at(c.at - beside_plate * plate.plane.normal),
                b = out_.tank.space_at(c.at + beside_plate * plate.plane.normal);
      if (a < 0 || b < 0 || a == b)
        ++astray;
      else
        pairs[{a, b}].push_back(c);
    }
    for (auto& [pair, own] : pairs) {
      Opening o;
      o.name = pairs.size() == 1 ? name
                                 : fmt::format("{} ({} to {})", name,
                                               out_.tank.spaces[static_cast<size_t>(pair.first)].name,
                                               out_.tank.spaces[static_cast<size_t>(pair.second)].name);
      o.part = part;
      o.from = pair.first, o.to = pair.second;
      o.normal = plate.plane.normal;
      o.half_level = cells.half_level * plate.level, o.half_up = cells.half_up * plate.up;
      for (const Cell& c : own) o.area += c.area;
      if (made) o.discharge = made->discharge, o.passes = made->passes, o.door = made->door;
      o.cells = std::move(own);
      out_.tank.openings.push_back(std::move(o));
    }
    return astray;
  }

  void open_part(const OpeningPart& part, const Plate& plate, const std::string& owner, double plate_area,
                 const char* what) {
    const double area = part.form == OpeningForm::round ? std::numbers::pi / 4 * part.diameter * part.diameter
                                                        : part.width * part.height;
    if (!(area > 0)) return fail(part, "an opening with an area", "none");
    if (area > plate_area)
      return fail(part, fmt::format("an opening smaller than its {} ({:.4g} cm2)", what, plate_area * 1e4),
                  fmt::format("{:.4g} cm2", area * 1e4));
    const Cells cells = cells_of(part, plate);
    const size_t before = out_.tank.openings.size();
    const int astray = join(cells, plate, owner, part.name, &part);
    if (astray > 0) {
      out_.tank.openings.resize(before);
      fail(part, fmt::format("an opening wholly within its {}, between two spaces", what),
           astray == static_cast<int>(cells.list.size())
               ? "none of it there, its middle at " + point_in_mm(plate.onto(part.at))
               : fmt::format("{:.0f} % of it beyond the edge",
                             100.0 * astray / static_cast<double>(cells.list.size())));
    }
  }

  void open_baffles() {
    for (const auto& [plate, part, sill] : cuts_) {
      const double section_area = section(bulk_, plate.plane).area;
      if (part < 0) {
        // Cells that stand on the tunnel, unless another shape opens the section further down.
        const Solid above = clipped(bulk_, Plane{-Vec3::UnitZ(), -sill});
        const bool only = section(above, plate.plane).area > (1 - 1e-6) * section_area;
        Cells cells = grid_cells(plate, only ? above : bulk_, section_area,
                                 [&](const Vec3& p) { return bulk_.contains(p); });
        scale_to(cells, section_area);
        join(cells, plate, "saddle", "over the tunnel", nullptr);
        continue;
      }
      const Baffle& b = parts_.baffles[static_cast<size_t>(part)];
      auto& outlines = out_.tank.plates[static_cast<size_t>(part)];
      if (!b.outline.empty())
        outlines = {b.outline};
      else
        outlines =
            section_outlines(b.top ? clipped(bulk_, Plane{Vec3::UnitZ(), *b.top}) : bulk_, plate.plane);
      if (b.top || !b.outline.empty()) {
        std::vector<Vec2> outline;
        for (const Vec3& p : b.outline) outline.emplace_back(plate.level.dot(p), plate.up.dot(p));
        // Over a straight edge the open area is exact; beside an outline it is the grid's.
        const Solid above = b.top ? clipped(bulk_, Plane{-Vec3::UnitZ(), -*b.top}) : Solid();
        const double over = b.top ? section(above, plate.plane).area : section_area;
        Cells cells =
            grid_cells(plate, b.top && outline.empty() && !above.vertices().empty() ? above : bulk_, over,
                       [&](const Vec3& p) {
                         const bool covered =
                             (!b.top || p.z() <= *b.top) &&
                             (outline.empty() || within(outline, {plate.level.dot(p), plate.up.dot(p)}));
                         return !covered && bulk_.contains(p);
                       });
        if (outline.empty()) scale_to(cells, over);
        if (b.top && over < 1e-8)
          say(Severity::warning, b.top, "an upper edge below the roof",
              fmt::format("{:.6g} mm: nothing is open over it", *b.top * 1e3));
        join(cells, plate, b.name,
             outline.empty() ? b.name + ", over the top" : b.name + ", around the plate", nullptr);
      }
      for (size_t k = 0; k < b.openings.size(); ++k)
        open_part(b.openings[k], plate, b.name, section_area, "baffle");
    }
  }

  void open_collectors() {
    for (size_t i = 0; i < parts_.collectors.size(); ++i) {
      if (collector_region_[i] < 0) continue;
      const Collector& c = parts_.collectors[i];
      const Solid& inside = regions_[static_cast<size_t>(collector_region_[i])].solid;
      struct Wall {
        Plate plate;
        double area;
      };
      // Of the collector's own planes: faces within that cancel are no walls.
      std::vector<Wall> walls;
      const auto same = [](const Wall& w, const Plane& p) {
        return (w.plate.plane.normal - p.normal).norm() < 1e-6 &&
               std::abs(w.plate.plane.offset - p.offset) < 1e-6;
      };
      for (const ConvexPiece& piece : convex_pieces(c.shape))
        for (const Plane& plane : piece)
          if (std::none_of(walls.begin(), walls.end(), [&](const Wall& w) { return same(w, plane); }))
            walls.push_back({Plate(plane.normal, plane.offset), 0.0});
      for (size_t t = 0; t < inside.triangles().size(); ++t)
        for (Wall& w : walls) {
          const Vec3& n = w.plate.plane.normal;
          const bool on = std::all_of(inside.triangles()[t].begin(), inside.triangles()[t].end(), [&](int v) {
            return std::abs(n.dot(inside.vertices()[static_cast<size_t>(v)]) - w.plate.plane.offset) < 1e-7;
          });
          if (on) w.area += n.dot(inside.triangle_areas()[t]);
        }
      std::erase_if(walls, [](const Wall& w) { return w.area < 1e-8; });
      for (const Wall& w : walls) {
        if (!c.open_top || w.plate.plane.normal.z() < 0.7) continue;
        Cells cells = grid_cells(w.plate, inside, w.area, [&](const Vec3& p) {
          return inside.contains(p - beside_plate * w.plate.plane.normal);
        });
        scale_to(cells, w.area);
        join(cells, w.plate, c.name, c.name + ", open top", nullptr);
      }
      for (size_t k = 0; k < c.openings.size(); ++k) {
        // The nearest wall; of several just as near (in a corner, at the floor) the one that it parts spaces
        // in.
        const auto away = [&](const Wall& w) {
          return std::abs(w.plate.plane.normal.dot(c.openings[k].at) - w.plate.plane.offset);
        };
        std::stable_sort(walls.begin(), walls.end(),
                         [&](const Wall& a, const Wall& b) { return away(a) < away(b); });
        const Wall* best = nullptr;
        int least = 0;
        for (const Wall& w : walls) {
          if (away(w) > away(walls.front()) + 2e-3) break;
          const int astray = count_astray(cells_of(c.openings[k], w.plate), w.plate);
          if (!best || astray < least) best = &w, least = astray;
        }
        if (best) open_part(c.openings[k], best->plate, c.name, best->area, "collector's wall");
      }
    }
  }

  /// The edge between two foams is the earlier one's.
  void open_foam() {
    const size_t first = out_.tank.openings.size();
    for (const auto& [foam, edges] : edges_)
      for (const FoamEdge& e : edges) {
        Cells cells = e.cells;
        std::erase_if(cells.list, [&](const Cell& c) {
          const int out = out_.tank.space_at(c.at + beside_plate * e.plate.plane.normal);
          const int other = out < 0 ? -1 : regions_[static_cast<size_t>(out)].foam;
          return other >= 0 && other < foam;
        });
        const std::string& name = parts_.foam[static_cast<size_t>(foam)].name;
        join(cells, e.plate, name, name + ", edge", nullptr);
      }
    for (size_t k = first; k < out_.tank.openings.size(); ++k) out_.tank.openings[k].edge = true;
  }

  /// What foam costs those that come in or go out over its edge.
  void slow_edges() {
    auto& openings = out_.tank.openings;
    std::vector<double> edge(out_.tank.spaces.size());
    for (const Opening& o : openings)
      if (o.edge)
        for (int s : {o.from, o.to}) edge[static_cast<size_t>(s)] += o.area;
    for (Opening& o : openings) {
      if (!o.edge) continue;
      std::vector<std::pair<double, double>> sides;
      for (int s : {o.from, o.to}) {
        const Space& space = out_.tank.spaces[static_cast<size_t>(s)];
        sides.emplace_back(space.inertial, space.volume() / edge[static_cast<size_t>(s)]);
      }
      o.discharge = edge_discharge(o.discharge, sides);
    }
  }

  void place_points() {
    for (const Pickup& p : parts_.pickups) out_.tank.pickup_space.push_back(out_.tank.space_at(p.position));
    for (size_t i = 0; i < parts_.returns.size(); ++i) {
      out_.tank.return_space.push_back(out_.tank.space_at(parts_.returns[i].position));
      if (out_.tank.return_space.back() < 0)
        fail(parts_.returns[i].position, "a point inside the tank",
             point_in_mm(parts_.returns[i].position) + ", outside");
    }
    if (parts_.vent) {
      const int space = out_.tank.space_at(parts_.vent->position);
      if (space < 0)
        fail(parts_.vent->position, "a point inside the tank",
             point_in_mm(parts_.vent->position) + ", outside");
      else
        out_.tank.spaces[static_cast<size_t>(space)].vented = true;
    }
    if (parts_.sender && !(parts_.sender->arm > 0 && parts_.sender->full > parts_.sender->empty))
      fail(*parts_.sender, "an arm longer than 0 and full_deg above empty_deg", "otherwise");
  }

  void check() {
    std::vector<char> of_foam;
    for (const Region& r : regions_) of_foam.push_back(r.foam >= 0);
    const bool sound = !has_errors(out_.faults);
    for (Faults found : {check_ways(out_.tank, parts_, sound), check_humps(out_.tank, parts_, of_foam)})
      std::ranges::move(found, std::back_inserter(out_.faults));
  }

  /// Collectors stand in what is round them, bodies in whatever space they touch.
  void place_obstacles() {
    auto& spaces = out_.tank.spaces;
    for (size_t k = 0; k < parts_.collectors.size(); ++k)
      if (collector_region_[k] >= 0)
        spaces[static_cast<size_t>(collector_region_[k])].crowded = parts_.collectors[k].crowded;
    for (size_t k = 0; k < out_.tank.boxes.size(); ++k) {
      const Solid& box = out_.tank.boxes[k];
      const Vec3 low = box.lower_corner(), high = box.upper_corner();
      if (!((high - low).minCoeff() > 0)) continue;
      for (size_t s = 0; s < spaces.size(); ++s) {
        if (k < collector_region_.size() && collector_region_[k] == static_cast<int>(s)) continue;
        const bool touches = (spaces[s].body.lower_corner().array() < high.array()).all() &&
                             (low.array() < spaces[s].body.upper_corner().array()).all();
        // A box within a collector is no business of what is round that.
        const bool held = std::any_of(collector_region_.begin(), collector_region_.end(), [&](int r) {
          return r >= 0 && r != static_cast<int>(s) &&
                 spaces[static_cast<size_t>(r)].body.contains((low + high) / 2) &&
                 k >= collector_region_.size();
        });
        if (touches && !held) spaces[s].obstacles.push_back({(low + high) / 2, (high - low) / 2});
      }
    }
  }

  void place_foam() {
    for (size_t i : take_foam(out_.tank.spaces, parts_.foam))
      fail(parts_.foam[i], "foam inside the tank", "outside it");
    slow_edges();
  }

  std::shared_ptr<const TankParts> kept_;
  const TankParts& parts_;
  const MeshSource& meshes_;
  Assembly out_;
  std::vector<Solid> bodies_;
  Solid main_, bulk_;       // outside the collectors: as it is cut, and before plates
  size_t joined_from_ = 0;  ///< triangles of the main body before anything joined it
  std::vector<Region> regions_;
  std::vector<int> collector_region_;
  struct Cut {
    Plate plate;
    int part;     // the baffle that it is; -1: beside a saddle's tunnel
    double sill;  // m, that tunnel's top
  };
  std::vector<Cut> cuts_;
  std::vector<std::pair<int, std::vector<FoamEdge>>> edges_;  ///< of each foam that parts the tank
};

}  // namespace

int Tank::space_at(const Vec3& point) const {
  // Cells and points may stand on a wall of two spaces: the one that holds them most surely is the first.
  for (size_t i = 0; i < spaces.size(); ++i)
    if (((spaces[i].body.lower_corner() - point).array() <= 1e-9).all() &&
        ((point - spaces[i].body.upper_corner()).array() <= 1e-9).all() && spaces[i].body.contains(point))
      return static_cast<int>(i);
  return -1;
}

Tank plain_tank(Solid solid) {
  Tank out;
  out.whole = solid;
  out.walls = {solid};
  out.spaces.push_back({.name = "tank", .body = solid, .solid = compacted(solid), .obstacles = {}});
  return out;
}

Assembly assemble(const TankParts& parts, const MeshSource& meshes) { return Assembler(parts, meshes).run(); }

}  // namespace uadze::tank
