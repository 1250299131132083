#include "core/project/tank_store.h"

#include <tbb/parallel_for.h>

#include <algorithm>
#include <atomic>
#include <bit>

#include "core/slosh/modes.h"
#include "core/tank/mesh_check.h"

namespace uadze::project {
namespace {

constexpr size_t most_kept = 24;

std::vector<const void*> loaded_meshes(const tank::TankParts& parts) {
  std::vector<const void*> out;
  const auto look = [&](const tank::Shape& shape) {
    if (const auto* mesh = std::get_if<tank::MeshShape>(&shape)) out.push_back(mesh->loaded.get());
  };
  for (const auto& s : parts.shapes) look(s);
  for (const auto& b : parts.bodies) look(b.shape);
  return out;
}

/// Of everything that the modes depend on (FNV-1a over the bits).
std::uint64_t fingerprint(const tank::Solid& solid) {
  std::uint64_t h = 1469598103934665603ULL;
  const auto add = [&](std::uint64_t v) { h = (h ^ v) * 1099511628211ULL, h ^= h >> 31; };
  for (const Vec3& v : solid.vertices())
    for (int k = 0; k < 3; ++k) add(std::bit_cast<std::uint64_t>(v[k]));
  for (size_t i = 0; i < solid.triangles().size(); ++i) {
    for (int corner : solid.triangles()[i]) add(static_cast<std::uint64_t>(corner));
    add(std::bit_cast<std::uint64_t>(solid.weight(i)));
  }
  return h;
}

template <class List, class Item>
void keep(List& list, Item item) {
  if (list.size() >= most_kept) list.erase(list.begin());
  list.push_back(std::move(item));
}

}  // namespace

void TankStore::read_meshes(tank::TankParts& parts, const std::filesystem::path& folder) {
  const auto read = [&](tank::Shape& shape) {
    auto* mesh = std::get_if<tank::MeshShape>(&shape);
    if (!mesh || mesh->file.empty()) return;
    const std::filesystem::path file(mesh->file), path = file.is_absolute() ? file : folder / file;
    std::error_code ignored;
    const auto written = std::filesystem::last_write_time(path, ignored);
    {
      const std::lock_guard lock(mutex_);
      for (const KeptMesh& k : meshes_)
        if (!ignored && k.path == path && k.written == written && k.shape == *mesh) {
          mesh->loaded = k.shape.loaded;
          return;
        }
    }
    mesh->loaded = tank::load_mesh(*mesh, folder);
    const std::lock_guard lock(mutex_);
    keep(meshes_, KeptMesh{*mesh, path, written});
  };
  for (auto& s : parts.shapes) read(s);
  for (auto& b : parts.bodies) read(b.shape);
}

std::shared_ptr<const tank::Assembly> TankStore::assembled(const tank::TankParts& parts) {
  const std::vector<const void*> meshes = loaded_meshes(parts);
  {
    const std::lock_guard lock(mutex_);
    for (const KeptTank& k : tanks_)
      if (k.meshes == meshes && k.parts == parts) return k.assembly;
  }
  auto made = std::make_shared<const tank::Assembly>(tank::assemble(parts));
  const std::lock_guard lock(mutex_);
  keep(tanks_, KeptTank{parts, meshes, made});
  return made;
}

std::shared_ptr<const slosh::TankInertia> TankStore::inertia(const tank::Tank& tank, bool wait) {
  auto out = std::make_shared<slosh::TankInertia>(tank.spaces.size());
  std::atomic<bool> missing{false};
  tbb::parallel_for(size_t{0}, tank.spaces.size(), [&](size_t i) {
    const std::uint64_t key = fingerprint(tank.spaces[i].body);
    {
      const std::lock_guard lock(mutex_);
      if (const auto found = inertia_.find(key); found != inertia_.end()) {
        (*out)[i] = found->second;
        return;
      }
    }
    if (!wait) {
      missing = true;
      return;
    }
    (*out)[i] = slosh::inertia_table(tank.spaces[i].body);
    const std::lock_guard lock(mutex_);
    if (inertia_.size() > 20 * most_kept) inertia_.clear();
    inertia_.emplace(key, (*out)[i]);
  });
  return missing ? nullptr : out;
}

}  // namespace uadze::project
