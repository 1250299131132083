#pragma once
// Meshes read and tanks assembled once and shared, by content: meshes again when their file changes, tanks by
// what they are made of and their meshes' content, inertia by geometry. Safe from several threads.
//
// Example:
//   using namespace uadze;
//   solve::TankStore tanks;
//   tank::TankParts parts;
//   parts.shapes = {tank::Box{{0, 0, 0}, {0.5, 0.4, 0.2}}};
//   const auto assembled = tanks.assembled(parts);          // tank and what is wrong with it
//   EXPECT_NEAR(assembled->tank.volume(), 0.04, 1e-12);
//   EXPECT_EQ(tanks.inertia(assembled->tank, false), nullptr) << "not known yet, and not waited for";
#include <filesystem>
#include <map>
#include <memory>
#include <mutex>
#include <vector>

#include "core/base/kept.h"
#include "core/slosh/planar.h"
#include "core/solve/file_stamp.h"
#include "core/tank/tank.h"

namespace uadze::solve {

/// A mesh as it is placed in the car.
struct KeptMesh {
  tank::Solid solid;
  ContentKey key;
};

class TankStore {
 public:
  explicit TankStore(std::filesystem::path folder = {}) : folder_(std::move(folder)) {}

  /// Throws InputError if the file can not be read or the mesh can not be a tank.
  std::shared_ptr<const KeptMesh> mesh(const tank::MeshShape& shape);
  /// For make_solid and assemble: nothing for a mesh that can not be used.
  tank::MeshSource meshes();
  /// Of the parts and their meshes' content. Throws InputError for a mesh that can not be used.
  ContentKey key_of(const tank::TankParts& parts);

  /// Throws InputError for a mesh that can not be used.
  std::shared_ptr<const tank::Assembly> assembled(const tank::TankParts& parts);
  /// `wait`: computes what is not known; otherwise nothing is given unless all of it is.
  std::shared_ptr<const slosh::TankInertia> inertia(const tank::Tank& tank, bool wait = true);

 private:
  struct ReadMesh {
    tank::MeshShape shape;
    FileStamp stamp;
    std::shared_ptr<const KeptMesh> mesh;
  };
  std::filesystem::path folder_;
  std::mutex mutex_;
  std::vector<ReadMesh> meshes_;
  Kept<tank::Assembly> tanks_{64u << 20};
  Kept<slosh::InertiaTable> inertia_{16u << 20};
};

}  // namespace uadze::solve
