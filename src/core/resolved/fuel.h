#pragma once
// The fuel resolved in three dimensions: an incompressible liquid with a free surface in the real tank, for
// the seconds that matter.
//
//      gas   .  . . .            Particles carry volume and velocity; a staggered grid finds the pressure.
//        . o o o o . .
//      o o o o o o o o |         1  particles -> faces      momentum over volume, with each particle's own
//      o o o o o o o o |                                    gradient of velocity (affine transfers: Jiang,
//      o o o o o o o o |                                    Schroeder, Teran 2017, J. Comput. Phys. 338)
//     -------u--p--u---          2  gravity less the car's acceleration, yaw, drag of foam
//                                3  pressure: what flows into a cell flows out, over the faces' open areas
//                                   (Ng, Min, Gibou 2009, J. Comput. Phys. 228); at the surface, which lies
//                                   between two cells' middles by what the particles leave there, it is the
//                                   gas's (Enright, Nguyen, Gibou, Fedkiw 2003)
//                                4  faces -> particles, which move with them (second order)
//                                5  particles move apart or together until each cell under the surface holds
//                                   what it can (density projection: Kugelstadt, Longva, Thuerey, Bender
//                                   2019), so that the fuel never swells
//
// Volume is exact: particles are only drawn and poured. Gas has no weight. What is open to the vent has the
// air's pressure; a pocket that is shut in keeps its amount (isothermal, p V constant), so that fuel does not
// enter a collector that its gas can not leave. Pockets under eight cells are none: they close.
//
// Limits: no surface tension, no friction but foam's and the grid's own; films thinner than half a cell run
// without pressure; bubbles do not rise but through open cells; flaps stand open or shut, as the pressure
// over them in the last step says; walls let the fuel slip.
//
// Example:
//   const tank::Tank tank = plain_tank(make_solid(tank::Box{{0, 0, 0}, {0.4, 0.2, 0.2}}));
//   const auto lattice = std::make_shared<const resolved::Lattice>(resolved::make_lattice(tank, {}, {.size = 0.02}));
//   resolved::Fuel fuel(tank, lattice, {});
//   fuel.fill({{Vec3::UnitZ(), 0.1}}, {0.4 * 0.2 * 0.1});         // by space: its surface, its volume
//   for (int k = 0; k < 20; ++k) fuel.advance(0.01, {.gravity = Vec3(0, 0, -9.81)});
//   EXPECT_NEAR(fuel.state().centroid.z(), 0.05, 2e-4);          // at rest it stays at rest
//   EXPECT_LT(fuel.state().fastest, 0.02);                       // m/s
#include <memory>

#include "core/lap/force_trace.h"
#include "core/resolved/lattice.h"
#include "core/resolved/poisson.h"
#include "core/resolved/transfer.h"
#include "core/tank/solid.h"

namespace uadze::resolved {

struct FuelOptions {
  double density = 745.0;       ///< kg/m3
  double viscosity = 0.6e-6;    ///< m2/s, in foam
  double ambient = 101325.0;    ///< Pa
  double courant = 1.4;         ///< cells that the fastest fuel may pass in a step; blows lose more with more
  double longest_step = 0.012;  ///< s
  bool sealed = false;          ///< no vent: all gas is a pocket
  std::vector<Vec3> vents;      ///< m, of the tank
};

using lap::Push;

struct Particle {
  double x[3];            ///< m
  double volume;          ///< m3
  float u[3];             ///< m/s
  float change[9];        ///< 1/s: d u[a] / d x[b] at 3 a + b
  std::uint16_t at[4]{};  ///< its cell along each axis; the last is not used
};

struct Steps {
  long steps = 0, iterations = 0, spreading = 0;
  double left = 0.0;  ///< largest share of a cell's volume that a step's flow left over
};

struct State {
  double time = 0.0;
  double volume = 0.0;           ///< m3, by count of particles
  double filled = 0.0;           ///< m3 of space that it fills
  Vec3 centroid = Vec3::Zero();  ///< m
  Vec3 momentum = Vec3::Zero();  ///< kg m/s
  double energy = 0.0;           ///< J, of motion
  double fastest = 0.0;          ///< m/s
  Vec3 force = Vec3::Zero();     ///< N on walls and plates, mean over the last step
  std::vector<double> space;     ///< m3 in each space
  std::vector<double> through;   ///< m3 that have gone through each opening, from its `from` to its `to`
  std::vector<char> door_open;   ///< of each opening
};

class Fuel {
 public:
  /// Tank and lattice must be of each other.
  Fuel(const tank::Tank& tank, std::shared_ptr<const Lattice> lattice, const FuelOptions& options);

