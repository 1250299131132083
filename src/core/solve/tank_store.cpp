#include "core/solve/tank_store.h"

#include <tbb/parallel_for.h>

#include <algorithm>
#include <atomic>

#include "core/project/keys.h"
#include "core/slosh/modes.h"
#include "core/tank/mesh_check.h"

namespace uadze::solve {
namespace {

/// Of everything that the modes depend on.
ContentKey key_of_solid(const tank::Solid& solid) {
  KeyMaker maker;
  for (const Vec3& v : solid.vertices()) maker.add(std::span<const double>(v.data(), 3));
  for (size_t i = 0; i < solid.triangles().size(); ++i) {
    for (int corner : solid.triangles()[i]) maker.add(corner);
    maker.add(solid.weight(i));
  }
  return maker.key();
}

size_t bytes_of(const tank::Solid& solid) {
  return solid.vertices().size() * sizeof(Vec3) + solid.triangles().size() * 64;
}

size_t bytes_of(const tank::Assembly& assembly) {
  size_t out = 4096 + 3 * bytes_of(assembly.tank.whole);
  for (const auto& space : assembly.tank.spaces) out += bytes_of(space.body) + bytes_of(space.solid);
  for (const auto& opening : assembly.tank.openings) out += opening.cells.size() * sizeof(tank::Cell);
  return out;
}

template <class Visit>
void each_mesh(const tank::TankParts& parts, Visit&& visit) {
  const auto look = [&](const tank::Shape& shape) {
    if (const auto* mesh = std::get_if<tank::MeshShape>(&shape)) visit(*mesh);
  };
  for (const auto& s : parts.shapes) look(s);
  for (const auto& b : parts.bodies) look(b.shape);
}

}  // namespace

std::shared_ptr<const KeptMesh> TankStore::mesh(const tank::MeshShape& shape) {
  const std::filesystem::path file(shape.file), path = file.is_absolute() ? file : folder_ / file;
  const FileStamp stamp = file_stamp(path);
  {
    const std::lock_guard lock(mutex_);
    for (const ReadMesh& read : meshes_)
      if (stamp.exists && read.stamp == stamp && read.shape == shape) return read.mesh;
  }
  auto made = std::make_shared<KeptMesh>();
  made->solid = *tank::load_mesh(shape, folder_);
  made->key = key_of_solid(made->solid);
  const std::lock_guard lock(mutex_);
  std::erase_if(meshes_, [&](const ReadMesh& read) { return read.shape == shape; });
  constexpr size_t most_meshes = 16;
  if (meshes_.size() >= most_meshes) meshes_.erase(meshes_.begin());
  meshes_.push_back({shape, stamp, made});
  return made;
}

tank::MeshSource TankStore::meshes() {
  return [this](const tank::MeshShape& shape) -> std::shared_ptr<const tank::Solid> {
    try {
      const auto kept = mesh(shape);
      return {kept, &kept->solid};
    } catch (const InputError&) {
      return nullptr;  // whoever checks the project says why
    }
  };
}

ContentKey TankStore::key_of(const tank::TankParts& parts) {
  KeyMaker maker;
  maker.add(project::key_of(parts));
  each_mesh(parts, [&](const tank::MeshShape& shape) { maker.add(mesh(shape)->key); });
  return maker.key();
}

std::shared_ptr<const tank::Assembly> TankStore::assembled(const tank::TankParts& parts) {
  const ContentKey key = key_of(parts);
  if (auto kept = tanks_.find(key)) return kept;
  auto made = std::make_shared<const tank::Assembly>(tank::assemble(parts, meshes()));
  tanks_.keep(key, made, bytes_of(*made));
  return made;
}

std::shared_ptr<const slosh::TankInertia> TankStore::inertia(const tank::Tank& tank, bool wait) {
  auto out = std::make_shared<slosh::TankInertia>(tank.spaces.size());
  std::atomic<bool> missing{false};
  tbb::parallel_for(size_t{0}, tank.spaces.size(), [&](size_t i) {
    const ContentKey key = key_of_solid(tank.spaces[i].body);
    if (const auto found = inertia_.find(key)) {
      (*out)[i] = *found;
      return;
    }
    if (!wait) {
      missing = true;
      return;
    }
    auto made = std::make_shared<const slosh::InertiaTable>(slosh::inertia_table(tank.spaces[i].body));
    inertia_.keep(key, made, sizeof(slosh::InertiaTable) + 1024);
    (*out)[i] = *made;
  });
  return missing ? nullptr : out;
}

}  // namespace uadze::solve
