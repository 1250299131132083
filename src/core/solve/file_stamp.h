#pragma once
// Whether a file is still the one that was read: by its time, size and inode.
//
// Example:
//   EXPECT_FALSE(uadze::solve::file_stamp("/no/such/file").exists);
#include <cstdint>
#include <filesystem>

namespace uadze::solve {

struct FileStamp {
  bool exists = false;
  std::int64_t nanoseconds = 0;
  std::uint64_t size = 0, inode = 0;
  bool operator==(const FileStamp&) const = default;
};

FileStamp file_stamp(const std::filesystem::path& path);

}  // namespace uadze::solve
