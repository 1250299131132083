#pragma once
// What a dip stick and the level sender say about the volume of fuel, the car level or at a rake.
//
//        stick          pivot o------ arm ----( ) float
//          |                   \ angle over level
//   -------|---------- surface ----------------
//          |  dip
//   -------+---------- floor under the stick
//
// Example:
//   tank::TankParts parts;
//   parts.shapes = {tank::Box{{0, 0, 0}, {0.5, 0.4, 0.3}}};
//   const tank::Tank tank = assemble(parts).tank;
//   const tank::Plane surface = standing_surface(tank, 0.020);
//   EXPECT_NEAR(*dip_depth(tank, {0.1, 0.1}, surface), 0.1, 1e-12);   // m along the stick
//   EXPECT_EQ(gauge_table(parts, tank, {0.1, 0.1}, {}, 10).rows.size(), 11u);
#include "core/base/derivation.h"
#include "core/tank/tank.h"

namespace uadze::tank {

/// How the car stands: nose up by `pitch`, left side up by `roll`.
struct Rake {
  double pitch = 0.0, roll = 0.0;  ///< rad
  bool operator==(const Rake&) const = default;
};

/// The upward direction in the car's axes.
Vec3 upward(const Rake& rake);

/// The common surface of fuel that has had time to even out between all spaces.
Plane standing_surface(const Tank& tank, double volume, const Rake& rake = {});

/// m, along an upright stick that is pushed down to the floor at (x, y); 0 where the fuel does not reach it;
/// nothing where there is no tank under the place.
std::optional<double> dip_depth(const Tank& tank, const Vec2& place, const Plane& surface);

/// Where the default stick stands: over the tank's centroid if the floor there is as low as anywhere, else
/// over the deepest floor (in a saddle that of one side).
Vec2 deepest_place(const Tank& tank);

/// z of the floor that a stick meets at (x, y).
std::optional<double> floor_under(const Tank& tank, const Vec2& place);

/// What the sender reports, 0..1 between its calibrated angles, stops included: the float lies on the
/// surface. A bent arm or a raised hanger moves the float without the sender knowing.
double sender_reading(const Sender& sender, const Plane& surface);

/// The volume that the reading stood for when it was calibrated: unbent, not raised, the car level.
double volume_by_gauge(const Sender& sender, const Tank& tank, double reading);

/// What stick and gauge said when the tank itself was filled in steps: straight between two steps, nothing
/// outside of them or where none was.
std::optional<double> filled_dip(const TankParts& parts, double volume);
std::optional<double> filled_gauge(const TankParts& parts, double volume);

struct GaugeRow {
  double volume = 0.0;        ///< m3
  std::optional<double> dip;  ///< m
  double reading = 0.0;       ///< 0..1
  double believed = 0.0;      ///< m3, what the reading stands for
  bool filled = false;        ///< dip or reading by the filled steps, not by geometry
};

/// What the gauge hides: its reading when a pickup begins to be bare with the car at rest.
struct Hidden {
  std::string pickup;
  double volume = 0.0;    ///< m3 in the tank then
  double reading = 0.0;   ///< 0..1
  double believed = 0.0;  ///< m3
};

struct GaugeTable {
  std::vector<GaugeRow> rows;  ///< from empty to full
  std::vector<Hidden> hidden;  ///< of each pickup
  double unreached = 0.0;      ///< m3 that lie under the stick's foot: with less it comes up dry
};

/// `steps` even steps of volume. Without a sender or filled steps the readings are 0. The filled steps stand
/// above geometry where the car is level and the stick at its usual place.
GaugeTable gauge_table(const TankParts& parts, const Tank& tank, const Vec2& place, const Rake& rake,
                       int steps = 40);

/// Fill limits: brimful, what may be filled, room to expand, what no pickup reaches at rest.
std::vector<Derivation> fill_limits(const TankParts& parts, const Tank& tank);

}  // namespace uadze::tank
