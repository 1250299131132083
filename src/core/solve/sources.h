#pragma once
// All that a project's answers are computed from beside the project itself: the files that it names, read
// once and read anew when they change on the disk; and what was computed, kept by the content of all that
// decides it. Safe from several threads. One for each open project.
//
// Example:
//   using namespace uadze;
//   solve::Sources sources(std::filesystem::path(UADZE_SOURCE_DIR) / "demo");
//   project::LapReference reference{.name = "dry", .file = "laps/brackenholt-p4.csv"};
//   const solve::LapPtr lap = sources.laps.get(reference);
//   EXPECT_EQ(sources.laps.get(reference), lap) << "read once";
//   EXPECT_NE(sources.laps.get(reference, 0.7)->key, lap->key) << "under another grip it is another lap";
//   EXPECT_EQ(sources.laps.corners(reference).front().name, "Corner 1") << "the project names none";
#include <filesystem>
#include <map>
#include <memory>
#include <mutex>

#include "core/base/kept.h"
#include "core/circuit/catalogue.h"
#include "core/lap/lap.h"
#include "core/project/project.h"
#include "core/solve/file_stamp.h"
#include "core/solve/tank_store.h"

namespace uadze::solve {

/// A lap as it was read, or as it is under another grip.
struct KeptLap {
  lap::Lap value;
  Messages notes;
  ContentKey key;  ///< of its channels
};
using LapPtr = std::shared_ptr<const KeptLap>;

class LapStore {
 public:
  explicit LapStore(std::filesystem::path folder = {}) : folder_(std::move(folder)) {}
  /// Throws InputError if the file is missing or broken. Under another grip lateral and longitudinal
  /// accelerations are scaled; the test bench's lap needs no file.
  LapPtr get(const project::LapReference& reference, double grip = 1.0);
  /// The lap's corners: as the project names them; where it names none, those that the lap itself shows. None
  /// for a manoeuvre, which no file holds, and for a lap that can not be read.
  std::vector<lap::Corner> corners(const project::LapReference& reference);

 private:
  struct Read {
    FileStamp stamp;
    LapPtr lap;
  };
  std::filesystem::path folder_;
  std::mutex mutex_;
  std::map<std::pair<std::string, int>, Read> read_;
  Kept<KeptLap> scaled_{48u << 20};
};

/// Full load on a test bench, car level and standing: what a session without a lap is run on.
const project::LapReference& bench_reference();

struct KeptCatalogue {
  circuit::Catalogue value;
  ContentKey key;  ///< of all files that it is made of, bench files among them
};
using CataloguePtr = std::shared_ptr<const KeptCatalogue>;

class CatalogueStore {
 public:
  explicit CatalogueStore(std::filesystem::path folder = {}) : folder_(std::move(folder)) {}
  /// The shipped catalogue with those files on top. Throws InputError if one can not be read. `notes`: what
  /// was said on reading.
  CataloguePtr get(const std::vector<std::string>& files, Messages* notes = nullptr);

 private:
  struct Read {
    std::vector<std::pair<std::filesystem::path, FileStamp>> stamps;  ///< of the files and their bench files
    CataloguePtr catalogue;
    Messages notes;
  };
  std::filesystem::path folder_;
  std::mutex mutex_;
  std::map<std::vector<std::string>, Read> read_;
};

struct LapCase;
struct LapResult;
struct SizeResult;

class Sources {
 public:
  explicit Sources(std::filesystem::path folder = {})
      : laps(folder), tanks(folder), catalogues(folder), folder_(std::move(folder)) {}

  LapStore laps;
  TankStore tanks;
  CatalogueStore catalogues;
  Kept<LapCase> cases{32u << 20};
  Kept<LapResult> lap_results{96u << 20};
  Kept<SizeResult> sizes{4u << 20};
  Kept<bool> discharging{1u << 20};  ///< of setup, lap and conditions: whether the battery may lose

  /// Where the names of files begin.
  const std::filesystem::path& folder() const { return folder_; }
  /// The project's catalogue as the circuit takes it.
  std::shared_ptr<const circuit::Catalogue> catalogue(const project::Project& project);

 private:
  std::filesystem::path folder_;
};

/// The files that a project names, relative ones from `folder`: whose change changes its answers.
std::vector<std::filesystem::path> files_of(const project::Project& project,
                                            const std::filesystem::path& folder);

}  // namespace uadze::solve
