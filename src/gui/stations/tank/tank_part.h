#pragma once
// The parts of a tank as the tree, the picture and the form see them: listed, named, placed, moved, added,
// removed.
//
//   for (const PartRef& part : parts_of(tank)) tree.add(part_title(tank, part));
//   move_part(tank, part, {0.005, 0, 0});
#include <QString>
#include <optional>
#include <vector>

#include "core/project/places.h"
#include "core/tank/tank.h"

namespace uadze::gui {

enum class TankPartKind {
  shape,
  body,
  collector,
  baffle,
  opening,
  foam,
  pickup,
  return_outlet,
  vent,
  sender
};

/// An opening is in baffle or collector `owner` (collectors count after the baffles).
struct PartRef {
  TankPartKind kind = TankPartKind::shape;
  int index = 0;
  int owner = -1;
  bool operator==(const PartRef&) const = default;
};

/// All parts in the tree's order, each opening after its baffle or collector.
std::vector<PartRef> parts_of(const tank::TankParts& tank);
bool exists(const tank::TankParts& tank, const PartRef& part);

QString kind_title(TankPartKind kind);
QString part_title(const tank::TankParts& tank, const PartRef& part);
/// Where it is in the file below the tank, such as "/baffles/0/openings/1".
/// `places`: of the tank.
QString part_place(const project::Places& places, const tank::TankParts& tank, const PartRef& part);

tank::OpeningPart* opening_of(tank::TankParts& tank, const PartRef& part);
const tank::OpeningPart* opening_of(const tank::TankParts& tank, const PartRef& part);
/// The shape of a shape, body, collector or foam block; nullptr if it has none.
tank::Shape* shape_of(tank::TankParts& tank, const PartRef& part);
const tank::Shape* shape_of(const tank::TankParts& tank, const PartRef& part);
std::string* name_of(tank::TankParts& tank, const PartRef& part);

/// A point that stands for the part; nothing for foam throughout. `meshes`: of shapes that are.
std::optional<Vec3> part_position(const tank::TankParts& tank, const PartRef& part,
                                  const tank::MeshSource& meshes = {});
void move_part(tank::TankParts& tank, const PartRef& part, const Vec3& by);
void remove_part(tank::TankParts& tank, const PartRef& part);

/// What "add" offers, by name; a new part is put where it makes sense in the assembled tank.
struct NewPart {
  QString title;
  TankPartKind kind;
  int variant;  ///< kind of shape, or form of opening
};
std::vector<NewPart> new_parts();
/// Openings go into the baffle or collector that is chosen, or the first there is. Throws std::runtime_error
/// with a sentence if there is none.
PartRef add_part(tank::TankParts& tank, const tank::Tank& assembled, const NewPart& what,
                 const std::optional<PartRef>& chosen, const tank::MeshSource& meshes = {});

}  // namespace uadze::gui
