#pragma once
// Whole files in and out. Writing is atomic: after any failure the old file is as it was. What is no regular
// file (a device, a pipe) is never read, and is written straight into, never replaced.
//
// Example:
//   test::TempFolder folder;
//   write_file_atomically(folder / "a.txt", "twelve");
//   EXPECT_EQ(read_file(folder / "a.txt"), "twelve");
#include <filesystem>
#include <string>
#include <string_view>

namespace uadze {

/// Bytes that a file may have: far above any lap or mesh of use, far below a machine's memory.
inline constexpr size_t most_file_bytes = size_t{256} << 20;

/// The file's bytes. Throws InputError that names the file if it can not be read to its end, is no regular
/// file (one that would fill the memory, or never end), or has more than `most` bytes.
std::string read_file(const std::filesystem::path& path, size_t most = most_file_bytes);

/// Whether a file stands in the folder or below it, links followed.
bool lies_inside(const std::filesystem::path& file, const std::filesystem::path& folder);

/// Writes beside the target, flushes to the disk, then renames over it. Throws InputError (with the file's
/// name and the system's reason) and leaves the old file untouched if any step fails. A symbolic link is
/// followed, so that the file it points to is replaced; permissions of an existing file are kept. Into a
/// device, a pipe, or anything under /dev and /proc (such as /dev/stdout) it is written straight, at the end.
void write_file_atomically(const std::filesystem::path& path, std::string_view content);

}  // namespace uadze
