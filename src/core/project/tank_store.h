#pragma once
// Tanks assembled once and shared: by what they are made of, meshes by file and date, inertia by geometry.
// Safe from several threads. The newest are kept.
//
//   TankStore tanks;
//   tanks.read_meshes(parts, folder);               // puts the meshes into the shapes
//   const auto assembled = tanks.assembled(parts);  // tank and what is wrong with it
//   const auto inertia = tanks.inertia(*assembled); // numerical modes: costs some tens of milliseconds once
#include <filesystem>
#include <map>
#include <memory>
#include <mutex>
#include <vector>

#include "core/slosh/planar.h"
#include "core/tank/tank.h"

namespace uadze::project {

class TankStore {
 public:
  /// Loads every mesh of the parts. Throws InputError if one can not be used.
  void read_meshes(tank::TankParts& parts, const std::filesystem::path& folder);
  std::shared_ptr<const tank::Assembly> assembled(const tank::TankParts& parts);
  /// `wait`: computes what is not known; otherwise nothing is given unless all of it is.
  std::shared_ptr<const slosh::TankInertia> inertia(const tank::Tank& tank, bool wait = true);

 private:
  struct KeptMesh {
    tank::MeshShape shape;
    std::filesystem::path path;
    std::filesystem::file_time_type written;
  };
  struct KeptTank {
    tank::TankParts parts;
    std::vector<const void*> meshes;  ///< the loaded solids: parts compare by file name only
    std::shared_ptr<const tank::Assembly> assembly;
  };
  std::mutex mutex_;
  std::vector<KeptMesh> meshes_;
  std::vector<KeptTank> tanks_;
  std::map<std::uint64_t, slosh::InertiaTable> inertia_;
};

}  // namespace uadze::project
