#pragma once
// Catalogues as JSON files: the shipped one (data/catalogue.json, built in) and a user's own on top of it.
//
//   const auto catalogue = load_catalogue({"bench/my-pumps.json"}, folder);
//
// An entry whose name is already there takes its place. A pump gives its curves, or a "bench_file" (CSV
// beside the catalogue), or a single "point" from which a curve is estimated.
#include <filesystem>
#include <memory>

#include "core/base/message.h"
#include "core/circuit/catalogue.h"

namespace uadze::project {

const std::shared_ptr<const circuit::Catalogue>& shipped_catalogue();

/// Adds the text's entries. Throws InputError with every fault. `folder`: where bench files are.
circuit::Catalogue with_entries(circuit::Catalogue base, const std::string& text, const std::string& file,
                                const std::filesystem::path& folder, Messages& notes);

/// The shipped catalogue with the files on top, in their order.
std::shared_ptr<const circuit::Catalogue> load_catalogue(const std::vector<std::string>& files,
                                                         const std::filesystem::path& folder,
                                                         Messages& notes);

}  // namespace uadze::project