  /// At rest: under each space's plane its volume (m3). Volumes that do not fit are an InputError.
  void fill(const std::vector<tank::Plane>& surfaces, const std::vector<double>& volumes);

  /// Moves by dt in as many steps as it needs.
  void advance(double dt, const Push& push);

  State state() const;
  const Steps& steps() const { return steps_; }
  const Lattice& lattice() const { return *lattice_; }
  const std::vector<Particle>& particles() const { return particles_; }
  double time() const { return time_; }

  /// Share of the cells' capacity under the particles, by cell, as of the last step.
  const std::vector<double>& share() const { return share_; }
  /// How deep each cell's middle lies under the surface, in cells, -1..1.
  const std::vector<double>& depth() const { return depth_; }
  /// 0..1: of a disc (m), level in the car, how much is in the fuel.
  double wet(const Vec3& middle, double radius) const;
  /// Both are seen in shares and depths from the next step on. Takes up to `volume` (m3) from what is within
  /// `radius` of a point; what was taken, in whole particles: the rest is owed to the next call by `owed`.
  double draw(const Vec3& from, double radius, double volume, double& owed);
  /// Pours `volume` (m3) in at a point, in particles of a cell's quarter; `owed` as above.
  void pour(const Vec3& at, double volume, double& owed);

  /// All that decides what comes next, as bytes; and back. Throws std::runtime_error where the bytes are not
  /// of this tank and lattice.
  std::string frozen() const;
  void thaw(std::string_view bytes);

 private:
  struct Wall {
    double out = 0.0;  ///< m3/s that would leave the cell without pressure
    double k[6]{};     ///< towards gas, by side
  };
  struct OpenFace {
    size_t cell = 0;
    int axis = 0, opening = 0;
    double sign = 1.0;   ///< of the opening's way along the axis
    double apart = 0.0;  ///< m between the cells' middles
    double share = 0.0;  ///< of the opening's area
  };
  struct Oblique {
    size_t cell = 0;
    int axis = 0, height = 0;  ///< of the cell: its place along z
    size_t column = 0;
    Vec3 inward;  ///< unit vector off the wall; zero where there is no saying
  };
  struct Pocket {
    double amount = 0.0;     ///< Pa m3
    double volume = 0.0;     ///< m3
    double over = 0.0;       ///< m2/s2: its pressure over the air's, over the fuel's density
    std::vector<int> cells;  ///< that hold gas only
  };
  struct PocketSide {
    size_t row = 0;
    double k = 0.0, area = 0.0, in = 0.0;  ///< m s; m2; m3/s of fuel into the pocket as it is
  };

  /// Cosine and sine of the angle by which velocities turn, as the car does under them.
  struct Turn {
    float x = 1, y = 0;
  };

