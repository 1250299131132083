#include "core/solve/sources.h"

#include "core/project/catalogue_file.h"
#include "core/starvation/band.h"

namespace uadze::solve {
namespace {

namespace fs = std::filesystem;

ContentKey key_of_lap(const lap::Lap& lap) {
  KeyMaker maker;
  for (const auto* channel : {&lap.time, &lap.distance, &lap.lateral, &lap.longitudinal, &lap.vertical,
                              &lap.speed, &lap.throttle, &lap.rotation, &lap.fuel_flow, &lap.fuel_mass_flow})
    maker.add(std::span<const double>(*channel));
  return maker.key();
}

LapPtr kept_lap(lap::Lap lap, Messages notes) {
  const ContentKey key = key_of_lap(lap);
  return std::make_shared<const KeptLap>(KeptLap{std::move(lap), std::move(notes), key});
}

/// A minute at full load, standing level.
LapPtr bench_lap() {
  static const LapPtr made = [] {
    lap::Lap lap;
    for (int i = 0; i <= 240; ++i) {
      lap.time.push_back(i * 0.25);
      lap.distance.push_back(i * 0.25);
      lap.lateral.push_back(0.0);
      lap.longitudinal.push_back(0.0);
      lap.vertical.push_back(standard_gravity);
      lap.speed.push_back(0.0);
      lap.throttle.push_back(1.0);
    }
    return kept_lap(std::move(lap), {});
  }();
  return made;
}

size_t bytes_of(const lap::Lap& lap) { return lap.size() * 9 * sizeof(double); }

}  // namespace

const project::LapReference& bench_reference() {
  static const project::LapReference bench{
      .name = "test bench", .file = "", .repeated = false, .corners = {{"full load", 0, 1000}}};
  return bench;
}

LapPtr LapStore::get(const project::LapReference& reference, double grip) {
  LapPtr whole;
  if (reference == bench_reference()) {
    whole = bench_lap();
  } else {
    const fs::path path = folder_ / reference.file;
    const std::lock_guard lock(mutex_);
    const FileStamp stamp = file_stamp(path);
    Read& read = read_[{reference.file, static_cast<int>(reference.vertical_zero)}];
    if (!read.lap || !stamp.exists || read.stamp != stamp) {
      read.lap = nullptr;
      auto [lap, notes] = lap::read_lap(path, reference.vertical_zero);
      read.lap = kept_lap(std::move(lap), std::move(notes));
      read.stamp = stamp;
    }
    whole = read.lap;
  }
  if (grip == 1.0) return whole;
  const ContentKey key = KeyMaker().add(whole->key).add(grip).key();
  if (auto kept = scaled_.find(key)) return kept;
  LapPtr scaled = kept_lap(starvation::with_grip(whole->value, grip), whole->notes);
  scaled_.keep(key, scaled, bytes_of(scaled->value));
  return scaled;
}

std::vector<lap::Corner> LapStore::corners(const project::LapReference& reference) {
  if (!reference.corners.empty() || reference.file.empty()) return reference.corners;
  try {
    return lap::propose_corners(get(reference)->value);
  } catch (const InputError&) {
    return {};  // whoever needs the lap says why
  }
}

CataloguePtr CatalogueStore::get(const std::vector<std::string>& files, Messages* notes) {
  const std::lock_guard lock(mutex_);
  Read& read = read_[files];
  bool same = read.catalogue != nullptr;
  for (const auto& [path, stamp] : read.stamps) same = same && file_stamp(path) == stamp;
  if (!same) {
    read = {};
    std::vector<fs::path> read_files;
    project::LoadedCatalogue loaded = project::load_catalogue(files, folder_, read.notes, &read_files);
    for (const fs::path& path : read_files) read.stamps.emplace_back(path, file_stamp(path));
    read.catalogue =
        std::make_shared<const KeptCatalogue>(KeptCatalogue{std::move(loaded.value), loaded.key});
  }
  if (notes) notes->insert(notes->end(), read.notes.begin(), read.notes.end());
  return read.catalogue;
}

std::shared_ptr<const circuit::Catalogue> Sources::catalogue(const project::Project& project) {
  const CataloguePtr kept = catalogues.get(project.catalogue_files);
  return {kept, &kept->value};
}

std::vector<fs::path> files_of(const project::Project& project, const fs::path& folder) {
  std::vector<fs::path> out;
  const auto add = [&](const std::string& file) {
    if (!file.empty()) out.push_back(folder / file);
  };
  for (const auto& l : project.laps) add(l.file);
  for (const auto& c : project.catalogue_files) add(c);
  for (const auto& s : project.setups) {
    for (const auto& shape : s.tank.shapes)
      if (const auto* mesh = std::get_if<tank::MeshShape>(&shape)) add(mesh->file);
    for (const auto& body : s.tank.bodies)
      if (const auto* mesh = std::get_if<tank::MeshShape>(&body.shape)) add(mesh->file);
  }
  return out;
}

}  // namespace uadze::solve
