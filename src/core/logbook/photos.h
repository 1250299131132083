#pragma once
// Photos beside the book, by the content of their files: the same picture is kept once, and a changed one is
// another.
//
//   p4.book
//   p4.book.photos/ba7816bf....jpg
//
// Example:
//   test::TempFolder folder;
//   const auto file = folder.write("joint.jpg", "\xFF\xD8\xFF of a joint");
//   const logbook::Photo kept = logbook::keep_photo(folder / "p4.book", file);
//   EXPECT_EQ(kept.name, "joint.jpg");
//   EXPECT_TRUE(logbook::photo_file(folder / "p4.book", kept).has_value());
//   EXPECT_FALSE(logbook::photo_file(folder / "p4.book", {std::string(64, '0'), "x.jpg"}).has_value());   // missing
#include <filesystem>
#include <optional>
#include <vector>

#include "core/logbook/record.h"

namespace uadze::logbook {

/// Copies the file beside the book. Throws InputError if it is no picture (JPEG, PNG, WebP, by its first
/// bytes), over 64 MiB, or can not be read or written.
Photo keep_photo(const std::filesystem::path& book, const std::filesystem::path& file);

/// Where it lies; nothing if it is missing, or is not what it was.
std::optional<std::filesystem::path> photo_file(const std::filesystem::path& book, const Photo& photo);

/// Those of the records that are missing or changed, each once.
std::vector<Photo> missing_photos(const std::filesystem::path& book, const std::vector<Record>& records);

std::filesystem::path photo_folder(const std::filesystem::path& book);

}  // namespace uadze::logbook
