#include "gui/stations/tank/tank_part.h"

#include <cmath>
#include <functional>
#include <stdexcept>

namespace uadze::gui {
namespace {

using tank::TankParts;

template <class Tank>
auto* openings_of(Tank& t, int owner) {
  const int baffles = static_cast<int>(t.baffles.size());
  return owner < baffles ? &t.baffles[static_cast<size_t>(owner)].openings
                         : &t.collectors[static_cast<size_t>(owner - baffles)].openings;
}

template <class Tank>
auto* find_shape(Tank& t, const PartRef& part) {
  const auto i = static_cast<size_t>(part.index);
  using Pointer = decltype(&t.shapes[0]);
  switch (part.kind) {
    case TankPartKind::shape:
      return &t.shapes[i];
    case TankPartKind::body:
      return &t.bodies[i].shape;
    case TankPartKind::collector:
      return &t.collectors[i].shape;
    case TankPartKind::foam:
      return t.foam[i].shape ? &*t.foam[i].shape : Pointer(nullptr);
    default:
      return Pointer(nullptr);
  }
}

template <class List>
std::string fresh_name(const List& list, const std::string& base) {
  for (int k = 1;; ++k) {
    const std::string name = k == 1 ? base : base + " " + std::to_string(k);
    bool taken = false;
    for (const auto& item : list) taken = taken || item.name == name;
    if (!taken) return name;
  }
}

Vec3 rounded(const Vec3& v) { return ((v * 1000).array().round() / 1000).matrix(); }

/// A point well inside the tank: its middle, or, where that is a hollow (a saddle's tunnel), a space's.
Vec3 inner_point(const tank::Tank& t) {
  const Vec3 middle = t.whole.centroid();
  return t.space_at(middle) >= 0 ? middle : Vec3(t.spaces[0].body.centroid());
}

/// A box of a given share of the tank around its middle, standing on the floor there.
tank::Box floor_box(const tank::Tank& t, const Vec3& share) {
  const Vec3 c = inner_point(t), size = t.upper_corner() - t.lower_corner();
  const Vec3 half = size.cwiseProduct(share) / 2;
  const double floor = t.lower_corner().z();
  return {rounded({c.x() - half.x(), c.y() - half.y(), floor}),
          rounded({c.x() + half.x(), c.y() + half.y(), floor + 2 * half.z()})};
}

tank::Shape new_shape(const tank::Tank& t, int kind) {
  const tank::Box box = floor_box(t, {0.4, 0.3, 0.5});
  const Vec3 c = (box.from + box.to) / 2;
  const double r = std::min((box.to - box.from).x(), (box.to - box.from).y()) / 2;
  switch (kind) {
    case 1:
      return tank::Prism{tank::Axis::y,
                         {{box.from.x(), box.from.z()},
                          {box.to.x(), box.from.z()},
                          {box.to.x(), box.to.z()},
                          {box.from.x(), box.to.z()}},
                         box.from.y(),
                         box.to.y()};
    case 2:
      return tank::Cylinder{{c.x(), c.y(), box.from.z()}, {c.x(), c.y(), box.to.z()}, r};
    case 3:
      return tank::Revolved{
          {c.x(), c.y(), box.from.z()}, Vec3::UnitZ(), {{0, r / 2}, {r, r}, {2 * r, r / 2}}};
    case 4:
      return tank::Sphere{{c.x(), c.y(), box.from.z() + r}, r};
    case 5: {
      const Vec3 low = rounded(t.lower_corner()), high = rounded(t.upper_corner()), size = high - low;
      return tank::Saddle{low, high, low.y() + 0.4 * size.y(), low.y() + 0.6 * size.y(),
                          low.z() + 0.6 * size.z()};
    }
    default:
      return box;
  }
}

Vec3 floor_place(const tank::Tank& t, double above) {
  Vec3 place = inner_point(t);
  for (int k = 0; k < 3000 && t.contains(place - Vec3(0, 0, 0.001)); ++k) place.z() -= 0.001;
  return rounded(place + Vec3(0, 0, above));
}

/// Applies the candidates one after another to a copy until one assembles without a fault; the first if none
/// does, so that the fault is said.
template <class Candidate>
void place_soundly(TankParts& t, const tank::MeshSource& meshes, const std::vector<Candidate>& candidates,
                   const std::function<void(TankParts&, const Candidate&)>& apply) {
  for (const Candidate& c : candidates) {
    TankParts tried = t;
    apply(tried, c);
    if (has_errors(tank::assemble(tried, meshes).faults)) continue;
    t = std::move(tried);
    return;
  }
  apply(t, candidates.front());
}

/// From the middle outward, as shares of a length.
constexpr double spread[] = {0.5, 0.3, 0.7, 0.15, 0.85, 0.4, 0.6};

PartRef add_collector(TankParts& t, const tank::Tank& assembled, const tank::MeshSource& meshes) {
  const Vec3 low = assembled.lower_corner(), size = assembled.upper_corner() - low;
  std::vector<tank::Box> boxes;
  for (double share : {0.3, 0.2, 0.12})
    for (double x : spread)
      for (double y : spread) {
        const Vec3 from(low.x() + (x - share / 2) * size.x(), low.y() + (y - share / 2) * size.y(), low.z());
        boxes.push_back(
            {rounded(from), rounded(from + Vec3(share * size.x(), share * size.y(), 0.35 * size.z()))});
      }
  place_soundly<tank::Box>(t, meshes, boxes, [](TankParts& p, const tank::Box& box) {
    const Vec3 side = box.to - box.from;
    tank::OpeningPart door{.name = "flap, rear",
                           .form = tank::OpeningForm::notch,
                           .at = {box.from.x(), (box.from.y() + box.to.y()) / 2, box.from.z()},
                           .width = rounded(side / 2).y(),
                           .height = rounded(side / 4).z(),
                           .passes = tank::Passes::against,
                           .door = tank::Door::flap};
    tank::OpeningPart other = door;
    other.name = "flap, front", other.at.x() = box.to.x();
    p.collectors.push_back(
        {.name = fresh_name(p.collectors, "collector"), .shape = box, .openings = {door, other}});
  });
  return {TankPartKind::collector, static_cast<int>(t.collectors.size()) - 1, -1};
}

PartRef add_baffle(TankParts& t, const tank::Tank& assembled, const tank::MeshSource& meshes, bool across) {
  const Vec3 low = assembled.lower_corner(), size = assembled.upper_corner() - low;
  const int along_normal = across ? 0 : 1, along_plate = across ? 1 : 0;
  std::vector<Vec2> places;  // of the plate, and of its slot along it
  for (double plate : spread)
    for (double slot : spread) places.emplace_back(plate, slot);
  place_soundly<Vec2>(t, meshes, places, [&](TankParts& p, const Vec2& share) {
    tank::Baffle b;
    b.name = fresh_name(p.baffles, "baffle");
    b.normal = Vec3::Unit(along_normal);
    b.point = assembled.whole.centroid();
    b.point[along_normal] = low[along_normal] + share.x() * size[along_normal];
    b.point = rounded(b.point);
    b.top = std::round((low.z() + 0.9 * size.z()) * 1000) / 1000;
    Vec3 at = b.point;
    at[along_plate] = low[along_plate] + share.y() * size[along_plate];
    at.z() = low.z() + 0.001;
    b.openings.push_back({.name = "floor slot",
                          .form = tank::OpeningForm::notch,
                          .at = rounded(at),
                          .width = std::round(0.15 * size[along_plate] * 1000) / 1000,
                          .height = 0.02});
    p.baffles.push_back(std::move(b));
  });
  return {TankPartKind::baffle, static_cast<int>(t.baffles.size()) - 1, -1};
}

/// `variant`: round hole, slot, notch, flap door.
PartRef add_opening(TankParts& t, const tank::Tank& assembled, const tank::MeshSource& meshes, int variant,
                    const std::optional<PartRef>& chosen) {
  int owner = -1;
  if (chosen && chosen->kind == TankPartKind::opening) owner = chosen->owner;
  if (chosen && chosen->kind == TankPartKind::baffle) owner = chosen->index;
  if (chosen && chosen->kind == TankPartKind::collector)
    owner = static_cast<int>(t.baffles.size()) + chosen->index;
  if (owner < 0 && !(t.baffles.empty() && t.collectors.empty())) owner = 0;
  if (owner < 0) throw std::runtime_error("an opening needs a baffle or a collector to be in: add one first");
  const bool in_baffle = owner < static_cast<int>(t.baffles.size()), at_floor = variant >= 2;
  tank::OpeningPart o;
  o.form = variant == 0   ? tank::OpeningForm::round
           : variant == 1 ? tank::OpeningForm::slot
                          : tank::OpeningForm::notch;
  o.diameter = 0.02, o.width = 0.04, o.height = 0.015;
  if (variant == 3) {
    o.door = tank::Door::flap;
    o.passes = in_baffle ? tank::Passes::along : tank::Passes::against;
  }
  static const char* const names[] = {"hole", "slot", "notch", "flap"};
  o.name = fresh_name(*openings_of(t, owner), names[variant]);
  const Vec3 low = assembled.lower_corner(), high = assembled.upper_corner();
  std::vector<Vec3> places;
  if (in_baffle) {
    const tank::Baffle& b = t.baffles[static_cast<size_t>(owner)];
    const Vec3 n = b.normal.normalized(), level = Vec3::UnitZ().cross(n).norm() > 1e-6
                                                      ? Vec3(Vec3::UnitZ().cross(n).normalized())
                                                      : Vec3(Vec3::UnitY());
    for (double share : spread)
      for (double up : spread) {
        Vec3 at = b.point + (share - 0.5) * level.cwiseAbs().dot(high - low) * level;
        at.z() = at_floor ? low.z() + 0.001 : low.z() + up * (high - low).z();
        places.push_back(rounded(at));
      }
  } else {
    const tank::Solid box =
        make_solid(t.collectors[static_cast<size_t>(owner) - t.baffles.size()].shape, meshes);
    const Vec3 a = box.lower_corner(), b = box.upper_corner();
    for (double share : spread)
      for (int wall = 0; wall < 4; ++wall) {
        const int axis = wall / 2;
        Vec3 at = a + share * (b - a);
        at[axis] = wall % 2 ? b[axis] : a[axis];
        at.z() = at_floor ? a.z() + 0.001 : a.z() + 0.6 * (b - a).z();
        places.push_back(rounded(at));
      }
  }
  place_soundly<Vec3>(t, meshes, places, [&](TankParts& p, const Vec3& at) {
    o.at = at;
    openings_of(p, owner)->push_back(o);
  });
  return {TankPartKind::opening, static_cast<int>(openings_of(t, owner)->size()) - 1, owner};
}

}  // namespace

std::vector<PartRef> parts_of(const TankParts& t) {
  std::vector<PartRef> out;
  const auto all = [&](TankPartKind kind, size_t count) {
    for (size_t i = 0; i < count; ++i) out.push_back({kind, static_cast<int>(i), -1});
  };
  const auto openings = [&](int owner, size_t count) {
    for (size_t i = 0; i < count; ++i) out.push_back({TankPartKind::opening, static_cast<int>(i), owner});
  };
  all(TankPartKind::shape, t.shapes.size());
  for (size_t i = 0; i < t.baffles.size(); ++i) {
    out.push_back({TankPartKind::baffle, static_cast<int>(i), -1});
    openings(static_cast<int>(i), t.baffles[i].openings.size());
  }
  for (size_t i = 0; i < t.collectors.size(); ++i) {
    out.push_back({TankPartKind::collector, static_cast<int>(i), -1});
    openings(static_cast<int>(t.baffles.size() + i), t.collectors[i].openings.size());
  }
  all(TankPartKind::foam, t.foam.size());
  all(TankPartKind::body, t.bodies.size());
  all(TankPartKind::pickup, t.pickups.size());
  all(TankPartKind::return_outlet, t.returns.size());
  all(TankPartKind::vent, t.vent ? 1 : 0);
  all(TankPartKind::sender, t.sender ? 1 : 0);
  return out;
}

bool exists(const TankParts& t, const PartRef& part) {
  for (const PartRef& p : parts_of(t))
    if (p == part) return true;
  return false;
}

QString kind_title(TankPartKind kind) {
  static const char* const titles[] = {"Shape", "Body",   "Collector", "Baffle", "Opening",
                                       "Foam",  "Pickup", "Return",    "Vent",   "Level sender"};
  return titles[static_cast<int>(kind)];
}

tank::OpeningPart* opening_of(TankParts& t, const PartRef& part) {
  return part.kind == TankPartKind::opening ? &(*openings_of(t, part.owner))[static_cast<size_t>(part.index)]
                                            : nullptr;
}
const tank::OpeningPart* opening_of(const TankParts& t, const PartRef& part) {
  return part.kind == TankPartKind::opening ? &(*openings_of(t, part.owner))[static_cast<size_t>(part.index)]
                                            : nullptr;
}
tank::Shape* shape_of(TankParts& t, const PartRef& part) { return find_shape(t, part); }
const tank::Shape* shape_of(const TankParts& t, const PartRef& part) { return find_shape(t, part); }

std::string* name_of(TankParts& t, const PartRef& part) {
  const auto i = static_cast<size_t>(part.index);
  switch (part.kind) {
    case TankPartKind::body:
      return &t.bodies[i].name;
    case TankPartKind::collector:
      return &t.collectors[i].name;
    case TankPartKind::baffle:
      return &t.baffles[i].name;
    case TankPartKind::opening:
      return &opening_of(t, part)->name;
    case TankPartKind::foam:
      return &t.foam[i].name;
    case TankPartKind::pickup:
      return &t.pickups[i].name;
    case TankPartKind::return_outlet:
      return &t.returns[i].name;
    default:
      return nullptr;
  }
}

QString part_title(const TankParts& t, const PartRef& part) {
  if (part.kind == TankPartKind::shape)
    return QString("Shape: %1")
        .arg(QString::fromStdString(tank::shape_kinds()[t.shapes[static_cast<size_t>(part.index)].index()]));
  if (const std::string* name = name_of(const_cast<TankParts&>(t), part))
    return QString("%1: %2").arg(kind_title(part.kind), QString::fromStdString(*name));
  return kind_title(part.kind);
}

QString part_place(const project::Places& places, const TankParts& t, const PartRef& part) {
  const auto i = static_cast<size_t>(part.index);
  const auto at = [&](const auto& member) {
    return QString::fromStdString(places.pointer(place_of(member)));
  };
  switch (part.kind) {
    case TankPartKind::shape:
      return at(t.shapes[i]);
    case TankPartKind::body:
      return at(t.bodies[i]);
    case TankPartKind::collector:
      return at(t.collectors[i]);
    case TankPartKind::baffle:
      return at(t.baffles[i]);
    case TankPartKind::opening:
      return at(*opening_of(t, part));
    case TankPartKind::foam:
      return at(t.foam[i]);
    case TankPartKind::pickup:
      return at(t.pickups[i]);
    case TankPartKind::return_outlet:
      return at(t.returns[i]);
    case TankPartKind::vent:
      return at(*t.vent);
    case TankPartKind::sender:
      return at(*t.sender);
  }
  return {};
}

std::optional<Vec3> part_position(const TankParts& t, const PartRef& part, const tank::MeshSource& meshes) {
  const auto i = static_cast<size_t>(part.index);
  switch (part.kind) {
    case TankPartKind::baffle:
      return t.baffles[i].point;
    case TankPartKind::opening:
      return opening_of(t, part)->at;
    case TankPartKind::pickup:
      return t.pickups[i].position;
    case TankPartKind::return_outlet:
      return t.returns[i].position;
    case TankPartKind::vent:
      return t.vent->position;
    case TankPartKind::sender:
      return t.sender->pivot;
    default:
      break;
  }
  if (const tank::Shape* shape = shape_of(t, part)) return make_solid(*shape, meshes).middle();
  return std::nullopt;
}

void move_part(TankParts& t, const PartRef& part, const Vec3& by) {
  const auto i = static_cast<size_t>(part.index);
  switch (part.kind) {
    case TankPartKind::baffle:
      t.baffles[i].point += by;
      for (Vec3& p : t.baffles[i].outline) p += by;
      // Its openings stay on the plate.
      for (auto& o : t.baffles[i].openings) o.at += by;
      return;
    case TankPartKind::opening:
      opening_of(t, part)->at += by;
      return;
    case TankPartKind::pickup:
      t.pickups[i].position += by;
      return;
    case TankPartKind::return_outlet:
      t.returns[i].position += by;
      return;
    case TankPartKind::vent:
      t.vent->position += by;
      return;
    case TankPartKind::sender:
      t.sender->pivot += by;
      return;
    case TankPartKind::collector:
      for (auto& o : t.collectors[i].openings) o.at += by;
      break;
    default:
      break;
  }
  if (tank::Shape* shape = shape_of(t, part)) *shape = tank::moved(*shape, by);
}

void remove_part(TankParts& t, const PartRef& part) {
  const auto drop = [&](auto& list) { list.erase(list.begin() + part.index); };
  switch (part.kind) {
    case TankPartKind::shape:
      return drop(t.shapes);
    case TankPartKind::body:
      return drop(t.bodies);
    case TankPartKind::collector:
      return drop(t.collectors);
    case TankPartKind::baffle:
      return drop(t.baffles);
    case TankPartKind::opening:
      return drop(*openings_of(t, part.owner));
    case TankPartKind::foam:
      return drop(t.foam);
    case TankPartKind::pickup:
      return drop(t.pickups);
    case TankPartKind::return_outlet:
      return drop(t.returns);
    case TankPartKind::vent:
      t.vent.reset();
      return;
    case TankPartKind::sender:
      t.sender.reset();
      return;
  }
}

std::vector<NewPart> new_parts() {
  return {{"Pickup", TankPartKind::pickup, 0},
          {"Baffle across the car (parts front and rear)", TankPartKind::baffle, 0},
          {"Baffle along the car (parts left and right)", TankPartKind::baffle, 1},
          {"Collector box", TankPartKind::collector, 0},
          {"Round hole", TankPartKind::opening, 0},
          {"Slot", TankPartKind::opening, 1},
          {"Notch at the floor", TankPartKind::opening, 2},
          {"Flap door", TankPartKind::opening, 3},
          {"Foam throughout", TankPartKind::foam, 0},
          {"Foam block", TankPartKind::foam, 1},
          {"Body that takes up room", TankPartKind::body, 0},
          {"Return outlet", TankPartKind::return_outlet, 0},
          {"Vent", TankPartKind::vent, 0},
          {"Level sender", TankPartKind::sender, 0},
          {"Shape: box", TankPartKind::shape, 0},
          {"Shape: prism", TankPartKind::shape, 1},
          {"Shape: cylinder", TankPartKind::shape, 2},
          {"Shape: revolved profile", TankPartKind::shape, 3},
          {"Shape: sphere", TankPartKind::shape, 4},
          {"Shape: saddle, in place of all others", TankPartKind::shape, 5}};
}

PartRef add_part(TankParts& t, const tank::Tank& assembled, const NewPart& what,
                 const std::optional<PartRef>& chosen, const tank::MeshSource& meshes) {
  const Vec3 low = assembled.lower_corner(), high = assembled.upper_corner(), size = high - low;
  const Vec3 middle = rounded(inner_point(assembled));
  const auto last = [&](TankPartKind kind, size_t count) {
    return PartRef{kind, static_cast<int>(count) - 1, -1};
  };
  switch (what.kind) {
    case TankPartKind::shape:
      t.short_form = false;
      if (what.variant == 5) t.shapes.clear();
      t.shapes.push_back(new_shape(assembled, what.variant));
      return last(TankPartKind::shape, t.shapes.size());
    case TankPartKind::body:
      t.bodies.push_back({fresh_name(t.bodies, "body"), floor_box(assembled, {0.1, 0.1, 0.3})});
      return last(TankPartKind::body, t.bodies.size());
    case TankPartKind::collector:
      return add_collector(t, assembled, meshes);
    case TankPartKind::baffle:
      return add_baffle(t, assembled, meshes, what.variant == 0);
    case TankPartKind::opening:
      return add_opening(t, assembled, meshes, what.variant, chosen);
    case TankPartKind::foam: {
      tank::Foam foam;
      foam.name = fresh_name(t.foam, "foam");
      if (what.variant == 1) foam.shape = floor_box(assembled, {0.5, 0.9, 0.95});
      t.foam.push_back(std::move(foam));
      return last(TankPartKind::foam, t.foam.size());
    }
    case TankPartKind::pickup:
      t.pickups.push_back({fresh_name(t.pickups, "pickup"), floor_place(assembled, 0.005), 0.02, "engine"});
      return last(TankPartKind::pickup, t.pickups.size());
    case TankPartKind::return_outlet:
      t.returns.push_back({fresh_name(t.returns, "return"), middle});
      return last(TankPartKind::return_outlet, t.returns.size());
    case TankPartKind::vent: {
      Vec3 top = middle;
      for (int k = 0; k < 3000 && assembled.contains(top + Vec3(0, 0, 0.001)); ++k) top.z() += 0.001;
      t.vent = tank::Vent{rounded(top)};
      return {TankPartKind::vent, 0, -1};
    }
    case TankPartKind::sender:
      t.sender = tank::Sender{.pivot = middle, .arm = std::round(0.4 * size.z() * 1000) / 1000};
      return {TankPartKind::sender, 0, -1};
  }
  return {};
}

}  // namespace uadze::gui
