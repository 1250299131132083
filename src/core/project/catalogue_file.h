#pragma once
// Catalogues as JSON files: the shipped one (data/catalogue.json, built in) and a user's own on top of it.
//
// Example:
//   using namespace uadze;
//   Messages notes;
//   const auto loaded = project::load_catalogue({}, "", notes);
//   EXPECT_NE(circuit::find(loaded.value.pumps, "lift pump, 130 l/h class"), nullptr);
//
// An entry whose name is already there takes its place. A pump gives its curves, or a "bench_file" (CSV
// beside the catalogue), or a single "point" from which a curve is estimated.
#include <filesystem>
#include <memory>

#include "core/base/content_key.h"
#include "core/base/message.h"
#include "core/circuit/catalogue.h"

namespace uadze::project {

const std::shared_ptr<const circuit::Catalogue>& shipped_catalogue();

/// Adds the text's entries. Throws InputError with every fault. `folder`: where bench files are; those that
/// were read are added to `read`.
circuit::Catalogue with_entries(circuit::Catalogue base, const std::string& text, const std::string& file,
                                const std::filesystem::path& folder, Messages& notes,
                                std::vector<std::filesystem::path>* read = nullptr);

struct LoadedCatalogue {
  circuit::Catalogue value;
  ContentKey key;  ///< of all bytes that it was made of
};

/// The shipped catalogue with the files on top, in their order. `read`: every file that was read.
LoadedCatalogue load_catalogue(const std::vector<std::string>& files, const std::filesystem::path& folder,
                               Messages& notes, std::vector<std::filesystem::path>* read = nullptr);

}  // namespace uadze::project