  double grain() const { return cell_ / 4; }  ///< m3, of a particle
  void seeds_in(const int at[3], std::vector<Vec3>& seeds) const;
  double next_step(const Push& push) const;
  void step(double dt, const Push& push);
  void look();
  void find_surface();
  void push_faces(double dt, const Push& push);
  // transfers.cpp
  void sort();
  void to_faces();
  void leave(int begin, int end);
  template <class F>
  void each_block(F&& move);
  double take(int begin, int end, double dt, const Turn& turn, double* through);
  void to_particles(double dt, const Push& push);
  void shift_particles();
  void walk(Particle& p, const double to[3], double* gone) const;
  // pressure.cpp
  bool passes(int a, size_t face) const { return !(shut_.data()[face] >> a & 1); }
  void shut_doors();
  double to_pressure(int a, size_t face, int place) const;
  std::vector<int> number();
  void build(double dt);
  void find_closed();
  void balance();
  float from_wall(int a, size_t face, size_t low) const;
  void find_pressure(double dt);
  void find_spreading();
  void move_doors();
  // walls.cpp
  void extend();
  void find_oblique();
  void slip();
  double inside_at(const Vec3& p) const;
  Vec3 inward_at(const Vec3& p) const;
  // gas.cpp
  void find_gas();
  int hold_pockets(const SolveOptions& options);
  std::vector<PocketSide> sides_of(const Pocket& pocket) const;
  bool gas_moves() const { return options_.sealed || !options_.vents.empty(); }

  const tank::Tank* tank_;
  std::shared_ptr<const Lattice> lattice_;
  FuelOptions options_;
  double cell_ = 0.0;  ///< m3 of a cell in the middle
  std::vector<OpenFace> open_faces_;
  std::vector<Oblique> oblique_;
  std::vector<char> cut_;  ///< of each cell: whether an oblique wall goes through it; empty without such
  std::vector<std::uint8_t> shut_;  ///< bits of a cell's lower faces: walls, plates, and doors as they are
  std::vector<double> face_sign_;   ///< of each opening: its way along its faces' axis

  // What the next step follows from.
  double time_ = 0.0, rate_ = 0.0, last_step_ = 0.0;
  Push last_push_;
  std::vector<Particle> particles_;
  std::vector<double> pressure_;  ///< m2/s2: over density, over the air's
  std::vector<char> door_open_;
  std::vector<double> through_;
  std::vector<Pocket> pockets_;
  std::vector<std::int8_t> gas_was_;  ///< 0: fuel, 1: gas open to the air, 2: of a pocket
  Steps steps_;

  // Found anew in each.
  bool stale_ = false;  ///< particles came or went since they were sorted
  double kick_ = 0.0;   ///< s that pressure and push act in a step
  Vec3 pull_ = Vec3::Zero();
  std::vector<Particle> sorted_;
  std::vector<int> key_, block_begin_;
  /// What particles leave at a cell's lower face and at the one above it along z: momentum over density
  /// (m4/s) and volume (m3), twice; and at its middle and the one above: m3. So each adds to what no other
  /// overlaps by half, which a machine would wait for.
  std::array<std::vector<Four>, 3> left_;
  std::vector<Two> lies_;
  /// Velocity (m/s), and m by which a step brings the fuel to its volume.
  std::array<std::vector<Two>, 3> flow_;
  std::array<std::vector<float>, 3> factor_;  ///< 0..1: what drag leaves of a push
  bool drags_ = false;                        ///< there is foam or a porous plate somewhere
  /// 1/m, of a cell's lower faces: what drag leaves, over the way between the two places where the pressure
  /// is known; 0 with gas on both sides, negative where nothing passes.
  std::vector<std::array<float, 3>> ease_;
  std::vector<float> slipped_;
  double crowded_ = 0.0;  ///< share of the fuel over what its cells can hold
  std::vector<double> share_, depth_, gas_;
  /// The fuel: beyond, there is none, no velocity is found and none is asked for.
  std::vector<Column> near_;
  std::vector<std::uint8_t> known_, known_next_;  ///< bits of a cell's lower faces that have a velocity
  std::vector<int> row_, cell_of_row_;            ///< -1: not under the surface
  std::vector<Wall> wall_;
  std::vector<char> touches_;             ///< of each row: whether there is gas beside it
  std::vector<std::vector<int>> closed_;  ///< rows of bodies without any gas
  Poisson system_;
};

}  // namespace uadze::resolved
