#pragma once
// What a tank is made of, as plain values: shapes, baffles with openings, collectors, foam, bodies, pickups,
// returns, vent, level sender.
//
// Example:
//   tank::TankParts parts;
//   parts.shapes = {tank::Box{{-0.3, -0.2, 0}, {0.3, 0.2, 0.25}}};
//   parts.baffles = {{.name = "middle", .point = {0, 0, 0}, .normal = Vec3::UnitX(), .top = 0.2}};
//   EXPECT_EQ(assemble(parts).tank.spaces.size(), 2u);
#include <cmath>
#include <optional>

#include "core/tank/shapes.h"

namespace uadze::tank {

enum class OpeningForm { round, slot, notch };  ///< slot: a rectangle; notch: one that stands on `at`
enum class Passes { both, along, against };     ///< along the plate's normal; a collector's normals point out
enum class Door { none, flap, ball };

constexpr const char* name_of(OpeningForm form) {
  switch (form) {
    case OpeningForm::round:
      return "round";
    case OpeningForm::slot:
      return "slot";
    case OpeningForm::notch:
      return "notch";
  }
  return nullptr;
}
/// In a baffle's opening.
constexpr const char* name_of(Passes passes) {
  switch (passes) {
    case Passes::both:
      return "both";
    case Passes::along:
      return "along normal";
    case Passes::against:
      return "against normal";
  }
  return nullptr;
}
/// In a collector's opening.
constexpr const char* collector_name_of(Passes passes) {
  switch (passes) {
    case Passes::both:
      return "both";
    case Passes::along:
      return "out";
    case Passes::against:
      return "in";
  }
  return nullptr;
}
constexpr const char* name_of(Door door) {
  switch (door) {
    case Door::none:
      return "none";
    case Door::flap:
      return "flap";
    case Door::ball:
      return "ball";
  }
  return nullptr;
}

struct OpeningPart {
  std::string name;
  OpeningForm form = OpeningForm::round;
  Vec3 at = Vec3::Zero();  ///< m, its middle; brought onto the plate
  double diameter = 0.0;   ///< m, round
  double width = 0.0;      ///< m, slot: along the plate and level
  double height = 0.0;     ///< m, slot: along the plate and up
  double discharge =
      0.62;  ///< coefficient of a sharp-edged hole (Idelchik, Handbook of hydraulic resistance)
  Passes passes = Passes::both;
  Door door = Door::none;  ///< what makes it pass one way
  bool operator==(const OpeningPart&) const = default;
};

/// A plate across the tank. It fills the whole section, but for what lies above `top` or outside `outline`,
/// which is open, and for its openings.
struct Baffle {
  std::string name;
  Vec3 point = Vec3::Zero();
  Vec3 normal = Vec3::UnitX();
  std::optional<double> top;  ///< m, z of its upper edge; nothing: up to the roof
  std::vector<Vec3> outline;  ///< m; empty: the whole section
  std::vector<OpeningPart> openings;
  bool operator==(const Baffle&) const = default;
};

/// A box inside the tank that holds fuel around a pickup.
struct Collector {
  std::string name;
  Shape shape = Box{};
  bool open_top = true;
  std::vector<OpeningPart> openings;  ///< brought onto the nearest of its walls
  double crowded = 0.3;  ///< share of its section that pumps, hoses and socks take, typical: breaks its swing
  bool operator==(const Collector&) const = default;
};

struct Foam {
  std::string name;
  std::optional<Shape> shape;  ///< nothing: all of the tank
  double porosity = 0.97;      ///< share of its volume that fuel can take
  double permeability = 1e-8;  ///< m2; 10 pores an inch about 1e-7, 25 about 1e-8
  double keeps = 0.025;        ///< share of its volume whose fuel it never gives back
  /// What slows fuel that runs through its cells with u: nu darcy() u + inertial() u^2, as m/s2. 1/m2 and
  /// 1/m; Forchheimer's constant 0.1 of open foams: Calmidi and Mahajan 2000, J. Heat Transfer 122.
  double darcy() const { return porosity / permeability; }
  double inertial() const { return 0.1 * porosity * porosity / std::sqrt(permeability); }
  bool operator==(const Foam&) const = default;
};

struct Body {
  std::string name;
  Shape shape = Box{};
  bool operator==(const Body&) const = default;
};

/// A point with a round, level sock; see pickup.h.
struct Pickup {
  std::string name;
  Vec3 position = Vec3::Zero();  ///< m
  double sock_radius = 0.0;      ///< m; 0: a bare tube end, wet or dry
  std::string feeds = "engine";  ///< a lift pump's name, or "engine"

  bool operator==(const Pickup&) const = default;
};

struct ReturnOutlet {
  std::string name;
  Vec3 position = Vec3::Zero();
  bool operator==(const ReturnOutlet&) const = default;
};

struct Vent {
  Vec3 position = Vec3::Zero();
  bool operator==(const Vent&) const = default;
};

/// A float on an arm that swings in an upright plane.
struct Sender {
  Vec3 pivot = Vec3::Zero();
  double heading = 0.0;  ///< rad, from forward to the left: where the arm points
  double arm = 0.0;      ///< m, pivot to the float's middle
  double empty = -0.7;   ///< rad over level, where it reads 0
  double full = 0.7;     ///< rad over level, where it reads 1
  double bent = 0.0;     ///< rad, that the arm has been bent upward since it was calibrated
  double raised = 0.0;   ///< m, that the hanger sits higher than when it was calibrated
  bool operator==(const Sender&) const = default;
};

/// One step of filling the tank itself, the car level: what stick and gauge said then.
struct FilledStep {
  double volume = 0.0;          ///< m3 that were in it
  std::optional<double> dip;    ///< m, at the stick's usual place (deepest_place() unless it is another)
  std::optional<double> gauge;  ///< 0..1
  bool operator==(const FilledStep&) const = default;
};

/// Shapes, baffles, collectors, bodies, foams, pickups or returns: more than any tank has. Each divides every
/// space that it meets.
inline constexpr size_t most_of_a_kind = 60;
/// Triangles that joining shapes may add to the tank: shapes that all overlap double it each time.
inline constexpr size_t most_joined_triangles = 20000;

struct TankParts {
  std::vector<Shape> shapes;
  double usable_share = 1.0;  ///< of the whole volume that may be filled
  std::vector<Baffle> baffles;
  std::vector<Collector> collectors;
  std::vector<Foam> foam;
  std::vector<Body> bodies;
  std::vector<Pickup> pickups;
  std::vector<ReturnOutlet> returns;
  std::optional<Vent> vent;
  std::optional<Sender> sender;
  std::vector<FilledStep> filled;  ///< by rising volume; stands above what geometry says
  bool short_form = false;         ///< the file gives its one prism without a list of shapes
  bool operator==(const TankParts&) const = default;
};

}  // namespace uadze::tank
