#pragma once
// Whole files in and out. Writing is atomic: after any failure the old file is as it was.
//
// Example:
//   test::TempFolder folder;
//   write_file_atomically(folder / "a.txt", "twelve");
//   EXPECT_EQ(read_file(folder / "a.txt"), "twelve");
#include <filesystem>
#include <string>
#include <string_view>

namespace uadze {

/// The file's bytes. Throws InputError that names the file if it can not be read.
std::string read_file(const std::filesystem::path& path);

/// Writes beside the target, flushes to the disk, then renames over it. Throws InputError (with the file's
/// name and the system's reason) and leaves the old file untouched if any step fails. A symbolic link is
/// followed, so that the file it points to is replaced; permissions of an existing file are kept.
void write_file_atomically(const std::filesystem::path& path, std::string_view content);

}  // namespace uadze
